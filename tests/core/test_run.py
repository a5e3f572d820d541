"""A run at the machine: its steps in their order, and how far it is by its events."""

import itertools
import random
import unittest
from datetime import UTC, datetime, timedelta

from birch_route.core.programs.numbers import is_whole, number_of
from birch_route.core.programs.writer import write_all
from birch_route.core.run.events import Event, EventKind, minutes_of, run_is
from birch_route.core.run.steps import StepKindAt, steps_of
from birch_route.demo.fitted import fitted_route
from birch_route.sheets.run_sheet import run_plan
from tests.support import changed, proof_of, put, route_named

AT = datetime(2026, 12, 1, 9, 0, tzinfo=UTC)


def plan_of(route):
    return run_plan(*proof_of(route).simulations)


def happened(*told):
    """Events a minute apart: (kind, step) or (kind, step, device)."""
    return [
        Event(k + 1, EventKind(one[0]), one[1], AT + timedelta(minutes=k), "Ada", one[2] if len(one) > 2 else "tablet")
        for k, one in enumerate(told)
    ]


class Steps(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.plan = plan_of(fitted_route())
        cls.steps = steps_of(cls.plan)

    def test_they_follow_the_run_sheet_and_every_operation_is_cut_once(self):
        cut = [o for s in self.steps if s.cuts for o, _, _ in s.cuts.operations]
        self.assertEqual(cut, [o["id"] for b in self.plan["bits"] for o in b["operations"]])
        self.assertEqual(len({s.id for s in self.steps}), len(self.steps))
        bench = [s.bench for s in self.steps if s.bench]
        self.assertEqual(bench, [o["step"] for o in self.plan["order"] if o["kind"] == "bench"])

    def test_each_cut_has_its_bit_in_and_hands_clear_before_it_and_one_question_of_safety_a_step(self):
        for k, step in enumerate(self.steps):
            if step.kind is not StepKindAt.CUT:
                continue
            before = self.steps[:k]
            self.assertEqual(before[-1].kind, StepKindAt.HANDS)
            put_in = [s for s in before if s.kind is StepKindAt.BIT]
            self.assertEqual(put_in[-1].bit, step.bit)
        asked = [s for s in self.steps if s.safety]
        self.assertEqual({s.kind for s in asked}, {StepKindAt.CLAMPS, StepKindAt.HANDS, StepKindAt.CHECK})
        cuts = sum(s.kind is StepKindAt.CUT for s in self.steps)
        for question in ("way:", "dust:", "hands:"):
            self.assertEqual(sum(s.id.startswith(question) for s in asked), cuts)

    def test_clamps_and_zero_are_asked_once_a_setup_and_it_is_looked_at_before_it_comes_off(self):
        for of in {s.setup for s in self.steps if s.setup}:
            kinds = [s.kind for s in self.steps if s.setup == of]
            for once in (StepKindAt.LOAD, StepKindAt.CLAMPS, StepKindAt.LOOK):
                self.assertEqual(kinds.count(once), 1, once)
            self.assertEqual(kinds[0], StepKindAt.LOAD)
            self.assertEqual(kinds[-1], StepKindAt.LOOK)
            zero = next(s for s in self.plan["setups"] if s["id"] == of)["zero_steps"]
            self.assertEqual(kinds.count(StepKindAt.ZERO), len(zero))

    def test_two_faces_are_two_loads(self):
        steps = steps_of(plan_of(changed(route_named("siskin_body"), {"do": "turn_over"})))
        self.assertEqual([s.setup for s in steps if s.kind is StepKindAt.LOAD], ["front", "back"])


class Stands(unittest.TestCase):
    def setUp(self):
        self.steps = steps_of(plan_of(route_named("control_plate")))
        self.cut = next(s for s in self.steps if s.kind is StepKindAt.CUT)

    def test_the_first_that_is_not_done_is_the_one_to_do(self):
        first, second = self.steps[0].id, self.steps[1].id
        self.assertEqual(run_is(self.steps, []).current, first)
        self.assertEqual(run_is(self.steps, happened(("ticked", first))).current, second)
        self.assertEqual(run_is(self.steps, happened(("ticked", first), ("taken_back", first))).current, first)
        every = happened(*(("ticked", s.id) for s in self.steps))
        self.assertIsNone(run_is(self.steps, every).current)

    def test_a_second_tick_is_kept_beside_the_first_which_stands(self):
        first = self.steps[0].id
        is_ = run_is(self.steps, happened(("ticked", first, "tablet"), ("ticked", first, "phone"))).steps[first]
        self.assertEqual((is_.done.device, [e.device for e in is_.again]), ("tablet", ["phone"]))

    def test_minutes_are_those_it_cut_stops_left_out(self):
        """Started at minute 0, stopped at 1, on at 2, finished at 3: two minutes, shared out by what was reckoned."""
        cut = self.cut.id
        told = happened(("started", cut), ("stopped", cut), ("went_on", cut), ("ticked", cut))
        is_ = run_is(self.steps, told)
        self.assertAlmostEqual(is_.steps[cut].cut_s, 120)
        minutes = minutes_of(self.steps, is_)
        self.assertAlmostEqual(sum(minutes.values()), 2.0, delta=0.02)
        rows = {o: m for o, _, m in self.cut.cuts.operations}
        for operation, took in minutes.items():
            self.assertAlmostEqual(took, 2 * rows[operation] / self.cut.cuts.minutes, delta=0.01)

    def test_what_was_never_started_here_has_no_minutes(self):
        self.assertEqual(minutes_of(self.steps, run_is(self.steps, happened(("ticked", self.cut.id)))), {})

    def test_events_of_steps_that_are_not_there_change_nothing(self):
        self.assertEqual(run_is(self.steps, happened(("ticked", "gone"))).current, self.steps[0].id)

    def test_the_servers_order_decides_however_events_arrive(self):
        told = happened(("ticked", self.steps[0].id), ("taken_back", self.steps[0].id), ("ticked", self.steps[0].id))
        for order in itertools.permutations(told):
            self.assertIsNotNone(run_is(self.steps, order).steps[self.steps[0].id].done)

    def test_whatever_happens_it_stands_somewhere(self):
        """500 random lists of events: never an error, a current step that is not done, no time below nothing."""
        rng = random.Random(5)
        kinds = [k.value for k in EventKind]
        for _ in range(500):
            told = happened(*((rng.choice(kinds), rng.choice(self.steps).id) for _ in range(rng.randrange(30))))
            is_ = run_is(self.steps, told)
            self.assertTrue(is_.current is None or is_.steps[is_.current].done is None)
            self.assertTrue(all(s.cut_s >= 0 for s in is_.steps.values()))


class Numbers(unittest.TestCase):
    def test_a_program_says_a_number_that_comes_of_all_its_text(self):
        route = route_named("control_plate")
        text = write_all(proof_of(route).simulations)[0].text
        self.assertRegex(number_of(text), r"^\d{4}$")
        self.assertTrue(is_whole(text))
        self.assertFalse(is_whole(text.replace("F", "F1", 1)))
        other = write_all(proof_of(changed(route, put("blank.skim_mm", 0.1))).simulations)[0].text
        self.assertNotEqual(number_of(other), number_of(text))

    def test_text_of_elsewhere_has_none(self):
        self.assertEqual(number_of("G21\nG0 X0\n"), "")
        self.assertFalse(is_whole("G21\nG0 X0\n"))


if __name__ == "__main__":
    unittest.main()
