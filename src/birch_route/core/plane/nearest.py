"""Nearest places on outlines, for many points at once."""

from __future__ import annotations

import math

import numba as nb
import numpy as np
import shapely


def feet(lines: shapely.Geometry, points: np.ndarray) -> np.ndarray:
    """Return the place on lines nearest to each point, mm.

    Args:
        lines: a line, a ring, or several.
        points: float [n, 2].

    Returns:
        float64 [n, 2].
    """
    parts = shapely.get_parts(lines)
    coords, owner = shapely.get_coordinates(parts, return_index=True)
    whole = owner[1:] == owner[:-1]
    out = np.empty((len(points), 2))
    _feet(np.ascontiguousarray(coords[:-1][whole]), np.ascontiguousarray(coords[1:][whole]), np.ascontiguousarray(points, dtype=np.float64), out)
    return out


def away(lines: shapely.Geometry, points: np.ndarray) -> np.ndarray:
    """Return how far each point [n, 2] lies from lines, mm, float64 [n]."""
    return np.hypot(*(feet(lines, points) - points).T)


@nb.njit(cache=True, nogil=True)
def _feet(a, b, points, out):
    """Fill out with the nearest places on segments a to b; the segment nearest to the point before bounds the search."""
    last = 0
    for k in range(len(points)):
        px, py = points[k, 0], points[k, 1]
        best = math.inf
        for first in range(-1, len(a)):
            n = last if first < 0 else first
            ax, ay, bx, by = a[n, 0], a[n, 1], b[n, 0], b[n, 1]
            dx = max(min(ax, bx) - px, 0.0, px - max(ax, bx))
            dy = max(min(ay, by) - py, 0.0, py - max(ay, by))
            if dx * dx + dy * dy >= best:
                continue
            ux, uy = bx - ax, by - ay
            square = ux * ux + uy * uy
            t = 0.0 if square == 0.0 else min(1.0, max(0.0, ((px - ax) * ux + (py - ay) * uy) / square))
            x, y = ax + t * ux, ay + t * uy
            d = (x - px) ** 2 + (y - py) ** 2
            if d < best:
                best, last = d, n
                out[k, 0], out[k, 1] = x, y
