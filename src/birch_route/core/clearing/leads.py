"""Arcs between a pass and the way to or from it, so that the machine need not slow where a pass begins or ends. In cells."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np

ARC_PARTS = (0.22, 0.12)  # radii tried, of the bit's
STEP_RAD = math.radians(10.0)
MOST_SWEEP = 1.5 * math.pi

Clear = Callable[[np.ndarray], bool]


def arc_on(place: np.ndarray, heading: np.ndarray, radius: float, turn: int, come_from: np.ndarray) -> np.ndarray | None:
    """Return points of an arc that arrives at a place with a heading, begun where the line from come_from touches it.

    turn: 1 for an arc that turns left, -1 right. None: come_from lies inside the circle or the arc is too long.
    """
    centre = place + radius * turn * np.array([-heading[1], heading[0]])
    gap = centre - come_from
    far = float(np.hypot(*gap))
    if far <= radius * 1.001:
        return None
    # the tangent point seen from the centre: back along the gap, turned so that the line meets the circle in its sense
    first = math.atan2(-gap[1], -gap[0]) + turn * math.acos(radius / far)
    last = math.atan2(*(place - centre)[::-1])
    sweep = (turn * (last - first)) % (2 * math.pi)
    if sweep > MOST_SWEEP:
        return None
    angles = last - turn * sweep * np.linspace(1.0, 0.0, max(2, math.ceil(sweep / STEP_RAD) + 1))
    return centre + radius * np.column_stack([np.cos(angles), np.sin(angles)])


def arc_off(place: np.ndarray, heading: np.ndarray, radius: float, turn: int, go_to: np.ndarray) -> np.ndarray | None:
    """Return points of an arc that leaves a place with a heading and ends where the line to go_to touches it."""
    back = arc_on(place, -heading, radius, -turn, go_to)
    return None if back is None else back[::-1]


def blended(way: np.ndarray, leaves: tuple[np.ndarray, int] | None, arrives: tuple[np.ndarray, int] | None, radius: float, clear: Clear) -> np.ndarray:
    """Return a way [n, 2] with arcs at its ends where they are clear, and its inner corners rounded.

    leaves, arrives: heading there (of length 1) and the sense of the arc, the side where free space is. radius: the bit's.
    """
    head = tail = np.zeros((0, 2))
    for _ in range(3):  # the two arcs look at one another
        head = _first_clear(lambda r: arc_off(way[0], leaves[0], r, leaves[1], tail[0] if len(way) == 2 and len(tail) else way[1]), radius, clear, lambda a: np.vstack([a, way[1:2]]) if len(way) > 2 else a) if leaves else head
        tail = _first_clear(lambda r: arc_on(way[-1], arrives[0], r, arrives[1], head[-1] if len(way) == 2 and len(head) else way[-2]), radius, clear, lambda a: np.vstack([way[-2:-1], a]) if len(way) > 2 else a) if arrives else tail
        if len(way) > 2:
            break
    if len(way) == 2 and (len(head) or len(tail)) and not clear(np.vstack([head[-1:] if len(head) else way[:1], tail[:1] if len(tail) else way[-1:]])):
        return way
    middle = way[1:-1]
    whole = np.vstack([head if len(head) else way[:1], middle, tail if len(tail) else way[-1:]])
    return whole if not len(middle) else rounded(whole, range(max(1, len(head)), max(1, len(head)) + len(middle)), radius, clear)


def _first_clear(make: Callable[[float], np.ndarray | None], radius: float, clear: Clear, joined: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
    for part in ARC_PARTS:
        arc = make(part * radius)
        if arc is not None and clear(joined(arc)):
            return arc
    return np.zeros((0, 2))


def rounded(line: np.ndarray, corners: range, radius: float, clear: Clear) -> np.ndarray:
    """Return a line whose named corners are rounded as widely as is clear, up to half of the shorter side each."""
    out = [line[: corners.start]]
    for k in corners:
        before, here, after = line[k - 1], line[k], line[k + 1]
        a, b = before - here, after - here
        la, lb = float(np.hypot(*a)), float(np.hypot(*b))
        done = line[k: k + 1]
        if la > 1e-9 and lb > 1e-9:
            a, b = a / la, b / lb
            inner = math.acos(min(1.0, max(-1.0, float(a @ b))))  # angle between the sides
            if math.radians(5) < inner < math.radians(175):
                for part in ARC_PARTS:
                    cut = min(part * radius / math.tan(inner / 2), 0.5 * min(la, lb))
                    r = cut * math.tan(inner / 2)
                    middle = here + (a + b) / np.hypot(*(a + b)) * r / math.sin(inner / 2)
                    first, sweep = math.atan2(*(here + a * cut - middle)[::-1]), math.pi - inner
                    sense = 1.0 if a[0] * b[1] - a[1] * b[0] < 0 else -1.0
                    angles = first + sense * sweep * np.linspace(0.0, 1.0, max(2, math.ceil(sweep / STEP_RAD) + 1))
                    arc = middle + r * np.column_stack([np.cos(angles), np.sin(angles)])
                    if clear(arc):
                        done = arc
                        break
        out.append(done)
    out.append(line[corners.stop:])
    return np.vstack(out)
