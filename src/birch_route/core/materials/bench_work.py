"""Bench steps that belong to a blank: joint, dry-fit, glue with its clamps, wait, plane, measure, mark. Each is a step that what comes next waits for."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..bench import BenchStep
from ..blank import Layer
from ..data import figures
from ..quantities import mm
from ..route import Blank
from ..vocabulary import BenchKind


@dataclass(frozen=True)
class ClampPlan:
    """Clamps along a joint: places from one end, mm; above and below by turns; tightened from the middle outwards."""

    places_mm: list[float]
    apart_mm: float
    order: list[int]  # numbers from 1 in the order of tightening


def clamp_plan(length_mm: float, narrow_mm: float) -> ClampPlan:
    """Return the clamps for a joint.

    Args:
        length_mm: of the joint. narrow_mm: width of the narrower board.

    Source: pressure spreads at about 45 degrees from a clamp, so clamps stand no farther apart than the narrower board is wide, nor than
    figures.glue.most_apart_mm.
    """
    fig = figures()["glue"]
    end = min(fig["first_from_end_mm"], length_mm / 4)
    most = max(30.0, min(fig["most_apart_mm"], narrow_mm))
    count = max(2, math.ceil((length_mm - 2 * end) / most - 1e-9) + 1)
    apart = (length_mm - 2 * end) / (count - 1)
    middle = (count - 1) / 2
    order = sorted(range(count), key=lambda k: (abs(k - middle), k))
    return ClampPlan([end + k * apart for k in range(count)], apart, [k + 1 for k in order])


def blank_steps(blank: Blank) -> list[BenchStep]:
    """Return the bench steps that make a blank of its boards and layers, in order, all gating what comes after."""
    fig, out = figures()["glue"], []
    joints = len(blank.planks) - 1
    if joints > 0:
        out.append(
            _step(
                "joint",
                "Joint the edges",
                fig["joint_min"] * joints,
                BenchKind.JOINT,
                f"{2 * joints} edges, {mm(blank.joint_loss_mm):.1f} off each. Mark each pair so that it goes back "
                f"as it was.",
            )
        )
        out.append(_step("dry_fit", "Fit the joint dry", fig["dry_fit_min"] * joints, BenchKind.DRY_FIT, "No light through the seam, no rocking. Read the grain: both boards should plane the same way."))
        plan = clamp_plan(blank.length_mm, min(p.width_mm for p in blank.planks))
        places = ", ".join(f"{mm(x):.0f}" for x in plan.places_mm)
        out.append(_step("glue", f"Glue {joints + 1} boards", 15 * joints, BenchKind.GLUE,
                         f"{len(plan.places_mm)} clamps at {places} from one end, above and below by turns. Tighten in the order {', '.join(map(str, plan.order))} until a thin line of glue stands along the seam."))
        out.append(_step("glue_wait", "Glue line dries", fig["wait_min"], BenchKind.WAIT, f"{fig['clamp_min']:.0f} min in the clamps, then leave it before it is machined. Scrape squeeze-out once it is dry.", wait=True))
    for layer in [layer for layer in blank.layers if layer.glued_before is None][1:]:
        out += glue_steps(layer)
    out.append(
        _step(
            "plane",
            f"Plane to {mm(blank.thickness_mm):.1f}",
            fig["plane_min"],
            BenchKind.PLANE,
            "Both faces. Wind and cup first, thickness last.",
        )
    )
    out.append(_step("measure", "Measure the thickness", fig["mark_min"], BenchKind.MEASURE, "Caliper at the four corners and the middle; write the readings on the Blank screen."))
    out.append(_step("mark", "Mark centre lines", fig["mark_min"], BenchKind.MARK, "On both faces and both ends, and which end is the neck's."))
    return out


def glue_steps(layer: Layer) -> list[BenchStep]:
    """Return the bench steps that glue one layer on."""
    return [_step(f"cap_{layer.id}", f"Glue the {layer.kind.value if layer.id.startswith(layer.kind.value) else f'{layer.kind.value} {layer.id}'}", 20, BenchKind.GLUE, "Even coat, pressure all over, pins or waste screws against sliding."),
            _step(f"cap_{layer.id}_wait", "Layer dries", figures()["glue"]["wait_min"], BenchKind.WAIT, "Flat and weighted until it is machined.", wait=True)]


def _step(step_id: str, name: str, minutes: float, kind: BenchKind, note: str, *, wait: bool = False) -> BenchStep:
    return BenchStep(id=step_id[:40], name=name, minutes=minutes, kind=kind, gate=True, wait=wait, note=note)


def with_blank_steps(steps: list[BenchStep], blank: Blank) -> list[BenchStep]:
    """Return a route's bench steps with those of its blank put first, anew; steps a person added stay where they are."""
    fresh = blank_steps(blank)
    ids = {s.id for s in fresh}
    kinds = {BenchKind.JOINT, BenchKind.DRY_FIT, BenchKind.GLUE, BenchKind.PLANE, BenchKind.MEASURE, BenchKind.MARK}
    rest = [s for s in steps if s.id not in ids and not (s.after is None and s.gate and (s.kind in kinds or (s.kind is BenchKind.WAIT and s.id.endswith("_wait"))))]
    before, after = [s for s in rest if s.after is None], [s for s in rest if s.after is not None]
    return [*fresh, *before, *after]


@dataclass(frozen=True)
class Offcut:
    """What is left of a blank beside the outline: a rectangle along one edge, and what it is good for."""

    side: str
    length_mm: float
    width_mm: float
    use: str


def offcuts(blank: Blank, bounds: tuple[float, float, float, float], bit_mm: float) -> list[Offcut]:
    """Return the strips of a blank beside the outline that are wide enough to keep, for coupons, plugs and stain.

    Args:
        bounds: of the outline. bit_mm: what the outline's bit takes.
    """
    xmin, ymin, xmax, ymax = bounds
    strips = [("neck end", xmin - bit_mm - blank.x_mm, blank.width_mm), ("tail end", blank.x_mm + blank.length_mm - xmax - bit_mm, blank.width_mm),
              ("bass side", ymin - bit_mm - blank.y_mm, blank.length_mm), ("treble side", blank.y_mm + blank.width_mm - ymax - bit_mm, blank.length_mm)]
    out = []
    for side, width, length in strips:
        if width >= 10:
            use = "fit coupons, plugs, stain" if width >= 25 else "plugs and stain"
            out.append(Offcut(side, round(length, 1), round(width, 1), use))
    return out
