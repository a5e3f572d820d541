"""A floor that follows the other face: level by level over what may go so deep, then rows over its slopes, each where a step still stands."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
import shapely.ops
from shapely.geometry import LineString, Polygon

from ..heights.drop import between, drop_grid, profile_cells
from ..heights.kernels import FLAT
from ..heights.lines import area_above
from ..instrument.floors import FollowingFloor
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round, polygons, rings
from ..vocabulary import Direction, MoveKind
from .base import LIFT_MM, Work, clean_ring, levels

CELL_MM = 0.5
ALONG_MM = 0.5  # between points of a way whose height changes
OVER_MM = 0.02  # less than this above the floor is no step


class LevelTips:
    """The lowest tip of a bit with a level end over a floor, anywhere; over slopes never lower than exact, higher by what the floor falls in half a cell's diagonal."""

    def __init__(self, floor: FollowingFloor, area: shapely.Geometry, radius_mm: float) -> None:
        wide = radius_mm + CELL_MM * math.sqrt(0.5)
        xmin, ymin, xmax, ymax = area.buffer(wide + 2 * CELL_MM).bounds
        self.origin = xmin, ymin
        nx, ny = math.ceil((xmax - xmin) / CELL_MM), math.ceil((ymax - ymin) / CELL_MM)
        x, y = np.meshgrid(xmin + (np.arange(nx) + 0.5) * CELL_MM, ymin + (np.arange(ny) + 0.5) * CELL_MM)
        self.grid = np.empty((ny, nx), np.float32)
        drop_grid((-floor.sloped(x, y)).astype(np.float32), *profile_cells(FLAT, wide, 0.0, 0.0, 0.0, CELL_MM), self.grid)
        self.level = [(buffer_round(region, radius_mm, 0.01), -deep) for region, deep in floor.level]  # where the bit's middle may not go below a floor that stays level

    def sloped(self, points: np.ndarray) -> np.ndarray:
        """Return tip heights over the slopes alone, float64 [n], at points [n, 2]."""
        places, out = (points - self.origin) / CELL_MM - 0.5, np.empty(len(points))
        between(self.grid, np.ascontiguousarray(places[:, 0]), np.ascontiguousarray(places[:, 1]), out)
        return out

    def at(self, points: np.ndarray) -> np.ndarray:
        """Return tip heights, float64 [n], at points [n, 2]."""
        out = self.sloped(points)
        for region, z in self.level:
            out = np.where(shapely.contains_xy(region, points[:, 0], points[:, 1]), np.maximum(out, z), out)
        return out

    def beside_level(self, area: shapely.Geometry) -> shapely.Geometry:
        """Return an area without the places that a floor that stays level decides."""
        return area.difference(shapely.union_all([region for region, _ in self.level])) if self.level else area

    def no_higher(self, level_mm: float) -> shapely.Geometry:
        """Return the area in plan where the tip may go down to a level."""
        area = area_above(level_mm + 1e-3 - self.grid, *self.origin, CELL_MM)
        higher = [region for region, z in self.level if z > level_mm + 1e-6]
        return area.difference(shapely.union_all(higher)) if higher else area


def follow_floor(path: PathBuilder, work: Work, floor: FollowingFloor, room: shapely.Geometry, wall: shapely.Geometry, ridge_mm: float, clear: Callable[[Polygon, float, float], None]) -> None:
    """Clear a pocket down to a floor that follows the other face; the bit starts and ends at the clearance height.

    room, wall: where the bit's centre may be, with and without what is left on the walls for the end. clear: clears one area from a level down to the next.
    """
    op, tips = work.operation, LevelTips(floor, wall, work.bit.radius_mm)
    leave = op.floor_to_leave_mm
    steps, stops = [work.start_mm], sorted({round(z, 4) for _, z in tips.level if -floor.deepest_mm + 0.01 < z < work.start_mm} | {-floor.deepest_mm}, reverse=True)
    for stop in stops:
        steps += levels(steps[-1], stop + leave, op.settings.depth_of_cut_mm)
    if not op.along_wall:
        for above, level in zip(steps, steps[1:], strict=False):
            for part in polygons(shapely.intersection(tips.no_higher(level - leave), room)):
                clear(part, above, level)
            path.rapid(z_mm=work.clear_mm)
        _over_slopes(path, work, tips, tips.beside_level(room), np.array(steps), ridge_mm / max(math.sin(math.atan(floor.steepest)), 1e-3))
    if op.finish_pass or op.along_wall:
        for ring in map(clean_ring, rings(wall)):
            run = ring if op.direction is Direction.CLIMB else ring[::-1]
            for _ in range(1 + op.spring_passes):
                along_floor(path, work, run, lambda p: _before_steps(tips.at(p)) + leave)


def _before_steps(z: np.ndarray) -> np.ndarray:
    """Return the heights of a closed way risen one point before every step up, so that no step is cut into on the way."""
    return np.maximum(np.maximum(z, np.roll(z, 1)), np.roll(z, -1))


