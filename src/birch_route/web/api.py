"""HTTP JSON under /api, binary for big arrays."""

from __future__ import annotations

import asyncio
from dataclasses import asdict
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, Response
from fastapi.responses import JSONResponse, StreamingResponse
from pydantic import BaseModel, Field

from ..core.cutting.ran import Ran
from ..core.data import part_places
from ..core.fretboard.numbers import Board
from ..core.fretboard.view import board_answer, board_of
from ..core.instrument.heights import Unknown
from ..core.instrument.layout import layout_of
from ..core.instrument.marking_out import places_of
from ..core.instrument.wires import hole_between
from ..core.materials.boards import Yield, plank_yield
from ..core.proving.findings import CODES
from ..core.quantities import Unit
from ..core.route import Route, read_route
from ..core.sequence.orders import orders_of
from ..formats.route_file import LARGEST_BYTES, route_from_text, route_to_text
from ..jobs.proof_version import made_with
from ..store.database import Row
from ..wire.base import Status
from ..wire.board import BoardView
from ..wire.layout import HeightsAnswer, Layout, WireHoleAnswer
from ..wire.orders import Orders
from ..wire.pen import Places
from ..wire.report import CornersState
from ..wire.routes import ProofAnswer, ProofWaits, Release, RevisionRow, RouteState, RunKept, RunRow
from ..wire.shop import Me, Shop
from .answers import answers, binary
from .bodies import BodyRoute, json_text, read_body, revision_out
from .services import S, Who, need

Length = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]


class EditIn(BaseModel):
    revision: int
    edits: Annotated[list[dict[str, Any]], Field(max_length=200)]
    reason: Annotated[str, Field(max_length=300)] = ""


class OnRevision(BaseModel):
    revision: int


class BackTo(OnRevision):
    to: Annotated[int, Field(ge=1, le=10_000_000)]


class ReleaseIn(BaseModel):
    revision: int
    reasons: dict[str, Annotated[str, Field(max_length=500)]] = {}


class WantedIn(BaseModel):
    what: Annotated[str, Field(min_length=1, max_length=40)]
    length_mm: Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]
    width_mm: Length
    most: Annotated[int, Field(ge=0, le=200)]


class PlankIn(BaseModel):
    length_mm: Annotated[float, Field(gt=0, le=8000, allow_inf_nan=False)]
    width_mm: Annotated[float, Field(gt=0, le=1500, allow_inf_nan=False)]
    kerf_mm: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = 3.0
    end_mm: Annotated[float, Field(ge=0, le=300, allow_inf_nan=False)] = 30.0
    wanted: Annotated[list[WantedIn], Field(min_length=1, max_length=12)]


class HeightsIn(BaseModel):
    solve: Unknown = Unknown.DEPTH
    depth_mm: Annotated[float, Field(gt=0, le=60, allow_inf_nan=False)] | None = None
    angle_deg: Annotated[float, Field(ge=-3, le=12, allow_inf_nan=False)] | None = None
    saddle_mm: Annotated[float, Field(gt=0, le=80, allow_inf_nan=False)] | None = None
    recess_mm: Annotated[float, Field(ge=-20, le=20, allow_inf_nan=False)] | None = None
    action_12th_mm: Annotated[float, Field(gt=0, le=8, allow_inf_nan=False)] | None = None
    shim_mm: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] | None = None


class WireHoleIn(BaseModel):
    first: Annotated[str, Field(max_length=40)]
    second: Annotated[str, Field(max_length=40)]
    drill_mm: Annotated[float, Field(gt=0.5, le=20, allow_inf_nan=False)] | None = None
    floor_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] | None = None


class RunIn(BaseModel):
    revision: int
    outcome: Annotated[str, Field(pattern="^(fine|chatter|burning|torn|broke|slow|stopped)$")]
    note: Annotated[str, Field(max_length=4000)] = ""
    minutes: dict[str, Annotated[float, Field(allow_inf_nan=False, ge=0, le=10000)]] = {}
    ran: dict[str, Ran] = {}  # by operation; what is not named went as the whole run


