"""Reliefs: a face formed by a surface that was brought in, as depths below the face on a grid."""

from __future__ import annotations

import base64
import binascii
import math
import zlib
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numba as nb
import numpy as np
import shapely
from scipy import ndimage
from shapely.geometry import Polygon

from ..errors import GeometryError, InputError
from ..heights.lines import area_above
from .floors import cells_of

STEP_MM = 0.005  # depths are kept in steps of this
OUTSIDE_MM = 16.0  # beyond its end a surface goes on as it ends, by this much
MOST_VISITS = 4e9  # cells looked at under all triangles: some seconds
LEAST_MM = 0.02  # what lies less deep is the face


def pack_depths(depth_mm: np.ndarray) -> str:
    """Return depths, float [ny, nx], 0 to 300 mm, as text: steps of STEP_MM, differences along rows and columns, deflate, base 64."""
    steps = np.round(np.asarray(depth_mm) / STEP_MM).astype(np.int32)
    rows = np.diff(steps, axis=1, prepend=0)
    both = np.diff(rows, axis=0, prepend=0).astype("<i2" if np.abs(np.diff(rows, axis=0, prepend=0)).max() < 32000 else "<i4")
    return ("s" if both.dtype.itemsize == 2 else "w") + base64.b64encode(zlib.compress(both.tobytes(), 9)).decode()


@lru_cache(maxsize=12)
def unpack_depths(text: str, ny: int, nx: int) -> np.ndarray:
    """Return the depths of `pack_depths`, float32 [ny, nx], mm, not to be written to.

    Raises:
        InputError: the text does not hold so many depths.
    """
    try:
        kind = {"s": "<i2", "w": "<i4"}[text[:1]]
        most = ny * nx * np.dtype(kind).itemsize
        data = zlib.decompressobj().decompress(base64.b64decode(text[1:], validate=True), most + 1)
        both = np.frombuffer(data, kind).reshape(ny, nx)
    except (KeyError, ValueError, zlib.error, binascii.Error) as exc:
        raise InputError(f"The depths of a relief are not {ny} rows of {nx}. Bring its file in again.", where="depths") from exc
    out = (np.cumsum(np.cumsum(both, axis=0, dtype=np.int64), axis=1) * STEP_MM).astype(np.float32)
    if out.min() < -STEP_MM or out.max() > 300:
        raise InputError("The depths of a relief go above its face, or deeper than 300 mm.", where="depths")
    out.setflags(write=False)
    return out


@nb.njit(cache=True, nogil=True)
def highest(triangles, x0, y0, cell, top):
    """Raise `top` to the triangles that lie over the middles of its cells; what is never covered keeps what it had.

    triangles: float64 [n, 3, 3], mm. top: float64 [ny, nx].
    """
    ny, nx = top.shape
    for t in range(len(triangles)):
        ax, ay, az = triangles[t, 0]
        bx, by, bz = triangles[t, 1]
        cx, cy, cz = triangles[t, 2]
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        if abs(area) < 1e-12:
            continue
        j0, j1 = max(0, int(math.floor((min(ay, by, cy) - y0) / cell - 0.5))), min(ny - 1, int(math.ceil((max(ay, by, cy) - y0) / cell - 0.5)))
        i0, i1 = max(0, int(math.floor((min(ax, bx, cx) - x0) / cell - 0.5))), min(nx - 1, int(math.ceil((max(ax, bx, cx) - x0) / cell - 0.5)))
        for j in range(j0, j1 + 1):
            y = y0 + (j + 0.5) * cell
            for i in range(i0, i1 + 1):
                x = x0 + (i + 0.5) * cell
                u = ((bx - x) * (cy - y) - (cx - x) * (by - y)) / area
                v = ((cx - x) * (ay - y) - (ax - x) * (cy - y)) / area
                w = 1.0 - u - v
                if u >= -1e-9 and v >= -1e-9 and w >= -1e-9:
                    z = u * az + v * bz + w * cz
                    if z > top[j, i]:
                        top[j, i] = z


def _visits(points: np.ndarray, x0: float, y0: float, cell: float, nx: int, ny: int) -> float:
    """Return how many cells lie in the boxes round all triangles together."""
    low, high = points[:, :, :2].min(1), points[:, :, :2].max(1)
    across = [
        np.clip((high[:, k] - first) / cell, 0, n) - np.clip((low[:, k] - first) / cell - 1, 0, n)
        for k, first, n in ((0, x0, nx), (1, y0, ny))
    ]
    return float((across[0] * across[1]).sum())


@dataclass(frozen=True)
class Laid:
    """A surface laid on a piece: depths below its face, float32 [ny, nx], the deepest over the piece, the grid's corner and cell, and how much of the
    outline it covers, 0 to 1."""

    depth_mm: np.ndarray
    deepest_mm: float
    x0_mm: float
    y0_mm: float
    cell_mm: float
    covers: float


