"""A cap glued on between setups: the core and its chambers first, then everything through the cap, down to hollows that are closed."""

import unittest

import numpy as np

from birch_route.core.data import wood
from birch_route.core.errors import InputError
from birch_route.core.gluing import base_setup, blank_at, is_before
from birch_route.core.holding.datums import chains
from birch_route.core.instrument.resolve import resolve
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_all
from birch_route.core.proving.corners import prove_corners
from birch_route.core.proving.held import held_pieces
from birch_route.core.proving.moments import moments
from birch_route.core.proving.thickness import thickness
from birch_route.demo.fitted import fitted_route
from birch_route.formats.report import report
from birch_route.formats.view import encode_view
from tests.support import changed, codes, proof_of, put, route_named

CAP = 6.8


def capped(route, *more, between=True):
    thick = route.blank.thickness_mm
    layers = [{"do": "put_item", "list": "layers", "item": item} for item in ({"id": "cap", "kind": "cap", "wood": "alder", "thickness_mm": CAP}, {"id": "core", "kind": "core", "wood": "alder", "thickness_mm": thick - CAP})]
    return changed(route, *layers, *([{"do": "glue_between", "layer": "cap"}] if between else []), *more)


def chambered(route):
    return capped(route, {"do": "add_chambers", "face": "front", "number": 1}, {"do": "propose_for", "feature": "chamber_1"})


