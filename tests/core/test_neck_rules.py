"""Every check of a neck just inside and just outside its limit, and its cure taken."""

import math
import unittest
from types import SimpleNamespace

import numpy as np
from shapely.geometry import Point, Polygon

from birch_route.core.data import figures
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.holding.touch import plate_below_mm
from birch_route.core.holding.zero import touch_z_mm
from birch_route.core.instrument.resolve import resolve
from birch_route.core.neck.lines import outline_points, posts_of
from birch_route.core.neck.loft import Loft
from birch_route.core.neck.numbers import BackStation
from birch_route.core.neck.strings import head_strings
from birch_route.core.neck.under import least_head, least_under
from birch_route.core.proving import rules_head, rules_neck
from birch_route.core.proving.prove import prove
from birch_route.core.sequence.pins import pin_step
from birch_route.core.stages import frame_of, stage_route
from birch_route.demo.shop import MACHINES
from tests.core.necks import board, neck, the_route
from tests.support import changed, put

FIG = figures()["neck"]
ONCE = (rules_neck.neck_said, rules_neck.wood_under, rules_neck.bars_beside, rules_neck.back_shape,
        rules_neck.heel_bores, rules_head.headstock, rules_head.strings_over_head, rules_head.short_grain,
        rules_head.thin_behind_nut)


def found(route):
    """Return what the rules over a neck's numbers find, by code."""
    sim = SimpleNamespace(whole=route, whole_resolved=resolve(route))
    return {f.code: f for rule in ONCE for f in rule(sim)}


def of(**more):
    return found(the_route(**more))


GOOD = {"head": {"step_mm": 7.5}}  # strings break enough without a retainer


