"""Bolts, straps, cams and wedges: what each bears against its closed form, where it may be hit, and the board that takes it."""

import unittest

import numpy as np

from birch_route.core.data import figures
from birch_route.core.heights.field import Grid
from birch_route.core.holding.balance import Balance
from birch_route.core.holding.clearance import footprint
from birch_route.core.holding.contacts import Lying, area_points, elements_of, press_of, strap_ends
from birch_route.core.jigs.board import board_for
from birch_route.core.route import Hardware
from tests.core.test_balance import in_plane
from tests.support import changed, proof_of, route_named

FIG = figures()["holding"]


def lying(length=400.0, width=300.0, thick=40.0, cell=2.0):
    """A block about the middle of its grid."""
    grid = Grid.over(-length / 2 - 10, -width / 2 - 10, length / 2 + 10, width / 2 + 10, cell)
    x, y = np.meshgrid(grid.x_centres(), grid.y_centres())
    wood = (np.abs(x) < length / 2) & (np.abs(y) < width / 2)
    corners = np.array([(a * length / 2, b * width / 2) for a in (-1, 1) for b in (-1, 1)])
    return Lying(-thick, 0.0, corners, grid, wood, wood, wood)


def one(kind, x=0.0, y=0.0, **more):
    return Hardware(id=kind[0], kind=kind, x_mm=x, y_mm=y, **more)


class Bears(unittest.TestCase):
    def near(self, found, wanted):
        self.assertLess(abs(found - wanted) / wanted, 0.01, f"{found} against {wanted}")

    def test_bolts_press_and_hold_by_friction_alone(self):
        two = [one("bolt", -150).model_copy(update={"id": "b1"}), one("bolt", 150).model_copy(update={"id": "b2"})]
        balance = Balance(elements_of(two, lying()))
        press = FIG["bolt_press_n"]
        self.near(balance.most(in_plane(30), (0, 0, -40)), 2 * FIG["friction_board"] * press)
        self.near(balance.most((0.0, 0.0, 1.0), (0, 0, 0)), 2 * press)
        self.near(Balance(elements_of([h.model_copy(update={"press_n": 100.0}) for h in two], lying())).most((0.0, 0.0, 1.0), (0, 0, 0)), 200.0)

    def test_a_strap_presses_at_both_edges_of_the_wood_that_is_under_it(self):
        strap = one("strap", 100.0, 0.0, length_mm=340.0, width_mm=25.0, angle_deg=90.0)
        lies = lying()
        np.testing.assert_allclose(sorted(y for _, y in strap_ends(strap, lies)), [-149, 149], atol=1.5)
        balance = Balance(elements_of([strap], lies))
        self.near(balance.most((0.0, 0.0, 1.0), (100, 0, 0)), 2 * FIG["strap_press_n"])
        self.near(balance.most(in_plane(0), (100, 0, -40)), 2 * FIG["strap_press_n"] * FIG["friction_board"])
        self.assertEqual(strap_ends(strap.model_copy(update={"x_mm": 500.0}), lies), [])

    def test_cams_and_wedges_push_like_a_clamp_with_what_they_press(self):
        for kind in ("cam", "wedge", "edge_clamp"):
            pushed = [one(kind, 0, -150, angle_deg=-90), one("rail", 0, 150, angle_deg=90, width_mm=200)]
            balance, press = Balance(elements_of(pushed, lying())), press_of(pushed[0])
            self.assertEqual(press, FIG[f"{'edge' if kind == 'edge_clamp' else kind}_press_n"])
            self.near(balance.most(in_plane(-90), (0, 0, -20)), press)
            self.near(balance.most(in_plane(0), (0, 0, -20)), 2 * FIG["friction_pad"] * press)


class Areas(unittest.TestCase):
    def test_an_area_acts_at_four_places_each_way_spread_over_it(self):
        held = one("vacuum", x=10, y=-20, length_mm=160, width_mm=80)
        places, each, bare = area_points(held, lying())
        self.assertEqual((len(places), round(bare)), (16, 0))
        self.assertAlmostEqual(float(np.sum(each)), 160 * 80, delta=0.02 * 160 * 80)
        for k, wanted in ((0, [-50, -10, 30, 70]), (1, [-50, -30, -10, 10])):
            across = sorted({round(float(p[k])) for p in places})
            self.assertEqual([min(wanted, key=lambda w: abs(w - a)) for a in across], wanted)
            self.assertTrue(all(min(abs(w - a) for w in wanted) <= 1 for a in across), across)

    def test_what_lies_beyond_the_wood_is_bare(self):
        held = one("vacuum", x=200, y=0, length_mm=16, width_mm=80)
        _, each, bare = area_points(held, lying())
        self.assertAlmostEqual(float(np.sum(each)), 8 * 80, delta=0.1 * 8 * 80)
        self.assertGreater(bare, 8 * 80 * 0.9)


class InTheWay(unittest.TestCase):
    def test_a_strap_lies_over_the_wood_and_a_bolt_is_round(self):
        self.assertEqual(footprint(one("strap", 10, 20, length_mm=100, width_mm=20)).bounds, (-40, 10, 60, 30))
        self.assertAlmostEqual(footprint(one("bolt", head_diameter_mm=12)).area, np.pi * 36, delta=1)
        route = route_named("siskin_body")
        b = route.blank
        strap = {"id": "g1", "kind": "strap", "x_mm": b.x_mm + b.length_mm / 2, "y_mm": b.y_mm + b.width_mm / 2, "length_mm": b.width_mm + 40, "width_mm": 25, "angle_deg": 90, "top_mm": 4}
        found = proof_of(changed(route, {"do": "put_hardware", "setup": "front", "hardware": strap})).findings
        self.assertIn(("hardware.hit", "g1"), [(f.code, f.hardware) for f in found])


class Board(unittest.TestCase):
    def test_it_has_inserts_slots_and_a_place_for_wedges_and_its_proof_is_clean(self):
        route = route_named("siskin_body")
        b = route.blank
        x1, y1 = b.x_mm + b.length_mm, b.y_mm + b.width_mm
        put = [{"id": "b1", "kind": "bolt", "x_mm": b.x_mm + 10, "y_mm": b.y_mm + 40, "head_diameter_mm": 12, "shaft_diameter_mm": 6, "top_mm": 5}, {"id": "w1", "kind": "wedge", "x_mm": b.x_mm, "y_mm": b.y_mm + b.width_mm / 2, "angle_deg": 180, "top_mm": -15},
               {"id": "g1", "kind": "strap", "x_mm": x1 - 15, "y_mm": (b.y_mm + y1) / 2, "length_mm": b.width_mm + 40, "width_mm": 20, "angle_deg": 90, "top_mm": 4}, {"id": "k1", "kind": "cam", "x_mm": x1, "y_mm": b.y_mm + b.width_mm / 2, "angle_deg": 0, "top_mm": -15}]
        jig = board_for(changed(route, *({"do": "put_hardware", "setup": "front", "hardware": h} for h in put)), "front")
        names = [p.name for p in jig.jig.parts]
        for wanted in ("Inserts", "Bolts", "Wedges w1", "Strap g1", "Cam k1"):
            self.assertIn(wanted, names)
        slots = [f for f in jig.features if f.id.startswith("slot_g1")]
        self.assertEqual(len(slots), 2)
        self.assertEqual([f.code for f in proof_of(jig).findings if f.severity.value != "note"], [])
