"""How well a route is held: found where it is too little and not where it is enough, by cures that cure; a vacuum that is opened; hardware in the way."""

import math
import random
import unittest
from dataclasses import replace

import numpy as np
from shapely.geometry import Point, Polygon

from birch_route.core.data import figures
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.heights.field import Wood, cut_path
from birch_route.core.instrument.plan import supports_plan
from birch_route.core.instrument.resolve import resolve
from birch_route.core.motion.toolpath import Toolpath
from birch_route.core.proving.holds import holds, places_of
from birch_route.core.proving.rules_holding import hardware_in_the_way
from birch_route.core.proving.spans import _lies, spacers, support_profile
from birch_route.core.route import Hardware
from birch_route.core.vocabulary import RAPID_CODE
from birch_route.demo.fitted import fitted_route
from birch_route.demo.shop import MORE_BITS
from tests.support import changed, codes, put, route_named
from tests.support import proof_of as in_cells

BODY, NECK = "siskin_body", "siskin_neck_face"


def proof_of(route):
    """What bears and what gives is read off the wood to the tenth: in the cells a route is proved in."""
    return in_cells(route, fine=True)


def bare(route):
    """Return a route with nothing that holds."""
    return changed(route, *({"do": "remove_hardware", "setup": s.id, "hardware": h.id} for s in route.setups for h in s.hardware))


def held_with(route, *hardware):
    return changed(bare(route), *({"do": "put_hardware", "setup": "front", "hardware": h} for h in hardware))


def clamps(route, press):
    """Two edge clamps against each other, across the middle."""
    b = route.blank
    x = b.x_mm + b.length_mm / 2
    return [{"id": "c1", "kind": "edge_clamp", "x_mm": x, "y_mm": b.y_mm, "angle_deg": -90, "top_mm": -8, "press_n": press}, {"id": "c2", "kind": "edge_clamp", "x_mm": x, "y_mm": b.y_mm + b.width_mm, "angle_deg": 90, "top_mm": -8, "press_n": press}]


def weak(route):
    return [f for f in proof_of(route).findings if f.code == "holding.weak"]


