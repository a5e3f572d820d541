"""Small jobs that measure a machine: what a reading means, what is refused, and what a piece makes of it."""

import math
import unittest
from datetime import date

import numpy as np
from scipy import stats

from birch_route.core.data import figures, starting_shop
from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.machines import Dialect, FigureOrigin, Machine, Precision
from birch_route.core.measuring.jobs import FIGURES_OF
from birch_route.core.measuring.moves import program_text
from birch_route.core.measuring.registry import MAKERS, checked, left, measured, sensible, small_job, tell
from birch_route.core.measuring.spread import fit, scatter
from birch_route.core.programs.reader import read_program
from birch_route.core.proving.rules_precision import unmeasured
from birch_route.core.quantities import say
from birch_route.core.workshop.machine_figures import BY_NAME
from birch_route.core.workshop.possible import cannot_be
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

BENCH, BELT, HEAVY = (Machine.model_validate(m) for m in starting_shop()["machines"])


def true_readings(job):
    """Return what a machine without any error would be read as."""
    return {a.name: a.expected if a.expected is not None else 0.5 for a in job.asks}


def told(job, readings):
    """Return what readings say, by figure."""
    return {t.figure: t for t in tell(job, readings).told}


class Readings(unittest.TestCase):
    def test_a_true_machine_is_told_true(self):
        for kind in ("square", "backlash", "pair", "stair", "slot", "tram", "flatness", "lost", "warm_up"):
            job = small_job(BENCH, kind, {})
            for figure, one in told(job, true_readings(job)).items():
                if figure:
                    with self.subTest(figure):
                        self.assertAlmostEqual(one.value, 0, delta=0.002)
                        self.assertGreater(one.high - one.low, 0)

    def test_square_and_scale_tell_each_error_with_its_sign_and_cure(self):
        job = small_job(BENCH, "square", {"steps_x": 200.0})
        readings = true_readings(job)
        side = readings["1_2_far"] - 6
        for way in ("1_2", "4_3"):
            for edge in ("far", "near"):
                readings[f"{way}_{edge}"] += side * 1e-3
        for way, half in (("1_3", 1), ("2_4", 1)):
            for edge in ("far", "near"):
                readings[f"{way}_{edge}"] += half * side * 1e-3 / math.sqrt(2)
        got = told(job, readings)
        self.assertAlmostEqual(got["precision.scale_x"].value, 1.0, places=3)
        self.assertAlmostEqual(got["precision.scale_y"].value, 0.0, places=3)
        self.assertIn("Enter 199.800 steps for x where 200 stands", got["precision.scale_x"].fix)
        self.assertIn("Leave y as it is", got["precision.scale_y"].fix)

    def test_a_longer_way_from_1_to_3_is_a_lean_to_the_right_and_brings_the_beam_near(self):
        job = small_job(BENCH, "square", {})
        for sign, words, beam in ((1, "to the right", "towards you"), (-1, "to the left", "away from you")):
            readings = true_readings(job)
            for edge in ("far", "near"):
                readings[f"1_3_{edge}"] += sign * 0.1
                readings[f"2_4_{edge}"] -= sign * 0.1
            one = told(job, readings)["precision.square"]
            self.assertGreater(sign * one.value, 0)
            self.assertIn(words, one.sentence)
            self.assertIn(beam, one.fix)
            self.assertAlmostEqual(one.value, sign * 1000 * 0.1 * math.sqrt(2) / 200, places=2)

    def test_play_lengthens_every_other_rung_and_only_of_its_own_axis(self):
        job = small_job(BENCH, "backlash", {})
        readings = true_readings(job)
        for k in range(1, 7):
            readings[f"y_{k}"] += 0.08 * (1 if k % 2 else -1)
        got = told(job, readings)
        self.assertAlmostEqual(got["precision.backlash_y_mm"].value, 0.08, places=4)
        self.assertAlmostEqual(got["precision.backlash_x_mm"].value, 0.0, places=4)

    def test_a_thicker_left_wall_moves_the_zero_of_the_back_to_the_right(self):
        job = small_job(BENCH, "pair", {})
        readings = true_readings(job)
        for side in ("left", "right"):
            readings[f"{side}_left"] += 0.1
            readings[f"{side}_right"] -= 0.1
        got = told(job, readings)
        self.assertAlmostEqual(got["precision.pair_x_mm"].value, 0.1, places=4)
        self.assertIn("Set X zero of the back +0.100", say(got["precision.pair_x_mm"].fix))
        readings = true_readings(job)
        for side, sign in (("left", -1), ("right", 1)):
            readings[f"{side}_near"] += sign * 0.04
            readings[f"{side}_far"] -= sign * 0.04
        got = told(job, readings)
        self.assertAlmostEqual(got["precision.pair_turn"].value, 1.0, places=3)  # 0.04 at 40 from the middle
        self.assertAlmostEqual(got["precision.pair_y_mm"].value, 0.0, places=4)

    def test_a_stair_tells_scale_play_and_a_wrong_zero_apart(self):
        job = small_job(BENCH, "stair", {})
        readings = {a.name: a.expected * 1.004 + 0.07 - (0.05 if "lowered" in a.name else 0) for a in job.asks}
        got = told(job, readings)
        self.assertAlmostEqual(got["precision.scale_z"].value, 4.0, places=3)
        self.assertAlmostEqual(got["precision.backlash_z_mm"].value, 0.05, places=4)
        self.assertIn("0.070 low", say(got[""].sentence))

    def test_a_dial_that_reads_more_at_the_right_leans_its_top_to_the_right(self):
        job = small_job(BENCH, "tram", {"arm": 100.0, "mount": 200.0, "bit": 25.0})
        readings = true_readings(job)
        for go in (1, 2):
            readings[f"right_{go}"] += 0.05
            readings[f"left_{go}"] -= 0.05
        one = told(job, readings)["precision.tilt_x"]
        self.assertAlmostEqual(one.value, 0.5, places=4)
        self.assertIn("0.100 to the left", say(one.fix))
        self.assertIn("0.013", say(one.sentence))

    def test_the_softer_way_counts_and_a_dial_too_coarse_says_at_least(self):
        job = small_job(BENCH, "stiffness", {"pull": 50.0})
        soft = {a.name: 0.05 if a.name.startswith("y") else 0.025 for a in job.asks}
        one = told(job, soft)["stiffness_n_um"]
        self.assertAlmostEqual(one.value, 1.0, places=3)
        self.assertIn("along y", one.sentence)
        stiff = tell(job, {a.name: 0.0 for a in job.asks}).told
        self.assertEqual(stiff[0].figure, "")
        self.assertIn("stiffer than this dial can tell", stiff[0].sentence)

    def test_a_step_lost_asks_for_less_acceleration_just_above_what_is_told(self):
        job, fig = small_job(BENCH, "lost", {}), figures()["measuring"]
        half = told(job, true_readings(job))["precision.lost_x_mm"].high
        for off, bad in ((fig["lost_told_mm"] + half - 0.0005, False), (fig["lost_told_mm"] + half + 0.0005, True)):
            readings = true_readings(job)
            for k in (1, 2, 3):
                readings[f"x_after_{k}"] += off
            self.assertEqual("a fifth" in told(job, readings)["precision.lost_x_mm"].fix, bad)

    def test_one_reading_apart_from_the_others_is_named_beyond_its_limit_and_not_before(self):
        job, fig = small_job(BENCH, "tram", {}), figures()["measuring"]
        readings = true_readings(job)
        readings["left_1"] += 0.004
        self.assertEqual(tell(job, readings).apart, {})
        readings["left_1"] += 0.1
        found = tell(job, readings).apart
        self.assertIn("left_1", found)
        self.assertTrue(all(v > fig["out_sd"] for v in found.values()))


