"""Z touched off by the program itself: the words, the place, the stops, what is read back and what is refused; where a
machine homes and how far before its ends it stops."""

import unittest
from dataclasses import replace

from birch_route.core.errors import BirchError
from birch_route.core.machines import Machine
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.reader import read_program
from birch_route.core.programs.writer import write_all
from birch_route.core.proving.prove import prove
from birch_route.sheets.bed import bed_plan
from birch_route.sheets.run_sheet import run_plan
from tests.support import changed, codes, proof_of, put, route_named

PLATE = 12.0
HEAD = "G21 G90 G54\nM5\n"


def plate(*more, down=120.0):
    """The control plate on a machine that touches off by itself; its zero lies on top of the blank."""
    words = {"touch_plate_mm": PLATE, "dialect.probe_word": "G38.2", "dialect.probe_down_mm": down}
    return changed(route_named("control_plate"), *(put(f"machine.{k}", v) for k, v in words.items()), *more)


def written(route):
    proof = prove(route)
    return proof, write_all(proof.simulations)


def back(proof, programs):
    return [f.sentence for f in read_back_all(proof.simulations, programs).findings]


class Words(unittest.TestCase):
    def test_on_top_of_the_blank_a_hand_lays_the_plate_and_takes_it_away(self):
        proof, programs = written(plate(put("machine.dialect.inch", False), put("machine.dialect.decimals", 3)))
        self.assertEqual(back(proof, programs), [])
        lines = [line.partition(" ")[2] for line in programs[0].text.splitlines() if line.startswith("N")]
        at = lines.index("G91")
        setup = proof.simulations[0].setup
        x = setup.zero.touch_x_mm - proof.simulation.route.blank.x_mm
        y = setup.zero.touch_y_mm - proof.simulation.route.blank.y_mm
        self.assertEqual(lines[at - 3 : at + 7], [
            "G53 G0 Z0", f"G0 X{x:.3f} Y{y:.3f}", "M0", "G91", "G38.2 Z-120.000 F60", "G90", "G10 L20 P1 Z12.000",
            "G53 G0 Z0", "M0", "M3"])
        self.assertLess(lines.index("G0 X0.000 Y0.000", at), lines.index("G0 Z8.000", at), "Z comes down last")

    def test_at_the_fixed_place_nothing_stops_for_the_plate_and_z_counts_from_the_waste_board(self):
        route = plate(put("machine.probe_mm", [300.0, 20.0]), put("machine.dialect.set_word", "G92"),
                      put("machine.dialect.inch", False))
        proof, programs = written(route)
        self.assertEqual(back(proof, programs), [])
        blank, at = route.blank, route.setups[0].blank_at_mm
        text = programs[0].text
        self.assertIn(f"G92 Z{PLATE - blank.thickness_mm:.4f}"[:9], text)
        self.assertEqual(text.count("M0\n"), 1)
        self.assertIn(f"X{300.0 - at[0]:.3f}", text)
        self.assertIn(f"Y{20.0 - at[1]:.3f}", text)

    def test_beside_the_blank_a_hand_touches_off(self):
        proof, programs = written(plate(put("setups.front.zero.z", "bed")))
        self.assertEqual(back(proof, programs), [])
        self.assertNotIn("G38.2", programs[0].text)
        self.assertIn("touch off Z again", programs[0].text)

    def test_each_of_several_pieces_is_touched_on_itself_and_a_fixed_place_stays(self):
        more = put("setups.front.more_at", [[0.0, 150.0]])
        for fixed, moves in (([], True), ([put("machine.probe_mm", [300.0, 20.0])], False)):
            proof, programs = written(plate(more, put("machine.dialect.inch", False), *fixed))
            self.assertEqual(back(proof, programs), [])
            ways = [next(line for line in p.text.splitlines() if " G0 X" in line) for p in programs[:2]]
            y = [float(w.rpartition("Y")[2]) for w in ways]
            self.assertAlmostEqual(y[1] - y[0], 150.0 if moves else 0.0, places=2)

    def test_a_changer_stops_for_the_plate_alone(self):
        proof, programs = written(plate(put("machine.dialect.change_word", True)))
        self.assertEqual(back(proof, programs), [])
        self.assertEqual(programs[0].text.count("M0"), 2)

    def test_the_run_says_what_the_program_does(self):
        proof, _ = written(plate())
        checks = [c for b in run_plan(*proof.simulations)["bits"] for c in b["checks"]]
        self.assertTrue(any("The program touches Z off; it stops for the plate" in c for c in checks))


