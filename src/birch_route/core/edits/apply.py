"""Applying edits: one after another on the document, what follows from them, and the whole checked at the end."""

from __future__ import annotations

from typing import Any

from ..assumed import moved_by_hand
from ..errors import BirchError, InfeasibleError, InputError
from ..fretboard.steps import with_steps_of
from ..neck.steps import with_neck_steps
from ..route import Route, read_route
from ..sequence.additions import propose_into
from ..sequence.pair import linked
from ..traveller import still_after
from .base import Document, Edit


def apply_edits(route: Route, edits: list[Edit]) -> Route:
    """Return the route after edits, checked as a whole at the end.

    Raises:
        InputError: an edit names what is not there, or leaves the route unusable.
    """
    data: Document = route.model_dump(mode="json")
    before = {f for o in route.operations for f in o.features}
    drawn = [f.model_dump(mode="json") for f in route.piece.features if f.kind in ("hole", "pocket") and f.assumed]
    for edit in edits:
        data = edit.apply(data)
        if edit.may_lose_features and data["operations"]:
            data = _without_lost(data, before)
    if drawn:
        moved_by_hand(drawn, data["piece"]["features"])
    changed = linked(read_route(_turns_last(data)))
    steps = still_after(route, changed.bench_steps, [o.id for o in changed.operations])
    if steps != changed.bench_steps:
        changed = changed.model_copy(update={"bench_steps": steps})
    changed = with_neck_steps(route, with_steps_of(route, changed))
    return _with_what_came(route, changed) if any(e.may_bring_features for e in edits) else changed


def _with_what_came(before: Route, route: Route) -> Route:
    """Return the route with operations for features that waited for a part, or follow from one that stands on the
    piece, and now are there; for what a hand draws, the edit that draws it says so itself."""
    had = {f.id for f in before.features}
    waited = {f.id for f in before.piece.features} - had
    follows = {f.id for f in route.features} - {f.id for f in route.piece.features} - had
    for feature in [f for f in route.features if f.id in waited | follows]:
        if not any(feature.id in o.features for o in route.operations):
            try:
                route = propose_into(route, feature.id)
            except (InfeasibleError, InputError):
                continue  # the proof says that nothing makes it
    return route


def _turns_last(data: dict[str, Any]) -> dict[str, Any]:
    """Return the document with every turning over, and every gluing on, after the last operation of the setup before
    it."""
    if not isinstance(data["blank"], dict) or not isinstance(data["setups"], list):
        return data  # what is wrong with it is said when the whole is checked
    glued = {layer.get("glued_before") for layer in data["blank"].get("layers", [])}
    for before, setup in zip(data["setups"], data["setups"][1:], strict=False):
        last = next((o["id"] for o in reversed(data["operations"]) if o["setup"] == before["id"]), None)
        for step in data["bench_steps"]:
            on_it = setup["id"] in glued and step["id"].startswith(("cap_", "core_"))
            if (step["id"] == f"turn_{setup['id']}" or on_it) and last is not None:
                step["after"] = last
    return data


def _touched_off(operations: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return operations of which each one that begins a setup or changes the bit touches off: another stood between
    before."""
    out, before = [], None
    for op in operations:
        now = op["setup"], op["bit"]
        out.append(op if now == before or op.get("touch_off_before") else {**op, "touch_off_before": True})
        before = now
    return out


def _without_lost(data: dict[str, Any], before: set[str]) -> dict[str, Any]:
    """Return the document without operations on features that are gone: removed, or no longer following from a part
    that was placed. One whose part only waits for a reading stays; a feature that never was is left for the check of
    the whole to refuse.

    Args:
        before: features that operations worked on before the edits.
    """
    try:
        bare = read_route({**data, "operations": [], "bench_steps": []})
        up = {s["id"]: s["face"] for s in data["setups"]}
        faces = {f.id: None if f.kind == "outline" or f.depth_mm is None else f.face.value for f in bare.features}
        kept = []
        for op in data["operations"]:
            left = [
                f
                for f in op["features"]
                if f not in before
                or (f in faces and faces[f] in (None, up[op["setup"]]))
                or (f not in faces and bare.waits_for(f))
            ]
            if op.get("edge") is not None and not any(
                e.id == op["edge"] and e.machined and e.face == up[op["setup"]] for e in bare.piece.edges
            ):
                continue
            if left or not op["features"]:
                kept.append({**op, "features": left})
        gone = {o["id"] for o in data["operations"]} - {o["id"] for o in kept}
        if gone:
            kept = _touched_off(kept)
        last = kept[-1]["id"] if kept else None
        return {
            **data,
            "operations": kept,
            "bench_steps": [{**s, "after": last} if s.get("after") in gone else s for s in data["bench_steps"]],
        }
    except (BirchError, KeyError, TypeError, AttributeError):
        return data  # what is wrong with it is said when the whole is checked
