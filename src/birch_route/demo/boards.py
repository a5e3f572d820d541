"""The boards of the demo: one of one scale, its slots before its radius; one of two scales, its slots after it."""

from __future__ import annotations

from ..core.fretboard.numbers import Board, Wire
from ..core.plane.curves import Chain
from ..core.route import Route
from ..core.sequence.start import Start, start_board, start_route
from ..core.vocabulary import PieceKind
from .shop import BITS, MACHINES, MORE_BITS

WIRE = Wire(
    crown_mm=1.2, tang_depth_mm=1.6,
    readings={"tang_mm": [0.58, 0.57, 0.59], "barbs_mm": [0.86, 0.86, 0.86]},
)
MINE = ["edge_land_mm", "seat", "before_nut_mm", "past_last_fret_mm"]
DUNNOCK = Board(
    scale_mm=635.0, frets=22, width_nut_mm=43.0, width_end_mm=56.5, radius_nut_mm=254.0, radius_end_mm=406.0,
    thickness_mm=6.0, before_nut_mm=6.0, nut_slot_mm=3.2, nut_deep_mm=2.0, wire=WIRE,
    marker_mm=6.0, marker_deep_mm=2.0, side_dots=True, mine=MINE,
)
PLOVER = Board(
    scale_mm=635.0, bass_scale_mm=673.0, square_fret=8, frets=24, strings=7, width_nut_mm=48.0, width_end_mm=66.0,
    radius_nut_mm=406.0, radius_end_mm=406.0, thickness_mm=6.5, marker_mm=5.0, marker_deep_mm=2.0, wire=WIRE,
    floors="following", ends="slanted", binding_mm=1.5, mine=MINE,
)


def board_route(name: str, board: Board) -> Route:
    """Return the job of a board as New job makes it."""
    nothing = Chain(vertices=[(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (1.0, 1.0, 0.0)])
    bits = [dict(b) for b in (*BITS, *MORE_BITS)]
    start = Start(name, PieceKind.FRETBOARD, nothing, "rosewood", 6.0, MACHINES[0], bits, skim_mm=0.5)
    return start_route(start_board(start, board))
