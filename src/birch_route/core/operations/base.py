"""What every operation needs to know to make its toolpath, and what it can say when it cannot."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..bits.model import Bit
from ..data import figures
from ..fretboard.features import FACE, SLOTS
from ..instrument.floors import FollowingFloor, TiltedFloor
from ..instrument.resolve import Resolved, Solid, cut_region
from ..instrument.rims import Rim
from ..motion.toolpath import Toolpath
from ..route import Operation, Route, Setup
from ..vocabulary import BitForm, Direction, OperationKind

SIMPLIFY_MM = 0.002
LIFT_MM = 0.5  # entries begin this far above the wood they meet


@dataclass(frozen=True)
class Problem:
    """Something that kept an operation from doing all its work; becomes a finding."""

    code: str
    feature: str
    x_mm: float
    y_mm: float
    facts: dict[str, float]


@dataclass(frozen=True)
class Made:
    """A toolpath and what could not be done."""

    path: Toolpath
    problems: list[Problem] = field(default_factory=list)


@dataclass(frozen=True)
class Work:
    """One operation with everything its toolpath depends on, already resolved. Heights are z in the piece's frame."""

    operation: Operation
    bit: Bit
    solids: list[Solid]
    outline: Polygon
    start_mm: float  # the wood's surface where it begins
    bottom_mm: float  # underside of the blank
    under_mm: float  # underside of the piece itself, where that face was skimmed before: tabs and skin are measured from it
    clear_mm: float  # rapid moves are safe at this height
    rim: Rim | None = None  # of an edge operation
    reached: dict[str, shapely.Geometry] = field(default_factory=dict)  # of a rest operation: what earlier ones cleared, by feature
    wider: Bit | None = None  # of pencil passes: the bit of the finish before them
    rounded: bool = False  # of fret slots: whether the board's face was cut before them
    runs_out_mm: float = 0.0  # of fret slots: how much wider than the bit this machine cuts them
    mouth_mm: float = 0.0  # radius of the bit for which an open pocket runs out over its mouth: of a rim that is cut first, the widest bit's that follows
    watch: Callable[[float], None] | None = None  # told how far a long computation is, 0 to 1; may raise to stop

    def floor_of(self, solid: Solid) -> float:
        """Return the z the bit's tip goes down to for a feature."""
        if self.operation.down_to_mm is not None:
            return max(-self.operation.down_to_mm, self._whole_floor(solid))
        return self._whole_floor(solid)

    def _whole_floor(self, solid: Solid) -> float:
        if solid.floor_mm is None and self.operation.kind is OperationKind.PROFILE:
            if self.operation.groove_mm is not None:
                return -self.operation.groove_mm
            if self.operation.skin_mm > 0:
                return self.under_mm + self.operation.skin_mm
        if solid.floor_mm is None:
            through = self.bottom_mm - self.operation.overcut_mm
            return through - (self.bit.point_height_mm if self.bit.form is not BitForm.ROUND else 0.0)  # a round or pointed end goes deeper, so that the wall is whole to the underside
        if isinstance(solid.surface, TiltedFloor) and self.operation.kind is OperationKind.POCKET:
            return -solid.surface.shallowest_mm + self.operation.floor_to_leave_mm  # the rest in rows over the tilt
        return solid.floor_mm + self.operation.floor_to_leave_mm


def clearance_height(route: Route, setup: Setup) -> float:
    """Return the z at which rapid moves pass above blank and hardware."""
    highest = max([0.0, *(h.top_mm for h in setup.hardware)])
    return route.blank.top_mm + highest + setup.clearance_mm


