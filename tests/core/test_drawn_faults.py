"""Sixty faults drawn at random, one on each face of a two-faced body at a time, every one found; thirty clean routes
of seven makes, none accused."""

import random
import unittest
from collections.abc import Callable

from birch_route.core.instrument.outlines import Style, body_outline
from birch_route.core.instrument.resolve import resolve
from birch_route.core.jigs.end import Cut
from birch_route.core.jigs.model import End
from birch_route.core.sequence.start import Start, start_route
from birch_route.core.vocabulary import PieceKind
from birch_route.demo.fitted import fitted_route, hollow_route
from birch_route.demo.jigs import jig_routes
from birch_route.demo.shop import BENCH_MACHINE, BITS, MORE_BITS
from tests.core.test_carves import carved
from tests.core.test_channels import BINDING, PURFLING, with_channels
from tests.core.test_ends import job as end_job
from tests.core.test_following import over_belly
from tests.core.test_passes import DOWN, POCKET
from tests.core.test_reliefs import body as bare_body
from tests.core.test_reliefs import dome, formed
from tests.independent.pieces import random_piece
from tests.support import changed, codes, proof_of, put, route_named
from tests.tiers import sample

OP = "operations."
UNDER = {"front": ["pickup_pocket", "control_cavity", "bridge_recess", "neck_pocket"], "back": ["switch_cavity", "cover_rebate"]}  # a screw stands where these are cut


def drop(operation):
    return {"do": "remove_operation", "operation": operation}


