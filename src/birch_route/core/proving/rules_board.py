"""Rules over a fretboard: its slots against the wire, the wood under them, its edges and its dots."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..data import figures
from ..fretboard.face import edge_mm
from ..fretboard.features import SLOTS, floors_of
from ..fretboard.lines import plan_of
from ..fretboard.numbers import USUAL, Board, WireSize
from ..fretboard.slots import slots_of
from ..fretboard.surfaces import SlotFloors
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, rule_once, set_edit
from .simulate import Simulation, Step

EVERY_MM = 0.5
WIRE_WORDS: dict[WireSize, str] = {
    "tang_mm": "the tang between its barbs", "barbs_mm": "across the barbs", "tang_depth_mm": "how deep the tang is",
}


@rule_once
def board_numbers(sim: Simulation) -> Iterator[Finding]:
    """What a board's numbers say before a chip flies: slots nobody can cut, barbs that hold nothing, thin edges, an end
    that splits, dots in a slot."""
    board = sim.whole.piece.board
    if board is None:
        return
    fig, plan = figures()["fretboard"], plan_of(board)
    tang, barbs = board.wire.tang_mm, board.wire.barbs_mm
    if floors_of(board) is None:
        yield finding(
            "slot.no_tang",
            "No fret slots are cut: nobody said how wide and how deep the wire's tang is. Read both off the wire or "
            "its packet, and type them on the board's page.",
        )
    elif barbs is not None and tang is not None and barbs - tang < fig["holds_mm"] + fig["play_mm"][board.seat][0]:
        yield finding(
            "slot.barbs",
            f"The barbs are {mm(barbs - tang):.2f} wider than the tang: a slot that takes the tang is not "
            f"{mm(fig['holds_mm']):.1f} narrower than across them, and holds little. Measure both again, or glue the "
            f"frets.",
            facts=[Fact(name="barbs", value=barbs), Fact(name="tang", value=tang)],
        )
    thin = min(edge_mm(board, plan, x) for x in (0.0, plan.end_mm))
    if thin < fig["edge_care_mm"]:
        yield finding(
            "board.edge_thin",
            f"After the radius the board's edge is {mm(thin):.2f} thick, less than {mm(fig['edge_care_mm']):.1f}. Make "
            f"the board thicker, or its radius larger.",
            facts=[
                Fact(name="edge", value=round(thin, 3)),
                Fact(name="asked", value=fig["edge_care_mm"], source="figures"),
            ],
        )
    ends = [(board.past_last_fret_mm, "past its last slot")]
    if board.zero_fret:
        ends.append((board.before_nut_mm, "before its zero fret"))
    for left, where in ends:
        if left < fig["end_care_mm"]:
            yield finding(
                "board.end_short",
                f"The board ends {mm(left):.1f} {where}, less than {mm(fig['end_care_mm']):.1f}: the end may split off "
                f"when the fret goes in. Let it reach further.",
                facts=[Fact(name="beside the slot", value=left)],
            )
    yield from _other_thickness(sim, board)
    yield from _dots(sim)
    yield from _ledges(board)


def _ledges(board: Board) -> Iterator[Finding]:
    """Slots whose floors lie below the ledge that covers their ends show under the binding."""
    floors = floors_of(board)
    if board.binding_mm is None or board.binding_deep_mm is None or floors is None or board.blind:
        return
    deep = floors.deepest_mm
    if deep > board.binding_deep_mm + 1e-6:
        yield finding(
            "board.ledge_shallow",
            f"Fret slots go {mm(deep):.2f} below the crown, the binding's ledge {mm(board.binding_deep_mm):.2f}: their "
            f"ends show under the binding. Cut the ledge deeper, or let the slots end inside it.",
            facts=[Fact(name="slots", value=round(deep, 3)), Fact(name="ledge", value=board.binding_deep_mm)],
            cures=[Cure(sentence="Let the slots end inside the edges", edits=[set_edit("piece.board.blind", True)])],
        )


@rule_once
def board_said(sim: Simulation) -> Iterator[Finding]:
    """What nobody has said of a board: usual numbers that decide a cut hold it; parts without a size are not cut."""
    board = sim.whole.piece.board
    if board is None:
        return
    unsaid = board.unsaid()
    for cut in dict.fromkeys(USUAL[n][1] for n in unsaid):
        names = [n for n in unsaid if USUAL[n][1] == cut]
        told = "; ".join(f"{USUAL[n][0]} {_as_said(board, n)}" for n in names)
        yield finding(
            "board.unsaid",
            f"{cut}: nobody said for this board what decides them, and the usual stands there: {told}. Type what it is "
            f"to be, or say that it is meant.",
            feature=SLOTS if cut == "Fret slots" else sim.whole.piece.outline.id,
            facts=[Fact(name="numbers nobody said", value=len(names), unit="")],
            cures=[Cure(sentence=f"{cut}: meant as it stands",
                        edits=[{"do": "say_mine", "path": f"piece.board.{n}"} for n in names])],
        )
    waits = []
    if board.markers and not board.has_dots:
        waits.append(("dots", "how large and how deep they are"))
    if board.nut_slot_mm is not None and board.nut_deep_mm is None:
        waits.append(("the nut's slot", "how deep it is"))
    for what, missing in waits:
        yield finding(
            "board.waits", f"Nothing is cut for {what}: nobody said {missing}. Type it on the board's page.",
            cures=[Cure(sentence="No dots on the face", edits=[set_edit("piece.board.markers", False)])]
            if what == "dots" else [],
        )
    yield from _readings(board)


def _as_said(board: Board, name: str) -> str:
    value = getattr(board, name)
    return f"“{value}”" if isinstance(value, str) else f"{mm(value):.2f}"


def _readings(board: Board) -> Iterator[Finding]:
    """A tang whose readings lie further apart than its slot has to play, and one that nobody of this shop read."""
    least, most = figures()["fretboard"]["play_mm"][board.seat]
    spread = board.wire.spread_mm("tang_mm")
    if spread > most - least + 1e-9:
        yield finding(
            "slot.readings",
            f"Readings of the tang lie {mm(spread):.2f} apart; a slot has {mm(most - least):.2f} to play. Clean the "
            f"jaws, read it again between the barbs, or sort the wire.",
            facts=[
                Fact(name="spread", value=round(spread, 3), source="reading"),
                Fact(name="play", value=round(most - least, 3), source="figures"),
            ],
        )
    told = [words for name, words in WIRE_WORDS.items()
            if getattr(board.wire, name) is not None and not board.wire.readings.get(name)]
    if told:
        yield finding(
            "slot.told",
            f"Of the wire nobody of this shop has read: {'; '.join(told)}. It is told, as from its packet: the slot in "
            f"scrap shows whether it is true.",
        )


def _other_thickness(sim: Simulation, board: Board) -> Iterator[Finding]:
    """The blank gives another thickness at the crown than the board's numbers say."""
    blank, gives = sim.whole.blank, sim.whole_resolved.thickness_mm
    off = gives - board.thickness_mm
    if abs(off) <= figures()["fretboard"]["shallow_mm"] + 1e-9:
        return
    wanted = round(blank.thickness_mm - off, 3)
    cures = [] if blank.layers else [
        Cure(sentence=f"Blank {mm(wanted):g} thick", edits=[set_edit("blank.thickness_mm", wanted)])
    ]
    yield finding(
        "board.thickness_off",
        f"The board is to be {mm(board.thickness_mm):.2f} thick at its crown; its blank gives {mm(gives):.2f}. What "
        f"stays under its slots is judged by the blank.",
        cures=cures,
        facts=[Fact(name="blank gives", value=round(gives, 3)), Fact(name="asked", value=board.thickness_mm)],
    )


