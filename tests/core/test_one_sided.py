"""Wood that moves once it is relieved on one side: rest, measure, skim again; and a pair of test holes drilled from both faces in the waste."""

import unittest

import numpy as np

from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.programs.ledger import ledger
from birch_route.core.programs.readback import read_back_all
from birch_route.core.programs.writer import write_all
from birch_route.demo.fitted import fitted_route
from tests.support import changed, codes, proof_of, put, route_named


def hollowed(*numbers):
    """The two-faced body with chambers cut from its front, and no readings of its blank's thickness."""
    route = changed(fitted_route(True), put("blank.thickness_readings_mm", []), {"do": "add_chambers", "face": "front"})
    made = [f.id for f in route.piece.features if f.id.startswith("chamber_")]
    gone = [{"do": "remove_item", "list": "features", "id": f} for k, f in enumerate(made, 1) if k not in numbers]
    return changed(route, *gone, *({"do": "propose_for", "feature": f} for k, f in enumerate(made, 1) if k in numbers))


class OneSided(unittest.TestCase):
    def test_much_from_one_face_is_told_little_is_not(self):
        self.assertEqual(codes(proof_of(hollowed(3))), set())
        proof = proof_of(hollowed(1, 2, 3))
        found = [f for f in proof.findings if f.code == "turn.wood_moves"]
        self.assertEqual(len(found), 1)
        sim = proof.simulation
        inside = np.zeros_like(sim.result, bool)
        part, at = sim.grid.window(*sim.resolved.outline.bounds)
        from birch_route.core.heights.raster import mask_of
        inside[at] = mask_of(sim.resolved.outline, part)
        gone = float(np.clip(0.0 - np.maximum(sim.result, sim.bottom), 0, None)[inside].sum()) / float((0.0 - sim.bottom)[inside].sum())
        self.assertAlmostEqual(float(found[0].facts[0].value), gone, delta=0.002)

    def test_rest_measure_and_skim_settle_it(self):
        route = hollowed(1, 2, 3)
        cure = next(f for f in proof_of(route).findings if f.code == "turn.wood_moves").cures[0]
        rested = changed(route, *cure.edits)
        proof = proof_of(rested)
        self.assertEqual(codes(proof), set())
        self.assertAlmostEqual(rested.blank.piece_mm, route.blank.piece_mm)
        self.assertAlmostEqual(rested.blank.thickness_mm, route.blank.thickness_mm + rested.blank.skim_back_mm)
        steps = {s.id: s for s in rested.bench_steps}
        self.assertTrue(steps["rest_back"].wait and steps["rest_back"].gate and steps["flat_back"].gate)
        order = [s.id for s in rested.bench_steps]
        self.assertLess(order.index("flat_back"), order.index("turn_back"))
        back = proof.simulations[-1]
        self.assertEqual(back.steps[0].operation.kind, "face")
        self.assertAlmostEqual(float(back.blank_top.max()), rested.blank.skim_back_mm, places=5)
        j, i = back.grid.cell_of(220.0, 0.0)
        self.assertAlmostEqual(float(back.result[j, i]), 0.0, places=5)  # the back is where it was asked for
        self.assertEqual(read_back_all(proof.simulations, write_all(proof.simulations)).findings, [])
        pieces = [e.piece_mm for e in ledger(proof.simulations)]
        self.assertAlmostEqual(pieces[-1], route.blank.piece_mm, places=4)
        self.assertGreater(pieces[0], pieces[1])

    def test_floors_over_a_back_that_is_still_to_be_skimmed_are_told(self):
        """5 of wood is asked for under a cavity; while the back still has its skim there is more, and it does not count."""
        rested = changed(fitted_route(True), put("blank.thickness_readings_mm", []), {"do": "rest_and_skim", "setup": "back"})
        self.assertEqual(codes(proof_of(rested)), set())
        deeper = changed(rested, put("piece.features.control_cavity.depth_mm", 40.5))
        found = [f for f in proof_of(deeper).findings if f.code == "feature.floor_thin" and f.feature == "control_cavity"]
        self.assertAlmostEqual(float(found[0].facts[0].value), 4.5, delta=0.02)

    def test_only_a_back_after_a_front_can_be_skimmed(self):
        for route, setup in ((route_named("siskin_body"), "front"), (fitted_route(True), "front"), (fitted_route(True), "none")):
            with self.assertRaises(InputError):
                changed(route, {"do": "rest_and_skim", "setup": setup})


class TestHoles(unittest.TestCase):
    def test_the_halves_meet_in_the_waste_and_nothing_is_accused(self):
        route = changed(fitted_route(True), {"do": "add_test_holes", "setup": "back"})
        proof = proof_of(route)
        self.assertEqual(codes(proof), set())
        front, back = resolve(route).solid("test_holes_front"), resolve(route).solid("test_holes_back")
        self.assertEqual(front.points, back.points)
        self.assertFalse(front.region.intersects(resolve(route).outline))
        last = proof.simulations[-1]
        for x, y in last.resolved.solid("test_holes_back").points:
            j, i = last.grid.cell_of(x, y)
            self.assertLess(float(last.result[j, i]), float(last.bottom[j, i]) + 0.01)
        (x0, y0), (x1, y1) = front.points
        self.assertAlmostEqual(y0 + y1, 0.0)  # the turning axis lies between them
        self.assertEqual([o.setup for o in route.operations if o.id.startswith("drill_test_holes")], ["front", "back"])
        self.assertIn("test_pair", {s.id for s in route.bench_steps})
        again = changed(route, {"do": "add_test_holes", "setup": "back"})
        self.assertEqual([f.id for f in again.piece.features], [f.id for f in route.piece.features])

    def test_what_cannot_be_drilled_is_refused(self):
        route = fitted_route(True)
        no_drill = changed(route, *(put(f"bits.{b.id}.cutting_length_mm", 12) for b in route.bits if b.form == "drill"))
        for one, setup in ((route, "front"), (route, "none"), (no_drill, "back")):
            with self.assertRaises(InputError):
                changed(one, {"do": "add_test_holes", "setup": setup})


if __name__ == "__main__":
    unittest.main()
