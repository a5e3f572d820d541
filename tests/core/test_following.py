"""Chambers whose floor keeps away from what is cut from the other face."""

import unittest

import numpy as np
import shapely

from birch_route.core.errors import InputError
from birch_route.core.instrument.balance import balance
from birch_route.core.instrument.chambers import propose_chambers
from birch_route.core.instrument.clearances import clearances
from birch_route.core.instrument.floors import FollowingFloor
from birch_route.core.instrument.resolve import resolve
from birch_route.core.vocabulary import Face
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of


def chamber(**more):
    return {
        "do": "put_item",
        "list": "features",
        "item": {
            "kind": "pocket",
            "id": "relief",
            "name": "Relief",
            "depth_mm": 40,
            "least_floor_mm": 5,
            "shape": {
                "kind": "rectangle",
                "x_mm": 205,
                "y_mm": -91,
                "length_mm": 60,
                "width_mm": 62,
                "corner_radius_mm": 8,
            },
            **more,
        },
    }


def over_belly(**more):
    """A chamber of the front face over the belly bevel of the back."""
    return changed(fitted_route(True), chamber(follows_mm=5, **more), {"do": "propose_for", "feature": "relief"})


class Floor(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = over_belly()
        cls.resolved = resolve(cls.route)
        cls.solid = cls.resolved.solid("relief")
        cls.proof = proof_of(cls.route)

    def test_it_stays_where_the_other_face_asks_for_it(self):
        floor, belly = self.solid.surface, self.resolved.solid("belly").surface
        self.assertIsInstance(floor, FollowingFloor)
        x, y = np.meshgrid(np.arange(180, 230, 3.3), np.arange(-130, -70, 3.3))
        want = np.minimum(40.0, self.resolved.thickness_mm - 5.0 - belly.depth(x, y))
        inside = shapely.contains_xy(self.solid.region, x, y)
        np.testing.assert_allclose(floor.depth(x, y)[inside], want[inside], atol=1e-9)
        self.assertLess(want[inside].min(), 38.0)
        self.assertEqual(floor.depth(np.array([0.0]), np.array([0.0]))[0], 0.0)

    def test_turned_over_it_is_the_same_floor(self):
        floor, x, y = self.solid.surface, np.array([190.0, 215.0, 228.0]), np.array([-120.0, -101.0, -80.0])
        for signs in ((1.0, -1.0), (-1.0, 1.0)):
            np.testing.assert_allclose(floor.turned(signs).depth(signs[0] * x, signs[1] * y), floor.depth(x, y), atol=1e-3)

    def test_after_both_faces_no_wood_is_thinner_than_asked_and_little_is_thicker(self):
        self.assertEqual(codes(self.proof), set())
        front = [o.id for o in self.route.operations if o.setup == self.route.setups[0].id]
        self.assertEqual((front[-1], next(s.after for s in self.route.bench_steps if s.id == "turn_back")), ("pocket_relief", "pocket_relief"))  # turned over after it
        last = self.proof.simulations[-1]
        top, bottom = last.frame.fields(last.result, last.bottom)
        grid = last.frame.grid(last.grid)
        part, at = grid.window(*self.solid.region.buffer(-5.0).bounds)
        inner = shapely.contains_xy(self.solid.region.buffer(-5.0), *np.meshgrid(part.x_centres(), part.y_centres()))
        left = (top - bottom)[at][inner]
        self.assertGreater(left.min(), 5.0 - 0.03)
        slope = self.resolved.solid("belly").surface.steepest
        self.assertLess(left.max(), 5.0 + slope * 4.8 + 0.3)  # the bit is 8 wide and stands level; 0.3 may stay where nobody sees it

    def test_the_tables_agree(self):
        row = next(c for c in clearances(self.resolved, self.resolved.thickness_mm) if c.feature == "relief")
        self.assertAlmostEqual(row.floor_mm, 5.0, delta=0.02)
        self.assertNotIn("Belly bevel", row.meets)
        weight = next(s for s in balance(self.resolved, self.resolved.thickness_mm, 700.0).shares if s.feature == "relief")
        _, _, deep = self.solid.surface.samples(self.solid.region, 1.0)
        self.assertAlmostEqual(weight.volume_mm3 / float(deep.sum()), 1.0, delta=0.01)

    def test_a_level_floor_there_is_found_and_the_cure_mends_it(self):
        level = changed(fitted_route(True), chamber(), {"do": "propose_for", "feature": "relief"})
        found = next(f for f in proof_of(level).findings if f.feature == "relief" and f.code in ("feature.floor_thin", "feature.break_through"))
        cure = next(c for c in found.cures if "stay" in c.label)
        self.assertNotIn(found.code, codes(proof_of(changed(level, *cure.edits))))

    def test_finish_on_its_walls_and_the_other_corners(self):
        """A shown one is run along its wall with the tip on the floor, and nothing goes deeper."""
        sim = proof_of(over_belly(finish_class="glued")).simulation
        part, at = sim.grid.window(*self.solid.region.buffer(-0.5).bounds)
        x, y = np.meshgrid(part.x_centres(), part.y_centres())
        inner = shapely.contains_xy(self.solid.region.buffer(-0.5), x, y)
        self.assertGreater((sim.result[at] + self.solid.surface.plane(x, y))[inner].min(), -0.01)


class OverFloors(unittest.TestCase):
    def test_over_a_pocket_of_the_other_face_it_stays_level(self):
        """Beside its walls and under its floor as much wood stays as is kept."""
        item = chamber(follows_mm=6)
        item["item"]["shape"] = {"kind": "rectangle", "x_mm": 168, "y_mm": 82, "length_mm": 90, "width_mm": 80, "corner_radius_mm": 8}
        route = changed(fitted_route(True), {"do": "remove_item", "list": "placements", "id": "switch_1"}, {"do": "remove_item", "list": "features", "id": "switch_cavity"}, item, {"do": "propose"})
        resolved = resolve(route)
        solid, cover = resolved.solid("relief"), resolved.solid("cover_rebate")
        floor = solid.surface
        self.assertAlmostEqual(float(floor.depth(np.array([168.0]), np.array([82.0]))[0]), resolved.thickness_mm - 6 - 2.2, places=6)
        self.assertAlmostEqual(float(floor.depth(np.array([205.0]), np.array([82.0]))[0]), min(40.0, resolved.thickness_mm - 6), places=6)
        proof = proof_of(route)
        self.assertNotIn("feature.gouged", codes(proof))
        last = proof.simulations[-1]
        top, bottom = last.frame.fields(last.result, last.bottom)
        part, at = last.frame.grid(last.grid).window(*cover.region.buffer(-1).bounds)
        left = (top - bottom)[at]
        screws = shapely.union_all([s.region for s in resolved.solids.values() if s.kind == "hole"]).buffer(6.5)
        clear = ~shapely.contains_xy(screws, *np.meshgrid(part.x_centres(), part.y_centres()))
        self.assertGreater(left[clear].min(), 5.95)

    def test_no_room_is_refused_and_so_is_a_tilt(self):
        for more in ({"follows_mm": 44}, {"follows_mm": 5, "tilt_deg": 1.0}, {"follows_mm": 5, "depth_mm": None}):
            with self.assertRaises(InputError):
                resolve(changed(fitted_route(True), chamber(**more)))

    def test_other_ways_of_clearing_are_refused(self):
        route = over_belly()
        for edit in ({"do": "choose_clearing", "operation": "pocket_relief", "clearing": "engaged"}, {"do": "choose_rest", "operation": "pocket_relief", "first": "flat12"}):
            with self.assertRaises(InputError):
                changed(route, edit)

    def test_chambers_are_proposed_that_follow(self):
        route = fitted_route(True)
        proposed = propose_chambers(route, resolve(route), Face.FRONT)
        follows = [c for c in proposed if c.follows]
        self.assertTrue(follows)
        drawn = changed(route, {"do": "add_chambers", "face": "front", "number": 1 + proposed.index(follows[0])})
        added = next(f for f in drawn.piece.features if f.id.startswith("chamber"))
        self.assertEqual(added.follows_mm, follows[0].floor_mm)
        solid = resolve(drawn).solid(added.id)
        _, _, deep = solid.surface.samples(solid.region, 1.0)
        self.assertGreater(deep.max() - deep.min(), 1.0)


if __name__ == "__main__":
    unittest.main()
