"""Hardware and loose pieces against brute force and another library."""

import math
import random
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from birch_route.core.bits.model import Bit, profile_height
from birch_route.core.heights.pieces import label_pieces
from birch_route.core.holding.clearance import (
    closest_approaches,
    footprint,
    no_go_heights,
)
from birch_route.core.motion.toolpath import PathBuilder, join
from birch_route.core.route import Hardware
from birch_route.core.vocabulary import MoveKind
from birch_route.demo.shop import BITS_BY_ID
from tests.support import changed, proof_of, put, route_named


class Pieces(unittest.TestCase):
    def test_labels_agree_with_the_general_library_on_a_level_underside(self):
        rng = np.random.default_rng(3)
        for share in (0.3, 0.55, 0.62, 0.8):
            top = np.where(ndimage.uniform_filter(rng.random((120, 90)), 3) < share * 0.8, 1.0, -9.0).astype(np.float32)
            bottom = np.full(top.shape, -5, np.float32)
            labels, count = label_pieces(top, bottom)
            theirs, expected = ndimage.label(top > bottom)
            self.assertEqual(count, expected)
            pairs = {(a, b) for a, b in zip(labels.ravel().tolist(), theirs.ravel().tolist(), strict=True)}
            self.assertEqual(len(pairs), len({a for a, _ in pairs}))
            self.assertEqual(len(pairs), len({b for _, b in pairs}))

    def test_neighbours_hang_together_only_where_their_heights_overlap(self):
        top = np.array([[0, -6]], np.float32)
        self.assertEqual(label_pieces(top, np.array([[-4, -10]], np.float32))[1], 2)  # one stands above the other
        self.assertEqual(label_pieces(top, np.array([[-8, -10]], np.float32))[1], 1)
        self.assertEqual(label_pieces(np.full((3, 3), -9, np.float32), np.full((3, 3), -5, np.float32))[1], 0)


class Approaches(unittest.TestCase):
    @given(st.integers(0, 10_000))
    @settings(max_examples=25, deadline=None)
    def test_the_closest_approach_is_that_of_dense_sampling(self, seed):
        rng = random.Random(seed)
        bit = Bit.model_validate(BITS_BY_ID["flat8"])
        path = PathBuilder(0, 0, 10)
        for _ in range(12):
            path.to(rng.uniform(0, 100), rng.uniform(0, 100), rng.choice([10, -3, -8]), MoveKind.CUT, 1000)
        made = path.done()
        hardware = [Hardware(id="s", kind="screw", x_mm=rng.uniform(0, 100), y_mm=rng.uniform(0, 100), top_mm=-1),
                    Hardware(id="c", kind="edge_clamp", x_mm=rng.uniform(0, 100), y_mm=rng.uniform(0, 100), angle_deg=rng.uniform(0, 360), top_mm=4)]
        found = closest_approaches(made, bit, 30.0, hardware, 0.0)
        for one, near in zip(hardware, found, strict=True):
            shape, gaps = footprint(one), []
            for a, b in zip(made.points[:-1], made.points[1:], strict=True):
                low = min(a[2], b[2])
                for radius, height in ((4.0, 0.0), (15.0, bit.stickout_mm)):
                    if low + height < one.top_mm - 1e-9:
                        import shapely
                        gaps.append(shapely.LineString([a[:2], b[:2]]).distance(shape) - radius)
            if near is None:
                self.assertTrue(not gaps or min(gaps) > 30)
            else:
                self.assertAlmostEqual(near.gap_mm, min(gaps), places=6)

    def test_a_clamp_reaches_away_from_its_place(self):
        clamp = Hardware(id="c", kind="edge_clamp", x_mm=10, y_mm=20, angle_deg=90, length_mm=40, width_mm=50)
        xmin, ymin, xmax, ymax = footprint(clamp).bounds
        self.assertAlmostEqual(ymin, 20)
        self.assertAlmostEqual(ymax, 60)
        self.assertAlmostEqual(xmax - xmin, 50)

    def test_nothing_that_stands_in_the_hatched_area_passes_and_what_stands_outside_does(self):
        sim = proof_of(route_named("control_plate")).simulation
        nut = sim.route.machine.nut_diameter_mm
        lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], nut, sim.route.blank, 0.0)
        rng = random.Random(4)
        for _ in range(12):
            x, y = rng.uniform(-24, 142), rng.uniform(-23, 73)
            j, i = lowest.grid.cell_of(x, y)
            screw = Hardware(id="x", kind="screw", x_mm=x, y_mm=y, head_diameter_mm=0.1, top_mm=0.0)
            gaps = [a[0].gap_mm for s in sim.steps if (a := closest_approaches(s.path, s.bit, nut, [screw], sim.route.blank.top_mm))[0] is not None]
            with self.subTest(x=x, y=y):
                if min(gaps, default=99) < -2.5:
                    self.assertLess(lowest.top[j, i], sim.route.blank.top_mm)
                if min(gaps, default=99) > 2.5:
                    self.assertGreaterEqual(lowest.top[j, i], sim.route.blank.top_mm - 1e-6)


