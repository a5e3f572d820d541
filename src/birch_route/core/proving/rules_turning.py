"""Rules over turning over: what the piece is found again by, and whether that can be."""

from __future__ import annotations

from collections.abc import Iterator

from ..stages import mirrored_points
from ..vocabulary import OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def found_again(sim: Simulation) -> Iterator[Finding]:
    """A turned setup without index holes, with holes that are not symmetrical about the turning axis, or made too late."""
    route = sim.whole
    for number, setup in enumerate(route.setups):
        if number == 0:
            continue
        if setup.datum is None:
            yield finding("turn.no_datum", f"{setup.name} is found again by edges or lines only; the two faces may be off by what they are read to. Two index holes on the turning axis are better.",
                          facts=[Fact(name="index holes", value=0, unit="")])
            continue
        hole = route.feature(setup.datum)
        lost = mirrored_points(hole, setup.turned_about) if hole.kind == "hole" else []
        if lost:
            x, y = lost[0]
            axis = "y" if setup.turned_about.value == "length" else "x"
            yield finding("turn.not_symmetrical", f"{len(lost)} of {hole.name} {'has' if len(lost) == 1 else 'have'} no partner across the {setup.turned_about.value} of the piece: turned over, the pins do not meet them.",
                          feature=hole.id, place=(x, y, 0.0), facts=[Fact(name=f"off the axis, {axis}", value=round(abs(y if axis == "y" else x), 3), source="feature")],
                          cures=[Cure(label="Put them on the axis", edits=[set_edit(f"piece.features.{hole.id}.points", [[a, 0.0] if axis == "y" else [0.0, b] for a, b in hole.points])])])
        first = [o for o in route.operations if o.setup == route.setups[0].id]
        at = next((k for k, o in enumerate(first) if hole.id in o.features), None)
        early = at is not None and all(o.kind is OperationKind.FACE for o in first[:at])
        if not early:
            words = f"{hole.name} are made after {first[at - 1].name}" if at else f"{hole.name} are not made in {route.setups[0].name}"
            cures = [] if at is None else [Cure(label="Make them first", edits=[{"do": "move_operation", "operation": first[at].id, "to": 0}])]
            yield finding("turn.datum_late", f"{words}; what was cut before them is not found again by them.", operation=first[at].id if at is not None else None, feature=hole.id, cures=cures,
                          facts=[Fact(name="stands at", value=-1 if at is None else at, unit="")])
