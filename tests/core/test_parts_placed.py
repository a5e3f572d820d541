"""Parts placed on a body: what follows from their readings, and whether they have room. Each limit is worked out here, not asked of the code."""

import math
import random
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from birch_route.core.errors import InputError
from birch_route.core.instrument.layout import layout_of
from birch_route.core.instrument.placing import side_mount
from birch_route.core.instrument.resolve import resolve, trust_of
from birch_route.core.instrument.room import _nearest_place, clashes
from birch_route.core.programs.readback import read_back
from birch_route.core.programs.writer import write_programs
from birch_route.core.vocabulary import Severity
from tests.core.bodies import CAVITY, equipped, measured, placed, with_cavity
from tests.support import changed, codes, proof_of, put

CLEAR = 1.0  # figures.controls: a body keeps this from its cavity
NUT = 3.0  # washer and nut
THICK = 45.0


def found(route, code):
    return [c for c in clashes(route, resolve(route)) if c.code == code]


class Derived(unittest.TestCase):
    def test_a_pot_over_a_back_cavity_gets_its_bush_hole_and_nothing_over_its_own_cavity(self):
        hole = equipped().feature("pot_1_shaft")
        self.assertAlmostEqual(hole.diameter_mm, 9.4 + 0.3)
        self.assertAlmostEqual(hole.depth_mm, THICK - 39 + 0.5)
        on_plate = changed(with_cavity(), put("piece.features.back_cavity.face", "front"), placed("pot", x_mm=275.0, y_mm=95.0, cavity="back_cavity"))
        self.assertNotIn("pot_1_shaft", {f.id for f in on_plate.features})

    def test_a_changed_reading_changes_the_hole_and_what_is_cut(self):
        wider = changed(equipped(), *[{"do": "drop_reading", "part": "pot", "place": "bush_diameter", "index": 0}] * 2, *[{"do": "keep_reading", "part": "pot", "place": "bush_diameter", "typed": "9.9"}] * 2)
        self.assertAlmostEqual(wider.feature("pot_1_shaft").diameter_mm, 10.2)
        before, after = (next(s for s in proof_of(r).simulation.steps if "pot_1_shaft" in s.operation.features).removed_mm3 for r in (equipped(), wider))
        self.assertAlmostEqual(after / before, (10.2 / 9.7) ** 2, delta=0.01)

    def test_an_operation_waits_while_its_part_is_measured_again(self):
        again = changed(equipped(), *[{"do": "drop_reading", "part": "pot", "place": "bush_diameter", "index": 0}] * 2)
        self.assertEqual(len(again.operations), len(equipped().operations))
        proof = proof_of(again)
        self.assertLessEqual({"operation.waits", "part.not_measured"}, codes(proof))
        step = next(s for s in proof.simulation.steps if "pot_1_shaft" in s.operation.features)
        self.assertEqual(step.removed_mm3, 0.0)
        programs = write_programs(proof.simulation)
        self.assertEqual(read_back(proof.simulation, programs).findings, [])
        measured_again = changed(again, *[{"do": "keep_reading", "part": "pot", "place": "bush_diameter", "typed": "9.4"}] * 2)
        self.assertEqual(codes(proof_of(measured_again)), {"feature.other_face"})

    def test_an_unmeasured_part_draws_nothing_and_says_so(self):
        route = changed(with_cavity(), {"do": "add_part", "kind": "pot", "name": "Tone pot"}, placed("pot1", "tone", x_mm=275.0, y_mm=95.0, cavity="back_cavity", reserve_mm=26.0))
        self.assertEqual([f.id for f in route.features if f.id.startswith("tone")], [])
        told = found(route, "part.not_measured")
        self.assertIn("bush across", told[0].words)
        self.assertEqual([g.what for g in resolve(route).ghosts], ["reserved"])

    def test_a_tremolo_gets_its_block_opening_posts_and_springs_from_the_saddle_line(self):
        bridge = {"post_spacing": "56", "post_diameter": "9.8", "post_behind": "0.5", "block_length": "24", "block_width": "76", "block_behind": "8", "spring_length": "106", "spring_width": "58", "spring_depth": "17"}
        dropped = [
            {"do": "drop_reading", "part": "bridge", "place": r.place, "index": 0}
            for p in with_cavity().parts
            if p.id == "bridge"
            for r in p.readings
            if r.place in bridge
        ]
        readings = [{"do": "keep_reading", "part": "bridge", "place": k, "typed": v} for k, v in bridge.items()]
        route = changed(
            with_cavity(),
            *dropped,
            *readings,
            {"do": "remove_item", "list": "features", "id": "post_holes"},
            placed("bridge", "tremolo", mount="saddle"),
        )
        saddle = resolve(route).saddle_x_mm
        self.assertAlmostEqual(saddle, layout_of(route).saddle["x_mm"])
        posts, block, springs = (route.feature(f"tremolo_{r}") for r in ("posts", "block", "springs"))
        self.assertEqual([[round(v, 3) for v in p] for p in posts.points], [[round(saddle + 0.5, 3), -28.0], [round(saddle + 0.5, 3), 28.0]])
        self.assertIsNone(block.depth_mm)
        self.assertAlmostEqual(block.shape.x_mm, saddle + 8, places=3)
        self.assertEqual((springs.face.value, springs.depth_mm), ("back", 17.0))
        self.assertAlmostEqual(springs.shape.x_mm + springs.shape.length_mm / 2, saddle + 8 + 12, places=3)  # ends level with the block
        moved = changed(route, put("choices.compensation_mm", 4.4))
        self.assertAlmostEqual(moved.feature("tremolo_posts").points[0][0] - posts.points[0][0], 2.0, places=3)

    def test_neck_screws_come_from_the_measured_holes_and_the_screw_on_hand(self):
        readings = [{"do": "keep_reading", "part": "neck", "place": p, "typed": v} for p, v in (("holes_from_end", "14"), ("holes_along", "32"), ("holes_across", "26"))]
        route = changed(with_cavity(), *readings, {"do": "remove_item", "list": "features", "id": "neck_screws"}, placed("neck", "joint", mount="heel"))
        holes = route.feature("joint_screws")
        end = 62.025  # the heel's length as measured
        self.assertEqual(sorted({round(x, 3) for x, _ in holes.points}), [round(end - 46, 3), round(end - 14, 3)])
        self.assertAlmostEqual(holes.diameter_mm, 4.5 + 0.3)
        self.assertIsNone(holes.depth_mm)

    def test_features_say_what_they_rest_on(self):
        route = equipped()
        solids = resolve(route).solids
        self.assertEqual(trust_of(solids["pot_1_shaft"], route), "measured")
        self.assertEqual(trust_of(solids["back_cavity"], route), "told")
        once = changed(route, {"do": "drop_reading", "part": "pot", "place": "bush_diameter", "index": 0})
        self.assertEqual(trust_of(resolve(once).solids["pot_1_shaft"], once), "single")
        never = changed(route, *[{"do": "drop_reading", "part": "pickup", "place": "depth", "index": 0}] * 2)
        self.assertEqual(trust_of(resolve(never).solids["pickup_pocket"], never), "assumed")

    def test_taking_a_part_off_takes_its_features_and_their_operations_along(self):
        route = equipped()
        self.assertTrue(any("pot_1_shaft" in o.features for o in route.operations))
        without = changed(route, {"do": "remove_item", "list": "placements", "id": "pot_1"})
        self.assertFalse(any(f.startswith("pot_1") for o in without.operations for f in o.features))
        self.assertEqual(len(without.operations), len(route.operations) - 1)
        self.assertRaisesRegex(InputError, "stands on the layout", changed, route, {"do": "remove_part", "part": "pot"})
        turned = changed(route, put("piece.features.back_cavity.face", "front"))  # the pot's hole is not needed any more
        self.assertFalse(any("pot_1_shaft" in o.features for o in turned.operations))


