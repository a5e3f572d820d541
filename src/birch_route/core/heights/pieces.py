"""Connected pieces of wood: which cells hang together once something has been cut through."""

from __future__ import annotations

import numba as nb
import numpy as np


@nb.njit(cache=True, nogil=True)
def _root(parent, k):
    while parent[k] != k:
        parent[k] = parent[parent[k]]
        k = parent[k]
    return k


@nb.njit(cache=True, nogil=True)
def _runs(wood, top, bottom, labels):  # numeric kernel: one pass over rows, one that renumbers
    """Label runs of wood row by row, join those that touch a run of the row below, number the pieces from 1."""
    ny, nx = wood.shape
    parent = np.zeros(ny * ((nx + 1) // 2) + 1, np.int32)
    count = 0
    for j in range(ny):
        for i in range(nx):
            if not wood[j, i]:
                continue
            joined = 0
            if i > 0 and labels[j, i - 1] > 0 and top[j, i - 1] > bottom[j, i] and top[j, i] > bottom[j, i - 1]:
                joined = labels[j, i - 1]
            if j > 0 and labels[j - 1, i] > 0 and top[j - 1, i] > bottom[j, i] and top[j, i] > bottom[j - 1, i]:
                below = labels[j - 1, i]
                if joined == 0:
                    joined = below
                elif joined != below:
                    a, b = _root(parent, joined), _root(parent, below)
                    joined = min(a, b)
                    parent[max(a, b)] = joined
            if joined == 0:
                count += 1
                parent[count] = count
                joined = count
            labels[j, i] = joined
    number = np.zeros(count + 1, np.int32)
    pieces = 0
    for k in range(1, count + 1):
        if _root(parent, k) == k:
            pieces += 1
            number[k] = pieces
    if pieces == count:
        return pieces
    for k in range(1, count + 1):
        number[k] = number[_root(parent, k)]
    for j in range(ny):
        for i in range(nx):
            labels[j, i] = number[labels[j, i]]
    return pieces


def label_pieces(top: np.ndarray, bottom: np.ndarray) -> tuple[np.ndarray, int]:
    """Return which piece of wood each cell belongs to.

    Args:
        top, bottom: heights, float32 [ny, nx], mm; nothing is left where top <= bottom.

    Returns:
        labels int32 [ny, nx], 0 where nothing is left, and the number of pieces. Neighbours (4) belong together only
        where their [bottom, top] intervals overlap.
    """
    labels = np.zeros(top.shape, np.int32)
    pieces = _runs(top > bottom, top, bottom, labels)
    return labels, int(pieces)
