"""Swept bevels: a slope along a stretch of the outline whose width and drop vary along it. Arm, belly and neck access are bevels."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from scipy.interpolate import PchipInterpolator
from scipy.spatial import cKDTree
from shapely.geometry import Polygon

from .floors import Sloped, cells_of

STEP_MM = 0.5  # of the rim, for the region and the nearest place
BEYOND_MM = 4.0  # outside the rim the slope goes on by this much at most
KEEP = 16
_kept: dict[tuple, np.ndarray] = {}  # the newest surfaces as heights: rough, finish and judging look at the same


@dataclass(frozen=True)
class BevelSurface:
    """The surface of one bevel in a frame where its face lies at z = 0.

    ring: the outline, counter-clockwise, float64 [n, 2], not repeating the first. start, end: parts of the way round; end may lie before
    start, over the ring's beginning. at: places of the stations from 0 at start to 1 at end.
    """

    ring: np.ndarray
    start: float
    end: float
    at: tuple[float, ...]
    width_mm: tuple[float, ...]
    drop_mm: tuple[float, ...]
    blend_mm: float = 0.0

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"{self.ring.tobytes().hex()[:4000]} {len(self.ring)} {float(self.ring.sum()):.9f} {self.start} {self.end} {self.at} {self.width_mm} {self.drop_mm} {self.blend_mm}"

    @property
    def span(self) -> float:
        """Part of the way round that it takes."""
        return (self.end - self.start) % 1.0 or 1.0

    @cached_property
    def _rim(self) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
        """Return places along the whole ring: points, their part of the way round, their inward normals, and the ring's length."""
        line = shapely.LinearRing(self.ring)
        count = max(32, math.ceil(line.length / STEP_MM))
        part = np.arange(count) / count
        points = shapely.get_coordinates(shapely.line_interpolate_point(line, part, normalized=True))
        along = np.roll(points, -1, 0) - np.roll(points, 1, 0)
        along /= np.maximum(np.hypot(*along.T), 1e-12)[:, None]
        return points, part, np.column_stack([-along[:, 1], along[:, 0]]), float(line.length)

    def stations(self, place: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return width and drop, mm, at places from 0 to 1; smooth between the stations and never beyond them (monotone cubic)."""
        if len(self.at) == 1:
            return np.full_like(place, self.width_mm[0]), np.full_like(place, self.drop_mm[0])
        return PchipInterpolator(self.at, self.width_mm)(place), PchipInterpolator(self.at, self.drop_mm)(place)

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far the surface lies below the face, mm, 0 where the bevel does not reach.

        Source: a straight slope from the full drop at the rim to nothing at the width, at right angles to the rim; a parabola blends it into
        the face over blend_mm on both sides of the width, tangent to both.
        """
        flat = np.column_stack([np.ravel(x), np.ravel(y)])
        out = np.zeros(len(flat))
        reach = max(self.width_mm) + self.blend_mm + STEP_MM + BEYOND_MM
        close = np.flatnonzero(self._within(flat, reach))
        gap, nearest = self._tree.query(flat[close], distance_upper_bound=reach, workers=-1)
        found = np.isfinite(gap)
        near = close[found]
        distance, place = self._nearest(flat[near], nearest[found])
        inside = (place >= 0.0) & (place <= 1.0)
        here = near[inside]
        if len(here):
            width, drop = self.stations(place[inside])
            width = np.maximum(width, 1e-6)
            slope, d, b = drop / width, np.maximum(distance[inside], -BEYOND_MM), min(self.blend_mm, float(min(self.width_mm)) * 0.5)
            line = slope * (width - d)
            if b > 0:
                line = np.where(np.abs(d - width) < b, slope * (width + b - d) ** 2 / (4 * b), line)
            out[here] = np.where(d < width + b, np.maximum(line, 0.0), 0.0)
        return out.reshape(np.shape(x))

    def _nearest(self, points: np.ndarray, k: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Return, from the nearest place k of the rim, the distance of points from the rim, inside above 0, and their place along the bevel, outside 0 to 1 where beside it."""
        rim, part, _, _ = self._rim
        best, place, left = np.full(len(points), np.inf), np.zeros(len(points)), np.zeros(len(points), bool)
        count = len(rim)
        for shift in (-1, 0):  # the two chords at the nearest rim point
            a, b = rim[(k + shift) % count], rim[(k + shift + 1) % count]
            d, q = b - a, points - a
            t = np.clip((q[:, 0] * d[:, 0] + q[:, 1] * d[:, 1]) / np.maximum(d[:, 0] ** 2 + d[:, 1] ** 2, 1e-18), 0.0, 1.0)
            gap = np.hypot(q[:, 0] - t * d[:, 0], q[:, 1] - t * d[:, 1])
            nearer = gap < best
            left = np.where(nearer, d[:, 0] * q[:, 1] - d[:, 1] * q[:, 0] > 0, left)  # inside of a ring that runs counter-clockwise
            best = np.where(nearer, gap, best)
            place = np.where(nearer, (part[(k + shift) % count] + t / count) % 1.0, place)
        away = (place - self.start) % 1.0
        return np.where(left, best, -best), away / self.span

    def _within(self, points: np.ndarray, reach: float) -> np.ndarray:
        """Return which points lie in the box of the bevel's stretch of the rim, reach wider."""
        rim, part, _, _ = self._rim
        stretch = rim[(part - self.start) % 1.0 <= self.span + 2.0 / len(rim)]
        return np.all((points >= stretch.min(0) - reach) & (points <= stretch.max(0) + reach), axis=1)

    @property
    def deepest_mm(self) -> float:
        """Greatest drop."""
        return max(self.drop_mm)

    @property
    def steepest(self) -> float:
        """Greatest drop over width at a station."""
        return max(d / w for d, w in zip(self.drop_mm, self.width_mm, strict=True))

    @property
    def along_deg(self) -> float:
        """Direction of the chord of the rim it lies along, degrees."""
        points, part, _, _ = self._rim
        place = ((part - self.start) % 1.0) / self.span
        on = points[place <= 1.0]
        order = place[place <= 1.0].argsort()
        chord = on[order[-1]] - on[order[0]]
        return math.degrees(math.atan2(chord[1], chord[0]))

    @cached_property
    def _tree(self) -> cKDTree:
        return cKDTree(self._rim[0])

    @cached_property
    def _body(self) -> Polygon:
        body = Polygon(self.ring)
        shapely.prepare(body)
        return body

    def region(self) -> Polygon:
        """Return the area of the piece that the bevel changes."""
        rim, part, inward, _ = self._rim
        place = ((part - self.start) % 1.0) / self.span
        chosen = np.flatnonzero(place <= 1.0)
        order = chosen[np.argsort(place[chosen])]
        width, drop = self.stations(np.clip(place[order], 0, 1))
        reach = np.where(drop > 0.01, width + min(self.blend_mm, float(min(self.width_mm)) * 0.5), 0.0)
        inner = rim[order] + reach[:, None] * inward[order]
        outer = rim[order] - 0.2 * inward[order]
        quads = [Polygon([outer[k], outer[k + 1], inner[k + 1], inner[k]]).buffer(0.02) for k in range(len(order) - 1) if max(reach[k], reach[k + 1]) > 0.05]
        whole = shapely.union_all(quads).intersection(self._body).buffer(-0.02)
        parts = sorted(getattr(whole, "geoms", [whole]), key=lambda g: -g.area)
        return shapely.geometry.polygon.orient(Polygon(parts[0].exterior))

    def turned(self, signs: tuple[float, float]) -> BevelSurface:
        """Return it as it lies after a turn that changes the signs of x and y: the ring runs the other way round."""
        if signs == (1.0, 1.0):
            return self
        ring = self.ring * np.asarray(signs)
        back = np.vstack([ring[:1], ring[1:][::-1]])
        return BevelSurface(back, (1.0 - self.end) % 1.0, (1.0 - self.start) % 1.0, tuple(1.0 - a for a in reversed(self.at)), tuple(reversed(self.width_mm)), tuple(reversed(self.drop_mm)), self.blend_mm)

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region, for volumes and least floors."""
        return cells_of(region, step_mm, self.depth)


def surface_heights(surface: Sloped, x0_mm: float, y0_mm: float, cell_mm: float, nx: int, ny: int) -> np.ndarray:
    """Return a surface as heights at cell centres, mm, float32 [ny, nx], not to be written to; the newest are kept."""
    key = surface.key, x0_mm, y0_mm, cell_mm, nx, ny
    heights = _kept.get(key)
    if heights is None:
        while len(_kept) >= KEEP:
            _kept.pop(next(iter(_kept)), None)
        x, y = np.meshgrid(x0_mm + (np.arange(nx) + 0.5) * cell_mm, y0_mm + (np.arange(ny) + 0.5) * cell_mm)
        heights = -surface.depth(x, y).astype(np.float32)
        heights.setflags(write=False)
        _kept[key] = heights
    return heights
