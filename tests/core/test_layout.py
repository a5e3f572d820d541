"""Layout arithmetic against constructions, brute force and meshes that do not know its formulas."""

import math
import random
import unittest

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from birch_route.core.errors import InfeasibleError, InputError
from birch_route.core.instrument.balance import balance, hang
from birch_route.core.instrument.clearances import clearances, screw_length
from birch_route.core.instrument.heights import (
    Heights,
    Unknown,
    height_gap,
    solve_heights,
)
from birch_route.core.instrument.layout import layout_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.instrument.saddles import pilot_mm
from birch_route.core.instrument.scale import check_scale, fan_lines, fret_distance
from birch_route.core.instrument.strings import (
    axis_error,
    edge_gaps,
    spacing_at,
    string_lines,
    width_at,
)
from birch_route.core.instrument.wires import WireHole, angle_window, works
from tests.independent.pieces import random_piece
from tests.support import changed, proof_of, put, route_named


class Scale(unittest.TestCase):
    @given(st.floats(300, 1000), st.integers(0, 24))
    def test_each_fret_raises_the_pitch_by_a_semitone(self, scale, fret):
        """Pitch goes as one over the sounding length: twelve frets double it, one multiplies it by the twelfth root of two."""
        sounding = scale - fret_distance(scale, fret)
        self.assertAlmostEqual(scale / sounding, 2 ** (fret / 12), places=9)
        self.assertAlmostEqual((scale - fret_distance(scale, fret)) / (scale - fret_distance(scale, fret + 1)), 2 ** (1 / 12), places=9)

    def test_known_places_of_a_scale(self):
        self.assertAlmostEqual(fret_distance(648, 12), 324)
        self.assertAlmostEqual(fret_distance(648, 0), 0)
        self.assertAlmostEqual(fret_distance(648, 24), 486)

    def test_a_fan_is_square_at_its_straight_fret_and_each_string_keeps_its_scale(self):
        rows = fan_lines(686, 648, 52, 7, 24)
        self.assertAlmostEqual(rows[7][0], rows[7][1])
        self.assertAlmostEqual(rows[12][1] - rows[0][1], 324)
        self.assertAlmostEqual(rows[12][0] - rows[0][0], 343)
        self.assertEqual(fan_lines(648, 648, 50, 5, 3), [(fret_distance(648, n),) * 2 for n in range(4)])

    def test_a_scale_that_is_only_a_name_is_caught(self):
        self.assertFalse(check_scale(628.65, 313.0, 0.6).agrees)
        self.assertTrue(check_scale(584.2, 292.2, 0.6).agrees)
        for bad in ((0, 1), (648, -1), (648, 99)):
            self.assertRaises(InputError, fret_distance, *bad)


class Strings(unittest.TestCase):
    @given(st.integers(2, 12), st.floats(28, 60), st.floats(40, 90), st.floats(560, 700))
    def test_strings_are_straight_even_and_centred(self, count, nut, saddle, scale):
        lines = string_lines(count, nut, saddle, 0, scale)
        for x in (0, scale / 3, scale):
            ys = [one.y_at(x) for one in lines]
            self.assertAlmostEqual(sum(ys), 0, places=6)
            self.assertAlmostEqual(max(np.diff(ys)) - min(np.diff(ys)), 0, places=6)
        self.assertAlmostEqual(spacing_at(lines, scale / 2), (nut + saddle) / 2, places=6)

    def test_gaps_to_the_board_agree_with_drawing_it(self):
        lines = string_lines(6, 36, 52, 0, 640)
        board = [(0, 42.0), (480, 57.0)]
        for gap in edge_gaps(lines, board, [0, 320, 480]):
            half = 21 + 7.5 * gap.x_mm / 480
            outer = 18 + 8 * gap.x_mm / 640
            self.assertAlmostEqual(gap.treble_mm, half - outer)
            self.assertAlmostEqual(gap.bass_mm, half - outer)
        self.assertAlmostEqual(width_at(board, 240), 49.5)

    def test_a_crooked_neck_lands_beside_the_bridge_by_similar_triangles(self):
        self.assertAlmostEqual(axis_error(0.5, 100, 200), 1.0)
        self.assertRaises(InputError, axis_error, 0.5, 0, 200)
        self.assertRaises(InputError, string_lines, 1, 36, 52, 0, 640)
        self.assertRaises(InputError, string_lines, 6, 36, 52, 0, 10)


