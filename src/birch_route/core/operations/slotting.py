"""Fret slots: to and fro along each, going down along the way, without lifting inside it."""

from __future__ import annotations

import math

import numpy as np

from ..fretboard.surfaces import SlotFloors
from ..fretboard.ways import sideways, too_wide
from ..instrument.resolve import Solid
from ..motion.toolpath import PathBuilder
from ..vocabulary import MoveKind
from .base import LIFT_MM, Problem, Work

ALONG_MM = 2.0  # between points where a floor follows the face
BESIDE_MM = 4.0  # beside the board the bit goes down to its next pass along so much, where only waste stands


def slots(path: PathBuilder, work: Work, solid: Solid) -> list[Problem]:
    """Cut every slot of a board in its order; the bit starts and ends at the clearance height."""
    floors = solid.surface
    assert isinstance(floors, SlotFloors)
    cuts = work.bit.cut_diameter_mm + work.runs_out_mm
    if too_wide(floors, cuts):
        x, y = floors.ways[0][0]
        widths = {"bit_mm": cuts, "width_mm": floors.width_mm}
        return [Problem("feature.bit_too_wide", solid.id, x, y, widths)]
    for number in range(len(floors.ways)):
        for away in sideways(floors, cuts):
            _slot(path, work, floors, number, away)
    path.rapid(z_mm=work.clear_mm)
    return []


def _slot(path: PathBuilder, work: Work, floors: SlotFloors, number: int, away: float) -> None:
    """Go down to the floor in passes to and fro: beside the board, or along the whole of a slot that ends inside it."""
    op = work.operation
    way, z, outside = _way(work, floors, number, away)
    top = np.maximum(_top(work, floors, way), z)
    deep = float((top - z).max())
    count = max(1, math.ceil(deep / op.settings.depth_of_cut_mm - 1e-9))
    if floors.blind:  # where it turns round it meets what two passes go down
        count = max(1, math.ceil(2 * deep / op.settings.depth_of_cut_mm - 1e-9))
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(way, axis=0).T))])
    path.rapid(z_mm=work.clear_mm)
    path.rapid(*way[0])
    path.rapid(z_mm=float(top[0]) + LIFT_MM)
    x, y = way[0]
    path.to(float(x), float(y), float(top[0]), MoveKind.PLUNGE, op.settings.plunge_mm_min)
    for k in range(count + 1):
        forward = k % 2 == 0
        far = along if forward else along[-1] - along
        done = _done(far, along[-1], outside, k, count)
        heights = top - (top - z) * done
        points, heights = (way, heights) if forward else (way[::-1], heights[::-1])
        path.along(points[1:], heights[1:], MoveKind.CUT, op.settings.feed_mm_min)


def _done(far: np.ndarray, long: float, outside: float, k: int, count: int) -> np.ndarray:
    """Return the part of the depth that pass k of count, or the last one, stands at, so far from where it begins.

    Beside the board each pass begins where the one before it ended there, and ends half a pass deeper: so it nowhere
    takes more than one pass at once.
    """
    if outside == 0.0:  # blind: down along the whole way, the last pass level
        return np.minimum(k + far / long, count) / count
    level, begun, ends = min(k + 1, count), min(k / 2, count), min((k + 1) / 2, count)
    down = begun + (level - begun) * np.minimum(far / outside, 1.0)
    up = ends + (level - ends) * np.minimum((long - far) / outside, 1.0)
    return np.minimum(down, up) / count


def _way(work: Work, floors: SlotFloors, number: int, away: float) -> tuple[np.ndarray, np.ndarray, float]:
    """Return the bit's way through one slot [n, 2], its tip's height on the floor there, and how far the way lies
    beside the board at each end; a blind slot's way is its middle line."""
    a, b = (np.array(p) for p in floors.ways[number])
    long = float(np.hypot(*(b - a)))
    u = (b - a) / long
    radius = work.bit.radius_mm
    over, outside = (0.0, 0.0) if floors.blind else (radius + BESIDE_MM, BESIDE_MM)
    level = bool(floors.flat) and not work.rounded
    inner = np.linspace(-over + outside, long + over - outside, 2 if level else math.ceil(long / ALONG_MM) + 1)
    s = inner if floors.blind else np.concatenate([[-over], inner, [long + over]])
    way = a + s[:, None] * u + away * np.array([-u[1], u[0]])
    deep = np.full(len(s), np.inf)
    for beside in np.linspace(-radius, radius, 5):  # it stands level and cuts as deep as the highest floor under it
        inside = a + np.clip(s + beside, 0.0, long)[:, None] * u
        deep = np.minimum(deep, floors.floor(number, inside[:, 0], inside[:, 1]))
    return way, -deep + work.operation.floor_to_leave_mm, outside


def _top(work: Work, floors: SlotFloors, way: np.ndarray) -> np.ndarray:
    """Return the wood's height along a way: flat before the radius, along the face after it."""
    if not work.rounded:
        return np.full(len(way), work.start_mm)
    return -floors.face.depth(way[:, 0], way[:, 1])
