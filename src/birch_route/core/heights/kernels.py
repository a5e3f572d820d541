"""Numeric kernels that cut the wood: the exact lower envelope of a bit moving along straight segments.

Longer than the house rule allows elsewhere: splitting the inner loops costs more than it explains. All lengths mm.
`top` and `bottom` are float32 [ny, nx]; cell (j, i) has its centre at x0 + (i + 0.5) cell, y0 + (j + 0.5) cell.

Flat bits moving level visit only the cells the disc newly sweeps: the capsule of the segment less the disc at its
start, which the segment before has already cut (the row intervals are closed forms). Everything else evaluates the
convex height of the bit over the segment at its closed-form least place.
"""

from __future__ import annotations

import math

import numba as nb
import numpy as np

FLAT, BALL, BULL, CONE, ROUND = 0, 1, 2, 3, 4
# columns of the metrics array, one row per move
VOLUME, DEPTH, REACH, NUT, RAPID_HIT, BELOW, HEADS = 0, 1, 2, 3, 4, 5, 6
METRICS = 8  # HEADS: two columns, in the order of the heads


@nb.njit(cache=True, nogil=True, inline="always")
def _along(ax, ay, bx, by):
    """Return length and direction of a segment in plan; direction 0, 0 where it stays in place."""
    dx, dy = bx - ax, by - ay
    length = math.sqrt(dx * dx + dy * dy)
    if length > 1e-12:
        return length, dx / length, dy / length
    return 0.0, 0.0, 0.0


@nb.njit(cache=True, nogil=True, inline="always")
def _span(ax, ay, bx, by, length, ux, uy, r, y):
    """Return the interval of x where the capsule a-b of radius r meets the row y; empty: lo > hi."""
    lo, hi = 1e30, -1e30
    d = y - ay
    r2 = r * r
    w2 = r2 - d * d
    if w2 >= 0.0:
        w = math.sqrt(w2)
        lo, hi = ax - w, ax + w
    if length > 0.0:
        e = y - by
        w2 = r2 - e * e
        if w2 >= 0.0:
            w = math.sqrt(w2)
            lo, hi = min(lo, bx - w), max(hi, bx + w)
        p0, p1 = -1e30, 1e30  # |cross| <= r and 0 <= along <= length, as limits on x
        c = d * ux  # cross = c - (x - ax) uy
        if abs(uy) > 1e-12:
            q0, q1 = ax + (c - r) / uy, ax + (c + r) / uy
            p0, p1 = min(q0, q1), max(q0, q1)
        elif abs(c) > r:
            p0, p1 = 1.0, 0.0
        s = d * uy  # along = s + (x - ax) ux
        if abs(ux) > 1e-12:
            q0, q1 = ax - s / ux, ax + (length - s) / ux
            p0, p1 = max(p0, min(q0, q1)), min(p1, max(q0, q1))
        elif s < 0.0 or s > length:
            p0, p1 = 1.0, 0.0
        if p0 <= p1:
            lo, hi = min(lo, p0), max(hi, p1)
    return lo, hi


@nb.njit(cache=True, nogil=True, inline="always")
def _first(x, x0, cell):
    return int(math.ceil((x - x0) / cell - 0.5 - 1e-9))


@nb.njit(cache=True, nogil=True, fastmath={"reassoc", "nsz", "contract", "nnan"})
def _lower(top, bottom, j, k0, k1, z):
    """Lower top[j, k0:k1] to z; return removed height (summed) and the deepest bite, both above the bottom.

    Not inlined by numba: that would give its loop the caller's strict arithmetic, and the sums would not vectorise.
    """
    total, deepest = np.float32(0.0), np.float32(0.0)
    for k in range(k0, k1):
        old, floor = top[j, k], bottom[j, k]
        keep = z if z > floor else floor
        bite = old - keep if old > keep else np.float32(0.0)
        total += bite
        deepest = bite if bite > deepest else deepest
        top[j, k] = z if z < old else old
    return total, deepest


@nb.njit(cache=True, nogil=True, fastmath={"reassoc", "nsz", "contract", "nnan"})
def _lower_on_flat(top, floor, j, k0, k1, z):
    """_lower over a level underside: half the memory to read."""
    total, deepest = np.float32(0.0), np.float32(0.0)
    keep = z if z > floor else floor
    for k in range(k0, k1):
        old = top[j, k]
        bite = old - keep if old > keep else np.float32(0.0)
        total += bite
        deepest = bite if bite > deepest else deepest
        top[j, k] = z if z < old else old
    return total, deepest


