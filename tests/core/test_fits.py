"""What fitted is where the next one starts; walls may be cut past their line on purpose, within a limit."""

import unittest
from dataclasses import replace

from birch_route.core.data import figures
from birch_route.core.errors import InputError
from birch_route.core.fits import (
    KeptFit,
    Went,
    fit_of,
    fits_of,
    gap_edits,
    ladder_of,
    past_edits,
    past_line,
    said_past,
    start_gap,
)
from birch_route.core.vocabulary import PartKind
from tests.support import changed, codes, proof_of, put, route_named

NECK = "pocket_neck_pocket"


def kept(went="fits", machine="Bench", bit="flat6", gap=0.08, left=0.0, measured=None, kind=PartKind.NECK):
    return KeptFit(kind, machine, bit, 46.16, 46.0, gap, left, measured, Went(went))


class Fits(unittest.TestCase):
    def test_what_goes_into_a_pocket_is_known_by_its_readings(self):
        route = route_named("siskin_body")
        fits = {f.feature: f for f in fits_of(route)}
        self.assertEqual(set(fits), {"neck_pocket", "pickup_pocket", "bridge_recess"})
        neck, bridge = fits["neck_pocket"], fits["bridge_recess"]
        self.assertEqual((neck.part_mm, neck.bit, neck.left), (46.12, "flat6", (0.0,)))
        self.assertAlmostEqual(neck.drawn_mm, 46.12 + 2 * 0.08, delta=0.01)
        self.assertAlmostEqual(bridge.drawn_mm - bridge.part_mm, 2 * bridge.gap_mm)
        film = {f.feature: f for f in fits_of(changed(route, put("choices.film_mm", 0.05)))}
        self.assertAlmostEqual(film["neck_pocket"].gap_mm, 0.13)
        self.assertAlmostEqual(film["neck_pocket"].film_mm, 0.05)
        with self.assertRaisesRegex(InputError, "only such a fit is kept"):
            fit_of(route, "control_cavity")

    def test_creep_passes_are_where_it_is_tried_and_the_last_pass_makes_the_wall(self):
        creep = {"do": "creep", "operation": NECK, "passes": 3}
        crept = fit_of(changed(route_named("siskin_body"), creep), "neck_pocket")
        self.assertEqual((crept.operation, crept.left), (NECK, (0.15, 0.1, 0.05, 0.0)))
        later = changed(route_named("siskin_body"), {"do": "finish_with", "operation": NECK, "bit": "flat6"})
        self.assertEqual(fit_of(later, "neck_pocket").operation, f"{NECK}_last")

    def test_the_gap_that_fitted_is_by_what_was_measured_else_by_what_was_left(self):
        self.assertAlmostEqual(kept(left=0.05).fitted_mm, 0.03)
        self.assertAlmostEqual(kept(left=0.05, measured=46.1).fitted_mm, 0.05)
        self.assertAlmostEqual(kept(measured=46.2).past_mm, 0.02)
        self.assertAlmostEqual(kept(measured=46.2, left=0.05).past_mm, 0.07)
        self.assertIsNone(kept().past_mm)

    def test_the_middle_of_the_newest_on_this_machine_is_where_the_next_starts(self):
        some = [kept(gap=g) for g in (0.05, 0.06, 0.10)]
        self.assertEqual(start_gap(some, PartKind.NECK, "Bench").value_mm, 0.06)
        self.assertTrue(start_gap(some, PartKind.NECK, "Bench").here)
        self.assertFalse(start_gap(some, PartKind.NECK, "Heavy").here)
        self.assertIsNone(start_gap(some, PartKind.BRIDGE, "Bench"))
        self.assertIsNone(start_gap([kept("tight"), kept("loose")], PartKind.NECK, "Bench"))
        other = [kept(gap=0.2, machine="Heavy"), *some]
        self.assertEqual((start_gap(other, PartKind.NECK, "Bench").value_mm), 0.06)
        count = figures()["fit_memory"]["count"]
        newest = [kept(gap=0.05)] * count + [kept(gap=0.5)] * 9
        self.assertEqual(start_gap(newest, PartKind.NECK, "Bench").value_mm, 0.05)
        self.assertEqual(start_gap(newest[1:], PartKind.NECK, "Bench").count, count)
        self.assertEqual(start_gap([kept(gap=0.5)] + newest[: count - 1], PartKind.NECK, "Bench").value_mm, 0.05)

    def test_walls_are_moved_by_what_they_come_out_and_no_farther_than_is_allowed(self):
        route, fit = route_named("siskin_body"), fit_of(route_named("siskin_body"), "neck_pocket")
        found = past_line([kept(measured=46.1), kept(measured=46.1, bit="flat8")], "Bench", "flat6")
        self.assertEqual((found.value_mm, found.count), (-0.03, 1))
        self.assertEqual(past_edits(route, fit, found)[0]["value"], -0.03)
        moved = changed(route, *past_edits(route, fit, found))
        self.assertEqual(past_edits(moved, fit_of(moved, "neck_pocket"), found), [])
        far = past_line([kept(measured=45.0)], "Bench", "flat6")
        self.assertEqual(past_edits(route, fit, far)[0]["value"], -figures()["fit_memory"]["past_mm"])
        self.assertIsNone(past_line([kept()], "Bench", "flat6"))
        self.assertIn("on the line", said_past(past_line([kept(measured=46.178)], "Bench", "flat6"), "flat6"))
        self.assertIn("past the line", said_past(past_line([kept(measured=46.181)], "Bench", "flat6"), "flat6"))
        crept = changed(route, {"do": "creep", "operation": NECK, "passes": 2})
        self.assertEqual(past_edits(crept, fit_of(crept, "neck_pocket"), found), [])
        self.assertIsNone(past_line([kept(measured=46.1)], "Heavy", "flat6"))

    def test_a_gap_that_fitted_is_drawn_by_its_edits_less_the_film(self):
        for name, film in (("neck_pocket", 0.05), ("bridge_recess", 0.0)):
            route = changed(route_named("siskin_body"), put("choices.film_mm", film))
            fit = fit_of(route, name)
            found = start_gap([kept(gap=0.3, kind=fit.part_kind)], fit.part_kind, "Bench")
            after = changed(route, *gap_edits(fit, found))
            self.assertAlmostEqual(fit_of(after, name).gap_mm, 0.3)
            self.assertEqual(gap_edits(fit_of(after, name), found), [])


    def test_a_ladder_on_scrap_has_the_drawn_gap_in_it(self):
        fit = fit_of(route_named("siskin_body"), "neck_pocket")
        ladder = ladder_of(fit)
        self.assertEqual((ladder.across_mm, ladder.count), (46.12, 4))
        self.assertAlmostEqual(ladder.first_gap_mm + ladder.step_mm, fit.gap_mm)
        self.assertEqual(ladder_of(replace(fit, gap_mm=0.02)).first_gap_mm, 0.0)
        self.assertIsNotNone(ladder_of(replace(fit, part_mm=120.0)))
        self.assertIsNone(ladder_of(replace(fit, part_mm=120.01)))


class PastTheLine(unittest.TestCase):
    def cut(self, past, *more):
        return proof_of(changed(route_named("siskin_body"), put(f"operations.{NECK}.stock_to_leave_mm", -past), *more))

    def test_within_the_limit_it_is_told_and_no_stop_and_beyond_it_wood_is_gone(self):
        most = figures()["fit_memory"]["past_mm"]
        self.assertEqual(codes(self.cut(0.005)), set())
        self.assertEqual(codes(self.cut(most)), {"feature.past_drawn"})
        self.assertIn("0.15 past", self.cut(most).findings[0].reason)
        self.assertIn("feature.gouged", codes(self.cut(most + 0.001)))
        self.assertNotIn("feature.past_drawn", codes(self.cut(most + 0.001)))

    def test_only_where_something_fits_in(self):
        shown = self.cut(0.15, put("piece.features.neck_pocket.finish_class", "shown"))
        self.assertIn("feature.gouged", codes(shown))
        self.assertNotIn("feature.past_drawn", codes(shown))