class Limits(unittest.TestCase):
    def test_what_clamps_press_with_is_told_just_under_the_factor_and_not_just_over(self):
        """All contacts are clamps, so what they hold goes in proportion to their press, and the limit can be reckoned from one reading."""
        for name in (BODY, NECK):
            route = route_named(name)
            found = [h for h in holds(proof_of(held_with(route, *clamps(route, 60.0))).simulation) if h and not h.joined]
            limit = 60.0 * max(h.needs / h.factor for h in found)
            with self.subTest(name):
                self.assertEqual(len(weak(held_with(route, *clamps(route, 0.97 * limit)))), 1)
                self.assertEqual(weak(held_with(route, *clamps(route, 1.03 * limit))), [])

    def test_tabs_that_are_too_small_are_told_and_wider_ones_cure(self):
        route = route_named(BODY)
        op = route.operation("profile_outline")
        hold = next(h for h, s in zip(holds(proof_of(route).simulation), proof_of(route).steps, strict=True) if s.operation.id == op.id)
        self.assertTrue(hold.joined)
        self.assertEqual(hold.needs, figures()["holding"]["factor_freed"])
        part = hold.needs / hold.factor
        for scale, told in ((0.95 * part, 1), (1.05 * part, 0)):
            tabs = [{**t.model_dump(mode="json"), "width_mm": t.width_mm * scale} for t in op.tabs]
            made = changed(route, put("operations.profile_outline.tabs", tabs))
            with self.subTest(scale=scale):
                self.assertEqual(len(weak(made)), told)
        cure = weak(changed(route, put("operations.profile_outline.tabs", [{**t.model_dump(mode="json"), "width_mm": t.width_mm * 0.9 * part} for t in op.tabs])))[0].cures[0]
        self.assertIn("Tabs", cure.label)

    def test_every_cure_of_every_weak_holding_cures_it(self):
        route = route_named(BODY)
        one_side = [h.model_dump(mode="json") for h in route.setups[0].hardware if h.id in ("s3", "s4")]
        cases = {"two clamps": held_with(route, *clamps(route, 60.0)), "two screws": held_with(route, *one_side), "neck": held_with(route_named(NECK), *clamps(route_named(NECK), 80.0))}
        tried = 0
        for name, case in cases.items():
            for cure in (weak(case) or [None])[0].cures if weak(case) else []:
                with self.subTest(name, cure=cure.label):
                    before = weak(case)[0]
                    after = [f for f in weak(apply_edits(case, [read_edit(e) for e in cure.edits])) if f.operation == before.operation]
                    self.assertEqual([f.reason for f in after], [])
                    tried += 1
        self.assertGreaterEqual(tried, 3)

    def test_a_slower_feed_is_held_where_a_fast_one_is_not(self):
        """The force falls with the chip; the same holding is enough again."""
        route = route_named(BODY)
        found = [h for h in holds(proof_of(held_with(route, *clamps(route, 60.0))).simulation) if h and not h.joined]
        press = 0.985 * 60.0 * max(h.needs / h.factor for h in found)
        finding = weak(held_with(route, *clamps(route, press)))[0]
        self.assertTrue(any(c.label.startswith("Feed") for c in finding.cures), [c.label for c in finding.cures])

    def test_a_bit_that_does_not_lift_and_a_bounded_engagement_are_offered_where_they_are_enough(self):
        """Tape near its limit: without the lift it holds; a pocket cleared with less of the rim in wood pulls less."""
        offered = set()
        for route, part in ((route_named(BODY), k) for k in (0.97, 0.9, 0.8)):
            down = next(b for b in MORE_BITS if b["id"] == "down6")
            pocket = next(o for o in route.operations if o.kind.value == "pocket" and not o.rest)
            route = changed(route, put("bits", [*[b.model_dump(mode="json") for b in route.bits], {**down, "cutting_length_mm": 40.0, "stickout_mm": 46.0}]), put(f"operations.{pocket.id}.finish_pass", False))
            alone = route.model_copy(update={"operations": [o for o in route.operations if o.kind.value == "face" or o.id == pocket.id], "bench_steps": []})
            found = next(h for h, s in zip(holds(proof_of(held_with(alone, *clamps(alone, 100.0))).simulation), proof_of(held_with(alone, *clamps(alone, 100.0))).simulation.steps, strict=True) if h and s.operation.id == pocket.id)
            press = part * 100.0 * found.needs / found.factor
            held = held_with(alone, *clamps(alone, press))
            for finding in weak(held):
                if finding.operation != pocket.id:
                    continue
                for cure in finding.cures:
                    if "lift" in cure.label or "rim in wood" in cure.label:
                        offered.add("lift" if "lift" in cure.label else "rim")
                        self.assertNotIn(pocket.id, [f.operation for f in weak(apply_edits(held, [read_edit(e) for e in cure.edits]))], cure.label)
        self.assertIn("rim", offered)

    def test_no_moment_inside_a_cut_is_held_less_than_is_told_of_its_end(self):
        """Contacts only lessen while the wood is parted: a cut broken off at any moment is held at least as well as the whole of it."""
        rng, looked = random.Random(5), 0
        for route, name in ((route_named(BODY), "profile_outline"), (route_named(NECK), "profile_outline"), (fitted_route(True), "profile_outline")):
            proof = proof_of(route)
            sim, index = next((s, k) for s in proof.simulations for k, step in enumerate(s.steps) if step.operation.id == name)
            told, step = holds(sim)[index], sim.steps[index]
            for part in (0.05, 0.5, *(rng.uniform(0.05, 0.99) for _ in range(3))):
                n = max(step.lead_moves + 2, int(part * len(step.path)))
                path = Toolpath(step.path.points[: n + 1], step.path.kinds[:n], step.path.feeds[:n])
                wood = Wood(sim.grid, sim.top_before(index).copy(), sim.bottom)
                metrics = cut_path(wood, path, step.bit, route.machine.nut_diameter_mm, step.ceiling_mm, route.machine.heads)
                broken = replace(step, path=path, metrics=metrics, top=wood.top, motion_key=f"broken off {name} {n}")
                there = replace(sim, steps=[*sim.steps[:index], broken], motion_key=f"broken off {route.job} {name} {n}")
                hold = holds(there)[index]
                if hold is not None:
                    looked += 1
                    self.assertGreaterEqual(hold.factor / hold.needs, 0.97 * told.factor / told.needs, f"{route.job} {part}")
        self.assertGreater(looked, 9)

    def test_clean_routes_are_held_and_the_factor_is_written_for_every_sideways_cut(self):
        for route in (route_named(BODY), route_named(NECK), route_named("control_plate"), fitted_route()):
            proof = proof_of(route)
            self.assertFalse(codes(proof) & {"holding.weak", "holding.leaks"})
            for sim in proof.simulations:
                for hold, step in zip(holds(sim), sim.steps, strict=True):
                    self.assertEqual(hold is None, step.operation.kind.value == "drill" or places_of(step) is None, step.operation.id)


