"""Cut the slots of a board before its radius or after it."""

from __future__ import annotations

from ..errors import InputError
from ..fretboard.features import FACE, SLOTS, floors_of
from ..piece import Piece
from ..route import Operation, Route
from .board import order_words
from .propose import with_touch_offs


def slots_when(route: Route, floors: str) -> Route:
    """Return the route of a board with its slots cut before its radius, each with a level floor, or after it, along the
    face.

    Raises:
        InputError: the piece is no board made from numbers.
    """
    board = route.piece.board
    if board is None:
        raise InputError("Only a board made from numbers has fret slots of its own.", where="piece.board")
    numbers = {**board.model_dump(mode="json"), "floors": floors}
    piece = Piece.model_validate({**route.piece.model_dump(mode="json"), "board": numbers})
    moved = [o for o in route.operations if SLOTS in o.features]
    rest = [o for o in route.operations if o not in moved]
    over = [k for k, o in enumerate(rest) if FACE in o.features]
    if moved and over and all(o.setup == moved[0].setup for o in rest):
        at = over[-1] + 1 if floors == "following" else over[0]
        rest = [*rest[:at], *moved, *rest[at:]]
        operations = with_touch_offs([o if o not in moved else _said(o, piece) for o in rest])
        return route.model_copy(update={"piece": piece, "operations": operations})
    return route.model_copy(update={"piece": piece})


def _said(operation: Operation, piece: Piece) -> Operation:
    floors = floors_of(piece.board) if piece.board is not None else None
    if floors is None:
        return operation
    return operation.model_copy(update={"reasons": {**operation.reasons, "order": order_words(floors)}})