HEIGHTS = st.builds(Heights, heel_mm=st.floats(20, 30), fret_mm=st.floats(0.8, 1.4), depth_mm=st.floats(12, 20), angle_deg=st.floats(0, 3), saddle_mm=st.floats(10, 22),
                    recess_mm=st.floats(0, 4), action_12th_mm=st.floats(1, 2.5), at_nut_mm=st.floats(0.2, 1), reach_mm=st.floats(120, 320), heel_length_mm=st.floats(50, 90))


class HeightStack(unittest.TestCase):
    @given(HEIGHTS, st.sampled_from(list(Unknown)))
    @settings(max_examples=200)
    def test_what_is_solved_agrees_with_a_string_drawn_over_a_tilted_neck(self, given_heights, unknown):
        """Construct it: place the fret plane as a line, the string over nut and 12th fret as another, and look where it passes the saddle."""
        try:
            h = solve_heights(given_heights, unknown).heights
        except InfeasibleError:
            assume(False)
        t = math.tan(math.radians(h.angle_deg))
        plane = lambda x: h.heel_mm + h.fret_mm + h.shim_mm - h.depth_mm + t * x  # noqa: E731  x from the heel's end towards the bridge
        nut, twelfth, saddle = -500.0 + h.reach_mm, -500.0 / 2 + h.reach_mm - 0.0, h.reach_mm
        twelfth = (nut + saddle) / 2
        y_nut, y_12 = plane(nut) + h.at_nut_mm, plane(twelfth) + h.action_12th_mm
        string_at_saddle = y_nut + (y_12 - y_nut) * (saddle - nut) / (twelfth - nut)
        self.assertAlmostEqual(string_at_saddle, h.saddle_mm - h.recess_mm, places=6)
        self.assertAlmostEqual(height_gap(h), 0, places=9)

    def test_the_wedge_has_the_angle_and_the_travel_is_told(self):
        h = Heights(25.4, 1.1, 14.0, 0.0, 15.5, 2.5, 1.6, 0.5, 186, 62)
        out = solve_heights(h, Unknown.ANGLE, (13.2, 17.5))
        self.assertAlmostEqual(math.degrees(math.atan(out.wedge_thick_mm / 62)), abs(out.heights.angle_deg), places=9)
        self.assertAlmostEqual(out.travel_down_mm, 2.3)
        self.assertAlmostEqual(out.travel_up_mm, 2.0)

    def test_what_cannot_be_is_refused_with_the_number(self):
        h = Heights(25.4, 1.1, 30.0, 0.0, 60.0, 0.0, 1.6, 0.5, 186, 62)
        with self.assertRaisesRegex(InfeasibleError, "neck angle"):
            solve_heights(h, Unknown.ANGLE)
        with self.assertRaises(InputError):
            solve_heights(Heights(25, 1, 16, 0, 15, 2, 1.6, 0.5, 0, 62), Unknown.DEPTH)

    def test_the_demo_body_gives_the_same_depth_both_ways(self):
        """The stack of the Measure screen and this one are two roads to one number."""
        resolved = resolve(route_named("siskin_body"))
        depth = next(d for d in resolved.derivations if d.id == "neck_pocket_depth").value_mm
        choices = route_named("siskin_body").choices
        h = Heights(25.4, 1.095, 10.0, 0.0, 13.2 + choices.saddle_part * (17.54 - 13.2), 2.5, choices.action_12th_mm, choices.string_at_nut_mm, 186, 62)
        self.assertAlmostEqual(solve_heights(h, Unknown.DEPTH).heights.depth_mm, depth, delta=0.03)


