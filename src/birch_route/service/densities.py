"""What a board weighs for its size."""

from __future__ import annotations


def density(length_mm: float, width_mm: float, thickness_mm: float, weighed_kg: float | None) -> float | None:
    """Return kg/m3 of a weighed board, None where it was not weighed."""
    return None if weighed_kg is None else weighed_kg / (length_mm * width_mm * thickness_mm * 1e-9)
