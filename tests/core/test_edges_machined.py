"""Edges by the machine: the form they leave, where they stop, who may make them, tabs that still hold."""

import math
import unittest

import numpy as np
import shapely

from birch_route.core.bits.model import Bit, profile_height
from birch_route.core.clearing.leads import blended
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import InputError
from birch_route.core.heights.field import Grid, Wood, cut_path
from birch_route.core.heights.raster import mask_of
from birch_route.core.motion.toolpath import PathBuilder
from birch_route.core.operations.edging import fits_edge
from birch_route.core.vocabulary import MoveKind
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import body_route
from birch_route.demo.shop import MORE_BITS
from tests.support import changed, codes, proof_of, put

ROUND5 = next(b for b in MORE_BITS if b["id"] == "round5")
V90 = {"id": "v90", "name": "90 degree V", "form": "v", "diameter_mm": 16, "included_angle_deg": 90, "tip_diameter_mm": 0.2, "flutes": 2, "cutting_length_mm": 12, "shank_diameter_mm": 8, "stickout_mm": 40}
ROUND = {"do": "put_item", "list": "edges", "item": {"id": "front_edge", "feature": "outline", "kind": "round", "size_mm": 5.0}}
BEVEL = {"do": "put_item", "list": "edges", "item": {"id": "front_edge", "feature": "outline", "kind": "bevel", "size_mm": 3.0, "angle_deg": 45.0}}
BITS = [{"do": "put_item", "list": "bits", "item": b} for b in (ROUND5, V90)]
MACHINE = {"do": "machine_edge", "edge": "front_edge"}
BENCH = {**MACHINE, "by_machine": False}


def worked(edge=ROUND, *edits):
    return changed(body_route(), *BITS, edge, MACHINE, *edits)


class Form(unittest.TestCase):
    def test_the_bit_sinks_in_as_its_profile_says(self):
        bit = Bit.model_validate(ROUND5)
        for r, height in ((0.0, 0.0), (3.0, 0.0), (3.0 + 5 - 5 * math.cos(math.radians(30)), 2.5), (8.0, 5.0)):
            self.assertAlmostEqual(profile_height(bit, r), height, places=6)
        wood = Wood.block(Grid.over(0, 0, 40, 30, 0.1), 0.0, -20.0)
        path = PathBuilder(8, 15, 5)
        path.to(8, 15, -5, MoveKind.PLUNGE, 100)
        path.to(30, 15, -5, MoveKind.CUT, 100)
        cut_path(wood, path.done(), bit, 20, 0.0)
        for y in np.arange(15.05, 24, 0.1):
            j, i = wood.grid.cell_of(20.05, y)
            self.assertAlmostEqual(float(wood.top[j, i]), min(0.0, -5 + profile_height(bit, abs(wood.grid.y_centres()[j] - 15))) if abs(y - 15) < 8 else 0.0, places=4)

    def test_a_slope_cuts_no_less_than_dense_stamping(self):
        bit = Bit.model_validate(ROUND5)
        swept, stamped = (Wood.block(Grid.over(0, 0, 40, 24, 0.25), 0.0, -20.0) for _ in range(2))
        path = PathBuilder(10, 12, 0)
        path.to(30, 13, -6, MoveKind.ENTRY, 100)
        cut_path(swept, path.done(), bit, 20, 0.0)
        x, y = np.meshgrid(swept.grid.x_centres(), swept.grid.y_centres())
        for t in np.linspace(0, 1, 400):
            away = np.hypot(x - (10 + 20 * t), y - (12 + t))
            over = np.clip(away - 3, 0, 5)
            stamped.top[:] = np.where(away <= 8, np.minimum(stamped.top, -6 * t + np.sqrt(25 - (5 - over) ** 2)), stamped.top)
        self.assertLess(np.abs(swept.top - stamped.top).max(), 0.12)

    def test_which_bits_make_which_edge(self):
        route = worked()
        rim = proof_of(route).simulation.resolved.rims["front_edge"]
        self.assertEqual([b.id for b in route.bits if fits_edge(b, rim)], ["round5"])
        rim = proof_of(worked(BEVEL)).simulation.resolved.rims["front_edge"]
        self.assertEqual([b.id for b in route.bits if fits_edge(b, rim)], ["v90"])


