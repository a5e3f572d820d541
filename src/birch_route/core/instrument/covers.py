"""What nobody sees: cavities under a plate or guard, and under a cap."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from ..plane.regions import buffer_round
from ..vocabulary import FinishClass, PartKind
from .parts import PartOnHand
from .solids import Solid

if TYPE_CHECKING:
    from ..route import Route

SLACK_MM = 0.05  # a wall that runs along the rebate's own still lies under the plate


def plate_of(route: Route, feature_id: str) -> PartOnHand | None:
    """Return the plate or guard a pocket is the rebate of, by what its shape or its depth is taken from; None where it takes none."""
    feature = next((f for f in route.features if f.id == feature_id), None)
    if feature is None or feature.kind != "pocket":
        return None
    names = {getattr(feature.shape, "part", None), getattr(feature.depth_from, "part", None)}
    names |= {p.part for p in route.piece.placements if feature_id == f"{p.id}_rebate"[:40]}
    return next((p for p in route.parts if p.kind in (PartKind.PLATE, PartKind.GUARD) and p.id in names), None)


def hide_covered(route: Route, solids: dict[str, Solid]) -> dict[str, Solid]:
    """Return the solids with every cavity that lies whole under a plate of its face named for it; one drawn as shown is hidden there.

    A cavity is under a plate where the rebate of the plate goes round it and ends above its floor. What is fitted or glued keeps its class: its fit counts, seen or not.
    """
    plates = [(s, p) for s in solids.values() if s.kind == "pocket" and (p := plate_of(route, s.id)) is not None]
    out = dict(solids)
    for rebate, plate in plates:
        under = buffer_round(rebate.region, SLACK_MM)
        for solid in solids.values():
            if solid.id == rebate.id or solid.kind != "pocket" or solid.face is not rebate.face or solid.finish_class not in (FinishClass.SHOWN, FinishClass.HIDDEN) or out[solid.id].hidden_by:
                continue
            if solid.floor_mm is not None and (rebate.floor_mm is None or (solid.floor_mm >= rebate.floor_mm if solid.face == "front" else solid.floor_mm <= rebate.floor_mm)):
                continue
            if under.covers(solid.region) and plate_of(route, solid.id) is None:
                out[solid.id] = replace(solid, finish_class=FinishClass.HIDDEN, hidden_by=plate.name)
    return out
