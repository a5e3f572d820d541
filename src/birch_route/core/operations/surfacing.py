"""Surfaces: rough in levels and finish in parallel passes over what the bit may touch, as dropping the bit on it finds."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import LineString

from ..data import figures
from ..heights import kernels
from ..heights.drop import between, drop, drop_grid, profile_cells
from ..heights.field import Grid, envelope
from ..heights.lines import zero_lines
from ..heights.raster import mask_of
from ..instrument.bevels import surface_heights
from ..instrument.resolve import Solid
from ..motion.straight import needed
from ..motion.toolpath import PathBuilder
from ..neck.surfaces import NeckBack
from ..plane.regions import buffer_round
from ..vocabulary import BitForm, MoveKind, OperationKind, Pattern
from .base import LIFT_MM, Made, Problem, Work
from .lofting import lofted
from .valleys import valley_lines

CELL_MM = 0.25
EDGE_MM = 0.11  # half a cell, a little less: found to be enough on slopes of 45 degrees
ALONG_MM = 0.5  # between points of a pass
STRAIGHT_MM = 0.002  # points nearer to the line between their neighbours are left out
FORMS = (BitForm.FLAT, BitForm.BALL, BitForm.BULL, BitForm.V, BitForm.TAPER)


def surface_passes(work: Work) -> Made:
    """Return the toolpath over the surfaces of an operation: rough by levels, or one finish pass everywhere."""
    path, problems = PathBuilder(0.0, 0.0, work.clear_mm), []
    for solid in work.solids:
        if not solid.is_contour or work.bit.form not in FORMS:
            x, y = solid.region.representative_point().coords[0]
            problems.append(Problem("feature.bit_too_wide", solid.id, x, y, {"bit_mm": work.bit.cut_diameter_mm, "width_mm": 0.0}))
            continue
        if is_lofted(work, solid):
            lofted(path, work, solid.surface)  # type: ignore[arg-type]
        else:
            _over(path, work, solid)
    path.rapid(z_mm=work.clear_mm)
    return Made(path.done(), problems)


def is_lofted(work: Work, solid: Solid) -> bool:
    """Whether a finish runs along the sections of a neck: a ball, over all of its back."""
    op = work.operation
    return (
        isinstance(solid.surface, NeckBack) and op.kind is OperationKind.SURFACE_FINISH
        and op.pattern is Pattern.PARALLEL and work.bit.form is BitForm.BALL
    )


class _Tips:
    """The tip's height anywhere over a surface, with what is left on it."""

    def __init__(self, work: Work, solid: Solid) -> None:
        bit, self.leave = work.bit, work.operation.floor_to_leave_mm
        reach = bit.reach_mm + 2.0
        xmin, ymin, xmax, ymax = buffer_round(solid.region, 2 * reach).bounds
        nx, ny = math.ceil((xmax - xmin) / CELL_MM), math.ceil((ymax - ymin) / CELL_MM)
        self.origin = xmin, ymin
        assert solid.surface is not None
        self.heights = surface_heights(solid.surface, xmin, ymin, CELL_MM, nx, ny)
        self.form = envelope(bit)[0]
        self._grid: np.ndarray | None = None
        self._slopes: np.ndarray | None = None
        self.bit = bit

    def at(self, points: np.ndarray) -> np.ndarray:
        """Return tip heights, float64 [n], at points [n, 2]."""
        out = np.empty(len(points))
        if self.form == kernels.CONE:  # a sharp point falls between cells: asked exactly
            drop(self.heights, *self.origin, CELL_MM, np.ascontiguousarray(points[:, 0]), np.ascontiguousarray(points[:, 1]), *self._shape(), out)
        else:
            places = (points - self.origin) / CELL_MM - 0.5
            between(self.grid(), np.ascontiguousarray(places[:, 0]), np.ascontiguousarray(places[:, 1]), out)
        return out + self.leave

    def _shape(self) -> tuple[int, float, float, float, float]:
        # a sharp edge falls between cells: taken as that much wider, it never digs in
        edge = EDGE_MM if self.form in (kernels.FLAT, kernels.BULL) else 0.0
        form, radius, *more = envelope(self.bit)
        return form, radius + edge, *more

    def grid(self) -> np.ndarray:
        """Return the tip's height at the middle of every cell, nothing left on it, float32 [ny, nx]; made once."""
        if self._grid is None:
            self._grid = np.empty(self.heights.shape, np.float32)
            drop_grid(self.heights, *profile_cells(*self._shape(), CELL_MM), self._grid)
        return self._grid

    def slopes(self) -> np.ndarray:
        """Return how steep the tip's surface is at every cell, degrees; made once."""
        if self._slopes is None:
            self._slopes = np.degrees(np.arctan(np.hypot(*np.gradient(self.grid(), CELL_MM))))
        return self._slopes

    def over(self, area: shapely.Geometry) -> np.ndarray:
        """Return which cells lie over an area."""
        ny, nx = self.heights.shape
        return mask_of(area, Grid(self.origin[0], self.origin[1], nx, ny, CELL_MM))

    def slope_at(self, points: np.ndarray) -> np.ndarray:
        """Return how steep it is at points [n, 2], degrees."""
        slopes = self.slopes()
        i, j = ((points - self.origin) / CELL_MM).astype(int).T
        return slopes[np.clip(j, 0, slopes.shape[0] - 1), np.clip(i, 0, slopes.shape[1] - 1)]


