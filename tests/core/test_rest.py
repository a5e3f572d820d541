"""The rest of a pocket: a wide bit first, then only what it left, against the narrow bit alone."""

import unittest
from functools import cache

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.heights import kernels
from birch_route.core.instrument.resolve import cut_region, resolve
from birch_route.core.operations.resting import reached_before, rest_of
from birch_route.core.plane.regions import buffer_round, opened
from birch_route.core.sequence.rest import choose_rest, splits
from birch_route.core.vocabulary import MOVE_CODES, MoveKind
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"
# a wide field with an arm too narrow for the 8 mm bit, and a bay that only the 3 mm bit enters
KEYHOLE = [[60, 80], [120, 80], [120, 97], [150, 97], [150, 103], [120, 103], [120, 120], [92, 120], [92, 128], [88, 128], [88, 120], [60, 120]]


def with_pocket(points, finish="hidden", depth=12.0):
    shape = {"kind": "chain", "vertices": [[x, y, 0] for x, y in points]}
    item = {"kind": "pocket", "id": "odd", "name": "Odd pocket", "shape": shape, "depth_mm": depth, "finish_class": finish}
    return changed(route_named(BODY), {"do": "put_item", "list": "features", "item": item}, {"do": "propose_for", "feature": "odd"})


@cache
def odd(finish="hidden", bit="flat3"):
    route = with_pocket(KEYHOLE, finish)
    made = next(o.id for o in route.operations if "odd" in o.features)
    return changed(route, put(f"operations.{made}.bit", bit), put(f"operations.{made}.settings.stepover_mm", 1.2)), made


class RestPockets(unittest.TestCase):
    def same_wood(self, alone, split, feature):
        """Return the greatest difference of two results over a feature, mm."""
        a, b = proof_of(alone).simulation, proof_of(split).simulation
        part, at = a.grid.window(*a.resolved.solid(feature).region.bounds)
        return float(np.abs(a.result[at] - b.result[at]).max())

    def test_both_ways_leave_the_very_same_pocket(self):
        for route, made, feature in ((route_named(BODY), "pocket_neck_pocket", "neck_pocket"), (*odd(), "odd"), (*odd("fitted"), "odd")):
            with self.subTest(made):
                split = choose_rest(route, made, "flat8")
                self.assertLess(self.same_wood(route, split, feature), 0.011)
                self.assertEqual(codes(proof_of(split)), codes(proof_of(route)))

    def test_what_is_left_is_what_the_wide_bit_cannot_reach(self):
        route, made = odd()
        split = choose_rest(route, made, "flat8")
        resolved = resolve(split)
        region = cut_region(resolved.solid("odd"), 1.5)
        reached = reached_before(split, resolved, split.operation(made))["odd"]
        self.assertAlmostEqual(reached.area, opened(region, 4.0).area, delta=0.5)
        left = rest_of(region, buffer_round(region, -1.5), 1.5, reached)
        want = opened(region, 1.5).difference(opened(region, 4.0))
        self.assertLess(left.symmetric_difference(want).area, 0.03 * want.area)

    def test_it_goes_down_in_the_open_and_cuts_little_air(self):
        route, made = odd()
        step = next(s for s in proof_of(choose_rest(route, made, "flat8")).steps if s.operation.id == made)
        alone = next(s for s in proof_of(route).steps if s.operation.id == made)
        plunges = step.path.kinds == MOVE_CODES[MoveKind.PLUNGE]
        self.assertGreater(plunges.sum(), 5)
        self.assertLess(step.metrics[plunges, kernels.VOLUME].max(), 1e-6)
        self.assertLess(step.path.cut_length_mm(), 0.35 * alone.path.cut_length_mm())
        self.assertLess(step.minutes, 0.5 * alone.minutes)

    def test_the_price_is_the_time_of_the_real_thing(self):
        route = route_named(BODY)
        sim = proof_of(route).simulation
        one, two = splits(sim.route, sim.resolved, sim.route.operation("pocket_neck_pocket"))
        self.assertEqual((one.first, two.first, two.changes), (None, "flat8", 0))
        steps = {s.operation.id: s for s in proof_of(choose_rest(route, "pocket_neck_pocket", "flat8")).steps}
        got = steps["pocket_neck_pocket_1st"].minutes + steps["pocket_neck_pocket"].minutes
        self.assertAlmostEqual(got, two.first_min + two.then_min, delta=0.2)  # the way there and back is the proof's
        self.assertLess(two.minutes, one.minutes)

    def test_it_is_taken_back_whole_and_refused_where_it_cannot_be(self):
        route = route_named(BODY)
        split = changed(route, {"do": "choose_rest", "operation": "pocket_neck_pocket", "first": "flat8"})
        self.assertEqual(len(split.operations), len(route.operations) + 1)
        back = changed(split, {"do": "choose_rest", "operation": "pocket_neck_pocket"})
        self.assertEqual([o.id for o in back.operations], [o.id for o in route.operations])
        self.assertEqual(back.operation("pocket_neck_pocket").settings, route.operation("pocket_neck_pocket").settings)
        for operation, bit in (("pocket_neck_pocket", "flat3"), ("profile_outline", "flat8"), ("nothing", None)):
            with self.assertRaises(InputError):
                choose_rest(route, operation, bit)

    def test_a_rest_without_anything_before_it_clears_all(self):
        route, made = odd()
        self.assertLess(self.same_wood(route, changed(route, put(f"operations.{made}.rest", True)), "odd"), 1e-6)

    def test_on_the_back_and_after_an_engaged_clearing(self):
        route = changed(fitted_route(True), put("operations.pocket_cover_rebate.bit", "flat3"), put("operations.pocket_cover_rebate.settings.stepover_mm", 1.2),
                        put("operations.pocket_cover_rebate.touch_off_before", True), put("operations.pocket_switch_cavity.touch_off_before", True))
        split = changed(route, {"do": "choose_rest", "operation": "pocket_cover_rebate", "first": "flat8"})
        after = changed(split, {"do": "choose_clearing", "operation": "pocket_cover_rebate_1st", "clearing": "engaged"})
        for one in (split, after):
            self.assertLessEqual(codes(proof_of(one)), codes(proof_of(route)))
            a, b = (proof_of(r).simulations[1] for r in (route, one))
            _, at = a.grid.window(*a.resolved.solid("cover_rebate").region.bounds)
            self.assertLess(float(np.abs(a.result[at] - b.result[at]).max()), 0.011)


if __name__ == "__main__":
    unittest.main()
