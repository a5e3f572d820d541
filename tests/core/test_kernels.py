import math
import unittest
from unittest import mock

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from birch_route.core.bits.model import Bit, profile_height
from birch_route.core.heights import field, kernels
from birch_route.core.heights.field import Grid, Wood, cut_path
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.vocabulary import BitForm, MoveKind

NUT = 20.0


def make_bit(form, diameter=6.0, **more):
    values = {
        "corner_radius_mm": {BitForm.BULL: 1.2, BitForm.ROUND: 2.5}.get(form, 0.0),
        "included_angle_deg": 40.0 if form is BitForm.TAPER else 90.0,
        "tip_diameter_mm": 1.0 if form in (BitForm.V, BitForm.ROUND) else 0.0,
    }
    return Bit(id="b", name="b", form=form, diameter_mm=diameter, cutting_length_mm=more.pop("cut", 60), shank_diameter_mm=more.pop("shank", 1),
               stickout_mm=more.pop("out", 80), **values, **more)


def path_of(points, kind=MoveKind.CUT):
    builder = PathBuilder(*points[0])
    for p in points[1:]:
        builder.to(*p, kind, 1000)
    return builder.done()


def dense_envelope(grid, start_mm, points, bit):
    """The lower envelope by brute force: the bit's profile at many places along every move."""
    top = np.full((grid.ny, grid.nx), start_mm)
    xs, ys = np.meshgrid(grid.x_centres(), grid.y_centres())
    for a, b in zip(points[:-1], points[1:], strict=True):
        a, b = np.asarray(a, float), np.asarray(b, float)
        for t in np.linspace(0, 1, max(2, int(np.linalg.norm(b - a) / 0.02))):
            p = a + t * (b - a)
            r = np.hypot(xs - p[0], ys - p[1])
            inside = r <= bit.reach_mm
            z = np.full_like(r, np.inf)
            z[inside] = [p[2] + profile_height(bit, d) for d in r[inside]]
            top = np.minimum(top, z)
    return top


