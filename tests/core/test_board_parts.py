"""What a board has besides its slots: a wire that was read, binding, side dots, slanted ends, steps at the bench; what
nobody said; what a broken bit costs. Each limit from both sides."""

import unittest

import shapely

from birch_route.core.bits.life import life
from birch_route.core.cutting.ran import wear_of_run
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.fretboard.broken import Work, broken_bit
from birch_route.core.fretboard.numbers import Wire
from birch_route.core.fretboard.ways import sideways, slot_bits
from birch_route.core.instrument.resolve import resolve
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import Cache
from birch_route.formats.report import report
from tests.core.boards import UNDER, WIRE, board, board_route
from tests.core.test_board_route import codes, fret, serious, top_at


def set_(path, value):
    return read_edit({"do": "set", "path": path, "value": value})


class WireRead(unittest.TestCase):
    def test_a_size_is_the_mean_of_its_readings_and_told_where_there_are_none(self):
        wire = Wire(tang_mm=0.7, barbs_mm=0.9, readings={"tang_mm": [0.57, 0.58, 0.60], "barbs_mm": []})
        self.assertEqual((wire.tang_mm, wire.barbs_mm), (0.5833, 0.9))
        self.assertAlmostEqual(wire.spread_mm("tang_mm"), 0.03)
        self.assertEqual((wire.spread_mm("barbs_mm"), wire.readings), (0.0, {"tang_mm": [0.57, 0.58, 0.60]}))
        with self.assertRaisesRegex(ValueError, "wider across its barbs"):
            Wire(barbs_mm=0.9, readings={"tang_mm": [0.95]})

    def test_readings_further_apart_than_a_slot_has_to_play_are_told(self):
        for seat, play in (("pressed", 0.04), ("hammered", 0.03), ("glued", 0.05)):
            for apart, told in ((play - 0.001, False), (play + 0.001, True)):
                wire = Wire(tang_depth_mm=1.6, barbs_mm=0.9, readings={"tang_mm": [0.58, 0.58 + apart]})
                with self.subTest(seat, apart=apart):
                    self.assertIs("slot.readings" in codes(prove(board_route(wire=wire, seat=seat))), told)

    def test_a_wire_that_is_only_told_is_a_note_until_all_of_it_is_read(self):
        read = {"tang_mm": [0.58], "barbs_mm": [0.86], "tang_depth_mm": [1.6]}
        self.assertIn("slot.told", codes(prove(board_route())))
        self.assertNotIn("slot.told", codes(prove(board_route(wire=Wire(readings=read)))))
        part = Wire(barbs_mm=0.86, readings={k: v for k, v in read.items() if k != "barbs_mm"})
        told = next(f for f in prove(board_route(wire=part)).findings if f.code == "slot.told")
        self.assertIn("across the barbs", told.sentence)
        self.assertNotIn("tang between", told.sentence)


def runs_out(over, **more):
    """A board's route on a machine whose slots are measured to be so much wider than their bit."""
    route = board_route(**more)
    return apply_edits(route, [set_("machine.precision", {"slot_over_mm": over})])


