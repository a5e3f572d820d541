"""Regions as cell masks: a cell belongs to a region if its centre lies inside."""

from __future__ import annotations

import math
from functools import lru_cache

import numba as nb
import numpy as np
import shapely

from ..plane.regions import rings
from .field import Grid


@nb.njit(cache=True, nogil=True)
def _fill(mask, edges, x0, y0, cell):
    ny, nx = mask.shape
    counts = np.zeros(ny, np.int64)
    for e in range(len(edges)):
        lo, hi = min(edges[e, 1], edges[e, 3]), max(edges[e, 1], edges[e, 3])
        for j in range(max(0, int(math.ceil((lo - y0) / cell - 0.5))), min(ny, int(math.ceil((hi - y0) / cell - 0.5)))):
            counts[j] += 1
    starts = np.zeros(ny + 1, np.int64)
    for j in range(ny):
        starts[j + 1] = starts[j] + counts[j]
    crossings = np.zeros(starts[ny])
    filled = np.zeros(ny, np.int64)
    for e in range(len(edges)):
        xa, ya, xb, yb = edges[e, 0], edges[e, 1], edges[e, 2], edges[e, 3]
        lo, hi = min(ya, yb), max(ya, yb)
        for j in range(max(0, int(math.ceil((lo - y0) / cell - 0.5))), min(ny, int(math.ceil((hi - y0) / cell - 0.5)))):
            y = y0 + (j + 0.5) * cell
            crossings[starts[j] + filled[j]] = xa + (y - ya) / (yb - ya) * (xb - xa)
            filled[j] += 1
    for j in range(ny):
        row = np.sort(crossings[starts[j]: starts[j + 1]])
        for k in range(0, len(row) - 1, 2):
            i0 = max(0, int(math.ceil((row[k] - x0) / cell - 0.5)))
            i1 = min(nx, int(math.ceil((row[k + 1] - x0) / cell - 0.5)))
            for i in range(i0, i1):
                mask[j, i] = True


def mask_of(region: shapely.Geometry, grid: Grid) -> np.ndarray:
    """Return bool [ny, nx]: True where the cell's centre lies inside the region (even-odd)."""
    mask = np.zeros((grid.ny, grid.nx), np.bool_)
    loops = rings(region)
    if loops:
        edges = np.vstack([np.hstack([loop, np.roll(loop, -1, axis=0)]) for loop in loops])
        _fill(mask, np.ascontiguousarray(edges), grid.x0_mm, grid.y0_mm, grid.cell_mm)
    return mask


@lru_cache(maxsize=24)
def kept_mask(region: shapely.Geometry, grid: Grid) -> np.ndarray:
    """Return mask_of(region, grid), kept for the next question about the same large region; read only."""
    mask = mask_of(region, grid)
    mask.setflags(write=False)
    return mask
