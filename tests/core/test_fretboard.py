"""Fretboards from numbers, against formulas written here."""

import json
import math
import random
import unittest

from pydantic import ValidationError

from birch_route.core.fretboard.face import bow_mm, edge_mm, height_mm, radius_mm, sag_mm
from birch_route.core.fretboard.features import floors_of
from birch_route.core.fretboard.lines import plan_of
from birch_route.core.fretboard.numbers import Board, Wire
from birch_route.core.fretboard.slots import slots_of, width_of
from birch_route.core.fretboard.view import board_answer


def board(**more):
    base = {"scale_mm": 648.0, "width_nut_mm": 42.5, "width_end_mm": 56.0, "radius_nut_mm": 305.0,
            "radius_end_mm": 305.0, "thickness_mm": 6.0,
            "wire": Wire(tang_depth_mm=1.6, tang_mm=0.51, barbs_mm=0.75)}
    return Board(**{**base, **more})


class Lines(unittest.TestCase):
    def test_frets_of_one_scale_lie_by_equal_steps_and_square(self):
        plan = plan_of(board())
        for line in plan.lines:
            self.assertAlmostEqual(line.centre_mm, 648 - 648 / 2 ** (line.number / 12), places=9)
            self.assertEqual(line.bass[0], line.treble[0])
        self.assertAlmostEqual(plan.lines[12].centre_mm, 324.0, places=9)
        self.assertAlmostEqual(plan.lines[0].wide_mm, 42.5)
        self.assertAlmostEqual(2 * plan.half_mm(plan.end_mm), 56.0)

    def test_each_row_of_two_scales_is_equal_steps_along_its_own_string(self):
        rng = random.Random(5)
        for _ in range(40):
            treble = rng.uniform(600, 660)
            bass = treble + rng.uniform(8, 45)
            one = board(scale_mm=treble, bass_scale_mm=bass, square_fret=rng.randrange(0, 15))
            plan = plan_of(one)
            slope = (plan.width_end_mm - plan.width_nut_mm) / 2 / plan.end_mm
            rows = []
            for side, scale in ((-1, bass), (1, treble)):
                places = []
                for line in plan.lines:  # where the slot crosses the outer string
                    lean = (line.treble[0] - line.bass[0]) / (line.treble[1] - line.bass[1])
                    x = line.centre_mm
                    for _ in range(50):
                        x = line.centre_mm + lean * side * (plan.half_mm(x) - one.edge_land_mm)
                    places.append(x)
                steps = [(p - places[0]) * math.hypot(1, slope) for p in places]
                for n, step in enumerate(steps):
                    self.assertAlmostEqual(step, scale * (1 - 2 ** (-n / 12)), delta=1e-6)
                rows.append(places)
            square = plan.lines[one.square_fret]
            self.assertAlmostEqual(square.bass[0], square.treble[0], delta=1e-6)
            self.assertAlmostEqual(plan.lines[0].centre_mm, 0.0, delta=1e-6)
            for line in plan.lines:
                for x, y in (line.bass, line.treble):
                    self.assertAlmostEqual(abs(y), plan.half_mm(x), delta=1e-6)


class Face(unittest.TestCase):
    def test_sag_at_the_edges_is_what_the_circle_says(self):
        for radius, wide, sag in ((305, 42.5, 0.74), (305, 56, 1.29), (184, 42.5, 1.23), (184, 56, 2.14)):
            self.assertAlmostEqual(sag_mm(radius, wide / 2), sag, delta=0.005)

    def test_a_straight_edge_along_an_outer_string_shows_the_known_bows(self):
        """22 frets of 648, strings 35.5 apart at the nut and 51 at the saddle. With y and R both running straight the
        drop y^2 / 2R bends one way whatever grows faster, so the middle is never hollow."""
        for first, last, bow in ((184, 184, 0.022), (305, 305, 0.013), (254, 406, 0.006), (184, 305, 0.012),
                                 (254, 508, 0.025)):
            one = board(radius_nut_mm=first, radius_end_mm=last, width_nut_mm=41.5, past_last_fret_mm=1.0)
            end = plan_of(one).end_mm
            wide = 41.5 + (51 - 35.5) * end / 648
            one = one.model_copy(update={"width_end_mm": wide})
            self.assertAlmostEqual(bow_mm(one, plan_of(one), 0), bow, delta=0.0025, msg=f"{first} to {last}")

    def test_radius_runs_straight_and_the_edge_is_the_crown_less_the_sag(self):
        one = board(radius_nut_mm=254, radius_end_mm=406)
        plan = plan_of(one)
        self.assertAlmostEqual(radius_mm(one, plan, plan.end_mm / 2), 330.0)
        self.assertAlmostEqual(edge_mm(one, plan, 0.0), 6 - sag_mm(254, 21.25))
        fallen = one.model_copy(update={"fall_away_mm": 0.3})
        self.assertAlmostEqual(height_mm(fallen, plan, plan.end_mm, 0.0), 5.7)
        begins = plan.lines[-1].centre_mm * 2 / 3
        self.assertAlmostEqual(height_mm(fallen, plan, begins, 0.0), 6.0)


