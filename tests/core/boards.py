"""Fretboards for tests: numbers of our own, and the route a new job makes of them."""

from birch_route.core.fretboard.numbers import Board, Wire
from birch_route.core.plane.curves import Chain
from birch_route.core.sequence.start import Start, start_board, start_route
from birch_route.core.vocabulary import PieceKind
from birch_route.demo.shop import BITS, MACHINES, MORE_BITS

WIRE = Wire(tang_depth_mm=1.6, tang_mm=0.58, barbs_mm=0.86)
MINE = ["edge_land_mm", "seat", "before_nut_mm", "past_last_fret_mm"]  # nothing of these boards is only usual
UNDER = 0.4  # below the tang
RACK = [*BITS, *MORE_BITS]


def board(**more):
    base = {"scale_mm": 648.0, "width_nut_mm": 42.5, "width_end_mm": 56.0, "radius_nut_mm": 254.0,
            "radius_end_mm": 406.0, "thickness_mm": 6.5, "before_nut_mm": 6.0, "wire": WIRE,
            "marker_mm": 6.0, "marker_deep_mm": 2.0, "nut_deep_mm": 2.5, "mine": MINE}
    return Board(**{**base, **more})


def board_route(one=None, *, skim_mm=0.5, wood="rosewood", bits=RACK, **more):
    """Return the route of a new job from a board's numbers."""
    nothing = Chain(vertices=[(0, 0, 0), (1, 0, 0), (1, 1, 0)])
    start = Start(job="Board", kind=PieceKind.FRETBOARD, outline=nothing, wood=wood, thickness_mm=6.0,
                  machine=MACHINES[0], bits=[dict(b) for b in bits], skim_mm=skim_mm)
    return start_route(start_board(start, one or board(**more)))
