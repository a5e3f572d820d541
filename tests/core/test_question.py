"""Suggested settings against the forty combinations, closed forms, limits tried one by one, and monotony."""

import math
import random
import unittest
from dataclasses import replace
from types import SimpleNamespace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as some
from shapely.geometry import box

from birch_route.core.bits.model import Bit
from birch_route.core.cutting.limits import Question, asked, parts
from birch_route.core.cutting.mechanics import bend, load
from birch_route.core.cutting.question import answer, judge
from birch_route.core.cutting.settings import propose_settings
from birch_route.core.cutting.trade import minutes_of, trade
from birch_route.core.data import figures, wood, woods
from birch_route.core.machines import Machine, MachineClass
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.operations.base import LIFT_MM
from birch_route.core.operations.entry import enter_by_helix, helix_place
from birch_route.core.vocabulary import Aim, CutKind, Limit, OperationKind
from birch_route.demo.shop import BENCH_MACHINE
from tests.core.test_combinations import COMBINATIONS, TABLE
from tests.support import route_named

BASE = BENCH_MACHINE if isinstance(BENCH_MACHINE, Machine) else Machine.model_validate(BENCH_MACHINE)
EVERY_BIT = Bit(id="b", name="Bit", form="flat", diameter_mm=6, cutting_length_mm=22, shank_diameter_mm=6, stickout_mm=30)


def machine(name):
    return BASE.model_copy(update={**TABLE["machines"][name], "machine_class": MachineClass(name)})


def question(c, **more):
    bit = Bit.model_validate({"id": "b", "name": "Bit", **c["bit"], "cuts_at_centre": c["cut"] != "face"})
    return Question(machine(c["machine"]), bit, wood(c["wood"]), CutKind(c["cut"]), c["side_part"] * bit.diameter_mm, **more)