class RunsOut(unittest.TestCase):
    """Slots of 0.58 to 0.62, a bit of 0.60: a machine may add 0.02 and no more."""

    def test_a_slot_is_as_wide_as_its_bit_and_what_the_machine_adds(self):
        self.assertNotIn("feature.bit_too_wide", codes(prove(runs_out(0.0199))))
        told = prove(runs_out(0.0201))
        self.assertIn("feature.bit_too_wide", codes(told))
        cure = next(f for f in told.findings if f.code == "feature.bit_too_wide").cures[0]
        cured = apply_edits(runs_out(0.0201), [read_edit(e) for e in cure.edits])
        proof = prove(cured)
        self.assertEqual(serious(proof), [])
        self.assertEqual(next(o.bit for o in cured.operations if "fret_slots" in o.features), "slot05")

    def test_a_thinner_bit_goes_less_far_aside_where_it_cuts_wider(self):
        floors = resolve(board_route()).solid("fret_slots").surface
        for over, apart in ((0.0, 0.10), (0.04, 0.06)):
            ways = sideways(floors, 0.5 + over)
            self.assertAlmostEqual(max(ways) - min(ways), apart, places=6)
        self.assertEqual(sideways(floors, 0.5 + 0.0801), [0.0])
        self.assertEqual([b.id for b in slot_bits(board_route().bits, floors, 0.03)], ["slot05"])

    def test_paths_of_slots_are_made_anew_where_order_or_machine_changes_them(self):
        cache = Cache(30)
        route = board_route()
        first = prove(route, cache)
        ids = [o.id for o in route.operations]
        slots = next(o.id for o in route.operations if "fret_slots" in o.features)
        late = apply_edits(route, [read_edit(
            {"do": "move_operation", "operation": slots, "to": ids.index("profile_outline") - 1})])
        for changed in (late, apply_edits(runs_out(0.04), [set_(f"operations.{slots}.bit", "slot05")])):
            kept, anew = prove(changed, cache), prove(changed)
            one, other = (next(s.path.points for s in p.steps if s.operation.id == slots) for p in (kept, anew))
            self.assertEqual(one.shape, other.shape)
            self.assertLess(abs(one - other).max(), 1e-9)
        self.assertTrue(first.steps)


class Said(unittest.TestCase):
    def test_what_nobody_said_holds_the_cut_that_it_decides_and_one_press_says_it(self):
        route = board_route(mine=[])
        told = [f for f in prove(route).findings if f.code == "board.unsaid"]
        self.assertEqual([(f.severity.value, f.feature) for f in told], [("stop", "fret_slots"), ("stop", "outline")])
        for one in told:
            route = apply_edits(route, [read_edit(e) for e in one.cures[0].edits])
        self.assertNotIn("board.unsaid", codes(prove(route)))

    def test_only_what_decides_a_cut_of_this_board_is_asked(self):
        self.assertEqual(board(mine=[]).unsaid(), ["seat", "before_nut_mm", "past_last_fret_mm"])
        self.assertEqual(board(mine=[], wire=Wire()).unsaid(), ["before_nut_mm", "past_last_fret_mm"])
        self.assertIn("edge_land_mm", board(mine=[], bass_scale_mm=670.0).unsaid())
        typed = apply_edits(board_route(mine=[]), [set_("piece.board.past_last_fret_mm", 9.0)])
        self.assertEqual(typed.piece.board.unsaid(), ["seat", "before_nut_mm"])

    def test_dots_and_nut_without_their_sizes_are_not_cut_and_it_is_said(self):
        for more in ({"marker_mm": None}, {"marker_deep_mm": None}):
            route = board_route(**more)
            self.assertFalse(any(f.id.startswith("dot") for f in route.features))
            found = next(f for f in prove(route).findings if f.code == "board.waits")
            none = apply_edits(route, [read_edit(e) for e in found.cures[0].edits])
            self.assertNotIn("board.waits", codes(prove(none)))
        self.assertNotIn("board.waits", codes(prove(board_route())))
        self.assertIn("board.waits", codes(prove(board_route(nut_slot_mm=3.0, nut_deep_mm=None))))


