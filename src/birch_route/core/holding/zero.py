"""How a setup's zero is found, in order, with the numbers to set; and how far each way may be off."""

from __future__ import annotations

from dataclasses import dataclass, field

import shapely
from shapely.geometry import Polygon

from ..bits.model import Bit
from ..data import figures
from ..gluing import base_setup, blank_at
from ..machines import Machine
from ..piece import Hole
from ..quantities import mm
from ..route import Route, Setup
from ..stages import Frame
from ..vocabulary import ZeroWay, ZeroXY, ZeroZ
from .clearance import footprint

WAYS: dict[ZeroWay, tuple[str, str]] = {  # what it is called in a chain, and its figure
    ZeroWay.EDGES: ("edges, the bit against them", "edge_mm"), ZeroWay.EDGE_FINDER: ("edges, with the edge finder", "finder_mm"), ZeroWay.PROBE: ("edges, with the probe block", "probe_mm"),
    ZeroWay.HOLE: ("a pin in an index hole", "hole_mm"), ZeroWay.LINES: ("lines drawn on the wood", "line_mm"), ZeroWay.JIG: ("the jig, which has stayed where it was", "jig_mm"),
}


@dataclass(frozen=True)
class ZeroStep:
    """One thing to do, where the machine is sent for it, and what its read-out is set to then, mm, by axis. at_mm: where on the bed that is, setup's frame; None: no one place."""

    do: str
    sets: dict[str, float] = field(default_factory=dict)
    goes: dict[str, float] = field(default_factory=dict)
    at_mm: tuple[float, float] | None = None


def off_mm(setup: Setup) -> float:
    """Return how far X and Y may be off by the way they are found, mm. Source: figures.datums."""
    return figures()["datums"][WAYS[setup.zero.way][1]]


def zero_steps(whole: Route, staged: Route, frame: Frame, outline: Polygon, origin: tuple[float, float, float], bit: Bit | None) -> list[ZeroStep]:
    """Return what to do for a setup's zero, in order.

    Args:
        whole, staged: the route, and the setup's in its own frame. outline: of the piece there.
        origin: the program's zero in that frame, mm.
        bit: the first one.
    """
    machine, setup = staged.machine, staged.setups[0]
    out = [ZeroStep(f"Home the machine; take work offset {setup.zero.offset} (G{53 + setup.zero.offset})")]
    if setup.sheet_mm:
        out.append(ZeroStep(
            f"A sheet of scrap {mm(setup.sheet_mm):g} thick, flat and even, lies under the wood and comes along with "
            f"it, screws longer by it: bits go {mm(setup.sheet_mm - figures()['neck']['keep_mm']):g} into it at most"))
    out += _plan(whole, staged, frame, outline, origin, bit)
    out.append(ZeroStep(f"{bit.name if bit else 'First bit'} in. Touch Z off {touch_words(machine, setup)}", {"Z": touch_z_mm(staged, origin[2])}, at_mm=_touched(machine, setup)))
    top = max(0.0, staged.blank.top_mm) - origin[2] + 0.0
    park = (staged.blank.x_mm + setup.park_mm[0] - origin[0], staged.blank.y_mm + setup.park_mm[1] - origin[1])
    out.append(
        ZeroStep(
            f"Spindle off, X and Y first, then slowly down: the tip must stand {mm(setup.clearance_mm):g} over the "
            f"wood as it lies there. If it does not, find out why before anything is cut",
            goes={"X": park[0], "Y": park[1], "Z": top + setup.clearance_mm},
            at_mm=(park[0] + origin[0], park[1] + origin[1]),
        )
    )
    return out


def _free(setup: Setup, first: tuple[float, float], last: tuple[float, float]) -> tuple[float, float]:
    """Return a place of an edge where no hardware stands, near its middle."""
    things = shapely.union_all([footprint(h) for h in setup.hardware if not h.lies_under])
    places = [(first[0] + t * (last[0] - first[0]), first[1] + t * (last[1] - first[1])) for t in (0.5, 0.6, 0.4, 0.7, 0.3, 0.8, 0.2, 0.9, 0.1)]
    return max(places, key=lambda p: min(things.distance(shapely.Point(p)), figures()["bed"]["hand_mm"]) if not things.is_empty else 0.0)


def _touched(machine: Machine, setup: Setup) -> tuple[float, float] | None:
    """Return where on the wood Z is touched off, setup's frame; None beside it."""
    if setup.zero.z is ZeroZ.BED or (machine.probe_mm is not None and not setup.in_vice):
        return None
    return setup.zero.touch_x_mm, setup.zero.touch_y_mm


