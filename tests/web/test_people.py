"""Who is in the shop and what each may do, on every path that the server has."""

import http.client
import inspect
import unittest
from pathlib import Path

from fastapi.routing import APIRoute

from birch_route.formats.route_file import route_to_text
from birch_route.web.app import make_app
from tests.support import LiveServer, route_named

# what changes nothing of the shop: asking, reckoning, and signing oneself out
ASKS = {
    "/api/boards", "/api/necks", "/api/necks/liked",
    "/api/sign-out", "/api/machine_sample", "/api/routes/{route_id}/wire-hole", "/api/plank-yield",
    "/api/settings/plan", "/api/settings/question", "/api/routes/{route_id}/heights", "/api/routes/{route_id}/jig/plan",
    "/api/routes/{route_id}/end/plan",
}


CHANGING = {"POST", "PUT", "DELETE", "PATCH"}


def handlers():
    """Return the handlers of the server."""
    out = []
    for one in make_app("postgresql://nowhere", Path("/nowhere")).routes:
        inner = getattr(one, "original_router", None)
        out += [one] if inner is None else inner.routes
    return [one for one in out if isinstance(one, APIRoute) and one.include_in_schema]


class People(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = LiveServer(demo=False)
        cls.addClassCleanup(cls.server.remove)
        cls.planner = cls.server.cookie
        cls.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))

    def setUp(self):
        self.server.cookie = self.planner

    def as_person(self, name, role):
        """Return the cookie of a new person, and the link that was used."""
        self.server.cookie = self.planner
        status, made = self.server.call("POST", "/api/people", {"name": name, "role": role})
        self.assertEqual(status, 200, made)
        return self.sign_in(made["link"]), made

    def sign_in(self, link):
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=20)
        connection.request("GET", link[link.index("/sign-in"):])
        answer = connection.getresponse()
        answer.read()
        connection.close()
        return answer.getheader("Set-Cookie", "").split(";")[0]

    def test_a_link_works_once_and_its_code_says_the_same(self):
        cookie, made = self.as_person("Jon", "operator")
        self.server.cookie = cookie
        self.assertEqual(self.server.call("GET", "/api/me")[1], {"name": "Jon", "role": "operator"})
        self.assertEqual(self.sign_in(made["link"]), "")
        self.assertTrue(made["code"].startswith("data:image/svg+xml"))
        self.server.cookie = self.planner
        status, answer = self.server.call("POST", "/api/people", {"name": "Jon", "role": "viewer"})
        self.assertEqual((status, answer["where"]), (422, "name"))
        again = self.server.call("POST", f"/api/people/{self.number('Jon')}/link")[1]
        self.assertTrue(self.sign_in(again["link"]))

    def number(self, name):
        self.server.cookie = self.planner
        return next(p["id"] for p in self.server.call("GET", "/api/people")[1] if p["name"] == name)

    def test_signed_out_everywhere_is_out_at_once_and_unused_links_end(self):
        cookie, _ = self.as_person("Mara", "operator")
        unused = self.server.call("POST", f"/api/people/{self.number('Mara')}/link")[1]["link"]
        self.server.call("POST", f"/api/people/{self.number('Mara')}/sign_out")
        self.server.cookie = cookie
        self.assertEqual(self.server.call("GET", "/api/me")[0], 401)
        self.assertEqual(self.sign_in(unused), "")

    def test_somebody_must_be_left_who_plans(self):
        planner = next(p for p in self.server.call("GET", "/api/people")[1] if p["role"] == "planner")
        path = f"/api/people/{planner['id']}"
        status, answer = self.server.call("POST", path, {"name": planner["name"], "role": "viewer"})
        self.assertEqual((status, answer["where"]), (422, "role"))
        self.as_person("Second planner", "planner")
        self.assertEqual(self.server.call("POST", path, {"name": "Founder", "role": "planner"})[0], 200)
        self.assertEqual(self.server.call("POST", path, {"name": "  ", "role": "planner"})[0], 422)
        self.assertEqual(self.server.call("POST", path, {"name": "Second planner", "role": "planner"})[0], 422)
        self.assertEqual(self.server.call("POST", "/api/people/9999", {"name": "No", "role": "viewer"})[0], 422)

    def test_who_only_looks_changes_nothing_on_any_path(self):
        cookie, _ = self.as_person("Visitor", "viewer")
        for path, method in self.paths():
            if path in ASKS:
                continue
            self.server.cookie = cookie
            with self.subTest(path):
                status, answer = self.send(method, path)
                self.assertIn(status, (403, 422), answer)
        self.server.cookie = self.planner
        self.assertEqual(len(self.server.call("GET", "/api/routes/1/revisions")[1]), 1)

    def test_every_handler_that_is_no_question_asks_for_the_role(self):
        silent = set()
        for one in handlers():
            if one.methods & CHANGING and "need(person" not in inspect.getsource(one.endpoint):
                silent.add(one.path)
        self.assertEqual(silent, ASKS)

    def test_an_operator_records_and_does_not_plan(self):
        cookie, _ = self.as_person("Hand", "operator")
        self.server.cookie = cookie
        revision = self.server.call("GET", "/api/routes/1")[1]["revision"]
        edit = {"revision": revision, "edits": [{"do": "set", "path": "job", "value": "Mine"}]}
        self.assertEqual(self.server.call("POST", "/api/routes/1/edits", edit)[0], 403)
        self.assertEqual(self.server.call("POST", "/api/people", {"name": "Friend", "role": "planner"})[0], 403)
        self.assertEqual(self.server.call("POST", "/api/backups")[0], 403)
        self.assertEqual(self.server.call("GET", "/api/open_files")[0], 403)
        step = self.server.call("GET", "/api/routes/1/bench")[1]
        if step:
            self.assertEqual(self.server.call("POST", "/api/routes/1/bench", {"step": step[0]["id"]})[0], 200)

    def test_nobody_who_is_not_signed_in_gets_anything(self):
        self.server.cookie = ""
        for path, method in [*self.paths(), *((p, "GET") for p in self.gets())]:
            if path in ("/api/health", "/api/sign-out"):
                continue
            with self.subTest(path):
                self.assertEqual(self.send(method, path)[0], 401)

    def send(self, method, path):
        for name in ("{route_id}", "{number}", "{board}", "{drawing_id}", "{upload_id}", "{on_revision}", "{trial}"):
            path = path.replace(name, "1")
        while "{" in path:
            path = path[: path.index("{")] + "x" + path[path.index("}") + 1:]
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=30)
        connection.request(method, path, "{}", {"Cookie": self.server.cookie, "Content-Type": "application/json"})
        answer = connection.getresponse()
        if path == "/api/events" and answer.status == 200:
            connection.close()
            return answer.status, ""
        raw = answer.read()
        connection.close()
        return answer.status, raw[:200]

    def paths(self):
        made = make_app("postgresql://nowhere", Path("/nowhere")).openapi()["paths"]
        return [(p, m.upper()) for p, methods in made.items() for m in methods if m.upper() in CHANGING]

    def gets(self):
        made = make_app("postgresql://nowhere", Path("/nowhere")).openapi()["paths"]
        return [p for p, methods in made.items() if "get" in methods and p.startswith("/api/")]


if __name__ == "__main__":
    unittest.main()
