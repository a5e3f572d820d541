"""Outlines: tabs by rule, moved, ramped, in cut-outs; a skin; a groove for saw and bearing bit; what each costs."""

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import Point, Polygon, box

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import InputError
from birch_route.core.heights.raster import mask_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.sequence.outline import prices, tab_places
from birch_route.core.sequence.propose import staged_for
from birch_route.core.sequence.tabs import KeptOff, harms_along, kept_off, propose_tabs
from birch_route.core.vocabulary import School
from birch_route.demo.fitted import fitted_route
from birch_route.demo.jobs import body_route
from tests.support import changed, codes, proof_of, put, route_named

OUTLINE = "profile_outline"


def school(name):
    return {"do": "choose_school", "operation": OUTLINE, "school": name}


class ByRule(unittest.TestCase):
    def test_no_tab_stands_where_the_rules_forbid_it(self):
        for make in (body_route, lambda: fitted_route(True)):
            route = make()
            resolved = resolve(route)
            _, lies = staged_for(route, resolved, route.setups[-1])
            keep = kept_off(lies)
            tabs = route.operation(OUTLINE).tabs
            at, harms, _ = harms_along(lies.outline, tabs[0].width_mm, keep, 4000)
            for tab in tabs:
                k = int(np.argmin(np.abs(at - tab.at)))
                with self.subTest(route.job, tab=tab.at):
                    self.assertFalse([n for n, here in harms.items() if here[k]])

    def test_harms_are_what_geometry_says(self):
        blob = box(0, 0, 300, 60).union(Point(300, 30).buffer(12)).difference(Point(150, 60).buffer(9, quad_segs=32)).buffer(-1).buffer(1)
        at, harms, _ = harms_along(blob, 6.0, KeptOff(box(40, -5, 60, 5), box(90, -5, 110, 5)), 2000)
        ring = blob.exterior
        for k in range(0, 2000, 7):
            p = ring.interpolate(at[k], normalized=True)
            if 20 < p.x < 280 and p.y < 0.1:
                self.assertEqual(harms["near"][k], p.distance(box(40, -5, 60, 5)) < 3)
                self.assertEqual(harms["gone"][k], p.distance(box(90, -5, 110, 5)) < 3)
                self.assertFalse(harms["grain"][k] or harms["tip"][k] or harms["saw"][k])
            if p.x < 0.1 and 12 < p.y < 48:
                self.assertTrue(harms["grain"][k])
            if p.distance(Point(150, 51)) < 1.5:
                self.assertTrue(harms["saw"][k], (p.x, p.y))
            if p.distance(Point(312, 30)) < 1.0:
                self.assertTrue(harms["tip"][k], (p.x, p.y))

    def test_more_force_asks_for_more_tabs_and_says_so(self):
        few, many = propose_tabs(box(0, 0, 300, 100), 20.0), propose_tabs(box(0, 0, 300, 100), 20.0, force_n=500.0)
        self.assertGreater(len(many.tabs), len(few.tabs))
        bears = len(many.tabs) * many.tabs[0].width_mm * many.tabs[0].height_mm * 3.0
        self.assertGreaterEqual(bears, 2 * 500.0)
        self.assertIn("500 N of cutting", many.reason)

    def test_a_share_without_wood_gives_its_tab_to_another_place(self):
        rim = box(0, 0, 300, 100)
        tabs = propose_tabs(rim, 20.0, KeptOff(Polygon(), box(-5, -5, 160, 105))).tabs
        self.assertGreaterEqual(len(tabs), 3)
        for tab in tabs:
            self.assertGreater(rim.exterior.interpolate(tab.at, normalized=True).x, 160)


