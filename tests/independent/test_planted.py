"""Faults planted at random places and sizes in random pieces, in pairs just outside and just inside each limit.

The limits are worked out here from the piece's own numbers and the trade's figures, not asked of the product.
"""

import random
import unittest

from birch_route.core.data import figures
from birch_route.core.proving.findings import CODES
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import Cache
from tests.independent.pieces import random_piece
from tests.support import changed, codes, put
from tests.tiers import sample

FIG = figures()
POCKET, OUTLINE = "operations.pocket_pocket", "operations.profile_outline"


def feature(route, name):
    return next(f for f in route.piece.features if f.id == name)


def operation(route, name):
    return next(o for o in route.operations if o.id == name)


def screw(x, y, top=-1.0):
    return {"do": "put_hardware", "setup": "front", "hardware": {"id": "planted", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": top}}


# Each plants one fault: (route, rng, amount by which the limit is passed: above zero outside, below zero inside) -> edits, place or None.

def thin_floor(route, rng, over):
    pocket = feature(route, "pocket")
    left = route.blank.thickness_mm - route.blank.skim_mm - pocket.depth_mm
    return [put("piece.features.pocket.least_floor_mm", left + over)], (pocket.shape.x_mm, pocket.shape.y_mm, pocket.shape.length_mm)


def thin_outer_wall(route, rng, over):
    pocket = feature(route, "pocket")
    y = FIG["walls_mm"]["to_outside"] - over + pocket.shape.width_mm / 2
    return [put("piece.features.pocket.shape.y_mm", y)], (pocket.shape.x_mm, y - pocket.shape.width_mm / 2, pocket.shape.length_mm)


def thin_wall_at_a_hole(route, rng, over):
    outline = feature(route, "outline").shape
    y = rng.uniform(0.4, 0.6) * outline.width_mm
    x = outline.length_mm - 1.5 - FIG["walls_mm"]["hole_to_rim"] + over
    return [put("piece.features.through.points", [[x, y]])], (x, y, 5)


def thin_wall_between(route, rng, over):
    pocket, recess = feature(route, "pocket").shape, feature(route, "shallow").shape
    x = pocket.x_mm + pocket.length_mm / 2 + FIG["walls_mm"]["between"] - over + recess.length_mm / 2
    return [put("piece.features.shallow.depth_mm", 6.2), put("piece.features.shallow.shape.x_mm", x), put("piece.features.shallow.shape.y_mm", pocket.y_mm)], (
        pocket.x_mm + pocket.length_mm / 2 + 1.7, pocket.y_mm, recess.width_mm)


def round_corner(route, rng, over):
    bit = next(b for b in route.bits if b.id == operation(route, "pocket_pocket").bit)
    return [put("piece.features.pocket.shape.corner_radius_mm", 1.0), put("piece.features.pocket.part_corner_mm", bit.diameter_mm / 2 - over)], None


def short_bit(route, rng, over):
    pocket, bit = feature(route, "pocket"), operation(route, "pocket_pocket").bit
    return [put(f"bits.{bit}.cutting_length_mm", pocket.depth_mm - over)], (pocket.shape.x_mm, pocket.shape.y_mm, pocket.shape.length_mm)


def nut_in_the_wood(route, rng, over):
    """On a blank that is not faced, so that no rim beside the faced area stands higher."""
    pocket, bit = feature(route, "pocket"), operation(route, "pocket_pocket").bit
    out = pocket.depth_mm - over
    return [put(f"bits.{bit}.cutting_length_mm", min(out, pocket.depth_mm)), put(f"bits.{bit}.stickout_mm", out)], None


def screw_hit(route, rng, over):
    outline = feature(route, "outline").shape
    bit = next(b for b in route.bits if b.id == operation(route, "profile_outline").bit)
    x, swept = rng.uniform(0.25, 0.75) * outline.length_mm, bit.diameter_mm + operation(route, "profile_outline").finish_allowance_mm
    return [screw(x, -(swept + 4.0) + over)], (x, -12, 12)


def screw_near(route, rng, over):
    outline = feature(route, "outline").shape
    bit = next(b for b in route.bits if b.id == operation(route, "profile_outline").bit)
    y, swept = rng.uniform(0.25, 0.75) * outline.width_mm, bit.diameter_mm + operation(route, "profile_outline").finish_allowance_mm
    return [screw(-(swept + 4.0 + 6.0) + over, y)], (-12, y, 14)


def deep_in_the_waste_board(route, rng, over):
    return [put(f"{OUTLINE}.overcut_mm", route.machine.waste_cut_mm + over)], None


def bold_depth(route, rng, over):
    bit = next(b for b in route.bits if b.id == operation(route, "pocket_pocket").bit)
    return [put(f"{POCKET}.settings.depth_of_cut_mm", FIG["depth_per_pass"]["bench"][1] * bit.diameter_mm + over)], None


def wide_stepover(route, rng, over):
    bit = next(b for b in route.bits if b.id == operation(route, "pocket_pocket").bit)
    return [put(f"{POCKET}.settings.stepover_mm", bit.diameter_mm / 2 + over)], None


def thin_chip(route, rng, over):
    """The window between the two rows of the table nearest to the bit, in a wood of 450 to 800 kg/m3 that is not figured: factor 1."""
    op = operation(route, "pocket_pocket")
    rows = {r[0]: r[1] for r in FIG["chip_load_mm"]["rows"]}
    bit = next(b for b in route.bits if b.id == op.bit)
    return [put("blank.wood", "ash"), put(f"{POCKET}.settings.feed_mm_min", rows[bit.diameter_mm] * op.settings.speed_rpm * bit.flutes * (1 - over / 50))], None


def beyond_travel(route, rng, over):
    """The facing or the outline's bit centre goes farthest; the blank is put so that it ends at the travel's end."""
    outline = feature(route, "outline").shape
    bit = next(b for b in route.bits if b.id == operation(route, "profile_outline").bit)
    reach = outline.length_mm + bit.diameter_mm / 2 + operation(route, "profile_outline").finish_allowance_mm
    return [put("setups.front.blank_at_mm", [route.machine.travel_mm[0] - (reach - route.blank.x_mm) + over, 60])], None


def stock_left(route, rng, over):
    return [put(f"{POCKET}.stock_to_leave_mm", 0.08 + over / 10)], None


def too_deep(route, rng, over):
    bit = operation(route, "bore_bored").bit
    return [put("piece.features.bored.depth_mm", route.blank.thickness_mm - route.blank.skim_mm + over), put(f"bits.{bit}.cutting_length_mm", 60),
            put(f"bits.{bit}.stickout_mm", 64), put("piece.features.bored.least_floor_mm", 0)], None


def small_margin(route, rng, over):
    bit = next(b for b in route.bits if b.id == operation(route, "profile_outline").bit)
    return [put("blank.x_mm", -(bit.diameter_mm + 1.0 - over)), {"do": "remove_hardware", "setup": "front", "hardware": "s1"}, {"do": "remove_hardware", "setup": "front", "hardware": "s4"}], None


def face_cut_away(route, rng, over):
    outline, margin = feature(route, "outline").shape, operation(route, "face").margin_mm
    return [put("setups.front.zero.z", "stock_top"), put("setups.front.zero.touch_x_mm", -margin + over), put("setups.front.zero.touch_y_mm", outline.width_mm / 2)], None


def narrow_pocket(route, rng, over):
    """A pocket a little narrower than the bit that is told to clear it."""
    bit = next(b for b in route.bits if b.id == operation(route, "pocket_pocket").bit)
    return [put("piece.features.pocket.shape.width_mm", bit.diameter_mm - over), put("piece.features.pocket.shape.corner_radius_mm", bit.diameter_mm / 2 - over / 2)], None


PLANTED = [  # code, how it is planted, outside, inside, facing wanted
    ("feature.floor_thin", thin_floor, 0.05, -0.05, None), ("feature.wall_thin", thin_outer_wall, 0.1, -0.1, None),
    ("feature.wall_thin", thin_wall_at_a_hole, 0.1, -0.1, None), ("feature.wall_thin", thin_wall_between, 0.1, -0.1, None),
    ("feature.corner_too_round", round_corner, 0.1, -0.1, None), ("bit.too_short", short_bit, 0.1, -0.1, None),
    ("bit.nut_hits_wood", nut_in_the_wood, 0.1, -0.1, 0.0), ("hardware.hit", screw_hit, 0.1, -0.1, None), ("hardware.near", screw_near, 0.1, -0.1, None),
    ("waste_board.hit", deep_in_the_waste_board, 0.02, -0.02, None), ("settings.depth_of_cut", bold_depth, 0.05, -0.05, None),
    ("settings.stepover", wide_stepover, 0.05, -0.05, None), ("settings.chip_load", thin_chip, 0.5, -0.5, None), ("travel.outside", beyond_travel, 0.1, -0.1, 0.0),
    ("feature.stock_left", stock_left, 0.1, -0.1, None), ("feature.too_deep", too_deep, 0.1, -0.3, None), ("blank.margin_small", small_margin, 0.1, -0.1, 0.0),
    ("zero.face_cut_away", face_cut_away, 0.4, -0.4, 0.6), ("feature.bit_too_wide", narrow_pocket, 0.1, -0.1, None),
]
TRIES = 3
ALSO = {short_bit: ("pocket_pocket",), nut_in_the_wood: ("pocket_pocket",)}  # the same bit may do other work, which is then found too


class Planted(unittest.TestCase):
    def test_each_is_found_outside_its_limit_at_its_place_and_not_inside(self):
        for number, (code, plant, outside, inside, skim) in enumerate(PLANTED):
            for k in sample(range(TRIES), 1):
                seed = 1000 * number + k
                route = random_piece(random.Random(seed), skim_mm=skim)
                cache = Cache(20)
                with self.subTest(code, planted=plant.__name__, seed=seed):
                    edits, place = plant(route, random.Random(seed), outside)
                    found = [f for f in prove(changed(route, *edits), cache).findings if f.code == code and f.operation in ALSO.get(plant, (f.operation,))]
                    self.assertTrue(found, "not found")
                    self.assertEqual(found[0].severity, CODES[code][0])
                    if place is not None:
                        x, y, within = place
                        self.assertLess(abs(found[0].place[0] - x) + abs(found[0].place[1] - y), within + 3)
                    edits, _ = plant(route, random.Random(seed), inside)
                    twin = [f.reason for f in prove(changed(route, *edits), cache).findings if f.code == code and f.operation in ALSO.get(plant, (f.operation,))]
                    self.assertEqual(twin, [], "accused inside its limit")

    def test_a_feature_without_an_operation_and_a_piece_without_a_tab_are_always_found(self):
        for seed in range(4):
            route = random_piece(random.Random(seed))
            name = random.Random(seed).choice([o.id for o in route.operations if o.features and o.features[0] != "outline"])
            feature_id = operation(route, name).features[0]
            proof = prove(changed(route, {"do": "remove_operation", "operation": name}, put(f"{OUTLINE}.tabs", [])))
            with self.subTest(seed=seed):
                self.assertEqual([f.feature for f in proof.findings if f.code == "feature.not_machined"], [feature_id])
                self.assertEqual([f.operation for f in proof.findings if f.code == "piece.freed"], ["profile_outline"])

    def test_one_fault_brings_no_stop_of_another_kind(self):
        """What is planted must not drown in what follows from it."""
        for code, plant, outside, skim in (("feature.floor_thin", thin_floor, 0.3, None), ("feature.wall_thin", thin_outer_wall, 1.0, None),
                                           ("settings.stepover", wide_stepover, 0.3, None), ("waste_board.hit", deep_in_the_waste_board, 0.3, None)):
            route = random_piece(random.Random(77), skim_mm=skim)
            with self.subTest(code):
                self.assertEqual(codes(prove(changed(route, *plant(route, random.Random(1), outside)[0]))), {code})


class Clean(unittest.TestCase):
    def test_random_pieces_are_not_accused_of_anything(self):
        for seed in sample(range(24), 8):
            with self.subTest(seed=seed):
                self.assertEqual([f.reason for f in prove(random_piece(random.Random(seed))).findings], [])


if __name__ == "__main__":
    unittest.main()
