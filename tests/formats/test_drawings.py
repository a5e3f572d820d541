"""Drawings in: against shapes whose size is known, 30 outlines damaged on purpose, and files that are not drawings."""

import io
import math
import random
import unittest
from unittest import mock

import ezdxf
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from birch_route.core.errors import InputError
from birch_route.core.plane.curves import Path, flatten
from birch_route.core.plane.drawing import Stroke, close_strokes
from birch_route.core.plane.moved import Move, moved
from birch_route.formats.drawing_file import (
    LARGEST_DRAWING_BYTES,
    MOST_CONTROL_POINTS,
    read_drawing,
)
from birch_route.formats.svg_path import path_runs


def svg(body, size='width="200mm" height="200mm" viewBox="0 0 200 200"'):
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()


def dxf(fill, units=4):
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    fill(document.modelspace())
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def loops(data, name="x.svg", unit=None, join=0.1):
    return read_drawing(data, name, unit, join)["loops"]


class Svg(unittest.TestCase):
    SHAPES = {  # body: area of its one curve
        '<rect x="10" y="10" width="60" height="40"/>': 2400, '<rect x="10" y="10" width="60" height="40" rx="10"/>': 2400 - (4 - math.pi) * 100,
        '<circle cx="50" cy="50" r="20"/>': math.pi * 400, '<ellipse cx="50" cy="50" rx="30" ry="10"/>': math.pi * 300, '<polygon points="0,0 40,0 40,30"/>': 600,
        '<path d="M0 0h40v30z"/>': 600, '<path d="m0,0 40,0 0,30-40,0z"/>': 1200, '<path d="M0 0A20 20 0 0 1 40 0Z"/>': math.pi * 200, '<path d="M0 0a20 20 0 0140 0z"/>': math.pi * 200,
        '<path d="M0 0Q20 40 40 0Z"/>': 2 / 3 * 40 * 20, '<path d="M0 0C0 30 40 30 40 0Z"/>': 720.0, '<g transform="scale(2) rotate(30)"><rect width="10" height="10"/></g>': 400,
        '<g transform="matrix(1 0 .5 1 0 0)"><circle cx="50" cy="50" r="20"/></g>': math.pi * 400, '<g transform="scale(-1 1)"><path d="M0 0A20 20 0 0 1 40 0Z"/></g>': math.pi * 200,
        '<defs><rect id="a" width="10" height="10"/></defs><use href="#a" x="30" y="5"/>': 100, '<path d="M0 0 C 0 10 10 20 20 20 S 40 10 40 0 Z"/>': None,
        '<path d="M0 0 Q 10 20 20 0 T 40 0 L 40 -20 L 0 -20 Z"/>': 800.0,
    }

    def test_every_shape_has_the_area_of_its_formula(self):
        for body, area in self.SHAPES.items():
            with self.subTest(body):
                found = loops(svg(body))
                self.assertEqual(len(found), 1)
                if area is not None:
                    self.assertAlmostEqual(found[0]["area_mm2"], area, delta=0.003 * area)
                self.assertIsNone(found[0]["crossing_mm"])

    def test_round_stays_round_and_smooth_stays_smooth(self):
        kinds = lambda body: {s[0] for s in loops(svg(body))[0]["path"]["segments"]}  # noqa: E731
        self.assertEqual(kinds('<circle cx="50" cy="50" r="20"/>'), {"arc"})
        self.assertEqual(kinds('<g transform="rotate(20) scale(3)"><circle cx="50" cy="50" r="2"/></g>'), {"arc"})
        self.assertEqual(kinds('<ellipse cx="50" cy="50" rx="30" ry="10"/>'), {"cubic"})

    def test_the_unit_is_taken_where_it_is_stated_and_asked_where_not(self):
        body = '<rect width="96" height="48"/>'
        for size, wide in (('width="96mm" height="96mm" viewBox="0 0 96 96"', 96), ('width="2in" height="2in" viewBox="0 0 96 96"', 50.8), ('width="9.6cm" height="9.6cm" viewBox="0 0 96 96"', 96)):
            with self.subTest(size):
                b = loops(svg(body, size))[0]["bounds_mm"]
                self.assertAlmostEqual(b[2] - b[0], wide, places=3)
        for size in ('width="96" height="96"', 'viewBox="0 0 96 96"', 'width="96px" height="96px"', 'width="100%"'):
            with self.subTest(size):
                asked = read_drawing(svg(body, size), "x.svg", None, 0.1)
                self.assertTrue(asked["needs_unit"])
                self.assertEqual(asked["sizes"]["px"], [25.4, 12.7])
                self.assertAlmostEqual(loops(svg(body, size), unit="inch")[0]["area_mm2"], 96 * 48 * 25.4**2, delta=5)

    def test_uses_within_uses_are_counted_before_any_is_drawn(self):
        def nested(levels):
            inner = '<rect id="a0" width="1" height="1"/>'
            for k in range(1, levels):
                uses = "".join(f'<use href="#a{k - 1}" {"xy"[k % 2]}="{2 * n}"/>' for n in range(10))
                inner += f'<g id="a{k}">{uses}</g>'
            return f'<defs>{inner}</defs><use href="#a{levels - 1}"/>'

        page = '<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90">{}</svg>'
        self.assertEqual(len(loops(page.format(nested(3)).encode())), 100)
        drawn = []
        with mock.patch("birch_route.formats.svg._shape", lambda *given: drawn.append(given)):
            with self.assertRaisesRegex(InputError, "uses within uses"):
                loops(page.format(nested(9)).encode())
        self.assertEqual(drawn, [])

    def test_hidden_shapes_text_and_pictures_are_left_out_and_said(self):
        out = read_drawing(svg('<rect width="50" height="40"/><rect width="9" height="9" style="display:none"/><text>a</text><image href="x.png"/>'), "x.svg", None, 0.1)
        self.assertEqual(len(out["loops"]), 1)
        self.assertEqual(len([c for c in out["changes"] if c["what"] == "skipped"]), 3)

    @given(st.lists(st.tuples(st.sampled_from("MLHVCSQTAZmlhvcsqtaz"), st.lists(st.floats(-99, 99).map(lambda v: round(v, 2)), max_size=14)), max_size=12))
    @settings(max_examples=120, deadline=None)
    def test_no_path_brings_the_reader_down(self, parts):
        try:
            path_runs(" ".join(f"{c} {' '.join(map(str, v))}" for c, v in parts))
        except ValueError:
            pass

    def test_long_runs_of_points_are_read_the_fast_way_alike(self):
        points = [(100 + 50 * math.cos(k / 1500 * math.pi), 100 + 50 * math.sin(k / 1500 * math.pi)) for k in range(3000)]
        fast = path_runs("M" + " L".join(f"{x:.4f},{y:.4f}" for x, y in points) + " Z")
        slow = path_runs("M" + " l".join(f"{x:.4f},{y:.4f}" for x, y in points[:1]) + "".join(f"L{x:.4f} {y:.4f}" for x, y in points[1:]).replace("L", "L+") + "Z")
        self.assertEqual(len(fast[0]), len(slow[0]))
        out = read_drawing(svg(f'<path d="M{" L".join(f"{x:.4f},{y:.4f}" for x, y in points)} Z"/>'), "x.svg", None, 0.1)
        self.assertAlmostEqual(out["loops"][0]["area_mm2"], math.pi * 2500, delta=3)
        self.assertLess(len(out["loops"][0]["path"]["segments"]), 600)
        self.assertIn("thinned", [c["what"] for c in out["changes"]])


