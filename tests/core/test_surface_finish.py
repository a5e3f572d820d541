"""Finishing surfaces: dropping a bit on a whole grid, level lines, by slope, even ridges; the ridges measured and what they cost."""

import math
import unittest

import numpy as np
import shapely

from birch_route.core.data import figures
from birch_route.core.heights import kernels
from birch_route.core.heights.drop import between, drop, drop_grid, profile_cells
from birch_route.core.operations.base import work_for
from birch_route.core.operations.surfacing import _Tips, finish_lines, level_lines
from birch_route.core.proving.ridges import ridges, sanding_pace
from birch_route.demo.fitted import fitted_route
from tests.core.test_bevels import bevelled
from tests.support import changed, proof_of, put

FINISH = "surface_finish_arm"


class WholeGrid(unittest.TestCase):
    def test_it_says_what_dropping_at_every_cell_says(self):
        rng = np.random.default_rng(3)
        surface = np.cumsum(np.cumsum(rng.normal(0, 0.02, (60, 90)), 0), 1).astype(np.float32)
        xs, ys = (a.ravel().copy() for a in np.meshgrid((np.arange(90) + 0.5) * 0.25, (np.arange(60) + 0.5) * 0.25))
        for form, radius, corner in ((kernels.BALL, 3.0, 0.0), (kernels.FLAT, 4.0, 0.0), (kernels.BULL, 4.0, 1.5)):
            grid, exact = np.empty_like(surface), np.empty(len(xs))
            drop_grid(surface, *profile_cells(form, radius, corner, 0.0, 1.0, 0.25), grid)
            drop(surface, 0.0, 0.0, 0.25, xs, ys, form, radius, corner, 0.0, 1.0, exact)
            with self.subTest(form):
                np.testing.assert_allclose(grid.ravel(), exact, atol=2e-6)

    def test_between_cells_a_smooth_surface_is_met_within_a_few_micrometres(self):
        route = fitted_route(True)
        tips = self.tips(route)
        rng = np.random.default_rng(4)
        work = work_for(route, proof_of(route).simulation.resolved, route.operation(FINISH))
        spots = rng.uniform(*np.array(work.solids[0].region.bounds).reshape(2, 2), (4000, 2))
        spots = spots[shapely.contains_xy(work.solids[0].region.buffer(3.5), spots[:, 0], spots[:, 1])]
        exact = np.empty(len(spots))
        drop(tips.heights, *tips.origin, 0.25, spots[:, 0].copy(), spots[:, 1].copy(), *tips._shape(), exact)
        self.assertGreater(len(spots), 500)
        self.assertLess(np.abs(tips.at(spots) - exact).max(), 0.006)
        out = np.empty(2)
        between(np.array([[0.0, 1.0], [2.0, 3.0]], np.float32), np.array([0.5, 0.25]), np.array([0.5, 0.0]), out)
        np.testing.assert_allclose(out, [1.5, 0.25])

    def tips(self, route):
        sim = proof_of(route).simulation
        work = work_for(route, sim.resolved, route.operation(FINISH))
        return _Tips(work, work.solids[0])


