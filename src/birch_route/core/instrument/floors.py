"""Floors that are not level: tilted toward the nut as an angled neck wants it, or following what is cut from the other face."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol

import numpy as np
import shapely
from shapely.affinity import scale


class Sloped(Protocol):
    """What every surface that is not level can say, in a frame where its face lies at z = 0."""

    @property
    def key(self) -> str: ...

    @property
    def deepest_mm(self) -> float: ...

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray: ...


@dataclass(frozen=True)
class TiltedFloor:
    """A plane floor in a frame where its face lies at z = 0: `end_mm` deep at x_mm, and deeper by `fall` for each mm of `toward` (1 or -1) along x.

    region: where it is the floor; beyond it the face stands.
    """

    region: shapely.Geometry
    x_mm: float
    end_mm: float
    fall: float
    toward: float = -1.0  # the nut lies at smaller x

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"floor {self.region.wkb_hex} {self.x_mm} {self.end_mm} {self.fall} {self.toward}"

    @property
    def steepest(self) -> float:
        """Drop over run."""
        return abs(self.fall)

    @property
    def deepest_mm(self) -> float:
        """Greatest depth in its region."""
        return float(self.plane(np.array(self.region.bounds[::2])).max())

    @property
    def shallowest_mm(self) -> float:
        """Least depth in its region."""
        return float(self.plane(np.array(self.region.bounds[::2])).min())

    def plane(self, x: np.ndarray) -> np.ndarray:
        """Return its depth at places along x, mm, wherever they lie."""
        return self.end_mm + self.fall * self.toward * (x - self.x_mm)

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the face, mm, 0 outside its region."""
        return np.where(shapely.contains_xy(self.region, x, y), self.plane(x), 0.0)

    def turned(self, signs: tuple[float, float]) -> TiltedFloor:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return self if signs == (1.0, 1.0) else replace(self, region=scale(self.region, *signs, origin=(0.0, 0.0)), x_mm=signs[0] * self.x_mm, toward=signs[0] * self.toward)

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


@dataclass(frozen=True)
class FollowingFloor:
    """A floor in a frame where its face lies at z = 0: `most_mm` deep where the wood allows, and nowhere nearer than `keep_mm` to what is cut
    from the other face of a piece thick_mm thick.

    under: contours of the other face. level: where it stays level for a floor of the other face: each a region, keep_mm wider than that floor, and this floor's depth there.
    """

    region: shapely.Geometry
    most_mm: float
    thick_mm: float
    keep_mm: float
    under: tuple[Sloped, ...] = ()
    level: tuple[tuple[shapely.Geometry, float], ...] = ()

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"follows {self.region.wkb_hex} {self.most_mm} {self.thick_mm} {self.keep_mm} {[s.key for s in self.under]} {[(r.wkb_hex, d) for r, d in self.level]}"

    @property
    def steepest(self) -> float:
        """Drop over run."""
        return max((s.steepest for s in self.under), default=0.0)  # type: ignore[attr-defined]

    @cached_property
    def _depths(self) -> np.ndarray:
        return self.samples(self.region)[2]

    @property
    def deepest_mm(self) -> float:
        """Greatest depth in its region."""
        return float(self._depths.max()) if len(self._depths) else self.most_mm

    @property
    def shallowest_mm(self) -> float:
        """Least depth in its region."""
        return float(self._depths.min()) if len(self._depths) else self.most_mm

    def sloped(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how deep it may go for the contours alone, mm, at places wherever they lie."""
        taken = np.zeros(np.shape(x))
        for one in self.under:
            taken = np.maximum(taken, one.depth(x, y))
        return np.minimum(self.most_mm, np.maximum(self.thick_mm - self.keep_mm - taken, 0.0))

    def plane(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return its depth at places, mm, wherever they lie."""
        deep = self.sloped(x, y)
        for region, most in self.level:
            deep = np.where(shapely.contains_xy(region, x, y), np.minimum(deep, most), deep)
        return deep

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the face, mm, 0 outside its region."""
        return np.where(shapely.contains_xy(self.region, x, y), self.plane(x, y), 0.0)

    def turned(self, signs: tuple[float, float]) -> FollowingFloor:
        """Return it as it lies after a turn that changes the signs of x and y."""
        if signs == (1.0, 1.0):
            return self
        return replace(self, region=scale(self.region, *signs, origin=(0.0, 0.0)), under=tuple(s.turned(signs) for s in self.under),  # type: ignore[attr-defined]
                       level=tuple((scale(r, *signs, origin=(0.0, 0.0)), d) for r, d in self.level))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


def cells_of(region: shapely.Geometry, step_mm: float, depth) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Return x, y and depth at the middles of cells inside a region, for volumes and least floors."""
    if region.is_empty:
        return np.zeros(0), np.zeros(0), np.zeros(0)
    xmin, ymin, xmax, ymax = region.bounds
    x, y = np.meshgrid(np.arange(xmin + step_mm / 2, xmax, step_mm), np.arange(ymin + step_mm / 2, ymax, step_mm))
    inside = shapely.contains_xy(region, x, y)
    x, y = x[inside], y[inside]
    return x, y, depth(x, y) if len(x) else np.zeros(0)


def fall_of(tilt_deg: float) -> float:
    """Return the drop over run of a tilt."""
    return math.tan(math.radians(tilt_deg))
