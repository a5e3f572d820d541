"""What becomes of a jig in the shop: its use, its wear and what that does to its errors, and when it has paid for itself."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..data import figures
from .model import JigRecord


@dataclass(frozen=True)
class Kept:
    """How a jig stands. play_mm: as last found, None: never looked at. expected_mm: its errors together, with that play in place of its first. saves_min: for each piece;
    pays_after: pieces until it has saved what it cost; saved_min: so far, less its cost."""

    pieces: int
    play_mm: float | None
    worn: bool
    look_again: bool
    expected_mm: float
    cost_min: float
    saves_min: float
    told: bool  # whether a person said what it saves
    pays_after: int
    saved_min: float
    place: str


def kept(record: JigRecord, notes: Sequence[dict[str, Any]], cost_min: float) -> Kept:
    """Return how a jig stands.

    Args:
        notes: what was noted of it, the newest first: what, pieces, play_mm, saved_min, place.
        cost_min: minutes to make it.

    Source: independent errors add by their squares; the limits are figures.jigs, unverified.
    """
    fig = figures()["jigs"]
    pieces = sum(n["pieces"] for n in notes)
    play = next((n["play_mm"] for n in notes if n["play_mm"] is not None), None)
    since = 0
    for n in notes:
        if n["play_mm"] is not None or n["what"] == "mended":
            break
        since += n["pieces"]
    told = next((n["saved_min"] for n in notes if n["saved_min"] is not None), None)
    saves = told if told is not None else fig["saves_min"]
    errors = [e.off_mm for e in record.errors]
    if play is not None and errors:
        errors[0] = max(errors[0], play)
    return Kept(pieces, play, play is not None and play > fig["play_most_mm"], since >= fig["look_after"], math.sqrt(sum(e**2 for e in errors)), cost_min, saves, told is not None,
                math.ceil(cost_min / saves) if saves > 0 else 0, pieces * saves - cost_min, next((n["place"] for n in notes if n["place"]), ""))
