"""How thick the wood is at the end, face to face, and its thinnest places."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from scipy import ndimage

from ..heights.field import Grid
from ..heights.raster import mask_of
from ..instrument.clearances import meets
from ..plane.regions import buffer_round
from .simulate import Simulation

RIM_MM = 1.0  # beside the outline: tabs and cells the wall passes through
WALL_MM = 0.6  # beside walls of features that go through
SAME_MM = 0.05  # heights of one floor
LEAST_MM = 1.0  # half the width of a floor worth telling
MOST = 6


@dataclass(frozen=True)
class ThinPlace:
    """A place where the piece is thin. x, y in the piece's frame; features: those of either face that were cut there."""

    thick_mm: float
    x_mm: float
    y_mm: float
    features: list[str]


def thickness(last: Simulation) -> np.ndarray:
    """Return the wood left at the end of the last setup, mm, float32 [ny, nx] in the piece's frame; NaN outside the piece and where it was cut through."""
    top, bottom = last.in_piece
    grid = last.frame.grid(last.grid)
    piece = mask_of(buffer_round(last.whole_resolved.outline, -RIM_MM, 0.05), grid)
    for solid in last.whole_resolved.solids.values():
        if solid.floor_mm is None and solid.kind != "outline":
            piece &= ~mask_of(solid.region.buffer(WALL_MM), grid)
    solids = [s for s in last.whole_resolved.solids.values() if s.kind != "outline"]
    for k, one in enumerate(solids):  # where two faces open into each other, the rim of the opening is no floor
        for other in solids[k + 1:]:
            if one.face is not other.face and one.region.intersects(other.region) and meets(one, other, last.whole_resolved.thickness_mm):
                piece &= ~mask_of(one.region.intersection(other.region).buffer(WALL_MM), grid)
    left = (top - bottom).astype(np.float32)
    if last.hollow is not None:  # the thinner of what lies over and under it
        up = last.hollow.least(last.result, last.bottom)
        axis = None if last.frame.about is None else (0 if last.frame.about.value == "length" else 1)
        left = (up if axis is None else np.flip(up, axis)).astype(np.float32)
    return np.where(piece & (left > 0), left, np.float32(np.nan))


def thin_places(last: Simulation) -> list[ThinPlace]:
    """Return the thinnest floors of the piece, the thinnest first; none where the wood is as thick as it came.

    A floor is told once, at its place farthest from where the wood is thicker.
    """
    left = thickness(last)
    fine = last.frame.grid(last.grid)
    left = left[::2, ::2]  # a floor worth telling is much wider than two cells
    grid = Grid(fine.x0_mm - fine.cell_mm / 2, fine.y0_mm - fine.cell_mm / 2, left.shape[1], left.shape[0], 2 * fine.cell_mm)
    whole = float(np.nanmax(left)) if np.isfinite(left).any() else 0.0
    wide = 2 * int(LEAST_MM / grid.cell_mm) + 1
    rest = ndimage.minimum_filter(ndimage.maximum_filter(np.where(np.isfinite(left), left, np.float32(np.inf)), wide), wide)  # nothing narrower than a floor
    out: list[ThinPlace] = []
    while len(out) < MOST:
        thinnest = float(rest.min())
        if not np.isfinite(thinnest) or thinnest > whole - 1.0:
            break
        j, i = (int(v) for v in np.unravel_index(np.argmin(rest), rest.shape))
        label, _ = ndimage.label(rest <= thinnest + SAME_MM)
        floor = label == label[j, i]
        rows, columns = np.flatnonzero(floor.any(1)), np.flatnonzero(floor.any(0))
        part = floor[rows[0]: rows[-1] + 1, columns[0]: columns[-1] + 1]
        inside = ndimage.distance_transform_cdt(np.pad(part, 1), metric="chessboard")[1:-1, 1:-1]
        dj, di = (int(v) for v in np.unravel_index(np.argmax(inside), inside.shape))
        x, y = float(grid.x0_mm + (columns[0] + di + 0.5) * grid.cell_mm), float(grid.y0_mm + (rows[0] + dj + 0.5) * grid.cell_mm)
        r0, c0 = max(0, rows[0] - 2 * wide), max(0, columns[0] - 2 * wide)
        near = slice(r0, rows[-1] + 1 + 2 * wide), slice(c0, columns[-1] + 1 + 2 * wide)
        rest[near][ndimage.maximum_filter(floor[near], 2 * wide + 1)] = np.inf
        at = shapely.Point(x, y)
        out.append(ThinPlace(thinnest, x, y, [s.id for s in last.whole_resolved.solids.values() if s.kind != "outline" and s.floor_mm is not None and s.region.contains(at)]))
    return out
