"""Answers about materials: the table's and the shop's own."""

from __future__ import annotations

from typing import Literal

from ..core.data import Wood
from .base import Number, Wire

Sort = Literal["wood", "sheet", "plastic", "shell", "metal"]


class WeighedRow(Wire):
    """What weighed boards say; spread: one standard deviation."""

    count: int
    mean_kg_m3: Number
    spread_kg_m3: Number | None


class MaterialRow(Wire):
    """A material as the shop has it. told_kg_m3: before its boards were weighed; revision: 0 for one of the table."""

    wood: Wood
    sort: Sort
    own: bool
    revision: int
    told_kg_m3: Number
    weighed: WeighedRow | None
    moisture_pct: Number | None


class MaterialKept(Wire):
    material: str
    materials: list[MaterialRow]
