"""The order of operations: what harms where it stands is told with the move that mends it; the proposed order is left alone."""

import unittest

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.instrument.resolve import resolve
from birch_route.demo.fitted import fitted_route
from tests.core.test_bevels import bevelled
from tests.support import changed, proof_of, put, route_named


def moved(route, operation, to):
    return changed(route, {"do": "move_operation", "operation": operation, "to": to})


def order(route):
    return [f for f in proof_of(route).findings if f.code.startswith("order.")]


class Order(unittest.TestCase):
    def test_an_outline_before_something_else_is_told_and_moved_to_the_end(self):
        route = route_named("siskin_body")
        last = len(route.operations) - 1
        for to, after in ((last - 1, 1), (3, 6)):
            (found,) = order(moved(route, "profile_outline", to))
            self.assertEqual((found.code, found.severity.value), ("order.after_outline", "care"))
            self.assertEqual(found.facts[0].value, after)
            cured = apply_edits(moved(route, "profile_outline", to), [read_edit(e) for e in found.cures[0].edits])
            self.assertEqual([o.id for o in cured.operations], [o.id for o in route.operations])
        self.assertEqual(order(changed(moved(route, "profile_outline", 3), {"do": "choose_school", "operation": "profile_outline", "school": "groove"})), [])  # a groove leaves the piece where it is

    def test_a_skim_after_what_counts_from_it_is_told(self):
        route = moved(route_named("siskin_body"), "drill_string_holes", 0)
        self.assertEqual(order(route), [])  # after the string holes only: a through hole counts from no face
        (found,) = order(moved(route, "face", 2))
        self.assertEqual((found.code, found.operation), ("order.skim_late", "face"))
        self.assertEqual((found.facts[0].value, found.facts[0].unit), (1.0, ""))
        self.assertEqual(order(apply_edits(moved(route, "face", 2), [read_edit(e) for e in found.cures[0].edits])), [])

    def test_a_drill_on_a_slope_is_told_beyond_the_angle_it_wanders_at(self):
        """A bevel as steep as its drop over its width, flat across the middle of its run."""
        for drop, told in ((6.0, True), (3.0, False)):
            route = bevelled(stations=[{"at": 0, "width_mm": 20, "drop_mm": drop}, {"at": 1, "width_mm": 20, "drop_mm": drop}], start=0.3, end=0.4, blend_mm=0)
            x, y = resolve(route).solid("arm").region.representative_point().coords[0]
            drilled = changed(route, {"do": "put_item", "list": "features", "item": {"kind": "hole", "id": "peg", "name": "Peg hole", "points": [[round(x, 1), round(y, 1)]], "diameter_mm": 3, "depth_mm": 15}}, {"do": "propose_for", "feature": "peg"})
            ids = [o.id for o in drilled.operations]
            peg, finish = next(o.id for o in drilled.operations if "peg" in o.features), max(k for k, o in enumerate(drilled.operations) if o.kind.value.startswith("surface"))
            late = drilled if ids.index(peg) > finish else moved(drilled, peg, finish)
            with self.subTest(drop=drop):
                found = [f for f in order(late) if f.code == "order.drill_on_slope"]
                self.assertEqual(len(found), told)
                if told:
                    self.assertEqual([f for f in order(apply_edits(late, [read_edit(e) for e in found[0].cures[0].edits])) if f.code == "order.drill_on_slope"], [])

    def test_the_proposed_order_is_left_alone_on_both_faces(self):
        for route in (route_named("siskin_body"), route_named("siskin_neck_face"), fitted_route(True), changed(route_named("control_plate"), put("note", "again"))):
            self.assertEqual(order(route), [])


if __name__ == "__main__":
    unittest.main()
