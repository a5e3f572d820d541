"""A neck made here as the body sees it: its sizes stand until the caliper says otherwise, and what differs is told."""

import unittest
from types import SimpleNamespace

from birch_route.core.data import figures, part_places
from birch_route.core.instrument.parts import MadeHere, PartOnHand, Reading, read_place
from birch_route.core.instrument.resolve import resolve
from birch_route.core.neck.as_part import sizes_of
from birch_route.core.proving.rules_made import computed_sizes
from birch_route.core.vocabulary import PartKind
from tests.core.necks import neck
from tests.support import route_named


def part(*readings, **sizes):
    made = MadeHere(route=3, job="Siskin neck", revision=2, sizes={"heel_thickness": 25.0, **sizes})
    return PartOnHand(id="neck", kind=PartKind.NECK, name="Neck", made=made, readings=[
        Reading(place="heel_thickness", value_mm=v, typed=str(v), unit="mm") for v in readings])


class Sizes(unittest.TestCase):
    def test_they_are_what_a_caliper_would_read(self):
        one = neck()
        sizes = sizes_of(one)
        end = 635 * (1 - 2 ** (-22 / 12)) + 8
        self.assertAlmostEqual(sizes["heel_thickness"], 25.0)
        self.assertAlmostEqual(sizes["heel_length"], end - 400.0, 3)
        self.assertAlmostEqual(sizes["heel_to_12th"], end - 317.5, 3)
        self.assertAlmostEqual(sizes["heel_width_end"], 56.0, 3)
        self.assertAlmostEqual(sizes["heel_width_station"], 43 + 13 * (end - 50) / end, 3)
        self.assertLessEqual(set(sizes), set(part_places()["neck"]))
        self.assertNotIn("fret_height", sizes)  # nobody said how high its wire's crown is

    def test_a_reading_comes_before_them(self):
        self.assertEqual(read_place(part(), "heel_thickness").value_mm, 25.0)
        self.assertTrue(read_place(part(), "heel_thickness").computed)
        read = read_place(part(25.3), "heel_thickness")
        self.assertEqual((read.value_mm, read.computed), (25.3, False))
        self.assertIsNone(read_place(part(), "fret_height").value_mm)


class TheBody(unittest.TestCase):
    def found(self, *readings, **sizes):
        route = route_named("siskin_body")
        one = next(p for p in route.parts if p.kind is PartKind.NECK)
        made = MadeHere(route=3, job="Siskin neck", revision=2, sizes=sizes)
        kept = [r for r in one.readings if r.place not in sizes]
        kept += [Reading(place="heel_thickness", value_mm=v, typed=str(v), unit="mm") for v in readings]
        parts = [p if p is not one else p.model_copy(update={"made": made, "readings": kept}) for p in route.parts]
        changed = route.model_copy(update={"parts": parts})
        sim = SimpleNamespace(whole=changed, whole_resolved=resolve(changed))
        return changed, {f.code: f for f in computed_sizes(sim)}

    def test_what_rests_on_computed_sizes_is_told(self):
        changed, found = self.found(heel_thickness=25.0)
        self.assertIn("part.computed", found)
        before = resolve(route_named("siskin_body")).solids["neck_pocket"].floor_mm
        now = resolve(changed).solids["neck_pocket"].floor_mm
        thick = read_place(next(p for p in route_named("siskin_body").parts if p.kind is PartKind.NECK),
                           "heel_thickness").value_mm
        self.assertAlmostEqual(now - before, -(25.0 - thick), places=6)  # the pocket follows it

    def test_a_caliper_that_says_otherwise_is_told_from_its_limit_on(self):
        within = figures()["spread"]["within_mm"]
        self.assertEqual(self.found(25.0 + within, heel_thickness=25.0)[1], {})
        found = self.found(25.001 + within, heel_thickness=25.0)[1]
        self.assertIn("part.made_differs", found)
        self.assertIn("part.made_differs", self.found(24.999 - within, heel_thickness=25.0)[1])


if __name__ == "__main__":
    unittest.main()
