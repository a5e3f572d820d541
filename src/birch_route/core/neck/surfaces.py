"""The faces of a neck as surfaces: depths below their own face at any place of the plan."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import Polygon, box

from ..instrument.floors import cells_of
from .lines import outline_points, smooth_step
from .loft import Loft
from .numbers import Neck

BESIDE_MM = 200.0  # wider than any neck


@dataclass(frozen=True)
class NeckBack:
    """The back of a neck in a frame where the blank's back lies at z = 0, thick_mm over the glue plane."""

    neck: Neck
    thick_mm: float
    signs: tuple[float, float] = (1.0, 1.0)

    @cached_property
    def loft(self) -> Loft:
        return Loft(self.neck)

    @cached_property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        neck = self.neck.model_dump_json(exclude={"rod", "bars", "tuners", "mine", "pin_mm"})
        return f"neck back {neck} {self.thick_mm} {self.signs}"

    @property
    def deepest_mm(self) -> float:
        """Greatest depth: at its rim the glue plane is met."""
        return self.thick_mm

    @property
    def steepest(self) -> float:
        """Drop over run where stepovers are reckoned: the rim itself stands upright."""
        return math.tan(math.radians(60.0))

    @property
    def along_deg(self) -> float:
        """Direction its slope runs along, degrees: across the neck, so that passes go along the grain."""
        return 90.0

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the blank's back, mm; beside the neck down to the glue plane."""
        u, v = np.asarray(x, float) * self.signs[0], np.asarray(y, float) * self.signs[1]
        return np.maximum(self.thick_mm - self.loft.below(u, v), 0.0)

    @cached_property
    def _region(self) -> Polygon:
        whole = shapely.geometry.polygon.orient(Polygon(outline_points(self.neck)))
        cut = whole.intersection(box(self.loft.head_end_mm, -BESIDE_MM, self.neck.heel_from_mm, BESIDE_MM))
        parts = [g for g in getattr(cut, "geoms", [cut]) if isinstance(g, Polygon)]
        part = max(parts, key=lambda g: g.area)
        return shapely.geometry.polygon.orient(shapely.affinity.scale(part, *self.signs, origin=(0.0, 0.0)))

    def region(self) -> Polygon:
        """Return the area of shaft and transitions."""
        return self._region

    def turned(self, signs: tuple[float, float]) -> NeckBack:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return replace(self, signs=(self.signs[0] * signs[0], self.signs[1] * signs[1]))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


@dataclass(frozen=True)
class HeadFace:
    """The way from the glue plane down to the headstock's face, in a frame where the glue plane lies at z = 0: a ramp
    down to a lower face, or the leaning face itself."""

    neck: Neck
    signs: tuple[float, float] = (1.0, 1.0)

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"head face {self.neck.head.model_dump_json()} {self.region().wkb_hex}"

    @property
    def deepest_mm(self) -> float:
        """Greatest depth over it."""
        xmin, _, xmax, _ = self.region().bounds
        return float(self.depth(np.array([xmin, xmax]), np.zeros(2)).max())

    @property
    def steepest(self) -> float:
        """Drop over run."""
        head = self.neck.head
        if head.kind == "angled":
            return math.tan(math.radians(head.angle_deg))
        return 1.875 * head.step_mm / head.ramp_mm  # of the smooth step, in its middle

    @property
    def bends_mm(self) -> float:
        """Least radius it bends by, hollow at its foot and round at its top alike: of the smooth step 10 / sqrt(3)."""
        head = self.neck.head
        if head.kind == "angled" or head.step_mm <= 0:
            return math.inf
        return head.ramp_mm**2 / (10 / math.sqrt(3) * head.step_mm)

    @property
    def along_deg(self) -> float:
        """Direction its slope runs along, degrees."""
        return 0.0

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below the glue plane, mm."""
        head = self.neck.head
        behind = -np.asarray(x, float) * self.signs[0] - head.shelf_mm
        if head.kind == "angled":
            out = np.maximum(behind, 0.0) * math.tan(math.radians(head.angle_deg))
        else:
            out = head.step_mm * smooth_step(behind / head.ramp_mm)
        return np.broadcast_to(out, np.broadcast_shapes(np.shape(x), np.shape(y))).copy()

    @cached_property
    def _region(self) -> Polygon:
        head = self.neck.head
        whole = shapely.geometry.polygon.orient(Polygon(outline_points(self.neck)))
        low = whole.bounds[0] - 1 if head.kind == "angled" else -head.shelf_mm - head.ramp_mm
        cut = whole.intersection(box(low, -BESIDE_MM, -head.shelf_mm, BESIDE_MM))
        parts = [g for g in getattr(cut, "geoms", [cut]) if isinstance(g, Polygon)]
        part = max(parts, key=lambda g: g.area)
        return shapely.geometry.polygon.orient(shapely.affinity.scale(part, *self.signs, origin=(0.0, 0.0)))

    def region(self) -> Polygon:
        """Return its area."""
        return self._region

    def turned(self, signs: tuple[float, float]) -> HeadFace:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return replace(self, signs=(self.signs[0] * signs[0], self.signs[1] * signs[1]))

    def samples(self, region: shapely.Geometry, step_mm: float = 0.5) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """Return x, y and depth at cells of a region."""
        return cells_of(region, step_mm, self.depth)


@dataclass(frozen=True)
class RodBow:
    """What a one-way rod's channel keeps from the deepest it goes: 0 in its middle, its bow at both ends.

    Source: a parabola through both ends and the middle, within 0.01 of the circle at 6 in 400.
    """

    from_mm: float
    long_mm: float
    bow_mm: float
    signs: tuple[float, float] = (1.0, 1.0)

    @property
    def key(self) -> str:
        """What it depends on, as text for a hash."""
        return f"rod bow {self.from_mm} {self.long_mm} {self.bow_mm} {self.signs}"

    @property
    def deepest_mm(self) -> float:
        """What it keeps at most."""
        return self.bow_mm

    @property
    def steepest(self) -> float:
        """Drop over run, at its ends."""
        return 4 * self.bow_mm / self.long_mm

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return what it keeps at places of the plan, mm."""
        u = np.clip((np.asarray(x, float) * self.signs[0] - self.from_mm) / self.long_mm, 0.0, 1.0)
        out = self.bow_mm * (2 * u - 1) ** 2
        return np.broadcast_to(out, np.broadcast_shapes(np.shape(x), np.shape(y))).copy()

    def turned(self, signs: tuple[float, float]) -> RodBow:
        """Return it as it lies after a turn that changes the signs of x and y."""
        return replace(self, signs=(self.signs[0] * signs[0], self.signs[1] * signs[1]))
