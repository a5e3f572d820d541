"""Settings that were proposed for another wood or machine are told, and proposed anew but for what a person has set."""

import unittest

from birch_route.core.instrument.resolve import resolve
from birch_route.core.sequence.renew import stale
from birch_route.demo.fitted import fitted_route
from birch_route.demo.shop import MACHINES
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"


class Stale(unittest.TestCase):
    def test_the_same_wood_is_never_stale(self):
        for route in (route_named(BODY), fitted_route(True), route_named("control_plate")):
            self.assertEqual(stale(route, resolve(route)), [])
            self.assertTrue(all(o.made_for == (o.made_for[0], route.machine.name) for o in route.operations))

    def test_another_wood_is_told_once_and_the_cure_is_what_a_fresh_proposal_says(self):
        """Every setting then stands as if the route had been proposed for that wood from the beginning."""
        for base in (route_named(BODY), fitted_route(True)):
            other = changed(base, put("blank.wood", "rosewood"))
            found = [f for f in proof_of(other).findings if f.code == "settings.stale"]
            self.assertEqual(len(found), 1)
            renewed = changed(other, *found[0].cures[0].edits)
            self.assertNotIn("settings.stale", codes(proof_of(renewed)))
            fresh = {o.id: o for o in changed(other, {"do": "propose"}).operations}
            for op in renewed.operations:
                if op.kind.startswith("surface") or op.bit != fresh[op.id].bit:
                    continue  # their steps follow the ridge, not the wood; another wood may be faced with another bit
                with self.subTest(op.id):
                    self.assertEqual(op.settings, fresh[op.id].settings)
                    self.assertEqual(op.finish_depth_mm, fresh[op.id].finish_depth_mm)

    def test_what_a_person_has_set_stays(self):
        told = changed(route_named(BODY), put("operations.pocket_pickup_pocket.settings.feed_mm_min", 1234), put("blank.wood", "rosewood"))
        self.assertIn("feed_mm_min", told.operation("pocket_pickup_pocket").told)
        after = changed(told, {"do": "renew_settings"})
        self.assertEqual(after.operation("pocket_pickup_pocket").settings.feed_mm_min, 1234)
        one = changed(told, {"do": "renew_settings", "operation": "pocket_control_cavity"})
        self.assertEqual(one.operation("pocket_neck_pocket").settings, told.operation("pocket_neck_pocket").settings)
        self.assertEqual(one.operation("pocket_control_cavity").made_for[0], "rosewood")

    def test_another_machine_and_a_harder_cap_are_told_too(self):
        machine = next(m for m in MACHINES if m["name"] != route_named(BODY).machine.name)
        other = changed(route_named(BODY), put("machine", machine))
        self.assertEqual([f.code for f in proof_of(other).findings if f.code == "settings.stale"], ["settings.stale"])
        thick = route_named(BODY).blank.thickness_mm
        capped = changed(route_named(BODY), *({"do": "put_item", "list": "layers", "item": i} for i in ({"id": "cap", "kind": "cap", "wood": "ebony", "thickness_mm": 6}, {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": thick - 6})))
        self.assertIn("settings.stale", codes(proof_of(capped)))

    def test_engaged_clearing_is_renewed_as_such(self):
        engaged = changed(route_named(BODY), {"do": "choose_clearing", "operation": "pocket_control_cavity", "clearing": "engaged"}, put("blank.wood", "rosewood"))
        after = changed(engaged, {"do": "renew_settings"})
        fresh = changed(engaged, {"do": "choose_clearing", "operation": "pocket_control_cavity", "clearing": "engaged"})
        self.assertEqual(after.operation("pocket_control_cavity").settings.depth_of_cut_mm, fresh.operation("pocket_control_cavity").settings.depth_of_cut_mm)
        self.assertEqual(after.operation("pocket_control_cavity").made_for[0], "rosewood")


if __name__ == "__main__":
    unittest.main()
