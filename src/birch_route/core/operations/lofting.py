"""The back of a neck finished lengthwise: the ball's middle runs along lines of equal turn of the sections, so that
passes stand a stepover apart along the surface, to the rim and past it.

Source: a ball touches a smooth surface where its middle lies its radius away square to it: C = S + r N.
"""

from __future__ import annotations

import math

import numpy as np

from ..motion.straight import needed
from ..motion.toolpath import PathBuilder
from ..neck.loft import Loft
from ..neck.surfaces import NeckBack
from ..vocabulary import MoveKind
from .base import LIFT_MM, Work

ALONG_MM = 0.5  # between points of a pass before those on a line are left out
MOST_APART_MM = 0.7  # of the ball's middle between two points; else one is put between them
ROUNDS = 8
STRAIGHT_MM = 0.0015
PAST_MM = 0.4  # passes go so far onto the level backs of headstock and heel
NEAR_RIM = 0.0015  # radians from the rim: there the section stands upright
TURNS = 721
SLOPE_STEP = 1e-4  # of a numeric slope, in mm along and radians across
FOOT_PART = 0.08  # of a transition, from the shaft: its foot
NEAR_PASSES = 2.5  # stepovers: nearer than this the next pass is met without lifting
RAMP_MM = 40.0  # the first pass is met so gently


def contact_turns(loft: Loft, stepover_mm: float) -> np.ndarray:
    """Return the turns of the passes, radians from the rim to +y over the apex to that to -y, so that two stand no
    more than a stepover apart along the surface anywhere."""
    t = np.linspace(NEAR_RIM, math.pi - NEAR_RIM, TURNS)
    x = np.linspace(loft.head_end_mm, loft.neck.heel_from_mm, 60)
    y, z = loft.point(x[:, None], t[None, :])
    widest = np.hypot(np.diff(y, axis=1), np.diff(z, axis=1)).max(axis=0)
    along = np.concatenate([[0.0], np.cumsum(widest)])
    count = max(8, math.ceil(along[-1] / stepover_mm))
    return np.interp(np.linspace(0, along[-1], count + 1), along, t)


def ball_middles(surface: NeckBack, x: np.ndarray, turn: float, radius_mm: float) -> np.ndarray:
    """Return where a ball's middle lies while it touches a line of equal turn, float64 [n, 3] in the surface's frame:
    the blank's back at z = 0."""
    loft, s = surface.loft, SLOPE_STEP
    t = np.full(len(x), turn)
    y, below = loft.point(x, t)
    y1, b1 = loft.point(x + s, t)
    y0, b0 = loft.point(x - s, t)
    along = np.column_stack([np.full(len(x), 2 * s), y1 - y0, b1 - b0])
    y1, b1 = loft.point(x, t + s)
    y0, b0 = loft.point(x, t - s)
    across = np.column_stack([np.zeros(len(x)), y1 - y0, b1 - b0])
    normal = np.cross(across, along)
    normal /= np.linalg.norm(normal, axis=1)[:, None]  # t runs from +y over the apex: it points out of the wood
    middle = np.column_stack([x, y, below]) + radius_mm * normal
    return np.asarray(middle * [surface.signs[0], surface.signs[1], 1.0] - [0.0, 0.0, surface.thick_mm])


def finely(surface: NeckBack, x: np.ndarray, turn: float, radius_mm: float) -> tuple[np.ndarray, np.ndarray]:
    """Return places along a pass and where the ball's middle lies at each, close enough together where it rolls over
    an edge that the straight way between two of them does not cut it off."""
    tips = ball_middles(surface, x, turn, radius_mm)
    for _ in range(ROUNDS):
        far = np.flatnonzero(np.linalg.norm(np.diff(tips, axis=0), axis=1) > MOST_APART_MM)
        if not len(far):
            break
        between = (x[far] + x[far + 1]) / 2
        x = np.insert(x, far + 1, between)
        tips = np.insert(tips, far + 1, ball_middles(surface, between, turn, radius_mm), axis=0)
    return x, tips