def work_for(route: Route, resolved: Resolved, operation: Operation) -> Work:
    """Gather what an operation depends on. Its start height comes from the operations before it."""
    setup = route.setup(operation.setup)
    bit = route.bit(operation.bit)
    solids = [resolved.solid(f) for f in operation.features if f in resolved.solids]  # the rest waits for a reading
    rim = resolved.rims.get(operation.edge) if operation.edge else None
    start = start_height(route, resolved, operation) if solids or rim or not operation.features else route.blank.top_mm
    after = [route.bit(o.bit).radius_mm for o in route.operations if operation.down_to_mm is not None and o.setup == operation.setup and set(o.features) & set(operation.features)]
    under = route.blank.bottom_mm + route.blank.faced_below_mm
    return Work(
        operation, bit, solids, resolved.outline, start, route.blank.bottom_mm, under, clearance_height(route, setup),
        rim, rounded=_rounded(route, operation), mouth_mm=max([bit.radius_mm, *after]),
        runs_out_mm=route.machine.slot_over_mm if SLOTS in operation.features else 0.0,
    )


def _rounded(route: Route, operation: Operation) -> bool:
    """Say whether a finish over a board's face comes before an operation on its slots, in the same setup."""
    if SLOTS not in operation.features:
        return False
    before = route.operations[: [o.id for o in route.operations].index(operation.id)]
    finish = (o for o in before if o.kind is OperationKind.SURFACE_FINISH and o.setup == operation.setup)
    return any(FACE in o.features for o in finish)


def start_height(route: Route, resolved: Resolved, operation: Operation) -> float:
    """Return the z of the wood where an operation starts, from what earlier operations took away.

    A facing brings the top to the finished face plus what it leaves, where it covers all that this operation sweeps; an earlier pocket lowers it where its whole cut
    region covers this operation's.
    """
    height = route.blank.top_mm
    regions = [resolved.solid(f).region for f in operation.features if f in resolved.solids]
    for earlier in route.operations:
        if earlier.id == operation.id:
            break
        if earlier.setup != operation.setup:
            continue
        if earlier.kind is OperationKind.FACE:
            if _faced_area(route, resolved, earlier).covers(_reach(route, resolved, operation)):
                height = min(height, earlier.floor_to_leave_mm)
        elif earlier.down_to_mm is not None and _kerf_covers(route, earlier, operation):
            height = min(height, -earlier.down_to_mm)
        elif earlier.kind is OperationKind.POCKET and regions:
            radius = route.bit(earlier.bit).radius_mm + max(earlier.stock_to_leave_mm, 0.0)
            for feature in earlier.features:
                if feature not in resolved.solids:
                    continue
                solid = resolved.solid(feature)
                if earlier.down_to_mm is None and (solid.floor_mm is None or feature in operation.features):
                    continue
                reach = cut_region(solid, radius).buffer(-radius).buffer(radius + 1e-3)
                if all(reach.contains(r) if feature not in operation.features else reach.buffer(0.02).covers(r) for r in regions):
                    deep = solid.surface.shallowest_mm if isinstance(solid.surface, TiltedFloor | FollowingFloor) else -solid.floor_mm if solid.floor_mm is not None else math.inf
                    deep = min(deep, math.inf if earlier.down_to_mm is None else earlier.down_to_mm)
                    height = min(height, earlier.floor_to_leave_mm - deep)
    return height


def _kerf_covers(route: Route, earlier: Operation, operation: Operation) -> bool:
    """Say whether the kerf that an earlier contour was cut with is as wide as that of another along the same line."""
    both = (earlier, operation)
    if any(o.kind is not OperationKind.PROFILE for o in both) or earlier.side is not operation.side:
        return False
    if earlier.features != operation.features:
        return False
    last = [o.finish_allowance_mm if o.finish_pass else 0.0 for o in both]
    far = [o.stock_to_leave_mm + a + route.bit(o.bit).cut_diameter_mm for o, a in zip(both, last, strict=True)]
    return earlier.stock_to_leave_mm <= operation.stock_to_leave_mm + 1e-9 and far[0] >= far[1] - 1e-9


def _faced_area(route: Route, resolved: Resolved, facing: Operation) -> Polygon:
    """Return the rectangle a facing sweeps (a hair more, so that touching edges count as covered)."""
    xmin, ymin, xmax, ymax = resolved.outline.bounds
    m = facing.margin_mm + 0.01
    return shapely.box(xmin - m, ymin - m, max(xmin - m, xmax + m), max(ymin - m, ymax + m))


