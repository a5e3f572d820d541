"""What minutes go on, on ways whose times are worked out by hand."""

import math
import unittest

import numpy as np

from birch_route.core.machines import Machine
from birch_route.core.motion.spent import spent
from birch_route.core.motion.timing import move_times
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.vocabulary import MoveKind
from birch_route.demo.jobs import body_route


class SpentTest(unittest.TestCase):
    machine: Machine

    @classmethod
    def setUpClass(cls):
        cls.machine = body_route().machine.model_copy(update={"acceleration_mm_s2": (500.0, 500.0, 250.0), "rapid_mm_min": (6000.0, 6000.0, 1200.0), "greatest_feed_mm_min": 6000.0})

    def of(self, build, removed=None):
        path = PathBuilder(0, 0, 0)
        build(path)
        made = path.done()
        times = move_times(made, self.machine)
        return spent(made, times, np.ones(len(made)) if removed is None else np.asarray(removed, float), self.machine), times

    def test_one_straight_cut(self):
        one, _ = self.of(lambda p: p.to(200, 0, 0, MoveKind.CUT, 3000))  # 50 mm/s: 4 s at feed, and v/a = 0.1 s more for both ends together
        self.assertAlmostEqual(one.at_feed_s, 4.0, places=6)
        self.assertAlmostEqual(one.changing_s, 0.1, places=6)
        self.assertEqual((one.capped_s, one.down_s, one.rapid_s, one.air_s), (0, 0, 0, 0))
        self.assertEqual(one.limit, "feed")
        self.assertAlmostEqual(one.faster_saves_s, 4.1 - (200 / 60 + 60 / 500), places=6)

    def test_short_zigzag_is_held_by_acceleration(self):
        def zigzag(p):
            for k in range(40):
                p.to(4 * ((k + 1) % 2), 0, 0, MoveKind.CUT, 6000)
        one, times = self.of(zigzag)
        self.assertEqual(one.limit, "acceleration")
        self.assertAlmostEqual(times.sum(), 40 * 2 * math.sqrt(4 / 500), places=6)  # never reaches its feed
        self.assertAlmostEqual(one.faster_saves_s, 0.0, places=9)
        self.assertAlmostEqual(one.at_feed_s, 40 * 4 / 100, places=6)

    def test_steep_cut_is_capped_by_the_slow_axis(self):
        one, _ = self.of(lambda p: p.to(60, 0, -80, MoveKind.CUT, 3000))  # z makes 20 mm/s: 100 mm take 4 s instead of 2
        self.assertAlmostEqual(one.at_feed_s, 2.0, places=6)
        self.assertAlmostEqual(one.capped_s, 2.0, places=6)
        self.assertAlmostEqual(one.faster_saves_s, 0.0, places=6)

    def test_greatest_feed_is_named(self):
        one, _ = self.of(lambda p: p.to(500, 0, 0, MoveKind.CUT, 6000))
        self.assertEqual(one.limit, "greatest")
        self.assertAlmostEqual(one.faster_saves_s, 0.0, places=9)

    def test_parts_add_up_and_air_is_told(self):
        def mixed(p):
            p.rapid(z_mm=5)
            p.rapid(50, 20)
            p.to(50, 20, -3, MoveKind.PLUNGE, 600)
            p.to(90, 20, -3, MoveKind.CUT, 2400)
            p.to(90, 60, -3, MoveKind.FINISH, 2400)
        one, times = self.of(mixed, [0, 0, 2, 9, 0])
        self.assertAlmostEqual(one.at_feed_s + one.changing_s + one.capped_s + one.down_s + one.rapid_s, times.sum(), places=9)
        self.assertAlmostEqual(one.rapid_s, times[:2].sum(), places=9)
        self.assertAlmostEqual(one.down_s, times[2], places=9)
        self.assertAlmostEqual(one.air_s, times[4], places=9)


if __name__ == "__main__":
    unittest.main()
