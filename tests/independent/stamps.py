"""The second simulator's own loops, compiled: a bit stamped along a segment, the highest wood beside one.

Every cell near a segment is asked for its plan distance to it and for the bit's height there; nothing is taken over
from the product, which sweeps rows and tables.
"""

from __future__ import annotations

import math

import numba
import numpy as np

FORMS = {"flat": 0, "ball": 1, "v": 2, "drill": 2, "bull": 3, "round": 4, "taper": 5}


def form_of(bit: dict) -> tuple[int, float, float, float, float]:
    """Return form, radius, corner radius, tip radius and height per distance of a bit, mm."""
    radius = (bit["measured_diameter_mm"] or bit["diameter_mm"]) / 2
    form = FORMS.get(bit["form"], 0)
    slope = 1 / math.tan(math.radians(bit["included_angle_deg"] / 2)) if form in (2, 5) else 0.0
    if form == 5:  # its diameter is the ball's; it is widest where its edges end
        lean = math.atan(1 / slope)
        high = bit["cutting_length_mm"] - radius * (1 - math.sin(lean))
        return form, radius * math.cos(lean) + max(high, 0.0) / slope, radius, 0.0, slope
    return form, radius, bit["corner_radius_mm"] or 0.0, (bit["tip_diameter_mm"] or 0.0) / 2, slope


@numba.njit(cache=True)
def _height(form, radius, corner, tip, slope, r):
    """Return the height of a bit's surface above its tip at distance r, which is within its radius."""
    if form == 1:
        return radius - math.sqrt(max(radius * radius - r * r, 0.0))
    if form == 2:
        return max(r - tip, 0.0) * slope
    if form == 3:
        over = max(r - (radius - corner), 0.0)
        return corner - math.sqrt(max(corner * corner - over * over, 0.0))
    if form == 5:
        cone = slope * r + corner - corner * math.sqrt(1 + slope * slope)  # the line that touches the ball
        if r * math.sqrt(1 + slope * slope) > corner * slope:
            return cone
        return corner - math.sqrt(max(corner * corner - r * r, 0.0))
    if form == 4:
        left = corner - min(max(r - tip, 0.0), corner)
        return math.sqrt(max(corner * corner - left * left, 0.0))
    return 0.0


@numba.njit(cache=True)
def _distance(x, y, ax, ay, dx, dy, length2):
    t = 0.0
    if length2 > 0:
        t = min(max(((x - ax) * dx + (y - ay) * dy) / length2, 0.0), 1.0)
    return math.hypot(x - ax - t * dx, y - ay - t * dy)


@numba.njit(cache=True)
def highest(top, bottom, x, y, a, b, radius):
    """Return the highest wood within a radius of a segment; minus infinity where there is none."""
    out = -math.inf
    dx, dy = b[0] - a[0], b[1] - a[1]
    for j in range(y.size):
        for i in range(x.size):
            if top[j, i] > bottom[j, i] and top[j, i] > out:
                if _distance(x[i], y[j], a[0], a[1], dx, dy, dx * dx + dy * dy) <= radius:
                    out = top[j, i]
    return out


@numba.njit(cache=True)
def lowest(top, x, y, a, b, pieces, form, radius, corner, tip, slope):
    """Return how low a bit along a segment comes over every cell, no higher than the wood stands."""
    out = top.copy()
    for k in range(pieces):
        p, q = a + (b - a) * k / pieces, a + (b - a) * (k + 1) / pieces
        dx, dy, low = q[0] - p[0], q[1] - p[1], min(p[2], q[2])
        length2 = dx * dx + dy * dy
        least_x, most_x = min(p[0], q[0]) - radius, max(p[0], q[0]) + radius
        least_y, most_y = min(p[1], q[1]) - radius, max(p[1], q[1]) + radius
        for j in range(np.searchsorted(y, least_y), y.size):
            if y[j] > most_y:
                break
            for i in range(np.searchsorted(x, least_x), x.size):
                if x[i] > most_x:
                    break
                if low < out[j, i]:
                    r = _distance(x[i], y[j], p[0], p[1], dx, dy, length2)
                    if r <= radius:
                        out[j, i] = min(out[j, i], low + _height(form, radius, corner, tip, slope, r))
    return out
