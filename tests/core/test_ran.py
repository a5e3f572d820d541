"""What a run tells: cuts by operation, what it wore, what was changed at the machine; and what the books then say of a route."""

import unittest
from dataclasses import replace

from birch_route.core.bits.life import life
from birch_route.core.brushes import brushes
from birch_route.core.cutting.ran import (
    Ran,
    as_run,
    changes,
    check,
    cut_of,
    cuts_of,
    noted,
    turning,
    wear_of_run,
)
from birch_route.core.cutting.shop import OnRack, findings_of, of_operations
from birch_route.core.data import figures
from birch_route.core.errors import InputError
from birch_route.core.machines import Machine
from birch_route.core.proving.findings import CODES
from birch_route.core.vocabulary import CutKind, Outcome, Standing
from birch_route.demo.shop import BELT_MACHINE
from birch_route.formats.report import report
from tests.support import changed, proof_of, put, route_named

POCKET = "pocket_pickup_pocket"


class Run(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = changed(route_named("siskin_body"), put(f"operations.{POCKET}.settings.feed_mm_min", 3000))  # the machine goes faster still
        cls.rows = report(proof_of(cls.route), [], None)["operations"]
        cls.row = next(r for r in cls.rows if r["id"] == POCKET)

    def cuts(self, whole="fine", **ran):
        return {t.note.split(" of ")[0]: t for t in cuts_of(self.route, self.rows, whole, {k: Ran(**v) for k, v in ran.items()})}

    def says(self, trials=(), rack=None, worn=None, changed_at=()):
        metres = {(w.bit, w.wood): w.metres for w in wear_of_run(self.route, self.rows, {}, {})}
        return findings_of(self.route, of_operations(self.route, self.rows, trials), rack or {}, metres, worn, changed_at)


class Cuts(Run):
    def test_a_run_that_went_well_keeps_every_cut_but_drills_and_one_that_went_badly_only_what_is_said(self):
        milled = [r for r in self.rows if r["kind"] != "drill"]
        self.assertEqual(len(self.cuts()), len(milled))
        self.assertEqual(self.cuts("chatter"), {})
        named = self.cuts("chatter", **{POCKET: {"outcome": "chatter"}, "face": {"outcome": "fine"}})
        face = next(r["name"] for r in self.rows if r["id"] == "face")
        self.assertEqual({k: t.outcome for k, t in named.items()}, {self.row["name"]: Outcome.CHATTER, face: Outcome.FINE})
        self.assertNotIn(self.row["name"], self.cuts(**{POCKET: {"is_skipped": True}}))

    def test_a_rate_changed_at_the_machine_is_what_is_kept(self):
        s = self.route.operation(POCKET).settings
        cut = self.cuts(**{POCKET: {"feed_mm_min": s.feed_mm_min / 2}})[self.row["name"]]
        self.assertAlmostEqual(cut.settings.feed_mm_min, s.feed_mm_min / 2)
        self.assertAlmostEqual(cut.settings.plunge_mm_min, s.plunge_mm_min / 2)
        self.assertIn("50% of its feed", cut.note)
        self.assertEqual((cut.settings.depth_of_cut_mm, cut.settings.stepover_mm), (self.row["depth_met_mm"], self.row["side_engagement_mm"]))

    def test_what_cannot_have_been_is_refused_with_its_place(self):
        for id_, one, where in (("nothing", {}, "ran.nothing"), (POCKET, {"feed_mm_min": self.route.machine.greatest_feed_mm_min * 1.01}, f"ran.{POCKET}.feed_mm_min"), (POCKET, {"speed_rpm": 60_000}, f"ran.{POCKET}.speed_rpm")):
            with self.assertRaises(InputError) as caught:
                check(self.route, {id_: Ran(**one)})
            self.assertEqual(caught.exception.where, where)
        check(self.route, {POCKET: Ran(feed_mm_min=self.route.machine.greatest_feed_mm_min)})

    def test_a_slot_is_a_slot_and_any_bit_but_a_drill_is_asked_of_records(self):
        neck = route_named("siskin_neck_face")
        rows = report(proof_of(neck), [], None)["operations"]
        kinds = {r["id"]: cut_of(neck, r) for r in rows}
        self.assertEqual({k: c and c[0].kind for k, c in kinds.items() if k in ("pocket_rod_channel", "profile_outline", "drill_index_holes")}, {"pocket_rod_channel": CutKind.SLOT, "profile_outline": CutKind.SLOT, "drill_index_holes": None})


class Wear(Run):
    def test_metres_and_minutes_are_the_proofs_unless_somebody_noted_them_and_what_was_skipped_wears_nothing(self):
        found = wear_of_run(self.route, self.rows, {}, {})
        self.assertAlmostEqual(sum(w.metres for w in found), sum(r["cut_length_mm"] for r in self.rows) / 1000, places=2)
        self.assertAlmostEqual(sum(w.minutes for w in found), sum(r["machine_min"] for r in self.rows), places=2)
        skipped = wear_of_run(self.route, self.rows, {r["id"]: Ran(is_skipped=True) for r in self.rows if r["id"] != POCKET}, {POCKET: 9.5})
        self.assertEqual([(w.bit, w.minutes) for w in skipped], [(self.row["bit"], 9.5)])
        half = wear_of_run(self.route, [self.row], {POCKET: Ran(feed_mm_min=self.row["settings"]["feed_mm_min"] / 2)}, {})
        self.assertAlmostEqual(half[0].minutes, 2 * self.row["machine_min"], places=2)

    def test_brushes_wear_with_turns(self):
        """Twice as fast is twice the way under the brush; the greatest speed counts one to one."""
        m = self.route.machine
        row = {**self.row, "machine_min": 10.0}
        for speed, weighed in ((m.greatest_rpm, 10.0), (m.greatest_rpm / 2, 5.0)):
            plain, found = turning(m, [{**row, "settings": {**row["settings"], "speed_rpm": speed}}], {}, {})
            self.assertAlmostEqual(plain, 10.0)
            self.assertAlmostEqual(found, weighed)
        self.assertAlmostEqual(turning(m, [row], {POCKET: Ran(speed_rpm=m.greatest_rpm)}, {})[1], 10.0)

    def test_brushes_are_told_in_pairs_and_begin_anew_with_a_new_set(self):
        m = Machine.model_validate(BELT_MACHINE)
        self.assertIsNone(brushes(m.model_copy(update={"brushes_h": None}), []))

        def note(what, weighed=0.0, spares=None):
            return {"what": what, "minutes": weighed * 1.3, "weighed_min": weighed, "spares": spares}
        look = (1 - figures()["brushes"]["look_part"]) * m.brushes_h * 60
        for worn, job, said in ((look - 6, 0.0, ""), (look + 6, 0.0, "look at their length"), (m.brushes_h * 60 - 60, 59.0, "look at"), (m.brushes_h * 60 - 60, 61.0, "change them first"), (m.brushes_h * 60 + 1, 0.0, "are due")):
            found = brushes(m, [note("ran", worn, None), note("spares", 0.0, 2), note("brushes"), note("ran", 9e5)], job)
            self.assertEqual((said in found.words, bool(found.words), found.spares), (True, bool(said), 2), (worn, job, found.words))
        self.assertIn("no spare set", brushes(m, [note("ran", look + 6)]).words)
        self.assertEqual(brushes(m, [note("ran", (m.brushes_h - 10) * 60)], 150.0).jobs_left, 4)


class Says(Run):
    def test_nothing_is_said_where_the_books_are_empty(self):
        self.assertEqual(self.says(), [])

    def test_a_cut_as_hard_as_one_that_failed_is_told_and_its_cure_is_what_went_well(self):
        s = self.route.operation(POCKET).settings
        good = self.cuts(**{POCKET: {"feed_mm_min": s.feed_mm_min * 0.7}})[self.row["name"]]
        for feed, told in ((1.02, False), (0.98, True)):
            bad = replace_feed(self.cuts()[self.row["name"]], s.feed_mm_min * feed, Outcome.CHATTER)
            found = [f for f in self.says([bad, good]) if f.operation == POCKET]
            self.assertEqual([f.code for f in found], ["shop.failed_before"] if told else [])
        self.assertEqual(found[0].severity, CODES["shop.failed_before"][0])
        after = changed(self.route, *found[0].cures[0].edits)
        self.assertAlmostEqual(after.operation(POCKET).settings.feed_mm_min, s.feed_mm_min * 0.7, delta=0.2)
        said = next(x for x in of_operations(after, self.rows, [bad, good]) if x.operation.id == POCKET)
        self.assertEqual(said.trust.standing, Standing.PROVEN)

    def test_a_thin_chip_that_burned_is_told(self):
        s = self.route.operation(POCKET).settings
        burnt = replace_feed(self.cuts()[self.row["name"]], s.feed_mm_min * 1.01, Outcome.BURNING)
        found = [f for f in self.says([burnt]) if f.operation == POCKET]
        self.assertIn("burned here", found[0].reason)
        self.assertEqual([f for f in self.says([replace_feed(burnt, s.feed_mm_min * 0.98, Outcome.BURNING)]) if f.operation == POCKET], [])

    def test_a_failure_that_harder_cuts_speak_against_is_told_as_such(self):
        own = self.cuts()[self.row["name"]]
        harder = own.model_copy(update={"settings": own.settings.model_copy(update={"depth_of_cut_mm": own.settings.depth_of_cut_mm * 1.2})})
        bad = replace_feed(own, own.settings.feed_mm_min, Outcome.CHATTER)
        found = [f for f in self.says([bad, harder, harder]) if f.operation == POCKET]
        self.assertEqual([f.code for f in found], ["shop.failed_once"])
        self.assertIn("2 cuts no easier went well", found[0].reason)
        self.assertEqual([f.code for f in self.says([bad]) if f.operation == POCKET], ["shop.failed_before"])
        elsewhere = replace_feed(bad, own.settings.feed_mm_min * 0.7, Outcome.CHATTER)
        self.assertEqual([f for f in self.says([elsewhere, harder, harder]) if f.operation == POCKET], [])

    def test_a_faster_cut_of_the_same_ground_is_offered_and_then_it_is_proven(self):
        s = self.route.operation(POCKET).settings
        fast = replace_feed(self.cuts()[self.row["name"]], s.feed_mm_min * 1.2, Outcome.FINE)
        said = next(x for x in of_operations(self.route, self.rows, [fast]) if x.operation.id == POCKET)
        self.assertEqual(said.best, fast)
        self.assertAlmostEqual(said.times, 1.2, places=3)  # in as many passes
        shallow = fast.model_copy(update={"settings": fast.settings.model_copy(update={"depth_of_cut_mm": 1.0})})
        self.assertIsNone(next(x for x in of_operations(self.route, self.rows, [shallow]) if x.operation.id == POCKET).best)  # faster, and in so many more passes
        after = changed(self.route, *said.edits)
        rows = report(proof_of(after), [], None)["operations"]
        now = next(x for x in of_operations(after, rows, [fast]) if x.operation.id == POCKET)
        self.assertIn(now.trust.standing, (Standing.PROVEN, Standing.COVERED))
        self.assertIsNone(now.best)
        narrow = fast.model_copy(update={"settings": fast.settings.model_copy(update={"stepover_mm": 1.0})})
        self.assertIsNone(next(x for x in of_operations(self.route, self.rows, [narrow]) if x.operation.id == POCKET).best)

    def test_a_bit_that_was_measured_or_is_nearly_worn_is_told_in_pairs(self):
        bit = self.route.bit("flat8")
        asks = sum(w.metres for w in wear_of_run(self.route, self.rows, {}, {}) if w.bit == "flat8")
        for across, told in ((8.004, False), (7.96, True)):
            on = OnRack(bit.model_copy(update={"measured_diameter_mm": across}), life(bit, []))
            found = self.says(rack={"flat8": on})
            self.assertEqual([f.code for f in found], ["shop.bit_measured"] if told else [])
        self.assertEqual(changed(self.route, *found[0].cures[0].edits).bit("flat8").cut_diameter_mm, 7.96)
        fresh = life(bit, [])
        for worn, told in ((fresh.limit_m - asks, False), (fresh.limit_m - asks * 0.3, True)):  # alder wears less than a metre a metre
            found = self.says(rack={"flat8": OnRack(bit, replace(fresh, worn_m=worn))})
            self.assertEqual([f.code for f in found], ["shop.bit_worn"] if told else [])

    def test_brushes_that_are_due_are_told(self):
        m = Machine.model_validate(BELT_MACHINE)
        due = brushes(m, [{"what": "ran", "minutes": 0.0, "weighed_min": m.brushes_h * 60, "spares": None}])
        self.assertEqual([f.code for f in self.says(worn=due)], ["shop.brushes_due"])
        self.assertEqual(self.says(worn=brushes(m, [])), [])

    def test_rates_changed_at_the_machine_come_back_as_an_edit(self):
        s = self.route.operation(POCKET).settings
        def kept(**more):
            return noted(self.route, {k: Ran(**v) for k, v in more.items()})
        ran = kept(**{POCKET: {"feed_mm_min": s.feed_mm_min * 0.8}, "face": {"outcome": "torn", "feed_mm_min": 500.0}})
        found = changes(self.route, [{"outcome": "fine", "ran": ran}, {"outcome": "fine", "ran": kept(**{POCKET: {"feed_mm_min": 100.0}})}])
        self.assertEqual([c.operation for c in found], [POCKET])  # the newest counts, and what tore is no example
        said = [f for f in self.says(changed_at=found) if f.code == "shop.changed_at_machine"]
        after = changed(self.route, *said[0].cures[0].edits)
        self.assertEqual(after.operation(POCKET).settings, as_run(s, Ran(feed_mm_min=s.feed_mm_min * 0.8)))
        self.assertEqual(changes(after, [{"outcome": "fine", "ran": ran}]), [])
        self.assertEqual(changes(self.route, [{"outcome": "stopped", "ran": ran}]), [])
        self.assertEqual(changes(changed(self.route, put(f"operations.{POCKET}.bit", "flat6")), [{"outcome": "fine", "ran": ran}]), [])  # rates of another bit
        self.assertEqual(changes(changed(self.route, put("machine.name", "Another")), [{"outcome": "fine", "ran": ran}]), [])
        turned = changes(self.route, [{"outcome": "slow", "ran": kept(**{POCKET: {"speed_rpm": 9000}})}])
        self.assertEqual([e["path"].split(".")[-1] for e in turned[0].edits], ["speed_rpm"])


def replace_feed(trial, feed, outcome):
    return trial.model_copy(update={"outcome": outcome, "settings": trial.settings.model_copy(update={"feed_mm_min": feed})})


if __name__ == "__main__":
    unittest.main()
