"""The bed and the zero: the machine's own holes are kept whole, places are free, the numbers to set bring the bit where the program thinks it is."""

import unittest

import numpy as np

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.holding.datums import chains
from birch_route.core.instrument.resolve import resolve
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import program_origin, write_all
from birch_route.core.proving.simulate import simulate_all
from birch_route.core.quantities import Unit, rounded, say
from birch_route.core.stages import bed_points
from birch_route.core.tolerances import TOLERANCES
from birch_route.core.vocabulary import MOVE_CODES, MoveKind
from birch_route.demo.fitted import fitted_route
from birch_route.sheets.bed import bed_plan
from birch_route.sheets.run_sheet import run_plan, zero_words
from tests.support import changed, proof_of, put, route_named


def bare(route, **machine):
    """A route on a bed without holes and places, or with those given."""
    values = {"index_holes_mm": [], "bit_change_mm": None, "probe_mm": None, **machine}
    return changed(route, *(put(f"machine.{k}", v) for k, v in values.items()))


def told(route):
    return [f for f in proof_of(route).findings if f.code.startswith("bed.")]


class IndexHoles(unittest.TestCase):
    def test_a_cut_into_the_waste_board_keeps_away_from_them_and_the_cure_moves_the_blank(self):
        """Distances sampled along every move that goes below the wood, apart from the rule."""
        route = bare(route_named("siskin_body"))
        sim = simulate_all(route)[0]
        low = float(sim.bottom.min())
        spots = []
        for step in sim.steps:
            p = step.path.points
            for k in np.flatnonzero((np.minimum(p[:-1, 2], p[1:, 2]) < low - 1e-3) & (step.path.kinds != MOVE_CODES[MoveKind.RAPID])):
                spots += [(*(p[k] + t * (p[k + 1] - p[k]))[:2], step.bit.radius_mm) for t in np.linspace(0, 1, 9)]
        spots = np.array(spots)
        dx, dy = sim.setup.blank_at_mm[0] - sim.route.blank.x_mm, sim.setup.blank_at_mm[1] - sim.route.blank.y_mm
        rng = np.random.default_rng(11)
        found = 0
        for hole in rng.uniform((40, 40), (620, 460), (40, 2)):
            gap = float((np.hypot(spots[:, 0] + dx - hole[0], spots[:, 1] + dy - hole[1]) - spots[:, 2]).min()) - route.machine.index_hole_mm / 2
            if abs(gap - 3.0) < 0.4:
                continue  # too near the limit for samples
            route_there = bare(route, index_holes_mm=[hole.round(3).tolist()])
            findings = [f for f in told(route_there) if f.code == "bed.index_hole"]
            self.assertEqual(bool(findings), gap < 3.0, (hole, gap))
            if findings:
                found += 1
                self.assertAlmostEqual(findings[0].facts[0].value, gap, delta=0.4)
                if found < 3:
                    cured = apply_edits(route_there, [read_edit(e) for e in findings[0].cures[0].edits])
                    self.assertEqual(told(cured), [])
        self.assertGreater(found, 3)

    def test_drilling_for_their_pins_is_no_fault(self):
        self.assertEqual(told(fitted_route(True)), [])

    def test_a_blank_whose_holes_would_fit_is_put_over_them(self):
        route = fitted_route(True)
        holes = next(f for f in route.features if f.id == route.setups[1].datum)
        there = bed_points(route, route.setups[1], list(holes.points), resolve(route).thickness_mm)
        for beside, is_told in (((7.0, 4.0), True), ((0.05, 0.0), False)):
            moved = bare(route, index_holes_mm=[[x + beside[0], y + beside[1]] for x, y in there], index_hole_mm=4.8)
            found = [f for f in told(moved) if f.code == "bed.beside_pins" and f.severity.value == "note"]
            self.assertEqual(bool(found), is_told)
            if is_told:
                self.assertAlmostEqual(found[0].facts[0].value, float(np.hypot(*beside)), delta=0.02)
                cured = apply_edits(moved, [read_edit(e) for e in found[0].cures[0].edits])
                self.assertEqual([f for f in told(cured) if f.code == "bed.beside_pins"], [])


class Places(unittest.TestCase):
    def test_where_bits_are_touched_off_and_changed_nothing_stands(self):
        route = route_named("siskin_body")
        b, at = route.blank, route.setups[0].blank_at_mm
        wide = max(15.0, *(x.cut_diameter_mm / 2 for x in route.bits))
        for name, code, room in (("probe_mm", "bed.probe_taken", wide + TOLERANCES.near_hardware_mm), ("bit_change_mm", "bed.change_taken", 60.0)):
            for gap, is_told in ((room - 1.5, True), (room + 2.5, False)):
                place = [at[0] + b.length_mm + gap, at[1] + b.width_mm / 2]
                self.assertEqual([f.code for f in told(bare(route, **{name: place}))], [code] if is_told else [], (name, gap))
            beyond = told(bare(route, **{name: [route.machine.travel_mm[0] + 3.0, 10.0]}))
            self.assertEqual([(f.code, f.facts[0].value) for f in beyond], [(code, 3.0)])


