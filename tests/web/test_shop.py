import datetime as dt
import unittest

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.proving.findings import CODES
from birch_route.core.route import content_hash
from birch_route.core.vocabulary import Severity
from birch_route.demo.fitted import hollow_route
from birch_route.formats.route_file import route_to_text
from birch_route.service.bench import gates_finding, open_gates, states
from tests.core.bodies import equipped
from tests.core.test_bench_work import second_bridge
from tests.support import changed, live_server, route_named


class BenchGates(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call
        route = changed(route_named("control_plate"), {"do": "put_item", "list": "bench_steps", "item": {"id": "warm", "name": "Warm the sheet", "minutes": 1, "gate": True}})
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route))[1]
        self.route, self.revision = made["route"], made["revision"]

    def release(self, reasons=None):
        return self.call("POST", f"/api/routes/{self.route}/release", {"revision": self.revision, "reasons": reasons or {}})

    def test_programs_wait_for_a_gating_step_until_it_is_ticked(self):
        status, told = self.release()
        self.assertEqual(status, 422)
        self.assertEqual([f["code"] for f in told["facts"]["findings"]], ["bench.open"])
        self.assertIn("Warm the sheet", told["facts"]["findings"][0]["sentence"])
        status, rows = self.call("POST", f"/api/routes/{self.route}/bench", {"step": "warm", "note": "lamp"})
        self.assertEqual((status, [(r["id"], r["done"], r["open"]) for r in rows if r["gate"]]), (200, [("warm", True, False)]))
        self.assertEqual(self.release()[0], 200)
        self.call("POST", f"/api/routes/{self.route}/bench", {"step": "warm", "done": False})
        self.assertEqual(self.release()[0], 422)

    def test_a_written_reason_lifts_it_and_is_kept(self):
        status, made = self.release({"bench.open": "Sheet lay on the heater overnight"})
        self.assertEqual(status, 200)
        self.assertEqual(made["overrides"][0]["reason_given"], "Sheet lay on the heater overnight")

    def test_a_step_that_became_another_one_is_open_again(self):
        self.call("POST", f"/api/routes/{self.route}/bench", {"step": "warm"})
        edit = {"do": "put_item", "list": "bench_steps", "item": {"id": "warm", "note": "To 40 degrees"}}
        self.revision = self.call("POST", f"/api/routes/{self.route}/edits", {"revision": self.revision, "edits": [edit]})[1]["revision"]
        row = next(r for r in self.call("GET", f"/api/routes/{self.route}/bench")[1] if r["id"] == "warm")
        self.assertEqual((row["done"], row["stale"], row["open"]), (False, True, True))
        self.assertEqual(self.release()[0], 422)

    def test_unknown_steps_and_routes_are_refused(self):
        self.assertEqual(self.call("POST", f"/api/routes/{self.route}/bench", {"step": "nothing"})[0], 422)
        self.assertEqual(self.call("GET", "/api/routes/999999/bench")[0], 422)


class GatesBetweenSetups(unittest.TestCase):
    """The hollow body: its core is cut, its cap glued on, its front cut, turned over, its back cut."""

    def setUp(self):
        self.call = live_server().call
        # a day each
        waits = [{"do": "remove_item", "list": "bench_steps", "id": s.id} for s in hollow_route().bench_steps if s.wait]
        self.document = changed(hollow_route(), *waits)
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(self.document))[1]
        self.route, self.revision = made["route"], made["revision"]

    def tick(self, *steps, done=True):
        for step in steps:
            self.assertEqual(self.call("POST", f"/api/routes/{self.route}/bench", {"step": step, "done": done})[0], 200)

    def release(self, reasons=None):
        return self.call(
            "POST", f"/api/routes/{self.route}/release", {"revision": self.revision, "reasons": reasons or {}}
        )

    def programs(self, reasons=None):
        status, made = self.release(reasons)
        self.assertEqual(status, 200, made)
        return [p["name"].split("_")[-1] for p in made["programs"]], {
            p["name"].split("_")[-1]: p["steps"] for p in made["waiting"]
        }

    def test_each_program_waits_for_the_gates_before_it_and_for_no_other(self):
        first = [s.id for s in self.document.bench_steps if s.gate and s.after is None]
        between = [s for s in self.document.bench_steps if s.gate and s.after is not None]
        self.assertGreater(len(between), 1)
        self.assertEqual(self.release()[0], 422)
        self.tick(*first)
        free, waiting = self.programs()
        self.assertEqual(len(free), 1)
        self.assertEqual(len(waiting), len(self.document.setups) - 1)
        self.assertIn(between[0].name, next(iter(waiting.values())))
        status, _ = self.call(
            "GET", f"/api/routes/{self.route}/programs/{next(iter(waiting))}?revision={self.revision}"
        )
        self.assertEqual(status, 422)
        free, waiting = self.programs({"bench.open": "Glued last week, ticked on paper"})
        self.assertEqual((len(free), waiting), (len(self.document.setups), {}))

    def test_a_tick_taken_back_holds_what_was_written_before(self):
        gates = [s.id for s in self.document.bench_steps if s.gate]
        self.tick(*gates)
        self.assertEqual(self.programs()[1], {})
        download = f"/api/routes/{self.route}/release.zip?revision={self.revision}"
        self.assertEqual(self.call("GET", download)[0], 200)
        self.tick(gates[-1], done=False)
        self.assertEqual(self.call("GET", download)[0], 422)


