"""The wood as it should be, and how the result differs from it, feature by feature."""

from __future__ import annotations

import math
from collections import deque
from dataclasses import dataclass
from functools import lru_cache

import numba as nb
import numpy as np
import shapely
from scipy import ndimage

from ..bits.model import Bit
from ..clearing.kernels import near_edges
from ..data import figures
from ..fits import past_drawn
from ..heights.field import Grid
from ..heights.raster import kept_mask, mask_of
from ..instrument.bevels import surface_heights
from ..instrument.channels import ChannelFloor
from ..instrument.clearances import meets
from ..instrument.floors import FollowingFloor, TiltedFloor
from ..instrument.reliefs import ReliefFace
from ..instrument.resolve import Resolved, Solid, cut_region
from ..instrument.rims import Rim, offset_mm
from ..neck.surfaces import NeckBack
from ..operations.channelling import out_of_reach
from ..operations.edging import fade_mm
from ..operations.following import LevelTips
from ..operations.tilted import tip_over
from ..operations.valleys import left_at
from ..plane.regions import buffer_round, opened
from ..vocabulary import BitForm, FinishClass, OperationKind, Pattern, School, TabShape
from .simulate import Simulation, Step


@dataclass(frozen=True)
class Difference:
    """Where the result differs from the target. amount_mm: greatest; area_mm2: how much of it."""

    feature: str
    amount_mm: float
    area_mm2: float
    x_mm: float
    y_mm: float


@dataclass(frozen=True)
class Comparison:
    """Leftover and gouge by feature; `faces` is True where the finished face itself was compared."""

    left: list[Difference]
    gouged: list[Difference]


def final_radius(sim: Simulation, feature: str) -> float | None:
    """Return the radius of the smallest bit that works on a feature's walls all the way down, None if no operation does."""
    radii = [s.bit.radius_mm for s in sim.steps if feature in s.operation.features and s.operation.kind is not OperationKind.DRILL and s.operation.down_to_mm is None]
    return min(radii) if radii else None


@dataclass(frozen=True)
class Target:
    """The upper side of a setup's wood as it should be at its end, on the simulation's grid.

    height: float32 [ny, nx], z. judged: bool, cells where the result is held against it. owner: int16, index into `solids` of what lies there, -1 the face.
    """

    height: np.ndarray
    judged: np.ndarray
    owner: np.ndarray
    solids: list[Solid]


_kept: deque[tuple[Resolved, tuple, Target]] = deque(maxlen=6)


def target_of(sim: Simulation) -> Target:
    """Return the wood as drawn, not to be written to; the newest are kept by what they depend on: piece, grid, and which bits work where.

    Cells within tol.leftover_mm of a wall are not judged (the wall itself is judged by exact geometry); nor are corners
    that no bit of the route reaches, and the round ends of blind drilled holes.
    """
    key = (sim.grid, sim.setup.face, sim.tol, float(sim.bottom.min()), sim.route.blank.bottom_mm,
           tuple((s.operation.kind, tuple(s.operation.features), s.operation.edge, s.operation.pattern,
                  s.operation.down_to_mm, s.operation.stock_to_leave_mm, s.bit.model_dump_json()) for s in sim.steps))
    for resolved, known, target in _kept:
        if resolved is sim.resolved and known == key:
            return target
    made = _target(sim)
    for array in (made.height, made.judged, made.owner):
        array.setflags(write=False)
    _kept.append((sim.resolved, key, made))
    return made


