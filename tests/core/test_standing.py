"""How far a job is, and what it waits for: the first of what stands in its way."""

import unittest
from datetime import UTC, datetime, timedelta

from birch_route.core.standing import Books, Place, Ticked, standing, steps_of
from tests.support import changed, route_named

BODY, PLATE = "siskin_body", "control_plate"
NOW = datetime(2026, 12, 1, 9, 0, tzinfo=UTC)


def wait_step(route):
    return next(s for s in route.bench_steps if s.wait)


class Standing(unittest.TestCase):
    def test_steps_stand_in_the_order_in_which_they_are_done(self):
        for name in (BODY, PLATE):
            route = route_named(name)
            steps = steps_of(route, (), ())
            self.assertEqual([s.id for s in steps if not s.is_bench], [o.id for o in route.operations])
            self.assertEqual({s.id for s in steps if s.is_bench}, {s.id for s in route.bench_steps})
            places = {s.id: k for k, s in enumerate(steps)}
            for step in route.bench_steps:
                if step.after is not None:
                    self.assertGreater(places[step.id], places[step.after])
                else:
                    self.assertLess(places[step.id], places[route.operations[0].id])
            bits = [o.bit for o in route.operations]
            changes = [s.change for s in steps if not s.is_bench]
            self.assertEqual(changes, [k == 0 or bits[k] != bits[k - 1] for k in range(len(bits))])

    def test_a_wait_is_told_until_the_minute_it_is_over(self):
        route = route_named(BODY)
        step = wait_step(route)
        for minutes, waits in ((1, True), (0, False), (-1, False)):
            ready = NOW + timedelta(minutes=minutes)
            found = standing(route, Books({step.id: Ticked(ready)}, stops=0), NOW)
            with self.subTest(minutes):
                self.assertEqual(found.waits_until, ready if waits else None)
                self.assertEqual(step.name in found.words, waits)

    def test_what_stands_in_the_way_is_told_in_order(self):
        route = route_named(PLATE)
        all_cut = {o.id for o in route.operations}
        ticks = {s.id: Ticked() for s in route.bench_steps}
        unread = changed(route, {"do": "add_part", "kind": "pot", "name": "Pot"})
        cases = (
            (route, Books(ticks, all_cut, stops=0), "Done", Place.RUN),
            (route, Books(ticks, all_cut, stopped=True, stops=0), "The last run did not go through", Place.RUN),
            (unread, Books(stops=0), "Waits for you: measure Pot", Place.MEASURE),
            (unread, Books(ticks, all_cut, stops=0), "Done", Place.RUN),  # it is cut: nothing waits for a reading now
            (route, Books(stops=1), "One finding stops it", Place.ROUTE),
            (route, Books(stops=2), "2 findings stop it", Place.ROUTE),
            (route, Books(), "Not cut on paper yet", Place.ROUTE),
        )
        for job, books, words, place in cases:
            found = standing(job, books, NOW)
            with self.subTest(words):
                self.assertEqual((found.words, found.place), (words, place))
        bare = route.model_copy(update={"operations": [], "bench_steps": []})
        self.assertEqual(standing(bare, Books(), NOW).words, "No steps yet")

    def test_the_first_step_that_is_not_done_is_next(self):
        route = route_named(PLATE)
        first, second = route.operations[:2]
        ticks = {s.id: Ticked() for s in route.bench_steps if s.after is None}
        ready = standing(route, Books(ticks, stops=0), NOW)
        self.assertTrue(ready.words.endswith(first.name), ready.words)
        between = {s.id: Ticked() for s in route.bench_steps}
        begun = standing(route, Books(between, {first.id}, stops=0), NOW)
        self.assertEqual(begun.words, f"Goes on with {second.name}")


if __name__ == "__main__":
    unittest.main()
