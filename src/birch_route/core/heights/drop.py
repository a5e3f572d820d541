"""Dropping a bit on a surface: how low it may go over a surface so that no part of it goes below."""

from __future__ import annotations

import numba as nb
import numpy as np

from .kernels import _profile


@nb.njit(cache=True, nogil=True)
def drop(surface, x0, y0, cell, xs, ys, form, radius, corner, tip, slope, out):
    """Fill `out` with the tip's height at points: the greatest of surface less the bit's profile over its footprint.

    surface: heights, float32 [ny, nx]; cells outside it bind nothing. xs, ys, out: float64 [n].

    Source: tip(x, y) = max over the footprint of surface(x + dx, y + dy) - profile(|dx, dy|).
    """
    ny, nx = surface.shape
    for n in range(len(xs)):
        best = -1e30
        j0, j1 = max(0, int((ys[n] - radius - y0) / cell)), min(ny - 1, int((ys[n] + radius - y0) / cell) + 1)
        i0, i1 = max(0, int((xs[n] - radius - x0) / cell)), min(nx - 1, int((xs[n] + radius - x0) / cell) + 1)
        for j in range(j0, j1 + 1):
            dy = y0 + (j + 0.5) * cell - ys[n]
            for i in range(i0, i1 + 1):
                dx = x0 + (i + 0.5) * cell - xs[n]
                r2 = dx * dx + dy * dy
                if r2 <= radius * radius:
                    z = surface[j, i] - _profile(form, np.sqrt(r2), radius, corner, tip, slope)
                    if z > best:
                        best = z
        out[n] = best