class Slots(unittest.TestCase):
    def test_a_flat_floor_keeps_the_wanted_depth_at_edge_and_crown(self):
        one = board()
        plan = plan_of(one)
        for slot, line in zip(slots_of(one, plan), plan.lines[1:], strict=True):
            floor = one.thickness_mm - slot.flat_mm
            for x, y in (line.bass, line.treble, (line.centre_mm, 0.0)):
                self.assertGreaterEqual(height_mm(one, plan, x, y) - floor, slot.wanted_mm - 1e-9)
            edge = min(height_mm(one, plan, *line.bass), height_mm(one, plan, *line.treble))
            self.assertAlmostEqual(edge - floor, slot.wanted_mm)
            self.assertAlmostEqual(slot.under_crown_mm, floor)

    def test_a_floor_that_follows_leaves_more_under_the_crown(self):
        one = board(floors="following")
        plan = plan_of(one)
        slot = slots_of(one, plan)[-1]
        self.assertIsNone(slot.flat_mm)
        self.assertAlmostEqual(slot.under_crown_mm, 6 - 2.0)
        self.assertAlmostEqual(slot.under_edge_mm, edge_mm(one, plan, plan.lines[-1].centre_mm) - 2.0, places=6)

    def test_no_slots_without_a_tang_and_widths_hold_the_barbs(self):
        self.assertEqual(slots_of(board(wire=Wire()), plan_of(board())), [])
        self.assertIsNone(width_of(board(wire=Wire())))
        wide = width_of(board())
        self.assertAlmostEqual(wide.least_mm, 0.51)
        self.assertAlmostEqual(wide.most_mm, 0.55)
        tight = width_of(board(seat="glued", wire=Wire(tang_mm=0.51, barbs_mm=0.69)))
        self.assertAlmostEqual(tight.most_mm, 0.59)

    def test_each_limit_of_what_can_be_from_both_sides(self):
        for inside, outside in (
            ({"width_end_mm": 42.5}, {"width_end_mm": 42.49}),
            ({"width_nut_mm": 26.0, "edge_land_mm": 8.0}, {"width_nut_mm": 25.99, "edge_land_mm": 8.0}),
            ({"nut_slot_mm": 3.0, "before_nut_mm": 3.0}, {"nut_slot_mm": 3.0, "before_nut_mm": 2.99}),
            ({"marker_deep_mm": 5.99}, {"marker_deep_mm": 6.0}),
            ({"nut_slot_mm": 3.0, "before_nut_mm": 3.0}, {"nut_slot_mm": 3.0, "before_nut_mm": 3.0, "zero_fret": True}),
            ({"square_fret": 22}, {"square_fret": 23}),
            ({"radius_nut_mm": 100.0, "radius_end_mm": 100.0, "width_end_mm": 150.0},
             {"radius_nut_mm": 100.0, "radius_end_mm": 100.0, "width_nut_mm": 150.0, "width_end_mm": 200.0}),
            ({"bass_scale_mm": 725.0}, {"bass_scale_mm": 780.0}),
            ({"frets": 1, "square_fret": 0, "width_nut_mm": 20.0, "width_end_mm": 60.0, "past_last_fret_mm": 8.0},
             {"frets": 1, "square_fret": 0, "width_nut_mm": 20.0, "width_end_mm": 60.0, "past_last_fret_mm": 8.0,
              "before_nut_mm": 30.0}),
        ):
            with self.subTest(outside):
                board(**inside)
                with self.assertRaises(ValidationError):
                    board(**outside)

    def test_whatever_is_taken_can_be_drawn(self):
        rng = random.Random(9)
        taken = 0
        for _ in range(700):
            pick = lambda low, high: rng.choice([low, high, rng.uniform(low, high)])  # noqa: B023, E731
            numbers = {
                "scale_mm": pick(300, 1000), "frets": rng.randrange(1, 37), "square_fret": 0, "markers": False,
                "width_nut_mm": pick(20, 80), "width_end_mm": pick(60, 150), "edge_land_mm": pick(0.5, 5),
                "radius_nut_mm": pick(100, 2000), "radius_end_mm": pick(100, 2000), "fall_away_mm": pick(0, 1),
                "thickness_mm": pick(3, 15), "past_last_fret_mm": pick(1, 60), "before_nut_mm": pick(0, 30),
                "bass_scale_mm": rng.choice([None, pick(300, 1000)]), "left_handed": rng.random() < 0.3,
                "floors": rng.choice(["flat", "following"]), "blind": rng.random() < 0.3,
            }
            try:
                one = board(**numbers)
            except ValidationError:
                continue
            taken += 1
            json.dumps(board_answer(one), allow_nan=False)
            self.assertTrue(floors_of(one).region().is_valid)
        self.assertGreater(taken, 90)

    def test_numbers_that_cannot_be_are_refused(self):
        for wrong in ({"square_fret": 23}, {"radius_nut_mm": 100.0, "width_nut_mm": 120.0, "width_end_mm": 150.0,
                      "radius_end_mm": 75.0}, {"nut_slot_mm": 3.0, "before_nut_mm": 2.9}):
            with self.assertRaises(ValidationError, msg=wrong):
                board(**wrong)
        with self.assertRaises(ValidationError):
            Wire(tang_mm=0.6, barbs_mm=0.6)
