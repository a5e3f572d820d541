"""Rules over motion: reach, collet nut, rapid moves, waste board, travel, entries, touch-off."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..bits.model import Bit
from ..heights import kernels
from ..quantities import mm, named_mm
from ..stages import cuts_under_mm
from ..vocabulary import MOVE_CODES, RAPID_CODE, BitForm, MoveKind, OperationKind, ZeroZ
from .findings import Cure, Fact, Finding, finding
from .registry import rule, set_edit
from .simulate import Simulation, Step


def _place(step: Step, move: int) -> tuple[float, float, float]:
    x, y, z = step.path.points[move + 1]
    return float(x), float(y), float(z)


def _longer_bits(sim: Simulation, bit: Bit, cutting_mm: float, out_mm: float) -> list[Bit]:
    same = [b for b in sim.route.bits if b.id != bit.id and b.form is bit.form
            and abs(b.cut_diameter_mm - bit.cut_diameter_mm) <= 0.35 * bit.cut_diameter_mm
            and b.cutting_length_mm >= cutting_mm and b.stickout_mm >= out_mm]
    return sorted(same, key=lambda b: (abs(b.cut_diameter_mm - bit.cut_diameter_mm), b.cutting_length_mm))


@rule
def bit_too_short(sim: Simulation) -> Iterator[Finding]:
    """The shank meets wood above the cutting length."""
    for step in sim.steps:
        over = step.metrics[:, kernels.REACH]
        if len(over) and over.max() > sim.tol.depth_mm:
            k = int(np.argmax(over))
            bit, needed = step.bit, step.bit.cutting_length_mm + float(over[k])
            cures = [Cure(sentence=f"Use the {b.name}", edits=[set_edit(f"operations.{step.operation.id}.bit", b.id)])
                     for b in _longer_bits(sim, bit, needed, needed)[:1]]
            yield finding(
                "bit.too_short", f"{step.operation.name} stands {mm(needed):.1f} deep in wood; the {bit.name} cuts "
                f"{mm(bit.cutting_length_mm):.1f}. Its shank would rub {named_mm(over[k]):.1f} of wall.",
                operation=step.operation.id, place=_place(step, k), cures=cures,
                facts=[Fact(name="depth in wood", value=round(needed, 2)),
                       Fact(name="cutting length", value=bit.cutting_length_mm, source="bit")],
            )


@rule
def nut_hits_wood(sim: Simulation) -> Iterator[Finding]:
    """The collet nut meets wood."""
    for step in sim.steps:
        over = step.metrics[:, kernels.NUT]
        if len(over) and over.max() > sim.tol.depth_mm:
            k = int(np.argmax(over))
            needed = round(step.bit.stickout_mm + float(over[k]) + 1.0, 1)
            yield finding(
                "bit.nut_hits_wood",
                f"The collet nut goes {mm(over[k]):.1f} into the wood at {step.operation.name}: the "
                f"{step.bit.name} stands {mm(step.bit.stickout_mm):.1f} out.",
                operation=step.operation.id,
                place=_place(step, k),
                facts=[
                    Fact(name="stickout", value=step.bit.stickout_mm, source="bit"),
                    Fact(name="needed", value=needed),
                ],
                cures=[
                    Cure(
                        sentence=f"Set it {mm(needed):.1f} out",
                        edits=[set_edit(f"bits.{step.bit.id}.stickout_mm", needed)],
                    )
                ],
            )


@rule
def head_hits_wood(sim: Simulation) -> Iterator[Finding]:
    """The spindle's nose or the dust shoe meets wood."""
    for step in sim.steps:
        for h, (name, _, up) in enumerate(sim.route.machine.heads):
            over = step.metrics[:, kernels.HEADS + h]
            if not len(over) or over.max() <= sim.tol.depth_mm:
                continue
            k = int(np.argmax(over))
            needed = round(step.bit.stickout_mm + float(over[k]) + 1.0, 1)
            yield finding(
                "bit.head_hits_wood",
                f"The {name} goes {mm(over[k]):.1f} into the wood at {step.operation.name}: it stands "
                f"{mm(step.bit.stickout_mm + up):.1f} above the tip of the {step.bit.name}.",
                operation=step.operation.id,
                place=_place(step, k),
                facts=[
                    Fact(name="above the tip", value=round(step.bit.stickout_mm + up, 2), source="bit and machine"),
                    Fact(name="needed", value=round(needed + up, 2)),
                ],
                cures=[
                    Cure(
                        sentence=f"Set it {mm(needed):.1f} out",
                        edits=[set_edit(f"bits.{step.bit.id}.stickout_mm", needed)],
                    )
                ],
            )


