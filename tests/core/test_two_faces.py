"""Both faces of one piece: frames, the wood through a turn-over, what is found again, what the second setup is told."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from birch_route.core.errors import InputError
from birch_route.core.heights.field import Grid
from birch_route.core.instrument.resolve import resolve
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_all
from birch_route.core.stages import Frame, turned_resolved
from birch_route.core.vocabulary import TurnAxis
from birch_route.demo.fitted import fitted_route
from birch_route.formats.view import encode_view
from birch_route.service.planning import release
from tests.core.bodies import CAVITY, with_cavity
from tests.formats.test_out import decode_view
from tests.support import changed, codes, proof_of, put, route_named

THICK = 45.0
TURN = {"do": "turn_over"}


def turned(*edits):
    return changed(fitted_route(), TURN, *edits)


class Frames(unittest.TestCase):
    @given(st.sampled_from(list(TurnAxis)), st.floats(-300, 300), st.floats(-300, 300), st.floats(-60, 5))
    def test_a_turn_is_a_rotation_and_its_own_inverse(self, about, x, y, z):
        frame = Frame(about, THICK)
        self.assertEqual([round(v, 9) for v in frame.point(*frame.point(x, y, z))], [round(v, 9) for v in (x, y, z)])
        axes = np.array([np.subtract(frame.point(*e), frame.point(0, 0, 0)) for e in np.eye(3)])
        self.assertAlmostEqual(np.linalg.det(axes), 1.0)  # nothing is mirrored
        self.assertEqual(frame.point(0, 0, -THICK)[2], 0.0)  # the back face lies at 0

    @given(st.sampled_from(list(TurnAxis)), st.integers(0, 2**31))
    @settings(max_examples=20)
    def test_fields_and_grids_turn_there_and_back(self, about, seed):
        rng = np.random.default_rng(seed)
        grid = Grid(-7.25, 3.5, 9, 6, 0.5)
        bottom = rng.uniform(-45, -20, (6, 9)).astype(np.float32)
        top = (bottom + rng.uniform(0.5, 20, bottom.shape)).astype(np.float32)
        frame = Frame(about, THICK)
        up, down = frame.fields(top, bottom)
        self.assertLess(np.abs(frame.fields(up, down)[0] - top).max(), 1e-5)
        other = frame.grid(grid)
        j, i = 2, 5
        x, y, _ = frame.point(grid.x_centres()[i], grid.y_centres()[j], 0.0)
        row, column = other.cell_of(x, y)
        self.assertAlmostEqual(float(up[row, column]), float(-bottom[j, i] - THICK), places=4)
        self.assertEqual(frame.grid(other), grid)

    def test_what_was_on_the_back_is_up_after_a_turn_and_the_parts_keep_their_places(self):
        resolved = resolve(with_cavity())
        lies = turned_resolved(resolved, Frame(TurnAxis.LENGTH, THICK))
        cavity, pocket = lies.solid("back_cavity"), lies.solid("pickup_pocket")
        self.assertEqual((cavity.face.value, cavity.floor_mm), ("front", -39.0))
        self.assertAlmostEqual(cavity.region.centroid.y, -95.0, places=6)
        self.assertEqual(pocket.face.value, "back")
        self.assertAlmostEqual(pocket.deep_mm(THICK), resolved.solid("pickup_pocket").deep_mm(THICK))


class TurnedOver(unittest.TestCase):
    def test_the_body_is_cut_from_both_faces_and_accused_of_nothing(self):
        proof = proof_of(turned())
        self.assertEqual([f.reason for f in proof.findings], [])
        self.assertEqual([o.setup for o in turned().operations], ["front"] * 12 + ["back"] * 2)
        first, second = proof.simulations
        top, bottom = second.frame.fields(second.result, second.bottom)
        j, i = first.grid.cell_of(168.0, 82.0 - 20.0)  # in the switch cavity, beside the slot
        self.assertAlmostEqual(float(bottom[j, i]), -45.0 + 38.0, places=3)
        self.assertAlmostEqual(float(top[j, i]), 0.0, places=3)
        j, i = first.grid.cell_of(168.0, 82.0)  # under the slot: open
        self.assertLessEqual(top[j, i], bottom[j, i])
        untouched = first.result > first.bottom
        same = np.abs(top - first.result) < 1e-4
        gone = top <= bottom
        self.assertTrue((same | gone)[untouched].all())  # from behind nothing of the front changes but what goes through

    def test_the_freed_body_is_held_by_tabs_in_the_second_setup_only(self):
        proof = proof_of(turned(put("operations.profile_outline.tabs", [])))
        freed = [f for f in proof.findings if f.code == "piece.freed"]
        self.assertEqual([f.operation for f in freed], ["profile_outline"])
        cured = proof_of(turned(put("operations.profile_outline.tabs", []), *freed[0].cures[0].edits))
        self.assertEqual([f.reason for f in cured.findings], [])

    def test_a_screw_in_the_way_from_behind_is_told_at_its_place_on_the_piece_and_moved_away(self):
        x, y = 200.0, -138.0
        proof = proof_of(turned({"do": "put_hardware", "setup": "back", "hardware": {"id": "odd", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": -1.5}}))
        hit = next(f for f in proof.findings if f.code == "hardware.hit")
        self.assertLess(abs(hit.place[0] - x) + abs(hit.place[1] - y), 12)
        self.assertLess(hit.place[2], -20)  # near the back face
        after = proof_of(turned({"do": "put_hardware", "setup": "back", "hardware": {"id": "odd", "kind": "screw", "x_mm": x, "y_mm": y, "top_mm": -1.5}}, *hit.cures[0].edits))
        self.assertNotIn("hardware.hit", codes(after))

    def test_programs_of_both_setups_read_back_and_are_released(self):
        proof = proof_of(turned())
        programs = write_all(proof.simulations)
        self.assertEqual([(p.setup, p.name[-10:]) for p in programs], [("front", "1_front.nc"), ("back", "02_back.nc")])
        self.assertIn("(setup: Back face up, back face up, turned over about its length)", programs[1].text)
        self.assertEqual(read_back_all(proof.simulations, programs).findings, [])
        swapped = [programs[1], programs[0]]
        self.assertEqual(read_back_all(proof.simulations, swapped).findings, [])
        missing = read_back_all(proof.simulations, programs[:1])
        self.assertEqual({f.code for f in missing.findings}, {"program.read_back"})
        self.assertEqual(len(release(proof, {}).programs), 2)

    def test_the_thinnest_floor_is_seen_through_both_faces(self):
        """Under the pickup pocket, 19.01 deep, a cavity from behind may be 45 - 19.01 - 8 deep."""
        limit = THICK - 19.01 - 8.0
        for deep, told in ((limit + 0.1, True), (limit - 0.1, False)):
            under = {**CAVITY, "id": "under", "name": "Under", "shape": {"kind": "rectangle", "x_mm": 168, "y_mm": 0, "length_mm": 24, "width_mm": 40, "corner_radius_mm": 5}, "depth_mm": deep}
            proof = proof_of(changed(route_named("siskin_body"), {"do": "put_item", "list": "features", "item": under}, TURN))
            thin = [f for f in proof.findings if f.code == "feature.floor_thin"]
            with self.subTest(deep=deep):
                self.assertEqual(bool(thin), told)
                if told:
                    self.assertAlmostEqual(float(thin[0].facts[0].value), THICK - 19.01 - deep, delta=0.02)

    def test_pockets_that_meet_are_a_stop_unless_they_are_meant_to(self):
        limit = THICK - 33.0
        for deep, told in ((limit + 0.05, True), (limit - 0.05, False)):
            under = {**CAVITY, "id": "under", "name": "Under", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -84, "length_mm": 40, "width_mm": 20, "corner_radius_mm": 5}, "depth_mm": deep}
            route = changed(route_named("siskin_body"), {"do": "put_item", "list": "features", "item": under}, TURN)
            found = [f for f in proof_of(route).findings if f.code == "feature.break_through"]
            with self.subTest(deep=deep):
                self.assertEqual(bool(found), told)
                for cure in found[0].cures if found else []:
                    after = proof_of(changed(route, *cure.edits))
                    self.assertNotIn("feature.break_through", codes(after), cure.label)

    def test_index_holes_are_symmetrical_first_and_there(self):
        holes = turned().feature("index_holes").points
        for off, told in ((0.011, True), (0.009, False)):  # one hole off the line by this: turned over it is the other that stands beside its pin
            moved = [[holes[0][0], off], list(holes[1])]
            proof = proof_of(turned(put("piece.features.index_holes.points", moved)))
            self.assertEqual("turn.not_symmetrical" in codes(proof), told, off)
            for f in proof.findings:
                if f.code == "turn.not_symmetrical":
                    self.assertNotIn("turn.not_symmetrical", codes(proof_of(turned(put("piece.features.index_holes.points", moved), *f.cures[0].edits))))
        pairs = [[holes[0][0], 30.0], [holes[0][0], -30.0]]
        self.assertNotIn("turn.not_symmetrical", codes(proof_of(turned(put("piece.features.index_holes.points", pairs)))))
        for about in ("length", "width"):
            route = changed(fitted_route(), {"do": "turn_over", "about": about})
            beds = []
            for setup in route.setups:  # by hand: from the blank's corner, which after the turn is another one
                blank, at = route.blank, setup.blank_at_mm
                for x, y in route.feature("index_holes").points:
                    from_left, from_low = x - blank.x_mm, y - blank.y_mm
                    if setup.face.value == "back":
                        from_left, from_low = (from_left, blank.width_mm - from_low) if about == "length" else (blank.length_mm - from_left, from_low)
                    beds.append((round(at[0] + from_left, 3), round(at[1] + from_low, 3)))
            self.assertEqual(sorted(beds[:2]), sorted(beds[2:]))
        x, y = turned().setups[1].blank_at_mm
        for by, told in ((0.011, True), (0.009, False)):
            proof = proof_of(turned(put("setups.back.blank_at_mm", [x, y + by])))
            self.assertEqual("turn.pins_off" in codes(proof), told, by)
        late = turned({"do": "move_operation", "operation": "drill_index_holes", "to": 5})
        found = next(f for f in proof_of(late).findings if f.code == "turn.datum_late")
        self.assertNotIn("turn.datum_late", codes(proof_of(changed(late, *found.cures[0].edits))))
        self.assertIn("turn.no_datum", codes(proof_of(turned(put("setups.back.datum", None)))))

    def test_a_setup_is_taken_away_again_and_orders_that_cannot_be_are_refused(self):
        back = changed(turned(), {"do": "remove_setup"})
        self.assertEqual([s.id for s in back.setups], ["front"])
        self.assertFalse([o for o in back.operations if o.setup == "back"])
        self.assertRaisesRegex(InputError, "needs one setup", changed, back, {"do": "remove_setup"})
        self.assertRaisesRegex(InputError, "at most three times", changed, route_named("siskin_body"), TURN, TURN, TURN, TURN)
        again = changed(turned(), {"do": "move_operation", "operation": "profile_outline", "to": 0})  # a setup's operations stay together
        self.assertEqual([o.setup for o in again.operations], ["front"] * 12 + ["back"] * 2)
        self.assertRaisesRegex(InputError, "in the order of their setups", changed, turned(), put("operations.face.setup", "back"))

    def test_a_back_feature_finds_the_setup_that_turns_it_up(self):
        more = {**CAVITY, "id": "more", "name": "More", "shape": {"kind": "rectangle", "x_mm": 120, "y_mm": -90, "length_mm": 40, "width_mm": 30, "corner_radius_mm": 5}, "depth_mm": 20}
        route = turned({"do": "put_item", "list": "features", "item": more}, {"do": "propose_for", "feature": "more"})
        op = next(o for o in route.operations if "more" in o.features)
        self.assertEqual(op.setup, "back")
        self.assertEqual([f.reason for f in proof_of(route).findings], [])
        one_face = changed(fitted_route(), {"do": "put_item", "list": "features", "item": more})
        self.assertRaisesRegex(InputError, "Turn the piece over first", changed, one_face, {"do": "propose_for", "feature": "more"})

    def test_the_packed_view_shows_each_setup_as_it_lies_with_its_underside(self):
        proof = proof_of(turned())
        data = encode_view(*proof.simulations)
        header, fields, end = decode_view(data)
        self.assertEqual(end, len(data))
        self.assertEqual([(s["face"], s["first_step"]) for s in header["setups"]], [("front", 0), ("back", 13)])
        second = proof.simulations[1]
        small = (slice(1, None, 2), slice(1, None, 2))
        wood = np.where(second.result <= second.bottom, header["z_offset_mm"], np.maximum(second.result, header["z_offset_mm"]))[small][: header["ny"], : header["nx"]]
        self.assertLess(np.abs(fields[-1] - wood).max(), 0.006)
        under = np.maximum(second.bottom, header["z_offset_mm"])[small][: header["ny"], : header["nx"]]
        flat = ndimage.maximum_filter(under, 3) - ndimage.minimum_filter(under, 3) < 0.01
        self.assertLess(np.abs(header["setups"][1]["field"] - under)[flat].max(), 0.006)


class Named(unittest.TestCase):
    def test_a_piece_with_index_holes_of_its_own_is_turned_over_on_others(self):
        neck = route_named("siskin_neck_face")
        self.assertIn("index_holes", {f.id for f in neck.features})
        turned = changed(neck, {"do": "turn_over"})
        self.assertEqual(turned.setup("back").datum, "index_holes_2")
        self.assertEqual([f.points for f in turned.features if f.id == "index_holes"], [f.points for f in neck.features if f.id == "index_holes"])
