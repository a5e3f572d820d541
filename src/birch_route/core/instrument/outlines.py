"""Three body outlines of our own as starting points, each shaped by its length, width, waist and horns."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..errors import InputError
from ..plane.curves import Spline
from ..plane.regions import region_from
from ..quantities import mm


class Style(StrEnum):
    """The drawn families."""

    SISKIN = "siskin"  # offset waist, one long horn
    DUNNOCK = "dunnock"  # round shoulders, a single cutaway
    PLOVER = "plover"  # even double cutaway


@dataclass(frozen=True)
class Point:
    """u runs from the neck end (0) to the tail (1), v from the bass side (-1) to the treble side (1). waist and horn say
    how far the two choices move the point."""

    u: float
    v: float
    waist: float = 0.0
    horn: float = 0.0


_POINTS: dict[Style, list[Point]] = {
    Style.SISKIN: [
        Point(0, 0.10), Point(0.002, 0.24), Point(0.08, 0.27), Point(0.145, 0.33), Point(0.175, 0.45), Point(0.15, 0.6, horn=0.3), Point(0.12, 0.74, horn=0.6),
        Point(0.165, 0.9, horn=0.3), Point(0.27, 0.965), Point(0.4, 0.9, 0.6), Point(0.52, 0.85, 1.0), Point(0.64, 0.91, 0.5), Point(0.78, 0.96), Point(0.905, 0.81),
        Point(0.98, 0.44), Point(1, 0), Point(0.98, -0.46), Point(0.905, -0.82), Point(0.78, -1.0), Point(0.64, -1.03, 0.5), Point(0.51, -0.94, 1.0), Point(0.39, -0.91, 0.6),
        Point(0.27, -0.965), Point(0.15, -0.94), Point(0.065, -0.74, horn=-0.1), Point(0.025, -0.46), Point(0.002, -0.23), Point(0, -0.10)],
    Style.DUNNOCK: [
        Point(0, 0.10), Point(0.002, 0.23), Point(0.1, 0.26), Point(0.2, 0.32), Point(0.24, 0.46), Point(0.2, 0.62, horn=0.35), Point(0.165, 0.76, horn=0.6),
        Point(0.22, 0.88, horn=0.25), Point(0.33, 0.87, 0.3), Point(0.46, 0.8, 1.0), Point(0.6, 0.88, 0.5), Point(0.76, 1.0), Point(0.9, 0.86), Point(0.98, 0.47),
        Point(1, 0), Point(0.98, -0.47), Point(0.9, -0.86), Point(0.76, -1.0), Point(0.6, -0.88, 0.5), Point(0.45, -0.78, 1.0), Point(0.3, -0.84, 0.4), Point(0.16, -0.86),
        Point(0.055, -0.7), Point(0.012, -0.44), Point(0.001, -0.24), Point(0, -0.10)],
    Style.PLOVER: [
        Point(0, 0.10), Point(0.002, 0.22), Point(0.09, 0.25), Point(0.165, 0.31), Point(0.2, 0.43), Point(0.165, 0.58, horn=0.35), Point(0.12, 0.7, horn=0.7),
        Point(0.16, 0.83, horn=0.3), Point(0.27, 0.87), Point(0.42, 0.79, 0.8), Point(0.53, 0.79, 1.0), Point(0.66, 0.91, 0.4), Point(0.8, 0.98), Point(0.92, 0.8),
        Point(0.985, 0.42), Point(1, 0), Point(0.985, -0.42), Point(0.92, -0.8), Point(0.8, -0.98), Point(0.66, -0.91, 0.4), Point(0.53, -0.79, 1.0), Point(0.42, -0.79, 0.8),
        Point(0.27, -0.87), Point(0.16, -0.83, horn=0.3), Point(0.12, -0.7, horn=0.7), Point(0.165, -0.58, horn=0.35), Point(0.2, -0.43), Point(0.165, -0.31), Point(0.09, -0.25),
        Point(0.002, -0.22), Point(0, -0.10)],
}
LIMITS = {"length_mm": (280.0, 560.0), "width_mm": (200.0, 460.0), "waist": (-0.06, 0.2), "horn": (-0.1, 0.12)}


def body_outline(style: Style, length_mm: float, width_mm: float, waist: float = 0.06, horn: float = 0.0) -> Spline:
    """Return an outline, neck end at x = 0, tail at x = length_mm, centre line at y = 0.

    Args:
        width_mm: across both sides at their widest, all but a little.
        waist: how far the waist is drawn in, as a part of half the width.
        horn: how far the horns reach towards the neck beyond the drawn shape, as a part of the length.

    Raises:
        InputError: a number outside its range, or numbers that together make the outline cross itself.
    """
    for name, value in (("length_mm", length_mm), ("width_mm", width_mm), ("waist", waist), ("horn", horn)):
        low, high = LIMITS[name]
        if not low <= value <= high:
            said = mm if name.endswith("_mm") else float
            words = f"{said(value):g} is outside {said(low):g} to {said(high):g}"
            raise InputError(f"{name.removesuffix('_mm')} {words}.", where=name)
    points = []
    for p in _POINTS[style]:
        side = 1.0 if p.v >= 0 else -1.0
        points.append(((p.u - horn * p.horn) * length_mm, (p.v - side * waist * p.waist) * width_mm / 2))
    outline = Spline(points=points)
    region_from(outline, f"The {style.value} outline")
    return outline
