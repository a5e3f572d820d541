"""HTTP for bits and cut settings: the rack, questions, records, plans, the settings sheet."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from ..core.bits.model import UNDERCUTS, Bit
from ..core.cutting.limits import Question, customary_side
from ..core.cutting.origins import origins
from ..core.cutting.records import Trial
from ..core.data import Wood, wood
from ..core.errors import InputError
from ..core.instrument.resolve import resolve
from ..core.machines import Machine
from ..core.quantities import Unit
from ..core.route import Settings, read_route
from ..core.sequence.renew import stale
from ..core.vocabulary import CutKind
from ..service.first_bits import first_bits
from ..wire.base import Made, Status, Taken
from ..wire.bits import Asked, BitChoice, BitMatrix, OriginOf, RackRow, Says, StaleRow, TestPlan
from ..wire.routes import RouteState
from .answers import answers, binary
from .bodies import BodyRoute, read_body, revision_out
from .services import S, Who, need

bits_api = APIRouter(prefix="/api", route_class=BodyRoute)
MOST_CSV = 500_000
Number = Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e5)]


class RackIn(BaseModel):
    """A bit as it hangs in the shop."""

    model_config = ConfigDict(extra="forbid")
    bit: Bit
    number: Annotated[str, Field(max_length=80)] = ""
    price: Annotated[Number, Field(le=10_000)] | None = None
    spares: Annotated[int, Field(ge=0, le=100)] = 0
    note: Annotated[str, Field(max_length=1000)] = ""
    state: Literal["on_hand", "retired"] = "on_hand"


class FirstBitsIn(BaseModel):
    """Which of the packaged bits hang in the shop."""

    model_config = ConfigDict(extra="forbid")
    here: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=60)]


class NoteIn(BaseModel):
    """What a bit did, or what was measured on it."""

    model_config = ConfigDict(extra="forbid")
    what: Literal["used", "measured", "new"]
    wood: Annotated[str, Field(max_length=40)] = ""
    metres: Number = 0.0
    slots: Annotated[int, Field(ge=0, le=100_000)] = 0
    minutes: Number = 0.0
    diameter_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=200)] | None = None
    shortened_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=50)] | None = None
    note: Annotated[str, Field(max_length=1000)] = ""


class QuestionIn(BaseModel):
    """What a cut is to be. side_mm None: the whole bit in a slot, a tenth of it else; settings: of one's own, to be judged."""

    model_config = ConfigDict(extra="forbid")
    machine: Machine
    bit: Bit
    wood: Annotated[str, Field(max_length=40)]
    kind: CutKind = CutKind.SLOT
    side_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=500)] | None = None
    deep_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=500)] | None = None
    holds_n: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e5)] | None = None
    settings: Settings | None = None

    def question(self, materials: Mapping[str, Wood]) -> Question:
        """Return the question of this cut.

        Raises:
            InputError: an unknown material.
        """
        if self.bit.undercuts:
            raise InputError(f"There are no settings for {self.bit.name}: {UNDERCUTS}.", where="bit")
        side = min(self.bit.cut_diameter_mm, self.side_mm or customary_side(self.bit, self.kind))
        of = materials.get(self.wood) or wood(self.wood)
        return Question(self.machine, self.bit, of, self.kind, side, self.deep_mm, self.holds_n)


@bits_api.get("/rack", **answers(list[RackRow]))
def rack(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return every bit of the shop, with what it has behind it."""
    return services.rack.rows()


@bits_api.post("/rack", **answers(list[RackRow]))
def keep_bit(body: RackIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Say what a bit of the shop is now."""
    need(person, "edit")
    return services.rack.keep(body.bit, body.model_dump(exclude={"bit"}), person.name)


@bits_api.post("/first_bits", **answers(list[RackRow]))
def say_first_bits(body: FirstBitsIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Say which of the packaged bits hang in the shop."""
    need(person, "edit")
    first_bits(services.database, body.here, person.name)
    return services.rack.rows()


@bits_api.post("/rack/{bit}/notes", **answers(list[RackRow]))
def note_bit(bit: str, body: NoteIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Note what a bit did, or what was measured on it."""
    need(person, "record")
    return services.rack.note(bit, body.model_dump(), person.name)


@bits_api.get("/rack.csv", **binary("text/csv"))
def rack_csv(services: S, _person: Who) -> Response:
    """Return the rack as CSV."""
    return Response(services.rack.to_csv(), media_type="text/csv; charset=utf-8", headers={"Content-Disposition": 'attachment; filename="rack.csv"'})


@bits_api.post("/rack.csv", **answers(list[RackRow]))
async def take_rack_csv(request: Request, services: S, person: Who) -> list[dict[str, Any]]:
    """Take bits in from CSV."""
    need(person, "edit")
    return services.rack.from_csv(await _text(request), person.name)


async def _text(request: Request) -> str:
    """Return the CSV that was sent."""
    data = await read_body(request, MOST_CSV, "a table")
    try:
        return data.decode()
    except UnicodeDecodeError as exc:
        raise InputError("This file is no UTF-8 text. Save it as CSV, UTF-8.", where="file") from exc


@bits_api.post("/settings/question", **answers(Asked))
def question(body: QuestionIn, services: S, _person: Who) -> dict[str, Any]:
    """Return suggested settings for a cut, their windows and limits, and what the shop's records say."""
    return services.rack.ask(body.question(services.rack.materials()), body.settings)


@bits_api.get("/settings/origins", **answers(dict[str, OriginOf]))
def settings_origins(_person: Who) -> dict[str, Any]:
    """Return where each number of cut settings comes from."""
    return origins()


@bits_api.post("/settings/plan", **answers(TestPlan))
def plan(body: QuestionIn, services: S, _person: Who) -> dict[str, Any]:
    """Return a test plan on scrap that finds the limit of these settings."""
    if body.settings is None:
        raise InputError("A test plan begins with settings.", where="settings")
    return services.rack.plan(body.question(services.rack.materials()), body.settings)


@bits_api.post("/settings/slots", **answers(RouteState))
def make_slots(body: QuestionIn, services: S, person: Who) -> Response:
    """Make the slots of a test plan a job of their own."""
    need(person, "edit")
    if body.settings is None:
        raise InputError("A test plan begins with settings.", where="settings")
    slots = services.rack.slots(body.question(services.rack.materials()), body.settings)
    return revision_out(services.routes.create(slots, person.name, "Test slots"), services)


class FitIn(BaseModel):
    """A ladder of gaps for something so wide, mm, gaps a side."""

    model_config = ConfigDict(extra="forbid")
    across_mm: Annotated[float, Field(allow_inf_nan=False, ge=2, le=120)]
    first_gap_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=2)] = 0.0
    step_mm: Annotated[float, Field(allow_inf_nan=False, ge=0.01, le=1)] = 0.05
    count: Annotated[int, Field(ge=2, le=8)] = 4


