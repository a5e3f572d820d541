"""Creeping up on a fit: passes along the wall in programs of their own, from too small to the size as drawn."""

import unittest

import numpy as np
from shapely.geometry import Point

from birch_route.core.errors import InputError
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_all
from birch_route.core.sequence.creep import creep
from birch_route.core.vocabulary import MOVE_CODES, MoveKind
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

POCKET = "pocket_neck_pocket"


def crept(passes=3, **more):
    return changed(route_named("siskin_body"), {"do": "creep", "operation": POCKET, "passes": passes, **more})


class CreepPasses(unittest.TestCase):
    def test_each_pass_takes_its_step_off_the_wall_and_the_last_is_as_drawn(self):
        proof = proof_of(crept())
        self.assertEqual(codes(proof), set())
        sim = proof.simulation
        clean = proof_of(route_named("siskin_body")).simulation
        np.testing.assert_array_equal(sim.result, clean.result)
        steps = {s.operation.id: s for s in sim.steps}
        solid = sim.resolved.solid("neck_pocket")
        for name, left in ((POCKET, 0.15), (f"{POCKET}_creep1", 0.1), (f"{POCKET}_creep2", 0.05), (f"{POCKET}_creep3", 0.0)):
            path = steps[name].path
            walls = path.kinds == MOVE_CODES[MoveKind.FINISH]
            ends = path.points[1:][walls]
            inside = ends[(ends[:, 0] > 6.0) & (np.abs(ends[:, 1]) > 5)]
            away = min(solid.region.exterior.distance(p) for p in map(_point, inside))
            self.assertAlmostEqual(away, 3.0 + left, delta=0.003, msg=name)

    def test_every_pass_has_a_program_of_its_own_that_starts_and_ends_parked(self):
        proof = proof_of(crept())
        programs = write_all(proof.simulations)
        self.assertEqual([len(p.operations) for p in programs], [8, 1, 1, 1, 2])
        self.assertEqual([f"creep_{k}" in p.name for k, p in enumerate(programs)], [False, True, True, True, False])
        self.assertEqual([f.reason for f in read_back_all(proof.simulations, programs).findings], [])
        sim = proof.simulation
        park = (sim.route.blank.x_mm, sim.route.blank.y_mm)
        for step in (s for s in sim.steps if s.operation.wall_only):
            np.testing.assert_allclose(step.path.points[0, :2], park)
            np.testing.assert_allclose(step.path.points[-1, :2], park)
            self.assertFalse(step.operation.touch_off_before)

    def test_a_pass_left_out_hurts_nothing_but_the_size(self):
        """Who stops after the second pass keeps the rest: what follows does not need the third."""
        route = changed(crept(), {"do": "remove_operation", "operation": f"{POCKET}_creep3"})
        self.assertEqual(codes(proof_of(route)), set())  # a twentieth on the wall is no stock left

    def test_it_is_taken_back_whole_and_asks_for_a_try(self):
        route = crept(2, step_mm=0.1)
        self.assertEqual(route.operation(POCKET).stock_to_leave_mm, 0.2)
        self.assertIn(f"try_{POCKET}", [s.id for s in route.bench_steps])
        back = changed(route, {"do": "creep", "operation": POCKET, "passes": 0})
        self.assertEqual((back.operations, back.bench_steps), (route_named("siskin_body").operations, route_named("siskin_body").bench_steps))
        self.assertEqual([o.id for o in changed(route, {"do": "creep", "operation": POCKET, "passes": 3}).operations if o.wall_only], [f"{POCKET}_creep{k}" for k in (1, 2, 3)])

    def test_refused_where_there_is_no_wall_of_a_pocket(self):
        for operation in ("profile_outline", "face", "nothing", f"{POCKET}_creep1"):
            with self.assertRaises(InputError):
                creep(crept(), operation, 2)

    def test_on_the_back_too(self):
        route = changed(fitted_route(True), put("piece.features.cover_rebate.finish_class", "fitted"), {"do": "creep", "operation": "pocket_cover_rebate", "passes": 2})
        self.assertEqual(codes(proof_of(route)), set())
        self.assertEqual(sum(p.name.count("creep") for p in write_all(proof_of(route).simulations)), 2)


def _point(p):
    return Point(p[:2])


if __name__ == "__main__":
    unittest.main()
