"""Boards, planks and flaws against counting and drawing them."""

import random
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import box

from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.materials.boards import (
    Verdict,
    flatness,
    glue_up,
    judge_defect,
    plank_yield,
)
from tests.support import route_named


class GlueUps(unittest.TestCase):
    @given(st.lists(st.floats(40, 300), min_size=1, max_size=6), st.floats(0, 3), st.floats(100, 400))
    def test_what_the_boards_give_is_what_they_had_less_each_jointed_edge(self, widths, loss, blank):
        joined = glue_up(widths, loss, -50, blank)
        self.assertAlmostEqual(joined.width_mm, sum(widths) - 2 * (len(widths) - 1) * loss, places=6)
        self.assertEqual(len(joined.lines), len(widths) - 1)
        for (_, a), (b, _) in zip(joined.strips, joined.strips[1:], strict=False):
            self.assertEqual(a, b)
        self.assertAlmostEqual(joined.short_mm, max(0.0, blank - joined.width_mm), places=6)
        self.assertAlmostEqual((joined.strips[0][0] + joined.strips[-1][1]) / 2, -50 + blank / 2, places=6)

    def test_a_board_that_jointing_uses_up_and_no_board_at_all_are_refused(self):
        for widths in ([], [100, 1.5, 100]):
            with self.assertRaises(InputError):
                glue_up(widths, 1.0, 0, 200)


class Planks(unittest.TestCase):
    @given(st.integers(300, 3000), st.integers(60, 400), st.floats(0, 5), st.floats(0, 60), st.integers(0, 9))
    @settings(max_examples=80, deadline=None)
    def test_no_cut_overlaps_another_or_leaves_the_plank(self, length, width, kerf, end, seed):
        rng = random.Random(seed)
        wanted = [(f"piece {k}", rng.uniform(80, 800), rng.uniform(30, 200), rng.randint(1, 8)) for k in range(3)]
        out = plank_yield(length, width, wanted, kerf, end)
        shapes = [box(c.x_mm, c.y_mm, c.x_mm + c.length_mm, c.y_mm + c.width_mm) for c in out.cuts]
        for k, one in enumerate(shapes):
            self.assertTrue(box(end - 1e-6, -1e-6, length - end + 1e-6, width + 1e-6).covers(one))
            for other in shapes[k + 1:]:
                self.assertGreaterEqual(one.distance(other), min(kerf, 1e9) - 1e-6 if not one.intersects(other) else -1)
                self.assertLess(one.intersection(other).area, 1e-6)
        self.assertEqual(sum(out.counts.values()), len(out.cuts))
        self.assertTrue(all(out.counts.get(w, 0) <= most for w, _, _, most in wanted))

    def test_a_plank_counted_by_hand(self):
        out = plank_yield(2000, 200, [("half", 480, 180, 9), ("neck", 700, 80, 9)], 4, 20)
        self.assertEqual(out.counts, {"half": 4})  # four of 480 with three kerfs are 1932 of 1960; no neck beside 180
        self.assertEqual(plank_yield(2000, 270, [("half", 480, 180, 9), ("neck", 700, 80, 9)], 4, 20).counts, {"half": 4, "neck": 2})
        self.assertEqual(plank_yield(400, 100, [("half", 480, 180, 9)], 4, 20).counts, {})
        self.assertRaises(InputError, plank_yield, 0, 100, [("a", 1, 1, 1)], 3, 0)


class Flaws(unittest.TestCase):
    def judge(self, x, y, radius=4, top=0, deep=15):
        return judge_defect("k", x, y, radius, top, deep, resolve(route_named("siskin_body")), 45.0).verdict

    def test_a_flaw_counts_by_where_it_lies(self):
        self.assertEqual(self.judge(430, 150), Verdict.CUT_AWAY)  # in the waste
        self.assertEqual(self.judge(306, -84, deep=30), Verdict.CUT_AWAY)  # all of it in the control cavity
        self.assertEqual(self.judge(306, -84, deep=40), Verdict.SHOWS)  # it goes on below that floor
        self.assertEqual(self.judge(70, 5), Verdict.STRUCTURAL)  # at the neck pocket's end
        self.assertEqual(self.judge(278, 60), Verdict.STRUCTURAL)  # beside a post hole
        self.assertEqual(self.judge(120, 70), Verdict.SHOWS)  # on the face
        self.assertEqual(self.judge(120, 70, top=10, deep=20), Verdict.HIDDEN)

    def test_thickness_readings_have_a_least_a_most_and_a_mean(self):
        flat = flatness([45.7, 45.9, 45.8])
        self.assertEqual((flat.least_mm, flat.most_mm), (45.7, 45.9))
        self.assertAlmostEqual(flat.mean_mm, 45.8)
        self.assertAlmostEqual(flat.spread_mm, 0.2)
        self.assertIsNone(flatness([]))


if __name__ == "__main__":
    unittest.main()