class Zero(unittest.TestCase):
    def test_the_numbers_to_set_put_the_read_out_where_the_program_thinks_it_is(self):
        """Each way, worked out on the bed: where the middle of bit or finder stands, and what the read-out must say there."""
        route = changed(fitted_route(True), put("machine.touch_plate_mm", 12.0), put("machine.edge_finder_mm", 10.0))
        sims = simulate_all(route, cell_mm=1.0)
        zero = bed_plan(sims[0])["zero"]
        left, near = route.setups[0].blank_at_mm
        hole = next(f for f in route.features if f.id == route.setups[1].datum)
        pins = bed_points(route, route.setups[0], list(hole.points), resolve(route).thickness_mm)
        r = sims[0].steps[0].bit.radius_mm
        stands = {"edges": (left - r - 0.08, near - r - 0.08), "edge_finder": (left - 5.0, near - 5.0), "probe": (left - r - 12.0, near - r - 12.0), "hole": min(pins, key=lambda p: np.hypot(p[0] - zero[0], p[1] - zero[1]))}
        for way, (x, y) in stands.items():
            sim = simulate_all(changed(route, put("setups.front.zero.way", way)), cell_mm=1.0)[0]
            sets = {}
            for z in run_plan(sim)["setups"][0]["zero_steps"]:
                sets |= z["sets"]
            self.assertAlmostEqual(sets["X"], x - zero[0], places=2, msg=way)
            self.assertAlmostEqual(sets["Y"], y - zero[1], places=2, msg=way)
            self.assertEqual(sets["Z"], 12.0)
            drawn = dict((n, at) for n, at in run_plan(sim)["setups"][0]["bed"]["steps"])
            self.assertEqual(sorted(drawn), [2, 4] if way == "hole" else [2, 3, 5])  # homing and touching off beside the blank have no one place
            if way == "hole":
                np.testing.assert_allclose(drawn[2], stands["hole"], atol=0.02)
            else:
                np.testing.assert_allclose((drawn[2][0], drawn[3][1]), (left, near), atol=0.02)
                self.assertTrue(left < drawn[3][0] < left + route.blank.length_mm and near < drawn[2][1] < near + route.blank.width_mm)

    def test_at_a_fixed_place_on_the_waste_board_z_counts_from_the_programs_zero(self):
        """The plate stands on the waste board, a blank's thickness under a zero on its top: setting its own thickness there would send every cut that much too deep."""
        for z, wanted in (("bed", 12.0), ("stock_top", 12.0 - fitted_route(True).blank.thickness_mm)):
            route = changed(fitted_route(True), put("machine.touch_plate_mm", 12.0), put("machine.probe_mm", [800.0, 20.0]), put("setups.front.zero.z", z))
            setup = run_plan(simulate_all(route, cell_mm=1.0)[0])["setups"][0]
            self.assertAlmostEqual(next(s["sets"]["Z"] for s in setup["zero_steps"] if "Z" in s["sets"]), wanted, places=3)
            self.assertIn(f"Z set to {rounded(wanted, 2)}", say(" ".join(setup["bits"][0]["checks"])))

    def test_from_the_middle_of_the_blank_the_far_edges_are_set(self):
        route = changed(fitted_route(True), put("setups.front.zero.xy", "centre"), put("setups.front.zero.way", "edge_finder"))
        sets = {}
        for z in run_plan(simulate_all(route, cell_mm=1.0)[0])["setups"][0]["zero_steps"]:
            sets |= z["sets"]
        self.assertAlmostEqual(sets["X"], route.blank.length_mm / 2 + 5.0)
        self.assertAlmostEqual(sets["Y"], route.blank.width_mm / 2 + 5.0)

    def test_turned_over_on_pins_the_zero_is_carried_by_the_difference_of_the_zeros_on_the_bed(self):
        sims = simulate_all(fitted_route(True), cell_mm=1.0)
        first, second = (bed_plan(s)["zero"] for s in sims)
        step = run_plan(*sims)["setups"][1]["zero_steps"][1]
        for k, axis in enumerate("XY"):
            self.assertAlmostEqual(step["goes"][axis], second[k] - first[k], places=3)
        self.assertEqual(step["sets"], {"X": 0.0, "Y": 0.0})

    def test_the_first_move_stands_over_the_wood_as_it_lies_and_an_inch_machine_is_told_inches(self):
        sim = simulate_all(fitted_route(True), cell_mm=1.0)[0]
        last = run_plan(sim)["setups"][0]["zero_steps"][-1]
        top = sim.route.blank.thickness_mm  # zero lies on the waste board; the skim is still on
        self.assertAlmostEqual(last["goes"]["Z"], top + sim.setup.clearance_mm, places=3)
        there = {"do": "There", "sets": {"X": -25.4}, "goes": {}}
        self.assertEqual(say(zero_words(there, Unit.INCH)), 'There: set X −25.400 (−1.0000")')
        self.assertEqual(say(zero_words(there, Unit.MM), Unit.INCH), 'There: set X −1.0000" (−25.400 mm)')
        self.assertNotIn("(", say(zero_words({**last, "do": "Go"}, None)))

    def test_the_way_it_is_found_stands_in_the_chain(self):
        route = fitted_route(True)
        for way, off in (("edges", 0.15), ("lines", 0.4), ("jig", 0.05)):
            chain = chains(changed(route, put("setups.front.zero.way", way)))[0]
            self.assertEqual(chain.links[0].off_mm, off)

    def test_programs_begin_with_the_work_offset_and_another_is_refused(self):
        route = changed(route_named("control_plate"), put("setups.front.zero.offset", 3))
        sims = simulate_all(route)
        programs = write_all(sims)
        self.assertTrue(all("G56\n" in p.text and "G54" not in p.text for p in programs))
        self.assertEqual(read_back_all(sims, programs).findings, [])
        wrong = [p.__class__(**{**p.__dict__, "text": p.text.replace(" G56\n", " G54\n")}) for p in programs]
        found = read_back_all(sims, wrong).findings
        self.assertEqual({f.code for f in found}, {"program.read_back"})
        self.assertIn("G54", found[0].reason)
        self.assertEqual(program_origin(sims[0]), program_origin(simulate_all(route_named("control_plate"))[0]))
