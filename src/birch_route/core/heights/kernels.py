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

from .forms import BALL, BULL, CONE, FLAT, ROUND, TAPER, least, profile  # noqa: F401  (the forms are asked for here)

# columns of the metrics array, one row per move
VOLUME, DEPTH, REACH, NUT, RAPID_HIT, BELOW, HEADS = 0, 1, 2, 3, 4, 5, 6
BLOCK = 16  # cells of a side: what stands in a block is known before it is looked at closely
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


@nb.njit(cache=True, nogil=True)
def _tallest(top, bottom):
    """Return the highest wood of every block of BLOCK by BLOCK cells; where there is none, -1e30."""
    ny, nx = top.shape
    out = np.full(((ny + BLOCK - 1) // BLOCK, (nx + BLOCK - 1) // BLOCK), np.float32(-1e30))
    for j in range(ny):
        for i in range(nx):
            if top[j, i] > bottom[j, i] and top[j, i] > out[j // BLOCK, i // BLOCK]:
                out[j // BLOCK, i // BLOCK] = top[j, i]
    return out


@nb.njit(cache=True, nogil=True)
def _may_stand(tallest, x0, y0, cell, ax, ay, bx, by, r, z):
    """Say whether wood may stand above z under a capsule: never no where it does."""
    my, mx = tallest.shape
    size = cell * BLOCK
    j0, j1 = max(0, int(math.floor((min(ay, by) - r - y0) / size))), min(my - 1, int(math.floor((max(ay, by) + r - y0) / size)))
    i0, i1 = max(0, int(math.floor((min(ax, bx) - r - x0) / size))), min(mx - 1, int(math.floor((max(ax, bx) + r - x0) / size)))
    for j in range(j0, j1 + 1):
        for i in range(i0, i1 + 1):
            if tallest[j, i] > z:
                return True
    return False


@nb.njit(cache=True, nogil=True)
def _cut_general(top, bottom, x0, y0, cell, a, b, form, radius, corner, tip, slope, follow, ahead, vx, vy, out):
    """Any bit on any segment. follow: a level move ended at a and cut all round it. ahead: a level move goes on from b towards vx, vy; what it comes nearer to is left to it."""
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
            if ahead and along > length and (x0 + (i + 0.5) * cell - b[0]) * vx + (y - b[1]) * vy > 0.0:
                continue
            beside = min(max(along, 0.0), length) - along
            r2 = beside * beside + across * across
            if r2 > radius * radius:
                continue
            z = lowest + profile(form, math.sqrt(r2), radius, corner, tip, slope)  # no lower than the profile at the nearest place of the segment over its lower end
            if z >= old:
                continue
            if m != 0.0:
                z = least(form, along, across, length, za, m, radius, corner, tip, slope)
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
    lowest_head = min(cutting_length, stickout)
    for h in range(len(heads)):
        lowest_head = min(lowest_head, heads[h, 1])
    tallest = np.zeros((0, 0), np.float32)  # of the wood before the path: it only grows lower
    for i in range(n):
        a, b = points[i], points[i + 1]
        out = metrics[i]
        low = min(a[2], b[2])
        if low >= ceiling:
            level_before = False
            continue
        if len(tallest) == 0 and low + lowest_head < ceiling:
            tallest = _tallest(top, bottom)
        level = abs(a[2] - b[2]) < 1e-9
        straight = abs(a[0] - b[0]) < 1e-9 and abs(a[1] - b[1]) < 1e-9  # down or up in one place: the edges sweep all that a thinner shank follows into
        if low + cutting_length < ceiling and not (straight and shank_radius < radius - 0.01):
            side = max(shank_radius, radius - 0.5 * cell) if shank_radius < radius - 0.01 else shank_radius + 0.5 * cell
            side = shank_radius if shank_radius < radius - 0.01 else side
            if _may_stand(tallest, x0, y0, cell, a[0], a[1], b[0], b[1], side, low + cutting_length):
                high = _highest(top, bottom, x0, y0, cell, a[0], a[1], b[0], b[1], side)
                out[REACH] = max(0.0, high - (low + cutting_length))
        if low + stickout < ceiling and _may_stand(tallest, x0, y0, cell, a[0], a[1], b[0], b[1], nut_radius, low + stickout):
            high = _highest(top, bottom, x0, y0, cell, a[0], a[1], b[0], b[1], nut_radius)
            out[NUT] = max(0.0, high - (low + stickout))
        for h in range(len(heads)):
            if low + heads[h, 1] < ceiling and _may_stand(tallest, x0, y0, cell, a[0], a[1], b[0], b[1], heads[h, 0], low + heads[h, 1]):
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
            ahead, vx, vy = False, 0.0, 0.0
            if level and i + 1 < n and rapid[i + 1] == rapid[i] and abs(points[i + 2, 2] - b[2]) < 1e-9:
                vx, vy = points[i + 2, 0] - b[0], points[i + 2, 1] - b[1]
                ahead = vx * vx + vy * vy > 1e-12
            _cut_general(top, bottom, x0, y0, cell, a, b, form, radius, corner, tip, slope, level and level_before, ahead, vx, vy, out)
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
