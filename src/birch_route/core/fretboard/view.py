"""A board as one answer: where every fret lies, how the face curves, what a slot needs and what it leaves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

from ..bits.model import Bit
from ..data import figures
from ..errors import InputError
from ..instrument.scale import fret_distance
from ..route import Route
from .face import bow_mm, edge_mm, fall_mm, radius_mm, sag_mm
from .features import dots_of, floors_of, ledges_of
from .lines import FretLine, Plan, plan_of
from .numbers import Board
from .slots import Slot, slots_of, width_of
from .surfaces import outline_points
from .ways import sideways, slot_bits

Point = tuple[float, float]


@dataclass(frozen=True)
class FretRow:
    """One fret. from_nut: along the centre line, or, where there are two scales, along the treble string;
    bass_from_nut: along the bass one. deep: of its slot below the crown, under: wood that stays; both None without a
    slot."""

    number: int
    from_nut_mm: float
    bass_from_nut_mm: float | None
    centre_mm: float
    bass: Point
    treble: Point
    wide_mm: float
    slant_deg: float
    radius_mm: float
    edge_mm: float
    crown_mm: float
    wanted_mm: float | None
    deep_mm: float | None
    under_crown_mm: float | None
    under_edge_mm: float | None


@dataclass(frozen=True)
class StringLine:
    """One string over the board, and how far the face stands over a straight edge along it in the middle."""

    number: int
    start: Point
    end: Point
    bow_mm: float


@dataclass(frozen=True)
class SlotBit:
    """The bit of the rack that slots are cut with, and how many ways through each make its width."""

    id: str
    name: str
    diameter_mm: float
    ways: int


@dataclass(frozen=True)
class BoardView:
    """Plain data for screen and API; lengths mm, piece's frame. missing: what nobody said yet; ledges: of a binding;
    bound: the outline with binding on its whole edges;
    spreads: how far the readings of the wire's sizes lie apart; frets_top: of the crowns over the glue plane, None
    while nobody said how high the wire's crown is."""

    outline: list[Point]
    rows: list[FretRow]
    strings: list[StringLine]
    slot_least_mm: float | None
    slot_most_mm: float | None
    bit: SlotBit | None
    edge_nut_mm: float
    edge_end_mm: float
    long_mm: float
    dots: list[tuple[float, float, float]] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)
    ledges: list[list[Point]] = field(default_factory=list)
    bound: list[Point] = field(default_factory=list)
    spreads: dict[str, float] = field(default_factory=dict)
    frets_top_mm: float | None = None


def board_of(route: Route) -> Board:
    """Return the numbers of a route's board.

    Raises:
        InputError: it is none made from numbers.
    """
    if route.piece.board is None:
        raise InputError("This piece is no board made from numbers. Start one at New job.", where="piece.board")
    return route.piece.board


def board_view(board: Board, rack: Sequence[Bit] = (), runs_out_mm: float = 0.0) -> BoardView:
    """Return what follows from the numbers of a board, and which bit of a rack cuts its slots.
    runs_out: how much wider than its bit a slot comes on the machine, mm."""
    plan, width, floors = plan_of(board), width_of(board), floors_of(board)
    bits = slot_bits(rack, floors, runs_out_mm) if floors is not None else []
    ways = len(sideways(floors, bits[0].cut_diameter_mm + runs_out_mm)) if floors is not None and bits else 0
    slots = {s.fret: s for s in slots_of(board, plan)} if floors is not None else {}
    corners = outline_points(board, plan)
    long = max(x for x, _ in corners) - min(x for x, _ in corners)
    wire = {"tang, between its barbs": board.wire.tang_mm, "tang, how deep": board.wire.tang_depth_mm}
    return BoardView(
        corners,
        [_row(board, plan, line, slots.get(line.number)) for line in plan.lines],
        _strings(board, plan),
        None if width is None else width.least_mm,
        None if width is None else width.most_mm,
        SlotBit(bits[0].id, bits[0].name, bits[0].cut_diameter_mm, ways) if bits else None,
        edge_mm(board, plan, 0.0),
        edge_mm(board, plan, plan.end_mm),
        long,
        [(x, y, board.marker_mm or 0.0) for _, points in dots_of(board, plan) for x, y in points],
        [name for name, value in wire.items() if value is None],
        ledges_of(board, plan),
        outline_points(board.model_copy(update={"binding_mm": None}), plan) if board.off_edge_mm else [],
        {k: board.wire.spread_mm(k) for k, v in board.wire.readings.items() if len(v) > 1},
        None if board.wire.crown_mm is None else board.thickness_mm + board.wire.crown_mm,
    )


def _row(board: Board, plan: Plan, line: FretLine, slot: Slot | None) -> FretRow:
    x, n = line.centre_mm, line.number
    radius = radius_mm(board, plan, x)
    fallen = fall_mm(board, plan, x)
    crown = board.thickness_mm - fallen
    two = board.bass_scale_mm
    deep = None
    if slot is not None:
        deep = slot.flat_mm if slot.flat_mm is not None else slot.wanted_mm + fallen
    return FretRow(
        n, fret_distance(board.scale_mm, n), None if two is None else fret_distance(two, n), x, line.bass, line.treble,
        line.wide_mm, line.slant_deg, radius, crown - sag_mm(radius, plan.half_mm(x)), crown,
        None if slot is None else slot.wanted_mm, deep,
        None if slot is None else slot.under_crown_mm, None if slot is None else slot.under_edge_mm,
    )


def _strings(board: Board, plan: Plan) -> list[StringLine]:
    """Strings from the bass one on, spread evenly between the outer ones, from the nut's line to the board's end."""
    out, nut, last = [], plan.lines[0], plan.end_mm
    side = -1 if board.left_handed else 1
    for k in range(board.strings):
        part = side * (-1 + 2 * k / (board.strings - 1))
        zero = nut.x_at(part * (plan.half_mm(nut.centre_mm) - board.edge_land_mm))
        start, end = ((x, part * (plan.half_mm(x) - board.edge_land_mm)) for x in (zero, last))
        out.append(StringLine(k + 1, start, end, bow_mm(board, plan, k)))
    return out


def board_answer(board: Board, rack: Sequence[Bit] = (), runs_out_mm: float = 0.0) -> dict[str, Any]:
    """Return the view as plain data, with the limits it is judged by."""
    fig = figures()["fretboard"]
    limits = {k: fig[k] for k in ("under_care_mm", "under_stop_mm", "edge_care_mm", "under_mm", "holds_mm")}
    return {**asdict(board_view(board, rack, runs_out_mm)), "limits": limits}
