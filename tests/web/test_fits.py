"""How parts fitted, over HTTP: kept, told, offered to the next job, withdrawn."""

import unittest

from birch_route.core.fits import fits_of
from birch_route.formats.route_file import route_to_text
from tests.support import LiveServer, changed, put, route_named

NECK = "neck_pocket"


class Fits(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)

    def setUp(self):
        body = changed(route_named("siskin_body"), put("machine.name", f"Machine of {self.id()[-30:]}"))
        self.route = body
        self.state = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(body))[1]
        self.path = f"/api/routes/{self.state['route']}/fits"

    def keep(self, path=None, **more):
        body = {"revision": self.state["revision"], "feature": NECK, "went": "fits", **more}
        return self.server.call("POST", path or self.path, body)

    def told(self, path=None, feature=NECK):
        return next(f for f in self.server.call("GET", path or self.path)[1] if f["feature"] == feature)

    def test_what_fitted_is_kept_offered_and_withdrawn(self):
        self.assertEqual([f["feature"] for f in self.server.call("GET", self.path)[1]],
                         [f.feature for f in fits_of(self.route)])
        self.assertEqual((self.told()["kept"], self.told()["past"]), ([], None))
        status, answer = self.keep(measured_mm=self.told()["drawn_mm"] - 0.06)
        self.assertEqual(status, 200, answer)
        told = self.told()
        self.assertEqual((told["kept"][0]["went"], told["kept"][0]["made_by"]), ("fits", "Owner"))
        self.assertEqual(told["gap"]["edits"], [{"do": "set", "path": "choices.fit_gap_mm", "value": 0.051}])
        self.assertEqual(told["past"]["edits"][0]["value"], -0.03)
        self.assertIn("mm|.2f⟧ short of the line", told["past"]["words"])
        edits = {"revision": self.state["revision"], "edits": [*told["gap"]["edits"], *told["past"]["edits"]]}
        self.assertEqual(self.server.call("POST", self.path.replace("fits", "edits"), edits)[0], 200)
        self.assertEqual([self.told()[k]["edits"] for k in ("gap", "past")], [[], []])
        one = told["kept"][0]["id"]
        self.assertEqual(self.server.call("POST", f"{self.path}/{one}/withdraw")[0], 200)
        self.assertEqual((self.told()["kept"][0]["withdrawn"], self.told()["past"]), ("Owner", None))
        self.assertEqual(self.server.call("POST", f"{self.path}/{one}/withdraw")[0], 422)

    def test_the_next_job_on_this_machine_starts_with_the_gap_that_fitted(self):
        self.keep(measured_mm=self.told()["part_mm"] + 0.12)
        document = self.server.call("GET", f"/api/routes/{self.state['route']}")[1]["document"]
        new = {"job": "Next", "kind": "body", "style": "plover", "wood": "alder", "thickness_mm": 45,
               "machine": document["machine"], "bits": document["bits"], "with_parts": True}
        status, made = self.server.call("POST", "/api/jobs", new)
        self.assertEqual(status, 200, made)
        other = {**new, "machine": {**document["machine"], "name": "Another machine"}}
        begun = self.server.call("POST", "/api/jobs", other)[1]["document"]["choices"]
        self.assertEqual((begun["fit_gap_mm"], begun["mine"]), (0.08, []))
        choices = self.server.call("GET", f"/api/routes/{made['route']}")[1]["document"]["choices"]
        self.assertEqual((choices["fit_gap_mm"], choices["mine"]), (0.06, ["fit_gap_mm"]))

    def test_what_cannot_be_is_refused_from_both_sides_and_nothing_is_kept(self):
        drawn = self.told()["drawn_mm"]
        self.assertEqual(self.keep(measured_mm=drawn + 3.01)[0], 422)
        self.assertEqual(self.keep(measured_mm=drawn - 3.01)[0], 422)
        for wrong in ({"left_mm": 0.05}, {"feature": "control_cavity"}, {"revision": 99}, {"went": "so so"}):
            status, answer = self.keep(**wrong)
            self.assertEqual(status, 422, wrong)
            self.assertTrue(answer["message"])
        self.assertEqual(self.told()["kept"], [])
        self.assertEqual(self.server.call("GET", "/api/routes/9999/fits")[0], 422)
        for near in (drawn + 2.99, drawn - 2.99):
            self.assertEqual(self.keep(measured_mm=near)[0], 200)
        self.assertEqual(len(self.told()["kept"]), 2)
