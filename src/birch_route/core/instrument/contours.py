"""Contours as they start: an arm bevel, a belly bevel, one at the heel, a carved top, ledges for binding and purfling,
laid on a piece where they usually lie, to be dragged and typed from there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
import shapely
from shapely.geometry import Point, Polygon

from ..data import figures
from ..errors import InputError
from ..materials.own import species as species_of
from ..piece import Bevel, Carve, Channel
from ..route import Route
from ..vocabulary import Face
from .drawn import free_id, free_name
from .joint import neck_pocket
from .resolve import Resolved, resolve
from .solids import Solid

PART_PLACES = 4  # of the parts of a way round that are kept


class Starting(StrEnum):
    """What can be begun with one press."""

    ARM = "arm"
    BELLY = "belly"
    HEEL = "heel"
    CARVE = "carve"
    CHANNEL = "channel"  # for binding; the next one inside it for purfling


NAMES = {
    Starting.ARM: "Arm bevel", Starting.BELLY: "Belly bevel", Starting.HEEL: "Heel bevel", Starting.CARVE: "Carved top",
    Starting.CHANNEL: "Channel",
}


def starting_contour(route: Route, kind: Starting) -> dict[str, Any]:
    """Return a contour's feature as it starts on a route's piece.

    Raises:
        InputError: the piece has no outline, or it has a carved top already.

    Source: figures, block contours; working values, to be fitted to the player.
    """
    resolved = resolve(route)
    outline = resolved.outline
    if outline is None or outline.is_empty:
        raise InputError("Draw the outline first: a contour runs along it.", where="contour")
    features = route.piece.features
    if kind is Starting.CARVE and any(f.kind == "carve" for f in features):
        raise InputError("This piece has a carved top already.", where="contour")
    channels = [f for f in features if isinstance(f, Channel)]
    name = NAMES[kind]
    if kind is Starting.CHANNEL:
        name = "Purfling channel" if channels else "Binding channel"
    taken = [*(f.id for f in features), *(p.id for p in route.piece.placements), *(f.id for f in route.features)]
    new = {"id": free_id(taken, kind.value), "name": free_name([f.name for f in features], name)}
    if kind is Starting.CARVE:
        stations = [{"at_mm": at, "drop_mm": drop} for at, drop in figures()["contours"]["carve_stations"]]
        return {"kind": "carve", **new, "face": "front", "stations": stations}
    if kind is Starting.CHANNEL:
        return {"kind": "channel", **new, **_ledge(channels)}
    return {"kind": "bevel", **new, **_bevel(route, resolved, outline, kind)}


def _ledge(before: list[Channel]) -> dict[str, Any]:
    if not before:
        wide, deep = figures()["contours"]["binding_mm"]
        return {"face": "front", "width_mm": wide, "depth_mm": deep}
    wider, deep = figures()["contours"]["purfling_mm"]
    return {"face": before[-1].face.value, "width_mm": before[-1].width_mm + wider, "depth_mm": deep}


def _bevel(route: Route, resolved: Resolved, outline: Polygon, kind: Starting) -> dict[str, Any]:
    usual = figures()["contours"][kind.value]
    if kind is Starting.HEEL:
        start, end = _at_heel(route, resolved, outline, usual)
    else:
        x0, low, x1, high = outline.bounds
        side = low if usual["side"] == "bass" else high
        start, end = (
            part_of(outline, x0 + part * (x1 - x0), side) for part in (usual["from_part"], usual["to_part"])
        )
    stations = [{"at": at, "width_mm": wide, "drop_mm": drop} for at, wide, drop in usual["stations"]]
    face = Face(usual["face"]).value
    return {"face": face, "start": start, "end": end, "blend_mm": usual["blend_mm"], "stations": stations}


def _at_heel(route: Route, resolved: Resolved, outline: Polygon, usual: Any) -> tuple[float, float]:
    """Return where a bevel beside the heel begins and ends: on the treble side, the way round running towards the
    neck."""
    pocket = neck_pocket(route, resolved)
    half = usual["half_mm"]
    if pocket is not None:
        strip = pocket.region.intersection(shapely.box(-1e4, -1e4, outline.bounds[0] + half, 1e4))
        half = (strip if not strip.is_empty else pocket.region).bounds[3]
    ring = shapely.geometry.polygon.orient(outline).exterior
    mouth = ring.project(Point(outline.bounds[0], half))
    places = ((mouth - usual[key]) % ring.length / ring.length for key in ("to_mm", "from_mm"))
    start, end = (round(p % 1.0, PART_PLACES) % 1.0 for p in places)
    return start, end


def part_of(outline: Polygon, x_mm: float, y_mm: float) -> float:
    """Return the part of the way round an outline, counter-clockwise, that is nearest to a place."""
    ring = shapely.geometry.polygon.orient(outline).exterior
    return float(round(ring.project(Point(x_mm, y_mm), normalized=True) % 1.0, PART_PLACES) % 1.0)


IN_MM = 0.1  # how far inside the rim a contour's depth is read


@dataclass(frozen=True)
class StationRead:
    """What stands at a station at the rim: how far both faces fall there together is taken from the thickness."""

    at: float  # part of a bevel's way; of a carve 0: where the least is left
    x_mm: float
    y_mm: float
    drop_mm: float
    edge_left_mm: float
    shows: tuple[str, ...]  # woods of the layers that come to light there, under the face's own


@dataclass(frozen=True)
class ContourRead:
    """A contour as it comes out at the rim."""

    id: str
    stations: tuple[StationRead, ...]


def contours_read(route: Route, resolved: Resolved) -> list[ContourRead]:
    """Return what bevels and carves leave of the edge at their stations, and which layers they lay open, mm, piece's
    frame."""
    surfaces = [s for s in resolved.solids.values() if s.is_contour and s.surface is not None]
    out = []
    for feature in route.piece.features:
        solid = resolved.solids.get(feature.id)
        if not isinstance(feature, Bevel | Carve) or solid is None:
            continue
        others = [s for s in surfaces if s.id != feature.id]
        if isinstance(feature, Bevel):
            long = (feature.end - feature.start) % 1.0
            places = [(s.at, (feature.start + s.at * long) % 1.0, s.drop_mm) for s in feature.stations]
        else:
            places = [(0.0, 0.0, feature.stations[0].drop_mm)]
        reads = []
        for at, part, drop in places:
            x, y = _inside(resolved.outline, part)
            down = {face: _deepest(others, face, x, y) for face in Face}
            down[solid.face] = max(down[solid.face], drop)
            left = resolved.thickness_mm - sum(down.values())
            shows = _shows(route, solid.face, down[solid.face])
            reads.append(StationRead(at, x, y, down[solid.face], left, shows))
        out.append(ContourRead(feature.id, tuple(reads)))
    return out


def _inside(outline: Polygon, part: float) -> tuple[float, float]:
    """Return the point a little inside the rim at a part of the way round."""
    ring = shapely.geometry.polygon.orient(outline).exterior
    before, after = (ring.interpolate((part + d) % 1.0, normalized=True) for d in (-0.001, 0.001))
    at = ring.interpolate(part % 1.0, normalized=True)
    dx, dy = after.x - before.x, after.y - before.y
    long = max((dx * dx + dy * dy) ** 0.5, 1e-9)
    return at.x - dy / long * IN_MM, at.y + dx / long * IN_MM


def _deepest(surfaces: Sequence[Solid], face: Face, x: float, y: float) -> float:
    at = (np.array([x]), np.array([y]))
    taken = [float(s.surface.depth(*at)[0]) for s in surfaces if s.face is face and s.surface is not None]
    return max(taken, default=0.0)


def _shows(route: Route, face: Face, down_mm: float) -> tuple[str, ...]:
    """Return the woods that a cut so far below a face lays open, from the face down, the face's own left out."""
    spans = route.blank.layer_spans()
    thick = route.blank.piece_mm
    if face is Face.BACK:
        spans = [(wood, -thick - under, -thick - top) for wood, top, under in reversed(spans)]
    return tuple(species_of(route, wood).name for wood, top, _ in spans[1:] if top > -down_mm + 0.01)
