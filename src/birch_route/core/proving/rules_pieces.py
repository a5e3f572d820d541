"""Rules over several pieces in one setup: a cut of one into another, into what holds another, beyond the travel."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from ..data import figures
from ..holding.clearance import closest_approaches
from ..holding.pieces import Offset, places_of, spread_out, together, ways_between
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule, set_edit
from .simulate import Simulation, Step

MOST_APART_MM = 2000.0
BELOW_MM = 0.02  # under the finished face: above it a neighbour has nothing to lose


@dataclass(frozen=True)
class Near:
    """Where a cut comes nearest to a piece beside its own, mm."""

    gap_mm: float
    step: Step
    way: Offset
    place: tuple[float, float, float]


@rule
def cut_into_the_next(sim: Simulation) -> Iterator[Finding]:
    """What is cut at one place goes into the piece at another, or comes near it."""
    more = sim.setup.more_at
    if not more:
        return
    keep = figures()["fretboard"]["beside_station_mm"]
    nearest = _worst(sim, more)
    if nearest is not None and nearest.gap_mm < keep - 1e-9:
        wider = _far_enough(sim, more, nearest.way, keep)
        hits = nearest.gap_mm < 0
        yield finding(
            "pieces.too_near",
            f"{nearest.step.operation.name} of one piece "
            + (f"goes {mm(-nearest.gap_mm):.1f} into the next" if hits else f"comes within {mm(nearest.gap_mm):.1f} of "
               f"the next; {mm(keep):.1f} should stand between them")
            + ". Lay them further apart.",
            operation=nearest.step.operation.id,
            place=nearest.place,
            facts=[
                Fact(name="apart", value=round(nearest.gap_mm, 2)),
                Fact(name="asked", value=keep, source="figures"),
            ],
            cures=[Cure(sentence=f"Lay them {mm(max(abs(v) for v in wider[0])):g} apart",
                        edits=[set_edit(f"setups.{sim.setup.id}.more_at", wider)])],
        )
    box = together(sim.route.blank, more)
    if box.overlap_mm > 0:
        yield finding(
            "pieces.one_blank",
            f"The blanks of the {len(more) + 1} pieces lie {mm(box.overlap_mm):.1f} over one another: they are one "
            f"blank, {mm(box.long_mm):g} long and {mm(box.wide_mm):g} wide. Each is judged as if it lay alone in its "
            f"part of that.",
            facts=[Fact(name="long", value=round(box.long_mm, 1)), Fact(name="wide", value=round(box.wide_mm, 1))],
        )


def _worst(sim: Simulation, more: Sequence[Offset]) -> Near | None:
    """Return where any cut comes nearest to a piece beside its own; None where all are far."""
    found = [n for s in sim.steps for w in ways_between(more) if (n := _nearest(sim, s, w))]
    return min(found, key=lambda n: n.gap_mm, default=None)


def _far_enough(sim: Simulation, more: Sequence[Offset], way: Offset, keep_mm: float) -> list[list[float]]:
    """Return the places further apart, by no more than it takes until nothing comes near another piece: half a mm at
    the least, found by halves."""
    def is_near(places: Sequence[Sequence[float]]) -> bool:
        near = _worst(sim, [(x, y) for x, y in places])
        return near is not None and near.gap_mm < keep_mm - 1e-9

    low, high = 0.0, 2.0 * keep_mm
    while is_near(spread_out(more, way, high)) and high < MOST_APART_MM:
        low, high = high, 2 * high
    while high - low > 0.5:
        middle = (low + high) / 2
        low, high = (middle, high) if is_near(spread_out(more, way, middle)) else (low, middle)
    return spread_out(more, way, high)


def _nearest(sim: Simulation, step: Step, way: Offset) -> Near | None:
    """Return where a step comes nearest to the piece that lies a way from its own; None where that is far."""
    points = step.path.points
    moves = np.flatnonzero(np.minimum(points[:-1, 2], points[1:, 2]) < -BELOW_MM)
    other = shapely.affinity.translate(sim.resolved.outline, *way)
    reach = step.bit.reach_mm + figures()["fretboard"]["beside_station_mm"]
    xmin, ymin, xmax, ymax = other.bounds
    a, b = points[moves, :2], points[moves + 1, :2]
    low, high = np.minimum(a, b), np.maximum(a, b)
    moves = moves[
        (high[:, 0] > xmin - reach) & (low[:, 0] < xmax + reach)
        & (high[:, 1] > ymin - reach) & (low[:, 1] < ymax + reach)
    ]
    if not len(moves):
        return None
    shapely.prepare(other)
    lines = shapely.linestrings(np.stack([points[moves, :2], points[moves + 1, :2]], axis=1))
    gaps = shapely.distance(lines, other) - step.bit.reach_mm
    k = int(np.argmin(gaps))
    x, y, z = (float(v) for v in points[moves[k]])
    return Near(float(gaps[k]), step, way, (x, y, z))


@rule
def holding_of_the_next(sim: Simulation) -> Iterator[Finding]:
    """Bit or collet nut hits what holds another piece."""
    nut, top = sim.route.machine.nut_diameter_mm, sim.route.blank.top_mm
    heads, hardware = sim.route.machine.heads, sim.setup.hardware
    worst: dict[str, tuple[float, Step, str]] = {}
    for way in ways_between(sim.setup.more_at):
        beside = [h.model_copy(update={"x_mm": h.x_mm + way[0], "y_mm": h.y_mm + way[1]}) for h in hardware]
        for step in sim.steps:
            nearest = closest_approaches(step.path, step.bit, nut, beside, top, heads)
            for one, near in zip(hardware, nearest, strict=True):
                if near is not None and (one.id not in worst or near.gap_mm < worst[one.id][0]):
                    worst[one.id] = near.gap_mm, step, near.by
    for one in hardware:
        if one.id not in worst or worst[one.id][0] >= sim.tol.near_hardware_mm:
            continue
        gap, step, by = worst[one.id]
        hits = gap < sim.tol.contact_mm
        told = "hits" if hits else f"passes {mm(gap):.1f} from"
        yield finding(
            "hardware.hit" if hits else "hardware.near",
            f"The {by} {told} {one.words} of another piece at {step.operation.name}. Lay the pieces further apart, "
            f"or move it.",
            operation=step.operation.id,
            hardware=one.id,
            place=(one.x_mm, one.y_mm, top + one.top_mm),
            facts=[Fact(name="gap", value=round(gap, 2))],
        )


@rule
def others_in_travel(sim: Simulation) -> Iterator[Finding]:
    """A piece beside the first lies beyond the machine's travel."""
    machine, blank, at = sim.route.machine, sim.route.blank, sim.setup.blank_at_mm
    if not sim.setup.more_at or not sim.steps:
        return
    points = np.concatenate([s.path.points[:, :2] for s in sim.steps]) - [blank.x_mm - at[0], blank.y_mm - at[1]]
    low, high = points.min(0), points.max(0)
    for number, (dx, dy) in enumerate(places_of(sim.setup.more_at)[1:], 2):
        near, (right, rear) = machine.keep_in_mm, (v - machine.keep_in_mm for v in machine.travel_mm[:2])
        over = max(near - (low[0] + dx), near - (low[1] + dy), high[0] + dx - right, high[1] + dy - rear)
        if over > 1e-6:
            yield finding(
                "travel.outside",
                f"Piece {number} goes {mm(float(over)):.1f} beyond {machine.name}'s travel. Move all of them on the "
                f"bed, lay them closer, or cut fewer at once.",
                facts=[Fact(name="beyond travel", value=round(float(over), 2))],
            )
