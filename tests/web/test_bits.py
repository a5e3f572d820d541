"""The rack and questions about settings over HTTP: asked, recorded, withdrawn, lent; CSV in and out; the sheet."""

import unittest

from birch_route.core.quantities import say
from birch_route.demo.shop import BITS
from birch_route.formats.route_file import route_to_text
from birch_route.service.rack import LENDERS, SHOWN
from tests.support import changed, live_server, put, route_named

FLAT6 = next(b for b in BITS if b["id"] == "flat6")


class Bits(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()
        cls.machine = cls.server.call("GET", "/api/shop")[1]["machines"][0]

    def proof(self, made):
        self.server.call("GET", f"/api/routes/{made['route']}")  # opened: it goes before what nobody looks at
        return self.server.proof(made["hash"])

    def ask(self, **more):
        status, found = self.server.call("POST", "/api/settings/question", {"machine": self.machine, "bit": FLAT6, "wood": "ash", "kind": "slot", **more})
        self.assertEqual(status, 200, found)
        return found

    def trial(self, feed, outcome="fine", **more):
        body = {"machine": self.machine["name"], "machine_class": self.machine["machine_class"], "bit": FLAT6, "wood": "ash", "kind": "slot", "outcome": outcome,
                "settings": {"feed_mm_min": feed, "plunge_mm_min": 600, "speed_rpm": 18000, "depth_of_cut_mm": 4.0, "stepover_mm": 6.0}, **more}
        status, made = self.server.call("POST", "/api/trials", body)
        self.assertEqual(status, 200, made)
        return made["id"]

    def test_an_answer_carries_the_newest_cuts_and_lends_from_before_however_many_there_are(self):
        lender = self.trial(1110, wood="limba", bit={**FLAT6, "id": "lender", "name": "The lender"})
        mine = [self.trial(2000 + k, wood="limba") for k in range(LENDERS + 1)]  # newer than all that may lend
        self.addCleanup(lambda: [self.server.call("POST", f"/api/trials/{n}/withdraw") for n in [lender, *mine[1:]]])
        found = self.ask(wood="limba")
        self.assertEqual((len(found["trials"]), found["trials_in_all"]), (SHOWN, LENDERS + 1))
        self.assertEqual([t["id"] for t in found["trials"]], mine[:-SHOWN - 1:-1])
        self.assertIn("another bit", [one["from"] for one in found["lent"]])
        self.server.call("POST", f"/api/trials/{mine[0]}/withdraw")
        self.assertEqual(self.ask(wood="limba")["trials_in_all"], LENDERS)

    def test_a_question_is_answered_by_limits_and_by_records_and_nothing_computed_is_proven(self):
        found = self.ask(wood="walnut")
        self.assertEqual(set(found["answers"]), {"careful", "fast", "quiet"})
        self.assertTrue(all(a["trust"]["standing"] == "untried" for a in found["answers"].values()))
        self.assertGreater(found["answers"]["fast"]["removes_cm3_min"], found["answers"]["careful"]["removes_cm3_min"])
        self.assertGreater(found["quiet_costs"], 1.0)
        feed = found["answers"]["careful"]["ranges"]["feed_mm_min"]
        self.assertTrue(feed["low"] < found["answers"]["careful"]["settings"]["feed_mm_min"] <= feed["high"] and feed["high_words"])

    def test_a_record_proves_what_was_cut_and_lends_to_other_wood_and_a_withdrawn_one_counts_no_more(self):
        settings = {"feed_mm_min": 3600, "plunge_mm_min": 600, "speed_rpm": 18000, "depth_of_cut_mm": 4.0, "stepover_mm": 6.0}
        self.assertEqual(self.ask(settings=settings)["wanted"]["trust"]["standing"], "untried")
        first = self.trial(3600)
        found = self.ask(settings=settings)
        self.assertEqual((found["wanted"]["trust"]["standing"], found["trials"][0]["words"]), ("proven",
                                                            "⟦3600|named mm/min|g⟧ at 18000, ⟦4|mm|g⟧ deep, "
                                                            "⟦6|mm|g⟧ wide: fine"))
        self.assertEqual(self.ask(settings={**settings, "depth_of_cut_mm": 3.0})["wanted"]["trust"]["standing"], "covered")
        lent = self.ask(wood="rosewood")["lent"]
        self.assertIn("denser", lent[0]["risk"])
        one = lent[0]["settings"]
        self.assertAlmostEqual(lent[0]["minutes"], 100_000 / (one["feed_mm_min"] * one["depth_of_cut_mm"] * min(one["stepover_mm"], 6.0)), places=3)
        second = self.trial(3000, "broke")  # no harder, and it failed: of two alike the good one gives way
        found = self.ask(settings=settings)
        self.assertEqual(found["wanted"]["trust"]["standing"], "failed")
        self.assertTrue(next(t for t in found["trials"] if t["id"] == first)["doubted"])
        self.server.call("POST", f"/api/trials/{second}/withdraw")
        self.assertEqual(self.ask(settings=settings)["wanted"]["trust"]["standing"], "proven")
        self.assertEqual(self.server.call("POST", f"/api/trials/{second}/withdraw")[0], 422)
        plan = self.server.call("POST", "/api/settings/plan", {"machine": self.machine, "bit": FLAT6, "wood": "ash", "kind": "slot", "settings": settings})[1]
        self.assertIn("stop at the first", plan["rule"])
        self.assertEqual(plan["steps"][0]["standing"], "proven")
        status, sheet = self.server.call("GET", f"/api/routes/{self.server.call('POST', '/api/routes', route_to_text(route_named('siskin_body')))[1]['route']}/settings_sheet.csv")
        self.assertIn("6 mm flat,ash,Ash,slot,3600.0,600.0,18000.0,4.0,6.0,proven", str(sheet))
        self.assertIn("computed", str(sheet))
        other = {**self.machine, "name": "Their router"}
        there = self.server.call(
            "POST",
            "/api/routes?measured_here=true",
            route_to_text(changed(route_named("siskin_body"), put("machine.name", "Their router"))),
        )[1]["route"]
        text = sheet if isinstance(sheet, str) else sheet.decode()
        taken = self.server.call("POST", f"/api/routes/{there}/settings_sheet.csv", text.replace(self.machine["name"], "Their router"))
        self.assertGreater(taken[1]["taken"], 3)
        told = self.server.call("POST", "/api/settings/question", {"machine": other, "bit": FLAT6, "wood": "ash", "kind": "slot", "settings": settings})[1]
        self.assertEqual((told["wanted"]["trust"]["standing"], told["trials"][0]["origin"]), ("untried", "told"))  # proven there is only told here
        short = text + "Their router,belt,flat6\n"
        told = self.server.call("POST", f"/api/routes/{there}/settings_sheet.csv", short)[1]["message"]
        self.assertRegex(told, "Line")
        self.assertRegex(self.server.call("POST", f"/api/routes/{there}/settings_sheet.csv", text.replace("flat", "flot"))[1]["message"], r"Line \d+: there is no bit flot")
        self.server.call("POST", f"/api/trials/{first}/withdraw")

    def test_the_rack_knows_the_life_of_a_bit_and_goes_out_and_in_as_csv(self):
        self.server.call("POST", "/api/rack/down6/notes", {"what": "used", "wood": "mdf", "metres": 900, "minutes": 300})
        row = next(r for r in self.server.call("POST", "/api/rack/down6/notes", {"what": "measured", "diameter_mm": 5.9})[1] if r["bit"]["id"] == "down6")
        self.assertAlmostEqual(row["life"]["worn_m"], 900 * 2 * 750 / 650, places=0)
        self.assertIn("thinner than new", row["life"]["words"])
        self.assertIn("past its", row["life"]["words"])
        row = next(r for r in self.server.call("POST", "/api/rack/down6/notes", {"what": "new"})[1] if r["bit"]["id"] == "down6")
        self.assertEqual((row["life"]["metres"], row["life"]["words"]), (0, ""))
        text = "id,name,form,diameter_mm,cutting_length_mm,shank_diameter_mm,stickout_mm,flutes,price,number\nflat5,5 mm flat,flat,5,20,6,28,2,31.5,A-77\n"
        status, rows = self.server.call("POST", "/api/rack.csv", text)
        self.assertEqual((status, next(r for r in rows if r["bit"]["id"] == "flat5")["price"]), (200, 31.5))
        self.assertIn("flat5", str(self.server.call("GET", "/api/rack.csv")[1]))
        self.assertIn("flat5", [b["id"] for b in self.server.call("GET", "/api/shop")[1]["bits"]])
        for wrong, words in ((text.replace(",20,6,28", ",40,6,28"), "line 2"), (text.replace("price", "cost"), "cost"), (text.replace("31.5", "nan"), "line 2"), (text.replace("31.5", "-1"), "line 2"), ("name\nx\n", "id among them")):
            status, answer = self.server.call("POST", "/api/rack.csv", wrong)
            self.assertEqual((status, words in str(answer).lower() or words in str(answer)), (422, True), answer)

    def says(self, route):
        found = self.server.call("GET", f"/api/routes/{route}/says")[1]
        return {o["id"]: o for o in found["operations"]}, found

    def test_a_run_that_went_well_proves_the_settings_it_was_cut_with_and_a_bad_one_only_what_is_said(self):
        made = self.server.call(
            "POST",
            "/api/routes?measured_here=true",
            route_to_text(changed(route_named("siskin_body"), put("machine.name", "Router of the runs"))),
        )[1]
        self.proof(made)
        route, pocket = made["route"], "pocket_pickup_pocket"
        self.assertEqual(self.says(route)[0][pocket]["trust"]["standing"], "untried")
        self.assertNotIn("drill_string_holes", self.says(route)[0])
        before = next(r for r in self.server.call("GET", "/api/rack")[1] if r["bit"]["id"] == "flat8")["life"]
        run = {"revision": made["revision"], "note": "", "minutes": {}}
        status, kept = self.server.call("POST", f"/api/routes/{route}/runs", {**run, "outcome": "chatter"})
        self.assertEqual((status, kept["learnt"], kept["counted"]), (200, 0, True))
        after = next(r for r in self.server.call("GET", "/api/rack")[1] if r["bit"]["id"] == "flat8")["life"]
        self.assertGreater(after["metres"], before["metres"] + 5)  # it wore all the same
        self.assertEqual(self.says(route)[0][pocket]["trust"]["standing"], "untried")
        self.assertGreater(self.server.call("POST", f"/api/routes/{route}/runs", {**run, "outcome": "fine", "ran": {"pocket_neck_pocket": {"feed_mm_min": 2000}, "profile_outline": {"is_skipped": True}}})[1]["learnt"], 4)
        ops, found = self.says(route)
        self.assertEqual([ops[k]["trust"]["standing"] for k in (pocket, "profile_outline")], ["proven", "untried"])
        back = [f for f in found["findings"] if f["code"] == "shop.changed_at_machine"]
        self.assertEqual((back[0]["operation"], found["hash"]), ("pocket_neck_pocket", made["hash"]))
        taken = self.server.call("POST", f"/api/routes/{route}/edits", {"revision": made["revision"], "edits": back[0]["cures"][0]["edits"]})[1]
        self.proof(taken)
        self.assertNotIn("shop.changed_at_machine", [f["code"] for f in self.says(route)[1]["findings"]])
        faster = self.server.call("POST", f"/api/routes/{route}/edits", {"revision": taken["revision"], "edits": [{"do": "set", "path": f"operations.{pocket}.settings.depth_of_cut_mm", "value": 8.0}]})[1]
        self.assertEqual(self.says(route)[1]["findings"], [])  # not proved yet
        self.proof(faster)
        self.assertEqual(self.says(route)[0][pocket]["trust"]["standing"], "untried")
        self.server.call("POST", f"/api/routes/{route}/runs", {**run, "revision": faster["revision"], "outcome": "broke", "ran": {pocket: {"outcome": "broke"}}})
        self.assertIn("shop.failed_before", [f["code"] for f in self.says(route)[1]["findings"]])
        for wrong, where in (({"nothing": {}}, "ran.nothing"), ({pocket: {"feed_mm_min": 9e4}}, f"ran.{pocket}.feed_mm_min")):
            status, answer = self.server.call("POST", f"/api/routes/{route}/runs", {**run, "outcome": "fine", "ran": wrong})
            self.assertEqual((status, answer["where"]), (422, where))
        self.assertEqual(self.server.call("POST", f"/api/routes/{route}/runs", {**run, "revision": 999, "outcome": "fine"})[0], 422)
        self.assertEqual(self.server.call("GET", "/api/routes/99999/says")[0], 422)

    def test_a_reading_at_the_rack_reaches_every_route_that_reckons_otherwise(self):
        made = self.server.call(
            "POST",
            "/api/routes?measured_here=true",
            route_to_text(changed(route_named("control_plate"), put("bits.flat3.id", "flat3"))),
        )[1]
        self.proof(made)
        self.server.call("POST", "/api/rack/flat3/notes", {"what": "measured", "diameter_mm": 2.94})
        self.addCleanup(self.server.call, "POST", "/api/rack/flat3/notes", {"what": "new"})
        found = [f for f in self.says(made["route"])[1]["findings"] if f["code"] == "shop.bit_measured"]
        self.assertIn("measured 2.94 at the rack", say(found[0]["sentence"]))
        taken = self.server.call("POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": found[0]["cures"][0]["edits"]})[1]
        self.proof(taken)
        self.assertNotIn("shop.bit_measured", [f["code"] for f in self.says(made["route"])[1]["findings"]])
        row = next(r for r in self.server.call("POST", "/api/rack/flat3/notes", {"what": "new"})[1] if r["bit"]["id"] == "flat3")
        self.assertIsNone(row["bit"]["measured_diameter_mm"])

    def test_brushes_of_a_motor_are_counted_by_runs_and_told_when_they_are_due(self):
        belt = next(m for m in self.server.call("GET", "/api/shop")[1]["machines"] if m.get("brushes_h"))
        made = self.server.call(
            "POST",
            "/api/routes?measured_here=true",
            route_to_text(changed(route_named("control_plate"), put("machine", {**belt, "name": "Trim motor"}))),
        )[1]
        self.proof(made)
        self.assertEqual(self.says(made["route"])[1]["brushes"]["worn_h"], 0)
        self.server.call("POST", f"/api/routes/{made['route']}/runs", {"revision": made["revision"], "outcome": "fine"})
        worn = self.says(made["route"])[1]["brushes"]
        self.assertAlmostEqual(worn["worn_h"], worn["job_h"], places=6)
        self.assertGreater(worn["hours"], worn["worn_h"])  # slower than the greatest speed
        note = {"machine": "Trim motor", "what": "ran", "weighed_min": belt["brushes_h"] * 60, "minutes": belt["brushes_h"] * 60}
        self.assertEqual(self.server.call("POST", "/api/machine_notes", note)[0], 200)
        self.assertIn("shop.brushes_due", [f["code"] for f in self.says(made["route"])[1]["findings"]])
        self.server.call("POST", "/api/machine_notes", {"machine": "Trim motor", "what": "brushes", "spares": 1})
        found = self.says(made["route"])[1]
        self.assertEqual((found["brushes"]["worn_h"], found["brushes"]["spares"], found["findings"]), (0, 1, []))

    def test_slots_and_a_fit_coupon_are_small_jobs_whose_proof_is_clean(self):
        settings = {"feed_mm_min": 3600, "plunge_mm_min": 600, "speed_rpm": 18000, "depth_of_cut_mm": 3.0, "stepover_mm": 6.0}
        asked = {"machine": self.machine, "bit": FLAT6, "wood": "birch_ply", "kind": "slot", "settings": settings}
        plan = self.server.call("POST", "/api/settings/plan", asked)[1]
        made = self.server.call("POST", "/api/settings/slots", asked)[1]
        self.assertEqual([o["settings"]["feed_mm_min"] for o in made["document"]["operations"]], [s["settings"]["feed_mm_min"] for s in plan["steps"]])
        self.assertEqual(self.proof(made)["report"]["findings"], [])
        slots = [o["id"] for o in made["document"]["operations"]]
        went = {id_: {"outcome": "fine"} if k < 3 else {"outcome": "chatter"} if k == 3 else {"is_skipped": True} for k, id_ in enumerate(slots)}
        kept = self.server.call("POST", f"/api/routes/{made['route']}/runs", {"revision": made["revision"], "outcome": "chatter", "ran": went})[1]
        self.assertEqual(kept["learnt"], 4)
        limit = self.server.call("POST", "/api/settings/question", {**asked, "settings": plan["steps"][2]["settings"]})[1]["wanted"]["trust"]  # the slots told the limit themselves
        self.assertEqual((limit["standing"], round(limit["high_mm"], 4), round(limit["fails_mm"], 4)), ("proven", round(plan["steps"][2]["chip_mm"], 4), round(plan["steps"][3]["chip_mm"], 4)))
        self.assertEqual(self.server.call("POST", "/api/settings/plan", asked)[1]["steps"][0]["settings"]["feed_mm_min"], plan["steps"][2]["settings"]["feed_mm_min"])  # the next plan begins there
        route = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[
            1
        ]["route"]
        coupon = self.server.call("POST", f"/api/routes/{route}/fit_coupon", {"across_mm": 42.3, "first_gap_mm": 0.05, "step_mm": 0.05})[1]
        self.assertEqual([round(f["shape"]["width_mm"], 3) for f in coupon["document"]["piece"]["features"][:4]], [42.4, 42.5, 42.6, 42.7])
        self.assertEqual(self.proof(coupon)["report"]["findings"], [])
        self.assertEqual(self.server.call("POST", f"/api/routes/{route}/fit_coupon", {"across_mm": 2.0})[0], 422)

    def test_a_change_of_wood_lists_every_operation_it_reaches(self):
        made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
        self.assertEqual(self.server.call("GET", f"/api/routes/{made['route']}/stale")[1], [])
        self.server.call("POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": [{"do": "set", "path": "blank.wood", "value": "ebony"}]})
        rows = self.server.call("GET", f"/api/routes/{made['route']}/stale")[1]
        self.assertGreater(len(rows), 5)
        self.assertTrue(all(r["was_for"][0] == "alder" and r["now_for"][0] == "ebony" and r["now"]["feed_mm_min"] <= r["was"]["feed_mm_min"] for r in rows))

    def test_which_bit_for_which_feature(self):
        route = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[
            1
        ]["route"]
        found = self.server.call("GET", f"/api/routes/{route}/rack/control_cavity")[1]
        self.assertEqual((found[0]["bit"], found[0]["not_for"]), ("flat8", ""))
        life = next(r for r in self.server.call("GET", "/api/rack")[1] if r["bit"]["id"] == "flat8")
        self.assertTrue(0 < found[0]["wears_part"] < 0.05)
        self.assertEqual(found[0]["costs"], None if life["price"] is None else found[0]["wears_part"] * life["price"])
        self.assertTrue(all(c["wears_part"] is None for c in found if c["not_for"]))
        self.assertIn("a drill does not cut to the side", [c["not_for"] for c in found])
        corners = self.server.call("GET", f"/api/routes/{route}/rack/neck_pocket")[1]
        left = [c["leaves_mm2"] for c in corners if not c["not_for"]]
        self.assertEqual(left, sorted(left))
        holes = {c["bit"]: c["not_for"] for c in self.server.call("GET", f"/api/routes/{route}/rack/string_holes")[1]}
        self.assertEqual(holes["drill3"], "")
        table = self.server.call("GET", f"/api/routes/{route}/rack")[1]
        self.assertEqual(len(table["features"]), len(table["bits"][0]["cells"]))
        self.assertRegex(table["words"], r"bits? do(es)? for all|No bit")
        at = [f["id"] for f in table["features"]].index("control_cavity")
        self.assertEqual({b["bit"]: b["cells"][at]["minutes"] is None for b in table["bits"]}, {c["bit"]: c["minutes"] is None for c in found})
        self.assertIn("as wide as the hole", holes["flat3"])
        self.assertEqual(self.server.call("GET", f"/api/routes/{route}/rack/nothing")[0], 422)


if __name__ == "__main__":
    unittest.main()
