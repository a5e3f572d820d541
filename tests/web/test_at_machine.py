"""A run at the machine over HTTP: events once, in the server's order, from several devices; the record it leaves."""

import datetime as dt
import threading
import unittest

from birch_route.formats.route_file import route_to_text
from tests.support import changed, live_server, put, route_named

GATE = {"id": "warm", "name": "Warm the sheet", "minutes": 1, "gate": True}


class AtMachine(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call
        route = changed(route_named("control_plate"), {"do": "put_item", "list": "bench_steps", "item": GATE})
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]
        live_server().proof(made["hash"])
        self.route, self.revision = made["route"], made["revision"]

    def begun(self):
        self.call("POST", f"/api/routes/{self.route}/bench", {"step": "warm"})
        release = {"revision": self.revision, "reasons": {}}
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/release", release)[0], 200)
        status, run = self.call("POST", f"/api/routes/{self.route}/at-machine")
        self.assertEqual(status, 200, run)
        return run

    def tell(self, run, *events, device="tablet-1"):
        told = [{"number": n, "kind": kind, "step": step, **more} for n, kind, step, more in events]
        return self.call("POST", f"/api/at-machine/{run}/events", {"device": device, "events": told})

    def test_without_released_programs_there_is_no_run(self):
        status, told = self.call("POST", f"/api/routes/{self.route}/at-machine")
        self.assertEqual(status, 422)
        self.assertIn("Write the programs first", told["message"])

    def test_an_event_counts_once_however_often_it_is_sent_and_a_run_is_gone_on_with(self):
        run = self.begun()
        todo = [s["id"] for s in run["steps"] if not s["done"]]
        self.assertEqual(run["current"], todo[0])
        for _ in range(3):
            status, state = self.tell(run["id"], (1, "ticked", todo[0], {}))
            self.assertEqual(status, 200)
        self.assertEqual(len(state["events"]), 1)
        self.assertEqual(state["current"], todo[1])
        again = self.call("POST", f"/api/routes/{self.route}/at-machine")[1]
        self.assertEqual((again["id"], again["current"]), (run["id"], todo[1]))

    def test_two_devices_agree_and_both_ticks_are_kept(self):
        run = self.begun()
        step = run["current"]
        threads = [
            threading.Thread(target=self.tell, args=(run["id"], (1, "ticked", step, {})), kwargs={"device": name})
            for name in (f"device-{k}" for k in range(6))
        ]
        for one in threads:
            one.start()
        for one in threads:
            one.join()
        state = self.call("GET", f"/api/at-machine/{run['id']}")[1]
        row = next(s for s in state["steps"] if s["id"] == step)
        self.assertEqual(len(row["again"]), 5)
        self.assertEqual(len(state["events"]), 6)

    def test_a_bench_step_ticked_here_stands_at_the_bench_and_the_other_way_round(self):
        run = self.begun()
        self.assertTrue(next(s for s in run["steps"] if s["bench"] == "warm")["done"])  # ticked at the bench
        self.tell(run["id"], (1, "taken_back", "bench:warm", {}))
        row = next(r for r in self.call("GET", f"/api/routes/{self.route}/bench")[1] if r["id"] == "warm")
        self.assertFalse(row["done"])
        state = self.tell(run["id"], (2, "ticked", "bench:warm", {}))[1]
        self.assertTrue(next(s for s in state["steps"] if s["bench"] == "warm")["done"])

    def test_a_wait_that_has_begun_says_when_it_is_over(self):
        edit = {"do": "put_item", "list": "bench_steps", "item": {"id": "dry", "name": "Glue dries", "minutes": 60,
                                                                 "wait": True}}
        body = {"revision": self.revision, "edits": [edit]}
        state = self.call("POST", f"/api/routes/{self.route}/edits", body)[1]
        self.revision = state["revision"]
        run = self.begun()
        step = next(s for s in self.tell(run["id"], (1, "ticked", "bench:dry", {}))[1]["steps"] if s["bench"] == "dry")
        begun, over = (dt.datetime.fromisoformat(t) for t in (step["done"]["at"], step["ready_at"]))
        self.assertEqual(over - begun, dt.timedelta(minutes=60))

    def test_cuts_name_their_program_and_its_number(self):
        run = self.begun()
        cut = next(s for s in run["steps"] if s["kind"] == "cut")
        program = cut["programs"][0]
        text = self.call("GET", f"/api/routes/{self.route}/programs/{program['name']}?revision={self.revision}")[1]
        self.assertIn(f"number {program['number']}".encode(), text)
        self.assertTrue(program["begins"])

    def test_closing_keeps_one_record_with_the_minutes_it_took(self):
        run = self.begun()
        cut = next(s["id"] for s in run["steps"] if s["kind"] == "cut")
        self.tell(run["id"], (1, "started", cut, {}), (2, "stopped", cut, {"note": "dust"}), (3, "went_on", cut, {}),
                  (4, "ticked", cut, {}))
        status, state = self.call("POST", f"/api/at-machine/{run['id']}/close", {"outcome": "fine", "note": "Flat."})
        self.assertEqual((status, state["closed"]["outcome"]), (200, "fine"))
        self.assertEqual(self.call("POST", f"/api/at-machine/{run['id']}/close", {"outcome": "torn"})[0], 409)
        kept = self.call("GET", f"/api/routes/{self.route}/runs")[1]
        self.assertEqual([(r["outcome"], r["note"]) for r in kept], [("fine", "Flat.")])
        self.assertTrue(kept[0]["minutes"])
        self.assertNotEqual(self.call("POST", f"/api/routes/{self.route}/at-machine")[1]["id"], run["id"])

    def test_a_job_that_changed_makes_its_run_outdated_and_a_new_one_wants_new_programs(self):
        run = self.begun()
        edit = {"revision": self.revision, "edits": [put("operations.profile_outline.settings.feed_mm_min", 1500)]}
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/edits", edit)[0], 200)
        self.assertTrue(self.call("GET", f"/api/at-machine/{run['id']}")[1]["outdated"])
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/at-machine")[0], 422)
        rows = self.call("GET", f"/api/routes/{self.route}/at-machine")[1]
        self.assertEqual([r["id"] for r in rows], [run["id"]])

    def test_a_program_that_stopped_is_gone_on_with_from_its_line_or_the_display(self):
        run = self.begun()["id"]
        cuts = [s for s in self.call("GET", f"/api/at-machine/{run}")[1]["steps"] if s["kind"] == "cut"]
        name = cuts[-1]["programs"][0]["name"]
        status, made = self.call("POST", f"/api/at-machine/{run}/resume", {"program": name, "line": 1500})
        self.assertEqual(status, 200, made)
        self.assertIn(f"number {made['number']}", made["text"])
        self.assertIn("from line", made["text"].splitlines()[0])
        x, y, z = made["spot"]["at_mm"]
        place = {"program": name, "x_mm": x, "y_mm": y, "z_mm": z}
        status, spots = self.call("POST", f"/api/at-machine/{run}/stopped-at", place)
        self.assertEqual(status, 200)
        self.assertLess(spots[0]["away_mm"], 0.001)
        for wrong in ({"program": "other.nc", "line": 5}, {"program": name, "line": 10_000_000},
                      {"program": name, "line": 0}):
            self.assertEqual(self.call("POST", f"/api/at-machine/{run}/resume", wrong)[0], 422)

    def test_what_cannot_be_is_refused_and_nothing_of_it_kept(self):
        run = self.begun()["id"]
        for events in ([(1, "ticked", "nowhere", {})], [(0, "ticked", "", {})], [(1, "exploded", "", {})],
                       [(1, "reading", "", {"value_mm": 1e9})]):
            self.assertEqual(self.tell(run, *events)[0], 422, events)
        for device in ("server", "bench", "no", "TABLET-1"):
            self.assertEqual(self.tell(run, (1, "note", "", {"note": "x"}), device=device)[0], 422)
        self.assertEqual(self.call("GET", "/api/at-machine/999999")[0], 422)
        self.assertEqual(self.call("GET", f"/api/at-machine/{run}")[1]["events"], [])


if __name__ == "__main__":
    unittest.main()
