"""Finding a turned piece again: the ledger, the chain of errors, and a test pair against a machine that is really skewed and shifted."""

import math
import unittest

import numpy as np

from birch_route.core.holding.datums import chains, correction, judged
from birch_route.core.programs.ledger import ledger
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import program_origin, write_all
from birch_route.core.route import TestPair as Pair
from birch_route.core.stages import frame_of
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named


def turned():
    return fitted_route(True)


def with_pair(**readings):
    return changed(turned(), put("setups.back.test_pair", {"apart_mm": 260.0, **readings}))


class SkewedMachine:
    """A machine whose y axis leans by an angle and whose turning axis lies beside the one in mind: where it really drills, in the piece's frame."""

    def __init__(self, lean_rad, beside_mm, slid_mm):
        self.lean, self.beside, self.slid = lean_rad, beside_mm, slid_mm

    def front(self, x, y):
        return np.array([x + self.lean * y, y])

    def back(self, x, y):
        """The piece is turned about its length over an axis at y = beside, and slid along it."""
        machine_x, machine_y = x, -y
        real = np.array([machine_x + self.lean * machine_y, machine_y])
        return np.array([real[0] - self.slid, 2 * self.beside - real[1]])


class TestPairs(unittest.TestCase):
    def test_the_readings_of_a_skewed_and_shifted_machine_give_back_its_errors(self):
        rng = np.random.default_rng(7)
        for _ in range(40):
            lean, beside, slid = rng.uniform(-0.003, 0.003), rng.uniform(-0.4, 0.4), rng.uniform(-0.4, 0.4)
            machine, apart, x = SkewedMachine(lean, beside, slid), rng.uniform(80, 300), rng.uniform(0, 400)
            first = machine.back(x, apart / 2) - machine.front(x, apart / 2)
            second = machine.back(x, -apart / 2) - machine.front(x, -apart / 2)
            found = judged(Pair(apart_mm=apart, first_along_mm=first[0], first_across_mm=first[1], second_along_mm=second[0], second_across_mm=second[1]))
            self.assertAlmostEqual(math.radians(found.square_deg), -lean, places=6)
            self.assertAlmostEqual(found.axis_mm, beside, places=9)
            self.assertAlmostEqual(found.along_mm, -slid, places=9)

    def test_moved_by_the_correction_the_back_meets_the_front(self):
        machine = SkewedMachine(0.0, 0.21, -0.13)
        pair = {}
        for name, y in (("first", 100.0), ("second", -100.0)):
            off = machine.back(50.0, y) - machine.front(50.0, y)
            pair |= {f"{name}_along_mm": float(off[0]), f"{name}_across_mm": float(off[1])}
        route = changed(turned(), put("setups.back.test_pair", {"apart_mm": 200.0, **pair}))
        setup = route.setups[1]
        signs = frame_of(setup, 45.0).signs
        dx, dy = correction(setup, signs)
        x, y = 120.0, -35.0  # a place of the piece, programmed where the correction puts it
        hit = machine.back(x + signs[0] * dx, y + signs[1] * dy)
        np.testing.assert_allclose(hit, machine.front(x, y), atol=1e-9)

    def test_the_programs_are_moved_and_read_back_to_the_same_wood(self):
        plain, moved = proof_of(turned()), proof_of(with_pair(first_across_mm=0.2, second_across_mm=0.2, first_along_mm=0.1, second_along_mm=0.1))
        self.assertEqual(program_origin(plain.simulations[0]), program_origin(moved.simulations[0]))
        a, b = program_origin(plain.simulations[1]), program_origin(moved.simulations[1])
        np.testing.assert_allclose(np.subtract(b, a), (0.1, -0.2, 0.0), atol=1e-12)  # x is kept and y changes its sign in turning about the length
        programs = write_all(moved.simulations)
        back = read_back_all(moved.simulations, programs)
        self.assertEqual([f.reason for f in back.findings], [])
        self.assertNotEqual(programs[-1].text, write_all(plain.simulations)[-1].text)

    def test_out_of_square_is_told_beyond_what_an_edge_may_be_off(self):
        wide = 0.5 * (proof_of(turned()).simulation.resolved.outline.bounds[3] - proof_of(turned()).simulation.resolved.outline.bounds[1])
        limit = 0.1 * 260.0 / wide / 2 * 2  # difference of the readings at which the step is a tenth
        self.assertEqual(codes(proof_of(with_pair(first_along_mm=0.49 * limit, second_along_mm=-0.49 * limit))), set())
        self.assertEqual(codes(proof_of(with_pair(first_along_mm=0.52 * limit, second_along_mm=-0.52 * limit))), {"turn.out_of_square"})


class Ledger(unittest.TestCase):
    def test_thickness_and_zero_through_the_skim_and_the_turn(self):
        """The skim does not reach the blank's corners: turned over, the piece lies 0.8 above the waste board."""
        rows = [(e.setup, round(e.thick_mm, 3), round(e.piece_mm, 3), round(e.face_over_zero_mm, 3)) for e in ledger(proof_of(turned()).simulations)]
        self.assertEqual(rows, [("front", 45.8, 45.8, 45.0), ("front", 45.8, 45.0, 45.0), ("back", 45.8, 45.0, 45.8)])
        top = [e.face_over_zero_mm for e in ledger(proof_of(changed(turned(), put("setups.front.zero.z", "stock_top"))).simulations)]
        self.assertEqual([round(v, 3) for v in top], [-0.8, -0.8, 45.8])

    def test_the_chain_names_its_links_and_adds_their_squares(self):
        first, second = chains(turned())
        self.assertEqual((first.plan_mm, [k.what for k in second.links]), (0.0, ["X and Y", "Square", "The wood", "Z"]))
        self.assertAlmostEqual(second.plan_mm, math.sqrt(sum(k.off_mm**2 for k in second.links if k.what != "Z")))
        measured = chains(with_pair())[1]
        self.assertLess(measured.plan_mm, second.plan_mm)
        by_edges = chains(changed(turned(), put("setups.back.datum", None)))[1]
        self.assertGreater(by_edges.plan_mm, second.plan_mm)
        self.assertEqual(len(chains(route_named("control_plate"))), 1)


if __name__ == "__main__":
    unittest.main()