class Dxf(unittest.TestCase):
    def test_lines_arcs_splines_polylines_and_blocks_have_their_size(self):
        def fill(space):
            space.add_circle((0, 0), 10)
            space.add_arc((100, 0), 10, 0, 180)
            space.add_line((90, 0), (110, 0))
            space.add_arc((200, 0), 10, 300, 30)  # past 0 degrees
            space.add_line((200 + 10 * math.cos(math.radians(30)), 5), (205, -10 * math.sin(math.radians(60))))
            space.add_lwpolyline([(0, 100, 0.5), (50, 100), (50, 130)], format="xyb", close=True)
            space.add_ellipse((200, 100), (20, 0), 0.5)
            space.add_spline([(0, 200), (40, 220), (80, 200), (40, 180), (0, 200)])
            block = space.doc.blocks.new("PART")
            block.add_lwpolyline([(0, 0), (10, 0), (10, 10), (0, 10)], close=True)
            space.add_blockref("PART", (300, 300), dxfattribs={"xscale": 2, "yscale": 2, "rotation": 45})
        areas = sorted(round(one["area_mm2"]) for one in loops(dxf(fill), "x.dxf"))
        half = math.pi * 50
        segment = 50 * (math.radians(90) - math.sin(math.radians(90)))
        bulge = 4 * math.atan(0.5)
        lens = (25 / math.sin(bulge / 2)) ** 2 / 2 * (bulge - math.sin(bulge)) + 750
        for area in (math.pi * 100, half, segment, lens, math.pi * 200, 400):
            with self.subTest(area):
                self.assertLess(min(abs(a - area) for a in areas), 0.005 * area + 1)

    def test_the_header_unit_counts_and_none_is_asked(self):
        fill = lambda space: space.add_circle((0, 0), 1)  # noqa: E731
        for units, factor in ((1, 25.4), (4, 1), (5, 10), (6, 1000)):
            self.assertAlmostEqual(loops(dxf(fill, units), "x.dxf")[0]["bounds_mm"][2], factor, places=4)
        self.assertTrue(read_drawing(dxf(fill, 0), "x.dxf", None, 0.1)["needs_unit"])

    def test_an_endless_spline_is_refused(self):
        def fill(space):
            spline = space.add_spline()
            spline.control_points = [(k % 7, k % 11, 0) for k in range(MOST_CONTROL_POINTS + 5)]
            spline.knots = list(range(MOST_CONTROL_POINTS + 5 + spline.dxf.degree + 1))
        with self.assertRaisesRegex(InputError, "control points"):
            read_drawing(dxf(fill), "x.dxf", None, 0.1)


