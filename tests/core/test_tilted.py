"""Pockets with a tilted floor: the plane, the stack that goes with it, the wood it leaves on either face."""

import math
import unittest

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.instrument.layout import layout_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.operations.tilted import row_step, tip_over
from birch_route.core.proving.target import target_of, unreached
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

BODY, TILT = "siskin_body", "piece.features.neck_pocket.tilt_deg"


def tilted(deg, name=BODY):
    return changed(route_named(name), put(TILT, deg))


class Plane(unittest.TestCase):
    def test_the_depth_holds_at_the_heel_s_end_and_grows_toward_the_nut(self):
        solid = resolve(tilted(2.0)).solid("neck_pocket")
        floor = solid.surface
        x = np.array([0.0, 30.0, floor.x_mm])
        np.testing.assert_allclose(floor.plane(x), floor.end_mm + (floor.x_mm - x) * math.tan(math.radians(2.0)), atol=1e-9)
        self.assertAlmostEqual(floor.shallowest_mm, float(floor.plane(x[2:])[0]))
        self.assertAlmostEqual(-solid.floor_mm, float(floor.plane(x[:1])[0]))

    def test_turned_over_it_is_the_same_plane_of_the_piece(self):
        floor = resolve(tilted(2.0)).solid("neck_pocket").surface
        x, y = np.array([5.0, 40.0]), np.array([3.0, -8.0])
        for signs in ((1.0, -1.0), (-1.0, 1.0)):
            np.testing.assert_allclose(floor.turned(signs).depth(signs[0] * x, signs[1] * y), floor.depth(x, y))

    def test_the_stack_lets_the_strings_meet_the_saddle(self):
        """Straight string over the tilted fret plane, worked out from the ends."""
        for deg in (0.0, 1.2, 2.5):
            route = tilted(deg)
            stack = layout_of(route).heights
            self.assertAlmostEqual(stack["angle_deg"], deg, places=3)
            heel_end = stack["heel_mm"] + stack["fret_mm"] - stack["depth_mm"]  # fret plane over the face at the heel's end
            plane = heel_end + stack["reach_mm"] * math.tan(math.radians(deg))
            string = plane + 2 * stack["action_12th_mm"] - stack["at_nut_mm"]
            self.assertAlmostEqual(string, stack["saddle_mm"] - stack["recess_mm"], delta=0.01)

    def test_a_tilt_out_of_the_face_or_of_a_through_pocket_is_refused(self):
        with self.assertRaises(InputError):
            proof_of(changed(route_named(BODY), put("piece.features.bridge_recess.tilt_deg", -9.0)))
        with self.assertRaises(InputError):
            resolve(changed(route_named(BODY), put("piece.features.pickup_pocket.depth_from", None), put("piece.features.pickup_pocket.depth_mm", None), put("piece.features.pickup_pocket.tilt_deg", 1.0)))


class Wood(unittest.TestCase):
    def test_the_floor_is_the_plane_within_the_ridge_and_nothing_is_cut_below_it(self):
        for deg in (0.4, 2.0, -0.8):
            sim = proof_of(tilted(deg)).simulation
            solid = sim.resolved.solid("neck_pocket")
            part, at = sim.grid.window(*solid.region.buffer(-3.2).bounds)
            want = -solid.surface.plane(part.x_centres())[None, :]
            holes = np.zeros(want.shape[1:], bool) | np.zeros((part.ny, part.nx), bool)
            for hole in (s for s in sim.resolved.solids.values() if s.kind == "hole" and s.region.intersects(solid.region)):
                for x, y in hole.points:
                    holes |= np.hypot(part.x_centres()[None, :] - x, part.y_centres()[:, None] - y) < hole.diameter_mm / 2 + 0.3
            over = np.where(holes, 0.0, sim.result[at] - want)
            self.assertGreater(over.min(), -0.005)
            judged = target_of(sim).judged[at]
            self.assertLess(over[judged].max(), 0.03)

    def test_what_a_level_bit_must_leave_by_an_independent_sum(self):
        """At the side wall only the rim of the bit touches: it leaves its radius times the fall."""
        sim = proof_of(tilted(2.0)).simulation
        solid = sim.resolved.solid("neck_pocket")
        left = unreached(sim, solid, 3.0)
        self.assertAlmostEqual(float(left.max()), 3.0 * math.tan(math.radians(2.0)), delta=0.02)
        part, at = sim.grid.window(*solid.region.bounds)
        row = int((0.0 - part.y0_mm) / part.cell_mm)
        self.assertLess(left[row, 60:-60].max(), 0.02)
        stands = sim.result[at] + solid.surface.plane(part.x_centres())[None, :]
        inside = (left > 0.03) & target_of(sim).judged[at]
        self.assertEqual(int(inside.sum()), 0)
        side = (left > 0.04) & (stands < 5)
        self.assertLess(np.abs(stands[side] - left[side]).max(), 0.05)

    def test_little_is_not_told_and_more_is(self):
        self.assertIn("feature.tilt_left", codes(proof_of(tilted(1.2))))
        self.assertEqual(codes(proof_of(tilted(0.6))), set())

    def test_rows_stand_no_farther_apart_than_the_step_allows(self):
        floor = resolve(tilted(3.0)).solid("neck_pocket").surface
        self.assertAlmostEqual(row_step(floor, 5.0, 0.012) * math.sin(math.radians(3.0)), 0.012, places=6)
        self.assertEqual(row_step(floor, 0.1, 0.012), 0.1)
        self.assertAlmostEqual(float(tip_over(floor, 3.0, np.array([30.0]))[0] + floor.plane(np.array([27.0, 33.0])).min()), 0.0, places=9)  # rests on its uphill rim

    def test_on_the_back_face_too(self):
        route = changed(fitted_route(True), put("piece.features.cover_rebate.tilt_deg", 0.4))
        sim = proof_of(route).simulations[1]
        drawn = target_of(sim)
        _, at = sim.grid.window(*sim.resolved.solid("cover_rebate").region.bounds)
        self.assertLess(np.abs((np.maximum(sim.result, sim.bottom) - np.maximum(drawn.height, sim.bottom))[at][drawn.judged[at]]).max(), 0.05)
        self.assertNotIn("feature.gouged", codes(proof_of(route)))


if __name__ == "__main__":
    unittest.main()
