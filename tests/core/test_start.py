"""New jobs from outlines and drawings, and settings that suit the machine."""

import math
import random
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from birch_route.core.bits.model import Bit
from birch_route.core.cutting.mechanics import chip_load_window, load
from birch_route.core.cutting.settings import (
    propose_finish_depth,
    propose_settings,
    reaches_chip_load,
)
from birch_route.core.data import figures, wood, woods
from birch_route.core.errors import GeometryError, InputError
from birch_route.core.instrument.outlines import LIMITS, Style, body_outline
from birch_route.core.machines import Machine
from birch_route.core.plane.curves import Chain, Path, Rectangle, Spline, flatten
from birch_route.core.plane.moved import Move, moved
from birch_route.core.plane.regions import region_from
from birch_route.core.proving.prove import prove
from birch_route.core.sequence.start import (
    Inner,
    Start,
    circle_of,
    start_route,
    to_centre_line,
)
from birch_route.core.vocabulary import Face, OperationKind, PieceKind
from birch_route.demo.shop import BELT_MACHINE, BENCH_MACHINE, BITS

BENCH, BELT = Machine.model_validate(BENCH_MACHINE), Machine.model_validate(BELT_MACHINE)
RACK = [Bit.model_validate(b) for b in BITS]
CIRCLE = Path(start=(60, 50), segments=[("arc", 40, 50, 1.0), ("arc", 60, 50, 1.0)])


def start(**more):
    values = {"job": "Try", "kind": PieceKind.PLATE, "outline": Rectangle(x_mm=100, y_mm=60, length_mm=200, width_mm=120, corner_radius_mm=12), "wood": "ash", "thickness_mm": 20,
              "machine": BENCH_MACHINE, "bits": BITS, **more}
    return Start(**values)


class Outlines(unittest.TestCase):
    @given(st.sampled_from(list(Style)), st.floats(300, 520), st.floats(0.72, 0.84), st.floats(0.0, 0.14), st.floats(-0.05, 0.08))
    @settings(max_examples=40, deadline=None)
    def test_every_outline_is_as_long_and_wide_as_asked_and_does_not_cross_itself(self, style, length, ratio, waist, horn):
        region = region_from(body_outline(style, length, length * ratio, waist, horn), "outline")
        xmin, ymin, xmax, ymax = region.bounds
        self.assertAlmostEqual(xmax, length, delta=0.02 * length)
        self.assertGreater(xmin, -0.02 * length)
        self.assertLess(abs(ymax - ymin - length * ratio), 0.06 * length * ratio)

    def test_a_deeper_waist_takes_wood_away_and_numbers_out_of_range_are_refused(self):
        for style in Style:
            areas = [region_from(body_outline(style, 400, 310, w), "o").area for w in (0.0, 0.08, 0.16)]
            self.assertEqual(areas, sorted(areas, reverse=True))
        for name, (low, high) in LIMITS.items():
            for value in (low - 0.01, high + 0.01):
                with self.subTest(name=name, value=value), self.assertRaises(InputError):
                    body_outline(Style.PLOVER, **{"length_mm": 400, "width_mm": 310, **{name: value}})