class Vacuum(unittest.TestCase):
    PAD = {"id": "v1", "kind": "vacuum", "x_mm": 260, "y_mm": 0, "length_mm": 360, "width_mm": 60}

    def test_it_presses_with_its_area_and_what_it_holds_goes_with_pressure(self):
        route = route_named(NECK)
        by = [next(h for h in holds(proof_of(held_with(route, {**self.PAD, "x_mm": 255, "length_mm": 100, "width_mm": 20, "pressure_bar": p})).simulation) if h) for p in (0.3, 0.6)]
        self.assertAlmostEqual(by[1].least_n / by[0].least_n, 2.0, delta=0.02)

    def test_a_cut_through_over_it_and_wood_that_does_not_cover_it_are_told(self):
        route = route_named(NECK)
        tuners = next(f for f in route.features if f.id == "tuner_holes")
        x = tuners.points[0][0]
        over_holes = changed(held_with(route, {**self.PAD, "x_mm": x, "length_mm": 40, "width_mm": 60}), put("machine.pump", None))  # what a pump would keep nobody knows
        opened = [f for f in proof_of(over_holes).findings if f.code == "holding.leaks"]
        self.assertEqual([f.operation for f in opened], [next(o.id for o in route.operations if "tuner_holes" in o.features)])
        wide = held_with(route, {**self.PAD, "width_mm": 130})
        self.assertEqual([f.hardware for f in proof_of(wide).findings if f.code == "holding.leaks"], ["v1"])
        turned = changed(route, {"do": "turn_over"})
        beneath = changed(turned, *({"do": "remove_hardware", "setup": "back", "hardware": h.id} for h in turned.setup("back").hardware), {"do": "put_hardware", "setup": "back", "hardware": {**self.PAD, "x_mm": 280, "length_mm": 200, "width_mm": 20}})
        (leak,) = [f for f in proof_of(beneath).findings if f.code == "holding.leaks"]
        self.assertIn("gasket", leak.reason)  # the rod channel of the face below runs out under its ends, inside the outline
        clear = held_with(route, {**self.PAD, "x_mm": 255, "length_mm": 100, "width_mm": 20})
        self.assertFalse("holding.leaks" in codes(proof_of(clear)))


