"""A piece as a workshop drawing: its edges and features by depth, and a table of places from its lower left corner."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
import shapely

from ..plane.regions import polygons
from ..quantities import MM_PER_INCH, Unit, mm
from ..route import Route
from .resolve import Resolved, resolve

CHORD_MM = 0.01
RULER_MM = {Unit.MM: 100.0, Unit.INCH: 4 * MM_PER_INCH}  # on every drawing, to check a print by


@dataclass(frozen=True)
class Ring:
    """One closed line of the drawing, [n, 2] mm from the corner; deep_mm None goes through. back: cut from the other face."""

    feature: str
    points: np.ndarray
    deep_mm: float | None
    back: bool = False


@dataclass(frozen=True)
class Circle:
    """One hole of the drawing; label as in the table."""

    label: str
    x_mm: float
    y_mm: float
    across_mm: float
    deep_mm: float | None
    back: bool = False


@dataclass
class Plan:
    """The drawing. rows: label, what, x, y, size in words, depth in words."""

    title: str
    length_mm: float
    width_mm: float
    thick_mm: float
    outline: np.ndarray
    rings: list[Ring] = field(default_factory=list)
    circles: list[Circle] = field(default_factory=list)
    rows: list[tuple[str, str, float, float, str, str]] = field(default_factory=list)


def plan_of(route: Route) -> Plan:
    """Return the drawing of a route's piece, mm from the lower left corner of its outline's box.

    Raises:
        GeometryError, InputError: the piece cannot be drawn.
    """
    resolved: Resolved = resolve(route)
    xmin, ymin, xmax, ymax = resolved.outline.bounds
    corner = np.array([xmin, ymin])
    out = Plan(route.piece.name, xmax - xmin, ymax - ymin, resolved.thickness_mm, _ring(resolved.outline, corner))
    letter = 0
    for solid in resolved.solids.values():
        if solid.kind == "outline":
            continue
        back = solid.face.value == "back" and solid.floor_mm is not None
        deep = None if solid.floor_mm is None else solid.deep_mm(resolved.thickness_mm)
        words = "through" if deep is None else f"{mm(deep):.2f} deep{', from the back' if back else ''}"
        letter += 1
        name = _letters(letter)
        if solid.kind == "hole":
            for k, (x, y) in enumerate(solid.points, 1):
                label = f"{name}{k}" if len(solid.points) > 1 else name
                out.circles.append(Circle(label, x - xmin, y - ymin, solid.diameter_mm, deep, back))
                out.rows.append((label, solid.name, x - xmin, y - ymin, f"{mm(solid.diameter_mm):g} across", words))
            continue
        for polygon in polygons(solid.region):
            for ring in (polygon.exterior, *polygon.interiors):
                out.rings.append(Ring(solid.name, _ring(shapely.Polygon(ring), corner), deep, back))
        x0, y0, x1, y1 = solid.region.bounds
        out.rows.append(
            (
                name,
                solid.name,
                (x0 + x1) / 2 - xmin,
                (y0 + y1) / 2 - ymin,
                f"{mm(x1 - x0):.2f} x {mm(y1 - y0):.2f}",
                words,
            )
        )
    return out


def _ring(region: shapely.Polygon, corner: np.ndarray) -> np.ndarray:
    return np.asarray(region.exterior.simplify(CHORD_MM).coords)[:-1, :2] - corner


def _letters(number: int) -> str:
    out = ""
    while number:
        number, rest = divmod(number - 1, 26)
        out = chr(65 + rest) + out
    return out


SIDE_GAP_MM = 8.0


def supports_plan(title: str, profiles: dict[str, list[tuple[float, float]]], thick_mm: float) -> Plan:
    """Return the side views of supports that are cut to a face, one above the other, each to be cut from sheet.

    Args:
        profiles: by id, place along and height, mm.
    """
    rings, rows, up, wide = [], [], 0.0, 1.0
    for name, points in profiles.items():
        if len(points) < 2:
            continue
        start, high = points[0][0], max(z for _, z in points)
        side = [(points[-1][0] - start, 0.0), (0.0, 0.0), *((a - start, z) for a, z in points)]
        rings.append(Ring(name, np.array([(x, y + up) for x, y in side]), None))
        rows.append(
            (
                name,
                "Support, side view",
                0.0,
                round(up, 2),
                f"{mm(points[-1][0] - start):.1f} long, {mm(min(z for _, z in points)):.2f} to {mm(high):.2f} high",
                f"{mm(thick_mm):g} sheet",
            )
        )
        wide, up = max(wide, points[-1][0] - start), up + high + SIDE_GAP_MM
    box = np.array([(0.0, 0.0), (wide, 0.0), (wide, max(1.0, up - SIDE_GAP_MM)), (0.0, max(1.0, up - SIDE_GAP_MM))])
    return Plan(title, wide, max(1.0, up - SIDE_GAP_MM), thick_mm, box, rings, [], rows)
