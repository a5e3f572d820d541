"""Turning over without pins: two fences and a stop that the same edges meet whichever face is up, or centre lines to see by."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import Polygon, box

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..holding.nest import cut_free_before
from ..instrument.resolve import resolve
from ..quantities import mm
from ..route import Route, Setup
from ..stages import frame_of
from ..vocabulary import TurnAxis
from .board import board_bolts, witness_lines
from .draft import Draft, chain_of, rounded_box, route_of
from .model import JigError, JigKind, JigPart


def corner_for(route: Route, setup_id: str, about: TurnAxis, bits: Sequence[Bit] | None = None) -> Route:
    """Return a board with a fence on either side of the axis and a stop across it, as a job of its own, in the frame of the setup.

    The edge that lies against the near fence with one face up lies against the far one with the other up: the blank's own width brings no error in.

    Raises:
        InputError: no such setup. InfeasibleError: the route turns about the other axis, or the edges are gone before it is turned.
    """
    setup, blank = _start(route, setup_id, about)
    fig, draft = figures()["jigs"], Draft()
    x0, y0, x1, y1 = blank.bounds
    wide, out = fig["fence_mm"], fig["border_mm"]
    lengthwise = about is TurnAxis.LENGTH
    pairs = ((y0, -1.0), (y1, 1.0)) if lengthwise else ((x0, -1.0), (x1, 1.0))
    for k, (edge, way) in enumerate(pairs, 1):
        along = np.linspace(0.15, 0.85, 4)
        middle = edge + way * (fig["fence_play_mm"] * (k == 2) + wide / 2)
        places = [(x0 + t * (x1 - x0), middle) for t in along] if lengthwise else [(middle, y0 + t * (y1 - y0)) for t in along]
        draft.hole(f"fence_{k}", f"Pilots of fence {k}", [(float(x), float(y)) for x, y in places], fig["rail_pilot_mm"], round(fig["sheet_mm"] - 4.0, 1))
        draft.parts.append(
            JigPart(
                name=f"Fence {k}",
                material="beech or ply 18",
                size=f"{mm((x1 - x0 if lengthwise else y1 - y0) * 0.9):.0f} x {mm(wide):.0f} x "
                f"{mm(route.blank.thickness_mm * 0.6):.0f}",
                source="cut",
                note="one face planed straight; "
                + (
                    "the blank is found by it"
                    if k == 1
                    else f"{mm(fig['fence_play_mm']):g} clear of the blank: wedges push the blank against the other"
                ),
            )
        )
    stop = [(x0 - wide / 2, y0 + t * (y1 - y0)) for t in (0.4, 0.6)] if lengthwise else [(x0 + t * (x1 - x0), y0 - wide / 2) for t in (0.4, 0.6)]
    draft.hole("stop", "Pilots of the stop", stop, fig["rail_pilot_mm"], round(fig["sheet_mm"] - 4.0, 1))
    draft.parts += [
        JigPart(
            name="Stop",
            material="beech",
            size=f"60 x {mm(wide):.0f}",
            source="cut",
            note="its corner relieved, so that chips have room",
        ),
        JigPart(
            name="Wedges",
            material="beech",
            size="a pair, 1 in 12",
            count=2,
            source="cut",
            note="on the side away from the fence that counts",
        ),
    ]
    draft.errors += [JigError(what="Edge against its fence", off_mm=fig["edge_fit_mm"], check="No light along the fence, chips blown away; the same edge both times: mark it."),
                     JigError(what="The two fences parallel", off_mm=fig["parallel_mm"], check="A caliper between them at both ends, before anything is cut."),
                     JigError(what="The blank's edge straight", off_mm=fig["straight_mm"], check="A straightedge along the marked edge; plane it once more if it rocks.")]
    draft.works_with += [
        _expected(draft),
        f"Fences {mm((y1 - y0 if lengthwise else x1 - x0) + fig['fence_play_mm']):.2f} apart, the blank and "
        f"{mm(fig['fence_play_mm']):g}. Turned about its {about.value}, the marked edge goes from fence 1 to fence "
        f"2; the programs are derived through that turn.",
    ]
    draft.step("fences", "Screw the fences and the stop on", 15, "One screw tight, square it along the witness lines, then the others.")
    return _made(draft, JigKind.CORNER, route, setup, blank, wide + out / 2, bits)


def lines_for(route: Route, setup_id: str, about: TurnAxis, bits: Sequence[Bit] | None = None) -> Route:
    """Return a board with centre lines that run out beyond the blank, as a job of its own, in the frame of the setup: the least true way, for want of another.

    Raises:
        InputError: no such setup. InfeasibleError: the route turns about the other axis.
    """
    setup, blank = _start(route, setup_id, about, edges=False)
    fig, draft = figures()["jigs"], Draft()
    x0, y0, x1, y1 = blank.bounds
    cx, cy, w, long = (x0 + x1) / 2, (y0 + y1) / 2, fig["witness_mm"], fig["border_mm"] - 14.0
    for k, (x, y, dx, dy) in enumerate([(x0 - 2.0 - long, cy - w / 2, long, w), (x1 + 2.0, cy - w / 2, long, w), (cx - w / 2, y0 - 2.0 - long, w, long), (cx - w / 2, y1 + 2.0, w, long)], 1):
        draft.pocket(f"line_{k}", f"Centre line {k}", chain_of(box(x, y, x + dx, y + dy)), fig["witness_deep_mm"])
    line = figures()["datums"]["line_mm"]
    draft.errors += [JigError(what="Line drawn on the blank", off_mm=line / 2, check="A knife, not a pencil, along a square; on both faces and over the edges."), JigError(what="Line read over the groove", off_mm=line / 2, check="A magnifier straight above, at both ends; turn the blank until neither is off."),
                     JigError(what="Lines of the two faces", off_mm=line / 2, check="Square each line over the edge and look whether it meets its fellow.")]
    draft.works_with += [_expected(draft), "Where the faces must agree better than that, take index holes, a carrier or fences."]
    draft.parts.append(JigPart(name="Clamps or screws", source="hand", note="as the setup says"))
    draft.step("mark", "Draw the centre lines on both faces and both ends", 6, "Mark the neck's end on both.")
    return _made(draft, JigKind.LINES, route, setup, blank, fig["border_mm"], bits)


def _start(route: Route, setup_id: str, about: TurnAxis, *, edges: bool = True) -> tuple[Setup, Polygon]:
    setup = next((s for s in route.setups if s.id == setup_id), None)
    if setup is None:
        raise InputError(f"This route has no setup {setup_id}.", where="setup")
    other = next((s for s in route.setups if s.face.value == "back" and s.turned_about is not about), None)
    if other is not None:
        raise InfeasibleError(f"“{other.name}” is turned about its {other.turned_about.value}; a jig that turns about the {about.value} would bring the piece to lie the wrong way round.", where="about")
    order = [s.id for s in route.setups]
    turned = next((s for s in route.setups if s.face.value == "back"), None)
    if edges and turned is not None and cut_free_before(route.operations, route.piece.outline.id, order, turned.id):
        raise InfeasibleError(f"The outline is cut before “{turned.name}”: the blank's edges are gone by then. Take a nest, or cut the outline last.", where="about")
    b = route.blank
    return setup, frame_of(setup, resolve(route).thickness_mm).region(box(b.x_mm, b.y_mm, b.x_mm + b.length_mm, b.y_mm + b.width_mm))


def _expected(draft: Draft) -> str:
    return (
        f"Expected between the two faces: {mm(float(np.sqrt(sum(e.off_mm**2 for e in draft.errors)))):.2f}, the "
        f"square root of the squares of its sources."
    )


def _made(draft: Draft, kind: JigKind, route: Route, setup: Setup, blank: Polygon, border: float, bits: Sequence[Bit] | None) -> Route:
    fig = figures()["jigs"]
    x0, y0, x1, y1 = blank.bounds
    outline = rounded_box(x0 - border, y0 - border, x1 + border, y1 + border, 8.0)
    board_bolts(draft, outline)
    if kind is JigKind.CORNER:
        witness_lines(draft, blank)
    size = shapely.bounds(outline)
    draft.parts.insert(
        0,
        JigPart(
            name="Board",
            material="MDF",
            size=f"{mm(size[2] - size[0]):.0f} x {mm(size[3] - size[1]):.0f} x {mm(fig['sheet_mm']):g}",
            source="cut",
        ),
    )
    draft.step("bolt_on", "Bolt it to the bed, square it by its edge", 8)
    return route_of(draft, kind, route, setup, outline, "mdf", fig["sheet_mm"], bits or route.bits)
