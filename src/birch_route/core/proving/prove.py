"""Prove a route: simulate it and ask every rule."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

from ..route import Hardware, Route
from ..stages import Frame, stage_route
from . import (  # noqa: F401  (they register)
    rules_again,
    rules_bed,
    rules_blank,
    rules_board,
    rules_caps,
    rules_cells,
    rules_clearing,
    rules_corners,
    rules_covers,
    rules_edges,
    rules_faces,
    rules_head,
    rules_heights,
    rules_holding,
    rules_holds,
    rules_holes,
    rules_jig,
    rules_level,
    rules_machine,
    rules_made,
    rules_materials,
    rules_measuring,
    rules_motion,
    rules_neck,
    rules_nest,
    rules_openings,
    rules_order,
    rules_outline,
    rules_parts,
    rules_passes,
    rules_pieces,
    rules_precision,
    rules_ribs,
    rules_settings,
    rules_tear_out,
    rules_turning,
    rules_wood,
)
from .findings import Finding, as_meant, by_severity
from .registry import ON_FORCE, ON_MOTION, ON_WOOD, ONCE, RULES
from .simulate import Cache, Progress, Simulation, Step, simulate_all


@dataclass(frozen=True)
class Proof:
    """A simulated route with its findings, setup by setup. Computed, never proven in the sense of the shop."""

    simulations: list[Simulation]
    findings: list[Finding]

    @property
    def simulation(self) -> Simulation:
        """The first setup's."""
        return self.simulations[0]

    @property
    def steps(self) -> list[Step]:
        """Every step of every setup, in order."""
        return [s for sim in self.simulations for s in sim.steps]

    @property
    def stops(self) -> list[Finding]:
        return [f for f in self.findings if f.severity.value == "stop"]


def prove(
    route: Route, cache: Cache | None = None, cell_mm: float | None = None, progress: Progress | None = None,
    simulated: Callable[[list[Simulation]], None] | None = None,
) -> Proof:
    """Return the proof of a route.

    Args:
        simulated: told of the simulations before they are judged, so that other work on them can begin beside that.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    cache = cache or Cache()
    simulations = simulate_all(route, cache, cell_mm, progress)
    if simulated:
        simulated(simulations)
    return judged(simulations, cache)


def judged(simulations: list[Simulation], cache: Cache) -> Proof:
    """Return the proof of simulated setups: every rule asked about each."""
    findings: list[Finding] = []
    drawn = _as_drawn(simulations[0])
    for sim in simulations:
        for one in RULES:
            if one in ONCE:
                findings += list(one(drawn)) if sim.index == 0 else []
                continue
            key = sim.wood_key if one in ON_WOOD else sim.motion_key if one in ON_MOTION else sim.force_key if one in ON_FORCE else None
            if key is not None:
                found = cache.rule(f"{one.__name__} {key}", lambda one=one, sim=sim: list(one(sim)))
            else:
                found = list(one(sim))
            findings += [_in_piece(f, sim) for f in found]
    return Proof(simulations, by_severity(as_meant(findings, simulations[0].whole.meant)))


def _as_drawn(sim: Simulation) -> Simulation:
    """Return a setup's simulation with the piece as it is drawn, not as it lies there: for rules over the whole route,
    which look at shapes and sizes and not at wood."""
    if sim.frame.about is None:
        return sim
    frame = Frame(None, sim.frame.thickness_mm)
    return replace(sim, frame=frame, resolved=sim.whole_resolved, route=stage_route(sim.whole, sim.setup, frame))


def _in_piece(found: Finding, sim: Simulation) -> Finding:
    """Return a finding with its place, and the hardware its cures move, in the piece's frame."""
    if sim.frame.about is None:
        return found
    place = None if found.place is None else sim.frame.point(*found.place)
    cures = []
    for cure in found.cures:
        edits = [{**e, "hardware": sim.frame.hardware(Hardware.model_validate(e["hardware"])).model_dump(mode="json")} if e.get("do") == "put_hardware" else e for e in cure.edits]
        cures.append(cure.model_copy(update={"edits": edits}))
    return found.model_copy(update={"place": place, "cures": cures})