class Damaged(unittest.TestCase):
    """Thirty outlines damaged on purpose: gaps, doubles, crumbs, reversed pieces, stray lines; and some beyond mending."""

    def make(self, rng):
        n = rng.randint(5, 14)
        corners = [(150 + rng.uniform(60, 120) * math.cos(2 * math.pi * k / n), 150 + rng.uniform(60, 120) * math.sin(2 * math.pi * k / n)) for k in range(n)]
        pieces = [Stroke("0", a, [("line", *b)]) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)]
        damage = rng.choice(["gaps", "doubles", "crumbs", "reversed", "stray", "all"])
        if damage in ("gaps", "all"):
            pieces = [Stroke(p.layer, (p.start[0] + rng.uniform(-0.03, 0.03), p.start[1] + rng.uniform(-0.03, 0.03)), p.segments) for p in pieces]
        if damage in ("doubles", "all"):
            pieces += [pieces[k] if rng.random() < 0.5 else pieces[k].reversed() for k in range(0, n, 3)]
        if damage in ("crumbs", "all"):
            pieces = [Stroke(p.layer, p.start, [("line", p.start[0] + 0.002, p.start[1]), *p.segments]) for p in pieces]
        if damage in ("reversed", "all"):
            pieces = [p.reversed() if rng.random() < 0.5 else p for p in pieces]
        if damage in ("stray", "all"):
            pieces += [Stroke("0", (10, 10), [("line", 20, 14)]), Stroke("0", (300, 300), [("line", 310, 305)])]
        rng.shuffle(pieces)
        return Polygon(corners).area, pieces, damage

    def test_at_least_eight_in_ten_come_in_right_and_every_change_is_listed(self):
        right = 0
        for seed in range(30):
            area, pieces, damage = self.make(random.Random(seed))
            out = close_strokes(pieces, 1.0, 0.1)
            good = len(out.loops) == 1 and abs(out.loops[0].area_mm2 - area) < 0.002 * area + 1 and out.loops[0].crossing is None
            right += good
            kinds = {c.what for c in out.changes}
            with self.subTest(seed=seed, damage=damage):
                if damage in ("gaps", "all"):
                    self.assertIn("joined", kinds)
                if damage in ("doubles", "all"):
                    self.assertIn("duplicate", kinds)
                if damage in ("stray", "all"):
                    self.assertEqual(out.open_runs, 2)
        self.assertGreaterEqual(right, 24)

    def test_a_gap_wider_than_the_joining_distance_stays_open_and_is_told_with_its_place(self):
        pieces = [Stroke("0", (0, 0), [("line", 50, 0), ("line", 50, 50)]), Stroke("0", (50, 50.4), [("line", 0, 50), ("line", 0, 0)])]
        out = close_strokes(pieces, 1.0, 0.1)
        self.assertEqual((len(out.loops), out.open_runs), (0, 1))
        self.assertAlmostEqual(out.changes[-1].amount_mm, 0.4, delta=1e-6)
        self.assertEqual(len(close_strokes(pieces, 1.0, 0.5).loops), 1)

    def test_a_curve_that_crosses_itself_is_named_with_the_place(self):
        out = close_strokes([Stroke("0", (0, 0), [("line", 10, 10), ("line", 10, 0), ("line", 0, 10), ("line", 0, 0)])], 1.0, 0.1)
        self.assertAlmostEqual(out.loops[0].crossing[0], 5)
        self.assertAlmostEqual(out.loops[0].crossing[1], 5)


