"""Plane regions: shapely polygons with holes, checked on entry, offset with round joins."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.validation import explain_validity

from ..errors import GeometryError
from ..quantities import mm, named_mm
from ..tolerances import TOLERANCES, Tolerances
from .curves import Drawn, flatten


def region_from(shape: Drawn, name: str, tol: Tolerances = TOLERANCES) -> Polygon:
    """Return the filled region of a closed shape, counter-clockwise; the newest are kept.

    Args:
        shape: curve in the piece's frame.
        name: what people call it; stands in the message.

    Raises:
        GeometryError: crossing itself, too small, too large; names the place.
    """
    return _region(type(shape), shape.model_dump_json(), name, tol)


def crossing_of(polygon: Polygon) -> tuple[float, float] | None:
    """Return where the edge of a polygon crosses or touches itself, mm; None where it does not, NaN where unknown."""
    if polygon.is_valid:
        return None
    words = explain_validity(polygon)
    x, y = words[words.find("[") + 1: words.find("]")].split() if "[" in words else ("nan", "nan")
    return float(x), float(y)


@lru_cache(maxsize=256)
def _region(kind: type[Drawn], shape: str, name: str, tol: Tolerances) -> Polygon:
    polygon = Polygon(flatten(kind.model_validate_json(shape), tol.chord_mm))
    where = crossing_of(polygon)
    if where is not None:
        raise GeometryError(
            f"{name} crosses itself at x {mm(where[0]):.1f}, y {mm(where[1]):.1f}. Move the points there apart.",
            where=name,
        )
    xmin, ymin, xmax, ymax = polygon.bounds
    small, large = min(xmax - xmin, ymax - ymin), max(xmax - xmin, ymax - ymin)
    if small < tol.smallest_mm or polygon.area < tol.smallest_mm**2:
        raise GeometryError(
            f"{name} is only {named_mm(small):.2f} across. The least that can be cut is {named_mm(tol.smallest_mm):g}.",
            where=name,
        )
    if large > tol.largest_mm:
        raise GeometryError(
            f"{name} is {named_mm(large):.0f} long. Check the unit: the limit is {named_mm(tol.largest_mm):.0f}.",
            where=name,
        )
    return shapely.geometry.polygon.orient(polygon)


def buffer_round(region: shapely.Geometry, distance_mm: float, chord_mm: float = TOLERANCES.chord_mm) -> shapely.Geometry:
    """Offset a region by a distance with round joins whose chords stay within chord_mm of the arc."""
    radius = max(abs(distance_mm), 1e-6)
    step = 2 * math.acos(max(0.0, 1 - min(chord_mm, radius * 0.5) / radius))
    quads = max(4, math.ceil((math.pi / 2) / step))
    return region.buffer(distance_mm, quad_segs=quads, join_style="round")


def opened(region: shapely.Geometry, radius_mm: float) -> shapely.Geometry:
    """Return what a round bit can reach inside the region: shrink by the radius, grow again."""
    return buffer_round(buffer_round(region, -radius_mm), radius_mm)


def polygons(region: shapely.Geometry) -> list[Polygon]:
    """Return the polygons of a region, largest first, empty ones dropped."""
    if region.is_empty:
        return []
    if isinstance(region, Polygon):
        return [region]
    parts = region.geoms if isinstance(region, MultiPolygon) else [g for g in region.geoms if isinstance(g, Polygon)]
    return sorted((p for p in parts if p.area > 1e-9), key=lambda p: -p.area)


def rings(region: shapely.Geometry) -> list[np.ndarray]:
    """Return every boundary ring of a region as float64 [n, 2] without the repeated last point; outers run
    counter-clockwise, holes clockwise (the wood of the region is on the left)."""
    out = []
    for polygon in polygons(region):
        polygon = shapely.geometry.polygon.orient(polygon)
        out.append(np.asarray(polygon.exterior.coords)[:-1])
        out.extend(np.asarray(hole.coords)[:-1] for hole in polygon.interiors)
    return out


def corners_left(region: Polygon, radius_mm: float, tol: Tolerances = TOLERANCES) -> list[tuple[float, float, float]]:
    """List the inside corners a round bit cannot reach: x, y of the corner and its area in mm2, largest first."""
    left = region.difference(buffer_round(opened(region, radius_mm), 2 * tol.chord_mm))
    out = []
    for part in polygons(left):
        if part.area >= tol.least_corner_mm2:
            inner = opened(region, radius_mm)
            tips = np.asarray(part.exterior.coords)
            far = max(tips, key=lambda p: inner.distance(shapely.Point(p))) if not inner.is_empty else tips[0]
            out.append((float(far[0]), float(far[1]), float(part.area)))
    return sorted(out, key=lambda c: -c[2])
