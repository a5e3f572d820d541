"""A board's face and slots as plain geometry."""

from __future__ import annotations

from ..instrument.solids import Solid
from ..piece import Piece
from .features import FretSlots, Rounded, floors_of
from .surfaces import BoardFace, SlotFloors


def board_solid(piece: Piece, feature: Rounded | FretSlots) -> Solid:
    """Return the geometry of a feature that follows from a board's numbers, its crown at z = 0."""
    assert piece.board is not None
    surface: BoardFace | SlotFloors | None = BoardFace(piece.board)
    if isinstance(feature, FretSlots):
        surface = floors_of(piece.board)
    assert surface is not None
    return Solid(
        feature.id,
        feature.name,
        feature.kind,
        surface.region(),
        -surface.deepest_mm,
        feature.finish_class,
        least_floor_mm=feature.least_floor_mm,
        face=feature.face,
        surface=surface,
    )