class Cut(unittest.TestCase):
    def heights(self, proof, depth):
        """Return (distance from the rim, how far the wood lies below the face) where the rim is worked, well away from what stays sharp."""
        sim = proof.simulation
        rim = sim.resolved.rims["front_edge"]
        far = shapely.union_all([shapely.Point(line[k]).buffer(25) for line in rim.lines for k in (0, -1)])
        near = shapely.union_all([shapely.LineString(line).buffer(depth + 1) for line in rim.lines]).difference(far)
        cells = np.argwhere(mask_of(near.intersection(sim.resolved.outline), sim.grid))
        x, y = sim.grid.x_centres()[cells[:, 1]], sim.grid.y_centres()[cells[:, 0]]
        away = shapely.distance(sim.resolved.outline.exterior, shapely.points(x, y))
        return away, -sim.result[cells[:, 0], cells[:, 1]]

    def test_a_rounded_rim_is_a_quarter_circle(self):
        proof = proof_of(worked())
        self.assertEqual(codes(proof), codes(proof_of(body_route())))
        away, down = self.heights(proof, 5.0)
        near = (away > 0.4) & (away < 5.0)
        self.assertGreater(near.sum(), 5000)
        exact = 5 - np.sqrt(25 - (5 - away[near]) ** 2)
        self.assertLess(np.percentile(np.abs(down[near] - exact), 99.5), 0.02)
        self.assertLess(np.abs(down[(away > 5.05)]).max(), 0.01)

    def test_a_bevelled_rim_is_straight(self):
        proof = proof_of(worked(BEVEL))
        self.assertEqual(codes(proof), codes(proof_of(body_route())))
        away, down = self.heights(proof, 3.0)
        near = (away > 0.3) & (away < 2.9)
        self.assertLess(np.percentile(np.abs(down[near] - (3 - away[near])), 99.5), 0.02)

    def test_what_stays_sharp_is_not_touched(self):
        proof = proof_of(worked())
        sim = proof.simulation
        neck = sim.resolved.solid("neck_pocket")
        beside = sim.resolved.outline.exterior.buffer(4).intersection(neck.region.buffer(1.5)).difference(neck.region.buffer(0.4)).intersection(sim.resolved.outline)
        cells = mask_of(beside, sim.grid)
        self.assertGreater(cells.sum(), 5)
        self.assertGreater(float(sim.result[cells].min()), -0.01)


class WhoMakesIt(unittest.TestCase):
    def test_given_to_the_machine_and_back_again(self):
        route = worked()
        names = [o.id for o in route.operations]
        self.assertEqual(names.index("edge_front_edge") + 1, names.index("profile_outline"))
        back = changed(route, BENCH)
        self.assertNotIn("edge_front_edge", [o.id for o in back.operations])
        self.assertFalse(proof_of(back).simulation.resolved.rims)
        gone = changed(route, {"do": "remove_item", "list": "edges", "id": "front_edge"})
        self.assertNotIn("edge_front_edge", [o.id for o in gone.operations])

    def test_refused_with_words(self):
        for edits, words in (([ROUND, MACHINE], "No bit of the rack rounds over 5"), ([*BITS, {**ROUND, "item": {**ROUND["item"], "face": "back"}}, MACHINE], "no setup turns up"),
                             ([MACHINE], "has no edge front_edge"), ([{**ROUND, "item": {**ROUND["item"], "kind": "sharp"}}, MACHINE], "sharp edge needs no bit")):
            with self.subTest(words), self.assertRaisesRegex(InputError, words):
                changed(body_route(), *edits)

    def test_a_bit_of_another_form_is_found_and_cured(self):
        route = worked(ROUND, put("operations.edge_front_edge.bit", "v90"))
        found = next(f for f in proof_of(route).findings if f.code == "edge.bit_form")
        self.assertEqual(found.severity.value, "stop")
        self.assertTrue(found.facts)
        self.assertNotIn("edge.bit_form", codes(proof_of(apply_edits(route, [read_edit(e) for e in found.cures[0].edits]))))

    def test_an_edge_that_nothing_makes_is_found_and_cured(self):
        route = changed(worked(), {"do": "remove_operation", "operation": "edge_front_edge"})
        found = next(f for f in proof_of(route).findings if f.code == "edge.not_made")
        for cure in found.cures:
            self.assertNotIn("edge.not_made", codes(proof_of(apply_edits(route, [read_edit(e) for e in cure.edits]))))


class OnBothFaces(unittest.TestCase):
    def test_the_fitted_body_is_clean_and_its_tabs_stand_above_the_rounding_below(self):
        route = fitted_route(True)
        self.assertEqual({"edge_edge_1", "edge_edge_2"} - {o.id for o in route.operations}, set())
        self.assertEqual([f.code for f in proof_of(route).findings if f.severity.value != "note"], [])
        self.assertEqual({t.height_mm for t in route.operation("profile_outline").tabs}, {8.0})
        low = changed(route, put("operations.profile_outline.tabs.each.height_mm", 3.0))
        self.assertIn("piece.freed", codes(proof_of(low)))


class Ways(unittest.TestCase):
    def test_a_way_whose_straight_part_is_blocked_keeps_no_arcs(self):
        """Only one of the two arcs fits: what joins it to the other end must be looked at too."""
        way = np.array([[0.0, 0.0], [40.0, 0.0]])
        open_line = blended(way, (np.array([0.0, 1.0]), -1), None, 10.0, lambda line: True)
        self.assertGreater(len(open_line), 2)
        narrow = blended(way, (np.array([0.0, 1.0]), -1), None, 10.0, lambda line: float(np.abs(np.diff(line[:, 0])).max()) < 10)
        np.testing.assert_array_equal(narrow, way)