def lofted(path: PathBuilder, work: Work, surface: NeckBack) -> None:
    """Finish a neck's back; the bit starts and ends at the clearance height. Its tip goes no deeper than the wood's
    underside and what the operation goes past that."""
    op, radius = work.operation, work.bit.radius_mm
    loft = surface.loft
    begin, end = loft.head_end_mm - PAST_MM, surface.neck.heel_from_mm + PAST_MM
    x = np.linspace(begin, end, math.ceil((end - begin) / ALONG_MM) + 1)
    least = work.bottom_mm - op.overcut_mm
    forth, first = True, True
    for turn in contact_turns(loft, op.settings.stepover_mm):
        places, tips = finely(surface, x, float(turn), radius + op.floor_to_leave_mm)
        low, high = (int(np.searchsorted(places, v)) for v in feet_of(loft))
        tips[:, 2] = np.maximum(tips[:, 2] - radius, least)
        here, shaft, there = tips[: low + 1], tips[low : high + 1], tips[high:][::-1]
        if not forth:
            here, shaft, there = there, shaft[::-1], here
        run = np.vstack([here, shaft[1:]]) if len(here) > 1 else shaft
        if first:
            _begin(path, work, run)
        else:
            _hop(path, work, run[0])
        _cut(path, work, run)
        if len(there) > 1:
            _hop(path, work, there[0])
            _cut(path, work, there)
        forth, first = not forth, False


def feet_of(loft: Loft) -> tuple[float, float]:
    """Return x of the foot of each transition: passes come down both, so that no fibre is lifted against its run."""
    neck = loft.neck
    begin = loft.head_end_mm - PAST_MM if neck.head.kind == "none" else -FOOT_PART * neck.head.transition_mm
    return begin, neck.heel_from_mm - (1 - FOOT_PART) * neck.heel_ramp_mm


def _cut(path: PathBuilder, work: Work, run: np.ndarray) -> None:
    tips = _straightened(run)
    path.along(tips[:, :2], tips[:, 2], MoveKind.CUT, work.operation.settings.feed_mm_min)


def _hop(path: PathBuilder, work: Work, to: np.ndarray) -> None:
    """Bring the bit to where a pass begins: straight over where that is near, else up, over and down."""
    op = work.operation
    x, y, z = path.at
    if math.dist((x, y, z), to) <= NEAR_PASSES * op.settings.stepover_mm:
        path.to(to[0], to[1], to[2], MoveKind.CUT, op.settings.feed_mm_min)
        return
    level = max(z, float(to[2]), work.start_mm) + LIFT_MM
    path.rapid(z_mm=level)
    path.rapid(float(to[0]), float(to[1]))
    path.to(to[0], to[1], to[2], MoveKind.PLUNGE, op.settings.plunge_mm_min)


def _begin(path: PathBuilder, work: Work, tips: np.ndarray) -> None:
    """Come down along the first pass and go back to where it begins."""
    op = work.operation
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(tips[:, :2], axis=0).T))])
    count = max(2, int(np.searchsorted(way, RAMP_MM)))
    rise = (work.start_mm + LIFT_MM - tips[:count, 2]) * (1 - way[:count] / way[count - 1])
    path.rapid(z_mm=work.clear_mm)
    path.rapid(float(tips[0, 0]), float(tips[0, 1]))
    path.rapid(z_mm=work.start_mm + LIFT_MM)
    feed = min(op.settings.feed_mm_min, op.settings.plunge_mm_min / max(0.05, float(rise[0]) / RAMP_MM))
    path.along(tips[:count, :2], tips[:count, 2] + rise, MoveKind.ENTRY, feed)
    back = tips[:count][::-1]
    path.along(back[:, :2], back[:, 2], MoveKind.CUT, op.settings.feed_mm_min)


def _straightened(points: np.ndarray) -> np.ndarray:
    """Return a pass without points that lie on a line between others, in plan and in height."""
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(points[:, :2], axis=0).T))])
    kept = needed(along, points[:, 2], STRAIGHT_MM) | needed(along, points[:, 1], STRAIGHT_MM)
    return np.asarray(points[kept])
