"""The cavity that placed parts hang in, made from their readings, and the cover that closes it."""

import unittest

from shapely.geometry import MultiPoint

from birch_route.core.data import figures
from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import BirchError, InputError
from birch_route.core.instrument.cavities import rectangle_round
from birch_route.core.instrument.resolve import resolve
from tests.support import changed, codes, proof_of, put, route_named

POT = {"bush_diameter": "9.4", "bush_length": "9.0", "body_diameter": "24", "body_height": "20"}
AT = ((310.0, 85.0), (335.0, 45.0))


def with_pots(count=2, *edits, **sizes):
    """The plain body with pots placed on its front that hang in nothing yet."""
    before = [{"do": "add_part", "kind": "pot", "name": "Volume"}]
    for place, size in {**POT, **sizes}.items():
        before.append({"do": "keep_reading", "part": "pot", "place": place, "typed": size})
    for k in range(count):
        item = {"id": f"pot_{k + 1}", "part": "pot", "x_mm": AT[k][0], "y_mm": AT[k][1]}
        before.append({"do": "put_item", "list": "placements", "item": item})
    return changed(route_named("siskin_body"), *before, *edits)


class Told(unittest.TestCase):
    def test_a_part_that_hangs_in_nothing_is_told_and_one_press_cures_all_of_its_face(self):
        route = with_pots()
        found = [f for f in proof_of(route).findings if f.code == "part.no_cavity"]
        self.assertEqual([f.feature for f in found], ["pot_1", "pot_2"])
        cured = apply_edits(route, [read_edit(e) for e in found[0].cures[0].edits])
        self.assertEqual(codes(proof_of(cured)) - codes(proof_of(route_named("siskin_body"))), {"reading.single"})
        self.assertEqual({p.cavity for p in cured.piece.placements if p.part == "pot"}, {"control_cavity_2"})

    def test_one_alone_is_told_alone(self):
        found = [f for f in proof_of(with_pots(1)).findings if f.code == "part.no_cavity"]
        self.assertEqual([c.sentence for f in found for c in f.cures], ["Draw the cavity it hangs in"])


class Cavity(unittest.TestCase):
    def test_it_holds_every_body_with_room_for_wires_and_its_roof_bears_the_bush(self):
        fig = figures()["controls"]
        route = with_pots(2, {"do": "house_parts", "placements": ["pot_1", "pot_2"]})
        resolved = resolve(route)
        cavity = resolved.solid("control_cavity_2")
        for ghost in (g for g in resolved.ghosts if g.what == "body"):
            if ghost.part == "pot":
                self.assertTrue(cavity.region.covers(ghost.region))
                self.assertGreaterEqual(
                    cavity.region.exterior.distance(ghost.region), fig["body_clear_mm"] + fig["wiring_mm"] - 0.05
                )
        roof = resolved.thickness_mm - cavity.deep_mm(resolved.thickness_mm)
        self.assertAlmostEqual(roof, min(fig["roof_mm"], 9.0 - fig["nut_mm"]), places=2)
        self.assertEqual(cavity.face.value, "back")
        self.assertEqual([s.face.value for s in route.setups], ["front", "back"])
        cut = [f for o in route.operations for f in o.features]
        self.assertEqual(cut.count("control_cavity_2"), 1)
        self.assertEqual(sum(f in ("pot_1_shaft", "pot_2_shaft") for f in cut), 2)

    def test_a_short_bush_makes_the_roof_thinner(self):
        route = with_pots(1, {"do": "house_parts", "placements": ["pot_1"]}, bush_length="7.5")
        self.assertAlmostEqual(route.blank.piece_mm - route.piece.features[-2].depth_mm, 4.5)

    def test_what_does_not_fit_is_refused_with_its_reason(self):
        thick = route_named("siskin_body").blank.piece_mm
        fits = thick - 6.0 - 1.0
        self.assertIsNotNone(with_pots(1, {"do": "house_parts", "placements": ["pot_1"]}, body_height=f"{fits - 0.05}"))
        with self.assertRaisesRegex(BirchError, "does not fit"):
            with_pots(1, {"do": "house_parts", "placements": ["pot_1"]}, body_height=f"{fits + 0.05}")
        with self.assertRaisesRegex(InputError, "Nothing is placed as knob"):
            with_pots(1, {"do": "house_parts", "placements": ["knob"]})
        with self.assertRaisesRegex(InputError, "parts of one face"):
            both = {"do": "put_item", "list": "placements", "item": {"id": "pot_2", "face": "back"}}
            with_pots(2, both, {"do": "house_parts", "placements": ["pot_1", "pot_2"]})

    def test_the_smallest_rectangle_lies_as_the_parts_do(self):
        found = rectangle_round(MultiPoint([(0, 0), (30, 30), (32, 28), (2, -2)]).convex_hull, 5.0, 8.0)
        self.assertAlmostEqual(found.angle_deg, 45.0, places=1)
        self.assertAlmostEqual(found.length_mm, 30 * 2**0.5 + 10, places=1)


class Cover(unittest.TestCase):
    def covered(self, **more):
        one = {"do": "cover_cavity", "feature": "control_cavity_2", "land_mm": 9.0, "thick_mm": 2.0, **more}
        return with_pots(2, {"do": "house_parts", "placements": ["pot_1", "pot_2"]}, one)

    def test_a_ledge_as_deep_as_the_cover_and_four_screws_in_its_corners(self):
        route = self.covered()
        resolved = resolve(route)
        cavity, ledge = resolved.solid("control_cavity_2"), resolved.solid("control_cavity_2_ledge")
        screws = resolved.solid("control_cavity_2_screws")
        self.assertEqual(ledge.deep_mm(resolved.thickness_mm), 2.0)
        self.assertEqual(len(screws.points), 4)
        self.assertTrue(ledge.region.covers(screws.region))
        self.assertAlmostEqual(cavity.region.distance(screws.region), 4.5 - 1.0, delta=0.05)
        told = codes(proof_of(route)) - codes(proof_of(route_named("siskin_body")))
        self.assertLessEqual(told, {"feature.not_machined", "reading.single"})  # no drill of 2 hangs on that rack

    def test_what_cannot_be_covered_says_why(self):
        self.assertRaisesRegex(InputError, "has a floor", self.covered, feature="post_holes")
        shallow = put("piece.features.control_cavity_2.depth_mm", 1.9)
        with self.assertRaisesRegex(InputError, "no deeper than"):
            with_pots(2, {"do": "house_parts", "placements": ["pot_1", "pot_2"]}, shallow,
                      {"do": "cover_cavity", "feature": "control_cavity_2", "land_mm": 9.0, "thick_mm": 2.0})
