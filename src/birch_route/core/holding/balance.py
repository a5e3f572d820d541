"""How large a load contacts can balance: equilibrium of one rigid piece of wood as a linear programme.

Every contact may push with any forces out of its own set (what a screw bears, what a clamp presses with and the friction on that); the programme
takes the kindest distribution. Loads differ in six numbers only, so one programme is set up for a holding and solved anew from the last answer for
every load.
"""

from __future__ import annotations

import math
import os
from collections.abc import Sequence
from dataclasses import dataclass

import highspy
import numpy as np

from ..errors import GeometryError

ROUND = 24  # directions that stand for a circle; the polygon lies inside it, at most 0.9 % short
ARM_MM = 100.0  # moments are counted in units of force at this arm, so that rows are of one size
FIRST = 3  # every place is asked in every third direction, the worst place in all
MOST_N = 1e5  # a load balanced beyond this is balanced without end


@dataclass(frozen=True)
class Element:
    """What one point of a contact can do to the wood: push along `axis` with 0 to most_n, and across it with up to side_n + friction times the push.

    at_mm: place [3]. axis: unit vector [3]. With most_n = 0 it only holds across, as a pin does.
    """

    contact: str
    at_mm: tuple[float, float, float]
    axis: tuple[float, float, float]
    most_n: float
    side_n: float = 0.0
    friction: float = 0.0


@dataclass(frozen=True)
class Answer:
    """The largest load in one direction, N, and which part of it rests on each contact: if one could bear a little more, the load grows by that part of it."""

    most_n: float
    parts: dict[str, float]


def across(axis: tuple[float, float, float]) -> tuple[np.ndarray, np.ndarray]:
    """Return two unit vectors at right angles to an axis and to each other."""
    a = np.asarray(axis, float)
    u = np.cross(a, (0.0, 0.0, 1.0) if abs(a[2]) < 0.9 else (1.0, 0.0, 0.0))
    u /= np.linalg.norm(u)
    return u, np.cross(a, u)


def wrench(force: Sequence[float] | np.ndarray, at_mm: Sequence[float], about_mm: Sequence[float]) -> np.ndarray:
    """Return force and moment of a force at a place, about another, as six numbers of one size: N, and N at ARM_MM."""
    fx, fy, fz = map(float, force)
    x, y, z = ((float(a) - float(b)) / ARM_MM for a, b in zip(at_mm, about_mm, strict=True))
    return np.array([fx, fy, fz, y * fz - z * fy, z * fx - x * fz, x * fy - y * fx])


def _quiet_solver() -> highspy.Highs:
    """Return a solver. The first of a process prints who made it, below Python, where a file's text may be on its way out: that goes nowhere."""
    if _greeted:
        return highspy.Highs()
    _greeted.append(True)
    kept, nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 1)
        return highspy.Highs()
    finally:
        os.dup2(kept, 1)
        os.close(kept)
        os.close(nowhere)


_greeted: list[bool] = []


