"""A program that goes on where one stopped: the second simulator finds the same wood, from before the line and from
after it."""

import random
import re
import unittest
from dataclasses import replace

from birch_route.core.errors import InputError
from birch_route.core.programs.numbers import is_whole
from birch_route.core.programs.reader import read_program
from birch_route.core.programs.writer import write_all
from birch_route.core.run.resume import resume, spot_at_line, spots_near
from tests.independent.stops import RAPID_MM, stopped
from tests.support import proof_of, route_named


class Resumed(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.sim = proof_of(route_named("control_plate")).simulation
        cls.programs = write_all([cls.sim])

    def read(self, program):
        return read_program(program.text, program.name, self.sim.route.machine.dialect)

    def test_after_random_stops_the_wood_is_that_of_the_whole_program(self):
        rng = random.Random(25)
        for _ in range(5):
            program = rng.choice(self.programs)
            line = rng.randrange(1, self.read(program).lines - 4)
            with self.subTest(program=program.name, line=line):
                made, differs, rapid = stopped(self.sim, program, line)
                self.assertEqual(made.problems, ())
                self.assertLess(differs, 0.02)
                self.assertLess(rapid, RAPID_MM)
                self.assertTrue(is_whole(made.text))

    def test_the_rest_is_the_programs_own_word_for_word(self):
        program = self.programs[1]
        made = resume(self.sim, program, spot_at_line(self.read(program), program, self.sim, 1500))
        lines = [re.split(r"\r\n|\n", t) for t in (program.text, made.text)]
        shared = len(lines[1]) - next(k for k, line in enumerate(lines[1]) if line.startswith("N") and "G20" not in line
                                      and lines[0][-len(lines[1]) + k:] == lines[1][k:])
        self.assertGreater(shared, 1000)
        self.assertEqual(lines[0][-shared:], lines[1][-shared:])

    def test_it_comes_down_before_the_stop_where_the_bit_has_been(self):
        program = self.programs[1]
        read = self.read(program)
        for line in (700, 1500, 2300):
            spot = spot_at_line(read, program, self.sim, line)
            made = resume(self.sim, program, spot)
            section = read.sections[spot.section]
            self.assertIn(made.down_at_mm, section.points[: spot.move + 1])
            rapid_before = 0 in section.kinds[max(0, spot.move - 60): spot.move]
            self.assertTrue(made.back_mm >= 6.0 or rapid_before, (line, made.back_mm))

    def test_gone_on_with_too_late_it_is_told(self):
        """Wood broken off at one line, gone on with from far behind it: the difference and the way in are found."""
        program = self.programs[1]
        read = self.read(program)
        early, late = (spot_at_line(read, program, self.sim, line) for line in (1700, 2300))
        made = resume(self.sim, program, late)
        self.assertEqual(made.problems, ())
        tampered = replace(late, move=early.move, line=early.line)  # the wood is cut to here, the text goes on there
        from birch_route.core.run import resume as module

        section = read.sections[late.section]
        down = module._back(section, late.move)
        text = module._text(self.sim, program, section, late, down)
        problems, differs, _ = module._judged(self.sim, program, read, tampered, (text, section.lines[down]))
        self.assertGreater(differs, 0.1)
        self.assertTrue(any("differ" in p for p in problems))
        self.assertTrue(any("come down into wood" in p for p in problems), problems)

    def test_the_display_leads_to_the_place(self):
        rng = random.Random(4)
        program = self.programs[1]
        read = self.read(program)
        for _ in range(30):
            k = rng.randrange(len(read.sections))
            section = read.sections[k]
            move = rng.randrange(len(section.lines))
            t = rng.random()
            at = tuple(a + t * (b - a) for a, b in zip(section.points[move], section.points[move + 1], strict=True))
            found = spots_near(read, program, self.sim, at, most=50)
            self.assertLess(found[0].away_mm, 1e-6)
            self.assertIn(section.lines[move], [s.line for s in found])

    def test_the_spindle_turns_as_fast_as_it_did_there_and_the_name_is_one_the_machine_takes(self):
        """Within a stretch the speed is changed by hand between two lines: before it one speed, after it the other."""
        sim = proof_of(route_named("siskin_body")).simulation
        program = write_all([sim])[0]
        lines = program.text.split("\n")
        before = next(m[1] for m in (re.search(r"^S(\d+) M3", line) for line in lines) if m)
        at = next(k for k, line in enumerate(lines) if line.startswith("G1")) + 200
        changed = replace(program, text="\n".join([*lines[:at], "S9999", *lines[at:]]))
        read = read_program(changed.text, changed.name, sim.route.machine.dialect)
        for line, speed in ((at - 40, before), (at + 60, "9999")):
            made = resume(sim, changed, spot_at_line(read, changed, sim, line))
            self.assertIn(f"S{speed} M3", made.text.split("\n")[:12])
        self.assertLessEqual(len(made.name), sim.route.machine.dialect.name_length)

    def test_what_is_no_place_is_refused(self):
        program = self.programs[0]
        read = self.read(program)
        for line in (0, read.lines + 1, read.lines):
            self.assertRaises(InputError, spot_at_line, read, program, self.sim, line)


if __name__ == "__main__":
    unittest.main()
