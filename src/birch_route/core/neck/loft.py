"""The back of a neck: sections lofted from the headstock to the heel.

Section at x: half widths a to each side, depth d below the glue plane, |(y - s q) / a|^n + q = 1 with q = (z / d)^m, a
superellipse whose apex is moved by s to one side. d runs straight between 1st and 12th fret unless a station is set on
purpose; between stations monotone cubics. To headstock and heel the section is blended with a plane by a smooth step
(6 u^5 - 15 u^4 + 10 u^3), level in slope and curvature at both ends.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.interpolate import PchipInterpolator

from ..fretboard.face import radius_mm
from .lines import Sides, heel_end_mm, neck_plan, sides_of, smooth_step
from .numbers import SHAPES, Neck

LEAST_LEVEL_MM = 0.3  # a level face is cut no shallower than this
BESIDE_MM = 0.3
ROUNDS = 48  # halvings that find q: 2^-48 of it


@dataclass(frozen=True)
class Loft:
    """The back of a neck as numbers along x."""

    neck: Neck

    @cached_property
    def sides(self) -> Sides:
        return sides_of(self.neck)

    @cached_property
    def frets(self) -> tuple[float, float]:
        """x of the 1st and the 12th fret (of the last, where a board has fewer)."""
        lines = neck_plan(self.neck).lines
        return lines[1].centre_mm, lines[min(12, len(lines) - 1)].centre_mm

    @cached_property
    def ends(self) -> tuple[float, float]:
        """x between which the shaft alone is met: after the headstock's transition, before the heel's."""
        head, neck = self.neck.head, self.neck
        begin = -head.shelf_mm if head.kind == "none" else 0.0
        return begin, neck.heel_from_mm - neck.heel_ramp_mm

    @cached_property
    def head_end_mm(self) -> float:
        """x at which a level headstock's own back begins, seen from the shaft; the tip of one that leans, for it is cut
        with the shaft."""
        head = self.neck.head
        if head.kind == "angled":
            return self.sides.begins_mm
        return -head.shelf_mm if head.kind == "none" else -head.transition_mm

    def thick(self, x: np.ndarray) -> np.ndarray:
        """Return the thickness with the board at places along the shaft, as 1st, 12th and set stations ask for."""
        x = np.asarray(x, float)
        first, twelfth = self.frets
        n = self.neck
        straight = n.thick_1st_mm + (n.thick_12th_mm - n.thick_1st_mm) * (x - first) / (twelfth - first)
        told = [(s.at_mm, s.thick_mm) for s in n.stations if s.thick_mm is not None]
        slope = (n.thick_12th_mm - n.thick_1st_mm) / (twelfth - first)
        more = self._set(x, told, lambda v: n.thick_1st_mm + slope * (v - first)) if told else 0.0
        return np.asarray(straight + more)

    def _set(self, x: np.ndarray, told: list[tuple[float, float]], usual: Callable[[float], float]) -> np.ndarray:
        """Return what set stations add to what is usual: nothing at the shaft's ends and at 1st and 12th."""
        places = {v: 0.0 for v in (*self.ends, *self.frets)}
        for at, value in told:
            places = {p: v for p, v in places.items() if abs(p - at) > 1.0}
            places[at] = value - usual(at)
        xs = sorted(places)
        return np.asarray(PchipInterpolator(xs, [places[v] for v in xs])(np.clip(x, xs[0], xs[-1])))

    def depth(self, x: np.ndarray) -> np.ndarray:
        """Return how deep the shaft's apex lies below the glue plane."""
        return self.thick(x) - self.neck.board.thickness_mm

    def exponents(self, x: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return n at the rim and m at the apex."""
        rim, apex = SHAPES[self.neck.shape]
        x = np.asarray(x, float)
        out = []
        for usual, name in ((rim, "rim"), (apex, "apex")):
            told = [(s.at_mm, getattr(s, name)) for s in self.neck.stations if getattr(s, name) is not None]
            out.append(usual + (self._set(x, [(v, w - usual) for v, w in told], _nothing) if told
                                else np.zeros(np.shape(x))))
        return out[0], out[1]

    def shift(self, x: np.ndarray) -> np.ndarray:
        """Return how far the apex lies to the treble side; of a left-handed neck that is -y."""
        x = np.asarray(x, float)
        told = [(s.at_mm, s.shift_mm) for s in self.neck.stations if s.shift_mm is not None]
        more = self._set(x, told, lambda _v: self.neck.shift_mm) if told else np.zeros(np.shape(x))
        out = self.neck.shift_mm + more
        return -out if self.neck.board.left_handed else out

    def blend(self, x: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return how much of the section is the plane of headstock or heel, how deep that plane lies below the glue
        plane, and what a volute adds."""
        x, neck, head = np.asarray(x, float), self.neck, self.neck.head
        heel = smooth_step((x - (neck.heel_from_mm - neck.heel_ramp_mm)) / neck.heel_ramp_mm)
        plane = np.full(np.shape(x), neck.heel_mm)
        share, crest = heel, np.zeros(np.shape(x))
        if head.kind != "none":
            u = -x / head.transition_mm
            front = smooth_step(u)
            share = np.where(x < 0, front, heel)
            plane = np.where(x < 0, self.head_back(x), plane)
            if head.volute_mm:
                inside = np.clip(u, 0.0, 1.0)
                crest = head.volute_mm * 64 * (inside * (1 - inside)) ** 3
        return share, plane, crest

    def head_back(self, x: np.ndarray) -> np.ndarray:
        """Return how deep the headstock's back lies below the glue plane at places behind the nut."""
        head = self.neck.head
        if head.kind == "angled":
            lean = math.radians(head.angle_deg)
            return np.maximum(-x - head.shelf_mm, 0.0) * math.tan(lean) + head.thick_mm / math.cos(lean)
        return np.full(np.shape(x), head.step_mm + head.thick_mm)

    def below(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far the back lies below the glue plane at places of the plan, mm; 0 beside the neck's edges but
        for what headstock and heel have there."""
        x, y = np.broadcast_arrays(np.asarray(x, float), np.asarray(y, float))
        d, (n, m), s = self.depth(x), self.exponents(x), self.shift(x)
        share, plane, crest = self.blend(x)
        a = np.where(y < 0, self.sides.half(x, -1.0), self.sides.half(x, 1.0))
        q = _share_of_depth(y, a, n, s)
        shaft = np.where(q > 0, d * np.maximum(q, 0.0) ** (1 / m), 0.0)
        inside = np.where(np.abs(y) <= a + BESIDE_MM, 1.0, 0.0)  # an outline of chords lies a little outside
        return np.asarray(((1 - share) * shaft + share * plane + crest * q) * inside)

    def point(self, x: np.ndarray, t: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return y and depth below the glue plane of the back at places x and turns t, radians: 0 at the rim to +y,
        pi / 2 at the apex, pi at the rim to -y."""
        x, t = np.broadcast_arrays(np.asarray(x, float), np.asarray(t, float))
        d, (n, m), s = self.depth(x), self.exponents(x), self.shift(x)
        share, plane, crest = self.blend(x)
        c, q = np.cos(t), np.sin(t) ** 2  # q = sin^2, |(y - s q) / a|^n = cos^2
        a = np.where(c < 0, self.sides.half(x, -1.0), self.sides.half(x, 1.0))
        y = np.sign(c) * a * np.abs(c) ** (2 / n) + s * q
        shaft = d * np.maximum(q, 0.0) ** (1 / m)
        return y, (1 - share) * shaft + share * plane + crest * q

    def girth_mm(self, x: float) -> float:
        """Return the way round neck and board at a place: the back, both edges of the board, its face."""
        board, plan = self.neck.board, neck_plan(self.neck)
        t = np.linspace(0, math.pi, 721)
        y, z = self.point(np.full(721, x), t)
        half, radius = plan.half_mm(x), radius_mm(board, plan, x)
        edge = board.thickness_mm - (radius - math.sqrt(radius**2 - half**2))
        return float(np.hypot(np.diff(y), np.diff(z)).sum()) + 2 * edge + 2 * radius * math.asin(half / radius)

    def least_hollow_mm(self, step_mm: float = 1.0) -> tuple[float, float]:
        """Return the least radius along the neck where its back is hollow, over lines of equal turn, and its place."""
        x = np.arange(self.head_end_mm, self.neck.heel_from_mm + step_mm, step_mm)
        worst, place = math.inf, 0.0
        for t in np.radians([5, 15, 30, 60, 90, 120, 150, 165, 175]):  # tightest near the rim
            _, z = self.point(x, np.full(len(x), t))
            one, two = np.gradient(z, step_mm), np.gradient(np.gradient(z, step_mm), step_mm)
            bend = two / (1 + one**2) ** 1.5
            inner = bend[3:-3]
            k = int(np.argmax(inner)) + 3
            if bend[k] > 1e-6 and 1 / bend[k] < worst:
                worst, place = 1 / float(bend[k]), float(x[k])
        return worst, place

    @cached_property
    def blank_mm(self) -> float:
        """What its blank has to be below the glue plane at least: the neck at its thickest, and so much over a level
        back of headstock or heel that lies only a hair lower that a bit can still cut it."""
        begin, end = self.sides.begins_mm, heel_end_mm(self.neck)
        x = np.linspace(begin, end, 800)
        _, z = self.point(x, np.full(len(x), math.pi / 2))
        deepest = float(z.max())
        if self.neck.head.kind == "angled":
            deepest = max(deepest, float(self.head_back(np.array([begin]))[0]))
        levels = [self.neck.heel_mm]
        if self.neck.head.kind == "stepped":
            levels.append(self.neck.head.step_mm + self.neck.head.thick_mm)
        for level in sorted(levels):
            if 1e-6 < deepest - level < LEAST_LEVEL_MM:
                deepest = level + LEAST_LEVEL_MM
        return round(deepest, 3)

    def floor_over_channel(self, x: np.ndarray, half_mm: float) -> np.ndarray:
        """Return how deep the back lies at the thinner side of a channel so wide to each side of the middle."""
        one, other = (self.below(x, np.full(np.shape(x), v)) for v in (-half_mm, half_mm))
        return np.asarray(np.minimum(one, other))


def _nothing(_place: float) -> float:
    return 0.0


def _share_of_depth(y: np.ndarray, a: np.ndarray, n: np.ndarray, s: np.ndarray) -> np.ndarray:
    """Return q with |(y - s q) / a|^n + q = 1, 0 outside the edges.

    Without a shift in closed form; with one by halving, for what is left falls from 1 to 0 as q rises.
    """
    if not np.any(s):
        return np.asarray(np.maximum(1 - np.minimum(np.abs(y) / np.maximum(a, 1e-9), 1.0) ** n, 0.0))
    low, high = np.zeros(np.shape(y)), np.ones(np.shape(y))
    inside = np.abs(y) < a
    for _ in range(ROUNDS):
        q = (low + high) / 2
        over = np.abs((y - s * q) / a) ** n + q - 1 > 0
        high = np.where(over, q, high)
        low = np.where(over, low, q)
    return np.where(inside, (low + high) / 2, 0.0)
