"""The record of a run that was a slip is taken back: its cuts, wear and hours count no more; it stays in the books."""

import unittest

from birch_route.formats.route_file import route_to_text
from tests.support import changed, live_server, put, route_named


class Withdrawn(unittest.TestCase):
    def setUp(self):
        self.server = live_server()
        self.call = self.server.call
        route = changed(route_named("siskin_body"), put("note", "run by a slip"))
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]
        self.runs = f"/api/routes/{made['route']}/runs"
        self.revision, self.hash = made["revision"], made["hash"]
        self.server.proof(self.hash)

    def told(self):
        """Return what bits, machine and cuts of the shop have behind them."""
        metres = {r["bit"]["id"]: r["life"]["metres"] for r in self.call("GET", "/api/rack")[1]}
        says = self.call("GET", self.runs.replace("/runs", "/says"))[1]
        return metres, says["brushes"], [o["trust"]["count"] for o in says["operations"]]

    def test_what_it_told_counts_no_more_and_it_stays_in_the_books(self):
        before = self.told()
        kept = self.call("POST", self.runs, {"revision": self.revision, "outcome": "fine", "note": ""})[1]
        self.assertTrue(kept["counted"])
        self.assertGreater(kept["learnt"], 3)
        self.assertNotEqual(self.told(), before)
        status, rows = self.call("POST", f"{self.runs}/{kept['id']}/withdraw")
        self.assertEqual((status, len(rows), bool(rows[0]["withdrawn"])), (200, 1, True))
        self.assertEqual(self.told(), before)
        self.assertEqual(self.call("GET", self.runs)[1], rows)

    def test_only_once_and_only_one_of_this_job(self):
        kept = self.call("POST", self.runs, {"revision": self.revision, "outcome": "slow", "note": ""})[1]
        other = self.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]["route"]
        elsewhere = f"/api/routes/{other}/runs/{kept['id']}/withdraw"
        self.assertEqual(self.call("POST", elsewhere)[0], 422)
        self.assertEqual(self.call("GET", self.runs)[1][0]["withdrawn"], "")
        self.assertEqual(self.call("POST", f"{self.runs}/{kept['id']}/withdraw")[0], 200)
        status, told = self.call("POST", f"{self.runs}/{kept['id']}/withdraw")
        self.assertEqual((status, told["where"]), (422, "run"))


if __name__ == "__main__":
    unittest.main()
