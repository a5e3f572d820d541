"""What operations were proposed on: the readings that what they cut rested on then."""

from __future__ import annotations

from ..data import part_places
from ..instrument.parts import Place, read_place
from ..instrument.resolve import Resolved
from ..route import Operation, Route


def readings_of(route: Route, resolved: Resolved, features: list[str]) -> dict[str, float]:
    """Return the readings that features rest on by `part.place`, mm; those not taken yet are left out."""
    out = {}
    for name in features:
        solid = resolved.solids.get(name)
        for place in () if solid is None else (*solid.rests_on, *solid.unmeasured):
            known = known_place(route, place)
            if known is not None and known.value_mm is not None:
                out[place] = round(known.value_mm, 3)
    return out


def known_place(route: Route, place: str) -> Place | None:
    """Return a place of a part by `part.place`; None where there is no such part, or no such place of it: what rests on
    a whole part names only that."""
    part_id, _, key = place.partition(".")
    part = route.part(part_id)
    if part is None or key not in part_places()[part.kind.value]:
        return None
    return read_place(part, key)


def stamped(operations: list[Operation], route: Route, resolved: Resolved) -> list[Operation]:
    """Return operations with what they were proposed on."""
    return [o.model_copy(update={"made_on": readings_of(route, resolved, o.features)}) for o in operations]


def numbered(operations: list[Operation]) -> list[Operation]:
    """Return operations whose ids all differ."""
    seen: dict[str, int] = {}
    out = []
    for op in operations:
        seen[op.id] = seen.get(op.id, 0) + 1
        out.append(op if seen[op.id] == 1 else op.model_copy(update={"id": f"{op.id}_{seen[op.id]}"}))
    return out
