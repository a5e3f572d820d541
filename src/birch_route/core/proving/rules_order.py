"""Rules over the order of operations: what stands where it does harm, why, and where it belongs."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Point

from ..data import figures
from ..vocabulary import OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule
from .simulate import Simulation, Step

DEPTH_COUNTS = {OperationKind.POCKET, OperationKind.BORE, OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH, OperationKind.EDGE}
SLOPES = {OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH}


def _move(sim: Simulation, step: Step, to: Step) -> Cure:
    """Return the move of an operation to where another stands, the others closing up."""
    ids = [o.id for o in sim.whole.operations]
    return Cure(
        sentence=f"{step.operation.name} "
        f"{'after' if ids.index(step.operation.id) < ids.index(to.operation.id) else 'before'} {to.operation.name}",
        edits=[{"do": "move_operation", "operation": step.operation.id, "to": ids.index(to.operation.id)}],
    )


@rule
def after_the_outline(sim: Simulation) -> Iterator[Finding]:
    """Something is cut once the outline has left the piece to its tabs or skin."""
    outline = sim.resolved.solids.get(sim.whole.piece.outline.id)
    whole = [
        k for k, s in enumerate(sim.steps)
        if s.operation.kind is OperationKind.PROFILE and s.operation.groove_mm is None
        and s.operation.down_to_mm is None and outline is not None and outline.id in s.operation.features
    ]
    if not whole:
        return
    cut = whole[0]
    later = [s for s in sim.steps[cut + 1:] if s.operation.features and outline is not None and outline.id not in s.operation.features and s.removed_mm3 > 0]
    if not later:
        return
    names = ", ".join(s.operation.name for s in later[:3]) + (f" and {len(later) - 3} more" if len(later) > 3 else "")
    yield finding("order.after_outline", f"{names} {'comes' if len(later) == 1 else 'come'} after {sim.steps[cut].operation.name} has cut the piece out: it hangs in its tabs or skin by then and gives. The outline is cut last.",
                  operation=later[0].operation.id, cures=[_move(sim, sim.steps[cut], later[-1])], facts=[Fact(name="operations after it", value=len(later), unit="")])


@rule
def skim_comes_late(sim: Simulation) -> Iterator[Finding]:
    """The face is skimmed after something whose depth counts from it."""
    for k, step in enumerate(sim.steps):
        before = [s for s in sim.steps[:k] if s.operation.kind in DEPTH_COUNTS and s.removed_mm3 > 0]
        if step.operation.kind is OperationKind.FACE and before:
            yield finding("order.skim_late", f"{step.operation.name} comes after {before[0].operation.name}: its rims are cut a second time and splinter, and a caliper tells no depth until the face is true. Skim first.",
                          operation=step.operation.id, cures=[_move(sim, step, before[0])], facts=[Fact(name="operations before it", value=len(before), unit="")])


@rule
def drill_on_a_slope(sim: Simulation) -> Iterator[Finding]:
    """A drill starts on a slope that was cut before it, and wanders."""
    most = figures()["order"]["drill_slope_deg"]
    for k, step in enumerate(sim.steps):
        if step.operation.kind is not OperationKind.DRILL:
            continue
        points = [p for f in step.operation.features if f in sim.resolved.solids for p in sim.resolved.solid(f).points]
        for earlier in sim.steps[:k]:
            if earlier.operation.kind not in SLOPES:
                continue
            regions = shapely.union_all([sim.resolved.solid(f).region for f in earlier.operation.features if f in sim.resolved.solids])
            steep = [(slope, p) for p in points if regions.contains(Point(p)) and (slope := _slope_deg(sim, k, p, step.bit.radius_mm)) > most]
            if steep:
                slope, (x, y) = max(steep)
                yield finding("order.drill_on_slope", f"{step.operation.name} starts on a slope of {slope:.0f}° that {earlier.operation.name} cut; over {most:g}° a drill wanders. Drill first.", operation=step.operation.id, place=(x, y, 0.0),
                              cures=[_move(sim, step, earlier)], facts=[Fact(name="slope", value=round(slope, 1), unit="deg"), Fact(name="most", value=most, unit="deg", source="figures, unverified")])
                break


def _slope_deg(sim: Simulation, index: int, at: tuple[float, float], radius_mm: float) -> float:
    """Return the steepest rise of the wood across a drill's place before a step, degrees; 0 where no wood is left."""
    cell = sim.grid.cell_of(*at)
    if cell is None:
        return 0.0
    reach = max(2, round(radius_mm / sim.grid.cell_mm))
    j, i = cell
    top, bottom = (f[max(0, j - reach): j + reach + 1, max(0, i - reach): i + reach + 1] for f in (sim.top_before(index), sim.bottom))
    if top.size < 9 or (top <= bottom).any():
        return 0.0
    rows, columns = np.gradient(top.astype(float), sim.grid.cell_mm)
    return math.degrees(math.atan(float(np.median(np.hypot(rows, columns)))))