class CutPath(unittest.TestCase):
    def test_every_form_cuts_what_dense_sampling_of_its_profile_cuts(self):
        points = [(4, 4, 1.0), (4, 4, -2.0), (13, 7, -2.0), (13, 13, -3.5), (6, 12, -1.0)]
        grid = Grid.over(0, 0, 18, 17, 0.5)
        for form in set(BitForm) - {BitForm.DOVETAIL, BitForm.UNDERCUT}:
            with self.subTest(form.value):
                bit = make_bit(form, 2.0, cut=9) if form is BitForm.TAPER else make_bit(form)
                wood = Wood.block(grid, 0.0, -20.0)
                cut_path(wood, path_of(points), bit, NUT, 0.0)
                truth = dense_envelope(grid, 0.0, points, bit)
                steep = np.abs(wood.top - truth)
                rim = np.zeros_like(truth, bool)  # cells a hair inside or outside the swept rim may go either way
                for dj, di in ((0, 1), (1, 0), (0, -1), (-1, 0)):
                    rim |= np.abs(truth - np.roll(truth, (dj, di), (0, 1))) > 0.8
                self.assertLess(steep[~rim].max(), 0.011)
                self.assertLess((steep > 0.02).sum(), 0.02 * truth.size)

    @given(st.lists(st.tuples(st.floats(-2, 14), st.floats(-2, 12), st.sampled_from([-1.0, -2.0, -2.5])), min_size=2, max_size=7))
    @settings(max_examples=40, deadline=None)
    def test_level_and_sloped_moves_of_a_flat_bit_agree_with_the_swept_discs(self, points):
        """Exact sweep: a cell is cut to the least height at which a disc about it meets the path."""
        grid = Grid.over(0, 0, 12, 10, 0.4)
        bit = make_bit(BitForm.FLAT, 3.0)
        path = path_of(points)
        wood = Wood.block(grid, 0.0, -9.0)
        cut_path(wood, path, bit, NUT, 0.0)
        truth = np.zeros((grid.ny, grid.nx))
        slack = np.full(truth.shape, np.inf)
        xs, ys = np.meshgrid(grid.x_centres(), grid.y_centres())
        for a, b in zip(path.points[:-1], path.points[1:], strict=True):
            d = b[:2] - a[:2]
            length = math.hypot(*d)
            for j in range(grid.ny):
                for i in range(grid.nx):
                    q = np.array([xs[j, i], ys[j, i]]) - a[:2]
                    if length < 1e-9:
                        gap = math.hypot(*q) - 1.5
                        z = min(a[2], b[2]) if gap <= 0 else 0.0
                    else:
                        s, off = float(q @ d) / length, float(q[0] * d[1] - q[1] * d[0]) / length
                        near = math.hypot(off, s - min(max(s, 0), length))
                        gap = near - 1.5
                        z = 0.0
                        if gap <= 0:
                            half = math.sqrt(max(0.0, 2.25 - off * off))
                            s0, s1 = max(0.0, s - half), min(length, s + half)
                            z = min(a[2] + (b[2] - a[2]) * s0 / length, a[2] + (b[2] - a[2]) * s1 / length)
                    slack[j, i] = min(slack[j, i], abs(gap))
                    truth[j, i] = min(truth[j, i], z)
        clear = slack > 1e-6
        self.assertLess(np.abs(wood.top - truth)[clear].max(initial=0), 1e-4)

    def test_two_cores_cut_and_meet_what_one_does(self):
        rng = np.random.default_rng(4)
        points = [tuple(p) for p in rng.uniform((0, 0, -19), (40, 60, 1), (300, 3))]
        for form in (BitForm.FLAT, BitForm.BALL, BitForm.V):
            bit = make_bit(form, cut=5, out=8, shank=8)
            found = []
            for at_once in (10, 10**9):
                wood = Wood.block(Grid.over(0, 0, 40, 60, 0.5), 0.0, -20.0)
                with mock.patch.object(field, "TWO_FROM_MOVES", at_once):
                    found.append((wood, cut_path(wood, path_of(points, MoveKind.CUT), bit, NUT, 0.0, (("nose", 30.0, 4.0),))))
            (two, met_two), (one, met_one) = found
            np.testing.assert_array_equal(two.top, one.top)
            np.testing.assert_allclose(met_two, met_one, atol=1e-9)
            self.assertGreater(met_two[:, kernels.HEADS].max(), 0)

    def test_volume_of_the_moves_is_the_volume_that_is_gone(self):
        grid = Grid.over(0, 0, 60, 40)
        wood = Wood.block(grid, 0.0, -10.0)
        before = wood.volume_mm3()
        metrics = cut_path(wood, path_of([(10, 10, 5), (10, 10, -4), (50, 10, -4), (50, 30, -4), (10, 30, -12)]), make_bit(BitForm.FLAT, 8), NUT, 0.0)
        self.assertAlmostEqual(metrics[:, kernels.VOLUME].sum(), before - wood.volume_mm3(), delta=0.5)
        self.assertAlmostEqual(before, 60 * 40 * 10, delta=1)

    def test_a_slot_has_the_volume_of_a_stadium(self):
        wood = Wood.block(Grid.over(0, 0, 60, 20), 0.0, -10.0)
        metrics = cut_path(wood, path_of([(10, 10, 5), (10, 10, -3), (50, 10, -3)]), make_bit(BitForm.FLAT, 8), NUT, 0.0)
        self.assertAlmostEqual(metrics[:, kernels.VOLUME].sum(), (40 * 8 + math.pi * 16) * 3, delta=4)

    def test_tells_reach_nut_rapid_and_waste_board(self):
        grid = Grid.over(0, 0, 60, 60)
        bit = make_bit(BitForm.FLAT, 6, cut=5, shank=6, out=8)
        wood = Wood.block(grid, 0.0, -20.0)
        metrics = cut_path(wood, path_of([(30, 30, 5), (30, 30, -9.5), (40, 30, -9.5)]), bit, NUT, 0.0)
        self.assertAlmostEqual(metrics[:, kernels.REACH].max(), 4.5, places=5)
        self.assertAlmostEqual(metrics[:, kernels.NUT].max(), 1.5, places=5)
        rapid = cut_path(Wood.block(grid, 0.0, -20.0), path_of([(5, 5, 2), (5, 5, -1), (50, 50, -1)], MoveKind.RAPID), bit, NUT, 0.0)
        self.assertAlmostEqual(rapid[:, kernels.RAPID_HIT].max(), 1.0, places=5)
        below = cut_path(Wood.block(grid, 0.0, -2.0), path_of([(5, 5, 2), (5, 5, -3)]), make_bit(BitForm.FLAT), NUT, 0.0)
        self.assertAlmostEqual(below[:, kernels.BELOW].max(), 1.0, places=5)

    def test_a_narrow_shank_beside_a_wall_is_no_rubbing(self):
        bit = make_bit(BitForm.FLAT, 6, cut=5, shank=4, out=60)
        wood = Wood.block(Grid.over(0, 0, 60, 60), 0.0, -20.0)
        for z in (-4.0, -8.0):
            metrics = cut_path(wood, path_of([(20, 30, z), (40, 30, z)]), bit, NUT, float(wood.top.max()))
        self.assertEqual(metrics[:, kernels.REACH].max(), 0.0)

    def test_going_straight_down_the_edges_sweep_the_ring_and_going_sideways_they_do_not(self):
        """A wide bit with a thin shank over a ring of wood round an open middle: down is no rubbing however deep, sideways is."""
        bit = make_bit(BitForm.FLAT, 25, cut=12, shank=12, out=60)
        grid = Grid.over(0, 0, 90, 60)
        hole = path_of([(30, 30, 5), (30, 30, -20)])
        for name, points, rubs in (("down", [(30, 30, 3), (30, 30, -15.7)], 0.0), ("sideways", [(8, 30, -15.7), (30, 30, -15.7)], 3.7)):
            with self.subTest(name):
                wood = Wood.block(grid, 0.0, -45.0)
                cut_path(wood, hole, make_bit(BitForm.FLAT, 8), NUT, 0.0)
                if name == "sideways":
                    cut_path(wood, path_of([(8, 30, 3), (8, 30, -15.7)]), make_bit(BitForm.FLAT, 25), NUT, 0.0)
                metrics = cut_path(wood, path_of(points), bit, NUT, 0.0)
                self.assertAlmostEqual(metrics[:, kernels.REACH].max(), rubs, places=4)
