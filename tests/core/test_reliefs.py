"""Faces formed by a surface from a file: laid, kept, turned, mirrored, cut; its valleys and its flat places."""

import math
import unittest
from functools import cache

import numpy as np
import shapely

from birch_route.core.errors import InputError
from birch_route.core.heights.thin import thinned, traced
from birch_route.core.instrument.reliefs import (
    STEP_MM,
    lay_surface,
    mirrored_depths,
    pack_depths,
    unpack_depths,
)
from birch_route.core.instrument.resolve import resolve
from birch_route.core.operations.valleys import stands_over
from birch_route.core.proving.target import target_of
from birch_route.core.vocabulary import Pattern
from birch_route.formats.stl import read_stl, write_stl
from birch_route.service.reliefs import relief_edits
from tests.support import changed, codes, proof_of, route_named

BALLS = [{"do": "put_item", "list": "bits", "item": {"id": f"ball{d}", "name": f"{d} mm ball", "form": "ball", "diameter_mm": d, "flutes": 2, "flute": "up_cut", "cutting_length_mm": 20, "shank_diameter_mm": 6, "stickout_mm": 34}} for d in (8, 3)]


@cache
def outline():
    return resolve(body()).outline


@cache
def body():
    """The demo body bare: its outline alone, so that a relief meets nothing else."""
    route = route_named("siskin_body")
    gone = [{"do": "remove_item", "list": "features", "id": f.id} for f in route.piece.features if f.kind != "outline"]
    return changed(route, *({"do": "remove_item", "list": "placements", "id": p.id} for p in route.piece.placements), *gone, *BALLS, {"do": "propose"})


def mesh(z, step=1.0):
    """Triangles of a height z(x, y) over the body's box, in the piece's frame."""
    xmin, ymin, xmax, ymax = outline().bounds
    x, y = np.meshgrid(np.linspace(xmin, xmax, round((xmax - xmin) / step) + 1), np.linspace(ymin, ymax, round((ymax - ymin) / step) + 1))
    p = np.stack([x, y, z(x, y)], -1)
    a, b, c, d = p[:-1, :-1], p[:-1, 1:], p[1:, 1:], p[1:, :-1]
    return np.concatenate([np.stack([a, b, c], -2).reshape(-1, 3, 3), np.stack([a, c, d], -2).reshape(-1, 3, 3)])


def dome(x, y):
    xmin, ymin, xmax, ymax = outline().bounds
    return -8.0 * (((x - (xmin + xmax) / 2) / 205) ** 2 + ((y - (ymin + ymax) / 2) / 165) ** 2)


def formed(z, step=1.0, **more):
    return changed(body(), *relief_edits(body(), write_stl(mesh(z, step)), "top.stl", **more))


class Files(unittest.TestCase):
    def test_text_and_binary_say_the_same(self):
        triangles = np.array([[[0, 0, 0], [1, 0, 0.5], [0, 2, 0]], [[1, 0, 0.5], [1, 2, 1], [0, 2, 0]]], float)
        text = "solid a\n" + "".join("facet normal 0 0 1\nouter loop\n" + "".join(f"vertex {x} {y} {z}\n" for x, y, z in t) + "endloop\nendfacet\n" for t in triangles) + "endsolid a\n"
        np.testing.assert_allclose(read_stl(text.encode(), "a.stl"), triangles)
        np.testing.assert_allclose(read_stl(write_stl(triangles), "a.stl"), triangles)

    def test_what_is_no_such_file_says_so(self):
        whole = write_stl(np.zeros((4, 3, 3)))
        for data in (b"", b"PK\x03\x04 zip", whole[:-7], b"solid x facet vertex 1 2 3 vertex 1 2", b"solid x facet vertex a b c vertex 1 2 3 vertex 3 4 5", write_stl(np.zeros((0, 3, 3))), write_stl(np.full((1, 3, 3), np.nan))):
            with self.assertRaises(InputError) as refused:
                read_stl(data, "bad.stl")
            self.assertIn("bad.stl", str(refused.exception))