class Judged(unittest.TestCase):
    def test_suggestions_lie_in_the_windows_or_say_which_limit_keeps_them_out(self):
        outside = 0
        for c in COMBINATIONS:
            q = question(c)
            a = answer(q)
            s, e = a.settings, c["expect"]
            chip, (low, high) = s.feed_mm_min / (s.speed_rpm * q.bit.flutes), e["chip_mm"]
            with self.subTest(c["id"]):
                self.assertLessEqual(chip, high * 1.001)
                if chip < low * 0.999:
                    outside += 1
                    self.assertEqual(a.binds, Limit.RUBBING)
                    self.assertGreater(a.parts[Limit.FEED], 0.89)  # careful lets the machine feed no faster
                    self.assertEqual(s.speed_rpm, min(q.machine.speeds_rpm or [q.machine.least_rpm]))  # nor turns slower
                    self.assertIn("rubs", a.reasons["feed_mm_min"])
                else:
                    self.assertTrue(a.keeps, a.parts)
                if "depth_mm" in e:
                    self.assertTrue(
                        e["depth_mm"][0] * 0.999 <= s.depth_of_cut_mm <= e["depth_mm"][1] * 1.001
                        or max(v for k, v in a.parts.items() if k in (Limit.POWER, Limit.BEND, Limit.BREAKAGE))
                        > 0.85 * figures()["careful"]["force"]
                    )
                self.assertTrue(e["plunge_part"][0] * s.feed_mm_min - 10 <= s.plunge_mm_min <= e["plunge_part"][1] * s.feed_mm_min + 10)
                self.assertTrue(e["ramp_deg"][0] <= a.ramp_deg <= e["ramp_deg"][1])
        self.assertLessEqual(outside, 4)

    def test_careful_keeps_its_share_of_every_limit_and_says_which_binds(self):
        fig, gave = figures()["careful"], 0
        for c in COMBINATIONS:
            q = question(c)
            a, top = answer(q), q.machine.greatest_feed_mm_min
            with self.subTest(c["id"]):
                self.assertLessEqual(
                    max(a.parts[k] for k in (Limit.POWER, Limit.BEND, Limit.BREAKAGE)), fig["force"] * 1.01
                )
                self.assertLessEqual(a.settings.feed_mm_min, fig["feed_most"] * top + 1e-6)
                words = a.reasons["feed_mm_min"]
                if a.settings.feed_mm_min > fig["feed"] * top + 1e-6:  # no chip would be thick enough
                    gave += 1
                    self.assertIn("a full chip needs", words)
                    self.assertEqual(a.settings.speed_rpm, min(q.machine.speeds_rpm or [q.machine.least_rpm]))
                else:
                    self.assertRegex(words, r"careful uses (60|50)% of .* at most until cuts of this shop allow more")
        self.assertGreater(gave, 0)

    def test_cuts_of_the_shop_let_careful_go_as_far_as_they_went(self):
        q = question(
            next(
                c
                for c in COMBINATIONS
                if answer(question(c)).settings.feed_mm_min < 0.55 * question(c).machine.greatest_feed_mm_min
                and question(c).kind is CutKind.SLOT
            )
        )
        plain, more = answer(q), answer(replace(q, went_part=0.9))
        self.assertGreaterEqual(more.settings.depth_of_cut_mm, plain.settings.depth_of_cut_mm)
        self.assertEqual(
            (q.feed_share, replace(q, went_mm_min=0.8 * q.machine.greatest_feed_mm_min).feed_share), (0.6, 0.8)
        )
        self.assertEqual(
            (
                replace(q, went_part=0.3).force_share,
                replace(q, went_part=0.9).force_share,
                replace(q, went_part=3.0).force_share,
            ),
            (0.5, 0.9, 1.0),
        )

    def test_the_fastest_keeps_every_limit_and_is_no_slower_and_the_quiet_one_is_quiet(self):
        fig, feasible = figures()["quiet"], 0
        for c in COMBINATIONS:
            q = question(c)
            careful, fast, quiet = (answer(q, aim) for aim in (Aim.CAREFUL, Aim.FAST, Aim.QUIET))
            with self.subTest(c["id"]):
                if careful.keeps:
                    self.assertLessEqual(max(fast.parts.values()), 1.01)
                    for q in (q, replace(q, deep_mm=12.0), replace(q, deep_mm=5.0)):
                        sure, fastest = (answer(q, aim) for aim in (Aim.CAREFUL, Aim.FAST))
                        if sure.keeps:
                            self.assertLessEqual(minutes_of(q, fastest.settings), minutes_of(q, sure.settings) * 1.0001)
                if quiet.keeps:
                    feasible += 1
                    self.assertLessEqual(math.pi * q.bit.diameter_mm / 1000 * quiet.settings.speed_rpm / 60, fig["rim_m_s"] * 1.01)
                    self.assertLessEqual(quiet.power_w, fig["power_w"] * 1.01)
                else:
                    self.assertIn(quiet.binds, (Limit.LOUDNESS, Limit.RUBBING))
        self.assertGreater(feasible, 20)

    def test_between_quiet_and_fast_every_place_keeps_what_both_ends_keep_and_is_faster_than_the_one_before(self):
        between = 0
        for c in COMBINATIONS:
            for deep in (None, 11.0):
                q = question(c, deep_mm=deep)
                found = trade(q)
                with self.subTest(c["id"], deep=deep):
                    self.assertEqual(found[0].settings, answer(q, Aim.QUIET).settings)
                    fast = answer(q, Aim.FAST).settings
                    self.assertTrue(found[-1].settings == fast or (len(found) == 1 and minutes_of(q, fast) >= found[0].minutes * 0.999))
                    self.assertTrue(all(b.minutes < a.minutes for a, b in zip(found, found[1:], strict=False)))
                    self.assertLessEqual(max(p.used for p in found), max(found[0].used, found[-1].used, 1.0) + 0.02)
                    self.assertTrue(all(p.settings.speed_rpm in q.machine.speeds_rpm for p in found) or not q.machine.speeds_rpm)
                    for p in found:
                        passes = math.ceil(deep / p.settings.depth_of_cut_mm - 1e-9) if deep else 100_000 / 1000 / p.settings.depth_of_cut_mm / q.side_mm
                        self.assertAlmostEqual(p.minutes, passes * 1000 / p.settings.feed_mm_min, places=6)
                between += max(0, len(found) - 2)
        self.assertGreater(between, 2 * len(COMBINATIONS))

    def test_what_the_holding_bears_is_kept_by_the_fastest_and_by_the_careful(self):
        for c in COMBINATIONS[:20]:
            free = answer(question(c))
            q = question(c, holds_n=0.6 * free.force_n)
            for aim in (Aim.CAREFUL, Aim.FAST):
                self.assertLessEqual(answer(q, aim).force_n, 0.6 * free.force_n * 1.01, c["id"])