class Starts(unittest.TestCase):
    def test_a_board_with_a_pocket_and_a_hole_starts_clean(self):
        inner = [Inner(Rectangle(x_mm=140, y_mm=60, length_mm=50, width_mm=30, corner_radius_mm=5), "Tray", 8.0), Inner(CIRCLE, "Peg hole", None)]
        route = start_route(start(inner=inner))
        self.assertEqual([f.reason for f in prove(route).findings], [])
        hole = next(f for f in route.piece.features if f.kind == "hole")
        self.assertAlmostEqual(hole.diameter_mm, 20, delta=0.02)
        self.assertIsNone(hole.depth_mm)

    def test_what_cannot_be_started_is_refused(self):
        far = Rectangle(x_mm=300, y_mm=60, length_mm=50, width_mm=30)
        for more, kind, words in (({"inner": [Inner(far, "Far away", 5.0)]}, InputError, "outside the outline"), ({"wood": "cheese"}, InputError, "wood table"), ({"outline": Rectangle(x_mm=0, y_mm=0, length_mm=0.3, width_mm=50)}, GeometryError, "only 0.30 mm"), ({"thickness_mm": 0.1}, InputError, "thickness_mm")):
            with self.subTest(words), self.assertRaisesRegex(kind, words):
                start_route(start(**more))

    def test_an_opening_of_any_shape_goes_through_and_nothing_of_it_stays(self):
        window = Rectangle(x_mm=140, y_mm=60, length_mm=50, width_mm=30, corner_radius_mm=6)
        proof = prove(start_route(start(inner=[Inner(window, "Window", None)])))
        self.assertEqual([f.reason for f in proof.findings], [])
        sim = proof.simulation
        j, i = sim.grid.cell_of(140.0, 60.0)
        self.assertLessEqual(sim.result[j, i], sim.bottom[j, i])
        step = next(s for s in sim.steps if s.operation.features == ["pocket_1"])
        thick = sim.route.blank.thickness_mm
        self.assertAlmostEqual(step.removed_mm3 / (region_from(window, "w").area * thick), 1.0, delta=0.01)

    def test_curves_are_typed_front_back_and_reference(self):
        tray = Rectangle(x_mm=140, y_mm=60, length_mm=50, width_mm=30, corner_radius_mm=6)
        far = Rectangle(x_mm=500, y_mm=60, length_mm=50, width_mm=30)
        route = start_route(start(inner=[Inner(tray, "Under", 6.0, Face.BACK), Inner(far, "Sheet frame", None, is_reference=True, layer="guides")]))
        self.assertEqual([(f.name, f.face.value) for f in route.piece.features if f.kind == "pocket"], [("Under", "back")])
        self.assertEqual([(r.name, r.layer) for r in route.piece.references], [("Sheet frame", "guides")])
        self.assertFalse(any("pocket_1" in o.features for o in route.operations))
        self.assertEqual([f.code for f in prove(route).findings], ["feature.other_face"])

    def test_a_left_handed_piece_is_the_mirror_image_and_parts_keep_their_place(self):
        right = start_route(start(kind=PieceKind.BODY, outline=body_outline(Style.SISKIN, 400, 310), thickness_mm=44, with_parts=True))
        left = start_route(start(kind=PieceKind.BODY, outline=body_outline(Style.SISKIN, 400, 310), thickness_mm=44, with_parts=True, left_handed=True))
        a, b = (region_from(r.piece.outline.shape, "o") for r in (right, left))
        self.assertAlmostEqual(a.area, b.area, places=3)
        self.assertAlmostEqual(a.bounds[3], -b.bounds[1], places=6)
        self.assertEqual([p.kind for p in right.parts], [p.kind for p in left.parts])
        self.assertEqual([f for f in right.piece.features if f.kind != "outline"], [f for f in left.piece.features if f.kind != "outline"])

    @given(st.integers(0, 10_000))
    @settings(max_examples=15, deadline=None)
    def test_the_centre_line_is_found_whatever_the_drawing_s_place_turn_and_size(self, seed):
        rng = random.Random(seed)
        outline = Chain(vertices=[(0, -50, 0), (200, -50, 0.4), (200, 50, 0), (0, 50, 0)])
        inner = Rectangle(x_mm=60, y_mm=20, length_mm=30, width_mm=20)
        scale, turn = rng.uniform(0.5, 2), rng.choice([0, 90, 180, 270])
        away = Move(dx_mm=rng.uniform(-500, 500), dy_mm=rng.uniform(-500, 500), angle_rad=math.radians(-turn), scale=scale)
        length = float(flatten(outline)[:, 0].max())
        back, holes = to_centre_line(moved(outline, away), [moved(inner, away)], length_mm=length, turn_deg=turn)
        self.assertLess(region_from(back, "o").symmetric_difference(region_from(outline, "o")).area, 1.0)
        self.assertLess(region_from(holes[0], "h").symmetric_difference(region_from(inner, "h")).area, 0.5)

    def test_only_circles_become_holes(self):
        self.assertAlmostEqual(circle_of(CIRCLE)[2], 20, delta=0.02)
        self.assertIsNone(circle_of(Rectangle(x_mm=0, y_mm=0, length_mm=20, width_mm=20, corner_radius_mm=9)))
        self.assertIsNone(circle_of(Spline(points=[(0, 0), (20, 2), (22, 20), (2, 18)])))


class Settings(unittest.TestCase):
    def test_a_bit_is_said_to_reach_its_chip_load_only_where_feed_and_speed_allow(self):
        for machine in (BENCH, BELT):
            for bit in RACK[:4]:
                for name in ("alder", "paulownia", "ebony"):
                    slowest = min(machine.speeds_rpm) if machine.speeds_rpm else machine.least_rpm
                    can = (
                        figures()["careful"]["feed_most"] * machine.greatest_feed_mm_min / (slowest * bit.flutes)
                        >= chip_load_window(bit, wood(name)).careful - 1e-9
                    )
                    self.assertEqual(reaches_chip_load(bit, wood(name), machine), can)

    def test_a_wall_pass_bends_less_than_a_finish_allows_and_shares_the_depth_evenly(self):
        limit = figures()["bend"]["finish_mm"]
        for machine in (BENCH, BELT):
            for bit in RACK[1:3]:
                for species in woods().values():
                    chosen = propose_settings(OperationKind.PROFILE, bit, species, machine).settings
                    deep, why = propose_finish_depth(bit, species, machine, chosen, 0.3, 30.0)
                    cut = load(bit, species, machine, chosen.feed_mm_min, chosen.speed_rpm, deep, 0.3)
                    with self.subTest(machine=machine.id, bit=bit.id, wood=species.id):
                        self.assertTrue(why)
                        self.assertTrue(cut.bend_mm <= limit or deep <= 1.01 * figures()["finish_pass"]["least_mm"])
                        self.assertLessEqual(deep, 3 * bit.diameter_mm + 0.02)
                        self.assertAlmostEqual(30.0 / deep, round(30.0 / deep), delta=0.02 * 30 / deep)

    def test_a_weaker_machine_is_never_given_a_deeper_wall_pass(self):
        bit = RACK[1]
        chosen = propose_settings(OperationKind.PROFILE, bit, wood("ash"), BENCH).settings
        strong, _ = propose_finish_depth(bit, wood("ash"), BENCH, chosen, 0.3, 40.0)
        weak, _ = propose_finish_depth(bit, wood("ash"), BELT, chosen, 0.3, 40.0)
        self.assertLessEqual(weak, strong)


if __name__ == "__main__":
    unittest.main()
