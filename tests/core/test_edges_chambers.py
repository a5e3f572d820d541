"""Edges, chambers, layers and balance against sampling, voxels and the simulated wood."""

import math
import random
import unittest

import numpy as np
import shapely
from shapely.geometry import Point

from birch_route.core.data import wood
from birch_route.core.instrument.balance import balance, layers_of, mean_density
from birch_route.core.instrument.chambers import propose_chambers, strap_pins
from birch_route.core.instrument.edges import edge_plan
from birch_route.core.instrument.layout import layout_of
from birch_route.core.instrument.resolve import resolve
from birch_route.core.vocabulary import Face
from tests.core.bodies import CAVITY, equipped, with_cavity
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"
THICK = 45.0


def edge(**more):
    return {"do": "put_item", "list": "edges", "item": {"id": "front_edge", "feature": "outline", "kind": "round", "size_mm": 6.0, **more}}


class Edges(unittest.TestCase):
    def test_an_edge_stays_sharp_at_the_joint_and_nowhere_else(self):
        """Every millimetre of the rim is looked at: within radius + 2 of the neck pocket it is sharp, elsewhere it is rounded."""
        route = changed(route_named(BODY), edge())
        resolved = resolve(route)
        plan = edge_plan(route, resolved)[0]
        pocket, ring = resolved.solid("neck_pocket").region, resolved.outline.exterior
        sharp = shapely.union_all([shapely.LineString(s.points) for s in plan.stretches])
        for s in np.arange(0.0, ring.length, 1.0):
            spot = ring.interpolate(s)
            near = spot.distance(pocket)
            if abs(near - 8.0) > 0.1:
                self.assertEqual(spot.distance(sharp) < 0.1, near < 8.0, (s, near))
        self.assertEqual({s.why for s in plan.stretches}, {"joint: Neck pocket"})
        self.assertAlmostEqual(plan.length_mm, ring.length)
        self.assertTrue(0 < plan.sharp_mm < 0.2 * plan.length_mm)

    def test_the_rim_of_a_cavity_under_a_plate_stays_sharp(self):
        route = changed(route_named(BODY), edge(id="rim", feature="control_cavity", kind="broken", size_mm=1.0))
        plan = edge_plan(route, resolve(route))[0]
        self.assertAlmostEqual(plan.sharp_mm, plan.length_mm, delta=0.2)
        self.assertIsNone(plan.land_mm)

    def test_land_for_a_bearing(self):
        """45 thick; radius 12 in front, a bevel 20 wide at 45 degrees behind: 13 stay; at 54.5 degrees the bevel goes 28.04 down and 4.96 stay."""
        for angle, land, told in ((45.0, 13.0, False), (54.5, 45 - 12 - 20 * math.tan(math.radians(54.5)), True)):
            route = changed(route_named(BODY), edge(size_mm=12.0), edge(id="back_edge", face="back", kind="bevel", size_mm=20.0, angle_deg=angle))
            plans = edge_plan(route, resolve(route))
            with self.subTest(angle=angle):
                self.assertEqual([round(p.land_mm, 2) for p in plans], [round(land, 2)] * 2)
                self.assertEqual("edge.no_land" in codes(proof_of(route)), told)

    def test_an_edge_that_runs_into_a_cavity(self):
        gap = resolve(with_cavity()).solid("back_cavity").region.distance(resolve(with_cavity()).outline.exterior)
        for size, told in ((gap + 0.1, True), (gap - 0.1, False)):
            route = changed(with_cavity(), edge(face="back", size_mm=size))
            with self.subTest(size=size):
                proof = proof_of(route)
                self.assertEqual("edge.meets_feature" in codes(proof), told)
                if told:
                    cure = next(f for f in proof.findings if f.code == "edge.meets_feature").cures[0]
                    self.assertNotIn("edge.meets_feature", codes(proof_of(changed(route, *cure.edits))))

    def test_a_pin_seated_on_the_edge_keeps_it_sharp_there(self):
        low = changed(equipped(), put("piece.placements.pin_tail.deep_mm", 8.0), edge())
        high = changed(equipped(), edge())
        whys = [{s.why for s in edge_plan(r, resolve(r))[0].stretches} for r in (low, high)]
        self.assertIn("seat of Strap pin", whys[0])
        self.assertNotIn("seat of Strap pin", whys[1])