class Pairs(unittest.TestCase):
    def pair(self, code, inside, outside, *, cured=True):
        """Inside a limit nothing is found, outside it is; and its first cure leaves nothing of it."""
        self.assertNotIn(code, of(**inside), f"{code}: inside")
        route = the_route(**outside)
        there = found(route)
        self.assertIn(code, there, f"{code}: outside")
        if cured:
            self.assertTrue(there[code].cures, code)
            for cure in there[code].cures:
                after = apply_edits(route, [read_edit(e) for e in cure.edits])
                self.assertNotIn(code, found(after), f"{code}: cured by {cure.sentence}")

    def test_a_good_neck_has_none(self):
        self.assertEqual(of(**GOOD), {})

    def test_wood_under_the_rod(self):
        left = least_under(Loft(neck()), [f for f in the_route().features if f.id == "rod_channel"])[0].left_mm
        room = 9.0 + left  # of channel and floor together, where it is least
        care, stop = FIG["rod_floor_mm"], FIG["rod_stop_mm"]
        self.pair("neck.rod_floor", {"rod": {"deep_mm": room - care - 0.002}},
                  {"rod": {"deep_mm": room - care + 0.002}})
        self.pair("neck.rod_through", {"rod": {"deep_mm": room - stop - 0.002}},
                  {"rod": {"deep_mm": room - stop + 0.002}})

    def test_a_bowed_channel_is_judged_in_its_middle(self):
        one_way = {"kind": "one_way", "deep_mm": 5.0, "fillet_mm": 4.0}
        x = np.linspace(-6.0, 384.0, 4000)
        room = Loft(neck()).floor_over_channel(x, 3.1) - FIG["rod_floor_mm"] - 9.0
        low, high = 0.0, 10.0
        for _ in range(40):  # the bow at which the channel, a parabola, just keeps its floor
            bow = (low + high) / 2
            enough = (room - bow * (1 - (2 * (x + 6) / 390 - 1) ** 2) >= 0).all()
            low, high = (bow, high) if enough else (low, bow)
        self.pair("neck.rod_floor", {"rod": {**one_way, "bow_mm": low - 0.01}},
                  {"rod": {**one_way, "bow_mm": low + 0.01}})

    def test_the_room_of_an_adjuster(self):
        room = {"adjuster_wide_mm": 10.0, "adjuster_long_mm": 14.0}
        left = least_under(Loft(neck(rod={**room, "adjuster_deep_mm": 10.0})), [
            f for f in the_route(rod={**room, "adjuster_deep_mm": 10.0}).features if f.id == "rod_adjuster"])[0].left_mm
        most = 10.0 + left - FIG["rod_floor_mm"]
        self.pair("neck.rod_floor", {"rod": {**room, "adjuster_deep_mm": most - 0.002}},
                  {"rod": {**room, "adjuster_deep_mm": most + 0.002}})

    def test_walls_beside_bars(self):
        bars = {"width_mm": 4.0, "deep_mm": 5.0, "long_mm": 300.0}
        least = 2 * (FIG["bar_wall_mm"] + 3.1 + 2.0)
        self.pair("neck.bar_wall", {"bars": {**bars, "apart_mm": least + 0.01}},
                  {"bars": {**bars, "apart_mm": least - 0.01}})
        half = 43.0 / 2 + 13.0 / 2 * 15.0 / (635 * (1 - 2 ** (-22 / 12)) + 8)
        most = 2 * (half - 2.0 - FIG["bar_wall_mm"])
        self.pair("neck.bar_wall", {"bars": {**bars, "apart_mm": most - 0.01}},
                  {"bars": {**bars, "apart_mm": most + 0.01}})

    def test_bores_in_the_heel(self):
        bolts = {"across_mm": 38.0, "along_mm": 36.0, "from_end_mm": 10.0, "bore_mm": 4.0, "deep_mm": 14.0}
        floor, wall = FIG["bore_floor_mm"], FIG["bar_wall_mm"]
        self.pair("neck.bore_deep", {"bolts": {**bolts, "deep_mm": 19.0 - floor}},
                  {"bolts": {**bolts, "deep_mm": 19.0 - floor + 0.01}})
        end = 635 * (1 - 2 ** (-22 / 12)) + 8
        near = end - 46.0  # the pair further from the end: the narrower one
        half = (43.0 + 13.0 * near / end) / 2
        lean = math.cos(math.atan(6.5 / end))
        most = 2 * (half - (wall + 2.0) / lean)
        self.pair("neck.bore_beside", {"bolts": {**bolts, "across_mm": most - 0.02}},
                  {"bolts": {**bolts, "across_mm": most + 0.02}})
        long = {"rod": {"long_mm": 440.0}}  # the channel, 6.2 wide, lies under the first pair
        least = 2 * (3.1 + wall + 2.0)
        self.pair("neck.bore_beside", {**long, "bolts": {**bolts, "across_mm": least + 0.01}},
                  {**long, "bolts": {**bolts, "across_mm": least - 0.01}})
        shallow = {**long, "bolts": {**bolts, "across_mm": 10.0, "deep_mm": 9.9}}
        self.assertNotIn("neck.bore_beside", of(**shallow))  # they end before the channel

    def test_headstock_against_its_tuners(self):
        self.pair("neck.head_thick", {"head": {"thick_mm": 12.0}}, {"head": {"thick_mm": 11.99}})
        self.pair("neck.head_thick", {"head": {"thick_mm": 16.0}}, {"head": {"thick_mm": 16.01}})
        deep = 14.5 - FIG["bush_floor_mm"]
        self.pair("neck.bush_through", {"tuners": {"bush_deep_mm": deep}}, {"tuners": {"bush_deep_mm": deep + 0.01}})
        pitch = 15.0 + FIG["housing_mm"]
        self.pair("neck.housings", {"tuners": {"pitch_mm": pitch}}, {"tuners": {"pitch_mm": pitch - 0.01}})

    def edge_left(self, into):
        """Wood beside the bores, by their rims in plan, written apart from the rule."""
        one = neck(tuners={"pitch_mm": 30.0, "in_mm": into})
        rim = Polygon(outline_points(one)).exterior
        return min(rim.distance(Point(p.x_mm, p.y_mm)) for p in posts_of(one)) - 5.0

    def test_wood_beside_a_bore(self):
        low, high = 6.0, 13.0
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (low, middle) if self.edge_left(middle) >= FIG["edge_mm"] else (middle, high)
        far = {"pitch_mm": 30.0}
        self.pair("neck.bore_edge", {"tuners": {**far, "in_mm": high + 0.01}},
                  {"tuners": {**far, "in_mm": low - 0.01}})
        self.pair("neck.bore_edge", {"head": {"long_mm": 178.0}}, {"head": {"long_mm": 120.0}}, cured=False)

    def test_a_tuner_on_the_transition(self):
        level = 42.0 + 7.5
        self.pair("neck.tuner_on_slope", {"tuners": {"first_mm": level}}, {"tuners": {"first_mm": level - 0.01}})

    def test_strings_break_enough(self):
        def least(step):
            return min(s.break_deg for s in head_strings(neck(head={"step_mm": step})))
        low, high = 4.0, 9.0
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (middle, high) if least(middle) < FIG["least_break_deg"] else (low, middle)
        self.pair("neck.string_loose", {"head": {"step_mm": high + 0.01}}, {"head": {"step_mm": high - 0.01}})

    def test_strings_turn_little_and_pass_other_posts(self):
        def turns(wide):
            return max(s.side_deg for s in head_strings(neck(head={"step_mm": 8.0, "wide_mm": wide})))
        low, high = 78.0, 130.0
        for _ in range(40):
            middle = (low + high) / 2
            low, high = (middle, high) if turns(middle) <= FIG["most_side_deg"] else (low, middle)
        self.pair("neck.string_turns", {"head": {"step_mm": 8.0, "wide_mm": low - 0.01}},
                  {"head": {"step_mm": 8.0, "wide_mm": high + 0.01}})
        straight = {"form": "blunt", "wide_mm": 60.0, "step_mm": 8.0, "long_mm": 190.0}
        near = [(v, min(s.passes_mm for s in head_strings(neck(head=straight, tuners={"in_mm": v, "pitch_mm": 40.0}))))
                for v in np.arange(5.0, 26.0, 0.1)]
        clear = FIG["string_clear_mm"]
        bad = next(v for v, d in near if d < clear)
        good = max(v for v, d in near if v < bad and d >= clear)
        self.pair("neck.string_post", {"head": straight, "tuners": {"in_mm": float(good), "pitch_mm": 40.0}},
                  {"head": straight, "tuners": {"in_mm": float(bad), "pitch_mm": 40.0}})

    def test_wood_behind_the_nut(self):
        def head(thick):
            return {"thick_mm": thick, "step_mm": 8.0, "transition_mm": 80.0}
        low, high = 8.0, 24.0
        for _ in range(40):
            middle = (low + high) / 2
            enough = least_head(Loft(neck(head=head(middle))))[0] >= FIG["head_least_mm"]
            low, high = (low, middle) if enough else (middle, high)
        self.pair("neck.head_thin", {"head": head(high + 0.01)}, {"head": head(low - 0.01)})

    def test_a_row_lets_every_string_run_straight(self):
        row = {"form": "row", "long_mm": 225.0, "step_mm": 7.5}
        strings = head_strings(neck(head=row, tuners={"pitch_mm": 26.0, "first_mm": 56.0}))
        self.assertLess(max(s.side_deg for s in strings), 1.5)
        self.assertGreater(min(s.passes_mm for s in strings), FIG["string_clear_mm"])

    def test_short_grain(self):
        lean = {"kind": "angled"}
        self.pair("neck.short_grain", {"head": {**lean, "angle_deg": FIG["run_out_deg"]}},
                  {"head": {**lean, "angle_deg": FIG["run_out_deg"] + 0.01}})

    def test_waves(self):
        self.pair("neck.waves", GOOD, {**GOOD, "stations": [
            BackStation(at_mm=150.0, thick_mm=23.0), BackStation(at_mm=240.0, thick_mm=21.0)]})

    def test_a_blank_too_thin(self):
        route = the_route(**GOOD)
        shallow = figures()["fretboard"]["shallow_mm"]
        deep = Loft(route.piece.neck).blank_mm
        for less, there in ((shallow - 0.01, False), (shallow + 0.01, True)):
            thin = changed(route, put("blank.thickness_mm", round(deep - less, 3)))
            got = found(thin)
            self.assertEqual("neck.blank_thin" in got, there, less)
            if there:
                cured = apply_edits(thin, [read_edit(e) for e in got["neck.blank_thin"].cures[0].edits])
                self.assertNotIn("neck.blank_thin", found(cured))

    def test_what_nobody_said_holds_its_cut_until_somebody_does(self):
        route = the_route(mine=[], **GOOD)
        got = [f for f in rules_neck.neck_said(SimpleNamespace(whole=route)) if f.code == "neck.unsaid"]
        self.assertEqual(len(got), 2)  # the back, the headstock
        self.assertTrue(all(f.severity.value == "stop" for f in got))
        for one in got:
            route = apply_edits(route, [read_edit(e) for e in one.cures[0].edits])
        self.assertNotIn("neck.unsaid", found(route))
        typed = changed(the_route(mine=[], **GOOD), put("piece.neck.heel_mm", 18.5))
        self.assertIn("heel_mm", typed.piece.neck.mine)

    def test_nothing_is_cut_for_what_has_no_size(self):
        bare = the_route(rod={"width_mm": None}, tuners={"pitch_mm": None})
        self.assertLessEqual({"neck.no_rod", "neck.no_tuners"}, set(found(bare)))
        self.assertFalse({f.id for f in bare.features} & {"rod_channel", "tuner_posts", "tuner_bushes"})
        typed = changed(bare, put("piece.neck.rod.width_mm", 6.0))
        self.assertNotIn("neck.no_rod", found(typed))
        self.assertIn("rod_channel", {f.id for f in typed.features})


