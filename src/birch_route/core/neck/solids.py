"""A neck's back, its headstock's slope and its rod's channel as plain geometry."""

from __future__ import annotations

from dataclasses import replace

from ..instrument.floors import FollowingFloor
from ..instrument.solids import Solid
from ..piece import Piece
from .features import ROD, Headed, Lofted
from .surfaces import HeadFace, NeckBack, RodBow


def neck_solid(piece: Piece, feature: Lofted | Headed, thick_mm: float) -> Solid:
    """Return the geometry of a feature that follows from a neck's numbers, the glue plane at z = 0.

    Args:
        thick_mm: of the finished piece.
    """
    assert piece.neck is not None
    surface: NeckBack | HeadFace
    if isinstance(feature, Lofted):
        surface, floor = NeckBack(piece.neck, thick_mm), 0.0
    else:
        surface = HeadFace(piece.neck)
        floor = -surface.deepest_mm
    return Solid(
        feature.id, feature.name, feature.kind, surface.region(), floor, feature.finish_class,
        least_floor_mm=feature.least_floor_mm, face=feature.face, surface=surface,
    )


def bowed(piece: Piece, solid: Solid) -> Solid:
    """Return a rod's channel with its floor bowed where the rod is a one-way one; any other pocket as it is."""
    if piece.neck is None or solid.id != ROD or piece.neck.rod.kind != "one_way" or piece.neck.rod.bow_mm < 1e-6:
        return solid
    rod = piece.neck.rod
    bow = RodBow(rod.from_mm, rod.long_mm or 0.0, rod.bow_mm)
    return replace(solid, surface=FollowingFloor(solid.region, rod.deepest_mm, rod.deepest_mm, 0.0, (bow,)))
