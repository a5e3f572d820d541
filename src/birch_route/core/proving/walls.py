"""Where the bit makes a wall, an edge or a slope: the pieces of its last passes there, and the risk of tear-out."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..cutting.tear_out import dive_deg, is_climb, wall_risk
from ..data import figures
from ..fretboard.features import SLOTS
from ..instrument.resolve import Solid
from ..materials.boards import glue_up
from ..plane.nearest import away, feet
from ..vocabulary import MOVE_CODES, MoveKind, OperationKind
from .simulate import Simulation, Step

KEEP = 200
_kept: dict[str, list[Wall]] = {}
ON_WALL_MM = 0.03  # a bit's edge this near to the wall makes it
FIBRE_MM = 0.5  # along the fibres, for the slope there
MAKES_WALLS = (OperationKind.POCKET, OperationKind.PROFILE, OperationKind.BORE)


@dataclass(frozen=True)
class Wall:
    """The wall of one feature, its edge, or the passes over its slope, as one step makes it, in the setup's frame: short pieces [n, 2, 2] in the order
    they are cut, of the wall itself or of the passes."""

    feature: str
    pieces: np.ndarray
    risk: np.ndarray
    dive_deg: np.ndarray
    climb: np.ndarray
    what: str = "wall"  # or edge, or passes

    @property
    def lengths_mm(self) -> np.ndarray:
        return np.hypot(*(self.pieces[:, 1] - self.pieces[:, 0]).T)


def grain_at(sim: Simulation, y_mm: np.ndarray, z_mm: float) -> np.ndarray:
    """Return the run of the fibres from the setup's x, degrees, at places across the blank: that of the layer, or of the board there."""
    blank, frame = sim.whole.blank, sim.frame
    sy = frame.signs[1]
    out = np.zeros(len(y_mm))
    if blank.layers:
        depth = blank.top_mm - frame.point(0, 0, z_mm)[2]
        for layer in blank.layers:
            out[:] = layer.grain_deg
            depth -= layer.thickness_mm
            if depth < 0:
                break
    elif blank.planks:
        strips = glue_up([p.width_mm for p in blank.planks], blank.joint_loss_mm, blank.y_mm, blank.width_mm).strips
        for plank, (low, high) in zip(blank.planks, strips, strict=True):
            out[(y_mm * sy >= low) & (y_mm * sy < high)] = plank.grain_deg
    return np.array([frame.angle(a) for a in out]) if frame.about is not None else out


def walls_of(sim: Simulation, step: Step) -> list[Wall]:
    """Return the walls that a step makes last, feature by feature, its edge, or its last passes over slopes; none where a later step cuts the same feature."""
    if sim.whole.blank.upright:
        return []  # the fibres run down every wall
    if step.operation.kind is OperationKind.EDGE:
        return _edge(sim, step) if step.operation.edge in sim.resolved.rims else []
    if step.operation.kind is OperationKind.SURFACE_FINISH:
        return [w for f in step.operation.features if f in sim.resolved.solids for w in _known(sim, step, sim.resolved.solid(f))]
    if step.operation.kind not in MAKES_WALLS or SLOTS in step.operation.features:
        return []  # a fret covers the rims of its slot, which is glued or pressed full
    after = () if step.operation.down_to_mm is not None else sim.steps[sim.steps.index(step) + 1:]  # nothing cuts a rim again
    later = {f for s in after for f in s.operation.features if s.operation.kind in MAKES_WALLS and not s.operation.rest}
    return [w for f in step.operation.features if f not in later and f in sim.resolved.solids for w in _known(sim, step, sim.resolved.solid(f))]


def _known(sim: Simulation, step: Step, solid: Solid) -> list[Wall]:
    """Return the walls of one feature, found once for the same wood, motion and shape: rules and report ask both."""
    key = f"{step.wood_id} {step.motion_key} {step.species.id} {solid.id} {hash(solid.region.wkb)} {[p.grain_deg for p in sim.whole.blank.planks]}"
    if key not in _kept:
        _kept[key] = _slope(sim, step, solid) if step.operation.kind is OperationKind.SURFACE_FINISH else _walls(sim, step, solid)
        while len(_kept) > KEEP:
            _kept.pop(next(iter(_kept)))
    return _kept[key]


def _walls(sim: Simulation, step: Step, solid: Solid) -> list[Wall]:
    op, path = step.operation, step.path
    wanted = MOVE_CODES[MoveKind.FINISH if (path.kinds == MOVE_CODES[MoveKind.FINISH]).any() else MoveKind.CUT]
    a, b = path.points[:-1], path.points[1:]
    level = (np.abs(a[:, 2] - b[:, 2]) < 1e-6) & (path.kinds == wanted)
    rim = solid.region.boundary
    apart = step.bit.radius_mm + op.stock_to_leave_mm
    run, heights = np.hypot(*(b - a)[:, :2].T), np.round(a[:, 2], 3)
    index = np.zeros(0, int)
    for top in sorted(np.unique(heights[level]), key=lambda z: (-round(float(run[level & (heights == z)].sum())), -z)):  # first the level that is cut farthest round: without tabs
        index = np.flatnonzero(level & (heights == top))
        middle = (a[index, :2] + b[index, :2]) / 2
        on = np.abs(away(rim, middle) - apart) < ON_WALL_MM
        index, middle = index[on], middle[on]
        if len(index):
            break
    if not len(index):
        return []
    wide = op.finish_allowance_mm if wanted == MOVE_CODES[MoveKind.FINISH] else step.widest_mm
    return [_along(sim, step, solid.id, rim, a[index], b[index], wide)]


