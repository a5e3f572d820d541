import unittest

from birch_route.formats.route_file import route_to_text
from birch_route.formats.stl import write_stl
from tests.core.test_reliefs import body, dome, mesh
from tests.support import live_server, route_named


class LayoutApi(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
        self.route, self.revision = made["route"], made["revision"]

    def edit(self, *edits):
        status, made = self.call("POST", f"/api/routes/{self.route}/edits", {"revision": self.revision, "edits": list(edits)})
        if status == 200:
            self.revision = made["revision"]
        return status, made

    def layout(self):
        return self.call("GET", f"/api/routes/{self.route}/layout")[1]

    def test_the_saddle_line_is_told_twice_and_the_two_agree_on_the_demo_neck(self):
        saddle = self.layout()["saddle"]
        self.assertAlmostEqual(saddle["from_heel_mm"], 584.2 / 2 - 108.5 + 2.4, places=6)
        self.assertAlmostEqual(saddle["again_mm"], saddle["from_heel_mm"], delta=0.11)

    def test_a_scale_that_is_only_a_name_shows_in_the_second_way(self):
        self.edit({"do": "set", "path": "choices.scale_mm", "value": 590})
        after = self.layout()
        self.assertFalse(after["scale"]["agrees"])
        self.assertAlmostEqual(after["saddle"]["differ_mm"], (584.2 - 590) / 2 * 1, delta=0.2)

    def test_heights_are_solved_for_any_number_with_others_tried_and_nothing_is_kept(self):
        ask = lambda **body: self.call("POST", f"/api/routes/{self.route}/heights", body)  # noqa: E731
        _, found = ask(solve="angle", saddle_mm=17.0)
        self.assertAlmostEqual(found["heights"]["angle_deg"], 0.462, delta=0.01)
        _, shim = ask(solve="shim", saddle_mm=17.0)
        self.assertAlmostEqual(shim["heights"]["shim_mm"], 1.5, delta=0.02)
        _, impossible = ask(solve="action", saddle_mm=60)
        self.assertIn("action", impossible["heights"]["failed"])
        self.assertEqual(ask(solve="depth", saddle_mm=-4)[0], 422)
        self.assertEqual(ask(solve="luck")[0], 422)
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}")[1]["revision"], self.revision)

    def test_without_readings_the_layout_says_what_is_missing_and_computes_nothing(self):
        copy = self.call("POST", f"/api/routes/{self.route}/copy", {})[1]
        out = self.call("GET", f"/api/routes/{copy['route']}/layout")[1]
        self.assertIsNone(out["saddle"])
        self.assertIsNone(out["heights"])
        self.assertIn("Tenor neck, end to 12th fret", out["missing"])

    def test_parts_are_added_measured_and_taken_off_but_not_from_under_a_feature(self):
        self.assertEqual(self.edit({"do": "add_part", "kind": "screw", "name": "Neck screw"})[0], 200)
        self.assertEqual(self.edit({"do": "keep_reading", "part": "screw", "place": "thread_length", "typed": '1 3/4"', "using": "rule"})[0], 200)
        screw = self.layout()["screws"][0]
        self.assertAlmostEqual(screw["long_mm"], 44.45)
        self.assertAlmostEqual(screw["bite_mm"], 44.45 - (45 - 16.1948), delta=0.01)
        self.assertTrue(screw["clear"])
        self.edit({"do": "keep_reading", "part": "screw", "place": "thread_length", "typed": "48"})
        self.edit({"do": "drop_reading", "part": "screw", "place": "thread_length", "index": 0})
        self.assertFalse(self.layout()["screws"][0]["clear"])
        self.assertEqual(self.edit({"do": "remove_part", "part": "screw"})[0], 200)
        status, refused = self.edit({"do": "remove_part", "part": "neck"})
        self.assertEqual(status, 422)
        self.assertIn("Neck pocket", refused["message"])
        self.assertEqual(self.edit({"do": "add_part", "kind": "piano", "name": "x"})[0], 422)

    def test_an_edit_answers_with_what_it_moved(self):
        _, made = self.edit({"do": "set", "path": "choices.action_12th_mm", "value": "2.0"})
        self.assertEqual([m["what"] for m in made["moved"]], ["Pocket deep"])
        self.assertAlmostEqual(made["moved"][0]["after_mm"] - made["moved"][0]["before_mm"], 0.8, places=6)
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}")[1]["moved"], [])

    def test_a_surface_from_a_file_forms_a_face(self):
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(body()))[1]
        asked = f"/api/routes/{made['route']}/relief?revision={made['revision']}&name=dome.stl&unit=mm"
        status, formed = self.call("POST", asked, write_stl(mesh(dome, 4.0)))
        self.assertEqual(status, 200, formed)
        relief = next(f for f in formed["document"]["piece"]["features"] if f["kind"] == "relief")
        self.assertEqual((relief["origin"], relief["face"]), ("dome.stl", "front"))
        self.assertIn("surface_finish_relief_1", [o["id"] for o in formed["document"]["operations"]])
        drawn = next(x for x in formed["drawing"]["solids"] if x["id"] == "relief_1")
        self.assertGreater(max(d for _, d in drawn["profile"]), 5.0)
        self.assertEqual(self.call("POST", asked, write_stl(mesh(dome, 4.0)))[0], 409)  # made on an older revision
        status, refused = self.call("POST", asked.replace(f"revision={made['revision']}", f"revision={formed['revision']}"), b"no surface at all, only words that go on and on and on and on and on and on and on")
        self.assertEqual(status, 422)
        self.assertIn("dome.stl", refused["message"])

    def test_a_wire_hole_is_answered_or_refused_with_a_reason(self):
        text = route_to_text(route_named("siskin_body"))
        number = self.call("POST", "/api/routes?measured_here=true", text)[1]["route"]
        asked = {"first": "control_cavity", "second": "pickup_pocket"}
        status, answer = self.call("POST", f"/api/routes/{number}/wire-hole", asked)
        self.assertEqual(status, 200)
        self.assertGreater(answer["hole"]["wall_mm"], 0)
        self.assertEqual(answer["hole"]["drill_mm"], 5)
        if answer["window"] is not None:
            self.assertLess(answer["window"]["least_deg"], answer["window"]["most_deg"])
        for wrong in ({"drill_mm": -1}, {"second": "control_cavity"}, {"second": "nowhere"}):
            status, refused = self.call("POST", f"/api/routes/{number}/wire-hole", {**asked, **wrong})
            self.assertEqual(status, 422, refused)


if __name__ == "__main__":
    unittest.main()
