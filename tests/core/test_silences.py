"""Faults that once passed in silence: each planted just outside its limit on bodies, necks, plates and jigs and found
with its place, and left alone just inside; the first cure of each removes it and brings nothing worse."""

import math
import unittest
from dataclasses import replace
from functools import cache

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.proving.findings import CODES
from birch_route.core.proving.prove import prove
from birch_route.core.proving.rules_holes import holes_splinter
from birch_route.core.proving.simulate import Cache
from birch_route.core.vocabulary import Severity
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jigs import jig_routes
from tests.support import changed, codes, proof_of, put, route_named

BODY, NECK, PLATE, TURNED, VICE, BOARD = "siskin_body", "siskin_neck_face", "control_plate", "turned", "vice", "board"
FEATURE = "piece.features."
CACHE = Cache(20)


@cache
def route_of(name):
    if name == TURNED:
        return fitted_route(True)
    if name in (VICE, BOARD):
        return jig_routes()[(VICE, BOARD).index(name)]
    return route_named(name)


def read(part, **places):
    return [{"do": "keep_reading", "part": part, "place": p, "typed": v} for p, v in places.items() for _ in range(2)]


def instead(part, place, typed, count=3):
    return [{"do": "drop_reading", "part": part, "place": place, "index": 0}] * count + read(part, **{place: typed})


def hole(**more):
    return {
        "do": "put_item",
        "list": "features",
        "item": {
            "kind": "hole",
            "id": "planted",
            "name": "Planted hole",
            "points": [[330.0, 60.0]],
            "diameter_mm": 3.0,
            **more,
        },
    }


def screw(long, thread="4.5"):
    return [
        {"do": "add_part", "kind": "screw", "name": "Wood screw"},
        *read("screw", head_diameter="8", thread_diameter=thread, thread_length=long),
        hole(depth_mm=20.0, measured_from="screw"),
        {"do": "propose_for", "feature": "planted"},
    ]


def guard(recess):
    return [
        put(FEATURE + "bridge_recess.depth_mm", recess),
        put("choices.saddle_part", 0.0),
        {"do": "add_part", "kind": "guard", "name": "Guard"},
        *read("guard", plate_thickness="2", plate_length="120", plate_width="90"),
        *read("neck", board_overhang="12"),
        {
            "do": "put_item",
            "list": "placements",
            "item": {"id": "guard_1", "part": "guard", "x_mm": 122.0, "y_mm": 0.0},
        },
    ]


def corner(angle_deg, finish):
    """A pocket with one corner of an angle, the others blunt."""
    half, long = math.radians(angle_deg / 2), 46.0
    wide = 2 * long * math.tan(half)
    vertices = [
        [150.0, 60.0, 0.0],
        [150.0 + long, 60.0 - wide / 2, 0.0],
        [150.0 + long + 14, 60.0 - wide / 2 + 4, 0.0],
        [150.0 + long + 14, 60.0 + wide / 2 - 4, 0.0],
        [150.0 + long, 60.0 + wide / 2, 0.0],
    ]
    return [
        {
            "do": "put_item",
            "list": "features",
            "item": {
                "kind": "pocket",
                "id": "sharp",
                "name": "Sharp pocket",
                "shape": {"kind": "chain", "vertices": vertices},
                "depth_mm": 6.0,
                "finish_class": finish,
            },
        },
        {"do": "propose_for", "feature": "sharp"},
        put("operations.pocket_sharp.bit", "flat6"),
    ]


def pins(off, third=False):
    points = next(f for f in route_of(TURNED).features if f.id == "index_holes").points
    places = [(points[0][0] + off, points[0][1]), tuple(points[1])] + (
        [(points[0][0] + 60.0, points[0][1])] if third else []
    )
    return [
        {
            "do": "put_hardware",
            "setup": "back",
            "hardware": {"id": f"p{k}", "kind": "pin", "x_mm": x, "y_mm": y, "head_diameter_mm": 4.8, "top_mm": -20.0},
        }
        for k, (x, y) in enumerate(places)
    ]


@cache
def bend(operation):
    return next(s.load.bend_mm for s in proof_of(route_named(BODY)).steps if s.operation.id == operation)


def allowance(by):
    return [put("operations.pocket_neck_pocket.finish_allowance_mm", round(bend("pocket_neck_pocket") + by, 4))]


