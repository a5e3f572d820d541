"""Edits: each does what it says, keeps everything else, and an edit that cannot be used changes nothing."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from birch_route.core.edits import apply_edits, describe, read_edit
from birch_route.core.errors import BirchError, InputError
from birch_route.core.quantities import Unit, say
from birch_route.core.route import canonical, content_hash, read_route
from tests.support import changed, put, route_named

PLATE, BODY = "control_plate", "siskin_body"


def differences(a, b, path=""):
    """Return the paths at which two JSON documents differ."""
    if isinstance(a, dict) and isinstance(b, dict):
        return [d for k in {*a, *b} for d in differences(a.get(k), b.get(k), f"{path}.{k}")]
    if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        return [d for k, (x, y) in enumerate(zip(a, b, strict=True)) for d in differences(x, y, f"{path}[{k}]")]
    return [] if a == b else [path]


class EachEdit(unittest.TestCase):
    def after(self, *edits, name=PLATE):
        before = route_named(name)
        out = changed(before, *edits)
        return out, differences(before.model_dump(mode="json"), out.model_dump(mode="json"))

    def test_set_changes_its_field_and_marks_a_setting_as_told(self):
        out, where = self.after(put("operations.profile_outline.settings.feed_mm_min", 2222))
        self.assertEqual(len(where), 2)
        self.assertIn("feed_mm_min", out.operation("profile_outline").told)
        _, where = self.after(put("blank.length_mm", '7"'))
        self.assertEqual(where, [".blank.length_mm"])

    def test_the_unit_of_a_plain_number_is_that_of_the_edit(self):
        out, _ = self.after({"do": "set", "path": "blank.length_mm", "value": "7", "unit": "inch"})
        self.assertAlmostEqual(out.blank.length_mm, 177.8)
        out, _ = self.after({"do": "set", "path": "blank.x_mm", "value": "-1/2"})
        self.assertAlmostEqual(out.blank.x_mm, -12.7)

    def test_readings_are_kept_and_dropped_one_at_a_time(self):
        keep = {"do": "keep_reading", "part": "plate", "place": "plate_thickness", "typed": "3/32", "by": "Ada", "using": "micrometer"}
        out, where = self.after(keep, name=BODY)
        last = out.part("plate").readings[-1]
        self.assertEqual((last.typed, last.using, last.by), ("3/32", "micrometer", "Ada"))
        self.assertAlmostEqual(last.value_mm, 2.38125)
        self.assertEqual(where, [".parts[3].readings"])
        back = changed(out, {"do": "drop_reading", "part": "plate", "place": "plate_thickness", "index": len(out.part("plate").readings) - 1})
        self.assertEqual(content_hash(back), content_hash(route_named(BODY)))

    def test_hardware_is_put_moved_and_taken_away(self):
        screw = {"id": "s9", "kind": "screw", "x_mm": 5, "y_mm": 5}
        out, _ = self.after({"do": "put_hardware", "setup": "front", "hardware": screw})
        self.assertEqual(len(out.setups[0].hardware), 5)
        out = changed(out, {"do": "put_hardware", "setup": "front", "hardware": {**screw, "x_mm": 6}})
        self.assertEqual([h.x_mm for h in out.setups[0].hardware if h.id == "s9"], [6])
        out = changed(out, {"do": "remove_hardware", "setup": "front", "hardware": "s9"})
        self.assertEqual(content_hash(out), content_hash(route_named(PLATE)))

    def test_operations_are_moved_removed_and_proposed_again(self):
        names = [o.id for o in route_named(PLATE).operations]
        out, _ = self.after({"do": "move_operation", "operation": names[0], "to": 99})
        self.assertEqual([o.id for o in out.operations], [*names[1:], names[0]])
        out, _ = self.after({"do": "remove_operation", "operation": names[0]})
        self.assertEqual([o.id for o in out.operations], names[1:])
        again = changed(out, {"do": "propose"})
        self.assertEqual([o.id for o in again.operations], names)
        one = changed(out, {"do": "propose_for", "feature": route_named(PLATE).operations[0].features[0]})
        self.assertEqual(sorted(o.id for o in one.operations), sorted(names))
        self.assertEqual(one.operations[-1].id, "profile_outline", "what is added comes before the outline")

    def test_every_edit_has_words_for_the_history(self):
        for edit in (put("blank.length_mm", 5), {"do": "propose"}, {"do": "add_part", "kind": "pot", "name": "Pot"}, {"do": "remove_part", "part": "x"}, {"do": "propose_for", "feature": "x"},
                     {"do": "move_operation", "operation": "x", "to": 1}, {"do": "remove_operation", "operation": "x"}, {"do": "remove_hardware", "setup": "a", "hardware": "b"},
                     {"do": "drop_reading", "part": "a", "place": "b", "index": 0}, {"do": "keep_reading", "part": "a", "place": "b", "typed": "1"}):
            self.assertGreater(len(describe(read_edit(edit))), 5)

    def test_a_field_is_said_with_what_it_belongs_to_and_its_unit_in_the_readers(self):
        cases = (
            ("operations.pocket_neck_pocket.settings.feed_mm_min", 900, "Pocket neck pocket, feed: 900 mm/min",
             "35.4 in/min"),
            ("blank.length_mm", 180, "Blank, length: 180 mm", "7.087\""),
            ("choices.fit_gap_mm", 0.1, "Fit gap: 0.1 mm", "0.004\""),
            ("blank.length_mm", '7"', 'Blank, length: 7"', '7"'),
            ("bits.flat6.measured_diameter_mm", None, "Flat6, measured diameter: none", "none"),
            ("operations.face.both_ways", True, "Face, both ways: yes", "yes"),
            ("operations.face.settings.speed_rpm", 18000, "Face, speed: 18000 rpm", "18000 rpm"),
            ("machine.index_holes_mm", [[1, 2]], "Machine, index holes: 1 of them", "1 of them"),
        )
        for path, value, in_mm, in_inches in cases:
            words = describe(read_edit({"do": "set", "path": path, "value": value}))
            self.assertEqual(say(words), in_mm)
            self.assertTrue(say(words, Unit.INCH).endswith(in_inches), words)


    def test_a_route_is_never_changed_in_place(self):
        route = route_named(PLATE)
        before = canonical(route)
        changed(route, put("blank.length_mm", 150), {"do": "remove_operation", "operation": route.operations[0].id})
        self.assertEqual(canonical(route), before)


class Unusable(unittest.TestCase):
    def test_each_is_refused_with_what_and_where(self):
        for edit in (put("blank", 5), put("blank.nothing", 5), put("operations.nothing.bit", "flat3"), put("bits.flat3.flutes", "many"), put("blank.wood", 5),
                     put("operations.profile_outline.bit", "no_such_bit"), put("operations.profile_outline.features", ["nothing"]), put("blank.length_mm", "5 yards"),
                     put("setups.front.clearance_mm", 0), put("piece.features.outline.shape", {"kind": "rectangle", "x_mm": 0, "y_mm": 0, "length_mm": -5, "width_mm": 5}),
                     {"do": "keep_reading", "part": "nobody", "place": "x", "typed": "5"}, {"do": "drop_reading", "part": "nobody", "place": "x", "index": 0},
                     {"do": "remove_hardware", "setup": "front", "hardware": "s99"}, {"do": "move_operation", "operation": "nothing", "to": 0},
                     {"do": "propose_for", "feature": "nothing"}, {"do": "remove_part", "part": "nobody"}, {"do": "dance"}, {}, 5, put("../etc", 1)):
            with self.subTest(str(edit)), self.assertRaises(BirchError) as caught:
                changed(route_named(PLATE), edit)
            self.assertGreater(len(caught.exception.message), 15)

    @given(st.recursive(st.none() | st.booleans() | st.floats() | st.text(max_size=8), lambda c: st.lists(c, max_size=3) | st.dictionaries(st.text(max_size=6), c, max_size=3), max_leaves=6),
           st.sampled_from(["blank.length_mm", "piece.features", "operations", "bits", "parts", "setups.front.hardware", "machine", "choices", "blank.planks", "blank.defects"]))
    @settings(max_examples=120, deadline=None)
    def test_any_value_gives_a_usable_route_or_a_clear_refusal(self, value, path):
        try:
            out = apply_edits(route_named(PLATE), [read_edit(put(path, value))])
        except BirchError as exc:
            self.assertTrue(exc.message)
        else:
            self.assertEqual(read_route(out.model_dump(mode="json")), out)


class Documents(unittest.TestCase):
    def test_references_and_ids_are_checked(self):
        data = route_named(PLATE).model_dump(mode="json")
        for break_it, words in ((lambda d: d["operations"].append(d["operations"][0]), "stands twice"), (lambda d: d["bits"].append(d["bits"][0]), "stands twice"),
                                (lambda d: d["piece"]["features"].append(d["piece"]["features"][0]), "stands twice"), (lambda d: d["piece"]["features"].pop(), "exactly one outline"),
                                (lambda d: d["operations"][0].update(bit="x"), "not in this route"), (lambda d: d["operations"][0].update(features=[]), "no feature"),
                                (lambda d: d["bench_steps"][0].update(after="x"), "not in this route"), (lambda d: d.update(setups=[]), "setups")):
            broken = read_route(data).model_dump(mode="json")
            break_it(broken)
            with self.subTest(words), self.assertRaisesRegex(InputError, words):
                read_route(broken)

    def test_the_hash_ignores_the_order_of_keys_and_nothing_else(self):
        data = route_named(PLATE).model_dump(mode="json")
        self.assertEqual(content_hash(data), content_hash(dict(reversed(list(data.items())))))
        data["note"] += " "
        self.assertNotEqual(content_hash(data), content_hash(route_named(PLATE)))


if __name__ == "__main__":
    unittest.main()
