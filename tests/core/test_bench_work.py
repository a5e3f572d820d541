"""Bench steps of a blank, clamps, offcuts, and variants of hardware."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from shapely.affinity import scale

from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.instrument.stack import neck_pocket_depth
from birch_route.core.materials.bench_work import blank_steps, clamp_plan, offcuts
from birch_route.core.variants import variant_route, variant_views
from tests.core.bodies import equipped, with_cavity
from tests.support import changed, codes, proof_of, put, route_named

BODY = "siskin_body"


class Clamps(unittest.TestCase):
    @given(st.floats(120, 2400), st.floats(20, 400))
    def test_clamps_reach_every_part_of_a_joint(self, length, narrow):
        plan = clamp_plan(length, narrow)
        gaps = [b - a for a, b in zip(plan.places_mm, plan.places_mm[1:], strict=False)]
        self.assertLessEqual(max(gaps), max(30.0, min(150.0, narrow)) + 1e-6)
        self.assertLessEqual(max(plan.places_mm[0], length - plan.places_mm[-1]), 40 + 1e-6)
        self.assertEqual(sorted(plan.order), list(range(1, len(plan.places_mm) + 1)))
        middle = (len(plan.places_mm) + 1) / 2
        away = [abs(n - middle) for n in plan.order]
        self.assertEqual(away, sorted(away))  # from the middle outwards


class Steps(unittest.TestCase):
    def test_boards_are_jointed_glued_and_dry_before_anything_is_machined(self):
        kinds = [s.kind.value for s in blank_steps(route_named(BODY).blank)]
        self.assertEqual(kinds, ["joint", "dry_fit", "glue", "wait", "plane", "measure", "mark"])
        self.assertTrue(all(s.gate and s.after is None for s in blank_steps(route_named(BODY).blank)))
        self.assertEqual([s.kind.value for s in blank_steps(route_named("siskin_neck_face").blank)], ["plane", "measure", "mark"])

    def test_planning_again_changes_nothing_and_keeps_what_a_person_added(self):
        mine = {"do": "put_item", "list": "bench_steps", "item": {"id": "seal", "name": "Seal the cracks", "minutes": 20}}
        once = changed(route_named(BODY), mine, {"do": "plan_bench"})
        twice = changed(once, {"do": "plan_bench"})
        self.assertEqual(once.bench_steps, twice.bench_steps)
        self.assertEqual(sum(s.id == "seal" for s in once.bench_steps), 1)
        self.assertEqual([s.id for s in once.bench_steps if s.after], ["tabs"])
        single = changed(once, put("blank.planks", []), {"do": "plan_bench"})
        self.assertFalse({"joint", "glue", "glue_wait"} & {s.id for s in single.bench_steps})

    def test_offcuts_are_what_the_outline_leaves(self):
        blank = route_named(BODY).blank
        found = {o.side: (o.length_mm, o.width_mm) for o in offcuts(blank, (0.0, -150.0, 409.0, 139.0), 8.0)}
        self.assertEqual(found, {"neck end": (352, 23.0), "tail end": (352, 22.0), "bass side": (470, 23.0), "treble side": (470, 24.0)})
        self.assertEqual(offcuts(blank, (blank.x_mm, blank.y_mm, blank.x_mm + 470, blank.y_mm + 352), 8.0), [])


def second_bridge(low="9.0", high="13.0"):
    readings = {
        "plate_length": "40",
        "plate_width": "80",
        "plate_to_saddle": "22",
        "saddle_low": low,
        "saddle_high": high,
        "post_spacing": "90",
        "post_diameter": "11",
    }
    return [{"do": "add_part", "kind": "bridge", "name": "Flat bridge"}, *[{"do": "keep_reading", "part": "bridge1", "place": p, "typed": v} for p, v in readings.items() for _ in range(2)],
            {"do": "put_item", "list": "variants", "item": {"id": "flat", "name": "Flat bridge", "parts": {"bridge": "bridge1"}}}]


class Variants(unittest.TestCase):
    def test_a_variant_is_the_route_with_other_hardware(self):
        route = changed(route_named(BODY), *second_bridge())
        other = variant_route(route, route.variants[0])
        self.assertEqual(other.feature("bridge_recess").shape.part, "bridge1")
        size = resolve(other).solid("bridge_recess").region.bounds
        self.assertAlmostEqual(size[2] - size[0], 40.4, places=3)
        self.assertEqual(codes(proof_of(other)) & {"part.unmeasured"}, set())
        self.assertEqual(len(other.parts), len(route.parts))

    def test_what_one_pocket_means_for_the_other_bridge(self):
        """Saddle 9 to 13 instead of 13.2 to 17.54: at 53 % of its travel it wants a pocket 4.3798 deeper; in the pocket as it is it stands that much higher."""
        route = changed(route_named(BODY), *second_bridge())
        view = variant_views(route)[0]
        base = neck_pocket_depth(route.parts, route.choices, 2.5).value_mm
        first, second = 13.20 + 0.53 * (17.54 - 13.20), 9.0 + 0.53 * 4.0
        self.assertAlmostEqual(view.pocket_mm - base, first - second, places=4)
        self.assertAlmostEqual(view.saddle_mm, first, places=4)  # the same string height over the same pocket
        self.assertFalse(view.serves)
        self.assertIsNone(view.shim_mm)
        self.assertTrue(any("Bridge recess" in m["what"] for m in view.moved))
        serves = variant_views(changed(route_named(BODY), *second_bridge("13.0", "18.0")))[0]
        self.assertTrue(serves.serves)
        taller = variant_views(changed(route_named(BODY), *second_bridge("17.0", "21.0")))[0]
        self.assertFalse(taller.serves)
        self.assertAlmostEqual(taller.shim_mm, 17.0 - first, places=4)

    def test_wrong_variants_are_refused_with_a_reason(self):
        route = changed(route_named(BODY), *second_bridge())
        for parts, choices, words in (({"bridge": "neck"}, {}, "puts a neck"), ({"nothing": "bridge1"}, {}, "not on the list"), ({}, {"colour": 1.0}, "no choice")):
            bad = changed(route, {"do": "put_item", "list": "variants", "item": {"id": "bad", "name": "Bad", "parts": parts, "choices": choices}})
            self.assertRaisesRegex(InputError, words, variant_route, bad, bad.variants[1])
            self.assertIn(words, variant_views(bad)[1].failed)

    def test_the_film_widens_what_a_part_goes_into(self):
        for film in (0.0, 0.12):
            route = changed(route_named(BODY), put("choices.film_mm", film))
            resolved = resolve(route)
            plain = resolve(route_named(BODY))
            xs, ys = (resolved.solid("bridge_recess").region.bounds[k + 2] - resolved.solid("bridge_recess").region.bounds[k] for k in (0, 1))
            self.assertAlmostEqual(xs, 35.18 + 2 * (0.2 + film), places=3)
            self.assertAlmostEqual(ys, 73.40 + 2 * (0.2 + film), places=3)
            self.assertAlmostEqual(resolved.heel.gap_mm, 0.08 + film)
            self.assertEqual(resolved.saddle_x_mm, plain.saddle_x_mm)  # finish never moves the bridge
            hidden = resolved.solid("pickup_pocket").region
            self.assertTrue(hidden.equals(plain.solid("pickup_pocket").region))


class Items(unittest.TestCase):
    def test_items_are_put_replaced_and_removed_with_a_reason_where_they_cannot(self):
        route = with_cavity()
        changed_depth = changed(route, {"do": "put_item", "list": "features", "item": {"id": "back_cavity", "depth_mm": 30.0}})
        self.assertEqual(changed_depth.feature("back_cavity").depth_mm, 30.0)
        self.assertEqual(changed_depth.piece.features[-1].kind, "outline")
        for edit, words in (({"do": "remove_item", "list": "features", "id": "outline"}, "needs its outline"), ({"do": "remove_item", "list": "edges", "id": "none"}, "There is no edge none"),
                            ({"do": "put_item", "list": "edges", "item": {"feature": "outline", "kind": "round"}}, "needs an id"),
                            ({"do": "put_item", "list": "placements", "item": {"id": "p", "part": "nothing"}}, "not on the list"),
                            ({"do": "put_item", "list": "edges", "item": {"id": "e", "feature": "string_holes", "kind": "round"}}, "neither the outline nor a pocket"),
                            ({"do": "put_item", "list": "placements", "item": {"id": "p", "part": "pot", "cavity": "string_holes"}}, "no pocket")):
            self.assertRaisesRegex(InputError, words, changed, route, edit)


class OtherHand(unittest.TestCase):
    def test_the_piece_is_mirrored_and_the_parts_are_not(self):
        right = equipped()
        left = changed(right, {"do": "mirror"})
        self.assertEqual(left.parts, right.parts)
        one, other = resolve(right), resolve(left)
        for name, solid in one.solids.items():
            flipped = scale(solid.region, 1.0, -1.0, origin=(0, 0))
            self.assertLess(flipped.symmetric_difference(other.solids[name].region).area, 1e-3 * flipped.area + 1e-3, name)
            self.assertEqual(solid.floor_mm, other.solids[name].floor_mm)
        self.assertEqual(codes(proof_of(left)), codes(proof_of(right)))
        self.assertAlmostEqual(proof_of(left).simulation.steps[-1].removed_mm3 / proof_of(right).simulation.steps[-1].removed_mm3, 1.0, delta=0.002)

    def test_mirrored_twice_it_is_the_same(self):
        right = equipped()
        again = changed(right, {"do": "mirror"}, {"do": "mirror"})
        self.assertEqual([f.id for f in again.features], [f.id for f in right.features])
        for name, solid in resolve(right).solids.items():
            self.assertLess(solid.region.symmetric_difference(resolve(again).solids[name].region).area, 1e-6)
        self.assertEqual(again.blank, right.blank)