def _dots(sim: Simulation) -> Iterator[Finding]:
    solids = sim.whole_resolved.solids
    slots = solids.get(SLOTS)
    if slots is None:
        return
    least = figures()["fretboard"]["dot_wall_mm"]
    for dot in (s for s in solids.values() if s.kind == "hole" and s.id.startswith("dot")):
        apart = float(dot.region.distance(slots.region))
        if apart < least:
            x, y = dot.points[0]
            yield finding(
                "board.dot_at_slot",
                f"{dot.name} comes within {mm(apart):.2f} of a fret slot; {mm(least):.1f} should stand between them. "
                f"Take smaller dots.",
                feature=dot.id,
                place=(x, y, 0.0),
                facts=[Fact(name="apart", value=round(apart, 3)), Fact(name="asked", value=least, source="figures")],
            )


@rule_on_wood
def slot_floors(sim: Simulation) -> Iterator[Finding]:
    """What stands under the slots, and whether they are as deep below the finished face as the tang asks for."""
    board = sim.whole.piece.board
    solid = sim.resolved.solids.get(SLOTS)
    step = next((s for s in reversed(sim.steps) if SLOTS in s.operation.features), None)
    if board is None or solid is None or step is None or step.cannot_enter:
        return
    assert isinstance(solid.surface, SlotFloors)
    fig, thick = figures()["fretboard"], sim.frame.thickness_mm
    if step.bit.cut_diameter_mm < 3 * sim.grid.cell_mm:
        yield finding(
            "slot.unseen",
            f"The blank is so large that it is proved in cells of {mm(sim.grid.cell_mm):.2f}: what stays under slots "
            f"{mm(step.bit.cut_diameter_mm):.2f} wide is not judged. Take a smaller blank.",
            operation=step.operation.id,
        )
        return
    wanted = slots_of(board, plan_of(board))[0].wanted_mm
    rows = [_floor(sim, solid.surface, k, wanted) for k in range(len(solid.surface.ways))]
    yield from _thin(board, step, rows, thick, fig)
    shallow = [r for r in rows if r[2] > fig["shallow_mm"]]
    if shallow:
        worst = max(shallow, key=lambda r: r[2])
        yield finding(
            "slot.shallow",
            f"{_count(len(shallow))} floors up to {mm(worst[2]):.2f} too high: the tang and what is left under "
            f"it ask for {mm(wanted):.2f} below the finished face. Cut the slots down to their floor, the face to its "
            f"radius.",
            operation=step.operation.id,
            feature=SLOTS,
            place=worst[3],
            facts=[Fact(name="short", value=round(worst[2], 3)), Fact(name="wanted", value=round(wanted, 3))],
        )