@nb.njit(cache=True, nogil=True, inline="always")
def _take(top, bottom, level, floor, j, k0, k1, z):
    return _lower_on_flat(top, floor, j, k0, k1, z) if level else _lower(top, bottom, j, k0, k1, z)


@nb.njit(cache=True, nogil=True)
def _highest(top, bottom, x0, y0, cell, ax, ay, bx, by, r):
    """Return the highest wood under a capsule."""
    ny, nx = top.shape
    best = -1e30
    length, ux, uy = _along(ax, ay, bx, by)
    j0 = max(0, _first(min(ay, by) - r, y0, cell))
    j1 = min(ny, _first(max(ay, by) + r, y0, cell) + 1)
    for j in range(j0, j1):
        lo, hi = _span(ax, ay, bx, by, length, ux, uy, r, y0 + (j + 0.5) * cell)
        if lo > hi:
            continue
        for i in range(max(0, _first(lo, x0, cell)), min(nx, int(math.floor((hi - x0) / cell - 0.5 + 1e-9)) + 1)):
            if top[j, i] > bottom[j, i]:
                best = max(best, top[j, i])
    return best


@nb.njit(cache=True, nogil=True, inline="always")
def _profile(form, r, radius, corner, tip, slope):
    if form == BALL:
        return radius - math.sqrt(max(0.0, radius * radius - r * r))
    if form == BULL:
        over = max(0.0, r - (radius - corner))
        return corner - math.sqrt(max(0.0, corner * corner - over * over))
    if form == CONE:
        return max(0.0, r - tip) / slope
    if form == ROUND:
        over = min(max(0.0, r - tip), corner)
        return math.sqrt(max(0.0, corner * corner - (corner - over) * (corner - over)))
    return 0.0


@nb.njit(cache=True, nogil=True)
def _least(form, along, across, length, za, m, radius, corner, tip, slope):
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
        best = min(best, za + m * s + _profile(form, r, radius, corner, tip, slope))
    if form == BALL:
        u = -m * reach / math.sqrt(1.0 + m * m)
        s = min(max(along + u, lo), hi)
        r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
        best = min(best, za + m * s + _profile(form, r, radius, corner, tip, slope))
    elif form == CONE:
        g = m * slope
        if abs(g) < 1.0:
            s = min(max(along - g * abs(across) / math.sqrt(1.0 - g * g), lo), hi)
            r = math.sqrt((s - along) ** 2 + across * across)
            best = min(best, za + m * s + _profile(form, r, radius, corner, tip, slope))
        if tip > abs(across):
            half = math.sqrt(tip * tip - across * across)
            for u in (-half, half):
                s = min(max(along + u, lo), hi)
                r = math.sqrt((s - along) ** 2 + across * across)
                best = min(best, za + m * s + _profile(form, r, radius, corner, tip, slope))
    elif form == ROUND:  # hollow: level moves are lowest at the nearest place; sloping ones are looked at in steps
        s = min(max(along, lo), hi)
        half = math.sqrt(max(0.0, tip * tip - across * across))
        found, where = 1e30, s
        for k in range(-3, 33 if m != 0.0 else -2):
            if k >= 0:
                s = lo + (hi - lo) * k / 32
            elif k > -3:
                s = min(max(along + half * (2 * k + 3), lo), hi)  # where the tip's rim passes
            r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
            z = za + m * s + _profile(form, r, radius, corner, tip, slope)
            if z < found:
                found, where = z, s
        if m != 0.0:
            p, q = max(lo, where - (hi - lo) / 32), min(hi, where + (hi - lo) / 32)
            for _ in range(24):  # ternary search between the neighbours of the lowest step
                s1, s2 = p + (q - p) / 3, q - (q - p) / 3
                r1 = math.sqrt(min(radius * radius, (s1 - along) ** 2 + across * across))
                r2 = math.sqrt(min(radius * radius, (s2 - along) ** 2 + across * across))
                z1, z2 = za + m * s1 + _profile(form, r1, radius, corner, tip, slope), za + m * s2 + _profile(form, r2, radius, corner, tip, slope)
                found = min(found, z1, z2)
                if z1 < z2:
                    q = s2
                else:
                    p = s1
        best = min(best, found)
    elif form == BULL:
        p, q = lo, hi
        for _ in range(40):  # ternary search on a convex function
            s1, s2 = p + (q - p) / 3, q - (q - p) / 3
            r1 = math.sqrt((s1 - along) ** 2 + across * across)
            r2 = math.sqrt((s2 - along) ** 2 + across * across)
            if m * s1 + _profile(form, r1, radius, corner, tip, slope) < m * s2 + _profile(form, r2, radius, corner, tip, slope):
                q = s2
            else:
                p = s1
        s = 0.5 * (p + q)
        r = math.sqrt(min(radius * radius, (s - along) ** 2 + across * across))
        best = min(best, za + m * s + _profile(form, r, radius, corner, tip, slope))
    return best


