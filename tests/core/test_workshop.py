"""Machines of a shop: every figure named, what cannot be is refused, words are seen before they are kept."""

import unittest
from datetime import date, timedelta

from birch_route.core.data import figures, starting_shop
from birch_route.core.errors import InputError
from birch_route.core.machines import Dialect, FigureOrigin, Known, Machine
from birch_route.core.programs.check import parse_bit
from birch_route.core.programs.sample import sample_of
from birch_route.core.quantities import say
from birch_route.core.workshop.before import before_start
from birch_route.core.workshop.machine_figures import (
    BY_NAME,
    FIGURES,
    Kind,
    assumed,
    is_missing,
    is_old,
    value_of,
)
from birch_route.core.workshop.moved import WORDS_OF_DIALECT, differences
from birch_route.core.workshop.possible import SPAN_OF, cannot_be
from tests.support import changed, codes, proof_of, put, route_named

BENCH, BELT, *_ = (Machine.model_validate(m) for m in starting_shop()["machines"])


def with_figure(machine, name, value):
    field, _, part = name.partition(".")
    if part:
        values = list(getattr(machine, field))
        values[int(part)] = value
        value = tuple(values)
    return machine.model_copy(update={field: value})


def with_words(machine, **words):
    dialect = Dialect.model_validate({**machine.dialect.model_dump(), **words})
    return machine.model_copy(update={"dialect": dialect})


class Figures(unittest.TestCase):
    def test_every_field_of_a_machine_is_a_figure_or_says_who_it_is(self):
        fields = set(Machine.model_fields) - {"id", "name", "machine_class", "known", "dialect"}
        self.assertEqual({f.name.partition(".")[0] for f in FIGURES}, fields)
        self.assertEqual(set(WORDS_OF_DIALECT), set(Dialect.model_fields) - {"id"})
        for figure in FIGURES:
            self.assertTrue(figure.rests and figure.means, figure.name)
            value_of(BENCH, figure.name)

    def test_what_was_never_said_is_assumed_and_what_is_missing_is_no_figure(self):
        self.assertEqual({f.name for f in assumed(BENCH)}, {f.name for f in FIGURES if not is_missing(BENCH, f)})
        told = BENCH.model_copy(update={"known": {"power_w": Known(origin=FigureOrigin.TOLD)}})
        self.assertEqual(len(assumed(told)), len(assumed(BENCH)) - 1)
        self.assertTrue(is_missing(BELT, BY_NAME["touch_plate_mm"]))
        self.assertFalse(is_missing(BENCH, BY_NAME["touch_plate_mm"]))
        for shoe in (None, 120.0):
            with_shoe = BENCH.model_copy(update={"shoe_diameter_mm": shoe})
            self.assertEqual(is_missing(with_shoe, BY_NAME["shoe_up_mm"]), shoe is None)

    def test_a_measured_figure_asks_again_after_its_days_and_a_told_one_never(self):
        today, days = date(2026, 11, 30), figures()["machine_spans"]["measured_again_days"]
        for ago, origin, old in (
            (days, FigureOrigin.MEASURED, False),
            (days + 1, FigureOrigin.MEASURED, True),
            (days + 1, FigureOrigin.TOLD, False),
        ):
            how = Known(origin=origin, on=today - timedelta(days=ago))
            machine = BENCH.model_copy(update={"known": {"power_w": how}})
            self.assertEqual(is_old(machine, "power_w", today), old)


