"""The wood as two height fields over one grid, and the cutting of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np

from ..bits.model import Bit
from ..motion.toolpath import Toolpath
from ..vocabulary import RAPID_CODE, BitForm
from . import forms, kernels

CELL_MM = 0.25
FINE_MM = 0.1  # of a fretboard, whose slots are half a millimetre wide
TWO_FROM_MOVES = 1500  # from so many moves on, two cores cut half of the rows each
_others = ThreadPoolExecutor(2)
_FORMS = {
    BitForm.FLAT: forms.FLAT, BitForm.BALL: forms.BALL, BitForm.BULL: forms.BULL, BitForm.V: forms.CONE,
    BitForm.DRILL: forms.CONE, BitForm.ROUND: forms.ROUND, BitForm.TAPER: forms.TAPER,
}


def envelope(bit: Bit) -> tuple[int, float, float, float, float]:
    """Return a bit for the kernels: form, greatest radius, corner or ball radius, radius of its tip, how far its side
    leans out per height."""
    round_mm = bit.radius_mm if bit.form is BitForm.TAPER else bit.corner_radius_mm
    slope = math.tan(math.radians(bit.included_angle_deg) / 2)
    return _FORMS[bit.form], bit.reach_mm, round_mm, bit.tip_diameter_mm / 2, slope


@dataclass(frozen=True)
class Grid:
    """Where the cells are: cell (j, i) has its centre at x0 + (i + 0.5) cell, y0 + (j + 0.5) cell, mm."""

    x0_mm: float
    y0_mm: float
    nx: int
    ny: int
    cell_mm: float = CELL_MM

    @staticmethod
    def over(xmin: float, ymin: float, xmax: float, ymax: float, cell_mm: float = CELL_MM) -> Grid:
        """Return the grid that covers a rectangle from its lower left corner."""
        return Grid(xmin, ymin, max(1, math.ceil((xmax - xmin) / cell_mm - 1e-6)),
                    max(1, math.ceil((ymax - ymin) / cell_mm - 1e-6)), cell_mm)

    def x_centres(self) -> np.ndarray:
        return self.x0_mm + (np.arange(self.nx) + 0.5) * self.cell_mm

    def y_centres(self) -> np.ndarray:
        return self.y0_mm + (np.arange(self.ny) + 0.5) * self.cell_mm

    def window(self, xmin: float, ymin: float, xmax: float, ymax: float) -> tuple[Grid, tuple[slice, slice]]:
        """Return the part of the grid over a rectangle, and its rows and columns in this one; at least one cell."""
        i0, j0 = (max(0, min(n - 1, math.floor((v - o) / self.cell_mm))) for v, o, n in ((xmin, self.x0_mm, self.nx), (ymin, self.y0_mm, self.ny)))
        i1, j1 = (max(a + 1, min(n, math.ceil((v - o) / self.cell_mm))) for v, o, n, a in ((xmax, self.x0_mm, self.nx, i0), (ymax, self.y0_mm, self.ny, j0)))
        part = Grid(self.x0_mm + i0 * self.cell_mm, self.y0_mm + j0 * self.cell_mm, i1 - i0, j1 - j0, self.cell_mm)
        return part, (slice(j0, j1), slice(i0, i1))

    def cell_of(self, x_mm: float, y_mm: float) -> tuple[int, int] | None:
        """Return row and column of the cell that holds a point, None outside."""
        i, j = math.floor((x_mm - self.x0_mm) / self.cell_mm), math.floor((y_mm - self.y0_mm) / self.cell_mm)
        return (j, i) if 0 <= i < self.nx and 0 <= j < self.ny else None


@dataclass
class Wood:
    """top and bottom as z in the piece's frame, float32 [ny, nx]; a cell is through where top <= bottom.

    lowest_mm and is_level describe the underside: its lowest place, and whether it is the same everywhere.
    """

    grid: Grid
    top: np.ndarray
    bottom: np.ndarray
    lowest_mm: float = math.nan
    is_level: bool = False

    def __post_init__(self) -> None:
        if math.isnan(self.lowest_mm):
            self.lowest_mm = float(self.bottom.min())
            self.is_level = self.lowest_mm == float(self.bottom.max())

    def with_top(self, top: np.ndarray) -> Wood:
        """Return the same wood with another top."""
        return Wood(self.grid, top, self.bottom, self.lowest_mm, self.is_level)

    @staticmethod
    def block(grid: Grid, top_mm: float, bottom_mm: float) -> Wood:
        """Return a whole blank."""
        shape = (grid.ny, grid.nx)
        return Wood(grid, np.full(shape, top_mm, np.float32), np.full(shape, bottom_mm, np.float32))

    def copy(self) -> Wood:
        return self.with_top(self.top.copy())

    def through(self) -> np.ndarray:
        """Return where nothing is left, bool [ny, nx]."""
        return self.top <= self.bottom

    def volume_mm3(self) -> float:
        return float(kernels.volume_left(self.top, self.bottom, self.grid.cell_mm))


def cut_path(wood: Wood, path: Toolpath, bit: Bit, nut_diameter_mm: float, ceiling_mm: float, heads: Sequence[tuple[str, float, float]] = ()) -> np.ndarray:
    """Cut a toolpath into the wood, in place.

    Args:
        wood: changed.
        path: in the piece's frame, mm.
        bit: its full form and reach.
        nut_diameter_mm: collet nut.
        ceiling_mm: highest wood anywhere, z.
        heads: at most two of Machine.heads.

    Returns:
        float64 [n, kernels.METRICS], one row per move; columns are named in kernels.
    """
    metrics = np.zeros((len(path), kernels.METRICS))
    if len(path) == 0:
        return metrics
    halves = _halves(wood, path)
    if len(halves) == 1:
        _cut_rows(wood, halves[0], path, bit, nut_diameter_mm, ceiling_mm, heads, metrics)
    else:
        parts = [metrics, np.zeros_like(metrics)]
        beside = _others.submit(_cut_rows, wood, halves[1], path, bit, nut_diameter_mm, ceiling_mm, heads, parts[1])
        _cut_rows(wood, halves[0], path, bit, nut_diameter_mm, ceiling_mm, heads, parts[0])
        beside.result()
        volume = parts[0][:, kernels.VOLUME] + parts[1][:, kernels.VOLUME]
        np.maximum(parts[0], parts[1], out=metrics)
        metrics[:, kernels.VOLUME] = volume
    low = np.minimum(path.points[:-1, 2], path.points[1:, 2])
    metrics[:, kernels.BELOW] = np.maximum(0.0, wood.lowest_mm - low)
    return metrics


def _halves(wood: Wood, path: Toolpath) -> list[slice]:
    """Return the rows to cut beside each other: two parts with as much of the path over each, or all in one where that is not worth it.

    A cell's height depends on no other cell, and what a move meets is the most of what it meets in either part.
    """
    if len(path) < TWO_FROM_MOVES:
        return [slice(0, wood.grid.ny)]
    low = path.kinds != RAPID_CODE
    middle, length = (path.points[:-1, 1] + path.points[1:, 1])[low] / 2, np.hypot(*np.diff(path.points[:, :2], axis=0)[low].T)
    order = np.argsort(middle)
    weight = np.cumsum(length[order])
    if not len(weight) or weight[-1] <= 0:
        return [slice(0, wood.grid.ny)]
    y = float(middle[order[int(np.searchsorted(weight, weight[-1] / 2))]])
    row = min(max(1, round((y - wood.grid.y0_mm) / wood.grid.cell_mm)), wood.grid.ny - 1)
    return [slice(0, row), slice(row, wood.grid.ny)] if wood.grid.ny > 1 else [slice(0, 1)]


def _cut_rows(wood: Wood, rows: slice, path: Toolpath, bit: Bit, nut_diameter_mm: float, ceiling_mm: float, heads: Sequence[tuple[str, float, float]], metrics: np.ndarray) -> None:
    """Cut a toolpath into some rows of the wood, and fill metrics with what it meets there."""
    grid = wood.grid
    kernels.cut(
        wood.top[rows], wood.bottom[rows], wood.is_level, grid.x0_mm, grid.y0_mm + rows.start * grid.cell_mm, grid.cell_mm, path.points, path.kinds == RAPID_CODE,
        *envelope(bit),
        bit.cutting_length_mm, bit.shank_diameter_mm / 2, bit.stickout_mm, nut_diameter_mm / 2, np.array([[r, bit.stickout_mm + up] for _, r, up in heads]).reshape(-1, 2), ceiling_mm, metrics,
    )
