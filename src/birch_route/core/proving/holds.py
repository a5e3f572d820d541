"""How well each operation is held: what its cut pulls with against what the contacts can balance, in every direction."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, field, replace
from threading import Lock

import numpy as np
from scipy import ndimage, spatial

from ..data import figures
from ..heights import kernels
from ..heights.field import Grid
from ..heights.pieces import label_pieces
from ..holding.balance import ROUND, Balance, Element, ask
from ..holding.contacts import (
    BED,
    Lying,
    elements_of,
    farthest,
    joint_shear,
    joints,
    lifts_by,
    tab_joints,
)
from ..holding.nest import nest_elements
from ..motion.toolpath import Toolpath
from ..plane.regions import polygons
from ..vocabulary import MOVE_CODES, HardwareKind, MoveKind, OperationKind
from .held import gone_under, own_wood
from .rules_holding import held_by
from .simulate import Simulation, Step

COARSE = 4  # pieces are told apart on every fourth cell
PLACES = 8
SKIN_STEP_MM = 30.0  # a skin bears at places so far apart
KEEP, KEEP_SETUPS = 400, 30
_lock = Lock()  # proofs may be made beside each other
CUTS = [MOVE_CODES[k] for k in (MoveKind.CUT, MoveKind.FINISH)]


@dataclass(frozen=True)
class Hold:
    """How one operation is held, in the setup's frame.

    pulls_n: greatest force of its cut, lifts: N upward for each of these. holds_n: the largest force balanced in ROUND directions from +x, at the
    place of its way that is held least. place: that place. parts: what the least rests on, by contact. needs: factor of safety wanted. joined: tabs
    or a skin hold the piece, no hardware.
    """

    pulls_n: float
    lifts: float
    holds_n: tuple[float, ...]
    place: tuple[float, float, float]
    parts: dict[str, float]
    needs: float
    joined: bool
    elements: tuple[Element, ...] = ()
    base: bool = True  # of the largest piece that hardware holds

    @property
    def least_n(self) -> float:
        return min(self.holds_n)

    @property
    def factor(self) -> float:
        """How many times the pull it holds."""
        return self.least_n / self.pulls_n

    @property
    def worst_deg(self) -> float:
        """The direction of the least, degrees from +x."""
        return 360.0 * int(np.argmin(self.holds_n)) / ROUND


_newest: OrderedDict[str, list[Hold | None]] = OrderedDict()


def holds(sim: Simulation) -> list[Hold | None]:
    """Return how each step is held; None where nothing pulls sideways (a drill, a step that cuts nothing) or the piece is loose. The newest answers are kept."""
    with _lock:
        if sim.force_key in _newest:
            _newest.move_to_end(sim.force_key)
            return _newest[sim.force_key]
    out = _holds(sim)
    with _lock:
        _newest[sim.force_key] = out
        while len(_newest) > KEEP_SETUPS:
            _newest.popitem(last=False)
    return out


def _holds(sim: Simulation) -> list[Hold | None]:
    out: list[Hold | None] = []
    pieces: _Pieces | None = None
    for index, step in enumerate(sim.steps):
        parts = step.metrics[:, kernels.BELOW].max(initial=0.0) > 0 or step.operation.skin_mm > 0
        if pieces is None or (parts and (step.operation.kind is not OperationKind.DRILL or any(h.kind is HardwareKind.VACUUM for h in sim.setup.hardware))):
            pieces = _pieces(sim, index)
        pulls = max(step.load.force_n, step.finish_load.force_n if step.finish_load else 0.0)
        places = None if step.operation.kind is OperationKind.DRILL or pulls <= 0 else places_of(step)
        out.append(None if places is None else _held(sim, index, pieces, pulls, places))
    return out


def places_of(step: Step) -> np.ndarray | None:
    """Return the places farthest out, in PLACES directions, of where a step cuts [n, 3], at the middle of its highest pass.

    What a load asks of the contacts, as a part of the most they can do, is convex in its place; its greatest lies at a corner of the hull.
    """
    path: Toolpath = step.path
    cuts = np.flatnonzero(np.isin(path.kinds, CUTS))
    cuts = cuts[cuts >= step.lead_moves]
    if not len(cuts):
        return None
    points = np.concatenate([path.points[cuts], path.points[cuts[-1:] + 1]])
    high = float(points[:, 2].max()) + max(step.deepest_mm, step.finish_deepest_mm) / 2
    plan = farthest(points[:, :2], PLACES, 0.5)
    return np.column_stack([plan, np.full(len(plan), high)])


@dataclass(frozen=True)
class _Pieces:
    """Which cell belongs to which piece once tabs and skins are thought away, what hardware holds each, and where tabs and skins stand."""

    labels: np.ndarray
    count: int
    held: dict[str, list[int]]
    grid: Grid
    wood: np.ndarray
    bottom: np.ndarray
    joints: list[tuple[str, np.ndarray, np.ndarray, float]]  # name, places [n, 2], sections mm2 [n], z
    base: int | None  # the largest piece that hardware holds
    known: dict[int, tuple[list[Element], bool]] = field(default_factory=dict)  # elements of pieces asked for, and whether only tabs or a skin hold them


def _pieces(sim: Simulation, index: int) -> _Pieces:
    """Return the pieces at the end of a step."""
    cell = sim.grid.cell_mm
    half = (COARSE // 2 + 0.5 - COARSE / 2) * cell
    grid = Grid(sim.grid.x0_mm + half, sim.grid.y0_mm + half, len(range(COARSE // 2, sim.grid.nx, COARSE)), len(range(COARSE // 2, sim.grid.ny, COARSE)), COARSE * cell)
    top, bottom = (np.ascontiguousarray(f[COARSE // 2::COARSE, COARSE // 2::COARSE]) for f in (sim.steps[index].top, sim.bottom))
    found: list[tuple[str, np.ndarray, np.ndarray, float]] = []
    level, under = 0.0, sim.route.blank.faced_below_mm
    for step in sim.steps[: index + 1]:
        op = step.operation
        solid = sim.resolved.solids.get(op.features[0]) if op.features else None
        if op.kind is not OperationKind.PROFILE or solid is None or not (op.tabs or op.skin_mm):
            continue
        rim = polygons(solid.region)[0].exterior
        if op.tabs:
            gone = gone_under(sim, rim, op.tabs)
            found.append(("tab", *tab_joints(rim, op.tabs, sim.species, gone)))
            level = max(level, *(t.height_mm - g for t, g in zip(op.tabs, gone, strict=True)))
        else:
            n = max(8, round(rim.length / SKIN_STEP_MM))
            found.append(("skin", np.array([rim.interpolate(k / n, normalized=True).coords[0] for k in range(n)]), np.full(n, op.skin_mm * rim.length / n), op.skin_mm / 2))
            level = max(level, op.skin_mm)
    own = own_wood(sim, grid, top, bottom, level + under) if level else top
    labels, count = label_pieces(own, bottom)
    held = held_by(replace(sim, grid=grid), labels)
    sizes = np.bincount(labels.ravel(), minlength=count + 1)
    base = max({k for one in held.values() for k in one}, key=lambda k: int(sizes[k]), default=None)
    return _Pieces(labels, count, held, grid, top > bottom, bottom, found, base)


def _held(sim: Simulation, index: int, pieces: _Pieces, pulls: float, places: np.ndarray) -> Hold | None:
    """Return how a step is held: the least of the pieces its bit works on."""
    step = sim.steps[index]
    numbers = [1]
    if pieces.count > 1:
        after, before = (f[COARSE // 2::COARSE, COARSE // 2::COARSE] for f in (step.top, sim.top_before(index)))
        touched = ndimage.binary_dilation(after < before - 1e-4, iterations=2)
        numbers = [int(k) for k in np.unique(pieces.labels[touched]) if k > 0 and (pieces.labels == k).sum() * pieces.grid.cell_mm**2 >= sim.tol.least_piece_mm2]
    if pieces.base is not None and pieces.base not in numbers and numbers:
        numbers.append(pieces.base)  # what joins another piece hands the pull on to it
    found: list[Hold] = []
    for k in numbers:
        if k not in pieces.known:
            pieces.known[k] = _elements(sim, pieces, k)
        elements, joined = pieces.known[k]
        if not elements:
            continue
        holds_n, place, parts = _asked(tuple(elements), places, lifts_by(step.bit))
        fig = figures()["holding"]
        found.append(Hold(pulls, lifts_by(step.bit), holds_n, place, parts, fig["factor_freed"] if joined else fig["factor"], joined, tuple(elements), k == pieces.base))
    return min(found, key=lambda h: h.factor / h.needs, default=None)


def _elements(sim: Simulation, pieces: _Pieces, number: int) -> tuple[list[Element], bool]:
    """Return what holds one piece, its tabs and skin among it where another piece is held better, and whether it is these only; nothing for a loose one, which is told as freed."""
    mine = pieces.labels == number
    lying = _lying(sim, pieces, mine)
    own = elements_of([h for h in sim.setup.hardware if number in pieces.held.get(h.id, [])], lying)
    if sim.setup.nest is not None and number == pieces.base:
        own += nest_elements(sim.resolved.outline, sim.setup.nest, lying.bed_mm)
    held = any(e.contact != BED for e in own)
    if number == pieces.base:
        return own, False
    out: list[Element] = []
    rows, columns = np.nonzero(mine)
    cells = spatial.cKDTree(np.column_stack([pieces.grid.x_centres()[columns], pieces.grid.y_centres()[rows]]))
    for name, spots, sections, up in pieces.joints:
        near = cells.query(spots)[0] < 2 * pieces.grid.cell_mm
        if near.any():
            out += joints(name, [tuple(map(float, p)) for p in spots[near]], sections[near].tolist(), lying.bed_mm + up, joint_shear(sim.species))
    if not out and (held or any(number in held_by for held_by in pieces.held.values())):
        return own, False  # hardware alone, or what should hold it and does not
    return (out + own, not held) if out else ([], True)


def _lying(sim: Simulation, pieces: _Pieces, mine: np.ndarray) -> Lying:
    bed = float(pieces.bottom[pieces.wood].min())
    rests = mine & (pieces.bottom <= bed + figures()["holding"]["bed_gap_mm"])
    down = pieces.wood & (pieces.bottom <= bed + figures()["holding"]["bed_gap_mm"])
    return Lying(
        bed,
        sim.route.blank.top_mm,
        _corners(pieces.grid, rests),
        pieces.grid,
        mine,
        pieces.wood,
        down,
        sim.route.machine.pump,
        sim.route.machine.waste_board_mm,
    )


def lying_of(sim: Simulation, step: Step) -> Lying:
    """Return how the wood lies after a step, all of it as one piece."""
    pieces = _pieces(sim, next(k for k, s in enumerate(sim.steps) if s is step))
    return _lying(sim, pieces, pieces.wood)


def _corners(grid: Grid, cells: np.ndarray) -> np.ndarray:
    """Return the places farthest out of cells, in a dozen directions, [n, 2]."""
    rows = np.flatnonzero(cells.any(axis=1))
    if not len(rows):
        return np.zeros((0, 2))
    ends = np.column_stack([cells[rows].argmax(axis=1), cells.shape[1] - 1 - cells[rows, ::-1].argmax(axis=1)])
    points = np.column_stack([grid.x_centres()[ends].ravel(), np.repeat(grid.y_centres()[rows], 2)])
    return farthest(points, 12)


_kept: OrderedDict[tuple, tuple] = OrderedDict()


def _asked(elements: tuple[Element, ...], places: np.ndarray, lifts: float) -> tuple[tuple[float, ...], tuple[float, float, float], dict[str, float]]:
    """Return what `ask` returns; the newest answers are kept."""
    key = (elements, places.round(3).tobytes(), round(lifts, 6))
    with _lock:
        if key in _kept:
            _kept.move_to_end(key)
            return _kept[key]
    answer = ask(Balance(elements, places.mean(axis=0)), places, lifts)
    with _lock:
        _kept[key] = answer
        while len(_kept) > KEEP:
            _kept.popitem(last=False)
    return answer