class Refused(unittest.TestCase):
    def test_a_reading_far_from_what_it_can_be_is_refused_just_outside_and_taken_just_inside(self):
        job = small_job(BENCH, "square", {})
        wanted = next(a.expected for a in job.asks if a.name == "1_2_far")
        checked(job, {"1_2_far": wanted * 1.199})
        with self.assertRaisesRegex(InputError, "far from") as caught:
            checked(job, {"1_2_far": wanted * 1.201})
        self.assertEqual(caught.exception.where, "readings.1_2_far")
        small = small_job(BENCH, "slot", {})
        checked(small, {"slot_1": 6 + 2.99})
        with self.assertRaises(InputError):
            checked(small, {"slot_1": 6 + 3.01})

    def test_names_and_numbers_that_are_none_are_refused(self):
        job = small_job(BENCH, "time", {})
        for readings in ({"nothing": 1.0}, {"x0_1": float("nan")}, {"x0_1": 0.0}, {"x0_1": 40000.0}):
            with self.subTest(readings), self.assertRaises(InputError):
                checked(job, readings)
        checked(job, {"x0_1": 0.1})
        with self.assertRaisesRegex(InputError, "no job"):
            small_job(BENCH, "weight", {})
        with self.assertRaisesRegex(InputError, "nothing this job asks for"):
            small_job(BENCH, "slot", {"width": 1.0})

    def test_what_is_given_stays_within_its_span(self):
        for value, fits in ((2.9, False), (3.0, True), (12.0, True), (12.1, False)):
            with self.subTest(value):
                if fits:
                    small_job(BENCH, "slot", {"bit": value})
                else:
                    with self.assertRaisesRegex(InputError, "type ⟦?3") as caught:
                        small_job(BENCH, "slot", {"bit": value})
                    self.assertEqual(caught.exception.where, "given.bit")

    def test_a_caliper_too_short_for_any_square_is_told(self):
        small_job(BENCH, "square", {"caliper": 100.0})
        with self.assertRaisesRegex(InputError, "the least that tells anything"):
            small_job(BENCH, "square", {"caliper": 100.0, "bit": 12.0})

    def test_a_spindle_without_a_dial_has_none_to_read(self):
        self.assertEqual(len(small_job(BELT, "dial", {}).asks), 2 * len(BELT.speeds_rpm))
        with self.assertRaisesRegex(InputError, "no dial"):
            small_job(BENCH, "dial", {})

    def test_seconds_no_machine_takes_make_a_machine_that_cannot_be(self):
        job = small_job(BENCH, "time", {})
        readings = true_readings(job) | {a.name: 1.0 for a in job.asks if a.name.startswith("x")}
        with self.assertRaisesRegex(InputError, "No machine is like that"):
            measured(BENCH, tell(job, readings).told, date(2026, 11, 30))

    def test_a_machine_that_is_out_of_its_span_is_kept_from_the_shop(self):
        job = small_job(BENCH, "stiffness", {})
        soft = tell(job, {a.name: 5.0 for a in job.asks}).told
        self.assertEqual([w.where for w in cannot_be(measured(BENCH, soft, date(2026, 11, 30)))], ["stiffness_n_um"])


