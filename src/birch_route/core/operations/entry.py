"""Getting the bit down into the wood: helix where it fits, a ramp along the ring otherwise, a plunge last."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..data import figures
from ..motion.toolpath import PathBuilder
from ..vocabulary import Direction, Entry, MoveKind
from .base import LIFT_MM, Work

LEAST_HELIX_PART = 0.12  # of the bit's diameter; a tighter helix is a plunge
CHORD_MM = 0.01


def circle_points(cx: float, cy: float, radius: float, first_rad: float, turns: float) -> np.ndarray:
    """Return points [n, 2] along `turns` of a circle (negative: clockwise), both ends included."""
    step = 2 * math.acos(max(0.5, 1 - CHORD_MM / max(radius, CHORD_MM)))
    count = max(8, math.ceil(abs(turns) * 2 * math.pi / step))
    angles = first_rad + np.linspace(0, turns * 2 * math.pi, count + 1)
    return np.column_stack([cx + radius * np.cos(angles), cy + radius * np.sin(angles)])


def helix_place(free: Polygon, inner: Polygon, diameter_mm: float) -> tuple[float, float, float] | None:
    """Return centre and radius of a helix of the bit's centre inside `free`, near the middle of `inner`."""
    circle = shapely.maximum_inscribed_circle(inner, tolerance=0.1) if inner.area > 1e-6 else None
    if circle is None:
        return None
    middle = shapely.Point(circle.coords[0])
    room = free.exterior.distance(middle)
    for hole in free.interiors:
        room = min(room, hole.distance(middle))
    radius = min(figures()["entry"]["helix_radius_part"] * diameter_mm, room - 1e-3)
    if radius < LEAST_HELIX_PART * diameter_mm:
        return None
    return middle.x, middle.y, radius


def enter_by_helix(path: PathBuilder, work: Work, place: tuple[float, float, float], top_mm: float, floor_mm: float) -> None:
    """Spiral down from just above top_mm to floor_mm, then once round at the floor."""
    cx, cy, radius = place
    settings, op = work.operation.settings, work.operation
    sense = 1.0 if op.direction is Direction.CLIMB else -1.0
    pitch = max(0.05, min(2 * math.pi * radius * math.tan(math.radians(op.ramp_deg)), settings.depth_of_cut_mm))
    begin = top_mm + LIFT_MM
    turns = max(1.0, math.ceil((begin - floor_mm) / pitch))
    path.rapid(cx + radius, cy)
    path.rapid(z_mm=begin)
    down = circle_points(cx, cy, radius, 0.0, sense * turns)
    path.along(down[1:], np.linspace(begin, floor_mm, len(down))[1:], MoveKind.ENTRY, settings.feed_mm_min)
    path.along(circle_points(cx, cy, radius, 0.0, sense)[1:], floor_mm, MoveKind.CUT, settings.feed_mm_min)


def enter_along_ring(path: PathBuilder, work: Work, ring: np.ndarray, top_mm: float, floor_mm: float,
                     *, above: bool) -> np.ndarray:
    """Go down to floor_mm along a closed ring; return the ring rolled to where the bit arrived.

    above: the bit comes from the clearance height; else it is already at ring[0] at top_mm.
    """
    op = work.operation
    begin = top_mm + (LIFT_MM if above else 0.0)
    if above:
        path.rapid(*ring[0])
        path.rapid(z_mm=begin)
    drop = begin - floor_mm
    run = drop / math.tan(math.radians(op.ramp_deg))
    closed = np.vstack([ring, ring[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    total = along[-1]
    if op.entry is Entry.PLUNGE or total < work.bit.cut_diameter_mm * 0.3 or run > 60 * total:
        path.to(*ring[0], floor_mm, MoveKind.PLUNGE, op.settings.plunge_mm_min)
        return ring
    done = 0.0
    index = 0
    while done < run - 1e-9:
        k = index % len(ring)
        piece = along[k + 1] - along[k]
        step = min(piece, run - done)
        t = step / piece if piece > 1e-12 else 1.0
        x, y = closed[k] + t * (closed[k + 1] - closed[k])
        done += step
        path.to(x, y, begin - drop * done / run, MoveKind.ENTRY, op.settings.feed_mm_min)
        if step >= piece - 1e-12:
            index += 1
    x, y, _ = path.at
    if run % total < 1e-9:
        return np.roll(ring, -(index % len(ring)), axis=0)
    k = index % len(ring)
    rest = np.roll(ring, -((k + 1) % len(ring)), axis=0)
    if np.hypot(*(ring[k] - [x, y])) < 1e-6:
        return np.roll(ring, -k, axis=0)
    return np.vstack([[x, y], rest])