class Laying(unittest.TestCase):
    def test_depths_are_those_of_the_surface(self):
        laid = lay_surface(mesh(dome), outline())
        ny, nx = laid.depth_mm.shape
        x, y = np.meshgrid(laid.x0_mm + (np.arange(nx) + 0.5) * laid.cell_mm, laid.y0_mm + (np.arange(ny) + 0.5) * laid.cell_mm)
        inside = shapely.contains_xy(outline(), x, y)
        self.assertLess(np.abs(laid.depth_mm + dome(x, y))[inside].max(), 0.003)
        self.assertEqual(laid.covers, 1.0)

    def test_packing_keeps_half_a_step_and_refuses_other_sizes(self):
        depth = np.random.default_rng(3).uniform(0, 40, (31, 47))
        text = pack_depths(depth)
        self.assertLessEqual(np.abs(unpack_depths(text, 31, 47) - depth).max(), STEP_MM / 2 + 1e-5)
        np.testing.assert_allclose(unpack_depths(mirrored_depths(text, 31, 47), 31, 47), unpack_depths(text, 31, 47)[::-1], atol=1e-6)
        for bad in ((31, 46), (47, 31 + 1)):
            with self.assertRaises(InputError):
                unpack_depths(text, *bad)
        for bad in ("", "x", "s!!!", "s" + "AAAA"):
            with self.assertRaises(InputError):
                unpack_depths(bad, 3, 3)
        with self.assertRaises(InputError):
            unpack_depths(pack_depths(np.full((3, 3), 301.0)), 3, 3)

    def test_turned_scaled_and_from_below(self):
        """A wedge that falls toward +x: a quarter turn lets it fall toward +y; upside down its lower side is up."""
        wedge = mesh(lambda x, y: -0.02 * x)
        laid = lay_surface(wedge, outline(), turn_deg=90.0)
        rows = laid.depth_mm[:, laid.depth_mm.shape[1] // 2]
        self.assertGreater(rows[-60] - rows[60], 2.0)
        self.assertLess(float(np.ptp(laid.depth_mm[300, 200:600])), 0.02)
        below = lay_surface(wedge, outline(), seen_from_below=True)
        self.assertGreater(below.depth_mm[300, 100], below.depth_mm[300, 700] + 2.0)
        inch = lay_surface(wedge / 25.4, outline(), scale=25.4)
        np.testing.assert_allclose(inch.depth_mm, lay_surface(wedge, outline()).depth_mm, atol=1e-3)

    def test_flat_small_or_elsewhere_is_refused_or_told(self):
        with self.assertRaises(InputError):
            lay_surface(mesh(lambda x, y: 0 * x), outline())
        small = relief_edits(body(), write_stl(mesh(dome) * [0.5, 0.5, 1.0]), "small.stl")
        self.assertIn("covers", small[0]["item"]["origin"])
        with self.assertRaises(InputError):
            relief_edits(body(), write_stl(mesh(dome)), "x.stl", unit="furlong")

    def test_sharp_rims_are_kept_finer_when_asked(self):
        off = {}
        for fine in (False, True):
            face = resolve(changed(body(), *relief_edits(body(), write_stl(mesh(grooved, 0.5)), "g.stl", fine=fine)[:1])).solid("relief_1").surface
            x = np.full(200, 200.0)
            y = np.linspace(outline().bounds[1], outline().bounds[3], 200)
            off[fine] = float(np.abs(face.depth(x, y) + grooved(x, y)).max())
        self.assertLess(off[True], 0.13)
        self.assertLess(off[False], 0.26)


class Cutting(unittest.TestCase):
    def test_the_wood_is_the_surface_on_either_face(self):
        proof = proof_of(formed(dome), fine=True)
        self.assertEqual(codes(proof), set())
        sim = proof.simulation
        drawn = target_of(sim)
        self.assertGreater(int(drawn.judged.sum()), 800_000)
        solid = sim.resolved.solid("relief_1")
        part, at = sim.grid.window(*solid.region.buffer(-3.0).bounds)
        x, y = np.meshgrid(part.x_centres(), part.y_centres())
        inner = shapely.contains_xy(solid.region.buffer(-3.0), x, y)
        over = (sim.result[at] - dome(x, y))[inner]
        self.assertGreater(over.min(), -0.012)
        self.assertLess(np.percentile(over, 99), 0.03)

    def test_turned_over_and_mirrored_it_is_the_same_surface(self):
        route = formed(lambda x, y: dome(x, y) + 0.01 * (y - 5))
        face = resolve(route).solid("relief_1").surface
        x, y = np.array([60.0, 200.0, 330.0]), np.array([40.0, -70.0, 20.0])
        for signs in ((1.0, -1.0), (-1.0, 1.0)):
            np.testing.assert_allclose(face.turned(signs).depth(signs[0] * x, signs[1] * y), face.depth(x, y), atol=1e-9)
        other = resolve(changed(route, {"do": "mirror"})).solid("relief_1").surface
        np.testing.assert_allclose(other.depth(x, -y), face.depth(x, y), atol=1e-6)


def grooved(x, y):
    """A straight groove along x with sides of 45 degrees, 6 wide and 3 deep."""
    ymin, ymax = outline().bounds[1], outline().bounds[3]
    return -np.maximum(0.0, 3.0 - np.abs(y - (ymin + ymax) / 2))


class Valleys(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = formed(grooved, 0.5)
        cls.proof = proof_of(cls.route)

    def test_what_a_ball_leaves_in_a_groove_is_what_geometry_says(self):
        """Touching both sides of a V whose sides slope by a, a ball stands R (1/cos a - 1) over its bottom."""
        solid = resolve(self.route).solid("relief_1")
        for bit in (b for b in self.route.bits if b.form == "ball"):
            _, left = stands_over(solid, bit)
            self.assertAlmostEqual(float(left.max()), bit.radius_mm * (1 / math.cos(math.radians(45)) - 1), delta=0.25)  # the bottom lies between the middles of cells

    def test_it_is_told_and_pencil_passes_with_a_narrower_ball_take_most_of_it(self):
        found = next(f for f in self.proof.findings if f.code == "surface.valley_left")
        self.assertEqual(codes(self.proof), {"surface.valley_left"})
        finer = changed(self.route, *found.cures[0].edits)
        made = next(o for o in finer.operations if o.pattern is Pattern.PENCIL)
        self.assertEqual(made.bit, "ball3")
        proof = proof_of(finer)
        self.assertEqual(codes(proof), {"surface.valley_left"})  # 0.6 of what was 1.7
        before, after = self.proof.simulation, proof.simulation
        y = (outline().bounds[1] + outline().bounds[3]) / 2
        part, at = before.grid.window(120.0, y - 3, 300.0, y + 3)
        want = grooved(*np.meshgrid(part.x_centres(), part.y_centres()))
        was, now = float((before.result[at] - want).max()), float((after.result[at] - want).max())
        self.assertAlmostEqual(was, 4.0 * (math.sqrt(2) - 1), delta=0.12)
        self.assertAlmostEqual(now, 1.5 * (math.sqrt(2) - 1), delta=0.12)
        sides = np.abs(part.y_centres() - y) < 2.2  # the upper rim lies between the middles of cells
        self.assertGreater(float((after.result[at] - want)[sides].min()), -0.02)

    def test_pencil_passes_stay_in_the_valley(self):
        finer = changed(self.route, {"do": "add_finish", "operation": "surface_finish_relief_1", "pattern": "pencil"})
        step = next(s for s in proof_of(finer).simulation.steps if s.operation.pattern is Pattern.PENCIL)
        y = (outline().bounds[1] + outline().bounds[3]) / 2
        cutting = step.path.points[1:][step.path.kinds >= 3]
        self.assertLess(np.abs(cutting[:, 1] - y).max(), 4.0)
        self.assertGreater(np.ptp(cutting[:, 0]), 300.0)

    def test_without_a_narrower_ball_or_a_finish_it_is_refused(self):
        bare = changed(self.route, {"do": "remove_item", "list": "bits", "id": "ball3"})
        for edit in ({"operation": "surface_finish_relief_1", "pattern": "pencil"}, {"operation": "surface_rough_relief_1", "pattern": "flat"}):
            with self.assertRaises(InputError):
                changed(bare, {"do": "add_finish", **edit})


class Flats(unittest.TestCase):
    def test_flat_places_are_taken_with_a_flat_bit_and_slopes_are_left_alone(self):
        """Half of the top lies 2 deep; a slope of 15 mm leads down to it."""
        terrace = formed(lambda x, y: -2.0 * np.clip((x - 150.0) / 15.0, 0.0, 1.0))
        route = changed(terrace, {"do": "add_finish", "operation": "surface_finish_relief_1", "pattern": "flat"})
        made = next(o for o in route.operations if o.pattern is Pattern.FLAT)
        self.assertEqual(route.bit(made.bit).form, "flat")
        proof = proof_of(route)
        self.assertEqual(codes(proof), set())
        step = next(s for s in proof.simulation.steps if s.operation.id == made.id)
        level = step.path.points[1:][step.path.kinds >= 3][:, 2]
        self.assertGreater(float((np.abs(level + 2.0) < 0.02).mean()), 0.95)
        first = next(s for s in proof.simulation.steps if s.operation.id == "surface_finish_relief_1")
        self.assertLess(step.minutes, first.minutes)
        at = proof.simulation.grid.window(300.0, -40.0, 340.0, 40.0)[1]
        self.assertLess(float(np.ptp(proof.simulation.result[at])), 0.003)  # no ridges there any more


class Thinning(unittest.TestCase):
    def test_a_ring_and_a_cross_keep_their_shape(self):
        y, x = np.mgrid[:80, :80]
        ring = np.abs(np.hypot(x - 40, y - 40) - 25) < 4
        ways = traced(thinned(ring))
        self.assertEqual(len(ways), 1)
        self.assertLess(np.abs(np.hypot(*(ways[0] - 40).T) - 25).max(), 2.0)
        self.assertGreater(len(ways[0]), 130)
        cross = ((np.abs(x - 40) < 3) & (np.abs(y - 40) < 30)) | ((np.abs(y - 40) < 3) & (np.abs(x - 40) < 30))
        arms = traced(thinned(cross))
        self.assertEqual(sum(len(a) > 15 for a in arms), 4)
        self.assertEqual(traced(thinned(np.zeros((20, 20), bool))), [])


if __name__ == "__main__":
    unittest.main()
