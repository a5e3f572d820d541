"""Planted faults: each is found with the right code and severity, at the right place; clean routes are left alone."""

import unittest
from dataclasses import replace

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.heights.field import Wood, cut_path
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.proving.findings import CODES
from birch_route.core.proving.rules_motion import rapid_through_wood
from birch_route.core.vocabulary import Severity
from birch_route.demo.shop import MACHINES
from tests.core import test_walls
from tests.planted import codes_in_tests
from tests.support import changed, codes, proof_of, put, route_named
from tests.tiers import LONG, sample

BODY, NECK, PLATE = "siskin_body", "siskin_neck_face", "control_plate"
OP = "operations."
SKIN, GROOVE = ({"do": "choose_school", "operation": "profile_outline", "school": s} for s in ("skin", "groove"))
# something else holds it too
UNDER = {
    "do": "put_hardware",
    "setup": "front",
    "hardware": {"id": "t1", "kind": "tape", "x_mm": 200, "y_mm": 0, "length_mm": 200, "width_mm": 120},
}
# code, route, edits just outside the limit, edits just inside it (None: the clean route is the inside)
FAULTS = [
    ("bit.too_short", BODY, [put("bits.flat8.cutting_length_mm", 44.0)], [put("bits.flat8.cutting_length_mm", 45.5)]),
    ("bit.too_short", BODY, [put("bits.drill3.cutting_length_mm", 40.0)], None),
    ("bit.cannot_go_sideways", PLATE, [put(OP + "bore_pot_holes.bit", "drill3")], None),
    (
        "bit.head_hits_wood",
        BODY,
        [
            put("machine.nut_diameter_mm", 7.0),
            put("machine.nut_length_mm", 5.0),
            put("bits.flat6.stickout_mm", 10.9),
            put("bits.flat6.cutting_length_mm", 10.9),
        ],
        None,
    ),
    (
        "bit.head_hits_wood",
        BODY,
        [put("machine.shoe_diameter_mm", 90.0), put("machine.shoe_up_mm", -20.5)],
        [put("machine.shoe_diameter_mm", 90.0), put("machine.shoe_up_mm", -3.0)],
    ),
    ("bit.nut_hits_wood", BODY, [put("bits.flat6.stickout_mm", 15.0), put("bits.flat6.cutting_length_mm", 15.0)], None),
    (
        "feature.corner_too_round",
        BODY,
        [put("operations.pocket_neck_pocket.bit", "flat8"), put("bits.flat8.diameter_mm", 10.0)],
        None,
    ),
    (
        "feature.floor_thin",
        BODY,
        [put("piece.features.control_cavity.depth_mm", 39.2)],
        [put("piece.features.control_cavity.depth_mm", 38.9)],
    ),
    (
        "feature.wall_thin",
        BODY,
        [
            put("piece.features.control_cavity.shape.y_mm", -98.0),
            put("piece.features.plate_rebate.shape.y_mm", -98.0),
            put("piece.features.control_cavity.shape.x_mm", 330.0),
        ],
        None,
    ),
    (
        "feature.wall_thin",
        PLATE,
        [put("piece.features.screw_holes.points", [[4.6, 4.6], [111, 7]])],
        [put("piece.features.screw_holes.points", [[6.3, 6.3], [111, 7]])],
    ),
    (
        "feature.bit_too_wide",
        NECK,
        [put("piece.features.rod_channel.shape.width_mm", 5.9)],
        [put("piece.features.rod_channel.shape.width_mm", 6.1)],
    ),
    ("feature.bit_too_wide", PLATE, [put("piece.features.pot_holes.diameter_mm", 3.05)], None),
    ("piece.freed", BODY, [put(OP + "profile_outline.tabs", [])], None),
    ("piece.freed", PLATE, [put(OP + "profile_outline.tabs", [])], None),
    (
        "piece.freed",
        PLATE,
        [
            put("piece.features.pot_holes.diameter_mm", 18.0),
            put(OP + "bore_pot_holes.kind", "profile"),
            put(OP + "bore_pot_holes.side", "inside"),
        ],
        None,
    ),
    (
        "hardware.hit",
        BODY,
        [
            {
                "do": "put_hardware",
                "setup": "front",
                "hardware": {"id": "s9", "kind": "screw", "x_mm": 200, "y_mm": -138, "top_mm": -1.5},
            }
        ],
        None,
    ),
    (
        "hardware.near",
        BODY,
        [put("setups.front.hardware.s3.x_mm", 404.0), put("setups.front.hardware.s3.y_mm", 104.0)],
        None,
    ),
    (
        "holding.nothing",
        PLATE,
        [{"do": "remove_hardware", "setup": "front", "hardware": f"s{k}"} for k in (1, 2, 3, 4)],
        None,
    ),
    (
        "waste_board.hit",
        BODY,
        [put(OP + "profile_outline.overcut_mm", 0.7)],
        [put(OP + "profile_outline.overcut_mm", 0.6)],
    ),
    (
        "settings.chip_load",
        BODY,
        [
            put(OP + "pocket_pickup_pocket.settings.speed_rpm", 13400),
            put(OP + "pocket_pickup_pocket.settings.feed_mm_min", 2600),
        ],
        [
            put(OP + "pocket_pickup_pocket.settings.speed_rpm", 13400),
            put(OP + "pocket_pickup_pocket.settings.feed_mm_min", 2720),
        ],
    ),
    (
        "settings.chip_load",
        BODY,
        [
            put(OP + "pocket_neck_pocket.settings.speed_rpm", 8000),
            put(OP + "pocket_neck_pocket.settings.feed_mm_min", 4000),
        ],
        None,
    ),
    ("settings.power", BODY, [put("machine.power_w", 60)], None),
    ("settings.bend", BODY, [put("bits.flat6.stickout_mm", 90.0), put("bits.flat6.cutting_length_mm", 60.0)], None),
    (
        "settings.depth_of_cut",
        BODY,
        [put(OP + "pocket_control_cavity.settings.depth_of_cut_mm", 8.1)],
        [put(OP + "pocket_control_cavity.settings.depth_of_cut_mm", 8.0)],
    ),
    ("settings.speed", PLATE, [put(OP + "profile_outline.settings.speed_rpm", 20000)], None),
    ("settings.speed", BODY, [put(OP + "face.settings.speed_rpm", 7900)], None),
    ("settings.feed", BODY, [put(OP + "face.settings.feed_mm_min", 4001)], None),
    (
        "settings.stepover",
        BODY,
        [put(OP + "pocket_pickup_pocket.settings.stepover_mm", 4.1)],
        [put(OP + "pocket_pickup_pocket.settings.stepover_mm", 4.0)],
    ),
    (
        "travel.outside",
        BODY,
        [put("setups.front.blank_at_mm", [378, 60])],
        [put("setups.front.blank_at_mm", [365, 60])],
    ),
    ("travel.outside", BODY, [put("bits.flat8.stickout_mm", 110.0)], None),
    ("feature.not_machined", BODY, [{"do": "remove_operation", "operation": "pocket_pickup_pocket"}], None),
    (
        "feature.stock_left",
        BODY,
        [put(OP + "pocket_plate_rebate.stock_to_leave_mm", 0.3)],
        [put(OP + "pocket_plate_rebate.stock_to_leave_mm", 0.03)],
    ),
    ("feature.stock_left", BODY, [put(OP + "pocket_control_cavity.floor_to_leave_mm", 0.2)], None),
    ("feature.stock_left", BODY, [{"do": "remove_operation", "operation": "face"}], None),
    ("feature.gouged", BODY, [put(OP + "profile_outline.side", "inside")], None),
    ("feature.gouged", BODY, [put(OP + "pocket_pickup_pocket.stock_to_leave_mm", -0.5)], None),
    ("feature.too_deep", BODY, [put("piece.features.post_holes.depth_mm", 45.2)], None),
    ("blank.broken_out", BODY, [put("blank.width_mm", 327.7)], [put("blank.width_mm", 328.8)]),
    ("blank.too_small", BODY, [put("blank.width_mm", 310.0)], None),
    ("blank.margin_small", BODY, [put("blank.x_mm", -8.5)], [put("blank.x_mm", -9.8)]),
    ("blank.boards_narrow", BODY, [put("blank.planks.a.width_mm", 176.8)], [put("blank.planks.a.width_mm", 177.0)]),
    (
        "blank.glue_line_in_hole",
        BODY,
        [put("blank.planks.a.width_mm", 222.0), put("blank.planks.b.width_mm", 132.0)],
        [put("blank.planks.a.width_mm", 213.0), put("blank.planks.b.width_mm", 141.0)],
    ),
    ("blank.defect_shows", BODY, [put("blank.defects.k1.x_mm", 150.0), put("blank.defects.k1.y_mm", 80.0)], None),
    (
        "blank.defect_structural",
        BODY,
        [put("blank.defects.k1.x_mm", 77.0), put("blank.defects.k1.y_mm", 0.0)],
        [put("blank.defects.k1.x_mm", 79.0), put("blank.defects.k1.y_mm", 0.0)],
    ),
    ("blank.thickness_off", BODY, [put("blank.thickness_mm", 45.5)], [put("blank.thickness_mm", 45.65)]),
    (
        "blank.thickness_off",
        BODY,
        [put("blank.thickness_readings_mm", [45.2, 46.4])],
        [put("blank.thickness_readings_mm", [45.4, 46.2])],
    ),
    (
        "part.unmeasured",
        BODY,
        [{"do": "drop_reading", "part": "neck", "place": "heel_width_end", "index": 0}] * 3,
        None,
    ),
    ("part.unmeasured", NECK, [{"do": "drop_reading", "part": "tuner", "place": "post_hole", "index": 0}] * 3, None),
    (
        "reading.outlier",
        BODY,
        [{"do": "keep_reading", "part": "neck", "place": "heel_thickness", "typed": "25.60"}],
        [{"do": "keep_reading", "part": "neck", "place": "heel_thickness", "typed": "25.48"}],
    ),
    (
        "reading.spread",
        BODY,
        [{"do": "keep_reading", "part": "plate", "place": "plate_thickness", "typed": "2.62"}],
        [{"do": "keep_reading", "part": "plate", "place": "plate_thickness", "typed": "2.59"}],
    ),
    ("reading.single", BODY, [{"do": "drop_reading", "part": "neck", "place": "fret_height", "index": 0}], None),
    ("zero.touch_off_missing", BODY, [put(OP + "pocket_neck_pocket.touch_off_before", False)], None),
    (
        "zero.face_cut_away",
        BODY,
        [put("setups.front.zero.z", "stock_top"), put("setups.front.zero.touch_x_mm", 100.0)],
        [
            put("setups.front.zero.z", "stock_top"),
            put("setups.front.zero.touch_x_mm", -27.0),
            put("setups.front.zero.touch_y_mm", 0.0),
        ],
    ),
    (
        "entry.straight_down",
        BODY,
        [put("bits.flat8.cuts_at_centre", False), put(OP + "pocket_pickup_pocket.entry", "plunge")],
        None,
    ),
    (
        "outline.skin_thin",
        BODY,
        [SKIN, put(OP + "profile_outline.skin_mm", 0.29), UNDER],
        [SKIN, put(OP + "profile_outline.skin_mm", 0.31), UNDER],
    ),
    (
        "outline.no_land",
        BODY,
        [GROOVE, put(OP + "profile_outline.groove_mm", 6.9)],
        [GROOVE, put(OP + "profile_outline.groove_mm", 7.1)],
    ),
    ("outline.trim_bit", BODY, [GROOVE, put("choices.trim_bit_mm", 31.4)], [GROOVE, put("choices.trim_bit_mm", 31.6)]),
    (
        "clearing.slot",
        NECK,
        [
            {"do": "choose_clearing", "operation": "pocket_rod_channel", "clearing": "engaged"},
            put("piece.features.rod_channel.shape.width_mm", 6.2),
        ],
        [
            {"do": "choose_clearing", "operation": "pocket_rod_channel", "clearing": "engaged"},
            put("piece.features.rod_channel.shape.width_mm", 8.2),
        ],
    ),
    (
        "tear_out.likely",
        BODY,
        [put(OP + "profile_outline.direction", "conventional"), put(OP + "profile_outline.finish_allowance_mm", 3.2)],
        [put(OP + "profile_outline.direction", "conventional"), put(OP + "profile_outline.finish_allowance_mm", 3.0)],
    ),
    (
        "tear_out.rim",
        BODY,
        [
            put("blank.wood", "walnut"),
            {"do": "clean_rim", "operation": "pocket_bridge_recess"},
            {"do": "clean_rim", "operation": "pocket_plate_rebate"},
            {"do": "renew_settings"},
        ],
        [put("blank.wood", "mahogany"), {"do": "renew_settings"}],
    ),
    (
        "feature.rough_wall",
        BODY,
        [put("bits.flat6.serrated", True)],
        [
            put("bits.flat6.serrated", True),
            {"do": "choose_rest", "operation": "pocket_neck_pocket", "first": "flat8"},
            put(OP + "pocket_neck_pocket.bit", "flat3"),
            put("bits.flat3.cutting_length_mm", 20.0),
            put("bits.flat3.stickout_mm", 30.0),
        ],
    ),
    ("feature.wall_gives", BODY, test_walls.beside_the_pickup(3.7), test_walls.beside_the_pickup(4.5)),
    ("feature.corner_left", BODY, [put("piece.features.plate_rebate.shape.corner_radius_mm", 1.0)], None),
]


