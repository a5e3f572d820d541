"""The thinnest floors of a piece, against thicknesses worked out from its features."""

import unittest

import numpy as np

from birch_route.core.proving.prove import prove
from birch_route.core.proving.thickness import thickness, thin_places
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import body_route, cover_plate_route
from tests.support import changed, put


class ThicknessTest(unittest.TestCase):
    def test_floors_of_a_body(self):
        proof = prove(body_route())
        found = thin_places(proof.simulations[-1])
        self.assertEqual([t.thick_mm for t in found], sorted(t.thick_mm for t in found))
        depths = {s.id: -s.floor_mm for s in proof.simulation.resolved.solids.values() if s.floor_mm is not None}
        for one in found:
            deepest = max(depths[f] for f in one.features)
            self.assertAlmostEqual(one.thick_mm, 45.0 - deepest, delta=0.02)  # the finished body is 45 thick
        self.assertIn("control_cavity", found[0].features)
        told = {f for t in found for f in t.features}
        self.assertLessEqual({"control_cavity", "pickup_pocket", "post_holes", "neck_pocket"}, told)

    def test_a_floor_is_told_once_and_follows_its_depth(self):
        route = changed(body_route(), put("piece.features.control_cavity.depth_mm", 36.0))
        found = thin_places(prove(route).simulations[-1])
        self.assertEqual(["control_cavity" in t.features for t in found].count(True), 1)
        self.assertAlmostEqual(found[0].thick_mm, 9.0, delta=0.02)

    def test_both_faces_and_an_opening_between_them(self):
        """The switch cavity leaves 7.0 to the front; the screw holes that open into it are no thin floor."""
        proof = prove(fitted_route(True))
        found = thin_places(proof.simulations[-1])
        self.assertEqual(set(found[0].features), {"switch_cavity", "cover_rebate"})
        self.assertAlmostEqual(found[0].thick_mm, 7.0, delta=0.02)
        left = thickness(proof.simulations[-1])
        self.assertTrue(np.isfinite(left).any())
        self.assertLessEqual(float(np.nanmax(left)), 45.02)

    def test_a_sheet_with_nothing_but_holes_has_none(self):
        self.assertEqual(thin_places(prove(cover_plate_route()).simulations[-1]), [])


if __name__ == "__main__":
    unittest.main()