Row = tuple[float, tuple[float, float, float], float, tuple[float, float, float]]


def _floor(sim: Simulation, floors: SlotFloors, slot: int, wanted: float) -> Row:
    """Return the least wood under one slot and where, and how much it lacks of its depth below the finished face and
    where; looked at along its middle."""
    a, b = (np.array(p) for p in floors.ways[slot])
    long = float(np.hypot(*(b - a)))
    inset = figures()["fretboard"]["clear_of_ends_mm"] + (floors.width_mm if floors.blind else 0.0)
    s = np.linspace(inset, long - inset, max(3, int(long / EVERY_MM)))
    at = a + s[:, None] * (b - a) / long
    grid = sim.grid
    i = np.clip(((at[:, 0] - grid.x0_mm) / grid.cell_mm).astype(int), 0, grid.nx - 1)
    j = np.clip(((at[:, 1] - grid.y0_mm) / grid.cell_mm).astype(int), 0, grid.ny - 1)
    top = np.maximum(sim.result[j, i], sim.bottom[j, i]).astype(float)
    left = top - sim.bottom[j, i] - (sim.whole.blank.skim_back_mm if sim.frame.about is None else 0.0)
    short = wanted - (-floors.face.depth(at[:, 0], at[:, 1]) - sim.result[j, i].astype(float))
    low, high = int(left.argmin()), int(short.argmax())
    places = [(float(at[k, 0]), float(at[k, 1]), float(top[k])) for k in (low, high)]
    return float(left[low]), places[0], float(short[high]), places[1]


def _thin(board: Board, step: Step, rows: list[Row], thick: float, fig: dict[str, float]) -> Iterator[Finding]:
    care, stop = fig["under_care_mm"], fig["under_stop_mm"]
    thin = [r for r in rows if r[0] < care - 1e-4]
    if not thin:
        return
    worst = min(thin, key=lambda r: r[0])
    grave = worst[0] < stop - 1e-4
    follow = "" if board.floors == "following" else " Floors that follow the radius leave more under the crown."
    yield finding(
        "slot.through" if grave else "slot.floor_thin",
        f"{_count(len(thin))} only {mm(worst[0]):.2f} of wood under the floor, of a board {mm(thick):.1f} thick; "
        f"{mm(stop if grave else care):.1f} is the least.{follow} Or make the board thicker.",
        operation=step.operation.id,
        feature=SLOTS,
        place=worst[1],
        facts=[
            Fact(name="under", value=round(worst[0], 3)),
            Fact(name="least", value=stop if grave else care, source="figures"),
        ],
    )


def _count(slots: int) -> str:
    return "One fret slot has" if slots == 1 else f"{slots} fret slots have"

