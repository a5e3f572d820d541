"""The tilted part of a pocket's floor: rows along it, each level, from the shallow end down; then once round along the wall."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import LineString

from ..instrument.floors import TiltedFloor
from ..motion.toolpath import PathBuilder
from ..plane.regions import rings
from ..vocabulary import Direction, MoveKind
from .base import LIFT_MM, Work, clean_ring, levels
from .following import along_floor


def tip_over(floor: TiltedFloor, radius_mm: float, x: np.ndarray) -> np.ndarray:
    """Return the lowest z of a flat bit's tip over a tilted floor: it rests on its rim, uphill."""
    return -floor.plane(x) + abs(floor.fall) * radius_mm


def row_step(floor: TiltedFloor, stepover_mm: float, ridge_mm: float) -> float:
    """Return how far rows stand apart in plan so that no step is higher than a ridge.

    Source: a flat bit over a slope a leaves steps of s sin a.
    """
    slope = math.sin(math.atan(abs(floor.fall)))
    return min(stepover_mm, ridge_mm / slope if slope > 1e-9 else stepover_mm)


def tilt_floor(path: PathBuilder, work: Work, floor: TiltedFloor, wall: shapely.Geometry, ridge_mm: float) -> None:
    """Cut the floor from where it was cleared level down to the tilt; the bit starts and ends at the clearance height.

    wall: where the bit's centre may be, walls finished.
    """
    op, radius = work.operation, work.bit.radius_mm
    above = -floor.shallowest_mm
    xmin, ymin, xmax, ymax = wall.bounds
    count = max(1, math.ceil((xmax - xmin) / row_step(floor, op.settings.stepover_mm, ridge_mm)))
    places = np.linspace(xmin, xmax, count + 1)
    z = tip_over(floor, radius, places)
    order = np.argsort(-z)  # from the shallow end down
    lowest = float(z.min())
    if lowest > above - 1e-6:
        return
    for level in levels(above, lowest, op.settings.depth_of_cut_mm):
        forth = True
        for k in order.tolist():
            if z[k] >= above - 1e-6:
                continue
            for line in _row(wall, float(places[k]), ymin, ymax):
                run = line if forth else line[::-1]
                _reach(path, work, wall, run[0], max(float(z[k]), level), above)
                path.along(run[1:], max(float(z[k]), level), MoveKind.CUT, op.settings.feed_mm_min)
                forth = not forth
        above = level
    path.rapid(z_mm=work.clear_mm)
    for ring in map(clean_ring, rings(wall)):
        along_floor(path, work, ring if op.direction is Direction.CLIMB else ring[::-1], lambda p: np.minimum(tip_over(floor, radius, p[:, 0]), -floor.shallowest_mm))


def _row(wall: shapely.Geometry, x: float, ymin: float, ymax: float) -> list[np.ndarray]:
    cut = LineString([(x, ymin - 1), (x, ymax + 1)]).intersection(wall.buffer(1e-6))
    parts = [np.asarray(g.coords) for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 1e-3]
    return [p if p[0, 1] < p[-1, 1] else p[::-1] for p in parts]


def _reach(path: PathBuilder, work: Work, wall: shapely.Geometry, to: np.ndarray, z: float, above: float) -> None:
    """Bring the bit to the start of a row: beside the row before inside the walls, else up, over and down."""
    x, y, now = path.at
    near = math.hypot(to[0] - x, to[1] - y) <= 2 * work.bit.cut_diameter_mm
    if now < work.clear_mm - 1e-6 and near and wall.buffer(1e-3).covers(LineString([(x, y), to])):
        path.to(to[0], to[1], max(now, z), MoveKind.CUT, work.operation.settings.feed_mm_min)
        path.to(to[0], to[1], z, MoveKind.PLUNGE, work.operation.settings.plunge_mm_min)
        return
    path.rapid(z_mm=work.clear_mm)
    path.rapid(*to)
    path.rapid(z_mm=above + LIFT_MM)
    path.to(to[0], to[1], z, MoveKind.PLUNGE, work.operation.settings.plunge_mm_min)