class ClosedForms(unittest.TestCase):
    def test_a_slot_asks_what_the_straight_line_says(self):
        """650 kg/m3 of hardwood as lime is scaled to: two teeth, half a turn in wood each; force A + B h of one tooth, power of the mean chip 2 fz / pi."""
        q = Question(machine("bench"), EVERY_BIT, wood("sapele"), CutKind.SLOT, 6.0)
        feed, speed, depth = 6000.0, 15000.0, 4.0
        a, chip, scale = asked(q, feed, speed, depth, 6.0), 0.2, wood("sapele").density_kg_m3 / 650.0
        self.assertAlmostEqual(float(a.chip_mm), chip)
        self.assertAlmostEqual(float(a.mean_mm), chip * 2 / math.pi, places=9)
        self.assertAlmostEqual(float(a.force_n), scale * (5 + 25 * chip) * depth, places=6)
        self.assertAlmostEqual(float(a.power_w), scale * (5 + 25 * chip * 2 / math.pi) * depth * math.pi * 0.006 * 250, places=6)

    def test_stress_is_that_of_a_round_bar_at_the_root_of_the_flutes(self):
        bit = EVERY_BIT.model_copy(update={"cutting_length_mm": 30.0, "stickout_mm": 30.0})
        q = Question(machine("bench"), bit, wood("ash"), CutKind.SLOT, 6.0)
        a = asked(q, 4000.0, 15000.0, 4.0, 6.0)
        core = 0.8 * 6.0
        self.assertAlmostEqual(float(a.stress_n_mm2), float(a.force_n) * 28.0 / (math.pi * core**3 / 32), places=6)

    def test_arrays_say_what_the_load_of_one_cut_says(self):
        rng = random.Random(4)
        for _ in range(200):
            c = rng.choice(COMBINATIONS)
            q = question(c)
            feed, speed, depth, side = rng.uniform(200, 6000), rng.uniform(6000, 24000), rng.uniform(0.1, 10), rng.uniform(0.05, 1) * q.bit.diameter_mm
            one, many = load(q.bit, q.wood, q.machine, feed, speed, depth, side), asked(q, feed, speed, depth, side)
            np.testing.assert_allclose([one.chip_load_mm, one.mean_chip_mm, one.force_n, one.power_w, one.bend_mm], [float(v) for v in (many.chip_mm, many.mean_mm, many.force_n, many.power_w, many.bend_mm)], rtol=1e-9)


class Drills(unittest.TestCase):
    def test_a_drill_goes_down_by_its_share_of_the_diameter_a_turn_never_under_its_least(self):
        fig, machine = figures()["drilling"], Machine.model_validate(BENCH_MACHINE)
        for across in (1.0, 3.0, 6.0, 9.5):
            sizes = {"cutting_length_mm": 40, "shank_diameter_mm": across, "stickout_mm": 50, "diameter_mm": across}
            drill = Bit.model_validate({"id": "d", "name": "d", "form": "drill", "material": "hss", **sizes})
            got = propose_settings(OperationKind.DRILL, drill, wood("alder"), machine).settings
            rim = figures()["surface_speed"]["rim_m_s"] * 60_000 / (math.pi * across)
            wanted = machine.nearest_speed(min(machine.nearest_speed(rim), 12_000))
            with self.subTest(across):
                self.assertEqual(got.speed_rpm, wanted)
                plunge = max(60.0, wanted * fig["feed_per_turn_part"] * across * 0.5)
                self.assertAlmostEqual(got.plunge_mm_min, plunge, delta=5.001)
                self.assertEqual((got.feed_mm_min, got.stepover_mm), (got.plunge_mm_min, across))
                self.assertAlmostEqual(got.depth_of_cut_mm, across * fig["peck_diameters"])