TYPED = put(FEATURE + "neck_pocket.depth_from", None)
SKIN = {"do": "choose_school", "operation": "profile_outline", "school": "skin"}
SPLIT = put(FEATURE + "string_holes.points", [[300.0, -15.75]])
# code, route, edits just outside, edits just inside (None: nothing of the kind), where it must be told (None: no place, or anywhere)
ROWS = [
    (
        "piece.side_opened",
        BODY,
        [put(FEATURE + "string_holes.points", [[407.7, 0.0], [300.0, 5.0]])],
        [put(FEATURE + "string_holes.points", [[407.3, 0.0], [300.0, 5.0]])],
        (409, 0),
    ),
    (
        "piece.side_opened",
        BODY,
        [put(FEATURE + "pickup_pocket.shape.y_mm", 105.0)],
        [put(FEATURE + "pickup_pocket.shape.y_mm", 80.0)],
        None,
    ),
    (
        "piece.side_opened",
        NECK,
        [put(FEATURE + "rod_channel.shape.y_mm", 20.0)],
        [put(FEATURE + "rod_channel.shape.y_mm", 14.0)],
        None,
    ),
    (
        "piece.side_opened",
        PLATE,
        [put(FEATURE + "screw_holes.points", [[1.6, 25.0]])],
        [put(FEATURE + "screw_holes.points", [[1.8, 25.0]])],
        (0.2, 25),
    ),
    ("piece.side_opened", VICE, [put(FEATURE + "pivot.points", [[1.0, 60.0]])], None, None),
    ("feature.outside", BODY, [put(FEATURE + "string_holes.points", [[440.0, 0.0], [300.0, 5.0]])], None, (440, 0)),
    ("feature.outside", PLATE, [put(FEATURE + "screw_holes.points", [[-4.0, 25.0], [7.0, 7.0]])], None, (-4, 25)),
    (
        "feature.runs_into",
        BODY,
        [put(FEATURE + "pickup_pocket.shape.x_mm", 76.2)],
        [put(FEATURE + "pickup_pocket.shape.x_mm", 77.2)],
        (62, 0),
    ),
    (
        "feature.runs_into",
        NECK,
        [put(FEATURE + "index_holes.points", [[136.0, 0.0], [534.0, 0.0]])],
        [put(FEATURE + "index_holes.points", [[134.0, 0.0], [534.0, 0.0]])],
        (137, 0),
    ),
    (
        "feature.runs_into",
        PLATE,
        [hole(points=[[42.0, 25.0]], diameter_mm=4.0)],
        [hole(points=[[43.0, 25.0]], diameter_mm=4.0)],
        (40.5, 25),
    ),
    (
        "part.differs",
        BODY,
        [put(FEATURE + "post_holes.points", [[278.025, -45.1], [278.025, 45.1]])],
        [put(FEATURE + "post_holes.points", [[278.025, -45.07], [278.025, 45.07]])],
        (278, -45),
    ),
    (
        "part.differs",
        BODY,
        [put(FEATURE + "post_holes.diameter_mm", 11.18)],
        [put(FEATURE + "post_holes.diameter_mm", 11.15)],
        None,
    ),
    (
        "part.differs",
        BODY,
        [put(FEATURE + "post_holes.diameter_mm", 10.89)],
        [put(FEATURE + "post_holes.diameter_mm", 10.92)],
        None,
    ),
    (
        "part.differs",
        NECK,
        [put(FEATURE + "tuner_holes.diameter_mm", 8.87)],
        [put(FEATURE + "tuner_holes.diameter_mm", 8.84)],
        (36, -18),
    ),
    (
        "part.differs",
        NECK,
        [put(FEATURE + "rod_channel.shape.width_mm", 6.43)],
        [put(FEATURE + "rod_channel.shape.width_mm", 6.4)],
        None,
    ),
    ("part.differs", NECK, instead("rod", "rod_width", "6.25", 2), instead("rod", "rod_width", "6.15", 2), None),
    ("part.differs", NECK, instead("rod", "rod_length", "386.5", 2), instead("rod", "rod_length", "385.5", 2), None),
    ("part.waits", BODY, [put("parts.pickup.readings", [])], None, None),
    ("part.waits", BODY, [put("parts.neck.readings", [])], None, None),
    (
        "part.unmeasured",
        BODY,
        [{"do": "drop_reading", "part": "pickup", "place": "depth", "index": 0}] * 2,
        None,
        (168, 0),
    ),
    (
        "part.unmeasured",
        BODY,
        [{"do": "drop_reading", "part": "plate", "place": "plate_thickness", "index": 0}] * 3,
        None,
        None,
    ),
    (
        "part.unmeasured",
        BODY,
        [{"do": "drop_reading", "part": "bridge", "place": "post_spacing", "index": 0}] * 2,
        None,
        None,
    ),
    ("reading.told", BODY, [put("parts.bridge.readings.each.told", True)], None, None),
    ("reading.frets", BODY, [put("choices.frets", 21)], [put("choices.frets", 20)], None),
    (
        "reading.frets",
        BODY,
        [put("choices.frets", 12), *instead("neck", "heel_to_12th", "73.0")],
        [put("choices.frets", 12), *instead("neck", "heel_to_12th", "73.6")],
        None,
    ),
    ("reading.frets", BODY, instead("neck", "heel_to_12th", "169.6"), instead("neck", "heel_to_12th", "168.9"), None),
    (
        "height.pocket",
        BODY,
        [TYPED, put(FEATURE + "neck_pocket.depth_mm", 11.98)],
        [TYPED, put(FEATURE + "neck_pocket.depth_mm", 12.0)],
        (31, 0),
    ),
    (
        "height.pocket",
        BODY,
        [TYPED, put(FEATURE + "neck_pocket.depth_mm", 20.02)],
        [TYPED, put(FEATURE + "neck_pocket.depth_mm", 20.0)],
        (31, 0),
    ),
    (
        "height.angle",
        BODY,
        [TYPED, put(FEATURE + "neck_pocket.tilt_deg", 5.1)],
        [TYPED, put(FEATURE + "neck_pocket.tilt_deg", 5.0)],
        None,
    ),
    (
        "height.angle",
        BODY,
        [TYPED, put(FEATURE + "neck_pocket.tilt_deg", -0.1)],
        [TYPED, put(FEATURE + "neck_pocket.tilt_deg", 0.0)],
        None,
    ),
    ("height.action", BODY, [put("choices.action_12th_mm", 1.19)], [put("choices.action_12th_mm", 1.2)], None),
    ("height.action", BODY, [put("choices.action_12th_mm", 2.81)], [put("choices.action_12th_mm", 2.8)], None),
    ("height.saddle_end", BODY, [put("choices.saddle_part", 0.225)], [put("choices.saddle_part", 0.235)], (248, 0)),
    ("height.saddle_end", BODY, [put("choices.saddle_part", 0.775)], [put("choices.saddle_part", 0.765)], (248, 0)),
    ("height.saddle_out", BODY, [put("choices.saddle_part", 0.065)], [put("choices.saddle_part", 0.075)], (248, 0)),
    ("height.saddle_out", BODY, [TYPED, put(FEATURE + "neck_pocket.depth_mm", 14.0)], None, None),
    ("bridge.off_piece", BODY, [put("choices.scale_mm", 892.0)], [put("choices.scale_mm", 850.0)], None),
    (
        "cover.leaves_open",
        BODY,
        [put(FEATURE + "control_cavity.shape.width_mm", 50.4)],
        [put(FEATURE + "control_cavity.shape.width_mm", 49.8)],
        None,
    ),
    (
        "cover.no_land",
        BODY,
        [put(FEATURE + "control_cavity.shape.width_mm", 44.1)],
        [put(FEATURE + "control_cavity.shape.width_mm", 43.9)],
        None,
    ),
    ("guard.cut_out", BODY, guard(2.5), None, None),
    ("guard.under_board", BODY, guard(3.0), guard(2.8), None),
    (
        "hole.in_air",
        BODY,
        [hole(points=[[306.0, -84.0]], depth_mm=33.0)],
        [hole(points=[[306.0, -84.0]], depth_mm=33.2)],
        (306, -84),
    ),
    (
        "tear_out.hole",
        BODY,
        [put(FEATURE + "string_holes.points", [[405.4, 0.0]])],
        [put(FEATURE + "string_holes.points", [[405.1, 0.0]])],
        (405, 0),
    ),
    (
        "tear_out.hole",
        BODY,
        [SPLIT, put(FEATURE + "string_holes.depth_mm", 44.1)],
        [SPLIT, put(FEATURE + "string_holes.depth_mm", 43.9)],
        (300, -15.75),
    ),
    (
        "screw.into_bed",
        BODY,
        [put("setups.front.hardware.s1.grip_mm", 16.6)],
        [put("setups.front.hardware.s1.grip_mm", 16.5)],
        (-21, -171),
    ),
    (
        "screw.into_bed",
        PLATE,
        [put("setups.front.hardware.s1.grip_mm", 10.6)],
        [put("setups.front.hardware.s1.grip_mm", 10.5)],
        None,
    ),
    (
        "screw.no_bite",
        NECK,
        [put("setups.front.hardware.s1.grip_mm", 7.9)],
        [put("setups.front.hardware.s1.grip_mm", 8.0)],
        None,
    ),
    ("screw.comes_through", BODY, screw("43.1"), screw("42.9"), (330, 60)),
    ("screw.no_bite", BODY, screw("8.9"), screw("9.1"), (330, 60)),
    ("turn.pin_beside", TURNED, pins(0.06), pins(0.04), None),
    ("turn.pin_beside", TURNED, pins(1.5), None, None),
    ("turn.pins_many", TURNED, pins(0.0, third=True), pins(0.0), None),
    ("turn.pins_not_made", TURNED, [put("machine.index_holes_mm", [])], None, None),
    ("settings.allowance", BODY, allowance(-0.002), allowance(0.002), None),
    (
        "settings.feed",
        BODY,
        [put("operations.pocket_pickup_pocket.settings.plunge_mm_min", 3001)],
        [put("operations.pocket_pickup_pocket.settings.plunge_mm_min", 3000)],
        None,
    ),
    (
        "settings.feed_refused",
        BODY,
        [put("machine.refuses_over", True), put("operations.face.settings.feed_mm_min", 4001)],
        [put("machine.refuses_over", True), put("operations.face.settings.feed_mm_min", 4000)],
        None,
    ),
    (
        "waste_board.hit",
        NECK,
        [put("blank.thickness_readings_mm", [21.78])],
        [put("blank.thickness_readings_mm", [21.82])],
        None,
    ),
    (
        "holding.skin",
        BODY,
        [SKIN, put("operations.profile_outline.skin_mm", 0.29)],
        [SKIN, put("operations.profile_outline.skin_mm", 0.3)],
        None,
    ),
    ("holding.skin", PLATE, [SKIN, put("operations.profile_outline.skin_mm", 0.05)], None, None),
    (
        "jig.holding_weak",
        BOARD,
        [put("jig.holding.factor", 1.99), put("jig.holding.needs", 2.0)],
        [put("jig.holding.factor", 2.0), put("jig.holding.needs", 2.0)],
        None,
    ),
    ("jig.holding_unknown", BOARD, [put("jig.holding", None)], None, None),
    ("feature.corner_sharp", BODY, corner(50.0, "fitted"), corner(58.0, "fitted"), (150, 60)),
    ("feature.corner_left", BODY, corner(50.0, "hidden"), corner(58.0, "hidden"), (150, 60)),
]
WORSE = {Severity.STOP: 2, Severity.CARE: 1, Severity.NOTE: 0}