class Free(unittest.TestCase):
    """Wood over a cavity of the face that lies below."""

    def over_cavity(self, deep):
        thin = {"kind": "pocket", "id": "thin", "name": "Thin place", "shape": {"kind": "rectangle", "x_mm": 306, "y_mm": -84, "length_mm": 60, "width_mm": 20, "corner_radius_mm": 5, "angle_deg": 12}, "depth_mm": 6.0, "face": "back", "least_floor_mm": 0}
        return changed(fitted_route(True), put("piece.features.control_cavity.least_floor_mm", 0.0), put("piece.features.control_cavity.depth_mm", deep), {"do": "put_item", "list": "features", "item": thin}, {"do": "propose_for", "feature": "thin"})

    @staticmethod
    def plate(force, long, thick):
        """A square plate on its four edges by its own series: w = 4 F L^2 / (pi^4 D) times the sum over odd m, n of 1 / (m^2 + n^2)^2."""
        odd = np.arange(1, 80, 2)
        total = (1.0 / (odd[:, None] ** 2 + odd[None, :] ** 2) ** 2).sum()
        return 4 * force * long**2 / (np.pi**4 * 900 * thick**3 / (12 * 0.91)) * total

    def test_a_floor_that_gives_just_too_much_is_told_and_a_spacer_under_it_carries_it(self):
        route = self.over_cavity(37.0)
        (found,) = [f for f in proof_of(route).findings if f.code == "holding.span"]
        facts = {f.name: f.value for f in found.facts}
        by_hand = self.plate(facts["force"], facts["span"], facts["thick"])
        self.assertAlmostEqual(facts["gives"], by_hand, delta=0.05 * by_hand)
        self.assertAlmostEqual(facts["thick"], 45 - 6 - 37.0, delta=0.02)
        self.assertAlmostEqual(facts["span"], 20, delta=2.5)
        self.assertIn("holding.span", codes(proof_of(self.over_cavity(37.5))))
        self.assertNotIn("holding.span", codes(proof_of(self.over_cavity(36.5))))
        cured = apply_edits(route, [read_edit(e) for e in found.cures[0].edits])
        proof = proof_of(cured)
        self.assertNotIn("holding.span", codes(proof))
        spacer = next(h for h in cured.setup("back").hardware if h.kind.value == "spacer")
        self.assertAlmostEqual(spacers(proof.simulations[1])[spacer.id], 37.0 + 0.8, delta=0.01)  # the skimmed face hangs over the board by what the waste kept
        self.assertEqual(float(found.cures[0].label.split("spacer ")[1].split(" ")[0]), 37.8)

    def test_a_support_is_cut_to_the_face_that_lies_on_it(self):
        """Under the arm bevel, which lies down when the back is up: its height anywhere is what the bevel's own formula takes away there, and what the waste kept of the skim."""
        route = fitted_route(True)
        arm = resolve(route).solid("arm")
        x, y = arm.region.representative_point().coords[0]
        support = {"id": "u1", "kind": "spacer", "x_mm": round(x, 1), "y_mm": round(y, 1), "length_mm": 30, "width_mm": 12, "angle_deg": 60, "shaped": True}
        sim = proof_of(changed(route, {"do": "put_hardware", "setup": "back", "hardware": support})).simulations[1]
        h = next(h for h in sim.setup.hardware if h.id == "u1")
        profile = support_profile(sim, h, 2.0)
        self.assertGreater(len(profile), 8)
        c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
        checked = 0
        for along, high in profile:
            px, py, _ = sim.frame.point(h.x_mm + (along - 15) * c, h.y_mm + (along - 15) * s, 0.0)
            if arm.region.buffer(-1.5).contains(Point(px, py)):
                checked += 1
                self.assertAlmostEqual(high, float(arm.surface.depth(np.array([px]), np.array([py]))[0]) + 0.8, delta=0.12)  # a cell sideways on the slope, and the ridge
        self.assertGreater(checked, 5)
        self.assertGreater(max(z for _, z in profile) - min(z for _, z in profile), 0.4)
        plan = supports_plan("Try", {"u1": profile}, 12.0)
        self.assertAlmostEqual(Polygon(plan.rings[0].points).area, np.trapezoid([z for _, z in profile], [a for a, _ in profile]), delta=0.5)

    def test_a_flat_spacer_under_a_slope_meets_its_lowest_place_only(self):
        route = fitted_route(True)
        x, y = resolve(route).solid("arm").region.representative_point().coords[0]
        flat = {"id": "u1", "kind": "spacer", "x_mm": round(x, 1), "y_mm": round(y, 1), "length_mm": 40, "width_mm": 40}
        carried = []
        for shaped in (False, True):
            sim = proof_of(changed(route, {"do": "put_hardware", "setup": "back", "hardware": {**flat, "shaped": shaped}})).simulations[1]
            carried.append(int((_lies(sim).regions > 0).sum()))
        self.assertGreater(carried[0], carried[1])

    def test_a_spacer_holds_nothing(self):
        route = held_with(route_named(NECK), {"id": "u1", "kind": "spacer", "x_mm": 200, "y_mm": 0})
        self.assertIn("holding.nothing", codes(proof_of(route)))


