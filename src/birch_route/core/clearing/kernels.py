"""Numeric kernels of bounded-engagement clearing. Everything here is in cells: a place (u, v) counts cells from the middle
of the first one, u along x, v along y; distances and radii are cells too.

Three fields describe the work: `wall`, the signed distance to where the bit's centre may not go (above 0: it may); `stock`,
the signed distance to the rim of what shall be cleared (above 0: inside); `past`, the squared distance to the path so far.
Wood stands where stock > 0 and past > radius^2.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit

RIM = 360  # samples of the bit's rim
OUT_OF_ROOM, AIR, TOO_MUCH, BLOCKED, FULL = 0, 1, 2, 3, 4  # why a pass ended


@njit(cache=True, nogil=True)
def scan_inside(starts, rows, columns, inside):
    """Mark cells whose middle lies inside closed rings, by the even-odd rule. starts: edges float64 [n, 4]."""
    crossings = np.empty(len(starts))
    for j in range(rows):
        y = float(j)
        count = 0
        for k in range(len(starts)):
            y0, y1 = starts[k, 1], starts[k, 3]
            if (y0 <= y) != (y1 <= y):
                crossings[count] = starts[k, 0] + (y - y0) * (starts[k, 2] - starts[k, 0]) / (y1 - y0)
                count += 1
        crossings[:count].sort()
        for k in range(0, count - 1, 2):
            first, last = max(0, math.ceil(crossings[k])), min(columns - 1, math.floor(crossings[k + 1]))
            for i in range(first, last + 1):
                inside[j, i] = True


@njit(cache=True, nogil=True)
def near_edges(edges, reach, distance):
    """Write the exact distance to the nearest edge into every cell within `reach` of one."""
    rows, columns = distance.shape
    for k in range(len(edges)):
        x0, y0, x1, y1 = edges[k]
        dx, dy = x1 - x0, y1 - y0
        length2 = max(dx * dx + dy * dy, 1e-12)
        for j in range(max(0, math.ceil(min(y0, y1) - reach)), min(rows - 1, math.floor(max(y0, y1) + reach)) + 1):
            for i in range(max(0, math.ceil(min(x0, x1) - reach)), min(columns - 1, math.floor(max(x0, x1) + reach)) + 1):
                t = min(1.0, max(0.0, ((i - x0) * dx + (j - y0) * dy) / length2))
                away = math.sqrt((i - x0 - t * dx) ** 2 + (j - y0 - t * dy) ** 2)
                if away <= reach and away < distance[j, i]:
                    distance[j, i] = away


@njit(cache=True, nogil=True)
def at(field, u, v):
    """Return a field between cells; -1e3 outside."""
    rows, columns = field.shape
    i, j = math.floor(u), math.floor(v)
    if i < 0 or j < 0 or i > columns - 2 or j > rows - 2:
        return -1e3
    fu, fv = u - i, v - j
    return (field[j, i] * (1 - fu) + field[j, i + 1] * fu) * (1 - fv) + (field[j + 1, i] * (1 - fu) + field[j + 1, i + 1] * fu) * fv


@njit(cache=True, nogil=True)
def cut_disc(past, stock, radius, u, v, fresh):
    """Let the bit stand at a place; return how many cells of wood went. fresh: no disc right beside it was cut before."""
    rows, columns = past.shape
    reach, removed = radius + 2.0, 0
    reach2, radius2 = reach * reach, radius * radius
    hollow = radius - 5.0
    hollow2 = hollow * hollow if hollow > 0 else -1.0
    for j in range(max(0, math.ceil(v - reach)), min(rows - 1, math.floor(v + reach)) + 1):
        dy2 = (j - v) * (j - v)
        half = math.sqrt(max(0.0, reach2 - dy2))
        first, last = max(0, math.ceil(u - half)), min(columns - 1, math.floor(u + half))
        skip_from, skip_to = last + 1, last + 1
        if not fresh and dy2 < hollow2:
            inner = math.sqrt(hollow2 - dy2)
            skip_from, skip_to = math.ceil(u - inner), math.floor(u + inner) + 1
        i = first
        while i <= last:
            if i == skip_from:
                i = max(i, skip_to)
                if i > last:
                    break
            square = np.float32((i - u) * (i - u) + dy2)
            if square < past[j, i]:
                if square <= radius2 and past[j, i] > radius2 and stock[j, i] > 0.5:
                    removed += 1
                past[j, i] = square
            i += 1
    return removed


@njit(cache=True, nogil=True)
def wood_at(past, stock, radius, u, v):
    """Return how deep a place lies inside the wood that still stands; below 0: no wood."""
    i, j = math.floor(u), math.floor(v)
    rows, columns = past.shape
    if i < 0 or j < 0 or i > columns - 2 or j > rows - 2:
        return -1.0
    if stock[j, i] < -2.0:
        return -1.0
    fu, fv = u - i, v - j
    inside = (stock[j, i] * (1 - fu) + stock[j, i + 1] * fu) * (1 - fv) + (stock[j + 1, i] * (1 - fu) + stock[j + 1, i + 1] * fu) * fv
    square = (past[j, i] * (1 - fu) + past[j, i + 1] * fu) * (1 - fv) + (past[j + 1, i] * (1 - fu) + past[j + 1, i + 1] * fu) * fv
    square -= fu * (1 - fu) + fv * (1 - fv)  # what a straight line between squares adds
    return min(inside, (square - radius * radius) / (2 * radius))


@njit(cache=True, nogil=True)
def read_rim(past, stock, radius, u, v, cosines, sines, sums):
    """Write the running sum, twice round, of the rim's samples that meet wood."""
    outside = 0.5
    sums[0] = 0.0
    for k in range(RIM):
        deep = wood_at(past, stock, radius, u + (radius + outside) * cosines[k], v + (radius + outside) * sines[k])
        part = (deep - 0.25 * outside) / (0.5 * outside)
        sums[k + 1] = sums[k] + min(1.0, max(0.0, part))
    for k in range(RIM):
        sums[RIM + k + 1] = sums[RIM] + sums[k + 1]


