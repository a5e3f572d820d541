"""What is added to a route that stands: the operations for one more feature, a ledge round another."""

from __future__ import annotations

from typing import Any

from ..errors import InputError
from ..gluing import glued_layers, is_before
from ..instrument.drawn import free_id
from ..instrument.resolve import resolve
from ..route import Route, read_route
from ..vocabulary import FinishClass, OperationKind
from .made_on import stamped
from .neck import place_of
from .propose import propose_for, staged_for, with_touch_offs


def propose_into(route: Route, feature: str) -> Route:
    """Return the route with the operations for one feature, before the outline of its setup.

    Raises:
        InputError: no such feature, no setup that turns its face up, no bit that makes it.
    """
    resolved = resolve(route)
    if feature not in resolved.solids:
        raise InputError(f"The piece has no feature {feature}.", where="feature")
    solid = resolved.solid(feature)
    under = any(f.id == feature and getattr(f, "covered", False) for f in route.features)
    through = solid.kind == "outline" or solid.floor_mm is None
    bare = under and bool(glued_layers(route))
    able = [s for s in route.setups if (through or s.face is solid.face) and is_before(route, s) == bare]
    if not able:
        raise InputError(
            f"{solid.name} lies on the {solid.face.value}, which no setup turns up. Turn the piece over first.",
            where=feature,
        )
    setup = able[-1] if solid.kind == "outline" else able[0]
    staged, lies = staged_for(route, resolved, setup)
    new = propose_for(staged, lies, lies.solid(feature))
    if not new:
        raise InputError(f"No bit of the rack can make {solid.name}. Add one that fits.", where=feature)
    used = [o.id for o in route.operations]
    for k, o in enumerate(new):
        new[k] = o.model_copy(update={"id": free_id(used, o.id)}) if o.id in used else o
        used.append(new[k].id)
    new = stamped(new, route, resolved)
    outline = route.piece.outline.id
    operations: list[Any] = []
    for one in route.setups:
        here = [o for o in route.operations if o.setup == one.id]
        if one.id == setup.id:
            profiles = (k for k, o in enumerate(here) if o.kind is OperationKind.PROFILE and outline in o.features)
            at = next(profiles, len(here))
            if route.piece.neck is not None:  # where a neck's own order has it
                later = (k for k, o in enumerate(here[:at]) if place_of(o) > place_of(new[0]) >= 0)
                at = next(later, at)
            here = [*here[:at], *new, *here[at:]]
        operations += with_touch_offs(here)
    return route.model_copy(update={"operations": operations})


def step_down(route: Route, feature: str, width_mm: float, depth_mm: float, finish_class: FinishClass) -> Route:
    """Return the route with a ledge round a pocket or hole, and the operation that cuts it where a setup turns its face
    up.

    Raises:
        InputError: the feature is neither.
    """
    base = next((f for f in route.features if f.id == feature), None)
    if base is None or base.kind not in ("pocket", "hole"):
        raise InputError("A ledge goes round a pocket or a hole.", where=feature)
    used = {f.id for f in route.features}
    name = next(n for n in (f"{feature[:32]}_ledge{k or ''}" for k in range(100)) if n not in used)
    item = {
        "kind": "pocket",
        "id": name,
        "name": f"Ledge round {base.name}"[:80],
        "shape": {"kind": "around", "feature": base.id, "by_mm": width_mm},
        "depth_mm": depth_mm,
        "face": base.face.value,
        "finish_class": finish_class.value,
    }
    data = route.model_dump(mode="json")
    data["piece"]["features"].insert(len(data["piece"]["features"]) - 1, item)
    drawn = read_route(data)
    return propose_into(drawn, name) if any(s.face is base.face for s in route.setups) else drawn
