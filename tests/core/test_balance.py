"""The load balance against closed forms, and against its dual solved apart."""

import math
import unittest

import numpy as np
from scipy.optimize import linprog

from birch_route.core.holding.balance import (
    ARM_MM,
    ROUND,
    Balance,
    Element,
    across,
    wrench,
)

UP, DOWN = (0.0, 0.0, 1.0), (0.0, 0.0, -1.0)


def in_plane(deg, lift=0.0):
    return (math.cos(math.radians(deg)), math.sin(math.radians(deg)), lift)


def screw(name, x, y, side=250.0, pull=150.0):
    return [Element(name, (x, y, 0.0), DOWN, pull, side)]


def bed(points):
    return [Element("bed", (x, y, 0.0), UP, 1e5) for x, y in points]


SQUARE = [(-100, -100), (100, -100), (100, 100), (-100, 100)]


class ClosedForms(unittest.TestCase):
    def near(self, found, wanted, part=0.01):
        self.assertLess(abs(found - wanted) / wanted, part, f"{found} against {wanted}")

    def test_two_screws_bear_twice_one_between_them_and_turn_about_the_nearer(self):
        two = Balance([*screw("a", -100, 0), *screw("b", 100, 0), *bed(SQUARE)])
        for deg in range(0, 360, 7):
            self.near(two.most(in_plane(deg), (0, 0, 0)), 500.0)
        # across the line of both, at a place x on it: the farther from the middle, the more one bears; moments about the other screw
        for x in (20.0, 60.0, 100.0, 180.0):
            self.near(two.most(in_plane(90), (x, 0, 0)), 250.0 * 200 / (100 + x))
        # along the line, beside it by y: turning is borne across, what is left of the circle along
        y = 60.0
        self.near(two.most(in_plane(0), (0, y, 0)), 250.0 / math.hypot(0.5, y / 200))

    def test_screws_pull_down_what_tips(self):
        """A push at height h tips the blank about its far edge: both screws' pull-out times their arms stand against it."""
        two = Balance([*screw("a", -50, 0, side=1e4), *screw("b", 50, 0, side=1e4), *bed(SQUARE)])
        h = 200.0
        self.near(two.most(in_plane(0), (0, 0, h)), (150.0 * 150 + 150.0 * 50) / h)
        self.near(two.most((0.0, 0.0, 1.0), (0, 0, 0)), 300.0)
        self.near(two.most((0.0, 0.0, 1.0), (50, 0, 0)), (150.0 * 150 + 150.0 * 50) / 150)  # it turns about the far edge

    def test_a_pair_of_pins_holds_across_and_lifts_freely(self):
        pins = Balance([Element("p1", (-180, 0, 0), UP, 0.0, 300.0), Element("p2", (180, 0, 0), UP, 0.0, 300.0), *bed(SQUARE)])
        self.near(pins.most(in_plane(90), (-180, 0, 0)), 300.0)
        self.near(pins.most(in_plane(90), (0, 0, 0)), 600.0)
        self.assertLess(pins.most((0.0, 0.0, 1.0), (0, 0, 0)), 1e-6)
        self.assertLess(pins.most(in_plane(0, 0.01), (0, 0, 0)), 1e-6)
        self.near(pins.most(in_plane(0), (0, 0, 0)), 600.0)

    def test_a_vacuum_pad_holds_by_friction_on_what_it_presses(self):
        """F = mu p A along; lifting p A; together the lift takes from the press; turning about its middle mu p A times the mean arm."""
        n, half, p, mu = 16, 60.0, 0.06, 0.5
        xs = (np.arange(n) + 0.5) / n * 2 * half - half
        share = p * (2 * half) ** 2 / n**2
        pad = Balance([e for x in xs for y in xs for e in (Element("pad", (x, y, 0), DOWN, share), Element("pad", (x, y, 0), UP, share, friction=mu))])
        whole = p * (2 * half) ** 2
        self.near(pad.most(in_plane(15), (0, 0, 0)), mu * whole)
        self.near(pad.most((0, 0, 1.0), (0, 0, 0)), whole)
        self.near(pad.most(in_plane(0, 0.5), (0, 0, 0)), mu * whole / (1 + 0.5 * mu))
        far = 1e5  # so far out that it is all turning
        mean_arm = half * 2 / 6 * (math.sqrt(2) + math.log(1 + math.sqrt(2)))  # of a square about its middle
        self.near(pad.most(in_plane(90), (far, 0, 0)) * far, mu * whole * mean_arm, 0.012)

    def test_a_clamp_on_a_rail(self):
        """Away from the rail the clamp's press; along it friction on both; towards it the rail's strength."""
        n0, mu = 300.0, 0.3
        one = Balance([Element("clamp", (0, -100, 0), (0, 1, 0), n0, friction=mu), Element("rail", (-80, 100, 0), (0, -1, 0), n0 / 2, friction=mu), Element("rail", (80, 100, 0), (0, -1, 0), n0 / 2, friction=mu),
                       Element("rail", (-80, 100, 0), (0, -1, 0), 400.0), Element("rail", (80, 100, 0), (0, -1, 0), 400.0), *bed(SQUARE)])
        self.near(one.most(in_plane(-90), (0, 0, 0)), n0)
        self.near(one.most(in_plane(90), (0, 0, 0)), 2 * 400 + n0)
        self.near(one.most(in_plane(0), (0, 0, 0)), 2 * mu * n0)

    def test_what_it_rests_on_is_named(self):
        two = Balance([*screw("near", 0, 0), *screw("far", 200, 0, side=1000), *bed(SQUARE)])
        answer = two.answer(in_plane(90), (0, 0, 0))
        self.near(answer.most_n, 250.0)
        self.assertEqual(next(iter(answer.parts)), "near")
        self.near(answer.parts["near"], 1.0)
        # one that could bear a tenth more raises the load by its part of a tenth
        pulled = two.answer(in_plane(90), (60, 0, 0))
        more = Balance([*screw("near", 0, 0, side=275.0), *screw("far", 200, 0, side=1000), *bed(SQUARE)]).most(in_plane(90), (60, 0, 0))
        self.near(more - pulled.most_n + 1, pulled.most_n * 0.1 * pulled.parts["near"] + 1, 0.02)


