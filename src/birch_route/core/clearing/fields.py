"""Cells over a region, and signed distances on them."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from scipy import ndimage

from ..plane.regions import rings
from . import kernels

NEAR_CELLS = 6.0  # distances are exact this near to a rim; beyond, to a cell


@dataclass(frozen=True)
class Cells:
    """Square cells. The middle of cell (0, 0) is at x_mm, y_mm."""

    x_mm: float
    y_mm: float
    columns: int
    rows: int
    cell_mm: float

    @classmethod
    def over(cls, region: shapely.Geometry, cell_mm: float, around_mm: float) -> Cells:
        """Return cells that cover a region and some space around it."""
        xmin, ymin, xmax, ymax = region.bounds
        columns = math.ceil((xmax - xmin + 2 * around_mm) / cell_mm) + 2
        rows = math.ceil((ymax - ymin + 2 * around_mm) / cell_mm) + 2
        return cls(xmin - around_mm, ymin - around_mm, columns, rows, cell_mm)

    def uv(self, points: np.ndarray) -> np.ndarray:
        """Return places [n, 2] in cells."""
        return (np.asarray(points, float) - [self.x_mm, self.y_mm]) / self.cell_mm

    def xy(self, places: np.ndarray) -> np.ndarray:
        """Return places [n, 2] in mm."""
        return np.asarray(places, float) * self.cell_mm + [self.x_mm, self.y_mm]

    def signed(self, region: shapely.Geometry) -> np.ndarray:
        """Return the signed distance to a region's rim in cells, above 0 inside: float32 [rows, columns]."""
        inside = np.zeros((self.rows, self.columns), np.bool_)
        edges = [np.hstack([ring, np.roll(ring, -1, axis=0)]) for ring in map(self.uv, rings(region))]
        if not edges:
            return np.full(inside.shape, -1e3, np.float32)
        lines = np.ascontiguousarray(np.vstack(edges))
        kernels.scan_inside(lines, self.rows, self.columns, inside)
        rough = np.where(inside, ndimage.distance_transform_edt(inside), ndimage.distance_transform_edt(~inside)) - 0.5
        exact = np.full(inside.shape, 1e6)
        kernels.near_edges(lines, NEAR_CELLS, exact)
        away = np.where(exact < 1e5, exact, rough)
        return np.where(inside, away, -away).astype(np.float32)
