"""Clearing with a bounded engagement, judged by a raster that shares nothing with the planner, at the figures asked of it."""

import math
import unittest

import numpy as np
from shapely import affinity
from shapely.geometry import LineString, Point, Polygon, box
from shapely.ops import unary_union

from birch_route.core.clearing.engaged import clear_engaged
from birch_route.core.clearing.plan import LegKind
from tests.independent.clearing_judge import judge

RADIUS = 3.0


def rounded(shape, radius=RADIUS + 0.2):
    return shape.buffer(-radius, quad_segs=32).buffer(radius, quad_segs=32)


def pickup_rout():
    return rounded(unary_union([box(-35.5, -20, 35.5, 20), box(-46, -7.5, 46, 7.5)]))


def wiring():
    t = np.linspace(0, 1, 60)
    way = LineString(np.column_stack([30 + 50 * t, 12 + 20 * (3 * t**2 - 2 * t**3)])).buffer(4.2)
    return unary_union([rounded(box(0, 0, 36, 26), 4), rounded(box(74, 18, 104, 44), 4), way]).simplify(0.003)


def chamber():
    ring = Point(0, 0).buffer(1, quad_segs=48)
    return affinity.scale(ring, 42, 26).difference(unary_union([Point(14, 3).buffer(7), affinity.rotate(box(-24, -6, -10, 5), 20).buffer(2)])).simplify(0.002)


def room_of(region):
    return region.buffer(-RADIUS, quad_segs=64)


def judged(region, **more):
    plan = clear_engaged(room_of(region), RADIUS, 60.0, **more)
    return plan, judge(region, RADIUS, [(int(leg.kind), leg.points) for leg in plan.legs], 60.0)


class Judged(unittest.TestCase):
    def test_guitar_regions_meet_the_figures(self):
        for make, ratio, air in ((pickup_rout, 1.03, 0.20), (wiring, 1.05, 0.29), (chamber, 1.03, 0.21)):  # a channel little wider than the bit turns round often
            for both in (False, True):
                with self.subTest(make.__name__, both_ways=both):
                    region = make()
                    plan, seen = judged(region, both_ways=both)
                    self.assertLessEqual(seen["left_mm2"], 1e-4 * seen["reachable_mm2"])
                    self.assertEqual(seen["gouged_mm2"], 0.0)
                    self.assertLessEqual(seen["over_15"], 0.003)
                    self.assertLessEqual(seen["over_30"], 0.0005)
                    self.assertLessEqual(seen["air"], air if both else 0.40)
                    self.assertEqual(seen["lifts"], 0)
                    self.assertLessEqual(seen["length_ratio"], ratio)
                    self.assertEqual(plan.slots, [])

    def test_the_judge_finds_what_is_planted(self):
        region = box(0, 0, 40, 20)
        slot = judge(region, RADIUS, [(0, np.array([[3.0, 10.0], [37.0, 10.0]]))], 60.0)
        self.assertGreater(slot["over_30"], 0.95)
        self.assertAlmostEqual(slot["most_deg"], 180.0, delta=4.0)
        self.assertGreater(slot["left_mm2"], 500)
        out = judge(region, RADIUS, [(0, np.array([[3.0, 10.0], [38.0, 10.0]]))], 60.0)
        self.assertGreater(out["gouged_mm2"], 1.0)
        half = judge(region, RADIUS, [(3, np.array([[3.0, 3.0], [37.0, 3.0]])), (0, np.array([[37.0, 4.5], [3.0, 4.5]]))], 60.0)
        self.assertAlmostEqual(float(np.median(half["met"][half["kinds"] == 0])), math.degrees(math.acos(0.5)), delta=3.0)

    def test_other_arcs_are_kept_too(self):
        for deg in (40.0, 90.0):
            with self.subTest(deg):
                region = rounded(box(0, 0, 40, 24))
                plan = clear_engaged(room_of(region), RADIUS, deg)
                seen = judge(region, RADIUS, [(int(leg.kind), leg.points) for leg in plan.legs], deg)
                self.assertLessEqual(seen["over_15"], 0.004)
                self.assertLessEqual(seen["left_mm2"], 1e-4 * seen["reachable_mm2"])


class Slots(unittest.TestCase):
    def test_a_slot_as_wide_as_the_bit_is_told_and_not_cut(self):
        for width in (2 * RADIUS * 1.02, 2 * RADIUS * 1.06):
            with self.subTest(width=width):
                region = unary_union([box(0, 0, 24, 24), box(20, 12 - width / 2, 64, 12 + width / 2), box(60, 0, 84, 24)])
                plan = clear_engaged(room_of(region), RADIUS, 60.0)
                seen = judge(region, RADIUS, [(int(leg.kind), leg.points) for leg in plan.legs], 60.0)
                cut_there = [leg for leg in plan.legs if leg.kind is not LegKind.LIFT and leg.points[:, 0].min() < 40 < leg.points[:, 0].max()]
                if cut_there:  # it found a way to go through within the arc
                    self.assertLessEqual(seen["over_30"], 0.001)
                else:
                    self.assertTrue(plan.slots)
                    x, y, told = plan.slots[0]
                    self.assertTrue(24 - RADIUS < x < 60 + RADIUS and abs(y - 12) < 1, plan.slots)
                    self.assertAlmostEqual(told, width, delta=0.1)
                self.assertLess(seen["over_30"], 0.002)

    def test_the_way_through_a_slot_without_room_is_never_silent(self):
        region = box(0, 0, 60, 2 * RADIUS + 0.1)
        plan = clear_engaged(room_of(region), RADIUS, 60.0)
        self.assertEqual([leg for leg in plan.legs if leg.kind is LegKind.CUT], [])
        self.assertEqual(len(plan.slots), 1)

    def test_sharp_corners_are_no_slots(self):
        star = Polygon([(r * math.cos(a), r * math.sin(a)) for k in range(12) for a, r in [(k * math.pi / 6, 30 if k % 2 else 15)]])
        plan, seen = judged(star)
        self.assertEqual(plan.slots, [])
        self.assertLessEqual(seen["left_mm2"], 3e-4 * seen["reachable_mm2"])


class Smooth(unittest.TestCase):
    def test_passes_begin_and_end_on_arcs(self):
        plan, _ = judged(pickup_rout())
        turns = []
        for link, cut in zip(plan.legs[:-1], plan.legs[1:], strict=True):
            if link.kind is LegKind.LINK and cut.kind is LegKind.CUT and len(cut.points) > 1:
                a, b = link.points[-1] - link.points[-2], cut.points[1] - cut.points[0]
                turns.append(abs(math.degrees(math.remainder(math.atan2(b[1], b[0]) - math.atan2(a[1], a[0]), 2 * math.pi))))
        self.assertGreater(len(turns), 20)
        self.assertGreater(np.mean(np.array(turns) < 25), 0.9, sorted(turns)[-10:])
