"""What is drawn by its sizes, where it stands, what it is placed from and what it comes near."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import InputError
from birch_route.core.instrument.drawn import Grid, grid_of, rounded_chain
from birch_route.core.instrument.marking_out import places_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.plane.curves import Oval, flatten
from birch_route.core.plane.regions import region_from
from birch_route.core.route import read_route
from tests.support import changed, codes, proof_of, put, route_named

SIZES = {
    "hole": {"diameter_mm": 10.0},
    "row": {"diameter_mm": 3.0, "along": 3, "apart_mm": 12.0},
    "pocket": {"length_mm": 40.0, "width_mm": 24.0, "corner_mm": 6.0},
    "slot": {"length_mm": 40.0, "width_mm": 10.0},
    "oval": {"length_mm": 40.0, "width_mm": 24.0},
}
FREE = {"x_mm": 320.0, "y_mm": 75.0}


def drawn(what="pocket", *edits, name="siskin_body", **more):
    """The plain body with one shape drawn where nothing else is."""
    one = {"do": "draw", "what": what, "depth_mm": 12.0, **FREE, **SIZES[what], **more}
    return changed(route_named(name), one, *edits)


def middle(route, feature):
    return resolve(route).solid(feature).region.centroid


class Draw(unittest.TestCase):
    def test_every_kind_is_drawn_cut_and_accused_of_nothing(self):
        area = {
            "hole": math.pi * 25, "row": 3 * math.pi * 2.25, "pocket": 40 * 24 - (4 - math.pi) * 36,
            "slot": 30 * 10 + math.pi * 25, "oval": math.pi * 20 * 12,
        }
        for what, size in area.items():
            with self.subTest(what):
                route = drawn(what)
                solid = resolve(route).solid(what)
                self.assertAlmostEqual(solid.region.area, size, delta=0.012 * size)
                self.assertTrue(any(what in o.features for o in route.operations))
                if what != "row":  # no bit of that rack makes holes of 3
                    self.assertEqual(codes(proof_of(route)), codes(proof_of(route_named("siskin_body"))))

    def test_names_and_ids_of_more_of_a_kind_differ(self):
        route = drawn("hole", {"do": "draw", "what": "hole", "x_mm": 300, "y_mm": -60, "diameter_mm": 8, "depth_mm": 9})
        self.assertEqual([(f.id, f.name) for f in route.piece.features if f.id.startswith("hole")][-2:],
                         [("hole", "Hole"), ("hole_2", "Hole 2")])

    def test_what_lies_on_a_face_no_setup_turns_up_is_told_with_its_cure(self):
        found = proof_of(drawn("pocket", face="back"))
        self.assertIn("feature.other_face", codes(found))

    def test_sizes_that_are_missing_or_cannot_be_are_named(self):
        bad = (
            ({"what": "hole", "diameter_mm": None}, "across"), ({"what": "pocket", "width_mm": None}, "how wide"),
            ({"what": "slot", "length_mm": 10.0}, "longer than wide"), ({"what": "row", "along": 1}, "at least two"),
            ({"what": "row", "apart_mm": None}, "how far the holes are apart"),
            ({"what": "pocket", "corner_mm": 12.1}, "at most half"),
            ({"what": "row", "along": 101, "across": 2}, "more than 200"),
        )
        for more, words in bad:
            with self.subTest(words):
                self.assertRaisesRegex(InputError, words, drawn, **more)
        self.assertIsNotNone(drawn("pocket", corner_mm=12.0))
        self.assertIsNotNone(drawn("slot", length_mm=10.1))

    def test_a_second_pickup_has_its_own_pocket_as_large_as_it_is_read(self):
        route = changed(
            route_named("siskin_body"), {"do": "add_part", "kind": "pickup", "name": "Neck pickup"},
            {"do": "draw_pickup", "part": "pickup1", "x_mm": 120, "angle_deg": 4},
        )
        self.assertNotIn("pickup1_pocket", resolve(route).solids)  # it waits
        for place, size in (("ring_length", "39.0"), ("ring_width", "71"), ("depth", "18.2")):
            route = changed(route, {"do": "keep_reading", "part": "pickup1", "place": place, "typed": size})
        solid = resolve(route).solid("pickup1_pocket")
        self.assertAlmostEqual(-solid.floor_mm, 18.2 + 1.5)
        self.assertAlmostEqual(solid.region.area, (39 + 1.2) * (71 + 1.2), delta=8)
        self.assertTrue(any("pickup1_pocket" in o.features for o in route.operations))
        with self.assertRaisesRegex(InputError, "Choose a pickup"):
            changed(route, {"do": "draw_pickup", "part": "neck", "x_mm": 120})


class Free(unittest.TestCase):
    POINTS = ((300, 60), (340, 60), (340, 80), (320, 80), (320, 95), (300, 95))

    def test_corners_are_rounded_inward_and_outward(self):
        sharp = rounded_chain(self.POINTS, 0.0)
        self.assertEqual(len(sharp.vertices), 6)
        area = Polygon(flatten(sharp)).area
        self.assertAlmostEqual(area, 40 * 20 + 20 * 15)
        round_ = Polygon(flatten(rounded_chain(self.POINTS, 4.0), 0.001))
        # five corners outward lose, the one inward gains a square less a quarter of a circle
        self.assertAlmostEqual(round_.area, area - 4 * (16 - math.pi * 4), delta=0.05)

    def test_it_is_drawn_and_cut(self):
        route = drawn("hole", {"do": "draw", "what": "free", "x_mm": 0, "y_mm": 0, "depth_mm": 10, "corner_mm": 5,
                               "points": [(290, 70), (330, 70), (340, 100), (290, 100)]})
        self.assertTrue(any("free" in o.features for o in route.operations))
        wrong = {"feature.not_machined", "feature.stock_left", "feature.gouge"}
        self.assertEqual(codes(proof_of(route)) & wrong, set())
        moved = changed(route, {"do": "place_feature", "feature": "free", "dx_mm": -30, "turn_deg": 20})
        self.assertAlmostEqual(resolve(moved).solid("free").region.area, resolve(route).solid("free").region.area, 2)

    def test_what_cannot_be_drawn_says_where(self):
        bad = (
            ([(0, 0), (10, 0)], 0.0, "three points"), ([(0, 0), (10, 0), (10, 0.01), (0, 9)], 0.0, "Point 2 lies on"),
            (self.POINTS, 7.51, "point 4 to point 5, .*too short"),
        )
        for points, corner, words in bad:
            with self.subTest(words):
                self.assertRaisesRegex(InputError, words, rounded_chain, points, corner)
        self.assertIsNotNone(rounded_chain(self.POINTS, 7.5))
        crossing = {"do": "draw", "what": "free", "x_mm": 0, "y_mm": 0, "depth_mm": 10,
                    "points": [(200, 60), (240, 90), (240, 60), (200, 90)]}
        self.assertRaisesRegex(InputError, "crosses itself at x 220.0, y 75.0", drawn, "hole", crossing)


class Place(unittest.TestCase):
    def test_moved_turned_mirrored_and_copied_by_hand(self):
        route = drawn("pocket")
        moved = changed(route, {"do": "place_feature", "feature": "pocket", "dx_mm": 5, "dy_mm": -7})
        self.assertAlmostEqual(middle(moved, "pocket").x, 325)
        self.assertAlmostEqual(middle(moved, "pocket").y, 68)
        turned = changed(route, {"do": "place_feature", "feature": "pocket", "turn_deg": 90})
        x0, y0, x1, y1 = resolve(turned).solid("pocket").region.bounds
        self.assertAlmostEqual(x1 - x0, 24, delta=0.02)
        self.assertAlmostEqual(y1 - y0, 40, delta=0.02)
        other = changed(route, {"do": "place_feature", "feature": "pocket", "mirror": True, "copied": True})
        self.assertAlmostEqual(middle(other, "pocket_2").y, -75)
        self.assertAlmostEqual(middle(other, "pocket").y, 75)
        self.assertTrue(any("pocket_2" in o.features for o in other.operations))
        with self.assertRaisesRegex(InputError, "somewhere else"):
            changed(route, {"do": "place_feature", "feature": "pocket", "copied": True})

    def test_what_follows_something_or_is_locked_says_why_it_stays(self):
        locked = drawn("pocket", put("piece.features.pocket.locked", True))
        cases = (
            (locked, "pocket", "unlock it"), (locked, "neck_pocket", "heel of the neck"),
            (locked, "bridge_recess", "saddle line"), (locked, "outline", "follows the outline"),
        )
        for route, feature, words in cases:
            with self.subTest(feature):
                if any(f.id == feature for f in route.piece.features):
                    self.assertRaisesRegex(
                        InputError, words, changed, route, {"do": "place_feature", "feature": feature, "dx_mm": 1}
                    )
        copy = changed(locked, {"do": "place_feature", "feature": "pocket", "copied": True, "dx_mm": -50})
        self.assertFalse(next(f for f in copy.piece.features if f.id == "pocket_2").locked)

    def test_holes_that_setups_are_found_by_stay(self):
        route = changed(route_named("siskin_body"), {"do": "turn_over"})
        datum = route.setups[-1].datum
        self.assertIn("find the piece again", places_of(route, datum).fixed)
        move = {"do": "place_feature", "feature": datum, "dx_mm": 1}
        lay = {"do": "lay_holes", "feature": datum, "along": 2, "apart_mm": 400}
        for edit in (move, lay):
            self.assertRaisesRegex(InputError, "find the piece again", changed, route, edit)

    def test_holes_are_laid_in_rows_about_their_middle(self):
        rows = {"along": 4, "across": 2, "apart_mm": 10, "rows_mm": 8}
        route = drawn("row", {"do": "lay_holes", "feature": "row", **rows})
        points = np.asarray(next(f for f in route.piece.features if f.id == "row").points)
        self.assertEqual(len(points), 8)
        np.testing.assert_allclose(points.mean(axis=0), [320, 75], atol=1e-6)
        self.assertAlmostEqual(np.ptp(points[:, 0]), 30)
        self.assertAlmostEqual(np.ptp(points[:, 1]), 8)

    @given(st.integers(1, 6), st.integers(1, 4), st.floats(2, 30), st.floats(2, 30), st.floats(-170, 170))
    @settings(max_examples=60, deadline=None)
    def test_rows_are_known_again_from_their_places(self, along, across, apart, rows, angle):
        points = Grid(along, across, apart, rows, angle).points(50.0, -20.0)
        found = grid_of(points)
        self.assertIsNotNone(found)
        np.testing.assert_allclose(found.points(50.0, -20.0), points, atol=0.01)

    def test_holes_in_no_rows_have_none(self):
        self.assertIsNone(grid_of([(0, 0), (10, 0), (25, 3)]))

    def test_two_thousand_drags_and_as_many_undone_leave_equal_bytes(self):
        """A sample; bench/pen.py does them all."""
        from bench.pen import dragged
        self.assertEqual(dragged(seed=3, drags=25), [])


class MarkedOut(unittest.TestCase):
    def test_lines_stand_where_the_piece_has_them(self):
        route = drawn("pocket")
        resolved, places = resolve(route), places_of(route, "pocket")
        lines = {line.id: line for line in places.lines}
        self.assertEqual(lines["centre"].at_mm, 0.0)
        self.assertAlmostEqual(lines["saddle"].at_mm, resolved.saddle_x_mm)
        rim = shapely.LineString([(320, 75), (320, 400)]).intersection(resolved.outline.exterior)
        self.assertAlmostEqual(lines["rim_treble"].at_mm, rim.bounds[1], places=6)
        self.assertTrue(lines["rim_treble"].edge and not lines["rim_treble"].along)
        scale = route.choices.scale_mm
        self.assertAlmostEqual(lines["fret12"].at_mm - lines["nut"].at_mm, scale / 2)
        self.assertEqual((places.x_mm, places.y_mm, places.fixed), (320.0, 75.0, ""))

    def test_what_it_comes_near_is_measured_and_judged_as_the_rules_do(self):
        route = drawn("pocket")
        rim = next(n for n in places_of(route, "pocket").near if n.id == "rim")
        exact = resolve(route).solid("pocket").region.distance(resolve(route).outline.exterior)
        self.assertAlmostEqual(rim.apart_mm, exact)
        self.assertEqual(rim.least_mm, 8.0)
        for off, told in ((rim.apart_mm - 8.05, False), (rim.apart_mm - 7.9, True)):
            there = np.subtract(rim.to, rim.at) / rim.apart_mm * off
            near = changed(
                route, {"do": "place_feature", "feature": "pocket", "dx_mm": float(there[0]), "dy_mm": float(there[1])}
            )
            found = next(n for n in places_of(near, "pocket").near if n.id == "rim")
            self.assertEqual(found.apart_mm < found.least_mm - 0.02, told)
            self.assertEqual("feature.wall_thin" in codes(proof_of(near)), told)

    def test_over_the_rim_nothing_is_left_of_the_wall(self):
        out = next(line.at_mm for line in places_of(drawn("pocket"), "pocket").lines if line.id == "rim_treble")
        over = changed(drawn("pocket"), {"do": "place_feature", "feature": "pocket", "dy_mm": out - 75 - 5})
        rim = next(n for n in places_of(over, "pocket").near if n.id == "rim")
        self.assertEqual(rim.apart_mm, 0.0)

    def test_wood_under_it_is_what_is_left(self):
        thick = route_named("siskin_body").blank.piece_mm
        self.assertAlmostEqual(places_of(drawn("pocket"), "pocket").leaves_mm, thick - 12)
        self.assertIsNone(places_of(drawn("pocket", depth_mm=None), "pocket").leaves_mm)

    def test_a_place_along_the_strings_is_said_as_a_fret(self):
        route = drawn("pocket")
        nut = next(line.at_mm for line in places_of(route, "pocket").lines if line.id == "nut")
        at = nut + route.choices.scale_mm * 0.75
        there = changed(route, {"do": "place_feature", "feature": "pocket", "dx_mm": at - 320})
        found = places_of(there, "pocket").on_scale
        self.assertAlmostEqual(found.part, 0.75)
        self.assertAlmostEqual(found.fret, 24.0)

    def test_no_such_feature_is_named(self):
        self.assertRaisesRegex(InputError, "no feature nothing", places_of, drawn("hole"), "nothing")


class Ovals(unittest.TestCase):
    def test_an_oval_is_within_its_chord_of_the_ellipse_and_moves_with_its_angle(self):
        oval = Oval(x_mm=5, y_mm=-3, length_mm=60, width_mm=18, angle_deg=30)
        points = flatten(oval, 0.01) - [5, -3]
        c, s = math.cos(math.radians(30)), math.sin(math.radians(30))
        x, y = points @ [c, s], points @ [-s, c]
        np.testing.assert_allclose((x / 30) ** 2 + (y / 9) ** 2, 1.0, atol=1e-9)
        region = region_from(oval, "Oval")
        self.assertAlmostEqual(region.area, math.pi * 30 * 9, delta=0.01 * region.length)

    def test_the_other_hand_mirrors_it(self):
        route = changed(drawn("oval", angle_deg=30), {"do": "mirror"})
        shape = next(f for f in route.piece.features if f.id == "oval").shape
        self.assertEqual((shape.y_mm, shape.angle_deg), (-75.0, -30.0))


class Undone(unittest.TestCase):
    def test_there_and_back_is_the_same_document(self):
        route = drawn("pocket")
        there = {"do": "place_feature", "feature": "pocket", "dx_mm": 3.7, "dy_mm": 1.3}
        back = {"do": "place_feature", "feature": "pocket", "dx_mm": -3.7, "dy_mm": -1.3}
        again = apply_edits(route, [read_edit(there), read_edit(back)])
        self.assertEqual(read_route(again.model_dump(mode="json")), again)
        self.assertAlmostEqual(middle(again, "pocket").x, 320.0, places=9)


class OfOnePart(unittest.TestCase):
    def test_what_is_drawn_as_large_as_a_part_may_meet_what_follows_from_its_place(self):
        """A bridge's recess and its own post holes are meant to meet; the posts of another part are not."""
        wide = [{"do": "keep_reading", "part": "bridge", "place": p, "typed": t}
                for p, t in (("post_spacing", "60"), ("post_diameter", "8"))]
        item = {"id": "bridge_9", "part": "bridge", "mount": "saddle"}
        place = {"do": "put_item", "list": "placements", "item": item}
        bare = {"do": "remove_item", "list": "features", "id": "post_holes"}
        route = changed(route_named("siskin_body"), bare, *wide, place)
        self.assertIn("bridge_9_posts", resolve(route).solids)
        self.assertTrue(any("bridge_9_posts" in o.features for o in route.operations))  # cut without being asked
        self.assertNotIn("feature.runs_into", codes(proof_of(route)))

    def test_a_part_over_the_side_is_moved_inward_by_one_press(self):
        sizes = (("plate_thickness", "2"), ("plate_length", "64"), ("plate_width", "51"))
        edits = [{"do": "add_part", "kind": "plate", "name": "Neck plate"}]
        edits += [{"do": "keep_reading", "part": "plate1", "place": p, "typed": t} for p, t in sizes]
        item = {"id": "cover_9", "part": "plate1", "face": "back", "x_mm": 380, "y_mm": 20}
        route = changed(route_named("siskin_body"), *edits, {"do": "put_item", "list": "placements", "item": item})
        found = next(f for f in proof_of(route).findings if f.code == "piece.side_opened")
        cured = apply_edits(route, [read_edit(e) for e in found.cures[0].edits])
        self.assertNotIn("piece.side_opened", codes(proof_of(cured)))

    def test_a_plate_s_own_rebate_stands_off_its_corners_by_its_gap_and_is_not_accused(self):
        sizes = (("plate_thickness", "2"), ("plate_length", "64"), ("plate_width", "51"), ("plate_corner", "6"))
        edits = [{"do": "add_part", "kind": "plate", "name": "Small cover"}]
        edits += [{"do": "keep_reading", "part": "plate1", "place": p, "typed": t} for p, t in sizes]
        item = {"id": "cover_9", "part": "plate1", "x_mm": 210, "y_mm": 75}
        route = changed(route_named("siskin_body"), *edits, {"do": "put_item", "list": "placements", "item": item})
        self.assertTrue(any("cover_9_rebate" in o.features for o in route.operations))
        self.assertNotIn("feature.corner_too_round", codes(proof_of(route)))

    def test_its_middle_is_put_at_a_place_whatever_was_there(self):
        there = {"do": "place_feature", "feature": "pocket", "to_x_mm": 200.5, "to_y_mm": -70.25}
        route = changed(drawn("pocket"), there, there)
        self.assertAlmostEqual(middle(route, "pocket").x, 200.5)
        self.assertAlmostEqual(middle(route, "pocket").y, -70.25)