class WireHoles(unittest.TestCase):
    def test_the_window_is_that_of_brute_force(self):
        rng = random.Random(5)
        found = 0
        for _ in range(40):
            hole = WireHole(rng.uniform(20, 90), rng.uniform(12, 36), rng.uniform(10, 90), rng.uniform(20, 60), rng.uniform(14, 38), rng.uniform(38, 50), rng.uniform(3, 8), rng.uniform(0, 2), rng.uniform(2, 8))
            window = angle_window(hole)
            tried = [a for a in np.arange(0.25, 79, 0.25) if any(works(hole, a, e) for e in np.arange(0, hole.first_depth_mm, 0.1))]
            with self.subTest(hole=str(hole)):
                if window is None:
                    self.assertEqual(tried, [])
                elif tried:
                    found += 1
                    self.assertAlmostEqual(window.least_deg, min(tried), delta=0.45)
                    self.assertAlmostEqual(window.most_deg, max(tried), delta=0.45)
                    self.assertTrue(works(hole, (window.least_deg + window.most_deg) / 2, window.enters_deep_mm))
                else:
                    self.assertLess(window.most_deg - window.least_deg, 0.9)
        self.assertGreater(found, 10)

    def test_a_longer_cavity_allows_a_flatter_drill_and_a_thinner_body_a_narrower_window(self):
        near = angle_window(WireHole(60, 30, 40, 40, 34, 45, 5))
        longer = angle_window(WireHole(90, 30, 40, 40, 34, 45, 5))
        thinner = angle_window(WireHole(60, 30, 40, 40, 34, 36, 5, floor_mm=9))
        self.assertLess(longer.least_deg, near.least_deg)
        self.assertLess(thinner.most_deg, near.most_deg)
        self.assertRaises(InputError, angle_window, WireHole(0, 30, 40, 40, 34, 45, 5))


class Weight(unittest.TestCase):
    def test_weight_and_centre_agree_with_the_simulated_wood_within_half_a_per_cent(self):
        for seed in (1, 4, 9):
            route = random_piece(random.Random(seed), skim_mm=0.0)
            sim = proof_of(route).simulation
            thick = route.blank.thickness_mm
            ours = balance(resolve(route), thick, 500.0)
            inside = np.zeros(sim.result.shape, bool)
            xs, ys = np.meshgrid(sim.grid.x_centres(), sim.grid.y_centres())
            import shapely
            inside = shapely.contains_xy(sim.resolved.outline, xs, ys)
            height = np.where(inside, np.maximum(sim.result - sim.bottom, 0), 0)
            kg = height.sum() * sim.grid.cell_mm**2 * 500e-9
            with self.subTest(seed=seed):
                self.assertAlmostEqual(ours.kg, kg, delta=0.005 * kg)
                self.assertAlmostEqual(ours.x_mm, (height * xs).sum() / height.sum(), delta=0.4)
                self.assertAlmostEqual(ours.y_mm, (height * ys).sum() / height.sum(), delta=0.4)
                self.assertAlmostEqual(ours.solid_kg - sum(s.grams for s in ours.shares) / 1000, ours.kg, places=9)

    def test_a_centre_of_mass_between_the_pins_hangs_level_and_one_beyond_dives(self):
        level = hang([(2.0, 200, 0)], (0, 0), (400, 0))
        self.assertAlmostEqual(level.nose_deg, 0)
        self.assertGreater(hang([(2.0, 200, 0), (0.8, -300, 0)], (0, 0), (400, 0)).nose_deg, 5)
        self.assertLess(hang([(3.0, 300, 0)], (0, 0), (400, 0)).nose_deg, 0)


class Clearances(unittest.TestCase):
    def test_walls_and_floors_are_those_of_the_drawing(self):
        route = route_named("control_plate")
        rows = {c.feature: c for c in clearances(resolve(route), 2.5)}
        self.assertAlmostEqual(rows["pot_holes"].to_outside_mm, 25 - 4.8 - 0.2, delta=0.02)
        self.assertAlmostEqual(rows["screw_holes"].to_outside_mm, 9.6 - math.hypot(2.8, 2.8) - 1.5, delta=0.02)
        self.assertIsNone(rows["pot_holes"].floor_mm)
        body = {c.feature: c for c in clearances(resolve(route_named("siskin_body")), 45.0)}
        self.assertEqual(body["control_cavity"].meets, ["Plate rebate"])
        self.assertAlmostEqual(body["control_cavity"].floor_mm, 12.0)
        self.assertEqual(body["neck_pocket"].to_outside_mm, 0.0)

    def test_a_neck_screw_bites_but_stays_out_of_the_board(self):
        self.assertEqual(screw_length(45, 2, 29, 19), (14, True))
        self.assertEqual(screw_length(50, 2, 29, 19), (19, False))