class WhatFollows(unittest.TestCase):
    def test_steps_follow_the_numbers_and_a_persons_own_stay(self):
        bare = the_route(rod={"width_mm": None}, **GOOD)
        ids = [s.id for s in bare.bench_steps]
        self.assertNotIn("rod_fit", ids)
        told = changed(bare, put("piece.neck.rod.width_mm", 6.0))
        now = [s.id for s in told.bench_steps]
        self.assertEqual(now.index("rod_fit") + 1, now.index("board_glue"))
        self.assertEqual(told.bench_steps[now.index("rod_fit")].after, told.operations[-1].id)
        again = changed(told, put("piece.neck.rod.width_mm", None))
        self.assertNotIn("rod_fit", [s.id for s in again.bench_steps])
        mine = changed(told, put("bench_steps.rod_fit.minutes", 55))
        self.assertIn("rod_fit", [s.id for s in changed(mine, put("piece.neck.rod.width_mm", None)).bench_steps])

    def test_what_comes_back_stands_where_a_neck_is_worked_and_touches_off(self):
        route = the_route(wood="khaya", **GOOD)
        ids = [o.id for o in route.operations]
        none = changed(route, put("piece.neck.head.kind", "none"), put("piece.neck.rod.from_mm", 8.0))
        self.assertNotIn("pocket_head_face", [o.id for o in none.operations])
        for op, before in zip(none.operations, [None, *none.operations], strict=False):
            if before is None or (before.bit, before.setup) != (op.bit, op.setup):
                self.assertTrue(op.touch_off_before, op.id)
        back = changed(none, put("piece.neck.head.kind", "stepped"))
        self.assertEqual([o.id for o in back.operations], ids)

    def test_pins_reach_through_the_sheet_of_scrap(self):
        route = the_route(wood="khaya", **GOOD)
        step = next(s for s in route.bench_steps if s.id == "pins_back")
        self.assertIn("through the sheet of scrap", step.note)
        bare = changed(route, put("setups.back.sheet_mm", 0.0))
        long = [pin_step(r, r.setup("back")).note.split("and ⟦")[-1].split("|")[0] for r in (route, bare)]
        self.assertEqual(float(long[0]) - float(long[1]), 10.0)  # to the next of five

    def test_a_blank_is_fitted_with_its_index_holes(self):
        route = the_route(wood="khaya", **GOOD)
        longer = changed(route, put("piece.neck.head.long_mm", 200.0), put("piece.neck.heel_mm", 24.0))
        fitted = changed(longer, {"do": "fit_blank"})
        self.assertAlmostEqual(fitted.blank.thickness_mm, 24.0, 3)
        self.assertEqual(fitted.blank.length_mm - route.blank.length_mm, 22)
        holes = next(f for f in fitted.piece.features if f.id == "index_holes")
        outline = resolve(fitted).outline.bounds
        self.assertTrue(fitted.blank.x_mm < holes.points[0][0] < outline[0] and holes.points[1][0] > outline[2])
        self.assertEqual([f.code for f in prove(fitted, cell_mm=0.5).findings if f.severity.value == "stop"], [])


