"""A pocket in two depths, a ledge round a feature, and what roughing leaves on a slope."""

import unittest

import numpy as np
import shapely

from birch_route.core.data import figures
from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.motion.toolpath import RAPID_CODE
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_all
from birch_route.core.sequence.rim import rim_bits, rim_depth_mm
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named

POCKET, RIM = "pocket_neck_pocket", "pocket_neck_pocket_rim"
DOWN = {"do": "put_item", "list": "bits", "item": {"id": "down6", "name": "6 mm down-cut", "form": "flat", "diameter_mm": 6, "flutes": 2, "flute": "down_cut", "cutting_length_mm": 20,
                                                   "shank_diameter_mm": 6, "stickout_mm": 34}}


def in_two(*more, **choice):
    return changed(route_named("siskin_body"), DOWN, {"do": "choose_rim", "operation": POCKET, "bit": "down6", **choice}, *more)


class TwoDepths(unittest.TestCase):
    def test_together_they_cut_what_one_bit_would(self):
        proof, whole = proof_of(in_two()), proof_of(route_named("siskin_body"))
        self.assertEqual(codes(proof), set())
        np.testing.assert_array_equal(proof.simulation.result, whole.simulation.result)
        steps = {s.operation.id: s for s in proof.simulation.steps}
        self.assertAlmostEqual(float(steps[RIM].path.points[:, 2].min()), -rim_depth_mm(in_two()), places=6)
        below = steps[POCKET]
        self.assertLess(below.minutes, next(s for s in whole.simulation.steps if s.operation.id == POCKET).minutes)
        cutting = below.path.points[1:][below.path.kinds >= 2]
        self.assertLess(float(cutting[:, 2].max()), -rim_depth_mm(in_two()) + 0.6)  # it begins where the rim ended

    def test_programs_are_read_back(self):
        proof = proof_of(in_two())
        self.assertEqual(read_back_all(proof.simulations, write_all(proof.simulations)).findings, [])

    def test_a_step_on_the_wall_is_told_and_the_cure_evens_it(self):
        off = in_two(put(f"operations.{RIM}.stock_to_leave_mm", 0.1))
        found = [f for f in proof_of(off).findings if f.code == "feature.wall_step"]
        self.assertEqual(len(found), 1)
        self.assertEqual(found[0].operation, POCKET)
        self.assertEqual(codes(proof_of(changed(off, *found[0].cures[0].edits))), set())
        self.assertNotIn("feature.wall_step", codes(proof_of(in_two(put(f"operations.{RIM}.stock_to_leave_mm", 0.06)))))

    def test_the_rim_alone_leaves_the_rest_standing(self):
        self.assertIn("feature.stock_left", codes(proof_of(changed(in_two(), {"do": "remove_operation", "operation": POCKET}))))

    def test_it_is_taken_back_and_what_cannot_be_is_refused(self):
        route = in_two()
        self.assertEqual([o.id for o in changed(route, {"do": "choose_rim", "operation": POCKET}).operations], [o.id for o in route_named("siskin_body").operations])
        for edit in ({"bit": "flat8"}, {"bit": "down6", "down_to_mm": 60.0}, {"bit": "face25"}):
            with self.assertRaises(InputError, msg=edit):
                changed(route, {"do": "choose_rim", "operation": POCKET, **edit})
        with self.assertRaises(InputError):
            changed(route, {"do": "choose_rim", "operation": RIM, "bit": "down6"})

    def test_a_cap_makes_the_rim_deeper(self):
        capped = changed(route_named("siskin_body"), {"do": "put_item", "list": "layers", "item": {"id": "cap", "kind": "cap", "wood": "hard_maple", "thickness_mm": 6.0}},
                         {"do": "put_item", "list": "layers", "item": {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": 40.0}})
        self.assertAlmostEqual(rim_depth_mm(capped), 6.0 - capped.blank.skim_mm + 0.5)
        self.assertEqual([b.id for b in rim_bits(in_two(), in_two().operation(POCKET))], ["down6", "flat3"])

    def test_where_the_rim_s_bit_is_wider_at_corners_nothing_starts_in_the_air(self):
        """A narrower bit for the rim: the second begins at its depth and meets no wood above."""
        route = changed(route_named("siskin_body"), {"do": "choose_rim", "operation": POCKET, "bit": "flat3"})
        self.assertFalse([f for f in proof_of(route).findings if f.code in ("rapid.through_wood", "feature.gouged", "feature.stock_left")])


    def test_an_open_pocket_s_rim_runs_out_over_its_mouth_as_far_as_the_wider_bit_below_needs(self):
        route = changed(route_named("siskin_body"), {"do": "choose_rim", "operation": POCKET, "bit": "flat3"})
        below = next(s for s in proof_of(route).simulation.steps if s.operation.id == POCKET)
        self.assertLess(below.finish_deepest_mm, route.operation(POCKET).finish_depth_mm + 0.05)


class CleanRims(unittest.TestCase):
    def test_a_route_in_figured_wood_is_proposed_with_clean_rims_and_one_change_of_the_bit(self):
        route = changed(route_named("siskin_body"), DOWN, put("blank.wood", "walnut"), {"do": "propose"})
        self.assertEqual(codes(proof_of(route)), set())
        clean = [k for k, o in enumerate(route.operations) if o.bit == "down6"]
        self.assertEqual(clean, list(range(clean[0], clean[0] + 3)))
        self.assertEqual([route.operations[k].id for k in clean], ["pocket_bridge_recess", "pocket_plate_rebate", RIM])
        # one bit, one touch-off
        self.assertEqual([route.operations[k].touch_off_before for k in clean], [True, False, False])
        self.assertIsNone(route.operation("pocket_pickup_pocket").down_to_mm)  # hidden: its rim may fray
        plain = changed(route_named("siskin_body"), DOWN, {"do": "propose"})
        self.assertEqual([o.id for o in plain.operations], [o.id for o in route_named("siskin_body").operations])

    def test_a_touch_off_that_a_person_asked_for_stays_and_others_go_with_their_bit_change(self):
        asked = changed(
            route_named("siskin_body"), DOWN, put("operations.pocket_control_cavity.touch_off_before", True)
        )
        after = changed(
            asked, {"do": "choose_rim", "operation": POCKET, "bit": "down6"}, {"do": "choose_rim", "operation": POCKET}
        )
        self.assertEqual(
            [o.id for o in after.operations if o.touch_off_before],
            [o.id for o in asked.operations if o.touch_off_before],
        )
        self.assertTrue(after.operation("pocket_control_cavity").touch_off_before)

    def test_a_shallow_pocket_is_made_whole_by_the_clean_bit_at_its_own_settings(self):
        before = changed(route_named("siskin_body"), DOWN, put("blank.wood", "walnut"), {"do": "renew_settings"})
        after = changed(before, {"do": "clean_rim", "operation": "pocket_plate_rebate"})
        op = after.operation("pocket_plate_rebate")
        self.assertEqual((op.bit, op.down_to_mm, len(after.operations)), ("down6", None, len(before.operations)))
        chip = op.settings.feed_mm_min / (op.settings.speed_rpm * 2)
        self.assertTrue(0.08 * 0.8 <= chip <= 0.18 * 0.8)  # of a 6 mm bit in figured wood
        self.assertNotIn("pocket_plate_rebate", [f.operation for f in proof_of(after).findings if f.code == "tear_out.rim"])

    def test_without_a_clean_bit_it_is_told_without_a_cure_and_refused_in_words(self):
        up = changed(route_named("siskin_body"), put("bits.flat3.flute", "up_cut"), put("blank.wood", "walnut"), {"do": "renew_settings"})
        found = [f for f in proof_of(up).findings if f.code == "tear_out.rim"]
        self.assertTrue(found and all(not f.cures and "Add a down-cut one" in f.reason for f in found))
        with self.assertRaisesRegex(InputError, "Add a down-cut"):
            changed(up, {"do": "clean_rim", "operation": POCKET})
        with self.assertRaises(InputError):
            changed(up, {"do": "clean_rim", "operation": "profile_outline"})
        self.assertEqual(changed(up, {"do": "clean_rim"}).operations, up.operations)

    def test_a_cure_that_is_offered_can_be_taken_and_clears(self):
        walnut = (put("blank.wood", "walnut"), {"do": "renew_settings"})
        for more in ((), (put("bits.flat3.cutting_length_mm", 2.0),), ({"do": "choose_clearing", "operation": POCKET, "clearing": "engaged"},)):
            route = changed(route_named("siskin_body"), *walnut, *more)
            found = [f for f in proof_of(route).findings if f.code == "tear_out.rim"]
            self.assertTrue(found)
            for f in found:
                if f.cures:
                    left = [g.operation for g in proof_of(changed(route, *f.cures[0].edits)).findings if g.code == "tear_out.rim"]
                    self.assertNotIn(f.operation, left)
        short = changed(route_named("siskin_body"), *walnut, put("bits.flat3.cutting_length_mm", 2.0))
        self.assertIn("long enough", next(f.reason for f in proof_of(short).findings if f.code == "tear_out.rim" and not f.cures))


class Ledges(unittest.TestCase):
    def test_it_goes_round_and_follows(self):
        route = changed(fitted_route(True), {"do": "step_down", "feature": "switch_cavity", "width_mm": 6, "depth_mm": 5})
        ledge = resolve(route).solid("switch_cavity_ledge")
        around = resolve(route).solid("switch_cavity")
        self.assertEqual(ledge.face, around.face)
        self.assertAlmostEqual(ledge.region.exterior.distance(around.region), 6.0, delta=0.02)
        self.assertEqual(codes(proof_of(route)), set())
        wider = resolve(changed(route, put("piece.features.switch_cavity.shape.length_mm", 44)))
        self.assertAlmostEqual(wider.solid("switch_cavity_ledge").region.bounds[2] - wider.solid("switch_cavity").region.bounds[2], 6.0, delta=0.02)

    def test_round_a_measured_recess_it_rests_on_the_same_readings(self):
        route = changed(route_named("siskin_body"), {"do": "step_down", "feature": "neck_pocket", "width_mm": 3, "depth_mm": 2})
        found = resolve(route)
        self.assertEqual(found.solid("neck_pocket_ledge").rests_on, found.solid("neck_pocket").rests_on)

    def test_what_it_goes_round_stays_and_wrong_ones_are_refused(self):
        route = changed(route_named("siskin_body"), {"do": "step_down", "feature": "control_cavity", "width_mm": 8, "depth_mm": 2.5})
        self.assertIn("pocket_control_cavity_ledge", [o.id for o in route.operations])
        for edit in ({"do": "remove_item", "list": "features", "id": "control_cavity"}, {"do": "step_down", "feature": "outline", "width_mm": 3, "depth_mm": 2}, {"do": "step_down", "feature": "nothing", "width_mm": 3, "depth_mm": 2}):
            with self.assertRaises(InputError):
                changed(route, edit)
        mirrored = changed(route, {"do": "mirror"})
        self.assertLess(shapely.hausdorff_distance(resolve(mirrored).solid("control_cavity_ledge").region, shapely.affinity.scale(resolve(route).solid("control_cavity_ledge").region, 1, -1, origin=(0, 0))), 0.01)

    def test_a_mirrored_body_still_lies_over_its_pins(self):
        self.assertNotIn("turn.pins_off", codes(proof_of(changed(fitted_route(True), {"do": "mirror"}))))


class Slopes(unittest.TestCase):
    def test_roughing_that_leaves_nothing_is_told(self):
        leave = "operations.surface_rough_belly.floor_to_leave_mm"
        found = next(f for f in proof_of(changed(fitted_route(True), put(leave, 0.1))).findings if f.code == "surface.rough_near")
        self.assertEqual(found.operation, "surface_rough_belly")
        self.assertNotIn("surface.rough_near", codes(proof_of(changed(fitted_route(True), put(leave, 0.2)))))
        self.assertEqual(codes(proof_of(changed(fitted_route(True), put(leave, 0.1), *found.cures[0].edits))), set())

    def test_a_finish_that_meets_too_much_is_told(self):
        self.assertIn("surface.finish_deep", codes(proof_of(changed(fitted_route(True), {"do": "remove_operation", "operation": "surface_rough_belly"}))))
        wide = "operations.surface_rough_belly.settings.stepover_mm"
        self.assertIn("surface.finish_deep", codes(proof_of(changed(fitted_route(True), put(wide, 7.5)))))
        self.assertNotIn("surface.finish_deep", codes(proof_of(changed(fitted_route(True), put(wide, 3.5)))))


if __name__ == "__main__":
    unittest.main()


OUT, OUT_RIM = "profile_outline", "profile_outline_rim"
WIDE = {"do": "put_item", "list": "bits", "item": {**DOWN["item"], "id": "down8", "name": "8 mm down-cut",
                                                   "diameter_mm": 8.0}}


def outline_rim(bit="down8", *more, **choice):
    return changed(route_named("siskin_body"), DOWN, WIDE,
                   {"do": "choose_rim", "operation": OUT, "bit": bit, **choice}, *more)


class OutlineRim(unittest.TestCase):
    def test_a_down_cut_bit_cuts_the_rim_and_the_other_goes_on_below_it(self):
        plain, route = proof_of(route_named("siskin_body")), outline_rim()
        rim, below = route.operation(OUT_RIM), route.operation(OUT)
        self.assertEqual((rim.tabs, rim.down_to_mm, below.down_to_mm), ([], 3.0, None))
        self.assertEqual(below.tabs, route_named("siskin_body").operation(OUT).tabs)
        proof = proof_of(route)
        self.assertEqual(codes(proof), codes(plain))
        whole = sum(s.removed_mm3 for s in plain.steps)
        self.assertAlmostEqual(sum(s.removed_mm3 for s in proof.steps), whole, delta=1e-4 * whole)
        first, then = (next(s for s in proof.steps if s.operation.id == o) for o in (OUT_RIM, OUT))
        self.assertAlmostEqual(first.path.points[:, 2].min(), -3.0)
        cut = then.path.points[1:][then.path.kinds != RAPID_CODE]
        self.assertLess(cut[:, 2].max(), -2.4)  # it plunges from half a millimetre above the rim's floor

    def test_a_narrower_kerf_is_cut_again_from_the_top(self):
        proof = proof_of(outline_rim("down6"))
        self.assertEqual(codes(proof), codes(proof_of(route_named("siskin_body"))))
        then = next(s for s in proof.steps if s.operation.id == OUT)
        cut = then.path.points[1:][then.path.kinds != RAPID_CODE]
        self.assertGreater(cut[:, 2].max(), 0.0)

    def test_a_step_in_the_wall_is_told_from_where_it_may_not_be(self):
        most = figures()["tolerance_mm"]["shown"]
        for over, found in ((-0.03, False), (0.03, True)):
            route = outline_rim("down8", put(f"operations.{OUT_RIM}.stock_to_leave_mm", round(most + over, 3)))
            self.assertEqual("feature.wall_step" in codes(proof_of(route)), found, over)

    def test_it_leaves_wood_for_the_tabs_and_goes_with_nothing_that_makes_a_step(self):
        tabs = route_named("siskin_body").operation(OUT).tabs
        most = route_named("siskin_body").blank.piece_mm - max(t.height_mm for t in tabs) - 0.1
        self.assertIsNotNone(outline_rim(down_to_mm=round(most - 0.01, 3)).operation(OUT_RIM))
        self.assertRaisesRegex(InputError, "nothing below", outline_rim, down_to_mm=round(most + 0.01, 3))
        self.assertRaisesRegex(InputError, "leaves a step", outline_rim, "down8",
                               {"do": "finish_with", "operation": OUT, "bit": "flat6"})
        self.assertRaisesRegex(InputError, "does not go through", outline_rim, "down8",
                               {"do": "choose_school", "operation": OUT_RIM, "school": "skin"})
        back = outline_rim("down8", {"do": "choose_rim", "operation": OUT})
        self.assertEqual(back.operations, route_named("siskin_body").operations)

    def test_the_rim_may_come_early_and_the_outline_may_not(self):
        early = outline_rim("down8", {"do": "move_operation", "operation": OUT_RIM, "to": 2})
        self.assertNotIn("order.after_outline", codes(proof_of(early)))
        late = outline_rim("down8", {"do": "move_operation", "operation": OUT, "to": 3})
        self.assertIn("order.after_outline", codes(proof_of(late)))

    def test_a_rim_and_creeping_go_not_together_and_say_so(self):
        with self.assertRaisesRegex(InputError, "cut it by one bit first"):
            changed(in_two(), {"do": "creep", "operation": POCKET, "passes": 2})
        crept = changed(route_named("siskin_body"), DOWN, {"do": "creep", "operation": POCKET, "passes": 2})
        with self.assertRaisesRegex(InputError, "creeps up on its fit"):
            changed(crept, {"do": "choose_rim", "operation": POCKET, "bit": "down6"})
