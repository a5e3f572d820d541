"""Operations proposed before the readings they rest on offer to be proposed again; numbers nobody said are assumed."""

import unittest

from birch_route.core.assumed import assumed_of
from birch_route.core.errors import InputError
from birch_route.core.instrument.parts import read_place
from birch_route.core.instrument.resolve import resolve
from birch_route.core.sequence.made_before import LEAST_MM, differs, made_before
from birch_route.core.sequence.made_on import readings_of
from birch_route.core.sequence.renew import LEAST
from birch_route.demo.fitted import fitted_route, hollow_route
from tests.support import changed, proof_of, put, route_named

BODY, POSTS = "siskin_body", "bore_post_holes"


def told(route):
    return [f for f in proof_of(route).findings if f.code == "operation.made_before"]


def read(route, place, mm):
    """Return a route with a place read once, in place of what was read before."""
    part, _, key = place.partition(".")
    count = len(read_place(route.part(part), key).values_mm)
    drops = [{"do": "drop_reading", "part": part, "place": key, "index": 0}] * count
    kept = {"do": "keep_reading", "part": part, "place": key, "typed": f"{mm}", "unit": "mm", "using": "caliper"}
    return changed(route, *drops, kept)


class Again(unittest.TestCase):
    def test_what_was_proposed_on_the_readings_as_they_are_offers_nothing(self):
        for route in (route_named(BODY), route_named("siskin_neck_face"), fitted_route(True), hollow_route()):
            self.assertEqual(made_before(route, resolve(route)), [])

    def test_a_thinner_heel_asks_for_another_bit_and_one_press_proposes_it_again(self):
        thin = read(route_named(BODY), "neck.heel_thickness", 12)
        found = [f for f in told(thin) if f.feature == "neck_pocket"]
        self.assertEqual(len(found), 1)
        self.assertIn("⟦12|mm|.2f⟧", found[0].sentence)
        self.assertIn("⟦25.4|mm|.2f⟧", found[0].sentence)
        was = thin.operation("pocket_neck_pocket")
        again = changed(thin, *found[0].cures[0].edits)
        self.assertEqual([f for f in told(again) if f.feature == "neck_pocket"], [])
        now = again.operation("pocket_neck_pocket")
        self.assertNotEqual(now.bit, was.bit)
        self.assertIn(again.bit(now.bit).name, found[0].sentence)
        self.assertEqual([o.id for o in again.operations], [o.id for o in thin.operations])  # in its place

    def test_a_part_that_nobody_read_at_all_breaks_nothing_off(self):
        neck = route_named("siskin_neck_face")
        tuner = next(p for p in neck.parts if p.kind == "tuner")
        drops = [{"do": "drop_reading", "part": tuner.id, "place": "post_hole", "index": 0}] * len(tuner.readings)
        unread = changed(neck, *drops)
        self.assertIn("part.unmeasured", {f.code for f in proof_of(unread).findings})
        read_there = readings_of(unread, resolve(unread), [f.id for f in unread.features])
        self.assertEqual({place.partition(".")[0] for place in read_there}, {"rod"})
        gone = changed(unread, {"do": "propose"})
        self.assertTrue(all(o.made_on is not None for o in gone.operations))

    def test_operations_made_one_and_parted_again_are_of_the_same_readings(self):
        body, pair = route_named(BODY), ("pocket_bridge_recess", "pocket_plate_rebate")
        same = [put(f"operations.{one}.{k}", v) for one in pair for k, v in (("finish_depth_mm", 2.0),)]
        joined = changed(body, *same, {"do": "join_operations", "operations": list(pair)})
        was = {k for one in pair for k in body.operation(one).made_on}
        self.assertEqual(set(joined.operation(pair[0]).made_on), was)
        parted = changed(joined, {"do": "part_operation", "operation": pair[0]})
        for route in (joined, parted):
            self.assertEqual(made_before(route, resolve(route)), [])

    def test_what_a_hand_has_set_stays_where_the_bit_stays(self):
        route = changed(route_named(BODY), put(f"operations.{POSTS}.settings.feed_mm_min", 777))
        again = changed(route, {"do": "propose_again", "feature": "post_holes"})
        self.assertEqual(again.operation(POSTS).settings.feed_mm_min, 777)
        self.assertEqual([o.id for o in again.operations], [o.id for o in route.operations])

    def test_a_reading_that_moved_by_less_than_a_caliper_shows_has_not(self):
        route = route_named(BODY)
        was = read_place(route.part("bridge"), "post_diameter").value_mm
        wrong = route.operation(POSTS).model_copy(update={"bit": "flat6"})
        route = route.model_copy(update={"operations": [wrong if o.id == POSTS else o for o in route.operations]})
        for off, count in ((LEAST_MM - 0.004, 0), (LEAST_MM + 0.004, 1)):
            moved = read(route, "bridge.post_diameter", round(was + off, 3))
            with self.subTest(off):
                found = [a for a in made_before(moved, resolve(moved)) if a.feature == "post_holes"]
                self.assertEqual(len(found), count)

    def test_settings_differ_from_the_share_on_that_counts(self):
        op = route_named(BODY).operation(POSTS)
        for over, counts in ((LEAST - 0.005, False), (LEAST + 0.005, True)):
            feed = op.settings.feed_mm_min * (1 + over)
            other = op.model_copy(update={"settings": op.settings.model_copy(update={"feed_mm_min": feed})})
            self.assertIs(differs(op, other), counts)


