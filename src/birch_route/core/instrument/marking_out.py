"""Marking out: the lines of a piece that a drawn shape is placed from, and what it comes near where it stands."""

from __future__ import annotations

from dataclasses import dataclass, field
from math import log2
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import LineString, Point

from ..errors import InputError
from ..piece import Hole, Pocket
from ..plane.curves import PartRectangle
from ..vocabulary import PartKind
from .clearances import beside, floor_left
from .drawn import Grid, grid_of, middle_of, why_fixed
from .parts import read_place
from .resolve import Resolved, resolve
from .scale import fret_distance
from .solids import Solid
from .stack import heel_end, nut_line
from .walls import least_apart, least_to_outside

if TYPE_CHECKING:
    from ..route import Route

FAR_MM = 3000.0
NEAR_MM = 40.0  # what is further away is not worth a line
MOST_NEAR = 6


@dataclass(frozen=True)
class MarkLine:
    """One line to place from. along: it stands across the piece and a place along it is counted from it; otherwise it
    runs along and a place across is counted from it. at_mm: where. edge: it is the rim as seen from here, and moves
    with the shape."""

    id: str
    name: str
    along: bool
    at_mm: float
    edge: bool = False


@dataclass(frozen=True)
class Near:
    """What a shape comes near: the wood between, what it is to keep (None: nothing is asked), and the two places."""

    id: str
    name: str
    apart_mm: float
    least_mm: float | None
    at: tuple[float, float]
    to: tuple[float, float]


@dataclass(frozen=True)
class OnScale:
    """A place along the strings said otherwise: from the nut, as a part of the scale, as a fret that need not be."""

    from_nut_mm: float
    part: float
    fret: float


@dataclass(frozen=True)
class Places:
    """What a drawn shape is placed by. x_mm, y_mm: its middle; fixed: why it cannot be moved, empty where it can.
    leaves_mm: wood under its floor; None where it goes through or opens into what is cut from the other face."""

    feature: str
    x_mm: float
    y_mm: float
    fixed: str
    lines: list[MarkLine]
    near: list[Near] = field(default_factory=list)
    grid: Grid | None = None
    leaves_mm: float | None = None
    on_scale: OnScale | None = None


def places_of(route: Route, feature_id: str) -> Places:
    """Return what a feature is placed by.

    Raises:
        InputError: the piece has no such feature.
        GeometryError: the piece cannot be made into geometry.
    """
    resolved = resolve(route)
    feature = next((f for f in route.features if f.id == feature_id), None)
    if feature is None:
        raise InputError(f"The piece has no feature {feature_id}.", where="feature")
    solid = resolved.solids.get(feature_id)
    middle = middle_of(feature) if isinstance(feature, Hole | Pocket) else None
    if middle is None and solid is not None:
        x0, y0, x1, y1 = solid.region.bounds
        middle = (x0 + x1) / 2, (y0 + y1) / 2
    x, y = middle or (0.0, 0.0)
    datums = {s.datum for s in route.setups}
    fixed = why_fixed(route.piece, feature_id, datums)
    out = Places(feature_id, x, y, fixed, lines_from(route, resolved, x, y, feature_id))
    if solid is None or solid.kind == "outline":
        return out
    others = [s for s in resolved.solids.values() if s.id != feature_id and s.kind != "outline"]
    leaves = None if solid.floor_mm is None else floor_left(solid, others, resolved.thickness_mm)
    grid = grid_of(feature.points) if isinstance(feature, Hole) else None
    scale = _on_scale(route, _pole_line(route, feature, x))
    return Places(
        feature_id, x, y, out.fixed, out.lines, near_of(route, resolved, solid), grid, leaves, scale
    )


def _pole_line(route: Route, feature: object, x_mm: float) -> float:
    """Return where a pickup's poles stand along the strings, or the middle of anything else."""
    shape = getattr(feature, "shape", None)
    part = route.part(shape.part) if isinstance(shape, PartRectangle) else None
    if part is None or part.kind is not PartKind.PICKUP:
        return x_mm
    line, long = (read_place(part, n).value_mm for n in ("pole_line", "ring_length"))
    return x_mm if line is None or long is None else x_mm - long / 2 + line


def _on_scale(route: Route, x_mm: float) -> OnScale | None:
    """Return a place along the strings as a part of the scale and as a fret.

    Source: fret n stands scale (1 - 2^(-n/12)) from the nut, solved for n.
    """
    nut, scale = nut_line(route.parts, route.choices), route.choices.scale_mm
    if nut is None or scale is None:
        return None
    part = (x_mm - nut) / scale
    if not 0.0 <= part < 1.0:
        return None
    return OnScale(x_mm - nut, part, -12 * log2(1 - part))