@rule
def rapid_through_wood(sim: Simulation) -> Iterator[Finding]:
    """A rapid move goes through wood."""
    for step in sim.steps:
        hit = step.metrics[:, kernels.RAPID_HIT]
        if len(hit) and hit.max() > sim.tol.depth_mm:
            k = int(np.argmax(hit))
            yield finding(
                "rapid.through_wood",
                f"A rapid move of {step.operation.name} goes {mm(hit[k]):.1f} through wood.",
                operation=step.operation.id,
                place=_place(step, k),
                facts=[Fact(name="depth", value=round(float(hit[k]), 2))],
                cures=[
                    Cure(
                        sentence="Rapids 6.0 above everything",
                        edits=[set_edit(f"setups.{sim.setup.id}.clearance_mm", 6.0)],
                    )
                ],
            )


@rule
def waste_board_hit(sim: Simulation) -> Iterator[Finding]:
    """The bit goes deeper into the waste board than the machine's profile allows."""
    allowed, blank = cuts_under_mm(sim.setup, sim.route.machine), sim.whole.blank
    readings = blank.thickness_readings_mm
    thinner = (
        max(0.0, blank.thickness_mm - min(readings))
        if readings and sim.setup.zero.z is ZeroZ.STOCK_TOP and not blank.layers
        else 0.0
    )
    for step in sim.steps:
        below = step.metrics[:, kernels.BELOW]
        point = step.bit.point_height_mm if step.bit.form is BitForm.DRILL else 0.0
        if (
            len(below)
            and 0 < thinner
            and below.max() > 0
            and below.max() - point <= allowed + 1e-6 < below.max() - point + thinner
        ):
            k = int(np.argmax(below))
            yield finding(
                "waste_board.hit",
                f"{step.operation.name} goes {mm(below[k] + thinner):.2f} into the "
                f"{sim.setup.stands_on}; {mm(allowed):.1f} is allowed: Z counts from the blank's top, "
                f"and it measures {mm(min(readings)):.2f} where {mm(blank.thickness_mm):.2f} is planned.",
                operation=step.operation.id,
                place=_place(step, k),
                cures=[
                    Cure(sentence=f"Plan with {mm(min(readings)):.2f}",
                        edits=[set_edit("blank.thickness_mm", round(min(readings), 3))],
                    ),
                    Cure(sentence="Zero on the waste board", edits=[set_edit(f"setups.{sim.setup.id}.zero.z", "bed")]),
                ],
                facts=[
                    Fact(name="below the blank", value=round(float(below[k]) + thinner, 3)),
                    Fact(name="allowed", value=allowed, source="machine"),
                    Fact(name="thinner", value=round(thinner, 3), source="reading"),
                ],
            )
            break
        if len(below) and below.max() - point > allowed + 1e-6:
            k = int(np.argmax(below))
            cures = []
            if step.operation.overcut_mm > allowed:
                cures = [
                    Cure(
                        sentence=f"Go {mm(allowed):.1f} through",
                        edits=[set_edit(f"operations.{step.operation.id}.overcut_mm", allowed)],
                    )
                ]
            yield finding(
                "waste_board.hit",
                f"{step.operation.name} cuts {mm(below[k]):.2f} into the {sim.setup.stands_on}; {mm(allowed):.1f} "
                f"is allowed.",
                operation=step.operation.id,
                place=_place(step, k),
                cures=cures,
                facts=[
                    Fact(name="below the blank", value=round(float(below[k]), 3)),
                    Fact(name="allowed", value=allowed, source="machine"),
                ],
            )


@rule
def outside_travel(sim: Simulation) -> Iterator[Finding]:
    """A move goes beyond the machine's travel, in the plane or in height."""
    machine, blank = sim.route.machine, sim.route.blank
    at = sim.setup.blank_at_mm
    for step in sim.steps:
        under = blank.bottom_mm - sim.setup.sheet_mm  # the waste board
        bed = step.path.points - [blank.x_mm - at[0], blank.y_mm - at[1], under]
        top_limit = machine.nut_clear_mm - step.bit.stickout_mm
        low_limit = top_limit - machine.travel_mm[2]
        near, (right, rear) = machine.keep_in_mm, (v - machine.keep_in_mm for v in machine.travel_mm[:2])
        limits = [("left", bed[:, 0], near, -1), ("right", bed[:, 0], right, 1),
                  ("front", bed[:, 1], near, -1), ("rear", bed[:, 1], rear, 1),
                  ("upper", bed[:, 2], top_limit, 1), ("lower", bed[:, 2], low_limit, -1)]
        for name, values, limit, sense in limits:
            over = sense * (values - limit)
            if over.max() > 1e-6:
                k = int(np.argmax(over))
                x, y, z = step.path.points[k]
                what = "Move the blank on the bed." if name not in ("upper", "lower") else "Set the bit out differently, or lower the clearance."
                yield finding(
                    "travel.outside",
                    f"{step.operation.name} goes {mm(over[k]):.1f} beyond the {name} end of {machine.name}'s "
                    f"travel. {what}",
                    operation=step.operation.id,
                    place=(float(x), float(y), float(z)),
                    cures=_shift(sim, name, float(over[k])),
                    facts=[
                        Fact(name="beyond travel", value=round(float(over[k]), 2)),
                        Fact(name="limit", value=round(limit, 2), source="machine"),
                    ],
                )
                break


