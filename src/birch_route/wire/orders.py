"""Orders of the operations: those that are offered, and what has to come before what."""

from __future__ import annotations

from ..core.sequence.orders import OrderKind
from .base import Number, Wire


class Before(Wire):
    first: str
    then: str
    why: str


class OrderOffer(Wire):
    kind: OrderKind
    operations: list[str]
    changes: int
    minutes: Number
    more: int


class Orders(Wire):
    """changes, minutes: of the order as it stands; change_min: at the machine's side for one bit; turns: how often the
    piece is turned over, turn_min: for one."""

    changes: int
    minutes: Number
    change_min: Number
    turns: int
    turn_min: Number
    before: list[Before]
    offers: list[OrderOffer]