def _target(sim: Simulation) -> Target:
    grid, skin = sim.grid, sim.tol.leftover_mm
    solids = sim.resolved.on(sim.setup.face)
    outline = sim.resolved.outline
    target = np.full((grid.ny, grid.nx), min(0.0, sim.route.blank.top_mm), np.float32)  # a core lies lower than the finished face
    owner = np.full((grid.ny, grid.nx), -1, np.int16)
    judged = kept_mask(_shrunk(outline, skin), grid).copy()
    open_ends = [cut_region(s, 12.0).difference(s.region) for s in solids if s.is_open]
    for extra in open_ends:
        _clear(judged, extra.buffer(skin), grid)
    for index, solid in enumerate(solids):
        part, at = grid.window(*solid.region.bounds)
        floor = solid.floor_mm if solid.floor_mm is not None else min(sim.route.blank.bottom_mm, float(sim.bottom.min()))
        if solid.surface is not None:
            floor = surface_heights(solid.surface, part.x0_mm, part.y0_mm, part.cell_mm, part.nx, part.ny)
        deeper = mask_of(solid.region, part) & (target[at] > floor + 1e-4)
        target[at][deeper], owner[at][deeper] = floor[deeper] if solid.surface is not None else floor, index
    for solid in solids:  # walls, and what round bits cannot reach
        wall = solid.region.boundary.buffer(skin + past_wall(sim, solid), quad_segs=4)
        _clear(judged, wall, grid)
        radius = final_radius(sim, solid.id)
        drilled = any(s.bit.form is BitForm.DRILL and solid.id in s.operation.features for s in sim.steps)
        if solid.kind == "hole" and drilled and solid.floor_mm is not None:
            _clear(judged, solid.region, grid)
        elif radius is not None and isinstance(solid.surface, ChannelFloor):
            _clear(judged, out_of_reach(solid.surface, radius).buffer(skin, quad_segs=4), grid)
        elif radius is not None and solid.kind == "pocket":
            missed = cut_region(solid, radius).difference(opened(cut_region(solid, radius), radius))
            _clear(judged, missed.buffer(skin, quad_segs=4), grid)
    for solid in solids:  # beside walls a level bit cannot follow a tilted floor
        if isinstance(solid.surface, TiltedFloor | FollowingFloor) and (radius := final_radius(sim, solid.id)):
            _, at = grid.window(*solid.region.bounds)
            judged[at] &= unreached(sim, solid, radius) <= sim.tol.depth_mm
            for stays, _ in solid.surface.level if isinstance(solid.surface, FollowingFloor) else ():  # a wall inside the pocket
                _clear(judged, stays.boundary.buffer(skin, quad_segs=4).intersection(solid.region), grid)
    for solid in solids:  # valleys that no bit of the finish reaches
        if isinstance(solid.surface, ReliefFace) and (bit := finest(sim, solid.id)) is not None:
            part, at = grid.window(*solid.region.bounds)
            judged[at] &= left_at(solid, bit, *np.meshgrid(part.x_centres(), part.y_centres()), near_mm=1.0) <= sim.tol.depth_mm
    for step in sim.steps:
        if step.operation.kind is OperationKind.EDGE and step.operation.edge in sim.resolved.rims:
            _round_off(target, judged, sim, step, sim.resolved.rims[step.operation.edge])
    return Target(target, judged, owner, solids)


def past_wall(sim: Simulation, solid: Solid) -> float:
    """Return how far a feature's walls are cut past their line on purpose, mm: only where something fits in."""
    if solid.finish_class not in (FinishClass.FITTED, FinishClass.GLUED):
        return 0.0
    return max((past_drawn(s.operation) for s in sim.steps if solid.id in s.operation.features), default=0.0)


def finest(sim: Simulation, feature: str) -> Bit | None:
    """Return the narrowest bit that finishes a surface, flat places apart; None if none does."""
    bits = [s.bit for s in sim.steps if feature in s.operation.features and s.operation.kind is OperationKind.SURFACE_FINISH and s.operation.pattern is not Pattern.FLAT]
    return min(bits, key=lambda b: b.radius_mm, default=None)


NOWHERE = 500.0  # higher than any tip


