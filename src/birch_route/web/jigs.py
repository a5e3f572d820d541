"""HTTP for jigs: what a jig would be, making it a job, drawings of any piece."""

from __future__ import annotations

import json
import re
from dataclasses import fields
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel, Field

from ..core.jigs.end import Cut, EndWanted
from ..core.jigs.model import End
from ..core.quantities import Unit
from ..jobs.proof_version import made_with
from ..service import jigs
from ..wire.routes import RouteState
from ..wire.shop import EndPlan, JigPlan
from .answers import answers, binary
from .bodies import BodyRoute, revision_out
from .services import S, Who, need

jigs_api = APIRouter(prefix="/api", route_class=BodyRoute)


Degrees = Annotated[float, Field(ge=-45, le=45, allow_inf_nan=False)]


class Angles(BaseModel):
    wanted_deg: Degrees = 0.0
    wedge_deg: Degrees = 0.0
    in_blank_deg: Degrees = 0.0

    @property
    def angles(self) -> tuple[float, float, float]:
        return self.wanted_deg, self.wedge_deg, self.in_blank_deg


class JigIn(Angles):
    setup: Annotated[str, Field(min_length=1, max_length=40)]
    kind: Literal["board", "carrier", "vice", "nest", "corner", "lines"]
    about: Literal["length", "width"] = "length"


Size = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]


class EndIn(Angles):
    end: End
    cut: Cut = Cut.FACE
    at_mm: Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)] = 0.0
    long_mm: Size = 60.0
    count: Annotated[int, Field(ge=1, le=20)] = 2
    apart_mm: Size = 20.0
    across_mm: Size = 6.0
    wide_mm: Size = 30.0
    thick_mm: Size = 6.0
    deep_mm: Size = 12.0

    @property
    def wanted(self) -> EndWanted:
        return EndWanted(**{f.name: getattr(self, f.name) for f in fields(EndWanted)})


@jigs_api.post("/routes/{route_id}/jig/plan", **answers(JigPlan))
def plan(route_id: int, body: JigIn, services: S, _person: Who) -> dict[str, Any]:
    """Return what the jig for a setup would be: its parts, its steps, its errors. Nothing is kept."""
    made = jigs.design(
        services.routes.varied(route_id, ""),
        body.setup,
        body.kind,
        body.about,
        body.angles,
        services.rack.bits(),
        services.routes.report(route_id),
    )
    assert made.jig is not None
    return {
        **made.jig.model_dump(mode="json"),
        "holds": None if made.jig.holding is None else made.jig.holding.is_enough,
        "job": made.job,
        "steps": [{"name": s.name, "minutes": s.minutes, "note": s.note} for s in made.bench_steps],
        "operations": len(made.operations),
    }


@jigs_api.post("/routes/{route_id}/jig", **answers(RouteState))
def make(route_id: int, body: JigIn, services: S, person: Who) -> Response:
    """Make the jig for a setup a job of its own."""
    need(person, "edit")
    return revision_out(jigs.make(services.routes, route_id, body.setup, body.kind, body.about, body.angles, services.rack.bits(), person.name), services)


@jigs_api.post("/routes/{route_id}/end/plan", **answers(EndPlan))
def end_plan(route_id: int, body: EndIn, services: S, _person: Who) -> dict[str, Any]:
    """Return what the work on an end would be: how it lies, its operations, its steps. Nothing is kept."""
    made = jigs.on_an_end(services.routes.varied(route_id, ""), body.wanted, body.angles, services.rack.bits())
    assert made.end_work is not None
    return {**made.end_work.model_dump(mode="json"), "job": made.job, "steps": [{"name": s.name, "minutes": s.minutes, "note": s.note} for s in made.bench_steps], "operations": [o.name for o in made.operations],
            "long_mm": made.blank.length_mm, "thick_mm": made.blank.width_mm, "stands_mm": made.blank.thickness_mm, "skim_mm": made.blank.skim_mm}


@jigs_api.post("/routes/{route_id}/end", **answers(RouteState))
def make_end(route_id: int, body: EndIn, services: S, person: Who) -> Response:
    """Make the work on an end a job of its own."""
    need(person, "edit")
    return revision_out(jigs.make_end(services.routes, route_id, body.wanted, body.angles, services.rack.bits(), person.name), services)


@jigs_api.get("/routes/{route_id}/drawing/{form}", **binary("image/svg+xml", "image/vnd.dxf", "application/pdf"))
def drawing(route_id: int, form: str, services: S, _person: Who, unit: Unit = Unit.MM) -> Response:
    """Return the drawing of the newest revision's piece as SVG, DXF or PDF."""
    route = services.routes.varied(route_id, "")
    data = jigs.drawing(route, form, unit)
    name = re.sub(r"[^a-z0-9]+", "_", route.job.lower()).strip("_") or "piece"
    file = f"{name}_1_to_1.pdf" if form == "pages" else f"{name}.{form}"
    kept = {"Content-Disposition": f'attachment; filename="{file}"'}
    return Response(data, media_type=jigs.DRAWINGS[form], headers=kept)


@jigs_api.get("/routes/{route_id}/supports/{setup}/{form}", **binary("image/svg+xml", "image/vnd.dxf"))
def supports(route_id: int, setup: str, form: str, services: S, _person: Who, unit: Unit = Unit.MM) -> Response:
    """Return the side views of supports that are cut to a face, from the newest revision's proof, as SVG or DXF."""
    newest = services.routes.latest(route_id)
    with services.database.transaction() as t:
        proof = t.maybe("proof", hash=newest.hash, made_with=made_with())
    told = None if proof is None else json.loads(proof["report"])
    data = jigs.supports(services.routes.varied(route_id, ""), told, setup, form, unit)
    return Response(data, media_type=jigs.DRAWINGS[form], headers={"Content-Disposition": f'attachment; filename="supports_{setup}.{form}"'})