def proved(route):
    return prove(route, CACHE, cell_mm=0.5)


class Silences(unittest.TestCase):
    def test_each_is_told_just_outside_its_limit_and_not_just_inside_and_its_cure_helps(self):
        tried = 0
        for code, name, outside, inside, where in ROWS:
            with self.subTest(code, route=name, fault=str(outside[-1])[:80]):
                route = changed(route_of(name), *outside)
                proof = proved(route)
                found = [f for f in proof.findings if f.code == code]
                self.assertTrue(found)
                for f in found:
                    self.assertEqual(f.severity, CODES[code][0])
                    self.assertTrue(f.reason and f.facts)
                if where is not None:
                    self.assertLess(min(math.dist(f.place[:2], where) for f in found), 6.0)
                if inside is not None:
                    self.assertNotIn(code, codes(proved(changed(route_of(name), *inside))))
                first = next((f for f in found if f.cures), None)
                if first is not None:
                    tried += 1
                    self._helps(route, proof, first)
        self.assertGreater(tried, 30)

    def _helps(self, route, proof, found):
        """The first cure removes its finding and brings nothing worse."""
        after = proved(apply_edits(route, [read_edit(e) for e in found.cures[0].edits]))
        same = [
            f
            for f in after.findings
            if f.code == found.code
            and (f.operation, f.feature, f.hardware) == (found.operation, found.feature, found.hardware)
        ]
        self.assertEqual([f.reason for f in same], [], found.cures[0].label)
        new = codes(after) - codes(proof)
        self.assertFalse([c for c in new if WORSE[CODES[c][0]] > WORSE[found.severity]], new)

    def test_a_hole_whose_exit_nothing_backs_splinters(self):
        sim = proof_of(route_named(BODY)).simulation
        for gap, told in ((0.29, False), (0.31, True)):
            bottom = sim.bottom.copy()
            bottom[...] = sim.route.blank.bottom_mm
            bottom[:, sim.grid.cell_of(300.0, 0.0)[1] - 20: sim.grid.cell_of(300.0, 0.0)[1] + 20] += gap
            found = [f for f in holes_splinter(replace(sim, bottom=bottom)) if "backs its exit" in f.reason]
            self.assertEqual([f.feature for f in found], ["string_holes"] * told)


