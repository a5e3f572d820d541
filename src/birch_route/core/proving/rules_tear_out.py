"""Rules over tear-out: walls where fibres dive ahead of the edge."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely

from ..cutting.tear_out import rim_risk, wall_risk
from ..data import figures
from ..errors import InputError
from ..instrument.resolve import cut_region
from ..materials.layers import wood_on_top
from ..quantities import metre, mm, named_mm
from ..route import Pocket
from ..sequence.rim import clean_rim, frays
from ..vocabulary import Direction, FinishClass, Pattern
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_motion, set_edit
from .rules_corners import drawn_corner, part_corner
from .simulate import Simulation, Step
from .walls import Wall, grain_at, stretches, walls_of

MOST_LINES = 300  # drawn of one operation
SEEN = (FinishClass.SHOWN, FinishClass.FITTED)


@rule_on_motion
def splinters(sim: Simulation) -> Iterator[Finding]:
    """A wall that is seen or fitted is cut against fibres that dive into it."""
    fig = figures()["tear_out"]
    for step in sim.steps:
        for wall in walls_of(sim, step):
            solid = sim.resolved.solid(wall.feature)
            bad = wall.risk >= fig["likely"]
            length = float(wall.lengths_mm[bad].sum())
            if solid.finish_class not in SEEN or length < fig["least_mm"]:
                continue
            worst = int(np.argmax(np.where(bad, wall.risk * wall.lengths_mm, 0)))
            how = "climbing" if wall.climb[worst] else "cut conventional"
            x, y = wall.pieces[worst].mean(axis=0)
            words = (
                f"Splinters are likely on {metre(length / 1000):.1f} of {metre(wall.lengths_mm.sum() / 1000):.1f} "
                f"of passes over {solid.name}: there they run up the slope along fibres of "
                f"{step.species.name.lower()} that dive into it by {wall.dive_deg[worst]:.0f}°."
                if wall.what == "passes"
                else f"Splinters are likely on {mm(length):.0f} of {named_mm(wall.lengths_mm.sum()):.0f} of "
                     f"{step.operation.name if wall.what == 'edge' else solid.name}: there the "
                     f"{step.species.name.lower()} is {how} "
                f"where its fibres dive into the wall by {wall.dive_deg[worst]:.0f}°."
            )
            yield finding("tear_out.likely", words, operation=step.operation.id, feature=solid.id, place=(float(x), float(y), 0.0), cures=_cures(sim, step, wall),
                          facts=[Fact(name="risk", value=round(float(wall.risk[worst]), 2), unit="", source="figures, unverified"), Fact(name="fibres dive", value=round(float(wall.dive_deg[worst]), 0), unit="°"),
                                 Fact(name="length", value=round(length, 1))])


@rule_on_motion
def rough_walls(sim: Simulation) -> Iterator[Finding]:
    """A serrated rougher leaves grooves: a wall that is seen or fitted wants another bit after it."""
    for step in sim.steps:
        if not step.bit.serrated:
            continue
        for wall in walls_of(sim, step):
            solid = sim.resolved.solid(wall.feature)
            if solid.finish_class not in SEEN:
                continue
            deep = -(solid.floor_mm if solid.floor_mm is not None else sim.route.blank.bottom_mm)
            drawn = next((f for f in sim.whole.features if f.id == solid.id), None)
            accepts, gap = part_corner(sim, drawn) if isinstance(drawn, Pocket) else (None, 0.0)
            round_as = (
                max(
                    step.bit.radius_mm,
                    drawn_corner(cut_region(solid, 6.0)),
                    0.0 if accepts is None else accepts + gap * math.sqrt(2) / (math.sqrt(2) - 1),
                )
                if solid.kind == "pocket"
                else math.inf
            )
            smooth = [
                b
                for b in sim.route.bits
                if not b.serrated
                and b.form is step.bit.form
                and b.radius_mm <= round_as + 1e-6
                and b.cutting_length_mm >= deep - 1e-6
            ]
            best = max(smooth, key=lambda b: (b.radius_mm <= step.bit.radius_mm, b.cut_diameter_mm), default=None)
            none = "" if best else " No smooth bit of the rack is long enough and gets into its corners."
            x, y = wall.pieces[0].mean(axis=0)
            yield finding(
                "feature.rough_wall",
                f"The {step.bit.name} is serrated: it leaves grooves on the wall of "
                f"{solid.name}. Let it rough with stock to leave, and end with a smooth "
                f"bit.{none}",
                operation=step.operation.id,
                feature=solid.id,
                place=(float(x), float(y), 0.0),
                facts=[Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit")],
                cures=[
                    Cure(
                        sentence=f"Take the {best.name}",
                        edits=[set_edit(f"operations.{step.operation.id}.bit", best.id)],
                    )
                ]
                if best
                else [],
            )


@rule_on_motion
def rims(sim: Simulation) -> Iterator[Finding]:
    """The upper rim of a pocket that is seen or fitted is cut upward in wood that lifts."""
    told = figures()["tear_out"]["rim_told"]
    for step in sim.steps:
        op = step.operation
        risk = frays(sim.route, sim.resolved, op)
        if risk < told:
            continue
        solid = next(sim.resolved.solids[f] for f in op.features if f in sim.resolved.solids)
        at, cure, words = solid.region.representative_point(), [], ""
        try:
            clean_rim(sim.whole, op.id)
            cure = [Cure(sentence="Cut its rim clean", edits=[{"do": "clean_rim", "operation": op.id}])]
        except InputError as exc:
            words = f" {exc.sentence}"
        yield finding("tear_out.rim", f"The rim of {solid.name} frays: the {step.bit.name} cuts upward, and {wood_on_top(sim.route).name.lower()} is {wood_on_top(sim.route).tear_out}.{words}", operation=op.id, feature=solid.id,
                      place=(float(at.x), float(at.y), 0.0), cures=cure, facts=[Fact(name="risk", value=round(risk, 2), unit="", source="figures, unverified")])


def _cures(sim: Simulation, step: Step, wall: Wall) -> list[Cure]:
    """Return what brings every stretch of a wall under the limit: climbing, a thin last pass, or both."""
    op, limit = step.operation, figures()["tear_out"]["likely"]
    if wall.what == "passes":
        across = round((float(np.median(grain_at(sim, wall.pieces[:, 0, 1], 0.0))) + 180.0) % 180.0 - 90.0, 1)
        apart = abs((op.pass_deg - across + 90.0) % 180.0 - 90.0)
        return (
            [
                Cure(
                    sentence="Run the passes across the fibres",
                    edits=[set_edit(f"operations.{op.id}.pass_deg", across)],
                )
            ]
            if op.pattern is Pattern.PARALLEL and apart > 10.0
            else []
        )
    if wall.what == "edge":
        climbing = wall_risk(step.species, wall.dive_deg, np.ones(len(wall.climb), bool), 1.0).max() < limit
        return (
            [Cure(sentence="Climb there", edits=[set_edit(f"operations.{op.id}.direction", Direction.CLIMB.value)])]
            if climbing and op.direction is not Direction.CLIMB
            else []
        )
    thin = set_edit(f"operations.{op.id}.finish_pass", True)
    climb = set_edit(f"operations.{op.id}.direction", Direction.CLIMB.value)
    ways = [("Climb there", [climb], True, op.finish_pass), ("A thin last pass", [thin], False, True), ("Climb, with a thin last pass", [climb, thin], True, True)]
    for label, edits, climbs, passes in ways:
        wide = max(op.finish_allowance_mm, 0.1) if passes else step.widest_mm
        after = wall_risk(step.species, wall.dive_deg, np.ones(len(wall.climb), bool) if climbs else wall.climb, wide / step.bit.cut_diameter_mm)
        if after.max() < limit:
            return [Cure(sentence=label, edits=edits)]
    return []


def summary(sim: Simulation, step: Step) -> dict[str, object] | None:
    """Return how much of a step's walls is at some and at likely risk, mm, its rim's risk, and the lines at risk in the piece's frame; None where it makes no wall."""
    walls = walls_of(sim, step)
    if not walls:
        return None
    fig = figures()["tear_out"]
    risk, length = np.concatenate([w.risk for w in walls]), np.concatenate([w.lengths_mm for w in walls])
    rims = [s for s in sim.steps if s.operation.down_to_mm is not None and s is not step and set(s.operation.features) & set(step.operation.features)]  # cut before, by another bit
    return {"wall_mm": round(float(length.sum()), 1), "some_mm": round(float(length[risk >= fig["some"]].sum()), 1), "likely_mm": round(float(length[risk >= fig["likely"]].sum()), 1),
            "most": round(float(risk.max()), 3), "what": walls[0].what, "rim": 0.0 if rims or walls[0].what != "wall" else round(rim_risk(step.species, step.bit.flute), 3),
            "lines": [[band, [[round(v, 1) for v in sim.frame.point(x, y, 0.0)[:2]] for x, y in shapely.LineString(line).simplify(0.05).coords]]
                      for wall in walls for band, line in _told(stretches(wall)) if band and len(line) > 1]}


def _told(lines: list[tuple[int, np.ndarray]]) -> list[tuple[int, np.ndarray]]:
    """Return the lines worth drawing: of many passes the longest at risk."""
    if len(lines) <= MOST_LINES:
        return lines
    return sorted((x for x in lines if x[0]), key=lambda x: (-x[0], -float(np.hypot(*np.diff(x[1], axis=0).T).sum())))[:MOST_LINES]
