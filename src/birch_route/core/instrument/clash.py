"""What a rule over placed parts says: something does not fit."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True)
class Clash:
    """A part, hole or screw that does not fit. has_mm against needs_mm, mm; place in the piece's frame, mm; edits mend
    it and label says in words what they do, empty where nothing does."""

    code: str
    placement: str
    words: str
    has_mm: float
    needs_mm: float
    place: tuple[float, float]
    edits: list[dict[str, Any]] = field(default_factory=list)
    label: str = ""


def set_place(placement: str, name: str, value: float) -> dict[str, Any]:
    """The edit that sets one figure of a placement."""
    return {"do": "set", "path": f"piece.placements.{placement}.{name}", "value": value}
