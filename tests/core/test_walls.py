"""Walls: splinters by grain and direction, thin ones as springs, and what holds the pieces at the end."""

import math
import unittest

import numpy as np

from birch_route.core.cutting.tear_out import dive_deg, is_climb, rim_risk, wall_risk
from birch_route.core.data import figures, wood
from birch_route.core.instrument.ribs import Rib, gives_mm, ribs, stiffness_n_mm
from birch_route.core.proving.held import held_pieces
from birch_route.core.proving.rules_tear_out import summary
from birch_route.core.proving.walls import stretches, walls_of
from birch_route.core.quantities import say
from birch_route.core.vocabulary import Flute
from birch_route.demo.fitted import fitted_route
from tests.core.test_carves import carved
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"
SIDE = {"kind": "pocket", "id": "side_pocket", "name": "Side pocket", "shape": {"kind": "rectangle", "x_mm": 0, "y_mm": 0, "length_mm": 40, "width_mm": 50, "corner_radius_mm": 5}, "depth_mm": 30}


def beside_the_pickup(gap_mm):
    """Return the edits that cut a second pocket so far from the pickup's."""
    low = proof_of(route_named(BODY)).simulation.resolved.solid("pickup_pocket").region.bounds[0]
    return [{"do": "put_item", "list": "features", "item": {**SIDE, "shape": {**SIDE["shape"], "x_mm": low - gap_mm - 20}}}, {"do": "propose_for", "feature": "side_pocket"}]


