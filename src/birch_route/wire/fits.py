"""What is told of fits."""

from __future__ import annotations

from typing import Any

from ..core.fits import Went
from .base import Number, Wire


class FitRow(Wire):
    """One that was kept. withdrawn: by whom; empty where it counts."""

    id: Number
    feature: str
    revision: Number
    wood: str
    machine: str
    bit: str
    drawn_mm: Number
    part_mm: Number
    gap_mm: Number
    left_mm: Number
    measured_mm: Number | None
    went: Went
    note: str
    made_by: str
    made_at: str
    withdrawn: str


class FitOffer(Wire):
    """What records say, and the edits that do it; none where it is done already."""

    words: str
    edits: list[dict[str, Any]]


class FitLadder(Wire):
    """Pockets on scrap for the same part, gaps on each side."""

    across_mm: Number
    first_gap_mm: Number
    step_mm: Number
    count: int


class FitPocket(Wire):
    """A pocket that a measured part goes into. across: where its size is read; left_mm: on each wall when the part can
    be tried."""

    feature: str
    name: str
    across: str
    drawn_mm: Number
    part_mm: Number
    gap_mm: Number
    left_mm: list[Number]
    kept: list[FitRow]
    ladder: FitLadder | None
    gap: FitOffer | None
    past: FitOffer | None
