"""Rules over edges that the machine cuts."""

from __future__ import annotations

from collections.abc import Iterator

from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, rule_once
from .simulate import Simulation


@rule_on_wood
def form(sim: Simulation) -> Iterator[Finding]:
    """An edge needs a bit of its own form: its radius, or a V of its angle."""
    for step in sim.steps:
        for problem in step.problems:
            if problem.code == "edge.bit_form":
                rim = sim.resolved.rims[problem.feature]
                yield finding(
                    "edge.bit_form",
                    f"The {step.bit.name} does not make {rim.words}.",
                    operation=step.operation.id,
                    place=(problem.x_mm, problem.y_mm, 0.0),
                    facts=[
                        Fact(name="size", value=round(rim.size_mm, 2), source="route"),
                        Fact(name="bit", value=round(step.bit.corner_radius_mm, 2), source="bit"),
                    ],
                    cures=[
                        Cure(
                            sentence="Take a bit that does",
                            edits=[{"do": "machine_edge", "edge": problem.feature, "by_machine": True}],
                        ),
                        Cure(
                            sentence="Leave it to the bench",
                            edits=[{"do": "machine_edge", "edge": problem.feature, "by_machine": False}],
                        ),
                    ],
                )


@rule_once
def made(sim: Simulation) -> Iterator[Finding]:
    """Every edge left to the machine has an operation that makes it."""
    done = {o.edge for o in sim.whole.operations}
    for edge, rim in sim.whole_resolved.rims.items():
        if edge not in done:
            x, y = rim.lines[0][len(rim.lines[0]) // 2] if rim.lines else rim.region.exterior.coords[0]
            yield finding(
                "edge.not_made",
                f"No operation makes {rim.words}.",
                place=(float(x), float(y), 0.0),
                facts=[Fact(name="size", value=round(rim.size_mm, 2), source="route")],
                cures=[
                    Cure(sentence="Add it", edits=[{"do": "machine_edge", "edge": edge, "by_machine": True}]),
                    Cure(
                        sentence="Leave it to the bench",
                        edits=[{"do": "machine_edge", "edge": edge, "by_machine": False}],
                    ),
                ],
            )