class OnTheSheet(unittest.TestCase):
    """Wood that lies on a sheet of scrap lies higher by it, for all that counts from the waste board."""

    def staged(self, **machine):
        route = the_route(wood="khaya", machine={**MACHINES[0], **machine}, **GOOD)
        setup = route.setup("back")
        return stage_route(route, setup, frame_of(setup, route.blank.piece_mm))

    def test_a_fixed_touch_plate_lies_under_the_sheet(self):
        back = self.staged(probe_mm=(20.0, 20.0), touch_plate_mm=12.0)
        flat = back.model_copy(update={"setups": [back.setups[0].model_copy(update={"sheet_mm": 0.0})]})
        low = back.blank.bottom_mm
        self.assertAlmostEqual(touch_z_mm(flat, low), 12.0)
        self.assertAlmostEqual(touch_z_mm(back, low), 12.0 - 9.0)  # zero is the sheet's top, 9 over the board
        hand = self.staged(touch_plate_mm=12.0)
        self.assertAlmostEqual(touch_z_mm(hand, low), 12.0)  # the plate lies on the sheet itself

    def test_a_plate_on_the_wood_lies_higher(self):
        back = self.staged(touch_plate_mm=12.0)
        flat = back.model_copy(update={"setups": [back.setups[0].model_copy(update={"sheet_mm": 0.0})]})
        bit = back.bits[0]
        self.assertAlmostEqual(plate_below_mm(flat, bit) - plate_below_mm(back, bit), 9.0)

    def test_the_upper_end_of_travel_is_met_a_sheet_sooner(self):
        def found(nut_clear):
            route = the_route(wood="khaya", machine={**MACHINES[0], "nut_clear_mm": nut_clear}, **GOOD)
            outside = (f for f in prove(route, cell_mm=0.5).findings if f.code == "travel.outside")
            return [f for f in outside if "upper" in f.sentence]

        route = the_route(wood="khaya", **GOOD)
        longest = max(route.bit(o.bit).stickout_mm for o in route.operations if o.setup == "back")
        least = 9.0 + route.blank.thickness_mm + route.setup("back").clearance_mm + longest
        self.assertEqual(found(least + 0.01), [])
        self.assertNotEqual(found(least - 0.01), [])


