"""Drawings over HTTP: bring in, ask how far it is, read again, stop, make a job of it."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from typing import Annotated, Any

from fastapi import APIRouter, Query, Request, Response
from pydantic import BaseModel, Field

from ..core.fretboard.numbers import Board
from ..core.instrument.outlines import LIMITS, Style, body_outline
from ..core.neck.numbers import Neck
from ..core.plane.curves import flatten
from ..core.route import read_route
from ..core.vocabulary import Face
from ..formats.drawing_file import LARGEST_DRAWING_BYTES
from ..formats.stl import LARGEST_STL_BYTES
from ..service.drawings import Choice, NewJob
from ..service.reliefs import relief_edits
from ..wire.base import Made, Status
from ..wire.routes import DrawingState, DrawnOutline, RouteState
from .answers import answers, binary
from .bodies import BodyRoute, json_text, read_body, revision_out, while_asked
from .services import S, Who, need

drawings = APIRouter(prefix="/api", route_class=BodyRoute)
Unit = Annotated[str | None, Query(pattern="^[a-z]{1,8}$")]
Join = Annotated[float, Query(gt=0, le=5)]
Finite = Annotated[float, Field(allow_inf_nan=False)]


class ChoiceIn(BaseModel):
    index: Annotated[int, Field(ge=0, le=1000)]
    role: Annotated[str, Field(pattern="^(outline|pocket|back|through|reference)$")]
    name: Annotated[str, Field(max_length=80)] = ""
    depth_mm: Annotated[Finite, Field(gt=0, le=150)] | None = None


class NewJobIn(BaseModel):
    job: Annotated[str, Field(min_length=1, max_length=80)]
    kind: str = "body"
    wood: str
    thickness_mm: Annotated[Finite, Field(gt=0.4, le=150)]
    machine: dict[str, Any]
    bits: Annotated[list[dict[str, Any]], Field(min_length=1, max_length=60)]
    upload: int | None = None
    choices: Annotated[list[ChoiceIn], Field(max_length=100)] = []
    style: str | None = None
    style_length_mm: Finite = 410.0
    style_width_mm: Finite = 320.0
    waist: Finite = 0.06
    horn: Finite = 0.0
    scale_to_mm: Annotated[Finite, Field(gt=1, le=2500)] | None = None
    turn_deg: Annotated[Finite, Field(ge=-360, le=360)] = 0.0
    centre_y_mm: Finite | None = None
    left_handed: bool = False
    with_parts: bool = False
    skim_mm: Annotated[Finite, Field(ge=0, le=20)] = 0.0
    board: Board | None = None  # a fretboard from numbers
    neck: Neck | None = None  # a neck from numbers


@drawings.post("/drawings", **answers(Made))
async def bring(request: Request, services: S, person: Who, name: Annotated[str, Query(min_length=1, max_length=200)], unit: Unit = None, join_mm: Join = 0.1) -> dict[str, Any]:
    """Bring in a DXF or SVG drawing, or a scan as PNG or JPEG; it is read by the worker."""
    need(person, "edit")
    data = await read_body(request, LARGEST_DRAWING_BYTES, "a drawing")
    row = await asyncio.to_thread(services.drawings.bring, data, name, unit, join_mm, person.name)
    return {"id": row["id"]}


@drawings.get("/drawings/{upload}", **answers(DrawingState))
def state(upload: int, services: S, _person: Who) -> Response:
    """Return how far the reading is, and its result."""
    row = services.drawings.state(upload)
    return json_text({"id": row["id"], "name": row["name"], "unit": row["unit"], "join_mm": row["join_mm"], "status": row["status"], "progress": row["progress"]}, result=row["result"] or "null")


@drawings.post("/drawings/{upload}/again", **answers(Made))
def again(upload: int, services: S, person: Who, unit: Unit = None, join_mm: Join = 0.1, scan: Annotated[str | None, Query(max_length=120)] = None) -> dict[str, Any]:
    """Read a drawing again in another unit or joining distance, or a scan with two points and their distance: x1,y1,x2,y2,mm."""
    need(person, "edit")
    return {"id": services.drawings.again(upload, unit, join_mm, scan)["id"]}


@drawings.get("/drawings/{upload}/picture", **binary("image/png", "image/jpeg"))
def picture(upload: int, services: S, _person: Who) -> Response:
    """Return a scan as it came."""
    data, kind = services.drawings.picture(upload)
    return Response(data, media_type=kind)


@drawings.post("/drawings/{upload}/stop", **answers(Status))
def stop(upload: int, services: S, person: Who) -> dict[str, str]:
    need(person, "edit")
    services.drawings.stop(upload)
    return {"status": "stopped"}


@drawings.get("/outlines", **answers(DrawnOutline))
def outlines(_person: Who, style: str, length_mm: float, width_mm: float, waist: float = 0.06, horn: float = 0.0) -> dict[str, Any]:
    """Return one of our outlines with these numbers, as points to draw."""
    shape = body_outline(Style(style) if style in set(Style) else Style.SISKIN, length_mm, width_mm, waist, horn)
    return {"styles": list(Style), "limits": LIMITS, "points": flatten(shape, 0.2).round(2).tolist()}


@drawings.post("/jobs", **answers(RouteState))
def new_job(body: NewJobIn, services: S, person: Who) -> Response:
    """Make a new job from a drawing or from an outline of our own."""
    need(person, "edit")
    values = body.model_dump()
    values["choices"] = [Choice(**c) for c in values["choices"]]
    values["board"] = body.board
    values["neck"] = body.neck
    return revision_out(services.drawings.new_job(NewJob(**values), person.name), services)


@drawings.post("/routes/{route_id}/relief", **answers(RouteState))
async def relief(request: Request, services: S, person: Who, route_id: int, revision: int, name: Annotated[str, Query(min_length=1, max_length=120)], face: Face = Face.FRONT, unit: Annotated[str, Query(pattern="^(mm|inch)$")] = "mm",
                 turn_deg: Annotated[float, Query(ge=-360, le=360, allow_inf_nan=False)] = 0.0, underside: bool = False, fine: bool = False) -> Response:
    """Form a face by a surface from an STL file."""
    need(person, "edit")
    data = await read_body(request, LARGEST_STL_BYTES, "a surface")

    def bring_in(watch: Callable[[float], None]) -> Response:
        edits = relief_edits(
            read_route(services.routes.latest(route_id).document),
            data,
            name,
            face=face,
            unit=unit,
            turn_deg=turn_deg,
            underside=underside,
            fine=fine,
            watch=watch,
        )
        return revision_out(services.routes.edit(route_id, revision, edits, person.name, f"Form the {face.value} by {name}"), services)
    return await while_asked(request, bring_in)
