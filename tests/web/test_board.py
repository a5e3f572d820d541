"""A fretboard from numbers, over HTTP: made, looked at, changed; what cannot be is said in words."""

import unittest

from birch_route.formats.route_file import route_to_text
from tests.support import live_server, route_named

NUMBERS = {
    "scale_mm": 628.0, "width_nut_mm": 43.0, "width_end_mm": 56.0, "radius_nut_mm": 305.0, "radius_end_mm": 305.0,
    "thickness_mm": 6.0, "wire": {"tang_depth_mm": 1.6, "tang_mm": 0.58, "barbs_mm": 0.86},
}


class OverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()
        cls.shop = cls.server.call("GET", "/api/shop")[1]

    def make(self, **more):
        body = {
            "job": "A board by numbers", "kind": "fretboard", "wood": "rosewood", "thickness_mm": 6.0,
            "machine": self.shop["machines"][0], "bits": self.shop["bits"], "skim_mm": 0.4,
            "board": {**NUMBERS, **more},
        }
        return self.server.call("POST", "/api/jobs", body)

    def edit(self, made, edits):
        return self.server.call(
            "POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": edits}
        )

    def test_a_board_is_made_and_says_what_follows_from_its_numbers(self):
        status, made = self.make()
        self.assertEqual(status, 200, made)
        document = made["document"]
        self.assertEqual((document["piece"]["kind"], document["piece"]["board"]["scale_mm"]), ("fretboard", 628.0))
        blank = document["blank"]
        self.assertAlmostEqual(blank["thickness_mm"], 6.4)
        self.assertLess(blank["x_mm"], -20)
        view = self.server.call("GET", f"/api/routes/{made['route']}/board")[1]
        self.assertEqual(len(view["rows"]), 23)
        self.assertAlmostEqual(view["rows"][12]["from_nut_mm"], 314.0, places=6)
        self.assertEqual((view["bit"]["id"], view["bit"]["ways"]), ("slot06", 1))
        self.assertAlmostEqual(view["rows"][22]["edge_mm"], 6.0 - (305 - (305**2 - 28.0**2) ** 0.5), delta=0.05)
        self.assertIn("fret_slots", [s["id"] for s in made["drawing"]["solids"]])
        changed = self.edit(made, [{"do": "set", "path": "piece.board.scale_mm", "value": '25.5"'}])[1]
        view = self.server.call("GET", f"/api/routes/{made['route']}/board")[1]
        self.assertAlmostEqual(view["rows"][12]["from_nut_mm"], 323.85, places=6)
        moved = self.edit(changed, [{"do": "slots_when", "floors": "following"}])[1]
        order = [o["id"] for o in moved["document"]["operations"]]
        self.assertGreater(order.index("profile_fret_slots"), order.index("surface_finish_board_face"))

    def test_its_proof_is_clean_and_its_programs_read_back(self):
        made = self.make(
            nut_slot_mm=3.2, nut_deep_mm=2.0, before_nut_mm=6.0, marker_mm=6.0, marker_deep_mm=2.0,
            mine=["seat", "past_last_fret_mm", "before_nut_mm"])[1]
        for step in self.server.call("GET", f"/api/routes/{made['route']}/bench")[1]:
            if step["gate"]:
                self.server.call("POST", f"/api/routes/{made['route']}/bench", {"step": step["id"], "done": True})
        proof = self.server.proof(made["hash"])
        self.assertEqual([f for f in proof["report"]["findings"] if f["severity"] != "note"], [])
        release = {"revision": made["revision"], "reasons": {}}
        status, released = self.server.call("POST", f"/api/routes/{made['route']}/release", release)
        self.assertEqual(status, 200, released)

    def test_what_is_only_usual_holds_the_programs_until_it_is_said(self):
        made = self.make(marker_mm=6.0, marker_deep_mm=2.0)[1]
        self.assertEqual({a["path"].rpartition(".")[2] for a in made["drawing"]["assumed"] if "board" in a["path"]},
                         {"seat", "before_nut_mm", "past_last_fret_mm"})
        self.server.proof(made["hash"])
        refused, answer = self.server.call(
            "POST", f"/api/routes/{made['route']}/release", {"revision": made["revision"], "reasons": {}})
        told = [f for f in answer["facts"]["findings"] if f["code"] == "board.unsaid"]
        self.assertEqual((refused, len(told)), (422, 2))
        for one in told:
            made = self.edit(made, one["cures"][0]["edits"])[1]
        self.assertEqual([a for a in made["drawing"]["assumed"] if "board" in a["path"]], [])
        kept = made["document"]["piece"]["board"]
        self.assertEqual(kept["mine"], ["before_nut_mm", "past_last_fret_mm", "seat"])
        typed = self.make(marker_mm=6.0, marker_deep_mm=2.0)[1]
        typed = self.edit(typed, [{"do": "set", "path": "piece.board.past_last_fret_mm", "value": "3/8\""}])[1]
        self.assertEqual(typed["document"]["piece"]["board"]["mine"], ["past_last_fret_mm"])

    def test_readings_of_the_wire_come_before_what_is_told(self):
        made = self.make()[1]
        read = self.edit(made, [
            {"do": "set", "path": "piece.board.wire.readings", "value": {"tang_mm": [0.55, 0.57]}}])[1]
        wire = read["document"]["piece"]["board"]["wire"]
        self.assertEqual((wire["tang_mm"], wire["barbs_mm"]), (0.56, 0.86))
        view = self.server.call("GET", f"/api/routes/{made['route']}/board")[1]
        self.assertAlmostEqual(view["spreads"]["tang_mm"], 0.02)
        self.assertAlmostEqual(view["slot_least_mm"], 0.56)

    def test_numbers_are_tried_without_keeping_anything(self):
        view = self.server.call("POST", "/api/boards", {**NUMBERS, "wire": {}})[1]
        self.assertEqual((len(view["missing"]), view["slot_least_mm"], view["bit"]), (2, None, None))
        self.assertIsNone(view["rows"][5]["deep_mm"])
        two = self.server.call("POST", "/api/boards", {**NUMBERS, "bass_scale_mm": 660.0})[1]
        self.assertNotEqual(two["rows"][0]["slant_deg"], 0)
        self.assertAlmostEqual(two["rows"][7]["slant_deg"], 0.0, places=6)

    def test_what_cannot_be_is_said_where_it_stands(self):
        for wrong, words in (
            ({"radius_nut_mm": 20.0}, "radius_nut_mm"), ({"square_fret": 30}, "square"),
            ({"nut_slot_mm": 3.0}, "reach further behind"), ({"marker_deep_mm": 6.0}, "no room"),
            ({"wire": {"tang_mm": 0.6, "barbs_mm": 0.5}}, "wider across its barbs"),
            ({"scale_mm": None}, "scale_mm"), ({"scale_mm": "nan"}, "scale_mm"), ({"frets": 1000}, "frets"),
        ):
            with self.subTest(wrong):
                for answer in (self.make(**wrong), self.server.call("POST", "/api/boards", {**NUMBERS, **wrong})):
                    self.assertEqual(answer[0], 422)
                    self.assertIn(words, str(answer[1]))
        made = self.make()[1]
        status, answer = self.edit(made, [{"do": "set", "path": "piece.board.square_fret", "value": 40}])
        self.assertEqual(status, 422, answer)
        plain = self.server.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]["route"]
        self.assertEqual(self.server.call("GET", f"/api/routes/{plain}/board")[0], 422)


if __name__ == "__main__":
    unittest.main()