api = APIRouter(prefix="/api", route_class=BodyRoute)


@api.get("/health", **answers(Status))
def health(services: S) -> dict[str, str]:
    """Say whether server and database answer."""
    with services.database.transaction() as t:
        t.one("ping")
    return {"status": "ok"}


@api.get("/me", **answers(Me))
def me(person: Who) -> dict[str, Any]:
    return {"name": person.name, "role": person.role}


@api.get("/shop", **answers(Shop))
def shop(services: S, _person: Who) -> dict[str, Any]:
    """Return what the shop has: woods, machines, bits, the places of parts, the codes of findings."""
    return {
        "woods": [w.model_dump() for w in services.rack.materials().values()],
        "machines": services.machines.documents(),
        "bits": services.rack.bits(),
        "part_places": part_places(),
        "codes": {c: {"severity": s.value, "text": t} for c, (s, t) in CODES.items()},
    }


@api.post("/routes", **answers(RouteState))
async def import_route(request: Request, services: S, person: Who, measured_here: bool = False) -> Response:
    """Import a route file as a new job. Its readings are told, not measured, unless they were taken in this shop
    (measured_here) or the file is one of its own."""
    need(person, "edit")
    body = await read_body(request, LARGEST_BYTES, "a route file")
    route = await asyncio.to_thread(route_from_text, body, "The file")
    revision = await asyncio.to_thread(services.routes.bring_in, route, person.name, measured_here=measured_here)
    return await asyncio.to_thread(revision_out, revision, services)


@api.get("/routes/{route_id}", **answers(RouteState))
def get_route(route_id: int, services: S, person: Who) -> Response:
    """Return the newest revision; a proof that is missing is queued for those who work with it."""
    revision = services.routes.latest(route_id)
    if person.may("release"):
        services.routes.ask_proof(revision.hash)
    return revision_out(revision, services)


@api.post("/routes/{route_id}/edits", **answers(RouteState))
def edit(route_id: int, body: EditIn, services: S, person: Who) -> Response:
    need(person, "edit")
    return revision_out(services.routes.edit(route_id, body.revision, body.edits, person.name, body.reason), services)


@api.post("/routes/{route_id}/undo", **answers(RouteState))
def undo(route_id: int, body: OnRevision, services: S, person: Who) -> Response:
    need(person, "edit")
    return revision_out(services.routes.undo(route_id, body.revision, person.name), services)


@api.post("/routes/{route_id}/redo", **answers(RouteState))
def redo(route_id: int, body: OnRevision, services: S, person: Who) -> Response:
    need(person, "edit")
    return revision_out(services.routes.redo(route_id, body.revision, person.name), services)


@api.get("/routes/{route_id}/layout", **answers(Layout))
def layout(route_id: int, services: S, _person: Who, variant: Annotated[str, Query(max_length=40)] = "") -> dict[str, Any]:
    """Return the layout arithmetic of the newest revision, or of one of its variants."""
    return asdict(layout_of(services.routes.varied(route_id, variant)))


