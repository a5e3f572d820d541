"""Rules over the bed: the machine's own index holes, and the places where bits are changed and touched off."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Point, box

from ..data import figures
from ..holding.clearance import footprint
from ..holding.touch import plate_below_mm, touch_place
from ..piece import Hole
from ..quantities import mm
from ..stages import bed_points, onto_holes
from ..vocabulary import RAPID_CODE, OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule, set_edit
from .simulate import Simulation

MORE_DOWN_MM = 5.0  # a cure looks for a touch plate so much further than it lies
MOST_DOWN_MM = 300.0  # as far as a dialect may look


def _from_bed(sim: Simulation) -> tuple[float, float]:
    """Return what is taken from places on the bed to have them in the setup's frame."""
    return sim.setup.blank_at_mm[0] - sim.route.blank.x_mm, sim.setup.blank_at_mm[1] - sim.route.blank.y_mm


@rule
def index_hole_cut(sim: Simulation) -> Iterator[Finding]:
    """A cut that enters the waste board comes near one of the machine's permanent index holes, and would spoil it."""
    machine = sim.route.machine
    if not machine.index_holes_mm:
        return
    dx, dy = _from_bed(sim)
    fig = figures()["bed"]
    low, keep = float(sim.bottom.min()), fig["keep_mm"]
    holes = np.asarray(machine.index_holes_mm, float) - [dx, dy]
    worst: tuple[float, int, int] | None = None
    cuts: list[tuple[shapely.Geometry, float]] = []
    for n, step in enumerate(sim.steps):
        p = step.path.points
        deep = (np.minimum(p[:-1, 2], p[1:, 2]) < low - 1e-3) & (step.path.kinds != RAPID_CODE)
        if step.operation.kind is OperationKind.DRILL and step.bit.cut_diameter_mm <= machine.index_hole_mm + fig["pins_fit_mm"]:  # into the hole itself, for its pin
            deep &= np.hypot(*(p[1:, None, :2] - holes[None]).transpose(2, 0, 1)).min(axis=1) > fig["pins_fit_mm"]
        if not deep.any():
            continue
        lines = shapely.multilinestrings(shapely.linestrings(np.stack([p[:-1][deep][:, :2], p[1:][deep][:, :2]], axis=1)))
        radius = step.bit.radius_mm + machine.index_hole_mm / 2
        cuts.append((lines, radius))
        gaps = shapely.distance(shapely.points(holes), lines) - radius
        k = int(np.argmin(gaps))
        if worst is None or gaps[k] < worst[0]:
            worst = float(gaps[k]), k, n
    if worst is None or worst[0] >= keep:
        return
    gap, k, n = worst
    step, (hx, hy) = sim.steps[n], machine.index_holes_mm[k]
    words = (
        f"cuts into the index hole at {mm(hx):g}, {mm(hy):g} of the waste board"
        if gap < 0
        else f"cuts the waste board {mm(gap):.1f} from its index hole at {mm(hx):g}, {mm(hy):g}"
    )
    yield finding(
        "bed.index_hole",
        f"{step.operation.name} {words}; what is cut there holds no pin true any more. {mm(keep):g} is the least.",
        operation=step.operation.id,
        place=(float(holes[k, 0]), float(holes[k, 1]), low),
        cures=_moved(sim, cuts, keep),
        facts=[Fact(name="gap", value=round(gap, 2)), Fact(name="least", value=keep, source="figures, unverified")],
    )


def _moved(sim: Simulation, cuts: list[tuple[shapely.Geometry, float]], keep: float) -> list[Cure]:
    """Return the smallest move of the blank on the bed, all setups alike, that brings the cuts clear of every hole."""
    machine, blank, fig = sim.route.machine, sim.route.blank, figures()["bed"]
    holes = np.asarray(machine.index_holes_mm, float)
    steps = np.arange(-fig["move_most_mm"], fig["move_most_mm"] + 0.1, fig["move_step_mm"])
    dx, dy = _from_bed(sim)
    room = box(0.0, 0.0, machine.travel_mm[0], machine.travel_mm[1])
    for x, y in sorted(((float(a), float(b)) for a in steps for b in steps), key=lambda p: p[0] ** 2 + p[1] ** 2):
        at = [(s.id, s.blank_at_mm[0] + x, s.blank_at_mm[1] + y) for s in sim.whole.setups]
        if not all(room.contains(box(a, b, a + blank.length_mm, b + blank.width_mm)) for _, a, b in at):
            continue
        there = shapely.points(holes - [dx + x, dy + y])
        if all((shapely.distance(there, lines) - radius >= keep).all() for lines, radius in cuts):
            return [
                Cure(
                    sentence=f"Put the blank {mm(x):+g}, {mm(y):+g} along the bed",
                    edits=[set_edit(f"setups.{s}.blank_at_mm", [round(a, 3), round(b, 3)]) for s, a, b in at],
                )
            ]
    return []


