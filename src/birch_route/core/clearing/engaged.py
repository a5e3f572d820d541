"""Clearing with a bounded engagement: the bit peels the wood from where it is already free, steered so that no more of its rim
than asked meets wood, in corners and narrow places too.

Method: cells of a thirtieth of the radius keep the free space; its rim off the wall is the frontier; a pass starts at the nearest
frontier, is steered step by step to the heading at which the rim meets the target, and ends in air; then the next. Spirals,
peeled corners and trochoids come out by themselves.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..plane.regions import buffer_round, polygons, rings
from . import kernels, ways
from .fields import Cells
from .leads import blended
from .plan import Leg, LegKind, Plan

CELLS_PER_RADIUS = 30
PACE_CELLS = 1.5
HELIX_PART = 0.6  # radius of the way in, of the bit's
LEAST_HELIX_PART = 0.12
SLOT_PART = 1.05  # of the diameter: narrower places are not entered
TIP_PART = 0.5  # of the radius: a corner this deep is no slot
SLOT_MEETS = 1.3  # of the target: a stretch along the wall that meets more, for longer than a corner, is a slot
LEAST_ARC_PART = 0.1  # of the radius: a shorter stretch of frontier is left to the pass along the wall
AIR_PART = 0.5  # of the radius: so much air ends a pass
TILE = 64
SIMPLIFY_MM = 0.004
MOST_PASSES = 20000

Watch = Callable[[float], None]


def enterable(room: shapely.Geometry, radius_mm: float) -> tuple[shapely.Geometry, list[tuple[float, float, float]]]:
    """Return where the centre may go without cutting a slot at full width, and the places left out.

    room: where the centre may be at all. A place left out: x, y of its middle and the width of the slot there, mm.
    """
    spare = (SLOT_PART - 1) * radius_mm
    open_room = buffer_round(buffer_round(room, -spare), spare).intersection(room)
    parts = [p for p in polygons(open_room) if shapely.maximum_inscribed_circle(p, tolerance=0.02).length >= LEAST_HELIX_PART * radius_mm]
    open_room = shapely.union_all(parts) if parts else Polygon()
    slots, tips = [], []
    for part in polygons(room.difference(open_room)):
        joints = polygons(buffer_round(part, 2e-3).intersection(open_room))
        if len(joints) == 1 and shapely.hausdorff_distance(part, joints[0]) < TIP_PART * radius_mm:
            tips.append(part)  # the end of a corner: both walls are met at once there, with little between them
        elif part.length > 0.1 * radius_mm:
            middle = part.representative_point()
            slots.append((middle.x, middle.y, 2 * radius_mm + 2 * shapely.maximum_inscribed_circle(part, tolerance=0.02).length))
    return (buffer_round(shapely.union_all([open_room, *tips]), 1e-3).intersection(room) if tips else open_room), slots


def clear_engaged(room: shapely.Geometry, radius_mm: float, engaged_deg: float, *, climb: bool = True, both_ways: bool = False,
                  contour: bool = True, watch: Watch | None = None) -> Plan:
    """Return how a region full of wood is cleared with no more than an arc of the rim in wood.

    Args:
        room: where the bit's centre may be: the region less the bit's radius and what stays on the walls.
        engaged_deg: most arc of the rim in wood, degrees (30 to 120).
        both_ways: passes may run against the direction asked for, which saves air.
        contour: end with a pass along the wall.
        watch: told the part of the wood gone so far, 0 to 1; may raise to stop.
    """
    open_room, slots = enterable(room, radius_mm)
    parts = polygons(open_room)
    whole = sum(p.area for p in parts) or 1.0
    legs: list[Leg] = []
    blocked: list[np.ndarray] = []
    before = 0.0
    for part in parts:
        told = None if watch is None else (lambda share, part=part, before=before: watch((before + share * part.area) / whole))
        clearing = _Clearing(part, radius_mm, engaged_deg, climb, both_ways, told)
        legs += clearing.run(contour)
        slots += clearing.slots
        blocked += clearing.blocked
        before += part.area
    return Plan(legs, slots, blocked)


class _Clearing:
    """One connected region of the centre being cleared."""

    def __init__(self, room: Polygon, radius_mm: float, engaged_deg: float, climb: bool, both_ways: bool, watch: Watch | None) -> None:
        self.room, self.radius_mm, self.both_ways, self.watch = room, radius_mm, both_ways, watch
        self.side = 1 if climb else -1
        cell = radius_mm / CELLS_PER_RADIUS
        self.cells = Cells.over(room, cell, 2 * radius_mm + 12 * cell)
        self.radius = float(CELLS_PER_RADIUS)
        self.wall = self.cells.signed(room)
        self.stock = self.cells.signed(buffer_round(room, radius_mm))
        self.past = np.full(self.wall.shape, 1e6, np.float32)
        self.free = np.minimum(self.wall, -1.0)
        self.dirty = np.zeros((-(-self.cells.rows // TILE), -(-self.cells.columns // TILE)), np.bool_)
        angles = np.arange(kernels.RIM) * 2 * math.pi / kernels.RIM
        self.cosines, self.sines = np.cos(angles), np.sin(angles)
        self.target = engaged_deg / 360.0 * kernels.RIM
        self.out = np.empty((400_000, 2))
        self.line_points, self.line_ends = np.empty((400_000, 2)), np.empty((20_000, 2), np.int64)
        self.dead: list[np.ndarray] = []
        self.legs: list[Leg] = []
        self.slots: list[tuple[float, float, float]] = []
        self.blocked: list[np.ndarray] = []
        self.here = np.zeros(2)
        self.leaves: tuple[np.ndarray, int] | None = None  # heading at the end of the last cut, and the side where space is free
        self.wood_cells, self.removed = int((self.stock > 0.5).sum()), 0

    def run(self, contour: bool) -> list[Leg]:
        if not self._enter():
            return []
        for _ in range(MOST_PASSES):
            if self.watch is not None:
                self.watch(min(1.0, self.removed / max(self.wood_cells, 1)))
            starts = self._starts()
            if not starts:
                if self._wood_left() and self._enter():
                    continue
                break
            self._pass(starts)
        self._along_wall(contour)
        return self.legs

    def _add(self, kind: LegKind, places: np.ndarray) -> None:
        """Add a leg from where the bit is through places in cells."""
        points = self.cells.xy(np.vstack([self.here[None], places]))
        if kind in (LegKind.CUT, LegKind.CONTOUR):
            points = np.asarray(LineString(points).simplify(SIMPLIFY_MM).coords)
        self.legs.append(Leg(kind, points))
        self.here = places[-1].copy()

    def _wood(self) -> np.ndarray:
        return (self.stock > 0.6) & (self.past > self.radius**2)

    def _wood_left(self) -> bool:
        return bool((self._wood() & (self.wall > 0.2 * self.radius)).any())

    def _enter(self) -> bool:
        """Go in by a helix at the widest place that is still wood."""
        wide = np.where(self._wood(), self.wall, -1.0)
        v, u = np.unravel_index(int(np.argmax(wide)), wide.shape)
        rho = min(HELIX_PART * self.radius, float(wide[v, u]) * 0.98)
        if rho < LEAST_HELIX_PART * self.radius:
            return False
        turn = np.linspace(0, 2 * math.pi, 73)[:, None]
        circle = np.array([u, v]) + rho * np.hstack([np.cos(turn), self.side * np.sin(turn)])
        if self.legs:
            self._add(LegKind.LIFT, circle[:1])
        self.here, self.leaves = circle[0].copy(), None
        self._add(LegKind.HELIX, circle[1:])
        kernels.cut_along(self.past, self.stock, self.radius, circle, PACE_CELLS)
        kernels.cut_disc(self.past, self.stock, self.radius, float(u), float(v), True)
        self._touched(circle)
        return True

    def _touched(self, places: np.ndarray) -> None:
        """Bring the free space up to date around places where the bit has been."""
        reach = 2 * self.radius + 10
        low = np.floor((places[:: max(1, min(8, len(places) // 4))] - reach) / TILE).astype(int)
        high = np.floor((places[:: max(1, min(8, len(places) // 4))] + reach) / TILE).astype(int)
        for (i0, j0), (i1, j1) in {(tuple(a), tuple(b)) for a, b in zip(low.tolist(), high.tolist(), strict=True)}:
            self.dirty[max(0, j0): max(0, j1 + 1), max(0, i0): max(0, i1 + 1)] = True
        kernels.freed(self.past, self.stock, self.wall, self.radius, TILE, self.dirty, 0.6, self.free)

    def _starts(self) -> list[tuple[np.ndarray, int, float]]:
        """Return where passes may begin: stretches of frontier [n, 2] in the way they would be cut, the side of the wood, and what beginning there costs besides, in cells."""
        count = ways.rims(self.free, self.line_points, self.line_ends, len(self.line_ends))
        out, begun = [], 0
        for end, closed in self.line_ends[:count].tolist():
            line, begun = self.line_points[begun:end], end
            off_wall = self.wall[np.rint(line[:, 1]).astype(int), np.rint(line[:, 0]).astype(int)] > 0.75
            if not off_wall.any():
                continue
            if off_wall.all() and closed:
                stretches = [np.roll(line, -int(np.argmin(((line - self.here) ** 2).sum(1))), axis=0)]
            else:
                first = int(np.argmin(off_wall))
                line, off_wall = np.roll(line, -first, axis=0), np.roll(off_wall, -first)
                marks = np.flatnonzero(np.diff(np.concatenate([[0], off_wall.astype(np.int8), [0]])))
                stretches = [line[a:b] for a, b in zip(marks[::2].tolist(), marks[1::2].tolist(), strict=True) if b - a >= 3]
            for stretch in stretches:
                length = float(np.hypot(*np.diff(stretch, axis=0).T).sum())
                if length < LEAST_ARC_PART * self.radius:
                    continue
                for way, side in ((stretch, 1), (stretch[::-1], -1)):  # free space lies left of the line: the wood right
                    if side != self.side and not (self.both_ways and length > 2 * self.radius):
                        continue
                    way = self._not_dead(way)
                    if way is not None:
                        out.append((way, side, 2 * max(0.0, self.radius - length)))
        return out

    def _not_dead(self, stretch: np.ndarray) -> np.ndarray | None:
        """Return the stretch from the first place where no pass has failed to start."""
        if not self.dead:
            return stretch
        dead = np.array(self.dead)
        for part in (0.0, 0.25, 0.5, 0.75):
            k = int(len(stretch) * part)
            if np.hypot(*(dead - stretch[k]).T).min() >= 0.15 * self.radius:
                return stretch[k:] if len(stretch) - k >= 3 else None
        return None

    def _pass(self, starts: list[tuple[np.ndarray, int, float]]) -> None:
        """Go to the cheapest start and cut from there."""
        way, chosen = self._link([s[0][0] for s in starts], [s[2] for s in starts])
        if way is None:
            chosen = int(np.argmin([np.hypot(*(s[0][0] - self.here)) for s in starts]))
        stretch, side, _ = starts[chosen]
        ahead = stretch[min(len(stretch) - 1, 4)] - stretch[0]
        self._go(way, stretch[0], (ahead / np.hypot(*ahead), side))
        count, last, _, removed = kernels.march(
            self.past, self.stock, self.wall, self.radius, self.target, PACE_CELLS, 1 / (LEAST_HELIX_PART * self.radius), AIR_PART * self.radius,
            float(stretch[0, 0]), float(stretch[0, 1]), math.atan2(ahead[1], ahead[0]), side, self.cosines, self.sines, self.out)
        self.removed += removed
        if last < 4:
            self.dead.append(stretch[0].copy())
        if last > 1:
            self._add(LegKind.CUT, self.out[1:last])
            self._leaving(self.out[:last], side)
        self._touched(self.out[:count])

    def _leaving(self, places: np.ndarray, side: int) -> None:
        """Remember how the bit leaves what it has just cut."""
        back = places[-1] - places[max(0, len(places) - 3)]
        far = float(np.hypot(*back))
        self.leaves = (back / far, side) if far > 1e-9 else None

    def _go(self, way: np.ndarray | None, target: np.ndarray, arrives: tuple[np.ndarray, int] | None) -> None:
        """Go to a target by a way through free space, with arcs where they are clear; lifted where there is none."""
        if way is None:
            self._add(LegKind.LIFT, target[None])
        elif float(np.hypot(*(target - self.here))) > 1e-6:
            self._add(LegKind.LINK, blended(way, self.leaves, arrives, self.radius, self._clear)[1:])
        self.leaves = None

    def _clear(self, line: np.ndarray) -> bool:
        return all(ways.sees(self.free, self.wall, *a, *b, -0.3) for a, b in zip(line[:-1], line[1:], strict=True))

    def _link(self, targets: list[np.ndarray], extra: list[float]) -> tuple[np.ndarray | None, int]:
        """Return the shortest way [n, 2] through free space to one of the targets, pulled taut, and which target."""
        away = [float(np.hypot(*(t - self.here))) + e for t, e in zip(targets, extra, strict=True)]
        near = int(np.argmin(away))
        if ways.sees(self.free, self.wall, *self.here, *targets[near], -0.15):
            return np.array([self.here, targets[near]]), near
        for coarse, least in ((3, -0.2), (1, -0.3)):
            offset = coarse // 2
            field_ = self.free[offset::coarse, offset::coarse]
            passable = field_ > least

            def cell(p: np.ndarray, coarse=coarse, offset=offset, shape=field_.shape) -> tuple[int, int]:
                i, j = np.rint((p - offset) / coarse).astype(int)
                return min(max(j, 0), shape[0] - 1), min(max(i, 0), shape[1] - 1)

            goals, costs = np.zeros(passable.shape, np.int32), np.zeros(len(targets) + 1)
            for k, target in enumerate(targets):
                goals[cell(target)] = k + 1
                passable[cell(target)] = True
                costs[k + 1] = extra[k] / coarse
            start = cell(self.here)
            passable[start] = True
            path, goal = ways.shortest(passable, *start, goals, costs)
            if goal:
                inner = path[1:-1, ::-1] * coarse + float(offset)
                return self._taut(np.vstack([self.here[None], inner, targets[goal - 1][None]])), goal - 1
        return None, -1

    def _taut(self, way: np.ndarray) -> np.ndarray:
        """Return a way without the corners that free space does not ask for."""
        for k in range(1, len(way) - 1):
            u, v, _ = kernels.onto_room(self.wall, *way[k])
            way[k] = u, v
        out, k = [way[0]], 0
        while k < len(way) - 1:
            reach, step = k + 1, 1
            while step:
                if reach + step < len(way) and ways.sees(self.free, self.wall, *way[k], *way[reach + step], -0.3):
                    reach += step
                    step *= 2
                else:
                    step //= 2
            out.append(way[reach])
            k = reach
        return np.array(out)

    def _along_wall(self, cut: bool) -> None:
        """Look along every wall, the nearest next, for stretches where a pass would be a slot; cut the others if asked."""
        left = [self.cells.uv(ring if self.side > 0 else ring[::-1]) for ring in rings(self.room)]
        while left:
            near = min(range(len(left)), key=lambda k: float(np.hypot(*(left[k] - self.here).T).min()))
            ring = _evenly(left.pop(near), PACE_CELLS)
            ring = np.roll(ring, -int(np.argmin(np.hypot(*(ring - self.here).T))), axis=0)
            slot = self._slots_along(ring)
            if slot.all():
                continue
            if slot.any():
                first = int(np.flatnonzero(~slot & np.roll(slot, 1))[0])
                ring, slot = np.roll(ring, -first, axis=0), np.roll(slot, -first)
            ring, slot = np.vstack([ring, ring[:1]]), np.append(slot, slot[0])
            marks = np.flatnonzero(np.diff(np.concatenate([[1], slot.astype(np.int8), [1]])))
            for a, b in zip(marks[::2].tolist(), marks[1::2].tolist(), strict=True):
                if b - a > 2 and cut:
                    self._contour(ring[a:b])

    def _contour(self, line: np.ndarray) -> None:
        way, at = self._link([line[0]], [0.0])
        if way is None and np.allclose(line[0], line[-1]):  # begin elsewhere on the ring
            choices = list(range(0, len(line) - 1, max(1, len(line) // 40)))
            way, at = self._link([line[k] for k in choices], [0.0] * len(choices))
            if way is not None:
                line = np.vstack([line[choices[at]:], line[1: choices[at] + 1]])
        ahead = line[1] - line[0]
        self._go(way, line[0], (ahead / max(float(np.hypot(*ahead)), 1e-9), self.side))
        self._add(LegKind.CONTOUR, line[1:])
        self._leaving(line, self.side)
        kernels.cut_along(self.past, self.stock, self.radius, line, PACE_CELLS)
        self._touched(line)

    def _slots_along(self, ring: np.ndarray) -> np.ndarray:
        """Return which places of a ring along the wall would be a slot, and note where they are."""
        slot = np.zeros(len(ring), np.bool_)
        for _ in range(8):
            met = kernels.walk(self.past.copy(), self.stock, self.radius, ring, slot, self.cosines, self.sines)
            new = _long_runs((met > SLOT_MEETS * self.target) & ~slot, TIP_PART * self.radius / PACE_CELLS)
            if not new.any():
                break
            slot |= new
        for run in np.split(np.flatnonzero(slot), np.flatnonzero(np.diff(np.flatnonzero(slot)) > 1) + 1):
            if len(run):
                self.blocked.append(self.cells.xy(ring[run]))
                x, y = self.blocked[-1][len(run) // 2]
                if all(math.hypot(x - a, y - b) > 2 * self.radius_mm for a, b, _ in self.slots):
                    self.slots.append((float(x), float(y), 2 * self.radius_mm + 2 * self._half_width(ring[run[len(run) // 2]])))
        return slot


    def _half_width(self, place: np.ndarray) -> float:
        """Return how far the centre may be from a wall near a place on it, mm."""
        i, j = np.rint(place).astype(int)
        reach = int(0.5 * self.radius)
        return max(0.0, float(self.wall[max(0, j - reach): j + reach, max(0, i - reach): i + reach].max(initial=0.0))) * self.cells.cell_mm


def _evenly(ring: np.ndarray, pace: float) -> np.ndarray:
    """Return a closed ring with points between its corners no further apart than pace."""
    out = []
    for a, b in zip(ring, np.roll(ring, -1, axis=0), strict=True):
        parts = max(1, math.ceil(float(np.hypot(*(b - a))) / pace))
        out.append(a + np.arange(parts)[:, None] / parts * (b - a))
    return np.vstack(out)


def _long_runs(marked: np.ndarray, least: float) -> np.ndarray:
    """Return the marks that stand in runs of more than `least`."""
    out = np.zeros(len(marked), np.bool_)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], marked.astype(np.int8), [0]])))
    for a, b in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if b - a > least:
            out[a:b] = True
    return out
