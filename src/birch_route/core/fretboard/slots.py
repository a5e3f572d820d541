"""What a fret slot needs and what it leaves: width against the wire, depth by the way it is cut, wood under it.

Sources: width is the tang between its barbs and the play of how frets are seated; the barbs hold. Depth below the
finished face is the tang's, something under it, and what the tip wears until it is touched off again.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..data import figures
from .face import fall_mm, height_mm
from .lines import FretLine, Plan
from .numbers import Board


@dataclass(frozen=True)
class SlotWidth:
    """Between which widths a slot holds its fret, mm."""

    least_mm: float
    most_mm: float


def width_of(board: Board) -> SlotWidth | None:
    """Return between which widths slots seat the wire as it was said; None where the tang was not read."""
    tang, barbs = board.wire.tang_mm, board.wire.barbs_mm
    if tang is None:
        return None
    fig = figures()["fretboard"]
    least, most = (tang + play for play in fig["play_mm"][board.seat])
    return SlotWidth(least, most if barbs is None else max(least, min(most, barbs - fig["holds_mm"])))


@dataclass(frozen=True)
class Slot:
    """One slot, mm. wanted: below the finished face everywhere at least; flat: below the crown, where it is cut before
    the radius with a level floor, None where its floor follows. under_crown, under_edge: wood that stays under it."""

    fret: int
    wanted_mm: float
    flat_mm: float | None
    under_crown_mm: float
    under_edge_mm: float


def slots_of(board: Board, plan: Plan) -> list[Slot]:
    """Return the slots of a board; none without the tang's depth."""
    if board.wire.tang_depth_mm is None:
        return []
    first = 0 if board.zero_fret else 1
    return [_slot(board, plan, line) for line in plan.lines[first:]]


def _slot(board: Board, plan: Plan, line: FretLine) -> Slot:
    wanted = (board.wire.tang_depth_mm or 0.0) + figures()["fretboard"]["under_mm"]
    ends = [board.thickness_mm - height_mm(board, plan, x, y) for x, y in (line.bass, line.treble)]
    crown = board.thickness_mm - fall_mm(board, plan, line.centre_mm)
    if board.floors == "following":
        return Slot(line.number, wanted, None, crown - wanted, board.thickness_mm - max(ends) - wanted)
    flat = wanted + max(ends)  # deepest where the face sags most
    return Slot(line.number, wanted, flat, board.thickness_mm - flat, board.thickness_mm - flat)
