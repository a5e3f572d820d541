"""Channels along the rim for binding and purfling: a ledge of even width whose floor lies a depth below the rim, wherever a contour has left that."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
import shapely
from scipy.ndimage import minimum_filter1d
from scipy.spatial import cKDTree
from shapely.geometry import Polygon

from ..plane.regions import buffer_round
from .bevels import BevelSurface
from .carves import CarvedFace
from .floors import cells_of
from .reliefs import ReliefFace

STEP_MM = 0.5  # of the rim
JUST_INSIDE_MM = 0.02
BETWEEN_MM = 0.8  # a tip's height holds as far as half way to the next point of its way


@dataclass(frozen=True)
class ChannelFloor:
    """The floor of a channel in a frame where its face lies at z = 0. ring: the outline, float64 [n, 2], not repeating the first; contours: what slopes down to the rim."""

    ring: np.ndarray
    width_mm: float
    depth_mm: float
    contours: tuple[BevelSurface | CarvedFace | ReliefFace, ...] = field(default=())

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"channel {self.ring.tobytes().hex()[:4000]} {len(self.ring)} {float(self.ring.sum()):.9f} {self.width_mm} {self.depth_mm} {[c.key for c in self.contours]}"

    @cached_property
    def _rim(self) -> tuple[np.ndarray, np.ndarray]:
        """Return places along the rim [n, 2] and how far below the face contours have left it there."""
        line = shapely.LinearRing(self.ring)
        places = shapely.get_coordinates(shapely.line_interpolate_point(line, np.arange(0.0, line.length, STEP_MM)))
        along = np.roll(places, -1, 0) - np.roll(places, 1, 0)
        along /= np.maximum(np.hypot(*along.T), 1e-12)[:, None]
        inward = np.column_stack([-along[:, 1], along[:, 0]]) * (1.0 if line.is_ccw else -1.0)
        spots = places + JUST_INSIDE_MM * inward
        drop = np.zeros(len(places))
        for contour in self.contours:
            drop = np.maximum(drop, contour.depth(spots[:, 0], spots[:, 1]))
        return places, drop

    @cached_property
    def _tree(self) -> cKDTree:
        return cKDTree(self._rim[0])

    @property
    def deepest_mm(self) -> float:
        """Greatest depth below the face."""
        return self.depth_mm + float(self._rim[1].max())

    @property
    def is_level(self) -> bool:
        """Whether the rim is equally high all round."""
        drop = self._rim[1]
        return float(np.ptp(drop)) < 1e-6

    @property
    def core(self) -> shapely.Geometry:
        """Return what the channel goes round: the outline without it."""
        return buffer_round(Polygon(self.ring), -self.width_mm)

    def region(self) -> Polygon:
        """Return the area of the channel."""
        left = Polygon(self.ring).difference(self.core)
        return max(getattr(left, "geoms", [left]), key=lambda g: g.area)

    def floor(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far the floor lies below the face beside the nearest place of the rim, mm."""
        _, nearest = self._tree.query(np.column_stack([np.ravel(x), np.ravel(y)]))
        return (self._rim[1][nearest] + self.depth_mm).reshape(np.shape(x))

    def lowest_tip(self, points: np.ndarray, radius_mm: float) -> np.ndarray:
        """Return z of a flat bit's tip at places of its axis [n, 2] so that nothing within its reach along the rim is cut too deep."""
        away, nearest = self._tree.query(points)
        inside = shapely.contains_xy(Polygon(self.ring), points)
        reach = np.where(inside, np.hypot(away, radius_mm), radius_mm) + BETWEEN_MM  # of the rim beside whatever the bit covers
        near = self._tree.query_ball_point(points, reach)
        least = np.array([self._rim[1][k].min() if k else self._rim[1][n] for k, n in zip(near, nearest, strict=True)])
        return -(least + self.depth_mm)

    def stands_mm(self, radius_mm: float) -> np.ndarray:
        """Return how far over the floor a level bit has to stay at every place of the rim, mm: its chord over the ledge reaches where the rim lies higher."""
        drop = self._rim[1]
        chord = radius_mm if self.width_mm >= radius_mm else math.sqrt(radius_mm**2 - (radius_mm - self.width_mm) ** 2)
        k = max(1, math.ceil((chord + 2 * BETWEEN_MM) / STEP_MM) + 1)
        return drop - minimum_filter1d(drop, 2 * k + 1, mode="wrap")

    def stands_at(self, x: np.ndarray, y: np.ndarray, radius_mm: float) -> np.ndarray:
        """Return the same for places of the plan, by the nearest place of the rim."""
        _, nearest = self._tree.query(np.column_stack([np.ravel(x), np.ravel(y)]))
        return self.stands_mm(radius_mm)[nearest].reshape(np.shape(x))

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the face, mm, 0 outside the channel."""
        out = np.zeros(np.shape(x))
        inside = shapely.contains_xy(self.region(), x, y)
        out[inside] = self.floor(np.asarray(x)[inside], np.asarray(y)[inside])
        return out

    def turned(self, signs: tuple[float, float]) -> ChannelFloor:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return self if signs == (1.0, 1.0) else ChannelFloor((self.ring * np.asarray(signs))[::-1], self.width_mm, self.depth_mm, tuple(c.turned(signs) for c in self.contours))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)
