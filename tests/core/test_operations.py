import math
import unittest

import numpy as np
import shapely
from shapely.geometry import LineString, MultiLineString

from birch_route.core.heights.field import Grid, Wood, cut_path
from birch_route.core.heights.raster import mask_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.operations.make import make_toolpath
from birch_route.core.vocabulary import MOVE_CODES, MoveKind
from tests.support import changed, proof_of, put, route_named


def cut_by(route, operation_id):
    operation = route.operation(operation_id)
    return make_toolpath(route, resolve(route), operation).path, route.bit(operation.bit), operation


class Pocket(unittest.TestCase):
    def test_a_pocket_is_cleared_to_its_floor_and_never_past_its_wall(self):
        """By shapely: the discs of the path at the floor cover what a round bit can reach, and nothing outside."""
        route = route_named("siskin_body")
        for name in ("pocket_pickup_pocket", "pocket_control_cavity", "pocket_plate_rebate"):
            path, bit, operation = cut_by(route, name)
            solid = resolve(route).solid(operation.features[0])
            low = (np.abs(path.points[1:, 2] - solid.floor_mm) < 1e-6) & (np.abs(path.points[:-1, 2] - solid.floor_mm) < 1e-6)
            lines = MultiLineString([LineString([a[:2], b[:2]]) for a, b in zip(path.points[:-1][low], path.points[1:][low], strict=True)])
            swept = lines.buffer(bit.radius_mm, quad_segs=64)
            with self.subTest(name):
                self.assertLess(swept.difference(solid.region.buffer(0.01)).area, 0.01)
                reachable = solid.region.buffer(-bit.radius_mm, quad_segs=64).buffer(bit.radius_mm - 0.02, quad_segs=64)
                self.assertLess(reachable.difference(swept).area, 1e-4 * reachable.area)

    def test_climb_keeps_the_wall_on_the_right(self):
        route = route_named("siskin_body")
        for direction, sign in (("climb", 1), ("conventional", -1)):
            path, _, _ = cut_by(changed(route, put("operations.pocket_pickup_pocket.direction", direction), put("operations.pocket_pickup_pocket.finish_pass", True)), "pocket_pickup_pocket")
            finish = np.flatnonzero(path.kinds == MOVE_CODES[MoveKind.FINISH])
            ring = path.points[finish][:, :2]
            area = 0.5 * np.sum(ring[:-1, 0] * ring[1:, 1] - ring[1:, 0] * ring[:-1, 1])
            self.assertGreater(sign * area, 0, direction)  # inside a wall, climb runs counter-clockwise

    def test_no_rapid_move_below_the_wood_it_crosses(self):
        proof = proof_of(route_named("siskin_body"))
        for step in proof.simulation.steps:
            self.assertLess(step.metrics[:, 4].max(), 1e-4, step.operation.id)


class Profile(unittest.TestCase):
    def test_tabs_stand_as_wide_and_high_as_asked(self):
        route = route_named("siskin_body")
        sim = proof_of(route).simulation
        operation = route.operation("profile_outline")
        radius = route.bit(operation.bit).radius_mm
        line = sim.resolved.outline.exterior
        middle_of_kerf = sim.resolved.outline.buffer(radius, quad_segs=64).exterior
        for tab in operation.tabs:
            at = middle_of_kerf.project(line.interpolate(tab.at, normalized=True))
            s = np.arange(-20, 20, 0.05)
            heights = []
            for d in s:
                p = middle_of_kerf.interpolate((at + d) % middle_of_kerf.length)
                j, i = sim.grid.cell_of(p.x, p.y)
                heights.append(sim.result[j, i] - sim.bottom[j, i])
            standing = np.asarray(heights) > 0.01
            self.assertAlmostEqual(standing.sum() * 0.05, tab.width_mm, delta=0.6)
            self.assertAlmostEqual(max(heights), tab.height_mm, delta=0.01)

    def test_the_piece_has_the_size_drawn(self):
        sim = proof_of(route_named("siskin_body")).simulation
        inside = mask_of(sim.resolved.outline.buffer(-0.05), sim.grid)
        outside = mask_of(sim.resolved.outline.buffer(7.9).difference(sim.resolved.outline.buffer(0.05)), sim.grid)
        through = sim.result <= sim.bottom
        self.assertFalse((through & inside).sum() > 1000)  # only the four screw and four string holes
        tabs = sum(t.width_mm + 8 for t in sim.steps[-1].operation.tabs) * 8 / 0.25**2
        self.assertLess((outside & ~through).sum(), tabs * 1.1)


class Holes(unittest.TestCase):
    def test_a_bored_hole_has_its_diameter(self):
        route = route_named("siskin_body")
        path, bit, operation = cut_by(route, "bore_post_holes")
        wood = Wood.block(Grid.over(260, -60, 300, 60, 0.1), 0.8, -45)
        cut_path(wood, path, bit, 30, 0.8)
        area = (wood.top < -17.9).sum() * 0.01
        self.assertAlmostEqual(math.sqrt(area / 2 / math.pi) * 2, 11.0, delta=0.06)

    def test_pecking_never_takes_more_than_its_step(self):
        path, _, operation = cut_by(route_named("siskin_body"), "drill_string_holes")
        plunge = path.kinds == MOVE_CODES[MoveKind.PLUNGE]
        drops = (path.points[:-1, 2] - path.points[1:, 2])[plunge]
        self.assertLessEqual(drops.max(), operation.peck_mm + 0.5 + 1e-6)


class Facing(unittest.TestCase):
    def test_the_whole_face_is_brought_to_zero(self):
        sim = proof_of(route_named("siskin_body")).simulation
        face = mask_of(sim.resolved.outline, sim.grid)
        self.assertAlmostEqual(float(sim.steps[0].top[face].max()), 0.0, places=5)


class Weight(unittest.TestCase):
    def test_removed_volume_agrees_with_the_polygons(self):
        sim = proof_of(route_named("siskin_body")).simulation
        step = next(s for s in sim.steps if s.operation.id == "pocket_control_cavity")
        solid = sim.resolved.solid("control_cavity")
        self.assertAlmostEqual(step.removed_mm3 / (solid.region.area * (33 - 2.5)), 1.0, delta=0.005)
        self.assertIsInstance(solid.region, shapely.Polygon)
