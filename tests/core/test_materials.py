"""Materials of a shop's own: what they weigh and resist, whose settings they borrow, how a route carries them."""

import unittest

from birch_route.core.bits.life import wear, wear_of
from birch_route.core.cutting.limits import Question
from birch_route.core.cutting.mechanics import force_per_width
from birch_route.core.cutting.records import Trial, lend
from birch_route.core.data import figures, wood
from birch_route.core.errors import InputError
from birch_route.core.instrument.balance import mean_density
from birch_route.core.materials.own import (
    carried,
    known_name,
    offered,
    own_material,
    settled,
    species,
    weighed,
    with_weighed,
)
from birch_route.core.route import Settings
from birch_route.core.vocabulary import CutKind, MaterialSort, Outcome
from tests.support import changed, codes, proof_of, put, route_named


def padauk(**more):
    like = {"tear_out": "interlocked", **more}
    return own_material("own_padauk", "Padauk", MaterialSort.WOOD, "hard_maple", 750.0, **like)


def made_of(route, one):
    document = offered(route, [one])
    return changed(document, put("blank.wood", one.id))


class Told(unittest.TestCase):
    def test_what_it_resists_goes_with_its_sort_and_a_woods_with_its_density(self):
        fig, maple = figures()["materials"], wood("hard_maple").density_kg_m3
        self.assertEqual(padauk().cuts_as_kg_m3, 750.0)
        for sort in MaterialSort:
            one = own_material("own_x", "X", sort, "hard_maple", 2000.0)
            base = 2000.0 if sort is MaterialSort.WOOD else maple
            self.assertAlmostEqual(one.cuts_as_kg_m3, base * fig[f"resists_{sort.value}"])
        brass = own_material("own_brass", "Brass", MaterialSort.METAL, "acrylic", 8500.0, resists=6.0)
        chip = 0.05
        self.assertAlmostEqual(force_per_width(chip, brass), 6.0 * force_per_width(chip, wood("acrylic")))
        self.assertAlmostEqual(wear(brass), 6.0 * wear(wood("acrylic")))

    def test_what_cannot_be_is_refused_on_both_sides_of_its_limits(self):
        low, high = figures()["materials"]["density_kg_m3"]
        least, most = figures()["materials"]["resists"]
        for density, fits in ((low - 0.1, False), (low, True), (high, True), (high + 1, False)):
            self.refused(fits, "density_kg_m3", density=density)
        for resists, fits in ((least - 0.01, False), (least, True), (most, True), (most + 0.1, False)):
            self.refused(fits, "resists", resists=resists)
        self.refused(False, "name", name="  ")
        self.refused(False, "like", like="unobtainium")
        self.refused(False, "tear_out", tear_out="curly")

    def refused(self, fits, where, name="X", like="alder", density=500.0, **more):
        with self.subTest(where=where, density=density, **more):
            if fits:
                own_material("own_x", name, MaterialSort.WOOD, like, density, **more)
                return
            with self.assertRaises(InputError) as caught:
                own_material("own_x", name, MaterialSort.WOOD, like, density, **more)
            self.assertEqual(caught.exception.where, where)

    def test_weighed_boards_replace_what_was_told_with_count_and_spread(self):
        self.assertIsNone(weighed([]))
        one = with_weighed(padauk(), weighed([720.0, 780.0, 840.0]))
        self.assertEqual((one.density_kg_m3, one.weighed, one.spread_kg_m3), (780.0, 3, 60.0))
        self.assertAlmostEqual(one.cuts_as_kg_m3, 780.0)
        self.assertIn("3 boards weighed", one.source)
        alone = with_weighed(wood("alder"), weighed([500.0]))
        self.assertEqual((alone.density_kg_m3, alone.spread_kg_m3), (500.0, None))
        self.assertIn("one board", alone.source)
        brass = own_material("own_brass", "Brass", MaterialSort.METAL, "acrylic", 8500.0)
        self.assertEqual(with_weighed(brass, weighed([8400.0])).cuts_as_kg_m3, brass.cuts_as_kg_m3)


