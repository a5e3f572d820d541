"""What the screens draw of a route besides the wood: shapes, derivations, hardware footprints, swept area."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np

from ..core.assumed import assumed_of
from ..core.data import part_places
from ..core.errors import BirchError
from ..core.holding.clearance import footprint
from ..core.instrument.carves import CarvedFace
from ..core.instrument.parts import read_place
from ..core.instrument.reliefs import ReliefFace
from ..core.instrument.resolve import Solid, resolve, trust_of
from ..core.plane.curves import flatten
from ..core.plane.regions import polygons
from ..core.route import Route, read_route

_kept: OrderedDict[str, str] = OrderedDict()


def drawing_text(digest: str, read: Callable[[], dict[str, Any]]) -> str:
    """Return the drawing of a document by its hash, as JSON text; kept, since the same revision is asked for often.

    Args:
        read: gives the document where it is not kept.
    """
    found = _kept.get(digest)
    if found is None:
        found = _kept[digest] = json.dumps(drawing(read()), ensure_ascii=False)
        while len(_kept) > 64:
            _kept.popitem(last=False)
    return found


def profile_of(solid: Solid) -> list[list[float]] | None:
    """Return a carve in section, from the rim inward: distance and drop, mm; a relief along the middle of the piece; None for everything else."""
    if isinstance(solid.surface, ReliefFace):
        xmin, ymin, xmax, ymax = solid.surface.outline.bounds
        x = np.linspace(xmin, xmax, 120)
        return np.round(np.column_stack([x, solid.surface.depth(x, np.full_like(x, (ymin + ymax) / 2))]), 3).tolist()
    if not isinstance(solid.surface, CarvedFace):
        return None
    at = np.linspace(0.0, solid.surface.at_mm[-1] * 1.15, 80)
    return np.round(np.column_stack([at, solid.surface.profile(at)]), 3).tolist()


def drawing(document: dict[str, Any]) -> dict[str, Any]:
    """Return shapes and derived numbers of a route, mm in the piece's frame, or what is wrong with it."""
    route = read_route(document)
    out: dict[str, Any] = {
        "parts": [_part(p) for p in route.parts], "hardware": _hardware(route), "failed": None, "solids": [],
        "derivations": [], "assumed": [asdict(a) for a in assumed_of(route)], "heel": None, "saddle_x_mm": None,
        "references": [],
    }
    try:
        resolved = resolve(route)
    except BirchError as exc:
        return {**out, "failed": exc.as_dict()}
    for solid in resolved.solids.values():
        out["solids"].append({
            "id": solid.id, "name": solid.name, "kind": solid.kind, "floor_mm": solid.floor_mm, "finish_class": solid.finish_class.value,
            "profile": profile_of(solid),
            "rings": [np.round(np.asarray(r.simplify(0.05).coords), 2).tolist() for p in polygons(solid.region) for r in (p.exterior, *p.interiors)],
            "points": [list(p) for p in solid.points], "diameter_mm": solid.diameter_mm, "unmeasured": list(solid.unmeasured),
            "face": solid.face.value, "trust": trust_of(solid, route), "rests_on": list(solid.rests_on)})
    for d in resolved.derivations:
        terms = [
            {"label": t.label, "value_mm": t.value_mm, "origin": t.origin.value, "place": t.place, "path": t.path}
            for t in d.terms
        ]
        out["derivations"].append({
            "id": d.id, "label": d.label, "value_mm": d.value_mm, "formula": d.formula, "missing": d.missing,
            "terms": terms,
        })
    if resolved.heel:
        h = resolved.heel
        out["heel"] = {"length_mm": h.length_mm, "end_width_mm": h.end_width_mm, "mouth_width_mm": h.mouth_width_mm, "taper_deg": h.taper_deg, "gap_mm": h.gap_mm}
    out["saddle_x_mm"] = resolved.saddle_x_mm
    out["references"] = [{"id": r.id, "name": r.name, "layer": r.layer, "ring": np.round(flatten(r.shape, 0.05), 2).tolist()} for r in route.piece.references]
    return out


def _part(part) -> dict[str, Any]:
    return {"id": part.id, "kind": part.kind.value, "name": part.name,
            "places": [read_place(part, key).model_dump() for key in part_places()[part.kind.value]]}


def _hardware(route: Route) -> list[dict[str, Any]]:
    return [{"id": h.id, "setup": s.id, "under": h.lies_under, "ring": np.round(np.asarray(part.exterior.coords), 2).tolist()} for s in route.setups for h in s.hardware for part in polygons(footprint(h).simplify(0.05))]
