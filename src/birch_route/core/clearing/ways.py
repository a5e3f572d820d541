"""Numeric kernels that look for ways: where free space ends, whether a line stays in it, the shortest way through it. All in
cells, as in kernels.py."""

from __future__ import annotations

import heapq
import math

import numpy as np
from numba import njit

from .kernels import at


@njit(cache=True, nogil=True)
def _crossing(free, j0, i0, j1, i1):
    """Return the place between two cells where the field is 0."""
    a, b = free[j0, i0], free[j1, i1]
    t = a / (a - b)
    return i0 + t * (i1 - i0), j0 + t * (j1 - j0)


@njit(cache=True, nogil=True)
def rims(free, points, ends, most):
    """Trace the lines where a field is 0, what is above 0 on the left; return how many lines.

    points: float64 [m, 2] to fill. ends: int64 [most, 2], where each line ends in points and whether it is closed.
    """
    rows, columns = free.shape
    seen = np.zeros((rows, columns), np.bool_)  # of the edge between cell (j, i) and (j, i + 1)
    filled, lines = 0, 0
    for j in range(1, rows - 1):
        for i in range(1, columns - 1):
            # an edge along x whose left cell is free and right one is not: the line crosses it upward
            if not (free[j, i] >= 0 > free[j, i + 1]) or seen[j, i]:
                continue
            begun = filled
            cj, ci, way = j, i, 0  # in the square above the edge; way: which side it was entered by (0 below, 1 right, 2 above, 3 left)
            u, v = _crossing(free, j, i, j, i + 1)
            points[filled, 0], points[filled, 1] = u, v
            filled += 1
            seen[j, i] = True
            closed = False
            while filled < len(points):
                if cj < 0 or ci < 0 or cj > rows - 2 or ci > columns - 2:
                    break
                low, right, up, corner = free[cj, ci] >= 0, free[cj, ci + 1] >= 0, free[cj + 1, ci] >= 0, free[cj + 1, ci + 1] >= 0
                # leave by the side whose first corner (counter-clockwise from where it came in) changes: free stays left
                if way == 0:  # came upward: left low is free, right is not
                    out_side = 3 if not up else (2 if not corner else 1)
                elif way == 1:  # came leftward: right below free, corner above not
                    out_side = 0 if not low else (3 if not up else 2)
                elif way == 2:  # came downward: corner free, up not
                    out_side = 1 if not right else (0 if not low else 3)
                else:  # came rightward: up free, low not
                    out_side = 2 if not corner else (1 if not right else 0)
                if out_side == 0:
                    u, v = _crossing(free, cj, ci, cj, ci + 1)
                    cj, way = cj - 1, 2
                elif out_side == 1:
                    u, v = _crossing(free, cj, ci + 1, cj + 1, ci + 1)
                    ci, way = ci + 1, 3
                elif out_side == 2:
                    u, v = _crossing(free, cj + 1, ci, cj + 1, ci + 1)
                    cj, way = cj + 1, 0
                    if seen[cj, ci] and cj == j and ci == i:
                        closed = True
                        break
                    seen[cj, ci] = True
                else:
                    u, v = _crossing(free, cj, ci, cj + 1, ci)
                    ci, way = ci - 1, 1
                points[filled, 0], points[filled, 1] = u, v
                filled += 1
            if lines < most and filled - begun >= 4:
                ends[lines, 0], ends[lines, 1] = filled, 1 if closed else 0
                lines += 1
            else:
                filled = begun
    return lines


@njit(cache=True, nogil=True)
def sees(free, wall, u0, v0, u1, v1, least):
    """Say whether a straight line between two places stays in the room and where the field `free` is at least so much."""
    parts = max(1, math.ceil(math.hypot(u1 - u0, v1 - v0) / 0.5))
    for k in range(parts + 1):
        u, v = u0 + (u1 - u0) * k / parts, v0 + (v1 - v0) * k / parts
        if at(wall, u, v) < -0.05 or at(free, u, v) < least:
            return False
    return True


@njit(cache=True, nogil=True)
def shortest(passable, start_j, start_i, goals, extra):
    """Return the cells [n, 2] (j, i) of the cheapest way over passable cells to one of the goals, and which.

    goals: int32 field, 0 none, k for goal k. extra: what ending at goal k costs besides the way, in cells.
    """
    rows, columns = passable.shape
    cost = np.full(rows * columns, np.inf)
    before = np.full(rows * columns, -1, np.int64)
    start = start_j * columns + start_i
    cost[start] = 0.0
    heap = [(0.0, start)]
    best, found, goal = np.inf, -1, 0
    while len(heap) > 0:
        spent, cell = heapq.heappop(heap)
        if spent >= best:
            break
        if spent > cost[cell]:
            continue
        j, i = cell // columns, cell % columns
        here = goals[j, i]
        if here > 0 and spent + extra[here] < best:
            best, found, goal = spent + extra[here], cell, here
        for dj in range(-1, 2):
            for di in range(-1, 2):
                b, a = j + dj, i + di
                if (dj == 0 and di == 0) or a < 0 or b < 0 or a >= columns or b >= rows or not passable[b, a]:
                    continue
                way = spent + (1.4142135623730951 if dj != 0 and di != 0 else 1.0)
                if way < cost[b * columns + a]:
                    cost[b * columns + a] = way
                    before[b * columns + a] = cell
                    heapq.heappush(heap, (way, b * columns + a))
    count, cell = 0, found
    while cell >= 0:
        count += 1
        cell = before[cell]
    path = np.empty((count, 2), np.int64)
    cell = found
    for k in range(count - 1, -1, -1):
        path[k, 0], path[k, 1] = cell // columns, cell % columns
        cell = before[cell]
    return path, goal
