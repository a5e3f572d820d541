"""The cavity that pots, switches and jacks hang in, from the room they take; and the cover that closes it."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..data import figures
from ..errors import InfeasibleError, InputError
from ..piece import Pocket
from ..plane.curves import Rectangle
from ..quantities import mm
from ..vocabulary import Face, FinishClass, Mount, PartKind
from .parts import read_place
from .placing import Placed
from .resolve import Resolved

if TYPE_CHECKING:
    from ..route import Route

HANG = (PartKind.POT, PartKind.SWITCH, PartKind.JACK)


def houseless(resolved: Resolved) -> list[Placed]:
    """Return the placed parts whose body hangs through a face into no cavity, in the order of the placements."""
    return [
        p for p in resolved.placed
        if p.part.kind in HANG and p.placement.mount is Mount.FACE and p.placement.cavity is None
        and any(g.what == "body" for g in p.ghosts)
    ]


def cavity_for(route: Route, placed: list[Placed], feature_id: str, name: str) -> dict[str, Any]:
    """Return the document of a cavity on the other face that takes the bodies of placed parts with room for wires.

    Its plan is the smallest rectangle round the bodies, wider by figures.controls.wiring_mm; its roof is as thick as
    the shortest bush bears, at most figures.controls.roof_mm.

    Raises:
        InputError: no parts, parts on both faces, or one that was not measured.
        InfeasibleError: the piece is too thin for the tallest of them.
    """
    if not placed:
        raise InputError("Choose the parts that hang in the cavity.", where="placements")
    faces = {p.placement.face for p in placed}
    if len(faces) > 1:
        raise InputError("One cavity takes parts of one face. Make one for each face.", where="placements")
    for one in placed:
        if not [g for g in one.ghosts if g.what == "body"]:
            raise InputError(f"{one.part.name} is not measured: no room is known for it.", where=one.placement.id)
    fig = figures()["controls"]
    bodies = shapely.union_all([g.region for p in placed for g in p.ghosts if g.what == "body"])
    shape = rectangle_round(bodies, fig["body_clear_mm"] + fig["wiring_mm"], fig["cavity_corner_mm"])
    roof = min([fig["roof_mm"], *(b - fig["nut_mm"] for p in placed if (b := _bush(p)) is not None)])
    tallest = max(placed, key=_height)
    thick = route.blank.piece_mm
    room = thick - roof - _height(tallest) - fig["body_clear_mm"]
    if room < 0 or roof <= 0.5:
        raise InfeasibleError(
            f"{tallest.part.name} does not fit: the piece is {mm(thick):.1f} thick, and it needs "
            f"{mm(_height(tallest) + fig['body_clear_mm']):.1f} below a roof of {mm(max(roof, 0.0)):.1f}. Make the "
            "body thicker, or choose a lower part.",
            where=tallest.placement.id,
        )
    other = Face.BACK if faces == {Face.FRONT} else Face.FRONT
    return {
        "kind": "pocket", "id": feature_id, "name": name, "shape": shape.model_dump(mode="json"),
        "depth_mm": round(thick - roof, 2), "face": other.value, "finish_class": FinishClass.HIDDEN.value,
        "least_floor_mm": min(figures()["floors_mm"]["cavity"], round(roof, 2)),
    }


def _bush(placed: Placed) -> float | None:
    return read_place(placed.part, "bush_length").value_mm if placed.part.kind is not PartKind.SWITCH else None


def _height(placed: Placed) -> float:
    spans = [g.span_mm for g in placed.ghosts if g.what == "body"]
    return max((high - low for low, high in spans), default=0.0)


def rectangle_round(region: shapely.Geometry, room_mm: float, corner_mm: float) -> Rectangle:
    """Return the smallest rectangle about a region, turned as it lies, wider all round by so much."""
    box = region.minimum_rotated_rectangle
    if not isinstance(box, Polygon):
        box = region.envelope.buffer(0.1).envelope
    corners = np.asarray(box.exterior.coords)[:4]
    sides = [np.hypot(*(corners[k + 1] - corners[k])) for k in (0, 1)]
    long, wide = max(sides), min(sides)
    way = corners[1] - corners[0] if sides[0] >= sides[1] else corners[2] - corners[1]
    angle = math.degrees(math.atan2(way[1], way[0]))
    angle = (angle + 90.0) % 180.0 - 90.0
    if long - wide < 0.05:
        angle = 0.0 if abs(angle % 90) < 0.01 else angle
    x, y = box.centroid.x, box.centroid.y
    return Rectangle(
        x_mm=round(x, 2), y_mm=round(y, 2), length_mm=round(long + 2 * room_mm, 2),
        width_mm=round(wide + 2 * room_mm, 2), corner_radius_mm=min(corner_mm, room_mm + wide / 2),
        angle_deg=round(angle, 2),
    )


def cover_screws(cavity: Pocket, land_mm: float, thick_mm: float, feature_id: str, name: str) -> dict[str, Any]:
    """Return the document of four pilot holes in the corners of the ledge a cover rests on.

    Args:
        land_mm: width of the ledge. thick_mm: of the cover.

    Raises:
        InputError: the cavity is no rectangle, whose corners these would be.
    """
    shape = cavity.shape
    if not isinstance(shape, Rectangle):
        raise InputError(
            f"{cavity.name} is no rectangle, so its corners are not known. Draw the holes for the screws by hand.",
            where=cavity.id,
        )
    fig = figures()["controls"]
    radius = min(shape.corner_radius_mm, shape.length_mm / 2, shape.width_mm / 2)
    out = (radius + land_mm / 2) / math.sqrt(2)
    half_long, half_wide = shape.length_mm / 2 - radius + out, shape.width_mm / 2 - radius + out
    c, s = math.cos(math.radians(shape.angle_deg)), math.sin(math.radians(shape.angle_deg))
    corners = [(sx * half_long, sy * half_wide) for sx in (-1, 1) for sy in (-1, 1)]
    points = [(round(shape.x_mm + x * c - y * s, 4), round(shape.y_mm + x * s + y * c, 4)) for x, y in corners]
    return {
        "kind": "hole", "id": feature_id, "name": name, "points": points, "diameter_mm": fig["plate_pilot_mm"],
        "depth_mm": round(thick_mm + fig["plate_screw_mm"], 2), "face": cavity.face.value,
        "opens_into": [], "assumed": True,
    }