class Toolpaths(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50), st.floats(-9, 9)), min_size=1, max_size=30))
    @settings(max_examples=50, deadline=None)
    def test_points_added_one_by_one_and_in_a_run_make_the_same_path(self, points):
        one, run = PathBuilder(0, 0, 0), PathBuilder(0, 0, 0)
        for p in points:
            one.to(*p, MoveKind.CUT, 500)
        xyz = np.asarray(points)
        run.along(xyz[:, :2], xyz[:, 2], MoveKind.CUT, 500)
        a, b = one.done(), run.done()
        np.testing.assert_allclose(a.points, b.points, atol=1e-9)
        np.testing.assert_array_equal(a.kinds, b.kinds)
        self.assertEqual(len(a.points), len(a.kinds) + 1)

    def test_joined_paths_are_linked_by_a_rapid_move_where_they_do_not_meet(self):
        first, second = PathBuilder(0, 0, 5), PathBuilder(9, 0, 5)
        first.rapid(5, 0)
        second.rapid(9, 9)
        whole = join([first.done(), second.done()])
        self.assertEqual(len(whole), 3)
        self.assertEqual(whole.points[2].tolist(), [9, 0, 5])


class Bits(unittest.TestCase):
    def test_every_form_rises_from_its_tip_as_its_shape_does(self):
        make = lambda **more: Bit.model_validate({"id": "b", "name": "b", "diameter_mm": 10, "cutting_length_mm": 20, "shank_diameter_mm": 8, "stickout_mm": 40, **more})  # noqa: E731
        self.assertEqual(profile_height(make(form="flat"), 5), 0)
        self.assertAlmostEqual(profile_height(make(form="ball"), 5), 5)
        self.assertAlmostEqual(profile_height(make(form="ball"), 3), 1)
        self.assertAlmostEqual(profile_height(make(form="bull", corner_radius_mm=2), 5), 2)
        self.assertAlmostEqual(profile_height(make(form="bull", corner_radius_mm=2), 3), 0)
        self.assertAlmostEqual(profile_height(make(form="v", included_angle_deg=90), 5), 5)
        self.assertAlmostEqual(profile_height(make(form="drill", included_angle_deg=118), 5), 5 / math.tan(math.radians(59)))
        self.assertEqual(profile_height(make(form="flat"), 5.1), math.inf)
        self.assertEqual(make(form="flat", measured_diameter_mm=9.8).radius_mm, 4.9)

    def test_a_tapered_ball_is_round_at_its_end_and_leans_out_above(self):
        def make(**more):
            sizes = {"diameter_mm": 4, "cutting_length_mm": 20, "shank_diameter_mm": 8, "stickout_mm": 40}
            return Bit(**{"id": "b", "name": "b", "form": "taper", "included_angle_deg": 20, **sizes, **more})

        bit, ten = make(), math.radians(10)
        touches = 2 * math.cos(ten)
        self.assertAlmostEqual(profile_height(bit, 1.2), 0.4)
        self.assertAlmostEqual(profile_height(bit, touches), 2 - 2 * math.sin(ten))
        self.assertAlmostEqual(profile_height(bit, touches + 0.5) - profile_height(bit, touches), 0.5 / math.tan(ten))
        self.assertAlmostEqual(profile_height(bit, bit.reach_mm), 20)
        self.assertEqual(profile_height(bit, bit.reach_mm + 0.01), math.inf)
        self.assertEqual(make(included_angle_deg=60).included_angle_deg, 60)
        self.assertRaisesRegex(ValueError, "at most 60", make, included_angle_deg=60.1)
        self.assertEqual(make(cutting_length_mm=2).cutting_length_mm, 2)
        self.assertRaisesRegex(ValueError, "less than its ball", make, cutting_length_mm=1.9)
        self.assertAlmostEqual(make(form="flat").reach_mm, 2.0)

    def test_a_measured_diameter_moves_the_path_so_that_the_pocket_keeps_its_size(self):
        route = route_named("control_plate")
        worn = proof_of(changed(route, put("bits.flat3.measured_diameter_mm", 2.9))).simulation
        new = proof_of(route).simulation
        self.assertAlmostEqual(sum(s.removed_mm3 for s in worn.steps if s.operation.kind == "bore"), sum(s.removed_mm3 for s in new.steps if s.operation.kind == "bore"), delta=8)


if __name__ == "__main__":
    unittest.main()
