"""What a shape under the pen is placed by, and what it comes near."""

from __future__ import annotations

from .base import Number, Point, Wire


class MarkLine(Wire):
    id: str
    name: str
    along: bool
    at_mm: Number
    edge: bool


class Near(Wire):
    id: str
    name: str
    apart_mm: Number
    least_mm: Number | None
    at: Point
    to: Point


class HoleGrid(Wire):
    along: int
    across: int
    apart_mm: Number
    rows_mm: Number
    angle_deg: Number


class OnScale(Wire):
    from_nut_mm: Number
    part: Number
    fret: Number


class Places(Wire):
    """What a drawn shape is placed by, and what it comes near."""

    feature: str
    x_mm: Number
    y_mm: Number
    fixed: str
    lines: list[MarkLine]
    near: list[Near]
    grid: HoleGrid | None
    leaves_mm: Number | None
    on_scale: OnScale | None
