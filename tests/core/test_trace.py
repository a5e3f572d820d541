"""Tracing against shapes whose edge is known in closed form, drawn with soft edges, noise and uneven light."""

import io
import math
import unittest

import numpy as np
from PIL import Image
from shapely.geometry import Point, Polygon

from birch_route.core.errors import GeometryError, InputError
from birch_route.core.plane.curves import flatten
from birch_route.core.plane.trace import contours, threshold_of, trace
from birch_route.formats.drawing_file import read_drawing
from birch_route.formats.scan import Scale


def picture(inside, width=400, height=300, noise=0.0, light=0.0, dark=0.2, bright=0.9):
    """Return a picture of a signed distance (above zero inside), one pixel soft at its edge."""
    x, y = np.meshgrid(np.arange(width), np.arange(height))
    grey = bright + (dark - bright) * np.clip(inside(x, y) + 0.5, 0, 1) + light * x / width
    return grey + np.random.default_rng(1).normal(0, noise, grey.shape)


def disc(cx, cy, r):
    return lambda x, y: r - np.hypot(x - cx, y - cy)


class Trace(unittest.TestCase):
    def test_a_disc_comes_out_round_where_it_lies_and_as_large_as_it_is(self):
        for noise, light in ((0, 0), (0.04, 0), (0.02, 0.15)):
            found = trace(picture(disc(180, 120, 80), noise=noise, light=light), 0.5)
            shape = Polygon(flatten(found[0].path, 0.01))
            with self.subTest(noise=noise, light=light):
                self.assertAlmostEqual(shape.area, math.pi * 40**2, delta=0.006 * math.pi * 1600)
                away = [abs(Point(p).distance(Point(0, 0)) - 40) for p in np.asarray(shape.exterior.coords) - np.asarray(shape.centroid.coords[0])]
                self.assertLess(max(away), 0.3)
                self.assertLess(found[0].worst_mm, 0.5)

    def test_a_hole_is_a_curve_of_its_own_and_specks_are_dropped(self):
        ring = lambda x, y: np.minimum(disc(200, 150, 100)(x, y), -disc(200, 150, 40)(x, y))  # noqa: E731
        speck = lambda x, y: np.maximum(ring(x, y), disc(30, 30, 2)(x, y))  # noqa: E731
        found = trace(picture(speck), 1.0)
        self.assertEqual(len(found), 2)
        areas = [Polygon(flatten(t.path, 0.05)).area for t in found]
        self.assertAlmostEqual(areas[0], math.pi * 1e4, delta=200)
        self.assertAlmostEqual(areas[1], math.pi * 1600, delta=60)

    def test_bright_on_dark_is_traced_like_dark_on_bright(self):
        one = trace(picture(disc(180, 120, 60)), 1.0)[0]
        other = trace(picture(disc(180, 120, 60), dark=0.9, bright=0.1), 1.0)[0]
        a, b = (Polygon(flatten(t.path, 0.05)) for t in (one, other))
        self.assertLess(a.symmetric_difference(b).area, 0.01 * a.area)

    def test_contours_of_a_plane_cut_field_are_exact(self):
        x, y = np.meshgrid(np.arange(40.0), np.arange(30.0))
        rings = contours(np.minimum.reduce([x - 5.25, 30.5 - x, y - 4.75, 20.5 - y]))
        self.assertEqual(len(rings), 1)
        self.assertAlmostEqual(rings[0][:, 0].min(), 5.25)
        self.assertAlmostEqual(rings[0][:, 1].max(), 20.5)

    def test_the_threshold_parts_two_heaps_of_grey(self):
        rng = np.random.default_rng(2)
        level = threshold_of(np.concatenate([rng.normal(0.2, 0.03, 4000), rng.normal(0.8, 0.03, 1000)]))
        self.assertTrue(0.3 < level < 0.7)

    def test_an_empty_or_tiny_picture_is_refused(self):
        for bad in (np.full((100, 100), 0.5), np.zeros((5, 5))):
            with self.assertRaises(GeometryError):
                trace(bad, 1.0)


class Scans(unittest.TestCase):
    def png(self, grey):
        held = io.BytesIO()
        Image.fromarray((np.clip(grey, 0, 1) * 255).astype(np.uint8)).save(held, "PNG")
        return held.getvalue()

    def test_a_scan_asks_for_its_two_points_and_then_has_the_size_they_say(self):
        data = self.png(picture(disc(200, 150, 100)))
        self.assertTrue(read_drawing(data, "plate.png", None, 0.1)["needs_scale"])
        out = read_drawing(data, "plate.png", None, 0.1, scan="0.25,0.5,0.75,0.5,80")  # the disc is 200 pixels across: 80 mm
        b = out["loops"][0]["bounds_mm"]
        self.assertAlmostEqual(b[2] - b[0], 80, delta=0.3)
        self.assertAlmostEqual(b[3] - b[1], 80, delta=0.3)
        self.assertLess(out["traced"]["worst_mm"], 0.3)
        self.assertIn("caliper", out["traced"]["words"])

    def test_wrong_points_and_broken_pictures_are_refused(self):
        for text in ("", "1,2,3", "0,0,0,0,50", "0,0,2,0,50", "0,0,1,0,0", "a,b,c,d,e", "0,0,1,0,nan"):
            with self.subTest(text), self.assertRaises(InputError):
                Scale.read(text)
        good = self.png(picture(disc(200, 150, 100)))
        for data in (good[:300], b"\x89PNG\r\n\x1a\n" + b"\x00" * 50, b"\xff\xd8\xff" + b"\x00" * 50):
            with self.assertRaises(InputError):
                read_drawing(data, "x.png", None, 0.1, scan="0.25,0.5,0.75,0.5,80")


if __name__ == "__main__":
    unittest.main()
