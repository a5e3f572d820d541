"""A fretboard from numbers to wood: against formulas written here, not against those it was made by."""

import math
import random
import re
import unittest

import numpy as np
import shapely
import shapely.affinity

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.fretboard.surfaces import BoardFace
from birch_route.core.fretboard.ways import over_mm, sideways
from birch_route.core.heights import kernels
from birch_route.core.instrument.resolve import resolve
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_programs
from birch_route.core.proving.prove import prove
from birch_route.core.proving.target import past_wall
from tests.core.boards import RACK, UNDER, WIRE, board, board_route
from tests.support import changed, codes, put

SLOTS = "profile_fret_slots"


def fret(scale, n):
    return scale * (1 - 2 ** (-n / 12))


def face_mm(one, end_mm, x, y):
    """Depth of the finished face below the crown at the nut."""
    radius = one.radius_nut_mm + (one.radius_end_mm - one.radius_nut_mm) * x / end_mm
    last = fret(one.scale_mm, one.frets)
    begins = last * 2 / 3
    fall = one.fall_away_mm * max(0.0, (x - begins) / (end_mm - begins)) ** 2
    return radius - math.sqrt(radius * radius - y * y) + fall


def top_at(proof, x, y):
    sim = proof.simulations[-1]
    grid = sim.grid
    i, j = int((x - grid.x0_mm) / grid.cell_mm), int((y - grid.y0_mm) / grid.cell_mm)
    return max(float(sim.result[j, i]), float(sim.bottom[j, i]))


def serious(proof):
    return [f.code for f in proof.findings if f.severity.value != "note"]


class Cut(unittest.TestCase):
    """One scale, compound radius: everything that is asked of it, by formula, in the wood."""

    @classmethod
    def setUpClass(cls):
        cls.board = board(fall_away_mm=0.2, nut_slot_mm=3.2)
        cls.route = board_route(cls.board)
        cls.proof = prove(cls.route)
        cls.end = fret(648, 22) + 8.0

    def half(self, x):
        return (42.5 + (56.0 - 42.5) * x / self.end) / 2

    def test_nothing_is_found_wrong_and_all_of_it_is_made(self):
        self.assertEqual(serious(self.proof), [])
        made = {f for o in self.route.operations for f in o.features}
        self.assertEqual(made, {f.id for f in self.route.features})
        slots = [o for o in self.route.operations if "fret_slots" in o.features]
        self.assertEqual((len(slots), slots[0].bit), (1, "slot06"))
        dots = [o for o in self.route.operations if any(f.startswith("dot") for f in o.features)]
        self.assertEqual([len(o.features) for o in dots], [9])

    def test_slots_lie_at_their_frets_as_deep_as_the_tang_asks_at_crown_and_edge(self):
        for n in range(1, 23):
            x = fret(648, n)
            floors = [top_at(self.proof, x, y) for y in (0.0, 0.98 * self.half(x), -0.98 * self.half(x))]
            self.assertLess(max(floors) - min(floors), 1e-3, "a level floor")
            deep = WIRE.tang_depth_mm + UNDER + face_mm(self.board, self.end, x, self.half(x))
            self.assertAlmostEqual(-floors[0], deep, delta=0.02)
            for beside in (-0.45, 0.45):  # a slot of 0.6, and no wider
                self.assertGreater(top_at(self.proof, x + beside, 0.0), floors[0] + 1.0)
        self.assertGreater(top_at(self.proof, 0.0, 0.0), -0.2, "no zero fret was asked for")

    def test_the_face_stands_over_its_radius_by_no_more_than_its_cusps(self):
        rng = random.Random(3)
        solid = resolve(self.route).solid("fret_slots")
        cusp, seen = 0.02, 0
        while seen < 400:
            x = rng.uniform(1.0, self.end - 1)
            y = rng.uniform(-1, 1) * (self.half(x) - 0.5)
            if min(abs(x - fret(648, n)) for n in range(23)) < 0.6 or any(
                s.region.buffer(0.3).contains(shapely.Point(x, y))
                for s in resolve(self.route).solids.values() if s.kind == "hole"
            ):
                continue
            seen += 1
            over = top_at(self.proof, x, y) + face_mm(self.board, self.end, x, y)
            self.assertGreater(over, -0.01)
            self.assertLess(over, cusp + 0.01)
        self.assertEqual(past_wall(self.proof.simulations[0], solid), 0.0)

    def test_dots_are_as_deep_as_said_below_the_face_beside_them(self):
        for n in (3, 9, 21):
            x = (fret(648, n) + fret(648, n - 1)) / 2
            deep = face_mm(self.board, self.end, x, 0.0) + self.board.marker_deep_mm
            self.assertAlmostEqual(top_at(self.proof, x, 0.0), -deep, delta=0.01)
        x = (fret(648, 12) + fret(648, 11)) / 2
        y = self.half(x) / 2
        deep = face_mm(self.board, self.end, x, y) + self.board.marker_deep_mm
        self.assertAlmostEqual(top_at(self.proof, x, y), -deep, delta=0.01)

    def test_the_thin_bit_nowhere_takes_more_than_its_depth_of_cut(self):
        step = next(s for s in self.proof.steps if s.operation.id == SLOTS)
        deepest = step.metrics[:, kernels.DEPTH].max()
        self.assertLessEqual(deepest, step.operation.settings.depth_of_cut_mm + 1e-3)
        self.assertGreater(deepest, 0.9 * step.operation.settings.depth_of_cut_mm)

    def test_programs_hold_the_frets_to_half_their_last_decimal_and_read_back(self):
        programs = [p for sim in self.proof.simulations for p in write_programs(sim)]
        told = read_back_all(self.proof.simulations, programs)
        self.assertEqual(told.findings, [])
        text = next(p for p in programs if SLOTS in p.operations)
        origin = text.origin_mm[0]
        places = {float(w) for w in re.findall(r"X *(-?[0-9.]+)", text.text)}
        for n in range(1, 23):
            self.assertLessEqual(min(abs(p + origin - fret(648, n)) for p in places), 0.0005 + 1e-9)