class Cut(unittest.TestCase):
    def wood_beside(self, proof, tab):
        """Return heights of the wood above its underside in the middle of the kerf along the rim around a tab: (mm along, height)."""
        sim = proof.simulations[-1]
        bit = sim.steps[-1].bit
        rim = sim.resolved.outline
        kerf = shapely.LinearRing(np.asarray(rim.buffer(bit.radius_mm, quad_segs=32).exterior.coords))
        middle = kerf.project(rim.exterior.interpolate(tab.at, normalized=True))
        out = []
        for s in np.arange(-20, 20, 0.2):
            p = kerf.interpolate((middle + s) % kerf.length)
            cell = sim.grid.cell_of(p.x, p.y)
            out.append((s, float(sim.result[cell]) - sim.route.blank.bottom_mm - sim.route.blank.faced_below_mm))
        return np.array(out)

    def test_tabs_are_as_high_as_asked_on_the_turned_body_too(self):
        proof = proof_of(fitted_route(True))
        tabs = proof.simulations[-1].route.operation(OUTLINE).tabs
        for tab in tabs:
            heights = self.wood_beside(proof, tab)
            self.assertAlmostEqual(heights[:, 1].max(), tab.height_mm, delta=0.02)
            self.assertAlmostEqual((heights[:, 1] > tab.height_mm - 0.05).sum() * 0.2, tab.width_mm, delta=1.0)

    def test_ramped_tabs_have_slopes_of_thirty_degrees(self):
        proof = proof_of(changed(body_route(), put(f"operations.{OUTLINE}.tabs.each.shape", "ramped"), put(f"operations.{OUTLINE}.tabs.each.height_mm", 4.0)))
        self.assertEqual(codes(proof) & {"feature.stock_left", "piece.freed", "feature.gouged"}, set())
        tab = proof.simulation.route.operation(OUTLINE).tabs[0]
        heights = self.wood_beside(proof, tab)
        self.assertAlmostEqual(heights[:, 1].max(), 4.0, delta=0.02)
        rising = heights[(heights[:, 0] < 0) & (heights[:, 1] > 0.8) & (heights[:, 1] < 3.2)]
        self.assertGreater(len(rising), 5)
        slope = np.polyfit(rising[:, 0], rising[:, 1], 1)[0]
        self.assertAlmostEqual(math.degrees(math.atan(slope)), 30.0, delta=4.0)

    def test_a_skin_is_as_thick_as_asked_all_round_and_holds(self):
        for make in (body_route, lambda: fitted_route(True)):
            route = changed(make(), school("skin"))
            proof = proof_of(route)
            self.assertEqual([f.code for f in proof.findings if f.severity.value != "note"], [])
            sim = proof.simulations[-1]
            strip = sim.resolved.outline.buffer(3.0).difference(sim.resolved.outline.buffer(1.0)).difference(kept_off(sim.resolved).near).difference(kept_off(sim.resolved).gone.buffer(6))
            left = (sim.result - sim.bottom)[mask_of(strip, sim.grid)]
            self.assertAlmostEqual(float(np.median(left)), 0.8, delta=0.3)  # the rounding below is hollow
            self.assertGreater(float(np.percentile(left, 1)), 0.7)
        thin = proof_of(changed(body_route(), school("skin"), put(f"operations.{OUTLINE}.skin_mm", 0.2)))
        found = next(f for f in thin.findings if f.code == "holding.skin")
        cured = apply_edits(thin.simulation.whole, [read_edit(e) for e in found.cures[0].edits])
        self.assertFalse({"outline.skin_thin", "holding.skin"} & codes(proof_of(cured)))

    def test_a_groove_stays_a_groove_with_saw_and_bearing_bit_after_it(self):
        route = changed(body_route(), school("groove"))
        operation = route.operation(OUTLINE)
        self.assertEqual((operation.tabs, [s.id for s in route.bench_steps if s.id.startswith("outline")]), ([], ["outline_saw", "outline_trim"]))
        proof = proof_of(route)
        self.assertEqual(codes(proof), {"outline.trim_bit"} | codes(proof_of(body_route())))
        sim = proof.simulation
        strip = sim.resolved.outline.buffer(3.0).difference(sim.resolved.outline.buffer(1.0))
        self.assertAlmostEqual(float(np.median(sim.result[mask_of(strip, sim.grid)])), -operation.groove_mm, delta=0.01)
        told = changed(route, put("choices.trim_bit_mm", 16.0))
        found = next(f for f in proof_of(told).findings if f.code == "outline.trim_bit")
        self.assertIn("2 goes", found.reason)
        cured = apply_edits(told, [read_edit(e) for e in found.cures[0].edits])
        self.assertNotIn("outline.trim_bit", codes(proof_of(cured)))
        self.assertIn("outline.no_land", codes(proof_of(changed(route, put(f"operations.{OUTLINE}.groove_mm", 4.0)))))

    def test_back_to_tabs_brings_tabs_and_their_bench_step(self):
        route = changed(body_route(), school("groove"), school("tabs"))
        self.assertEqual([t.at for t in route.operation(OUTLINE).tabs], [t.at for t in body_route().operation(OUTLINE).tabs])
        self.assertEqual([s.id for s in route.bench_steps if s.id in ("tabs", "outline_saw", "outline_trim")], ["tabs"])


