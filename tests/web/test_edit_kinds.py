"""Every kind of edit over HTTP, without a reason and with one: it makes a revision, and the history says what it
did."""

import unittest

from birch_route.core.edits import REGISTRY, describe, read_edit
from birch_route.demo.fitted import fitted_route, hollow_route
from birch_route.formats.route_file import route_to_text
from tests.core.boards import board_route
from tests.core.test_passes import DOWN
from tests.support import live_server, put, route_named

BODY, PLATE = "siskin_body", "control_plate"
SCREW = {"id": "s9", "kind": "screw", "x_mm": 5, "y_mm": 5}
BALL = {
    "id": "ball3",
    "name": "3 mm ball",
    "form": "ball",
    "diameter_mm": 3,
    "flutes": 2,
    "cutting_length_mm": 12,
    "shank_diameter_mm": 6,
    "stickout_mm": 36,
}
MEANT = {"code": "feature.wall_thin", "operation": "face", "said": "0123456789abcdef"}
STEP = {"id": "wipe", "name": "Wipe it", "minutes": 2}


def do(edit, **more):
    return {"do": edit, **more}


SIZES = (("bush_diameter", "9.4"), ("bush_length", "9"), ("body_diameter", "24"), ("body_height", "20"))
POTS = [
    do("add_part", kind="pot", name="Pot"),
    *(do("keep_reading", part="pot", place=place, typed=size) for place, size in SIZES),
    do("put_item", list="placements", item={"id": "pot_1", "part": "pot", "x_mm": 310, "y_mm": 85}),
]
CAVITY = {"what": "pocket", "y_mm": 110, "length_mm": 60, "width_mm": 30, "corner_mm": 6}
CAVITIES = [
    do("draw", x_mm=170, depth_mm=30, **CAVITY),
    do("draw", x_mm=250, depth_mm=34, **CAVITY),
]
CASES = {  # kind: the route it is tried on, what is done before it, the edit
    "set": (PLATE, [], put("blank.length_mm", '7"')),
    "keep_reading": (BODY, [], do("keep_reading", part="plate", place="plate_thickness", typed="3/32")),
    "drop_reading": (BODY, [], do("drop_reading", part="plate", place="plate_thickness", index=0)),
    "add_part": (PLATE, [], do("add_part", kind="pot", name="Pot")),
    "remove_part": (PLATE, [do("add_part", kind="pot", name="Pot")], do("remove_part", part="pot")),
    "put_hardware": (PLATE, [], do("put_hardware", setup="front", hardware=SCREW)),
    "remove_hardware": (PLATE, [], do("remove_hardware", setup="front", hardware="s1")),
    "put_item": (PLATE, [], do("put_item", list="bench_steps", item=STEP)),
    "remove_item": (
        PLATE,
        [do("put_item", list="bench_steps", item=STEP)],
        do("remove_item", list="bench_steps", id="wipe"),
    ),
    "plan_bench": (BODY, [put("blank.boards", 2)], do("plan_bench")),
    "mirror": (BODY, [], do("mirror")),
    "turn_over": (BODY, [], do("turn_over")),
    "first_face": ("fitted", [], do("first_face", face="back")),
    "remove_setup": ("fitted", [], do("remove_setup")),
    "add_chambers": (BODY, [], do("add_chambers", face="back", number=1)),
    "propose": (PLATE, [do("remove_operation", operation="profile_outline")], do("propose")),
    "propose_for": (PLATE, [do("remove_operation", operation="profile_outline")], do("propose_for", feature="outline")),
    "creep": (BODY, [], do("creep", operation="pocket_neck_pocket", passes=2)),
    "choose_rest": (BODY, [], do("choose_rest", operation="pocket_neck_pocket", first="flat8")),
    "choose_rim": (BODY, [DOWN], do("choose_rim", operation="pocket_neck_pocket", bit="down6")),
    "clean_rim": (BODY, [DOWN], do("clean_rim", operation="pocket_neck_pocket")),
    "renew_settings": (PLATE, [put("blank.wood", "hard_maple")], do("renew_settings")),
    "add_finish": (
        "fitted",
        [do("put_item", list="bits", item=BALL)],
        do("add_finish", operation="surface_finish_arm", pattern="pencil"),
    ),
    "step_down": ("fitted", [], do("step_down", feature="switch_cavity", width_mm=6, depth_mm=5)),
    "choose_clearing": (BODY, [], do("choose_clearing", operation="pocket_control_cavity", clearing="engaged")),
    "choose_school": (BODY, [], do("choose_school", operation="profile_outline", school="groove")),
    "machine_edge": ("fitted", [], do("machine_edge", edge="edge_1", by_machine=False)),
    "move_tab": (BODY, [], do("move_tab", operation="profile_outline", number=0, x_mm=200, y_mm=160)),
    "move_operation": (BODY, [], do("move_operation", operation="pocket_control_cavity", to=1)),
    "remove_operation": (PLATE, [], do("remove_operation", operation="profile_outline")),
    "order_by": (BODY, [], do("order_by", by="bits")),
    "gather_operations": (BODY, [], do("gather_operations", operations=["face", "drill_neck_screws"])),
    "join_operations": (BODY, [], do("join_operations", operations=["pocket_bridge_recess", "pocket_plate_rebate"])),
    "part_operation": (
        BODY, [do("join_operations", operations=["pocket_bridge_recess", "pocket_plate_rebate"])],
        do("part_operation", operation="pocket_bridge_recess"),
    ),
    "finish_with": (BODY, [], do("finish_with", operation="profile_outline", bit="flat6")),
    "add_step": (BODY, [], do("add_step", after="face", step={"name": "Wipe it", "minutes": 2})),
    "move_step": (BODY, [do("add_step", after="face", step={"name": "Wipe it", "minutes": 2})],
                  do("move_step", step="own", later=True)),
    "say_mine": (PLATE, [], do("say_mine", path="choices.fit_gap_mm")),
    "propose_again": (
        PLATE,
        [do("remove_operation", operation="profile_outline")],
        do("propose_again", feature="outline"),
    ),
    "mean_so": (BODY, [], do("mean_so", **MEANT, why="nobody sees it")),
    "mean_no_more": (BODY, [do("mean_so", **MEANT, why="nobody sees it")], do("mean_no_more", **MEANT)),
    "glue_between": ("hollow", [], do("glue_between", layer="cap", between=False)),
    "cover": ("hollow", [], do("cover", feature="chamber_1", covered=False)),
    "draw": (BODY, [], do("draw", what="hole", x_mm=320, y_mm=75, diameter_mm=8, depth_mm=9)),
    "draw_pickup": (BODY, [], do("draw_pickup", part="pickup", x_mm=110)),
    "place_feature": (BODY, [], do("place_feature", feature="post_holes", dx_mm=1.5)),
    "lay_holes": (BODY, [], do("lay_holes", feature="neck_screws", along=2, across=2, apart_mm=30, rows_mm=24)),
    "add_contour": (BODY, [], do("add_contour", contour="heel")),
    "keep_wire_hole": (
        BODY, CAVITIES, do("keep_wire_hole", first="pocket", second="pocket_2"),
    ),
    "house_parts": (BODY, [*POTS], do("house_parts", placements=["pot_1"])),
    "cover_cavity": (BODY, [*POTS, do("house_parts", placements=["pot_1"])],
                     do("cover_cavity", feature="control_cavity_2", land_mm=9, thick_mm=2)),
    "fit_blank": ("board", [put("piece.board.frets", 24)], do("fit_blank")),
    "slots_when": ("board", [], do("slots_when", floors="following")),
    "rest_and_skim": ("fitted", [], do("rest_and_skim", setup="back")),
    "add_test_holes": ("fitted", [], do("add_test_holes", setup="back")),
}


