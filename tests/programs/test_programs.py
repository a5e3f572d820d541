import json
import math
import tempfile
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from bench.small_step import program_seconds
from birch_route.cli import main
from birch_route.core.errors import InputError
from birch_route.core.motion.arcs import fit_arcs
from birch_route.core.motion.timing import move_times
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.programs.check import Stock, check_program, parse_bit
from birch_route.core.programs.readback import read_back
from birch_route.core.programs.reader import read_program
from birch_route.core.programs.writer import write_programs
from birch_route.core.vocabulary import MoveKind
from birch_route.formats.route_file import route_from_text, route_to_text
from birch_route.service.planning import release
from birch_route.sheets.run_sheet import run_plan
from tests.support import ROOT, changed, codes, proof_of, put, route_named

HEAD = "G21 G90\nT1 M6\nG0 Z5\nG0 X10 Y10\nM3 S10000\n"
BIT = dict([parse_bit("T1=flat:6,cut=22,out=30")])


def check(text, **more):
    return check_program(f"{text}\nM30", Stock(100, 80, 20), more.pop("bits", BIT), **more)


class Reader(unittest.TestCase):
    def test_inch_and_metric_programs_of_the_same_shape_move_alike(self):
        metric = read_program("G21 G90\nG0 X0 Y0 Z5.08\nG1 X25.4 F254\nG3 X0 Y25.4 I-25.4 J0").sections[0]
        inch = read_program("G20 G90\nG0 X0 Y0 Z.2\nG1 X1 F10\nG3 X0 Y1 R1").sections[0]
        self.assertLess(np.abs(np.asarray(metric.points) - np.asarray(inch.points)).max(), 1e-6)

    @given(st.floats(-3.1, 3.1), st.floats(0.1, 6.2), st.floats(1, 80), st.booleans())
    @settings(max_examples=60, deadline=None)
    def test_arcs_by_centre_follow_their_circle(self, first, sweep, radius, clockwise):
        way = -1 if clockwise else 1
        x0, y0 = radius * math.cos(first), radius * math.sin(first)
        x1, y1 = radius * math.cos(first + way * sweep), radius * math.sin(first + way * sweep)
        text = f"G21 G90\nG0 X{x0:.6f} Y{y0:.6f} Z0\nG{2 if clockwise else 3} X{x1:.6f} Y{y1:.6f} I{-x0:.6f} J{-y0:.6f} F500"
        points = np.asarray(read_program(text).sections[0].points)
        self.assertLess(np.abs(np.hypot(points[:, 0], points[:, 1]) - radius).max(), 1e-4)
        travelled = np.hypot(*np.diff(points[:, :2], axis=0).T).sum()
        self.assertAlmostEqual(travelled / (radius * sweep), 1, delta=0.01)

    def test_names_by_line_what_it_does_not_understand(self):
        read = read_program("G21 G90\nG0 X0 Y0 Z5\nG1 Z-1 F100\nG41 D1\nM98 P100\n@!?\nM30")
        self.assertEqual(list(dict.fromkeys(f.line for f in read.problems)), [4, 5, 6])

    def test_refuses_what_is_no_program(self):
        for text in ("", "hello\nworld", "\x00\x01PK", "; only a comment"):
            with self.subTest(text), self.assertRaises(InputError):
                read_program(text)

    @given(st.text(alphabet="GXYZIJRMFS0123456789.-+ \n()", max_size=120))
    @settings(max_examples=150, deadline=None)
    def test_no_text_brings_the_reader_down(self, text):
        try:
            read_program(text)
        except InputError:
            pass

    def test_drilling_cycles_reach_their_depth(self):
        points = np.asarray(read_program("G21 G90 G0 X5 Y5 Z10\nF100\nG83 X5 Y5 Z-9 R1 Q3\nX15\nG80").sections[0].points)
        for x in (5, 15):
            self.assertAlmostEqual(points[np.abs(points[:, 0] - x) < 1e-9][:, 2].min(), -9)


class Arcs(unittest.TestCase):
    def test_a_flattened_circle_becomes_arcs_that_stay_on_it(self):
        angle = np.linspace(0, 2 * math.pi, 200)
        points = np.column_stack([20 * np.cos(angle), 20 * np.sin(angle), np.zeros(200)])
        arcs = fit_arcs(points, np.ones(199, bool), np.zeros(199, int))
        self.assertLessEqual(len(arcs), 4)
        for arc in arcs:
            self.assertAlmostEqual(math.hypot(arc.cx, arc.cy), 0, delta=0.01)

    def test_a_polygon_stays_straight(self):
        square = np.array([(0, 0, 0), (10, 0, 0), (10, 10, 0), (0, 10, 0), (0, 0, 0)], float)
        self.assertEqual(fit_arcs(square, np.ones(4, bool), np.zeros(4, int)), [])


