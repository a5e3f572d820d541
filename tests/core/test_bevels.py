"""Swept bevels against brute force: the surface, what a bit may touch, what is left after the cut."""

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point

from birch_route.core.bits.model import Bit, profile_height
from birch_route.core.errors import InputError
from birch_route.core.heights.drop import drop
from birch_route.core.heights.field import envelope
from birch_route.core.instrument.balance import balance, layers_of
from birch_route.core.instrument.bevels import BevelSurface
from birch_route.core.instrument.edges import edge_plan
from birch_route.core.instrument.resolve import resolve
from birch_route.core.sequence.surfaces import stepover_for
from birch_route.core.vocabulary import BitForm
from tests.core.bodies import CAVITY
from tests.support import changed, codes, proof_of, put, route_named

BALL = {"id": "ball8", "name": "8 mm ball", "form": "ball", "diameter_mm": 8, "flutes": 2, "cutting_length_mm": 30, "shank_diameter_mm": 8, "stickout_mm": 44}
ARM = {"kind": "bevel", "id": "arm", "name": "Arm bevel", "start": 0.30, "end": 0.40, "stations": [{"at": 0, "width_mm": 4, "drop_mm": 0}, {"at": 0.5, "width_mm": 30, "drop_mm": 10}, {"at": 1, "width_mm": 4, "drop_mm": 0}], "blend_mm": 4}


def bevelled(*edits, **more):
    return changed(route_named("siskin_body"), {"do": "put_item", "list": "bits", "item": BALL}, {"do": "put_item", "list": "features", "item": {**ARM, **more}}, {"do": "propose"}, *edits)


