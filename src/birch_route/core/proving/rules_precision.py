"""Rules that compare how true a machine was measured with what the piece asks for (core/measuring)."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ..data import figures
from ..instrument.resolve import Resolved
from ..instrument.solids import Solid
from ..machines import Precision
from ..quantities import mm
from ..route import Operation, Pocket, Route
from ..vocabulary import FinishClass, OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once
from .simulate import Simulation

MOST_CREEPS = 6


@dataclass(frozen=True)
class Off:
    """What a machine puts into the width of a pocket, mm: plus is wider. words: which of its figures, the largest
    first."""

    wide_mm: float
    words: str


def off_of(precision: Precision, solid: Solid) -> Off | None:
    """Return how much wider than drawn a pocket comes; None where nothing that tells it was measured.

    Source: a scale acts on the whole width, play and runout once on each pair of walls; the worse axis counts.
    """
    x0, y0, x1, y1 = solid.region.bounds
    over = precision.slot_over_mm or 0.0
    known = [
        precision.slot_over_mm,
        precision.scale_x,
        precision.scale_y,
        precision.backlash_x_mm,
        precision.backlash_y_mm,
    ]
    if all(k is None for k in known):
        return None
    worst = Off(0.0, "")
    for axis, size, scale, play in (
        ("x", x1 - x0, precision.scale_x, precision.backlash_x_mm),
        ("y", y1 - y0, precision.scale_y, precision.backlash_y_mm),
    ):
        parts = {
            f"{axis} over its length": (scale or 0.0) * size / 1000,
            f"play of {axis}": abs(play or 0.0),
            "slot over its bit": over,
        }
        whole = sum(parts.values())
        if abs(whole) > abs(worst.wide_mm):
            told = sorted(((abs(v), k, v) for k, v in parts.items() if abs(v) >= 0.005), reverse=True)
            worst = Off(whole, ", ".join(f"{k} {mm(v):+.2f}" for _, k, v in told))
    return worst


def _fitted(route: Route, resolved: Resolved) -> Iterator[tuple[Pocket, Solid]]:
    """Pockets that a part goes into, by their class, but those that are crept up on: there the part says when it
    fits."""
    for feature in route.features:
        solid = resolved.solids.get(feature.id)
        if not isinstance(feature, Pocket) or solid is None or solid.is_contour:
            continue
        crept = any(feature.id in o.features and o.wall_only for o in route.operations)
        if solid.finish_class is FinishClass.FITTED and not crept:
            yield feature, solid


def _maker(sim: Simulation, feature: str) -> Operation | None:
    made = [o for o in sim.whole.operations if feature in o.features and o.kind is OperationKind.POCKET]
    return next((o for o in made if o.finishes), next((o for o in made if not o.wall_only), None))


@rule_once
def fits(sim: Simulation) -> Iterator[Finding]:
    """A part must fit, and the machine was measured to be off by more than the fit may be."""
    precision, table = sim.whole.machine.precision or Precision(), figures()["tolerance_mm"]
    for feature, solid in _fitted(sim.whole, sim.whole_resolved):
        off, may = off_of(precision, solid), table[solid.finish_class.value]
        if off is not None and abs(off.wide_mm) > may:
            yield _does_not_fit(sim, feature, solid, off, may)


def unmeasured(route: Route, resolved: Resolved) -> str:
    """Return what is to be known before a start where parts must fit on a machine that nobody measured; "" else."""
    may, precision = figures()["tolerance_mm"]["fitted"], route.machine.precision or Precision()
    unknown = [f.name for f, solid in _fitted(route, resolved) if off_of(precision, solid) is None]
    if not unknown:
        return ""
    return (
        f"How true it cuts was never measured: whether {', '.join(unknown[:4])} comes to size within {mm(may):.2f} "
        f"is not judged. Creep up on the fit, or measure it by square and scale, backlash and slot, under Shop."
    )


def _does_not_fit(sim: Simulation, feature: Pocket, solid: Solid, off: Off, may: float) -> Finding:
    word = "wider" if off.wide_mm > 0 else "narrower"
    operation, step = _maker(sim, feature.id), figures()["creep"]["step_mm"]
    passes = min(max(1, math.ceil(abs(off.wide_mm) / 2 / step)), MOST_CREEPS)
    cures = []
    if operation is not None and off.wide_mm > 0:
        cures.append(
            Cure(
                sentence=f"Leave it {mm(passes * step):.2f} too small and creep up on the fit",
                edits=[{"do": "creep", "operation": operation.id, "passes": passes}],
            )
        )
    how = "" if cures else " Mend the machine and measure it again, or draw the gap that much wider."
    return finding(
        "machine.precision",
        f"{feature.name} comes {mm(abs(off.wide_mm)):.2f} {word} than drawn on {sim.whole.machine.name} as it was "
        f"measured ({off.words}); {mm(may):.2f} is what a fit may be off.{how}",
        feature=feature.id,
        operation=operation.id if operation else None,
        facts=[
            Fact(name="off", value=round(off.wide_mm, 3), unit="mm", source="measured"),
            Fact(name="may be off", value=may, unit="mm", source="figures, unverified"),
        ],
        cures=cures,
    )


@rule_once
def faces(sim: Simulation) -> Iterator[Finding]:
    """Both faces are cut, and this machine was measured to set one beside the other by more than is seen."""
    precision, route = sim.whole.machine.precision or Precision(), sim.whole
    if precision.pair_x_mm is None or precision.pair_y_mm is None or len({s.face for s in route.setups}) < 2:
        return
    if any(s.test_pair is not None for s in route.setups):  # this job has a test pair of its own
        return
    x0, y0, x1, y1 = sim.whole_resolved.outline.bounds
    turned = abs(precision.pair_turn or 0.0) / 1000 * math.hypot(x1 - x0, y1 - y0) / 2
    off = math.hypot(precision.pair_x_mm, precision.pair_y_mm) + turned
    may = figures()["tolerance_mm"]["shown"]
    if off > may:
        yield finding(
            "machine.faces",
            f"On {route.machine.name} as it was measured the two faces stand {mm(off):.2f} apart at the far end of the "
            f"piece; {mm(may):.2f} is seen. Set the zero of the back by its test pair, or drill one in this job.",
            facts=[
                Fact(name="apart", value=round(off, 3), unit="mm", source="measured"),
                Fact(name="may be", value=may, unit="mm", source="figures, unverified"),
            ],
        )