class WrittenAndReadBack(unittest.TestCase):
    def test_every_example_reads_back_to_the_wood_that_was_proven(self):
        for name in ("siskin_body", "siskin_neck_face", "control_plate"):
            with self.subTest(name):
                sim = proof_of(route_named(name)).simulation
                back = read_back(sim, write_programs(sim))
                self.assertEqual(back.findings, [])

    def test_a_tampered_program_is_refused(self):
        sim = proof_of(route_named("control_plate")).simulation
        programs = write_programs(sim)
        deeper = replace(programs[1], text=programs[1].text.replace("Z-0.11", "Z-0.14"))
        for other in ([programs[0], deeper], programs[:1], [programs[0], replace(programs[1], text=programs[1].text.replace("M3", "M5", 1))]):
            self.assertTrue(read_back(sim, other).findings)

    def test_a_program_stops_where_hands_are_wanted_and_the_bit_stays_in(self):
        """A dial is turned by hand, and Z is touched off again: a comment alone would run on."""
        body = route_named("siskin_body")
        slower = put("operations.pocket_control_cavity.settings.speed_rpm", 12000.0)
        dial = [
            put("machine.speeds_rpm", [9000.0, 10400.0, 12000.0, 21700.0]),
            put("machine.dialect.speed_word", False),
        ]
        for edits, words, stops in (
            ([], "", 0),
            ([put("operations.pocket_control_cavity.touch_off_before", True)], "touch off Z again", 1),
            ([slower], "", 0),
            ([*dial], "", 0),
            ([*dial, slower], "set the dial at 3 of 4, 12000 rpm", 1),
        ):
            sim = proof_of(changed(body, *edits)).simulation
            program = write_programs(sim)[0]
            lines = program.text.splitlines()
            at = lines.index("(Control cavity)")
            before = lines[at - 12: at]
            with self.subTest(words=words, stops=stops):
                self.assertEqual(stops, sum(line == "M0" for line in before))
                if stops:
                    told = next(k for k, line in enumerate(before) if words in line)
                    self.assertLess(before.index("M5"), told)
                    self.assertLess(told, before.index("M0"))
                    self.assertTrue(any("M3" in line for line in before[before.index("M0"):]))
                self.assertEqual(read_back(sim, [program]).findings, [])
                if stops:
                    cut = "\n".join(lines[: at - 12] + [line for line in before if line != "M0"] + lines[at:])
                    self.assertIn("ask for", read_back(sim, [replace(program, text=cut)]).findings[0].reason)
        plan = run_plan(sim)
        self.assertIn("Before control cavity it stops: set the dial at 3 of 4, 12000 "
                      "rpm", [c for b in plan["bits"] for c in b["checks"]])
        self.assertIn("Dial at 2 of 4, 10400 rpm: the program does not set it", plan["bits"][2]["checks"])

    def test_time_agrees_with_an_independent_planner_within_two_per_cent(self):
        for name in ("siskin_body", "siskin_neck_face", "control_plate"):
            sim = proof_of(route_named(name)).simulation
            machine = sim.route.machine
            told = sum(float(s.times_s.sum()) for s in sim.steps)
            other = sum(program_seconds(p.text, list(machine.rapid_mm_min), list(machine.acceleration_mm_s2), machine.junction_deviation_mm,
                                        machine.greatest_feed_mm_min) for p in write_programs(sim))
            with self.subTest(name, told=told, other=other):
                self.assertAlmostEqual(told / other, 1, delta=0.02)

    def test_one_straight_move_takes_the_time_of_the_textbook(self):
        machine = route_named("siskin_body").machine
        path = PathBuilder(0, 0, 0)
        path.to(100, 0, 0, MoveKind.CUT, 3000)
        v, a = 50.0, machine.acceleration_mm_s2[0]
        self.assertAlmostEqual(float(move_times(path.done(), machine).sum()), 100 / v + v / a, places=9)


class Release(unittest.TestCase):
    def test_a_stop_refuses_the_programs_until_a_reason_is_written(self):
        route = changed(route_named("control_plate"), put("operations.bore_pot_holes.touch_off_before", False))
        proof = proof_of(route)
        self.assertEqual(release(proof, {}).programs, [])
        out = release(proof, {"zero.touch_off_missing": "stop collar on the bit"})
        self.assertIn("stop collar on the bit", out.programs[0].text)

    def test_a_freed_piece_is_never_overridden(self):
        proof = proof_of(changed(route_named("control_plate"), put("operations.profile_outline.tabs", [])))
        self.assertEqual(release(proof, {"piece.freed": "I want it"}).programs, [])


