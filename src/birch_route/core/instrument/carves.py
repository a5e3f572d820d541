"""Carved faces: a surface that follows the outline, lower by so much at so many mm from the rim; a recurve is a station lower than those beside it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import map_coordinates
from shapely.geometry import Polygon

from ..clearing.kernels import near_edges
from ..heights.field import Grid
from ..heights.raster import mask_of
from ..plane.regions import buffer_round
from .floors import cells_of

FIELD_MM = 0.5  # of the distances from the rim
OUTSIDE_MM = 16.0  # beyond the rim it goes on level by this much
RUN_OUT_MM = 8.0  # the flat inside the last station, so that the slope runs out level


@dataclass(frozen=True)
class CarvedFace:
    """The surface of one carve in a frame where its face lies at z = 0. ring: the outline, float64 [n, 2], not repeating the first; at_mm: inward from the rim."""

    ring: np.ndarray
    at_mm: tuple[float, ...]
    drop_mm: tuple[float, ...]

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"carve {self.ring.tobytes().hex()[:4000]} {len(self.ring)} {float(self.ring.sum()):.9f} {self.at_mm} {self.drop_mm}"

    @property
    def deepest_mm(self) -> float:
        """Greatest drop."""
        return max(self.drop_mm)

    @cached_property
    def steepest(self) -> float:
        """Greatest slope between the rim and the flat, drop over run."""
        d = np.linspace(0.0, self.at_mm[-1], 400)
        return float(np.abs(self._curve.derivative()(d)).max())

    @property
    def along_deg(self) -> float:
        """Direction it is taken to run, degrees: along the piece, so that passes go across."""
        return 0.0

    @cached_property
    def _curve(self) -> PchipInterpolator:
        return PchipInterpolator([*self.at_mm, self.at_mm[-1] + RUN_OUT_MM], [*self.drop_mm, self.drop_mm[-1]])

    def profile(self, from_rim_mm: np.ndarray) -> np.ndarray:
        """Return the drop at distances from the rim, smooth between stations and never beyond them (monotone cubic); level outside the rim."""
        return np.where(from_rim_mm >= self.at_mm[-1], self.drop_mm[-1], self._curve(np.clip(from_rim_mm, 0.0, self.at_mm[-1])))

    @cached_property
    def _field(self) -> tuple[np.ndarray, Grid]:
        """Return distances from the rim, inside above 0, on a grid of FIELD_MM, as far as they count."""
        reach = max(self.at_mm[-1], OUTSIDE_MM) + 2 * FIELD_MM
        (xmin, ymin), (xmax, ymax) = self.ring.min(0) - reach, self.ring.max(0) + reach
        grid = Grid.over(xmin, ymin, xmax, ymax, FIELD_MM)
        closed = np.vstack([self.ring, self.ring[:1]])
        cells = (closed - [grid.x0_mm + FIELD_MM / 2, grid.y0_mm + FIELD_MM / 2]) / FIELD_MM
        far = np.full((grid.ny, grid.nx), reach / FIELD_MM)
        near_edges(np.ascontiguousarray(np.hstack([cells[:-1], cells[1:]])), reach / FIELD_MM, far)
        inside = mask_of(Polygon(self.ring), grid)
        return np.where(inside, far, -far) * FIELD_MM, grid

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far the surface lies below the face, mm.

        Source: exact distances from the rim on a grid, straight between its points: off by at most cell^2 / (8 R) where the rim bends with radius R.
        """
        field, grid = self._field
        v, u = (np.asarray(y) - grid.y0_mm) / FIELD_MM - 0.5, (np.asarray(x) - grid.x0_mm) / FIELD_MM - 0.5
        distance = map_coordinates(field, [np.ravel(v), np.ravel(u)], order=1, mode="nearest").reshape(np.shape(x))
        return np.where(distance < -OUTSIDE_MM, 0.0, self.profile(distance))

    def region(self) -> Polygon:
        """Return the area of the piece that the carve changes: the outline without the flat inside."""
        body = shapely.geometry.polygon.orient(Polygon(self.ring))
        flat = buffer_round(body, -self.at_mm[-1], 0.05)
        left = body if flat.is_empty else body.difference(flat)
        return max(getattr(left, "geoms", [left]), key=lambda g: g.area)

    def turned(self, signs: tuple[float, float]) -> CarvedFace:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return self if signs == (1.0, 1.0) else replace(self, ring=(self.ring * np.asarray(signs))[::-1])

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)