class CleanRoutes(unittest.TestCase):
    def test_no_clean_route_is_accused(self):
        for name in (BODY, NECK, PLATE):
            with self.subTest(name):
                self.assertEqual([f.reason for f in proof_of(route_named(name)).findings], [])


class PlantedFaults(unittest.TestCase):
    def test_every_fault_is_found_and_its_twin_just_inside_the_limit_is_not(self):
        for code, name, outside, inside in FAULTS:
            with self.subTest(code, fault=str(outside)[:90]):
                proof = proof_of(changed(route_named(name), *outside))
                self.assertIn(code, codes(proof))
                for f in proof.findings:
                    self.assertEqual(f.severity, CODES[f.code][0])
                    self.assertTrue(f.reason and f.facts, f.code)
                if inside is not None:
                    self.assertNotIn(code, codes(proof_of(changed(route_named(name), *inside))))

    def test_every_code_of_a_route_has_a_planted_fault(self):
        of_a_route = {c for c in CODES if not c.startswith(("program.", "bench."))}
        self.assertEqual(of_a_route - codes_in_tests(of_a_route), set())

    def test_a_rapid_move_through_wood_is_found_in_the_motion_itself(self):
        """The generators never make one, so one is put into a simulated step."""
        sim = proof_of(route_named(PLATE)).simulation
        step = sim.steps[-1]
        path = PathBuilder(-20, -20, 8)
        path.rapid(z_mm=-1.0)
        path.rapid(x_mm=30)
        wood = Wood(sim.grid, sim.blank_top.copy(), sim.bottom)
        bad = replace(step, path=path.done(), metrics=cut_path(wood, path.done(), step.bit, 20, sim.route.blank.top_mm))
        found = list(rapid_through_wood(replace(sim, steps=[*sim.steps[:-1], bad])))
        self.assertEqual([f.code for f in found], ["rapid.through_wood"])
        self.assertEqual(found[0].facts[0].value, 1.0)
        self.assertEqual(list(rapid_through_wood(sim)), [])


