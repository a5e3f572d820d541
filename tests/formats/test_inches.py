"""Sheets, drawings, programs and the command line in inches: no millimetre is left, and no mark unread."""

import contextlib
import io
import re
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from birch_route.cli import main
from birch_route.core.instrument.plan import plan_of
from birch_route.core.programs.writer import write_programs
from birch_route.core.quantities import Unit
from birch_route.demo.jigs import jig_routes
from birch_route.formats.drawing_out import to_dxf, to_svg
from birch_route.formats.route_file import route_to_text
from birch_route.sheets.jig_sheet import jig_sheet_pdf
from birch_route.sheets.page import Page
from birch_route.sheets.run_sheet import run_sheet_pdf
from birch_route.sheets.settings_sheet import settings_sheet_pdf
from tests.support import changed, proof_of, put, route_named

MM = re.compile(r"\d\s?mm\b|mm/min|mm²|[⟦⟧]")
FAULTS = (
    put("piece.features.control_cavity.depth_mm", 43.0),
    put("operations.profile_outline.settings.feed_mm_min", 9000),
)


def said_by(make):
    """Return every sentence that a sheet printed."""
    said, words = [], Page.words

    def listening(page, text):
        said.append(words(page, text))
        return said[-1]

    with mock.patch.object(Page, "words", listening):
        make()
    return said


class Inches(unittest.TestCase):
    def hold(self, said, names=()):
        left = []
        for text in said:
            for name in sorted(names, key=len, reverse=True):
                text = re.sub(re.escape(name), "", text, flags=re.IGNORECASE)
            left += [text] if MM.search(text) else []
        self.assertEqual(left, [])
        self.assertGreater(len(said), 5)

    def test_the_run_sheet_with_findings(self):
        route = changed(route_named("siskin_body"), *FAULTS, put("machine.dialect.inch", True))
        proof = proof_of(route)
        said = said_by(lambda: run_sheet_pdf(proof, [], Unit.INCH))
        self.hold(said, [b.name for b in route.bits])
        self.assertTrue(any('"' in text for text in said))

    def test_jigs_and_their_drawings(self):
        for route in jig_routes():
            with self.subTest(route.job):
                self.hold(said_by(lambda route=route: jig_sheet_pdf(route, Unit.INCH)), [b.name for b in route.bits])
                plan = plan_of(route)
                words = re.findall(r"<text[^>]*>([^<]*)</text>", to_svg(plan, Unit.INCH))
                self.hold(words)
                self.assertNotRegex(to_dxf(plan, Unit.INCH).decode(), "[⟦⟧]")

    def test_the_settings_sheet(self):
        keys = ("feed_mm_min", "plunge_mm_min", "depth_of_cut_mm", "stepover_mm")
        row = {
            "bit": "Flat",
            "wood": "Alder",
            "cut": "slot",
            "origin": "computed",
            "speed_rpm": 18000.0,
            **dict.fromkeys(keys, 25.4),
        }
        said = said_by(lambda: settings_sheet_pdf("Bench", [row], Unit.INCH))
        self.hold(said)
        self.assertIn('1"', said)

    def test_programs_of_a_machine_that_reads_inches(self):
        route = changed(route_named("control_plate"), put("machine.dialect.inch", True))
        proof = proof_of(route)
        lines = [
            line
            for p in write_programs(proof.simulation)
            for line in p.text.splitlines()
            if line.startswith(("(", ";"))
        ]
        self.hold(lines, [b.name for b in route.bits])

    def test_the_command_line_speaks_the_unit_asked(self):
        route = changed(route_named("control_plate"), put("operations.profile_outline.settings.depth_of_cut_mm", 9.0))
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "route.json"
            file.write_text(route_to_text(route))
            told = {}
            for unit in ("mm", "inch"):
                with contextlib.redirect_stdout(io.StringIO()) as out:
                    main(["plan", str(file), "--out", f"{folder}/{unit}", "--units", unit])
                told[unit] = [
                    line
                    for line in out.getvalue().splitlines()
                    if line.startswith(("STOP", "CARE", "NOTE", "      cure"))
                ]
            self.assertEqual(len(told["mm"]), len(told["inch"]))
            self.assertNotEqual(told["mm"], told["inch"])
            self.assertEqual([line for line in told["inch"] + told["mm"] if re.search("[⟦⟧]", line)], [])


if __name__ == "__main__":
    unittest.main()
