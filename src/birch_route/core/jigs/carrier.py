"""A carrier: a frame that the blank is wedged into, turned over with it on symmetrical pins; two datum holes in it swap places."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from shapely.geometry import Point, box

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..instrument.resolve import resolve
from ..quantities import mm
from ..route import Route
from ..stages import frame_of
from ..vocabulary import BitForm, TurnAxis
from .draft import Draft, chain_of, rounded_box, route_of
from .model import JigError, JigKind, JigPart


def carrier_for(route: Route, setup_id: str, about: TurnAxis, bits: Sequence[Bit] | None = None) -> Route:
    """Return a carrier for turning a blank over about its length or width, as a job of its own, in the frame of the setup.

    Pins and datum holes lie symmetrically about the carrier's own middle, which is the blank's: so every pin meets a hole again whichever face is up.

    Raises:
        InputError: no such setup. InfeasibleError: asymmetric, or too large for the machine.
    """
    setup = next((s for s in route.setups if s.id == setup_id), None)
    if setup is None:
        raise InputError(f"This route has no setup {setup_id}.", where="setup")
    fig, draft, b = figures()["jigs"], Draft(), route.blank
    frame = frame_of(setup, resolve(route).thickness_mm)
    x0, y0, x1, y1 = frame.region(box(b.x_mm, b.y_mm, b.x_mm + b.length_mm, b.y_mm + b.width_mm)).bounds
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    border, wedge, play = fig["carrier_border_mm"], fig["wedge_mm"], fig["window_play_mm"]
    reach_x, reach_y = (x1 - x0) / 2 + border, (y1 - y0) / 2 + border + wedge
    outline = rounded_box(cx - reach_x, cy - reach_y, cx + reach_x, cy + reach_y, 10.0)
    reach = max((bit.cutting_length_mm for bit in bits or route.bits if bit.form is BitForm.FLAT and bit.cut_diameter_mm <= 0.9 * fig["datum_hole_mm"]), default=0.0)
    thick = max((t for t in fig["sheets_mm"] if t <= min(b.thickness_mm, reach - 1.0)), default=min(fig["sheets_mm"]))
    relief = fig["relief_mm"]
    window = box(x0 - play, y0 - play, x1 + play, y1 + wedge)
    window = shapely.union_all([window, *(Point(x, y).buffer(relief, quad_segs=12) for x in (x0 - play, x1 + play) for y in (y0 - play, y1 + wedge))])
    draft.pocket("window", "Window", chain_of(window), None, least_floor_mm=0.0)
    draft.cut_outs.append("window")
    px, py = reach_x - border / 2, reach_y - border / 2
    pins = [(cx + sx * px, cy + sy * py) for sx in (-1, 1) for sy in (-1, 1)]
    datum = [(cx, cy - py), (cx, cy + py)] if about is TurnAxis.LENGTH else [(cx - px, cy), (cx + px, cy)]
    refuse_asymmetry([*pins, *datum], cx, cy, about)
    draft.hole("carrier_pins", "Pin holes", pins, fig["carrier_pin_mm"], None)
    draft.hole("datum_holes", "Datum holes", datum, fig["datum_hole_mm"], None)
    size = outline.bounds
    draft.parts += [
        JigPart(name="Carrier", material="Birch plywood",
                size=f"{mm(size[2] - size[0]):.0f} x {mm(size[3] - size[1]):.0f} x {mm(thick):g}", source="cut",
                note="no thicker than the blank: nothing of it may stand above either face"
                if thick <= b.thickness_mm else "thicker than the blank: shim the blank up evenly"),
        JigPart(name="Pins", size=f"{mm(fig['carrier_pin_mm']):g} x {mm(fig['pin_in_mm'] + thick - 2):.0f}",
                material="steel", count=4, source="buy", note="bonded in the waste board, never in the carrier"),
        JigPart(name="Wedges", size=f"{mm(wedge):.0f} thick at the middle, 1 in 12, 120 long", material="beech",
                count=4, source="cut", note="two pairs on the wide side of the window"),
        JigPart(name="Datum pin", size=f"{mm(fig['datum_hole_mm']):g} shank in the collet", source="hand",
                note="finds X and Y zero at the datum hole, spindle off")]
    draft.errors += [
        JigError(what="Pins in their holes", off_mm=fig["pin_fit_mm"], check="No play by hand; turn over and feel again."),
        JigError(what="Blank in the window", off_mm=play / 2, check="Push it against the lower left before the wedges go in; no light at the edge."),
        JigError(what="Symmetry of the pins", off_mm=fig["hole_place_mm"], check="Drill a test pair through a scrap from both faces and measure the mismatch; half of it is this error.")]
    total = float(np.sqrt(sum(e.off_mm**2 for e in draft.errors)))
    draft.works_with += [
        f"Expected between the two faces: {mm(total):.2f}, the square root of the squares of its sources.",
        f"The datum holes lie {mm(abs(datum[1][0] - datum[0][0]) + abs(datum[1][1] - datum[0][1])):.1f} apart and "
        f"swap places when it is turned about its {about.value}: X and Y zero is found at the one that is nearer to "
        f"you, either way.",
    ]
    draft.step("base", "Bore four pin holes in the waste board", 8, "With the same program's pin places, 14 deep, from the same zero; bond the pins there.")
    draft.step("try", "Turn the empty carrier over on its pins", 3, "It must drop on by its own weight both ways. If it does not, do not ream: find out why.")
    return route_of(draft, JigKind.CARRIER, route, setup, outline, "birch_ply", thick, bits or route.bits)


def refuse_asymmetry(points: list[tuple[float, float]], cx: float, cy: float, about: TurnAxis, within_mm: float = 0.005) -> None:
    """Raise unless every hole meets another, or itself, when turned about the axis through the middle.

    Raises:
        InfeasibleError: one does not; says which, and by how much.
    """
    for x, y in points:
        tx, ty = (x, 2 * cy - y) if about is TurnAxis.LENGTH else (2 * cx - x, y)
        off = min(float(np.hypot(tx - px, ty - py)) for px, py in points)
        if off > within_mm:
            raise InfeasibleError(
                f"The hole at {mm(x):.2f}, {mm(y):.2f} comes to lie {mm(off):.2f} beside every other when it is turned "
                f"about its {about.value}. Holes for turning over must be symmetrical.",
                where="carrier",
                off_mm=off,
            )