class Motion(unittest.TestCase):
    def test_every_program_is_read_whole_and_stays_within_travel(self):
        for machine in (BENCH, BELT, HEAVY):
            for kind in MAKERS:
                try:
                    job = small_job(machine, kind, {})
                except InputError:
                    continue
                if job.moves is None:
                    continue
                with self.subTest(machine=machine.id, kind=kind):
                    text = program_text(machine, job.title, job.steps, job.moves, 6.0)
                    read = read_program(text, "it", machine.dialect)
                    self.assertEqual(read.problems, [])
                    points = np.vstack([s.path((0, 0, 0)).points for s in read.sections if s.kinds])
                    span = points.max(axis=0) - points.min(axis=0)
                    self.assertTrue((span <= np.asarray(machine.travel_mm)).all(), span)
                    self.assertEqual(read.left_on, False)

    def test_on_the_smallest_machine_every_way_stays_on_its_bed_or_the_job_is_refused(self):
        small = BENCH.model_copy(update={"travel_mm": (200.0, 200.0, 60.0), "waste_board_mm": 5.0})
        for kind in MAKERS:
            try:
                job = small_job(small, kind, {})
            except InputError as refused:
                self.assertIn(refused.where, ("speeds_rpm",))
                continue
            for stretch in job.moves.stretches if job.moves else []:
                with self.subTest(kind):
                    self.assertTrue((stretch.path.points[:, :2] >= 0).all())
                    self.assertTrue((stretch.path.points[:, :2] <= 200).all(), stretch.path.points.max(axis=0))
        with self.assertRaisesRegex(InputError, "Pins need"):
            small_job(BENCH.model_copy(update={"waste_board_mm": 4.9}), "pair", {})

    def test_words_too_coarse_for_it_are_refused(self):
        coarse = Dialect.model_validate({**BELT.dialect.model_dump(), "decimals": 2})
        machine = BELT.model_copy(update={"dialect": coarse})
        job = small_job(machine, "stair", {})
        with self.assertRaisesRegex(InputError, "Read back"):
            program_text(machine, job.title, job.steps, job.moves, 6.0)