class CannotBe(unittest.TestCase):
    def test_the_starting_kinds_can_be(self):
        for kind in starting_shop()["machines"]:
            self.assertEqual(cannot_be(Machine.model_validate(kind)), [])

    def test_each_span_is_held_from_both_sides(self):
        spans = figures()["machine_spans"]
        for name, span in SPAN_OF.items():
            least, greatest = spans[span]
            for value, refused in (
                (least, False), (least * 0.999, True), (greatest, False), (greatest * 1.001, True)
            ):
                found = [c.where for c in cannot_be(with_figure(BENCH, name, value)) if "cannot be" in c.words]
                with self.subTest(name, value=value):
                    self.assertEqual(name in found, refused)

    def test_a_dial_that_does_not_rise_or_leaves_the_spindle_is_refused(self):
        for steps, words in (
            ([10_000, 12_000], None),
            ([12_000, 12_000], "does not rise"),
            ([12_000, 10_000], "does not rise"),
            ([7_900, 12_000], "Make them agree"),
            ([8_000, 24_000], None),
            ([8_000, 24_100], "Make them agree"),
        ):
            found = [c.words for c in cannot_be(with_figure(BENCH, "speeds_rpm", steps))]
            with self.subTest(steps):
                self.assertEqual(len(found), 0 if words is None else 1)
                self.assertTrue(words is None or words in found[0])

    def test_a_rated_speed_that_it_does_not_turn_is_refused(self):
        for rpm, refused in ((8_000, False), (7_999, True), (24_000, False), (24_001, True)):
            self.assertEqual(bool(cannot_be(with_figure(BENCH, "rated_rpm", rpm))), refused)

    def test_places_beyond_the_travel_are_refused(self):
        x, y, _ = BENCH.travel_mm
        for name in ("bit_change_mm", "probe_mm", "index_holes_mm"):
            for place, refused in (((x, y), False), ((x + 0.1, y), True), ((x, y + 0.1), True)):
                value = [place] if name == "index_holes_mm" else place
                self.assertEqual([c.where for c in cannot_be(with_figure(BENCH, name, value))], [name] * refused)

    def test_words_of_a_changer_need_the_word_that_changes(self):
        for words, refused in (
            ({"changer_slots": 6}, True), ({"preselect": True}, True),
            ({"changer_slots": 6, "preselect": True, "change_word": True}, False),
        ):
            self.assertEqual(bool(cannot_be(with_words(BENCH, **words))), refused)

    def test_quiet_hours_that_are_none_are_refused(self):
        for span, refused in (((20.0, 7.0), False), ((12.0, 12.25), False), ((12.0, 12.0), True), ((0.0, 24.0), True)):
            found = [c.where for c in cannot_be(BENCH.model_copy(update={"quiet_h": [span]}))]
            self.assertEqual(found, ["quiet_h"] * refused)

    def test_an_origin_of_something_else_is_refused(self):
        machine = BENCH.model_copy(update={"known": {"colour": Known()}})
        self.assertEqual([c.where for c in cannot_be(machine)], ["known.colour"])


class Moved(unittest.TestCase):
    def test_every_figure_that_differs_is_told_in_the_readers_unit(self):
        self.assertEqual(differences(BENCH, BENCH), [])
        found = {d.name: d for d in differences(BENCH, BELT)}
        self.assertEqual(say(found["travel_mm.0"].before), "820 mm")
        self.assertEqual(say(found["travel_mm.0"].before, "inch"), '32.283"')
        self.assertEqual(found["touch_plate_mm"].after, "none")
        self.assertEqual((found["dialect.inch"].before, found["dialect.inch"].after), ("mm", "inches"))
        for figure in FIGURES:
            same = value_of(BENCH, figure.name) == value_of(BELT, figure.name)
            self.assertEqual(figure.name in found, not same, figure.name)

    def test_every_kind_of_figure_has_words(self):
        other = BENCH.model_copy(update={"zones_mm": [(0, 0, 200, 300)], "refuses_over": True, "probe_mm": (5, 6)})
        found = {d.name: say(d.after) for d in differences(BENCH, other)}
        told = {"zones_mm": "0 mm, 0 mm, 200 mm, 300 mm", "refuses_over": "yes", "probe_mm": "5 mm, 6 mm"}
        self.assertEqual(found, told)
        self.assertEqual({f.kind for f in FIGURES}, set(Kind))


class Words(unittest.TestCase):
    def lines(self, machine, **words):
        sample = sample_of(with_words(machine, **words))
        self.assertEqual(sample.problems, [])
        return sample, [line.text for line in sample.files[0].lines]

    def test_words_stand_in_the_sample_and_are_read_back(self):
        _, plain = self.lines(BENCH)
        self.assertEqual((plain[-1], "G21" in plain), ("M30", True))
        _, tape = self.lines(BENCH, percent=True, end_word="M2", line_ending="crlf")
        self.assertEqual((tape[0], tape[-2], tape[-1]), ("%", "M2", "%"))
        _, changer = self.lines(BENCH, change_word=True, preselect=True, changer_slots=2)
        calls = [t for t in changer if t.startswith("T")]
        self.assertEqual(calls, ["T1 M6", "T2", "T2 M6"])

    def test_files_are_split_and_named_as_the_machine_takes_them(self):
        sample, _ = self.lines(BENCH, split="per_operation", name_length=12, extension=".TAP")
        names = [f.name for f in sample.files]
        self.assertEqual(names, [f"sampl_{k:02d}.TAP" for k in (1, 2, 3)])
        self.assertTrue(all(len(n) <= 12 for n in names))
        large, _ = self.lines(BENCH)
        self.assertEqual(len(large.files), 1)
        small, _ = self.lines(BENCH, largest_kb=6)
        self.assertGreater(len(small.files), 1)
        self.assertTrue(all(f.bytes <= 6000 for f in small.files))

    def test_one_operation_that_is_too_large_is_told(self):
        sample = sample_of(with_words(BENCH, largest_kb=4))
        self.assertEqual(len(sample.problems), 1)
        self.assertIn("One operation is never split", sample.problems[0])

    def test_what_cannot_be_read_back_is_told(self):
        self.assertEqual(sample_of(with_words(BELT, decimals=3)).problems, [])
        self.assertTrue(sample_of(with_words(BELT, decimals=2)).problems)