class Balance:
    """The programme for one holding.

    Source: statics of a rigid body; friction cones as pyramids of ROUND sides on the least preload, limits of shear and withdrawal as bounds.
    """

    def __init__(self, elements: Sequence[Element], about_mm: Sequence[float] = (0.0, 0.0, 0.0)) -> None:
        self.elements, self.about = list(elements), tuple(about_mm)
        columns, upper, rows, owners = [], [], [], []  # rows: (columns of the sides, column of the push or None, side_n, friction)
        for e in self.elements:
            push = None
            if e.most_n > 0:
                push = len(columns)
                columns.append(wrench(np.asarray(e.axis, float), e.at_mm, about_mm))
                upper.append(min(e.most_n, MOST_N))
                owners.append(e.contact)
            if e.side_n > 0 or (e.friction > 0 and push is not None):
                u, v = across(e.axis)
                turns = 2 * math.pi * np.arange(ROUND) / ROUND
                sides = range(len(columns), len(columns) + ROUND)
                columns += [wrench(math.cos(t) * u + math.sin(t) * v, e.at_mm, about_mm) for t in turns]
                upper += [math.inf] * ROUND
                owners += [e.contact] * ROUND
                rows.append((sides, push, e.side_n, e.friction, e.contact))
        self._owners, self._limits, self._upper = owners, rows, upper
        self._columns = np.array(columns).reshape(-1, 6)
        self._solver = self._programme()
        self._set = np.zeros(6)

    def _programme(self) -> highspy.Highs:
        n, m = len(self._owners), 6 + len(self._limits)
        model = highspy.HighsLp()
        model.num_col_, model.num_row_ = n + 1, m
        model.sense_ = highspy.ObjSense.kMaximize
        model.col_cost_ = np.concatenate([[1.0], np.zeros(n)])
        model.col_lower_ = np.zeros(n + 1)
        model.col_upper_ = np.concatenate([[MOST_N], [u if math.isfinite(u) else highspy.kHighsInf for u in self._upper]])
        model.row_lower_ = np.concatenate([np.zeros(6), np.full(m - 6, -highspy.kHighsInf)])
        model.row_upper_ = np.concatenate([np.zeros(6), [side for _, _, side, _, _ in self._limits]])
        dense = np.zeros((m, n + 1))
        dense[:6, 1:] = self._columns.T
        for k, (sides, push, _, friction, _) in enumerate(self._limits):
            dense[6 + k, [s + 1 for s in sides]] = 1.0
            if push is not None and friction > 0:
                dense[6 + k, push + 1] = -friction
        dense[:6, 0] = 1e-9  # so that the load's places in the matrix exist
        starts, index, value = [0], [], []
        for column in dense.T:
            at = np.flatnonzero(column)
            index += at.tolist()
            value += column[at].tolist()
            starts.append(len(index))
        model.a_matrix_.format_ = highspy.MatrixFormat.kColwise
        model.a_matrix_.start_, model.a_matrix_.index_, model.a_matrix_.value_ = np.array(starts), np.array(index), np.array(value)
        solver = _quiet_solver()
        for option, setting in (("output_flag", False), ("presolve", "off"), ("threads", 1), ("solver", "simplex")):
            solver.setOptionValue(option, setting)
        solver.passModel(model)
        return solver

    def most(self, direction: Sequence[float], at_mm: Sequence[float]) -> float:
        """Return the largest force along a direction [3], N, that can act on the wood at a place and is balanced; at most MOST_N.

        The direction is that of the force on the wood, and need not be a unit: with a third number it lifts by so much for each N in plane.
        """
        return self._solve(wrench(np.asarray(direction, float), at_mm, self.about))

    def answer(self, direction: Sequence[float], at_mm: Sequence[float]) -> Answer:
        """Return the same with what it rests on."""
        most = self.most(direction, at_mm)
        found = self._solver.getSolution()
        parts: dict[str, float] = {}
        if most < MOST_N * 0.999:
            for k, owner in enumerate(self._owners):
                if math.isfinite(self._upper[k]) and found.col_value[k + 1] > self._upper[k] * (1 - 1e-9):
                    parts[owner] = parts.get(owner, 0.0) + found.col_dual[k + 1] * self._upper[k]
            for k, (_, _, side, _, owner) in enumerate(self._limits):
                parts[owner] = parts.get(owner, 0.0) + found.row_dual[6 + k] * side
        whole = sum(abs(v) for v in parts.values()) or 1.0
        return Answer(most, {k: abs(v) / whole for k, v in sorted(parts.items(), key=lambda p: -abs(p[1])) if abs(v) > 1e-6 * whole})

    def _solve(self, load: np.ndarray) -> float:
        if not len(self._columns):
            return 0.0
        for k in range(6):
            if load[k] != self._set[k]:
                self._solver.changeCoeff(k, 0, float(load[k]))
        self._set = load
        self._solver.run()
        if self._solver.getModelStatus() != highspy.HighsModelStatus.kOptimal:
            self._solver = self._programme()  # from nothing, should the last answer have been a bad start
            for k in range(6):
                self._solver.changeCoeff(k, 0, float(load[k]))
            self._solver.run()
            if self._solver.getModelStatus() != highspy.HighsModelStatus.kOptimal:
                raise GeometryError("The load balance of a holding found no answer. Move a screw or clamp by a little.", where="holding")
        return float(self._solver.getInfo().objective_function_value)


def ask(balance: Balance, places: np.ndarray, lifts: float) -> tuple[tuple[float, ...], tuple[float, float, float], dict[str, float]]:
    """Return the largest force in ROUND directions at the place that is held least, that place, and what the least rests on."""
    ways = [(math.cos(2 * math.pi * k / ROUND), math.sin(2 * math.pi * k / ROUND), lifts) for k in range(ROUND)]
    coarse = np.array([[balance.most(ways[k], p) for k in range(0, ROUND, FIRST)] for p in places])
    worst = places[int(np.argmin(coarse.min(axis=1)))]
    out = np.array([balance.most(way, worst) for way in ways])
    way = ways[int(np.argmin(out))]
    answer: Answer = balance.answer(way, worst)
    return tuple(round(float(v), 2) for v in out), (float(worst[0]), float(worst[1]), float(worst[2])), {k: round(v, 4) for k, v in answer.parts.items()}
