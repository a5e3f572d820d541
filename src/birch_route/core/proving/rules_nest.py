"""Rules over a nest: the piece is cut free before it lies in one, and no cut goes into it."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from ..holding.nest import cut_free_before, window_of
from ..quantities import mm
from ..vocabulary import RAPID_CODE
from .findings import Cure, Fact, Finding, finding
from .registry import rule, rule_on_motion, set_edit
from .simulate import Simulation


@rule
def nest_early(sim: Simulation) -> Iterator[Finding]:
    """A setup lies in a nest and the piece is still in its blank."""
    whole = sim.whole
    if sim.setup.nest is None or cut_free_before(whole.operations, whole.piece.outline.id, [s.id for s in whole.setups], sim.setup.id):
        return
    yield finding(
        "nest.early",
        f"{sim.setup.name} lies in a nest, but no operation before it cuts the piece out of its blank: it does not "
        f"go in. Cut the outline in an earlier setup.",
        place=(0.0, 0.0, 0.0),
        facts=[Fact(name="outlines cut before", value=0, unit="")],
        cures=[Cure(sentence="Hold it without a nest", edits=[set_edit(f"setups.{sim.setup.id}.nest", None)])],
    )


@rule_on_motion
def nest_cut(sim: Simulation) -> Iterator[Finding]:
    """Bit or collet nut goes into the nest; told of the worst operation."""
    nest = sim.setup.nest
    if nest is None:
        return
    window = window_of(sim.resolved.outline, nest).region
    top = float(sim.bottom[sim.blank_top > sim.bottom].min()) + nest.deep_mm
    rim = window.exterior
    worst: tuple[float, str, int, int] | None = None
    lowest = top
    for n, step in enumerate(sim.steps):
        points = step.path.points
        low = np.minimum(points[:-1, 2], points[1:, 2])
        nut = (sim.route.machine.nut_diameter_mm / 2, step.bit.stickout_mm, "collet nut")
        for radius, up, who in ((step.bit.reach_mm, 0.0, "bit"), nut):
            moves = np.flatnonzero((low + up < top - 1e-6) & (step.path.kinds != RAPID_CODE))
            if not len(moves):
                continue
            lines = shapely.linestrings(np.stack([points[moves, :2], points[moves + 1, :2]], axis=1))
            gaps = np.where(shapely.contains(window, lines), shapely.distance(lines, rim), -shapely.distance(lines, rim)) - radius
            lowest = min(lowest, float((low[moves] + up)[gaps < 0].min(initial=top)))
            k = int(np.argmin(gaps))
            if worst is None or gaps[k] < worst[0]:
                worst = float(gaps[k]), who, n, int(moves[k])
    if worst is None or worst[0] >= -sim.tol.contact_mm:
        return
    gap, who, n, move = worst
    step = sim.steps[n]
    lower = lowest - (top - nest.deep_mm)
    cures = (
        [
            Cure(
                sentence=f"Make the nest {mm(lower - 0.5):.1f} deep",
                edits=[set_edit(f"setups.{sim.setup.id}.nest.deep_mm", round(lower - 0.5, 2))],
            )
        ]
        if lower > 2.5
        else []
    )
    x, y, z = step.path.points[move + 1]
    yield finding(
        "nest.cut",
        f"{step.operation.name} goes {mm(-gap):.1f} into the nest with the {who}, below its edge.",
        operation=step.operation.id,
        place=(float(x), float(y), float(z)),
        cures=cures,
        facts=[Fact(name="into the nest", value=round(-gap, 2)), Fact(name="nest deep", value=nest.deep_mm)],
    )
