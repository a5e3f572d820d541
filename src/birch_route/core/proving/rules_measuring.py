"""Rules over what was measured: missing readings, outliers, spread, single readings."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures, part_places
from ..instrument.parts import read_place
from ..instrument.resolve import trust_of
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once
from .simulate import Simulation


@rule_once
def unmeasured(sim: Simulation) -> Iterator[Finding]:
    """A feature rests on a part that was never measured: a stop for a neck pocket or post hole."""
    for solid in sim.resolved.solids.values():
        if solid.unmeasured:
            code = "part.unmeasured" if solid.must_be_measured else "part.assumed"
            missing = ", ".join(label(sim, place) for place in solid.unmeasured[:4])
            x, y = solid.region.representative_point().coords[0]
            yield finding(code, f"{solid.name} rests on what was never measured: {missing}. Put the caliper on it first.", feature=solid.id,
                          place=(x, y, 0.0), facts=[Fact(name="readings missing", value=len(solid.unmeasured), unit="")])


def label(sim: Simulation, place: str) -> str:
    """Return the words for `part.place`."""
    part_id, _, key = place.partition(".")
    part = sim.route.part(part_id)
    if part is None or key not in part_places()[part.kind.value]:
        return place
    return f"{part.name}, {part_places()[part.kind.value][key]['label'].lower()}"


def resting(sim: Simulation, features: list[str]) -> dict[str, object]:
    """Return what features rest on: the worst trust of any ("assumed", "single", "measured" or "told"), and the places that were measured
    only once or never, in words."""
    order = ("assumed", "single", "measured", "told")
    found, once, never = "told", [], []
    for feature in features:
        solid = sim.resolved.solids.get(feature)
        if solid is None:
            never += [label(sim, p) for p in sim.route.waits_for(feature)]
            found = "assumed"
            continue
        found = min(found, trust_of(solid, sim.route), key=order.index)
        never += [label(sim, p) for p in solid.unmeasured]
        for place in solid.rests_on:
            part_id, _, key = place.partition(".")
            part = sim.route.part(part_id)
            if part is not None and len(read_place(part, key).values_mm) == 1:
                once.append(label(sim, place))
    return {"trust": found, "once": list(dict.fromkeys(once)), "never": list(dict.fromkeys(never))}


@rule_once
def readings_agree(sim: Simulation) -> Iterator[Finding]:
    """An outlier, a wide spread, or a place measured only once."""
    within = figures()["spread"]["within_mm"]
    for part in sim.route.parts:
        for key, spec in part_places()[part.kind.value].items():
            place = read_place(part, key)
            where = f"{part.name}, {spec['label'].lower()}"
            if place.outlier is not None:
                off = place.values_mm[place.outlier] - (place.value_mm or 0.0)
                yield finding("reading.outlier", f"Reading {place.outlier + 1} of {where} is {off:+.2f} off the others. Take it again.",
                              facts=[Fact(name="reading", value=place.values_mm[place.outlier], source="reading"), Fact(name="others", value=round(place.value_mm or 0, 3), source="reading")],
                              cures=[Cure(label="Drop that reading", edits=[{"do": "drop_reading", "part": part.id, "place": key, "index": place.outlier}])])
            elif place.spread_mm > within + 1e-9:
                yield finding("reading.spread", f"Readings of {where} differ by {place.spread_mm:.2f}; {within:.2f} is the most for a fit.",
                              facts=[Fact(name="spread", value=round(place.spread_mm, 3), source="reading")])
            elif len(place.values_mm) == 1 and spec["needed"]:
                yield finding("reading.single", f"{where[0].upper()}{where[1:]} was measured only once.",
                              facts=[Fact(name="reading", value=place.values_mm[0], source="reading")])