class Check(unittest.TestCase):
    def test_a_clean_slot_is_left_alone(self):
        result = check(HEAD + "G1 Z-3 F300\nG1 X60 F1200\nG0 Z5\nM5\nM30")
        self.assertEqual(result.findings, [])
        self.assertAlmostEqual(result.removed_mm3, (50 * 6 + math.pi * 9) * 3, delta=4)

    def test_each_fault_of_a_program_is_found(self):
        cases = {
            "rapid.through_wood": HEAD + "G0 Z-2\nG1 X50 F900",
            "bit.too_short": HEAD.replace("T1", "T2") + "G1 Z-9 F300\nG1 X50 F900",
            "waste_board.hit": HEAD + "G1 Z-20.7 F300\nG1 X12 F900",
            "program.spindle_off": HEAD.replace("M3", "M5") + "G1 Z-2 F300\nG1 X50 F900",
            "program.no_feed": HEAD + "G1 Z-2\nX50",
            "program.unknown_bit": HEAD.replace("T1", "T7") + "G1 Z-2 F300\nX50",
            "program.arc": HEAD + "G1 Z-2 F300\nG2 X30 Y10 I3 J0",
            "program.not_understood": HEAD + "G1 Z-2 F300\nG68 X20",
            "piece.freed": HEAD + "G1 Z-20.2 F300\nX50\nY50\nX10\nY10",
        }
        bits = {**BIT, **dict([parse_bit("T2=flat:6,cut=8,out=14")])}
        for code, text in cases.items():
            with self.subTest(code):
                self.assertIn(code, {f.code for f in check(text, bits=bits).findings})

    def test_a_described_bit_that_cannot_be_is_refused(self):
        for spec in ("T1", "T1=flat", "T1=spoon:6", "T1=flat:6,cut=30,out=20", "T1=flat:6,colour=3", "T1=flat:0"):
            with self.subTest(spec), self.assertRaises(InputError):
                parse_bit(spec)


class CommandLine(unittest.TestCase):
    def test_plan_writes_what_an_independent_simulator_needs(self):
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder)
            self.assertEqual(main(["plan", str(ROOT / "examples" / "control_plate.birch.json"), "--out", str(out), "--json"]), 0)
            report = json.loads((out / "report.json").read_text())
            for program in report["programs"]:
                self.assertTrue((out / program["file"]).exists())
                self.assertTrue(all("cutting_length_mm" in b and "nut_diameter_mm" in b for b in program["bits"].values()))
                self.assertEqual(len(program["stock_box_mm"]["min"]), 3)
            says = json.loads((out / "wood" / "front.json").read_text())
            top = np.asarray(Image.open(out / "wood" / "front_top.png"), float) * says["z_scale_mm"] + says["z_offset_mm"]
            sim = proof_of(route_named("control_plate"), fine=True).simulation
            self.assertEqual(top.shape, sim.result.shape)
            self.assertLess(np.abs(top - np.maximum(sim.result, sim.bottom)).max(), 0.00051)
            self.assertTrue((out / "run_sheet.pdf").read_bytes().startswith(b"%PDF"))
            self.assertEqual(route_from_text((out / "route.birch.json").read_text()), route_named("control_plate"))

    def test_exit_codes_say_clean_stopped_unusable(self):
        with tempfile.TemporaryDirectory() as folder:
            bad = Path(folder) / "bad.birch.json"
            bad.write_text(route_to_text(changed(route_named("control_plate"), put("operations.profile_outline.tabs", []))))
            self.assertEqual(main(["plan", str(bad), "--out", folder + "/out", "--json"]), 1)
            self.assertEqual(list(Path(folder, "out").glob("*.gcode")), [])
            bad.write_text(bad.read_text()[:900])
            self.assertEqual(main(["plan", str(bad), "--out", folder + "/out"]), 2)
            self.assertEqual(main(["plan", folder + "/none", "--out", folder + "/out"]), 2)
            program = Path(folder) / "p.nc"
            program.write_text(HEAD + "G0 Z-5\n")
            self.assertEqual(main(["check", str(program), "--stock", "100x80x20", "--bit", "T1=flat:6", "--json"]), 1)
            self.assertEqual(main(["check", str(program), "--stock", "100x80", "--bit", "T1=flat:6"]), 2)

    def test_the_examples_are_the_demo_jobs(self):
        for name in ("siskin_body", "siskin_neck_face", "control_plate"):
            self.assertEqual(route_from_text((ROOT / "examples" / f"{name}.birch.json").read_bytes()), route_named(name))
            self.assertFalse({c for c in codes(proof_of(route_named(name)))})


class BadRouteFiles(unittest.TestCase):
    def test_each_gets_a_clear_refusal(self):
        good = route_to_text(route_named("control_plate"))
        nested = "[" * 100_000
        for name, text in {
            "not json": "hello", "cut short": good[: len(good) // 2], "other json": '{"a": 1}', "nan": good.replace("2.5", "NaN", 1), "infinity": good.replace("2.5", "Infinity", 1),
            "negative": good.replace('"thickness_mm": 2.5', '"thickness_mm": -2.5'), "absurd": good.replace('"length_mm": 170.0', '"length_mm": 1e9'),
            "unknown field": good.replace('"note"', '"colour"', 1), "unknown feature": good.replace('"features": [\n    "outline"', '"features": [\n    "nothing"'),
            "binary": b"\xff\xfe\x00", "huge": " " * 8_000_001, "nested": '{"schema": ' + nested,
        }.items():
            with self.subTest(name), self.assertRaises(InputError) as caught:
                route_from_text(text)
            self.assertGreater(len(caught.exception.message), 15)
