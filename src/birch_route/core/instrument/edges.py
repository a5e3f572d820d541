"""What becomes of rims: how far an edge goes in and down, where it has to stay sharp, what is left for a bearing to ride on."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import shapely
from shapely.geometry import LineString, MultiLineString, Point

from ..data import figures
from ..piece import Edge
from ..quantities import mm
from ..vocabulary import EdgeKind, PartKind
from .covers import plate_of
from .parts import read_place
from .resolve import Resolved, Solid

if TYPE_CHECKING:
    from ..route import Route


@dataclass(frozen=True)
class Stretch:
    """A part of a rim that stays sharp: from and to, mm along the rim, why, and its middle."""

    from_mm: float
    to_mm: float
    why: str
    at: tuple[float, float]
    points: list[tuple[float, float]]


@dataclass(frozen=True)
class Met:
    """A feature nearer to a rim than the edge goes in."""

    name: str
    gap_mm: float
    at: tuple[float, float]


@dataclass(frozen=True)
class EdgePlan:
    """One edge, worked out. land_mm: flat side left at the outline, None for a pocket's rim or a sharp edge."""

    edge: str
    feature: str
    words: str
    kind: str
    face: str
    inward_mm: float
    down_mm: float
    length_mm: float
    sharp_mm: float
    stretches: list[Stretch]
    land_mm: float | None
    bearing_mm: float
    meets: list[Met]
    at: tuple[float, float]


def edge_plan(route: Route, resolved: Resolved) -> list[EdgePlan]:
    """Return every edge of the piece worked out."""
    return [_plan(route, resolved, e) for e in route.piece.edges if e.feature in resolved.solids]


def reach(edge: Edge) -> tuple[float, float]:
    """Return how far an edge goes in from the rim and how far down from the face, mm.

    Source: a round takes its radius both ways; a bevel w wide in the face goes w tan(angle) down; a broken edge is a bevel of 45 degrees.
    """
    if edge.kind is EdgeKind.SHARP:
        return 0.0, 0.0
    if edge.kind is EdgeKind.BEVEL:
        return edge.size_mm, edge.size_mm * math.tan(math.radians(edge.angle_deg))
    return edge.size_mm, edge.size_mm


def _plan(route: Route, resolved: Resolved, edge: Edge) -> EdgePlan:
    fig, solid = figures()["edges"], resolved.solid(edge.feature)
    inward, down = reach(edge)
    ring = solid.region.exterior
    keep = [(zone, why) for zone, why in _sharp_zones(route, resolved, edge, inward + fig["stop_mm"])] if inward > 0 else []
    stretches = [s for zone, why in keep for s in _stretches(ring, zone, why)]
    land, bearing = None, fig["bearing_mm"]
    if solid.kind == "outline" and inward > 0:
        other = sum(reach(e)[1] for e in route.piece.edges if e.feature == edge.feature and e.face is not edge.face)
        other = max([other, *(s.surface.deepest_mm for s in resolved.solids.values() if s.is_contour and s.face is not edge.face)])  # what contours leave
        land = resolved.thickness_mm - down - other
    met = _met(resolved, solid, edge, inward, shapely.union_all([z for z, _ in keep]) if keep else None) if inward > 0 else []
    spot = ring.interpolate(0.25, normalized=True)
    names = {
        EdgeKind.SHARP: "sharp edge",
        EdgeKind.BROKEN: f"broken edge of {mm(edge.size_mm):.1f}",
        EdgeKind.ROUND: f"radius of {mm(edge.size_mm):.1f}",
        EdgeKind.BEVEL: f"bevel of {mm(edge.size_mm):.1f} at {edge.angle_deg:.0f}°",
    }
    covered = shapely.union_all([LineString(s.points) for s in stretches]).length if stretches else 0.0
    return EdgePlan(edge.id, edge.feature, f"the {names[edge.kind]} on the {edge.face.value} of {solid.name}", edge.kind.value, edge.face.value, inward, down, float(ring.length), float(covered), stretches, land, bearing, met, (spot.x, spot.y))


def _sharp_zones(route: Route, resolved: Resolved, edge: Edge, grow_mm: float) -> list[tuple[shapely.Geometry, str]]:
    """Return where the edge is not made: the mouth of a joint, what a plate covers, where a plate or pin sits on the side, where a bevel runs."""
    out: list[tuple[shapely.Geometry, str]] = []
    for solid in resolved.solids.values():
        if solid.id != edge.feature and solid.is_open and solid.face is edge.face:
            out.append((solid.region.buffer(grow_mm), f"joint: {solid.name}"))
        if solid.is_contour and solid.face is edge.face:
            out.append((solid.region.buffer(1.0), f"taken by {solid.name}"))
        if solid.id != edge.feature and plate_of(route, solid.id) is not None and solid.face is edge.face:
            out.append((solid.region.buffer(grow_mm), f"under a plate: {solid.name}"))
    for placed in resolved.placed:
        if placed.side is None:
            continue
        across = read_place(placed.part, "head_diameter" if placed.part.kind is PartKind.STRAP_PIN else "body_diameter").value_mm or 14.0
        face_z = 0.0 if edge.face.value == "front" else -resolved.thickness_mm
        if abs(placed.side.z_mm - face_z) < across / 2 + reach(edge)[1]:
            out.append((Point(placed.side.x_mm, placed.side.y_mm).buffer(across / 2 + figures()["edges"]["stop_mm"]), f"seat of {placed.part.name}"))
    return out


def _stretches(ring: shapely.LinearRing, zone: shapely.Geometry, why: str) -> list[Stretch]:
    inside = LineString(ring.coords).intersection(zone)
    lines = [inside] if isinstance(inside, LineString) else [g for g in getattr(inside, "geoms", []) if isinstance(g, LineString)]
    merged = shapely.line_merge(MultiLineString(lines)) if len(lines) > 1 else None
    if merged is not None:
        lines = [merged] if isinstance(merged, LineString) else list(merged.geoms)
    out = []
    for line in lines:
        if line.length < 0.1:
            continue
        start, end, middle = ring.project(Point(line.coords[0])), ring.project(Point(line.coords[-1])), line.interpolate(0.5, normalized=True)
        out.append(Stretch(float(start), float(end), why, (middle.x, middle.y), [(float(x), float(y)) for x, y in line.simplify(0.05).coords]))
    return out


def _met(resolved: Resolved, solid: Solid, edge: Edge, inward: float, sharp: shapely.Geometry | None) -> list[Met]:
    """Return the features of the edge's face that begin nearer to the rim than the edge goes in, where it is not kept sharp."""
    ring: shapely.Geometry = LineString(solid.region.exterior.coords)
    if sharp is not None:
        ring = ring.difference(sharp)
    out = []
    for other in resolved.solids.values():
        turned_away = other.face is not edge.face and other.floor_mm is not None
        if other.id == solid.id or other.kind == "outline" or not other.has_walls or turned_away:
            continue
        if other.region.intersects(ring):
            continue
        if solid.kind != "outline" and (solid.region.covers(other.region) or other.region.covers(solid.region)):
            continue
        gap = ring.distance(other.region)
        if gap < inward - 0.01:
            spot = shapely.shortest_line(ring, other.region).interpolate(0.5, normalized=True)
            out.append(Met(other.name, float(gap), (spot.x, spot.y)))
    return out
