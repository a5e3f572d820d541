"""Several pieces alike in one setup: programs that are the first's moved, read back each; what one does to the next."""

import unittest
from dataclasses import replace

import numpy as np

from birch_route.core.cutting.ran import wear_of_run
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.holding.pieces import places_of, spread_out, together, ways_between
from birch_route.core.jigs.board import board_for as jig_board
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.reader import read_program
from birch_route.core.programs.writer import write_all
from birch_route.core.proving.prove import prove
from birch_route.formats.report import report
from birch_route.sheets.bed import bed_plan
from birch_route.sheets.run_sheet import run_plan
from tests.core.boards import board_route
from tests.core.test_board_route import serious
from tests.support import changed, put, route_named


def laid(route, *places):
    return changed(route, put(f"setups.{route.setups[0].id}.more_at", [list(p) for p in places]))


def found(route, code):
    return [f for f in prove(route).findings if f.code == code]


class Places(unittest.TestCase):
    def test_ways_from_each_to_each(self):
        self.assertEqual(places_of([]), [(0.0, 0.0)])
        self.assertEqual(sorted(ways_between([(0, 90), (0, 180)])), [(0, -180), (0, -90), (0, 90), (0, 180)])

    def test_blanks_that_overlap_are_one(self):
        blank = route_named("control_plate").blank
        apart = together(blank, [(0.0, blank.width_mm)])
        self.assertEqual((apart.wide_mm, apart.overlap_mm), (2 * blank.width_mm, 0.0))
        self.assertAlmostEqual(together(blank, [(0.0, blank.width_mm - 3)]).overlap_mm, 3.0)

    def test_further_apart_gains_what_is_missing(self):
        self.assertEqual(spread_out([(0, 60), (0, 120)], (0, 60), 5.2), [[0.0, 65.5], [0.0, 130.5]])
        self.assertEqual(spread_out([(0, -60)], (0, 60), 5.0), [[0.0, -65.0]])