class Edges(unittest.TestCase):
    def test_binding_on_the_whole_edge_makes_the_wood_narrower_and_slots_run_through_it(self):
        bare, bound = (resolve(board_route(**m)) for m in ({}, {"binding_mm": 1.5}))
        for x in (5.0, 300.0, 450.0):
            line = shapely.LineString([(x, -60), (x, 60)])
            wide = [line.intersection(r.outline).length for r in (bare, bound)]
            self.assertAlmostEqual(wide[0] - wide[1], 3.0, delta=1e-3)
        ways = bound.solid("fret_slots").surface.ways
        for a, b in ways:
            self.assertAlmostEqual(abs(b[1] - a[1]), shapely.LineString([(a[0], -60), (a[0], 60)]).intersection(
                bound.outline).length, delta=1e-6)
        self.assertEqual(serious(prove(board_route(binding_mm=1.5))), [])

    def test_a_ledge_is_cut_along_both_edges_as_deep_as_said(self):
        route = board_route(binding_mm=1.5, binding_deep_mm=4.5)
        proof = prove(route)
        self.assertEqual(serious(proof), [])
        end = fret(648, 22) + 8.0
        for x in (-3.0, 100.0, 333.3, end - 3):
            half = (42.5 + 13.5 * x / end) / 2
            for side in (-1, 1):
                self.assertAlmostEqual(top_at(proof, x, side * (half - 0.7)), -4.5, delta=0.01)
                self.assertGreater(top_at(proof, x, side * (half - 1.8)), -2.1)

    def test_a_ledge_is_not_accused_of_the_outline_beside_it(self):
        """A cell on the outline's own wall is none of its floor; the floor is told from both sides of its least."""
        for more in ({"thickness_mm": 5.5, "binding_deep_mm": 3.7, "width_end_mm": 54.1, "radius_nut_mm": 241.0},
                     {"thickness_mm": 6.3, "binding_deep_mm": 4.8, "width_end_mm": 63.7}):
            proof = prove(board_route(binding_mm=1.5, floors="following", **more))
            self.assertNotIn("feature.floor_thin", codes(proof))
        thin = board_route(binding_mm=1.5, binding_deep_mm=5.0, floors="following")
        self.assertNotIn("feature.floor_thin", codes(prove(thin)))
        thinner = thin.model_copy(update={"blank": thin.blank.model_copy(update={"thickness_mm": 6.9})})
        self.assertIn("feature.floor_thin", codes(prove(thinner)))

    def test_slots_below_the_ledge_that_covers_their_ends_are_told(self):
        deep = resolve(board_route()).solid("fret_slots").surface.deepest_mm
        for ledge, told in ((deep - 0.01, True), (deep + 0.01, False)):
            found = prove(board_route(binding_mm=1.5, binding_deep_mm=round(ledge, 3))).findings
            self.assertIs("board.ledge_shallow" in {f.code for f in found}, told)
        route = board_route(binding_mm=1.5, binding_deep_mm=round(deep - 0.01, 3))
        cure = next(f for f in prove(route).findings if f.code == "board.ledge_shallow").cures[0]
        self.assertNotIn("board.ledge_shallow", codes(prove(apply_edits(route, [read_edit(e) for e in cure.edits]))))

    def test_binding_that_cannot_be_is_refused(self):
        board(binding_mm=2.99, edge_land_mm=3.0)
        board(binding_mm=1.5, binding_deep_mm=6.49)
        for more in ({"binding_mm": 3.0, "edge_land_mm": 3.0}, {"binding_mm": 1.5, "binding_deep_mm": 6.5}):
            with self.subTest(more), self.assertRaises(ValueError):
                board(**more)

    def test_slanted_ends_lie_along_the_nut_and_the_last_fret(self):
        one = board(bass_scale_mm=686.0, ends="slanted", before_nut_mm=5.0)
        ring = list(resolve(board_route(one)).outline.exterior.coords)
        from birch_route.core.fretboard.lines import plan_of

        lines = plan_of(one).lines
        for line, off in ((lines[0], -5.0), (lines[-1], one.past_last_fret_mm)):
            for x, _ in (line.bass, line.treble):
                self.assertLess(min(abs(x + off - px) for px, _ in ring), 1e-6)
        self.assertEqual(serious(prove(board_route(one, floors="following"))), [])


