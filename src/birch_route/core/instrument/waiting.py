"""What waits for a caliper: features whose shape or place follows from a part that nobody has measured. Nothing is cut
for them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ..piece import Placement, Pocket
from ..plane.curves import Around, HeelShape, PartRectangle
from ..vocabulary import Mount, PartKind
from .parts import PartOnHand, read_place
from .stack import find_part, heel_end, saddle_line

if TYPE_CHECKING:
    from ..route import Route

HEEL_PLACES = ("heel_width_end", "heel_width_station", "heel_station", "heel_length")
RECTANGLE_PLACES: dict[PartKind, tuple[str, str, str | None]] = {  # long, wide, corner of what a drawn recess follows
    PartKind.BRIDGE: ("plate_length", "plate_width", "plate_corner"),
    PartKind.PICKUP: ("ring_length", "ring_width", "ring_corner"),
    PartKind.PLATE: ("plate_length", "plate_width", "plate_corner"),
    PartKind.GUARD: ("plate_length", "plate_width", "plate_corner"),
    PartKind.SWITCH: ("body_length", "body_width", None),
}
NO_SCALE = "the scale, not chosen yet"


def missing_of(route: Route, feature: object) -> list[str]:
    """Return the places that must be measured before a drawn feature can be where it belongs, as `part.place`; empty
    where it can.

    It waits while its part has no reading at all, while the saddle line it stands by is not known, or while what it
    goes round waits.
    """
    if not isinstance(feature, Pocket):
        return []
    shape = feature.shape
    if isinstance(shape, Around):
        inner = next((f for f in route.piece.features if f.id == shape.feature), None)
        return missing_of(route, inner)
    if not isinstance(shape, HeelShape | PartRectangle):
        return []
    part = route.part(shape.part)
    if part is None:
        return []
    if not part.readings:
        places = HEEL_PLACES if isinstance(shape, HeelShape) else RECTANGLE_PLACES.get(part.kind, ("", "", None))[:2]
        return [f"{part.id}.{p}" for p in places if p]
    return missing_of_saddle(route) if isinstance(shape, PartRectangle) and shape.at_saddle else []


def missing_of_saddle(route: Route) -> list[str]:
    """Return what is missing before the saddle line is known."""
    if saddle_line(route.parts, route.choices) is not None:
        return []
    neck = find_part(route.parts, PartKind.NECK)
    places = (
        []
        if neck is None
        else [f"{neck.id}.{p}" for p in ("heel_length", "heel_to_12th") if read_place(neck, p).value_mm is None]
    )
    return places + ([NO_SCALE] if route.choices.scale_mm is None else []) or ["a neck, to count from"]


def missing_anchor(route: Route, placement: Placement) -> list[str]:
    """Return what is missing before a placed part that stands by the saddle line or the heel's end can be where it
    belongs."""
    if placement.mount is Mount.SADDLE:
        return missing_of_saddle(route)
    if placement.mount is Mount.HEEL and heel_end(route.parts) is None:
        neck = find_part(route.parts, PartKind.NECK)
        return ["a neck, to count from"] if neck is None else [f"{neck.id}.heel_length"]
    return []


def words_of(parts: list[PartOnHand], place: str) -> str:
    """Return the words for `part.place`."""
    part_id, _, key = place.partition(".")
    part = next((p for p in parts if p.id == part_id), None)
    return place if part is None or not key else f"{part.name}, {read_place(part, key).label.lower()}"
