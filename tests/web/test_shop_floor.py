"""Work offsets of a machine and what becomes of a jig: records that only grow, and what follows from them."""

import math
import unittest

from birch_route.demo.jigs import jig_routes
from birch_route.formats.route_file import route_to_text
from tests.support import changed, live_server, put, route_named


class Offsets(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call

    def test_every_address_is_there_and_keeps_what_is_said_of_it(self):
        path = "/api/offsets/bench-one"
        self.assertEqual([(o["word"], o["name"]) for o in self.call("GET", path)[1]], [(f"G{53 + n}", "") for n in range(1, 7)])
        said = {"name": "Rails", "refers_to": "Inner corner of the rails", "x_mm": 60.0, "y_mm": 60.0}
        rows = self.call("POST", f"{path}/2", said)[1]
        self.assertEqual((rows[1]["name"], rows[1]["refers_to"], rows[1]["x_mm"], rows[1]["checked_at"]), ("Rails", "Inner corner of the rails", 60.0, None))
        rows = self.call("POST", f"{path}/2", {**said, "checked": True})[1]
        self.assertIsNotNone(rows[1]["checked_at"])
        rows = self.call("POST", f"{path}/2", {**said, "name": "Rails, left"})[1]
        self.assertIsNotNone(rows[1]["checked_at"])  # another name is no other place
        rows = self.call("POST", f"{path}/2", {**said, "x_mm": 61.5})[1]
        self.assertIsNone(rows[1]["checked_at"])  # moved: nobody has checked it there
        self.assertEqual(self.call("GET", "/api/offsets/another")[1][1]["name"], "")

    def test_bad_ones_are_refused_with_where(self):
        self.assertEqual(self.call("POST", "/api/offsets/bench-one/7", {"name": "x"})[0], 422)
        self.assertEqual(self.call("POST", "/api/offsets/bench-one/1", {"name": ""})[0], 422)
        status, told = self.call("POST", "/api/offsets/bench-one/1", {"name": "x", "jig": 999999})
        self.assertEqual((status, told["where"]), (422, "jig"))


class Jigs(unittest.TestCase):
    def setUp(self):
        self.server = live_server()
        self.call = self.server.call
        carrier = next(j for j in jig_routes() if j.jig.kind.value == "carrier")
        made = self.call(
            "POST", "/api/routes?measured_here=true", route_to_text(changed(carrier, put("note", "kept")))
        )[1]
        self.route, self.hash = made["route"], made["hash"]
        self.errors = [e.off_mm for e in carrier.jig.errors]

    def test_use_wear_and_payback_follow_from_what_is_noted(self):
        path = f"/api/routes/{self.route}/jig/kept"
        report = self.server.proof(self.hash)["report"]
        cost = sum(report["totals"][k] for k in ("machine_min", "hands_min", "bench_min"))
        kept = self.call("GET", path)[1]
        self.assertEqual((kept["pieces"], kept["play_mm"], kept["worn"], kept["told"]), (0, None, False, False))
        self.assertAlmostEqual(kept["expected_mm"], math.sqrt(sum(e**2 for e in self.errors)), places=9)
        self.assertAlmostEqual(kept["cost_min"], cost, places=6)
        self.call("POST", path, {"what": "used", "pieces": 18, "saved_min": 10, "place": "Wall, left"})
        self.assertFalse(self.call("GET", path)[1]["look_again"])
        kept = self.call("POST", path, {"what": "used", "pieces": 4})[1]
        self.assertEqual((kept["pieces"], kept["look_again"], kept["place"], kept["saves_min"]), (22, True, "Wall, left", 10))
        self.assertEqual(kept["pays_after"], math.ceil(cost / 10))
        self.assertAlmostEqual(kept["saved_min"], 220 - cost, places=6)
        kept = self.call("POST", path, {"what": "checked", "play_mm": 0.2})[1]
        self.assertEqual((kept["worn"], kept["look_again"]), (True, False))
        self.assertAlmostEqual(kept["expected_mm"], math.sqrt(0.2**2 + sum(e**2 for e in self.errors[1:])), places=9)
        kept = self.call("POST", path, {"what": "mended", "play_mm": 0.03})[1]
        self.assertEqual((kept["worn"], len(kept["notes"])), (False, 4))

    def test_an_offset_kept_for_it_is_shown_with_it_and_other_jobs_have_none(self):
        self.call("POST", "/api/offsets/bench/4", {"name": "Carrier", "jig": self.route})
        self.assertEqual(self.call("GET", f"/api/routes/{self.route}/jig/kept")[1]["offsets"], [{"machine": "bench", "number": 4, "name": "Carrier"}])
        other = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))[1][
            "route"
        ]
        self.assertEqual(self.call("GET", f"/api/routes/{other}/jig/kept")[0], 422)