class Carried(unittest.TestCase):
    def test_a_route_carries_what_it_is_made_of_and_keeps_it_as_it_was(self):
        route = made_of(route_named("siskin_body"), padauk())
        before = route_named("siskin_body")
        shop = {"own_padauk": padauk(), "alder": with_weighed(wood("alder"), weighed([500.0]))}
        held = settled(route, before, shop)
        self.assertEqual([m.id for m in held.materials], ["own_padauk"])
        heavier = {"own_padauk": own_material("own_padauk", "Padauk", MaterialSort.WOOD, "hard_maple", 800.0)}
        self.assertEqual(settled(held, held, heavier).materials, held.materials)
        back = settled(changed(held, put("blank.wood", "alder")), held, shop)
        self.assertEqual([(m.id, m.density_kg_m3) for m in back.materials], [("alder", 500.0)])
        self.assertEqual(settled(before, before, shop).materials, [])

    def test_an_unknown_material_is_told_and_a_lost_one_keeps_its_id(self):
        route = route_named("siskin_body")
        with self.assertRaises(InputError):
            species(route, "own_gone")
        self.assertEqual(known_name(route, "own_gone"), "own_gone")
        self.assertEqual(wear_of("own_gone"), 1.0)
        self.assertEqual(carried(wood("alder")), [])
        self.assertEqual(carried(padauk()), [padauk()])

    def test_weight_and_forces_follow_the_material(self):
        route = route_named("siskin_body").model_copy()
        route = changed(route, put("blank.weighed_kg", None))
        heavy = made_of(route, own_material("own_x", "X", MaterialSort.WOOD, "alder", 900.0))
        self.assertAlmostEqual(mean_density(heavy), 900.0)
        light, dense = proof_of(route), proof_of(heavy)
        pairs = [(a, b) for a, b in zip(light.steps, dense.steps, strict=True) if a.species.id == "alder"]
        self.assertTrue(pairs)
        self.assertTrue(all(b.species.cuts_as_kg_m3 == 900.0 for _, b in pairs))

    def test_a_material_nothing_was_cut_in_is_told_until_a_cut_went_well(self):
        route = route_named("control_plate")
        for sort, code in (
            (MaterialSort.METAL, "material.hard"),
            (MaterialSort.SHELL, "material.hard"),
            (MaterialSort.PLASTIC, "material.unproven"),
            (MaterialSort.WOOD, "material.unproven"),
        ):
            one = own_material("own_x", "X", sort, "acrylic", 1500.0)
            with self.subTest(sort):
                self.assertIn(code, codes(proof_of(made_of(route, one))))
        tried = one.model_copy(update={"went_well": 1})
        self.assertFalse({"material.hard", "material.unproven"} & codes(proof_of(made_of(route, tried))))
        self.assertFalse({"material.hard", "material.unproven"} & codes(proof_of(route)))

    def test_a_record_of_an_own_wood_lends_with_its_own_force(self):
        route = route_named("siskin_body")
        bit = route.bit("flat8")
        settings = Settings(
            feed_mm_min=1800, plunge_mm_min=500, speed_rpm=16000, depth_of_cut_mm=4, stepover_mm=bit.cut_diameter_mm
        )
        cut = Trial(
            machine=route.machine.name,
            machine_class=route.machine.machine_class.value,
            bit=bit,
            wood="own_padauk",
            kind=CutKind.SLOT,
            settings=settings,
            outcome=Outcome.FINE,
            species=padauk(),
        )
        asked = Question(route.machine, bit, wood("alder"), CutKind.SLOT, bit.cut_diameter_mm)
        self.assertIn("padauk", lend(asked, [cut])[0].words)
        self.assertNotIn("species", cut.model_dump(mode="json"))


if __name__ == "__main__":
    unittest.main()
