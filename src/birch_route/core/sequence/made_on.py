"""What operations were proposed on: the readings that what they cut rested on then."""

from __future__ import annotations

from ..instrument.parts import read_place
from ..instrument.resolve import Resolved
from ..route import Operation, Route


def readings_of(route: Route, resolved: Resolved, features: list[str]) -> dict[str, float]:
    """Return the readings that features rest on by `part.place`, mm; those not taken yet are left out."""
    out = {}
    for name in features:
        solid = resolved.solids.get(name)
        for place in () if solid is None else (*solid.rests_on, *solid.unmeasured):
            part_id, _, key = place.partition(".")
            part = route.part(part_id)
            value = None if part is None else read_place(part, key).value_mm
            if value is not None:
                out[place] = round(value, 3)
    return out


def stamped(operations: list[Operation], route: Route, resolved: Resolved) -> list[Operation]:
    """Return operations with what they were proposed on."""
    return [o.model_copy(update={"made_on": readings_of(route, resolved, o.features)}) for o in operations]
