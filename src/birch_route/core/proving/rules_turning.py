"""Rules over turning over: what the piece is found again by, and whether that can be."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..data import figures
from ..gluing import base_setup, is_before
from ..holding.datums import judged
from ..stages import bed_points, pins_between
from ..tolerances import TOLERANCES
from ..vocabulary import OperationKind, TurnAxis
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
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
            yield finding("turn.out_of_square", f"The test pair says the axes are {abs(pair.square_deg):.3f}° out of square. Turned over, the faces differ by {step:.2f} at the outside of the piece; {most:g} is what a seen edge may be off. "
                          "Square the gantry, then measure a pair again.", place=(xmax, ymax, 0.0), facts=[Fact(name="out of square", value=round(pair.square_deg, 4), unit="°", source="reading"), Fact(name="step at the outside", value=round(step, 3))])


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
            yield finding("turn.not_symmetrical", f"{hole.name} are not symmetrical about the {setup.turned_about.value} of the piece: turned over, a hole stands {left:.2f} beside the nearest pin.",
                          feature=hole.id, place=(*hole.points[0], 0.0), facts=[Fact(name="beside the pin", value=round(left, 3)), Fact(name="allowed", value=TOLERANCES.pin_mm, source="tolerances")],
                          cures=[Cure(label="Put them on one line", edits=[set_edit(f"piece.features.{hole.id}.points", straight)])])
        elif max(abs(shift[0]), abs(shift[1])) > TOLERANCES.pin_mm:
            at = [round(setup.blank_at_mm[0] + shift[0], 3), round(setup.blank_at_mm[1] + shift[1], 3)]
            cures = [Cure(label=f"Put the blank at {at[0]:.1f}, {at[1]:.1f}", edits=[set_edit(f"setups.{setup.id}.blank_at_mm", at)])] if min(at) >= 0 else []
            yield finding("turn.pins_off", f"In {setup.name} the index holes stand {math.hypot(*shift):.2f} from the pins they were made over. The blank has to lie elsewhere on the bed.",
                          feature=hole.id, place=(*hole.points[0], 0.0), cures=cures, facts=[Fact(name="from the pins", value=round(math.hypot(*shift), 3)), Fact(name="allowed", value=TOLERANCES.pin_mm, source="tolerances")])
        first = [o for o in route.operations if o.setup == base.id]
        at = next((k for k, o in enumerate(first) if hole.id in o.features), None)
        early = at is not None and all(o.kind is OperationKind.FACE for o in first[:at])
        if not early:
            words = f"{hole.name} are made after {first[at - 1].name}" if at else f"{hole.name} are not made in {base.name}"
            cures = [] if at is None else [Cure(label="Make them first", edits=[{"do": "move_operation", "operation": first[at].id, "to": 0}])]
            yield finding("turn.datum_late", f"{words}; what was cut before them is not found again by them.", operation=first[at].id if at is not None else None, feature=hole.id, cures=cures,
                          facts=[Fact(name="stands at", value=-1 if at is None else at, unit="")])