class OneFace(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.route = chambered(route_named("siskin_body"))
        cls.proof = proof_of(cls.route)

    def test_the_core_comes_first_without_the_cap(self):
        first, then = self.route.setups
        self.assertTrue(is_before(self.route, first))
        self.assertIs(base_setup(self.route), then)
        core = blank_at(self.route, first)
        self.assertAlmostEqual(core.thickness_mm, self.route.blank.thickness_mm - CAP)
        self.assertAlmostEqual(core.top_mm, self.route.blank.top_mm - CAP)
        self.assertEqual([o.id for o in self.route.operations if o.setup == first.id], ["pocket_chamber_1"])

    def test_nothing_is_accused_and_every_program_reads_back(self):
        self.assertEqual(codes(self.proof), set())
        programs = write_all(self.proof.simulations)
        self.assertEqual([p.setup for p in programs], ["core", "front"])
        self.assertEqual(read_back_all(self.proof.simulations, programs).findings, [])

    def test_the_hollow_is_the_chamber_and_wood_is_counted_once(self):
        core, front = self.proof.simulations
        chamber = resolve(self.route).solid("chamber_1")
        hollow = front.hollow
        area = float(hollow.there.sum()) * front.grid.cell_mm**2
        self.assertAlmostEqual(area / chamber.region.area, 1.0, delta=0.002)
        np.testing.assert_allclose(hollow.roof[hollow.there], self.route.blank.top_mm - CAP, atol=1e-5)
        self.assertAlmostEqual(float(hollow.floor[hollow.there].min()), chamber.floor_mm, delta=0.01)
        self.assertAlmostEqual(float(front.blank_top.min()), self.route.blank.top_mm, places=5)  # the cap covers all of it
        gone = area * float((hollow.roof - hollow.floor)[hollow.there].mean())
        piece = next(p for p in held_pieces(front) if p.name == "The piece")
        whole = next(p for p in held_pieces(proof_of(capped(route_named("siskin_body"))).simulations[-1]) if p.name == "The piece")
        self.assertAlmostEqual((whole.kg - piece.kg) / gone * 1e9 / wood("alder").density_kg_m3, 1.0, delta=0.02)  # by difference of the two pieces over the hollow's volume

    def test_the_thinnest_wood_lies_under_the_chamber_not_through_it(self):
        front = self.proof.simulations[-1]
        left = thickness(front)
        chamber = resolve(self.route).solid("chamber_1")
        part, at = front.grid.window(*chamber.region.buffer(-12).bounds)
        there = front.hollow.there[at]
        self.assertAlmostEqual(float(np.nanmin(left[at][there])), 5.0, delta=0.02)

    def test_report_and_view_take_it(self):
        told = report(self.proof, write_all(self.proof.simulations), None)
        self.assertIn("chamber_1", told["thin"][0]["features"])
        header = encode_view(*self.proof.simulations)
        self.assertIn(b'"hollow"', header[:200_000])
        when = [e["when"] for s in told["setups"] for e in s["ledger"]]
        self.assertEqual(len(when), 3)

    def test_the_corners_of_the_tolerance_are_glued_too(self):
        """A thicker core carries the cap higher: nothing of the route breaks, and no chamber is taken for uncut."""
        told = prove_corners(self.route)
        self.assertEqual([(r.holds_to, [f.reason for f in r.findings]) for r in told.results], [(1.0, [])] * 4)

    def test_what_was_drilled_before_does_not_find_it_again(self):
        core, front = chains(self.route)
        self.assertIn("edges again", front.links[0].by)
        self.assertGreater(front.plan_mm, 0.1)
        steps = {s.id: s for s in self.route.bench_steps}
        for name in ("core_clean", "cap_cap", "cap_cap_wait"):
            self.assertEqual((steps[name].after, steps[name].gate), ("pocket_chamber_1", True))


class Faults(unittest.TestCase):
    def over(self, deep):
        """A recess of the front over the middle of the chamber."""
        route = chambered(route_named("siskin_body"))
        x, y = resolve(route).solid("chamber_1").region.representative_point().coords[0]
        return changed(route, {"do": "put_item", "list": "features", "item": {"kind": "pocket", "id": "recess", "name": "Recess", "depth_mm": deep, "shape": {"kind": "rectangle", "x_mm": x, "y_mm": y, "length_mm": 20, "width_mm": 20, "corner_radius_mm": 5}}},
                       {"do": "propose_for", "feature": "recess"})

    def test_thin_and_broken_are_told_and_enough_is_not(self):
        under = CAP - 0.8  # of the finished face
        for deep, code in ((under - 4.1, None), (under - 3.5, "cap.thin"), (under + 1.0, "cap.broken")):
            found = [f for f in proof_of(self.over(deep)).findings if f.code.startswith("cap.")]
            self.assertEqual([f.code for f in found], [code] if code else [], deep)
            if code:
                self.assertEqual(found[0].feature, "chamber_1")
        broken = proof_of(self.over(under + 1.0)).simulations[-1]
        x, y = broken.resolved.solid("recess").region.centroid.coords[0]
        j, i = broken.grid.cell_of(x, y)
        self.assertAlmostEqual(float(broken.result[j, i]), float(broken.hollow.floor[j, i]), places=4)  # it lies open down to the chamber's floor

    def test_followed_inside_the_cut_ends_as_the_proof_does(self):
        sim = proof_of(self.over(CAP + 0.2)).simulations[-1]
        index = next(k for k, s in enumerate(sim.steps) if s.operation.id == "pocket_recess")
        last = [m.top.copy() for m in moments(sim, index, 6)][-1]
        np.testing.assert_array_equal(last, sim.steps[index].top)

    def test_an_opening_that_is_meant_is_not_told(self):
        meant = changed(self.over(CAP), put("piece.features.recess.opens_into", ["chamber_1"]))
        self.assertFalse([f for f in proof_of(meant).findings if f.code.startswith("cap.")])


class TwoFaces(unittest.TestCase):
    def test_with_the_back_after_it(self):
        route = chambered(fitted_route(True))
        self.assertEqual([s.id for s in route.setups], ["core", "front", "back"])
        proof = proof_of(route)
        self.assertEqual(codes(proof), set())
        back = proof.simulations[-1]
        self.assertEqual(int(back.hollow.there.sum()), int(proof.simulations[1].hollow.there.sum()))
        self.assertGreaterEqual(float(np.nanmin(thickness(back))), 4.9)
        again = changed(route, {"do": "propose"})
        self.assertEqual(codes(proof_of(again)), set())
        self.assertEqual([o.setup for o in again.operations if "chamber_1" in o.features], ["core"])

    def test_at_first_again_and_pockets_moved_under_and_out(self):
        route = chambered(fitted_route(True))
        first = changed(route, {"do": "glue_between", "layer": "cap", "between": False})
        self.assertEqual([s.id for s in first.setups], ["front", "back"])
        self.assertFalse({s.id for s in first.bench_steps} & {"core_clean"})
        self.assertEqual({f.code for f in proof_of(first).findings if f.severity == "stop"}, set())
        out = changed(route, {"do": "cover", "feature": "chamber_1", "covered": False})
        self.assertEqual([o.setup for o in out.operations if "chamber_1" in o.features], ["front"])
        self.assertEqual([o.setup for o in changed(out, {"do": "cover", "feature": "chamber_1"}).operations if "chamber_1" in o.features], ["core"])

    def test_what_a_cap_hides_gets_no_finish_pass(self):
        """A pocket that is drawn to be seen is hidden once it lies under the layer."""
        route = changed(chambered(route_named("siskin_body")), put("piece.features.chamber_1.finish_class", "shown"))
        self.assertEqual(resolve(route).solid("chamber_1").finish_class, "hidden")
        self.assertFalse(changed(route, {"do": "propose"}).operation("pocket_chamber_1").finish_pass)
        self.assertEqual(resolve(changed(route, {"do": "cover", "feature": "chamber_1", "covered": False})).solid("chamber_1").finish_class, "shown")

    def test_what_cannot_be_is_refused(self):
        bare = capped(route_named("siskin_body"), between=False)
        for edit in ({"do": "glue_between", "layer": "core"}, {"do": "glue_between", "layer": "none"}, {"do": "cover", "feature": "pickup_pocket"}):
            with self.assertRaises(InputError):
                changed(bare, edit)
        route = chambered(route_named("siskin_body"))
        for edit in ({"do": "remove_item", "list": "layers", "id": "cap"}, put("operations.pocket_chamber_1.setup", "front"), put("blank.layers.core.glued_before", "front"), {"do": "cover", "feature": "neck_screws"}):
            with self.assertRaises(InputError, msg=edit):
                changed(route, edit)


if __name__ == "__main__":
    unittest.main()
