"""Contours as they start, what they leave of the edge, and wire holes that are kept."""

import math
import unittest

import numpy as np
import shapely

from birch_route.core.data import figures
from birch_route.core.errors import InfeasibleError, InputError
from birch_route.core.instrument.contours import contours_read
from birch_route.core.instrument.resolve import resolve
from birch_route.core.instrument.wires import hole_between
from birch_route.core.quantities import Unit, say
from tests.core.test_bevels import BALL
from tests.support import changed, put, route_named

BODY = "siskin_body"


def begun(*kinds, route=None):
    return changed(route or route_named(BODY), *({"do": "add_contour", "contour": kind} for kind in kinds))


class Begun(unittest.TestCase):
    def test_each_lies_where_it_usually_lies(self):
        """Places from the outline's own points, the way round walked here."""
        route = begun("arm", "belly", "heel")
        ring = shapely.geometry.polygon.orient(resolve(route).outline).exterior
        where = lambda part: ring.interpolate(part, normalized=True)  # noqa: E731
        feature = {f.id: f for f in route.piece.features}
        usual = figures()["contours"]
        x0, x1 = ring.bounds[0], ring.bounds[2]
        for kind, face in (("arm", "front"), ("belly", "back")):
            one = feature[kind]
            self.assertEqual(one.face.value, face)
            for part, at in ((usual[kind]["from_part"], one.start), (usual[kind]["to_part"], one.end)):
                self.assertLess(where(at).y, 0)  # on the bass side
                self.assertAlmostEqual(where(at).x, x0 + part * (x1 - x0), delta=20)  # the rim's nearest point
        heel = feature["heel"]
        far, near = where(heel.start), where(heel.end)
        self.assertEqual(heel.face.value, "back")
        self.assertGreater(far.y, near.y)
        self.assertGreater(near.y, 0)  # on the treble side
        long = (heel.end - heel.start) % 1.0 * ring.length
        self.assertAlmostEqual(long, usual["heel"]["to_mm"] - usual["heel"]["from_mm"], delta=0.2)

    def test_the_second_channel_is_for_purfling_and_there_is_one_carve(self):
        route = begun("channel", "channel", "carve")
        channels = [f for f in route.piece.features if f.kind == "channel"]
        self.assertEqual([c.name for c in channels], ["Binding channel", "Purfling channel"])
        self.assertAlmostEqual(channels[1].width_mm - channels[0].width_mm, figures()["contours"]["purfling_mm"][0])
        self.assertRaises(InputError, begun, "carve", route=route)

    def test_it_is_cut_where_the_rack_has_a_ball(self):
        bare = {f for o in begun("arm").operations for f in o.features}
        self.assertNotIn("arm", bare)
        with_ball = changed(route_named(BODY), {"do": "put_item", "list": "bits", "item": BALL})
        kinds = [o.kind.value for o in begun("arm", route=with_ball).operations if "arm" in o.features]
        self.assertIn("surface_finish", kinds)


