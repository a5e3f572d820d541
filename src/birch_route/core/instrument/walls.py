"""The least wood that is to stay beside what is cut: to the outside, and between two features."""

from __future__ import annotations

from collections.abc import Collection

from ..data import figures
from .solids import Solid

DEEP_MM = 6.0  # what is shallower than this stands beside another without a wall that could break


def insert_wall(diameter_mm: float) -> float:
    """Return the wood an insert needs around it, mm (figures.screws)."""
    fig = figures()["screws"]
    least: float = max(fig["insert_least_mm"], fig["insert_diameters"] * diameter_mm)
    return least


def least_to_outside(one: Solid, thick_mm: float, inserts: Collection[str] = ()) -> float:
    """Return the wood a feature is to keep to the outside, mm (figures.walls_mm).

    Args:
        thick_mm: of the finished piece.
        inserts: ids of holes that an insert is screwed or pressed into.
    """
    if one.id in inserts:
        return insert_wall(one.diameter_mm)
    fig = figures()["walls_mm"]
    least: float = fig["to_outside"] if one.kind == "pocket" and one.deep_mm(thick_mm) > DEEP_MM else fig["hole_to_rim"]
    return least


def least_apart(one: Solid, other: Solid, thick_mm: float, inserts: Collection[str] = ()) -> float | None:
    """Return the wood two features beside each other are to keep between them, mm; None where one is too shallow for a
    wall. Arguments as in `least_to_outside`."""
    fig = figures()["walls_mm"]
    needs = [insert_wall(s.diameter_mm) for s in (one, other) if s.id in inserts]
    if not needs and min(one.deep_mm(thick_mm), other.deep_mm(thick_mm)) < DEEP_MM:
        return None
    least: float = max([fig["hole_to_rim"] if "hole" in (one.kind, other.kind) else fig["between"], *needs])
    return least
