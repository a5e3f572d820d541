"""Wood that lies free between its supports: how far it gives under the bit, and how thick a spacer there has to be."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from scipy import ndimage

from ..data import figures
from ..heights.field import Grid
from ..heights.raster import mask_of
from ..holding.clearance import footprint
from ..holding.contacts import lifts_by
from ..route import Hardware
from ..vocabulary import HardwareKind
from .simulate import Simulation, Step

COARSE = 8  # supports are looked at on every eighth cell
LEVELS_MM = (2.0, 3.0, 4.5, 6.0, 8.0, 11.0, 15.0, 20.0, 28.0)  # of thickness, each a plate of its own


@dataclass(frozen=True)
class Span:
    """A stretch of wood that nothing carries, cut over by a step, in the setup's frame. spacer_mm: from the waste board to the wood at its middle."""

    step: Step
    x_mm: float
    y_mm: float
    span_mm: float
    thick_mm: float
    force_n: float
    gives_mm: float
    spacer_mm: float
    plate: np.ndarray  # its cells, on the coarse grid
    grid: Grid


@dataclass(frozen=True)
class _Lies:
    """Where wood is carried: regions of free cells, on a coarse grid."""

    grid: Grid
    bottom: np.ndarray
    bed: float
    regions: np.ndarray
    widest_mm: float


def gives_mm(force_n: float, span_mm: float, thick_mm: float) -> float:
    """Return how far wood gives in the middle of a span.

    Source: a thin square plate that rests along its four edges under a force in its middle, w = 0.0116 F L^2 / D with D = E t^3 / (12 (1 - v^2)), v = 0.3, and E across
    the fibres: the careful side for a floor that thicker wood grips all round, not for a tongue that stands out free.
    """
    stiff = figures()["thin_wall"]["across_n_mm2"] * thick_mm**3 / (12.0 * (1.0 - 0.3**2))
    return 0.0116 * force_n * span_mm**2 / stiff


def spans(sim: Simulation) -> list[Span]:
    """Return for each step the span that gives most under it, if it cuts over one that might give too much."""
    lies, out = _lies(sim), []
    if not (lies.regions > 0).any():
        return []
    fig = figures()["holding"]
    for index, step in enumerate(sim.steps):
        pulls = max(step.load.force_n, step.finish_load.force_n if step.finish_load else 0.0)
        if pulls <= 0:
            continue
        after, before = (_coarse(f) for f in (step.top, sim.top_before(index)))
        over = (after < before - 1e-4) & (lies.regions > 0) & (after > lies.bottom)
        force = pulls * max(lifts_by(step.bit), fig["down_part"])
        if not over.any() or gives_mm(force, lies.widest_mm, float((after - lies.bottom)[over].min())) < fig["span_gives_mm"]:
            continue  # even over the widest of all it gives less
        worst = _worst(lies, after, over, force)
        if worst is not None:
            span, thick, j, i, plate = worst
            out.append(Span(step, float(lies.grid.x_centres()[i]), float(lies.grid.y_centres()[j]), span, thick, force, gives_mm(force, span, thick), float(lies.bottom[plate].min()) - lies.bed, plate, lies.grid))
    return out


def _worst(lies: _Lies, top: np.ndarray, over: np.ndarray, force_n: float) -> tuple[float, float, int, int, np.ndarray] | None:
    """Return span, thickness and cell of the free wood that gives most where a step cut, and the cells of that plate.

    A thin floor in a thick plate spans no more than itself: for each thickness the wood no thicker than that is a plate of its own, held by what is thicker.
    """
    thick = top - lies.bottom
    wood = (lies.regions > 0) & (thick > 0.2)
    if not (wood & over).any():
        return None
    found: tuple[float, float, int, int, np.ndarray] | None = None
    low, most = float(thick[wood & over].min()), float(thick[wood].max())
    for level in [t for t in LEVELS_MM if low <= t < most] + [most]:
        away = ndimage.distance_transform_edt(wood & (thick <= level)) * lies.grid.cell_mm
        here = np.where(over, away, 0.0)
        j, i = (int(v) for v in np.unravel_index(int(np.argmax(here)), here.shape))
        span, of = 2.0 * float(here[j, i]), max(low, min(level, float(np.percentile(thick[wood & (away > 0)], 50))))
        if span >= figures()["holding"]["least_span_mm"] and (found is None or gives_mm(force_n, span, of) > gives_mm(force_n, found[0], found[1])):
            regions, _ = ndimage.label(away > 0)
            found = span, of, j, i, regions == regions[j, i]
    return found


