"""Which bit for which feature, what a bit has behind it, and small jobs on scrap."""

import random
import unittest
from itertools import combinations

from shapely.geometry import Point, box

from birch_route.core.bits.life import forecast, life, wear_of
from birch_route.core.bits.model import Bit
from birch_route.core.cutting.limits import Question
from birch_route.core.cutting.question import answer
from birch_route.core.cutting.rack import choices, fewest
from birch_route.core.cutting.records import test_plan as plan_of
from birch_route.core.data import figures, wood
from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.jigs.coupon import fit_job, slots_job
from birch_route.core.vocabulary import BitForm, CutKind, Flute
from birch_route.demo.shop import BITS, MORE_BITS
from tests.core.boards import board_route
from tests.support import proof_of, route_named

RACK = [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]]


class Choices(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = route_named("siskin_body")
        cls.resolved = resolve(cls.route)

    def of(self, feature, bits=RACK, in_wood="alder"):
        return choices(self.resolved.solid(feature), bits, wood(in_wood), self.route.machine, self.resolved.thickness_mm)

    def test_what_may_be_used_comes_first_by_what_it_leaves_and_then_by_its_minutes(self):
        for feature in self.resolved.solids:
            found = self.of(feature)
            self.assertEqual(len(found), len(RACK))
            told = [(bool(c.not_for), round(c.leaves_mm2, 1) if c.leaves_mm2 > 0.35 else 0, c.minutes) for c in found]
            self.assertEqual(told, sorted(told), feature)
            self.assertTrue(all(c.not_for or c.minutes < 60 for c in found))

    def test_thin_bits_are_for_slots_and_slots_for_thin_bits(self):
        board = board_route()
        solid = resolve(board).solid("fret_slots")
        found = {
            c.bit.id: c for c in choices(solid, RACK, wood("rosewood"), board.machine, board.piece.board.thickness_mm)
        }
        self.assertEqual({k for k, c in found.items() if not c.not_for}, {"slot05", "slot06"})
        self.assertGreater(found["slot05"].minutes, 1.5 * found["slot06"].minutes)  # two ways through each
        self.assertIn("wider than the slots", found["flat3"].not_for)
        thin = next(c for c in self.of("neck_pocket") if c.bit.id == "slot06")
        self.assertIn("for fret slots", thin.not_for)

    def test_what_the_proposal_took_may_be_used(self):
        for op in self.route.operations:
            for feature in op.features:
                self.assertEqual(next(c for c in self.of(feature) if c.bit.id == op.bit).not_for, "", f"{op.id} {feature}")

    def test_a_feature_deeper_than_the_flutes_needs_a_neck_that_is_narrower_and_long_enough(self):
        solid = self.resolved.solid("pickup_pocket")
        low, high = solid.span_mm(self.resolved.thickness_mm)
        deep = high - low
        flat = RACK[1]
        for flutes, shank, out, refused in (
            (deep, flat.diameter_mm, deep + 1, False),
            (deep - 0.1, flat.diameter_mm, deep + 1, True),
            (deep - 0.1, flat.diameter_mm + 2, deep + 1, True),
            (deep - 0.1, flat.diameter_mm - 0.2, deep, False),
            (deep - 0.1, flat.diameter_mm - 0.2, deep - 0.05, True),
        ):
            update = {"cutting_length_mm": flutes, "shank_diameter_mm": shank, "stickout_mm": out}
            bit = flat.model_copy(update=update)
            said = choices(solid, [bit], wood("alder"), self.route.machine, self.resolved.thickness_mm)[0].not_for
            with self.subTest(flutes=flutes, shank=shank, out=out):
                self.assertEqual("would rub" in said, refused, said)

    def test_a_drill_takes_the_way_down_and_up_at_its_feed_and_a_moment_for_each_hole(self):
        solid = self.resolved.solid("neck_screws")
        drill = next(b for b in RACK if b.form is BitForm.DRILL)
        deep = solid.span_mm(self.resolved.thickness_mm)
        deep = deep[1] - deep[0]
        sizes = {"diameter_mm": solid.diameter_mm, "cutting_length_mm": deep + 5, "stickout_mm": deep + 9}
        fits = drill.model_copy(update=sizes)
        found = choices(solid, [fits], wood("alder"), self.route.machine, self.resolved.thickness_mm)[0]
        asked = Question(self.route.machine, fits, wood("alder"), CutKind.SLOT, fits.diameter_mm)
        speed = answer(asked).settings.speed_rpm
        plunge = max(60.0, speed * figures()["drilling"]["feed_per_turn_part"] * fits.diameter_mm * 0.5)
        each = found.metres * 1000 / len(solid.points)  # a through hole goes a little into the board under it
        self.assertTrue(deep <= each <= deep + 1.5, each)
        self.assertAlmostEqual(found.minutes, len(solid.points) * (2 * each / plunge + 0.05), places=6)

    def test_what_a_round_bit_leaves_in_a_corner_is_what_geometry_says(self):
        """A square corner keeps R2 (1 - pi / 4)."""
        solid = self.resolved.solid("pickup_pocket")
        square = type(solid)(**{**solid.__dict__, "region": box(0, 0, 60, 40)})
        found = choices(square, [RACK[1]], wood("alder"), self.route.machine, 45.0)[0]
        self.assertAlmostEqual(found.leaves_mm2, 4 * 16 * (1 - 3.14159265 / 4), delta=0.6)
        round_one = type(solid)(**{**solid.__dict__, "region": Point(0, 0).buffer(3.5)})
        self.assertEqual(choices(round_one, [RACK[1]], wood("alder"), self.route.machine, 45.0)[0].not_for, "too wide to go in")

    def test_the_fewest_bits_for_all_are_as_few_as_trying_all_finds(self):
        rng = random.Random(4)
        for _ in range(200):
            features = {f"f{k}" for k in range(rng.randint(1, 7))}
            served = {f"b{k}": {f for f in features if rng.random() < 0.4} for k in range(rng.randint(1, 6))}
            found, left = fewest(served, features)
            can = set().union(*served.values())
            self.assertEqual(set(left), features - can)
            self.assertEqual(set().union(*(served[b] for b in found)) if found else set(), can)
            least = min((n for n in range(len(served) + 1) if any(set().union(*(served[b] for b in some)) == can for some in combinations(served, n))), default=0)
            self.assertEqual(len(found), least)

    def test_an_up_cut_on_a_figured_rim_that_is_seen_is_minded(self):
        shown = type(self.resolved.solid("plate_rebate"))(**{**self.resolved.solid("plate_rebate").__dict__, "finish_class": "shown"})
        up = next(b for b in RACK if b.flute is Flute.UP_CUT and b.form.value == "flat")
        for in_wood, minded in (("walnut", True), ("alder", False)):
            cares = choices(shown, [up], wood(in_wood), self.route.machine, 45.0)[0].cares
            self.assertEqual(any("lifts the rim" in c for c in cares), minded)


class Life(unittest.TestCase):
    def note(self, what, **more):
        return {"what": what, "wood": "", "metres": 0.0, "slots": 0, "minutes": 0.0, "diameter_mm": None, "shortened_mm": None, **more}

    def test_metres_are_weighed_by_wood_and_begin_anew_with_a_new_bit(self):
        bit, fig = next(b for b in RACK if b.id == "flat6"), figures()["bit_life"]
        notes = [self.note("used", wood="mdf", metres=100.0), self.note("used", wood="alder", metres=50.0, minutes=10.0), self.note("new"), self.note("used", wood="ebony", metres=9000.0)]
        found = life(bit, notes)
        self.assertAlmostEqual(found.worn_m, 100 * fig["mdf"] * 750 / 650 + 50 * 450 / 650)
        self.assertEqual((found.metres, found.minutes, found.by_wood), (150.0, 10.0, {"mdf": 100.0, "alder": 50.0}))
        self.assertEqual(found.minutes_by_wood, {"alder": 10.0})
        self.assertAlmostEqual(found.left_m, fig["carbide_m"] - found.worn_m)
        self.assertGreater(wear_of("ebony"), wear_of("alder"))

    def test_the_job_in_which_it_crosses_its_limit_is_named(self):
        bit, fig = next(b for b in RACK if b.id == "flat6"), figures()["bit_life"]
        found = life(bit, [self.note("used", wood="mdf", metres=(fig["carbide_m"] - 100) / wear_of("mdf"))])
        jobs = [("first", {"alder": 60 / wear_of("alder")}), ("other bits", {}), ("second", {"alder": 20 / wear_of("alder"), "mdf": 30 / wear_of("mdf")}), ("third", {"alder": 500.0})]
        self.assertEqual(forecast(found, jobs).crosses_in, "second")
        self.assertEqual((forecast(found, jobs[:2]).crosses_in, forecast(found, jobs[:2]).jobs), (None, 1))
        self.assertAlmostEqual(forecast(found, jobs[:3]).asked_m, 110.0)

    def test_limits_in_pairs(self):
        bit, fig = next(b for b in RACK if b.id == "flat6"), figures()["bit_life"]
        for metres, told in ((fig["carbide_m"] * 650 / 450 - 1, False), (fig["carbide_m"] * 650 / 450 + 1, True)):
            self.assertEqual("past its" in life(bit, [self.note("used", wood="alder", metres=metres)]).words, told)
        for across, told in ((6.0 - fig["lost_mm"] + 0.005, False), (6.0 - fig["lost_mm"] - 0.005, True)):
            self.assertEqual("thinner than new" in life(bit, [self.note("measured", diameter_mm=across)]).words, told)
        for shorter, told in ((fig["shortened_part"] * 6 - 0.01, False), (fig["shortened_part"] * 6 + 0.01, True)):
            self.assertEqual("its tip is" in life(bit, [self.note("measured", shortened_mm=shorter)]).words, told)


class OnScrap(unittest.TestCase):
    def test_slots_are_as_deep_and_as_fast_as_the_plan_says_and_clean(self):
        route = route_named("siskin_body")
        for id_ in ("flat8", "flat3"):
            q = Question(route.machine, route.bit(id_), wood("birch_ply"), CutKind.SLOT, route.bit(id_).cut_diameter_mm)
            steps = plan_of(q, answer(q).settings, [])[0]
            proof = proof_of(slots_job(q, steps))
            # where the plan means to go, and is told so
            beyond = [f"pocket_slot_{s.number}" for s in steps if s.chip_mm > q.window.bold]
            self.assertEqual(
                [(f.code, f.operation) for f in proof.findings], [("settings.chip_load", b) for b in beyond], id_
            )
            for step, made in zip(steps, proof.steps, strict=True):
                self.assertEqual(made.operation.settings.feed_mm_min, step.settings.feed_mm_min)
                self.assertAlmostEqual(made.deepest_mm, step.settings.depth_of_cut_mm, delta=0.02)
                self.assertGreater(made.widest_mm, 0.95 * q.bit.cut_diameter_mm)  # a cut of this width is kept as a slot
        with self.assertRaisesRegex(InputError, "cannot go down"):
            slots_job(Question(route.machine, route.bit("face25"), wood("alder"), CutKind.FACE, 17.0), steps)

    def test_a_fit_coupon_has_pockets_as_wide_as_it_says(self):
        route = route_named("siskin_body")
        made = fit_job(route.machine, route.bits, wood("alder"), 42.3, 0.05, 0.05, 4)
        self.assertEqual(proof_of(made).findings, [])
        widths = [s.region.bounds[3] - s.region.bounds[1] for k, s in resolve(made).solids.items() if k.startswith("fit")]
        for k, wide in enumerate(widths):
            self.assertAlmostEqual(wide, 42.3 + 2 * (0.05 + 0.05 * k), places=3)


if __name__ == "__main__":
    unittest.main()
