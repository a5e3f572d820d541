"""A neck as its page shows it."""

from __future__ import annotations

from .base import Number, Point, Wire


class LikedStation(Wire):
    at_mm: Number
    thick_mm: Number | None
    rim: Number | None
    apex: Number | None
    shift_mm: Number | None


class LikedView(Wire):
    thick_1st_mm: Number
    thick_12th_mm: Number
    rim: Number | None
    apex: Number | None
    thick_off_mm: list[Number | None]
    wide_off_mm: list[Number | None]
    stations: list[LikedStation]


class NeckRow(Wire):
    number: int
    x_mm: Number
    wide_mm: Number
    thick_mm: Number
    girth_mm: Number
    under_rod_mm: Number | None
    channel_mm: Number
    crown_mm: Number
    edge_mm: Number
    rim: Number
    apex: Number
    heel: bool
    back: list[Point]


class HeadString(Wire):
    string: int
    nut: Point
    post: Point
    break_deg: Number | None
    side_deg: Number
    held: bool
    passes: int | None
    passes_mm: Number | None


class NeckMaking(Wire):
    name: str
    long_mm: Number
    wide_mm: Number
    thick_mm: Number
    litres: Number
    words: str


class UnderCut(Wire):
    feature: str
    left_mm: Number
    x_mm: Number
    y_mm: Number


class NeckLimits(Wire):
    rod_floor_mm: Number
    rod_stop_mm: Number
    least_break_deg: Number
    most_side_deg: Number


class NeckFeatures(Wire):
    rod: str
    adjuster: str


class NeckView(Wire):
    outline: list[Point]
    rows: list[NeckRow]
    side: list[Point]
    face: list[Point]
    rod: list[Point]
    posts: list[tuple[Number, Number, Number]]
    strings: list[HeadString]
    fret_lines: list[tuple[Point, Point]]
    heel_from_mm: Number
    heel_end_mm: Number
    head_end_mm: Number
    hollow_mm: Number | None
    hollow_at_mm: Number
    least_under: list[UnderCut]
    blank_mm: Number
    makings: list[NeckMaking]
    turns: list[Number]
    hours: dict[str, Number]
    missing: list[str]
    retainer: Point | None
    ball: str | None
    shape: Point
    limits: NeckLimits
    features: NeckFeatures