@rule
def beside_the_pins(sim: Simulation) -> Iterator[Finding]:
    """The blank's index holes would fit the machine's, but lie beside them."""
    machine, fig = sim.route.machine, figures()["bed"]
    hole = next((f for f in sim.whole.features if f.id == sim.setup.datum and isinstance(f, Hole)), None)
    mine_too = [s for s in sim.whole.setups if s.datum == sim.setup.datum]
    if hole is None or len(machine.index_holes_mm) < 2 or len(hole.points) < 2 or mine_too[0].id != sim.setup.id:
        return
    mine = bed_points(sim.whole, sim.whole.setup(sim.setup.id), list(hole.points), sim.frame.thickness_mm)
    shift = onto_holes(list(machine.index_holes_mm), mine, fig["pins_fit_mm"])
    if shift is None or np.hypot(*shift) < fig["pins_fit_mm"]:
        return
    x, y = shift
    there = [(s.id, [round(s.blank_at_mm[0] + x, 3), round(s.blank_at_mm[1] + y, 3)]) for s in mine_too]
    cures = (
        [
            Cure(
                sentence=f"Put the blank {mm(x):+.1f}, {mm(y):+.1f} along the bed",
                edits=[set_edit(f"setups.{s}.blank_at_mm", at) for s, at in there],
            )
        ]
        if min(min(at) for _, at in there) >= 0
        else []
    )
    yield finding(
        "bed.beside_pins",
        f"{hole.name} would fit the machine's own index holes, but the blank lies {mm(np.hypot(x, y)):.1f} beside "
        f"them.",
        place=(*sim.frame.point(*hole.points[0], 0.0)[:2], 0.0),
        feature=hole.id,
        cures=cures,
        facts=[
            Fact(name="beside", value=round(float(np.hypot(x, y)), 2)),
            Fact(name="fit", value=fig["pins_fit_mm"], source="figures, unverified"),
        ],
    )


@rule
def place_taken(sim: Simulation) -> Iterator[Finding]:
    """The place where bits are touched off or changed lies beyond the travel, or where wood or hardware stands."""
    machine, blank = sim.route.machine, sim.route.blank
    dx, dy = _from_bed(sim)
    wood = box(blank.x_mm, blank.y_mm, blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm)
    things = [("the blank", wood), *((h.words, footprint(h)) for h in sim.setup.hardware if not h.lies_under)]
    wide = max([machine.nut_diameter_mm / 2, *(s.bit.reach_mm for s in sim.steps)])
    for name, place, room in (("touched off", machine.probe_mm, wide + sim.tol.near_hardware_mm), ("changed", machine.bit_change_mm, figures()["bed"]["hand_mm"])):
        if place is None:
            continue
        spot = Point(place[0] - dx, place[1] - dy)
        beyond = max(place[0] - machine.travel_mm[0], place[1] - machine.travel_mm[1])
        near, who = min((shape.distance(spot), words) for words, shape in things)
        code = "bed.probe_taken" if name == "touched off" else "bed.change_taken"
        facts = [Fact(name="room", value=round(near, 1)), Fact(name="wanted", value=round(room, 1), source="machine" if name == "touched off" else "figures, unverified")]
        if beyond > 0:
            yield finding(
                code,
                f"Bits are {name} at {mm(place[0]):g}, {mm(place[1]):g}, {mm(beyond):.1f} beyond the travel of "
                f"{machine.name}.",
                place=(spot.x, spot.y, 0.0),
                facts=[Fact(name="beyond travel", value=round(beyond, 1))],
            )
        elif near < room:
            yield finding(
                code,
                f"Bits are {name} at {mm(place[0]):g}, {mm(place[1]):g}, {mm(near):.1f} from "
                f"{who[0].lower() + who[1:]}; {mm(room):.0f} is what it takes. Move the blank, or the place.",
                place=(spot.x, spot.y, 0.0),
                facts=facts,
            )


@rule
def plate_out_of_reach(sim: Simulation) -> Iterator[Finding]:
    """A program that touches Z off by itself does not come down to the touch plate."""
    machine = sim.route.machine
    if touch_place(sim.route) is None:
        return
    goes = machine.dialect.probe_down_mm
    far = max(((plate_below_mm(sim.route, s.bit), s) for s in sim.steps if s.operation.touch_off_before),
              key=lambda one: one[0], default=None)
    if far is None or far[0] < goes:
        return
    wanted = math.ceil(far[0] + MORE_DOWN_MM)
    yield finding(
        "zero.plate_out_of_reach",
        f"The touch plate lies {mm(far[0]):.0f} below the {far[1].bit.name} with Z fully up; the program looks for it "
        f"{mm(goes):g} down, and stops there.",
        operation=far[1].operation.id,
        facts=[
            Fact(name="below the tip", value=round(far[0], 1)),
            Fact(name="looks down", value=goes, source="machine"),
        ],
        cures=[Cure(sentence=f"Look {mm(wanted):g} down",
                    edits=[set_edit("machine.dialect.probe_down_mm", wanted)])] if wanted <= MOST_DOWN_MM else [],
    )
