"""Handlers for pieces made here that another piece fits."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from ..wire.made import MadeState
from ..wire.routes import RouteState
from .answers import answers
from .bodies import BodyRoute, revision_out
from .services import S, Who, need

made_api = APIRouter(prefix="/api", route_class=BodyRoute)


class TakeNeckIn(BaseModel):
    """The job's revision, and the route of the neck it is to fit."""

    revision: Annotated[int, Field(ge=1, le=10_000_000)]
    from_route: Annotated[int, Field(ge=1, le=10_000_000)]


@made_api.get("/routes/{route_id}/made", **answers(MadeState))
def made(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return the necks of the shop that a job could take, and what became of one that it took."""
    return services.made.state(route_id)


@made_api.post("/routes/{route_id}/made", **answers(RouteState))
def take_neck(route_id: int, body: TakeNeckIn, services: S, person: Who) -> Response:
    """Let a job fit a neck made here."""
    need(person, "edit")
    return revision_out(services.made.take(route_id, body.revision, body.from_route, person.name), services)