def lines_from(route: Route, resolved: Resolved, x_mm: float, y_mm: float, but: str = "") -> list[MarkLine]:
    """Return the lines a shape at a place may be placed from.

    Args:
        but: the id of the shape itself.
    """
    xmin, ymin, xmax, ymax = resolved.outline.bounds
    out = [MarkLine("middle", "the middle of the piece", True, (xmin + xmax) / 2)]
    if resolved.saddle_x_mm is not None:
        out.insert(0, MarkLine("saddle", "the saddle line", True, resolved.saddle_x_mm))
    choices, end = route.choices, heel_end(route.parts)
    nut = nut_line(route.parts, choices)
    if end is not None:
        out.append(MarkLine("heel", "the heel's end", True, end))
    if nut is not None and choices.scale_mm is not None:
        out.append(MarkLine("nut", "the nut", True, nut))
        for fret, name in ((12, "the 12th fret"), (choices.frets, "the last fret")):
            if fret <= choices.frets:
                out.append(MarkLine(f"fret{fret}", name, True, nut + fret_distance(choices.scale_mm, fret)))
    out += _rim_lines(resolved, x_mm, y_mm)
    out.append(MarkLine("centre", "the centre line", False, 0.0))
    for solid in resolved.solids.values():
        if solid.id in (but, "") or solid.kind not in ("pocket", "hole"):
            continue
        a, b, c, d = solid.region.bounds
        out.append(MarkLine(f"mid_{solid.id}", f"the middle of {solid.name}", True, (a + c) / 2))
        out.append(MarkLine(f"across_{solid.id}", f"the middle of {solid.name}", False, (b + d) / 2))
        edges = ((a, b, "neck", "bass"), (c, d, "tail", "treble"))
        for along, across, end_name, side in edges:
            out.append(MarkLine(f"{end_name}_{solid.id}", f"the {end_name} end of {solid.name}", True, along))
            out.append(MarkLine(f"{side}_{solid.id}", f"the {side} side of {solid.name}", False, across))
    return out


def _rim_lines(resolved: Resolved, x_mm: float, y_mm: float) -> list[MarkLine]:
    """Return the rim as it is met from a place toward the four sides; from outside the piece its furthest places."""
    xmin, ymin, xmax, ymax = resolved.outline.bounds
    rim, inside = resolved.outline.exterior, resolved.outline.contains(Point(x_mm, y_mm))

    def met(dx: float, dy: float, furthest: float) -> float:
        if not inside:
            return furthest
        ray = LineString([(x_mm, y_mm), (x_mm + dx * FAR_MM, y_mm + dy * FAR_MM)])
        hit = shapely.shortest_line(Point(x_mm, y_mm), ray.intersection(rim))
        return float(hit.coords[1][0 if dx else 1])

    return [
        MarkLine("rim_tail", "the rim toward the tail", True, met(1, 0, xmax), edge=True),
        MarkLine("rim_neck", "the rim toward the neck", True, met(-1, 0, xmin), edge=True),
        MarkLine("rim_treble", "the rim on the treble side", False, met(0, 1, ymax), edge=True),
        MarkLine("rim_bass", "the rim on the bass side", False, met(0, -1, ymin), edge=True),
    ]


def near_of(route: Route, resolved: Resolved, one: Solid) -> list[Near]:
    """Return what a feature comes near, the nearest first, the rim always: walls as the rules judge them; where it runs
    out over the rim nothing is left."""
    thick = resolved.thickness_mm
    inserts = {f"{p.placement.id}_hole" for p in resolved.placed if p.part.kind is PartKind.INSERT}
    found: list[Near] = []
    rim = resolved.outline.exterior
    if not one.is_open and not one.region.disjoint(resolved.outline):
        least = least_to_outside(one, thick, inserts)
        whole = resolved.outline.covers(one.region)
        found.append(_near("rim", "The outside", one.region if whole else one.region.intersection(rim), rim, least))
    for other in resolved.solids.values():
        if other.id == one.id or other.kind == "outline" or not other.has_walls:
            continue
        if one.region.intersects(other.region) or not beside(one, other, thick):
            continue
        if one.region.distance(other.region) <= NEAR_MM:
            least_mm = least_apart(one, other, thick, inserts)
            found.append(_near(other.id, other.name, one.region, other.region, least_mm))
    return sorted(found, key=lambda n: n.apart_mm)[:MOST_NEAR]


def _near(other: str, name: str, one: shapely.Geometry, two: shapely.Geometry, least_mm: float | None) -> Near:
    a, b = shapely.shortest_line(one, two).coords
    return Near(other, name, float(one.distance(two)), least_mm, (float(a[0]), float(a[1])), (float(b[0]), float(b[1])))

