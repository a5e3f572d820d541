"""A nest as a job: a sheet with a window cut to the piece's outline as it lies in a setup, a floor under it, and notches to lift it out."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from shapely.geometry import Point, box

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..holding.nest import window_of
from ..instrument.resolve import resolve
from ..quantities import mm
from ..route import Nest, Route
from ..stages import frame_of
from ..vocabulary import HardwareKind
from .board import board_bolts, witness_lines
from .draft import Draft, chain_of, rounded_box, route_of
from .model import JigError, JigKind, JigPart


def nest_for(route: Route, setup_id: str, bits: Sequence[Bit] | None = None) -> Route:
    """Return the nest for a setup as a job of its own, in the frame of the setup: what lies up there lies so in its drawing.

    Raises:
        InputError: no such setup. InfeasibleError: the piece is held by vacuum, or no bit fits, or the sheet does not fit on the machine.
    """
    setup = next((s for s in route.setups if s.id == setup_id), None)
    if setup is None:
        raise InputError(f"This route has no setup {setup_id}.", where="setup")
    if any(h.kind is HardwareKind.VACUUM for h in setup.hardware):
        raise InfeasibleError("A nest with a vacuum in its floor is not designed here. Take tape or clamps in the nest, or a board with the vacuum.", where="nest")
    fig, draft, resolved = figures()["jigs"], Draft(), resolve(route)
    nest = setup.nest or Nest()
    outline = frame_of(setup, resolved.thickness_mm).region(resolved.outline)
    window = window_of(outline, nest)
    thick = min((t for t in fig["sheets_mm"] if t >= nest.deep_mm + fig["nest_floor_mm"]), default=0.0)
    if not thick:
        raise InfeasibleError(
            f"No sheet is thick enough for a nest {mm(nest.deep_mm):g} deep with a floor of "
            f"{mm(fig['nest_floor_mm']):g}. Make it shallower.",
            where="nest",
        )
    x0, y0, x1, y1 = window.region.bounds
    middle, notch = window.region.centroid, fig["notch_mm"]
    edges = shapely.LineString([(middle.x, y0 - 5), (middle.x, y1 + 5)]).intersection(window.region).bounds
    shape = shapely.union_all([window.region, *(Point(middle.x, y).buffer(notch, quad_segs=16) for y in (edges[1], edges[3]))])
    draft.pocket("window", "Window", chain_of(shape), nest.deep_mm, finish_class="fitted")
    border = fig["border_mm"]
    sheet = rounded_box(x0 - border, y0 - border, x1 + border, y1 + border, 8.0)
    board_bolts(draft, sheet)
    witness_lines(draft, box(x0, y0, x1, y1).buffer(12.0).envelope)
    draft.parts += [
        JigPart(
            name="Nest",
            material="MDF",
            size=f"{mm(x1 - x0 + 2 * border):.0f} x {mm(y1 - y0 + 2 * border):.0f} x {mm(thick):g}",
            source="cut",
            note=f"window {mm(nest.deep_mm):g} deep, {mm(thick - nest.deep_mm):.1f} of floor carry the piece",
        )
    ]
    if not any(h.kind is not HardwareKind.SPACER for h in setup.hardware):
        draft.parts.append(JigPart(name="Double-sided tape", material="or clamps", source="buy", note="a nest holds nothing down: put what does into the setup"))
    draft.errors += [JigError(what="Piece in the window", off_mm=nest.play_mm, check="It must drop in by hand and not turn; a strip of paper at one side takes the play."),
                     JigError(what="Place of the window", off_mm=fig["hole_place_mm"], check="Cut the nest where it is used and leave it bolted down: then this is nothing."),
                     JigError(what="Outline of the piece", off_mm=fig["edge_fit_mm"], check="Sand tabs flush first; a caliper across waist and widest place against the drawing.")]
    if window.tips:
        draft.works_with.append(
            f"{len(window.tips)} tips of the outline are sharper than a bit of {mm(nest.bit_mm):g} cuts; it is led "
            f"on there: "
            + ", ".join(f"{mm(out):.1f} at {mm(x):.0f}, {mm(y):.0f}" for x, y, out in window.tips[:6])
            + "."
        )
    else:
        draft.works_with.append(f"A bit of {mm(nest.bit_mm):g} or thinner reaches every tip of the outline.")
    draft.step("ease", "Ease the upper edge of the window, wax its wall", 6, "Blow dust out of the corners before every piece.")
    draft.step("bolt_on", "Bolt it down, touch its zero off once", 8, "Name the work offset after it, and keep it with the jig.")
    rack = [b for b in bits or route.bits if b.cut_diameter_mm <= nest.bit_mm + 1e-6 or b.form.value != "flat" or b.cut_diameter_mm > 20]
    return route_of(draft, JigKind.NEST, route, setup, sheet, "mdf", thick, rack)
