"""A board that holds a blank as a setup says: pilots for its screws, pins or dowels to find it again, rails, clamps, vacuum, witness lines."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.affinity import rotate, translate
from shapely.geometry import Point, Polygon, box

from ..bits.model import Bit
from ..data import figures
from ..errors import InfeasibleError, InputError
from ..gluing import blank_at
from ..holding.contacts import BAR_N_MM2
from ..holding.datums import chains
from ..holding.vacuum import vacuum_bar
from ..instrument.resolve import resolve
from ..piece import Hole
from ..quantities import cm2, mm
from ..route import Hardware, Route, Setup
from ..stages import Frame, frame_of
from ..vocabulary import BitForm, HardwareKind
from .draft import Draft, chain_of, rounded_box, route_of
from .model import JigError, JigKind, JigPart
from .stations import CORNER_MM, take_pieces


def board_for(route: Route, setups: str | Sequence[str], bits: Sequence[Bit] | None = None) -> Route:
    """Return the board for a setup, or for several as stations one behind the other, as a job of its own. It is drawn in the frame of the first setup:
    what lies over it on the bed lies so in its drawing.

    Args:
        bits: of the rack the board is cut with; None: those of the route.

    Raises:
        InputError: nothing holds the blank in a setup, or no such setup.
        InfeasibleError: the sheet does not fit on the machine.
    """
    ids = [setups] if isinstance(setups, str) else list(setups)
    fig, whole = figures()["jigs"], Draft()
    resolved = resolve(route)
    outline: Polygon | None = None
    vacuum = any(h.kind is HardwareKind.VACUUM for s in route.setups if s.id in ids for h in s.hardware)
    first: Setup | None = None
    for n, id_ in enumerate(ids, 1):
        setup = next((s for s in route.setups if s.id == id_), None)
        if setup is None:
            raise InputError(f"This route has no setup {id_}.", where="setup")
        if not setup.hardware:
            raise InputError(f"Nothing holds the blank in “{setup.name}” yet, so there is nothing to make a board from. Put screws, clamps or a vacuum first.", where="jig")
        frame = frame_of(setup, resolved.thickness_mm)
        station, area = _station(route, setup, frame)
        if first is None or outline is None:
            first, outline = setup, area
            whole.take(station)
            outline = take_pieces(whole, setup, station, area)
            continue
        dx, dy = outline.bounds[0] - area.bounds[0], outline.bounds[3] - area.bounds[1] + STATION_GAP_MM
        whole.take(station, dx, dy, f"_{n}", f", station {n}")
        whole.works_with.append(f"Station {n} ({setup.name}): its zero lies X {mm(dx):+.2f}, Y {mm(dy):+.2f} from "
                                f"that of station 1. Give it a work offset of its own, named after it, and touch it "
                                f"off once.")
        outline = outline.union(translate(area, dx, dy)).envelope.buffer(-CORNER_MM).buffer(CORNER_MM, quad_segs=12)
    assert outline is not None and first is not None
    x0, y0, x1, y1 = outline.bounds
    whole.parts.insert(0, JigPart(name="Board", material="Birch plywood" if vacuum else "MDF",
                                  size=f"{mm(x1 - x0):.0f} x {mm(y1 - y0):.0f} x {mm(fig['sheet_mm']):g}", source="cut",
                                  note="sealed on all sides" if vacuum else ""))
    _on_the_bed(whole, route, first, outline, bits or route.bits)
    board_bolts(whole, outline)
    whole.step("seal", "Seal the board, two coats" if vacuum else "Break the edges, wax where the blank lies", 20 if vacuum else 5)
    whole.step("bolt_on", "Bolt it to the bed, square it by its edge", 8, "Run a pencil in the collet along the lower witness lines: it must stay on both. Check again at the far end.")
    return route_of(whole, JigKind.BOARD, route, first, outline, "birch_ply" if vacuum else "mdf", fig["sheet_mm"], bits or route.bits)


STATION_GAP_MM = 4.0


def _station(route: Route, setup: Setup, frame: Frame) -> tuple[Draft, Polygon]:
    """Return what a board needs for one setup, in its frame, and the area it takes."""
    hardware, fig, draft = [frame.hardware(h) for h in setup.hardware], figures()["jigs"], Draft()
    blank, thick = _blank(route, setup, frame), fig["sheet_mm"]
    blocks = [h for h in hardware if h.pushes or h.kind in (HardwareKind.TOP_CLAMP, HardwareKind.RAIL)]
    border = dict.fromkeys(("left", "right", "low", "high"), fig["border_mm"])
    for h in blocks:
        border[_side(h)] = max(border[_side(h)], h.length_mm + 10.0)
    x0, y0, x1, y1 = blank.bounds
    area = rounded_box(x0 - border["left"], y0 - border["low"], x1 + border["right"], y1 + border["high"], CORNER_MM)
    _locating(draft, route, setup, frame, blank, hardware)
    _screws(draft, [h for h in hardware if h.kind is HardwareKind.SCREW], blank_at(route, setup).thickness_mm, thick)
    for h in hardware:
        if h.kind is HardwareKind.VACUUM:
            vacuum_features(draft, h, route, setup)
        elif h.kind is HardwareKind.STRAP:
            _strap_slots(draft, h, blank)
        elif h.pushes or h.kind is HardwareKind.TOP_CLAMP:
            _clamp(draft, h, thick)
        elif h.kind is HardwareKind.RAIL:
            _rail(draft, h, thick)
        elif h.kind is HardwareKind.SPACER:
            draft.parts.append(JigPart(name=f"Spacer {h.id}", size=f"{mm(h.length_mm):.0f} x {mm(h.width_mm):.0f}",
                                       material="ply or MDF, to thickness", source="cut", note="ribs across it, cut "
                                                            "to the face: their side views are drawn with the holding"
                                       if h.shaped else "its thickness stands with the holding; taped to the board"))
        elif h.kind is HardwareKind.TAPE:
            draft.parts.append(JigPart(name="Double-sided tape", size=f"{mm(h.length_mm):.0f} x {mm(h.width_mm):.0f}",
                                       source="buy",
                                       note="two strips with glue between" if h.glued else "degreased, pressed "
                                            "on hard"))
    _bolts(draft, [h for h in hardware if h.kind is HardwareKind.BOLT], thick)
    witness_lines(draft, blank)
    chain = next((c for c in chains(route) if c.setup == setup.id), None)
    if chain is not None and chain.plan_mm > 0:
        true = f"within {mm(chain.plan_mm):.2f} in plan and {mm(chain.z_mm):.2f} in height"
        draft.works_with.append(f"Found again {true}.")
    return draft, area


def _blank(route: Route, setup: Setup, frame: Frame) -> Polygon:
    b = blank_at(route, setup)
    return frame.region(box(b.x_mm, b.y_mm, b.x_mm + b.length_mm, b.y_mm + b.width_mm))


def _side(h: Hardware) -> str:
    a = round(h.angle_deg / 90.0) % 4
    return ("right", "high", "left", "low")[a]


def _bed_to_frame(route: Route, setup: Setup) -> tuple[float, float]:
    """Return what is taken from places on the bed to have them in a setup's frame."""
    frame = frame_of(setup, resolve(route).thickness_mm)
    x, y = _blank(route, setup, frame).bounds[:2]
    return setup.blank_at_mm[0] - x, setup.blank_at_mm[1] - y


