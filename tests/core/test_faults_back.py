"""Faults planted on the second face of a turned body, in pairs just outside and just inside each limit, each found in its own setup and place."""

import unittest
from functools import cache

from birch_route.core.proving.findings import CODES
from birch_route.demo.fitted import fitted_route
from tests.support import changed, proof_of, put

OP = "operations."
SWITCH, COVER, SCREWS = "piece.features.switch_cavity.", "piece.features.cover_rebate.", "piece.features.cover_screws."


def screw(x, y, top=-1.5):
    return {"do": "put_hardware", "setup": "back", "hardware": {"id": "s9", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": top}}


def pocket(**shape):
    return {"do": "put_item", "list": "features", "item": {"kind": "pocket", "id": "under", "name": "Under", "face": "back", "shape": {"kind": "rectangle", "corner_radius_mm": 6, **shape}, "depth_mm": 13.0}}


# code, edits just outside the limit, edits just inside it, feature or operation that is named (None: not looked at)
FAULTS = [
    ("feature.floor_thin", [put(SWITCH + "depth_mm", 40.2)], [put(SWITCH + "depth_mm", 39.8)], "switch_cavity"),
    (
        "feature.break_through",
        [pocket(x_mm=168, y_mm=-10, length_mm=20, width_mm=40), put("piece.features.under.depth_mm", 27.0)],
        [pocket(x_mm=168, y_mm=-10, length_mm=20, width_mm=40), put("piece.features.under.depth_mm", 18.0)],
        None,
    ),
    ("feature.not_machined", [{"do": "remove_operation", "operation": "pocket_cover_rebate"}], None, "cover_rebate"),
    (
        "feature.stock_left",
        [put(OP + "pocket_cover_rebate.floor_to_leave_mm", 0.08)],
        [put(OP + "pocket_cover_rebate.floor_to_leave_mm", 0.02)],
        "cover_rebate",
    ),
    (
        "feature.stock_left",
        [put(OP + "pocket_cover_rebate.stock_to_leave_mm", 0.3)],
        [put(OP + "pocket_cover_rebate.stock_to_leave_mm", 0.03)],
        "cover_rebate",
    ),
    ("feature.gouged", [put(OP + "pocket_cover_rebate.stock_to_leave_mm", -0.5)], None, None),
    ("feature.wall_thin", [put(SCREWS + "points", [[144.8, 82.0]])], [put(SCREWS + "points", [[144.2, 82.0]])], None),
    ("feature.corner_left", [put(COVER + "shape.corner_radius_mm", 1.0)], None, "cover_rebate"),
    ("feature.tilt_left", [put(COVER + "tilt_deg", 1.2)], [put(COVER + "tilt_deg", 0.3)], "cover_rebate"),
    ("feature.too_deep", [put(SCREWS + "depth_mm", 45.2)], [put(SCREWS + "depth_mm", 14.5)], "cover_screws"),
    ("piece.freed", [put(OP + "profile_outline.tabs", [])], None, "profile_outline"),
    (
        "waste_board.hit",
        [put(OP + "profile_outline.overcut_mm", 0.7)],
        [put(OP + "profile_outline.overcut_mm", 0.6)],
        "profile_outline",
    ),
    ("hardware.hit", [screw(200, -138)], [screw(-21.0, -60.0)], None),
    (
        "holding.nothing",
        [{"do": "remove_hardware", "setup": "back", "hardware": h} for h in ("s1", "s2", "s3", "s4", "c1", "c2")],
        [{"do": "remove_hardware", "setup": "back", "hardware": h} for h in ("c1", "c2")],
        None,
    ),
    (
        "settings.chip_load",
        [
            put(OP + "pocket_switch_cavity.settings.speed_rpm", 13400),
            put(OP + "pocket_switch_cavity.settings.feed_mm_min", 2600),
        ],
        [
            put(OP + "pocket_switch_cavity.settings.speed_rpm", 13400),
            put(OP + "pocket_switch_cavity.settings.feed_mm_min", 2720),
        ],
        "pocket_switch_cavity",
    ),
    (
        "settings.depth_of_cut",
        [put(OP + "pocket_switch_cavity.settings.depth_of_cut_mm", 8.1)],
        [put(OP + "pocket_switch_cavity.settings.depth_of_cut_mm", 8.0)],
        "pocket_switch_cavity",
    ),
    (
        "settings.stepover",
        [put(OP + "pocket_switch_cavity.settings.stepover_mm", 4.1)],
        [put(OP + "pocket_switch_cavity.settings.stepover_mm", 4.0)],
        "pocket_switch_cavity",
    ),
    (
        "settings.speed",
        [
            put(OP + "pocket_cover_rebate.settings.speed_rpm", 7900),
            put(OP + "pocket_cover_rebate.settings.feed_mm_min", 2400),
        ],
        None,
        "pocket_cover_rebate",
    ),
    ("zero.touch_off_missing", [put(OP + "pocket_cover_rebate.touch_off_before", False)], None, "pocket_cover_rebate"),
    (
        "entry.straight_down",
        [put("bits.flat8.cuts_at_centre", False), put(OP + "pocket_cover_rebate.entry", "plunge")],
        None,
        None,
    ),
    (
        "tear_out.likely",
        [
            put(OP + "pocket_cover_rebate.direction", "conventional"),
            put(OP + "pocket_cover_rebate.finish_allowance_mm", 3.2),
        ],
        [
            put(OP + "pocket_cover_rebate.direction", "conventional"),
            put(OP + "pocket_cover_rebate.finish_allowance_mm", 3.0),
        ],
        "cover_rebate",
    ),
    ("travel.outside", [put("setups.back.blank_at_mm", [378, 60])], None, None),
]


@cache
def clean():
    return fitted_route(True)


class BackFace(unittest.TestCase):
    def test_the_clean_body_is_not_accused(self):
        self.assertEqual([f.reason for f in proof_of(clean()).findings], [])

    def test_every_fault_is_found_on_its_face_and_its_twin_is_not(self):
        back = {o.id for o in clean().operations if o.setup == "back"} | {f.id for f in clean().features if getattr(f, "face", None) == "back"}
        for code, outside, inside, named in FAULTS:
            with self.subTest(code, fault=str(outside)[:90]):
                found = [f for f in proof_of(changed(clean(), *outside)).findings if f.code == code]
                self.assertTrue(found)
                self.assertEqual({f.severity for f in found}, {CODES[code][0]})
                self.assertTrue(all(f.reason and f.facts for f in found))
                if named:
                    self.assertIn(named, {f.feature for f in found} | {f.operation for f in found})
                    self.assertTrue(named in back or named == "profile_outline")
                if inside is not None:
                    self.assertNotIn(code, {f.code for f in proof_of(changed(clean(), *inside)).findings})

    def test_a_finding_of_the_back_stands_where_it_is_in_the_piece_s_own_frame(self):
        hit = next(f for f in proof_of(changed(clean(), screw(200, -138))).findings if f.code == "hardware.hit")
        self.assertLess(abs(hit.place[0] - 200) + abs(hit.place[1] + 138), 14)
        thin = next(f for f in proof_of(changed(clean(), put(SWITCH + "depth_mm", 41.0))).findings if f.code == "feature.floor_thin")
        x, y = clean().feature("switch_cavity").shape.x_mm, clean().feature("switch_cavity").shape.y_mm
        self.assertLess(abs(thin.place[0] - x) + abs(thin.place[1] - y), 60)


if __name__ == "__main__":
    unittest.main()
