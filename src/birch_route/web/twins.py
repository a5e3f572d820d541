"""Handlers for trials of a route."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from ..core.quantities import Unit
from ..core.units import parse_length
from ..wire.routes import RouteState
from ..wire.twins import TwinState
from .answers import answers
from .bodies import BodyRoute, revision_out
from .services import S, Who, need

twins_api = APIRouter(prefix="/api", route_class=BodyRoute)


class TwinIn(BaseModel):
    """What a trial is cut from. thickness: as it is typed, like a caliper value; None: that of the job it tries."""

    wood: Annotated[str, Field(min_length=1, max_length=40)]
    thickness: Annotated[str, Field(min_length=1, max_length=40)] | None = None
    unit: Unit = Unit.MM


class FollowIn(BaseModel):
    """The revision of the trial that is made anew."""

    revision: Annotated[int, Field(ge=1, le=10_000_000)]


@twins_api.get("/routes/{route_id}/twins", **answers(list[TwinState]))
def twins(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the trials of a route, or itself where it is one, with their tries."""
    return services.twins.of(route_id)


@twins_api.post("/routes/{route_id}/twins", **answers(RouteState))
def make_twin(route_id: int, body: TwinIn, services: S, person: Who) -> Response:
    """Make a job that tries a route in another wood and thickness."""
    need(person, "edit")
    thick = None if body.thickness is None else parse_length(body.thickness, body.unit).mm
    return revision_out(services.twins.make(route_id, body.wood, thick, person.name), services)


@twins_api.post("/routes/{route_id}/follow", **answers(RouteState))
def follow(route_id: int, body: FollowIn, services: S, person: Who) -> Response:
    """Make a trial anew from what it tries, as that is now."""
    need(person, "edit")
    return revision_out(services.twins.follow(route_id, body.revision, person.name), services)
