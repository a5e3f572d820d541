"""Vacuum: the pump's curve against its leaks, in closed form and by another solver; what a cut through over it does."""

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from birch_route.core.data import figures
from birch_route.core.hardware import Hardware
from birch_route.core.holding.vacuum import bar_at, vacuum_bar
from birch_route.core.machines import Pump
from birch_route.core.proving.holds import holds
from tests.core.test_holds import NECK, held_with
from tests.support import changed, proof_of, put, route_named

FIG = figures()["vacuum"]


class Curve(unittest.TestCase):
    def test_without_an_opening_it_is_where_two_straight_lines_cross(self):
        for porous in (False, True):
            leak = FIG["gasket_l_min_bar_m"] * 1.2 + (FIG["porous_l_min_bar_dm2"] if porous else FIG["sealed_l_min_bar_dm2"]) * 4.0
            wanted = 120.0 / (120.0 / 0.85 + leak)
            self.assertAlmostEqual(bar_at(Pump(free_l_min=120, deepest_bar=0.85), 1200.0, 40_000.0, porous), wanted, places=5)

    @given(st.floats(20, 600), st.floats(0.3, 0.95), st.floats(0.1, 400))
    @settings(max_examples=60, deadline=None)
    def test_with_one_another_solver_finds_the_same_and_more_open_is_never_more_pressure(self, free, deepest, open_mm2):
        pump = Pump(free_l_min=free, deepest_bar=deepest)

        def balance(p):  # m3/s: orifice C A sqrt(2 p / rho) and leaks against the pump
            leak = (FIG["gasket_l_min_bar_m"] * 0.8 + FIG["sealed_l_min_bar_dm2"] * 3.0) * p / 60_000
            return free / 60_000 * (1 - p / deepest) - leak - 0.6 * open_mm2 / 1e6 * math.sqrt(2 * p * 1e5 / 1.2)
        wanted = brentq(balance, 0.0, deepest)
        self.assertAlmostEqual(bar_at(pump, 800.0, 30_000.0, False, open_mm2), wanted, places=5)
        self.assertLessEqual(bar_at(pump, 800.0, 30_000.0, False, open_mm2 * 1.2), bar_at(pump, 800.0, 30_000.0, False, open_mm2) + 1e-6)

    def test_a_measured_pressure_stands_until_a_cut_opens_it(self):
        h = Hardware(id="v1", kind="vacuum", x_mm=0, y_mm=0, length_mm=200, width_mm=100, pressure_bar=0.5)
        self.assertEqual(vacuum_bar(h, None), 0.5)
        self.assertEqual(vacuum_bar(h, None, 3.0), 0.0)  # no pump is known: nothing is promised
        self.assertLess(vacuum_bar(h, Pump(free_l_min=60, deepest_bar=0.8), 50.0), 0.5)


class Opened(unittest.TestCase):
    def test_a_cut_through_is_told_with_what_the_pump_still_keeps_and_the_holding_follows(self):
        route = route_named(NECK)
        tuners = next(f for f in route.features if f.id == "tuner_holes")
        pad = {"id": "v1", "kind": "vacuum", "x_mm": tuners.points[0][0], "y_mm": 0, "length_mm": 40, "width_mm": 60}
        held = changed(held_with(route, pad), put("machine.pump", {"free_l_min": 1500, "deepest_bar": 0.85}))
        proof = proof_of(held)
        (found,) = [f for f in proof.findings if f.code == "holding.vacuum_falls"]
        before, after = (next(x.value for x in found.facts if x.name == n) for n in ("before", "after"))
        self.assertEqual(found.severity.value, "care")
        self.assertLess(after, 0.9 * before)
        self.assertEqual([f for f in proof.findings if f.code == "holding.leaks"], [])
        steps = proof.simulation.steps
        at = next(k for k, s in enumerate(steps) if s.operation.id == found.operation)
        by = holds(proof.simulation)
        sound = [h.least_n for h, s in zip(by[:at], steps[:at], strict=True) if h]
        opened = [h.least_n for h in by[at + 1:] if h]
        if sound and opened:
            self.assertLess(max(opened), max(sound))
        none = proof_of(changed(held_with(route, pad), put("machine.pump", None)))
        self.assertEqual([f.code for f in none.findings if f.code.startswith("holding.") and f.code != "holding.weak"], ["holding.leaks"])
        small = changed(held_with(route, {**pad, "x_mm": 255, "length_mm": 100, "width_mm": 20}), put("machine.pump", {"free_l_min": 1500, "deepest_bar": 0.85}))
        self.assertNotIn("holding.vacuum_falls", [f.code for f in proof_of(small).findings])