def _shift(sim: Simulation, name: str, over: float) -> list[Cure]:
    x, y = sim.setup.blank_at_mm
    step = round(over + 1.0, 1)
    moved = {"left": (x + step, y), "right": (x - step, y), "front": (x, y + step), "rear": (x, y - step)}.get(name)
    if moved is None or min(moved) < 0:
        return []
    return [Cure(sentence=f"Put the blank at {mm(moved[0]):.0f}, {mm(moved[1]):.0f}",
                 edits=[set_edit(f"setups.{sim.setup.id}.blank_at_mm", [moved[0], moved[1]])])]


@rule
def straight_down(sim: Simulation) -> Iterator[Finding]:
    """A bit that does not cut at its centre goes straight down into wood."""
    plunge = MOVE_CODES[MoveKind.PLUNGE]
    for step in sim.steps:
        if step.bit.cuts_at_centre:
            continue
        bites = np.where(step.path.kinds == plunge, step.metrics[:, kernels.DEPTH], 0.0)
        if len(bites) and bites.max() > 0.2:
            k = int(np.argmax(bites))
            yield finding(
                "entry.straight_down",
                f"The {step.bit.name} does not cut at its centre and goes {mm(bites[k]):.1f} straight down.",
                operation=step.operation.id,
                place=_place(step, k),
                facts=[Fact(name="plunge", value=round(float(bites[k]), 2))],
                cures=[Cure(sentence="Ramp in", edits=[set_edit(f"operations.{step.operation.id}.entry", "ramp")])]
                if step.operation.entry.value == "plunge"
                else [],
            )


@rule
def drill_goes_sideways(sim: Simulation) -> Iterator[Finding]:
    """A drill is asked to cut sideways."""
    for step in sim.steps:
        if step.bit.form is not BitForm.DRILL or step.operation.kind is OperationKind.DRILL:
            continue
        mills = sorted((b for b in sim.route.bits if b.form is BitForm.FLAT and b.cut_diameter_mm <= step.bit.cut_diameter_mm + 3.0), key=lambda b: -b.cut_diameter_mm)
        yield finding(
            "bit.cannot_go_sideways",
            f"{step.operation.name} moves the {step.bit.name} sideways. A drill cuts with its point only; it would "
            f"break or wander.",
            operation=step.operation.id,
            facts=[Fact(name="bit", value=step.bit.name, unit="", source="route")],
            cures=[
                Cure(sentence=f"Use the {b.name}", edits=[set_edit(f"operations.{step.operation.id}.bit", b.id)])
                for b in mills[:1]
            ],
        )


@rule
def touch_off_missing(sim: Simulation) -> Iterator[Finding]:
    """The bit changes and Z is not touched off again."""
    for step in sim.steps:
        if step.bit_changes and not step.operation.touch_off_before:
            yield finding(
                "zero.touch_off_missing",
                f"The {step.bit.name} goes in before {step.operation.name} and Z is not touched "
                "off again. A bit of another length cuts at another depth.",
                operation=step.operation.id,
                facts=[Fact(name="bit", value=step.bit.name, unit="", source="route")],
                cures=[
                    Cure(
                        sentence="Touch off again",
                        edits=[set_edit(f"operations.{step.operation.id}.touch_off_before", True)],
                    )
                ],
            )


@rule
def face_cut_away(sim: Simulation) -> Iterator[Finding]:
    """Z is touched off on a face that has been cut away at the place of the touch-off."""
    zero = sim.setup.zero
    if zero.z is not ZeroZ.STOCK_TOP:
        return
    cell = sim.grid.cell_of(zero.touch_x_mm, zero.touch_y_mm)
    for index, step in enumerate(sim.steps):
        if not step.operation.touch_off_before:
            continue
        now = sim.top_before(index)[cell] if cell is not None else -1e9
        lost = sim.route.blank.top_mm - float(now)
        if lost > sim.tol.depth_mm:
            amount = f"{mm(lost):.2f} lower than the face the zero means" if lost < 1e6 else "not on the blank"
            yield finding(
                "zero.face_cut_away",
                f"Before {step.operation.name} Z is touched off on the blank's top, but the place is "
                f"{amount}. Everything after would be cut too deep.",
                operation=step.operation.id,
                place=(zero.touch_x_mm, zero.touch_y_mm, sim.route.blank.top_mm - min(lost, 1e3)),
                facts=[Fact(name="cut away", value=round(min(lost, 1e3), 3))],
                cures=[
                    Cure(sentence="Zero on the waste board", edits=[set_edit(f"setups.{sim.setup.id}.zero.z", "bed")])
                ],
            )
            return


def rapid_moves(step: Step) -> np.ndarray:
    """Return which moves are rapid, bool [n]."""
    return step.path.kinds == RAPID_CODE