class Spread(unittest.TestCase):
    def test_the_range_is_students_with_what_is_known_beforehand(self):
        worth = figures()["measuring"]["worth_readings"]
        found = fit([[1.0]] * 4, [1.0, 1.2, 0.8, 1.0], 0.1)
        freedom = worth + 3
        s = math.sqrt((worth * 0.01 + 0.08) / freedom)
        self.assertAlmostEqual(found.half[0], stats.t.ppf(0.95, freedom) * s / 2, places=9)
        self.assertAlmostEqual(found.values[0], 1.0)

    def test_readings_that_tell_nothing_apart_are_refused(self):
        with self.assertRaisesRegex(InputError, "tell one thing from another"):
            fit([[1.0, 1.0]] * 3, [1.0, 1.0, 1.0], 0.1)

    def test_the_gauges_own_scatter_is_taken_out(self):
        rng = np.random.default_rng(3)
        group = rng.normal(0, math.hypot(0.01, 0.004), 4000).tolist()
        value, low, high = scatter([group], 0.004)
        self.assertAlmostEqual(value, 1.645 * 0.01, delta=0.0006)
        self.assertLess(low, value)
        self.assertGreater(high, value)
        self.assertEqual(scatter([[0.0, 0.001, 0.0]], 0.01)[0], 0.0)


class Kept(unittest.TestCase):
    def test_what_is_told_becomes_the_machines_measured_today(self):
        job = small_job(BENCH, "backlash", {})
        readings = true_readings(job) | {"x_1": 21.1}
        after = measured(BENCH, tell(job, readings).told, date(2026, 11, 30))
        self.assertGreater(after.precision.backlash_x_mm, 0)
        how = after.known["precision.backlash_x_mm"]
        self.assertEqual((how.origin, how.on), (FigureOrigin.MEASURED, date(2026, 11, 30)))
        self.assertGreater(how.spread, 0)
        self.assertEqual(cannot_be(after), [])

    def test_a_dial_that_was_read_takes_the_ends_of_the_spindle_with_it(self):
        job = small_job(BELT, "dial", {})
        readings = {a.name: a.expected * (0.9 if a.name.startswith("1_") else 1.05) for a in job.asks}
        after = measured(BELT, tell(job, readings).told, date(2026, 11, 30))
        self.assertEqual(after.speeds_rpm, sorted(after.speeds_rpm))
        self.assertLessEqual(after.least_rpm, after.speeds_rpm[0])
        self.assertGreaterEqual(after.greatest_rpm, after.speeds_rpm[-1])
        self.assertEqual(cannot_be(after), [])

    def test_a_figure_has_no_more_digits_than_its_spread_allows(self):
        for value, spread, kept in (
            (5863.381, 29.2, 5863.0),
            (0.01723, 0.0041, 0.0172),
            (1.0, 0.0, 1.0),
            (563.5, 9.1, 563.5),
        ):
            self.assertEqual(sensible(value, spread), kept)

    def test_nothing_becomes_a_figure_while_a_reading_is_missing(self):
        job = small_job(BENCH, "slot", {})
        readings = true_readings(job)
        readings.pop("bit_2")
        self.assertIsNone(tell(job, readings))
        self.assertEqual(left(job, readings), ["bit_2"])

    def test_every_figure_a_job_is_said_to_measure_is_one(self):
        self.assertEqual(set(FIGURES_OF), set(MAKERS))
        for names in FIGURES_OF.values():
            for name in names:
                self.assertIn(name, BY_NAME)


