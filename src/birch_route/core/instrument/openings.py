"""Where features run out through the side of a piece, into one another, or lie beside it, without anybody having said
that they should."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import Point, Polygon

from ..plane.regions import buffer_round, polygons
from .clearances import beside, meets
from .resolve import Resolved, Solid

if TYPE_CHECKING:
    from ..route import Route

LEAST_MM2 = 0.05  # less than this is touching
TOUCH_MM = 0.05
MOUTH_MM = 5.0  # an open pocket runs out so far along its length at its mouth, or a quarter of it
TEST_HOLES = "test_holes_"  # ids of the pair of holes that tells what the machine is off: in the waste on purpose


@dataclass(frozen=True)
class Opening:
    """A place where a feature opens: into what (None: through the side), how wide, and where. beside: it lies wholly
    outside the piece."""

    feature: str
    name: str
    into: str | None
    into_name: str
    width_mm: float
    place: tuple[float, float]
    beside: bool = False


def parts_of(solid: Solid) -> list[Polygon]:
    """Return the single areas of a feature: each hole of a row, or its one region."""
    if solid.kind == "hole" and solid.points:
        return [buffer_round(Point(p), solid.diameter_mm / 2) for p in solid.points]
    return polygons(solid.region)


def openings(route: Route, resolved: Resolved) -> list[Opening]:
    """Return every opening that nobody declared, in the order of the features.

    Declared are: a neck pocket at its mouth, a feature that says it runs out through the side, two that say they open
    into each other, what follows from one placed part, or is drawn as large as that part, and what lies whole within
    another.
    """
    solids = [s for s in resolved.solids.values() if s.kind != "outline" and s.has_walls]
    drawn = {f.id: f for f in route.features}
    waste = {s.datum for s in route.setups}
    out: list[Opening] = []
    for index, one in enumerate(solids):
        if one.kind != "channel":
            out += _sides(
                one,
                resolved.outline,
                declared=bool(getattr(drawn.get(one.id), "opens_side", False)),
                in_waste=one.id in waste or one.id.startswith(TEST_HOLES),
            )
        for other in solids[index + 1 :]:
            if (
                beside(one, other, resolved.thickness_mm)
                and meets(one, other, resolved.thickness_mm)
                and not _declared(drawn, resolved, one.id, other.id)
            ):
                out += _meeting(one, other)
    return out


def _sides(solid: Solid, outline: Polygon, *, declared: bool, in_waste: bool) -> list[Opening]:
    out = []
    for part in parts_of(solid):
        over = part.difference(outline)
        if over.area < LEAST_MM2:
            continue
        if part.intersection(outline).area < LEAST_MM2:
            if not in_waste:
                spot = part.representative_point()
                out.append(Opening(solid.id, solid.name, None, "", _width(part), (spot.x, spot.y), beside=True))
            continue
        if declared:
            continue
        xmin, _, xmax, _ = part.bounds
        for piece in polygons(over):
            if piece.area < LEAST_MM2 or (
                solid.is_open
                and piece.bounds[0] <= xmin + 0.5
                and piece.bounds[2] - xmin <= max(MOUTH_MM, (xmax - xmin) / 4)
            ):
                continue
            chord = outline.exterior.intersection(buffer_round(piece, 0.01)).intersection(part)
            width = _width(chord) if chord.length > 0 else _width(piece)
            spot = (chord if chord.length > 0 else piece).centroid
            out.append(Opening(solid.id, solid.name, None, "", width, (spot.x, spot.y)))
    return out


def _meeting(one: Solid, other: Solid) -> list[Opening]:
    out: list[Opening] = []
    if not one.region.intersects(other.region):
        return out
    for part in parts_of(one):
        for second in parts_of(other):
            shared = part.intersection(second)
            if (
                shared.area < LEAST_MM2
                or buffer_round(second, TOUCH_MM).covers(part)
                or buffer_round(part, TOUCH_MM).covers(second)
            ):
                continue
            spot = shared.representative_point()
            out.append(Opening(one.id, one.name, other.id, other.name, _width(shared), (spot.x, spot.y)))
    return out


def _width(shape: shapely.Geometry) -> float:
    """Return how far apart the farthest places of a shape lie, mm."""
    ring = shape.convex_hull
    points = list(getattr(ring, "exterior", ring).coords)
    return max((Point(a).distance(Point(b)) for a in points for b in points), default=0.0)


def _drawn_for(drawn: dict[str, object], feature: str) -> str | None:
    return getattr(getattr(drawn.get(feature), "shape", None), "part", None)


def _declared(drawn: dict[str, object], resolved: Resolved, one: str, other: str) -> bool:
    for placed in resolved.placed:  # both for one part: what follows from its place, and what is drawn as large as it
        follow = {f.id for f in placed.features}
        if follow & {one, other} and all(f in follow or _drawn_for(drawn, f) == placed.part.id for f in (one, other)):
            return True
    return other in getattr(drawn.get(one), "opens_into", ()) or one in getattr(drawn.get(other), "opens_into", ())