def route_of(name):
    if name == "board":
        return board_route()
    return fitted_route(True) if name == "fitted" else hollow_route() if name == "hollow" else route_named(name)


class EveryKind(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.server = live_server()

    def new(self, name, before):
        made = self.server.call("POST", "/api/routes?measured_here=true", route_to_text(route_of(name)))[1]
        if before:
            status, made = self.server.call(
                "POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": before}
            )
            self.assertEqual(status, 200, made)
        return made

    def test_each_makes_a_revision_and_says_what_it_did(self):
        self.assertEqual(set(CASES), set(REGISTRY))
        for kind, (name, before, edit) in CASES.items():
            made = self.new(name, before)
            route, revision = f"/api/routes/{made['route']}", made["revision"]
            for reason in ("", "Because the customer asked"):
                with self.subTest(kind, reason=reason):
                    status, after = self.server.call(
                        "POST", f"{route}/edits", {"revision": revision, "edits": [edit], "reason": reason}
                    )
                    self.assertEqual(status, 200, after)
                    self.assertEqual(after["revision"], revision + 1)
                    self.assertEqual(after["what"], reason or describe(read_edit(edit)))
                    self.assertGreater(len(after["what"]), 4)
                    status, back = self.server.call("POST", f"{route}/undo", {"revision": after["revision"]})
                    self.assertEqual((status, back["hash"]), (200, made["hash"]))
                    revision = back["revision"]

    def test_an_unknown_kind_and_a_malformed_one_are_refused_in_words(self):
        made = self.new(PLATE, [])
        for edit in (
            {"do": "wish"},
            {},
            {"do": "creep", "operation": "x", "passes": 99},
            {"do": "set", "path": "../x", "value": 1},
        ):
            with self.subTest(edit=edit):
                status, told = self.server.call(
                    "POST", f"/api/routes/{made['route']}/edits", {"revision": made["revision"], "edits": [edit]}
                )
                self.assertEqual(status, 422)
                self.assertIn("This edit cannot be used", told["message"])


if __name__ == "__main__":
    unittest.main()
