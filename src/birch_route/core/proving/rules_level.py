"""Rules over what a level bit has to leave: along the walls of a tilted floor, and on a channel whose rim rises and falls."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..data import figures
from ..heights.raster import mask_of
from ..instrument.bevels import surface_heights
from ..instrument.channels import ChannelFloor
from ..instrument.floors import FollowingFloor, TiltedFloor
from ..instrument.resolve import Solid
from ..operations.channelling import out_of_reach
from ..quantities import mm
from ..vocabulary import FinishClass
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, set_edit
from .simulate import Simulation
from .target import final_radius, unreached


@rule_on_wood
def tilt_left(sim: Simulation) -> Iterator[Finding]:
    """A level bit cannot follow a tilted floor into its walls."""
    for solid in sim.resolved.on(sim.setup.face):
        radius = final_radius(sim, solid.id)
        if radius is not None and isinstance(solid.surface, ChannelFloor):
            yield from _rim_left(sim, solid, solid.surface, radius)
        if not isinstance(solid.surface, TiltedFloor | FollowingFloor) or radius is None:
            continue
        left = unreached(sim, solid, radius)
        most = float(left.max())
        if most <= figures()["level_bit"]["told_mm"] or (isinstance(solid.surface, FollowingFloor) and solid.finish_class in (FinishClass.HIDDEN, FinishClass.FREE)):
            continue  # nobody sees it, and it is wood more, not less
        part, _ = sim.grid.window(*solid.region.bounds)
        j, i = (int(v) for v in np.unravel_index(np.argmax(left), left.shape))
        step = next(s for s in reversed(sim.steps) if solid.id in s.operation.features)
        yield finding(
            "feature.tilt_left",
            f"Along the walls of {solid.name} up to {mm(most):.2f} stays: the {step.bit.name} stands level on a "
            f"floor tilted by {np.degrees(np.arctan(solid.surface.steepest)):.1f}°. Take it with a chisel, or end "
            f"with a narrower bit.",
            operation=step.operation.id,
            feature=solid.id,
            place=(float(part.x_centres()[i]), float(part.y_centres()[j]), solid.floor_mm or 0.0),
            facts=[
                Fact(name="left", value=round(most, 3)),
                Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit"),
            ],
        )


def _rim_left(sim: Simulation, solid: Solid, floor: ChannelFloor, radius: float) -> Iterator[Finding]:
    if float(floor.stands_mm(radius).max()) <= figures()["level_bit"]["told_mm"]:
        return
    part, at = sim.grid.window(*solid.region.bounds)
    inner = mask_of(solid.region.buffer(-sim.tol.leftover_mm), part) & ~mask_of(out_of_reach(floor, radius).buffer(0.3), part)
    over = np.where(inner, np.maximum(sim.result[at], sim.bottom[at]) - surface_heights(floor, part.x0_mm, part.y0_mm, part.cell_mm, part.nx, part.ny), 0.0)
    for deeper in (s for s in sim.resolved.on(sim.setup.face) if s.id != solid.id and not s.is_contour and s.region.intersects(solid.region)):
        over[mask_of(deeper.region.buffer(0.3), part)] = 0.0
    most = float(over.max())
    if most <= figures()["level_bit"]["told_mm"]:
        return
    j, i = (int(v) for v in np.unravel_index(np.argmax(over), over.shape))
    x, y = float(part.x_centres()[i]), float(part.y_centres()[j])
    step = next(s for s in reversed(sim.steps) if solid.id in s.operation.features)
    slim = min((b for b in sim.route.bits if b.form is step.bit.form and b.cutting_length_mm >= floor.deepest_mm), key=lambda b: b.cut_diameter_mm, default=step.bit)
    cures = (
        [Cure(sentence=f"Take the {slim.name}", edits=[set_edit(f"operations.{step.operation.id}.bit", slim.id)])]
        if slim.id != step.bit.id and float(floor.stands_mm(slim.radius_mm).max()) <= figures()["level_bit"]["told_mm"]
        else []
    )
    yield finding(
        "feature.tilt_left",
        f"Up to {mm(most):.2f} stays on the floor of {solid.name} where the rim rises and falls: the "
        f"{step.bit.name} stands level. Scrape it, or end with a narrower bit.",
        operation=step.operation.id,
        feature=solid.id,
        place=(x, y, -floor.depth_mm),
        cures=cures,
        facts=[Fact(name="left", value=round(most, 3)), Fact(name="bit", value=step.bit.cut_diameter_mm, source="bit")],
    )
