"""A surface from a file as a relief of a piece: read, laid on the outline, cut by proposed operations."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..core.errors import InputError
from ..core.instrument.resolve import resolve
from ..core.route import Route
from ..core.vocabulary import BitForm, Face
from ..jobs.fence import SURFACE, read_fenced

UNITS = {"mm": 1.0, "inch": 25.4}
COARSE_MM, FINE_MM = 0.5, 0.25
COVERS = 0.98  # a surface that covers less of the outline is told


def relief_edits(
    route: Route,
    data: bytes,
    name: str,
    *,
    face: Face = Face.FRONT,
    unit: str = "mm",
    turn_deg: float = 0.0,
    underside: bool = False,
    fine: bool = False,
    watch: Callable[[float], None] = lambda _: None,
) -> list[dict[str, Any]]:
    """Return the edits that form a face by a surface from an STL file, which is read behind a fence.

    Args:
        watch: asked a few times a second; raises to end the reading. unit: of the file's numbers. fine: keep FINE_MM
            instead of COARSE_MM between depths, for sharp rims; the route gets larger. underside: its lower side is
            the one to cut.

    Raises:
        InputError: the file cannot be read, or nothing of it lies over the piece.
    """
    if unit not in UNITS:
        raise InputError(f"A surface is in mm or inch, not in {unit}.", where="unit")
    options = {
        "name": name,
        "outline": resolve(route).outline.wkb_hex,
        "turn_deg": turn_deg,
        "scale": UNITS[unit],
        "underside": underside,
        "cell_mm": FINE_MM if fine else COARSE_MM,
    }
    laid = read_fenced("surface", data, options, SURFACE, watch=watch)
    used = {f.id for f in route.features}
    number = next(k for k in range(1, 100) if f"relief_{k}" not in used)
    item = {
        "kind": "relief",
        "id": f"relief_{number}",
        "name": f"Relief {number}" if number > 1 else "Relief",
        "face": face.value,
        "x0_mm": round(laid["x0_mm"], 4),
        "y0_mm": round(laid["y0_mm"], 4),
        "cell_mm": laid["cell_mm"],
        "nx": laid["nx"],
        "ny": laid["ny"],
        "depths": laid["depths"],
        "depth_mm": round(laid["deepest_mm"], 3),
        "origin": (
            name
            if laid["covers"] >= COVERS
            else f"{name}, which covers {laid['covers']:.0%} of the piece; beyond it goes on as it ends"
        )[:200],
    }
    edits: list[dict[str, Any]] = [{"do": "put_item", "list": "features", "item": item}]
    if any(b.form is BitForm.BALL for b in route.bits) and any(s.face is face for s in route.setups):
        edits.append({"do": "propose_for", "feature": item["id"]})
    return edits
