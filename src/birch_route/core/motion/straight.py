"""Which points of a line may be left out: those nearer to the line between the ones that stay than can matter."""

from __future__ import annotations

import numpy as np
from numba import njit


def needed(along: np.ndarray, across: np.ndarray, within: float) -> np.ndarray:
    """Return which points of a line of (along, across), float64 [n] each, mm, are needed so that all others lie `within` mm of it, bool [n].

    Source: Douglas and Peucker, Algorithms for the reduction of the number of points required to represent a digitized line, 1973.
    """
    keep = np.zeros(len(along), np.bool_)
    _needed(np.ascontiguousarray(along, np.float64), np.ascontiguousarray(across, np.float64), within, keep)
    return keep


@njit(cache=True)
def _needed(along, across, within, keep):
    n = len(along)
    keep[0] = keep[n - 1] = True
    open_runs = np.empty((n, 2), np.int64)
    open_runs[0, 0], open_runs[0, 1] = 0, n - 1
    count = 1
    while count > 0:
        count -= 1
        a, b = open_runs[count, 0], open_runs[count, 1]
        dx, dy = along[b] - along[a], across[b] - across[a]
        long2 = dx * dx + dy * dy
        worst, at = within * within, -1
        for k in range(a + 1, b):
            x, y = along[k] - along[a], across[k] - across[a]
            t = 0.0 if long2 <= 0.0 else min(1.0, max(0.0, (x * dx + y * dy) / long2))
            x, y = x - t * dx, y - t * dy
            off = x * x + y * y
            if off > worst:
                worst, at = off, k
        if at >= 0:
            keep[at] = True
            open_runs[count, 0], open_runs[count, 1] = a, at
            open_runs[count + 1, 0], open_runs[count + 1, 1] = at, b
            count += 2