class Schools(unittest.TestCase):
    def test_floors_along_the_face_leave_more_under_the_crown_and_come_after_it(self):
        one = board(floors="following")
        route = board_route(one)
        order = [o.id for o in route.operations]
        self.assertGreater(order.index(SLOTS), order.index("surface_finish_board_face"))
        proof = prove(route)
        self.assertEqual(serious(proof), [])
        end = fret(648, 22) + 8.0
        for n in (1, 12, 22):
            x = fret(648, n)
            half = (42.5 + 13.5 * x / end) / 2
            for y in (0.0, 0.5 * half, -0.97 * half):
                deep = face_mm(one, end, x, y) + WIRE.tang_depth_mm + UNDER
                self.assertAlmostEqual(-top_at(proof, x, y), deep, delta=0.02)
        step = next(s for s in proof.steps if s.operation.id == SLOTS)
        self.assertLessEqual(step.metrics[:, kernels.DEPTH].max(), step.operation.settings.depth_of_cut_mm + 0.03)

    def test_one_press_goes_from_one_way_to_the_other_and_back(self):
        route = board_route()
        there = apply_edits(route, [read_edit({"do": "slots_when", "floors": "following"})])
        self.assertEqual(there.piece.board.floors, "following")
        order = [o.id for o in there.operations]
        self.assertEqual(order.index(SLOTS), order.index("surface_finish_board_face") + 1)
        self.assertIn("after the radius", next(o for o in there.operations if o.id == SLOTS).reasons["order"])
        back = apply_edits(there, [read_edit({"do": "slots_when", "floors": "flat"})])
        self.assertEqual([o.id for o in back.operations], [o.id for o in route.operations])
        self.assertEqual(back.piece, route.piece)

    def test_either_floor_in_either_order_is_cut_as_it_is_drawn(self):
        """A person may move the slots; then the bit still takes no more at once than it is set to."""
        for floors in ("flat", "following"):
            route = board_route(floors=floors)
            order = [o.id for o in route.operations]
            before, after = order.index("surface_rough_board_face"), order.index("profile_outline") - 1
            other = before if floors == "following" else after
            moved = apply_edits(route, [read_edit({"do": "move_operation", "operation": SLOTS, "to": other})])
            proof = prove(moved)
            with self.subTest(floors):
                self.assertNotEqual([o.id for o in moved.operations], order)
                self.assertNotIn("slot.shallow", codes(proof))
                self.assertNotIn("feature.gouged", codes(proof))
                step = next(s for s in proof.steps if s.operation.id == SLOTS)
                most = step.operation.settings.depth_of_cut_mm
                self.assertLessEqual(step.metrics[:, kernels.DEPTH].max(), most + 0.03)

    def test_blind_slots_end_inside_the_edges(self):
        proof = prove(board_route(blind=True))
        self.assertEqual(serious(proof), [])
        x = fret(648, 5)
        half = (42.5 + 13.5 * x / (fret(648, 22) + 8)) / 2
        self.assertLess(top_at(proof, x, half - 1.4), -1.5)
        self.assertGreater(top_at(proof, x, half - 0.4), -1.5)

    def test_slots_wider_than_the_bit_are_cut_in_ways_side_by_side(self):
        thin = [b for b in RACK if b["id"] != "slot06"]
        route = board_route(bits=thin)
        solid = resolve(route).solid("fret_slots")
        self.assertAlmostEqual(solid.surface.width_mm, 0.60)
        self.assertEqual(sideways(solid.surface, 0.60), [0.0])
        self.assertEqual(sideways(solid.surface, 0.581), [0.0])
        self.assertEqual(len(sideways(solid.surface, 0.579)), 2)
        self.assertEqual(len(sideways(solid.surface, 0.2)), 4)
        self.assertAlmostEqual(over_mm(solid.surface), 0.02, places=5)
        self.assertEqual(next(o for o in route.operations if o.id == SLOTS).bit, "slot05")
        proof = prove(route)
        self.assertEqual(serious(proof), [])
        x = fret(648, 7)
        self.assertLess(top_at(proof, x, 0.0), -2.0)

    def test_no_bit_is_wider_than_the_barbs_leave_room_to_hold(self):
        """Pressed, 0.58 to 0.62 would do; barbs of 0.70 leave no more than 0.60."""
        floors = resolve(board_route(wire=WIRE.model_copy(update={"barbs_mm": 0.70}))).solid("fret_slots").surface
        self.assertAlmostEqual(floors.width_mm + over_mm(floors), 0.60, places=5)
        self.assertAlmostEqual(floors.width_mm - over_mm(floors), 0.58, places=5)

    def test_two_scales_slant_and_their_mirror_is_the_other_hand(self):
        one = board(bass_scale_mm=686.0, floors="following")
        route = board_route(one)
        proof = prove(route)
        self.assertEqual(serious(proof), [])
        other = apply_edits(route, [read_edit({"do": "mirror"})])
        self.assertTrue(other.piece.board.left_handed)
        self.assertEqual(serious(prove(other)), [])
        mine, theirs = (resolve(r).solid("fret_slots").region for r in (route, other))
        flipped = shapely.affinity.scale(mine, 1, -1, origin=(0, 0))
        self.assertLess(flipped.symmetric_difference(theirs).area, 1e-6)
        again = apply_edits(other, [read_edit({"do": "mirror"})])
        self.assertEqual(again.piece, route.piece)
        tabs = [[t.at for t in r.operations[-1].tabs] for r in (again, route)]
        self.assertTrue(np.allclose(*tabs, atol=1e-9))

    def test_a_zero_fret_is_one_more_slot(self):
        self.assertEqual(len(resolve(board_route(zero_fret=True)).solid("fret_slots").surface.ways), 23)
        self.assertEqual(len(resolve(board_route()).solid("fret_slots").surface.ways), 22)