class Edge(unittest.TestCase):
    def test_both_faces_count_and_the_core_comes_to_light(self):
        thick = route_named(BODY).blank.piece_mm
        route = begun("arm")
        arm = next(f for f in route.piece.features if f.id == "arm")
        stations = [s.model_copy(update={"drop_mm": 11.0}) for s in arm.stations]
        put_ = [put("piece.features.arm.stations", [s.model_dump() for s in stations])]
        route = changed(route, *put_)
        back = {**arm.model_dump(mode="json"), "id": "under", "name": "Under it", "face": "back",
                "stations": [{"at": 0, "width_mm": 40, "drop_mm": 7}, {"at": 1, "width_mm": 40, "drop_mm": 7}]}
        both = changed(route, {"do": "put_item", "list": "features", "item": back})
        read = {c.id: c for c in contours_read(both, resolve(both))}
        middle = read["arm"].stations[1]
        self.assertAlmostEqual(middle.edge_left_mm, thick - 11 - 7, delta=0.05)
        self.assertEqual(middle.shows, ())
        for deep, shows in ((10.9, ("Alder",)), (11.1, ())):  # the cap just thinner than the drop, and just thicker
            layers = [{"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": deep},
                      {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": both.blank.thickness_mm - deep}]
            capped = changed(both, put("blank.skim_mm", 0.0), put("blank.layers", layers))
            read = {c.id: c for c in contours_read(capped, resolve(capped))}
            self.assertEqual(tuple(w.split(",")[0] for w in read["arm"].stations[1].shows), shows)
            self.assertEqual(read["under"].stations[1].shows, ())


class WireHole(unittest.TestCase):
    def drawn(self, apart_mm=90.0):
        cavity = {"do": "draw", "what": "pocket", "y_mm": 40, "length_mm": 60, "width_mm": 30, "corner_mm": 6}
        bare = route_named(BODY)
        bare = changed(bare, *({"do": "remove_item", "list": "features", "id": i}
                               for i in ("pickup_pocket", "plate_rebate", "control_cavity")))
        far = {**cavity, "x_mm": 200 + apart_mm, "depth_mm": 34}
        return changed(bare, {**cavity, "x_mm": 200, "depth_mm": 30}, far)

    def test_its_lengths_are_those_of_the_drawing(self):
        joined = hole_between(self.drawn(), "pocket", "pocket_2")
        hole = joined.hole
        for value, wanted in ((hole.first_length_mm, 60), (hole.wall_mm, 30), (hole.second_length_mm, 60),
                              (hole.first_depth_mm, 30), (hole.second_depth_mm, 34), (hole.thickness_mm, 45)):
            self.assertAlmostEqual(value, wanted, places=6)
        back = hole_between(self.drawn(), "pocket_2", "pocket").hole
        self.assertAlmostEqual(back.wall_mm, 30, places=6)
        self.assertAlmostEqual(back.first_depth_mm, 34, places=6)

    def test_cavities_that_meet_are_refused_and_those_that_nearly_do_are_not(self):
        self.assertRaises(InputError, hole_between, self.drawn(60.4), "pocket", "pocket_2")
        hole_between(self.drawn(60.6), "pocket", "pocket_2")
        self.assertRaises(InputError, hole_between, self.drawn(), "pocket", "pocket")
        self.assertRaises(InputError, hole_between, self.drawn(), "pocket", "outline")

    def test_it_is_kept_with_its_wedge_and_kept_again_as_it_is_now(self):
        route = self.drawn()
        kept = changed(route, {"do": "keep_wire_hole", "first": "pocket", "second": "pocket_2"})
        step = next(s for s in kept.bench_steps if s.id == "wire_pocket_pocket_2")
        joined = hole_between(route, "pocket", "pocket_2")
        rise = figures()["drawn"]["wedge_mm"] * math.tan(math.radians(joined.middle_deg))
        self.assertIn(f"{rise:.1f} rise on 100", say(step.note, Unit.MM))
        self.assertEqual(step.after, "pocket_pocket_2")
        again = changed(kept, {"do": "keep_wire_hole", "first": "pocket", "second": "pocket_2", "drill_mm": 4})
        steps = [s for s in again.bench_steps if s.id == step.id]
        self.assertEqual(len(steps), 1)
        self.assertNotEqual(steps[0].note, step.note)

    def test_where_no_angle_works_it_is_not_kept(self):
        far = {"do": "keep_wire_hole", "first": "pocket", "second": "pocket_2", "drill_mm": 19}
        self.assertRaises(InfeasibleError, changed, self.drawn(120), far)


class Beside(unittest.TestCase):
    def test_a_copy_stands_past_its_own_end_and_rows_start_two_diameters_apart(self):
        drawn = changed(route_named(BODY), {"do": "draw", "what": "hole", "x_mm": 320, "y_mm": 60, "diameter_mm": 6,
                                            "depth_mm": 8})
        copied = changed(drawn, {"do": "place_feature", "feature": "hole", "copied": True, "beside": True})
        xs = [next(f for f in copied.piece.features if f.id == i).points[0][0] for i in ("hole", "hole_2")]
        self.assertAlmostEqual(xs[1] - xs[0], 6 + figures()["drawn"]["copy_gap_mm"], places=3)
        laid = changed(drawn, {"do": "lay_holes", "feature": "hole", "along": 3})
        points = np.array(next(f for f in laid.piece.features if f.id == "hole").points)
        self.assertTrue(np.allclose(np.diff(points[:, 0]), 12))


if __name__ == "__main__":
    unittest.main()
