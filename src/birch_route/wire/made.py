"""Pieces made here that another piece fits, as the page of a job shows them."""

from __future__ import annotations

from typing import Any

from .base import Number, Wire


class BoardHere(Wire):
    route: int
    job: str
    board: dict[str, Any]


class NeckHere(Wire):
    route: int
    job: str
    revision: int


class TakenNeck(Wire):
    part: str
    route: int
    job: str
    revision: int
    newest: int | None
    differ: dict[str, Number]


class MadeState(Wire):
    necks: list[NeckHere]
    taken: list[TakenNeck]
