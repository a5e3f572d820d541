"""Sign-in links that are none are heard a few times a minute from one place, from another all the same."""

import unittest

from birch_route.web.tries import MOST, PLACES, WITHIN_S, Tries


class Sparing(unittest.TestCase):
    def setUp(self):
        self.time = 0.0
        self.tries = Tries(lambda: self.time)

    def fails(self, times, place="one"):
        for _ in range(times):
            self.tries.failed(place)

    def test_one_less_than_the_most_is_heard_and_the_most_waits(self):
        self.fails(MOST - 1)
        self.assertFalse(self.tries.must_wait("one"))
        self.fails(1)
        self.assertTrue(self.tries.must_wait("one"))
        self.assertFalse(self.tries.must_wait("other"))

    def test_after_its_time_it_is_heard_again(self):
        self.fails(MOST)
        self.time = WITHIN_S - 0.1
        self.assertTrue(self.tries.must_wait("one"))
        self.time = WITHIN_S
        self.assertFalse(self.tries.must_wait("one"))

    def test_many_places_do_not_fill_the_memory(self):
        for k in range(PLACES + 50):
            self.fails(1, f"place {k}")
        self.assertEqual(len(self.tries._failed), PLACES)


if __name__ == "__main__":
    unittest.main()
