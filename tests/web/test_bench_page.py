"""The bench over HTTP: jobs are found by words, put away and taken out, copied with or without readings."""

import unittest

from birch_route.formats.route_file import route_to_text
from tests.support import LiveServer, changed, put, route_named


class BenchPage(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)
        cls.plate = cls.bring(changed(route_named("control_plate"), put("job", "Wren plate 100%")))
        noted = changed(route_named("siskin_body"), put("job", "Wren body"), put("note", "For Ilse, by_May"))
        cls.body = cls.bring(noted)
        cls.server.proof(cls.body["hash"])

    @classmethod
    def bring(cls, route):
        return cls.server.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]

    def found(self, search="", **more):
        query = "&".join(f"{k}={v}" for k, v in {"search": search, **more}.items())
        answer = self.server.call("GET", f"/api/routes?{query}")[1]
        return [r["name"] for r in answer["routes"]], answer

    def test_a_job_is_found_by_words_of_its_name_note_wood_and_kind(self):
        for search, names in (
            ("wren", {"Wren plate 100%", "Wren body"}), ("ILSE", {"Wren body"}), ("alder%20wren", {"Wren body"}),
            ("plate%20wren", {"Wren plate 100%"}), ("100%25", {"Wren plate 100%"}), ("by_may", {"Wren body"}),
            ("byxmay", set()), ("wren%20%25", {"Wren plate 100%"}), ("wren%20owl", set()), ("%5C", set()),
        ):
            with self.subTest(search):
                found, answer = self.found(search)
                self.assertEqual(set(found), names)
                self.assertEqual(answer["count"], len(names))

    def test_a_job_put_away_stands_no_more_on_the_bench_and_comes_back_whole(self):
        made = self.bring(changed(route_named("control_plate"), put("job", "Owl")))
        path = f"/api/routes/{made['route']}"
        self.assertEqual(self.server.call("POST", f"{path}/away", {"away": True})[1]["away"], True)
        first = self.found(away="true")[1]["routes"][0]
        self.assertEqual((first["name"], first["away_by"]), ("Owl", "Owner"))
        self.server.call("POST", f"{path}/away", {"away": True})
        self.assertEqual(self.found(away="true")[1]["routes"][0]["away_since"], first["away_since"])
        self.assertNotIn("Owl", self.found()[0])
        self.assertEqual(self.found()[1]["away"], 1)
        self.assertEqual(self.found("owl", away="true")[0], ["Owl"])
        self.assertEqual(self.server.call("GET", path)[1]["hash"], made["hash"])
        self.server.call("POST", f"{path}/away", {"away": False})
        self.assertIn("Owl", self.found()[0])
        self.assertEqual(self.server.call("POST", "/api/routes/9999/away", {"away": True})[0], 422)

    def test_a_copy_has_its_name_and_its_readings_only_where_they_were_asked_for(self):
        other = self.bring(changed(route_named("siskin_body"), put("job", "Jackdaw")))
        path = f"/api/routes/{other['route']}/copy"
        for body, name, counts in (
            ({"name": "Rook two", "readings": True}, "Rook two", True), ({"name": "Rook three"}, "Rook three", False),
            ({}, "Jackdaw, new", False),
        ):
            made = self.server.call("POST", path, body)[1]["document"]
            with self.subTest(name):
                self.assertEqual(made["job"], name)
                self.assertEqual(any(p["readings"] for p in made["parts"]), counts)
        self.assertEqual(self.server.call("POST", path, {"name": ""})[0], 422)
        self.assertEqual(self.server.call("POST", path, {"name": "x" * 81})[0], 422)

    def test_how_far_a_job_is_follows_its_ticks_and_its_runs(self):
        path = f"/api/routes/{self.body['route']}"
        stands = self.server.call("GET", f"{path}/standing")[1]
        self.assertEqual(stands["hash"], self.body["hash"])
        self.assertTrue(stands["outline"] and stands["cuts"])
        self.assertFalse(stands["freed"] or any(s["done"] for s in stands["steps"]))
        wait = next(s for s in self.body["document"]["bench_steps"] if s["wait"])
        self.server.call("POST", f"{path}/bench", {"step": wait["id"], "done": True, "note": ""})
        waits = self.server.call("GET", f"{path}/standing")[1]
        self.assertIn(wait["name"], waits["words"])
        self.assertIsNotNone(waits["waits_until"])
        skipped = self.body["document"]["operations"][0]["id"]
        run = {
            "revision": 1, "outcome": "fine", "note": "", "minutes": {},
            "ran": {skipped: {"is_skipped": True}},
        }
        status, kept = self.server.call("POST", f"{path}/runs", run)
        self.assertEqual(status, 200, kept)
        after = self.server.call("GET", f"{path}/standing")[1]
        cut = {s["id"] for s in after["steps"] if not s["is_bench"] and s["done"]}
        self.assertEqual(cut, {o["id"] for o in self.body["document"]["operations"]} - {skipped})
        self.assertTrue(after["freed"])
        self.server.call("POST", f"{path}/runs/{kept['id']}/withdraw")
        self.assertFalse(self.server.call("GET", f"{path}/standing")[1]["freed"])


if __name__ == "__main__":
    unittest.main()
