"""Kernels over the form of a bit: its height at a distance from its axis, and over a place beside a segment it moves along. All lengths mm.

Whoever changes them clears the caches of compiled code: what kernels.py compiled does not see it.
"""

from __future__ import annotations

import math

import numba as nb

FLAT, BALL, BULL, CONE, ROUND, TAPER = 0, 1, 2, 3, 4, 5


@nb.njit(cache=True, nogil=True, inline="always")
def profile(form, r, radius, corner, tip, slope):
    if form == BALL:
        return radius - math.sqrt(max(0.0, radius * radius - r * r))
    if form == BULL:
        over = max(0.0, r - (radius - corner))
        return corner - math.sqrt(max(0.0, corner * corner - over * over))
    if form == CONE:
        return max(0.0, r - tip) / slope
    if form == TAPER:  # corner: the ball's radius; the cone touches it where its side leans as the cone does
        lean = math.sqrt(1.0 + slope * slope)
        if r > corner / lean:
            return corner - corner * slope / lean + (r - corner / lean) / slope
        return corner - math.sqrt(max(0.0, corner * corner - r * r))
    if form == ROUND:
        over = min(max(0.0, r - tip), corner)
        return math.sqrt(max(0.0, corner * corner - (corner - over) * (corner - over)))
    return 0.0


@nb.njit(cache=True, nogil=True)
def least(form, along, across, length, za, m, radius, corner, tip, slope):
    """Return the least height of the bit over a point at `along`, `across` of a segment that climbs m per mm.

    The bit's centre must lie within the radius of the point; returns infinity where it never does.
    """
    reach2 = radius * radius - across * across
    if reach2 < 0.0:
        return 1e30
    reach = math.sqrt(reach2)
    lo, hi = max(0.0, along - reach), min(length, along + reach)
    if lo > hi:
        return 1e30
    best = 1e30
    for s in (lo, hi):
        r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
        best = min(best, za + m * s + profile(form, r, radius, corner, tip, slope))
    if form == BALL:
        u = -m * reach / math.sqrt(1.0 + m * m)
        s = min(max(along + u, lo), hi)
        r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
        best = min(best, za + m * s + profile(form, r, radius, corner, tip, slope))
    elif form == CONE:
        g = m * slope
        if abs(g) < 1.0:
            s = min(max(along - g * abs(across) / math.sqrt(1.0 - g * g), lo), hi)
            r = math.sqrt((s - along) ** 2 + across * across)
            best = min(best, za + m * s + profile(form, r, radius, corner, tip, slope))
        if tip > abs(across):
            half = math.sqrt(tip * tip - across * across)
            for u in (-half, half):
                s = min(max(along + u, lo), hi)
                r = math.sqrt((s - along) ** 2 + across * across)
                best = min(best, za + m * s + profile(form, r, radius, corner, tip, slope))
    elif form == ROUND:  # hollow: level moves are lowest at the nearest place; sloping ones are looked at in steps
        s = min(max(along, lo), hi)
        half = math.sqrt(max(0.0, tip * tip - across * across))
        found, where = 1e30, s
        steps = min(32, 4 + int((hi - lo) / 0.06))
        for k in range(-3, steps + 1 if m != 0.0 else -2):
            if k >= 0:
                s = lo + (hi - lo) * k / steps
            elif k > -3:
                s = min(max(along + half * (2 * k + 3), lo), hi)  # where the tip's rim passes
            r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
            z = za + m * s + profile(form, r, radius, corner, tip, slope)
            if z < found:
                found, where = z, s
        if m != 0.0:
            p, q = max(lo, where - (hi - lo) / steps), min(hi, where + (hi - lo) / steps)
            while q - p > 2e-4:  # ternary search between the neighbours of the lowest step
                s1, s2 = p + (q - p) / 3, q - (q - p) / 3
                r1 = math.sqrt(min(radius * radius, (s1 - along) ** 2 + across * across))
                r2 = math.sqrt(min(radius * radius, (s2 - along) ** 2 + across * across))
                z1, z2 = za + m * s1 + profile(form, r1, radius, corner, tip, slope), za + m * s2 + profile(form, r2, radius, corner, tip, slope)
                found = min(found, z1, z2)
                if z1 < z2:
                    q = s2
                else:
                    p = s1
        best = min(best, found)
    elif form == BULL or form == TAPER:
        p, q = lo, hi
        while q - p > 1e-6:  # ternary search on a convex function
            s1, s2 = p + (q - p) / 3, q - (q - p) / 3
            r1 = math.sqrt((s1 - along) ** 2 + across * across)
            r2 = math.sqrt((s2 - along) ** 2 + across * across)
            if m * s1 + profile(form, r1, radius, corner, tip, slope) < m * s2 + profile(form, r2, radius, corner, tip, slope):
                q = s2
            else:
                p = s1
        s = 0.5 * (p + q)
        r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
        best = min(best, za + m * s + profile(form, r, radius, corner, tip, slope))
    return best