class Room(unittest.TestCase):
    def test_the_equipped_body_is_accused_of_nothing(self):
        self.assertEqual(codes(proof_of(equipped())), {"feature.other_face"})

    def test_every_kind_of_clash_is_found_just_outside_its_limit_and_not_just_inside(self):
        half = 27.0  # of the cavity's width; the pot's body is 24 across
        room = half - 12 - CLEAR  # how far its middle may leave the cavity's middle line
        bush = 9.5 - NUT
        base = with_cavity()
        pairs = [
            ("part.no_room", [placed("pot", x_mm=290.0, y_mm=95 - room - 0.1, cavity="back_cavity")], [placed("pot", x_mm=290.0, y_mm=95 - room + 0.1, cavity="back_cavity")]),
            ("part.too_tall", [*measured("pot", "pot1", body_height=f"{39 - CLEAR + 0.1:.2f}"), placed("pot1", x_mm=290.0, y_mm=95.0, cavity="back_cavity")],
             [*measured("pot", "pot1", body_height=f"{39 - CLEAR - 0.1:.2f}"), placed("pot1", x_mm=290.0, y_mm=95.0, cavity="back_cavity")]),
            ("part.bush_short", [put("piece.features.back_cavity.depth_mm", THICK - bush - 0.1), placed("pot", x_mm=290.0, y_mm=95.0, cavity="back_cavity")],
             [put("piece.features.back_cavity.depth_mm", THICK - bush + 0.1), placed("pot", x_mm=290.0, y_mm=95.0, cavity="back_cavity")]),
            ("part.collides", [placed("pot", "a", x_mm=270.0, y_mm=95.0, cavity="back_cavity"), placed("pot", "b", x_mm=293.8, y_mm=95.0, cavity="back_cavity")],
             [placed("pot", "a", x_mm=270.0, y_mm=95.0, cavity="back_cavity"), placed("pot", "b", x_mm=294.2, y_mm=95.0, cavity="back_cavity")]),
            ("hole.no_clearance", [put("piece.features.neck_screws.measured_from", "screw"), put("piece.features.neck_screws.diameter_mm", 4.6)],
             [put("piece.features.neck_screws.measured_from", "screw"), put("piece.features.neck_screws.diameter_mm", 4.7)]),
        ]
        for code, outside, inside in pairs:
            with self.subTest(code):
                clash = found(changed(base, *outside), code)
                self.assertEqual(len(clash), 1, code)
                self.assertEqual(found(changed(base, *inside), code), [])
                if clash[0].edits:  # the cure is tried
                    self.assertEqual(found(changed(base, *outside, *clash[0].edits), code), [], clash[0].label)

    def test_a_jack_on_the_side_and_a_strap_pin(self):
        base = with_cavity()
        route = changed(base, placed("jack", mount="side", x_mm=315.0, y_mm=140.0, deep_mm=26.0, cavity="back_cavity"))
        side = resolve(route).placed[0].side
        wall = max(0.0, side.y_mm - (95 + 27)) / side.inward[1] * -1  # straight in to the cavity's long wall
        self.assertLess(wall, 20 - NUT)
        self.assertEqual(found(route, "part.side_wall"), [])
        short = [*measured("jack", "jack1", bush_length=f"{wall + NUT - 0.2:.2f}"), placed("jack1", mount="side", x_mm=315.0, y_mm=140.0, deep_mm=26.0, cavity="back_cavity")]
        self.assertEqual(len(found(changed(base, *short), "part.side_wall")), 1)
        self.assertEqual(len(found(changed(base, placed("jack", mount="side", x_mm=100.0, y_mm=-140.0, cavity="back_cavity")), "part.side_wall")), 1)
        pin = changed(base, placed("strap_pin", mount="side", x_mm=315.0, y_mm=140.0))
        self.assertEqual(len(found(pin, "part.no_wood")), 1)
        self.assertEqual(found(changed(base, placed("strap_pin", mount="side", x_mm=409.0, y_mm=0.0)), "part.no_wood"), [])

    def test_a_knob_over_the_outline_is_a_note_and_says_by_how_much(self):
        route = changed(with_cavity(), placed("pot", x_mm=300.0, y_mm=131.0))
        clash = found(route, "part.overhang")[0]
        outline = resolve(route).outline
        far = max(Point(300 + 9.5 * math.cos(a), 131 + 9.5 * math.sin(a)).distance(outline) for a in np.linspace(0, 2 * math.pi, 721))
        self.assertAlmostEqual(-clash.has_mm, far, delta=0.05)
        self.assertEqual([f.severity for f in proof_of(route).findings if f.code == "part.overhang"], [Severity.NOTE])

    def test_screws_are_held_against_heel_and_board(self):
        under, heel = THICK - 16.1948, 25.41 - 6.225  # body under the pocket; heel without its board
        longest = under + heel - 3.0
        for long, told in ((longest + 0.1, True), (longest - 0.1, False), (under - 0.5, True)):
            with self.subTest(long=long):
                route = changed(with_cavity(), *measured("screw", "screw1", thread_length=f"{long:.2f}"))
                self.assertEqual(bool([c for c in found(route, "part.screw_length") if c.placement == "screw1"]), told)

    def test_an_insert_wants_wood_around_it(self):
        """One diameter, at least 4 mm: 8 mm across asks for 8."""
        edge = resolve(with_cavity()).outline.bounds[2]
        for gap, told in ((7.9, True), (8.1, False)):
            route = changed(with_cavity(), placed("insert", x_mm=edge - 4 - gap, y_mm=-3.0), {"do": "propose"})
            solid = resolve(route).solids["insert_1_hole"]
            real = solid.region.distance(resolve(route).outline.exterior)
            with self.subTest(gap=real):
                self.assertEqual("feature.wall_thin" in codes(proof_of(route)), real < 8 - 0.02)
                self.assertEqual(real < 8 - 0.02, told)


