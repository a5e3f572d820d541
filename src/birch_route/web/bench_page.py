"""Handlers of the bench, the page of all jobs."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from ..wire.bench import JobAway, JobList, JobStanding
from ..wire.routes import RouteState
from .answers import answers
from .bodies import BodyRoute, revision_out
from .services import S, Who, need

bench_page_api = APIRouter(prefix="/api", route_class=BodyRoute)


class AwayIn(BaseModel):
    """Whether a job is put away, or taken out again."""

    away: bool


class CopyIn(BaseModel):
    """A job like another. name: None: that of the other with a word. readings: they come along, of the same parts."""

    name: Annotated[str, Field(min_length=1, max_length=80)] | None = None
    readings: bool = False


@bench_page_api.get("/routes", **answers(JobList))
def jobs(
    services: S, _person: Who, search: Annotated[str, Query(max_length=80)] = "",
    skip: Annotated[int, Query(ge=0, le=1_000_000)] = 0, most: Annotated[int, Query(ge=1, le=200)] = 50,
    away: bool = False,
) -> dict[str, Any]:
    """Return jobs on the bench, or put away, newest change first."""
    return services.bench_page.jobs(search, skip, most, away=away)


@bench_page_api.post("/routes/{route_id}/away", **answers(JobAway))
def put_away(route_id: int, body: AwayIn, services: S, person: Who) -> dict[str, Any]:
    """Put a job away, or take it out again."""
    need(person, "edit")
    return services.bench_page.put_away(route_id, person.name, away=body.away)


@bench_page_api.get("/routes/{route_id}/standing", **answers(JobStanding))
def standing(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return how far a job is, what it waits for, and its piece in plan."""
    return services.bench_page.standing(route_id)


@bench_page_api.post("/routes/{route_id}/copy", **answers(RouteState))
def copy(route_id: int, body: CopyIn, services: S, person: Who) -> Response:
    """Make a new job like another."""
    need(person, "edit")
    made = services.routes.copy_of(route_id, person.name, name=body.name, with_readings=body.readings)
    return revision_out(made, services)
