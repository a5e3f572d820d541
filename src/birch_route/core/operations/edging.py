"""Edges: a bit of the edge's own form runs along the rim, outside it, in passes; it stops short of what stays sharp."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.ops import substring

from ..bits.model import Bit
from ..instrument.rims import Rim, offset_mm
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round, polygons
from ..vocabulary import BitForm, Direction, EdgeKind, MoveKind
from .base import LIFT_MM, Made, Problem, Work, levels

BELOW_MM = 0.4  # a V goes so much deeper, so that its point runs beside the rim, not on it
SAME_MM, SAME_DEG = 0.05, 0.5  # a bit's form and an edge's agree within this


def fits_edge(bit: Bit, rim: Rim) -> bool:
    """Say whether a bit makes an edge: a radius of the same size, or a V of the bevel's angle that reaches across it."""
    if rim.kind is EdgeKind.ROUND:
        return bit.form is BitForm.ROUND and abs(bit.corner_radius_mm - rim.size_mm) <= SAME_MM
    half = bit.included_angle_deg / 2
    reach = (bit.cut_diameter_mm - bit.tip_diameter_mm) / 2
    return bit.form is BitForm.V and abs(90.0 - half - rim.angle_deg) <= SAME_DEG and reach >= rim.size_mm + BELOW_MM / math.tan(math.radians(rim.angle_deg))


def edge(work: Work) -> Made:
    """Return the toolpath along every stretch of a rim that is not kept sharp."""
    rim = work.rim
    path = PathBuilder(0.0, 0.0, work.clear_mm)
    if rim is None or not rim.lines:
        return Made(path.done())
    if not fits_edge(work.bit, rim):
        x, y = rim.lines[0][0]
        return Made(path.done(), [Problem("edge.bit_form", rim.edge, float(x), float(y), {"size_mm": rim.size_mm, "angle_deg": rim.angle_deg})])
    below = 0.0 if rim.kind is EdgeKind.ROUND else BELOW_MM
    away = offset_mm(rim, work.bit.tip_diameter_mm / 2, below)
    floor = -rim.down_mm - below + work.operation.floor_to_leave_mm
    for line in ways_along(rim, away, fade_mm(work.bit, rim, away)):
        run = line if (work.operation.direction is Direction.CONVENTIONAL) == rim.is_outline else line[::-1]  # rims run counter-clockwise: climb goes the other way outside
        _passes(path, work, run, levels(work.start_mm, floor, work.operation.settings.depth_of_cut_mm))
    path.rapid(z_mm=work.clear_mm)
    return Made(path.done())


def fade_mm(bit: Bit, rim: Rim, away_mm: float) -> float:
    """Return how far along the rim the bit touches wood beyond where its axis stops.

    Source: the bit as wide as it is at the face, its axis `away` from the rim.
    """
    wide = away_mm + rim.size_mm
    return math.sqrt(max(0.0, min(wide, bit.radius_mm) ** 2 - away_mm**2))


def ways_along(rim: Rim, away_mm: float, fade: float) -> list[np.ndarray]:
    """Return the ways of the bit's axis [n, 2] beside the rim; one that goes all round repeats its first point."""
    beside = buffer_round(rim.region, away_mm if rim.is_outline else -away_mm)
    out = []
    for line in rim.lines:
        if not len(line) or beside.is_empty:
            continue
        part = min(polygons(beside), key=lambda p: p.exterior.distance(LineString(line)))
        ring = LineString(part.exterior.coords if shapely.LinearRing(part.exterior.coords).is_ccw else part.exterior.coords[::-1])
        whole = LineString(line)
        if np.allclose(line[0], line[-1]):
            out.append(np.asarray(ring.coords))
            continue
        if whole.length <= 2 * fade + 1.0:
            continue
        first, last = (ring.project(whole.interpolate(s)) for s in (fade, whole.length - fade))
        if last < first:
            parts = [substring(ring, first, ring.length), substring(ring, 0.0, last)]
            out.append(np.vstack([np.asarray(parts[0].coords), np.asarray(parts[1].coords)[1:]]))
        else:
            out.append(np.asarray(substring(ring, first, last).coords))
    return out


def _passes(path: PathBuilder, work: Work, line: np.ndarray, heights: list[float]) -> None:
    """Cut along a line at every height; down by a ramp that runs along it and back."""
    op, above = work.operation, work.start_mm
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(line, axis=0).T))])
    for level in heights:
        begin = above + LIFT_MM
        path.rapid(z_mm=work.clear_mm)
        path.rapid(*line[0])
        path.rapid(z_mm=begin)
        reach = min(along[-1], (begin - level) / math.tan(math.radians(op.ramp_deg)) / 2)
        there = np.concatenate([along[along < reach - 1e-9], [reach]])
        s = np.concatenate([there, there[-2::-1]])
        far = np.concatenate([there, 2 * reach - there[-2::-1]])
        way = np.column_stack([np.interp(s, along, line[:, 0]), np.interp(s, along, line[:, 1])])
        path.along(way[1:], (begin + (level - begin) * far / (2 * reach))[1:], MoveKind.ENTRY, op.settings.feed_mm_min)
        path.along(line[1:], level, MoveKind.CUT, op.settings.feed_mm_min)
        above = level
    path.rapid(z_mm=work.clear_mm)
