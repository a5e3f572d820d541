"""Surfaces: rough in levels and finish in parallel passes over what the bit may touch, as dropping the bit on it finds."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import LineString

from ..heights import kernels
from ..heights.drop import drop
from ..instrument.bevels import surface_heights
from ..instrument.resolve import Solid
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round
from ..vocabulary import BitForm, MoveKind, OperationKind
from .base import LIFT_MM, Made, Problem, Work

CELL_MM = 0.25
ALONG_MM = 0.5  # between points of a pass
STRAIGHT_MM = 0.002  # points nearer to the line between their neighbours are left out
FORMS = {BitForm.FLAT: kernels.FLAT, BitForm.BALL: kernels.BALL, BitForm.BULL: kernels.BULL, BitForm.V: kernels.CONE}


def surface_passes(work: Work) -> Made:
    """Return the toolpath over the surfaces of an operation: rough by levels, or one finish pass everywhere."""
    path, problems = PathBuilder(0.0, 0.0, work.clear_mm), []
    for solid in work.solids:
        if solid.surface is None or work.bit.form not in FORMS:
            x, y = solid.region.representative_point().coords[0]
            problems.append(Problem("feature.bit_too_wide", solid.id, x, y, {"bit_mm": work.bit.cut_diameter_mm, "width_mm": 0.0}))
            continue
        _over(path, work, solid)
    path.rapid(z_mm=work.clear_mm)
    return Made(path.done(), problems)


class _Tips:
    """The tip's height anywhere over a surface, with what is left on it."""

    def __init__(self, work: Work, solid: Solid) -> None:
        bit, self.leave = work.bit, work.operation.floor_to_leave_mm
        reach = bit.radius_mm + 2.0
        xmin, ymin, xmax, ymax = buffer_round(solid.region, 2 * reach).bounds
        nx, ny = math.ceil((xmax - xmin) / CELL_MM), math.ceil((ymax - ymin) / CELL_MM)
        self.origin = xmin, ymin
        assert solid.surface is not None
        self.heights = surface_heights(solid.surface, xmin, ymin, CELL_MM, nx, ny)
        self.form = FORMS[bit.form]
        self.bit, self.slope = bit, math.tan(math.radians(bit.included_angle_deg) / 2)

    def at(self, points: np.ndarray) -> np.ndarray:
        """Return tip heights, float64 [n], at points [n, 2]."""
        out = np.empty(len(points))
        drop(self.heights, *self.origin, CELL_MM, np.ascontiguousarray(points[:, 0]), np.ascontiguousarray(points[:, 1]), self.form, self.bit.radius_mm, self.bit.corner_radius_mm, self.bit.tip_diameter_mm / 2, self.slope, out)
        return out + self.leave


def _over(path: PathBuilder, work: Work, solid: Solid) -> None:
    op, tips = work.operation, _Tips(work, solid)
    rows = _rows(work, solid)
    heights = [tips.at(r) for r in rows]
    lowest = min((float(h.min()) for h in heights if len(h)), default=0.0)
    if op.kind is OperationKind.SURFACE_ROUGH:
        depth = max(op.settings.depth_of_cut_mm, 0.05)
        above = work.start_mm
        while above > lowest + 1e-6:
            level = max(above - depth, lowest)
            _sweep(path, work, tips, rows, [np.maximum(h, level) for h in heights], above, level)
            above = level
    else:
        _sweep(path, work, tips, rows, heights, work.start_mm, lowest)


def _rows(work: Work, solid: Solid) -> list[np.ndarray]:
    """Return the passes in plan: parallel lines at the operation's angle, a stepover apart, over the surface and as far beyond it as the bit is
    wide; every other one runs back."""
    op = work.operation
    area = buffer_round(solid.region, work.bit.radius_mm, 0.05)
    c, s = math.cos(math.radians(op.pass_deg)), math.sin(math.radians(op.pass_deg))
    corners = np.asarray(area.exterior.coords)
    along, across = corners @ [c, s], corners @ [-s, c]
    step = op.settings.stepover_mm
    count = max(1, math.ceil((across.max() - across.min()) / step))
    out = []
    for k in range(count + 1):
        v = across.min() + (across.max() - across.min()) * k / count
        a, b = (np.array([u * c - v * s, u * s + v * c]) for u in (along.min() - 1, along.max() + 1))
        cut = LineString([a, b]).intersection(area)
        for line in sorted((g for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 0.2), key=lambda g: float(np.dot(g.coords[0], [c, s]))):
            n = max(2, math.ceil(line.length / ALONG_MM) + 1)
            t = np.linspace(0, 1, n)[:, None]
            points = np.asarray(line.coords[0]) * (1 - t) + np.asarray(line.coords[-1]) * t
            out.append(points if k % 2 == 0 else points[::-1])
    return out


def _sweep(path: PathBuilder, work: Work, tips: _Tips, rows: list[np.ndarray], heights: list[np.ndarray], above: float, level: float) -> None:
    """Add one layer: every stretch of every row that lies below what stands there."""
    op, kind = work.operation, MoveKind.CUT
    for row, z in zip(rows, heights, strict=True):
        for first, last in _stretches(z < above - 0.004):
            points, tall = _straightened(row[first: last + 1], z[first: last + 1])
            _reach(path, work, tips, points[0], float(tall[0]), above, level)
            path.along(points[1:], tall[1:], kind, op.settings.feed_mm_min)


def _stretches(active: np.ndarray) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], active.astype(np.int8), [0]])))
    return [(int(a), int(b) - 1) for a, b in edges.reshape(-1, 2) if b - a >= 2]


def _reach(path: PathBuilder, work: Work, tips: _Tips, to: np.ndarray, z: float, above: float, level: float) -> None:
    """Bring the bit to the start of a stretch: straight over from the stretch before where that is near, along the surface; else up and over."""
    op = work.operation
    x, y, now = path.at
    gap = math.hypot(to[0] - x, to[1] - y)
    if now < work.clear_mm - 1e-6 and gap <= 2.5 * op.settings.stepover_mm:
        t = np.linspace(0, 1, 6)[1:]
        way = np.column_stack([x + (to[0] - x) * t, y + (to[1] - y) * t])
        over = np.maximum(np.maximum(tips.at(way), level), [*([-1e9] * 4), z])
        path.to(x, y, max(now, float(over.max())), MoveKind.CUT, op.settings.feed_mm_min)
        path.to(to[0], to[1], max(now, float(over.max())), MoveKind.CUT, op.settings.feed_mm_min)
        path.to(to[0], to[1], z, MoveKind.PLUNGE, op.settings.plunge_mm_min)
        return
    path.rapid(z_mm=work.clear_mm)
    path.rapid(float(to[0]), float(to[1]))
    path.rapid(z_mm=above + LIFT_MM)
    path.to(to[0], to[1], z, MoveKind.PLUNGE, op.settings.plunge_mm_min)


def _straightened(points: np.ndarray, z: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Return a pass without points that lie on the line between others."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    kept = np.asarray(LineString(np.column_stack([along, z])).simplify(STRAIGHT_MM).coords)
    index = np.searchsorted(along, kept[:, 0] - 1e-9)
    return points[index], z[index]
