"""The face of a board and the floors of its slots as surfaces: depths below the crown at any place of the plan."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numba as nb
import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..instrument.floors import cells_of
from .face import LAST_PART
from .lines import FretLine, Plan, plan_of
from .numbers import Board

OVER_MM = 20.0  # beside a board its face goes on so far, for bits that hang over


def outline_points(board: Board, plan: Plan) -> list[tuple[float, float]]:
    """Return the corners of a board's wood in plan, counter-clockwise: straight edges, less what binding on the whole
    edge takes; ends square, or along the nut and the last fret. A left-handed one begins where its mirror does, so
    that places along it stay what they are."""
    zero, last = plan.lines[0], plan.lines[-1]
    off = board.off_edge_mm
    if board.ends == "slanted":
        begins = [p[0] - board.before_nut_mm for p in _low_high(zero)]
        ends = [p[0] + board.past_last_fret_mm for p in _low_high(last)]
    else:
        begins = [min(0.0, zero.bass[0], zero.treble[0]) - board.before_nut_mm] * 2
        ends = [plan.end_mm] * 2
    low = [(begins[0], off - plan.half_mm(begins[0])), (ends[0], off - plan.half_mm(ends[0]))]
    high = [(ends[1], plan.half_mm(ends[1]) - off), (begins[1], plan.half_mm(begins[1]) - off)]
    round_it = [*low, *high]
    return round_it[3:] + round_it[:3] if board.left_handed else round_it


def _low_high(line: FretLine) -> list[tuple[float, float]]:
    """Return the ends of a fret, that to -y first."""
    return sorted((line.bass, line.treble), key=lambda p: p[1])


@dataclass(frozen=True)
class BoardFace:
    """The finished face of a board in a frame where its crown lies at z = 0. signs: of x and y, after a turn."""

    board: Board
    signs: tuple[float, float] = (1.0, 1.0)

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        b = self.board
        curve = (b.radius_nut_mm, b.radius_end_mm, b.fall_away_mm, self.plan.lines[-1].centre_mm, self.plan.end_mm)
        return f"board {self.outline.wkb_hex} {curve} {self.signs}"

    @cached_property
    def plan(self) -> Plan:
        return plan_of(self.board)

    @cached_property
    def outline(self) -> Polygon:
        whole = shapely.affinity.scale(Polygon(outline_points(self.board, self.plan)), *self.signs, origin=(0.0, 0.0))
        return shapely.geometry.polygon.orient(whole)

    @property
    def deepest_mm(self) -> float:
        """Greatest depth over the board."""
        corners = np.asarray(self.outline.exterior.coords)
        return float(self.depth(corners[:, 0], corners[:, 1]).max())

    @property
    def steepest(self) -> float:
        """Drop over run at its steepest, across it at an edge."""
        b, plan = self.board, self.plan
        return max(
            half / math.sqrt(r * r - half * half)
            for r, half in ((b.radius_nut_mm, b.width_nut_mm / 2), (b.radius_end_mm, plan.half_mm(plan.end_mm)))
        )

    @property
    def along_deg(self) -> float:
        """Direction its slope runs along, degrees: across the board, so that passes go along the strings."""
        return 90.0

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the crown, mm; far beside the board 0.

        Source: R - sqrt(R^2 - y^2), R straight from nut to end, and what the last frets fall away.
        """
        b, plan = self.board, self.plan
        u, v = np.asarray(x, float) * self.signs[0], np.asarray(y, float) * self.signs[1]
        radius = b.radius_nut_mm + (b.radius_end_mm - b.radius_nut_mm) * np.clip(u / plan.end_mm, 0.0, 1.0)
        out = radius - np.sqrt(np.maximum(radius * radius - v * v, 0.0))
        if b.fall_away_mm:
            begins = plan.lines[-1].centre_mm * (1 - LAST_PART)
            out = out + b.fall_away_mm * (np.maximum(u - begins, 0.0) / (plan.end_mm - begins)) ** 2
        low, high = sorted(self.outline.bounds[::2])
        near = (np.asarray(x) > low - OVER_MM) & (np.asarray(x) < high + OVER_MM)
        return np.where(near & (np.abs(v) < self.outline.bounds[3] + OVER_MM), out, 0.0)

    def region(self) -> Polygon:
        """Return the area of the board."""
        return self.outline

    def turned(self, signs: tuple[float, float]) -> BoardFace:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return replace(self, signs=(self.signs[0] * signs[0], self.signs[1] * signs[1]))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


