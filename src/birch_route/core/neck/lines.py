"""A neck in plan: where its heel ends, how wide each side is, its outline, where posts stand.

The headstock's two sides are half widths over how far behind scale zero they lie, set at a few stations by monotone
cubics, which neither overshoot nor ripple (Fritsch and Carlson).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.interpolate import PchipInterpolator

from ..fretboard.lines import Plan, plan_of
from .numbers import Neck

Point = tuple[float, float]
STEP_MM = 2.0  # between points of a headstock's sides
TIP_MM = 14.0  # rounded end of a headstock

# half widths as parts of half the width, at parts of the length behind the shelf: bass side, treble side
FORMS = {
    "leaf": ([0.0, 0.42, 0.66, 0.86, 1.0], [0.98, 1.0, 0.84, 0.62, 0.40], [0.98, 1.0, 0.84, 0.62, 0.40]),
    "blunt": ([0.0, 0.34, 0.60, 0.85, 1.0], [1.0, 1.0, 0.95, 0.88, 0.82], [1.0, 1.0, 0.95, 0.88, 0.82]),
}
USUAL_PITCH_MM, USUAL_POST_MM = 26.0, 8.0  # a row is drawn by these until its tuners are known
ROUND_POST = 0.7  # of a post's radius: a string meets it so far beside its middle
FLARE_PART = 0.32  # of the length behind the shelf, over which the sides run from the shaft's to the headstock's


def neck_plan(neck: Neck) -> Plan:
    """Return where the frets of its board lie."""
    return plan_of(neck.board)


def heel_end_mm(neck: Neck) -> float:
    """Return where the neck's wood ends towards the tail."""
    return neck_plan(neck).end_mm - neck.overhang_mm


def smooth_step(u: np.ndarray) -> np.ndarray:
    """Return 0 below 0, 1 above 1, and between them a step that is level in slope and curvature at both ends."""
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u * u * u * (10 + u * (-15 + 6 * u)))


@dataclass(frozen=True)
class Sides:
    """Half widths of a neck to -y and +y over x, mm."""

    plan: Plan
    head: str
    begins_mm: float  # x of the headstock's tip
    shelf_mm: float
    at: np.ndarray  # along -x, rising
    low: np.ndarray
    high: np.ndarray
    flare_mm: float = 1.0

    def half(self, x: np.ndarray, side: float) -> np.ndarray:
        """Return how far the edge to one side (-1 or 1) lies from the centre line at places along the neck."""
        x = np.asarray(x, float)
        p = self.plan
        straight = (p.width_nut_mm + (p.width_end_mm - p.width_nut_mm) * x / p.end_mm) / 2
        if self.head == "none":
            return np.asarray(straight)
        last = self.at[-1] - TIP_MM  # within the rounded tip they run on level
        found = self._interpolator(side)(np.clip(-x, self.at[0], last))
        part = smooth_step((-x - self.shelf_mm) / self.flare_mm)
        return np.asarray(straight * (1 - part) + found * part)

    def _interpolator(self, side: float) -> PchipInterpolator:
        return _pchip(tuple(self.at), tuple(self.low if side < 0 else self.high))


@lru_cache(maxsize=64)
def _pchip(x: tuple[float, ...], y: tuple[float, ...]) -> PchipInterpolator:
    return PchipInterpolator(x, y)


def sides_of(neck: Neck) -> Sides:
    """Return the half widths of a neck; a left-handed one has its bass side to +y."""
    plan, head = neck_plan(neck), neck.head
    if head.kind == "none":
        return Sides(plan, "none", -neck.head.shelf_mm, head.shelf_mm, np.zeros(0), np.zeros(0), np.zeros(0))
    start = head.shelf_mm
    parts, bass, treble = FORMS["leaf" if head.form == "row" else head.form]
    at = start + np.array(parts) * (head.long_mm - start)
    low, high = (np.array([v * head.wide_mm / 2 for v in row]) for row in (bass, treble))
    flare = FLARE_PART * (head.long_mm - start)
    if head.form == "row":
        first = min(neck.tuners.first_mm, head.long_mm - 20.0)
        at = np.array([start, *np.linspace(max(first, start + 1.0), head.long_mm, 5)])
        low, high = _row(neck, plan, at)
        flare = max(18.0, min(flare, neck.tuners.first_mm - start))
    if neck.board.left_handed:
        low, high = high, low
    return Sides(plan, head.kind, -float(at[-1]), start, at, low, high, flare)


