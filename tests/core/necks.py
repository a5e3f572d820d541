"""Necks for tests: numbers of our own, and the route a new job makes of them."""

from birch_route.core.fretboard.numbers import Board
from birch_route.core.neck.numbers import USUAL, Bars, Bolts, Head, Neck, Rod, Tuners
from birch_route.core.plane.curves import Chain
from birch_route.core.sequence.start import Start, neck_route
from birch_route.core.vocabulary import PieceKind
from birch_route.demo.shop import BITS, MACHINES, MORE_BITS

RACK = [*BITS, *MORE_BITS]
MINE = list(USUAL)
ROD = {"width_mm": 6.0, "deep_mm": 9.0, "long_mm": 390.0}
TUNERS = {"post_mm": 8.0, "bush_mm": 10.0, "bush_deep_mm": 6.0, "pitch_mm": 36.0, "hole_mm": 4.0,
          "least_thick_mm": 12.0, "most_thick_mm": 16.0}


def board(**more):
    base = {"scale_mm": 635.0, "width_nut_mm": 43.0, "width_end_mm": 56.0, "radius_nut_mm": 305.0,
            "radius_end_mm": 305.0, "thickness_mm": 6.0}
    return Board(**{**base, **more})


def neck(*, rod=None, tuners=None, head=None, bars=None, bolts=None, on=None, **more):
    base = {"thick_1st_mm": 21.0, "thick_12th_mm": 22.6, "mine": MINE}
    return Neck(board=on or board(), rod=Rod(**{**ROD, **(rod or {})}), tuners=Tuners(**{**TUNERS, **(tuners or {})}),
                head=Head(**(head or {})), bars=Bars(**(bars or {})), bolts=Bolts(**(bolts or {})), **{**base, **more})


def the_route(one=None, *, wood="hard_maple", bits=RACK, machine=None, **more):
    """Return the route of a new job from a neck's numbers."""
    nothing = Chain(vertices=[(0, 0, 0), (1, 0, 0), (1, 1, 0)])
    start = Start(job="Neck", kind=PieceKind.NECK, outline=nothing, wood=wood, thickness_mm=20.0,
                  machine=machine or MACHINES[0], bits=[dict(b) for b in bits])
    return neck_route(start, one or neck(**more))
