"""Profile: along a contour, outside, inside or on it, in passes, with ramps, tabs and a finish pass."""

from __future__ import annotations

import math

import numpy as np
import shapely

from ..data import figures
from ..instrument.resolve import Solid
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round, polygons
from ..route import Tab
from ..vocabulary import MoveKind, School, Side, TabShape
from .base import Made, Problem, Work, finish_levels, levels, rolled_to
from .channelling import channel
from .entry import enter_along_ring
from .pocketing import lead_arcs, ring_of
from .slotting import slots


def profile(work: Work) -> Made:
    """Return the toolpath along every contour of a profile operation."""
    path, problems = None, []
    for solid in work.solids:
        op = work.operation
        if solid.kind == "channel":
            path = path or PathBuilder(*solid.region.exterior.coords[0], work.clear_mm)
            problems += channel(path, work, solid)
            continue
        if solid.kind == "fret_slots":
            within = solid.region.representative_point()
            path = path or PathBuilder(within.x, within.y, work.clear_mm)
            problems += slots(path, work, solid)
            continue
        allowance = op.finish_allowance_mm if op.finish_pass else 0.0
        rough = [] if op.finishes else _contours(work, solid, op.stock_to_leave_mm + allowance)
        finish = _contours(work, solid, op.stock_to_leave_mm) if op.finish_pass else []
        if path is None:
            first = (rough or finish or [np.array([solid.region.representative_point().coords[0]])])[0][0]
            path = PathBuilder(*first, work.clear_mm)
        if not rough and not finish:
            point = solid.region.representative_point()
            problems.append(Problem("feature.bit_too_wide", solid.id, point.x, point.y,
                                    {"bit_mm": work.bit.cut_diameter_mm,
                                     "width_mm": 2 * shapely.maximum_inscribed_circle(solid.region).length}))
            continue
        floor = work.floor_of(solid)
        for ring in rough:
            _passes(path, work, solid, ring, levels(work.start_mm, floor, op.settings.depth_of_cut_mm))
        for ring in finish:
            _finish(path, work, solid, ring, floor)
    assert path is not None
    return Made(path.done(), problems)


def _contours(work: Work, solid: Solid, away_mm: float) -> list[np.ndarray]:
    side, radius = work.operation.side, work.bit.radius_mm
    if side is Side.ON:
        region, wood_outside = solid.region, False
    elif side is Side.OUTSIDE:
        region, wood_outside = buffer_round(solid.region, radius + away_mm), False
    else:
        region, wood_outside = buffer_round(solid.region, -(radius + away_mm)), True
    return ring_of(region, work.operation.direction, wood_outside=wood_outside)


def _edge_near(solid: Solid, line: shapely.LinearRing) -> shapely.LinearRing:
    """Return the boundary of that part of a feature (one hole of several) which a contour runs along."""
    parts = polygons(solid.region)
    return (parts[0] if len(parts) == 1 else min(parts, key=lambda p: p.exterior.distance(line))).exterior


def tab_spans(ring: np.ndarray, solid: Solid, tabs: list[Tab], bit_radius_mm: float) -> list[tuple[float, float, float]]:
    """Return where the bit must ride over tabs: start and end along the ring (mm, end may pass the ring's length) and
    the tab's height.

    The bit stays up for the tab's width plus its own diameter, so that the wood left is as wide as asked at the
    middle of the kerf.
    """
    line = shapely.LinearRing(ring)
    outline = _edge_near(solid, line)
    spans = []
    for tab in tabs:
        point = outline.interpolate(tab.at, normalized=True)
        middle = line.project(point)
        half = tab.width_mm / 2 + bit_radius_mm
        spans.append((middle - half, middle + half, tab.height_mm))
    return spans


def _with_tabs(ring: np.ndarray, level: float, solid: Solid, work: Work) -> tuple[np.ndarray, np.ndarray]:
    """Return closed points and heights of one pass, raised over the tabs; the sides of a ramped one are climbed."""
    closed = np.vstack([ring, ring[:1]])
    tabs = work.operation.tabs
    spans = [(a, b, work.under_mm + h, tab.shape is TabShape.RAMPED) for (a, b, h), tab in
             zip(tab_spans(ring, solid, tabs, work.bit.radius_mm), tabs, strict=True) if work.under_mm + h > level + 1e-9]
    if not spans or solid.floor_mm is not None or work.operation.school is not School.TABS:
        return closed, np.full(len(closed), level)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    total = along[-1]
    slope = math.tan(math.radians(figures()["tab"]["ramp_deg"]))
    known = []  # breaks of the height along the ring, per tab, and the same one ring further and back
    for a, b, top, ramped in spans:
        run = (top - level) / slope if ramped else 0.0
        known += [(a + turn, b + turn, top, run) for turn in (-total, 0.0, total)]
    cuts = sorted({0.0, total, *(s for a, b, _, run in known for s in (a - run, a, b, b + run) if 0.0 < s < total)})

    def heights_at(s: np.ndarray) -> np.ndarray:
        out = np.full(len(s), level)
        for a, b, top, run in known:
            beside = np.maximum(np.maximum(a - s, s - b), 0.0)
            out = np.maximum(out, np.where(beside <= 1e-9, top, level) if run == 0 else top - beside * slope)
        return out

    points, heights = [], []
    for s0, s1 in zip(cuts[:-1], cuts[1:], strict=True):
        if s1 - s0 < 1e-9:
            continue
        stops = np.concatenate([[s0], along[(along > s0 + 1e-9) & (along < s1 - 1e-9)], [s1]])
        points.append(np.column_stack([np.interp(stops, along, closed[:, 0]), np.interp(stops, along, closed[:, 1])]))
        inner = np.clip(stops, s0 + 1e-7 * (s1 - s0), s1 - 1e-7 * (s1 - s0))
        heights.append(heights_at(inner))
    return np.vstack(points), np.concatenate(heights)


