"""Orders of the operations: what has to come before what, and the fewest bit changes against brute force."""

import itertools
import random
import unittest
from types import SimpleNamespace

from hypothesis import given, settings
from hypothesis import strategies as st

from birch_route.core.errors import InputError
from birch_route.core.instrument.resolve import resolve
from birch_route.core.sequence.orders import OrderKind, broken, changes, fewest_changes, offers, orders_of, precedences
from birch_route.core.sequence.pair import with_last_passes
from birch_route.core.vocabulary import OperationKind
from birch_route.demo.fitted import fitted_route, hollow_route
from tests.core.test_carves import carved
from tests.core.test_channels import BINDING, with_channels
from tests.core.test_passes import DOWN
from tests.support import changed, codes, proof_of, route_named

JOIN = {"do": "join_operations", "operations": ["pocket_bridge_recess", "pocket_plate_rebate"]}


def small(seed):
    """A setup of a few operations with bits, and what has to come before what, without a circle."""
    rng = random.Random(seed)
    count = rng.randint(2, 7)
    here = [SimpleNamespace(id=f"o{k}", bit=rng.choice("abc")) for k in range(count)]
    hidden = rng.sample(range(count), count)
    needs = {o.id: set() for o in here}
    for i, j in itertools.combinations(range(count), 2):
        if rng.random() < 0.3:
            needs[f"o{hidden[j]}"].add(f"o{hidden[i]}")
    return here, needs, rng.choice(["", "a", "b"])


def cost(order, bits, bit):
    return sum(bits[o] != before for before, o in zip([bit, *(bits[x] for x in order)], order, strict=False))


class Fewest(unittest.TestCase):
    def test_as_few_as_by_trying_all_on_200_small_routes(self):
        for seed in range(200):
            here, needs, bit = small(seed)
            bits = {o.id: o.bit for o in here}
            able = [
                order for order in itertools.permutations(bits)
                if all(order.index(first) < order.index(then) for then, firsts in needs.items() for first in firsts)
            ]
            found = fewest_changes(here, needs, bit)
            self.assertIn(tuple(found), able, seed)
            self.assertEqual(cost(found, bits, bit), min(cost(order, bits, bit) for order in able), seed)

    def test_a_circle_is_told(self):
        here, _, _ = small(1)
        needs = {o.id: {here[k - 1].id} for k, o in enumerate(here)}
        self.assertRaisesRegex(InputError, "circle", fewest_changes, here, needs, "")