def _on_the_bed(draft: Draft, route: Route, setup: Setup, outline: Polygon, bits: Sequence[Bit]) -> None:
    """Pins in the machine's own index holes where two or more lie under the board and a bit of the rack bores them; else strips against the bed's corner."""
    fig, machine = figures()["jigs"], route.machine
    dx, dy = _bed_to_frame(route, setup)
    own = [p for f in draft.features if f["kind"] == "hole" for p in f["points"]]
    under = [(x - dx, y - dy) for x, y in machine.index_holes_mm if outline.buffer(-fig["bolt_in_mm"]).contains(Point(x - dx, y - dy))]
    apart = 2 * machine.index_hole_mm
    both = [p for p in under if any(math.dist(p, q) <= figures()["bed"]["pins_fit_mm"] for q in own)]
    free = [p for p in under if p not in both and all(math.dist(p, q) > apart for q in own)]
    across, deep = machine.index_hole_mm, fig["sheet_mm"] + 1.0
    bores = any(b.cutting_length_mm >= deep and (abs(b.cut_diameter_mm - across) < 0.05 if b.form is BitForm.DRILL else b.form is BitForm.FLAT and b.cut_diameter_mm <= 0.9 * across) for b in bits)
    if len(free) + len(both) < 2 or not bores:
        draft.parts.append(JigPart(name="Locating strips", material="beech, planed straight", size="300 x 20 x 8",
        count=2, source="cut", note="under the board, against the two edges of the bed that meet in its corner"))
        draft.step("strips", "Screw the strips under the board", 8, "Push the board into the corner of the bed first, then mark them from below.")
        draft.errors.append(JigError(what="Board in the bed's corner", off_mm=fig["edge_fit_mm"], check="No light at either strip; blow chips out of the corner."))
        return
    draft.hole("bed_pins", "Bed pins", free, machine.index_hole_mm, None)
    for f in draft.features:
        if f["kind"] == "hole" and any(math.dist(p, q) <= figures()["bed"]["pins_fit_mm"] for p in both for q in f["points"]):
            f["depth_mm"] = None
    if free:
        draft.parts.append(JigPart(name="Bed pins", material="steel",
                                   size=f"{mm(machine.index_hole_mm):g} x {mm(2 * fig['pin_in_mm']):.0f}",
                                   count=len(free), source="buy",
                                   note="into the machine's own index holes; flush with the board's face or below it"))
    words = f"{len(free) + len(both)} of the machine's own index holes lie under it" + (f"; {len(both)} of them take the pins of the blank too, bored through" if both else "")
    draft.works_with.append(f"{words}: it comes back to the same place, and its work offset stays.")
    draft.errors.append(JigError(what="Board on its bed pins", off_mm=fig["pin_fit_mm"], check="It must drop on by its own weight."))


