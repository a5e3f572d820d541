"""Rules over clearing with a bounded engagement."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..instrument.floors import TiltedFloor
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood
from .rules_wood import narrower
from .simulate import Simulation
from .target import final_radius, unreached


TOLD_MM = 0.05  # less than this along the wall of a tilted floor nobody feels


@rule_on_wood
def tilt_left(sim: Simulation) -> Iterator[Finding]:
    """A level bit cannot follow a tilted floor into its walls."""
    for solid in sim.resolved.on(sim.setup.face):
        radius = final_radius(sim, solid.id)
        if not isinstance(solid.surface, TiltedFloor) or radius is None:
            continue
        left = unreached(sim, solid, radius)
        most = float(left.max())
        if most <= TOLD_MM:
            continue
        part, _ = sim.grid.window(*solid.region.bounds)
        j, i = (int(v) for v in np.unravel_index(np.argmax(left), left.shape))
        step = next(s for s in reversed(sim.steps) if solid.id in s.operation.features)
        yield finding("feature.tilt_left", f"Along the walls of {solid.name} up to {most:.2f} stays: the {step.bit.name} stands level on a floor tilted by {np.degrees(np.arctan(solid.surface.steepest)):.1f}°. Take it with a chisel, or end with a narrower bit.",
                      operation=step.operation.id, feature=solid.id, place=(float(part.x_centres()[i]), float(part.y_centres()[j]), solid.floor_mm or 0.0),
                      facts=[Fact(name="left", value=round(most, 3)), Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit")])


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
            cures = [*narrower(sim, step.operation.id, width / 1.1), Cure(label="Clear by rings, slots too", edits=[{"do": "choose_clearing", "operation": step.operation.id, "clearing": "rings"}])]
            yield finding("clearing.slot", f"{solid.name} is only {width:.2f} wide there: the {step.bit.name} would cut a full slot, so the clearing with a bounded engagement leaves it.",
                          operation=step.operation.id, feature=solid.id, place=(problem.x_mm, problem.y_mm, solid.floor_mm or 0.0), cures=cures,
                          facts=[Fact(name="width", value=round(width, 2)), Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit")])