class Surface(unittest.TestCase):
    def test_on_a_straight_rim_it_is_the_slope_anyone_would_draw(self):
        """A 200 x 100 board, its lower edge bevelled from x 50 to 150: 20 wide, 8 deep, blended over 4 at the inner line."""
        ring = np.array([(0.0, 0.0), (200, 0), (200, 100), (0, 100)])
        flat = BevelSurface(ring, 50 / 600, 150 / 600, (0.0, 1.0), (20.0, 20.0), (8.0, 8.0), 0.0)
        blend = BevelSurface(ring, 50 / 600, 150 / 600, (0.0, 1.0), (20.0, 20.0), (8.0, 8.0), 4.0)
        for y, deep, soft in ((0.0, 8.0, 8.0), (5.0, 6.0, 6.0), (16.0, 1.6, 1.6), (20.0, 0.0, 0.4), (22.0, 0.0, 0.1), (24.0, 0.0, 0.0), (40.0, 0.0, 0.0), (-2.0, 8.8, 8.8)):
            at = np.array([100.0]), np.array([y])
            self.assertAlmostEqual(float(flat.depth(*at)[0]), deep, places=6)
            self.assertAlmostEqual(float(blend.depth(*at)[0]), soft, places=6)
        self.assertEqual(float(flat.depth(np.array([40.0]), np.array([3.0]))[0]), 0.0)
        self.assertAlmostEqual(flat.region().area, 2000, delta=8)

    @given(st.floats(0, 1), st.floats(0.5, 28), st.floats(0, 0.95), st.floats(0.05, 0.3))
    @settings(max_examples=40, deadline=None)
    def test_anywhere_on_a_body_it_follows_the_nearest_rim(self, place, inward, start, span):
        """Against the outline sampled every 0.05: distance and place of the nearest sample, the stations between them straight (two stations)."""
        ring = np.asarray(resolve(route_named("siskin_body")).outline.exterior.coords)[:-1]
        surface = BevelSurface(ring, start, (start + span) % 1.0, (0.0, 1.0), (30.0, 30.0), (5.0, 15.0))
        line = shapely.LinearRing(ring)
        s = (start + place * span) % 1.0
        spot = np.array(line.interpolate(s * line.length).coords[0])
        ahead = np.array(line.interpolate(((s + 1e-4) % 1.0) * line.length).coords[0])
        way = (ahead - spot) / np.linalg.norm(ahead - spot)
        point = spot + inward * np.array([-way[1], way[0]])
        samples = np.arange(0, 1, 0.05 / line.length)
        rim = np.array([line.interpolate(p * line.length).coords[0] for p in samples[:: max(1, len(samples) // 30000)]])
        gaps = np.hypot(*(rim - point).T)
        k = int(np.argmin(gaps))
        gap, at = float(gaps[k]), float(((samples[:: max(1, len(samples) // 30000)][k] - start) % 1.0) / span)
        if not 0.02 < at < 0.98 or np.partition(gaps[np.abs((np.arange(len(gaps)) - k + len(gaps) // 2) % len(gaps) - len(gaps) // 2) > 200], 0)[0] < gap + 0.5:
            return  # at an end, or as near to another stretch
        expected = (5.0 + 10.0 * at) * max(0.0, 1 - gap / 30.0)
        self.assertAlmostEqual(float(surface.depth(point[:1], point[1:])[0]), expected, delta=0.08)

    def test_turned_about_either_axis_it_is_the_same_surface(self):
        ring = np.asarray(resolve(route_named("siskin_body")).outline.exterior.coords)[:-1]
        surface = BevelSurface(ring, 0.3, 0.45, (0.0, 0.4, 1.0), (10.0, 30.0, 5.0), (2.0, 9.0, 0.0), 3.0)
        rng = np.random.default_rng(4)
        x, y = rng.uniform(250, 410, 300), rng.uniform(-150, 20, 300)
        for signs in ((1.0, -1.0), (-1.0, 1.0)):
            turned = surface.turned(signs)
            self.assertTrue(shapely.LinearRing(turned.ring).is_ccw)
            self.assertLess(np.abs(turned.depth(signs[0] * x, signs[1] * y) - surface.depth(x, y)).max(), 1e-3)

    def test_stations_out_of_order_and_bevels_without_a_drop_are_refused(self):
        for stations, words in (([{"at": 0.5, "width_mm": 5, "drop_mm": 1}, {"at": 0.2, "width_mm": 5, "drop_mm": 1}], "in order"), ([{"at": 0, "width_mm": 5, "drop_mm": 0}, {"at": 1, "width_mm": 5, "drop_mm": 0}], "drops nowhere")):
            self.assertRaisesRegex(InputError, words, bevelled, stations=stations)


TAPERED = {
    "id": "tapered", "name": "Tapered ball", "form": "taper", "diameter_mm": 4.0, "included_angle_deg": 12,
    "cutting_length_mm": 25, "shank_diameter_mm": 8.0, "stickout_mm": 40, "helix_deg": 30,
}


def tapered():
    """The bevelled body with its finish cut by a tapered ball."""
    step = round(stepover_for(0.016, 2.0, 10 / 30), 3)
    at = "operations.surface_finish_arm"
    return bevelled(
        {"do": "put_item", "list": "bits", "item": TAPERED},
        put(f"{at}.bit", "tapered"), put(f"{at}.settings.stepover_mm", step),
    )


class Drop(unittest.TestCase):
    @given(st.sampled_from([BitForm.BALL, BitForm.FLAT, BitForm.BULL, BitForm.V, BitForm.TAPER]), st.integers(0, 10**6))
    @settings(max_examples=25, deadline=None)
    def test_the_tip_is_as_low_as_the_bit_s_profile_lets_it_be(self, form, seed):
        rng = np.random.default_rng(seed)
        surface = rng.uniform(-6, 0, (20, 24)).astype(np.float32)
        bit = Bit(
            id="b", name="b", form=form, diameter_mm=1.4 if form is BitForm.TAPER else 3.0,
            corner_radius_mm=0.6 if form is BitForm.BULL else 0,
            included_angle_deg=30 if form is BitForm.TAPER else 70, tip_diameter_mm=0.4 if form is BitForm.V else 0,
            cutting_length_mm=5 if form is BitForm.TAPER else 9, shank_diameter_mm=3, stickout_mm=20,
        )
        x, y = rng.uniform(1, 5, 6), rng.uniform(1, 4, 6)
        out = np.empty(6)
        drop(surface, 0.0, 0.0, 0.25, x, y, *envelope(bit), out)
        for n in range(6):
            best = max(surface[j, i] - profile_height(bit, math.hypot((i + 0.5) * 0.25 - x[n], (j + 0.5) * 0.25 - y[n])) for j in range(20) for i in range(24))
            self.assertAlmostEqual(out[n], best, places=5)


class Cut(unittest.TestCase):
    def test_it_is_roughed_and_finished_to_within_its_class_and_nothing_is_gouged(self):
        proof = proof_of(bevelled())
        self.assertEqual([f.reason for f in proof.findings], [])
        sim, solid = proof.simulation, resolve(bevelled()).solid("arm")
        x, y, deep = solid.surface.samples(solid.region.buffer(-1.0), 0.9)
        heights = np.array([sim.result[sim.grid.cell_of(a, b)] for a, b in zip(x, y, strict=True)])
        cells = np.array([sim.grid.cell_of(a, b) for a, b in zip(x, y, strict=True)])
        exact = -solid.surface.depth(sim.grid.x_centres()[cells[:, 1]], sim.grid.y_centres()[cells[:, 0]])
        over = heights - exact
        self.assertGreater(over.min(), -0.02)  # nowhere below the surface
        self.assertLess(np.quantile(over, 0.99), 0.03)  # ridges as asked: 0.02, across a slope
        self.assertGreater(deep.max(), 8)
        rough = next(s for s in proof.steps if s.operation.kind.value == "surface_rough")
        self.assertLess(rough.deepest_mm, rough.operation.settings.depth_of_cut_mm * 1.35)

    def test_passes_too_far_apart_leave_ridges_that_are_told(self):
        fine = bevelled().operation("surface_finish_arm").settings.stepover_mm
        self.assertAlmostEqual(fine, stepover_for(0.016, 4.0, 10 / 30), delta=0.01)
        wide = proof_of(bevelled(put("operations.surface_finish_arm.settings.stepover_mm", 2.2 * fine)))
        self.assertIn("feature.stock_left", codes(wide))
        self.assertNotIn("feature.stock_left", codes(proof_of(bevelled(put("operations.surface_finish_arm.settings.stepover_mm", 1.05 * fine)))))

    def test_a_tapered_ball_finishes_as_the_ball_at_its_end_does(self):
        """Its ridges are its ball's; its cone, wider than the ball, gouges nothing on the way."""
        proof = proof_of(tapered())
        self.assertEqual({c for c in codes(proof) if c.startswith(("feature.", "bit.", "rapid."))}, set())
        sim, solid = proof.simulation, resolve(tapered()).solid("arm")
        x, y, _ = solid.surface.samples(solid.region.buffer(-1.0), 0.9)
        cells = np.array([sim.grid.cell_of(a, b) for a, b in zip(x, y, strict=True)])
        over = sim.result[cells[:, 0], cells[:, 1]] + solid.surface.depth(
            sim.grid.x_centres()[cells[:, 1]], sim.grid.y_centres()[cells[:, 0]]
        )
        self.assertGreater(over.min(), -0.02)
        self.assertLess(np.quantile(over, 0.99), 0.03)

    def test_a_ridge_of_the_formula_is_the_ridge_of_the_circle(self):
        for ridge, radius in ((0.02, 3.0), (0.05, 6.35)):
            step = stepover_for(ridge, radius, 0.0)
            self.assertAlmostEqual(radius - math.sqrt(radius**2 - (step / 2) ** 2), ridge, places=9)

    def test_a_finish_below_the_surface_is_a_gouge(self):
        deeper = [{"at": 0, "width_mm": 4, "drop_mm": 0}, {"at": 0.5, "width_mm": 30, "drop_mm": 9.9}, {"at": 1, "width_mm": 4, "drop_mm": 0}]
        shallow = proof_of(bevelled())
        step = next(s for s in shallow.steps if s.operation.id == "surface_finish_arm")
        self.assertGreater(step.path.points[:, 2].min(), -14.5)
        self.assertEqual(codes(proof_of(bevelled(stations=deeper))), set())

    def test_without_a_ball_bit_it_says_that_nothing_makes_it(self):
        route = changed(route_named("siskin_body"), {"do": "put_item", "list": "features", "item": ARM}, {"do": "propose"})
        self.assertEqual(codes(proof_of(route)), {"feature.not_machined"})

    def test_the_floor_over_a_cavity_from_behind_is_that_under_the_slope(self):
        """The slope is shallow where the cavity lies: the greatest drop would accuse it, what is really there does not."""
        route = bevelled()
        surface = resolve(route).solid("arm").surface
        rim = surface.region().centroid
        under = {**CAVITY, "id": "under", "name": "Under", "shape": {"kind": "rectangle", "x_mm": rim.x, "y_mm": rim.y, "length_mm": 12, "width_mm": 12, "corner_radius_mm": 4}}
        x, y, deep = surface.samples(Point(rim).buffer(6, quad_segs=1).envelope, 0.2)
        room = 45.0 - float(deep.max()) - 5.0
        for depth, told in ((room + 0.3, True), (room - 0.3, False)):
            found = proof_of(bevelled({"do": "put_item", "list": "features", "item": {**under, "depth_mm": depth}})).findings
            with self.subTest(depth=depth):
                self.assertEqual(any(f.code == "feature.floor_thin" for f in found), told)

    def test_weight_of_the_slope_is_what_the_cut_takes_within_the_outline(self):
        route = bevelled()
        resolved = resolve(route)
        share = next(s for s in balance(resolved, 45.0, layers_of(route)).shares if s.feature == "arm")
        fine, _, deep = resolved.solid("arm").surface.samples(resolved.solid("arm").region, 0.2)
        self.assertAlmostEqual(share.volume_mm3 / (float(deep.sum()) * 0.04), 1.0, delta=0.005)
        self.assertAlmostEqual(share.grams, share.volume_mm3 * 450e-6, delta=0.01)
        self.assertGreater(len(fine), 1000)

    def test_on_the_back_and_for_the_other_hand(self):
        back = changed(bevelled(face="back", id="belly", name="Belly bevel"), {"do": "turn_over"})
        proof = proof_of(back)
        self.assertEqual([f.reason for f in proof.findings], [])
        self.assertEqual({o.setup for o in back.operations if "belly" in o.features}, {"back"})
        second = proof.simulations[1]
        top, bottom = second.frame.fields(second.result, second.bottom)
        solid = resolve(back).solid("belly")
        x, y, deep = solid.surface.samples(solid.region.buffer(-1.0), 2.0)
        cells = [proof.simulation.grid.cell_of(a, b) for a, b in zip(x, y, strict=True)]
        got = np.array([bottom[c] + 45.0 for c in cells])
        self.assertLess(np.quantile(np.abs(got - deep), 0.95), 0.15)  # cell centres lie up to 0.18 from the sampled places
        left = changed(bevelled(), {"do": "mirror"})
        self.assertEqual(codes(proof_of(left)), set())
        region, flipped = resolve(bevelled()).solid("arm").region, resolve(left).solid("arm").region
        self.assertLess(shapely.affinity.scale(region, 1, -1, origin=(0, 0)).symmetric_difference(flipped).area, 0.01 * region.area)


class Clash(unittest.TestCase):
    def test_a_pocket_under_the_slope_is_told_where_the_slope_reaches_it_and_not_beside(self):
        """A tray moved square to the rim by hand: its nearest corner lies inside or outside the slope's inner line."""
        surface = resolve(bevelled()).solid("arm").surface
        region = surface.region()
        rim, _, inward, _ = surface._rim
        middle = int(np.argmin(np.hypot(*(rim - np.asarray(shapely.LinearRing(surface.ring).interpolate(0.35, normalized=True).coords[0])).T)))
        for away, told in ((30 + 2.0 + 6.0 - 3.0, True), (30 + 4.0 + 6.0 + 3.0, False)):  # width, blend, half the tray
            x, y = rim[middle] + away * inward[middle]
            tray = {"kind": "hole", "id": "tray", "name": "Tray", "points": [[float(x), float(y)]], "diameter_mm": 12, "depth_mm": 8}
            found = [f for f in proof_of(bevelled({"do": "put_item", "list": "features", "item": tray})).findings if f.code == "feature.contour_clash"]
            with self.subTest(away=away):
                self.assertEqual(bool(found), told)
                if told:
                    self.assertLess(Point(found[0].place[:2]).distance(region), 0.5)


class WithEdges(unittest.TestCase):
    def test_a_rounded_edge_stops_at_a_bevel_and_its_bearing_needs_what_the_bevel_leaves(self):
        """45 thick; radius 6 on the back, a bevel 10 deep on the front: 29 of the side stay flat."""
        front, back = (changed(bevelled(), {"do": "put_item", "list": "edges", "item": {"id": "e", "feature": "outline", "kind": "round", "size_mm": 6, "face": face}}) for face in ("front", "back"))
        plan = edge_plan(front, resolve(front))[0]
        self.assertEqual({s.why for s in plan.stretches}, {"joint: Neck pocket", "taken by Arm bevel"})
        rim = resolve(front).outline.exterior.length
        taken = max(abs(s.to_mm - s.from_mm) for s in plan.stretches if "Arm" in s.why)
        self.assertAlmostEqual(taken / rim, 0.10, delta=0.02)
        self.assertEqual(codes(proof_of(front)), set())
        self.assertAlmostEqual(edge_plan(back, resolve(back))[0].land_mm, 45 - 6 - 10, places=6)
