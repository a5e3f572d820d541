"""HTTP for the small jobs that measure a machine."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path, Response
from pydantic import BaseModel, ConfigDict, Field

from ..wire.measuring import MeasuringRow, MeasuringState
from .answers import answers, binary
from .bodies import BodyRoute
from .services import S, Who, need

measuring_api = APIRouter(prefix="/api/machines/{machine}/measuring", route_class=BodyRoute)
Id = Annotated[str, Path(min_length=1, max_length=40)]
Value = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]


class ReadingsIn(BaseModel):
    """What is given for a small job and what was read so far, by name; lengths in mm."""

    model_config = ConfigDict(extra="forbid")
    given: Annotated[dict[str, Value], Field(max_length=10)] = {}
    readings: Annotated[dict[str, Value], Field(max_length=80)] = {}


@measuring_api.get("", **answers(list[MeasuringRow]))
def small_jobs(machine: Id, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the small jobs of a machine and what they last told."""
    return services.measuring.rows(machine)


@measuring_api.get("/{kind}", **answers(MeasuringState))
def small_job_state(machine: Id, kind: Id, services: S, _person: Who) -> dict[str, Any]:
    """Return a small job with its readings and what they say."""
    return services.measuring.state(machine, kind)


@measuring_api.post("/{kind}", **answers(MeasuringState))
def save_readings(machine: Id, kind: Id, body: ReadingsIn, services: S, person: Who) -> dict[str, Any]:
    """Note what is given and read."""
    need(person, "record")
    return services.measuring.save(machine, kind, body.given, body.readings, person.name)


@measuring_api.post("/{kind}/again", **answers(MeasuringState))
def begin_again(machine: Id, kind: Id, services: S, person: Who) -> dict[str, Any]:
    """Begin a small job anew."""
    need(person, "record")
    return services.measuring.again(machine, kind, person.name)


@measuring_api.post("/{kind}/keep", **answers(MeasuringState))
def keep_measured(machine: Id, kind: Id, services: S, person: Who) -> dict[str, Any]:
    """Make what a small job tells the figures of the machine."""
    need(person, "edit")
    return services.measuring.keep(machine, kind, person.name)


@measuring_api.get("/{kind}/program", **binary("text/plain"))
def small_job_program(machine: Id, kind: Id, services: S, _person: Who) -> Response:
    """Return the program of a small job as a file."""
    name, text = services.measuring.program(machine, kind)
    return Response(text, media_type="text/plain", headers={"Content-Disposition": f'attachment; filename="{name}"'})