@api.get("/routes/{route_id}/board", **answers(BoardView))
def board(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return what follows from the numbers of a fretboard, of the newest revision."""
    route = read_route(services.routes.latest(route_id).document)
    return board_answer(board_of(route), route.bits, route.machine.slot_over_mm)


@api.post("/boards", **answers(BoardView))
def a_board(body: Board, _person: Who) -> dict[str, Any]:
    """Return what would follow from the numbers of a fretboard; nothing is kept."""
    return board_answer(body)


@api.get("/routes/{route_id}/places/{feature}", **answers(Places))
def places(route_id: int, feature: str, services: S, _person: Who) -> dict[str, Any]:
    """Return what a feature of the newest revision is placed by, and what it comes near."""
    return asdict(places_of(read_route(services.routes.latest(route_id).document), feature))


@api.get("/routes/{route_id}/orders", **answers(Orders))
def orders(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    """Return what the order of the newest revision's operations costs, what it must keep, and what others cost."""
    return asdict(orders_of(read_route(services.routes.latest(route_id).document)))


@api.post("/routes/{route_id}/variants/{variant}/job", **answers(RouteState))
def variant_job(route_id: int, variant: str, services: S, person: Who) -> Response:
    """Make a job of a variant, proved like any other."""
    need(person, "edit")
    return revision_out(services.routes.create(services.routes.varied(route_id, variant), person.name, "From a variant"), services)


@api.post("/routes/{route_id}/heights", **answers(HeightsAnswer))
def heights(route_id: int, body: HeightsIn, services: S, _person: Who) -> dict[str, Any]:
    """Return the height stack of the newest revision solved for one number, others tried as given. Nothing is kept."""
    instead = {k: v for k, v in body.model_dump(exclude={"solve"}).items() if v is not None}
    return {"heights": layout_of(read_route(services.routes.latest(route_id).document), body.solve, instead).heights}


@api.post("/routes/{route_id}/wire-hole", **answers(WireHoleAnswer))
def wire_hole(route_id: int, body: WireHoleIn, services: S, _person: Who) -> dict[str, Any]:
    """Return the angles at which a long drill joins two cavities of the newest revision, or that none does."""
    route = read_route(services.routes.latest(route_id).document)
    joined = hole_between(route, body.first, body.second, body.drill_mm, body.floor_mm)
    window = joined.window
    return {
        "hole": asdict(joined.hole), "window": None if window is None else asdict(window),
        "middle_deg": None if window is None else joined.middle_deg, "step": joined.step_id,
    }


@api.post("/plank-yield", **answers(Yield))
def plank(body: PlankIn, _person: Who) -> dict[str, Any]:
    """Return what a plank gives, drawn as cuts."""
    return asdict(plank_yield(body.length_mm, body.width_mm, [(w.what, w.length_mm, w.width_mm, w.most) for w in body.wanted], body.kerf_mm, body.end_mm))


@api.post("/routes/{route_id}/back", **answers(RouteState))
def back(route_id: int, body: BackTo, services: S, person: Who) -> Response:
    """Make an earlier revision the next one."""
    need(person, "edit")
    return revision_out(services.routes.back(route_id, body.revision, body.to, person.name), services)


@api.get("/routes/{route_id}/revisions", **answers(list[RevisionRow]))
def revisions(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    return [{**r, "made_at": r["made_at"].isoformat()} for r in services.routes.history(route_id)]


@api.get("/routes/{route_id}/file", **answers(Route))
def route_file(route_id: int, services: S, _person: Who) -> Response:
    """Export the route file of the newest revision."""
    revision = services.routes.latest(route_id)
    return Response(route_to_text(read_route(revision.document)), media_type="application/json",
                    headers={"Content-Disposition": f'attachment; filename="route_{route_id}.birch.json"'})


@api.get("/proofs/{digest}", **answers(ProofAnswer, later=ProofWaits))
def proof(digest: str, services: S, _person: Who) -> Response:
    """Return a proof's report, or 202 and how it waits while it is being made."""
    with services.database.transaction() as t:
        row = t.maybe("proof", hash=digest, made_with=made_with())
        waits = None if row is not None else t.one("proof_waits", hash=digest, made_with=made_with())
    if row is None:
        return JSONResponse(ProofWaits.model_validate(waits).model_dump(), status_code=202)
    return json_text({"seconds": round(row["seconds"], 4)}, report=row["report"])


@api.post("/proofs/{digest}/again", **answers(Status))
def proof_again(digest: str, services: S, person: Who) -> dict[str, str]:
    """Queue a proof anew."""
    need(person, "release")
    services.routes.ask_proof(digest)
    return {"status": "queued"}


@api.get("/proofs/{digest}/corners", **answers(CornersState))
def corners(digest: str, services: S, _person: Who) -> Response:
    """Return how far the proof at the corners of the tolerance is, and what it brought."""
    return _corners_out(services.corners.state(digest))


@api.post("/proofs/{digest}/corners", **answers(CornersState))
def ask_corners(digest: str, services: S, person: Who) -> Response:
    """Ask for the proof at the corners of the tolerance; made once for a document."""
    need(person, "release")
    return _corners_out(services.corners.ask(digest))


@api.post("/proofs/{digest}/corners/stop", **answers(Status))
def stop_corners(digest: str, services: S, person: Who) -> dict[str, str]:
    """Stop that proof."""
    need(person, "release")
    services.corners.stop(digest)
    return {"status": "stopped"}


def _corners_out(row: Row | None) -> Response:
    if row is None:
        return json_text({"status": "never", "done": 0, "of": 0}, result="null")
    return json_text({"status": row["status"], "done": row["done"], "of": row["expected"]}, result=row["result"] or "null")


@api.get("/proofs/{digest}/view", **binary("application/octet-stream"))
def proof_view(digest: str, services: S, _person: Who) -> Response:
    """Return the packed wood of a proof (formats/view.py says how)."""
    with services.database.transaction() as t:
        row = t.maybe("proof_view", hash=digest)
    if row is None:
        return Response(status_code=204)
    return Response(bytes(row["data"]), media_type="application/octet-stream", headers={"Cache-Control": "no-store"})  # a newer program may make it anew


@api.get("/proofs/{digest}/look", **binary("application/octet-stream"))
def look(digest: str, what: Annotated[str, Query(max_length=80)], services: S, _person: Who) -> Response:
    """Return a closer look at a proof (formats/moments.py and target.py say how), or 202 while it is being made."""
    data = services.looks.find(digest, what)
    if data is None:
        return JSONResponse({"status": "working"}, status_code=202)
    return Response(data, media_type="application/octet-stream", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@api.get("/events", **binary("text/event-stream"))
async def events(request: Request, services: S, _person: Who) -> StreamingResponse:
    """Stream what the worker tells."""
    return StreamingResponse(services.news.stream(request), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"})


@api.post("/routes/{route_id}/release", **answers(Release))
def release(route_id: int, body: ReleaseIn, services: S, person: Who) -> dict[str, Any]:
    """Write the programs of the newest revision, read them back, simulate them, and keep them."""
    need(person, "release")
    return services.releases.make(route_id, body.revision, body.reasons, person.name)


@api.get("/routes/{route_id}/release.zip", **binary("application/zip"))
def release_zip(route_id: int, revision: int, services: S, person: Who, unit: Unit = Unit.MM) -> Response:
    need(person, "release")
    name, data = services.releases.zip_of(route_id, revision, unit)
    return Response(data, media_type="application/zip", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@api.get("/routes/{route_id}/programs/{name}", **binary("text/plain"))
def program(route_id: int, name: str, revision: int, services: S, person: Who) -> Response:
    need(person, "release")
    data = services.releases.program(route_id, revision, name)
    return Response(data, media_type="text/plain; charset=us-ascii", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@api.get("/routes/{route_id}/runs", **answers(list[RunRow]))
def runs(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    return [{**r, "made_at": r["made_at"].isoformat()} for r in services.run_book.records(route_id)]


@api.post("/routes/{route_id}/runs/{run}/withdraw", **answers(list[RunRow]))
def withdraw_run(route_id: int, run: int, services: S, person: Who) -> list[dict[str, Any]]:
    """Take the record of a run back: what it told counts no more."""
    need(person, "record")
    services.run_book.withdraw(route_id, run, person.name)
    return runs(route_id, services, person)


@api.post("/routes/{route_id}/runs", **answers(RunKept))
def record(route_id: int, body: RunIn, services: S, person: Who) -> dict[str, Any]:
    need(person, "record")
    row = services.run_book.keep(route_id, body.revision, body.outcome, body.note, body.minutes, body.ran, person.name)
    return {**row, "made_at": row["made_at"].isoformat()}