def _draws_from(draft: Draft, route: Route, setup: Setup, slots: Polygon, h: Hardware) -> tuple[float, float]:
    """Return where the port goes: in the slots; on a bed that draws, over a zone and clear of its edge.

    Raises:
        InfeasibleError: no slot lies over a zone.
    """
    if not route.machine.zones_mm:
        return h.x_mm, h.y_mm
    dx, dy = _bed_to_frame(route, setup)
    fig = figures()["jigs"]
    zones = [(n, box(x - dx, y - dy, x - dx + long, y - dy + wide)) for n, (x, y, long, wide) in enumerate(route.machine.zones_mm, 1)]
    room = slots.buffer(-fig["slot_mm"] / 2 + 0.1)
    there = [(n, room.intersection(z.buffer(-fig["port_mm"]))) for n, z in zones]
    there = [(n, g) for n, g in there if not g.is_empty]
    if not there:
        raise InfeasibleError(f"No slot of {h.words.lower()} lies over a zone of the bed, so nothing would draw under it. Move the blank on the bed, or give the vacuum a place over a zone.", where="jig")
    number, best = min(there, key=lambda t: t[1].distance(Point(h.x_mm, h.y_mm)))
    spot = shapely.shortest_line(Point(h.x_mm, h.y_mm), best).coords[1]
    covered = [n for n, z in zones if n != number and z.intersects(slots)]
    draft.works_with.append(f"{h.words} draws through zone {number} of the bed; shut the others" + (f", also {', '.join(map(str, covered))}, which lie under this board" if covered else "") + ".")
    return float(spot[0]), float(spot[1])


