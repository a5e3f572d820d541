"""Bounded engagement through the service: the way is found by the worker, kept in the database, dropped when no longer wanted."""

import time
import unittest

from birch_route.demo.jobs import body_route
from birch_route.formats.route_file import route_to_text
from birch_route.jobs.tasks import _clears_the_same
from birch_route.store.database import Database
from birch_route.store.plans import PlanShelf
from tests.support import live_server

CAVITY = "pocket_control_cavity"


class OverHttp(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        server = live_server()
        cls.call = staticmethod(server.call)
        cls.proof = staticmethod(server.proof)
        cls.database = Database(server.database_url, most=2)
        cls.database.open()
        cls.addClassCleanup(cls.database.close)

    def edit(self, route, revision, *edits):
        status, state = self.call("POST", f"/api/routes/{route}/edits", {"revision": revision, "edits": list(edits)})
        self.assertEqual(status, 200, state)
        return state

    def plans(self):
        with self.database.transaction() as t:
            return t.connection.execute("select count(*) as n from clearing_plans").fetchone()["n"]

    def test_the_way_is_found_once_kept_and_given_up_when_no_longer_wanted(self):
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(body_route()))[1]
        before = self.plans()
        engaged = self.edit(made["route"], 1, {"do": "choose_clearing", "operation": CAVITY, "clearing": "engaged"},
                            {"do": "set", "path": f"operations.{CAVITY}.engaged_deg", "value": 57.3})  # an arc that no other test asks for
        self.assertTrue(engaged["what"].startswith("Choose how it is cleared"), engaged["what"])
        report = self.proof(engaged["hash"])["report"]
        operation = next(o for o in report["operations"] if o["id"] == CAVITY)
        self.assertLess(operation["side_engagement_mm"], 3.2)
        self.assertEqual(self.plans(), before + 1)
        deeper = self.edit(made["route"], 2, {"do": "set", "path": f"operations.{CAVITY}.settings.depth_of_cut_mm", "value": 9.0})
        self.proof(deeper["hash"])
        self.assertEqual(self.plans(), before + 1)  # the way in plan is the same at every depth
        self.edit(made["route"], 3, {"do": "set", "path": f"operations.{CAVITY}.engaged_deg", "value": 44.0})
        time.sleep(0.1)
        back = self.call("POST", f"/api/routes/{made['route']}/undo", {"revision": 4})[1]
        self.assertEqual(back["hash"], deeper["hash"])
        self.proof(back["hash"])
        with self.database.transaction() as t:
            seen = t.connection.execute("select key, data from clearing_plans order by made_at desc limit 1").fetchone()
        self.assertIn(b'"kinds"', bytes(seen["data"])[:20])

    def test_a_shelf_keeps_the_first_and_finds_it(self):
        shelf = PlanShelf(self.database)
        self.assertIsNone(shelf.find("no such key"))
        shelf.put("test shelf", b"one")
        shelf.put("test shelf", b"two")
        self.assertEqual(shelf.find("test shelf"), b"one")


class Wanted(unittest.TestCase):
    def test_a_plan_is_finished_for_a_newer_document_that_clears_the_same(self):
        document = body_route().model_dump(mode="json")
        index = next(k for k, o in enumerate(document["operations"]) if o["id"] == CAVITY)
        newer = body_route().model_dump(mode="json")
        newer["operations"][index]["settings"]["feed_mm_min"] = 1234.0
        newer["note"] = "other"
        self.assertTrue(_clears_the_same(document, newer, index))
        newer["operations"][index]["engaged_deg"] = 50.0
        self.assertFalse(_clears_the_same(document, newer, index))
        older = body_route().model_dump(mode="json")
        for operation in older["operations"]:  # a revision of before there was a choice
            for name in ("clearing", "engaged_deg", "both_ways"):
                operation.pop(name)
        self.assertFalse(_clears_the_same(document, older, index))
        moved = body_route().model_dump(mode="json")
        moved["piece"]["features"][0]["name"] = "Another"
        self.assertFalse(_clears_the_same(document, moved, index))
