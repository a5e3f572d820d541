"""Rules over thin walls: one that gives under the bit chatters and comes out thicker below than above."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..data import figures
from ..instrument.ribs import gives_mm, ribs
from ..quantities import mm
from ..vocabulary import FinishClass
from .findings import Cure, Fact, Finding, finding
from .registry import rule, set_edit
from .simulate import Simulation, Step
from .walls import MAKES_WALLS, grain_at


@rule
def wall_gives(sim: Simulation) -> Iterator[Finding]:
    """A wall between two cuts, or to the outside, bends under the side force of the bit that makes it last."""
    fig = figures()["bend"]
    for rib in ribs(sim.resolved):
        sides = [rib.one, rib.other or sim.whole.piece.outline.id]
        makers = [next((s for s in reversed(sim.steps) if side in s.operation.features and s.operation.kind in MAKES_WALLS), None) for side in sides]
        steps = [s for s in makers if s is not None]
        if not steps or not _both_cut(sim, sides):
            continue
        last = max(steps, key=lambda s: sim.steps.index(s))  # until then the wood beyond stands behind the wall
        feature = sim.resolved.solid(sides[makers.index(last)])
        limit = fig["finish_mm"] if feature.finish_class in (FinishClass.SHOWN, FinishClass.FITTED) else fig["rough_mm"]
        finish = last.finish_load is not None and last.operation.finish_pass
        load, deep = (last.finish_load, last.finish_deepest_mm) if finish else (last.load, last.deepest_mm)
        given = gives_mm(rib, load.force_n, float(grain_at(sim, np.array([rib.y_mm]), 0.0)[0]), deep)
        if given <= limit:
            continue
        names = f"{sim.resolved.solid(rib.one).name} and {sim.resolved.solid(rib.other).name if rib.other else 'the outside'}"
        yield finding(
            "feature.wall_gives",
            f"The wall between {names}, {mm(rib.thick_mm):.1f} thick and {mm(rib.high_mm):.0f} high, gives "
            f"{mm(given):.2f} under the {load.force_n:.0f} N of {last.operation.name}; {mm(limit):g} is the most. "
            f"It chatters.",
            operation=last.operation.id,
            feature=rib.one,
            place=(rib.x_mm, rib.y_mm, 0.0),
            cures=_cures(last, limit / given),
            facts=[
                Fact(name="thick", value=round(rib.thick_mm, 2)),
                Fact(name="high", value=round(rib.high_mm, 1)),
                Fact(name="long", value=round(rib.long_mm, 1)),
                Fact(name="force", value=round(load.force_n, 1), unit="N"),
                Fact(name="gives", value=round(given, 3)),
            ],
        )


def _both_cut(sim: Simulation, sides: list[str]) -> bool:
    """Say whether both sides are cut by the end of this setup, and one of them in it."""
    order = [s.id for s in sim.whole.setups]
    done = {f for o in sim.whole.operations if order.index(o.setup) <= sim.index and o.kind in MAKES_WALLS for f in o.features}
    return set(sides) <= done


def _cures(step: Step, part: float) -> list[Cure]:
    """Return passes so shallow that the wall bears their force: it goes with the depth."""
    finish = step.finish_load is not None and step.operation.finish_pass
    now = step.finish_deepest_mm if finish else step.deepest_mm
    deep = int(now * part * 0.9 * 10) / 10
    if deep < 0.5:
        return []
    field = "finish_depth_mm" if finish else "settings.depth_of_cut_mm"
    return [
        Cure(
            sentence=f"{mm(deep):.1f} deep at a time", edits=[set_edit(f"operations.{step.operation.id}.{field}", deep)]
        )
    ]
