"""Edits of controls: the cavity that placed parts hang in, and the cover that closes it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..errors import InfeasibleError, InputError
from ..instrument.cavities import cavity_for, cover_screws
from ..instrument.drawn import free_id, free_name
from ..instrument.resolve import resolve
from ..piece import Hole, Pocket
from ..route import Route, read_route
from ..sequence.additions import propose_into, step_down
from ..sequence.turning import turn_over
from ..vocabulary import FinishClass, TurnAxis
from .base import RouteEdit


class HouseParts(RouteEdit):
    """Draw the cavity that placed pots, switches or jacks hang in, on the other face; the piece is turned over where
    no setup turns that face up yet."""

    do: Literal["house_parts"] = "house_parts"
    placements: Annotated[list[str], Field(min_length=1, max_length=20)]
    name: Annotated[str, Field(max_length=80)] = ""

    def words(self) -> str:
        return "Draw the cavity parts hang in"

    def remake(self, route: Route) -> Route:
        resolved = resolve(route)
        placed = [p for p in resolved.placed if p.placement.id in self.placements]
        lost = set(self.placements) - {p.placement.id for p in placed}
        if lost:
            raise InputError(f"Nothing is placed as {min(lost)}.", where="placements")
        taken = [f.id for f in route.features] + [p.id for p in route.piece.placements]
        new = free_id(taken, "control_cavity")
        name = free_name([f.name for f in route.piece.features], self.name.strip() or "Control cavity")
        data = route.model_dump(mode="json")
        features = data["piece"]["features"]
        features.insert(len(features) - 1, cavity_for(route, placed, new, name))
        for one in data["piece"]["placements"]:
            if one["id"] in self.placements:
                one["cavity"] = new
        return _cut(read_route(data), [new, *self.placements])


def _cut(route: Route, stems: list[str]) -> Route:
    """Return the route with operations for features and for what follows from placements, where they can be made."""
    wanted = [f for f in route.features if f.id in stems or f.id.startswith(tuple(f"{s}_" for s in stems))]
    faces = {f.face for f in wanted if isinstance(f, Pocket | Hole) and f.depth_mm is not None}
    if not faces <= {s.face for s in route.setups}:
        try:
            route = turn_over(route, TurnAxis.LENGTH)
        except (InfeasibleError, InputError):
            return route  # the proof says that nothing makes it, with its cure
    for feature in wanted:
        if not any(feature.id in o.features for o in route.operations):
            try:
                route = propose_into(route, feature.id)
            except (InfeasibleError, InputError):
                continue
    return route


class CoverCavity(RouteEdit):
    """Draw the ledge a cover rests in, as deep as the cover is thick, and the pilot holes of its four screws."""

    do: Literal["cover_cavity"] = "cover_cavity"
    feature: str
    land_mm: Annotated[float, Field(allow_inf_nan=False, ge=5, le=40)]
    thick_mm: Annotated[float, Field(allow_inf_nan=False, ge=0.5, le=10)]

    def words(self) -> str:
        return "Draw the ledge and the screws of a cover"

    def remake(self, route: Route) -> Route:
        cavity = next((f for f in route.piece.features if f.id == self.feature), None)
        if not isinstance(cavity, Pocket) or cavity.depth_mm is None:
            raise InputError("A cover closes a pocket that has a floor.", where="feature")
        if cavity.depth_mm <= self.thick_mm:
            raise InputError(f"{cavity.name} is no deeper than the cover is thick.", where="thick_mm")
        new = free_id([f.id for f in route.features], f"{cavity.id[:32]}_screws")
        screws = cover_screws(cavity, self.land_mm, self.thick_mm, new, f"{cavity.name}, cover screws"[:80])
        ledged = step_down(route, self.feature, self.land_mm, self.thick_mm, FinishClass.SHOWN)
        ledge = next(f.id for f in ledged.piece.features if f.id not in {g.id for g in route.piece.features})
        data = ledged.model_dump(mode="json")
        features = data["piece"]["features"]
        features.insert(len(features) - 1, {**screws, "opens_into": [ledge]})
        return _cut(read_route(data), [new, ledge])