class BetweenFaces(unittest.TestCase):
    def test_floor_between_a_front_and_a_back_pocket(self):
        """Control cavity 33 deep from the front; a pocket from the back under it leaves 45 - 33 - d."""
        for deep, told in ((6.1, True), (5.9, False)):
            pocket = {**CAVITY, "id": "under", "name": "Under", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -84, "length_mm": 40, "width_mm": 20}, "depth_mm": deep}
            route = changed(with_cavity(), {"do": "put_item", "list": "features", "item": pocket})
            proof = proof_of(route)
            with self.subTest(deep=deep):
                thin = [f for f in proof.findings if f.code == "feature.floor_thin"]
                self.assertEqual(bool(thin), told)
                if thin:
                    self.assertAlmostEqual(float(thin[0].facts[0].value), 45 - 33 - deep, places=2)

    def test_walls_count_only_where_heights_meet(self):
        """Two pockets side by side, 2 mm apart in plan: from opposite faces they have no wall between them unless they overlap in height."""
        for deep, told in ((11.0, False), (13.0, True)):
            beside = {**CAVITY, "id": "beside", "name": "Beside", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": 0, "length_mm": 20, "width_mm": 20}, "depth_mm": deep}
            front = {**CAVITY, "id": "front_one", "name": "Front one", "face": "front", "shape": {"kind": "rectangle", "x_mm": 328, "y_mm": 0, "length_mm": 20, "width_mm": 20}, "depth_mm": 33}
            route = changed(with_cavity(), {"do": "remove_item", "list": "features", "id": "string_holes"}, {"do": "put_item", "list": "features", "item": beside}, {"do": "put_item", "list": "features", "item": front})
            with self.subTest(deep=deep):
                words = [f.reason for f in proof_of(route).findings if f.code == "feature.wall_thin"]
                self.assertEqual(any("Beside" in w and "Front one" in w for w in words), told)

    def test_an_operation_cannot_cut_what_lies_on_the_other_face(self):
        self.assertRaisesRegex(InputError, "lies on the back", changed, with_cavity(), put("operations.pocket_pickup_pocket.features", ["pickup_pocket"]), put("piece.features.pickup_pocket.face", "back"),
                               {"do": "put_item", "list": "features", "item": {**CAVITY, "id": "x"}}, {"do": "propose_for", "feature": "x"})


class NearestPlace(unittest.TestCase):
    @given(st.floats(-40, 40), st.floats(-40, 40), st.integers(0, 3))
    @settings(max_examples=40, deadline=None)
    def test_it_is_the_shortest_way_to_a_place_that_fits(self, dx, dy, kind):
        """Against trying every place of a grid."""
        room = [box(-30, -20, 30, 20), Polygon([(-30, -20), (30, -20), (30, 20), (0, 20), (0, 0), (-30, 0)]), Point(0, 0).buffer(25), box(-30, -8.9, 30, 8.9)][kind]
        body = Point(dx, dy).buffer(8)
        way = _nearest_place(room, body, 1.0)
        inner = room.buffer(-9.0)
        spots = [Point(x, y) for x in np.arange(-30, 30.1, 1.0) for y in np.arange(-20, 20.1, 1.0)]
        fits = [p for p in spots if inner.covers(p)]
        if not fits:
            self.assertIsNone(way)
            return
        self.assertIsNotNone(way)
        self.assertTrue(room.buffer(-8.9).covers(Point(dx + way[0], dy + way[1])))
        self.assertLess(math.hypot(*way), min(p.distance(Point(dx, dy)) for p in fits) + 0.1)

    def test_a_side_mount_looks_straight_in(self):
        rng = random.Random(7)
        outline = resolve(with_cavity()).outline
        for _ in range(40):
            a = rng.uniform(0, 2 * math.pi)
            side = side_mount(outline, 205 + 300 * math.cos(a), 300 * math.sin(a), -20.0)
            self.assertLess(Point(side.x_mm, side.y_mm).distance(outline.exterior), 1e-6)
            inside = Point(side.x_mm + 2 * side.inward[0], side.y_mm + 2 * side.inward[1])
            self.assertTrue(outline.contains(inside))
            self.assertAlmostEqual(inside.distance(outline.exterior), 2.0, delta=0.15)
