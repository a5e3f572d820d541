"""HTTP for the shop itself: its name and unit, its machines and their words."""

from __future__ import annotations

import asyncio
import re
from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Path, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from ..core.machines import Machine
from ..core.quantities import Unit
from ..core.route import read_route
from ..formats.machine_file import LARGEST_BYTES, machine_from_text, machine_to_text
from ..service.machines import sample_shown
from ..wire.base import Status
from ..wire.machines import (
    Difference,
    KindRow,
    MachineFile,
    MachineMade,
    MachineRow,
    MachineState,
    OwnShop,
    SampleShown,
)
from .answers import answers
from .bodies import BodyRoute, read_body
from .services import S, Who, need

machines_api = APIRouter(prefix="/api", route_class=BodyRoute)
Id = Annotated[str, Path(min_length=1, max_length=40)]
Name = Annotated[str, Field(min_length=1, max_length=80)]


class ShopIn(BaseModel):
    """What the shop is called, and the unit it works in."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(max_length=80)]
    unit: Unit = Unit.MM


class NewMachineIn(BaseModel):
    """A machine of a starting kind, or like another of the shop."""

    model_config = ConfigDict(extra="forbid")
    name: Name
    kind: Annotated[str, Field(max_length=40)] = ""
    like: Annotated[str, Field(max_length=40)] = ""


class MachineIn(BaseModel):
    """What a machine is now, changed from a revision of it."""

    model_config = ConfigDict(extra="forbid")
    revision: int
    machine: Machine


class SampleIn(BaseModel):
    """A machine whose words are to be seen."""

    model_config = ConfigDict(extra="forbid")
    machine: Machine


class PutBackIn(BaseModel):
    """Which revision a machine is made again."""

    model_config = ConfigDict(extra="forbid")
    revision: int


@machines_api.get("/own_shop", **answers(OwnShop))
def own_shop(services: S, _person: Who) -> dict[str, Any]:
    """Return the shop's name and unit, and how much of it is there."""
    return services.machines.shop()


@machines_api.post("/own_shop", **answers(OwnShop))
def keep_shop(body: ShopIn, services: S, person: Who) -> dict[str, Any]:
    """Say what the shop is called and which unit it works in."""
    need(person, "edit")
    return services.machines.keep_shop(body.name, body.unit, person.name)


@machines_api.get("/machines", **answers(list[MachineRow]))
def machines(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the machines of the shop."""
    return services.machines.rows()


@machines_api.get("/machine_kinds", **answers(list[KindRow]))
def machine_kinds(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the kinds a machine can start from."""
    return services.machines.kinds()


@machines_api.post("/machines", **answers(MachineMade))
def add_machine(body: NewMachineIn, services: S, person: Who) -> dict[str, Any]:
    """Add a machine: of a kind, or like another."""
    need(person, "edit")
    made = services.machines.copy if body.like else services.machines.add_kind
    return {"machine": made(body.like or body.kind, body.name, person.name)}


@machines_api.post("/machine_files", **answers(MachineMade))
async def bring_machine(request: Request, services: S, person: Who) -> dict[str, Any]:
    """Add a machine from a file."""
    need(person, "edit")
    machine = machine_from_text(await read_body(request, LARGEST_BYTES, "a machine's file"))
    return {"machine": await asyncio.to_thread(services.machines.add, machine, person.name, "From a file")}


@machines_api.post("/machine_sample", **answers(SampleShown))
def machine_sample(body: SampleIn, _person: Who) -> dict[str, Any]:
    """Write the sample in a machine's words and read it back; nothing is kept."""
    return sample_shown(body.machine)


@machines_api.get("/machines/{machine}", **answers(MachineState))
def machine_state(machine: Id, services: S, _person: Who) -> dict[str, Any]:
    """Return a machine, figure by figure."""
    return services.machines.state(machine)


@machines_api.post("/machines/{machine}", **answers(MachineState))
def keep_machine(machine: Id, body: MachineIn, services: S, person: Who) -> dict[str, Any]:
    """Say what a machine is now."""
    need(person, "edit")
    services.machines.keep(machine, body.revision, body.machine, person.name)
    return services.machines.state(machine)


@machines_api.post("/machines/{machine}/put_back", **answers(MachineState))
def put_back(machine: Id, body: PutBackIn, services: S, person: Who) -> dict[str, Any]:
    """Make a machine again what it was."""
    need(person, "edit")
    services.machines.put_back(machine, body.revision, person.name)
    return services.machines.state(machine)


@machines_api.post("/machines/{machine}/put_away", **answers(Status))
def put_away(machine: Id, services: S, person: Who) -> dict[str, str]:
    """Take a machine out of the shop."""
    need(person, "edit")
    services.machines.put_away(machine, person.name)
    return {"status": "put away"}


@machines_api.get("/machines/{machine}/file", **answers(MachineFile))
def machine_file(machine: Id, services: S, _person: Who) -> Response:
    """Return a machine as a file."""
    text = machine_to_text(Machine.model_validate(services.machines.state(machine)["machine"]))
    name = re.sub(r"[^a-z0-9_]", "_", machine)
    headers = {"Content-Disposition": f'attachment; filename="{name}.birch-machine.json"'}
    return Response(text, media_type="application/json", headers=headers)


@machines_api.get("/routes/{route_id}/against/{machine}", **answers(list[Difference]))
def against(route_id: int, machine: Id, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return what would change if a job stood on a machine as it is now."""
    job = read_route(services.routes.latest(route_id).document).machine
    return [asdict(d) for d in services.machines.against(machine, job)]