class NoDrawing(unittest.TestCase):
    def test_each_gets_a_clear_refusal(self):
        deep = "<g>" * 200 + "</g>" * 200
        for name, data in {
            "empty.svg": b"", "words.dxf": b"hello there", "cut.svg": b"<svg><path d='M0", "page.svg": b"<html></html>", "none.svg": svg(""), "deep.svg": svg(deep),
            "bomb.svg": b'<!DOCTYPE a [<!ENTITY b "c"><!ENTITY d "&b;&b;">]><svg>&d;</svg>', "outside.svg": b'<!DOCTYPE s [<!ENTITY x SYSTEM "file:///none">]><svg>&x;</svg>',
            "open.svg": svg('<path d="M0 0L10 10"/>'), "cut.dxf": dxf(lambda s: s.add_circle((0, 0), 5))[:700], "zip.dxf": b"PK\x03\x04" + b"\x00" * 400, "big.svg": b"<" * (LARGEST_DRAWING_BYTES + 1),
            "transform.svg": svg('<g transform="matrix(1 2)"><rect width="9" height="9"/></g>'), "text.svg": svg("<text>only words</text>"),
        }.items():
            with self.subTest(name), self.assertRaises(InputError) as caught:
                read_drawing(data, name, None, 0.1)
            self.assertGreater(len(caught.exception.message), 15)
            self.assertIn(name, caught.exception.message)


class Moved(unittest.TestCase):
    @given(st.floats(-3, 3), st.floats(0.2, 4), st.booleans(), st.floats(-50, 50))
    @settings(max_examples=50, deadline=None)
    def test_a_moved_path_is_the_path_of_the_moved_points(self, angle, scale, mirror, dx):
        path = Path(start=(0, 0), segments=[("line", 40, 0), ("arc", 40, 30, 0.6), ("cubic", 30, 60, 10, 50, 0, 30), ("line", 0, 0)])
        move = Move(dx_mm=dx, dy_mm=7, angle_rad=angle, scale=scale, mirror=mirror)
        ours = Polygon(flatten(moved(path, move), 0.001))
        theirs = Polygon([move.point(x, y) for x, y in flatten(path, 0.001)])
        self.assertLess(ours.symmetric_difference(theirs).area, 0.002 * theirs.area)


if __name__ == "__main__":
    unittest.main()