def _along(sim: Simulation, step: Step, feature: str, rim: shapely.Geometry, a: np.ndarray, b: np.ndarray, wide_mm: float, what: str = "wall") -> Wall:
    """Return the risk along a rim from the moves a to b [n, 3] beside it."""
    middle = (a[:, :2] + b[:, :2]) / 2
    n = feet(rim, middle) - middle
    n = n / np.maximum(np.hypot(*n.T), 1e-9)[:, None]
    motion = (b - a)[:, :2]
    motion = motion / np.hypot(*motion.T)[:, None]
    climb = is_climb(motion, n)
    dive = dive_deg(n, grain_at(sim, middle[:, 1], float(a[0, 2])))
    pieces = np.stack([feet(rim, a[:, :2]), feet(rim, b[:, :2])], axis=1)
    return Wall(feature, pieces, wall_risk(step.species, dive, climb, wide_mm / step.bit.cut_diameter_mm), dive, climb, what)


def _edge(sim: Simulation, step: Step) -> list[Wall]:
    """Return the edge a step works, from its passes at the full depth."""
    rim, path = sim.resolved.rims[step.operation.edge], step.path  # type: ignore[index]
    a, b = path.points[:-1], path.points[1:]
    cutting = (path.kinds == MOVE_CODES[MoveKind.CUT]) & (np.abs(a[:, 2] - b[:, 2]) < 1e-6) & (np.hypot(*(b - a)[:, :2].T) > 1e-6)
    if not cutting.any():
        return []
    last = cutting & (a[:, 2] < a[cutting, 2].min() + 1e-3)
    feature = next((e.feature for e in sim.whole.piece.edges if e.id == rim.edge), sim.route.piece.outline.id)
    return [_along(sim, step, feature, rim.region.boundary, a[last], b[last], rim.size_mm, "edge")]


def _slope(sim: Simulation, step: Step, solid: Solid) -> list[Wall]:
    """Return the passes of a finish over a slope.

    Source: fibres run level; where a pass climbs along them they dive into the wood ahead by the slope's angle, where it descends they run out of it,
    and across them they do neither.
    """
    if not solid.is_contour or solid.surface is None:
        return []
    a, b = step.path.points[:-1], step.path.points[1:]
    run = np.hypot(*(b - a)[:, :2].T)
    middle = (a[:, :2] + b[:, :2]) / 2
    index = np.flatnonzero((step.path.kinds == MOVE_CODES[MoveKind.CUT]) & (run > 0.05))
    index = index[shapely.contains_xy(solid.region, *middle[index].T)]
    if not len(index):
        return []
    middle, motion = middle[index], (b - a)[index, :2] / run[index][:, None]
    grain = np.radians(grain_at(sim, middle[:, 1], 0.0))
    fibres = np.column_stack([np.cos(grain), np.sin(grain)])
    ahead, behind = middle + FIBRE_MM * fibres, middle - FIBRE_MM * fibres
    rise = (solid.surface.depth(*behind.T) - solid.surface.depth(*ahead.T)) / (2 * FIBRE_MM)
    along = (motion * fibres).sum(1)
    dive = np.degrees(np.arctan(rise)) * along
    climb = np.zeros(len(index), bool)  # passes run both ways beside what stands: the worse of the two counts
    risk = wall_risk(step.species, dive, climb, step.operation.settings.stepover_mm / step.bit.cut_diameter_mm)
    return [Wall(solid.id, np.stack([a[index, :2], b[index, :2]], axis=1), risk, dive, climb, "passes")]


def stretches(wall: Wall) -> list[tuple[int, np.ndarray]]:
    """Return a wall as lines [n, 2] of one band each: 0 none, 1 some, 2 likely."""
    fig = figures()["tear_out"]
    band = (wall.risk >= fig["some"]).astype(int) + (wall.risk >= fig["likely"])
    out: list[tuple[int, np.ndarray]] = []
    start = 0
    for k in range(1, len(band) + 1):
        parted = k < len(band) and (band[k] != band[start] or np.hypot(*(wall.pieces[k, 0] - wall.pieces[k - 1, 1])) > 0.5)
        if k == len(band) or parted:
            out.append((int(band[start]), np.vstack([wall.pieces[start:k, 0], wall.pieces[k - 1: k, 1]])))
            start = k
    return out