def unreached(sim: Simulation, solid: Solid, radius_mm: float) -> np.ndarray:
    """Return what a flat bit has to leave over a floor that is not level, mm, float [ny, nx] over the window of the feature: it stands level and rests on its rim, uphill.

    Source: the lowest tip among all places of its axis whose disc covers a cell (a grey erosion of the tip's height by the disc).
    """
    floor = solid.surface
    assert isinstance(floor, TiltedFloor | FollowingFloor)
    part, _ = sim.grid.window(*solid.region.bounds)
    cells = math.ceil(radius_mm / part.cell_mm) + 1
    pad = Grid(part.x0_mm - cells * part.cell_mm, part.y0_mm - cells * part.cell_mm, part.nx + 2 * cells, part.ny + 2 * cells, part.cell_mm)
    room = mask_of(buffer_round(cut_region(solid, radius_mm), 0.5 * part.cell_mm - radius_mm), pad)
    tips = np.where(room, tip_over(floor, radius_mm, pad.x_centres())[None, :] if isinstance(floor, TiltedFloor) else _tips(floor, solid, radius_mm, pad), 1e3)
    k = np.arange(-cells, cells + 1) * part.cell_mm
    lowest = ndimage.grey_erosion(tips, footprint=np.hypot(k[None, :], k[:, None]) <= radius_mm, mode="constant", cval=1e3)[cells:-cells, cells:-cells]
    drawn = floor.plane(part.x_centres())[None, :] if isinstance(floor, TiltedFloor) else floor.plane(*np.meshgrid(part.x_centres(), part.y_centres()))
    # a bit that barely fits covers some cells by no cell's middle
    met = mask_of(solid.region, part) & (lowest < NOWHERE)
    return np.where(met, np.maximum(lowest + drawn, 0.0), 0.0)


def _tips(floor: FollowingFloor, solid: Solid, radius_mm: float, grid: Grid) -> np.ndarray:
    places = np.column_stack([v.ravel() for v in np.meshgrid(grid.x_centres(), grid.y_centres())])
    return LevelTips(floor, solid.region, radius_mm).at(places).reshape(grid.ny, grid.nx)


def compare(sim: Simulation) -> Comparison:
    """Compare the wood at the end with the piece as drawn, at every cell that is judged."""
    tol, result, faced = sim.tol, sim.result, any(s.operation.kind is OperationKind.FACE for s in sim.steps)
    drawn = target_of(sim)
    target, judged, owner, solids, outline = drawn.height, drawn.judged, drawn.owner, drawn.solids, sim.resolved.outline
    difference = _differ(result, sim.bottom, target, judged)
    if not faced and sim.route.blank.skim_mm > 0:
        difference[judged & (owner < 0) & (difference > 0)] = 0.0  # one finding for the face, below
    for index, solid in enumerate(solids):  # ridges between passes are asked for, up to what the class allows
        if isinstance(solid.surface, NeckBack):  # it stands upright at its rim: told square to it
            part, at = sim.grid.window(*solid.region.bounds)
            difference[at] *= np.where(owner[at] == index, flatness(solid, part), 1.0)
        if solid.surface is not None:
            ridge = figures()["cusp_mm"][solid.finish_class.value]
            difference[(owner == index) & (difference > 0) & (difference <= ridge + tol.depth_mm)] = 0.0
        if isinstance(solid.surface, ChannelFloor) and not solid.surface.is_level and (radius := final_radius(sim, solid.id)):  # told by its own rule
            part, at = sim.grid.window(*solid.region.bounds)
            here = (owner[at] == index) & (difference[at] > 0)
            j, i = np.nonzero(here)
            stands = solid.surface.stands_at(part.x_centres()[i], part.y_centres()[j], radius)
            within = difference[at][j, i] <= stands + tol.depth_mm
            difference[at][j[within], i[within]] = 0.0
    names = [s.id for s in solids]
    through = np.array([s.floor_mm is None for s in solids] + [False])  # the last: of no feature
    left = _by_feature(sim, difference > np.where(through[owner], tol.through_mm, tol.depth_mm) + 0.01, difference, owner, names)
    gouged = _by_feature(sim, difference < -(tol.depth_mm + 0.01), -difference, owner, names)
    if not faced and sim.route.blank.skim_mm > tol.depth_mm:
        left.append(Difference("face", sim.route.blank.skim_mm, outline.area, *outline.representative_point().coords[0]))
    outer = _outline_left(sim)
    return Comparison(left + ([outer] if outer else []), gouged)


def flatness(solid: Solid, part: Grid) -> np.ndarray:
    """Return the cosine of a neck's back's slope at the cells of a window, float32 [ny, nx]."""
    assert isinstance(solid.surface, NeckBack)
    heights = surface_heights(solid.surface, part.x0_mm, part.y0_mm, part.cell_mm, part.nx, part.ny)
    slope = np.hypot(*np.gradient(heights, part.cell_mm))
    return np.asarray(1 / np.sqrt(1 + slope * slope), np.float32)


