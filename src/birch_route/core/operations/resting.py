"""Rest of a pocket: only what earlier, wider bits left of it, from where they cleared; rings clipped to that, from the inside out."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..clearing.engaged import enterable
from ..instrument.resolve import Resolved, cut_region
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round, polygons, rings
from ..route import Operation, Route
from ..vocabulary import Clearing, Direction, MoveKind, OperationKind
from .base import LIFT_MM, Work, clean_ring, levels
from .entry import enter_along_ring

SLIVER_MM = 0.02  # thinner rests are numbers, not wood
BEYOND_MM = 0.3  # passes begin and end this far in the open
MOST_RINGS = 400


def reached_before(route: Route, resolved: Resolved, operation: Operation) -> dict[str, shapely.Geometry]:
    """Return what earlier pocket operations of the same setup have cleared of each feature, down to the floor this one leaves."""
    out: dict[str, shapely.Geometry] = {}
    for earlier in route.operations:
        if earlier.id == operation.id:
            break
        if earlier.setup != operation.setup or earlier.kind is not OperationKind.POCKET or earlier.rest:
            continue
        higher = earlier.floor_to_leave_mm > operation.floor_to_leave_mm + 1e-9
        if earlier.along_wall or earlier.down_to_mm is not None or higher:
            continue
        radius = route.bit(earlier.bit).radius_mm
        for feature in set(earlier.features) & set(operation.features) & set(resolved.solids):
            room = buffer_round(cut_region(resolved.solid(feature), radius), -(radius + max(earlier.stock_to_leave_mm, 0.0)))
            if earlier.clearing is Clearing.ENGAGED and not room.is_empty:
                room = enterable(room, radius)[0]
            if not room.is_empty:
                out[feature] = shapely.union_all([out.get(feature, Polygon()), buffer_round(room, radius)])
    return out


def rest_of(region: shapely.Geometry, room: shapely.Geometry, radius_mm: float, reached: shapely.Geometry) -> shapely.Geometry:
    """Return what a bit whose centre may be in a room sweeps of a region and earlier ones did not."""
    left = buffer_round(room, radius_mm).intersection(region).difference(reached)
    return left.buffer(-SLIVER_MM).buffer(2 * SLIVER_MM) if not left.is_empty else left


def clear_rest(path: PathBuilder, work: Work, region: Polygon, rough: shapely.Geometry, reached: shapely.Geometry, floor_mm: float) -> None:
    """Clear what is left of one region down to its floor; the bit starts and ends at the clearance height.

    rough: where the bit's centre may be.
    """
    op, radius = work.operation, work.bit.radius_mm
    left = rest_of(region, rough, radius, reached)
    if left.is_empty:
        return
    near = buffer_round(left, radius + BEYOND_MM, 0.02).intersection(rough)
    open_room = buffer_round(reached, -radius).buffer(0.01)
    for part in polygons(near):
        lines = _lines(rough, part, op.settings.stepover_mm)
        over = shapely.union_all([part.buffer(0.01), open_room])
        shapely.prepare(over)
        above = work.start_mm
        for level in levels(work.start_mm, floor_mm, op.settings.depth_of_cut_mm):
            for line, is_ring in lines:
                _cut(path, work, over, line, above, level, is_ring=is_ring)
            above = level
        path.rapid(z_mm=work.clear_mm)


def _lines(rough: shapely.Geometry, part: Polygon, stepover_mm: float) -> list[tuple[np.ndarray, bool]]:
    """Return the passes of one part, the innermost first: stretches [n, 2] of rings a stepover apart, the region on the left, and whether each is a whole ring."""
    found: list[list[tuple[np.ndarray, bool]]] = []
    for k in range(MOST_RINGS):
        here: list[tuple[np.ndarray, bool]] = []
        for ring in map(clean_ring, rings(buffer_round(rough, -k * stepover_mm, 0.01)) if k else rings(rough)):
            closed = LineString(np.vstack([ring, ring[:1]]))
            if part.buffer(1e-6).covers(closed):
                here.append((ring, True))
                continue
            cut = closed.intersection(part.buffer(1e-6))
            if cut.is_empty:
                continue
            merged = shapely.line_merge(cut, directed=True) if cut.geom_type != "LineString" else cut
            here += [(np.asarray(g.coords), False) for g in getattr(merged, "geoms", [merged]) if isinstance(g, LineString) and g.length > 0.05]
        if not here:
            break
        found.append(here)
    return [line for here in reversed(found) for line in here]


def _cut(path: PathBuilder, work: Work, over: shapely.Geometry, line: np.ndarray, above: float, level: float, *, is_ring: bool) -> None:
    """Cut along one stretch at a level: down in the open at its end, or by a ramp along a ring that lies wholly in wood."""
    op = work.operation
    run = line if op.direction is Direction.CLIMB else line[::-1]
    inside = path.at[2] < work.clear_mm - 1e-6 and over.covers(LineString([path.at[:2], run[0]])) if np.hypot(*(run[0] - path.at[:2])) > 1e-6 else path.at[2] < work.clear_mm - 1e-6
    path.rapid(z_mm=above + LIFT_MM if inside else work.clear_mm)
    path.rapid(*run[0])
    if is_ring:
        run = enter_along_ring(path, work, run, above, level, above=True)
        path.along(run[1:], level, MoveKind.CUT, op.settings.feed_mm_min)
        path.to(*run[0], level, MoveKind.CUT, op.settings.feed_mm_min)
        return
    path.rapid(z_mm=above + LIFT_MM)
    path.to(*run[0], level, MoveKind.PLUNGE, op.settings.plunge_mm_min)
    path.along(run[1:], level, MoveKind.CUT, op.settings.feed_mm_min)