def _over(path: PathBuilder, work: Work, solid: Solid) -> None:
    op, tips = work.operation, _Tips(work, solid)
    rows = _rows(work, solid, tips) if op.kind is OperationKind.SURFACE_ROUGH else finish_lines(work, solid, tips)
    heights = np.split(tips.at(np.concatenate(rows)), np.cumsum([len(r) for r in rows])[:-1]) if rows else []
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


def finish_lines(work: Work, solid: Solid, tips: _Tips) -> list[np.ndarray]:
    """Return the passes of a finish in plan, in the order they are cut: parallel lines, level lines, both by slope with an overlap, only what is flat, or along the valleys."""
    op, fig = work.operation, figures()["surface"]
    if op.pattern is Pattern.PENCIL:
        area = buffer_round(solid.region, work.bit.radius_mm, 0.05)
        return [_resampled(line, ALONG_MM) for line in valley_lines(solid, work.wider or work.bit, area, op.settings.stepover_mm)]
    rows = _rows(work, solid, tips)
    if op.pattern is Pattern.FLAT:
        return [part for row in rows for part in _where(row, tips.slope_at(row) <= fig["flat_deg"])]
    if op.pattern is Pattern.PARALLEL:
        return rows
    limit = op.steep_deg if op.pattern is Pattern.BOTH else fig["flat_deg"] + fig["overlap_deg"]
    lines = level_lines(work, solid, tips, limit - fig["overlap_deg"])
    flat = [part for row in rows for part in _where(row, tips.slope_at(row) <= limit)]
    return lines + flat


def level_lines(work: Work, solid: Solid, tips: _Tips, least_deg: float) -> list[np.ndarray]:
    """Return lines on which the tip stands at one height, from the top down, where the surface is at least so steep.

    Two levels stand as far apart as leaves passes no more than a stepover apart along the surface where it is least steep between them.
    """
    op = work.operation
    field = tips.grid() + tips.leave
    area = buffer_round(solid.region, work.bit.radius_mm, 0.05)
    slope = tips.slopes()
    mask = (slope >= least_deg) & tips.over(area)
    if not mask.any():
        return []
    top, low = float(field[mask].max()), float(field[mask].min())
    out: list[np.ndarray] = []
    level = top - 1e-3
    while level > low:
        for line, closed in zero_lines(field - np.float32(level), *tips.origin, CELL_MM):
            if closed:
                line = np.vstack([line, line[:1]])
            if len(line) > 1:
                out += _clipped(line, area, tips, least_deg, out[-1][-1] if out else None)
        near = mask & (np.abs(field - level) < max(0.3, op.settings.stepover_mm * 0.5))
        steep = math.radians(float(np.percentile(slope[near], 5))) if near.any() else math.radians(45)
        level -= max(0.01, op.settings.stepover_mm * math.sin(max(steep, math.radians(1.0))))
    return out


def _clipped(line: np.ndarray, area: shapely.Geometry, tips: _Tips, least_deg: float, after: np.ndarray | None) -> list[np.ndarray]:
    """Return the parts of a level line over an area where it is steep enough, each run from the end nearer to where the bit comes from."""
    cut = LineString(line).intersection(area)
    if not cut.is_empty and cut.geom_type != "LineString":
        cut = shapely.line_merge(cut)
    out: list[np.ndarray] = []
    for part in (g for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 0.5):
        spots = _resampled(np.asarray(part.coords), ALONG_MM)
        for stretch in _where(spots, tips.slope_at(spots) >= least_deg):
            if after is not None and np.hypot(*(stretch[-1] - after)) < np.hypot(*(stretch[0] - after)):
                stretch = stretch[::-1]
            after = stretch[-1]
            out.append(stretch)
    return out


