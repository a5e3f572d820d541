import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from birch_route.core.errors import GeometryError
from birch_route.core.heights.field import Grid
from birch_route.core.heights.raster import mask_of
from birch_route.core.plane.curves import Chain, Rectangle, Spline, flatten
from birch_route.core.plane.nearest import away, feet
from birch_route.core.plane.regions import (
    buffer_round,
    corners_left,
    opened,
    region_from,
)

QUARTER = math.tan(math.pi / 8)


class Flatten(unittest.TestCase):
    def test_a_circle_of_two_arcs_has_the_area_of_a_circle(self):
        circle = Polygon(flatten(Chain(vertices=[(10, 0, 1), (-10, 0, 1)])))
        self.assertAlmostEqual(circle.area, math.pi * 100, delta=0.3)

    @given(st.floats(1, 200), st.floats(0.2, 5.9))
    @settings(max_examples=40, deadline=None)
    def test_chords_stay_within_the_tolerance_of_the_arc(self, radius, sweep):
        bulge = math.tan(sweep / 4)
        start, end = (radius, 0.0), (radius * math.cos(sweep), radius * math.sin(sweep))
        points = flatten(Chain(vertices=[(*start, bulge), (*end, 0), (0, 0, 0)]))
        on_arc = points[np.abs(np.hypot(*points.T) - radius) < 1e-6]
        middles = (on_arc[1:] + on_arc[:-1]) / 2
        self.assertLess((radius - np.hypot(*middles.T)).max(initial=0), 0.0051)

    def test_a_spline_passes_through_its_points(self):
        points = [(0, 0), (40, -10), (80, 0), (60, 50), (10, 45)]
        curve = flatten(Spline(points=points))
        for x, y in points:
            self.assertLess(np.hypot(curve[:, 0] - x, curve[:, 1] - y).min(), 1e-9)

    def test_rounded_rectangle_has_the_area_of_its_formula(self):
        region = region_from(Rectangle(x_mm=5, y_mm=2, length_mm=60, width_mm=30, corner_radius_mm=6, angle_deg=30), "pocket")
        self.assertAlmostEqual(region.area, 60 * 30 - (4 - math.pi) * 36, delta=0.5)


class RegionFrom(unittest.TestCase):
    def test_names_the_place_where_an_outline_crosses_itself(self):
        with self.assertRaisesRegex(GeometryError, r"Bow crosses itself at x 5.0, y 5.0"):
            region_from(Chain(vertices=[(0, 0, 0), (10, 10, 0), (10, 0, 0), (0, 10, 0)]), "Bow")

    def test_refuses_tiny_huge_and_open_shapes(self):
        for name, vertices in {"tiny": [(0, 0, 0), (0.1, 0, 0), (0, 0.1, 0)], "huge": [(0, 0, 0), (4000, 0, 0), (0, 4000, 0)], "two": [(0, 0, 0), (5, 5, 0)]}.items():
            with self.subTest(name), self.assertRaises(GeometryError):
                region_from(Chain(vertices=vertices), name)


class Nearest(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(-80, 80), st.floats(-80, 80)), min_size=1, max_size=30), st.floats(1, 30))
    @settings(max_examples=40, deadline=None)
    def test_feet_are_as_near_as_the_library_says(self, points, radius):
        rim = Point(5, -3).buffer(40).difference(box(-radius, -radius, radius, radius)).boundary
        spots = np.array(points)
        theirs = shapely.distance(shapely.points(spots), rim)
        np.testing.assert_allclose(away(rim, spots), theirs, atol=1e-9)
        self.assertLess(shapely.distance(shapely.points(feet(rim, spots)), rim).max(), 1e-9)


class Opened(unittest.TestCase):
    def test_a_round_bit_leaves_the_known_area_in_a_square_corner(self):
        square = box(0, 0, 40, 40)
        self.assertAlmostEqual(square.area - opened(square, 3).area, 4 * (1 - math.pi / 4) * 9, delta=0.2)
        corners = corners_left(square, 3)
        self.assertEqual(len(corners), 4)
        for x, y, area in corners:
            self.assertLess(min(math.dist((x, y), c) for c in ((0, 0), (0, 40), (40, 0), (40, 40))), 0.1)
            self.assertAlmostEqual(area, (1 - math.pi / 4) * 9, delta=0.1)


class MaskOf(unittest.TestCase):
    @given(st.floats(-5, 5), st.floats(-5, 5), st.floats(1, 9))
    @settings(max_examples=25, deadline=None)
    def test_agrees_with_asking_every_cell_centre(self, x, y, r):
        grid = Grid.over(-10, -10, 10, 10, 0.5)
        ring = buffer_round(Point(x, y), r).difference(buffer_round(Point(x, y), r / 2))
        import shapely
        truth = shapely.contains_xy(ring, *np.meshgrid(grid.x_centres(), grid.y_centres()))
        self.assertLessEqual((mask_of(ring, grid) != truth).sum(), 2)  # centres that lie on the edge itself
