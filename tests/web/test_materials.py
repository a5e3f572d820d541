"""Materials of a shop's own over HTTP: told, weighed, chosen for a job, put away; jobs keep what they have."""

import unittest

from birch_route.formats.route_file import route_to_text
from tests.support import put, route_named
from tests.web.shop_case import ShopCase

PADAUK = {"name": "Padauk", "like": "hard_maple", "density_kg_m3": 750, "tear_out": "interlocked", "dust": "sensitiser"}
BOARD = {"length_mm": 1000, "width_mm": 200, "thickness_mm": 50}


class Materials(ShopCase):
    def new(self, **more):
        status, made = self.call("POST", "materials", {**PADAUK, **more})
        self.assertEqual(status, 200, made)
        return made["material"]

    def row(self, material):
        return next(r for r in self.call("GET", "materials")[1] if r["wood"]["id"] == material)

    def weigh(self, wood, kg, **more):
        status, board = self.call("POST", "wood", {"name": "Board", "wood": wood, "weighed_kg": kg, **BOARD, **more})
        self.assertEqual(status, 200, board)
        return board

    def test_its_boards_say_what_it_weighs_and_how_damp_it_is(self):
        material = self.new(name="Weighed one")
        self.weigh(material, 7.0, moisture_pct=9.0)
        board = self.weigh(material, 8.0, moisture_pct=10.0)
        self.assertEqual((board["table_kg_m3"], board["density_kg_m3"]), (750, 800))
        row = self.row(material)
        self.assertEqual((row["wood"]["density_kg_m3"], row["weighed"]["count"], row["told_kg_m3"]), (750.0, 2, 750))
        self.assertAlmostEqual(row["weighed"]["spread_kg_m3"], 70.7)
        self.assertEqual(row["moisture_pct"], 9.5)
        self.weigh("limba", 6.0)
        self.assertEqual(self.row("limba")["wood"]["density_kg_m3"], 600.0)
        shop = {w["id"]: w for w in self.call("GET", "shop")[1]["woods"]}
        self.assertEqual((shop["limba"]["density_kg_m3"], shop[material]["weighed"]), (600.0, 2))

    def test_a_job_takes_it_when_it_is_chosen_and_keeps_it_as_it_was(self):
        material = self.new(name="Chosen")
        status, job = self.call("POST", "routes", route_to_text(route_named("control_plate")))
        self.assertEqual(status, 200, job)
        edit = {"revision": job["revision"], "edits": [put("blank.wood", material)], "reason": ""}
        status, after = self.call("POST", f"routes/{job['route']}/edits", edit)
        self.assertEqual(status, 200, after)
        self.assertEqual([m["density_kg_m3"] for m in after["document"]["materials"]], [750])
        row = self.row(material)
        told = {**PADAUK, "name": "Chosen", "density_kg_m3": 900, "revision": row["revision"]}
        self.assertEqual(self.call("POST", f"materials/{material}", told)[0], 200)
        self.assertEqual(self.call("POST", f"materials/{material}", told)[0], 409)
        rename = {"revision": after["revision"], "edits": [put("job", "Again")], "reason": ""}
        status, after = self.call("POST", f"routes/{job['route']}/edits", rename)
        self.assertEqual([m["density_kg_m3"] for m in after["document"]["materials"]], [750])
        self.assertEqual(self.call("POST", f"materials/{material}/put_away")[0], 200)
        self.assertNotIn(material, [r["wood"]["id"] for r in self.call("GET", "materials")[1]])
        status, copy = self.call("POST", f"routes/{job['route']}/copy", {})
        self.assertEqual((status, copy["document"]["blank"]["wood"]), (200, material))

    def test_settings_are_asked_and_cuts_kept_in_it(self):
        material = self.new(name="Asked")
        machine = self.call("POST", "machines", {"name": "M", "kind": "bench"})[1]["machine"]
        machine = self.call("GET", f"machines/{machine}")[1]["machine"]
        bit = next(b for b in route_named("siskin_body").model_dump(mode="json")["bits"] if b["form"] == "flat")
        status, asked = self.call("POST", "settings/question", {"machine": machine, "bit": bit, "wood": material})
        self.assertEqual(status, 200, asked)
        self.assertEqual(
            self.call("POST", "settings/question", {"machine": machine, "bit": bit, "wood": "own_no"})[0], 422
        )

    def test_what_cannot_be_is_refused_and_nothing_is_kept(self):
        count = len(self.call("GET", "materials")[1])
        for wrong, where in (
            ({"density_kg_m3": 1}, "density_kg_m3"),
            ({"like": "own_x"}, "like"),
            ({"name": " "}, "name"),
            ({"resists": 99}, "resists"),
            ({"tear_out": "wild"}, "tear_out"),
        ):
            status, failure = self.call("POST", "materials", {**PADAUK, **wrong})
            self.assertEqual((status, failure["where"]), (422, where))
        self.assertEqual(self.call("POST", "materials/alder", {**PADAUK, "revision": 0})[0], 422)
        self.assertEqual(self.call("POST", "wood", {"name": "B", "wood": "own_no", **BOARD})[0], 422)
        self.assertEqual(len(self.call("GET", "materials")[1]), count)


if __name__ == "__main__":
    unittest.main()