class TheBallOfTheBack(unittest.TestCase):
    def ran(self, route):
        return {f.code: f for f in prove(route, cell_mm=0.5).findings}

    def test_a_ball_wider_than_a_hollow(self):
        """A short transition to the heel is hollow by less than a ball of 12; the narrower one fits."""
        short = {**GOOD, "heel_ramp_mm": 19.0, "heel_mm": 20.0}
        hollow = Loft(neck(**short)).least_hollow_mm()[0]
        self.assertTrue(4.0 < hollow < 6.0, hollow)
        route = the_route(**short)
        finish = next(o for o in route.operations if o.id == "surface_finish_neck_back")
        self.assertLess(route.bit(finish.bit).radius_mm, hollow)
        self.assertNotIn("neck.ball_wide", self.ran(route))
        wide = changed(route, put(f"operations.{finish.id}.bit", "ball12"))
        got = self.ran(wide)
        self.assertIn("neck.ball_wide", got)
        cured = apply_edits(wide, [read_edit(e) for e in got["neck.ball_wide"].cures[0].edits])
        self.assertNotIn("neck.ball_wide", self.ran(cured))

    def test_a_ball_that_ends_over_the_rim(self):
        route = the_route(**GOOD)
        radius = 6.0
        for short, there in ((FIG["rim_short_mm"] - 0.01, False), (FIG["rim_short_mm"] + 0.01, True)):
            less = changed(route, put("operations.surface_finish_neck_back.overcut_mm", round(radius - short, 3)))
            got = self.ran(less)
            self.assertEqual("neck.rim_left" in got, there, short)
            if there:
                cured = apply_edits(less, [read_edit(e) for e in got["neck.rim_left"].cures[0].edits])
                self.assertNotIn("neck.rim_left", self.ran(cured))

    def test_without_a_sheet_of_scrap_under_it_the_ball_meets_the_waste_board(self):
        route = changed(the_route(**GOOD), put("setups.back.sheet_mm", 0.0))
        self.assertIn("waste_board.hit", self.ran(route))
        for sheet, there in ((7.05, False), (6.9, True)):  # the ball goes 6.02 below, and 1 of the sheet stays whole
            self.assertEqual("waste_board.hit" in self.ran(changed(route, put("setups.back.sheet_mm", sheet))), there)

    def test_a_good_neck_in_plain_wood_has_no_stop_and_no_care(self):
        got = prove(the_route(wood="khaya", **GOOD)).findings
        self.assertEqual([(f.code, f.sentence) for f in got if f.severity.value != "note"], [])

    def test_a_leaning_headstock_is_cut_and_bored_by_hand(self):
        route = the_route(wood="khaya", head={"kind": "angled", "angle_deg": 4.0, "long_mm": 140.0},
                          tuners={"pitch_mm": 28.0})
        self.assertIn("tuner_bores", {s.id for s in route.bench_steps})
        self.assertNotIn("tuner_posts", {f.id for f in route.features})
        proof = prove(route)
        self.assertEqual([f.code for f in proof.stops], [])
        sim = proof.simulations[0]
        x = -100.0
        j, i = sim.grid.cell_of(x, 0.0)
        at = sim.grid.x0_mm + (i + 0.5) * sim.grid.cell_mm
        self.assertAlmostEqual(float(sim.result[j, i]), -(-at - 7.0) * math.tan(math.radians(4.0)), delta=0.04)

    def test_the_board_of_numbers_it_needs(self):
        self.assertAlmostEqual(Loft(neck(on=board(thickness_mm=7.0))).depth(np.array([35.6398]))[0], 14.0, 3)


if __name__ == "__main__":
    unittest.main()