class Tied(unittest.TestCase):
    def test_a_hole_tied_to_a_part_follows_its_next_reading(self):
        wrong = changed(route_named(BODY), put(FEATURE + "post_holes.points", [[278.025, -45.2], [278.025, 45.2]]))
        cure = next(f for f in proof_of(wrong).findings if f.code == "part.differs").cures[0]
        tied = apply_edits(wrong, [read_edit(e) for e in cure.edits])
        apart = [abs(f.points[1][1] - f.points[0][1]) for f in tied.features if f.id == "post_holes"]
        self.assertAlmostEqual(apart[0], 90.01, places=3)
        again = changed(tied, *instead("bridge", "post_spacing", "74.0", 2))
        apart = [abs(f.points[1][1] - f.points[0][1]) for f in again.features if f.id == "post_holes"]
        self.assertAlmostEqual(apart[0], 74.0, places=3)
        self.assertNotIn("part.differs", codes(proof_of(again)))

    def test_a_channel_tied_to_a_rod_is_as_wide_as_it_and_its_play(self):
        wrong = changed(route_named(NECK), *instead("rod", "rod_width", "7.0", 2))
        cure = next(f for f in proof_of(wrong).findings if f.code == "part.differs").cures[0]
        tied = apply_edits(wrong, [read_edit(e) for e in cure.edits])
        self.assertAlmostEqual(next(f for f in tied.features if f.id == "rod_channel").shape.width_mm, 7.2, places=3)