class Mine(unittest.TestCase):
    def paths(self, route):
        return {a.path for a in assumed_of(route)}

    def test_a_choice_is_assumed_until_it_is_set_or_said_to_be_mine(self):
        plate = route_named("control_plate")
        for path, value in (("choices.fit_gap_mm", 0.1), ("choices.action_12th_mm", '1/16"')):
            self.assertIn(path, self.paths(plate))
            self.assertNotIn(path, self.paths(changed(plate, put(path, value))))
            mine = changed(plate, {"do": "say_mine", "path": path})
            self.assertNotIn(path, self.paths(mine))
            self.assertEqual(mine.choices.model_copy(update={"mine": []}), plate.choices)

    def test_the_square_fret_is_assumed_only_of_two_scales(self):
        plate = route_named("control_plate")
        self.assertNotIn("choices.straight_fret", self.paths(plate))
        self.assertIn("choices.straight_fret", self.paths(changed(plate, put("choices.bass_scale_mm", 660))))

    def test_a_figure_of_the_machine_is_told_once_it_is_touched(self):
        body = route_named(BODY)
        self.assertIn("machine.touch_plate_mm", self.paths(body))
        after = changed(body, put("machine.touch_plate_mm", 20))
        self.assertNotIn("machine.touch_plate_mm", self.paths(after))
        self.assertEqual(after.machine.known["touch_plate_mm"].origin, "told")

    def test_index_holes_a_rule_placed_are_assumed_until_they_are_moved_or_said(self):
        route = changed(route_named(BODY), {"do": "turn_over"})
        path = "piece.features.index_holes"
        self.assertIn(path, self.paths(route))
        self.assertNotIn(path, self.paths(changed(route, {"do": "say_mine", "path": path})))
        hole = next(f for f in route.piece.features if f.id == "index_holes")
        points = [[x + 1, y] for x, y in hole.points]
        self.assertNotIn(path, self.paths(changed(route, put(f"{path}.points", points))))
        self.assertIn(path, self.paths(changed(route, put(f"{path}.name", "Pins"))))

    def with_held(self):
        """Return a plate whose screws a rule placed, and a body whose bridge recess nobody said."""
        plate, body = route_named("control_plate"), route_named(BODY)
        held = [h.model_copy(update={"assumed": True}) for h in plate.setups[0].hardware]
        setup = plate.setups[0].model_copy(update={"hardware": held})
        recess = [
            f.model_copy(update={"assumed": True}) if f.id == "bridge_recess" else f for f in body.piece.features
        ]
        piece = body.piece.model_copy(update={"features": recess})
        return plate.model_copy(update={"setups": [setup]}), body.model_copy(update={"piece": piece})

    def test_screws_a_rule_placed_are_assumed_until_one_is_moved_or_all_are_said(self):
        plate, _ = self.with_held()
        all_of, ids = f"setups.{plate.setups[0].id}.hardware", [h.id for h in plate.setups[0].hardware]
        paths = {f"{all_of}.{one}" for one in ids}
        self.assertLessEqual(paths, self.paths(plate))
        moved = changed(plate, put(f"{all_of}.{ids[0]}.x_mm", 11))
        self.assertEqual(paths & self.paths(moved), paths - {f"{all_of}.{ids[0]}"})
        again = {"do": "put_hardware", "setup": plate.setups[0].id,
                 "hardware": plate.setups[0].hardware[1].model_dump(mode="json")}
        self.assertNotIn(f"{all_of}.{ids[1]}", self.paths(changed(plate, again)))
        self.assertEqual(paths & self.paths(changed(plate, {"do": "say_mine", "path": all_of})), set())
        one = changed(plate, {"do": "say_mine", "path": f"{all_of}.{ids[2]}"})
        self.assertEqual(paths & self.paths(one), paths - {f"{all_of}.{ids[2]}"})
        with self.assertRaises(InputError):
            changed(plate, {"do": "say_mine", "path": f"{all_of}.nine"})

    def test_a_recess_nobody_said_is_assumed_in_the_sum_until_its_depth_is_set(self):
        _, body = self.with_held()
        path = "piece.features.bridge_recess.depth_mm"

        def term(route):
            return next(t for d in resolve(route).derivations for t in d.terms if t.label == "Bridge recess")

        self.assertEqual((term(body).origin, term(body).path), ("assumed", path))
        for route in (changed(body, {"do": "say_mine", "path": path}), changed(body, put(path, 2.4))):
            self.assertNotIn(path, self.paths(route))
            self.assertEqual(term(route).origin, "told")
        self.assertIn(path, self.paths(changed(body, put("piece.features.bridge_recess.name", "Seat"))))

    def test_what_cannot_be_assumed_is_refused_with_its_path(self):
        with self.assertRaises(InputError) as caught:
            changed(route_named(BODY), {"do": "say_mine", "path": "blank.length_mm"})
        self.assertIn("blank.length_mm", caught.exception.message)

    def test_a_sum_says_which_of_its_terms_nobody_said(self):
        origins = lambda route: {t.label: t.origin for d in resolve(route).derivations for t in d.terms}  # noqa: E731
        body = route_named(BODY)
        self.assertEqual(origins(body)["Compensation"], "told")
        bare = body.model_copy(update={"choices": body.choices.model_copy(update={"mine": ["action_12th_mm"]})})
        self.assertEqual(origins(bare)["Compensation"], "assumed")
        self.assertEqual(origins(bare)["Action at the 12th"], "told")
        self.assertEqual(origins(bare)["Rise to the saddle"], "assumed")  # of the strings at the nut, which nobody said


if __name__ == "__main__":
    unittest.main()


class InItsPlace(unittest.TestCase):
    """What is proposed again stands in its setup, and what followed it at the bench follows it still."""

    def test_index_holes_and_outline_of_a_turned_body(self):
        route = fitted_route(True)
        for feature in ("index_holes", "outline"):
            with self.subTest(feature):
                again = changed(route, {"do": "propose_again", "feature": feature})
                order = [s.id for s in again.setups]
                places = [order.index(o.setup) for o in again.operations]
                self.assertEqual(places, sorted(places))
                there = {o.id for o in again.operations}
                self.assertEqual([s.id for s in again.bench_steps], [s.id for s in route.bench_steps])
                self.assertLessEqual({s.after for s in again.bench_steps} - {None}, there)

    def test_operations_of_the_same_feature_never_share_an_id(self):
        route = route_named("siskin_body")
        for _ in range(3):
            route = changed(route, {"do": "propose_for", "feature": "neck_screws"})
        ids = [o.id for o in route.operations]
        self.assertEqual(len(ids), len(set(ids)))
