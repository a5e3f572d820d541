"""Handlers for necks made from numbers, and for pieces made here that another piece fits."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from ..core.neck.liked import LikedReading, fit_liked
from ..core.neck.numbers import Neck
from ..core.neck.view import neck_answer, neck_of
from ..core.route import read_route
from ..wire.made import BoardHere, MadeState
from ..wire.neck import LikedView, NeckView
from ..wire.routes import RouteState
from .answers import answers
from .bodies import BodyRoute, revision_out
from .services import S, Who, need

made_api = APIRouter(prefix="/api", route_class=BodyRoute)


class TakeNeckIn(BaseModel):
    """The job's revision, and the route of the neck it is to fit."""

    revision: Annotated[int, Field(ge=1, le=10_000_000)]
    from_route: Annotated[int, Field(ge=1, le=10_000_000)]


@made_api.get("/routes/{route_id}/neck", **answers(NeckView))
def neck(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return what follows from the numbers of a neck, of the newest revision."""
    route = read_route(services.routes.latest(route_id).document)
    return neck_answer(neck_of(route), route.bits, route.blank.piece_mm)


@made_api.post("/necks", **answers(NeckView))
def a_neck(body: Neck, _person: Who) -> dict[str, Any]:
    """Return what would follow from the numbers of a neck; nothing is kept."""
    return neck_answer(body)


class LikedIn(BaseModel):
    """The neck whose back is to be like another, and what was read on that one."""

    neck: Neck
    readings: Annotated[list[LikedReading], Field(min_length=1, max_length=40)]


@made_api.post("/necks/liked", **answers(LikedView))
def liked(body: LikedIn, _person: Who) -> dict[str, Any]:
    """Return the numbers of a back that fit readings of a neck that people like; nothing is kept."""
    return asdict(fit_liked(body.neck, body.readings))


@made_api.get("/boards-here", **answers(list[BoardHere]))
def boards_here(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the boards of this shop that are made from numbers, for a neck that is to take one."""
    return services.made.boards()


@made_api.get("/routes/{route_id}/made", **answers(MadeState))
def made(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return the necks of the shop that a job could take, and what became of one that it took."""
    return services.made.state(route_id)


@made_api.post("/routes/{route_id}/made", **answers(RouteState))
def take_neck(route_id: int, body: TakeNeckIn, services: S, person: Who) -> Response:
    """Let a job fit a neck made here."""
    need(person, "edit")
    return revision_out(services.made.take(route_id, body.revision, body.from_route, person.name), services)