def _ride(path: PathBuilder, work: Work, points: np.ndarray, heights: np.ndarray, kind: MoveKind) -> None:
    settings = work.operation.settings
    for (x, y), z in zip(points, heights, strict=True):
        at = path.at
        if abs(x - at[0]) < 1e-7 and abs(y - at[1]) < 1e-7:
            path.to(x, y, z, MoveKind.PLUNGE if z < at[2] else kind,
                    settings.plunge_mm_min if z < at[2] else settings.feed_mm_min)
        else:
            path.to(x, y, z, kind, settings.feed_mm_min)


def _passes(path: PathBuilder, work: Work, solid: Solid, ring: np.ndarray, heights: list[float]) -> None:
    ring = _away_from_tabs(ring, solid, work)
    path.rapid(z_mm=work.clear_mm)
    above, first = work.start_mm, True
    tab_top = max([work.under_mm + t.height_mm for t in work.operation.tabs], default=-1e9)
    for level in heights:
        if level >= tab_top or solid.floor_mm is not None or not work.operation.tabs or work.operation.school is not School.TABS:
            ring = enter_along_ring(path, work, ring, above, level, above=first)
        else:  # a ramp along the ring would cut the tabs away: down at the start, which lies between tabs
            path.rapid(*ring[0]) if first else None
            path.to(*ring[0], level, MoveKind.PLUNGE, work.operation.settings.plunge_mm_min)
        points, zs = _with_tabs(ring, level, solid, work)
        _ride(path, work, points, zs, MoveKind.CUT)
        above, first = level, False
        if path.at[2] > level + 1e-9:
            path.to(path.at[0], path.at[1], level, MoveKind.PLUNGE, work.operation.settings.plunge_mm_min)
    path.rapid(z_mm=work.clear_mm)


def _away_from_tabs(ring: np.ndarray, solid: Solid, work: Work) -> np.ndarray:
    """Return the ring starting half way between two tabs."""
    tabs = sorted(t.at for t in work.operation.tabs)
    if not tabs:
        return ring
    gaps = [((b - a) % 1.0 or 1.0, a) for a, b in zip(tabs, tabs[1:] + tabs[:1], strict=True)]
    gap, after = max(gaps)
    point = _edge_near(solid, shapely.LinearRing(ring)).interpolate((after + gap / 2) % 1.0, normalized=True)
    return rolled_to(ring, point.x, point.y)


def _finish(path: PathBuilder, work: Work, solid: Solid, ring: np.ndarray, floor: float) -> None:
    op = work.operation
    ring = _away_from_tabs(ring, solid, work)
    outside = op.side is Side.OUTSIDE
    free = shapely.box(*shapely.LinearRing(ring).buffer(50).bounds).difference(shapely.Polygon(ring)) if outside \
        else shapely.Polygon(ring)
    kerf = free.intersection(shapely.LinearRing(ring).buffer(max(op.finish_allowance_mm, 0.05)))
    ccw = shapely.LinearRing(ring).is_ccw
    on, off = lead_arcs(ring, kerf, work.bit.radius_mm, left=ccw != outside)
    for level in finish_levels(work, floor):
        path.rapid(z_mm=work.clear_mm)
        path.rapid(*on[0])
        path.rapid(z_mm=work.start_mm + 0.5)
        path.to(*on[0], level, MoveKind.PLUNGE, op.settings.plunge_mm_min)
        path.along(on[1:], level, MoveKind.FINISH, op.settings.feed_mm_min)
        points, zs = _with_tabs(ring, level, solid, work)
        _ride(path, work, points, zs, MoveKind.FINISH)
        path.along(off[1:], path.at[2], MoveKind.FINISH, op.settings.feed_mm_min)
    path.rapid(z_mm=work.clear_mm)