class Steps(unittest.TestCase):
    def names(self, route):
        return [s.id for s in route.bench_steps]

    def test_steps_come_from_the_numbers(self):
        self.assertEqual(self.names(board_route()),
                         ["slot_gauge", "slot_measured", "tabs", "board_block", "seat_frets"])
        more = self.names(board_route(binding_mm=1.5, side_dots=True))
        for step in ("binding_glue", "binding_dry", "side_dots", "nip_tangs"):
            self.assertIn(step, more)
        self.assertIn("nip_tangs", self.names(board_route(blind=True)))
        bare = self.names(board_route(wire=Wire()))
        self.assertEqual(bare, ["tabs", "board_block"])

    def test_they_follow_the_numbers_and_what_a_person_did_stays(self):
        route = board_route()
        bound = apply_edits(route, [set_("piece.board.binding_mm", 1.5)])
        self.assertEqual(self.names(bound), self.names(board_route(binding_mm=1.5)))
        self.assertEqual(self.names(apply_edits(bound, [set_("piece.board.binding_mm", None)])), self.names(route))
        changed = apply_edits(bound, [set_("bench_steps.binding_glue.minutes", 40)])
        kept = apply_edits(changed, [set_("piece.board.binding_mm", None)])
        self.assertIn("binding_glue", self.names(kept))
        without = route.model_copy(update={"bench_steps": [s for s in route.bench_steps if s.id != "seat_frets"]})
        again = apply_edits(without, [set_("piece.board.side_dots", True)])
        self.assertNotIn("seat_frets", self.names(again))
        self.assertIn("side_dots", self.names(again))

    def test_slots_told_later_bring_their_steps_where_they_belong(self):
        route = board_route(wire=Wire())
        told = apply_edits(route, [set_("piece.board.wire.tang_mm", 0.58), set_("piece.board.wire.tang_depth_mm", 1.6)])
        self.assertEqual(self.names(told), self.names(board_route()))


class Broken(unittest.TestCase):
    def test_a_broken_bit_costs_the_work_before_it_in_either_order(self):
        order = [Work((), 10.0), Work(("dot_3",), 2.0), Work(("fret_slots",), 30.0), Work(("board_face",), 5.0),
                 Work(("board_face",), 15.0), Work(("outline",), 4.0)]
        found = broken_bit(order)
        self.assertEqual((found.first_min, found.last_min), (12.0, 42.0))
        self.assertEqual((found.before_radius_min, found.after_radius_min), (42.0, 62.0))
        late = [*order[:2], *order[3:5], order[2], order[5]]
        found = broken_bit(late)
        self.assertEqual((found.first_min, found.last_min), (32.0, 62.0))
        self.assertEqual((found.before_radius_min, found.after_radius_min), (42.0, 62.0))
        self.assertIsNone(broken_bit([Work(("outline",), 4.0)]))

    def test_the_report_tells_it_of_a_board_alone(self):
        data = report(prove(board_route()), [], None)
        rows = {o["id"]: o["machine_min"] + o["hands_min"] for o in data["operations"]}
        before = 10.0 + rows["face"] + rows["bore_dot_3"]
        self.assertAlmostEqual(data["broken_bit"]["first_min"], before, delta=0.06)
        self.assertAlmostEqual(data["broken_bit"]["last_min"], before + rows["profile_fret_slots"], delta=0.06)

    def test_a_bit_is_counted_in_slots_and_boards(self):
        route = board_route()
        rows = report(prove(route), [], None)["operations"]
        wear = {w.bit: w for w in wear_of_run(route, rows, {}, {})}
        self.assertEqual(wear["slot06"].slots, 22)
        note = {"what": "used", "wood": "rosewood", "metres": 1.0, "minutes": 5.0, "slots": 44, "diameter_mm": None,
                "shortened_mm": None}
        self.assertEqual(life(route.bit("slot06"), [note]).boards, 2.0)
        self.assertEqual(life(route.bit("flat3"), [note]).boards, 0.0)


class Depth(unittest.TestCase):
    def test_slots_keep_their_depth_under_a_bound_edge(self):
        one = board(binding_mm=1.5)
        proof = prove(board_route(one))
        x = fret(648, 9)
        self.assertLess(top_at(proof, x, 0.0), -(WIRE.tang_depth_mm + UNDER) + 0.02)


if __name__ == "__main__":
    unittest.main()
