"""Channels for binding and purfling: an even ledge along the rim, on a flat, a carved and a bevelled face, of either side."""

import unittest
from functools import cache

import numpy as np
import shapely

from birch_route.core.heights.raster import mask_of
from birch_route.core.instrument.resolve import cut_region, resolve
from birch_route.core.operations.channelling import out_of_reach, rounds_for
from birch_route.core.proving.rules_wood import wall_skins
from birch_route.core.vocabulary import RAPID_CODE
from birch_route.demo.fitted import fitted_route
from tests.core.test_carves import carved
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"
BINDING = {"kind": "channel", "id": "binding", "name": "Binding channel", "width_mm": 2.0, "depth_mm": 6.0}
PURFLING = {"kind": "channel", "id": "purfling", "name": "Purfling channel", "width_mm": 3.6, "depth_mm": 1.6}


@cache
def sharp_edged():
    """Return the body with two faces and bevels, its rims left sharp."""
    route = fitted_route(True)
    return changed(route, *[{"do": "remove_item", "list": "edges", "id": e.id} for e in route.piece.edges])


def with_channels(route, *items):
    return changed(route, *[{"do": "put_item", "list": "features", "item": i} for i in items], {"do": "propose"})


def over_the_floor(sim, feature):
    """Return wood less target over the ledge, by a distance of its own from the rim, mm, and how far each cell lies from the rim."""
    solid = sim.resolved.solid(feature)
    part, at = sim.grid.window(*solid.region.bounds)
    inside = mask_of(solid.region.buffer(-0.15), part) & ~mask_of(out_of_reach(solid.surface, 4.0).buffer(0.3), part)
    for other in (s for s in sim.resolved.solids.values() if s.id != feature and s.kind != "outline" and not s.is_contour and s.region.intersects(solid.region) and (s.floor_mm or -99) < solid.floor_mm):
        inside &= ~mask_of(cut_region(other, 12.0).buffer(0.3), part)
    x, y = np.meshgrid(part.x_centres(), part.y_centres())
    x, y = x[inside], y[inside]
    ring = shapely.LinearRing(sim.resolved.outline.exterior.coords)
    feet = shapely.get_coordinates(shapely.line_interpolate_point(ring, shapely.line_locate_point(ring, shapely.points(x, y))))
    middle = np.array(shapely.get_coordinates(sim.resolved.outline.centroid)[0])
    spots = feet + 0.02 * (middle - feet) / np.hypot(*(middle - feet).T)[:, None]
    drop = np.zeros(len(x))
    for contour in (s for s in sim.resolved.on(sim.setup.face) if s.is_contour):
        drop = np.maximum(drop, contour.surface.depth(spots[:, 0], spots[:, 1]))
    return np.maximum(sim.result[at], sim.bottom[at])[inside] + drop + solid.surface.depth_mm


class Channels(unittest.TestCase):
    def test_an_even_ledge_along_a_flat_face(self):
        proof = proof_of(with_channels(route_named(BODY), BINDING), fine=True)
        self.assertEqual(codes(proof), set())
        sim = proof.simulation
        over = over_the_floor(sim, "binding")
        self.assertGreater(len(over), 20_000)
        self.assertLess(np.abs(over).max(), 0.001)
        self.assertAlmostEqual(wall_skins(sim)["binding"], 0.0)
        ledge = sim.resolved.outline.difference(sim.resolved.outline.buffer(-2.0, quad_segs=64)).difference(cut_region(sim.resolved.solid("neck_pocket"), 12.0))
        self.assertAlmostEqual(sim.resolved.solid("binding").region.area, ledge.area, delta=3)

    def test_purfling_inside_binding(self):
        proof = proof_of(with_channels(route_named(BODY), BINDING, PURFLING))
        self.assertEqual(codes(proof), set())
        for feature in ("binding", "purfling"):
            self.assertLess(np.abs(over_the_floor(proof.simulation, feature)).max(), 0.001)

    def test_on_a_carved_face_it_lies_below_the_carve_s_rim(self):
        proof = proof_of(with_channels(carved(), BINDING))
        self.assertEqual(codes(proof), set())
        self.assertLess(np.abs(over_the_floor(proof.simulation, "binding")).max(), 0.01)
        self.assertAlmostEqual(resolve(with_channels(carved(), BINDING)).solid("binding").floor_mm, -10.0, delta=0.02)

    def test_along_bevels_it_follows_the_rim_never_too_deep_and_tells_what_stays(self):
        for face, index in (("front", 0), ("back", 1)):
            with self.subTest(face):
                proof = proof_of(with_channels(sharp_edged(), {**BINDING, "face": face, "depth_mm": 5.0}), fine=True)
                self.assertLessEqual(codes(proof), {"feature.tilt_left"})
                over = over_the_floor(proof.simulations[index], "binding")
                told = max([0.05, *(float(f.facts[0].value) for f in proof.findings)])
                self.assertGreater(over.min(), -0.04)  # the rim's own height is sampled here another way
                self.assertLess(np.percentile(np.abs(over), 80), 0.05)
                self.assertLess(abs(over.max() - told), 0.2)

    def test_it_goes_down_by_a_ramp_and_round_in_passes(self):
        sim = proof_of(with_channels(route_named(BODY), BINDING)).simulation
        step = next(s for s in sim.steps if "binding" in s.operation.features)
        cutting = step.path.kinds != RAPID_CODE
        drop = -np.diff(step.path.points[:, 2])[cutting & (step.path.points[1:, 2] < 0.3)]
        run = np.hypot(*np.diff(step.path.points[:, :2], axis=0).T)[cutting & (step.path.points[1:, 2] < 0.3)]
        sloping = (drop > 1e-6) & (run > 1e-6)
        self.assertLess((drop / np.maximum(run, 1e-9))[sloping].max(), 0.08)  # 4 degrees
        deep = with_channels(route_named(BODY), {**BINDING, "depth_mm": 14.0})
        self.assertGreater(next(s for s in proof_of(deep).steps if "binding" in s.operation.features).passes, 1)

    def test_a_ledge_wider_than_the_bit_takes_more_rounds(self):
        self.assertEqual([rounds_for(w, 4.0, 3.0) for w in (2.0, 8.0, 8.1, 14.1)], [1, 1, 2, 4])
        wide = with_channels(route_named(BODY), {**BINDING, "width_mm": 11.0, "depth_mm": 3.0})
        self.assertLess(np.abs(over_the_floor(proof_of(wide).simulation, "binding")).max(), 0.001)

    def test_a_cavity_too_near_to_the_channel_is_told(self):
        for y, told in ((-106.5, False), (-106.8, True)):
            near = with_channels(changed(route_named(BODY), put("piece.features.control_cavity.shape.y_mm", y), put("piece.features.plate_rebate.shape.y_mm", -60.0)), {**BINDING, "width_mm": 12.0})
            gap = resolve(near).solid("control_cavity").region.distance(resolve(near).solid("binding").region)
            found = [f for f in proof_of(near).findings if f.code == "feature.wall_thin" and "Binding channel" in f.reason]
            self.assertEqual((bool(found), gap < 3.48), (told, told), gap)

    def test_tabs_stand_above_a_channel_of_the_face_below(self):
        route = with_channels(sharp_edged(), {**BINDING, "face": "front", "depth_mm": 5.0})
        resolved = resolve(route)
        outline = next(o for o in route.operations if o.id.startswith("profile_outline"))
        self.assertGreater(min(t.height_mm for t in outline.tabs), -resolved.solid("binding").floor_mm)


if __name__ == "__main__":
    unittest.main()
