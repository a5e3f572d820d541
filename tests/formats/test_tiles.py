"""The drawing 1:1 on pages: read out of the PDF itself, each shows its part in true size, marks and ruler meet."""

import re
import unittest
import zlib

from birch_route.core.instrument.plan import RULER_MM, plan_of
from birch_route.core.quantities import Unit
from birch_route.formats.drawing_out import to_dxf, to_svg
from birch_route.sheets.tiles import EDGE_MM, OVERLAP_MM, PAPER_MM, ROUND_MM, tiles_of, tiles_pdf
from tests.support import route_named

MM_PER_POINT = 25.4 / 72
LINE = re.compile(rb"(-?[\d.]+) (-?[\d.]+) m (-?[\d.]+) (-?[\d.]+) l S")
WORD = re.compile(rb"BT (-?[\d.]+) (-?[\d.]+) Td \(([^)]*)\) Tj")


def pages(data):
    """Return what is drawn on each page: lines as (x, y, x, y) and words as (x, y, text), mm from the lower left."""
    out = []
    for held in re.findall(rb"stream\r?\n(.*?)\r?\nendstream", data, re.S):
        try:
            said = zlib.decompress(held)
        except zlib.error:
            continue
        if b" Td (" in said:
            lines = [tuple(float(v) * MM_PER_POINT for v in found) for found in LINE.findall(said)]
            words = [
                (float(x) * MM_PER_POINT, float(y) * MM_PER_POINT, w.decode("latin-1"))
                for x, y, w in WORD.findall(said)
            ]
            out.append((lines, words))
    return out


class Tiles(unittest.TestCase):
    def test_as_many_pages_as_show_it_whole_and_no_more(self):
        for unit in Unit:
            paper = PAPER_MM[unit]
            one = tiles_of(10.0, 10.0, unit)
            self.assertEqual((one.columns, one.rows), (1, 1))
            most = one.wide_mm - 2 * ROUND_MM
            self.assertEqual(tiles_of(most, 10.0, unit).columns, 1)
            self.assertEqual(tiles_of(most + 0.01, 10.0, unit).columns, 2)
            second = most + one.wide_mm - OVERLAP_MM
            self.assertEqual(tiles_of(second, 10.0, unit).columns, 2)
            self.assertEqual(tiles_of(second + 0.01, 10.0, unit).columns, 3)
            self.assertLess(one.wide_mm + EDGE_MM, paper[0])

    def test_paper_is_left_all_round_the_piece(self):
        for size in (50.0, 178.0, 178.01, 410.0):
            tiles = tiles_of(size, size, Unit.MM)
            self.assertEqual(tiles.corner(0, 0), (-ROUND_MM, -ROUND_MM))
            x, y = tiles.corner(tiles.columns - 1, tiles.rows - 1)
            self.assertGreaterEqual(x + tiles.wide_mm, size + ROUND_MM - 1e-6)
            self.assertGreaterEqual(y + tiles.high_mm, size + ROUND_MM - 1e-6)

    def test_every_hole_stands_in_true_size_on_each_page_that_shows_it(self):
        route = route_named("siskin_body")
        plan = plan_of(route)
        for unit in Unit:
            tiles = tiles_of(plan.length_mm, plan.width_mm, unit)
            found = pages(tiles_pdf(route, unit))
            self.assertEqual(len(found), 1 + tiles.columns * tiles.rows)
            low = PAPER_MM[unit][1] - EDGE_MM - tiles.high_mm
            for k, (_, words) in enumerate(found[1:]):
                x0, y0 = tiles.corner(k % tiles.columns, k // tiles.columns)
                at = {text: (x, y) for x, y, text in words}
                for c in plan.circles:
                    x, y = at[c.label]  # a label stands beside its hole
                    self.assertAlmostEqual(x - c.across_mm / 2 - 0.6 - EDGE_MM + x0, c.x_mm, delta=0.02)
                    self.assertAlmostEqual(y - 0.8 - low + y0, c.y_mm, delta=0.02)

    def test_crosses_meet_and_the_ruler_is_as_long_as_it_says(self):
        route = route_named("siskin_body")
        plan = plan_of(route)
        for unit in Unit:
            tiles = tiles_of(plan.length_mm, plan.width_mm, unit)
            found = pages(tiles_pdf(route, unit))[1:]
            flat = [[(a, b, c) for a, b, c, d in lines if abs(b - d) < 1e-6] for lines, _ in found]
            for lines in flat:
                self.assertTrue(any(abs(c - a - RULER_MM[unit]) < 0.01 for a, _, c in lines))
            marks = [sorted({round((a + c) / 2, 2) for a, _, c in lines if abs(c - a - 8) < 0.01}) for lines in flat]
            right, left = marks[0][-1], marks[1][0]
            step = tiles.corner(1, 0)[0] - tiles.corner(0, 0)[0]
            self.assertAlmostEqual(right, left + step, delta=0.02)

    def test_open_files_have_a_ruler_too(self):
        plan = plan_of(route_named("control_plate"))
        for unit, said in ((Unit.MM, "1:1, if this is 100.0 long"), (Unit.INCH, '1:1, if this is 4" long')):
            self.assertIn(said, to_svg(plan, unit))
            self.assertIn(said, to_dxf(plan, unit).decode())


if __name__ == "__main__":
    unittest.main()
