"""Twins of a route and their tries."""

from __future__ import annotations

from .base import Number, Wire


class Try(Wire):
    number: int
    revision: int
    outcome: str
    note: str
    what: str
    made_by: str
    made_at: str


class TwinState(Wire):
    """moved: what it tries has changed since; force_ratio: how many times its force the good wood takes; turns: the
    piece is turned over."""

    route: int
    name: str
    of_route: int
    of_name: str
    wood: str
    wood_name: str
    thickness_mm: Number
    moved: bool
    force_ratio: Number | None
    turns: bool
    tries: list[Try]
