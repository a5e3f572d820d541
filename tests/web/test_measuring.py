"""Measuring a machine over HTTP: readings kept as they come, on the machine as it then was, and their figures."""

import unittest
import urllib.request

from tests.web.shop_case import ShopCase


class Measuring(ShopCase):
    def new(self, name, kind="bench"):
        status, made = self.call("POST", "machines", {"name": name, "kind": kind})
        self.assertEqual(status, 200, made)
        return made["machine"]

    def job(self, machine, kind):
        return self.call("GET", f"machines/{machine}/measuring/{kind}")[1]

    def save(self, machine, kind, readings, **given):
        return self.call("POST", f"machines/{machine}/measuring/{kind}", {"given": given, "readings": readings})

    def full(self, machine, kind, off=0.0):
        return {a["name"]: (a["expected"] or 0.5) + off for a in self.job(machine, kind)["asks"]}

    def test_readings_become_figures_with_spread_and_day_and_their_history_stays(self):
        machine = self.new("Heron")
        readings = self.full(machine, "slot")
        readings |= {k: v + 0.05 for k, v in readings.items() if k.startswith("slot")}
        first = dict(list(readings.items())[:3])
        status, state = self.save(machine, "slot", first)
        self.assertEqual((status, len(state["left"]), state["told"]), (200, len(readings) - 3, []))
        status, failure = self.call("POST", f"machines/{machine}/measuring/slot/keep")
        self.assertEqual((status, failure["where"]), (422, "readings"))
        status, state = self.save(machine, "slot", readings)
        self.assertAlmostEqual(state["told"][0]["value"], 0.05, places=3)
        self.assertEqual(self.job(machine, "slot"), state)
        status, state = self.call("POST", f"machines/{machine}/measuring/slot/keep")
        self.assertEqual((status, state["is_kept"], len(state["history"])), (200, True, 1))
        now = self.call("GET", f"machines/{machine}")[1]
        figure = next(f for f in now["figures"] if f["name"] == "precision.slot_over_mm")
        self.assertEqual((figure["known"]["origin"], figure["measured_by"]), ("measured", "slot"))
        self.assertGreater(figure["known"]["spread"], 0)
        self.assertEqual(now["history"][0]["what"], "Measured: Slot")
        rows = self.call("GET", f"machines/{machine}/measuring")[1]
        row = next(r for r in rows if r["kind"] == "slot")
        self.assertEqual((row["taken"], row["old"]), (0, False))
        self.assertEqual(row["kept"]["told"][0]["figure"], "precision.slot_over_mm")
        status, state = self.call("POST", f"machines/{machine}/measuring/slot/again")
        self.assertEqual((state["is_kept"], len(state["left"]), len(state["history"])), (False, len(readings), 1))

    def test_readings_belong_to_the_program_that_ran(self):
        machine = self.new("Rail")
        readings = self.full(machine, "square")
        self.save(machine, "square", readings)
        status, state = self.save(machine, "square", readings, steps_x=200.0)
        self.assertEqual(len(state["left"]), 0)
        status, state = self.save(machine, "square", readings, caliper=200.0)
        self.assertEqual(len(state["left"]), len(readings))
        took = self.full(machine, "time")
        self.save(machine, "time", took)
        self.assertEqual(self.job(machine, "time")["changed"], False)
        now = self.call("GET", f"machines/{machine}")[1]
        faster = {**now["machine"], "rapid_mm_min": [9000, 9000, 3000]}
        self.call("POST", f"machines/{machine}", {"revision": now["revision"], "machine": faster})
        state = self.job(machine, "time")
        self.assertEqual((state["changed"], len(state["left"])), (True, 0))
        status, state = self.call("POST", f"machines/{machine}/measuring/time/again")
        self.assertEqual((state["changed"], len(state["left"])), (False, len(took)))

    def test_a_program_is_handed_out_in_the_machines_words_where_there_is_one(self):
        machine = self.new("Knot", "belt")
        asked = urllib.request.Request(
            f"{self.server.url}/api/machines/{machine}/measuring/backlash/program",
            headers={"Cookie": self.server.cookie},
        )
        with urllib.request.urlopen(asked) as answer:
            text = answer.read().decode()
            self.assertIn("measure_backlash.gcode", answer.headers["Content-Disposition"])
        self.assertIn("G20", text)
        status, failure = self.call("GET", f"machines/{machine}/measuring/tram/program")
        self.assertEqual((status, failure["where"]), (422, "kind"))

    def test_what_cannot_be_is_refused_and_nothing_is_changed(self):
        machine = self.new("Wren")
        before = self.job(machine, "slot")
        for body in (
            {"given": {}, "readings": {"slot_1": 90.0}},
            {"given": {}, "readings": {"nothing": 1.0}},
            {"given": {"bit": 40.0}, "readings": {}},
            {"given": {"other": 1.0}, "readings": {}},
        ):
            status, failure = self.call("POST", f"machines/{machine}/measuring/slot", body)
            self.assertEqual(status, 422)
            self.assertTrue(failure["message"])
        self.assertEqual(self.job(machine, "slot"), before)
        self.assertEqual(self.call("GET", f"machines/{machine}/measuring/weight")[0], 422)
        self.assertEqual(self.call("GET", f"machines/{machine}/measuring/dial")[0], 422)
        self.assertEqual(self.call("GET", "machines/nobody/measuring")[0], 422)
        soft = {a["name"]: 5.0 for a in self.job(machine, "stiffness")["asks"]}
        self.save(machine, "stiffness", soft)
        status, failure = self.call("POST", f"machines/{machine}/measuring/stiffness/keep")
        self.assertEqual((status, failure["where"]), (422, "stiffness_n_um"))
        self.assertEqual(self.job(machine, "stiffness")["is_kept"], False)


if __name__ == "__main__":
    unittest.main()
