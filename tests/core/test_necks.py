"""The back of a neck against a formula written here; what its numbers make; that they cannot be what they are not."""

import math
import unittest

import numpy as np
import shapely
from pydantic import ValidationError
from shapely.geometry import LineString, Polygon

from birch_route.core.neck.features import neck_features
from birch_route.core.neck.lines import outline_points, posts_of
from birch_route.core.neck.loft import Loft
from birch_route.core.neck.numbers import BackStation
from birch_route.core.neck.strings import head_strings
from birch_route.core.neck.surfaces import NeckBack
from birch_route.core.neck.under import least_under, under_rod
from birch_route.core.neck.view import makings, neck_view, turns_of
from birch_route.core.operations.lofting import ball_middles, contact_turns
from birch_route.core.proving.prove import prove
from tests.core.necks import board, neck, the_route

OWN = {"flat_oval": (2.3, 2.1), "full_round": (2.0, 2.0), "square_shoulders": (2.7, 2.4)}


def fret(scale, n):
    return scale * (1 - 2 ** (-n / 12))


def half_width(one, x):
    b = one.board
    end = fret(b.scale_mm, b.frets) + b.past_last_fret_mm
    return (b.width_nut_mm + (b.width_end_mm - b.width_nut_mm) * x / end) / 2


def own_section(one, x, count=4001):
    """Half width, y, depth below the glue plane: the formula of the back, written anew."""
    a = half_width(one, x)
    first, twelfth = (fret(one.board.scale_mm, k) for k in (1, 12))
    thick = one.thick_1st_mm + (one.thick_12th_mm - one.thick_1st_mm) * (x - first) / (twelfth - first)
    n, m = OWN[one.shape]
    y = a * np.sin(np.linspace(-math.pi / 2, math.pi / 2, count))
    return a, y, (thick - one.board.thickness_mm) * np.maximum(1 - np.abs(y / a) ** n, 0) ** (1 / m)


class TheLoft(unittest.TestCase):
    def test_sections_are_the_formula(self):
        for shape in OWN:
            one = neck(shape=shape)
            for x in (20.0, 159.3, 300.0):
                a, y, z = own_section(one, x, 201)
                got = Loft(one).below(np.full(len(y), x), y)
                self.assertLess(np.abs(got - z).max(), 1e-9, (shape, x))
                self.assertAlmostEqual(float(Loft(one).sides.half(np.array([x]), 1.0)[0]), a, 9)

    def test_points_of_a_turn_lie_on_the_surface(self):
        for more in ({}, {"shift_mm": 2.5}, {"shift_mm": -3.0, "shape": "soft_ridge"}):
            loft = Loft(neck(**more))
            x = np.linspace(-39, 399, 120)
            for t in (0.3, 1.0, math.pi / 2, 2.2, 3.0):
                y, z = loft.point(x, np.full(len(x), t))
                self.assertLess(np.abs(loft.below(x, y) - z).max(), 1e-6)

    def test_an_apex_moved_to_the_treble_side_is_there_and_mirrored_on_a_left_handed_neck(self):
        y, _ = Loft(neck(shift_mm=2.0)).point(np.array([200.0]), np.array([math.pi / 2]))
        self.assertAlmostEqual(float(y[0]), 2.0, 9)
        left = neck(shift_mm=2.0, on=board(left_handed=True))
        y, _ = Loft(left).point(np.array([200.0]), np.array([math.pi / 2]))
        self.assertAlmostEqual(float(y[0]), -2.0, 9)

    def test_its_slope_is_even_along_lines_of_equal_turn(self):
        """Over a thousandth of a millimetre slopes differ by less than a thousandth, through both transitions."""
        for more in ({}, {"head": {"volute_mm": 3.0}}, {"stations": [BackStation(at_mm=200.0, thick_mm=22.6)]}):
            loft = Loft(neck(**more))
            x = np.arange(loft.head_end_mm, loft.neck.heel_from_mm, 0.01)
            for t in (0.4, 1.1, math.pi / 2, 2.4):
                _, z = loft.point(x, np.full(len(x), t))
                slope = np.diff(z) / 0.01
                self.assertLess(np.abs(np.diff(slope)).max(), 0.001, more)

    def test_the_shaft_turns_nowhere_unless_a_station_asks_for_it(self):
        self.assertEqual(turns_of(Loft(neck())), [])
        waved = neck(stations=[BackStation(at_mm=150.0, thick_mm=23.0), BackStation(at_mm=240.0, thick_mm=21.0)])
        self.assertGreater(len(turns_of(Loft(waved))), 0)

    def test_a_set_station_is_met_and_leaves_1st_and_12th_alone(self):
        one = neck(stations=[BackStation(at_mm=200.0, thick_mm=23.4, rim=2.8)])
        loft = Loft(one)
        self.assertAlmostEqual(float(loft.thick(np.array([200.0]))[0]), 23.4, 9)
        self.assertAlmostEqual(float(loft.exponents(np.array([200.0]))[0][0]), 2.8, 9)
        self.assertAlmostEqual(float(loft.thick(np.array([fret(635.0, 1)]))[0]), 21.0, 9)
        self.assertAlmostEqual(float(loft.thick(np.array([fret(635.0, 12)]))[0]), 22.6, 9)

    def test_girth_goes_round(self):
        """A full round back as deep as half its width is half a circle."""
        on = board(width_nut_mm=40.0, width_end_mm=40.0, radius_nut_mm=2000.0, radius_end_mm=2000.0)
        one = neck(on=on, shape="full_round", thick_1st_mm=26.0, thick_12th_mm=26.0, heel_mm=20.0,
                   rod={"long_mm": 380.0})
        self.assertAlmostEqual(Loft(one).girth_mm(200.0), math.pi * 20 + 40 + 12, delta=0.3)


