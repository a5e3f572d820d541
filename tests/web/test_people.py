"""Who may do what, over the real server."""

import re
import unittest

from birch_route.formats.route_file import route_to_text
from birch_route.service.people import NotAllowedError, People, Person
from birch_route.store.database import Database
from tests.support import live_server, put, route_named


class Roles(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()
        cls.database = Database(cls.server.database_url, most=1)
        cls.database.open()
        cls.addClassCleanup(cls.database.close)
        cls.people = People(cls.database)
        made = cls.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))[1]
        cls.route, cls.hash = made["route"], made["hash"]
        cls.server.proof(cls.hash)

    def as_(self, role):
        session = self.people.sign_in(self.people.new_link(f"A {role}", role))
        return lambda method, path, body=None: self.server.call(method, path, body, {"Cookie": f"birch_session={session}"})

    def test_a_viewer_looks_and_changes_nothing(self):
        call = self.as_("viewer")
        for path in ("/api/me", "/api/shop", "/api/routes", f"/api/routes/{self.route}", f"/api/routes/{self.route}/layout", f"/api/routes/{self.route}/runs", f"/api/routes/{self.route}/file", f"/api/proofs/{self.hash}"):
            self.assertEqual(call("GET", path)[0], 200, path)
        for path, body in ((f"/api/routes/{self.route}/edits", {"revision": 1, "edits": [put("note", "x")]}), (f"/api/routes/{self.route}/undo", {"revision": 1}), (f"/api/routes/{self.route}/copy", {}),
                           ("/api/routes", b"{}"), (f"/api/routes/{self.route}/release", {"revision": 1}), (f"/api/routes/{self.route}/runs", {"revision": 1, "outcome": "fine"}), ("/api/drawings?name=a.svg", b"<svg/>")):
            status, answer = call("POST", path, body)
            self.assertEqual((status, answer["code"]), (403, "forbidden"), path)
        self.assertEqual(self.server.call("GET", f"/api/routes/{self.route}")[1]["revision"], 1)

    def test_an_operator_runs_and_records_but_plans_nothing(self):
        call = self.as_("operator")
        self.assertEqual(call("POST", f"/api/routes/{self.route}/release", {"revision": 1})[0], 200)
        self.assertEqual(call("POST", f"/api/routes/{self.route}/runs", {"revision": 1, "outcome": "fine", "minutes": {"profile_outline": 2.5}})[0], 200)
        self.assertEqual(call("POST", f"/api/routes/{self.route}/edits", {"revision": 1, "edits": [put("note", "x")]})[0], 403)
        self.assertEqual(call("POST", f"/api/routes/{self.route}/runs", {"revision": 1, "outcome": "splendid"})[0], 422)
        self.assertEqual(call("POST", f"/api/routes/{self.route}/runs", {"revision": 99, "outcome": "fine"})[0], 422)

    def test_a_session_ends_when_its_person_signs_out(self):
        session = self.people.sign_in(self.people.new_link("Somebody", "viewer"))
        self.assertEqual(self.people.of_session(session).role, "viewer")
        self.people.sign_out(session)
        for wrong in (session, "", "made up"):
            with self.assertRaises(NotAllowedError):
                self.people.of_session(wrong)

    def test_only_hashes_of_tokens_are_kept(self):
        token = self.people.new_link("Somebody", "viewer")
        with self.database.transaction() as t:
            kept = [r["token_hash"] for r in t.connection.execute("select token_hash from sign_in_link").fetchall()]
        self.assertNotIn(token, kept)
        self.assertTrue(all(re.fullmatch(r"[0-9a-f]{64}", k) for k in kept))

    def test_every_role_may_look_and_only_a_planner_may_edit(self):
        for role, acts in (("planner", {"edit", "release", "record", "look"}), ("operator", {"release", "record", "look"}), ("viewer", {"look"})):
            person = Person(1, "x", role)
            self.assertEqual({a for a in ("edit", "release", "record", "look") if person.may(a)}, acts)


if __name__ == "__main__":
    unittest.main()
