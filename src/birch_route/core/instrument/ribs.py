"""Thin walls between two cuts as springs: how much one gives under the side force of a bit."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import shapely

from ..data import figures
from .clearances import beside
from .resolve import Resolved, Solid

SAME_MM = 1.0  # the wall is as thin as at its thinnest within this


@dataclass(frozen=True)
class Rib:
    """A wall between two features, or a feature (`other` None) and the outside. thick, high and long in mm; angle_deg of its run from x; x, y its thinnest place."""

    one: str
    other: str | None
    thick_mm: float
    high_mm: float
    long_mm: float
    angle_deg: float
    x_mm: float
    y_mm: float


def ribs(resolved: Resolved) -> list[Rib]:
    """Return the walls thin enough to give, between pockets and between a pocket and the outside, in the frame of the geometry."""
    pockets = [s for s in resolved.solids.values() if s.kind == "pocket" and s.surface is None]
    thick = resolved.thickness_mm
    out: list[Rib] = []
    for k, one in enumerate(pockets):
        if not one.is_open and resolved.outline.contains(one.region):
            out += _between(one, None, resolved.outline.exterior, one.deep_mm(thick))
        for other in pockets[k + 1:]:
            if not one.region.intersects(other.region) and beside(one, other, thick):
                (a, b), (c, d) = one.span_mm(thick), other.span_mm(thick)
                out += _between(one, other.id, other.region.boundary, min(b, d) - max(a, c))
    return out


def _between(one: Solid, other: str | None, rim: shapely.Geometry, high: float) -> list[Rib]:
    gap = float(one.region.distance(rim))
    if gap <= 0.05 or gap > figures()["thin_wall"]["widest_mm"] or high < gap:
        return []
    near = one.region.boundary.intersection(rim.buffer(gap + SAME_MM, quad_segs=16))
    (x0, y0), (x1, y1) = shapely.shortest_line(one.region, rim).coords
    across = math.degrees(math.atan2(y1 - y0, x1 - x0))
    return [Rib(one.id, other, gap, high, float(near.length), across + 90.0, (x0 + x1) / 2, (y0 + y1) / 2)]


def stiffness_n_mm(rib: Rib, grain_deg: float) -> float:
    """Return the side force that bends the top of a wall by one mm.

    Source: a strip of the wall standing on the floor, k = E b t^3 / (4 h^3) with b no more than twice its height (which is what an edge load
    on a long cantilever plate comes to, Jaramillo 1950) and E across the fibres, beside a beam held
    at both ends, k = 16 E h t^3 / L^3 with no more than a quarter of its length as height h (what lies lower is the strip's) and E along the wall by Hankinson's form; two springs side by side.
    """
    fig = figures()["thin_wall"]
    across, along = fig["across_n_mm2"], fig["along_n_mm2"]
    a = math.radians(rib.angle_deg - grain_deg)
    run = across * along / (along * math.sin(a) ** 2 + across * math.cos(a) ** 2)
    wide = min(max(rib.long_mm, rib.thick_mm), 2 * rib.high_mm)
    strip = across * wide * rib.thick_mm**3 / (4 * rib.high_mm**3)
    long = max(rib.long_mm, rib.thick_mm)
    beam = 16 * run * min(rib.high_mm, long / 4) * rib.thick_mm**3 / long**3
    return strip + beam


def gives_mm(rib: Rib, force_n: float, grain_deg: float = 0.0, deep_mm: float = 0.0) -> float:
    """Return how far a wall gives under a side force that acts in the middle of a pass so deep from its top."""
    return force_n / stiffness_n_mm(replace(rib, high_mm=max(rib.high_mm - deep_mm / 2, rib.thick_mm)), grain_deg)

