"""Use cases over jigs: from a holding to a job of its own, and its drawings."""

from __future__ import annotations

from typing import Any

from ..core.bits.model import Bit
from ..core.data import figures
from ..core.errors import InputError
from ..core.instrument.plan import plan_of, supports_plan
from ..core.jigs.board import board_for
from ..core.jigs.carrier import carrier_for
from ..core.jigs.edges import corner_for, lines_for
from ..core.jigs.end import EndWanted, end_job_for
from ..core.jigs.holding import weakest, with_holding
from ..core.jigs.model import JigKind
from ..core.jigs.nest import nest_for
from ..core.jigs.vice import AngleBudget, vice_plate_for
from ..core.quantities import Unit
from ..core.route import Route
from ..core.vocabulary import TurnAxis
from ..formats.drawing_out import to_dxf, to_svg
from ..sheets.jig_sheet import jig_sheet_pdf
from ..sheets.tiles import tiles_pdf
from .routes import Revision, Routes

ALL = "*"  # instead of a setup: every one, as stations of one board
DRAWINGS = {  # pages: 1:1 on several that are joined; pdf: one page to scale, with the table of places
    "svg": "image/svg+xml", "dxf": "application/dxf", "pages": "application/pdf", "pdf": "application/pdf",
}


def design(
    route: Route,
    setup: str,
    kind: str,
    about: str,
    angles: tuple[float, float, float],
    bits: list[dict[str, Any]],
    report: dict[str, Any] | None = None,
) -> Route:
    """Return the jig for a setup as a route, cut with the route's bits and those of the shop, with how the holding it
    is drawn from holds.

    Args:
        setup: its id, or ALL. report: of the route's proof; None: it is not proved yet.
        angles: of a vice plate: wanted, by a wedge, already in the blank, degrees.

    Raises:
        InputError: an unknown kind or setup, or nothing to hold. InfeasibleError: it cannot be made on this machine.
    """
    setups = [s.id for s in route.setups] if setup == ALL else [setup]
    return with_holding(
        _drawn(route, setup, kind, about, angles, _rack(route, bits)),
        weakest((report or {}).get("operations", []), setups),
    )


def _drawn(
    route: Route, setup: str, kind: str, about: str, angles: tuple[float, float, float], rack: list[Bit]
) -> Route:
    if kind == JigKind.BOARD:
        return board_for(route, [s.id for s in route.setups] if setup == ALL else setup, rack)
    if kind == JigKind.CARRIER:
        return carrier_for(route, setup, TurnAxis(about), rack)
    if kind == JigKind.VICE:
        return vice_plate_for(route, setup, AngleBudget(*angles), rack)
    if kind == JigKind.CORNER:
        return corner_for(route, setup, TurnAxis(about), rack)
    if kind == JigKind.LINES:
        return lines_for(route, setup, TurnAxis(about), rack)
    if kind == JigKind.NEST:
        return nest_for(route, setup, rack)
    raise InputError(f"“{kind}” is no jig. Choose {' or '.join(JigKind)}.", where="kind")


def on_an_end(route: Route, wanted: EndWanted, angles: tuple[float, float, float], bits: list[dict[str, Any]]) -> Route:
    """Return the work on an end of a route's piece as a route of its own, cut with the route's bits and those of the shop."""
    return end_job_for(route, wanted, AngleBudget(*angles), _rack(route, bits))


def make_end(routes: Routes, route_id: int, wanted: EndWanted, angles: tuple[float, float, float], bits: list[dict[str, Any]], author: str) -> Revision:
    """Keep the work on an end of a route's piece as a new job."""
    route = routes.varied(route_id, "")
    return routes.create(on_an_end(route, wanted, angles, bits), author, f"Work on an end of {route.job}"[:300])


def _rack(route: Route, bits: list[dict[str, Any]]) -> list[Bit]:
    known = {b.id for b in route.bits}
    return [*route.bits, *(Bit.model_validate(b) for b in bits if b["id"] not in known)]


def make(routes: Routes, route_id: int, setup: str, kind: str, about: str, angles: tuple[float, float, float], bits: list[dict[str, Any]], author: str) -> Revision:
    """Keep the jig for a setup of a route as a new job."""
    route = routes.varied(route_id, "")
    jig = design(route, setup, kind, about, angles, bits, routes.report(route_id))
    return routes.create(jig, author, f"Jig for {route.job}"[:300])


def supports(route: Route, report: dict[str, Any] | None, setup: str, form: str, unit: Unit = Unit.MM) -> bytes:
    """Return the side views of a setup's supports that are cut to a face, as SVG or DXF.

    Raises:
        InputError: no proof yet, no such setup or form, or no such supports.
    """
    if report is None or "setups" not in report:
        raise InputError("The heights of supports come from the proof; it is not there yet.", where="supports")
    found = next((s for s in report["setups"] if s["id"] == setup), None)
    profiles = {} if found is None else {k: [(a, z) for a, z in v] for k, v in found.get("supports", {}).items()}
    if not profiles or form not in ("svg", "dxf"):
        raise InputError("This setup has no supports that are cut to a face." if not profiles else "Supports are drawn as svg or dxf.", where="supports")
    plan = supports_plan(f"Supports for {route.job}", profiles, figures()["jigs"]["rib_mm"])
    return to_dxf(plan, unit) if form == "dxf" else to_svg(plan, unit).encode()


def drawing(route: Route, form: str, unit: Unit = Unit.MM) -> bytes:
    """Return the drawing of a route's piece in one of DRAWINGS.

    Raises:
        InputError: no such form.
    """
    if form not in DRAWINGS:
        raise InputError(f"A drawing is made as {', '.join(DRAWINGS)}.", where="form")
    if form == "pages":
        return tiles_pdf(route, unit)
    if form == "pdf":
        return jig_sheet_pdf(route, unit)
    return to_dxf(plan_of(route), unit) if form == "dxf" else to_svg(plan_of(route), unit).encode()