@nb.njit(cache=True, nogil=True)
def _nearest(x, y, ax, ay, ux, uy, long, half):  # type: ignore[no-untyped-def]
    """Return which slot each place lies in, -1 for none. Slots begin at a, run along u for `long`, `half` to a side."""
    out = np.full(len(x), -1, np.int32)
    for k in range(len(x)):
        for n in range(len(ax)):
            dx, dy = x[k] - ax[n], y[k] - ay[n]
            if abs(dx * uy[n] - dy * ux[n]) <= half and -half <= dx * ux[n] + dy * uy[n] <= long[n] + half:
                out[k] = n
                break
    return out


@dataclass(frozen=True)
class SlotFloors:
    """The floors of a board's slots in a frame where its crown lies at z = 0.

    ways: from one end of each slot to the other, in the order they are cut. flat: depth of each where its floor is
    level; empty where they follow the face, `under` below it.
    """

    ways: tuple[tuple[tuple[float, float], tuple[float, float]], ...]
    width_mm: float
    flat: tuple[float, ...]
    under_mm: float
    face: BoardFace
    blind: bool = False

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"slots {self.ways} {self.width_mm} {self.flat} {self.under_mm} {self.face.key} {self.blind}"

    @property
    def deepest_mm(self) -> float:
        """Greatest depth below the crown."""
        if self.flat:
            return max(self.flat)
        ends = np.array([p for way in self.ways for p in way])
        return float(self.face.depth(ends[:, 0], ends[:, 1]).max()) + self.under_mm

    @property
    def steepest(self) -> float:
        """Drop over run."""
        return 0.0 if self.flat else self.face.steepest

    def floor(self, slot: int, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how deep one slot is below the crown at places along it, mm."""
        if self.flat:
            return np.full(np.shape(x), self.flat[slot])
        return self.face.depth(x, y) + self.under_mm

    @cached_property
    def _lines(self) -> tuple[np.ndarray, ...]:
        a, b = (np.array([way[k] for way in self.ways], float) for k in (0, 1))
        long = np.hypot(*(b - a).T)
        u = (b - a) / long[:, None]
        return a[:, 0].copy(), a[:, 1].copy(), u[:, 0].copy(), u[:, 1].copy(), long

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far the floors lie below the crown, mm, 0 outside the slots."""
        px, py = np.ravel(np.asarray(x, float)), np.ravel(np.asarray(y, float))
        which = _nearest(px, py, *self._lines, self.width_mm / 2)
        out, inside = np.zeros(len(px)), which >= 0
        if self.flat:
            out[inside] = np.asarray(self.flat)[which[inside]]
        else:
            out[inside] = self.face.depth(px[inside], py[inside]) + self.under_mm
        return out.reshape(np.shape(x))

    def region(self) -> shapely.Geometry:
        """Return the area of the slots."""
        cap = "round" if self.blind else "flat"
        slots = [LineString(way).buffer(self.width_mm / 2, cap_style=cap) for way in self.ways]
        return shapely.union_all(slots).intersection(self.face.outline)

    def turned(self, signs: tuple[float, float]) -> SlotFloors:
        """Return them as they lie after a turn that changes the signs of x and y."""
        if signs == (1.0, 1.0):
            return self
        ways = tuple(tuple((x * signs[0], y * signs[1]) for x, y in way) for way in self.ways)
        return replace(self, ways=ways, face=self.face.turned(signs))  # type: ignore[arg-type]

    def samples(self, region: shapely.Geometry, step_mm: float = 0.1) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, min(step_mm, self.width_mm / 4), self.depth)


def way_of(line: FretLine, shorter_mm: float) -> tuple[tuple[float, float], tuple[float, float]]:
    """Return a slot from one edge to the other, shorter by so much at both ends."""
    (ax, ay), (bx, by) = line.bass, line.treble
    part = shorter_mm / line.wide_mm
    return (ax + (bx - ax) * part, ay + (by - ay) * part), (bx + (ax - bx) * part, by + (ay - by) * part)