class Precedences(unittest.TestCase):
    def why(self, route, first, then):
        return [b.why for b in precedences(route) if (b.first, b.then) == (first, then)]

    def test_each_reason_stands_for_its_pair_and_not_the_other_way(self):
        body, fitted = route_named("siskin_body"), fitted_route(True)
        crept = changed(body, {"do": "creep", "operation": "pocket_neck_pocket", "passes": 2})
        rest = changed(body, {"do": "choose_rest", "operation": "pocket_neck_pocket", "first": "flat8"})
        wide, narrow = (o.id for o in rest.operations if "neck_pocket" in o.features)
        rim = changed(body, DOWN, {"do": "choose_rim", "operation": "pocket_neck_pocket", "bit": "down6"})
        cases = (
            (body, "face", "pocket_bridge_recess", "depths count from the face"),
            (body, "pocket_neck_pocket", "profile_outline", "hangs in its tabs"),
            (fitted, "surface_rough_arm", "surface_finish_arm", "roughed before"),
            (fitted, "surface_finish_arm", "edge_edge_1", "has its height"),
            (crept, "pocket_neck_pocket", "pocket_neck_pocket_creep1", "creeps on"),
            (crept, "pocket_neck_pocket_creep1", "pocket_neck_pocket_creep2", "creeps on"),
            (rest, wide, narrow, "what the first bit leaves"),
            (rim, "pocket_neck_pocket_rim", "pocket_neck_pocket", "rim is cut clean"),
        )
        for route, first, then, words in cases:
            with self.subTest(words):
                self.assertIn(words, " ".join(self.why(route, first, then)))
                self.assertEqual(self.why(route, then, first), [])

    def test_a_drill_comes_before_the_slope_it_stands_on_and_not_before_another(self):
        fitted = fitted_route(True)
        inside = resolve(fitted).solid("arm").region.representative_point()
        for x, y, there in ((inside.x, inside.y, True), (320.0, 75.0, False)):
            hole = {"do": "draw", "what": "hole", "x_mm": x, "y_mm": y, "diameter_mm": 3.0, "depth_mm": 12}
            route = changed(fitted, hole)
            drill = next(o for o in route.operations if "hole" in o.features)
            self.assertIs(drill.kind, OperationKind.DRILL)
            found = self.why(route, drill.id, "surface_rough_arm")
            self.assertEqual(found, ["a drill wanders on a slope"] if there else [])

    def test_a_channel_comes_after_the_surface_that_gives_its_rim_its_height(self):
        route = with_channels(carved(), BINDING)
        solids = resolve(route).solids
        cut = [o for o in route.operations if o.features]
        channel = next(o.id for o in cut if solids[o.features[0]].kind == "channel")
        surface = next(o.id for o in route.operations if o.kind is OperationKind.SURFACE_FINISH)
        self.assertEqual(self.why(route, surface, channel), ["the rim has its height once what it runs along is cut"])
        self.assertEqual(self.why(route, channel, surface), [])

    def test_index_holes_come_first_and_a_rebate_before_its_cavity(self):
        route = fitted_route(True)
        index = next(o for o in route.operations if set(o.features) & {s.datum for s in route.setups})
        others = {o.id for o in route.operations if o.setup == index.setup} - {index.id}
        self.assertEqual({b.then for b in precedences(route) if b.first == index.id}, others)
        self.assertIn("lowers where", " ".join(self.why(route, *(
            next(o.id for o in route.operations if f in o.features) for f in ("plate_rebate", "control_cavity")))))

    def test_a_bench_step_within_a_setup_keeps_what_stands_before_it_there(self):
        body = route_named("siskin_body")
        ids = [o.id for o in body.operations]
        step = {"do": "add_step", "after": ids[3], "step": {"name": "Look", "minutes": 2}}
        kept = {(b.first, b.then) for b in precedences(changed(body, step))}
        self.assertLessEqual(set(itertools.product(ids[:4], ids[4:])), kept)


def parted(route, offer):
    """The route whose operations an offer puts in order."""
    return with_last_passes(route) if offer.kind is OrderKind.ROUGH_FIRST else route


