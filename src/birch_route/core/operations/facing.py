"""Facing: rectangular turns from the outside in, so that the direction of cut stays the same throughout."""

from __future__ import annotations

import numpy as np

from ..motion.toolpath import PathBuilder
from ..vocabulary import Direction, MoveKind
from .base import Made, Work, levels
from .entry import enter_along_ring


def face(work: Work) -> Made:
    """Return the path that brings the face to z = 0 (plus floor_to_leave) over the outline and its margin."""
    op, radius, step = work.operation, work.bit.radius_mm, work.operation.settings.stepover_mm
    xmin, ymin, xmax, ymax = work.outline.bounds
    reach = op.margin_mm - radius  # of the bit's centre beyond the outline
    cx, cy = (xmin + xmax) / 2, (ymin + ymax) / 2
    hx, hy = max(0.0, (xmax - xmin) / 2 + reach), max(0.0, (ymax - ymin) / 2 + reach)
    floor = op.floor_to_leave_mm
    path = PathBuilder(cx - hx, cy - hy, work.clear_mm)
    above = work.start_mm
    for level in levels(work.start_mm, floor, op.settings.depth_of_cut_mm):
        turns = _turns(cx, cy, hx, hy, step, radius, climb=op.direction is Direction.CLIMB)
        path.rapid(z_mm=work.clear_mm)
        for index, ring in enumerate(turns):
            if index == 0:
                ring = enter_along_ring(path, work, ring, above, level, above=True)
            else:
                path.to(*ring[0], level, MoveKind.CUT, op.settings.feed_mm_min)
            path.along(ring[1:], level, MoveKind.CUT, op.settings.feed_mm_min)
            path.to(*ring[0], level, MoveKind.CUT, op.settings.feed_mm_min)
        above = level
    path.rapid(z_mm=work.clear_mm)
    return Made(path.done())


def _turns(cx: float, cy: float, hx: float, hy: float, step: float, radius: float, *, climb: bool) -> list[np.ndarray]:
    """Return the rings of bit centres from outside in; the uncut wood lies inside, on the right when clockwise."""
    out = []
    while True:
        ring = np.array([(cx - hx, cy - hy), (cx - hx, cy + hy), (cx + hx, cy + hy), (cx + hx, cy - hy)])
        out.append(ring if climb else ring[::-1])
        if min(hx, hy) <= radius * 0.98:
            return out
        hx, hy = max(0.0, hx - step), max(0.0, hy - step)
