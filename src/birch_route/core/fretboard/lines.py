"""Where frets lie on a board, and how wide it is there.

Source: twelve equal steps to the octave, x_n = L (1 - 2^(-n/12)). One scale: measured along the centre line, slots
square to it. Two scales: each row is measured along its own outer string's line from its own zero, the zeros set so
that the chosen fret stands square to the centre line; a slot is the straight line through both points.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..instrument.scale import fret_distance
from .numbers import Board

NEAR_MM = 1e-9
MOST_ROUNDS = 60

Point = tuple[float, float]


@dataclass(frozen=True)
class FretLine:
    """One fret, mm: its slot from the bass edge of the board to the treble edge; centre: where it crosses the centre
    line, from scale zero."""

    number: int
    bass: Point
    treble: Point
    centre_mm: float

    @property
    def wide_mm(self) -> float:
        """The board's width along the slot."""
        return math.dist(self.bass, self.treble)

    @property
    def mirrored(self) -> FretLine:
        """The same on a board for the other hand."""
        (bx, by), (tx, ty) = self.bass, self.treble
        return replace(self, bass=(bx, -by), treble=(tx, -ty))

    def x_at(self, y_mm: float) -> float:
        """Return where it lies beside the centre line."""
        lean = (self.treble[0] - self.bass[0]) / (self.treble[1] - self.bass[1])
        return self.centre_mm + lean * y_mm

    @property
    def slant_deg(self) -> float:
        """Its angle from square, treble end to the tail above 0."""
        return math.degrees(math.atan2(self.treble[0] - self.bass[0], self.treble[1] - self.bass[1]))


@dataclass(frozen=True)
class Plan:
    """A board in plan, mm from scale zero. lines: fret 0 (nut or zero fret) first. end: of the board on the centre
    line; widths run straight from width_nut at 0 to width_end there."""

    lines: list[FretLine]
    end_mm: float
    width_nut_mm: float
    width_end_mm: float

    def half_mm(self, x_mm: float) -> float:
        """Return half the board's width at a place along the centre line."""
        return (self.width_nut_mm + (self.width_end_mm - self.width_nut_mm) * x_mm / self.end_mm) / 2


def plan_of(board: Board) -> Plan:
    """Return where the frets of a board lie; of a left-handed one with the bass strings to +y."""
    plan = _plan_of(board)
    if not board.left_handed:
        return plan
    return replace(plan, lines=[one.mirrored for one in plan.lines])


def _plan_of(board: Board) -> Plan:
    if board.bass_scale_mm is None:
        places = [fret_distance(board.scale_mm, n) for n in range(board.frets + 1)]
        end = places[-1] + board.past_last_fret_mm
        plan = Plan([], end, board.width_nut_mm, board.width_end_mm)
        lines = [FretLine(n, (x, -plan.half_mm(x)), (x, plan.half_mm(x)), x) for n, x in enumerate(places)]
        return Plan(lines, end, board.width_nut_mm, board.width_end_mm)
    return _slanted(board)


def _slanted(board: Board) -> Plan:
    """Return the plan of a board with two scales: how the strings spread depends on where the board ends, and that on
    the last fret; a few rounds settle it."""
    assert board.bass_scale_mm is not None
    end = fret_distance(max(board.scale_mm, board.bass_scale_mm), board.frets) + board.past_last_fret_mm
    for _ in range(MOST_ROUNDS):
        plan = Plan([], end, board.width_nut_mm, board.width_end_mm)
        lines = _fan(board, plan)
        after = max(max(lines[-1].bass[0], lines[-1].treble[0]) + board.past_last_fret_mm, 1.0)
        if abs(after - end) < NEAR_MM:
            break
        end = after
    return Plan(lines, end, board.width_nut_mm, board.width_end_mm)


def _fan(board: Board, plan: Plan) -> list[FretLine]:
    """Return slanted frets in a plan whose end is given."""
    assert board.bass_scale_mm is not None
    spread = (plan.width_end_mm - plan.width_nut_mm) / 2 / plan.end_mm  # how an edge, and so a string, runs outward
    along = 1 / math.hypot(1.0, spread)  # of a way along the string, what it goes along the centre line
    land = board.edge_land_mm
    bass = [fret_distance(board.bass_scale_mm, n) * along for n in range(board.frets + 1)]
    treble = [fret_distance(board.scale_mm, n) * along for n in range(board.frets + 1)]
    behind = bass[board.square_fret] - treble[board.square_fret]  # the treble row's zero, seen from the bass row's

    def half_at(x: float) -> float:
        """How far from the centre line the outer strings lie."""
        return plan.half_mm(x) - land

    def crossing(zero: float) -> float:
        """Where the line of fret 0 crosses the centre line, the bass row's zero lying at `zero`."""
        b, t = (zero, -half_at(zero)), (zero + behind, half_at(zero + behind))
        return b[0] + (t[0] - b[0]) * -b[1] / (t[1] - b[1])

    zero = 0.0
    for _ in range(MOST_ROUNDS):  # scale zero crosses the centre line at x = 0
        off = crossing(zero)
        zero -= off
        if abs(off) < NEAR_MM:
            break
    out = []
    for n in range(board.frets + 1):
        xb, xt = zero + bass[n], zero + behind + treble[n]
        out.append(_line(n, (xb, -half_at(xb)), (xt, half_at(xt)), plan))
    return out


def _line(number: int, b: Point, t: Point, plan: Plan) -> FretLine:
    """Return the line through two points, lengthened to both edges of the board."""
    lean = (t[0] - b[0]) / (t[1] - b[1])  # x for each mm of y
    centre = b[0] - b[1] * lean
    spread = (plan.width_end_mm - plan.width_nut_mm) / 2 / plan.end_mm
    half = plan.width_nut_mm / 2
    # y = half + spread x on the treble edge, its mirror on the bass one; x = centre + lean y
    treble = (half + spread * centre) / (1 - spread * lean)
    bass = -(half + spread * centre) / (1 + spread * lean)
    return FretLine(number, (centre + lean * bass, bass), (centre + lean * treble, treble), centre)
