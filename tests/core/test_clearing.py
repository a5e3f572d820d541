"""Bounded engagement in a route: chosen, proposed, cut, kept, told."""

import unittest

import numpy as np
from shapely.geometry import box

from birch_route.core.clearing import plan as plans
from birch_route.core.clearing.engaged import clear_engaged
from birch_route.core.clearing.fields import Cells
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import Cache
from birch_route.core.vocabulary import Clearing
from birch_route.demo.fitted import fitted_route
from tests.support import changed, put, route_named


def choose(operation, clearing="engaged"):
    return read_edit({"do": "choose_clearing", "operation": operation, "clearing": clearing})


class InARoute(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.cache = Cache()
        cls.route = fitted_route(True)
        cls.before = prove(cls.route, cls.cache)

    def step(self, proof, operation):
        return next(s for s in proof.steps if s.operation.id == operation)

    def test_the_same_wood_is_left_by_deeper_narrower_passes_and_no_new_finding(self):
        name = "pocket_switch_cavity"
        proof = prove(apply_edits(self.route, [choose(name)]), self.cache)
        one, other = self.step(self.before, name), self.step(proof, name)
        np.testing.assert_array_equal(one.top, other.top)
        self.assertEqual([f.code for f in proof.findings], [f.code for f in self.before.findings])
        self.assertGreater(other.operation.settings.depth_of_cut_mm, one.operation.settings.depth_of_cut_mm * 1.5)
        self.assertLess(other.widest_mm, 0.8 * other.bit.cut_diameter_mm / 2)
        self.assertIn("degrees of the rim", other.operation.reasons["depth_of_cut_mm"])

    def test_a_slot_is_told_with_its_cures_and_left(self):
        name = "pocket_switch_1_slot"
        changed = apply_edits(self.route, [choose(name)])
        proof = prove(changed, self.cache)
        found = next(f for f in proof.findings if f.code == "clearing.slot")
        self.assertEqual((found.operation, found.severity.value), (name, "care"))
        self.assertTrue(any(f.code == "feature.stock_left" and f.feature == found.feature for f in proof.findings))
        rings = next(c for c in found.cures if "rings" in c.label)
        cured = apply_edits(changed, [read_edit(e) for e in rings.edits])
        self.assertEqual([f.code for f in prove(cured, self.cache).findings], [f.code for f in self.before.findings])

    def test_what_was_set_by_hand_stays(self):
        name = "pocket_switch_cavity"
        told = apply_edits(self.route, [read_edit({"do": "set", "path": f"operations.{name}.settings.depth_of_cut_mm", "value": 3.0})])
        self.assertIn("depth_of_cut_mm", told.operation(name).told)
        changed = apply_edits(told, [choose(name)]).operation(name)
        self.assertEqual((changed.settings.depth_of_cut_mm, changed.clearing), (3.0, Clearing.ENGAGED))
        back = apply_edits(self.route, [choose(name), choose(name, "rings")]).operation(name)
        self.assertEqual(back.settings, self.route.operation(name).settings)

    def test_only_pockets_can_be_cleared_another_way(self):
        with self.assertRaisesRegex(InputError, "Only an operation that clears a pocket"):
            apply_edits(self.route, [choose("profile_outline")])

    def test_progress_says_how_far_the_way_is_found_and_may_stop_it(self):
        class Enough(Exception):
            pass
        seen = []

        def progress(done, of):
            seen.append(done)
            if done % 1 > 0.3:
                raise Enough
        operation = apply_edits(self.route, [choose("pocket_control_cavity"), read_edit({"do": "set", "path": "operations.pocket_control_cavity.engaged_deg", "value": 47.0})])
        with self.assertRaises(Enough):
            prove(operation, Cache(), progress=progress)
        parts = [s for s in seen if s % 1 > 0]
        self.assertGreater(len(parts), 3)
        self.assertEqual(parts, sorted(parts))


class Spared(unittest.TestCase):
    def test_a_wall_that_nobody_sees_gets_no_pass_and_says_what_that_spares(self):
        route = fitted_route(True)
        for operation in (o for o in route.operations if o.kind.value == "pocket"):
            shown = {f.finish_class.value for f in route.features if f.id in operation.features} & {"shown", "fitted"}
            with self.subTest(operation.id):
                self.assertEqual(operation.finish_pass, bool(shown))
                self.assertEqual("spares" in operation.reasons.get("finish_pass", ""), not shown)
        told = float(route.operation("pocket_control_cavity").reasons["finish_pass"].split("spares ")[1].split(" min")[0])
        edits = [read_edit({"do": "set", "path": f"operations.pocket_control_cavity.{k}", "value": v}) for k, v in (("finish_pass", True), ("finish_allowance_mm", 0.3))]
        minutes = [next(s for s in prove(r, Cache()).steps if s.operation.id == "pocket_control_cavity").minutes for r in (route, apply_edits(route, edits))]
        self.assertAlmostEqual(minutes[1] - minutes[0], told, delta=0.5 * told + 0.1)

    def test_a_cavity_under_a_plate_is_hidden_however_it_was_drawn(self):
        """The plate's rebate goes round it on its face and ends above its floor; one beside it, or on the other face, stays as drawn."""
        route = changed(route_named("siskin_body"), put("piece.features.control_cavity.finish_class", "shown"), put("piece.features.pickup_pocket.finish_class", "shown"))
        solids = resolve(route).solids
        self.assertEqual((solids["control_cavity"].finish_class, solids["control_cavity"].hidden_by), ("hidden", route.part("plate").name))
        self.assertEqual([solids[k].finish_class.value for k in ("pickup_pocket", "plate_rebate")], ["shown", "shown"])
        made = changed(route, {"do": "propose"})
        self.assertEqual([made.operation(f"pocket_{k}").finish_pass for k in ("control_cavity", "pickup_pocket")], [False, True])
        self.assertIn(f"hidden under {route.part('plate').name}", made.operation("pocket_control_cavity").reasons["finish_pass"])
        wider = changed(route, put("piece.features.control_cavity.shape.width_mm", 90))
        self.assertEqual(resolve(wider).solid("control_cavity").finish_class, "shown")
        other = changed(route, put("piece.features.control_cavity.face", "back"))
        self.assertEqual(resolve(other).solid("control_cavity").finish_class, "shown")


class Kept(unittest.TestCase):
    def test_a_plan_reads_back_as_it_was(self):
        plan = clear_engaged(box(0, 0, 18, 9), 3.0, 60.0)
        plan = plans.Plan(plan.legs, [(1.0, 2.0, 6.1)], [np.array([[0.0, 1.0], [2.0, 3.0]])])
        back = plans.decode(plans.encode(plan))
        self.assertEqual([leg.kind for leg in back.legs], [leg.kind for leg in plan.legs])
        for a, b in zip([*plan.legs], [*back.legs], strict=True):
            np.testing.assert_array_equal(a.points, b.points)
        self.assertEqual(back.slots, plan.slots)
        np.testing.assert_array_equal(back.blocked[0], plan.blocked[0])
        empty = plans.decode(plans.encode(plans.Plan([])))
        self.assertEqual((empty.legs, empty.slots, empty.blocked), ([], [], []))

    def test_the_shelf_is_asked_before_anything_is_made(self):
        class Memory(dict):
            find = dict.get

            def put(self, key, data):
                self[key] = data
        shelf, made = Memory(), []

        def make():
            made.append(1)
            return plans.Plan([plans.Leg(plans.LegKind.CUT, np.array([[0.0, 0.0], [1.0, 0.0]]))])
        before = plans._shelf
        self.addCleanup(plans.use_shelf, before)
        plans.use_shelf(shelf)
        plans.kept_plan("test key", make)
        plans._kept.clear()
        again = plans.kept_plan("test key", make)
        self.assertEqual((len(made), len(shelf), again.legs[0].length_mm()), (1, 1, 1.0))


class Fields(unittest.TestCase):
    def test_distances_agree_with_exact_ones(self):
        import shapely
        region = box(0, 0, 20, 12).difference(box(5, 4, 9, 8)).buffer(-0.5).buffer(0.5, quad_segs=32)
        cells = Cells.over(region, 0.1, 3.0)
        field = cells.signed(region)
        rng = np.random.default_rng(5)
        places = np.column_stack([rng.integers(0, cells.columns, 400), rng.integers(0, cells.rows, 400)])
        points = shapely.points(cells.xy(places))
        exact = shapely.distance(region.boundary, points) / 0.1
        exact = np.where(shapely.contains(region, points), exact, -exact)
        difference = np.abs(field[places[:, 1], places[:, 0]] - exact)
        self.assertLess(difference.max(), 1.0)
        self.assertLess(difference[np.abs(exact) < 5].max(), 1e-4)