class Judged(unittest.TestCase):
    """Each limit from both sides."""

    def found(self, **more):
        return codes(prove(board_route(board(**more))))

    def test_wood_under_the_slots(self):
        # under a level floor: thickness less tang, what is under it, and the sag at the last fret
        end = fret(648, 22) + 8.0
        one = board()
        x = fret(648, 22)
        sag = face_mm(one, end, x, (42.5 + 13.5 * x / end) / 2)
        takes = WIRE.tang_depth_mm + UNDER + sag
        flat = {"markers": False}
        self.assertNotIn("slot.floor_thin", self.found(thickness_mm=round(takes + 1.51, 3), **flat))
        self.assertIn("slot.floor_thin", self.found(thickness_mm=round(takes + 1.49, 3), **flat))
        self.assertNotIn("slot.through", self.found(thickness_mm=round(takes + 1.01, 3), **flat))
        self.assertIn("slot.through", self.found(thickness_mm=round(takes + 0.99, 3), **flat))

    def test_edges_ends_barbs_and_dots(self):
        sag = face_mm(board(), fret(648, 22) + 8.0, fret(648, 22) + 8.0, 28.0)
        cases = (
            ("board.edge_thin", {"thickness_mm": 2.99 + sag}, {"thickness_mm": 3.01 + sag}),
            ("board.end_short", {"past_last_fret_mm": 2.99}, {"past_last_fret_mm": 3.0}),
            ("board.end_short", {"zero_fret": True, "before_nut_mm": 2.99}, {"zero_fret": True, "before_nut_mm": 3.0}),
            ("slot.barbs", {"wire": WIRE.model_copy(update={"barbs_mm": 0.67})},
             {"wire": WIRE.model_copy(update={"barbs_mm": 0.69})}),
            ("slot.no_tang", {"wire": WIRE.model_copy(update={"tang_mm": None})}, {}),
        )
        for code, outside, inside in cases:
            with self.subTest(code):
                self.assertIn(code, self.found(**outside))
                self.assertNotIn(code, self.found(**inside))
        gap = fret(648, 21) - fret(648, 20) - 0.60  # from slot to slot beside the last dot
        self.assertIn("board.dot_at_slot", self.found(marker_mm=round(gap - 0.99, 3)))
        self.assertNotIn("board.dot_at_slot", self.found(marker_mm=round(gap - 1.02, 3)))

    def test_a_blank_of_another_thickness_than_the_numbers_say_and_its_cure(self):
        route = board_route()
        thick = route.blank.thickness_mm
        self.assertNotIn("board.thickness_off", codes(prove(changed(route, put("blank.thickness_mm", thick + 0.049)))))
        for off in (0.051, -0.051):
            wrong = changed(route, put("blank.thickness_mm", thick + off))
            told = next(f for f in prove(wrong).findings if f.code == "board.thickness_off")
            cured = apply_edits(wrong, [read_edit(e) for e in told.cures[0].edits])
            self.assertEqual(serious(prove(cured)), [])
            self.assertAlmostEqual(cured.blank.thickness_mm, thick)

    def test_a_slot_that_is_left_too_shallow(self):
        route = board_route()
        up = f"operations.{SLOTS}.floor_to_leave_mm"
        self.assertIn("slot.shallow", codes(prove(changed(route, put(up, 0.06)))))
        self.assertNotIn("slot.shallow", codes(prove(changed(route, put(up, 0.04)))))

    def test_a_dot_near_the_end_is_milled_while_waste_still_stands_there(self):
        """Short grain breaks out where nothing stands behind it any more."""
        route = board_route(scale_mm=561.6, frets=21, past_last_fret_mm=4.6, marker_mm=6.35)
        self.assertNotIn("tear_out.hole", codes(prove(route)))
        last = len(route.operations) - 1
        late = apply_edits(route, [read_edit({"do": "move_operation", "operation": "bore_dot_3", "to": last})])
        self.assertEqual(late.operations[-1].id, "bore_dot_3")
        self.assertIn("tear_out.hole", codes(prove(late)))

    def test_tabs_stand_between_slots_and_a_board_stays_one_piece_where_slots_go_below_them(self):
        route = board_route(thickness_mm=5.2, radius_nut_mm=406.0)
        outline = route.operations[-1]
        rim = resolve(route).outline.exterior
        slots = resolve(route).solid("fret_slots").region
        for tab in outline.tabs:
            apart = slots.distance(rim.interpolate(tab.at, normalized=True))
            self.assertGreater(apart, tab.width_mm / 2)
        deep = max(resolve(route).solid("fret_slots").surface.flat)
        self.assertLess(5.2 - deep, max(t.height_mm for t in outline.tabs), "slots go below the tabs' tops")
        self.assertNotIn("holding.weak", codes(prove(route)))

    def test_cells_too_large_for_its_slots_are_told(self):
        route = board_route()
        self.assertIn("slot.unseen", codes(prove(route, cell_mm=0.25)))
        self.assertNotIn("slot.unseen", codes(prove(route, cell_mm=0.19)))

    def test_no_tang_no_slots_and_none_without_a_bit(self):
        route = board_route(wire=WIRE.model_copy(update={"tang_depth_mm": None}))
        self.assertFalse(any("fret_slots" in o.features for o in route.operations))
        told = apply_edits(route, [read_edit({"do": "set", "path": "piece.board.wire.tang_depth_mm", "value": 1.6})])
        self.assertTrue(any("fret_slots" in o.features for o in told.operations))
        bare = board_route(bits=[b for b in RACK if not b["id"].startswith("slot")])
        self.assertIn("feature.not_machined", codes(prove(bare)))


