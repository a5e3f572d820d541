"""The reader of programs from elsewhere tells the truth or says that it cannot."""

import math
import re
import unittest

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.machines import Machine
from birch_route.core.programs.arc_words import arc_points
from birch_route.core.programs.check import Stock, check_program, parse_bit
from birch_route.core.programs.reader import read_program
from birch_route.core.programs.travel import CUT_CODE
from birch_route.core.programs.words import decimals_of
from birch_route.core.vocabulary import Severity
from birch_route.demo.shop import MACHINES
from tests.programs.corpus import CLEAN, END, IN, NAMED, START, Clean

# change nothing of the motion, and are known to
HARMLESS = {"G17", "G40", "G49", "G80", "G94", "G61", "G64", "M7", "M8", "M9"}


def cuts(sections):
    """Return the length of all cutting moves."""
    total = 0.0
    for section in sections:
        steps = np.linalg.norm(np.diff(np.asarray(section.points, float), axis=0), axis=1)
        total += float(steps[np.asarray(section.kinds) == CUT_CODE].sum())
    return total


def signature(text, dialect=None):
    """Return all that reading makes of a text."""
    try:
        read = read_program(text, dialect=dialect)
    except InputError as exc:
        return ("refused", exc.message)
    return (
        tuple(
            (s.tool, tuple(np.round(np.ravel(s.points), 6)), tuple(s.kinds), tuple(s.feeds), tuple(s.on), s.speed_rpm)
            for s in read.sections
        ),
        tuple(p.code for p in read.problems),
        read.dwell_s,
        read.stops,
        read.offsets,
        tuple(read.feeds),
        tuple(read.speeds),
        read.left_on,
    )


class Corpus(unittest.TestCase):
    def test_it_is_as_large_as_it_claims(self):
        texts = {(c.text, c.dialect.id if c.dialect else "") for c in (*CLEAN, *NAMED)}
        self.assertEqual(len(texts), len(CLEAN) + len(NAMED))
        self.assertGreaterEqual(len(CLEAN), 60)
        self.assertGreaterEqual(len(NAMED), 30)
        self.assertGreaterEqual(len(texts), 120)

    def test_clean_programs_do_just_what_the_closed_form_says(self):
        for case in CLEAN:
            with self.subTest(case.name):
                self._agrees(case)

    def _agrees(self, case: Clean):
        read = read_program(case.text, dialect=case.dialect)
        told = [(p.line, p.code) for p in read.problems]
        self.assertEqual(told, list(case.cares))
        self.assertFalse([p for p in read.problems if p.severity is Severity.STOP])
        self.assertAlmostEqual(cuts(read.sections) / case.cut_mm, 1, delta=2e-3)
        points = np.vstack([s.points for s in read.sections])
        np.testing.assert_allclose(points[-1], case.end, atol=2e-3)
        self.assertAlmostEqual(points[:, 2].min(), case.low, places=3)
        self.assertEqual(tuple(s.tool for s in read.sections), case.tools)
        self.assertAlmostEqual(read.dwell_s, case.dwell_s)
        self.assertEqual(read.offsets, set(case.offsets))
        if case.holes:
            deep = {(round(x, 3), round(y, 3)) for x, y, z in points if z < 0}
            self.assertLessEqual({(round(x, 3), round(y, 3)) for x, y in case.holes}, deep)
            self.assertLessEqual(len(deep), len(case.holes) + 1)

    def test_what_cannot_be_told_is_named_with_its_line(self):
        for case in NAMED:
            with self.subTest(case.name):
                read = read_program(case.text, dialect=case.dialect)
                told = [(p.line, p.code) for p in read.problems]
                for one in case.told:
                    self.assertTrue(one in told or (one[0] + 1, one[1]) in told and one[1] == "program.no_feed", told)
                self.assertTrue(
                    all(p.severity is Severity.STOP for p in read.problems if (p.line, p.code) in case.told)
                )

    def test_every_word_of_the_clean_programs_has_an_effect_or_is_known_to_be_harmless(self):
        """Each word taken away must change what is read, or a word of its kind put there instead must."""
        for case in CLEAN:
            lines = re.split(r"\r\n|\r|\n", case.text.removeprefix("\ufeff"))
            whole = signature(case.text, case.dialect)
            for number, line in enumerate(lines):
                if re.match(r"\s*[mM]0?(2|30)\b", re.sub(r"[Nn]\d+\s*", "", line)):
                    break  # what follows the end is not read by a machine either
                code = re.sub(
                    r"\([^)]*\)",
                    lambda m: " " * len(m[0]),
                    line.split(";")[0] if "(" not in line.split(";")[0] or ")" in line.split(";")[0] else line,
                )
                for m in re.finditer(r"([A-Za-z])\s*([+-]?[\d.]+)", code):
                    word = m[1].upper() + str(round(float(m[2]), 4)).removesuffix(".0")
                    if m[1].upper() in "NO" or word in HARMLESS:
                        continue
                    others = ["", f"{m[1]}{float(m[2]) + 1:.6f}"] + (
                        [f"{m[1]}{k}" for k in (0, 1, 2, 3, 20, 21, 90, 91, 98, 99, 81)] if m[1].upper() in "GM" else []
                    )
                    with self.subTest(case.name, line=number + 1, word=word):
                        self.assertTrue(
                            any(
                                signature(
                                    "\n".join(
                                        [*lines[:number], line[: m.start()] + o + line[m.end() :], *lines[number + 1 :]]
                                    ),
                                    case.dialect,
                                )
                                != whole
                                for o in others
                            )
                        )

    def test_arcs_are_told_from_three_units_of_the_last_decimal_on(self):
        """At least from 0.005, and in any case over 0.1; in inches the same of an inch."""
        for off, decimals, scale, told in (
            (0.0049, 4, 1.0, False),
            (0.0051, 4, 1.0, True),
            (0.0029, 3, 1.0, False),
            (0.029, 2, 1.0, False),
            (0.031, 2, 1.0, True),
            (0.099, 1, 1.0, False),
            (0.101, 1, 1.0, True),
            (0.0075, 4, IN, False),
            (0.0077, 4, IN, True),
        ):
            with self.subTest(off=off, decimals=decimals, scale=scale):
                words = {"I": 100.0 / scale, "J": 0.0}
                _, wrong = arc_points(
                    (0.0, 0.0, 0.0),
                    (200.0 + off, 0.0, 0.0),
                    words,
                    clockwise=False,
                    scale=scale,
                    centres_absolute=False,
                    decimals=decimals,
                )
                self.assertEqual(bool(wrong), told)
        for decimals, text in ((2, "X-1.5 y.25 I3"), (3, "G1 X1.5 Y2.125"), (0, "G1 X1 F3.25")):
            self.assertEqual(decimals_of(text), decimals)

    def test_a_file_without_a_move_says_what_was_not_understood(self):
        with self.assertRaisesRegex(InputError, r"Line 2: G33 is not known") as caught:
            read_program("G21 G90\nG33 K2\nM30\n")
        self.assertTrue(caught.exception.facts["problems"])

    def test_more_problems_than_are_listed_are_counted(self):
        read = read_program(START + "hello\n" * 250 + END)
        self.assertRegex(read.problems[-1].reason, "50 more|51 more")