class BeforeAStart(unittest.TestCase):
    def said(self, at, minutes=30.0, **more):
        machine = BENCH.model_copy(update={"quiet_h": [(20.0, 7.0), (12.0, 13.5)], **more})
        return {b.kind: b for b in before_start(machine, minutes, at * 60)}

    def test_quiet_hours_bind_from_the_minute_they_begin_until_they_end_over_midnight_too(self):
        for at, binds, words in (
            (7.0, False, "end before"), (6.99, True, "until 7:00"), (20.0, True, "until 7:00"),
            (19.49, False, "end before"), (19.51, True, "the quiet hours from 20:00"),
            (0.0, True, "until 7:00"), (13.5, False, "end before"),
            (13.49, True, "until 13:30"), (11.5, False, "end before"), (11.51, True, "from 12:00"),
        ):
            with self.subTest(at):
                quiet = self.said(at)["quiet"]
                self.assertEqual(quiet.binds, binds)
                self.assertIn(words, quiet.sentence)
        self.assertNotIn("quiet", {b.kind for b in before_start(BENCH, 30.0, 0.0)})

    def test_what_was_measured_long_ago_is_named_and_the_rest_counted(self):
        names = ["travel x", "backlash x", "square", "tilt"]
        self.assertNotIn("old", {b.kind for b in before_start(BENCH, 1.0, 0.0)})
        for count, words in ((1, "travel x. Measure"), (3, "square. Measure"), (4, "square and 1 more. Measure")):
            told = {b.kind: b for b in before_start(BENCH, 1.0, 0.0, names[:count])}
            self.assertIn(words, told["old"].sentence)

    def test_people_stop_extraction_and_shoe_are_said_where_they_bind(self):
        self.assertNotIn("people", self.said(9.0))
        self.assertIn("2 people", self.said(9.0, least_people=2)["people"].sentence)
        self.assertIn("3000 mm", say(self.said(9.0, stop_reach_mm=3000.0)["stop"].sentence))
        for switched, words in ((True, "the program switches it"), (False, "by hand")):
            self.assertIn(words, before_start(with_words(BENCH, extraction=switched), 1.0, 0.0)[0].sentence)
        self.assertIn("shoe", self.said(9.0, shoe_diameter_mm=90.0))


class Collets(unittest.TestCase):
    def test_a_shank_that_no_collet_takes_is_a_stop_beyond_its_limit_and_the_cure_ends_it(self):
        route, off = route_named("control_plate"), figures()["machine_spans"]["collet_off_mm"]
        shanks = sorted({route.bit(o.bit).shank_diameter_mm for o in route.operations})
        for shift, told in ((off - 0.001, False), (off + 0.001, True), (-off + 0.001, False), (-off - 0.001, True)):
            proof = proof_of(changed(route, put("machine.collets_mm", [s + shift for s in shanks])))
            with self.subTest(shift):
                self.assertEqual("bit.no_collet" in codes(proof), told)
        mended = proof.simulation.whole
        for one in [f for f in proof.findings if f.code == "bit.no_collet"]:
            mended = changed(mended, put("machine.collets_mm", [*mended.machine.collets_mm, one.facts[0].value]))
        self.assertNotIn("bit.no_collet", codes(proof_of(mended)))
        self.assertNotIn("bit.no_collet", codes(proof_of(route)))


class Undercutting(unittest.TestCase):
    def test_a_bit_that_undercuts_is_taken_into_no_job_and_says_why(self):
        route = route_named("control_plate")
        for form in ("dovetail", "undercut"):
            bit = {**route.bits[0].model_dump(mode="json"), "id": form, "form": form}
            with self.assertRaisesRegex(InputError, "sees wood from above only"):
                changed(route, put("bits", [*(b.model_dump(mode="json") for b in route.bits), bit]))
            with self.assertRaisesRegex(InputError, "cannot be checked"):
                parse_bit(f"T1={form}:12")
        self.assertEqual(parse_bit("T1=flat:12")[1].undercuts, False)


class Slots(unittest.TestCase):
    def test_a_changer_holds_as_many_bits_as_it_has_slots(self):
        route = route_named("control_plate")
        bits = len({o.bit for o in route.operations})
        for slots, told in ((bits, False), (bits - 1, True)):
            words = [put("machine.dialect.change_word", True), put("machine.dialect.changer_slots", slots)]
            proof = proof_of(changed(route, *words))
            self.assertEqual("machine.slots" in codes(proof), told)
        found = next(f for f in proof.findings if f.code == "machine.slots")
        mended = proof_of(changed(proof.simulation.whole, *found.cures[0].edits))
        self.assertNotIn("machine.slots", codes(mended))


if __name__ == "__main__":
    unittest.main()
