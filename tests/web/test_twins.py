"""A trial piece: made of a job, made anew when that changes, its tries, and nothing changed in what it tries."""

import unittest

from birch_route.core.bench import Twin
from birch_route.core.cutting.mechanics import force_per_width
from birch_route.core.data import wood
from birch_route.core.errors import InputError
from birch_route.core.twins import force_ratio, twin_of
from birch_route.demo.fitted import fitted_route, hollow_route
from birch_route.formats.route_file import route_to_text
from tests.support import changed, codes, live_server, proof_of, put, route_named

OF = Twin(of_route=1, of_hash="0" * 64)


class Made(unittest.TestCase):
    def test_the_same_operations_in_another_wood_with_settings_of_its_own(self):
        route = changed(fitted_route(True), put("operations.pocket_neck_pocket.settings.feed_mm_min", 1111))
        twin = twin_of(route, OF, "foam", 45.8)
        what = lambda r: [(o.id, o.features, o.bit) for o in r.operations]  # noqa: E731
        self.assertEqual(what(twin), what(route))
        self.assertEqual(twin.setups, route.setups)
        self.assertEqual(twin.piece, route.piece)
        self.assertEqual(twin.operation("pocket_neck_pocket").settings.feed_mm_min, 1111)  # set by hand stays
        cavity = [twin_of(route, OF, w, 45.8).operation("pocket_control_cavity") for w in ("foam", "ebony")]
        self.assertEqual(cavity[0].settings, route.operation(cavity[0].id).settings)  # the machine bounds both
        self.assertLess(cavity[1].settings.depth_of_cut_mm * cavity[1].settings.feed_mm_min, 6.0 * 2400)
        self.assertEqual((twin.blank.wood, twin.blank.layers, twin.blank.boards), ("foam", [], 1))
        self.assertEqual([s.id for s in twin.bench_steps if s.after is None], [])
        self.assertEqual(codes(proof_of(twin)), codes(proof_of(route)))

    def test_its_own_thickness_tells_what_that_spoils_and_what_leaves_nothing_is_refused(self):
        route = fitted_route(True)
        self.assertIn("feature.floor_thin", codes(proof_of(twin_of(route, OF, "foam", 40.0))))
        skims = route.blank.skim_mm + route.blank.skim_back_mm
        self.assertRaisesRegex(InputError, "leaves nothing", twin_of, route, OF, "foam", skims + 1.0)
        self.assertEqual(twin_of(route, OF, "foam", skims + 1.01).blank.wood, "foam")
        self.assertRaisesRegex(InputError, "glued on between", twin_of, hollow_route(), OF, "foam", 45.0)

    def test_made_anew_it_keeps_what_was_set_by_hand_on_it(self):
        route = route_named("siskin_body")
        twin = twin_of(route, OF, "mdf", 45.8)
        by_hand = changed(twin, put("operations.pocket_control_cavity.settings.feed_mm_min", 999))
        moved = changed(route, {"do": "place_feature", "feature": "pickup_pocket", "dx_mm": 2})
        again = twin_of(moved, OF, "mdf", 45.8, by_hand)
        self.assertEqual(again.operation("pocket_control_cavity").settings.feed_mm_min, 999)
        self.assertEqual(again.piece, moved.piece)
        self.assertEqual(again.job, twin.job)

    def test_how_much_harder_the_good_wood_is_goes_with_its_density(self):
        self.assertAlmostEqual(force_ratio(wood("alder"), wood("foam")), 450 / 35, places=6)
        self.assertAlmostEqual(force_ratio(wood("alder"), wood("alder")), 1.0)
        self.assertGreater(force_per_width(0.1, wood("mdf")), force_per_width(0.1, wood("alder")))


class OverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()

    def new(self, route):
        return self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]

    def make(self, route, thickness=None, unit="mm", wood_id="foam"):
        body = {"wood": wood_id, "thickness": thickness, "unit": unit}
        return self.server.call("POST", f"/api/routes/{route}/twins", body)

    def states(self, route):
        return self.server.call("GET", f"/api/routes/{route}/twins")[1]

    def edit(self, made, *edits):
        body = {"revision": made["revision"], "edits": list(edits)}
        return self.server.call("POST", f"/api/routes/{made['route']}/edits", body)[1]

    def test_made_followed_tried_and_nothing_changed_in_what_it_tries(self):
        real = self.new(route_named("control_plate"))
        status, twin = self.make(real["route"], '1/4"', "inch")
        self.assertEqual((status, twin["document"]["blank"]["thickness_mm"]), (200, 6.35))
        (state,) = self.states(real["route"])
        self.assertEqual((state["route"], state["moved"], state["tries"]), (twin["route"], False, []))
        self.assertEqual(self.states(twin["route"]), [state])
        changed_real = self.edit(real, put("piece.features.outline.name", "Rim"))
        self.assertTrue(self.states(real["route"])[0]["moved"])
        followed = self.server.call("POST", f"/api/routes/{twin['route']}/follow", {"revision": twin["revision"]})[1]
        self.assertFalse(self.states(real["route"])[0]["moved"])
        self.assertEqual(followed["document"]["blank"]["thickness_mm"], 6.35)
        for revision, outcome in ((twin["revision"], "torn"), (followed["revision"], "fine")):
            run = {"revision": revision, "outcome": outcome, "note": "first look", "minutes": {}, "ran": {}}
            self.assertEqual(self.server.call("POST", f"/api/routes/{twin['route']}/runs", run)[0], 200)
        tries = self.states(real["route"])[0]["tries"]
        self.assertEqual([(t["number"], t["outcome"]) for t in tries], [(1, "torn"), (2, "fine")])
        self.assertIn("is now", tries[1]["what"])
        now = self.server.call("GET", f"/api/routes/{real['route']}")[1]
        self.assertEqual((now["hash"], now["revision"]), (changed_real["hash"], changed_real["revision"]))

    def test_what_cannot_be_tried_says_why(self):
        real = self.new(route_named("control_plate"))
        twin = self.make(real["route"])[1]
        thick = [one["document"]["blank"]["thickness_mm"] for one in (real, twin)]
        self.assertEqual(thick[0], thick[1])  # to the last digit, in whatever unit the screen is
        self.assertEqual(self.make(twin["route"])[0], 422)
        self.assertIn("no wood nothing", self.make(real["route"], wood_id="nothing")[1]["message"])
        self.assertEqual(self.make(real["route"], "thick")[0], 422)
        body = {"revision": real["revision"]}
        status, failure = self.server.call("POST", f"/api/routes/{real['route']}/follow", body)
        self.assertEqual((status, failure["where"]), (422, "trial"))
        stale = self.server.call("POST", f"/api/routes/{twin['route']}/follow", {"revision": twin["revision"] + 1})
        self.assertEqual(stale[0], 409)

    def test_a_copy_or_a_file_of_a_trial_stands_for_itself(self):
        real = self.new(route_named("control_plate"))
        twin = self.make(real["route"])[1]
        text = self.server.call("GET", f"/api/routes/{twin['route']}/file")[1]
        again = self.server.call("POST", "/api/routes?measured_here=true", text)[1]
        self.assertIsNone(again["document"]["twin"])
        self.assertEqual([s["route"] for s in self.states(real["route"])], [twin["route"]])