@nb.njit(cache=True, nogil=True)
def _cut_general(top, bottom, x0, y0, cell, a, b, form, radius, corner, tip, slope, follow, out):
    ny, nx = top.shape
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = math.sqrt(dx * dx + dy * dy)
    ux, uy = (dx / length, dy / length) if length > 1e-9 else (1.0, 0.0)
    m = (b[2] - a[2]) / length if length > 1e-9 else 0.0
    za = a[2] if length > 1e-9 else min(a[2], b[2])
    if length <= 1e-9:
        length = 0.0
    lowest = za + min(0.0, m * length)
    j0 = max(0, _first(min(a[1], b[1]) - radius, y0, cell))
    j1 = min(ny, _first(max(a[1], b[1]) + radius, y0, cell) + 1)
    for j in range(j0, j1):
        y = y0 + (j + 0.5) * cell
        lo, hi = _span(a[0], a[1], b[0], b[1], length, ux, uy, radius, y)
        if lo > hi:
            continue
        for i in range(max(0, _first(lo, x0, cell)), min(nx, int(math.floor((hi - x0) / cell - 0.5 + 1e-9)) + 1)):
            px, py = x0 + (i + 0.5) * cell - a[0], y - a[1]
            along, across = px * ux + py * uy, py * ux - px * uy
            old = top[j, i]
            if old <= lowest or (follow and along <= 0.0):  # nothing to take, or taken by the level move that ended here
                continue
            beside = min(max(along, 0.0), length) - along
            r2 = beside * beside + across * across
            if r2 > radius * radius:
                continue
            z = lowest + _profile(form, math.sqrt(r2), radius, corner, tip, slope)  # no lower than the profile at the nearest place of the segment over its lower end
            if z >= old:
                continue
            if m != 0.0:
                z = _least(form, along, across, length, za, m, radius, corner, tip, slope)
            if z < old:
                bite = old - max(z, bottom[j, i])
                if bite > 0.0:
                    out[VOLUME] += bite
                    out[DEPTH] = max(out[DEPTH], bite)
                top[j, i] = z


@nb.njit(cache=True, nogil=True)
def _cut_flat_slope(top, bottom, x0, y0, cell, a, b, radius, out):
    """A flat bit on a sloping segment: over each cell it is lowest where it first enters (climbing) or last leaves."""
    ny, nx = top.shape
    dx, dy = b[0] - a[0], b[1] - a[1]
    length = math.sqrt(dx * dx + dy * dy)
    ux, uy = dx / length, dy / length
    m = (b[2] - a[2]) / length
    r2 = radius * radius
    for j in range(max(0, _first(min(a[1], b[1]) - radius, y0, cell)), min(ny, _first(max(a[1], b[1]) + radius, y0, cell) + 1)):
        y = y0 + (j + 0.5) * cell
        lo, hi = _span(a[0], a[1], b[0], b[1], length, ux, uy, radius, y)
        if lo > hi:
            continue
        py = y - a[1]
        for i in range(max(0, _first(lo, x0, cell)), min(nx, int(math.floor((hi - x0) / cell - 0.5 + 1e-9)) + 1)):
            px = x0 + (i + 0.5) * cell - a[0]
            along, across = px * ux + py * uy, py * ux - px * uy
            reach = math.sqrt(max(0.0, r2 - across * across))
            s = min(max(along - reach, 0.0), length) if m >= 0.0 else max(min(along + reach, length), 0.0)
            z = np.float32(a[2] + m * s)
            old = top[j, i]
            if z < old:
                bite = old - max(z, bottom[j, i])
                if bite > 0.0:
                    out[VOLUME] += bite
                    out[DEPTH] = max(out[DEPTH], bite)
                top[j, i] = z