def board_bolts(draft: Draft, outline: Polygon) -> None:
    """Four bolts to the bed, near the corners."""
    fig = figures()["jigs"]
    x0, y0, x1, y1 = outline.bounds
    d = fig["bolt_in_mm"]
    draft.hole("bed_bolts", "Bed bolts", [(x0 + d, y0 + d), (x1 - d, y0 + d), (x1 - d, y1 - d), (x0 + d, y1 - d)], fig["bolt_hole_mm"], None)
    draft.parts.append(JigPart(name="Bed bolts", size="M6, flat head", count=4, source="hand",
    note="into slots or inserts of the bed"))


def _locating(draft: Draft, route: Route, setup: Setup, frame: Frame, blank: Polygon, hardware: list[Hardware]) -> None:
    """Pins under the index holes where the route has any; else three dowels that the blank is pushed against."""
    fig = figures()["jigs"]
    datum = next((s.datum for s in [setup, *route.setups] if s.datum), None)
    holes = next((f for f in route.features if f.id == datum and isinstance(f, Hole)), None)
    pins = [(h.x_mm, h.y_mm) for h in hardware if h.kind is HardwareKind.PIN]
    if holes is not None or pins:
        across = holes.diameter_mm if holes is not None else next(h.head_diameter_mm for h in hardware if h.kind is HardwareKind.PIN)
        points = [frame.point(x, y, 0.0)[:2] for x, y in holes.points] if holes is not None else pins
        draft.hole("pin_holes", "Pin holes", points, across, fig["pin_in_mm"])
        out = fig["pin_out_part"] * route.blank.thickness_mm
        long = fig["pin_in_mm"] + out
        draft.parts.append(JigPart(name="Pins", size=f"{mm(across):g} x {mm(long):.0f}", material="steel",
                                   count=len(points), source="buy", note=f"bonded in the board only; {mm(out):.0f} "
                                                            f"stand out: check that no cut of the waste goes down "
                                                            f"to them"))
        draft.step("pins", "Bond the pins in", 6, "Square to the board; try the blank on before the glue sets. They stay in the board, never in the blank.")
        draft.works_with.append(f"Pins find the place and hold nothing down. Bonded in the board; in the blank a "
                                f"sliding fit with {mm(fig['pin_fit_mm']):g} play, their ends eased to a cone. The "
                                f"blank lifts off by two wedges opposite each other; one that sticks is turned out, "
                                f"never levered.")
        draft.errors.append(JigError(what="Pins in the index holes", off_mm=fig["pin_fit_mm"], check="Feel for play with the blank on; ream no more than it takes to lift off by hand."))
        return
    x0, y0, x1, y1 = blank.bounds
    r = fig["dowel_mm"] / 2
    taken = [h for h in hardware if h.pushes or h.kind in (HardwareKind.RAIL, HardwareKind.TOP_CLAMP)]
    low = [x for x in np.linspace(x0 + 0.12 * (x1 - x0), x1 - 0.12 * (x1 - x0), 9) if all(abs(h.x_mm - x) > h.width_mm / 2 + 10 or abs(h.y_mm - y0) > 20 for h in taken)]
    left = [y for y in np.linspace(y0 + 0.3 * (y1 - y0), y1 - 0.3 * (y1 - y0), 5) if all(abs(h.y_mm - y) > h.width_mm / 2 + 10 or abs(h.x_mm - x0) > 20 for h in taken)]
    points = [(float(x), y0 - r) for x in ([low[0], low[-1]] if len(low) > 1 else low)] + (
        [(x0 - r, float(left[len(left) // 2]))] if len(left) else []
    )
    draft.hole("dowel_holes", "Dowel holes", points, fig["dowel_mm"], fig["pin_in_mm"])
    draft.parts.append(JigPart(name="Dowels", size=f"{mm(fig['dowel_mm']):g} x {mm(fig['pin_in_mm'] + 12):.0f}",
                               material="beech or steel", count=max(1, len(points)), source="hand",
                               note="12 stand out; two on the long edge, one on the end"))
    draft.step("dowels", "Glue the dowels in", 5, "The blank is pushed against all three before anything holds it.")
    draft.errors.append(JigError(what="Blank against the dowels", off_mm=fig["edge_fit_mm"], check="No light at any dowel; blow chips away first."))


def _screws(draft: Draft, screws: list[Hardware], thick_mm: float, board_mm: float) -> None:
    if not screws:
        return
    fig, pilot = figures()["holding"], figures()["jigs"]["pilot_part"]
    across = round(screws[0].shaft_diameter_mm * pilot, 1)
    grip = min(screws[0].grip_mm or fig["grip_mm"], board_mm - 2.0)
    draft.hole("pilots", "Screw pilots", [(h.x_mm, h.y_mm) for h in screws], across, round(grip, 1))
    sunk = max(0.0, -screws[0].top_mm)
    draft.parts.append(JigPart(name="Screws",
                               size=f"{mm(screws[0].shaft_diameter_mm):g} x "
                                    f"{mm(math.floor((thick_mm - sunk + grip) / 5) * 5):.0f}", count=len(screws),
                                    source="buy",
                                    note=f"pilot {mm(across):g}, {mm(grip):g} deep; heads at "
                                         f"{mm(screws[0].top_mm):+g}. Count them out again before lifting"))


def _bolts(draft: Draft, bolts: list[Hardware], board_mm: float) -> None:
    """Holes for threaded inserts, screwed in from below so that a pull draws them tighter."""
    if not bolts:
        return
    fig = figures()["jigs"]
    draft.hole("inserts", "Inserts", [(h.x_mm, h.y_mm) for h in bolts], fig["insert_hole_mm"], None)
    draft.parts += [JigPart(name="Inserts", size=f"M6, {mm(fig['insert_hole_mm']):g} hole", count=len(bolts),
                            source="buy", note="from the underside, flange down: a pull draws them tighter"),
                    JigPart(name="Bolts", size=f"M6, head {mm(bolts[0].head_diameter_mm):g}", count=len(bolts),
                            source="hand", note="through holes in the waste of the blank, a washer under each head")]
    draft.step("inserts", "Screw the inserts in from below", 8, f"Flush or deeper in the {mm(board_mm):g} board.")


def _strap_slots(draft: Draft, h: Hardware, blank: Polygon) -> None:
    """Two slots beside the blank that a strap comes up through."""
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    fig, line = figures()["jigs"], shapely.LineString([(h.x_mm - 2000 * c, h.y_mm - 2000 * s), (h.x_mm + 2000 * c, h.y_mm + 2000 * s)]).intersection(blank)
    if line.is_empty:
        return
    out = fig["strap_slot_mm"] / 2 + 2.0
    for k, (x, y) in enumerate((line.coords[0], line.coords[-1]), 1):
        way = 1.0 if (x - h.x_mm) * c + (y - h.y_mm) * s > 0 else -1.0
        draft.pocket(f"slot_{h.id}_{k}", f"Slot {k} for strap {h.id}", {"kind": "rectangle", "x_mm": round(x + way * out * c, 3), "y_mm": round(y + way * out * s, 3), "length_mm": fig["strap_slot_mm"], "width_mm": h.width_mm + 4.0,
                                                                              "corner_radius_mm": fig["strap_slot_mm"] / 2 - 0.05, "angle_deg": round(h.angle_deg, 4)}, None, least_floor_mm=0.0)
    draft.parts.append(JigPart(name=f"Strap {h.id}", material="webbing with a cam buckle",
                               size=f"{mm(h.width_mm):.0f} wide", source="hand", note="buckle below or beside the "
                                                            "board, never over it; a pad under it at each edge"))


def _clamp(draft: Draft, h: Hardware, thick_mm: float) -> None:
    fig = figures()["jigs"]
    along = min(h.length_mm * 0.6, 26.0)
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    draft.hole(f"stud_{h.id}", f"Stud for {h.words.lower()}", [(h.x_mm + along * c, h.y_mm + along * s)], fig["bolt_hole_mm"], None)
    if h.kind is HardwareKind.WEDGE:
        draft.parts.append(JigPart(name=f"Wedges {h.id}", material="beech",
                                   size=f"a pair, 1 in 12, {mm(h.width_mm):.0f} long", source="cut",
                                   note="the outer one screwed to the board, the inner one tapped in and marked "
                                        "where it sits"))
        return
    kind = "Cam" if h.pushes else "Clamp arm"
    draft.parts.append(JigPart(name=f"{kind} {h.id}", material="ply 18",
                               size=f"{mm(h.width_mm):.0f} x {mm(h.length_mm):.0f}", source="hand",
                               note="M6 stud, washer and knob"))


def _rail(draft: Draft, h: Hardware, thick_mm: float) -> None:
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    out = h.length_mm / 2
    points = [(h.x_mm + out * c - v * s, h.y_mm + out * s + v * c) for v in (-0.4 * h.width_mm, 0.0, 0.4 * h.width_mm)]
    draft.hole(f"rail_{h.id}", f"Pilots of {h.words.lower()}", points, figures()["jigs"]["rail_pilot_mm"], round(thick_mm - 4.0, 1))
    draft.parts.append(JigPart(name=f"Rail {h.id}", material="beech or ply 18",
                               size=f"{mm(h.width_mm):.0f} x {mm(h.length_mm):.0f}", source="cut",
                               note="its face planed straight: the blank is found by it"))
    draft.step(f"rail_{h.id}", f"Screw rail {h.id} on", 6, "One screw tight, square it along the witness line, then the others.")


def vacuum_features(draft: Draft, h: Hardware, route: Route, setup: Setup) -> None:
    """A gasket groove round the area, a recess inside it for uneven stock, slots that share the vacuum out, and a port.

    Source: figures.jigs: the groove is the gasket less its squeeze wide, and less its crush deep.
    """
    fig = figures()["jigs"]
    wide, deep = fig["gasket_mm"] - fig["gasket_squeeze_mm"], fig["gasket_mm"] - fig["gasket_crush_mm"]
    outer = box(-h.length_mm / 2, -h.width_mm / 2, h.length_mm / 2, h.width_mm / 2).buffer(-8).buffer(8, quad_segs=12)
    inner = outer.buffer(-wide)
    ring = outer.difference(inner)
    ends = [Point(0.0, y).buffer(wide / 2, quad_segs=12) for y in (outer.bounds[1] + wide / 2, outer.bounds[3] - wide / 2)]  # round, as the bit leaves them
    halves = [shapely.union_all([ring.intersection(box(-1e4, -1e4, 0.0, 1e4)), *ends]), shapely.union_all([ring.intersection(box(0.0, -1e4, 1e4, 1e4)), *ends])]
    recess = inner.buffer(-fig["rim_mm"])
    rx, ry = recess.bounds[2] - 6.0, recess.bounds[3] - 6.0
    slot = fig["slot_mm"] / 2
    arms = max(1, int(2 * rx // fig["slot_apart_mm"]))
    net = shapely.union_all([box(-rx, -slot, rx, slot), *(box(x - slot, -ry, x + slot, ry) for x in np.linspace(-rx + slot, rx - slot, arms + 1))])

    def placed(region: Polygon) -> Polygon:
        return translate(rotate(region, h.angle_deg, origin=(0.0, 0.0)), h.x_mm, h.y_mm)

    def there(region: Polygon) -> dict:
        return chain_of(placed(region))
    port = _draws_from(draft, route, setup, placed(net), h)
    draft.pocket(f"recess_{h.id}", f"Recess of {h.id}", there(recess), fig["recess_mm"])
    for k, half in enumerate(halves, 1):
        draft.pocket(
            f"gasket_{h.id}_{k}",
            f"Gasket groove of {h.id}, {'left' if k == 1 else 'right'}",
            there(half),
            round(deep, 2),
            finish_class="fitted",
            opens_into=[f"gasket_{h.id}_{3 - k}"],
        )
    draft.pocket(
        f"slots_{h.id}",
        f"Slots of {h.id}",
        there(net),
        round(fig["recess_mm"] + fig["slot_deep_mm"], 2),
        opens_into=[f"port_{h.id}"],
    )
    draft.hole(f"port_{h.id}", f"Port of {h.id}", [port], fig["port_mm"], None)
    around = (outer.exterior.length + inner.exterior.length) / 2
    draft.parts.append(JigPart(name=f"Gasket {h.id}", material="closed-cell cord",
                               size=f"{mm(fig['gasket_mm']):g} across, {mm(around + 20):.0f} long", source="buy",
                               note=f"gripped by a groove {mm(wide):.1f} wide and {mm(deep):.1f} deep; its ends "
                                    f"cut square and butted"))
    if route.machine.zones_mm:
        draft.parts.append(JigPart(name=f"Gasket below {h.id}", material="closed-cell cord",
                                   size=f"{mm(fig['gasket_mm']):g} across, a ring of 60", source="buy",
                                   note="under the board round the bleed hole, inside its zone; taped shut from "
                                        "below while the recess is cut"))
    else:
        draft.parts.append(JigPart(name=f"Port fitting {h.id}", size=f"{mm(fig['port_mm']):g} hole", source="buy",
                                   note="plugged while the recess is cut"))
    draft.step(f"gasket_{h.id}", f"Clean the groove, press gasket {h.id} in", 6, "Edges of the groove free of fuzz first; all gaskets must stand equally high.")
    bar = vacuum_bar(h, route.machine.pump)
    pressed = inner.area * bar * BAR_N_MM2
    draft.works_with.append(f"{h.words}: {cm2(inner.area / 100):.0f} inside the gasket; at {bar:.2f} bar it presses "
                            f"with {pressed:.0f} N and holds "
                            f"{pressed * figures()['holding']['friction_gasket']:.0f} N to the side, pump and seal "
                            f"permitting.")


def witness_lines(draft: Draft, blank: Polygon) -> None:
    """Corners of the blank and the centre line, cut shallow beside it, so that a person sees at once how it lies."""
    fig = figures()["jigs"]
    x0, y0, x1, y1 = blank.bounds
    w, long, gap = fig["witness_mm"], fig["witness_long_mm"], 2.0
    for k, (x, y, sx, sy) in enumerate([(x0, y0, 1, 1), (x1, y0, -1, 1), (x1, y1, -1, -1), (x0, y1, 1, -1)], 1):
        leg = shapely.union_all([box(*sorted((x - sx * gap - sx * w, x + sx * long))[:1], *sorted((y - sy * gap - sy * w, y - sy * gap))[:1], *sorted((x - sx * gap - sx * w, x + sx * long))[1:], *sorted((y - sy * gap - sy * w, y - sy * gap))[1:]),
                                 box(*sorted((x - sx * gap - sx * w, x - sx * gap))[:1], *sorted((y - sy * gap - sy * w, y + sy * long))[:1], *sorted((x - sx * gap - sx * w, x - sx * gap))[1:], *sorted((y - sy * gap - sy * w, y + sy * long))[1:])])
        draft.pocket(f"witness_{k}", f"Witness line, corner {k}", chain_of(leg), fig["witness_deep_mm"],
                     opens_into=[f["id"] for f in draft.features if f["id"].startswith(("slot_", "dowel_"))])