class Patterns(unittest.TestCase):
    def lines(self, *edits):
        route = bevelled(*edits)
        sim = proof_of(route).simulation
        work = work_for(sim.route, sim.resolved, sim.route.operation(FINISH))
        tips = _Tips(work, work.solids[0])
        return finish_lines(work, work.solids[0], tips), tips, work

    def test_level_lines_stay_at_one_height_where_it_is_steep_enough(self):
        route = bevelled()
        sim = proof_of(route).simulation
        work = work_for(sim.route, sim.resolved, sim.route.operation(FINISH))
        tips = _Tips(work, work.solids[0])
        found = level_lines(work, work.solids[0], tips, 12.0)
        self.assertGreater(len(found), 10)
        tops = []
        for line in found:
            z = tips.at(line)
            self.assertLess(np.ptp(z), 0.02)
            tops.append(float(z.mean()))
            self.assertGreater(np.percentile(tips.slope_at(line), 5), 11.0)
        self.assertEqual([round(t, 1) for t in tops], sorted((round(t, 1) for t in tops), reverse=True))

    def test_both_by_slope_cover_everything_and_overlap(self):
        lines, tips, work = self.lines(put(f"operations.{FINISH}.pattern", "both"), put(f"operations.{FINISH}.steep_deg", 15))
        alone, _, _ = self.lines()
        covered = shapely.union_all([shapely.LineString(line).buffer(work.operation.settings.stepover_mm) for line in lines])
        area = shapely.union_all([shapely.LineString(line) for line in alone]).intersection(work.solids[0].region.buffer(-0.5))
        self.assertLess(area.difference(covered).length, 0.002 * area.length)

    def test_every_pattern_leaves_the_same_surface_within_its_class(self):
        clean = {f.code for f in proof_of(bevelled()).findings}
        for edits in ([put(f"operations.{FINISH}.pattern", "contour")], [put(f"operations.{FINISH}.pattern", "both"), put(f"operations.{FINISH}.steep_deg", 14)],
                      [put(f"operations.{FINISH}.even_ridge", True), put(f"operations.{FINISH}.pass_deg", 10.0)]):
            with self.subTest(edits):
                proof = proof_of(bevelled(*edits))
                self.assertEqual({f.code for f in proof.findings} - clean, set())
                step = next(s for s in proof.steps if s.operation.id == FINISH)
                found = ridges(proof.simulation, step)
                self.assertLess(found.p95_mm, 0.02)

    def test_even_ridges_stand_closer_where_it_falls_between_passes(self):
        """Passes along the rim climb the slope from one to the next: in plan a step s over a slope a becomes s cos a."""
        along = put(f"operations.{FINISH}.pass_deg", 0.0)
        wide = put(f"operations.{FINISH}.settings.stepover_mm", 1.0)
        plain = proof_of(bevelled(along, wide), fine=True)
        even = proof_of(bevelled(along, wide, put(f"operations.{FINISH}.even_ridge", True)), fine=True)
        def found(proof):
            return ridges(proof.simulation, next(s for s in proof.steps if s.operation.id == FINISH))
        self.assertLess(found(even).p95_mm, found(plain).p95_mm * 0.99)
        self.assertGreater(next(s for s in even.steps if s.operation.id == FINISH).path.cut_length_mm(), next(s for s in plain.steps if s.operation.id == FINISH).path.cut_length_mm())


class Measured(unittest.TestCase):
    def test_ridges_follow_the_circle_on_the_simulated_wood(self):
        """A ball of 4 radius: greatest ridge R - sqrt(R^2 - s^2/4) square to the surface, for passes up and down the slope."""
        for s in (0.8, 1.2, 1.6):
            proof = proof_of(bevelled(put(f"operations.{FINISH}.settings.stepover_mm", s)))
            found = ridges(proof.simulation, next(x for x in proof.steps if x.operation.id == FINISH))
            ridge = 4 - math.sqrt(16 - s * s / 4)
            with self.subTest(s):
                self.assertLess(found.p95_mm, ridge * 1.05)
                self.assertGreater(found.p95_mm, ridge * 0.6)
                self.assertAlmostEqual(sum(found.shares), 1.0, places=6)
                self.assertLessEqual(found.median_mm, found.p95_mm)

    def test_the_cost_at_another_stepover_is_what_that_stepover_then_costs(self):
        proof = proof_of(bevelled())
        step = next(s for s in proof.steps if s.operation.id == FINISH)
        told = ridges(proof.simulation, step)
        other = min(told.costs, key=lambda c: abs(c.stepover_mm - 2 * told.now.stepover_mm))
        real = proof_of(bevelled(put(f"operations.{FINISH}.settings.stepover_mm", other.stepover_mm)))
        step = next(s for s in real.steps if s.operation.id == FINISH)
        self.assertAlmostEqual(step.minutes, other.machine_min, delta=0.12 * step.minutes)
        self.assertAlmostEqual(ridges(real.simulation, step).now.sanding_min, other.sanding_min, delta=0.3 * other.sanding_min)
        self.assertLessEqual(told.cheapest.together_min, min(c.together_min for c in told.costs) + 1e-9)
        self.assertLessEqual(told.p95_mm * (told.best.stepover_mm / told.now.stepover_mm) ** 2, told.allowed_mm + 1e-9)

    def test_sanding_goes_by_the_rows_of_the_table(self):
        for ridge, minutes in figures()["sanding"]["rows"]:
            self.assertAlmostEqual(sanding_pace(ridge), minutes)
        self.assertAlmostEqual(sanding_pace(0.075), 3.0)
        self.assertGreater(sanding_pace(0.4), 15.0)


class OnTheTurnedBody(unittest.TestCase):
    def test_level_lines_on_the_back_are_clean_too(self):
        route = changed(fitted_route(True), put("operations.surface_finish_belly.pattern", "both"), put("operations.surface_finish_belly.steep_deg", 12))
        self.assertEqual([f.code for f in proof_of(route).findings if f.severity.value != "note"], [])
