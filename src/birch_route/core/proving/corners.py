"""The proof at the corners of the tolerance: the same toolpaths on a blank as thin or thick as it may be, with the zero as far off as it may be."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from ..data import figures
from ..gluing import blank_at, glue, glued_layers
from ..heights.field import Grid, Wood
from ..route import Route
from ..tolerances import TOLERANCES
from ..vocabulary import Severity, ZeroZ
from .findings import Finding
from .prove import Proof, judged, prove
from .simulate import Cache, Simulation, Stage, simulate, turned_hollow

HALVINGS = 3
Step = Callable[[int, int], None]


@dataclass(frozen=True)
class Corner:
    """One corner. thicker_mm: the blank against what the route says. zero_mm: how much too high every zero was found."""

    id: str
    name: str
    thicker_mm: float
    zero_mm: float


@dataclass(frozen=True)
class CornerResult:
    """What one corner brings that the route as it is does not have. holds_to: part of the way to the corner that surely brings nothing, 1 where even the corner does not."""

    corner: Corner
    findings: list[Finding] = field(default_factory=list)
    holds_to: float = 1.0


@dataclass(frozen=True)
class Corners:
    """All corners of a route, the one that breaks first in front. measured: the blank's spread comes from readings."""

    results: list[CornerResult]
    thinnest_mm: float
    thickest_mm: float
    zero_mm: float
    measured: bool

    @property
    def broken(self) -> list[CornerResult]:
        return [r for r in self.results if r.findings]


def spread(route: Route) -> tuple[float, float, bool]:
    """Return the thinnest and thickest the blank may be, mm, and whether that was measured (else a starting figure)."""
    blank = route.blank
    if blank.thickness_readings_mm:
        return min(*blank.thickness_readings_mm, blank.thickness_mm), max(*blank.thickness_readings_mm, blank.thickness_mm), True
    off = figures()["corners"]["blank_mm"]
    return blank.thickness_mm - off, blank.thickness_mm + off, False


def zero_error(route: Route) -> float:
    """Return how far the worst found zero of a route may be off, mm. Source: figures.corners."""
    errors = figures()["corners"]
    return max(errors["bed_mm"] if s.zero.z is ZeroZ.BED else errors["stock_top_mm"] for s in route.setups)


def corners_of(route: Route) -> list[Corner]:
    """Return the corners: thinnest and thickest blank, each with the zero too low and too high."""
    thin, thick, _ = spread(route)
    off = zero_error(route)
    out = []
    for word, thickness in (("thinnest", thin), ("thickest", thick)):
        for side, zero in (("low", -off), ("high", off)):
            out.append(Corner(f"{word}_{side}", f"{word.capitalize()} blank, zero found too {side}", thickness - route.blank.thickness_mm, zero))
    return out


def prove_corners(route: Route, cache: Cache | None = None, progress: Step | None = None) -> Corners:
    """Return what each corner brings, and how far towards it the route holds.

    progress: called with simulations done and simulations in all so far; may raise to stop.
    """
    cache = cache or Cache()
    corners, done, of = corners_of(route), 0, 4
    step = None if progress is None else lambda _done, _of: progress(done, of)  # at every operation, so that it stops soon
    nominal = prove(route, cache, progress=step)
    known = {_key(f) for f in nominal.findings}
    own = cache.beside()

    def brings(corner: Corner, part: float) -> list[Finding]:
        nonlocal done
        if progress:
            progress(done, of)
        done += 1
        found = at_corner(nominal, replace(corner, thicker_mm=corner.thicker_mm * part, zero_mm=corner.zero_mm * part), own, step)
        return [f for f in found.findings if _key(f) not in known and f.severity is not Severity.NOTE]

    results = []
    for corner in corners:
        found = brings(corner, 1.0)
        if not found:
            results.append(CornerResult(corner))
            continue
        of += HALVINGS
        holds, breaks = 0.0, 1.0
        for _ in range(HALVINGS):
            middle = (holds + breaks) / 2
            holds, breaks = (holds, middle) if brings(corner, middle) else (middle, breaks)
        results.append(CornerResult(corner, found, holds))
    thin, thick, measured = spread(route)
    return Corners(sorted(results, key=lambda r: r.holds_to), thin, thick, zero_error(route), measured)


def _key(found: Finding) -> tuple:
    return found.code, found.operation, found.feature


def at_corner(nominal: Proof, corner: Corner, cache: Cache, progress: Step | None = None) -> Proof:
    """Return the proof of the same toolpaths at a corner.

    The wood is put where the zero of each setup would find it: its lowest place on the bed where the zero is touched there, its highest where the nominal one is
    where the zero is touched on top; then moved by the error of the zero. Depths may differ from the drawing by as much as the corner itself moves them.
    """
    first = nominal.simulations[0]
    whole = first.whole
    blank = blank_at(whole, whole.setups[0])
    wood, hollow = Wood.block(first.frame.grid(first.grid), blank.top_mm + corner.thicker_mm, blank.bottom_mm), None
    moved = abs(corner.zero_mm) * (1 + (len(nominal.simulations) > 1)) + (abs(corner.thicker_mm) if whole.blank.skim_mm == 0 else 0.0)
    tol = replace(TOLERANCES, depth_mm=TOLERANCES.depth_mm + moved)
    out: list[Simulation] = []
    for sim in nominal.simulations:
        if glued_layers(whole) and sim.setup.id == glued_layers(whole)[0].glued_before:
            wood, hollow = glue(whole, wood, corner.thicker_mm)
        top, bottom = sim.frame.fields(wood.top, wood.bottom)
        shift = np.float32(_shift(sim, top, bottom) - corner.zero_mm)
        stock = Wood(sim.grid, top + shift, bottom + shift)
        key = f"corner {corner.thicker_mm:.6f} {corner.zero_mm:.6f} {sim.wood_key} {sim.index}"
        one = simulate(sim.route, cache, sim.grid.cell_mm, progress, Stage(sim.resolved, stock, key, sim.frame, sim.whole, sim.whole_resolved, sim.index, None if hollow is None else turned_hollow(hollow, sim.frame).moved(float(shift))))  # type: ignore[union-attr]
        out.append(replace(one, tol=tol))
        left, under = sim.frame.fields(one.result - shift, one.bottom - shift)
        wood = Wood(_grid(sim), left, under)
    return judged(out, cache)


def _grid(sim: Simulation) -> Grid:
    return sim.frame.grid(sim.grid)


def _shift(sim: Simulation, top: np.ndarray, bottom: np.ndarray) -> float:
    """Return how far the wood must be moved up to lie where the setup's zero expects it, mm."""
    here = top > bottom
    if not here.any():
        return 0.0
    if sim.setup.zero.z is ZeroZ.BED:
        there = sim.blank_top > sim.bottom
        return float(sim.bottom[there].min()) - float(bottom[here].min())
    return float(sim.blank_top.max()) - float(top[here].max())
