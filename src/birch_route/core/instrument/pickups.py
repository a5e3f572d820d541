"""The pocket a pickup needs: as large as its ring with a gap round it, as deep as it is with room below its legs."""

from __future__ import annotations

from typing import Any

from ..data import figures


def pickup_pocket(
    part: str, feature_id: str, name: str, x_mm: float, y_mm: float = 0.0, angle_deg: float = 0.0
) -> dict[str, Any]:
    """Return the document of a pickup's pocket; its depth is that of figures.pickup until the pickup is read."""
    fig = figures()["pickup"]
    place = {"x_mm": x_mm, "y_mm": y_mm, "angle_deg": angle_deg}
    return {
        "kind": "pocket", "id": feature_id, "name": name,
        "shape": {"kind": "part_rectangle", "part": part, "gap_mm": fig["gap_mm"], **place},
        "depth_mm": fig["depth_mm"], "least_floor_mm": fig["floor_mm"],
        "depth_from": {"kind": "reading", "part": part, "place": "depth", "plus_mm": fig["below_mm"]},
    }
