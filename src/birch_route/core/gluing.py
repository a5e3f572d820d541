"""Layers glued on between setups: what the blank is before and after, which features lie under them, and the hollows that are closed."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, replace

import numpy as np

from .blank import Blank, Layer
from .heights.field import Wood
from .instrument.resolve import Resolved
from .piece import Pocket
from .route import Route, Setup

LEAST_MM = 0.02  # a hollow lower than this is none


def glued_layers(route: Route) -> list[Layer]:
    """Return the layers that are glued on between setups, from the front."""
    return [layer for layer in route.blank.layers if layer.glued_before is not None]


def is_before(route: Route, setup: Setup) -> bool:
    """Say whether a setup comes before layers are glued on."""
    glued, order = glued_layers(route), [s.id for s in route.setups]
    return bool(glued) and order.index(setup.id) < order.index(glued[0].glued_before)  # type: ignore[arg-type]


def base_setup(route: Route) -> Setup:
    """Return the setup that later ones are found again by: the first in which all layers are on."""
    return next(s for s in route.setups if not is_before(route, s))


def blank_at(route: Route, setup: Setup) -> Blank:
    """Return the blank as it lies in a setup: without the layers that are glued on later."""
    blank = route.blank
    if not is_before(route, setup):
        return blank
    glued = glued_layers(route)
    thick = sum(layer.thickness_mm for layer in glued)
    return blank.model_copy(update={"thickness_mm": blank.thickness_mm - thick, "skim_mm": blank.skim_mm - thick, "layers": blank.layers[len(glued):], "thickness_readings_mm": [], "weighed_kg": None})


_kept: deque[tuple[Resolved, bool, Resolved]] = deque(maxlen=8)


def lies_at(resolved: Resolved, route: Route, setup: Setup) -> Resolved:
    """Return the features that a setup can see: those under the glued layers before these are on, the others after."""
    if not glued_layers(route):
        return resolved
    early = is_before(route, setup)
    for known, when, found in _kept:
        if known is resolved and when == early:
            return found
    under = {f.id for f in route.features if isinstance(f, Pocket) and f.covered}
    solids = {k: s for k, s in resolved.solids.items() if s.kind == "outline" or (k in under) == early}
    found = replace(resolved, solids=solids, rims={} if early else resolved.rims)
    _kept.append((resolved, early, found))
    return found


@dataclass(frozen=True)
class Hollow:
    """Hollows closed by a layer, as heights on the wood's grid: the lower and the upper side of each, float32 [ny, nx]; equal where there is none."""

    floor: np.ndarray
    roof: np.ndarray

    @property
    def there(self) -> np.ndarray:
        """Where there is one, bool [ny, nx]."""
        return self.roof > self.floor + LEAST_MM

    def fall(self, top: np.ndarray) -> np.ndarray:
        """Return the wood's top where a cut through the roof has opened a hollow: it lies at the floor there."""
        opened = self.there & (top < self.roof) & (top > self.floor)
        return np.where(opened, self.floor, top) if opened.any() else top

    def moved(self, by_mm: float) -> Hollow:
        """Return them higher by so much."""
        return Hollow(self.floor + np.float32(by_mm), self.roof + np.float32(by_mm))

    def least(self, top: np.ndarray, bottom: np.ndarray) -> np.ndarray:
        """Return the thinnest wood between top and bottom: over or under a hollow where one lies between."""
        whole = top - bottom
        between = self.there & (top >= self.roof) & (bottom <= self.floor)
        return np.where(between, np.minimum(top - self.roof, self.floor - bottom), whole)

    def taken(self, top: np.ndarray, bottom: np.ndarray) -> np.ndarray:
        """Return how much of top less bottom is no wood, mm."""
        return np.where(self.there, np.clip(np.minimum(top, self.roof) - np.maximum(bottom, self.floor), 0.0, None), 0.0)


def glue(route: Route, wood: Wood, thicker_mm: float = 0.0) -> tuple[Wood, Hollow]:
    """Return the wood in the piece's frame with the glued layers on, and the hollows these close.

    Args:
        thicker_mm: how much thicker than planned the core is.
    """
    under = np.float32(route.blank.top_mm + thicker_mm - sum(layer.thickness_mm for layer in glued_layers(route)))
    through = wood.top <= wood.bottom
    floor = np.where(~through & (wood.top < under - LEAST_MM), wood.top, under).astype(np.float32)
    bottom = np.where(through, under, wood.bottom).astype(np.float32)
    return Wood(wood.grid, np.full_like(wood.top, np.float32(route.blank.top_mm + thicker_mm)), bottom), Hollow(floor, np.full_like(floor, under))