@njit(cache=True, nogil=True)
def engaged(sums, heading):
    """Return how much of the leading half of the rim meets wood, in samples, for a heading in radians."""
    first = heading / (2 * math.pi) * RIM - RIM / 4.0
    first -= math.floor(first / RIM) * RIM
    i = min(int(first), RIM - 1)
    low = sums[i] + (sums[i + 1] - sums[i]) * (first - i)
    last = first + RIM / 2.0
    i = min(int(last), 2 * RIM - 1)
    return sums[i] + (sums[i + 1] - sums[i]) * (last - i) - low


@njit(cache=True, nogil=True)
def steer(sums, heading, side, target, most_away, most_toward):
    """Return the heading nearest to the present one at which the rim meets the target of wood, and what it meets there.

    side: 1 with the wood on the right, -1 on the left. Turning away is bounded by most_away, toward the wood by most_toward.
    """
    step = 2 * math.pi / RIM
    met = engaged(sums, heading)
    turn = 0.0
    if met > target:
        while turn < most_away and met > target:
            before = met
            turn += step
            met = engaged(sums, heading + side * turn)
            if met <= target < before:
                turn -= step * (target - met) / (before - met)
                return heading + side * turn, engaged(sums, heading + side * turn)
        return heading + side * turn, met
    while turn < most_toward:
        further = engaged(sums, heading - side * (turn + step))
        if further > target:
            if further > met:
                turn += step * (target - met) / (further - met)
            break
        turn += step
        met = further
    turn = min(turn, most_toward)
    return heading - side * turn, engaged(sums, heading - side * turn)


@njit(cache=True, nogil=True)
def onto_room(wall, u, v):
    """Return a place moved the shortest way to where the centre may be, and whether it is."""
    for _ in range(4):
        deep = at(wall, u, v)
        if deep >= 0:
            return u, v, True
        gu, gv = (at(wall, u + 0.5, v) - at(wall, u - 0.5, v)), (at(wall, u, v + 0.5) - at(wall, u, v - 0.5))
        steep = math.hypot(gu, gv)
        if steep < 0.3:
            break
        u -= (deep - 1e-3) * gu / steep
        v -= (deep - 1e-3) * gv / steep
    return u, v, at(wall, u, v) >= -0.1


@njit(cache=True, nogil=True)
def march(past, stock, wall, radius, target, pace, most_turn, air_limit, u, v, heading, side, cosines, sines, out):
    """Cut one pass from a place, steering so that the rim meets the target of wood; return points made, the last that met
    wood, why it ended, and the cells of wood that went.

    target: samples of the rim. pace: cells between points. most_turn: radians per cell toward the wood. air_limit: cells.
    """
    sums, beyond = np.zeros(2 * RIM + 1), np.zeros(2 * RIM + 1)
    cut_disc(past, stock, radius, u, v, True)
    out[0, 0], out[0, 1] = u, v
    count, last, air, why, removed = 1, 0, 0.0, FULL, 0
    while count < len(out):
        early = count < 12
        read_rim(past, stock, radius, u, v, cosines, sines, sums)
        ahead, met = steer(sums, heading, side, target, math.radians(50.0), most_turn * pace * (0.34 if early else 1.0))
        if met > target * 1.03 + 0.5:
            why = TOO_MUCH
            break
        step = pace / 3.0 if early or abs(ahead - heading) > 0.06 else pace
        to_u, to_v = u + step * math.cos(ahead), v + step * math.sin(ahead)
        for _ in range(14):  # what it will meet after the move counts too
            read_rim(past, stock, radius, to_u, to_v, cosines, sines, beyond)
            if engaged(beyond, ahead) <= target * 1.06:
                break
            ahead += side * 0.05
            to_u, to_v = u + step * math.cos(ahead), v + step * math.sin(ahead)
        met = engaged(sums, ahead)
        if at(wall, to_u, to_v) < 0:
            to_u, to_v, fits = onto_room(wall, to_u, to_v)
            gone = math.hypot(to_u - u, to_v - v)
            if not fits:
                why = OUT_OF_ROOM
                break
            along = math.atan2(to_v - v, to_u - u)
            if gone < 0.25 * step or math.cos(along - ahead) < 0.2:
                why = BLOCKED
                break
            met = engaged(sums, along)
            if met > target * 1.03 + 0.5:
                why = TOO_MUCH
                break
            ahead = along
        heading, u, v = ahead, to_u, to_v
        out[count, 0], out[count, 1] = u, v
        count += 1
        went = cut_disc(past, stock, radius, u, v, False)
        removed += went
        if met * 2 * math.pi / RIM > 0.05 and went > 0:
            last, air = count, 0.0
        else:
            air += step
        if air > air_limit:
            why = AIR
            break
    return count, last, why, removed


