"""An end up in a vice: what the jaws bear against closed forms, where the angle comes from, what is left standing, planted faults."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np
from shapely.geometry import LineString

from birch_route.core.bits.model import Bit
from birch_route.core.data import figures
from birch_route.core.errors import InfeasibleError, InputError
from birch_route.core.holding.balance import Balance
from birch_route.core.holding.clearance import footprint
from birch_route.core.holding.contacts import elements_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.jigs.end import Cut, EndWanted, end_job_for, section_of
from birch_route.core.jigs.model import End
from birch_route.core.jigs.vice import AngleBudget
from birch_route.core.programs.readback import read_back
from birch_route.core.programs.writer import write_programs
from birch_route.core.route import Hardware
from birch_route.demo.shop import BITS, MORE_BITS
from tests.core.test_contacts import lying
from tests.support import changed, codes, proof_of, put, route_named

FIG = figures()["holding"]
RACK = [Bit.model_validate(b) for b in [*BITS, *MORE_BITS]]
LEVEL = AngleBudget(0.0, 0.0, 0.0)


def job(end=End.LEFT, cut=Cut.TENON, angles=LEVEL, name="siskin_neck_face", **more):
    return end_job_for(route_named(name), EndWanted(end, cut, **more), angles, RACK)


def vice(**more):
    return Hardware(id="j1", kind="vice", x_mm=0, y_mm=10, angle_deg=90, width_mm=60, opens_mm=20, top_mm=-25, **more)


class Jaws(unittest.TestCase):
    def near(self, found, wanted):
        self.assertLess(abs(found - wanted) / wanted, 0.01, f"{found} against {wanted}")

    def test_they_hold_by_friction_at_both_and_against_the_fixed_one(self):
        press, friction, high = FIG["vice_press_n"], FIG["friction_pad"], FIG["jaw_mm"]
        lies = lying(60, 20, 25)
        balance, middle = Balance(elements_of([vice()], lies)), (0, 0, -25 - high / 2)
        self.near(balance.most((1, 0, 0), middle), 2 * friction * press)
        self.near(balance.most((0, 0, 1), middle), 2 * friction * press)
        self.near(balance.most((0, 0, -1), middle), 2 * friction * press)  # nothing is counted under it
        self.near(balance.most((0, -1, 0), middle), press)
        self.near(Balance(elements_of([vice(press_n=300.0)], lies)).most((0, -1, 0), middle), 300.0)

    def test_without_friction_the_upper_edge_of_the_jaws_gives_way_as_a_lever_says(self):
        slippery = [replace(e, friction=0.0) for e in elements_of([vice(grip_mm=40.0)], lying(60, 20, 25))]
        for over in (5.0, 20.0, 40.0):  # over the middle of the jaws
            self.near(Balance(slippery).most((0, -1, 0), (0, 0, -45 + over)), FIG["vice_press_n"] / (1 + 2 * over / 40.0))

    def test_both_jaws_may_be_hit(self):
        shape = footprint(vice(length_mm=30.0))
        np.testing.assert_allclose(shape.bounds, (-30, -40, 30, 40), atol=1e-9)
        self.assertAlmostEqual(shape.area, 2 * 30.0 * 60.0)


class Angle(unittest.TestCase):
    def test_the_wood_is_as_high_as_the_slope_asks_and_the_sum_counts_each_source_once(self):
        thick = resolve(route_named("siskin_neck_face")).thickness_mm
        for wanted, wedge, there in ((0, 0, 0), (3, 2, 0), (5, 0, 2), (-4, -1, 1)):
            made = job(angles=AngleBudget(wanted, wedge, there))
            tilt = math.radians(abs(wanted - there))
            self.assertAlmostEqual(made.blank.skim_mm, thick * math.tan(tilt) + figures()["ends"]["trued_mm"], places=2)
            self.assertAlmostEqual(made.blank.width_mm, thick / math.cos(tilt), places=2)
            self.assertIn(f"{wanted - wedge - there:.2f}° by the fence" if wanted or wedge or there else "no angle", made.end_work.words[1])
        with self.assertRaisesRegex(InfeasibleError, "allows 12"):
            job(angles=AngleBudget(20.0, 2.0, 0.0))

    def test_what_does_not_fit_is_refused_with_figures(self):
        for wrong, words in ((dict(cut=Cut.HOLES, count=9), "reaches 83.0 to either side"), (dict(thick_mm=21.0), "21.0 thick"), (dict(end=End.UPPER, at_mm=5000.0), "No wood stands at 5000")):
            with self.assertRaisesRegex(InputError, words):
                job(**wrong)


class Standing(unittest.TestCase):
    def test_the_section_is_the_pieces_own(self):
        for name, end, along in (("siskin_neck_face", End.LEFT, 0), ("siskin_neck_face", End.RIGHT, 0), ("siskin_body", End.LOWER, 310.0), ("siskin_body", End.UPPER, 280.0)):
            outline = resolve(route_named(name)).outline
            low, high = section_of(resolve(route_named(name)), EndWanted(end, at_mm=along, long_mm=50.0))
            xmin, ymin, xmax, ymax = outline.bounds
            if end in (End.LEFT, End.RIGHT):  # the widest of its last 5 mm
                cuts = [LineString([(x, ymin), (x, ymax)]).intersection(outline).bounds for x in (xmin + np.arange(0.5, 5.1, 0.5) if end is End.LEFT else xmax - np.arange(0.5, 5.1, 0.5))]
                least, most = min(c[1] for c in cuts), max(c[3] for c in cuts)
                np.testing.assert_allclose((low, high), (least, most) if end is End.RIGHT else (-most, -least), atol=0.3)
            else:
                self.assertTrue(10.0 < high - low <= 50.0 + 1e-6 and low >= -25.0 - 1e-6 and high <= 25.0 + 1e-6)

    def test_tenons_of_any_size_stand_as_high_as_asked_and_nothing_else_is_left(self):
        rng = random.Random(11)
        for _ in range(4):
            wide, thick, high = rng.uniform(15, 40), rng.uniform(5, 12), rng.uniform(4, 14)
            made = job(angles=AngleBudget(rng.uniform(-4, 4), 0, 0), wide_mm=wide, thick_mm=thick, deep_mm=high)
            proof = proof_of(made)
            self.assertEqual(proof.findings, [])
            sim = proof.simulation
            x, y = np.meshgrid(sim.grid.x_centres(), sim.grid.y_centres())
            inside = (np.abs(x) < wide / 2 - 0.3) & (np.abs(y) < thick / 2 - 0.3)
            beyond = ((np.abs(x) > wide / 2 + 0.3) | (np.abs(y) > thick / 2 + 0.3)) & (sim.blank_top > sim.bottom)
            np.testing.assert_allclose(sim.result[inside], 0.0, atol=0.02)
            np.testing.assert_allclose(sim.result[beyond], -high, atol=0.02)

    def test_every_cut_on_every_end_is_clean_and_its_programs_read_back(self):
        for name, end, cut in (("siskin_neck_face", End.RIGHT, Cut.HOLES), ("siskin_neck_face", End.LEFT, Cut.FACE), ("siskin_body", End.LOWER, Cut.HOLES)):
            proof = proof_of(job(end, cut, name=name, at_mm=300.0, angles=AngleBudget(2.0, 1.0, 0.0), apart_mm=15.0))
            self.assertEqual(proof.findings, [], name)
            self.assertFalse([f for f in read_back(proof.simulation, write_programs(proof.simulation)).findings if f.severity.value == "stop"])


class Planted(unittest.TestCase):
    def test_jaws_that_stand_too_high_are_hit_and_the_cure_clears_them(self):
        made = job(deep_mm=12.0)
        gap = 0.6  # left between the shoulders and the jaws, less than hardware wants
        for thinner, expected in ((0.0, False), (figures()["ends"]["stands_mm"] - 12.0 - gap + 1.5, True)):
            held = made.setups[0].hardware[0]
            lower = changed(made, put("blank.thickness_mm", made.blank.thickness_mm - thinner), {"do": "put_hardware", "setup": "front", "hardware": held.model_copy(update={"top_mm": held.top_mm + thinner}).model_dump(mode="json")})
            proof = proof_of(lower)
            self.assertEqual("hardware.hit" in codes(proof), expected)
            if expected:
                hit = next(f for f in proof.findings if f.code == "hardware.hit")
                self.assertEqual(proof_of(changed(lower, *hit.cures[0].edits)).findings, [])

    def test_jaws_hardly_turned_tight_are_told(self):
        made = job(deep_mm=12.0)
        held = made.setups[0].hardware[0]
        for press, expected in ((60.0, True), (1200.0, False)):
            weak = changed(made, {"do": "put_hardware", "setup": "front", "hardware": held.model_copy(update={"press_n": press}).model_dump(mode="json")})
            self.assertEqual("holding.weak" in codes(proof_of(weak)), expected)


if __name__ == "__main__":
    unittest.main()