def _round_off(target: np.ndarray, judged: np.ndarray, sim: Simulation, step: Step, rim: Rim) -> None:
    """Lower the target along a worked rim; where the bit fades in and out beside what stays sharp nothing is judged."""
    grid, ring = sim.grid, np.asarray(rim.region.exterior.coords)
    part, at = grid.window(*buffer_round(rim.region, 1.0, 0.1).bounds)
    cells = (ring - [part.x0_mm + 0.5 * part.cell_mm, part.y0_mm + 0.5 * part.cell_mm]) / part.cell_mm
    far = np.full((part.ny, part.nx), 1e6)
    near_edges(np.ascontiguousarray(np.hstack([cells[:-1], cells[1:]])), (rim.size_mm + 1.0) / part.cell_mm, far)
    inside = mask_of(rim.region, part) == rim.is_outline
    band = inside & (far < rim.size_mm / part.cell_mm)
    away = offset_mm(rim, step.bit.tip_diameter_mm / 2, 0.0)
    fade = fade_mm(step.bit, rim, away) + 0.5
    ends = [shapely.Point(line[k]).buffer(fade + rim.size_mm) for line in rim.lines if not np.allclose(line[0], line[-1]) for k in (0, -1)]
    worked = shapely.union_all([shapely.LineString(line).buffer(rim.size_mm + 0.3) for line in rim.lines]).difference(shapely.union_all(ends) if ends else shapely.Polygon())
    here = band & mask_of(worked, part)
    lowered = (-rim.depth_at(far * part.cell_mm)).astype(np.float32)
    target[at][here] = np.minimum(target[at], lowered)[here]
    steep = inside & (far * part.cell_mm < 0.3)  # at the rim itself a cell is more than its middle says
    judged[at] &= ~((band & ~here) | steep)


def _clear(judged: np.ndarray, region: shapely.Geometry, grid: Grid) -> None:
    """Leave the cells of a region out of what is judged."""
    if not region.is_empty:
        part, at = grid.window(*region.bounds)
        judged[at] &= ~mask_of(region, part)


def _by_feature(sim: Simulation, bad: np.ndarray, amount: np.ndarray, owner: np.ndarray, names: list[str]) -> list[Difference]:
    out = []
    if not bad.any():
        return out
    for index in np.unique(owner[bad]):
        here = bad & (owner == index)
        area = float(here.sum()) * sim.grid.cell_mm**2
        if area < 2.0:
            continue
        j, i = np.unravel_index(np.argmax(np.where(here, amount, 0)), amount.shape)
        out.append(Difference(names[index] if index >= 0 else "face", float(amount[j, i]), area,
                              sim.grid.x0_mm + (i + 0.5) * sim.grid.cell_mm, sim.grid.y0_mm + (j + 0.5) * sim.grid.cell_mm))
    return out


@lru_cache(maxsize=64)
def _shrunk(outline: shapely.Polygon, by_mm: float) -> shapely.Geometry:
    return buffer_round(outline, -by_mm, 0.02)


@lru_cache(maxsize=64)
def _strip(outline: shapely.Polygon, near_mm: float, far_mm: float) -> shapely.Geometry:
    """Return the strip between two offsets of an outline."""
    return buffer_round(outline, far_mm, 0.02).difference(buffer_round(outline, near_mm, 0.02))


@nb.njit(cache=True, nogil=True)
def _differ(result, bottom, target, judged):
    """Return result minus target where it is judged, both taken no lower than the bottom, float32 [ny, nx]."""
    ny, nx = result.shape
    out = np.empty((ny, nx), np.float32)
    for j in range(ny):
        for i in range(nx):
            out[j, i] = max(result[j, i], bottom[j, i]) - max(target[j, i], bottom[j, i]) if judged[j, i] else np.float32(0.0)
    return out