if __name__ == "__main__":
    unittest.main()


class Saddles(unittest.TestCase):
    @given(st.floats(560, 660), st.floats(0, 45), st.integers(0, 12), st.lists(st.floats(-1, 4), min_size=4, max_size=4))
    @settings(max_examples=30, deadline=None)
    def test_every_string_sounds_its_own_scale_between_its_nut_and_its_saddle(self, treble, more, straight, extra):
        """By construction on the drawing: from its end of the nut to its saddle, less compensation, each outer string has its scale; the 12th fret halves it and the square fret stands square."""
        choices = {"scale_mm": treble, "bass_scale_mm": treble + more, "straight_fret": straight, "string_extra_mm": extra, "frets": 22, "compensation_mm": 2.0}
        unmeasured = [{"do": "drop_reading", "part": "neck", "place": "nut_to_12th", "index": 0}] * 2
        found = layout_of(changed(route_named("siskin_body"), *unmeasured, *[put(f"choices.{k}", v) for k, v in choices.items()])).strings
        frets, saddles = found["frets"], found["saddles"]
        self.assertAlmostEqual(saddles[0]["x_mm"] - extra[0] - 2.0 - frets[0][2], treble, places=6)
        self.assertAlmostEqual((saddles[-1]["x_mm"] - extra[3] - frets[0][0]) - (saddles[0]["x_mm"] - extra[0] - frets[0][2]), more, places=6)
        self.assertAlmostEqual(frets[12][2] - frets[0][2], treble / 2, places=6)
        self.assertAlmostEqual(frets[12][0] - frets[0][0], (treble + more) / 2, places=6)
        self.assertAlmostEqual(frets[straight][0], frets[straight][2], places=6)

    def test_saddle_travel_is_kept_with_one_to_spare(self):
        readings = [{"do": "keep_reading", "part": "bridge", "place": p, "typed": v} for p, v in (("travel_forward", "3"), ("travel_back", "5"))]
        for extra, told in (([0, 1, 2, 4.1], True), ([0, 1, 2, 3.9], False), ([-2.1, 0, 0, 1], True), ([-1.9, 0, 0, 1], False)):
            with self.subTest(extra=extra):
                route = changed(route_named("siskin_body"), *readings, put("choices.string_extra_mm", extra))
                found = [f for f in proof_of(route).findings if f.code == "bridge.travel"]
                self.assertEqual(bool(found), told)

    def test_the_bridge_s_points_are_named_from_the_heel(self):
        """Plate 35.18 deep, 20.01 before the saddle line, which lies 186 from the heel's end."""
        points = {p["name"]: p["from_heel_mm"] for p in layout_of(route_named("siskin_body")).saddle["points"]}
        self.assertAlmostEqual(points["Plate, front edge"], 186.0 - 20.01, places=3)
        self.assertAlmostEqual(points["Plate, middle"], 186.0 - 20.01 + 35.18 / 2, places=3)
        self.assertAlmostEqual(points["Plate, back edge"] - points["Plate, front edge"], 35.18, places=6)

    def test_pilot_and_clearance_of_a_wood_screw(self):
        self.assertAlmostEqual(pilot_mm(4.5, 3.1), 3.1 + 0.3 * 1.4)
        self.assertAlmostEqual(pilot_mm(4.0, None), 2.6 + 0.3 * 1.4)

    def test_grain_of_neighbours_is_compared(self):
        for angle, told in ((8.5, True), (7.5, False)):
            route = changed(route_named("siskin_body"), put("blank.planks.a.grain_deg", angle))
            self.assertEqual(bool([f for f in proof_of(route).findings if f.code == "blank.grain_differs"]), told)