def random_holding(rng):
    out = []
    for k in range(rng.integers(1, 7)):
        at = tuple(rng.uniform(-200, 200, 2)) + (float(rng.uniform(0, 40)),)
        kind = rng.integers(0, 4)
        if kind == 0:
            out += [Element(f"s{k}", at, DOWN, rng.uniform(50, 300), rng.uniform(50, 400))]
        elif kind == 1:
            press = rng.uniform(100, 500)
            out += [Element(f"t{k}", at, DOWN, press), Element(f"t{k}", (at[0], at[1], 0.0), UP, press, friction=0.3)]
        elif kind == 2:
            turn = rng.uniform(0, 2 * math.pi)
            out += [Element(f"c{k}", at, (math.cos(turn), math.sin(turn), 0.0), rng.uniform(100, 600), friction=0.4)]
        else:
            out += [Element(f"p{k}", at, UP, 0.0, rng.uniform(100, 400))]
    return out + bed([(x * 2, y * 1.5) for x, y in SQUARE])


class Dual(unittest.TestCase):
    def test_for_every_load_out_of_reach_a_wrench_separates_it(self):
        """The dual, solved apart by another route: a wrench y with y.load = 1 for which all contacts together can do no more than the answer. Any load a little
        larger lies beyond that plane; and the forces of the programme balance any load a little smaller."""
        rng = np.random.default_rng(5)
        for case in range(60):
            elements = random_holding(rng)
            about = (rng.uniform(-50, 50), rng.uniform(-50, 50), 0.0)
            load = wrench(np.array(in_plane(rng.uniform(0, 360), rng.choice([0.0, 0.0, 0.3, -0.2]))), (rng.uniform(-150, 150), rng.uniform(-100, 100), rng.uniform(0, 45)), about)
            with self.subTest(case):
                found = Balance(elements, about)._solve(load)
                y, bound = self.separating(elements, about, load)
                self.assertAlmostEqual(found, bound, delta=1e-5 * max(1.0, bound))
                self.assertAlmostEqual(float(y @ load), 1.0, places=6)
                self.assertLessEqual(self.reach(elements, about, -y), found * 1.00001 + 1e-4)

    def separating(self, elements, about, load):
        """Minimise what all contacts can do against y over all y with y.load = 1."""
        n = len(elements)
        cost, a_ub, b_ub = np.zeros(6 + 2 * n), [], []  # y, then for each element the price of its push and of its sides
        for k, e in enumerate(elements):
            push, side = 6 + 2 * k, 7 + 2 * k
            cost[push], cost[side] = min(e.most_n, 1e5), e.side_n
            for w, friction in [(wrench(np.array(e.axis), e.at_mm, about), e.friction)]:
                row = np.zeros(6 + 2 * n)
                row[:6], row[push], row[side] = -w, -1.0, friction  # push price >= -y.w + friction times the side price
                a_ub.append(row)
                b_ub.append(0.0)
            u, v = across(e.axis)
            for k_turn in range(ROUND):
                t = 2 * math.pi * k_turn / ROUND
                row = np.zeros(6 + 2 * n)
                row[:6], row[side] = -wrench(math.cos(t) * u + math.sin(t) * v, e.at_mm, about), -1.0
                a_ub.append(row)
                b_ub.append(0.0)
        bounds = [(None, None)] * 6 + [(0, None)] * (2 * n)
        answer = linprog(cost, A_ub=np.array(a_ub), b_ub=b_ub, A_eq=[np.concatenate([load, np.zeros(2 * n)])], b_eq=[1.0], bounds=bounds, method="highs")
        return (answer.x[:6], answer.fun) if answer.status == 0 else (load / (load @ load), math.inf)

    def reach(self, elements, about, y):
        """The most that the contacts can do along y, straight from their sets: every element by itself."""
        total = 0.0
        for e in elements:
            u, v = across(e.axis)
            best_side = max(float(y @ wrench(math.cos(t) * u + math.sin(t) * v, e.at_mm, about)) for t in 2 * math.pi * np.arange(ROUND) / ROUND)
            push = float(y @ wrench(np.array(e.axis), e.at_mm, about))
            total += max(0.0, best_side) * e.side_n + max(0.0, push + max(0.0, best_side) * e.friction) * min(e.most_n, 1e5)
        return total


class Units(unittest.TestCase):
    def test_a_wrench_is_force_and_moment_at_the_arm(self):
        np.testing.assert_allclose(wrench(np.array([0.0, 3.0, 0.0]), (50, 0, 0), (0, 0, 0)), [0, 3, 0, 0, 0, 150 / ARM_MM])

    def test_a_wrench_about_another_place_is_the_cross_product_from_there(self):
        rng = np.random.default_rng(11)
        for _ in range(20):
            force, at, about = rng.normal(size=(3, 3)) * 40
            wanted = [*force, *(np.cross(at - about, force) / ARM_MM)]
            np.testing.assert_allclose(wrench(force, at, about), wanted, atol=1e-9)


if __name__ == "__main__":
    unittest.main()