def _reach(route: Route, resolved: Resolved, operation: Operation) -> shapely.Geometry:
    """Return what an operation sweeps in plan at most, cut to the blank."""
    blank = route.blank
    wood = shapely.box(blank.x_mm, blank.y_mm, blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm)
    outside = operation.kind is OperationKind.PROFILE and operation.side.value == "outside"
    around = route.bit(operation.bit).cut_diameter_mm + operation.stock_to_leave_mm if outside else 0.0
    radius = route.bit(operation.bit).radius_mm
    regions = [cut_region(resolved.solid(f), radius) for f in operation.features if f in resolved.solids]
    if operation.edge in resolved.rims:
        regions.append(resolved.rims[operation.edge].region.buffer(2 * radius))
    return shapely.box(*shapely.union_all(regions).buffer(around).bounds).intersection(wood)


def levels(start_mm: float, floor_mm: float, depth_of_cut_mm: float) -> list[float]:
    """Return the heights of the passes, evenly spaced, the last at the floor.

    Source: N = ceil(depth / depth of cut).
    """
    depth = start_mm - floor_mm
    if depth <= 1e-9:
        return [floor_mm]
    count = max(1, math.ceil(depth / depth_of_cut_mm - 1e-9))
    return [start_mm - depth * (k + 1) / count for k in range(count)]


def finish_levels(work: Work, floor_mm: float) -> list[float]:
    """Return the heights of the passes along the wall: the depth the operation asks for, else what the bit's length and
    figures.finish_pass allow; then all of them again for each spring pass."""
    depth = work.operation.finish_depth_mm or figures()["finish_pass"]["depth_diameters"] * work.bit.cut_diameter_mm
    once = levels(work.start_mm, floor_mm, min(depth, work.bit.cutting_length_mm))
    return once * (1 + work.operation.spring_passes)


def clean_ring(ring: np.ndarray) -> np.ndarray:
    """Return a ring without needless points: simplified to 2 micrometres, not repeating the first."""
    if len(ring) < 4:
        return ring
    line = LineString(np.vstack([ring, ring[:1]])).simplify(SIMPLIFY_MM)
    out = np.asarray(line.coords)[:-1]
    return out if len(out) >= 3 else ring


def turned(ring: np.ndarray, direction: Direction, *, wood_outside: bool) -> np.ndarray:
    """Return a ring run in the right sense for a spindle that turns clockwise seen from above.

    Climb keeps the uncut wood on the right of the motion. wood_outside: the wood to keep lies outside the ring
    (a pocket's wall); else inside (an outline).

    Source: at the right of a clockwise bit the edge moves against the travel, with the wood fed past it.
    """
    counter_clockwise = shapely.LinearRing(ring).is_ccw
    want = wood_outside if direction is Direction.CLIMB else not wood_outside
    return ring if counter_clockwise == want else ring[::-1]


def rolled_to(ring: np.ndarray, x_mm: float, y_mm: float) -> np.ndarray:
    """Return the ring starting at its point nearest to a place; a long edge is split there."""
    start, end = ring, np.roll(ring, -1, axis=0)
    edge = end - start
    length2 = np.maximum((edge**2).sum(1), 1e-18)
    t = np.clip(((np.array([x_mm, y_mm]) - start) * edge).sum(1) / length2, 0.0, 1.0)
    foot = start + t[:, None] * edge
    k = int(np.argmin(((foot - [x_mm, y_mm]) ** 2).sum(1)))
    if t[k] < 1e-6:
        return np.roll(ring, -k, axis=0)
    rest = np.roll(ring, -(k + 1), axis=0)
    if t[k] > 1 - 1e-6:
        return rest
    return np.vstack([foot[k], rest])


def ring_length(ring: np.ndarray) -> float:
    """Return the length of a closed ring."""
    return float(np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum())
