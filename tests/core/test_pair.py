"""An outline in two operations: one bit roughs it, another takes the last pass."""

import unittest

from shapely.geometry import Point

from birch_route.core.errors import InputError
from birch_route.core.motion.toolpath import RAPID_CODE
from birch_route.core.sequence.made_before import propose_again
from birch_route.core.sequence.pair import finish_bits, finisher_of, last_bits, with_last_passes
from birch_route.demo.fitted import fitted_route
from birch_route.formats.report import report
from tests.support import changed, codes, proof_of, put, route_named

OUT = "profile_outline"


def with_bit(diameter_mm=8.0, **more):
    """The plain body with a second bit in its rack."""
    route = route_named("siskin_body")
    bit = route.bit("flat8").model_dump(mode="json")
    item = {**bit, "id": "fine", "name": "Fine one", "diameter_mm": diameter_mm, "flutes": 3, **more}
    return changed(route, {"do": "put_item", "list": "bits", "item": item})


def pair(route=None, bit="fine"):
    return changed(route or with_bit(), {"do": "finish_with", "operation": OUT, "bit": bit})


class Pair(unittest.TestCase):
    def test_the_first_bit_leaves_what_the_last_pass_takes_and_nothing_is_found(self):
        route = pair()
        rough, last = route.operations[-2:]
        self.assertEqual((rough.id, last.finishes, last.bit), (OUT, OUT, "fine"))
        self.assertFalse(rough.finish_pass)
        self.assertEqual(rough.stock_to_leave_mm, last.finish_allowance_mm)
        self.assertEqual(last.tabs, rough.tabs)
        proof = proof_of(route)
        self.assertEqual(codes(proof), codes(proof_of(route_named("siskin_body"))))
        taken = proof.steps[-1].removed_mm3
        rim = proof.simulation.resolved.outline.exterior.length
        self.assertAlmostEqual(taken, rim * rough.stock_to_leave_mm * route.blank.piece_mm, delta=0.1 * taken)

    def test_the_last_pass_runs_a_radius_off_the_drawn_line_and_nowhere_nearer(self):
        proof = proof_of(pair())
        step, rim = proof.steps[-1], proof.simulation.resolved.outline.exterior
        points = step.path.points[1:][step.path.kinds != RAPID_CODE]
        away = [rim.distance(Point(p[:2])) for p in points if p[2] < 0]
        self.assertAlmostEqual(min(away), 4.0, delta=0.02)

    def test_a_narrower_bit_takes_the_last_pass_too_and_one_too_short_is_stopped(self):
        self.assertEqual(codes(proof_of(pair(with_bit(7.0)))), codes(proof_of(route_named("siskin_body"))))
        self.assertIn("bit.too_short", codes(proof_of(pair(with_bit(), "flat6"))))

    def test_wider_serrated_and_other_forms_are_refused_on_their_side_of_the_limit(self):
        self.assertIn("fine", [b.id for b in finish_bits(with_bit(8.02), with_bit(8.02).operation(OUT))])
        for wrong in (with_bit(8.03), with_bit(8.0, serrated=True)):
            self.assertNotIn("fine", [b.id for b in finish_bits(wrong, wrong.operation(OUT))])
            self.assertRaisesRegex(InputError, "no wider than", pair, wrong)
        self.assertRaisesRegex(InputError, "roughs a contour", changed, with_bit(),
                               {"do": "finish_with", "operation": "face", "bit": "fine"})

    def test_bits_are_offered_that_reach_and_the_one_that_does_it(self):
        route = with_bit()
        deep = route.bit("fine").cutting_length_mm
        offered = lambda r, d: [(b.bit, b.same) for b in last_bits(r, r.operation(OUT), d)]  # noqa: E731
        self.assertEqual(offered(route, deep), [("fine", True)])
        self.assertEqual(offered(route, deep + 0.01), [])
        self.assertEqual(offered(pair(route), deep + 0.01), [("fine", True)])
        self.assertEqual(offered(with_bit(7.97), deep), [("fine", False)])
        self.assertEqual(offered(with_bit(7.98), deep), [("fine", True)])
        told = report(proof_of(route), [], None)["operations"][-1]
        self.assertEqual(told["last_bits"], [{"bit": "fine", "same": True}])

    def test_what_they_share_follows(self):
        route = pair()
        moved = changed(route, {"do": "move_tab", "operation": OUT, "number": 0, "x_mm": 100, "y_mm": 200})
        self.assertNotEqual(moved.operations[-1].tabs, route.operations[-1].tabs)
        self.assertEqual(moved.operations[-1].tabs, moved.operations[-2].tabs)
        skin = changed(route, {"do": "choose_school", "operation": OUT, "school": "skin"})
        self.assertEqual(skin.operations[-1].skin_mm, skin.operations[-2].skin_mm)
        self.assertEqual(codes(proof_of(skin)), codes(proof_of(route)))
        less = changed(route, put(f"operations.{OUT}.stock_to_leave_mm", 0.6))
        self.assertEqual(less.operations[-1].finish_allowance_mm, 0.6)

    def test_it_stands_after_what_it_finishes(self):
        last = pair().operations[-1].id
        self.assertRaisesRegex(InputError, "comes after that", changed, pair(),
                               {"do": "move_operation", "operation": last, "to": 2})
        alone = changed(pair(), {"do": "remove_operation", "operation": OUT})
        self.assertIsNone(alone.operations[-1].finishes)
        self.assertEqual(codes(proof_of(alone)), codes(proof_of(route_named("siskin_body"))))

    def test_undone_it_is_as_before_and_steps_keep_their_place(self):
        before = with_bit()
        back = changed(pair(before), {"do": "finish_with", "operation": OUT, "bit": None})
        self.assertEqual(back, before)
        two = pair(before)
        self.assertEqual([s.after for s in two.bench_steps if s.id == "tabs"], [two.operations[-1].id])
        self.assertRaisesRegex(InputError, "own bit already", changed, before,
                               {"do": "finish_with", "operation": OUT, "bit": None})

    def test_what_the_first_bit_bends_by_is_judged_against_what_it_leaves(self):
        bend = proof_of(pair()).steps[-2].load.bend_mm
        for left, found in ((bend - 0.002, True), (bend + 0.002, False)):
            route = changed(pair(), put(f"operations.{OUT}.stock_to_leave_mm", round(left, 4)))
            hits = [f for f in proof_of(route).findings if f.code == "settings.allowance" and f.operation == OUT]
            self.assertEqual(bool(hits), found, left)
            for f in hits:
                self.assertNotIn("settings.allowance", codes(proof_of(changed(route, *f.cures[0].edits))))

    def test_on_the_turned_body_too(self):
        route = fitted_route(True)
        bit = route.bit(route.operations[-1].bit).model_dump(mode="json")
        edits = ({"do": "put_item", "list": "bits", "item": {**bit, "id": "fine", "name": "Fine one"}},
                 {"do": "finish_with", "operation": route.operations[-1].id, "bit": "fine"})
        self.assertEqual(codes(proof_of(changed(route, *edits))) - codes(proof_of(route)), set())