def on_machine(route, **precision):
    return changed(route, put("machine.precision", Precision(**precision).model_dump()))


class Compared(unittest.TestCase):
    """What was measured against what a piece asks for."""

    @classmethod
    def setUpClass(cls):
        cls.route = route_named("siskin_body")

    def test_a_fit_is_not_judged_until_the_machine_was_measured(self):
        for precision, told in (
            ({}, True), ({"square": 1.0}, True), ({"slot_over_mm": 0.0}, False), ({"scale_y": 0.0}, False),
        ):
            route = on_machine(self.route, **precision)
            with self.subTest(precision):
                self.assertEqual("Neck pocket" in unmeasured(route, resolve(route)), told)
        plate = route_named("control_plate")
        self.assertEqual(unmeasured(plate, resolve(plate)), "")
        self.assertNotIn("machine.precision", codes(proof_of(on_machine(self.route, slot_over_mm=0.0))))

    def test_a_machine_off_by_more_than_a_fit_may_be_is_told_just_outside_and_creeping_mends_it(self):
        may = figures()["tolerance_mm"]["fitted"]
        for over, is_told in ((may - 0.001, False), (may + 0.001, True), (-may + 0.001, False), (-may - 0.001, True)):
            proof = proof_of(on_machine(self.route, slot_over_mm=over))
            with self.subTest(over):
                self.assertEqual("machine.precision" in codes(proof), is_told)
        wide = on_machine(self.route, slot_over_mm=may + 0.05)
        found = [f for f in proof_of(wide).findings if f.code == "machine.precision"]
        for one in found:
            self.assertTrue(one.cures)
            wide = changed(wide, *one.cures[0].edits)
        self.assertNotIn("machine.precision", codes(proof_of(wide)))
        narrow = [
            f for f in proof_of(on_machine(self.route, slot_over_mm=-0.2)).findings if f.code == "machine.precision"
        ]
        self.assertEqual(narrow[0].cures, [])
        self.assertIn("Mend the machine", narrow[0].sentence)

    def test_scale_and_play_add_up_over_the_worse_axis(self):
        may = figures()["tolerance_mm"]["fitted"]
        proof = proof_of(on_machine(self.route, backlash_x_mm=may * 0.9, slot_over_mm=0.0))
        self.assertNotIn("machine.precision", codes(proof))
        proof = proof_of(on_machine(self.route, backlash_x_mm=may * 0.9, slot_over_mm=may * 0.2))
        self.assertIn("machine.precision", codes(proof))
        self.assertIn("machine.precision", codes(proof_of(on_machine(self.route, scale_x=2.0))))
        self.assertIn("machine.precision", codes(proof_of(on_machine(self.route, scale_y=2.0))))

    def test_faces_apart_by_more_than_is_seen_are_told_where_two_are_cut(self):
        may = figures()["tolerance_mm"]["shown"]
        both = changed(fitted_route(), {"do": "turn_over"})
        self.assertEqual(len({s.face for s in both.setups}), 2)
        for off, is_told in ((may - 0.001, False), (may + 0.001, True)):
            for axis in ("pair_x_mm", "pair_y_mm"):
                apart = {"pair_x_mm": 0.0, "pair_y_mm": 0.0, axis: off}
                with self.subTest(apart):
                    self.assertEqual("machine.faces" in codes(proof_of(on_machine(both, **apart))), is_told)
        turned = on_machine(both, pair_x_mm=0.0, pair_y_mm=0.0, pair_turn=1.0)
        self.assertIn("machine.faces", codes(proof_of(turned)))
        self.assertNotIn("machine.faces", codes(proof_of(on_machine(self.route, pair_x_mm=1.0, pair_y_mm=0.0))))


if __name__ == "__main__":
    unittest.main()
