"""Rules over turning over: what the piece is found again by, and whether that can be."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from ..data import figures
from ..gluing import base_setup, is_before
from ..heights.raster import kept_mask
from ..holding.datums import judged
from ..quantities import mm
from ..stages import bed_points, pins_between
from ..tolerances import TOLERANCES
from ..vocabulary import BenchKind, Face, OperationKind, TurnAxis
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, rule_once, set_edit
from .simulate import Simulation


@rule_once
def out_of_square(sim: Simulation) -> Iterator[Finding]:
    """A test pair says that the machine's axes are out of square: no move of the zero mends that."""
    most = figures()["tolerance_mm"]["shown"]
    xmin, ymin, xmax, ymax = sim.resolved.outline.bounds
    for setup in sim.whole.setups:
        if setup.test_pair is None:
            continue
        pair = judged(setup.test_pair)
        across = (ymax - ymin if setup.turned_about is TurnAxis.LENGTH else xmax - xmin) / 2
        step = abs(2 * across * math.tan(math.radians(pair.square_deg)))
        if step > most:
            yield finding(
                "turn.out_of_square",
                f"The test pair says the axes are {abs(pair.square_deg):.3f}° out of square. Turned over, the faces "
                f"differ by {mm(step):.2f} at the outside of the piece; {mm(most):g} is what a seen edge may be off. "
                "Square the gantry, then measure a pair again.",
                place=(xmax, ymax, 0.0),
                facts=[
                    Fact(name="out of square", value=round(pair.square_deg, 4), unit="°", source="reading"),
                    Fact(name="step at the outside", value=round(step, 3)),
                ],
            )


@rule_once
def found_again(sim: Simulation) -> Iterator[Finding]:
    """A turned setup without index holes, with holes that are not symmetrical about the turning axis, or made too late."""
    route, base = sim.whole, base_setup(sim.whole)
    for setup in route.setups:
        if setup is base or is_before(route, setup):
            continue
        if setup.datum is None:
            yield finding("turn.no_datum", f"{setup.name} is found again by edges or lines only; the two faces may be off by what they are read to. Two index holes on the turning axis are better.",
                          facts=[Fact(name="index holes", value=0, unit="")])
            continue
        hole = route.feature(setup.datum)
        if hole.kind != "hole":
            continue
        shift, left = pins_between(*(bed_points(route, s, hole.points, sim.resolved.thickness_mm) for s in (base, setup)))
        across = 1 if setup.turned_about is TurnAxis.LENGTH else 0
        if left > TOLERANCES.pin_mm:
            mean = sum(p[across] for p in hole.points) / len(hole.points)
            straight = [[p[0], round(mean, 3)] if across else [round(mean, 3), p[1]] for p in hole.points]
            yield finding(
                "turn.not_symmetrical",
                f"{hole.name} are not symmetrical about the {setup.turned_about.value} of the piece: turned over, a "
                f"hole stands {mm(left):.2f} beside the nearest pin.",
                feature=hole.id,
                place=(*hole.points[0], 0.0),
                facts=[
                    Fact(name="beside the pin", value=round(left, 3)),
                    Fact(name="allowed", value=TOLERANCES.pin_mm, source="tolerances"),
                ],
                cures=[
                    Cure(
                        sentence="Put them on one line", edits=[set_edit(f"piece.features.{hole.id}.points", straight)]
                    )
                ],
            )
        elif max(abs(shift[0]), abs(shift[1])) > TOLERANCES.pin_mm:
            at = [round(setup.blank_at_mm[0] + shift[0], 3), round(setup.blank_at_mm[1] + shift[1], 3)]
            cures = (
                [
                    Cure(
                        sentence=f"Put the blank at {mm(at[0]):.1f}, {mm(at[1]):.1f}",
                        edits=[set_edit(f"setups.{setup.id}.blank_at_mm", at)],
                    )
                ]
                if min(at) >= 0
                else []
            )
            yield finding(
                "turn.pins_off",
                f"In {setup.name} the index holes stand {mm(math.hypot(*shift)):.2f} from the pins they were made "
                f"over. The blank has to lie elsewhere on the bed.",
                feature=hole.id,
                place=(*hole.points[0], 0.0),
                cures=cures,
                facts=[
                    Fact(name="from the pins", value=round(math.hypot(*shift), 3)),
                    Fact(name="allowed", value=TOLERANCES.pin_mm, source="tolerances"),
                ],
            )
        first = [o for o in route.operations if o.setup == base.id]
        at = next((k for k, o in enumerate(first) if hole.id in o.features), None)
        early = at is not None and all(o.kind is OperationKind.FACE for o in first[:at])
        if not early:
            words = f"{hole.name} are made after {first[at - 1].name}" if at else f"{hole.name} are not made in {base.name}"
            cures = (
                []
                if at is None
                else [
                    Cure(
                        sentence="Make them first", edits=[{"do": "move_operation", "operation": first[at].id, "to": 0}]
                    )
                ]
            )
            yield finding("turn.datum_late", f"{words}; what was cut before them is not found again by them.", operation=first[at].id if at is not None else None, feature=hole.id, cures=cures,
                          facts=[Fact(name="stands at", value=-1 if at is None else at, unit="")])


@rule_on_wood
def one_sided(sim: Simulation) -> Iterator[Finding]:
    """Much of the wood goes from one face before the piece is turned, and it is not left to rest, measured and skimmed.

    Source: a board relieved on one side bends toward the other as its tension and moisture even out; the part is a starting figure.
    """
    fig, route = figures()["one_sided"], sim.whole
    after = next((s for s in route.setups[sim.index + 1:] if s.face is not route.setups[sim.index].face), None)
    if after is None or is_before(route, route.setups[sim.index]) or not sim.steps:
        return
    inside = kept_mask(sim.resolved.outline, sim.grid)
    above = min(0.0, float(sim.blank_top.max()))
    gone = float(np.maximum(above - np.maximum(sim.result, sim.bottom), 0.0)[inside].sum())
    part = gone / max(float((above - sim.bottom)[inside].sum()), 1e-9)
    steps = {s.kind for s in route.bench_steps if s.after in {o.id for o in route.operations if o.setup == route.setups[sim.index].id}}
    skims = route.blank.skim_back_mm if after.face is Face.BACK else route.blank.skim_mm
    if part < fig["part"] or (skims > 0.05 and {BenchKind.REST, BenchKind.MEASURE} <= steps):
        return
    cures = (
        [
            Cure(
                sentence=f"Rest, measure, skim {mm(fig['skim_mm']):g}",
                edits=[{"do": "rest_and_skim", "setup": after.id}],
            )
        ]
        if after.face is Face.BACK
        else []
    )
    yield finding("turn.wood_moves", f"{part:.0%} of the piece is cut from the {route.setups[sim.index].face.value} before the {after.face.value}: wood relieved on one side may cup. Let it rest, measure how flat it lies, and skim the {after.face.value} before that is cut.",
                  operation=sim.steps[-1].operation.id, cures=cures, facts=[Fact(name="part gone", value=round(part, 3), unit=""), Fact(name="rest from", value=fig["part"], unit="", source="figures, unverified")])
