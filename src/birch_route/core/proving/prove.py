"""Prove a route: simulate it and ask every rule."""

from __future__ import annotations

from dataclasses import dataclass

from ..heights.field import CELL_MM
from ..route import Route
from . import rules_blank, rules_holding, rules_measuring, rules_motion, rules_parts, rules_settings, rules_wood  # noqa: F401  (they register)
from .findings import Finding, by_severity
from .registry import ON_MOTION, ON_WOOD, RULES
from .simulate import Cache, Progress, Simulation, simulate

MADE_WITH = "2026-11-26 parts 2"  # changes whenever a proof of the same route may come out differently


@dataclass(frozen=True)
class Proof:
    """A simulated route with its findings. Computed, never proven in the sense of the shop."""

    simulation: Simulation
    findings: list[Finding]

    @property
    def stops(self) -> list[Finding]:
        return [f for f in self.findings if f.severity.value == "stop"]


def prove(route: Route, cache: Cache | None = None, cell_mm: float = CELL_MM, progress: Progress | None = None) -> Proof:
    """Return the proof of a route.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    cache = cache or Cache()
    simulation = simulate(route, cache, cell_mm, progress)
    findings: list[Finding] = []
    for one in RULES:
        key = simulation.wood_key if one in ON_WOOD else simulation.motion_key if one in ON_MOTION else None
        if key is not None:
            findings += cache.rule(f"{one.__name__} {key}", lambda one=one: list(one(simulation)))
        else:
            findings += one(simulation)
    return Proof(simulation, by_severity(findings))
