import math
import unittest
from types import SimpleNamespace

from hypothesis import given, settings
from hypothesis import strategies as st

from birch_route.core.errors import InputError
from birch_route.core.instrument.parts import (
    PartOnHand,
    find_outlier,
    read_place,
    take_reading,
)
from birch_route.core.instrument.stack import (
    heel_pocket,
    neck_pocket_depth,
    saddle_distance,
)
from birch_route.core.units import Unit


def part(kind, **places):
    readings = [{"place": p, "value_mm": v, "typed": str(v), "unit": "mm"} for p, values in places.items()
                for v in (values if isinstance(values, list) else [values])]
    return PartOnHand.model_validate({"id": kind, "kind": kind, "name": kind, "readings": readings})


class NeckPocketDepth(unittest.TestCase):
    @given(st.floats(18, 35), st.floats(0.6, 1.5), st.floats(1, 3), st.floats(0.2, 0.9), st.floats(8, 15), st.floats(0, 4))
    @settings(max_examples=60)
    def test_a_straight_string_drawn_in_section_meets_saddle_and_12th_fret(self, heel, fret, action, nut, low, recess):
        """Build the instrument at the depth found and lay a line over it: the string has the action asked for."""
        high = low + 5
        choices = SimpleNamespace(mine=[], action_12th_mm=action, string_at_nut_mm=nut, saddle_part=0.5)
        depth = neck_pocket_depth([part("neck", heel_thickness=heel, fret_height=fret), part("bridge", saddle_low=low, saddle_high=high)], choices, recess).value_mm
        face, scale = 0.0, 600.0
        fret_plane = face - depth + heel + fret  # top of the frets, neck flat in the pocket
        saddle = face - recess + (low + high) / 2
        string_at_nut = fret_plane + nut
        at_12th = (string_at_nut + saddle) / 2  # half way along the scale
        self.assertAlmostEqual(at_12th - fret_plane, action, places=9)
        self.assertGreater(scale, 0)

    def test_says_what_is_missing(self):
        choices = SimpleNamespace(mine=[], action_12th_mm=1.6, string_at_nut_mm=0.5, saddle_part=0.5)
        d = neck_pocket_depth([part("neck", fret_height=1.1)], choices, 0)
        self.assertIsNone(d.value_mm)
        self.assertIn("neck.heel_thickness", d.missing)


class SaddleDistance(unittest.TestCase):
    @given(st.floats(450, 700), st.floats(80, 150), st.floats(0, 5))
    def test_the_saddle_stands_one_scale_and_compensation_from_the_nut(self, scale, to_12th, compensation):
        choices = SimpleNamespace(mine=[], scale_mm=scale, compensation_mm=compensation)
        found = saddle_distance([part("neck", heel_to_12th=to_12th)], choices).value_mm
        nut_to_heel_end = scale / 2 + to_12th
        self.assertAlmostEqual(nut_to_heel_end + found, scale + compensation, places=9)


class HeelPocket(unittest.TestCase):
    @given(st.floats(40, 60), st.floats(-4, 4), st.floats(30, 70), st.floats(0, 0.3))
    @settings(max_examples=60)
    def test_the_measured_heel_stands_off_every_wall_by_the_gap(self, end, narrower, station, gap):
        heel = part("neck", heel_width_end=end, heel_width_station=end - narrower, heel_station=station, heel_length=62)
        pocket = heel_pocket(heel, gap)
        slope = -narrower / station / 2  # of one side of the heel, over distance from its end
        x_wall = (pocket.length_mm - 0, 0.0)
        self.assertAlmostEqual(x_wall[0] - 62, gap, places=9)
        for s in (0.0, 20.0, 62.0):  # a point on the heel's side, distance s from its end
            y = end / 2 + slope * s
            at_end, at_mouth = pocket.end_width_mm / 2, pocket.mouth_width_mm / 2
            wall_slope = (at_mouth - at_end) / pocket.length_mm
            distance = (at_end + wall_slope * (s + gap) - y) / math.hypot(1, wall_slope)
            self.assertAlmostEqual(distance, gap, places=6)


class Readings(unittest.TestCase):
    def test_names_the_one_reading_that_is_off_and_leaves_it_out(self):
        self.assertEqual(find_outlier([25.40, 25.42, 25.72, 25.41]), 2)
        self.assertIsNone(find_outlier([25.4, 25.6]))
        self.assertIsNone(find_outlier([25.40, 25.44, 25.47]))
        place = read_place(part("neck", heel_thickness=[25.40, 25.72, 25.42]), "heel_thickness")
        self.assertEqual((place.outlier, round(place.value_mm, 2), round(place.spread_mm, 2)), (1, 25.41, 0.02))

    def test_a_slip_of_the_unit_is_refused_with_the_range(self):
        with self.assertRaisesRegex(InputError, "between 20 and 120"):
            take_reading(part("neck"), "heel_width_end", '46"', Unit.MM)

    def test_a_place_that_does_not_exist_is_refused(self):
        with self.assertRaises(InputError):
            read_place(part("plate"), "heel_length")
