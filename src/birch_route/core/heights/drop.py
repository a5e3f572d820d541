"""Dropping a bit on a surface: how low it may go over a surface so that no part of it goes below."""

from __future__ import annotations

import numba as nb
import numpy as np

from .forms import profile


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
                    z = surface[j, i] - profile(form, np.sqrt(r2), radius, corner, tip, slope)
                    if z > best:
                        best = z
        out[n] = best


@nb.njit(cache=True, nogil=True, fastmath={"nnan", "ninf", "nsz"})  # so that the greater of two is one instruction for many cells
def drop_grid(surface, depths, reach, out):
    """Fill `out` with the tip's height at the middle of every cell, as `drop` would there.

    surface, out: float32 [ny, nx]. depths: float32 [2 reach + 1, 2 reach + 1], the bit's profile at whole cells from its middle, 1e9
    outside its footprint. Row by row, so that one row of the answer stays at hand while every shifted row is held against it.
    """
    ny, nx = surface.shape
    for j in range(ny):
        row = out[j]
        row[:] = np.float32(-1e30)
        for dj in range(-reach, reach + 1):
            if j + dj < 0 or j + dj >= ny:
                continue
            other = surface[j + dj]
            for di in range(-reach, reach + 1):
                deep = depths[dj + reach, di + reach]
                if deep > np.float32(1e8):
                    continue
                first, last = max(0, -di), min(nx, nx - di)
                mine, theirs = row[first:last], other[first + di: last + di]
                for i in range(last - first):
                    z = theirs[i] - deep
                    mine[i] = z if z > mine[i] else mine[i]


@nb.njit(cache=True, nogil=True)
def between(field, us, vs, out):
    """Fill `out` with a field between its cells, places in cells from the middle of the first; outside, the nearest cell's."""
    ny, nx = field.shape
    for n in range(len(us)):
        u, v = min(max(us[n], 0.0), nx - 1.001), min(max(vs[n], 0.0), ny - 1.001)
        i, j = int(u), int(v)
        fu, fv = u - i, v - j
        out[n] = (field[j, i] * (1 - fu) + field[j, i + 1] * fu) * (1 - fv) + (field[j + 1, i] * (1 - fu) + field[j + 1, i + 1] * fu) * fv


def profile_cells(form: int, radius_mm: float, corner_mm: float, tip_mm: float, slope: float, cell_mm: float) -> tuple[np.ndarray, int]:
    """Return a bit's profile at whole cells from its middle for drop_grid, and how many cells it reaches."""
    reach = int(radius_mm / cell_mm)
    away = np.hypot(*np.meshgrid(np.arange(-reach, reach + 1) * cell_mm, np.arange(-reach, reach + 1) * cell_mm))
    depths = np.full(away.shape, 1e9, np.float32)
    for j, i in np.argwhere(away <= radius_mm):
        depths[j, i] = profile(form, away[j, i], radius_mm, corner_mm, tip_mm, slope)
    return depths, reach