def _resampled(line: np.ndarray, step_mm: float) -> np.ndarray:
    """Return a line [n, 2] with points at even steps."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    even = np.linspace(0.0, along[-1], max(2, math.ceil(along[-1] / step_mm) + 1))
    return np.column_stack([np.interp(even, along, line[:, 0]), np.interp(even, along, line[:, 1])])


def _where(row: np.ndarray, wanted: np.ndarray) -> list[np.ndarray]:
    return [row[a: b + 1] for a, b in _stretches(wanted)]


def _rows(work: Work, solid: Solid, tips: _Tips) -> list[np.ndarray]:
    """Return the passes in plan: parallel lines at the operation's angle, a stepover apart in plan or along the surface, over the surface
    and as far beyond it as the bit is wide; every other one runs back."""
    op = work.operation
    area = buffer_round(solid.region, work.bit.radius_mm, 0.05)
    c, s = math.cos(math.radians(op.pass_deg)), math.sin(math.radians(op.pass_deg))
    across = np.asarray(area.exterior.coords) @ [-s, c]
    step = op.settings.stepover_mm
    low, high = float(across.min()), float(across.max())
    count = max(1, math.ceil((high - low) / step))
    if op.even_ridge:
        found = _evenly_along(lambda v: _lines_over(area, c, s, np.array([v]))[0], tips, low, high, step, np.array([-s, c]))
    else:
        found = _lines_over(area, c, s, low + (high - low) * np.arange(count + 1) / count)
    return _in_lanes(found, np.array([c, s]))


def _lines_over(area: shapely.Geometry, c: float, s: float, at: np.ndarray) -> list[list[np.ndarray]]:
    """Return the stretches over an area, points [n, 2] each, of lines in the direction (c, s) at distances `at` [m], rising, from the origin; a list a line."""
    rings = [np.asarray(r.coords) @ np.array([[c, -s], [s, c]]) for g in getattr(area, "geoms", [area]) for r in (g.exterior, *g.interiors)]
    one, two = (np.vstack([r[k: len(r) - 1 + k] for r in rings]) for k in (0, 1))
    at = np.clip(at, one[:, 1].min() + 1e-9, one[:, 1].max() - 1e-9)  # not along an edge
    first, last = (np.searchsorted(at, f(one[:, 1], two[:, 1])) for f in (np.minimum, np.maximum))
    edge = np.repeat(np.arange(len(one)), last - first)
    line = np.arange(len(edge)) - np.repeat(np.cumsum(last - first) - last, last - first)
    part = (at[line] - one[edge, 1]) / (two[edge, 1] - one[edge, 1])
    met = one[edge, 0] + part * (two[edge, 0] - one[edge, 0])
    order = np.lexsort((met, line))
    line, met = line[order], met[order]
    out: list[list[np.ndarray]] = [[] for _ in at]
    for k, a, b in zip(line[::2].tolist(), met[::2].tolist(), met[1::2].tolist(), strict=True):
        if b - a > 0.2:
            u = np.linspace(a, b, max(2, math.ceil((b - a) / ALONG_MM) + 1))
            out[k].append(np.column_stack([u * c - at[k] * s, u * s + at[k] * c]))
    return out


def _in_lanes(rows: list[list[np.ndarray]], along: np.ndarray) -> list[np.ndarray]:
    """Return passes so that the bit goes to and fro over one part of a surface before it crosses to another: a pass follows the one beside it."""
    lanes: list[list[np.ndarray]] = []
    ends: list[tuple[int, float, float]] = []  # row of a lane's last pass, and where it begins and ends along the passes
    for k, row in enumerate(rows):
        for line in row:
            first, last = float(line[0] @ along), float(line[-1] @ along)
            lane = next((n for n, (at, a, b) in enumerate(ends) if at == k - 1 and a < last and b > first), None)
            if lane is None:
                lanes.append([line])
                ends.append((k, first, last))
            else:
                lanes[lane].append(line)
                ends[lane] = (k, first, last)
    return [line if k % 2 == 0 else line[::-1] for lane in lanes for k, line in enumerate(lane)]


def _evenly_along(row_at: Callable[[float], list[np.ndarray]], tips: _Tips, low: float, high: float, step: float, across: np.ndarray) -> list[list[np.ndarray]]:
    """Return parallel passes that stand a step apart along the surface where it falls most between them.

    Source: in plan a step s over a slope a across the passes is s cos a.
    """
    v, out = low, [row_at(low)]
    while v < high - 1e-9:
        rise = 0.0
        for row in out[-1]:
            here = tips.at(np.concatenate([row, row + across * step]))
            rise = max(rise, float(np.percentile(np.abs(here[len(row):] - here[: len(row)]), 98)) / step)
        v = min(high, v + step * math.cos(math.atan(rise)))
        out.append(row_at(v))
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
    """Return a pass without points that lie on the line between others, in plan and in height."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    kept = needed(along, z, STRAIGHT_MM)
    from_first, chord = points - points[0], points[-1] - points[0]
    straight = float(chord @ chord) > 1e-9 and bool(np.abs(from_first[:, 0] * chord[1] - from_first[:, 1] * chord[0]).max() < 1e-9 * max(1.0, float(chord @ chord)))
    if not straight:  # in plan; a ring that ends where it began is not
        kept |= needed(along, points[:, 0], STRAIGHT_MM) | needed(along, points[:, 1], STRAIGHT_MM)
    return points[kept], z[kept]
