"""A surface from an STL file laid on a piece, as plain data."""

from __future__ import annotations

from typing import Any

import shapely

from ..core.errors import InputError
from ..core.instrument.reliefs import lay_surface, pack_depths
from .stl import read_stl


def surface_of(
    data: bytes, name: str, outline: str, turn_deg: float, scale: float, underside: bool, cell_mm: float
) -> dict[str, Any]:
    """Return a surface as the depths of a relief.

    Args:
        outline: of the piece, WKB as hex. scale: mm in one of the file's units. underside: its lower side is the one
            to cut.

    Raises:
        InputError: the file cannot be read, or nothing of it lies over the piece.
    """
    region = shapely.from_wkb(bytes.fromhex(outline))
    if not isinstance(region, shapely.Polygon):
        raise InputError("The piece has no outline that a surface could lie on.", where="outline")
    laid = lay_surface(
        read_stl(data, name), region, turn_deg=turn_deg, scale=scale, seen_from_below=underside, cell_mm=cell_mm
    )
    ny, nx = laid.depth_mm.shape
    return {
        "ny": ny,
        "nx": nx,
        "depths": pack_depths(laid.depth_mm),
        "deepest_mm": laid.deepest_mm,
        "x0_mm": laid.x0_mm,
        "y0_mm": laid.y0_mm,
        "cell_mm": laid.cell_mm,
        "covers": laid.covers,
    }
