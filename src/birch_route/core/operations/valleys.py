"""Valleys of a surface: where a ball touches on two sides and leaves wood between, and the pencil passes that take it."""

from __future__ import annotations

import math
from collections import OrderedDict

import numpy as np
import shapely
from scipy import ndimage
from shapely.geometry import LineString

from ..bits.model import Bit
from ..data import figures
from ..heights.drop import drop_grid, profile_cells
from ..heights.field import Grid, envelope
from ..heights.raster import mask_of
from ..heights.thin import thinned, traced
from ..instrument.bevels import surface_heights
from ..instrument.solids import Solid
from ..plane.regions import buffer_round

CELL_MM = 0.5
ROUND_CELLS = 3.0  # lines through cells are smoothed over so many
_kept: OrderedDict[str, tuple[Grid, np.ndarray]] = OrderedDict()
KEEP = 8


def stands_over(solid: Solid, bit: Bit) -> tuple[Grid, np.ndarray]:
    """Return what a bit has to leave over a surface however finely it is passed, mm, float32 [ny, nx] on a grid of CELL_MM over its region.

    Source: the lowest tip everywhere, then the lowest end of the bit over every place (a grey closing by the bit's profile).
    """
    assert solid.surface is not None
    shape = envelope(bit)
    key = f"{solid.surface.key} {shape}"
    if key not in _kept:
        wide = 2 * bit.reach_mm + 2.0
        xmin, ymin, xmax, ymax = buffer_round(solid.region, wide).bounds
        grid = Grid.over(xmin, ymin, xmax, ymax, CELL_MM)
        heights = surface_heights(solid.surface, xmin, ymin, CELL_MM, grid.nx, grid.ny)
        profile = profile_cells(*shape, CELL_MM)
        tips, under = np.empty(heights.shape, np.float32), np.empty(heights.shape, np.float32)
        drop_grid(np.ascontiguousarray(heights), *profile, tips)
        drop_grid(-tips, *profile, under)
        _kept[key] = grid, np.where(mask_of(solid.region, grid), np.maximum(-under - heights, 0.0), 0.0).astype(np.float32)
        while len(_kept) > KEEP:
            _kept.popitem(last=False)
    return _kept[key]


def left_at(solid: Solid, bit: Bit, x: np.ndarray, y: np.ndarray, near_mm: float = 0.0) -> np.ndarray:
    """Return what a bit has to leave at places, mm, or the most of it near to them."""
    grid, left = stands_over(solid, bit)
    left = ndimage.maximum_filter(left, 2 * math.ceil(near_mm / CELL_MM) + 1) if near_mm > 0 else left
    return ndimage.map_coordinates(left, [(y - grid.y0_mm) / CELL_MM - 0.5, (x - grid.x0_mm) / CELL_MM - 0.5], order=1, mode="nearest")


def valley_lines(solid: Solid, wide: Bit, area: shapely.Geometry, stepover_mm: float) -> list[np.ndarray]:
    """Return pencil passes in plan, from the outside of each valley to its middle.

    Args:
        wide: the bit that went before; where it left more than figures.valley.left_mm there is a valley.
        area: where the bit's middle may go.
    """
    grid, left = stands_over(solid, wide)
    deep = ndimage.binary_closing(left > figures()["valley"]["left_mm"], iterations=1)
    middles = [_smooth(way, grid) for way in traced(thinned(deep), max(4, int(figures()["valley"]["least_mm"] / CELL_MM)))]
    wood = ndimage.binary_dilation(deep, iterations=2)  # a pass begins a little before what it takes
    half = ndimage.distance_transform_edt(deep) * CELL_MM
    out: list[np.ndarray] = []
    for line in middles:
        j, i = ((line[:, ::-1] - [grid.y0_mm, grid.x0_mm]) / CELL_MM).astype(int).T
        reach = float(half[np.clip(j, 0, grid.ny - 1), np.clip(i, 0, grid.nx - 1)].max()) + CELL_MM
        middle = LineString(_longer(line, reach + 1.0))
        sides = [middle.offset_curve(s * k * stepover_mm) for k in range(math.ceil(reach / stepover_mm), 0, -1) for s in (1, -1)] if reach > stepover_mm / 2 else []
        for way in [*sides, middle]:
            cut = way.intersection(area)
            for part in (g for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 2 * CELL_MM):
                out += _over(shapely.get_coordinates(shapely.segmentize(part, CELL_MM)), wood, grid)
    return _chained(out)


def _longer(line: np.ndarray, by_mm: float) -> np.ndarray:
    """Return an open line longer at both ends by as much as thinning took."""
    if np.allclose(line[0], line[-1]):
        return line
    ends = []
    for end, inner in ((line[0], line[min(6, len(line) - 1)]), (line[-1], line[-min(7, len(line))])):
        way = end - inner
        ends.append(end + way / max(float(np.hypot(*way)), 1e-9) * by_mm)
    return np.vstack([ends[0], line, ends[1]])


def _over(points: np.ndarray, mask: np.ndarray, grid: Grid) -> list[np.ndarray]:
    """Return the stretches of a line that lie over a mask."""
    i, j = ((points - [grid.x0_mm, grid.y0_mm]) / CELL_MM).astype(int).T
    here = mask[np.clip(j, 0, grid.ny - 1), np.clip(i, 0, grid.nx - 1)]
    edges = np.flatnonzero(np.diff(np.concatenate([[0], here.astype(np.int8), [0]]))).reshape(-1, 2)
    return [points[a:b] for a, b in edges.tolist() if b - a >= 3]


def _smooth(way: np.ndarray, grid: Grid) -> np.ndarray:
    """Return the middles of cells as points [n, 2], without the steps of the cells; ends stay."""
    line = np.column_stack([grid.x0_mm + (way[:, 1] + 0.5) * CELL_MM, grid.y0_mm + (way[:, 0] + 0.5) * CELL_MM])
    closed = bool((np.abs(way[0] - way[-1]) <= 1).all()) and len(way) > 8
    out = ndimage.gaussian_filter1d(line, ROUND_CELLS, axis=0, mode="wrap" if closed else "nearest")
    return np.vstack([out, out[:1]]) if closed else np.vstack([line[:1], out[1:-1], line[-1:]])


def _chained(lines: list[np.ndarray]) -> list[np.ndarray]:
    """Return lines so that each begins at its end nearer to where the one before stopped."""
    out: list[np.ndarray] = []
    for line in lines:
        if out and np.hypot(*(line[-1] - out[-1][-1])) < np.hypot(*(line[0] - out[-1][-1])):
            line = line[::-1]
        out.append(line)
    return out
