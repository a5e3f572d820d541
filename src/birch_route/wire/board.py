"""A fretboard as its page shows it."""

from __future__ import annotations

from .base import Number, Point, Wire


class FretRow(Wire):
    number: int
    from_nut_mm: Number
    bass_from_nut_mm: Number | None
    centre_mm: Number
    bass: Point
    treble: Point
    wide_mm: Number
    slant_deg: Number
    radius_mm: Number
    edge_mm: Number
    crown_mm: Number
    wanted_mm: Number | None
    deep_mm: Number | None
    under_crown_mm: Number | None
    under_edge_mm: Number | None


class BoardString(Wire):
    number: int
    start: Point
    end: Point
    bow_mm: Number


class SlotBit(Wire):
    id: str
    name: str
    diameter_mm: Number
    ways: int


class BoardLimits(Wire):
    under_care_mm: Number
    under_stop_mm: Number
    edge_care_mm: Number
    under_mm: Number
    holds_mm: Number


class BoardView(Wire):
    outline: list[Point]
    rows: list[FretRow]
    strings: list[BoardString]
    slot_least_mm: Number | None
    slot_most_mm: Number | None
    bit: SlotBit | None
    edge_nut_mm: Number
    edge_end_mm: Number
    long_mm: Number
    dots: list[tuple[Number, Number, Number]]
    missing: list[str]
    ledges: list[list[Point]]
    bound: list[Point]
    spreads: dict[str, Number]
    frets_top_mm: Number | None
    limits: BoardLimits
