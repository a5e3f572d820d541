"""What is kept between proofs is bounded in number and in bytes; what was asked for last stays longest."""

import resource
import unittest
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from birch_route.core.instrument import resolve as resolve_module
from birch_route.core.proving.kept import SMALL, Kept, bytes_of
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import STEP_BYTES, Cache, simulate_all
from birch_route.jobs import tasks
from birch_route.jobs.memory import give_back, held_bytes
from tests.support import route_named


@dataclass
class Two:
    first: np.ndarray
    others: list


class Bounds(unittest.TestCase):
    def test_bytes_are_those_of_the_arrays_in_it(self):
        array = np.zeros(1000)
        cases = ((array, 8000), ([array, array], 16000), (Two(array, [array]), 16000), ({"a": array}, 8000))
        for value, least in cases:
            self.assertTrue(least <= bytes_of(value) <= least + 5 * SMALL, value)
        self.assertEqual(bytes_of("text"), SMALL)

    def test_it_keeps_as_many_bytes_as_it_may_and_not_one_entry_more(self):
        for many, left in ((4, 4), (5, 4)):
            kept = Kept(100, 4 * 8000)
            for k in range(many):
                kept.get(str(k), lambda: np.zeros(1000))
            self.assertEqual((len(kept), kept.held_bytes), (left, left * 8000))

    def test_it_keeps_as_many_entries_as_it_may_and_drops_what_was_asked_for_longest_ago(self):
        kept = Kept(2, 10**9)
        asked = []
        for key in ("a", "b", "a", "c", "a", "b"):
            kept.get(key, lambda key=key: asked.append(key) or key)
        self.assertEqual(asked, ["a", "b", "c", "b"])
        self.assertEqual(kept.hits, 2)

    def test_one_that_is_larger_than_all_may_be_stays_alone(self):
        kept = Kept(10, 1000)
        kept.get("small", lambda: np.zeros(10))
        self.assertEqual(kept.get("large", lambda: np.zeros(1000)).nbytes, 8000)
        self.assertEqual((len(kept), kept.held_bytes), (1, 8000))

    def test_the_steps_of_a_body_are_kept_and_found_again(self):
        cache, route = Cache(), route_named("siskin_body")
        first = simulate_all(route, cache)
        self.assertEqual(cache.hits, 0)
        self.assertEqual(len(cache._steps), len(first[0].steps))
        self.assertTrue(0 < cache._steps.held_bytes <= STEP_BYTES)
        again = simulate_all(route, cache)
        self.assertGreaterEqual(cache.hits, len(first[0].steps))
        self.assertIs(again[0].steps[-1].top, first[0].steps[-1].top)
        less = Cache(48, 0.3)
        simulate_all(route, less)
        self.assertTrue(0 < less._steps.held_bytes <= 0.3 * STEP_BYTES)


class GivenBack(unittest.TestCase):
    def test_what_was_freed_between_what_stays_goes_back_to_the_machine(self):
        """Arrays too small for pages of their own, every tenth of which stays, hold on to all of their heap."""
        size = lambda: int(Path("/proc/self/statm").read_text().split()[1]) * resource.getpagesize()  # noqa: E731
        held = [np.ones(12_000) for _ in range(2_000)]  # 96 kB each
        stays = held[::10]
        del held
        before = size()
        self.assertTrue(give_back())
        self.assertLess(size(), before - 60_000_000)
        self.assertEqual(len(stays), 200)

    def test_what_is_kept_of_earlier_proofs_is_forgotten_only_when_it_is_too_much_and_the_next_is_the_same(self):
        route = route_named("control_plate")
        first = prove(route, tasks._cache)
        self.assertFalse(tasks.keep_within(held_bytes() + 100_000_000))
        self.assertGreater(len(resolve_module._kept), 0)
        self.assertIs(prove(route, tasks._cache).steps[0].top, first.steps[0].top)
        self.assertTrue(tasks.keep_within(1))
        self.assertEqual((len(resolve_module._kept), tasks._cache.hits), (0, 0))
        again = prove(route, tasks._cache)
        self.assertIsNot(again.steps[0].top, first.steps[0].top)
        self.assertTrue(np.array_equal(again.steps[-1].top, first.steps[-1].top))
        self.assertEqual([f.code for f in again.findings], [f.code for f in first.findings])


if __name__ == "__main__":
    unittest.main()