@njit(cache=True, nogil=True)
def walk(past, stock, radius, ring, skip, cosines, sines):
    """Let the bit go round a closed ring, lifted where skip says so; return how much of its rim met wood at each place, in samples."""
    met = np.zeros(len(ring))
    sums = np.zeros(2 * RIM + 1)
    for k in range(len(ring)):
        if skip[k]:
            continue
        cut_disc(past, stock, radius, ring[k, 0], ring[k, 1], True)
        following = ring[(k + 1) % len(ring)]
        read_rim(past, stock, radius, ring[k, 0], ring[k, 1], cosines, sines, sums)
        met[k] = engaged(sums, math.atan2(following[1] - ring[k, 1], following[0] - ring[k, 0]))
    return met


@njit(cache=True, nogil=True)
def cut_along(past, stock, radius, points, pace):
    """Let the bit go along straight lines between points."""
    for k in range(len(points) - 1):
        du, dv = points[k + 1, 0] - points[k, 0], points[k + 1, 1] - points[k, 1]
        parts = max(1, math.ceil(math.hypot(du, dv) / pace))
        for p in range(parts + 1):
            cut_disc(past, stock, radius, points[k, 0] + du * p / parts, points[k, 1] + dv * p / parts, k == 0 and p == 0)


@njit(cache=True, nogil=True)
def freed(past, stock, wall, radius, tile, dirty, margin, free):
    """Write where the bit may stand without touching wood (above 0) into the tiles that are dirty.

    free = min(distance to the nearest cell of wood - radius - margin, wall), exact up to 8 cells above the radius.
    """
    rows, columns = past.shape
    radius2 = radius * radius
    far = int(radius + 8.0)
    for tj in range(dirty.shape[0]):
        for ti in range(dirty.shape[1]):
            if not dirty[tj, ti]:
                continue
            dirty[tj, ti] = False
            j0, j1 = tj * tile, min(rows, (tj + 1) * tile)
            i0, i1 = ti * tile, min(columns, (ti + 1) * tile)
            low_j, high_j, low_i, high_i = rows, 0, columns, 0  # of the cells whose answer may change
            for j in range(j0, j1):
                for i in range(i0, i1):
                    if past[j, i] <= radius2 and wall[j, i] >= -2.0 and free[j, i] < min(wall[j, i], np.float32(7.0)):
                        low_j, high_j, low_i, high_i = min(low_j, j), max(high_j, j + 1), min(low_i, i), max(high_i, i + 1)
            if high_j == 0:
                continue
            j0, j1, i0, i1 = low_j, high_j, low_i, high_i
            a0, a1 = max(0, i0 - far), min(columns, i1 + far)
            near = np.full((j1 - j0, a1 - a0), np.float32(1e9))  # squared distance to wood in the same column
            b0, b1 = max(0, j0 - far), min(rows, j1 + far)
            for i in range(a0, a1):
                gap = 10000
                for j in range(b0, j1):
                    gap = 0 if stock[j, i] > 0.6 and past[j, i] > radius2 + 1.2 * radius else gap + 1
                    if j >= j0 and gap <= far:
                        near[j - j0, i - a0] = gap * gap
                gap = 10000
                for j in range(b1 - 1, j0 - 1, -1):
                    gap = 0 if stock[j, i] > 0.6 and past[j, i] > radius2 + 1.2 * radius else gap + 1
                    if j < j1 and gap <= far and gap * gap < near[j - j0, i - a0]:
                        near[j - j0, i - a0] = gap * gap
            sure = (radius - 3.0) * (radius - 3.0)  # nearer wood than this: surely not free, how far does not matter
            for j in range(j0, j1):
                for i in range(i0, i1):
                    if wall[j, i] < -2.0 or free[j, i] >= min(wall[j, i], np.float32(7.0)):  # never becomes free, or is and stays so
                        continue
                    best = min(near[j - j0, i - a0], np.float32(far * far))
                    if past[j, i] > radius2:
                        best = np.float32(0.0)
                    away = 1
                    while best > sure and away * away < best:
                        if i - away >= a0:
                            best = min(best, near[j - j0, i - away - a0] + np.float32(away * away))
                        if i + away < a1:
                            best = min(best, near[j - j0, i + away - a0] + np.float32(away * away))
                        away += 1
                    free[j, i] = min(math.sqrt(best) - radius - margin, wall[j, i])