class Chambers(unittest.TestCase):
    def test_a_proposed_chamber_keeps_every_wall_and_floor(self):
        """Points inside each chamber, at random: the wood they keep to everything else is measured one by one."""
        rng = random.Random(11)
        route = equipped()
        resolved = resolve(route)
        for face in Face:
            for number, c in enumerate(propose_chambers(route, resolved, face), 1):
                drawn = changed(route, {"do": "add_chambers", "face": face.value, "number": number})
                cut = resolve(drawn).solid(next(f.id for f in drawn.piece.features if f.id.startswith("chamber_")))
                xmin, ymin, xmax, ymax = c.region.bounds
                spots = [Point(rng.uniform(xmin, xmax), rng.uniform(ymin, ymax)) for _ in range(150)]
                for spot in (s for s in spots if c.region.contains(s)):
                    self.assertGreater(spot.distance(resolved.outline.exterior), 13.9)
                    self.assertGreater(abs(spot.y), 19.9)
                    for solid in resolved.solids.values():
                        if solid.kind == "outline":
                            continue
                        opposite = solid.floor_mm is not None and solid.face is not face
                        here = np.array([spot.x]), np.array([spot.y])
                        deep = float(cut.surface.depth(*here)[0]) if cut.surface is not None else c.depth_mm
                        taken = 0.0 if not opposite or solid.region.distance(spot) > 0 else float(solid.surface.depth(*here)[0]) if solid.surface is not None else solid.deep_mm(THICK)
                        self.assertGreaterEqual(THICK - taken - deep, 4.99, solid.id)
                        if not opposite:
                            self.assertGreater(solid.region.distance(spot), 15.9 if solid.must_be_measured or solid.kind == "hole" else 7.9, solid.id)
                self.assertGreaterEqual(c.area_mm2, 1500)
                self.assertEqual(len(c.region.interiors), 0)

    def test_the_grams_a_chamber_saves_are_those_the_simulation_takes_away(self):
        route = route_named(BODY)
        resolved = resolve(route)
        best = propose_chambers(route, resolved)[0]
        cut = changed(route, {"do": "add_chambers", "number": 1}, {"do": "propose_for", "feature": "chamber_1"})
        proof = proof_of(cut)
        self.assertEqual(codes(proof), set())
        step = next(s for s in proof.simulation.steps if "chamber_1" in s.operation.features)
        self.assertAlmostEqual(step.removed_mm3 * 450e-6 / best.grams, 1.0, delta=0.005)
        lighter = balance(resolve(cut), THICK, layers_of(cut))
        before = balance(resolved, THICK, layers_of(route))
        self.assertAlmostEqual((before.kg - lighter.kg) * 1000, best.grams, delta=0.005 * best.grams)

    def test_chambers_go_no_deeper_than_what_lies_on_the_other_face_allows(self):
        under = {**CAVITY, "id": "under", "name": "Under", "shape": {"kind": "rectangle", "x_mm": 140, "y_mm": -90, "length_mm": 60, "width_mm": 40}, "depth_mm": 12, "least_floor_mm": 4}
        route = changed(route_named(BODY), {"do": "put_item", "list": "features", "item": under})
        over = [c for c in propose_chambers(route, resolve(route)) if c.region.intersects(resolve(route).solid("under").region)]
        self.assertEqual([(round(c.depth_mm, 3), c.follows) for c in over], [(45 - 5, True)])
        drawn = changed(route, {"do": "add_chambers", "face": "front", "number": 1 + propose_chambers(route, resolve(route)).index(over[0])})
        floor = next(s for k, s in resolve(drawn).solids.items() if k.startswith("chamber_")).surface
        inside = resolve(route).solid("under").region.intersection(over[0].region).representative_point()
        self.assertAlmostEqual(float(floor.depth(np.array([inside.x]), np.array([inside.y]))[0]), 45 - 5 - 12, places=6)

    def test_an_island_is_joined_to_the_rim_by_a_wall(self):
        """A post hole in the middle of free wood would stand in a ring-shaped chamber; a pocket is one closed curve, so a wall of 8 leads to it."""
        post = {"kind": "hole", "id": "post", "name": "Post", "points": [[140, -80]], "diameter_mm": 10, "depth_mm": 20}
        route = changed(route_named(BODY), {"do": "put_item", "list": "features", "item": post})
        regions = [c.region for c in propose_chambers(route, resolve(route))]
        self.assertTrue(all(not r.interiors for r in regions))
        self.assertTrue(all(r.distance(Point(140, -80)) > 5 + 15.9 for r in regions))
        drawn = changed(route, {"do": "add_chambers"}, {"do": "propose"})
        self.assertEqual(codes(proof_of(drawn)), set())

    def test_a_cap_is_asked_for_and_is_not_weighed_away(self):
        capped = changed(route_named(BODY), put("blank.layers", [{"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": 6.8}, {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": 39}]))
        plain, under = (propose_chambers(r, resolve(r))[0] for r in (route_named(BODY), capped))
        self.assertTrue(plain.needs_cap and "cap" in plain.words)
        self.assertFalse(under.needs_cap)
        self.assertAlmostEqual(under.grams / plain.grams, (40 - 6) / 40, delta=1e-6)  # the core's part only: 6.8 less the skim of 0.8


class Layers(unittest.TestCase):
    def test_weight_of_layers_and_of_both_faces_against_voxels(self):
        layers = [{"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": 6.8}, {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": 39}]
        through = {**CAVITY, "id": "deep_one", "name": "Deep", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -70, "length_mm": 80, "width_mm": 40}, "depth_mm": 20}  # meets the control cavity
        route = changed(equipped(), put("blank.layers", layers), {"do": "put_item", "list": "features", "item": through})
        resolved = resolve(route)
        found = balance(resolved, THICK, layers_of(route))
        step = 1.0
        xs, ys, zs = np.arange(-2, 416, step) + 0.5 * step, np.arange(-155, 145, step) + 0.5 * step, -np.arange(0.25, THICK, 0.5)
        gx, gy = np.meshgrid(xs, ys)
        solid = np.repeat(shapely.contains_xy(resolved.outline, gx, gy)[None], len(zs), axis=0)
        for one in resolved.solids.values():
            if one.kind != "outline":
                low, high = one.span_mm(THICK)
                inside = shapely.contains_xy(one.region, gx, gy)
                solid[(zs > low) & (zs < high)] &= ~inside
        density = np.where(zs > -6.0, wood("hard_maple").density_kg_m3, wood("alder").density_kg_m3)
        grams = solid.sum(axis=(1, 2)) * density * 1e-6 * 0.5 * step**2
        self.assertAlmostEqual(found.kg * 1000 / grams.sum(), 1.0, delta=0.005)
        self.assertAlmostEqual(found.x_mm, float((solid * gx * density[:, None, None]).sum() / (solid * density[:, None, None]).sum()), delta=0.3)
        self.assertAlmostEqual(found.z_mm, float((zs * grams).sum() / grams.sum()), delta=0.1)

    def test_a_weighed_blank_weighs_what_it_weighs(self):
        route = changed(route_named(BODY), put("blank.weighed_kg", 4.2), put("blank.layers", [{"id": "a", "kind": "cap", "wood": "hard_maple", "thickness_mm": 10}, {"id": "b", "kind": "core", "wood": "alder", "thickness_mm": 35.8}]))
        blank = route.blank
        area = blank.length_mm * blank.width_mm * 1e-9
        self.assertAlmostEqual(mean_density(route) * area * blank.thickness_mm, 4.2, places=6)
        self.assertAlmostEqual(sum(d * (t - u) for d, t, u in layers_of(route)) * area, 4.2, places=6)

    def test_settings_follow_the_hardest_layer_that_is_met(self):
        layers = [{"id": "cap", "kind": "cap", "wood": "spruce", "thickness_mm": 10.8}, {"id": "core", "kind": "core", "wood": "hard_maple", "thickness_mm": 35}]
        route = changed(route_named(BODY), put("blank.layers", layers), {"do": "propose"})
        met = {s.operation.id: s.species.id for s in proof_of(route).simulation.steps}
        self.assertEqual((met["pocket_bridge_recess"], met["pocket_control_cavity"], met["face"]), ("spruce", "hard_maple", "spruce"))
        self.assertEqual({f.code for f in proof_of(route).findings}, set())

    def test_layers_that_do_not_add_up_are_told(self):
        for core, told in ((38.7, True), (38.95, False)):
            route = changed(route_named(BODY), put("blank.layers", [{"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": 6.8}, {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": core}]))
            self.assertEqual("blank.layers_off" in codes(proof_of(route)), told, core)


class Hangs(unittest.TestCase):
    def test_the_instrument_hangs_from_its_pins_by_hand_arithmetic(self):
        route = changed(equipped(), put("choices.neck_kg", 0.62), put("choices.neck_balance_mm", 300.0))
        found = layout_of(route).hang
        body = layout_of(route).weight
        (ax, ay), (bx, by) = strap_pins(resolve(route))
        kg = body["kg"] + 0.62
        x = (body["kg"] * body["x_mm"] + 0.62 * (62.025 - 300)) / kg
        y = body["kg"] * body["y_mm"] / kg
        along = math.hypot(bx - ax, by - ay)
        ux, uy = (bx - ax) / along, (by - ay) / along
        mx, my = (ax + bx) / 2, (ay + by) / 2
        forward, up = -((x - mx) * ux + (y - my) * uy), -(x - mx) * uy + (y - my) * ux
        self.assertAlmostEqual(found["nose_deg"], math.degrees(math.atan2(forward, 700 - up)), places=6)
        self.assertAlmostEqual(found["kg"], kg)
        self.assertIsNone(layout_of(equipped()).hang)