def lay_surface(triangles: np.ndarray, outline: Polygon, *, turn_deg: float = 0.0, scale: float = 1.0, cell_mm: float = 0.5, seen_from_below: bool = False) -> Laid:
    """Lay the upper side of a surface on a piece: its middle on the outline's middle, its highest point level with the face.

    Args:
        triangles: float [n, 3, 3]. scale: mm in one of its units. seen_from_below: its lower side is the one to cut, turned up about the piece's length.

    Rims sharper than a cell are rounded by up to a quarter of a cell times the slope.

    Raises:
        InputError: nothing of it lies over the outline, or it is flat.
    """
    points = np.asarray(triangles, float) * scale
    if seen_from_below:
        points = points * [1.0, -1.0, -1.0]
    a = math.radians(turn_deg)
    points = points @ np.array([[math.cos(a), math.sin(a), 0.0], [-math.sin(a), math.cos(a), 0.0], [0.0, 0.0, 1.0]])
    low, high = points.reshape(-1, 3).min(0), points.reshape(-1, 3).max(0)
    xmin, ymin, xmax, ymax = outline.bounds
    points = points + [(xmin + xmax - low[0] - high[0]) / 2, (ymin + ymax - low[1] - high[1]) / 2, 0.0]
    x0, y0 = xmin - 2 * cell_mm, ymin - 2 * cell_mm
    nx, ny = math.ceil((xmax - x0) / cell_mm) + 2, math.ceil((ymax - y0) / cell_mm) + 2
    top = np.full((ny, nx), -np.inf)
    if (visits := _visits(points, x0, y0, cell_mm, nx, ny)) > MOST_VISITS:
        raise InputError(f"The triangles of this surface lie over one another: {visits / 1e9:.1f} thousand million "
                         f"places would have to be looked at, {MOST_VISITS / 1e9:.0f} are. Save one surface "
                         f"only.", where="file")
    highest(np.ascontiguousarray(points), x0, y0, cell_mm, top)
    x, y = np.meshgrid(x0 + (np.arange(nx) + 0.5) * cell_mm, y0 + (np.arange(ny) + 0.5) * cell_mm)
    inside = shapely.contains_xy(outline, x, y)
    found = np.isfinite(top)
    if not (found & inside).any():
        raise InputError("Nothing of this surface lies over the piece. Is it in millimetres?", where="file")
    face = float(top[found & inside].max())
    depth = np.where(found, face - np.where(found, top, face), 0.0)
    if depth[inside].max() < LEAST_MM:
        raise InputError("This surface is flat: there is nothing to cut.", where="file")
    nearest = ndimage.distance_transform_edt(~found, return_distances=False, return_indices=True)
    depth = np.maximum(depth[tuple(nearest)], 0.0)  # beyond its end it goes on as it ends
    return Laid(depth.astype(np.float32), float(depth[inside].max()), x0, y0, cell_mm, float((found & inside).sum() / inside.sum()))


@dataclass(frozen=True)
class ReliefFace:
    """The surface of one relief in a frame where its face lies at z = 0. outline: of the piece; the depths lie at the middles of cells."""

    outline: Polygon
    depths: str
    x0_mm: float
    y0_mm: float
    cell_mm: float
    ny: int
    nx: int
    signs: tuple[float, float] = (1.0, 1.0)

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"relief {self.outline.wkb_hex} {self.depths} {self.x0_mm} {self.y0_mm} {self.cell_mm} {self.ny} {self.nx} {self.signs}"

    @cached_property
    def _grid(self) -> np.ndarray:
        return unpack_depths(self.depths, self.ny, self.nx)

    @property
    def deepest_mm(self) -> float:
        """Greatest depth in its region."""
        return float(self.samples(self.region(), self.cell_mm)[2].max())

    @cached_property
    def steepest(self) -> float:
        """Drop over run that all but a hundredth of it stays under."""
        slope = np.hypot(*np.gradient(self._grid.astype(float), self.cell_mm))
        return float(np.percentile(slope[self._grid > LEAST_MM], 99)) if (self._grid > LEAST_MM).any() else 0.0

    @property
    def along_deg(self) -> float:
        """Direction it is taken to run, degrees: along the piece, so that passes go across."""
        return 0.0

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the face, mm, straight between the middles of cells; 0 far outside its grid."""
        sx, sy = self.signs
        u, v = (np.asarray(x) * sx - self.x0_mm) / self.cell_mm - 0.5, (np.asarray(y) * sy - self.y0_mm) / self.cell_mm - 0.5
        far = OUTSIDE_MM / self.cell_mm
        out = ndimage.map_coordinates(self._grid, [np.ravel(v), np.ravel(u)], order=1, mode="nearest").reshape(np.shape(x)).astype(float)
        return np.where((u < -far) | (v < -far) | (u > self.nx + far) | (v > self.ny + far), 0.0, np.maximum(out, 0.0))

    def region(self) -> Polygon:
        """Return the area of the piece that it changes.

        Raises:
            GeometryError: it changes nothing.
        """
        return _region(self)

    def turned(self, signs: tuple[float, float]) -> ReliefFace:
        """Return it as it lies after a turn that changes the signs of x and y."""
        if signs == (1.0, 1.0):
            return self
        return ReliefFace(shapely.affinity.scale(self.outline, *signs, origin=(0.0, 0.0)), self.depths, self.x0_mm, self.y0_mm, self.cell_mm, self.ny, self.nx, (self.signs[0] * signs[0], self.signs[1] * signs[1]))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


@lru_cache(maxsize=12)
def _region(face: ReliefFace) -> Polygon:
    whole = shapely.affinity.scale(area_above(face._grid - np.float32(LEAST_MM), face.x0_mm, face.y0_mm, face.cell_mm), *face.signs, origin=(0.0, 0.0))
    whole = whole.simplify(0.05).buffer(0).intersection(face.outline)
    parts = sorted((g for g in getattr(whole, "geoms", [whole]) if isinstance(g, Polygon)), key=lambda g: -g.area)
    if not parts or parts[0].area < 1.0:
        raise GeometryError("This relief changes nothing of the piece.", where="relief")
    return shapely.geometry.polygon.orient(parts[0])


def mirrored_depths(text: str, ny: int, nx: int) -> str:
    """Return packed depths with the rows the other way round, for the other hand."""
    return pack_depths(unpack_depths(text, ny, nx)[::-1])