class Waiting(unittest.TestCase):
    def test_a_part_without_any_reading_cuts_nothing_and_what_it_decides_comes_with_its_readings(self):
        """A bridge nobody measured was once cut across the neck pocket, at x = 0."""
        bare = changed(route_named(BODY), put("parts.neck.readings", []))
        self.assertFalse({"neck_pocket", "bridge_recess"} & {f.id for f in bare.features})
        proof = proof_of(bare)
        cut = [s for s in proof.steps if set(s.operation.features) & {"neck_pocket", "bridge_recess"}]
        self.assertTrue(all(s.removed_mm3 == 0 for s in cut))
        self.assertEqual(
            {f.feature for f in proof.findings if f.code == "part.waits"}, {"neck_pocket", "bridge_recess"}
        )
        without = changed(bare, {"do": "remove_operation", "operation": "pocket_neck_pocket"})
        back = changed(
            without,
            *read(
                "neck",
                heel_width_end="46.12",
                heel_width_station="44.36",
                heel_station="60",
                heel_length="62.0",
                heel_thickness="25.4",
                heel_to_12th="108.5",
                fret_height="1.1",
                heel_corner="4",
            ),
        )
        self.assertIn("pocket_neck_pocket", [o.id for o in back.operations])
        self.assertNotIn("part.waits", codes(proof_of(back)))


class Rates(unittest.TestCase):
    def test_what_is_asked_beyond_the_machine_is_computed_at_its_greatest(self):
        asked, most = (
            changed(route_named(BODY), put("operations.profile_outline.settings.feed_mm_min", f)) for f in (9000, 4000)
        )
        a, b = (next(s for s in proof_of(r).steps if s.operation.id == "profile_outline") for r in (asked, most))
        self.assertEqual((a.minutes, a.load.chip_load_mm), (b.minutes, b.load.chip_load_mm))


if __name__ == "__main__":
    unittest.main()