class TheBall(unittest.TestCase):
    def test_its_middle_lies_its_radius_away_from_the_surface_everywhere(self):
        """Its distance to a dense net of the surface is the radius: it neither digs in nor stands off."""
        surface = NeckBack(neck(), 19.0)
        loft = surface.loft
        x = np.arange(-42.0, 401.0, 0.25)
        turns = np.linspace(0.0, math.pi, 900)
        for at in (-25.0, 30.0, 200.0, 385.0):
            near = x[np.abs(x - at) < 9]
            y, z = loft.point(near[:, None], turns[None, :])
            net = np.column_stack([np.repeat(near, len(turns)), y.ravel(), z.ravel() - 19.0])
            for turn in (0.05, 0.5, 1.2, math.pi / 2, 2.6):
                middle = ball_middles(surface, np.array([at]), turn, 4.0)[0]
                away = np.linalg.norm(net - middle, axis=1).min()
                self.assertAlmostEqual(away, 4.0, delta=0.012)

    def test_passes_stand_no_further_apart_than_a_stepover(self):
        loft = Loft(neck())
        turns = contact_turns(loft, 0.7)
        x = np.linspace(loft.head_end_mm, 400.0, 90)
        y, z = loft.point(x[:, None], turns[None, :])
        self.assertLessEqual(np.hypot(np.diff(y, axis=1), np.diff(z, axis=1)).max(), 0.7 * 1.01)

    def test_the_wood_is_the_formula(self):
        """Under 60 degrees within the ridge and a hundredth straight up, steeper within 0.02 square to the surface."""
        route = the_route(wood="khaya")
        proof = prove(route)
        sim, thick = proof.simulations[1], route.blank.piece_mm
        one, grid = route.piece.neck, sim.grid
        y_at = -grid.y_centres()
        for n in (1, 3, 5, 7, 9, 12):
            i = int((fret(635.0, n) - grid.x0_mm) / grid.cell_mm)
            a, y, z = own_section(one, grid.x0_mm + (i + 0.5) * grid.cell_mm)
            here = np.abs(y_at) < a - 0.02
            top = sim.result[:, i][here] + thick
            away = shapely.distance(shapely.points(y_at[here], top), LineString(np.column_stack([y, z])))
            slope = np.degrees(np.arctan(np.abs(np.interp(y_at[here], y, np.gradient(z, y)))))
            over = top - np.interp(y_at[here], y, z)
            flat = slope < 60
            self.assertGreater(over[flat].min(), -0.01, n)
            self.assertLess(over[flat].max(), 0.03, n)
            self.assertLess(away[~flat].max(), 0.02, n)