class Windows(unittest.TestCase):
    def test_inside_every_window_all_limits_are_kept_and_just_beyond_its_ends_the_named_one_is_passed(self):
        looked = 0
        for c in COMBINATIONS:
            q, a = question(c), answer(question(c))
            now = {"feed_mm_min": a.settings.feed_mm_min, "speed_rpm": a.settings.speed_rpm, "depth_of_cut_mm": a.settings.depth_of_cut_mm, "stepover_mm": q.side_mm}
            for name, r in a.ranges.items():
                if name == "plunge_mm_min":
                    low, high = figures()["entry"]["plunge_part"]
                    self.assertEqual((r.low, r.high), (max(10.0, low * a.settings.feed_mm_min), max(10.0, high * a.settings.feed_mm_min)))
                    continue
                if r.is_empty:
                    self.assertFalse(a.keeps, (c["id"], name))
                    continue
                for value in np.linspace(r.low, r.high, 7):
                    self.assertLessEqual(max(float(v) for v in parts(q, *{**now, name: value}.values()).values()), 1.001, (c["id"], name))
                for end, by, way in ((r.low, r.low_by, 0.99), (r.high, r.high_by, 1.01)):
                    if by is not None:
                        looked += 1
                        self.assertGreater(float(parts(q, *{**now, name: end * way}.values())[by]), 1.0, (c["id"], name, by))
        self.assertGreater(looked, 150)

    def test_the_way_in_is_that_of_the_toolpath(self):
        """One depth of cut down a ramp of 4.5 degrees; a helix goes round as often as the program's does."""
        route = route_named("siskin_body")
        q = Question(route.machine, route.bit("flat8"), wood("alder"), CutKind.SLOT, 8.0)
        a = answer(q)
        self.assertAlmostEqual(a.way_mm * math.tan(math.radians(a.ramp_deg)), a.settings.depth_of_cut_mm)
        path, room = PathBuilder(0, 0, 10), box(-40, -40, 40, 40)
        place = helix_place(room, room.buffer(-5), 8.0)
        op = route.operation("pocket_pickup_pocket")
        op = op.model_copy(update={"ramp_deg": a.ramp_deg, "settings": a.settings})
        enter_by_helix(path, SimpleNamespace(operation=op), place, -LIFT_MM, -a.settings.depth_of_cut_mm)
        points = path.done().points[2:]
        angles = np.unwrap(np.arctan2(points[:, 1] - place[1], points[:, 0] - place[0]))
        self.assertAlmostEqual(abs(angles[-1] - angles[0]) / (2 * math.pi) - 1, math.ceil(a.turns(q.bit)), places=3)  # less the one round at the floor

    def test_settings_of_ones_own_are_judged_as_they_are(self):
        q = question(COMBINATIONS[0])
        a = judge(q, 12000.0, 12000.0, 3.0)
        self.assertEqual((a.keeps, a.binds), (False, Limit.CHIP))
        self.assertLess(a.ranges["feed_mm_min"].high, 12000.0)


class Monotony(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(some.floats(0.6, 12), some.floats(1.0, 2.5), some.floats(1, 200), some.floats(4, 40))
    def test_at_equal_force_length_and_shank_a_wider_bit_is_never_more_bent(self, thin, wider, force, out):
        bits = [EVERY_BIT.model_copy(update={"diameter_mm": d, "cutting_length_mm": 0.7 * out, "stickout_mm": out, "shank_diameter_mm": 12.0}) for d in (thin, thin * wider)]
        narrow, wide = (bend(b, BASE, force) for b in bits)
        self.assertLessEqual(wide, narrow * (1 + 1e-12))

    @settings(max_examples=60, deadline=None)
    @given(some.sampled_from(sorted(w for w in woods() if wood(w).cutting_class == "hardwood")), some.sampled_from(sorted(w for w in woods() if wood(w).cutting_class == "hardwood")),
           some.floats(200, 8000), some.floats(6000, 24000), some.floats(0.1, 12), some.floats(0.05, 1.0))
    def test_a_denser_wood_never_asks_less_force_and_more_feed_or_depth_never_less(self, one, other, feed, speed, depth, part):
        if wood(one).density_kg_m3 > wood(other).density_kg_m3:
            one, other = other, one
        light, heavy = (Question(BASE, EVERY_BIT, wood(w), CutKind.SIDE, part * 6) for w in (one, other))
        at = float(asked(light, feed, speed, depth, part * 6).force_n)
        self.assertLessEqual(at, float(asked(heavy, feed, speed, depth, part * 6).force_n) * (1 + 1e-12))
        self.assertLessEqual(at, float(asked(light, feed * 1.3, speed, depth, part * 6).force_n) * (1 + 1e-12))
        self.assertLessEqual(at, float(asked(light, feed, speed, depth * 1.3, part * 6).force_n) * (1 + 1e-12))


if __name__ == "__main__":
    unittest.main()