def screw(setup, feature):
    x, y = resolve(fitted_route(True)).solid(feature).region.centroid.coords[0]
    return {"do": "put_hardware", "setup": setup, "hardware": {"id": "s9", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": -1.5}}


def tops(*operations):
    """Faults that any clearing operation can have: what is set too far, drawn between two ends."""
    def one(kind: Callable) -> Callable:
        return lambda r: kind(r, r.choice(operations))
    return [one(k) for k in (
        lambda r, o: ("settings.chip_load", [put(f"{OP}{o}.settings.feed_mm_min", round(r.uniform(250, 900)))], o),
        lambda r, o: ("settings.stepover", [put(f"{OP}{o}.settings.stepover_mm", round(r.uniform(4.2, 7.5), 2))], o),
        lambda r, o: ("settings.depth_of_cut", [put(f"{OP}{o}.settings.depth_of_cut_mm", round(r.uniform(8.3, 16), 2))], o),
        lambda r, o: ("settings.speed", [put(f"{OP}{o}.settings.speed_rpm", round(r.uniform(31000, 50000)))], o),
        lambda r, o: ("feature.stock_left", [put(f"{OP}{o}.floor_to_leave_mm", round(r.uniform(0.1, 1.2), 2))], None),
        lambda r, o: ("feature.not_machined", [drop(o)], None),
        lambda r, o: ("feature.gouged", [put(f"{OP}{o}.stock_to_leave_mm", -round(r.uniform(0.45, 1.2), 2))], None),
    )]


FRONT = [
    *tops("pocket_pickup_pocket", "pocket_bridge_recess", "pocket_plate_rebate"),
    lambda r: ("hardware.hit", [screw("front", r.choice(UNDER["front"]))], None),
    lambda r: ("surface.rough_near", [put(OP + "surface_rough_arm.floor_to_leave_mm", round(r.uniform(0.0, 0.11), 3))], "surface_rough_arm"),
    lambda r: ("surface.finish_deep", [put(OP + "surface_rough_arm.settings.stepover_mm", round(r.uniform(7.4, 8.0), 2))], "surface_finish_arm"),
    lambda r: ("turn.not_symmetrical", [put("piece.features.index_holes.points", [[-11.0, r.uniform(1, 4)], [420.0, 0.0]])], None),
    lambda r: ("turn.no_datum", [put("setups.back.datum", None)], None),
    lambda r: ("bit.too_short", [put(OP + "pocket_control_cavity.bit", "flat3")], None),
    lambda r: ("zero.touch_off_missing", [put(OP + r.choice(["face", "surface_rough_arm"]) + ".touch_off_before", False)], None),
]
BACK = [
    *tops("pocket_switch_cavity", "pocket_cover_rebate"),
    lambda r: ("piece.freed", [put(OP + "profile_outline.tabs", [])], "profile_outline"),
    lambda r: ("waste_board.hit", [put(OP + "profile_outline.overcut_mm", round(r.uniform(0.75, 3), 2))], "profile_outline"),
    lambda r: ("feature.floor_thin", [put("piece.features.switch_cavity.depth_mm", round(r.uniform(40.3, 41.5), 2))], None),
    lambda r: ("feature.tilt_left", [put("piece.features.cover_rebate.tilt_deg", round(r.uniform(1.3, 2.5), 2))], None),
    lambda r: ("feature.wall_thin", [put("piece.features.cover_screws.points", [[round(r.uniform(144.8, 146.0), 2), 82.0]])], None),
    lambda r: ("surface.finish_deep", [drop("surface_rough_belly")], "surface_finish_belly"),
    lambda r: ("surface.rough_near", [put(OP + "surface_rough_belly.floor_to_leave_mm", round(r.uniform(0.0, 0.11), 3))], "surface_rough_belly"),
    lambda r: ("hardware.hit", [screw("back", r.choice(UNDER["back"]))], None),
    lambda r: ("travel.outside", [put("setups.back.blank_at_mm", [round(r.uniform(380, 600)), 60])], None),
    lambda r: ("holding.nothing", [{"do": "remove_hardware", "setup": "back", "hardware": h} for h in ("s1", "s2", "s3", "s4", "c1", "c2")], None),
]
PAIRS = 30


def drawn(seed: int) -> tuple:
    """One fault for each face."""
    r = random.Random(seed)
    return FRONT[seed % len(FRONT)](r), BACK[(seed * 5 + 3) % len(BACK)](r)


class Drawn(unittest.TestCase):
    def test_every_fault_is_found(self):
        clean = fitted_route(True)
        self.assertEqual(codes(proof_of(clean)), set())
        for seed in sample(range(PAIRS), 10):
            front, back = drawn(seed)
            found = proof_of(changed(clean, *front[1], *back[1])).findings
            for code, edits, operation in (front, back):
                with self.subTest(seed=seed, code=code, edits=edits):
                    self.assertTrue([f for f in found if f.code == code and operation in (None, f.operation)], sorted({f.code for f in found}))

    def test_many_kinds_are_drawn_on_both_faces(self):
        kinds = {f[0] for seed in range(PAIRS) for f in drawn(seed)}
        self.assertGreaterEqual(len(kinds), 18)


def holes_only():
    route = bare_body()
    return changed(route, {"do": "put_item", "list": "features", "item": {"kind": "hole", "id": "pins", "name": "Pins", "points": [[60, 0], [340, 0]], "diameter_mm": 8.0, "depth_mm": 12.0}}, {"do": "propose"})


def with_rack(route, *names):
    return changed(route, *({"do": "put_item", "list": "bits", "item": b} for b in MORE_BITS if b["id"] in names))


CLEAN = {
    "a bare body": bare_body,
    "the demo body": lambda: route_named("siskin_body"),
    "the fretboard face of a neck": lambda: route_named("siskin_neck_face"),
    "a control plate": lambda: route_named("control_plate"),
    "a body fitted out, both faces": lambda: fitted_route(True),
    "for the other hand": lambda: changed(route_named("siskin_body"), {"do": "mirror"}),
    "both faces for the other hand": lambda: changed(fitted_route(True), {"do": "mirror"}),
    "only pins": holes_only,
    "in ash": lambda: changed(route_named("siskin_body"), put("blank.wood", "ash"), {"do": "propose"}),
    "in basswood": lambda: changed(route_named("siskin_body"), put("blank.wood", "basswood"), {"do": "propose"}),
    "with a carved top": carved,
    "bound": lambda: with_channels(route_named("siskin_body"), BINDING),
    "bound, with purfling, on a carve": lambda: with_channels(carved(), BINDING, PURFLING),
    "with a chamber that follows the belly": over_belly,
    "with a rim cut first": lambda: changed(
        route_named("siskin_body"), DOWN, {"do": "choose_rim", "operation": POCKET, "bit": "down6"}
    ),
    "crept up on": lambda: changed(route_named("siskin_body"), {"do": "creep", "operation": POCKET, "passes": 3}),
    "a wide bit first": lambda: changed(
        with_rack(route_named("siskin_body"), "ball8"), {"do": "choose_rest", "operation": POCKET, "first": "flat8"}
    ),
    "with a domed face from a file": lambda: formed(dome),
    "an outline with a skin": lambda: changed(
        route_named("siskin_body"), {"do": "choose_school", "operation": "profile_outline", "school": "skin"}
    ),
    **{f"a board of its own, {seed}": (lambda seed=seed: random_piece(random.Random(seed))) for seed in (11, 23, 37)},
    "a hollow body under a cap": hollow_route,
    **{f"a jig, {k}": (lambda k=k: jig_routes()[k]) for k in range(4)},
    **{
        f"{end.value} end in a vice, {cut.value}": (lambda end=end, cut=cut: end_job(end, cut))
        for end, cut in ((End.LEFT, Cut.FACE), (End.RIGHT, Cut.HOLES), (End.RIGHT, Cut.TENON))
    },
    "an outline of our own": lambda: start_route(
        Start(
            "Plover",
            PieceKind.BODY,
            body_outline(Style.PLOVER, 400.0, 330.0, 0.06, 0.0),
            "alder",
            44.0,
            {**BENCH_MACHINE, "index_holes_mm": []},
            [*BITS, *MORE_BITS],
        )
    ),
    "with a tilted pocket": lambda: changed(
        route_named("siskin_body"), put("piece.features.neck_pocket.tilt_deg", 0.4)
    ),
}


MAKES = {
    "flat body": "the demo body",
    "carved body": "with a carved top",
    "cap": "a hollow body under a cap",
    "neck face": "the fretboard face of a neck",
    "plate": "a control plate",
    "jig": "a jig, 0",
    "end work": "right end in a vice, tenon",
}


class Clean(unittest.TestCase):
    """Bodies, flat and carved, caps, necks, plates, jigs, work on ends: none is accused."""

    def test_no_clean_route_is_accused(self):
        self.assertGreaterEqual(len(CLEAN), 30)
        self.assertLessEqual(set(MAKES.values()), set(CLEAN))
        for name, make in sample(CLEAN.items(), 12):
            with self.subTest(route=name):
                self.assertEqual([f"{f.code}: {f.reason}" for f in proof_of(make()).findings], [])


if __name__ == "__main__":
    unittest.main()
