"""The ridges a finish leaves on a surface, measured in the simulated wood, and what another stepover would cost at the machine and with
sandpaper."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..data import figures
from ..heights.raster import mask_of
from ..instrument.bevels import surface_heights
from ..instrument.resolve import Solid
from ..plane.regions import buffer_round
from ..vocabulary import MOVE_CODES, MoveKind
from .simulate import Simulation, Step

BINS = 12
TRIED = 25


@dataclass(frozen=True)
class Cost:
    """Minutes at one stepover: at the machine, and with sandpaper afterwards."""

    stepover_mm: float
    machine_min: float
    sanding_min: float

    @property
    def together_min(self) -> float:
        return self.machine_min + self.sanding_min


@dataclass(frozen=True)
class Ridges:
    """What stands on a surface above what it should be, mm, square to it, over all its cells; and the cost of other stepovers."""

    median_mm: float
    p95_mm: float
    most_mm: float
    allowed_mm: float
    area_mm2: float  # of the surface itself
    edges_mm: list[float]  # of the bins
    shares: list[float]  # of the surface in each bin
    costs: list[Cost]
    best: Cost  # of those whose ridges stay within what the class allows
    cheapest: Cost  # of all
    now: Cost


def ridges(sim: Simulation, step: Step) -> Ridges | None:
    """Return the ridges that stand at the end of a setup where a finish operation ran; None where nothing of a surface is left to look at.

    Source: height over the target times the cosine of the slope. Machine minutes of another stepover: what the passes take goes with 1 / stepover, the
    rest stays. Ridge with its square (circle chord). Sanding: area times figures.sanding for the ridge that 95 % of the surface stays under.
    """
    heights, slopes, area, allowed = [], [], 0.0, 0.0
    for solid in (sim.resolved.solid(f) for f in step.operation.features if f in sim.resolved.solids):
        if solid.surface is None:
            continue
        found = above(sim, solid, sim.result)
        heights.append(found.over * found.flatness)
        slopes.append(found.flatness)
        area += float((1 / found.flatness).sum()) * sim.grid.cell_mm**2
        allowed = max(allowed, figures()["cusp_mm"][solid.finish_class.value])
    tall = np.maximum(np.concatenate(heights), 0.0) if heights else np.zeros(0)
    if len(tall) < 20:
        return None
    p95 = float(np.percentile(tall, 95))
    top = max(1.3 * p95, 1.2 * allowed, 1e-3)
    counts, edges = np.histogram(np.minimum(tall, top), bins=BINS, range=(0.0, top))
    passes_min, rest_min = _minutes(step)
    s0 = step.operation.settings.stepover_mm

    def cost(s: float) -> Cost:
        return Cost(round(float(s), 3), rest_min + passes_min * s0 / s, area / 1e4 * sanding_pace(p95 * (s / s0) ** 2))

    widest = min(0.5 * step.bit.cut_diameter_mm, 6 * s0)
    tried = [cost(s) for s in np.geomspace(min(0.3 * s0, widest / 2), widest, TRIED)]
    fine = [cost(s) for s in np.geomspace(min(0.3 * s0, widest / 2), widest, 400)]
    cheapest = min(fine, key=lambda c: c.together_min)
    best = min((c for c in fine if p95 * (c.stepover_mm / s0) ** 2 <= allowed), key=lambda c: c.together_min, default=fine[0])
    return Ridges(float(np.median(tall)), p95, float(tall.max()), allowed, area, [round(float(e), 5) for e in edges], [float(c) / len(tall) for c in counts], tried, best, cheapest, cost(s0))


def sanding_pace(ridge_mm: float) -> float:
    """Return minutes with sandpaper for a square decimetre, by straight lines between the rows of figures.sanding, the last carried on."""
    rows = figures()["sanding"]["rows"]
    for (r0, m0), (r1, m1) in zip(rows[:-1], rows[1:], strict=True):
        if ridge_mm <= r1 or r1 == rows[-1][0]:
            return m0 + (ridge_mm - r0) / (r1 - r0) * (m1 - m0)
    return rows[-1][1]


@dataclass(frozen=True)
class Standing:
    """Wood over a surface at n cells: how far it stands above it, mm, the cosine of the slope, how deep the surface lies below its face, mm, and the places [n, 2]."""

    over: np.ndarray
    flatness: np.ndarray
    drop: np.ndarray
    places: np.ndarray


def above(sim: Simulation, solid: Solid, top: np.ndarray) -> Standing:
    """Return what stands over a surface, at the cells well inside its region.

    top: the wood's top, float32 [ny, nx] on the simulation's grid.
    """
    part, at = sim.grid.window(*solid.region.bounds)
    assert solid.surface is not None
    target = surface_heights(solid.surface, part.x0_mm, part.y0_mm, part.cell_mm, part.nx, part.ny)
    inner = mask_of(buffer_round(solid.region, -1.0, 0.05), part)
    for other in sim.resolved.solids.values():
        if other.id != solid.id and other.kind != "outline" and other.region.intersects(solid.region):
            inner &= ~mask_of(other.region.buffer(0.5), part)
    slope = np.hypot(*np.gradient(target.astype(float), part.cell_mm))
    j, i = np.nonzero(inner)
    return Standing((top[at] - target)[inner].astype(float), (1 / np.sqrt(1 + slope**2))[inner], -target[inner].astype(float), np.column_stack([part.x_centres()[i], part.y_centres()[j]]))


def _minutes(step: Step) -> tuple[float, float]:
    """Return the minutes of an operation's passes, and of all else in it."""
    cutting = step.path.kinds == MOVE_CODES[MoveKind.CUT]
    passes = float(step.times_s[cutting].sum()) / 60
    return passes, step.minutes - passes