class RoundEnds(unittest.TestCase):
    def test_a_ball_goes_one_radius_deeper_so_that_the_wall_is_whole_and_the_waste_board_is_asked(self):
        ball = {"id": "ball4", "name": "4 mm ball", "form": "ball", "diameter_mm": 4, "flutes": 2, "cutting_length_mm": 20, "shank_diameter_mm": 4, "stickout_mm": 30}
        route = changed(route_named("control_plate"), {"do": "put_item", "list": "bits", "item": ball}, put(f"operations.{OUTLINE}.bit", "ball4"))
        proof = proof_of(route)
        step = next(s for s in proof.steps if s.operation.id == OUTLINE)
        bottom, over = route.blank.bottom_mm, route.operation(OUTLINE).overcut_mm
        self.assertAlmostEqual(float(step.path.points[:, 2].min()), bottom - over - 2.0, places=6)
        self.assertIn("waste_board.hit", codes(proof))
        thick = changed(route, put("machine.waste_cut_mm", 3.0))
        self.assertNotIn("waste_board.hit", codes(proof_of(thick)))
        sim = proof_of(thick).simulation
        self.assertNotIn("feature.stock_left", codes(proof_of(thick)))
        beside = sim.resolved.outline.buffer(0.4).difference(sim.resolved.outline.buffer(0.15))
        through = (sim.result <= sim.bottom)[mask_of(beside, sim.grid)]
        self.assertGreater(through.mean(), 0.8)  # but for tabs


class Priced(unittest.TestCase):
    def test_each_school_costs_what_its_own_route_says(self):
        base = proof_of(body_route()).simulation
        for price in prices(base.route, base.resolved, base.route.operation(OUTLINE)):
            route = changed(body_route(), school(price.school.value))
            step = proof_of(route).simulation.steps[-1]
            bench = sum(s.minutes for s in route.bench_steps if s.id in ("tabs", "outline_saw", "outline_trim"))
            with self.subTest(price.school):
                self.assertAlmostEqual(price.machine_min, step.minutes, delta=0.15)  # the step also goes there and parks
                if price.school is not School.TABS:  # the demo's own step stands where the school was never chosen
                    self.assertAlmostEqual(price.bench_min, bench, delta=0.01)
                self.assertTrue(price.words)


class Moved(unittest.TestCase):
    def test_a_tab_goes_to_the_nearest_place_of_the_rim_on_either_face(self):
        for make in (body_route, lambda: fitted_route(True)):
            route = make()
            x, y = resolve(route).outline.exterior.interpolate(0.33, normalized=True).coords[0]
            moved = changed(route, {"do": "move_tab", "operation": OUTLINE, "number": 1, "x_mm": x + 0.5, "y_mm": y})
            place = tab_places(moved, moved.operation(OUTLINE))[1]
            with self.subTest(route.job):
                self.assertLess(math.dist(place, (x, y)), 0.8)
                self.assertIn("tabs", moved.operation(OUTLINE).told)
                self.assertEqual(len(moved.operation(OUTLINE).tabs), len(route.operation(OUTLINE).tabs))

    def test_one_more_is_added_and_nonsense_refused(self):
        route = body_route()
        count = len(route.operation(OUTLINE).tabs)
        more = changed(route, {"do": "move_tab", "operation": OUTLINE, "number": count, "x_mm": 0.0, "y_mm": 100.0})
        self.assertEqual(len(more.operation(OUTLINE).tabs), count + 1)
        for bad in ({"do": "move_tab", "operation": OUTLINE, "number": count + 1, "x_mm": 0.0, "y_mm": 0.0}, {"do": "move_tab", "operation": "face", "number": 0, "x_mm": 0.0, "y_mm": 0.0},
                    {"do": "choose_school", "operation": "pocket_neck_pocket", "school": "skin"}):
            with self.subTest(bad), self.assertRaises(InputError):
                changed(route, bad)

    def test_every_tab_is_set_at_once(self):
        route = changed(body_route(), put(f"operations.{OUTLINE}.tabs.each.width_mm", 6.5))
        self.assertEqual({t.width_mm for t in route.operation(OUTLINE).tabs}, {6.5})