class Programs(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = laid(route_named("control_plate"), (0.0, 150.0), (0.0, 300.0))
        cls.proof = prove(cls.route)
        cls.programs = write_all(cls.proof.simulations)

    def points(self, program):
        """Where a program goes, as the machine counts it."""
        read = read_program(program.text, program.name, self.route.machine.dialect)
        return np.concatenate([s.path((0.0, 0.0, 0.0)).points for s in read.sections])

    def test_each_has_programs_that_are_the_firsts_moved(self):
        for k in range(0, len(self.programs), 3):
            first, second, third = self.programs[k : k + 3]
            self.assertEqual([p.piece for p in (first, second, third)], [1, 2, 3])
            self.assertEqual(first.operations, third.operations)
            for one, dy in ((second, 150.0), (third, 300.0)):
                moved = self.points(one) - self.points(first)
                self.assertLess(np.abs(moved - [0.0, dy, 0.0]).max(), 0.003)
        self.assertIn("piece 2 of 3: X 0.0000\" Y +5.9055\" from the first", self.programs[1].text)
        self.assertEqual(len({p.name for p in self.programs}), len(self.programs))
        self.assertIn(f"program 1 of {len(self.programs)}", self.programs[0].text)

    def test_all_of_them_are_read_back_and_one_that_lies_elsewhere_fails(self):
        self.assertEqual(read_back_all(self.proof.simulations, self.programs).findings, [])
        first, second, *others = self.programs
        ox, oy, oz = second.origin_mm
        for off, told in ((0.01, False), (0.03, True)):
            wrong = [first, replace(second, origin_mm=(ox, oy + off, oz)), *others]
            self.assertIs(bool(read_back_all(self.proof.simulations, wrong).findings), told)
        beyond = [*self.programs, replace(self.programs[0], piece=4)]
        self.assertTrue(read_back_all(self.proof.simulations, beyond).findings)
        self.assertTrue(read_back_all(self.proof.simulations, self.programs[:-1]).findings)

    def test_sheet_and_bed_show_them_and_wear_counts_each(self):
        sim = self.proof.simulations[0]
        self.assertEqual(len(bed_plan(sim)["beside"]), 2)
        plan = run_plan(*self.proof.simulations)
        self.assertIn("3 blanks alike", plan["load"])
        self.assertTrue(all(any("3 pieces" in c for c in b["checks"]) for b in plan["bits"]))
        alone = route_named("control_plate")
        one, three = (
            wear_of_run(r, report(p, [], None)["operations"], {}, {})
            for r, p in ((alone, prove(alone)), (self.route, self.proof)))
        for a, b in zip(one, three, strict=True):
            self.assertAlmostEqual(b.metres, 3 * a.metres, delta=0.01)
            self.assertAlmostEqual(b.minutes, 3 * a.minutes, delta=0.01)

    def test_the_other_hand_lies_on_the_other_side(self):
        route = laid(board_route(wire={}), (10.0, 120.0))
        other = apply_edits(route, [read_edit({"do": "mirror"})])
        self.assertEqual([tuple(p) for p in other.setups[0].more_at], [(10.0, -120.0)])


class Jig(unittest.TestCase):
    def test_a_board_for_them_has_a_station_for_each(self):
        route = route_named("control_plate")
        one, three = (jig_board(r, "front") for r in (route, laid(route, (0.0, 150.0), (0.0, 300.0))))
        pilots = [[f for f in r.piece.features if f.kind == "hole" and f.id.startswith("pilot")] for r in (one, three)]
        self.assertEqual(len(pilots[1]), 3 * len(pilots[0]))
        first = next(f for f in three.piece.features if f.id == pilots[0][0].id)
        second = next(f for f in three.piece.features if f.id == f"{pilots[0][0].id}_2")
        for (ax, ay), (bx, by) in zip(first.points, second.points, strict=True):
            self.assertAlmostEqual(bx - ax, 0.0, places=6)
            self.assertAlmostEqual(by - ay, 150.0, places=3)
        wide = [r.blank.width_mm for r in (one, three)]
        self.assertAlmostEqual(wide[1] - wide[0], 300.0, delta=1.0)
        self.assertEqual({c for c in serious(prove(one)) if c != "bit.too_short"}, set())
        self.assertEqual(set(serious(prove(three))), set(serious(prove(one))))


class Judged(unittest.TestCase):
    """A board is 56 wide at its end, its outline bit 8, and its ball hangs over the edge by its radius."""

    def test_a_cut_into_the_next_piece_and_its_cure(self):
        route = board_route(wire={})
        near = next(y for y in range(64, 76) if not found(laid(route, (0.0, float(y))), "pieces.too_near"))
        self.assertGreater(near, 56 + 6)
        told = found(laid(route, (0.0, near - 1.0)), "pieces.too_near")
        self.assertEqual(told[0].severity.value, "stop")
        cured = apply_edits(laid(route, (0.0, near - 1.0)), [read_edit(e) for e in told[0].cures[0].edits])
        self.assertEqual(found(cured, "pieces.too_near"), [])
        deep = found(laid(route, (0.0, 40.0)), "pieces.too_near")
        self.assertIn("into the next", deep[0].sentence)

    def test_one_blank_is_said_from_where_blanks_overlap(self):
        route = board_route(wire={})
        wide = route.blank.width_mm
        self.assertTrue(found(laid(route, (0.0, wide - 0.5)), "pieces.one_blank"))
        self.assertFalse(found(laid(route, (0.0, wide)), "pieces.one_blank"))

    def test_what_holds_one_is_in_the_way_of_another(self):
        route = board_route(wire={})
        tall = changed(route, put("setups.front.hardware.s1.top_mm", 4.0))
        self.assertEqual(found(tall, "hardware.hit"), [])
        at = tall.setups[0].hardware[0]
        over = laid(tall, (-at.x_mm + 200.0, -at.y_mm))  # its screw comes to lie on the first piece
        self.assertTrue([f for f in found(over, "hardware.hit") if "another piece" in f.sentence])
        self.assertEqual(found(laid(tall, (0.0, 150.0)), "hardware.hit"), [])

    def test_a_piece_beyond_the_travel(self):
        route = board_route(wire={})
        high = route.machine.travel_mm[1]
        low = route.setups[0].blank_at_mm[1]
        self.assertFalse(found(laid(route, (0.0, high - low - route.blank.width_mm - 10)), "travel.outside"))
        self.assertTrue(found(laid(route, (0.0, high - low - 20)), "travel.outside"))


if __name__ == "__main__":
    unittest.main()
