"""Time of a motion: trapezoids with a junction-speed limit and look-ahead.

Model, so that another planner can repeat it: each straight move has a constant acceleration limit, the greatest that
keeps every axis within its own (a = min over axes of a_axis / |u_axis|), and a speed limit, the least of its feed and
of v_axis / |u_axis|. Between two moves the speed may not exceed sqrt(a d s / (1 - s)) with s = sin of half the
inside angle, d the junction deviation and a the lesser of the two limits; moves that turn back stop. Start, end and
stops are at rest. Rapid moves take part like any other.

Moves that are written as an arc of radius r (motion.arcs) also run no faster than sqrt(a r), a the lesser limit of X
and
Y. A machine that runs arcs as chords, or is given none, knows no such limit.
"""

from __future__ import annotations

import math

import numba as nb
import numpy as np

from ..machines import Machine
from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind
from .arcs import fit_arcs
from .toolpath import Toolpath


@nb.njit(cache=True, nogil=True)
def _plan(points, feeds, rapid, rates, accelerations, deviation, on_arcs, times):  # numeric kernel: one pass each way
    n = len(feeds)
    length = np.zeros(n)
    unit = np.zeros((n, 3))
    speed = np.zeros(n)
    acc = np.zeros(n)
    for i in range(n):
        d0 = points[i + 1, 0] - points[i, 0]
        d1 = points[i + 1, 1] - points[i, 1]
        d2 = points[i + 1, 2] - points[i, 2]
        length[i] = math.sqrt(d0 * d0 + d1 * d1 + d2 * d2)
        if length[i] < 1e-12:
            continue
        unit[i, 0], unit[i, 1], unit[i, 2] = d0 / length[i], d1 / length[i], d2 / length[i]
        limit, a = 1e30, 1e30
        for k in range(3):
            u = abs(unit[i, k])
            if u > 1e-9:
                limit = min(limit, rates[k] / u)
                a = min(a, accelerations[k] / u)
        speed[i] = limit if rapid[i] else min(limit, feeds[i], on_arcs[i])
        acc[i] = a
    entry = np.zeros(n + 1)  # speed squared at the start of each move
    last = -1
    for i in range(n):
        if length[i] < 1e-12:
            continue
        if last >= 0:
            dot = unit[last, 0] * unit[i, 0] + unit[last, 1] * unit[i, 1] + unit[last, 2] * unit[i, 2]
            top = min(speed[last], speed[i]) ** 2
            if dot > 0.999999:
                entry[i] = top
            elif dot < -0.999999:
                entry[i] = 0.0
            else:
                s = math.sqrt(0.5 * (1.0 + dot))  # sine of half the inside angle = cosine of half the turn
                entry[i] = min(top, min(acc[last], acc[i]) * deviation * s / (1.0 - s))
        last = i
    following = 0.0
    for i in range(n - 1, -1, -1):
        if length[i] < 1e-12:
            continue
        entry[i] = min(entry[i], following + 2 * acc[i] * length[i])
        following = entry[i]
    current = 0.0
    for i in range(n):
        if length[i] < 1e-12:
            times[i] = 0.0
            continue
        nxt = 0.0
        for j in range(i + 1, n):
            if length[j] >= 1e-12:
                nxt = entry[j]
                break
        start = min(current, entry[i]) if i > 0 else 0.0
        end = min(nxt, start + 2 * acc[i] * length[i])
        peak = min(speed[i] ** 2, (2 * acc[i] * length[i] + start + end) / 2)
        peak = max(peak, start, end)
        v0, v1, vp, a = math.sqrt(start), math.sqrt(end), math.sqrt(peak), acc[i]
        run = length[i] - (peak - start) / (2 * a) - (peak - end) / (2 * a)
        times[i] = (vp - v0) / a + (vp - v1) / a + (max(run, 0.0) / vp if vp > 0 else 0.0)
        current = end
    return


def move_times(path: Toolpath, machine: Machine) -> np.ndarray:
    """Return the seconds each move takes, from rest to rest over the whole path.

    Args:
        path: n moves, mm and mm/min.
        machine: rapid rates are also the greatest rate of each axis; accelerations in mm/s2.

    Returns:
        float64 [n], s.

    Source: trapezoidal motion; junction deviation and arcs as described at the top of this file.
    """
    times = np.zeros(len(path))
    if len(path):
        feeds = np.minimum(path.feeds, machine.greatest_feed_mm_min) / 60
        rapid, on_arcs = path.kinds == RAPID_CODE, np.full(len(path), np.inf)
        if machine.dialect.arcs and not machine.chords:
            for arc in fit_arcs(
                path.points, path.kinds >= MOVE_CODES[MoveKind.ENTRY], np.round(path.feeds).astype(int)
            ):
                radius = math.dist(path.points[arc.first, :2], (arc.cx, arc.cy))
                on_arcs[arc.first: arc.last] = math.sqrt(min(machine.acceleration_mm_s2[:2]) * radius)
        _plan(path.points, feeds, rapid, np.asarray(machine.rapid_mm_min) / 60,
              np.asarray(machine.acceleration_mm_s2, float), machine.junction_deviation_mm, on_arcs, times)
    return times