class Checked(unittest.TestCase):
    """`check` puts the reading on a block of stock."""

    BITS = dict([parse_bit("T1=flat:6,cut=22,out=30")])

    def codes(self, text, machine=None):
        return {f.code for f in check_program(text, Stock(100, 80, 20), self.BITS, machine).findings}

    def test_feeds_and_speeds_beyond_the_machine_are_told_from_just_beyond(self):
        machine = Machine.model_validate(next(m for m in MACHINES if m["dialect"]["speed_word"]))
        machine = machine.model_copy(update={"dialect": machine.dialect.model_copy(update={"change_word": True})})
        for feed, speed, told in (
            (machine.greatest_feed_mm_min, machine.greatest_rpm, False),
            (machine.greatest_feed_mm_min + 1, machine.greatest_rpm, True),
            (1000, machine.greatest_rpm + 1, True),
            (1000, machine.least_rpm - 1, True),
            (1000, machine.least_rpm, False),
            (1000, None, True),
        ):
            with self.subTest(feed=feed, speed=speed):
                text = f"G21 G90\nT1 M6\n{'' if speed is None else f'S{speed:g} '}M3\nG0 X10 Y10 Z3\nG1 Z-1 F{feed:g}\nX50{END}"
                self.assertEqual("program.beyond_machine" in self.codes(text, machine), told)

    def test_a_retract_to_the_top_of_the_machine_counts_as_no_travel(self):
        machine = Machine.model_validate(MACHINES[0])
        text = f"G21 G90\nT1\nM0\nS{machine.greatest_rpm:g} M3\nG53 G0 Z0\nG0 X10 Y10\nG0 Z3\nG1 Z-1 F800\nX50\nG53 G0 Z0{END}"
        self.assertFalse(self.codes(text, machine) & {"travel.outside", "program.not_understood"})

    def test_a_whole_circle_without_x_and_y_cuts_a_ring(self):
        result = check_program(f"G21 G90\nT1 M6\nS9000 M3\nG0 X30 Y40 Z3\nG1 Z-2 F300\nG2 "
                               f"I20{END}", Stock(100, 80, 20), self.BITS)
        ring = math.pi * (23**2 - 17**2) * 2
        self.assertAlmostEqual(result.removed_mm3 / ring, 1, delta=0.02)
        self.assertEqual(result.findings, [])