class WhatFollows(unittest.TestCase):
    def test_its_outline_is_one_ring_that_holds_its_posts(self):
        for form in ("leaf", "row", "blunt"):
            for left in (False, True):
                one = neck(head={"form": form, "long_mm": 235.0 if form == "row" else 178.0},
                           tuners={"pitch_mm": 26.0 if form == "row" else 36.0}, on=board(left_handed=left))
                ring = Polygon(outline_points(one))
                self.assertTrue(ring.is_valid, form)
                self.assertTrue(ring.exterior.is_ccw, form)
                self.assertEqual(len(posts_of(one)), 6)
                for post in posts_of(one):
                    self.assertTrue(ring.contains(shapely.Point(post.x_mm, post.y_mm)), (form, left, post))

    def test_bass_strings_lie_to_the_other_side_on_a_left_handed_neck(self):
        right, left = (posts_of(neck(on=board(left_handed=v)))[0] for v in (False, True))
        self.assertLess(right.y_mm, 0)
        self.assertAlmostEqual(left.y_mm, -right.y_mm, 9)

    def test_wood_under_the_rod(self):
        """The channel's own corner, by the formula: 3.1 beside the middle, 9 deep."""
        one = neck()
        loft = Loft(one)
        x = fret(635.0, 5)
        _, y, z = own_section(one, x)
        self.assertAlmostEqual(float(under_rod(loft, np.array([x]))[0]), float(np.interp(3.1, y, z)) - 9.0, places=4)
        view = neck_view(one)
        self.assertAlmostEqual(view.rows[5].under_rod_mm, float(np.interp(3.1, y, z)) - 9.0, places=4)
        self.assertIsNone(neck_view(neck(rod={"width_mm": None})).rows[5].under_rod_mm)
        worst = least_under(loft, [f for f in the_route().features if f.kind == "pocket"])[0]
        self.assertAlmostEqual(worst.left_mm, min(v for v in under_rod(loft, np.linspace(-6, 384, 2000))
                                                  if not math.isnan(v)), delta=0.01)

    def test_a_string_breaks_as_a_ruler_says(self):
        one = neck(head={"step_mm": 6.0})
        first = head_strings(one)[0]
        down = 6.0 + 1.6 + 6.0 - 4.0
        run = math.hypot(first.post[0], first.post[1] - first.nut[1])
        self.assertAlmostEqual(first.break_deg, math.degrees(math.atan2(down, run)), 9)
        held = head_strings(neck(head={"retainer_mm": 40.0, "retainer_strings": 2, "retainer_high_mm": 2.0}))
        self.assertEqual([s.held for s in held], [False] * 4 + [True] * 2)
        self.assertAlmostEqual(held[5].break_deg, math.degrees(math.atan2(6.0 + 1.6 + 4.0 - 2.0, 40.0)), 9)
        self.assertIsNone(head_strings(neck(tuners={"hole_mm": None}))[0].break_deg)

    def test_blanks_of_each_way_of_making_it(self):
        level = neck()
        self.assertAlmostEqual(Loft(level).blank_mm, 19.0, 2)  # its heel
        lean = neck(head={"kind": "angled", "angle_deg": 9.0})
        tall = (178.0 - 7.0) * math.tan(math.radians(9)) + 14.5 / math.cos(math.radians(9))
        self.assertAlmostEqual(Loft(lean).blank_mm, tall, 2)
        ways = {m.name: m for m in makings(lean, Loft(lean))}
        self.assertAlmostEqual(ways["one piece"].thick_mm, tall, 2)
        self.assertLess(ways["with a scarf"].litres, ways["one piece"].litres)

    def test_a_level_back_a_hair_lower_than_the_blank_gets_a_cut_that_can_be_made(self):
        cuts = []
        for heel in np.arange(15.5, 18.0, 0.05):
            one = neck(heel_mm=round(float(heel), 3), head={"kind": "none"}, rod={"from_mm": 10.0, "long_mm": 360.0})
            features = neck_features(one, Loft(one).blank_mm)
            cuts.append(next((f.depth_mm for f in features if f.id == "heel_back"), None))
        shallow = [c for c in cuts if c is not None]
        self.assertTrue(shallow and None in cuts)
        self.assertGreaterEqual(min(shallow), 0.3 - 1e-6)
        self.assertIn(0.3, [round(c, 3) for c in shallow])

    def test_numbers_that_make_no_neck_say_why(self):
        for wrong, words in (
            ({"thick_1st_mm": 15.0, "on": board(thickness_mm=8.0)}, "leaves"),
            ({"heel_from_mm": 460.0}, "needs 15"),
            ({"rod": {"long_mm": 500.0}}, "past the neck's end"),
            ({"rod": {"width_mm": 15.9, "play_mm": 0.5}, "on": board(width_nut_mm=33.0)}, "walls"),
            ({"stations": [BackStation(at_mm=200.0), BackStation(at_mm=100.0)]}, "in order"),
            ({"head": {"form": "row", "long_mm": 250.0}, "tuners": {"pitch_mm": 10.0}}, "crosses"),
            ({"heel_from_mm": 200.0, "heel_ramp_mm": 90.0, "rod": {"long_mm": None}}, None),
        ):
            if words is None:
                neck(**wrong)
                continue
            with self.assertRaises(ValidationError) as caught:
                neck(**wrong)
            self.assertIn(words, str(caught.exception))

    def test_limits_of_order_from_both_sides(self):
        end = fret(635.0, 22) + 8
        neck(heel_from_mm=end - 15.001)
        with self.assertRaises(ValidationError):
            neck(heel_from_mm=end - 14.999)
        neck(rod={"long_mm": end + 6.0 - 0.001})
        with self.assertRaises(ValidationError):
            neck(rod={"long_mm": end + 6.0 + 0.001})


if __name__ == "__main__":
    unittest.main()
