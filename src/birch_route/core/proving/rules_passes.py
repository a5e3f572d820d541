"""Rules over operations that share one shape: a rim and what lies below it, roughing and the finish over the same slope, a finish and the valleys it leaves."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from ..data import figures
from ..fits import LEAST_MM, past_drawn
from ..heights.raster import mask_of
from ..instrument.reliefs import ReliefFace
from ..operations.valleys import left_at, stands_over
from ..quantities import mm, mm2
from ..route import Operation
from ..sequence.surfaces import pencil_bits
from ..vocabulary import FinishClass, OperationKind, Pattern
from .findings import Cure, Fact, Finding, finding
from .registry import rule, rule_on_wood, set_edit
from .ridges import above
from .simulate import Simulation, Step
from .target import finest, past_wall


@rule
def wall_step(sim: Simulation) -> Iterator[Finding]:
    """A rim cut by one bit and the wall below it by another do not stand in one line: by what they leave, and by how far each gives way.

    Source: both bits give away from the wall in climb milling, so a wall stands proud by stock to leave and bend.
    """
    for step in sim.steps:
        if step.operation.down_to_mm is None:
            continue
        for feature in step.operation.features:
            others = [s for s in sim.steps if s is not step]
            below = next((s for s in others if _goes_on(s.operation, step.operation, feature)), None)
            if below is None or feature not in sim.resolved.solids:
                continue
            solid = sim.resolved.solid(feature)
            apart = _proud(below) - _proud(step)
            most = figures()["tolerance_mm"][solid.finish_class.value]
            if abs(apart) <= most:
                continue
            x, y = np.asarray(solid.region.exterior.coords)[0]
            even = round(step.operation.stock_to_leave_mm + apart, 3)
            cures = (
                [
                    Cure(
                        sentence=f"Leave {mm(even):g} on the rim",
                        edits=[set_edit(f"operations.{step.operation.id}.stock_to_leave_mm", even)],
                    )
                ]
                if even >= -0.05
                else []
            )
            yield finding(
                "feature.wall_step",
                f"The wall of {solid.name} gets a step of {mm(abs(apart)):.2f} at {mm(step.operation.down_to_mm):g} "
                f"deep: the {below.bit.name} leaves it {'farther in' if apart > 0 else 'farther out'} than the "
                f"{step.bit.name}. {mm(most):g} is allowed.",
                operation=below.operation.id,
                feature=feature,
                place=(float(x), float(y), -step.operation.down_to_mm),
                cures=cures,
                facts=[
                    Fact(name="step", value=round(abs(apart), 3)),
                    Fact(name="allowed", value=most, source="figures, unverified"),
                ],
            )


@rule
def past_line(sim: Simulation) -> Iterator[Finding]:
    """A fitted or glued wall is cut past its drawn line on purpose, within what the figures allow."""
    for step in sim.steps:
        for feature in step.operation.features:
            solid = sim.resolved.solids.get(feature)
            past = past_drawn(step.operation)
            if solid is None or past < LEAST_MM or past_wall(sim, solid) < LEAST_MM or step.operation.wall_only:
                continue
            most = figures()["fit_memory"]["past_mm"]
            x, y = np.asarray(solid.region.exterior.coords)[0]
            yield finding(
                "feature.past_drawn",
                f"The walls of {solid.name} are cut {mm(past):.2f} past their drawn line on each side, on purpose. Up "
                f"to {mm(most):g} that is yours to choose; beyond it the wood counts as cut away.",
                operation=step.operation.id,
                feature=feature,
                place=(float(x), float(y), 0.0),
                facts=[
                    Fact(name="past", value=round(past, 3), source="route"),
                    Fact(name="allowed", value=most, source="figures, unverified"),
                ],
            )


def _goes_on(operation: Operation, rim: Operation, feature: str) -> bool:
    """Say whether an operation cuts the wall of a feature below its rim."""
    return feature in operation.features and operation.down_to_mm is None and operation.kind is rim.kind


@rule
def allowances(sim: Simulation) -> Iterator[Finding]:
    """The passes before the last along a seen or fitted wall bend by more than the last one takes: it does not clean
    up what they left."""
    for step in sim.steps:
        op = step.operation
        if (
            op.kind not in (OperationKind.POCKET, OperationKind.BORE, OperationKind.PROFILE)
            or op.wall_only
            or step.cannot_enter
        ):
            continue
        walls = [
            s
            for f in op.features
            if (s := sim.resolved.solids.get(f)) is not None
            and s.finish_class in (FinishClass.SHOWN, FinishClass.FITTED)
        ]
        later = any(
            s is not step and set(s.operation.features) & set(op.features) and s.operation.wall_only for s in sim.steps
        )
        handed_on = any(s.operation.finishes == op.id for s in sim.steps)
        if not walls or later or op.finishes or not (op.finish_pass or handed_on):
            continue
        field = "stock_to_leave_mm" if handed_on else "finish_allowance_mm"
        bend, left = step.load.bend_mm, op.stock_to_leave_mm if handed_on else op.finish_allowance_mm
        if left >= bend - 1e-9:
            continue
        solid = walls[0]
        x, y = np.asarray(solid.region.exterior.coords)[0]
        better = round(math.ceil((bend + figures()["bend"]["finish_mm"]) * 20) / 20, 2)
        yield finding(
            "settings.allowance",
            f"The bit gives way {mm(bend):.2f} in the passes before the last at "
            f"{op.name}, and {mm(left):g} is left for that one: the wall of {solid.name} keeps what they made of "
            f"it.",
            operation=op.id,
            feature=solid.id,
            place=(float(x), float(y), 0.0),
            facts=[Fact(name="left", value=left, source="route"), Fact(name="bend", value=round(bend, 3))],
            cures=[
                Cure(sentence=f"Leave {mm(better):g} for the last pass",
                    edits=[set_edit(f"operations.{op.id}.{field}", better)],
                )
            ],
        )


def _proud(step: Step) -> float:
    cut = step.finish_load or step.load
    return step.operation.stock_to_leave_mm + cut.bend_mm


@rule_on_wood
def steps_on_slopes(sim: Simulation) -> Iterator[Finding]:
    """What roughing leaves of a slope: so little that the bit, giving way, cuts into the finished surface, or more than the finish takes at once."""
    give, leave = figures()["bend"]["rough_mm"], figures()["surface"]["leave_mm"]
    for k, step in enumerate(sim.steps):
        if step.operation.kind is not OperationKind.SURFACE_FINISH or step.operation.pattern in (Pattern.FLAT, Pattern.PENCIL):
            continue
        rough = next((s for s in reversed(sim.steps[:k]) if s.operation.kind is OperationKind.SURFACE_ROUGH and set(s.operation.features) & set(step.operation.features)), None)
        for solid in (sim.resolved.solid(f) for f in step.operation.features if f in sim.resolved.solids):
            if not solid.is_contour:
                continue
            before = above(sim, solid, sim.top_before(k))
            if len(before.over) < 20:
                continue
            asked = step.operation.settings.depth_of_cut_mm
            over = before.over - left_at(solid, step.bit, *before.places.T) if isinstance(solid.surface, ReliefFace) else before.over  # what stands in valleys it does not reach
            tall = float(np.percentile(over, 99.5))
            if tall > asked * figures()["surface"]["finish_times"]:
                x, y = before.places[int(np.argmax(over))]
                yield finding(
                    "surface.finish_deep",
                    f"{step.operation.name} meets up to {mm(tall):.1f} of wood on {solid.name}; it takes "
                    f"{mm(asked):.1f} at once. "
                    + ("Nothing roughs it before." if rough is None else f"{rough.operation.name} leaves too much."),
                    operation=step.operation.id,
                    feature=solid.id,
                    place=(float(x), float(y), 0.0),
                    cures=_roughed(step, rough, tall),
                    facts=[
                        Fact(name="wood met", value=round(tall, 2)),
                        Fact(name="depth of cut", value=asked, source="route"),
                    ],
                )
            if rough is None:
                continue
            left = above(sim, solid, sim.steps[sim.steps.index(rough)].top)
            deep = left.drop > leave + give  # nearer to the face there is no wood to leave
            least = float(np.percentile(left.over[deep], 0.5)) if deep.sum() >= 20 else give
            if least < give:
                x, y = left.places[deep][int(np.argmin(left.over[deep]))]
                yield finding(
                    "surface.rough_near",
                    f"{rough.operation.name} comes within {mm(max(least, 0.0)):.2f} of the finished {solid.name}; "
                    f"roughing bits may give {mm(give):g}, so its steps can cut into it.",
                    operation=rough.operation.id,
                    feature=solid.id,
                    place=(float(x), float(y), 0.0),
                    facts=[
                        Fact(name="left", value=round(least, 3)),
                        Fact(name="bend allowed", value=give, source="figures, unverified"),
                    ],
                    cures=[
                        Cure(
                            sentence=f"Leave {mm(leave):g}",
                            edits=[set_edit(f"operations.{rough.operation.id}.floor_to_leave_mm", leave)],
                        )
                    ],
                )


def _roughed(step: Step, rough: Step | None, tall_mm: float) -> list[Cure]:
    """Offer a finer roughing, or a finish that takes as much as it meets where its bit can."""
    if rough is None:
        return []
    apart = round(rough.bit.cut_diameter_mm * figures()["surface"]["rough_stepover"], 2)
    if rough.operation.settings.stepover_mm > apart:
        return [
            Cure(
                sentence=f"Rough in steps {mm(apart):.1f} apart",
                edits=[set_edit(f"operations.{rough.operation.id}.settings.stepover_mm", apart)],
            )
        ]
    at_once = np.ceil(tall_mm * 10) / 10
    return (
        [
            Cure(
                sentence=f"Take {mm(at_once):.1f} at once",
                edits=[set_edit(f"operations.{step.operation.id}.settings.depth_of_cut_mm", float(at_once))],
            )
        ]
        if at_once <= step.bit.radius_mm
        else []
    )


@rule_on_wood
def valleys(sim: Simulation) -> Iterator[Finding]:
    """In a valley narrower than its bit a finish leaves wood; passes along it with a narrower bit take most of it."""
    fig = figures()["valley"]
    for solid in sim.resolved.on(sim.setup.face):
        bit = finest(sim, solid.id) if isinstance(solid.surface, ReliefFace) else None
        if bit is None:
            continue
        grid, left = stands_over(solid, bit)
        inner = mask_of(solid.region.buffer(-1.0), grid)
        deep = inner & (left > fig["left_mm"])
        if deep.sum() * grid.cell_mm**2 < fig["least_mm"]:
            continue
        j, i = (int(v) for v in np.unravel_index(np.argmax(np.where(inner, left, 0.0)), left.shape))
        step = next(s for s in reversed(sim.steps) if s.bit.id == bit.id and solid.id in s.operation.features and s.operation.kind is OperationKind.SURFACE_FINISH)
        slim = pencil_bits(sim.route, step.operation)
        cures = (
            [
                Cure(
                    sentence=f"Pencil passes with the {slim[0].name}",
                    edits=[
                        {"do": "add_finish", "operation": step.operation.id, "pattern": "pencil", "bit": slim[0].id}
                    ],
                )
            ]
            if slim
            else []
        )
        area = float(deep.sum()) * grid.cell_mm**2
        yield finding(
            "surface.valley_left",
            f"The {bit.name} leaves up to {mm(float(left[j, i])):.2f} in the valleys of {solid.name}, over "
            f"{mm2(area):.0f}. "
            + (
                "A narrower bit along them takes most of it." if slim else "No narrower ball is in the rack; scrape it."
            ),
            operation=step.operation.id,
            feature=solid.id,
            place=(float(grid.x_centres()[i]), float(grid.y_centres()[j]), 0.0),
            cures=cures,
            facts=[
                Fact(name="left", value=round(float(left[j, i]), 3)),
                Fact(name="area", value=round(area, 1), unit="mm2"),
            ],
        )
