"""Several pieces alike in one setup, each at its place beside the first: on the stations of a jig, or in one blank."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..blank import Blank

Offset = tuple[float, float]


@dataclass(frozen=True)
class Together:
    """How the blanks of several pieces lie together, mm. long, wide: the box round all of them; overlap: how far two of
    them reach into each other at the most, above 0 where they are one blank."""

    long_mm: float
    wide_mm: float
    overlap_mm: float


def places_of(more_at: Sequence[Offset]) -> list[Offset]:
    """Return where every piece lies, from the first: that at 0, 0 and those beside it."""
    return [(0.0, 0.0), *((float(x), float(y)) for x, y in more_at)]


def ways_between(more_at: Sequence[Offset]) -> list[Offset]:
    """Return how far every piece lies from every other, each way once."""
    places = places_of(more_at)
    found = {
        (round(bx - ax, 6), round(by - ay, 6)): None
        for a, (ax, ay) in enumerate(places) for b, (bx, by) in enumerate(places) if a != b
    }
    return list(found)


def together(blank: Blank, more_at: Sequence[Offset]) -> Together:
    """Return the box round the blanks of all pieces and how far they overlap."""
    xs, ys = zip(*places_of(more_at), strict=True)
    overlap = 0.0
    for dx, dy in ways_between(more_at):
        overlap = max(overlap, min(blank.length_mm - abs(dx), blank.width_mm - abs(dy)))
    return Together(blank.length_mm + max(xs) - min(xs), blank.width_mm + max(ys) - min(ys), overlap)


def spread_out(more_at: Sequence[Offset], way: Offset, missing_mm: float) -> list[list[float]]:
    """Return the places of all but the first further apart, so that what lies a way from another gains what is
    missing; to the next half mm."""
    long = max(abs(way[0]), abs(way[1]), 1e-9)
    part = 1.0 + missing_mm / long
    def outward(value: float) -> float:
        return round(value * part * 2 + (0.499 if value > 0 else -0.499 if value < 0 else 0.0)) / 2
    return [[outward(x), outward(y)] for x, y in more_at]
