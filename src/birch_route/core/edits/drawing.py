"""Edits of the builder's pen: what is drawn on the piece by its sizes, and where it stands."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal

from pydantic import Field

from ..data import figures
from ..errors import InfeasibleError, InputError
from ..instrument.drawn import (
    MOST_HOLES,
    NAMES,
    Drawing,
    Grid,
    Placing,
    free_id,
    free_name,
    middle_of,
    new_feature,
    placed_anew,
    why_fixed,
)
from ..instrument.pickups import pickup_pocket
from ..instrument.resolve import resolve
from ..piece import Hole, Pocket, Relief
from ..plane.curves import Mm
from ..quantities import mm
from ..route import Route, read_route
from ..sequence.additions import propose_into
from ..vocabulary import Face, PartKind
from .base import Document, DocumentEdit, RouteEdit, named

Size = Annotated[Mm, Field(gt=0, le=2000)]
Degrees = Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)]
Count = Annotated[int, Field(ge=1, le=MOST_HOLES)]


class Draw(RouteEdit):
    """Draw a feature by its sizes; where a setup turns its face up, what cuts it is proposed with it."""

    do: Literal["draw"] = "draw"
    what: Drawing
    name: Annotated[str, Field(max_length=80)] = ""
    face: Face = Face.FRONT
    x_mm: Mm
    y_mm: Mm
    depth_mm: Size | None = None  # None goes through
    length_mm: Size | None = None
    width_mm: Size | None = None
    corner_mm: Annotated[Mm, Field(ge=0, le=500)] | None = None
    diameter_mm: Size | None = None
    along: Count = 1
    across: Count = 1
    apart_mm: Size | None = None
    rows_mm: Size | None = None
    angle_deg: Degrees = 0.0
    points: Annotated[list[tuple[Mm, Mm]], Field(max_length=200)] = []  # of a free shape; its middle is theirs

    def words(self) -> str:
        return f"Draw: {self.name or NAMES[self.what]}"

    def remake(self, route: Route) -> Route:
        name = free_name([f.name for f in route.piece.features], self.name.strip() or NAMES[self.what])
        new = free_id(_taken(route), self.what.value)
        sizes = self.model_dump(exclude={"do", "what", "name", "face"})
        return with_feature(route, new_feature(self.what, new, name, self.face, sizes))


class DrawPickup(RouteEdit):
    """Draw the pocket of a pickup on hand, as large and deep as its readings say; it waits while there are none."""

    do: Literal["draw_pickup"] = "draw_pickup"
    part: str
    x_mm: Mm
    y_mm: Mm = 0.0
    angle_deg: Degrees = 0.0

    def words(self) -> str:
        return "Draw the pocket of a pickup"

    def remake(self, route: Route) -> Route:
        part = route.part(self.part)
        if part is None or part.kind is not PartKind.PICKUP:
            raise InputError("Choose a pickup that is on the list of parts.", where="part")
        new = free_id(_taken(route), f"{part.id}_pocket")
        name = free_name([f.name for f in route.piece.features], f"{part.name} pocket")
        return with_feature(route, pickup_pocket(part.id, new, name, self.x_mm, self.y_mm, self.angle_deg))


class PlaceFeature(RouteEdit):
    """Mirror a drawn feature across the centre line, turn it about its middle, shift it or put its middle at a place;
    or make a copy there."""

    do: Literal["place_feature"] = "place_feature"
    feature: str
    dx_mm: Mm = 0.0
    dy_mm: Mm = 0.0
    to_x_mm: Mm | None = None  # its middle, whatever dx_mm says
    to_y_mm: Mm | None = None
    turn_deg: Degrees = 0.0
    mirror: bool = False
    copied: bool = False
    beside: bool = False  # a copy past its own end

    def words(self) -> str:
        did = "Mirror" if self.mirror else "Turn" if self.turn_deg else "Move"
        return f"{'Copy' if self.copied else did} {self.feature.replace('_', ' ')}"

    def remake(self, route: Route) -> Route:
        why = why_fixed(route.piece, self.feature, {s.datum for s in route.setups})
        if why and not (self.copied and why.startswith("it is locked")):
            what = self.feature.replace("_", " ").capitalize()
            raise InputError(f"{what} stays where it is: {why}.", where="feature")
        old = next(f for f in route.piece.features if f.id == self.feature)
        assert isinstance(old, Hole | Pocket | Relief)
        by = self._by(old)
        if self.copied and self.beside:
            by = replace(by, dx_mm=by.dx_mm + _long_mm(route, old.id) + figures()["drawn"]["copy_gap_mm"])
        new = placed_anew(old, by)
        if self.copied:
            if isinstance(old, Relief):
                raise InputError("A surface that was brought in is not copied: bring it in again.", where="feature")
            if not (by.dx_mm or by.dy_mm or by.mirror):
                raise InputError("A copy stands somewhere else. Say how far away, or mirror it.", where="dx_mm")
            one = {
                **new.model_dump(mode="json"),
                "id": free_id(_taken(route), old.id),
                "name": free_name([f.name for f in route.piece.features], old.name),
                "locked": False,
            }
            return with_feature(route, one)
        features = [new if f.id == self.feature else f for f in route.piece.features]
        return route.model_copy(update={"piece": route.piece.model_copy(update={"features": features})})

    def _by(self, old: Hole | Pocket | Relief) -> Placing:
        middle = None if isinstance(old, Relief) else middle_of(old)
        dx, dy = self.dx_mm, self.dy_mm
        if middle is not None and self.to_x_mm is not None:
            dx = self.to_x_mm - middle[0]
        if middle is not None and self.to_y_mm is not None:
            dy = self.to_y_mm - (-middle[1] if self.mirror else middle[1])
        return Placing(dx, dy, self.turn_deg, self.mirror)


class LayHoles(DocumentEdit):
    """Lay the holes of a feature anew about their middle: how many along and across, how far apart, how turned. Apart
    0: as far as the figures say."""

    do: Literal["lay_holes"] = "lay_holes"
    feature: str
    along: Count
    across: Count = 1
    apart_mm: Annotated[Mm, Field(ge=0, le=2000)] = 0.0
    rows_mm: Annotated[Mm, Field(ge=0, le=2000)] = 0.0
    angle_deg: Degrees = 0.0

    def words(self) -> str:
        return f"{self.along * self.across} holes, {mm(self.apart_mm):g} apart"

    def change(self, data: Document) -> None:
        one = named(data["piece"]["features"], self.feature, "feature")
        if one["kind"] != "hole":
            raise InputError(f"{one['name']} is no hole.", where="feature")
        if one.get("locked"):
            raise InputError(f"{one['name']} is locked: unlock it first.", where="feature")
        if any(s.get("datum") == self.feature for s in data["setups"]):
            raise InputError(f"{one['name']} stay: setups find the piece again by them.", where="feature")
        middle = middle_of(Hole.model_validate(one))
        assert middle is not None
        usual = figures()["drawn"]["row_diameters"] * one["diameter_mm"]
        apart, rows = self.apart_mm or usual, self.rows_mm or usual
        grid = Grid(self.along, self.across, apart, rows, self.angle_deg)
        one["points"] = grid.points(*middle)


def _long_mm(route: Route, feature: str) -> float:
    solid = resolve(route).solids.get(feature)
    if solid is None:
        raise InputError("It waits for its part and has no size yet: say how far away its copy stands.", where="dx_mm")
    return float(solid.region.bounds[2] - solid.region.bounds[0])


def _taken(route: Route) -> list[str]:
    drawn, placed = route.piece.features, route.piece.placements
    return [*(f.id for f in drawn), *(p.id for p in placed), *(f.id for f in route.features)]


def with_feature(route: Route, feature: dict[str, Any]) -> Route:
    """Return the route with one feature more, before the outline, and with what cuts it where something can; where
    nothing can the proof says so, with its cures."""
    data = route.model_dump(mode="json")
    features = data["piece"]["features"]
    features.insert(len(features) - 1 if features and features[-1]["kind"] == "outline" else len(features), feature)
    changed = read_route(data)
    try:
        return propose_into(changed, feature["id"])
    except (InfeasibleError, InputError):
        return changed
