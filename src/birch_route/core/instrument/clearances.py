"""Edge distances, walls and floors of every feature, as a table: what stands nearest, and how much wood is left."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import shapely

from .floors import FollowingFloor
from .resolve import Resolved, Solid

if TYPE_CHECKING:
    from ..route import Route


@dataclass(frozen=True)
class Clearance:
    """One feature: wood to the outside, to its nearest neighbour that it does not meet, and under its floor, mm."""

    feature: str
    name: str
    depth_mm: float | None
    to_outside_mm: float
    nearest: str | None
    wall_mm: float | None
    floor_mm: float | None
    meets: list[str]
    face: str = "front"


def clearances(resolved: Resolved, thickness_mm: float) -> list[Clearance]:
    """Return the clearances of a piece's features, in the piece's order. Features at heights that do not meet are no neighbours.

    Args:
        thickness_mm: of the finished piece.
    """
    solids = [s for s in resolved.solids.values() if s.kind != "outline"]
    rim = resolved.outline.exterior
    out = []
    for one in solids:
        others = [o for o in solids if o is not one]
        level = [o for o in others if beside(one, o, thickness_mm) and o.has_walls]
        apart = [(one.region.distance(o.region), o.name) for o in level if not o.region.intersects(one.region)]
        wall, nearest = min(apart, default=(None, None))
        none = one.is_open or not one.has_walls or one.kind == "channel" or not resolved.outline.contains(one.region)
        inside = 0.0 if none else float(one.region.distance(rim))
        depth = None if one.floor_mm is None else one.deep_mm(thickness_mm)
        out.append(Clearance(one.id, one.name, depth, inside, nearest, wall, None if depth is None else floor_left(one, others, thickness_mm),
                             [o.name for o in others if o.region.intersects(one.region) and meets(one, o, thickness_mm)], one.face.value))
    return out


def beside(one: Solid, other: Solid, thickness_mm: float) -> bool:
    """Say whether two features take wood at the same height somewhere."""
    (a, b), (c, d) = one.span_mm(thickness_mm), other.span_mm(thickness_mm)
    return min(b, d) > max(a, c)


def meets(one: Solid, other: Solid, thickness_mm: float) -> bool:
    """Say whether two features whose regions overlap open into each other, within a hundredth."""
    (a, b), (c, d) = one.span_mm(thickness_mm), other.span_mm(thickness_mm)
    if min(b, d) < max(a, c) - 0.01:
        return False
    follows = isinstance(one.surface, FollowingFloor) or isinstance(other.surface, FollowingFloor)
    return not follows or one.face is other.face or None in (one.floor_mm, other.floor_mm) or least_between(one, other, one.region.intersection(other.region), thickness_mm) <= 0.01


def opens_into(route: Route, resolved: Resolved, one: str, other: str) -> bool:
    """Say whether a feature is meant to open into another: it follows from a placed part, goes through, or says so."""
    if any(one == f.id or other == f.id for p in resolved.placed for f in p.features):
        return True
    drawn = {f.id: f for f in route.piece.features}
    return other in getattr(drawn.get(one), "opens_into", ()) or one in getattr(drawn.get(other), "opens_into", ())


def least_between(one: Solid, other: Solid, shared: shapely.Geometry, thickness_mm: float) -> float:
    """Return the least wood between two features of opposite faces over the area they share, mm; a bevel is sampled."""
    sloped = [s for s in (one, other) if s.surface is not None]
    if not sloped:
        return thickness_mm - one.deep_mm(thickness_mm) - other.deep_mm(thickness_mm)
    x, y, deep = sloped[0].surface.samples(shared, 0.4)  # type: ignore[union-attr]
    if not len(x):
        return thickness_mm
    second = other if sloped[0] is one else one
    deep = deep + (second.surface.depth(x, y) if second.surface is not None else second.deep_mm(thickness_mm))
    return thickness_mm - float(deep.max())


def floor_left(one: Solid, others: list[Solid], thickness_mm: float) -> float | None:
    """Return the wood between a feature's floor and what is cut from the other face under it, or that face, mm; None where it opens into
    something cut from the other face."""
    under = thickness_mm - one.deep_mm(thickness_mm)
    if any(o.face is not one.face and o.floor_mm is not None and o.region.covers(one.region) and meets(one, o, thickness_mm) for o in others):
        return None
    for other in others:
        if other.floor_mm is not None and other.face is not one.face and other.region.intersects(one.region) and not meets(one, other, thickness_mm):
            under = min(under, least_between(one, other, one.region.intersection(other.region), thickness_mm))
    return under


def screw_length(screw_mm: float, plate_mm: float, body_under_pocket_mm: float, heel_wood_mm: float, keep_mm: float = 3.0) -> tuple[float, bool]:
    """Return how deep a neck screw bites into the heel, and whether it stays clear of the fretboard.

    Args:
        screw_mm: under its head. plate_mm: thickness of plate or ferrule. body_under_pocket_mm: wood between pocket floor and back.
        heel_wood_mm: heel without its board. keep_mm: wood to keep between tip and board.
    """
    bite = screw_mm - plate_mm - body_under_pocket_mm
    return bite, bite <= heel_wood_mm - keep_mm