class InTheWay(unittest.TestCase):
    """Thirty layouts with one screw or clamp wrongly placed, ten that are clear, judged by dense samples of where bit, collet nut and spindle nose go."""

    @classmethod
    def setUpClass(cls):
        cls.route = route_named(BODY)
        cls.sim = sim = proof_of(cls.route).simulation
        cls.swept = []
        for step in sim.steps:
            a, b = step.path.points[:-1], step.path.points[1:]
            n = np.maximum(1, np.ceil(np.linalg.norm(b - a, axis=1) / 0.4).astype(int))
            part = np.concatenate([np.arange(k) / k for k in n])
            points = np.repeat(a, n, axis=0) + part[:, None] * np.repeat(b - a, n, axis=0)
            for radius, up in ((max(step.bit.cut_diameter_mm, step.bit.shank_diameter_mm) / 2, 0.0), (sim.route.machine.nut_diameter_mm / 2, step.bit.stickout_mm),
                               (sim.route.machine.spindle_diameter_mm / 2, step.bit.stickout_mm + sim.route.machine.nut_length_mm)):
                cls.swept.append((radius, points[:, :2], points[:, 2] + up))

    def gap(self, hardware, top_z):
        """Return the least distance of the samples to a disc or block whose top is at top_z."""
        best = math.inf
        for radius, plan, z in self.swept:
            low = plan[z < top_z]
            if not len(low):
                continue
            d = low - [hardware["x_mm"], hardware["y_mm"]]
            if hardware["kind"] == "screw":
                away = np.hypot(d[:, 0], d[:, 1]) - 4.0
            else:
                t = math.radians(hardware["angle_deg"])
                u, v = d[:, 0] * math.cos(t) + d[:, 1] * math.sin(t), -d[:, 0] * math.sin(t) + d[:, 1] * math.cos(t)
                away = np.hypot(np.maximum(0, np.maximum(-u, u - 40.0)), np.maximum(0, np.abs(v) - 25.0))
            best = min(best, float(away.min()) - radius)
        return best

    def test_thirty_in_the_way_are_found_and_ten_clear_ones_are_not_accused(self):
        rng, blank = random.Random(11), self.route.blank
        hit, clear = 0, 0
        while hit < 30 or clear < 10:
            if rng.random() < 0.7:
                one = {"id": "x1", "kind": "screw", "x_mm": round(blank.x_mm + rng.uniform(8, blank.length_mm - 8), 1), "y_mm": round(blank.y_mm + rng.uniform(8, blank.width_mm - 8), 1), "top_mm": -1.5}
            else:
                low = rng.random() < 0.5
                one = {"id": "x1", "kind": "edge_clamp", "x_mm": round(blank.x_mm + rng.uniform(30, blank.length_mm - 30), 1), "y_mm": blank.y_mm + (0 if low else blank.width_mm), "angle_deg": -90 if low else 90, "top_mm": round(rng.uniform(-20, 30), 1)}
            gap = self.gap(one, blank.top_mm + one["top_mm"])
            wanted = "hit" if gap < -0.2 else "clear" if gap > 8.5 else ""
            if not wanted or (hit if wanted == "hit" else clear) >= (30 if wanted == "hit" else 10):
                continue
            setup = self.sim.setup.model_copy(update={"hardware": [*self.sim.setup.hardware, Hardware.model_validate(one)]})
            found = {f.code for f in hardware_in_the_way(replace(self.sim, setup=setup)) if f.hardware == "x1"}
            with self.subTest(one):
                self.assertEqual(found, {"hardware.hit"} if wanted == "hit" else set(), gap)
            hit, clear = hit + (wanted == "hit"), clear + (wanted == "clear")

    def test_what_lies_under_the_blank_is_never_hit(self):
        under = changed(self.route, {"do": "put_hardware", "setup": "front", "hardware": {"id": "d1", "kind": "tape", "x_mm": 200, "y_mm": 0, "length_mm": 200, "width_mm": 50}})
        self.assertFalse(codes(proof_of(under)) & {"hardware.hit", "hardware.near"})


class Places(unittest.TestCase):
    def test_every_cut_lies_inside_the_hull_of_its_places_but_for_a_little(self):
        for step in proof_of(route_named(BODY)).steps:
            places = places_of(step)
            if places is None:
                continue
            points = step.path.points[1:][(step.path.kinds != RAPID_CODE) & (np.arange(len(step.path)) >= step.lead_moves)]
            for deg in range(0, 360, 30):
                way = np.array([math.cos(math.radians(deg)), math.sin(math.radians(deg))])
                spread = np.ptp(points[:, :2] @ way)
                self.assertGreaterEqual((places[:, :2] @ way).max(), (points[:, :2] @ way).max() - 0.08 * spread - 1.0)


if __name__ == "__main__":
    unittest.main()
