"""Channels along the rim: rounds from outside in until the wall stands, each in passes down, with the floor following the rim."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import LineString

from ..instrument.channels import ChannelFloor
from ..instrument.resolve import Solid
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round
from ..vocabulary import MoveKind
from .base import LIFT_MM, Problem, Work
from .pocketing import ring_of

ALONG_MM = 1.0  # between points where the rim rises and falls


def channel(path: PathBuilder, work: Work, solid: Solid) -> list[Problem]:
    """Cut one channel; the bit starts and ends at the clearance height."""
    floor, op, radius = solid.surface, work.operation, work.bit.radius_mm
    assert isinstance(floor, ChannelFloor)
    core = floor.core
    if core.is_empty:
        point = solid.region.representative_point()
        return [Problem("feature.bit_too_wide", solid.id, point.x, point.y, {"bit_mm": work.bit.cut_diameter_mm, "width_mm": floor.width_mm})]
    allowance = op.finish_allowance_mm if op.finish_pass else 0.0
    wall = radius + op.stock_to_leave_mm
    rounds = [wall + allowance + k * op.settings.stepover_mm for k in range(rounds_for(floor.width_mm - allowance, radius, op.settings.stepover_mm))]
    for away in reversed(rounds):
        for ring in ring_of(buffer_round(core, away), op.direction, wood_outside=False):
            _down(path, work, floor, ring)
    if op.finish_pass:
        for ring in ring_of(buffer_round(core, wall), op.direction, wood_outside=False):
            points, tips = _way(floor, ring, radius)
            path.rapid(z_mm=work.clear_mm)
            path.rapid(*points[0])
            path.rapid(z_mm=work.start_mm + LIFT_MM)
            path.to(*points[0], float(tips[0]), MoveKind.PLUNGE, op.settings.plunge_mm_min)
            path.along(points[1:], tips[1:], MoveKind.FINISH, op.settings.feed_mm_min)
    path.rapid(z_mm=work.clear_mm)
    return []


def rounds_for(width_mm: float, radius_mm: float, stepover_mm: float) -> int:
    """Return how many rounds a bit needs for a ledge: one takes its diameter, each further one a stepover."""
    return 1 + max(0, math.ceil((width_mm - 2 * radius_mm) / stepover_mm - 1e-9))


def out_of_reach(floor: ChannelFloor, radius_mm: float) -> shapely.Geometry:
    """Return what a round bit cannot reach of a channel: hollows of the wall tighter than its radius."""
    core = floor.core
    return buffer_round(buffer_round(core, radius_mm), -radius_mm).difference(core)


def _way(floor: ChannelFloor, ring: np.ndarray, radius_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """Return a closed way [n, 2] and the tip's height along it."""
    closed = np.vstack([ring, ring[:1]])
    if not floor.is_level:
        closed = shapely.get_coordinates(shapely.segmentize(LineString(closed), ALONG_MM))
        return closed, floor.lowest_tip(closed, radius_mm)
    return closed, np.full(len(closed), -floor.deepest_mm)


def _down(path: PathBuilder, work: Work, floor: ChannelFloor, ring: np.ndarray) -> None:
    """Go round at every level; down to each along the way, which is then closed."""
    op = work.operation
    points, tips = _way(floor, ring, work.bit.radius_mm)
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points, axis=0).T))])
    total, slope = float(along[-1]), math.tan(math.radians(op.ramp_deg))
    top = work.start_mm
    count = max(1, math.ceil((top - float(tips.min())) / op.settings.depth_of_cut_mm - 1e-9))
    begin = top + LIFT_MM
    for k in range(count):
        level = np.maximum(tips, top - (top - float(tips.min())) * (k + 1) / count)
        s = np.unique(np.concatenate([along, np.minimum((begin - level) / slope, total)]))
        s = np.concatenate([s, total + along[1:]])
        z = np.maximum(np.interp(s % total, along, level), begin - slope * s)
        z[s >= total - 1e-9] = np.interp(s[s >= total - 1e-9] % total, along, level)
        way = np.column_stack([np.interp(s % total, along, points[:, i]) for i in (0, 1)])
        path.rapid(z_mm=work.clear_mm)
        path.rapid(*way[0])
        path.rapid(z_mm=begin)
        ramp = s[1:] <= (begin - float(level.min())) / slope + 1e-9
        last = int(ramp.sum())
        path.along(way[1: last + 1], z[1: last + 1], MoveKind.ENTRY, op.settings.feed_mm_min)
        end = int(np.searchsorted(s, s[last] + total)) + 1
        path.along(way[last + 1: end], z[last + 1: end], MoveKind.CUT, op.settings.feed_mm_min)