class CannotDo(unittest.TestCase):
    def test_a_chip_the_machine_cannot_make_is_told_without_a_cure_that_changes_nothing(self):
        route = changed(
            route_named(BODY),
            put("operations.face.bit", "face25"),
            put("machine", MACHINES[1]),
            {"do": "renew_settings"},
        )
        found = next(f for f in proof_of(route).findings if f.code == "settings.chip_load" and f.operation == "face")
        self.assertEqual(found.cures, [])
        self.assertIn("fewer flutes", found.reason)


class Cures(unittest.TestCase):
    def test_a_cure_removes_its_finding_and_brings_no_worse_one(self):
        worse = {Severity.STOP: 2, Severity.CARE: 1, Severity.NOTE: 0}
        tried = 0
        for code, name, outside, _ in sample(FAULTS, 30):
            route = changed(route_named(name), *outside)
            proof = proof_of(route)
            found = next((f for f in proof.findings if f.code == code and f.cures), None)
            if found is None:
                continue
            with self.subTest(code, cure=found.cures[0].label):
                tried += 1
                after = proof_of(apply_edits(route, [read_edit(e) for e in found.cures[0].edits]))
                same = [f for f in after.findings if f.code == code and (f.operation, f.feature, f.hardware) == (found.operation, found.feature, found.hardware)]
                self.assertEqual([f.reason for f in same], [])
                new = codes(after) - codes(proof)
                self.assertFalse([c for c in new if worse[CODES[c][0]] > worse[found.severity]], new)
        self.assertGreater(tried, 20 if LONG else 8)


class Places(unittest.TestCase):
    def test_a_finding_stands_where_the_fault_is(self):
        proof = proof_of(changed(route_named(BODY), {"do": "put_hardware", "setup": "front", "hardware": {"id": "s9", "kind": "screw", "x_mm": 200, "y_mm": -138, "top_mm": -1.5}}))
        hit = next(f for f in proof.findings if f.code == "hardware.hit")
        self.assertLess(abs(hit.place[0] - 200) + abs(hit.place[1] + 138), 12)
        thin = next(f for f in proof_of(changed(route_named(BODY), put("piece.features.control_cavity.depth_mm", 40.0))).findings if f.code == "feature.floor_thin")
        self.assertLess(abs(thin.place[0] - 306) + abs(thin.place[1] + 84), 70)
        self.assertAlmostEqual(float(thin.facts[0].value), 5.0, delta=0.03)
