"""The necks of the demo: one with a level headstock that the Siskin body fits, one whose headstock leans."""

from __future__ import annotations

from ..core.fretboard.numbers import Board, Wire
from ..core.neck.numbers import USUAL, Bolts, Head, Neck, Rod, Tuners
from ..core.plane.curves import Chain
from ..core.route import Route
from ..core.sequence.start import Start, neck_route
from ..core.vocabulary import PieceKind
from .shop import BITS, MACHINES, MORE_BITS

TUNERS = Tuners(post_mm=8.0, bush_mm=10.0, bush_deep_mm=6.0, pitch_mm=36.0, hole_mm=4.0, least_thick_mm=12.0,
                most_thick_mm=16.0)
SISKIN = Neck(
    board=Board(scale_mm=635.0, width_nut_mm=43.0, width_end_mm=56.5, radius_nut_mm=254.0, radius_end_mm=406.0,
                thickness_mm=6.0, wire=Wire(crown_mm=1.2)),
    thick_1st_mm=21.0, thick_12th_mm=22.6, shape="flat_oval", mine=list(USUAL), heel_mm=19.0,
    rod=Rod(width_mm=6.0, deep_mm=9.0, long_mm=390.0, adjuster_wide_mm=10.0, adjuster_long_mm=14.0,
            adjuster_deep_mm=10.0),
    tuners=TUNERS, head=Head(step_mm=7.5, retainer_mm=40.0, retainer_strings=2),
    bolts=Bolts(across_mm=38.0, along_mm=36.0, from_end_mm=12.0, bore_mm=4.8, deep_mm=14.0),
)
PLOVER = Neck(
    board=Board(scale_mm=612.0, frets=21, width_nut_mm=42.0, width_end_mm=54.0, radius_nut_mm=305.0,
                radius_end_mm=305.0, thickness_mm=6.0),
    thick_1st_mm=20.6, thick_12th_mm=22.4, shape="full_round", mine=list(USUAL), heel_from_mm=385.0, heel_mm=19.0,
    rod=Rod(width_mm=6.0, deep_mm=9.0, long_mm=370.0), tuners=TUNERS.model_copy(update={"pitch_mm": 28.0}),
    head=Head(kind="angled", angle_deg=4.0, long_mm=140.0, wide_mm=74.0),
)


def made_neck(name: str, neck: Neck, wood: str) -> Route:
    """Return the job of a neck as New job makes it."""
    nothing = Chain(vertices=[(0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (1.0, 1.0, 0.0)])
    bits = [dict(b) for b in (*BITS, *MORE_BITS)]
    return neck_route(Start(name, PieceKind.NECK, nothing, wood, 20.0, MACHINES[0], bits), neck)
