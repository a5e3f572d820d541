"""Rules over clearing with a bounded engagement."""

from __future__ import annotations

from collections.abc import Iterator

from ..quantities import mm
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood
from .rules_wood import narrower
from .simulate import Simulation


@rule_on_wood
def slots(sim: Simulation) -> Iterator[Finding]:
    """A place so narrow that clearing it would be a slot at full width: it is left, never cut so in silence."""
    for step in sim.steps:
        for problem in step.problems:
            if problem.code != "clearing.slot":
                continue
            solid, width = sim.resolved.solid(problem.feature), problem.facts["width_mm"]
            done = any(s is not step and problem.feature in s.operation.features and s.bit.cut_diameter_mm < step.bit.cut_diameter_mm - 0.05 for s in sim.steps)
            if done:
                continue
            cures = [
                *narrower(sim, step.operation.id, width / 1.1),
                Cure(
                    sentence="Clear by rings, slots too",
                    edits=[{"do": "choose_clearing", "operation": step.operation.id, "clearing": "rings"}],
                ),
            ]
            yield finding(
                "clearing.slot",
                f"{solid.name} is only {mm(width):.2f} wide there: the {step.bit.name} would cut a full slot, so "
                f"the clearing with a bounded engagement leaves it.",
                operation=step.operation.id,
                feature=solid.id,
                place=(problem.x_mm, problem.y_mm, solid.floor_mm or 0.0),
                cures=cures,
                facts=[
                    Fact(name="width", value=round(width, 2)),
                    Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit"),
                ],
            )
