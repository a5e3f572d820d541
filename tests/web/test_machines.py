"""The shop's machines over HTTP: started, changed, copied, brought in, put away; what cannot be is refused."""

import json
import unittest

from birch_route.core.data import starting_shop
from birch_route.formats.route_file import route_to_text
from tests.support import put, route_named
from tests.web.shop_case import ShopCase


class Machines(ShopCase):
    def new(self, name, kind="bench"):
        status, made = self.call("POST", "machines", {"name": name, "kind": kind})
        self.assertEqual(status, 200, made)
        return self.call("GET", f"machines/{made['machine']}")[1]

    def keep(self, state, **changes):
        body = {"revision": state["revision"], "machine": {**state["machine"], **changes}}
        return self.call("POST", f"machines/{state['machine']['id']}", body)

    def test_a_shop_starts_empty_and_is_named(self):
        self.assertEqual(self.call("POST", "own_shop", {"name": "  ", "unit": "mm"})[0], 422)
        status, shop = self.call("POST", "own_shop", {"name": "Low Barn", "unit": "inch"})
        self.assertEqual((status, shop["named"], shop["name"], shop["unit"]), (200, True, "Low Barn", "inch"))

    def test_every_kind_starts_assumed_and_a_change_is_told_from_that_day(self):
        for kind in starting_shop()["machines"]:
            state = self.new(f"From {kind['id']}", kind["id"])
            self.assertEqual(state["assumed"], state["figures_known"])
            self.assertTrue(all(f["known"]["origin"] == "assumed" for f in state["figures"]))
        status, after = self.keep(state, power_w=2200)
        self.assertEqual(status, 200)
        power = next(f for f in after["figures"] if f["name"] == "power_w")
        self.assertEqual((power["value"], power["known"]["origin"]), (2200, "told"))
        self.assertTrue(power["known"]["on"])
        self.assertEqual(after["assumed"], state["assumed"] - 1)
        self.assertIn("power", after["history"][0]["what"])
        known = {**after["machine"]["known"], "power_w": {"origin": "measured", "on": "2026-11-30", "spread": 40}}
        status, measured = self.keep(after, known=known)
        self.assertEqual(measured["machine"]["known"]["power_w"]["origin"], "measured")

    def test_what_cannot_be_is_refused_by_its_figure_and_nothing_is_changed(self):
        state = self.new("Careful one")
        words_of = state["machine"]["dialect"]
        for changes, where, words in (
            ({"travel_mm": [0, 600, 100]}, "machine.travel_mm.0", "greater than or equal to"),
            ({"travel_mm": [50, 600, 100]}, "travel_mm.0", "cannot be"),
            ({"speeds_rpm": [12000, 9000]}, "speeds_rpm", "does not rise"),
            ({"power_w": 1}, "power_w", "50 W to 30000 W"),
            ({"dialect": {**words_of, "inch": True, "decimals": 2, "arcs": False}}, "dialect", "read back"),
            ({"dialect": {**words_of, "end_word": ""}}, "machine.dialect.end_word", "M30"),
        ):
            status, answer = self.keep(state, **changes)
            with self.subTest(where):
                self.assertEqual((status, answer["where"]), (422, where))
                self.assertIn(words, answer["message"])
        self.assertEqual(self.call("GET", f"machines/{state['machine']['id']}")[1]["revision"], state["revision"])

    def test_two_who_change_it_at_once_are_told(self):
        state = self.new("Shared")
        self.assertEqual(self.keep(state, power_w=1500)[0], 200)
        status, answer = self.keep(state, power_w=1700)
        self.assertEqual((status, answer["code"]), (409, "conflict"))

    def test_it_goes_out_and_comes_in_as_a_file(self):
        state = self.new("Travelled")
        self.keep(state, nut_diameter_mm=31.5)
        status, raw = self.call("GET", f"machines/{state['machine']['id']}/file")
        self.assertEqual(status, 200)
        data = raw if isinstance(raw, dict) else json.loads(raw)
        status, made = self.call("POST", "machine_files", json.dumps(data))
        self.assertEqual(status, 200)
        again = self.call("GET", f"machines/{made['machine']}")[1]["machine"]
        self.assertEqual({**again, "id": ""}, {**data["machine"], "id": ""})
        self.assertNotEqual(again["id"], data["machine"]["id"])
        cut = json.dumps(data, indent=1).replace('"power_w": 1600.0', '"power_w": -1')
        for text, words in (
            ("", "line 1"), ("[]", "birch-machine/1"), (json.dumps(data, indent=1)[:-40], "line"), (cut, "power_w"),
            ('{"schema": "birch-machine/1"}', "machine"),
        ):
            status, answer = self.call("POST", "machine_files", text)
            with self.subTest(words):
                self.assertEqual(status, 422)
                self.assertIn(words, answer["message"])

    def test_a_copy_knows_nothing_as_measured(self):
        state = self.new("First of two")
        known = {"power_w": {"origin": "measured", "on": "2026-11-01"}, "nut_clear_mm": {"origin": "told"}}
        state = self.keep(state, known=known)[1]
        made = self.call("POST", "machines", {"name": "Second of two", "like": state["machine"]["id"]})[1]["machine"]
        copied = self.call("GET", f"machines/{made}")[1]["machine"]["known"]
        self.assertEqual((copied["power_w"]["origin"], copied["nut_clear_mm"]["origin"]), ("assumed", "told"))

    def test_a_change_lists_the_jobs_it_reaches_and_old_revisions_keep_theirs(self):
        state = self.new("Reaching")
        machine = state["machine"]
        route = route_to_text(route_named("control_plate"))
        made = self.call("POST", "routes?measured_here=true", route)[1]
        told = self.call("GET", f"routes/{made['route']}/against/{machine['id']}")[1]
        self.assertIn("travel_mm.0", {d["name"] for d in told})
        body = {"revision": made["revision"], "edits": [put("machine", machine)]}
        status, moved = self.call("POST", f"routes/{made['route']}/edits", body)
        self.assertEqual(status, 200, moved)
        self.assertEqual(self.call("GET", f"routes/{made['route']}/against/{machine['id']}")[1], [])
        after = self.keep(state, waste_board_mm=12.0)[1]
        self.assertEqual([r["route"] for r in after["reaches"]], [made["route"]])
        self.assertEqual([d["name"] for d in after["reaches"][0]["differs"]], ["waste_board_mm"])
        kept = self.call("GET", f"routes/{made['route']}")[1]["document"]["machine"]
        self.assertEqual(kept["waste_board_mm"], 18.0)

    def test_it_is_put_away_and_put_back(self):
        state = self.new("Put away")
        id_ = state["machine"]["id"]
        self.keep(state, power_w=1900)
        self.assertEqual(self.call("POST", f"machines/{id_}/put_away")[0], 200)
        self.assertNotIn(id_, [m["machine"]["id"] for m in self.call("GET", "machines")[1]])
        back = self.call("POST", f"machines/{id_}/put_back", {"revision": state["revision"]})[1]
        self.assertEqual((back["machine"]["power_w"], back["removed"]), (state["machine"]["power_w"], False))
        self.assertIn(id_, [m["id"] for m in self.call("GET", "shop")[1]["machines"]])
        self.assertEqual(self.call("POST", f"machines/{id_}/put_back", {"revision": 99999})[0], 422)
        self.assertEqual(self.call("GET", "machines/never")[0], 422)

    def test_words_are_seen_and_nothing_is_kept(self):
        state = self.new("Wordy")
        words = {**state["machine"]["dialect"], "percent": True}
        status, seen = self.call("POST", "machine_sample", {"machine": {**state["machine"], "dialect": words}})
        self.assertEqual((status, seen["problems"]), (200, []))
        self.assertEqual(seen["files"][0]["lines"][0]["text"], "%")
        wrong = {**words, "decimals": 2, "inch": True, "arcs": False}
        seen = self.call("POST", "machine_sample", {"machine": {**state["machine"], "dialect": wrong}})[1]
        self.assertTrue(seen["problems"])
        self.assertFalse(self.call("GET", f"machines/{state['machine']['id']}")[1]["machine"]["dialect"]["percent"])

    def test_the_first_bits_are_said_once_and_an_unknown_one_is_refused(self):
        self.assertEqual(self.call("POST", "first_bits", {"here": ["flat6", "hammer"]})[0], 422)
        self.assertEqual(self.call("GET", "own_shop")[1]["bits"], 0)
        rows = self.call("POST", "first_bits", {"here": ["flat6", "drill3"]})[1]
        on_hand = {r["bit"]["id"] for r in rows if r["state"] == "on_hand"}
        self.assertEqual(on_hand, {"flat6", "drill3"})
        self.call("POST", "first_bits", {"here": []})
        again = {r["bit"]["id"] for r in self.call("GET", "rack")[1] if r["state"] == "on_hand"}
        self.assertEqual(again, on_hand)


if __name__ == "__main__":
    unittest.main()
