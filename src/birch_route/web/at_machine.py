"""Handlers for runs at the machine."""

from __future__ import annotations

import datetime as dt
from typing import Annotated, Any, Literal

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from ..core.run.events import EventKind
from ..service.at_machine import Told
from ..wire.at_machine import AtMachineRow, AtMachineState, ProgramOn, StoppedAt
from .answers import answers
from .bodies import BodyRoute
from .services import S, Who, need

at_machine_api = APIRouter(prefix="/api", route_class=BodyRoute)
MOST_AT_ONCE = 500  # events a device that was away tells in one go


class EventIn(BaseModel):
    """One event as a device tells it."""

    model_config = ConfigDict(extra="forbid")
    number: Annotated[int, Field(ge=1, le=1_000_000)]
    kind: Literal["ticked", "taken_back", "started", "stopped", "went_on", "note", "reading", "wrong"]
    step: Annotated[str, Field(max_length=120)] = ""
    note: Annotated[str, Field(max_length=2000)] = ""
    value_mm: Annotated[float, Field(allow_inf_nan=False, ge=-10000, le=10000)] | None = None
    device_at: dt.datetime | None = None


class EventsIn(BaseModel):
    """What a device tells, in its own order. device: a name it keeps for itself."""

    model_config = ConfigDict(extra="forbid")
    device: Annotated[str, Field(min_length=4, max_length=60, pattern="^[a-z0-9]+-[a-z0-9-]+$")]
    events: Annotated[list[EventIn], Field(min_length=1, max_length=MOST_AT_ONCE)]


class CloseIn(BaseModel):
    """How a run came out."""

    model_config = ConfigDict(extra="forbid")
    outcome: Annotated[str, Field(pattern="^(fine|chatter|burning|torn|broke|slow|stopped)$")]
    note: Annotated[str, Field(max_length=4000)] = ""


class DisplayIn(BaseModel):
    """What the machine's display says, in the program's coordinates, mm."""

    model_config = ConfigDict(extra="forbid")
    program: Annotated[str, Field(min_length=1, max_length=140)]
    x_mm: Annotated[float, Field(allow_inf_nan=False, ge=-10000, le=10000)]
    y_mm: Annotated[float, Field(allow_inf_nan=False, ge=-10000, le=10000)]
    z_mm: Annotated[float, Field(allow_inf_nan=False, ge=-1000, le=1000)]


class LineIn(BaseModel):
    """The line at which a program stopped."""

    model_config = ConfigDict(extra="forbid")
    program: Annotated[str, Field(min_length=1, max_length=140)]
    line: Annotated[int, Field(ge=1, le=10_000_000)]


@at_machine_api.post("/at-machine/{run}/stopped-at", **answers(list[StoppedAt]))
def stopped_at(run: int, body: DisplayIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Return where in a program the bit may have been, by the machine's display."""
    need(person, "record")
    return services.at_machine.spots(run, body.program, (body.x_mm, body.y_mm, body.z_mm))


@at_machine_api.post("/at-machine/{run}/resume", **answers(ProgramOn))
def resume_at_machine(run: int, body: LineIn, services: S, person: Who) -> dict[str, Any]:
    """Return the program that goes on from a line."""
    need(person, "record")
    return services.at_machine.resume(run, body.program, body.line)


@at_machine_api.get("/routes/{route_id}/at-machine", **answers(list[AtMachineRow]))
def runs_at_machine(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the runs at the machine of a job, the newest first."""
    return services.at_machine.runs(route_id)


@at_machine_api.post("/routes/{route_id}/at-machine", **answers(AtMachineState))
def begin_at_machine(route_id: int, services: S, person: Who) -> dict[str, Any]:
    """Begin a run of the newest release, or go on with the one that is not closed."""
    need(person, "record")
    return services.at_machine.begin(route_id, person.name)


@at_machine_api.get("/at-machine/{run}", **answers(AtMachineState))
def at_machine(run: int, services: S, _person: Who) -> dict[str, Any]:
    """Return how a run stands."""
    return services.at_machine.state(run)


@at_machine_api.post("/at-machine/{run}/events", **answers(AtMachineState))
def events_at_machine(run: int, body: EventsIn, services: S, person: Who) -> dict[str, Any]:
    """Keep what a device tells of a run, each event once."""
    need(person, "record")
    told = [
        Told(e.number, EventKind(e.kind), e.step, e.note, e.value_mm, e.device_at) for e in body.events
    ]
    return services.at_machine.add(run, body.device, told, person.name)


@at_machine_api.post("/at-machine/{run}/close", **answers(AtMachineState))
def close_at_machine(run: int, body: CloseIn, services: S, person: Who) -> dict[str, Any]:
    """Close a run and keep its record."""
    need(person, "record")
    return services.at_machine.close(run, body.outcome, body.note, person.name)
