"""What the cuts of a step met: how deep and how wide the wood was where they were heaviest."""

from __future__ import annotations

import numpy as np

from ..bits.model import Bit
from ..heights import kernels
from ..motion.toolpath import Toolpath
from ..vocabulary import MOVE_CODES, MoveKind

MET_PART = 0.99  # of the cutting length is lighter than what is told
ALIKE_PART = 1e-3  # cuts whose pull differs less are alike


def engagement(path: Toolpath, metrics: np.ndarray, bit: Bit, which: np.ndarray) -> tuple[float, float]:
    """Return depth of cut and side engagement, mm, of the move whose cut is heavier than 99 % of the cutting length of `which` moves.

    The area of a cut is its volume over its length; the side engagement that area over the depth met; heaviness is
    depth times the sine of the engaged arc (at most a quarter turn). Of cuts alike in that (from the radius on a wider one pulls no harder, but
    asks for more power) the one wider than 99 % of them is told.
    """
    plan = np.hypot(*np.diff(path.points[:, :2], axis=0).T)
    cutting = which & (plan > 0.05) & (metrics[:, kernels.VOLUME] > 1e-6) & (path.kinds >= MOVE_CODES[MoveKind.ENTRY])
    if not cutting.any():
        return 0.0, 0.0
    length, depth = plan[cutting], np.maximum(metrics[cutting, kernels.DEPTH], 1e-6)
    wide = np.minimum(metrics[cutting, kernels.VOLUME] / length / depth, bit.cut_diameter_mm)
    heavy = depth * np.sin(np.minimum(np.arccos(1 - wide / bit.radius_mm), np.pi / 2))
    k = _at_part(heavy, length, MET_PART)
    alike = np.flatnonzero(np.abs(heavy - heavy[k]) <= ALIKE_PART * heavy[k])
    w = alike[_at_part(wide[alike], length[alike], MET_PART)]
    return float(depth[w]), float(wide[w])


def _at_part(values: np.ndarray, weights: np.ndarray, part: float) -> int:
    """Return the place of the value that is greater than this part of all, by weight."""
    order = np.argsort(values, kind="stable")
    sums = np.cumsum(weights[order])
    return int(order[min(int(np.searchsorted(sums, part * sums[-1])), len(order) - 1)])