def _row(neck: Neck, plan: Plan, at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return half widths of a headstock with all posts on the bass side: that edge leans so that every string runs
    straight on to its post, the other keeps clear of the treble string."""
    tuners, board = neck.tuners, neck.board
    outer = plan.half_mm(0.0) - board.edge_land_mm
    pitch = tuners.pitch_mm or USUAL_PITCH_MM
    falls = 2 * outer / (board.strings - 1) / pitch  # how far strings stand apart for each mm along the row
    beside = tuners.in_mm + ROUND_POST * (tuners.post_mm or USUAL_POST_MM) / 2
    low = outer + beside - (at - tuners.first_mm) * falls
    return np.minimum(low, outer + beside), np.full(len(at), max(outer + tuners.in_mm, neck.head.wide_mm * 0.36))


def outline_points(neck: Neck) -> list[Point]:
    """Return the corners of a neck's outline, counter-clockwise: shaft straight, headstock in short steps, its tip
    rounded."""
    sides, end = sides_of(neck), heel_end_mm(neck)
    if neck.head.kind == "none":
        begin = -neck.head.shelf_mm
        xs = np.array([begin, end])
        lower = [(float(x), -float(sides.half(np.array([x]), -1.0)[0])) for x in xs]
        return [*lower, *[(x, -y) for x, y in reversed(lower)]]
    tip = sides.begins_mm
    count = max(12, math.ceil((-tip - neck.head.shelf_mm) / STEP_MM))
    xs = np.linspace(tip + TIP_MM, -neck.head.shelf_mm, count)
    low, high = sides.half(xs, -1.0), sides.half(xs, 1.0)
    middle, radius = float(high[0] - low[0]) / 2, float(high[0] + low[0]) / 2
    turn = np.radians(np.linspace(90, 270, 25))[1:-1]
    cap = [(tip + TIP_MM + TIP_MM * math.cos(a), middle + radius * math.sin(a)) for a in turn]
    bass = [(float(x), -float(y)) for x, y in zip(xs, low, strict=True)]
    treble = [(float(x), float(y)) for x, y in zip(xs, high, strict=True)]
    heel = [(end, -float(sides.plan.half_mm(end))), (end, float(sides.plan.half_mm(end)))]
    return [*bass, *heel, *treble[::-1], *cap]


@dataclass(frozen=True)
class Post:
    """Where one tuner's post stands. string: 1 is the bass one."""

    string: int
    x_mm: float
    y_mm: float


def posts_of(neck: Neck) -> list[Post]:
    """Return where posts stand, the bass string's first; none without a headstock or while their pitch is unknown.

    Two rows: the outer strings go to the posts nearest to the nut, so that no string crosses another. One row: the
    bass string to the first post.
    """
    tuners, count = neck.tuners, neck.board.strings
    if neck.head.kind == "none" or tuners.pitch_mm is None:
        return []
    sides = sides_of(neck)
    bass_y = 1.0 if neck.board.left_handed else -1.0
    out: list[Post] = []
    bass_count = count if neck.head.form == "row" else math.ceil(count / 2)
    for k in range(count):
        on_bass = k < bass_count
        place = k if on_bass else count - 1 - k
        side = bass_y if on_bass else -bass_y
        x = -(tuners.first_mm + place * tuners.pitch_mm)
        y = side * float(sides.half(np.array([x]), side)[0] - tuners.in_mm)
        out.append(Post(k + 1, x, y))
    return out