def _over_slopes(path: PathBuilder, work: Work, tips: LevelTips, room: shapely.Geometry, steps: np.ndarray, apart_mm: float) -> None:
    """Run rows over the places where the steps stand above the floor."""
    if room.is_empty or float(tips.grid.max()) - float(tips.grid.min()) < OVER_MM:
        return
    op, forth = work.operation, True
    xmin, ymin, xmax, ymax = room.bounds
    count = max(1, math.ceil((xmax - xmin) / min(op.settings.stepover_mm, max(apart_mm, 0.3))))
    shapely.prepare(room)
    for x in np.linspace(xmin, xmax, count + 1):
        for line in _row(room, float(x), ymin, ymax):
            z = tips.sloped(line) + op.floor_to_leave_mm
            stands = steps[np.clip(np.searchsorted(-steps, -z, side="right") - 1, 0, len(steps) - 1)]  # the lowest step that is no lower than the floor
            active = np.flatnonzero(np.diff(np.concatenate([[0], (stands - z > OVER_MM).astype(np.int8), [0]]))).reshape(-1, 2)
            for first, last in (active if forth else active[::-1]).tolist():
                run, deep = line[first:last], z[first:last]
                if len(run) < 2:
                    continue
                if not forth:
                    run, deep = run[::-1], deep[::-1]
                _reach(path, work, tips, room, run[0], float(deep[0]), float(stands[first:last].max()))
                path.along(run[1:], deep[1:], MoveKind.CUT, op.settings.feed_mm_min)
            forth = not forth
    path.rapid(z_mm=work.clear_mm)


def _row(room: shapely.Geometry, x: float, ymin: float, ymax: float) -> list[np.ndarray]:
    cut = LineString([(x, ymin - 1), (x, ymax + 1)]).intersection(room)
    parts = [shapely.get_coordinates(shapely.segmentize(g, ALONG_MM)) for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 0.1]
    return sorted((p if p[0, 1] < p[-1, 1] else p[::-1] for p in parts), key=lambda p: p[0, 1])


def _reach(path: PathBuilder, work: Work, tips: LevelTips, room: shapely.Geometry, to: np.ndarray, z: float, above: float) -> None:
    """Bring the bit to the start of a row: over the floor from the row before where that is near, else up, over and down."""
    x, y, now = path.at
    if now < work.clear_mm - 1e-6 and math.hypot(to[0] - x, to[1] - y) <= 2.5 * work.operation.settings.stepover_mm and room.covers(LineString([(x, y), to])):
        way = np.column_stack([np.linspace(x, to[0], 9), np.linspace(y, to[1], 9)])
        over = max(now, z, float(tips.sloped(way).max()) + work.operation.floor_to_leave_mm)
        path.to(x, y, over, MoveKind.CUT, work.operation.settings.feed_mm_min)
        path.to(to[0], to[1], over, MoveKind.CUT, work.operation.settings.feed_mm_min)
    else:
        path.rapid(z_mm=work.clear_mm)
        path.rapid(*to)
        path.rapid(z_mm=above + LIFT_MM)
    path.to(to[0], to[1], z, MoveKind.PLUNGE, work.operation.settings.plunge_mm_min)


def _inside(ring: np.ndarray, at: np.ndarray, left_mm: float) -> np.ndarray:
    """Return the place nearest to one of a ring where what is left on the walls has been cleared already."""
    if left_mm <= 0:
        return at
    room = buffer_round(Polygon(ring), -left_mm - OVER_MM)
    if room.is_empty:
        return at
    return np.asarray(shapely.ops.nearest_points(room, shapely.Point(at))[0].coords[0])


def along_floor(path: PathBuilder, work: Work, ring: np.ndarray, tips: Callable[[np.ndarray], np.ndarray]) -> None:
    """Run once along a wall with the tip on a floor that is not level. tips: heights at points [n, 2]."""
    closed = shapely.get_coordinates(shapely.segmentize(LineString(np.vstack([ring, ring[:1]])), ALONG_MM))
    z = tips(closed)
    feeds, left = work.operation.settings, work.operation.finish_allowance_mm if work.operation.finish_pass else 0.0
    begin = _inside(ring, closed[0], left)
    path.rapid(*begin)
    path.rapid(z_mm=(work.start_mm if left else float(z[0])) + LIFT_MM)
    path.to(float(begin[0]), float(begin[1]), float(z[0]), MoveKind.PLUNGE, feeds.plunge_mm_min)
    path.to(float(closed[0, 0]), float(closed[0, 1]), float(z[0]), MoveKind.CUT, feeds.feed_mm_min)
    path.along(closed[1:], z[1:], MoveKind.FINISH if work.operation.finish_pass else MoveKind.CUT, work.operation.settings.feed_mm_min)
    path.rapid(z_mm=work.clear_mm)
