"""Handlers for the bench, the wood stock, work offsets and what becomes of jigs."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Path
from pydantic import BaseModel, ConfigDict, Field

from ..core.bench import StepKind
from ..service.bench import as_data
from ..wire.shop import BenchState, BoardHistory, JigKept, Offset, WoodBoard
from .answers import answers
from .bodies import BodyRoute
from .services import S, Who, need

shop_api = APIRouter(prefix="/api", route_class=BodyRoute)
Size = Annotated[float, Field(allow_inf_nan=False)]


class TickIn(BaseModel):
    """A bench step done, or taken back."""

    model_config = ConfigDict(extra="forbid")
    step: Annotated[str, Field(min_length=1, max_length=40)]
    done: bool = True
    note: Annotated[str, Field(max_length=1000)] = ""


class BoardIn(BaseModel):
    """What a board of the stock is. Lengths mm."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(min_length=1, max_length=80)]
    wood: Annotated[str, Field(max_length=40)]
    length_mm: Annotated[Size, Field(gt=5, le=6000)]
    width_mm: Annotated[Size, Field(gt=5, le=1500)]
    thickness_mm: Annotated[Size, Field(gt=0.3, le=200)]
    weighed_kg: Annotated[Size, Field(gt=0, le=500)] | None = None
    moisture_pct: Annotated[Size, Field(gt=0, le=60)] | None = None
    figure: Annotated[str, Field(max_length=80)] = ""
    note: Annotated[str, Field(max_length=1000)] = ""
    state: Annotated[str, Field(pattern="^(on_hand|in_a_job|used)$")] = "on_hand"
    route: int | None = None


class OffsetIn(BaseModel):
    """What a work offset of a machine is. Machine positions, mm."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(min_length=1, max_length=80)]
    refers_to: Annotated[str, Field(max_length=200)] = ""
    jig: int | None = None
    x_mm: Annotated[Size, Field(ge=-5000, le=5000)] | None = None
    y_mm: Annotated[Size, Field(ge=-5000, le=5000)] | None = None
    z_mm: Annotated[Size, Field(ge=-5000, le=5000)] | None = None
    checked: bool = False


class JigNoteIn(BaseModel):
    """What a jig did, or what was found on it."""

    model_config = ConfigDict(extra="forbid")
    what: Literal["used", "checked", "mended"]
    pieces: Annotated[int, Field(ge=0, le=1000)] = 0
    play_mm: Annotated[Size, Field(ge=0, le=10)] | None = None
    saved_min: Annotated[Size, Field(ge=0, le=10000)] | None = None
    place: Annotated[str, Field(max_length=80)] = ""
    note: Annotated[str, Field(max_length=1000)] = ""


@shop_api.get("/offsets/{machine}", **answers(list[Offset]))
def offsets(machine: str, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the work offsets of a machine."""
    return services.shop_floor.offsets(machine)


@shop_api.post("/offsets/{machine}/{number}", **answers(list[Offset]))
def keep_offset(machine: Annotated[str, Path(min_length=1, max_length=40)], number: Annotated[int, Path(ge=1, le=6)], body: OffsetIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Say what a work offset is now."""
    need(person, "record")
    return services.shop_floor.keep_offset(machine, number, body.model_dump(), person.name)


@shop_api.get("/routes/{route_id}/jig/kept", **answers(JigKept))
def jig_kept(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return how a jig stands: use, wear, payback."""
    return services.shop_floor.jig(route_id, services.routes.varied(route_id, ""))


@shop_api.post("/routes/{route_id}/jig/kept", **answers(JigKept))
def note_jig(route_id: int, body: JigNoteIn, services: S, person: Who) -> dict[str, Any]:
    """Note what a jig did, or what was found on it."""
    need(person, "record")
    services.shop_floor.note_jig(route_id, body.model_dump(), person.name)
    return jig_kept(route_id, services, person)


@shop_api.get("/bench-steps", **answers(list[StepKind]))
def step_kinds(services: S, _person: Who) -> list[StepKind]:
    """Return steps at the bench to begin from."""
    return services.bench.kinds()


@shop_api.get("/routes/{route_id}/bench", **answers(list[BenchState]))
def bench(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the bench steps of a route with what is done."""
    return [as_data(s) for s in services.bench.states(route_id)]


@shop_api.post("/routes/{route_id}/bench", **answers(list[BenchState]))
def tick(route_id: int, body: TickIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Tick a bench step, or take the tick back."""
    need(person, "record")
    return [as_data(s) for s in services.bench.tick(route_id, body.step, done=body.done, note=body.note, author=person.name)]


@shop_api.get("/wood", **answers(list[WoodBoard]))
def wood_stock(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the boards of the shop as they are now."""
    return services.wood_stock.boards()


@shop_api.post("/wood", **answers(WoodBoard))
def add_board(body: BoardIn, services: S, person: Who) -> dict[str, Any]:
    """Add a board to the stock."""
    need(person, "edit")
    return services.wood_stock.add(body.model_dump(), person.name)


@shop_api.post("/wood/{board}", **answers(WoodBoard))
def change_board(board: int, body: BoardIn, services: S, person: Who) -> dict[str, Any]:
    """Say what a board is now."""
    need(person, "edit")
    return services.wood_stock.change(board, body.model_dump(), person.name)


@shop_api.get("/wood/{board}/history", **answers(list[BoardHistory]))
def board_history(board: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return what was said of a board."""
    return services.wood_stock.history(board)
