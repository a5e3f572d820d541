"""Wood that stays under what is cut into a neck from its face: channel, room of the adjuster, bars."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..piece import Pocket
from .features import ADJUSTER, BARS, ROD
from .loft import Loft
from .numbers import Neck
from .strings import face_mm

STEP_MM = 0.5


@dataclass(frozen=True)
class Under:
    """The least wood under a cut and its place, mm. feature: of the piece."""

    feature: str
    left_mm: float
    x_mm: float
    y_mm: float


def channel_mm(neck: Neck, x: np.ndarray) -> np.ndarray:
    """Return how deep the rod's channel is at places along it, 0 beside it."""
    rod = neck.rod
    if not rod.is_known:
        return np.zeros(np.shape(x))
    u = (np.asarray(x, float) - rod.from_mm) / (rod.long_mm or 1.0)
    inside = (u >= 0) & (u <= 1)
    bow = rod.bow_mm * (2 * np.clip(u, 0, 1) - 1) ** 2 if rod.kind == "one_way" else 0.0
    return np.where(inside, rod.deepest_mm - bow, 0.0)


def under_rod(loft: Loft, x: np.ndarray) -> np.ndarray:
    """Return the wood under the channel at places along it, at its thinner side; NaN beside it."""
    neck = loft.neck
    half = (neck.rod.width_mm or 0.0) / 2 + neck.rod.play_mm
    deep = channel_mm(neck, x)
    return np.where(deep > 0, loft.floor_over_channel(np.asarray(x, float), half) - deep, np.nan)


def least_head(loft: Loft) -> tuple[float, float]:
    """Return the least wood of a headstock and its transition in the middle half of its width, and its place, mm from
    scale zero: from its face to its back."""
    neck = loft.neck
    x = np.arange(max(loft.sides.begins_mm + 20.0, -2.0 * neck.head.transition_mm - 40.0), 0.0, STEP_MM)
    face = np.array([face_mm(neck, float(v)) for v in x])
    best = (math.inf, 0.0)
    for part in (-0.5, -0.25, 0.0, 0.25, 0.5):
        half = loft.sides.half(x, math.copysign(1.0, part))
        left = loft.below(x, np.abs(part) * half * math.copysign(1.0, part)) - face
        k = int(np.argmin(left))
        if left[k] < best[0]:
            best = float(left[k]), float(x[k])
    return best


def least_under(loft: Loft, features: list[Pocket]) -> list[Under]:
    """Return the least wood under each cut from the face that lies over the back: channel, adjuster's room, bars."""
    out: list[Under] = []
    for feature in features:
        if feature.id not in (ROD, ADJUSTER, *BARS):
            continue
        s = feature.shape
        x0, x1 = s.x_mm - s.length_mm / 2, s.x_mm + s.length_mm / 2  # type: ignore[union-attr]
        x = np.linspace(x0, min(x1, float(loft.sides.plan.end_mm)), max(3, int((x1 - x0) / STEP_MM)))
        best: tuple[float, float, float] | None = None
        for y in (s.y_mm - s.width_mm / 2, s.y_mm + s.width_mm / 2):  # type: ignore[union-attr]
            deep = channel_mm(loft.neck, x) if feature.id == ROD else np.full(len(x), feature.depth_mm or 0.0)
            left = np.where(deep > 0, loft.below(x, np.full(len(x), y)) - deep, np.inf)
            k = int(np.argmin(left))
            if best is None or left[k] < best[0]:
                best = float(left[k]), float(x[k]), float(y)
        if best is not None and np.isfinite(best[0]):
            out.append(Under(feature.id, *best))
    return out
