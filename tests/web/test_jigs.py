"""Jigs over HTTP: looked at, made, drawn, refused."""

import unittest

from birch_route.demo.jigs import neck_on_vacuum
from birch_route.formats.route_file import route_to_text
from tests.core.test_nest import nested
from tests.support import changed, live_server, put, route_named


class JigsOverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()

    def keep(self, route):
        return self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]["route"]

    def test_a_plan_keeps_nothing_and_a_jig_is_a_job_whose_proof_is_clean(self):
        before = self.server.call("GET", "/api/routes")[1]["count"]
        route = self.keep(neck_on_vacuum())
        status, plan = self.server.call("POST", f"/api/routes/{route}/jig/plan", {"setup": "front", "kind": "board"})
        self.assertEqual(status, 200)
        self.assertIn("Gasket v1", [p["name"] for p in plan["parts"]])
        self.assertEqual(self.server.call("GET", "/api/routes")[1]["count"], before + 1)
        self.server.proof(self.server.call("GET", f"/api/routes/{route}")[1]["hash"])
        made = self.server.call("POST", f"/api/routes/{route}/jig", {"setup": "front", "kind": "board"})[1]
        self.assertEqual(made["document"]["jig"]["made_from"], self.server.call("GET", f"/api/routes/{route}")[1]["hash"])
        self.assertEqual(self.server.proof(made["hash"])["report"]["findings"], [])
        self.assertEqual(self.server.call("GET", "/api/routes")[1]["count"], before + 2)
        early = self.server.call(
            "POST",
            f"/api/routes/{self.keep(changed(neck_on_vacuum(), put('note', 'not proved')))}/jig",
            {"setup": "front", "kind": "board"},
        )[1]
        self.assertIsNone(early["document"]["jig"]["holding"])
        self.assertIsNotNone(made["document"]["jig"]["holding"])

    def test_a_nest_and_fences_are_made_and_supports_are_drawn_from_the_proof(self):
        turned = changed(nested(), {"do": "put_hardware", "setup": "back", "hardware": {"id": "u1", "kind": "spacer", "x_mm": 380, "y_mm": 100, "length_mm": 60, "width_mm": 12, "angle_deg": 45, "shaped": True}})
        made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(turned))[1]
        for kind in ("nest", "lines"):
            status, jig = self.server.call("POST", f"/api/routes/{made['route']}/jig", {"setup": "back", "kind": kind, "about": "length"})
            self.assertEqual((status, jig["document"]["jig"]["kind"]), (200, kind))
        status, answer = self.server.call("POST", f"/api/routes/{made['route']}/jig", {"setup": "back", "kind": "corner", "about": "length"})
        self.assertEqual((status, "edges are gone" in answer["message"]), (422, True))
        self.server.proof(made["hash"])
        status, drawn = self.server.call("GET", f"/api/routes/{made['route']}/supports/back/svg")
        self.assertEqual((status, "u1" in str(drawn)), (200, True))
        self.assertEqual(self.server.call("GET", f"/api/routes/{made['route']}/supports/front/dxf")[0], 422)

    def test_work_on_an_end_is_a_job_of_its_own_whose_programs_are_written(self):
        route = self.keep(route_named("siskin_neck_face"))
        asked = {"end": "left", "cut": "holes", "count": 2, "apart_mm": 18.0, "across_mm": 6.0, "deep_mm": 10.0, "wanted_deg": 2.0}
        status, plan = self.server.call("POST", f"/api/routes/{route}/end/plan", asked)
        self.assertEqual((status, plan["operations"]), (200, ["Skim the face", "Holes in the end"]))
        made = self.server.call("POST", f"/api/routes/{route}/end", asked)[1]
        self.assertEqual((made["document"]["piece"]["kind"], made["document"]["end_work"]["made_for"]), ("end", route_named("siskin_neck_face").job))
        self.assertEqual(self.server.proof(made["hash"])["report"]["findings"], [])
        reasons = {"bench.open": "Tried in a test"}
        status, release = self.server.call("POST", f"/api/routes/{made['route']}/release", {"revision": made["revision"], "reasons": reasons})
        self.assertEqual(status, 200, release)
        for wrong, words in (({"count": 12}, "must stay beside it"), ({"wanted_deg": 30.0}, "allows 12"), ({"end": "top"}, "")):
            status, answer = self.server.call("POST", f"/api/routes/{route}/end", {**asked, **wrong})
            self.assertEqual((status, words in str(answer)), (422, True))

    def test_what_cannot_be_held_is_refused_in_words(self):
        bare = changed(route_named("control_plate"), *({"do": "remove_hardware", "setup": "front", "hardware": f"s{k}"} for k in (1, 2, 3, 4)))
        status, answer = self.server.call("POST", f"/api/routes/{self.keep(bare)}/jig", {"setup": "front", "kind": "board"})
        self.assertEqual((status, "Put screws" in answer["message"]), (422, True))
        route = self.keep(route_named("control_plate"))
        self.assertEqual(self.server.call("POST", f"/api/routes/{route}/jig", {"setup": "front", "kind": "cradle"})[0], 422)
        status, answer = self.server.call("POST", f"/api/routes/{route}/jig", {"setup": "front", "kind": "vice", "wanted_deg": 30.0})
        self.assertEqual((status, "allows 12" in answer["message"]), (422, True))
        self.assertEqual(self.server.call("GET", f"/api/routes/{route}/drawing/png")[0], 422)


if __name__ == "__main__":
    unittest.main()