class Splinters(unittest.TestCase):
    def test_fibres_dive_where_a_step_along_them_ahead_of_the_edge_lies_in_the_wood(self):
        rng = np.random.default_rng(4)
        around, grain = rng.uniform(0, 2 * math.pi, 300), rng.uniform(-180, 180, 300)
        n = np.column_stack([np.cos(around), np.sin(around)])
        dive = dive_deg(n, grain)
        for k in range(300):
            theta = np.linspace(0, -0.01, 2)  # a clockwise spindle: the edge at n turns by a little
            edge = np.array([math.cos(around[k] + theta[1]), math.sin(around[k] + theta[1])]) - n[k]
            fibre = np.array([math.cos(math.radians(grain[k])), math.sin(math.radians(grain[k]))])
            fibre = fibre if fibre @ edge > 0 else -fibre
            self.assertEqual(bool(fibre @ n[k] > 0), bool(dive[k] > 0))
            self.assertAlmostEqual(abs(math.degrees(math.asin(abs(fibre @ n[k])))), abs(dive[k]), places=6)
        np.testing.assert_allclose(dive, dive_deg(n, grain + 180), atol=1e-9)

    def test_climbing_has_the_wood_on_its_right_and_tears_less(self):
        self.assertEqual(is_climb(np.array([[1.0, 0], [1, 0]]), np.array([[0.0, -1], [0, 1]])).tolist(), [True, False])
        dive = np.linspace(-90, 90, 37)
        maple, alder = wood("hard_maple"), wood("alder")
        climb, against = (wall_risk(alder, dive, np.full(37, c), 0.1) for c in (True, False))
        self.assertTrue((climb < against).all())
        self.assertTrue((wall_risk(maple, dive, np.full(37, True), 0.1) >= climb).all())
        self.assertTrue((wall_risk(alder, dive, np.full(37, False), 1.0) > against).all())
        self.assertEqual(wall_risk(wood("mdf"), dive, np.full(37, False), 1.0).max(), 0.0)
        self.assertGreater(rim_risk(maple, Flute.UP_CUT), rim_risk(maple, Flute.DOWN_CUT))

    def test_passes_up_a_slope_along_the_fibres_are_told_and_across_them_not(self):
        """A carve in a wood whose fibres interlock: the passes that climb along them, and only those, are at risk."""
        route = changed(carved(), put("blank.wood", "sapele"), put("operations.surface_finish_top.pass_deg", 0.0), put("operations.surface_finish_top.settings.stepover_mm", 1.6))
        proof = proof_of(route)
        sim = proof.simulation
        step = next(s for s in sim.steps if s.operation.id == "surface_finish_top")
        wall = walls_of(sim, step)[0]
        self.assertEqual(wall.what, "passes")
        a, b = step.path.points[:-1], step.path.points[1:]
        rise = {tuple(np.round(p, 4)): z for p, z in zip(((a + b) / 2)[:, :2], b[:, 2] - a[:, 2], strict=True)}
        steep = np.abs(wall.dive_deg) > 8
        climbs = np.array([rise[tuple(np.round(p.mean(axis=0), 4))] > 0 for p in wall.pieces[steep]])
        self.assertGreater((climbs == (wall.dive_deg[steep] > 0)).mean(), 0.97)  # the pass rises where its fibres dive ahead
        found = next(f for f in proof.findings if f.code == "tear_out.likely" and f.feature == "top")
        self.assertIn("passes", found.reason)
        across = changed(route, *found.cures[0].edits)
        self.assertEqual(abs(across.operation("surface_finish_top").pass_deg), 90.0)
        self.assertFalse([f for f in proof_of(across).findings if f.code == "tear_out.likely" and f.feature == "top"])
        told = summary(sim, step)
        self.assertEqual(told["what"], "passes")
        self.assertGreater(told["likely_mm"], 5)

    def test_machined_edges_have_their_fibres_too(self):
        sim = proof_of(fitted_route(True)).simulation
        step = next(s for s in sim.steps if s.operation.kind == "edge")
        edge = walls_of(sim, step)[0]
        self.assertEqual(edge.what, "edge")
        worked = sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for line in sim.resolved.rims["edge_1"].lines)
        self.assertAlmostEqual(float(edge.lengths_mm.sum()) / worked, 1.0, delta=0.06)  # but for where the bit fades in and out
        other = proof_of(changed(fitted_route(True), put(f"operations.{step.operation.id}.direction", "conventional"))).simulation
        against = walls_of(other, next(s for s in other.steps if s.operation.kind == "edge"))[0]
        self.assertGreater(float(against.risk.max()), 2 * float(edge.risk.max()))

    def test_the_walls_of_an_outline_are_all_there_and_turn_with_the_spindle_not_with_the_bit(self):
        outside = []
        for direction in ("climb", "conventional"):
            sim = proof_of(changed(route_named(BODY), put("operations.profile_outline.direction", direction))).simulation
            wall = walls_of(sim, sim.steps[-1])[0]
            self.assertAlmostEqual(float(wall.lengths_mm.sum()), sim.resolved.outline.length, delta=0.002 * sim.resolved.outline.length)
            self.assertEqual(set(wall.climb.tolist()), {direction == "climb"})
            outside.append((wall.pieces.mean(axis=1), wall.dive_deg))
            lines = stretches(wall)
            self.assertAlmostEqual(sum(float(np.hypot(*np.diff(line, axis=0).T).sum()) for _, line in lines), float(wall.lengths_mm.sum()), delta=1.0)
        (a, dive_a), (b, dive_b) = outside
        for k in range(0, len(a), 40):
            near = int(np.argmin(((b - a[k]) ** 2).sum(1)))
            if np.hypot(*(b[near] - a[k])) < 0.5:
                self.assertAlmostEqual(dive_a[k], dive_b[near], delta=4.0)

    def test_the_grain_of_the_board_counts_on_either_face(self):
        route = fitted_route(True)
        slanted = changed(route, *[put(f"blank.planks.{p.id}.grain_deg", 30.0) for p in route.blank.planks])
        for old, new in zip(proof_of(route).simulations, proof_of(slanted).simulations, strict=True):
            step = next(k for k, s in enumerate(old.steps) if s.operation.kind.value == "pocket")
            before, after = walls_of(old, old.steps[step])[0], walls_of(new, new.steps[step])[0]
            self.assertGreater(float(np.abs(before.dive_deg - after.dive_deg).max()), 25.0)


