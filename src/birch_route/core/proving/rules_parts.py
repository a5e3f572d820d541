"""Rules over parts on hand and edges: what does not fit where it is placed, and edges that leave too little."""

from __future__ import annotations

from collections.abc import Iterator

from ..instrument.edges import edge_plan
from ..instrument.room import clashes
from ..instrument.saddles import travel
from ..instrument.stack import find_part
from ..quantities import mm
from ..vocabulary import PartKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once
from .rules_measuring import label
from .simulate import Simulation


@rule_once
def parts_have_room(sim: Simulation) -> Iterator[Finding]:
    """A placed part that was not measured, has no room, is too tall, or is in another's way; screws that bite or come through."""
    for clash in clashes(sim.whole, sim.resolved):
        cures = [Cure(sentence=clash.label, edits=clash.edits)] if clash.edits else []
        yield finding(clash.code, clash.words, feature=clash.placement, place=(*clash.place, 0.0), cures=cures,
                      facts=[Fact(name="there is", value=round(clash.has_mm, 2)), Fact(name="needed", value=round(clash.needs_mm, 2), source="reading")])


@rule_once
def edges_leave_enough(sim: Simulation) -> Iterator[Finding]:
    """An edge that runs into a feature beside it, or leaves a hand-held bit's bearing no flat side to ride on."""
    for plan in edge_plan(sim.whole, sim.resolved):
        if plan.land_mm is not None and plan.land_mm < plan.bearing_mm - 0.01:
            x, y = plan.at
            yield finding(
                "edge.no_land",
                f"{mm(plan.land_mm):.1f} of the side stays flat once {plan.words} is made; the bearing of a "
                f"hand-held bit needs {mm(plan.bearing_mm):.1f}. Cut this edge before the other one, or by machine.",
                feature=plan.feature,
                place=(x, y, 0.0),
                facts=[
                    Fact(name="flat", value=round(plan.land_mm, 2)),
                    Fact(name="bearing", value=plan.bearing_mm, source="figures, unverified"),
                ],
            )
        for met in plan.meets:
            yield finding(
                "edge.meets_feature",
                f"{plan.words.capitalize()} goes {mm(plan.inward_mm):.1f} in; {met.name} begins "
                f"{mm(met.gap_mm):.1f} from that rim.",
                feature=plan.feature,
                place=(*met.at, 0.0),
                facts=[
                    Fact(name="there is", value=round(met.gap_mm, 2)),
                    Fact(name="needed", value=round(plan.inward_mm, 2), source="route"),
                ],
                cures=[
                    Cure(
                        sentence=f"Make it {mm(max(0.0, met.gap_mm - 0.5)):.1f}",
                        edits=[
                            {
                                "do": "set",
                                "path": f"piece.edges.{plan.edge}.size_mm",
                                "value": round(max(0.0, met.gap_mm - 0.5), 1),
                            }
                        ],
                    )
                ]
                if met.gap_mm > 1
                else [],
            )


@rule_once
def saddle_travel(sim: Simulation) -> Iterator[Finding]:
    """A string's saddle would stand beyond the bridge's travel, or within a millimetre of its end."""
    route, resolved = sim.whole, sim.resolved
    bridge = find_part(route.parts, PartKind.BRIDGE)
    if bridge is None or resolved.saddle_x_mm is None:
        return
    found = travel(route.choices.string_extra_mm, bridge)
    if found is None or found.short_mm <= 0.01:
        return
    forward = found.forward_mm is not None and found.forward_needed_mm - found.forward_mm >= found.short_mm - 1e-9
    needs, has = (found.forward_needed_mm, found.forward_mm) if forward else (found.back_needed_mm, found.back_mm)
    shift = round(found.short_mm + 0.01, 2)
    yield finding(
        "bridge.travel",
        f"The saddles of {bridge.name} need {mm(needs):.1f} of travel {'forward' if forward else 'back'}, one to "
        f"spare included, and have {mm(has or 0.0):.1f}. Move the bridge by {mm(shift):.1f} "
        f"{'forward' if forward else 'back'}.",
        place=(resolved.saddle_x_mm, 0.0, 0.0),
        facts=[
            Fact(name="needed", value=round(needs, 2)),
            Fact(name="there is", value=round(has or 0.0, 2), source="reading"),
        ],
    )


@rule_once
def operation_waits(sim: Simulation) -> Iterator[Finding]:
    """An operation whose part is not measured cuts nothing."""
    for operation in sim.whole.operations:
        waiting = [m for f in operation.features if f not in sim.resolved.solids for m in sim.whole.waits_for(f)]
        if waiting:
            words = ", ".join(label(sim, w) for w in dict.fromkeys(waiting))
            yield finding("operation.waits", f"{operation.name} cuts nothing yet: {words} {'is' if len(set(waiting)) == 1 else 'are'} not measured.", operation=operation.id, facts=[Fact(name="readings missing", value=len(set(waiting)), unit="")])