def _outline_left(sim: Simulation) -> Difference | None:
    """Return the uncut part of a strip just outside the outline, beyond what the tabs account for."""
    works = [s for s in sim.steps if s.operation.kind is OperationKind.PROFILE and sim.route.piece.outline.id in s.operation.features]
    if not works:
        return None
    outline, skin = sim.resolved.outline, sim.tol.leftover_mm
    strip = _strip(outline, skin, skin + 2.5 * sim.grid.cell_mm)
    for solid in sim.resolved.solids.values():
        if solid.is_open:
            strip = strip.difference(cut_region(solid, 12.0).buffer(1.0))
    blank = sim.route.blank
    strip = strip.intersection(shapely.box(blank.x_mm, blank.y_mm, blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm))
    cells = kept_mask(strip, sim.grid)
    if any(s.operation.school is School.GROOVE for s in works):
        return None  # sawn and trimmed at the bench
    tab_level = max([0.0, *(t.height_mm + s.bit.point_height_mm for s in works for t in s.operation.tabs), *(s.operation.skin_mm for s in works)])
    standing = cells & (sim.result > np.maximum(sim.bottom, blank.bottom_mm) + tab_level + sim.tol.depth_mm)
    low = cells & (sim.result > sim.bottom + sim.tol.through_mm) & ~standing
    slope = math.tan(math.radians(figures()["tab"]["ramp_deg"]))
    tabs = sum(t.width_mm + 2 * s.bit.radius_mm + (2 * t.height_mm / slope if t.shape is TabShape.RAMPED else 0.0) for s in works for t in s.operation.tabs)
    if any(s.operation.school is School.SKIN for s in works):
        tabs = outline.length  # the skin all round is asked for
    allowed = tabs * 2.5 * sim.grid.cell_mm * 1.3
    over = standing.sum() * sim.grid.cell_mm**2
    if over <= 2.0 and low.sum() * sim.grid.cell_mm**2 <= allowed + 2.0:
        return None
    where = standing if over > 2.0 else low
    j, i = (int(v[0]) for v in np.nonzero(where))
    tall = (sim.result - sim.bottom)[where]
    skin_left = tall[tall < 0.8 * tab_level]  # not the tabs, where there is more than them
    amount = float((skin_left if len(skin_left) * sim.grid.cell_mm**2 > 2.0 else tall).max())
    return Difference(sim.route.piece.outline.id, amount, float(where.sum()) * sim.grid.cell_mm**2,
                      sim.grid.x0_mm + (i + 0.5) * sim.grid.cell_mm, sim.grid.y0_mm + (j + 0.5) * sim.grid.cell_mm)


def least_floor(sim: Simulation, solid: Solid) -> tuple[float, float, float] | None:
    """Return the thinnest wood left under a feature and its place, from the simulated wood; None where nothing is left
    on purpose."""
    grid, at = sim.grid.window(*solid.region.bounds)
    inner = mask_of(buffer_round(solid.region, -0.3, 0.05), grid)
    deeper = [s for s in sim.resolved.on(sim.setup.face) if s.id != solid.id
              and (s.floor_mm is None or (solid.floor_mm is not None and s.floor_mm < solid.floor_mm)) and s.region.intersects(solid.region)]
    opened_to = [s for s in sim.resolved.solids.values() if s.kind != "outline" and s.face is not solid.face and s.floor_mm is not None
                 and s.region.intersects(solid.region) and meets(solid, s, sim.resolved.thickness_mm)]
    for other in [*deeper, *opened_to]:  # where it opens into the other face, told elsewhere
        inner &= ~mask_of(other.region.buffer(0.6), grid)
    inner &= mask_of(buffer_round(sim.resolved.outline, -0.3, 0.05), grid)  # an open side ends at the outline's wall
    if not inner.any():
        return None
    later = sim.whole.blank.skim_back_mm if sim.frame.about is None else 0.0  # goes once the back is up
    left = np.where(inner, sim.result[at] - sim.bottom[at] - later, np.inf)
    j, i = np.unravel_index(np.argmin(left), left.shape)
    return float(left[j, i]), grid.x0_mm + (i + 0.5) * grid.cell_mm, grid.y0_mm + (j + 0.5) * grid.cell_mm
