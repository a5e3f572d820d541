"""Which face is worked first: two setups change places and back, and nothing is found that was not."""

import unittest

from birch_route.core.errors import InputError
from birch_route.demo.fitted import fitted_route, hollow_route
from birch_route.formats.report import totals
from tests.support import changed, codes, proof_of, route_named


def back_first(route=None):
    return changed(route or fitted_route(True), {"do": "first_face", "face": "back"})


class FirstFace(unittest.TestCase):
    def test_index_holes_come_first_the_outline_last_and_the_rest_stays_with_its_face(self):
        before, route = fitted_route(True), back_first()
        self.assertEqual([s.face.value for s in route.setups], ["back", "front"])
        self.assertIn(route.setups[0].datum, route.operations[0].features)
        self.assertIn("outline", route.operations[-1].features)
        stays = {o.id: o.setup for o in before.operations[1:-1]}
        self.assertEqual({o.id: o.setup for o in route.operations[1:-1]}, stays)
        self.assertEqual({o.id: o.settings for o in route.operations}, {o.id: o.settings for o in before.operations})
        turn = next(s for s in route.bench_steps if s.name == "Turn over, front face up")
        self.assertEqual(route.operation(turn.after).setup, "back")

    def test_it_is_proved_as_clean_as_before_and_weighs_the_same(self):
        for before in (fitted_route(True), changed(route_named("siskin_body"), {"do": "turn_over"})):
            proof, was = proof_of(back_first(before)), proof_of(before)
            self.assertEqual(codes(proof), codes(was))
            self.assertAlmostEqual(totals(proof)["piece_kg"], totals(was)["piece_kg"], delta=0.005)
            self.assertEqual([sim.up.value for sim in proof.simulations], ["back", "front"])

    def test_what_is_wrong_is_found_at_its_place_whichever_face_is_first(self):
        wrong = changed(fitted_route(True), {"do": "place_feature", "feature": "switch_cavity", "dx_mm": 20})
        first, back = proof_of(wrong), proof_of(back_first(wrong))
        where = lambda p: sorted((f.code, tuple(round(v, 1) for v in f.place or ())) for f in p.findings)  # noqa: E731
        self.assertTrue(codes(first))
        self.assertEqual({c for c, _ in where(first)}, {c for c, _ in where(back)})
        for code in ("part.no_room",):
            self.assertEqual([w for w in where(first) if w[0] == code], [w for w in where(back) if w[0] == code])

    def test_back_again_it_is_as_it_was(self):
        before = fitted_route(True)
        again = changed(back_first(before), {"do": "first_face", "face": "front"})
        self.assertEqual(again.setups, before.setups)
        self.assertEqual(again.operations, before.operations)

    def test_what_cannot_be_said_why(self):
        cases = (
            (route_named("siskin_body"), "back", "Turn the piece over first"),
            (fitted_route(True), "front", "first already"),
            (hollow_route(), "back", "two setups|glued on the front"),
            (changed(fitted_route(True), {"do": "rest_and_skim", "setup": "back"}), "back", "Let it rest is planned"),
        )
        for route, face, words in cases:
            with self.subTest(words):
                self.assertRaisesRegex(InputError, words, changed, route, {"do": "first_face", "face": face})

    def test_a_back_worked_alone_is_judged_as_it_is_drawn(self):
        """Rules over parts and shapes look at the piece as drawn, though it lies turned."""
        both = fitted_route(True)
        alone = changed(back_first(both), {"do": "remove_setup"})
        self.assertEqual([s.face.value for s in alone.setups], ["back"])
        self.assertEqual(codes(proof_of(alone)) & {"part.no_room", "part.bush_short", "height.pocket"}, set())