@nb.njit(cache=True, nogil=True)
def cut(top, bottom, is_level, x0, y0, cell, points, rapid, form, radius, corner, tip, slope, cutting_length, shank_radius,
        stickout, nut_radius, heads, ceiling, metrics):
    """Cut a toolpath into `top` and fill `metrics` [n, METRICS].

    metrics per move: volume mm3, deepest bite mm, wood above the cutting length mm (REACH), wood above the collet
    nut's face mm (NUT), the same of what stands above the nut (HEADS), height of wood a rapid move ran into (RAPID_HIT), depth below the blank's bottom (BELOW).
    heads [h, 2]: radius, and height above the bit's tip, of what stands above the collet nut. is_level: bottom is the same everywhere. ceiling: nothing stands higher than this; lets moves above it pass without looking.
    """
    ny, nx = top.shape
    n = len(rapid)
    level_before = False
    zero = np.float32(0.0)
    floor = bottom[0, 0]
    for i in range(n):
        a, b = points[i], points[i + 1]
        out = metrics[i]
        low = min(a[2], b[2])
        if low >= ceiling:
            level_before = False
            continue
        level = abs(a[2] - b[2]) < 1e-9
        straight = abs(a[0] - b[0]) < 1e-9 and abs(a[1] - b[1]) < 1e-9  # down or up in one place: the edges sweep all that a thinner shank follows into
        if low + cutting_length < ceiling and not (straight and shank_radius < radius - 0.01):
            side = max(shank_radius, radius - 0.5 * cell) if shank_radius < radius - 0.01 else shank_radius + 0.5 * cell
            side = shank_radius if shank_radius < radius - 0.01 else side
            high = _highest(top, bottom, x0, y0, cell, a[0], a[1], b[0], b[1], side)
            out[REACH] = max(0.0, high - (low + cutting_length))
        if low + stickout < ceiling:
            high = _highest(top, bottom, x0, y0, cell, a[0], a[1], b[0], b[1], nut_radius)
            out[NUT] = max(0.0, high - (low + stickout))
        for h in range(len(heads)):
            if low + heads[h, 1] < ceiling:
                high = _highest(top, bottom, x0, y0, cell, a[0], a[1], b[0], b[1], heads[h, 0])
                out[HEADS + h] = max(0.0, high - (low + heads[h, 1]))
        if form == FLAT and (level or straight):
            z = np.float32(low)
            follow = level and level_before
            j0 = max(0, _first(min(a[1], b[1]) - radius, y0, cell))
            j1 = min(ny, _first(max(a[1], b[1]) + radius, y0, cell) + 1)
            total, deepest = 0.0, zero
            length, ux, uy = _along(a[0], a[1], b[0], b[1])
            for j in range(j0, j1):
                y = y0 + (j + 0.5) * cell
                lo, hi = _span(a[0], a[1], b[0], b[1], length, ux, uy, radius, y)
                if lo > hi:
                    continue
                k0 = max(0, _first(lo, x0, cell))
                k1 = min(nx, int(math.floor((hi - x0) / cell - 0.5 + 1e-9)) + 1)
                if k0 >= k1:
                    continue
                d = y - a[1]
                if follow and abs(d) <= radius:  # the disc at the start is cut already
                    w = math.sqrt(radius * radius - d * d)
                    s0 = min(max(_first(a[0] - w, x0, cell), k0), k1)
                    s1 = max(min(int(math.floor((a[0] + w - x0) / cell - 0.5 + 1e-9)) + 1, k1), s0)
                    if s0 > k0:
                        t, q = _take(top, bottom, is_level, floor, j, k0, s0, z)
                        total += t
                        deepest = max(deepest, q)
                    if k1 > s1:
                        t, q = _take(top, bottom, is_level, floor, j, s1, k1, z)
                        total += t
                        deepest = max(deepest, q)
                else:
                    t, q = _take(top, bottom, is_level, floor, j, k0, k1, z)
                    total += t
                    deepest = max(deepest, q)
            out[VOLUME] = total
            out[DEPTH] = deepest
            level_before = True  # the disc at b is now cut down to b's height
        elif form == FLAT:
            _cut_flat_slope(top, bottom, x0, y0, cell, a, b, radius, out)
            level_before = b[2] <= a[2] + 1e-9
        else:
            _cut_general(top, bottom, x0, y0, cell, a, b, form, radius, corner, tip, slope, level and level_before, out)
            level_before = level or (straight and b[2] <= a[2])  # what stands behind b is now cut down to the bit over b
        out[VOLUME] *= cell * cell
        out[REACH] = max(out[REACH], out[DEPTH] - cutting_length - abs(a[2] - b[2]))  # wood beside the shank that the edges never swept
        if rapid[i] and out[DEPTH] > 0.0:
            out[RAPID_HIT] = out[DEPTH]
    return


@nb.njit(cache=True, nogil=True, fastmath={"reassoc", "nsz", "contract", "nnan"})
def volume_left(top, bottom, cell):
    """Return the wood's volume, mm3."""
    total = 0.0
    ny, nx = top.shape
    for j in range(ny):
        part = np.float32(0.0)
        for i in range(nx):
            part += max(top[j, i] - bottom[j, i], np.float32(0.0))
        total += part
    return total * cell * cell