class Refused(unittest.TestCase):
    def test_a_program_that_sets_z_otherwise_does_not_pass(self):
        proof, programs = written(plate(put("machine.dialect.inch", False), put("machine.dialect.decimals", 3)))
        good = programs[0].text
        for wrong in (
            good.replace("G10 L20 P1 Z12.000", "G10 L20 P1 Z12.020"),
            good.replace("G10 L20 P1 Z12.000", "G10 L20 P2 Z12.000"),
            good.replace("G10 L20", "G10 L2"), good.replace("G38.2 Z-120.000", "G38.2 Z120.000"),
            good.replace("G38.2 Z-120.000", "G38.2 X-5.000 Z-120.000"), good.replace("N90 G91", "N90 G90"),
            good.replace("N110 G90\n", "").replace("G91\n", "G91\n"),
        ):
            if wrong == good:
                continue
            with self.subTest(wrong[600:900]):
                self.assertTrue(back(proof, [replace(programs[0], text=wrong), *programs[1:]]))
        close = good.replace("G10 L20 P1 Z12.000", "G10 L20 P1 Z12.010")
        self.assertEqual(back(proof, [replace(programs[0], text=close), *programs[1:]]), [])
        by_hand, plain = written(route_named("control_plate"))
        self.assertTrue(back(proof, plain), "nothing was touched off")
        self.assertTrue(back(by_hand, programs), "nobody asked for it")

    def test_a_touch_off_goes_down_in_steps_with_a_feed_and_the_spindle_still(self):
        good = HEAD + "G53 G0 Z0\nG0 X5 Y5\nG91\nG38.2 Z-50 F60\nG90\nG10 L20 P1 Z12\nG0 Z20\nG0 X0 Y0\nG1 Z1 F100\nM30"
        read = read_program(good)
        self.assertEqual(([p.sentence for p in read.problems], read.touch_offs), ([], [12.0]))
        for a, b in (("M5", "M3 S9000"), ("F60", ""), ("Z-50", "Z50"), ("Z-50", "X5 Z-50"), ("G91\n", "")):
            with self.subTest(b):
                self.assertTrue(read_program(good.replace(a, b, 1)).problems)

    def test_zero_is_set_nowhere_else(self):
        for words in ("G10 L20 P1 Z12", "G92 Z0", "G10 L2 P1 X0"):
            self.assertTrue(read_program(HEAD + f"{words}\nG0 Z20\nG0 X0 Y0\nG1 Z1 F100\nM30").problems)

    def test_nothing_steps_on_from_the_plate_before_a_place_is_said(self):
        text = HEAD + "G0 X5 Y5 Z30\nG1 Z29 F100\nG91\nG38.2 Z-50 F60\nG10 L20 P1 Z12\nG1 X5 F100\nM30"
        self.assertTrue(read_program(text).problems)

    def test_without_a_plate_no_program_touches_off(self):
        machine = route_named("control_plate").machine.model_dump()
        machine["dialect"]["probe_word"], machine["touch_plate_mm"] = "G38.2", None
        with self.assertRaisesRegex(ValueError, "touch plate's thickness"):
            Machine.model_validate(machine)
        with self.assertRaises(BirchError):
            changed(route_named("control_plate"), put("machine.dialect.probe_word", "G38.2"))

    def test_a_plate_that_lies_too_far_down_is_told_with_its_cure(self):
        route = plate()
        nut = route.machine.nut_clear_mm
        out = min(route.bit(o.bit).stickout_mm for o in route.operations)
        below = nut - out - route.blank.thickness_mm - PLATE
        self.assertNotIn("zero.plate_out_of_reach", codes(proof_of(plate(down=below + 0.1))))
        told = proof_of(plate(down=below - 0.1))
        self.assertIn("zero.plate_out_of_reach", codes(told))
        cure = next(f for f in told.findings if f.code == "zero.plate_out_of_reach").cures[0].edits[0]
        self.assertGreater(cure["value"], below)
        fixed = put("machine.probe_mm", [300.0, 20.0])
        self.assertIn("zero.plate_out_of_reach", codes(proof_of(plate(fixed, down=nut - out - PLATE - 0.1))))
        self.assertNotIn("zero.plate_out_of_reach", codes(proof_of(plate(fixed, down=nut - out - PLATE + 0.1))))


class Home(unittest.TestCase):
    def test_zero_is_counted_from_where_the_machine_homes(self):
        for right, rear in ((False, False), (True, False), (True, True)):
            ends = [put("machine.home_right", right), put("machine.home_rear", rear)]
            route = changed(route_named("control_plate"), *ends)
            bed = bed_plan(prove(route).simulations[0])
            x, y = route.setups[0].blank_at_mm
            wide, deep = route.machine.travel_mm[:2]
            self.assertEqual(bed["jog"]["zero"], [x - wide if right else x, y - deep if rear else y])
            self.assertEqual(bed["home"], [wide if right else 0.0, deep if rear else 0.0])

    def test_soft_limits_stop_it_before_its_ends(self):
        route = changed(route_named("control_plate"), put("setups.front.blank_at_mm", [30.0, 30.0]))
        proof = prove(route)
        dx, dy = (a - b for a, b in zip(route.setups[0].blank_at_mm, (route.blank.x_mm, route.blank.y_mm), strict=True))
        points = [s.path.points for s in proof.steps]
        least = min(min(p[:, 0].min() + dx for p in points), min(p[:, 1].min() + dy for p in points))
        for keep, told in ((least - 0.1, False), (least + 0.1, True)):
            kept = changed(route, put("machine.keep_in_mm", float(keep)))
            self.assertIs("travel.outside" in codes(prove(kept)), told)


if __name__ == "__main__":
    unittest.main()