class Springs(unittest.TestCase):
    def test_a_strip_and_a_beam_by_integration(self):
        fig = figures()["thin_wall"]
        rib = Rib("a", "b", 3.0, 20.0, 1e6, 90.0, 0, 0)  # so long that only the strip counts
        z = np.linspace(0, 20.0, 20001)
        wide = 40.0
        moment, stiff = 20.0 - z, fig["across_n_mm2"] * wide * 3.0**3 / 12  # of one newton at the top
        self.assertAlmostEqual(gives_mm(rib, 1.0), float(np.trapezoid(moment**2, z)) / stiff, places=6)
        short = Rib("a", "b", 3.0, 1e5, 30.0, 0.0, 0, 0)  # so high that only the beam counts; along the grain
        x = np.linspace(0, 15.0, 20001)
        moment = x / 2 - 30.0 / 8  # both ends held, one newton in the middle
        bend = 2 * float(np.trapezoid(moment**2, x)) / (fig["along_n_mm2"] * 7.5 * 3.0**3 / 12)
        self.assertAlmostEqual(gives_mm(short, 1.0) / bend, 1.0, places=3)

    def test_thicker_lower_shorter_walls_give_less(self):
        rib = Rib("a", "b", 4.0, 30.0, 50.0, 0.0, 0, 0)
        for field, value in (("thick_mm", 5.0), ("high_mm", 25.0), ("long_mm", 25.0)):
            self.assertGreater(stiffness_n_mm(Rib(**{**rib.__dict__, field: value}), 0.0), stiffness_n_mm(rib, 0.0))
        self.assertGreater(stiffness_n_mm(rib, 0.0), stiffness_n_mm(rib, 90.0))

    def test_a_rib_between_two_pockets_is_measured(self):
        sim = proof_of(changed(route_named(BODY), *beside_the_pickup(5.0))).simulation
        rib = next(r for r in ribs(sim.resolved) if r.other == "side_pocket" or r.one == "side_pocket")
        self.assertAlmostEqual(rib.thick_mm, 5.0, places=3)
        self.assertAlmostEqual(rib.high_mm, 19.01, delta=0.02)
        self.assertAlmostEqual(abs(rib.angle_deg) % 180, 90.0, delta=0.1)
        self.assertGreater(rib.long_mm, 40.0)

    def test_only_when_both_sides_are_cut(self):
        route = changed(route_named(BODY), *beside_the_pickup(3.6))
        self.assertIn("feature.wall_gives", codes(proof_of(route)))
        made = next(o.id for o in route.operations if "side_pocket" in o.features)
        self.assertNotIn("feature.wall_gives", codes(proof_of(changed(route, {"do": "remove_operation", "operation": made}))))


class Held(unittest.TestCase):
    def test_piece_and_waste_with_what_holds_them(self):
        for route in (route_named(BODY), fitted_route(True)):
            sim = proof_of(route).simulations[-1]
            piece, waste = held_pieces(sim)
            self.assertEqual((piece.name, waste.name), ("The piece", "The wood around it"))
            self.assertEqual((piece.tabs, piece.is_loose, piece.hardware), (6, False, []))
            self.assertEqual(set(waste.hardware), {h.id for h in sim.setup.hardware})
            self.assertAlmostEqual(piece.area_mm2, sim.resolved.outline.area - sum(s.region.area for s in sim.resolved.solids.values() if s.floor_mm is None and s.kind != "outline"), delta=0.03 * piece.area_mm2)

    def test_loose_without_tabs_and_held_by_a_skin(self):
        loose = held_pieces(proof_of(changed(route_named(BODY), put("operations.profile_outline.tabs", []))).simulation)[0]
        self.assertTrue(loose.is_loose)
        self.assertEqual(loose.words, "nothing")
        skin = held_pieces(proof_of(changed(route_named(BODY), {"do": "choose_school", "operation": "profile_outline", "school": "skin"})).simulation)[0]
        self.assertIn("skin of 0.8", say(skin.words))

    def test_one_whole_blank_is_one_piece(self):
        first = held_pieces(proof_of(fitted_route(True)).simulations[0])
        self.assertEqual(len(first), 1)
        self.assertAlmostEqual(first[0].kg, 3.24, delta=0.02)


if __name__ == "__main__":
    unittest.main()