@bits_api.post("/routes/{route_id}/fit_coupon", **answers(RouteState))
def make_fit(route_id: int, body: FitIn, services: S, person: Who) -> Response:
    """Make a fit coupon a job of its own, in the wood and on the machine of a route."""
    need(person, "edit")
    made = services.rack.fit(services.routes.varied(route_id, ""), body.across_mm, body.first_gap_mm, body.step_mm, body.count)
    return revision_out(services.routes.create(made, person.name, "Fit coupon"), services)


@bits_api.get("/routes/{route_id}/stale", **answers(list[StaleRow]))
def stale_settings(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return what the settings of every operation would become that were proposed for another wood or machine."""
    route = read_route(services.routes.latest(route_id).document)
    return [{"id": old.id, "name": old.name, "was_for": list(old.made_for or ()), "now_for": list(new.made_for or ()), "was": old.settings.model_dump(), "now": new.settings.model_dump()} for old, new in stale(route, resolve(route))]


@bits_api.post("/trials", **answers(Made))
def add_trial(body: Trial, services: S, person: Who) -> dict[str, int]:
    """Keep a cut and what became of it."""
    need(person, "record")
    return {"id": services.rack.add_trial(body, person.name)}


@bits_api.post("/trials/{number}/withdraw", **answers(Status))
def withdraw(number: int, services: S, person: Who) -> dict[str, str]:
    """Take a cut back; it stays in the books and counts no more."""
    need(person, "record")
    services.rack.withdraw(number, person.name)
    return {"status": "withdrawn"}


@bits_api.get("/routes/{route_id}/says", **answers(Says))
def says(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return what the shop's own books say of the newest revision: findings, the standing of every operation, the brushes."""
    return services.run_book.says(route_id)


class MachineNoteIn(BaseModel):
    """What a machine ran, that brushes were changed, or how many spare sets there are."""

    model_config = ConfigDict(extra="forbid")
    machine: Annotated[str, Field(min_length=1, max_length=80)]
    what: Literal["ran", "brushes", "spares"]
    minutes: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)] = 0.0
    weighed_min: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)] = 0.0
    spares: Annotated[int, Field(ge=0, le=100)] | None = None
    note: Annotated[str, Field(max_length=1000)] = ""


@bits_api.post("/machine_notes", **answers(Status))
def note_machine(body: MachineNoteIn, services: S, person: Who) -> dict[str, str]:
    """Note what a machine ran, that brushes were changed, or how many spare sets there are."""
    need(person, "record")
    services.run_book.note_machine(body.machine, body.model_dump(exclude={"machine"}), person.name)
    return {"status": "kept"}


@bits_api.get("/routes/{route_id}/rack", **answers(BitMatrix))
def rack_matrix(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return what each bit would do of every feature, and how few do for all."""
    return services.rack.matrix(services.routes.varied(route_id, ""))


@bits_api.get("/routes/{route_id}/rack/{feature}", **answers(list[BitChoice]))
def rack_for(route_id: int, feature: str, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return what each bit would reach, leave and take of a feature."""
    return services.rack.for_feature(services.routes.varied(route_id, ""), feature)


@bits_api.post("/routes/{route_id}/settings_sheet.csv", **answers(Taken))
async def take_settings_sheet(route_id: int, request: Request, services: S, person: Who) -> dict[str, int]:
    """Take another shop's settings sheet in, as told by others."""
    need(person, "record")
    machine = services.routes.varied(route_id, "").machine
    return {"taken": services.settings_sheets.take(await _text(request), machine, person.name)}


@bits_api.get("/routes/{route_id}/settings_sheet.{form}", **binary("application/pdf", "text/csv"))
def settings_sheet(
    route_id: int, form: Literal["pdf", "csv"], services: S, _person: Who, unit: Unit = Unit.MM
) -> Response:
    """Return the shop's settings for the machine of a route, on one page or as CSV, each with its origin."""
    data = services.settings_sheets.file(services.routes.varied(route_id, "").machine, form, unit)
    return Response(data, media_type={"pdf": "application/pdf", "csv": "text/csv; charset=utf-8"}[form], headers={"Content-Disposition": f'attachment; filename="settings.{form}"'})