def _plan(whole: Route, staged: Route, frame: Frame, outline: Polygon, origin: tuple[float, float, float], bit: Bit | None) -> list[ZeroStep]:
    machine, setup, blank = staged.machine, staged.setups[0], staged.blank
    way, r = setup.zero.way, (bit.cut_diameter_mm if bit else 6.0) / 2
    centred = setup.zero.xy is ZeroXY.CENTRE
    carried = _carried(whole, staged, origin)
    if carried is not None and way is not ZeroWay.HOLE:
        return [ZeroStep("The pins carry the place over, with the zero of the first face still set", {"X": 0.0, "Y": 0.0}, {"X": carried[0], "Y": carried[1]}, origin[:2])]
    if way is ZeroWay.JIG:
        return [ZeroStep("X and Y as they are kept with the jig; check with a pin over a witness line before the first cut")]
    if way is ZeroWay.HOLE:
        hole = _hole(whole, setup)
        if hole is not None:
            places = [frame.point(x, y, 0.0)[:2] for x, y in hole.points]
            x, y = min(places, key=lambda p: (p[0] - origin[0]) ** 2 + (p[1] - origin[1]) ** 2)
            return [
                ZeroStep(
                    f"A pin or bit of {mm(hole.diameter_mm):g} in the collet, spindle off; lower it into the hole "
                    f"of {hole.name.lower()} nearest to the zero, turn it by hand: it must not rub on one side",
                    {"X": x - origin[0], "Y": y - origin[1]},
                    at_mm=(x, y),
                )
            ]
    if way is ZeroWay.LINES:
        x, far = outline.bounds[0], outline.bounds[2]
        return [ZeroStep("A pointed bit over the centre line, at both ends; turn the blank until it stays on it", {"Y": 0.0 - origin[1]}, at_mm=(far, 0.0)), ZeroStep("The point over the line across, where the outline begins at its left", {"X": x - origin[0]}, at_mm=(x, 0.0))]
    if way is ZeroWay.EDGE_FINDER and machine.edge_finder_mm:
        who, reach = f"the edge finder ({mm(machine.edge_finder_mm):g} across)", machine.edge_finder_mm / 2
    elif way is ZeroWay.PROBE and machine.touch_plate_mm:
        who, reach = (
            f"the probe block ({mm(machine.touch_plate_mm):g} thick) and a bit of {mm(2 * r):g}",
            r + machine.touch_plate_mm,
        )
    else:
        who, reach = (
            f"a bit or pin of {mm(2 * r):g}, spindle off, a slip of paper between",
            r + figures()["datums"]["paper_mm"],
        )
    x1, y1 = blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm
    left, near = _free(setup, (blank.x_mm, blank.y_mm), (blank.x_mm, y1)), _free(setup, (blank.x_mm, blank.y_mm), (x1, blank.y_mm))
    if centred:
        right, far_edge = _free(setup, (x1, blank.y_mm), (x1, y1)), _free(setup, (blank.x_mm, y1), (x1, y1))
        return [ZeroStep(f"Left edge with {who}: set X to 0. Right edge: it reads the length and both halves; set it then", {"X": right[0] + reach - origin[0]}, at_mm=right), ZeroStep("The same at the near and far edge; at the far one", {"Y": far_edge[1] + reach - origin[1]}, at_mm=far_edge)]
    return [ZeroStep(f"Left edge with {who}", {"X": left[0] - reach - origin[0]}, at_mm=left), ZeroStep("Near edge the same way", {"Y": near[1] - reach - origin[1]}, at_mm=near)]


def _carried(whole: Route, staged: Route, origin: tuple[float, float, float]) -> tuple[float, float] | None:
    """Return where the zero lies from that of the setup before it was turned, on the bed; None where it is not found by pins, or where it is that setup itself."""
    base, setup, blank = base_setup(whole), staged.setups[0], staged.blank
    if setup.datum is None or setup.id == base.id or whole.setups.index(base) > [s.id for s in whole.setups].index(setup.id):
        return None
    first = blank_at(whole, base)
    half = (first.length_mm / 2, first.width_mm / 2) if base.zero.xy is ZeroXY.CENTRE else (0.0, 0.0)
    return (setup.blank_at_mm[0] + origin[0] - blank.x_mm - base.blank_at_mm[0] - half[0], setup.blank_at_mm[1] + origin[1] - blank.y_mm - base.blank_at_mm[1] - half[1])


def _hole(whole: Route, setup: Setup) -> Hole | None:
    datum = setup.datum or next((s.datum for s in whole.setups if s.datum), None)
    return next((f for f in whole.features if f.id == datum and isinstance(f, Hole)), None)


def touch_z_mm(staged: Route, zero_z_mm: float) -> float:
    """Return what Z is set to at a setup's touch-off, mm over the program's zero: plate or paper on that zero, or on
    the waste board at a fixed place, which lies under the wood's lowest and under a sheet of scrap that carries it.

    The fixed place says nothing of wood in a vice.

    Args:
        zero_z_mm: the program's zero in the setup's frame.
    """
    machine = staged.machine
    thick = machine.touch_plate_mm or figures()["datums"]["paper_mm"]
    setup = staged.setups[0]
    if machine.probe_mm is None or setup.in_vice:
        return thick
    return staged.blank.bottom_mm - setup.sheet_mm - zero_z_mm + thick


def touch_words(machine: Machine, setup: Setup) -> str:
    """Return where and on what Z is touched off, in words."""
    under = "the touch plate" if machine.touch_plate_mm else "a slip of paper"
    if machine.probe_mm is not None and not setup.in_vice:
        x, y = machine.from_home(machine.probe_mm)
        where = f"on the waste board at the fixed place X {mm(x):g} Y {mm(y):g} from home"
    elif setup.zero.z is ZeroZ.BED:
        where = f"on the {setup.stands_on} beside the blank, where it is clean"
    else:
        where = "on top of the blank, at the place shown"
    return f"{where}, {under} under the tip"
