"""Carved faces: the surface from its stations, its cutting clean on either pattern, its weight, what runs into it."""

import unittest
from functools import cache

import numpy as np
import shapely

from birch_route.core.errors import InputError
from birch_route.core.instrument.carves import CarvedFace
from birch_route.core.instrument.layout import layout_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.proving.ridges import ridges
from birch_route.core.proving.target import target_of
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"
STATIONS = [{"at_mm": 0, "drop_mm": 4}, {"at_mm": 6, "drop_mm": 5}, {"at_mm": 13, "drop_mm": 4.2}, {"at_mm": 22, "drop_mm": 0}]
CARVE = {"kind": "carve", "id": "top", "name": "Carved top", "stations": STATIONS}


def put_carve(**instead):
    return {"do": "put_item", "list": "features", "item": {**CARVE, **instead}}


@cache
def carved(pattern="parallel"):
    ball = next(b for b in fitted_route(True).bits if b.form.value == "ball").model_dump(mode="json")
    route = changed(
        route_named(BODY),
        {"do": "put_item", "list": "bits", "item": ball},
        put("piece.features.plate_rebate.shape.y_mm", -70.0),
        put("piece.features.control_cavity.shape.y_mm", -70.0),
        put("piece.features.plate_rebate.shape.width_mm", 46.0),
        put_carve(),
        {"do": "propose"},
    )
    return changed(route, put("operations.surface_finish_top.pattern", pattern))


class Surface(unittest.TestCase):
    def setUp(self):
        self.outline = resolve(route_named(BODY)).outline
        self.face = CarvedFace(np.asarray(self.outline.exterior.coords)[:-1], tuple(s["at_mm"] for s in STATIONS), tuple(s["drop_mm"] for s in STATIONS))

    def test_depth_follows_the_exact_distance_from_the_rim(self):
        rng = np.random.default_rng(3)
        xmin, ymin, xmax, ymax = self.outline.bounds
        x, y = rng.uniform(xmin, xmax, 4000), rng.uniform(ymin, ymax, 4000)
        far = shapely.distance(shapely.points(x, y), self.outline.exterior) * np.where(shapely.contains_xy(self.outline, x, y), 1, -1)
        use = far > -15
        self.assertLess(np.abs(self.face.depth(x, y) - self.face.profile(far))[use].max(), 0.03)
        self.assertLess(np.percentile(np.abs(self.face.depth(x, y) - self.face.profile(far))[use], 99), 0.004)

    def test_stations_are_met_and_nothing_lies_beyond_them(self):
        for s in STATIONS:
            self.assertAlmostEqual(float(self.face.profile(np.array([float(s["at_mm"])]))[0]), s["drop_mm"])
        d = np.linspace(0, 40, 2000)
        self.assertLessEqual(self.face.profile(d).max(), 5.0 + 1e-9)  # the recurve is the lowest
        self.assertEqual(float(self.face.profile(np.array([30.0]))[0]), 0.0)
        self.assertAlmostEqual(float(self.face.profile(np.array([-3.0]))[0]), 4.0)

    def test_turned_over_it_is_the_same_surface(self):
        x, y = np.array([40.0, 200.0, 380.0]), np.array([-100.0, 120.0, 3.0])
        for signs in ((1.0, -1.0), (-1.0, 1.0)):
            np.testing.assert_allclose(self.face.turned(signs).depth(x * signs[0], y * signs[1]), self.face.depth(x, y), atol=0.01)

    def test_the_region_is_the_outline_without_its_flat(self):
        self.assertAlmostEqual(self.face.region().area, self.outline.area - self.outline.buffer(-22, quad_segs=64).area, delta=60)

    def test_stations_out_of_order_or_without_a_flat_are_refused(self):
        for stations in ([{"at_mm": 2, "drop_mm": 4}, {"at_mm": 9, "drop_mm": 0}], [{"at_mm": 0, "drop_mm": 4}, {"at_mm": 9, "drop_mm": 1}], [{"at_mm": 0, "drop_mm": 0}, {"at_mm": 9, "drop_mm": 0}]):
            with self.assertRaises(InputError):
                changed(route_named(BODY), put_carve(stations=stations))


class Cutting(unittest.TestCase):
    def test_it_is_cut_clean_in_parallel_passes_and_in_level_lines(self):
        for pattern in ("parallel", "contour"):
            with self.subTest(pattern):
                proof = proof_of(carved(pattern))
                self.assertEqual(codes(proof), set())
                sim = proof.simulation
                solid, drawn = sim.resolved.solid("top"), target_of(sim)
                _, at = sim.grid.window(*solid.region.bounds)
                over = (np.maximum(sim.result, sim.bottom) - np.maximum(drawn.height, sim.bottom))[at][drawn.judged[at]]
                self.assertGreater(float(over.min()), -0.03)
                step = next(s for s in sim.steps if s.operation.id == "surface_finish_top")
                self.assertLess(ridges(sim, step).p95_mm, 0.02)

    def test_passes_stay_on_one_side_before_they_cross(self):
        """A pass is followed by the one beside it: the bit seldom goes up and over."""
        step = next(s for s in proof_of(carved()).simulation.steps if s.operation.id == "surface_finish_top")
        lifts = int(((step.path.points[1:, 2] > 4.0) & (step.path.points[:-1, 2] < 4.0)).sum())
        self.assertLess(lifts, 150)  # of some 1,200 passes

    def test_the_piece_is_lighter_by_what_the_carve_takes(self):
        before, after = (layout_of(r).weight for r in (changed(carved(), {"do": "remove_item", "list": "features", "id": "top"}), carved()))
        surface = resolve(carved()).solid("top")
        x, y, deep = surface.surface.samples(surface.region, 0.5)
        others = shapely.union_all([s.region for s in resolve(carved()).solids.values() if s.kind not in ("outline", "carve") and s.face.value == "front"])
        taken = float(deep[~shapely.contains_xy(others, x, y)].sum()) * 0.25 * 450e-9 * 1000
        self.assertAlmostEqual((before["kg"] - after["kg"]) * 1000, taken, delta=0.04 * taken)

    def test_a_plate_on_the_slope_is_told_and_the_joint_is_not(self):
        route = changed(carved(), put("piece.features.plate_rebate.shape.y_mm", -100.0))
        found = [f for f in proof_of(route).findings if f.code == "feature.contour_clash"]
        self.assertEqual([f.feature for f in found], ["top"])
        self.assertIn("Plate rebate", found[0].reason)


if __name__ == "__main__":
    unittest.main()
