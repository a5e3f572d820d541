"""Rules over parts made here: sizes that come from another route, and what the caliper says of them."""

from __future__ import annotations

from collections.abc import Iterator

from ..data import figures, part_places
from ..instrument.parts import read_place
from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def computed_sizes(sim: Simulation) -> Iterator[Finding]:
    """A part whose sizes come from its own route, and were not read; one that was read and differs."""
    rests = {p for s in sim.whole_resolved.solids.values() for p in s.rests_on}
    within = figures()["spread"]["within_mm"]
    for part in sim.whole.parts:
        if part.made is None:
            continue
        places = part_places()[part.kind.value]
        known = {k: read_place(part, k) for k in part.made.sizes if k in places}
        unread = [k for k, p in known.items() if p.computed and f"{part.id}.{k}" in rests]
        if unread:
            told = ", ".join(places[k]["label"].lower() for k in unread[:4])
            yield finding(
                "part.computed",
                f"{len(unread)} sizes of {part.name} that something is cut by come from the route of "
                f"{part.made.job}, computed: {told}{' and more' if len(unread) > 4 else ''}. Read them off the "
                f"neck itself before its pocket is cut.",
                facts=[Fact(name="sizes", value=len(unread), unit="", source="route")],
            )
        for k, place in known.items():
            read, made = place.value_mm, part.made.sizes[k]
            if place.computed or read is None or abs(read - made) <= within + 1e-9:
                continue
            yield finding(
                "part.made_differs",
                f"{part.name}, {places[k]['label'].lower()}, reads {mm(read):.2f}; its route says {mm(made):.2f}. What "
                f"is cut for it follows the caliper.",
                facts=[Fact(name="read", value=round(read, 3), source="reading"),
                       Fact(name="computed", value=made, source="route")],
                cures=[Cure(sentence="Go by the caliper alone", edits=[set_edit(f"parts.{part.id}.made.sizes", {
                    n: v for n, v in part.made.sizes.items() if n != k})])],
            )