class Follows(unittest.TestCase):
    def test_every_number_moves_what_follows_from_it(self):
        route = board_route()
        more = apply_edits(route, [read_edit({"do": "set", "path": "piece.board.frets", "value": 24})])
        self.assertEqual(len(resolve(more).solid("fret_slots").surface.ways), 24)
        self.assertTrue(any("dots_24" in o.features for o in more.operations))
        self.assertGreater(resolve(more).outline.bounds[2], resolve(route).outline.bounds[2] + 15)
        none = apply_edits(more, [read_edit({"do": "set", "path": "piece.board.markers", "value": False})])
        self.assertFalse(any(f.startswith("dot") for o in none.operations for f in o.features))

    def test_a_blank_is_fitted_to_a_board_that_grew_and_screws_of_ones_own_stay(self):
        route = board_route()
        grown = apply_edits(route, [read_edit({"do": "set", "path": "piece.board.frets", "value": 24})])
        self.assertIn("hardware.hit", codes(prove(grown)))
        own = grown.setups[0].hardware[0].model_copy(update={"assumed": False})
        mine = grown.setups[0].model_copy(update={"hardware": [own, *grown.setups[0].hardware[1:]]})
        fitted = apply_edits(grown.model_copy(update={"setups": [mine]}), [read_edit({"do": "fit_blank"})])
        self.assertEqual(serious(prove(fitted)), [])
        places = [(h.x_mm, h.y_mm) for h in fitted.setups[0].hardware]
        self.assertEqual(places[0], (own.x_mm, own.y_mm))
        blank = fitted.blank
        self.assertEqual(places[2], (blank.x_mm + blank.length_mm - 7, blank.y_mm + blank.width_mm - 7))
        same = apply_edits(route, [read_edit({"do": "fit_blank"})])
        self.assertEqual(same.blank, route.blank)

    def test_an_outline_beside_the_numbers_is_not_taken(self):
        route = board_route()
        data = route.model_dump(mode="json")
        for one in data["piece"]["features"]:
            one["shape"]["vertices"][1][0] += 30
        self.assertEqual(type(route).model_validate(data).piece, route.piece)

    def test_its_face_is_the_circle_at_both_ends(self):
        face = BoardFace(board())
        y = np.array([-20.0, 0.0, 20.0])
        nut = face.depth(np.zeros(3), y)
        self.assertAlmostEqual(nut[0], 254 - math.sqrt(254**2 - 400), places=9)
        self.assertEqual(nut[1], 0.0)
        turned = face.turned((-1.0, 1.0)).depth(np.full(3, -100.0), y)
        self.assertTrue(np.allclose(turned, face.depth(np.full(3, 100.0), y)))


if __name__ == "__main__":
    unittest.main()