NECK = "pocket_neck_pocket"


def smooth(bit="fine", operation=NECK, route=None):
    """A pocket of the plain body whose wall another bit takes last."""
    return changed(route or with_bit(5.0), {"do": "finish_with", "operation": operation, "bit": bit})


class PocketPair(unittest.TestCase):
    def test_a_narrower_bit_takes_the_wall_and_nothing_is_found(self):
        route = smooth()
        rough, last = route.operation(NECK), finisher_of(route, NECK)
        self.assertEqual((rough.finish_pass, rough.stock_to_leave_mm, last.finish_allowance_mm), (False, 0.3, 0.3))
        self.assertEqual((last.kind, last.bit, last.stock_to_leave_mm), (rough.kind, "fine", 0.0))
        proof = proof_of(route)
        self.assertEqual(codes(proof), codes(proof_of(route_named("siskin_body"))))
        recess = smooth("fine", "pocket_bridge_recess")
        proof = proof_of(recess)
        step = next(s for s in proof.steps if s.operation.finishes)
        pocket = proof.simulation.resolved.solid("bridge_recess")
        points = step.path.points[1:][step.path.kinds != RAPID_CODE]
        low = [Point(p[:2]) for p in points if p[2] < pocket.floor_mm + 0.01]
        self.assertAlmostEqual(min(pocket.region.exterior.distance(p) for p in low), 2.5, delta=0.02)
        self.assertTrue(all(pocket.region.contains(p) for p in low))

    def test_the_same_bit_later_makes_the_same_wood(self):
        plain, later = proof_of(route_named("siskin_body")), proof_of(smooth("flat6"))
        whole = sum(s.removed_mm3 for s in plain.steps)
        self.assertAlmostEqual(sum(s.removed_mm3 for s in later.steps), whole, delta=1e-4 * whole)
        self.assertEqual(codes(later), codes(plain))
        last = finisher_of(smooth("flat6"), NECK)
        self.assertEqual(last.settings, route_named("siskin_body").operation(NECK).settings)

    def test_what_is_left_on_the_wall_on_purpose_stays(self):
        tight = smooth(route=changed(with_bit(5.0), put(f"operations.{NECK}.stock_to_leave_mm", 0.1)))
        self.assertAlmostEqual(tight.operation(NECK).stock_to_leave_mm, 0.4)
        self.assertEqual(finisher_of(tight, NECK).stock_to_leave_mm, 0.1)
        back = changed(tight, {"do": "finish_with", "operation": NECK, "bit": None})
        self.assertAlmostEqual(back.operation(NECK).stock_to_leave_mm, 0.1)
        before = with_bit(5.0)
        self.assertEqual(changed(smooth(), {"do": "finish_with", "operation": NECK, "bit": None}), before)

    def test_a_pocket_without_a_last_pass_gets_one_and_a_rim_or_a_creep_comes_first(self):
        cavity = "pocket_control_cavity"
        self.assertEqual(finisher_of(smooth("flat6", cavity), cavity).finish_allowance_mm, 0.4)
        crept = changed(with_bit(5.0), {"do": "creep", "operation": NECK, "passes": 2})
        self.assertRaisesRegex(InputError, "creeps up", smooth, route=crept)
        rim = changed(with_bit(5.0, flute="down_cut"), {"do": "choose_rim", "operation": NECK, "bit": "fine"})
        self.assertRaisesRegex(InputError, "leaves a step", smooth, "flat6", route=rim)
        self.assertEqual(last_bits(crept, crept.operation(NECK), 5.0), [])

    def test_creeping_goes_on_with_the_bit_of_the_last_pass(self):
        route = smooth()
        last = finisher_of(route, NECK)
        self.assertRaisesRegex(InputError, "creep up on the fit with it", changed, route,
                               {"do": "creep", "operation": NECK, "passes": 2})
        crept = changed(route, {"do": "creep", "operation": last.id, "passes": 2, "step_mm": 0.1})
        rough, first = crept.operation(NECK), crept.operation(last.id)
        self.assertAlmostEqual(first.stock_to_leave_mm, 0.2)
        self.assertAlmostEqual(rough.stock_to_leave_mm, 0.5)
        self.assertAlmostEqual(first.finish_allowance_mm, 0.3)
        passes = [o for o in crept.operations if o.wall_only]
        self.assertEqual([(o.bit, o.finishes, round(o.stock_to_leave_mm, 3)) for o in passes],
                         [("fine", None, 0.1), ("fine", None, 0.0)])
        self.assertEqual(codes(proof_of(crept)) - codes(proof_of(route)), set())

    def test_all_are_roughed_before_the_first_is_finished(self):
        route = route_named("siskin_body")
        ordered = changed(route, {"do": "order_by", "by": "rough_first"})
        pockets = [o for o in ordered.operations if o.kind.value == "pocket"]
        self.assertEqual([o.finishes is not None for o in pockets], sorted(o.finishes is not None for o in pockets))
        self.assertEqual({o.finishes for o in pockets} - {None},
                         {o.id for o in route.operations if o.kind.value == "pocket" and o.finish_pass})
        self.assertEqual(with_last_passes(ordered), ordered)
        self.assertEqual(codes(proof_of(ordered)), codes(proof_of(route)))

    def test_proposed_again_it_keeps_its_last_pass(self):
        again = propose_again(smooth(), "neck_pocket").route
        self.assertEqual(finisher_of(again, NECK).bit, "fine")
        self.assertEqual(len(again.operations), len(smooth().operations))