def spacer_for(span: Span) -> tuple[float, float, float, float, float]:
    """Return middle, length, width and angle of what would carry a span: the least rectangle round its cells, a little narrower, for it has to go in where they lie free."""
    grid, cells = span.grid, span.plate
    rows, columns = np.nonzero(cells)
    points = shapely.MultiPoint(np.column_stack([grid.x_centres()[columns], grid.y_centres()[rows]]))
    corners = np.asarray(points.minimum_rotated_rectangle.exterior.coords)
    a, b = corners[1] - corners[0], corners[2] - corners[1]
    if np.linalg.norm(a) < np.linalg.norm(b):
        a, b = b, a
    x, y = corners[:4].mean(axis=0)
    narrower = 0.5 * grid.cell_mm
    return float(x), float(y), max(4.0, float(np.linalg.norm(a)) - narrower), max(4.0, float(np.linalg.norm(b)) - narrower), math.degrees(math.atan2(a[1], a[0]))


def spacers(sim: Simulation) -> dict[str, float]:
    """Return how thick each spacer of a setup has to be, mm, by id: from the waste board to the lowest wood over it; 0 where there is none."""
    under = [h for h in sim.setup.hardware if h.kind is HardwareKind.SPACER]
    if not under:
        return {}
    lies, out = _lies(sim), {}
    for h in under:
        over = mask_of(footprint(h), lies.grid) & (_coarse(sim.blank_top) > lies.bottom)
        out[h.id] = float(lies.bottom[over].min()) - lies.bed if over.any() else 0.0
    return out


def support_profile(sim: Simulation, h: Hardware, step_mm: float = 5.0) -> list[tuple[float, float]]:
    """Return the upper side of a spacer that is cut to the face that lies on it: place along its middle from its end, and height over the waste board, mm; without the places where no wood lies over it."""
    bottom, wood = sim.bottom, sim.blank_top > sim.bottom
    bed = float(bottom[wood].min())
    c, s = math.cos(math.radians(h.angle_deg)), math.sin(math.radians(h.angle_deg))
    out = []
    for along in np.linspace(0.0, h.length_mm, max(2, round(h.length_mm / step_mm) + 1)):
        cell = sim.grid.cell_of(h.x_mm + (along - h.length_mm / 2) * c, h.y_mm + (along - h.length_mm / 2) * s)
        if cell is not None and wood[cell]:
            out.append((float(along), float(bottom[cell]) - bed))
    return out


def _coarse(field: np.ndarray) -> np.ndarray:
    return np.ascontiguousarray(field[COARSE // 2::COARSE, COARSE // 2::COARSE])


def _lies(sim: Simulation) -> _Lies:
    cell = sim.grid.cell_mm
    half = (COARSE // 2 + 0.5 - COARSE / 2) * cell
    top, bottom = _coarse(sim.blank_top), _coarse(sim.bottom)
    grid = Grid(sim.grid.x0_mm + half, sim.grid.y0_mm + half, top.shape[1], top.shape[0], COARSE * cell)
    wood = top > bottom
    bed = float(bottom[wood].min())
    carried = wood & (bottom <= bed + figures()["holding"]["bed_gap_mm"])
    for h in sim.setup.hardware:
        if h.kind is HardwareKind.SPACER:
            over = wood & mask_of(footprint(h), grid)
            if over.any():  # a flat one meets no more than the lowest wood over it
                carried |= over if h.shaped else over & (bottom <= float(bottom[over].min()) + figures()["holding"]["bed_gap_mm"])
    free = wood & ~carried
    regions, _ = ndimage.label(free)
    widest = 2.0 * float(ndimage.distance_transform_edt(free).max()) * grid.cell_mm if free.any() else 0.0
    return _Lies(grid, bottom, bed, regions, widest)