class Waits(unittest.TestCase):
    def test_a_wait_is_over_when_its_minutes_have_gone_by(self):
        route = changed(route_named("siskin_body"), {"do": "plan_bench"})
        begun = dt.datetime(2026, 3, 14, 9, 0, tzinfo=dt.UTC)
        tick = {"done": True, "note": "", "made_by": "Ada", "made_at": begun}
        ticks = [{"step": s.id, "digest": content_hash(s.as_ticked()), **tick} for s in route.bench_steps]
        wait = next(s for s in route.bench_steps if s.id == "glue_wait")
        just_before, just_after = (begun + dt.timedelta(minutes=wait.minutes + d) for d in (-1, 1))
        self.assertEqual([s.step.id for s in states(route, ticks, just_before) if s.open], ["glue_wait"])
        self.assertIn("It is over at 2026-03-15 09:00", gates_finding(open_gates(route, ticks, just_before)).reason)
        self.assertEqual(open_gates(route, ticks, just_after), [])
        self.assertEqual(CODES["bench.open"][0], Severity.STOP)


class Wood(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call

    def test_a_weighed_board_has_its_own_density_and_its_history_is_kept(self):
        board = {"name": "Alder, barn", "wood": "alder", "length_mm": 1000.0, "width_mm": 200.0, "thickness_mm": 50.0, "weighed_kg": 4.75}
        status, made = self.call("POST", "/api/wood", board)
        self.assertEqual((status, made["density_kg_m3"], made["table_kg_m3"]), (200, 475.0, 450.0))
        self.assertAlmostEqual(made["off_table"], 0.056, places=3)
        self.call("POST", f"/api/wood/{made['board']}", {**board, "length_mm": 500.0, "weighed_kg": 2.3, "state": "in_a_job", "note": "Half went into a body"})
        now = next(b for b in self.call("GET", "/api/wood")[1] if b["board"] == made["board"])
        self.assertEqual((now["state"], now["density_kg_m3"]), ("in_a_job", 460.0))
        self.assertEqual([h["length_mm"] for h in self.call("GET", f"/api/wood/{made['board']}/history")[1]], [500.0, 1000.0])

    def test_bad_boards_are_refused_with_what_and_where(self):
        good = {"name": "X", "wood": "alder", "length_mm": 1000.0, "width_mm": 200.0, "thickness_mm": 50.0}
        for bad, where in (({**good, "wood": "cheese"}, "blank.wood"), ({**good, "width_mm": 1.0}, "width_mm"), ({**good, "route": 999999}, "route"), ({**good, "colour": "red"}, "colour")):
            status, told = self.call("POST", "/api/wood", bad)
            self.assertEqual((status, told["where"]), (422, where))
        self.assertEqual(self.call("POST", "/api/wood/999999", good)[0], 422)


class PlacedParts(unittest.TestCase):
    def setUp(self):
        self.call = live_server().call

    def test_the_layout_tells_parts_edges_chambers_and_trust(self):
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(equipped()))[1]
        edit = {"do": "put_item", "list": "edges", "item": {"id": "front_edge", "feature": "outline", "kind": "round", "size_mm": 6}}
        self.call("POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": [edit]})
        out = self.call("GET", f"/api/routes/{made['route']}/layout")[1]
        self.assertEqual(sorted({g["placement"] for g in out["ghosts"] if g["placement"]}), ["jack_1", "pin_neck", "pin_tail", "pot_1", "switch_1"])
        self.assertGreater(out["edges"][0]["sharp_mm"], 20)
        self.assertTrue(all(c["grams"] > 10 and len(c["ring"]) > 10 for c in out["chambers"]))
        trust = {c["feature"]: c["trust"] for c in out["clearances"]}
        self.assertEqual((trust["pot_1_shaft"], trust["control_cavity"]), ("measured", "told"))
        self.assertEqual({c["face"] for c in out["clearances"]}, {"front", "back"})

    def test_a_variant_is_shown_beside_the_route_and_becomes_a_job(self):
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
        self.call("POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": second_bridge()})
        plain, flat = (self.call("GET", f"/api/routes/{made['route']}/layout?variant={v}")[1] for v in ("", "flat"))
        self.assertFalse(plain["variants"][0]["serves"])
        self.assertAlmostEqual(flat["heights"]["depth_mm"], plain["variants"][0]["pocket_mm"], places=6)
        status, job = self.call("POST", f"/api/routes/{made['route']}/variants/flat/job")
        self.assertEqual((status, job["document"]["job"]), (200, "Siskin tenor, Flat bridge"))
        self.assertEqual(self.call("GET", f"/api/routes/{made['route']}/layout?variant=none")[0], 422)

    def test_edits_quoted_by_name_are_in_the_history(self):
        made = self.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
        status, after = self.call("POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": [{"do": "mirror"}]})
        self.assertEqual((status, after["what"]), (200, "Mirror for the other hand"))
        same = apply_edits(route_named("siskin_body"), [read_edit({"do": "mirror"})])
        self.assertEqual(after["hash"], content_hash(same))