class Offered(unittest.TestCase):
    def test_no_offer_breaks_anything_or_brings_a_finding(self):
        for route in (route_named("siskin_body"), hollow_route()):
            before, ids = precedences(route), [o.id for o in route.operations]
            self.assertEqual(broken(before, ids), [])
            known = codes(proof_of(route))
            for offer in offers(route):
                with self.subTest(f"{route.job} {offer.kind}"):
                    there = parted(route, offer)
                    self.assertEqual(sorted(offer.operations), sorted(o.id for o in there.operations))
                    self.assertEqual(len(there.operations) - len(ids), offer.more)
                    self.assertEqual(broken(precedences(there), offer.operations), [])
                    ordered = changed(route, {"do": "order_by", "by": offer.kind.value})
                    self.assertEqual([o.id for o in ordered.operations], offer.operations)
                    self.assertEqual(codes(proof_of(ordered)) - known, set())
                    steps = proof_of(ordered).steps
                    self.assertEqual(sum(s.bit_changes for s in steps[1:]) + 1, offer.changes)

    def test_the_body_saves_a_change_and_the_rest_is_told(self):
        found = orders_of(route_named("siskin_body"))
        fewest = next(o for o in found.offers if o.kind is OrderKind.BITS)
        self.assertEqual((found.changes, fewest.changes), (5, 4))
        self.assertAlmostEqual(found.minutes - fewest.minutes, found.change_min)

    def test_one_feature_is_whole_before_the_next_and_fine_bits_come_late(self):
        route = changed(route_named("siskin_body"),
                        {"do": "choose_rest", "operation": "pocket_neck_pocket", "first": "flat8"})
        by = {o.kind: o.operations for o in offers(route)}
        neck = [k for k, o in enumerate(by[OrderKind.FEATURES]) if "neck_pocket" in route.operation(o).features]
        self.assertEqual(neck[1] - neck[0], 1)
        widths = [route.bit(route.operation(o).bit).cut_diameter_mm for o in by[OrderKind.FINE_LAST][:-1]]
        self.assertEqual(widths, sorted(widths, reverse=True))

    @settings(max_examples=25, deadline=None)
    @given(st.randoms(use_true_random=False))
    def test_whatever_order_stands_the_offers_break_nothing(self, rng):
        route = route_named("siskin_body")
        ids = [o.id for o in route.operations]
        places = [(rng.choice(ids), rng.randrange(len(ids))) for _ in range(6)]
        moves = [{"do": "move_operation", "operation": one, "to": to} for one, to in places]
        shuffled = changed(route, *moves)
        for offer in offers(shuffled):
            there = parted(shuffled, offer)
            self.assertEqual(broken(precedences(there), offer.operations), [])
            self.assertEqual(changes(there, offer.operations), offer.changes)

    def test_what_is_moved_where_it_breaks_something_is_told(self):
        route = route_named("siskin_body")
        late = changed(route, {"do": "move_operation", "operation": "face", "to": 5})
        found = broken(precedences(late), [o.id for o in late.operations])
        self.assertEqual({b.first for b in found}, {"face"})
        self.assertIn("order.skim_late", codes(proof_of(late)))
        self.assertEqual(broken(precedences(route), [o.id for o in route.operations]), [])
        back = changed(late, {"do": "order_by", "by": "bits"})
        self.assertNotIn("order.skim_late", codes(proof_of(back)))


class Acts(unittest.TestCase):
    def test_random_acts_read_back_lose_nothing_and_are_undone_to_equal_bytes(self):
        """A sample; bench/acts.py does them all."""
        from bench.acts import acted

        wrong, taken = acted(5, 60)
        self.assertEqual(wrong, [])
        self.assertGreater(taken, 20)


class Several(unittest.TestCase):
    def test_gathered_joined_and_parted(self):
        route = route_named("siskin_body")
        ids = [o.id for o in route.operations]
        gathered = changed(route, {"do": "gather_operations", "operations": [ids[6], ids[2], ids[8]]})
        self.assertEqual([o.id for o in gathered.operations][2:5], [ids[2], ids[6], ids[8]])
        joined = changed(route, JOIN)
        one = joined.operation("pocket_bridge_recess")
        self.assertEqual(one.features, ["bridge_recess", "plate_rebate"])
        self.assertIsNone(joined.operation("pocket_plate_rebate"))
        self.assertEqual(codes(proof_of(joined)) - codes(proof_of(route)), set())
        parted = changed(joined, {"do": "part_operation", "operation": "pocket_bridge_recess"})
        self.assertEqual([o.features for o in parted.operations[1:3]], [["bridge_recess"], ["plate_rebate"]])
        self.assertEqual(len(parted.operations), len(route.operations))

    def test_unlike_ones_are_not_joined_and_one_feature_is_not_parted(self):
        route = route_named("siskin_body")
        both = {"do": "join_operations", "operations": ["pocket_bridge_recess", "pocket_neck_pocket"]}
        self.assertRaisesRegex(InputError, "not like .*bit differs", changed, route, both)
        self.assertRaisesRegex(InputError, "one feature only", changed, route,
                               {"do": "part_operation", "operation": "pocket_neck_pocket"})
        outlines = {"do": "join_operations", "operations": ["face", "profile_outline"]}
        self.assertRaises(InputError, changed, route, outlines)

    def test_steps_after_one_that_is_taken_in_follow_the_one_that_stays(self):
        step = {"do": "add_step", "after": "pocket_plate_rebate", "step": {"name": "Look", "minutes": 2}}
        joined = changed(route_named("siskin_body"), step, JOIN)
        self.assertEqual(next(s.after for s in joined.bench_steps if s.own), "pocket_bridge_recess")
