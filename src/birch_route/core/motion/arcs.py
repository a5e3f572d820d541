"""Arcs found again in runs of short straight moves, so that programs are short and machines run smoothly."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numba as nb
import numpy as np

FIT_MM = 0.003
LEAST_POINTS = 4
GREATEST_RADIUS_MM = 2000.0


@dataclass(frozen=True)
class Arc:
    """Moves first..last (exclusive) as one arc in the xy plane about cx, cy; z runs in proportion to the sweep."""

    first: int
    last: int
    cx: float
    cy: float
    clockwise: bool


def fit_arcs(points: np.ndarray, allowed: np.ndarray, groups: np.ndarray) -> list[Arc]:
    """Return the arcs in a path, greedily, longest first from each move on.

    Args:
        points: float64 [n + 1, 3].
        allowed: bool [n]; moves that may join an arc (cutting moves).
        groups: int [n]; only moves of equal group (same feed and kind) are joined.

    Returns:
        arcs that do not overlap, each at most half a turn, every point within FIT_MM of its circle and the chords
        within 3 FIT_MM of the arc.
    """
    spans, centres = _greedy(np.ascontiguousarray(points), allowed, groups.astype(np.int64))
    return [Arc(int(a), int(b), float(x), float(y), bool(w)) for (a, b, w), (x, y) in zip(spans, centres, strict=True)]


@nb.njit(cache=True, nogil=True)
def _greedy(points, allowed, groups):
    n = len(allowed)
    spans = np.empty((n, 3), np.int64)
    centres = np.empty((n, 2))
    count, i = 0, 0
    while i < n - LEAST_POINTS + 2:
        if not allowed[i]:
            i += 1
            continue
        last = i + LEAST_POINTS - 1
        found = False
        while last <= n and allowed[last - 1] and groups[last - 1] == groups[i]:
            ok, cx, cy, clockwise = _fit(points, i, last)
            if not ok:
                break
            found = True
            spans[count, 0], spans[count, 1], spans[count, 2] = i, last, clockwise
            centres[count, 0], centres[count, 1] = cx, cy
            last += 1
        if found:
            i = spans[count, 1]
            count += 1
        else:
            i += 1
    return spans[:count], centres[:count]


@nb.njit(cache=True, nogil=True)
def _fit(points, first, last):
    """Fit a circle through first, middle and last point and check every point, chord, turn and height against it."""
    m = (first + last + 1) // 2
    ax, ay = points[first, 0], points[first, 1]
    bx, by = points[m, 0] - ax, points[m, 1] - ay
    cx, cy = points[last, 0] - ax, points[last, 1] - ay
    d = 2 * (bx * cy - by * cx)
    if abs(d) < 1e-9:
        return False, 0.0, 0.0, 0
    bb, cc = bx * bx + by * by, cx * cx + cy * cy
    ox, oy = ax + (cy * bb - by * cc) / d, ay + (bx * cc - cx * bb) / d
    radius = math.hypot(ax - ox, ay - oy)
    if radius > GREATEST_RADIUS_MM or radius < 0.05:
        return False, 0.0, 0.0, 0
    sweep, sense = 0.0, 0
    for k in range(first, last):
        x0, y0 = points[k, 0] - ox, points[k, 1] - oy
        x1, y1 = points[k + 1, 0] - ox, points[k + 1, 1] - oy
        if abs(math.hypot(x1, y1) - radius) > FIT_MM or radius - math.hypot((x0 + x1) / 2, (y0 + y1) / 2) > 3 * FIT_MM:
            return False, 0.0, 0.0, 0
        turn = math.atan2(x0 * y1 - y0 * x1, x0 * x1 + y0 * y1)
        if abs(turn) < 1e-9:
            return False, 0.0, 0.0, 0
        way = 1 if turn > 0 else -1
        if sense == 0:
            sense = way
        elif way != sense:
            return False, 0.0, 0.0, 0
        sweep += turn
    if abs(sweep) > math.pi:
        return False, 0.0, 0.0, 0
    done, z0, rise = 0.0, points[first, 2], points[last, 2] - points[first, 2]
    for k in range(first, last):
        x0, y0 = points[k, 0] - ox, points[k, 1] - oy
        x1, y1 = points[k + 1, 0] - ox, points[k + 1, 1] - oy
        done += math.atan2(x0 * y1 - y0 * x1, x0 * x1 + y0 * y1)
        if abs(points[k + 1, 2] - (z0 + rise * done / sweep)) > FIT_MM:
            return False, 0.0, 0.0, 0
    return True, ox, oy, 1 if sense < 0 else 0
