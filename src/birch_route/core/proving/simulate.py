"""Simulate a route: toolpaths, wood after every operation, loads and times. Rules look at the result."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Any

import numpy as np

from ..bits.model import Bit
from ..cutting.mechanics import Load, load
from ..data import Wood as Species
from ..data import figures
from ..gluing import Hollow, glue, glued_layers, lies_at
from ..heights import kernels
from ..heights.field import CELL_MM, Grid, Wood, cut_path
from ..heights.raster import mask_of
from ..instrument.resolve import Resolved, resolve
from ..materials.layers import wood_met
from ..materials.own import species as species_of
from ..motion.timing import move_times
from ..motion.toolpath import PathBuilder, Toolpath, join
from ..operations.base import Made, Problem, clearance_height
from ..operations.make import MAKERS, work_of
from ..route import Operation, Route, Setup, content_hash
from ..stages import Frame, cell_for, first_wood, frame_of, stage_route, turned_resolved
from ..tolerances import TOLERANCES, Tolerances
from ..traveller import begins_anew
from ..vocabulary import MOVE_CODES, BenchKind, Face, MoveKind, OperationKind
from .kept import Kept
from .met import engagement

Progress = Callable[[float, int], None]


@dataclass(frozen=True)
class Step:
    """One operation as simulated. path includes the rapid moves that lead to it and, at the last, to the park place."""

    operation: Operation
    bit: Bit
    path: Toolpath
    lead_moves: int  # moves before the operation's own
    problems: list[Problem]
    metrics: np.ndarray  # float64 [n, kernels.METRICS]
    times_s: np.ndarray
    top: np.ndarray  # the wood's top after it, float32 [ny, nx]; shared, never written
    ceiling_mm: float
    highest_after_mm: float
    removed_mm3: float
    bit_changes: bool
    load: Load
    finish_load: Load | None  # of the pass along the wall, where there is one
    deepest_mm: float  # depth of cut met in rough passes
    widest_mm: float  # side engagement met there
    finish_deepest_mm: float
    finish_widest_mm: float
    passes: int
    wood_id: str  # the same for two steps that leave the very same wood
    motion_key: str  # hash of where the bit goes, whatever the wood
    species: Species  # the densest wood it meets

    @property
    def cannot_enter(self) -> list[Problem]:
        """The features, or parts of them, that this step's bit does not fit into."""
        return [p for p in self.problems if p.code == "feature.bit_too_wide"]

    @property
    def minutes(self) -> float:
        return float(self.times_s.sum()) / 60


@dataclass(frozen=True)
class Simulation:
    """A whole route, simulated."""

    route: Route
    resolved: Resolved
    setup: Setup
    species: Species
    grid: Grid
    bottom: np.ndarray
    blank_top: np.ndarray
    steps: list[Step]
    wood_key: str = ""  # hash of the wood after every step and of what the piece and its operations are, however the bit moves
    motion_key: str = ""  # the same with where the bit goes; feeds and speeds change neither
    tol: Tolerances = TOLERANCES
    whole: Route = None  # type: ignore[assignment]  # the route with all its setups; `route` is this one's, in its frame
    whole_resolved: Resolved = None  # type: ignore[assignment]
    frame: Frame = Frame(None, 0.0)
    index: int = 0  # of the setup
    hollow: Hollow | None = None  # what glued layers have closed, in this frame

    @cached_property
    def force_key(self) -> str:
        """Hash of wood and motion with all that the setup's operations ask for: two simulations with the same are held the same."""
        return content_hash({"motion": self.motion_key, "operations": [o.model_dump(mode="json") for o in self.route.operations]})

    @cached_property
    def in_piece(self) -> tuple[np.ndarray, np.ndarray]:
        """Top and bottom of the wood at the end in the piece's frame."""
        return self.frame.fields(self.result, self.bottom)

    @property
    def up(self) -> Face:
        """The face of the piece that is up."""
        return Face.FRONT if self.frame.about is None else Face.BACK

    @property
    def result(self) -> np.ndarray:
        """The wood's top at the end."""
        return self.steps[-1].top if self.steps else self.blank_top

    def top_before(self, index: int) -> np.ndarray:
        return self.steps[index - 1].top if index else self.blank_top


MADE_BYTES, STEP_BYTES, RULE_BYTES, WOOD_BYTES = 120_000_000, 280_000_000, 120_000_000, 120_000_000


class Cache:
    """What was computed before, by the hash of exactly what it depends on. Keeps the newest entries.

    Args:
        most: steps. part: of the bytes a worker keeps, for a process that has other work.
    """

    def __init__(self, most: int = 48, part: float = 1.0) -> None:  # about 10 MB of wood each for a body
        self._most, self._wood_most = most, int(part * WOOD_BYTES)
        self._made = Kept(most * 4, int(part * MADE_BYTES))
        self._steps = Kept(most, int(part * STEP_BYTES))
        self._rules = Kept(most * 10, int(part * RULE_BYTES))
        self._woods: OrderedDict[str, list[tuple[str, np.ndarray]]] = OrderedDict()

    @property
    def hits(self) -> int:
        """How often something was there."""
        return self._made.hits + self._steps.hits + self._rules.hits

    def _wood_bytes(self) -> int:
        return sum(top.nbytes for known in self._woods.values() for _, top in known)

    def beside(self) -> Cache:
        """Return an empty cache that shares the toolpaths, for simulations that shall not push out what people look at."""
        other = Cache(self._most)
        other._made = self._made
        return other

    def made(self, key: str, make: Callable[[], Made]) -> Made:
        found: Made = self._made.get(key, make)
        return found

    def step(self, key: str, make: Callable[[], Step]) -> Step:
        found: Step = self._steps.get(key, make)
        return found

    def rule(self, key: str, make: Callable[[], Any]) -> Any:
        """Return what was made of the wood with a key."""
        return self._rules.get(key, make)

    def wood_id(self, operation: str, top: np.ndarray, new: str) -> str:
        """Return the id of the wood after an operation (blank and operation named): that of an earlier run which left the very same wood, else a new one.

        So a change of depth of cut or stepover that leaves the same pocket computes nothing again after it.
        """
        known = self._woods.setdefault(operation, [])
        self._woods.move_to_end(operation)
        for name, earlier in known:
            if earlier is top or (earlier.shape == top.shape and np.array_equal(earlier, top)):
                return name
        known.append((new, top))
        del known[:-2]
        while len(self._woods) > 1 and (len(self._woods) > self._most // 2 or self._wood_bytes() > self._wood_most):
            self._woods.popitem(last=False)
        return new


def park_place(route: Route, setup: Setup) -> tuple[float, float]:
    """Return where the bit starts and parks, piece's frame."""
    return route.blank.x_mm + setup.park_mm[0], route.blank.y_mm + setup.park_mm[1]


def simulate_all(
    route: Route, cache: Cache | None = None, cell_mm: float | None = None, progress: Progress | None = None
) -> list[Simulation]:
    """Simulate every setup of a route in order, each beginning with the wood the one before left.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    cache, cell_mm = cache or Cache(), cell_mm or cell_for(route)
    resolved = resolve(route)
    wood, hollow, came_from, out, done = first_wood(route, cell_mm), None, "", [], 0
    for setup in route.setups:
        frame = frame_of(setup, resolved.thickness_mm)
        if glued_layers(route) and setup.id == glued_layers(route)[0].glued_before:
            wood, hollow = glue(route, wood)
            came_from = content_hash({"before": came_from, "glued": [layer.model_dump(mode="json") for layer in glued_layers(route)]})
        top, bottom = frame.fields(wood.top, wood.bottom)
        if setup.nest is not None:  # sawn out of its waste at the bench
            top = np.where(mask_of(frame.region(resolved.outline), frame.grid(wood.grid)), top, bottom)
            came_from = content_hash({"before": came_from, "nest": True})
        stock = Wood(frame.grid(wood.grid), top, bottom)
        staged = stage_route(route, setup, frame, stock.lowest_mm)
        before, of = done, len(route.operations)
        told = None if progress is None else (lambda k, _n, before=before: progress(before + k, of))
        sim = simulate(staged, cache, cell_mm, told, Stage(turned_resolved(lies_at(resolved, route, setup), frame), stock, came_from, frame, route, resolved, len(out), turned_hollow(hollow, frame)))
        out.append(sim)
        done += len(staged.operations)
        wood = Wood(wood.grid, *sim.in_piece)
        came_from = content_hash({"before": came_from, "wood": sim.steps[-1].wood_id if sim.steps else "", "turned": str(frame.about)})
    return out


def turned_hollow(hollow: Hollow | None, frame: Frame) -> Hollow | None:
    """Return hollows of the piece's frame in another."""
    if hollow is None or frame.about is None:
        return hollow
    axis, t = 0 if frame.about.value == "length" else 1, np.float32(frame.thickness_mm)
    floor, roof = (np.ascontiguousarray(np.flip(-f - t, axis)) for f in (hollow.roof, hollow.floor))
    return Hollow(floor, roof)


@dataclass(frozen=True)
class Stage:
    """What a simulation of one setup begins with: the piece's geometry and the wood in its frame, and what they came from."""

    resolved: Resolved
    stock: Wood
    came_from: str
    frame: Frame
    whole: Route
    whole_resolved: Resolved
    index: int
    hollow: Hollow | None = None


def simulate(route: Route, cache: Cache | None = None, cell_mm: float = CELL_MM, progress: Progress | None = None, stage: Stage | None = None) -> Simulation:
    """Simulate every operation of one setup in order.

    Args:
        route: checked document; of a later setup the one in its frame.
        stage: what it begins with; None: a route of one setup, from its blank.
        cache: results of earlier simulations; only what an edit reaches is computed again.
        cell_mm: size of the cells.
        progress: called with operations done and operations in all; may raise to stop.

    Raises:
        GeometryError, InputError: the piece cannot be made into geometry.
    """
    cache = cache or Cache()
    setup, blank = route.setups[0], route.blank
    if stage is None:
        whole = resolve(route)
        stage = Stage(whole, first_wood(route, cell_mm), "", Frame(None, whole.thickness_mm), route, whole, 0)
    resolved, stock, grid = stage.resolved, stage.stock, stage.stock.grid
    species = species_of(route, blank.wood)
    blank_id = wood_id = content_hash({
        "blank": blank.model_dump(mode="json"),
        "materials": [m.model_dump(mode="json") for m in route.materials],
        "cell": cell_mm,
        "machine": route.machine.model_dump(mode="json"),
        "from": stage.came_from,
    })
    steps: list[Step] = []
    clear = clearance_height(route, setup)
    at, bit_before, ceiling = (*park_place(route, setup), clear), None, max(blank.top_mm, float(stock.top.max()))
    top = stock.top
    for index, operation in enumerate(route.operations):
        if progress:
            progress(index, len(route.operations))
        last = index == len(route.operations) - 1
        bit = route.bit(operation.bit)
        work = work_of(route, resolved, operation)
        if progress:
            work = replace(work, watch=lambda part, index=index: progress(index + min(part, 0.999), len(route.operations)))
        changes = bit.id != bit_before
        shape, own = _work_keys(work)
        met = _wood_met(route, work)
        start = (*park_place(route, setup), clear) if changes or begins_anew(route, index) else at
        waits = bool(operation.features) and not work.solids  # its part is not measured: it cuts nothing
        made = Made(PathBuilder(*start).done()) if waits else cache.made(own, lambda w=work: MAKERS[w.operation.kind](w))
        ends_at_park = last or route.operations[index + 1].bit != bit.id or begins_anew(route, index + 1)
        path, lead = _with_approach(made.path, start, park_place(route, setup) if ends_at_park else None)
        motion = content_hash({"path": shape, "start": start, "park": ends_at_park})
        key = content_hash({"before": wood_id, "path": shape, "start": start, "park": ends_at_park, "changes": changes, "met": met.id})
        before = stock.with_top(top)
        step = cache.step(key, partial(_step, operation, bit, path, lead, made, before, ceiling, changes, met, route, partial(cache.wood_id, f"{blank_id} {operation.id}", new=key), motion, stage.hollow))
        if step.operation is not operation or step.path is not path:
            step = _with_loads(replace(step, operation=operation, path=path, times_s=move_times(path, route.machine)), met, route)
        steps.append(step)
        top, ceiling, wood_id = step.top, step.highest_after_mm, step.wood_id
        at, bit_before = tuple(path.points[-1]), bit.id
    if progress:
        progress(len(route.operations), len(route.operations))
    wood_key = content_hash({"wood": [s.wood_id for s in steps], "from": stage.came_from, "rest": _without_motion(route), "whole": _without_motion(stage.whole)})
    motion_key = content_hash({"wood": wood_key, "motion": [s.motion_key for s in steps]})
    return Simulation(route, resolved, setup, species, grid, stock.bottom, stock.top, steps, wood_key, motion_key, whole=stage.whole, whole_resolved=stage.whole_resolved, frame=stage.frame, index=stage.index, hollow=stage.hollow)


def _wood_met(route: Route, work) -> Species:
    """Return the densest wood an operation meets down to the deepest of its floors."""
    floors = [s.floor_mm for s in work.solids]
    return wood_met(route, 0.0 if not floors else None if None in floors else min(floors))


_FEEDS = ("feed_mm_min", "plunge_mm_min", "speed_rpm")


def _without_motion(route: Route) -> dict:
    """Return the route without what only says how the bit moves, not what is cut."""
    data = route.model_dump(mode="json", exclude={"note", "bench_steps", "meant", "job"})
    for op in data["operations"]:
        for name in ("settings", "entry", "ramp_deg", "direction", "peck_mm", "clearing", "engaged_deg", "both_ways", "reasons", "told", "made_for", "touch_off_before"):
            op.pop(name)
    # what rules over corners and rests read
    return {
        **data,
        "by_hand": sorted(
            [b.id, b.kind.value, b.after or ""] for b in route.bench_steps if b.kind is not BenchKind.OTHER
        ),
    }


def _work_keys(work) -> tuple[str, str]:
    """Return the hash of all that the shape of a toolpath depends on, and that with its feeds."""
    op = work.operation.model_dump(mode="json", exclude={"name", "reasons", "told", "made_for", "id", "touch_off_before"})
    feeds = {name: op["settings"].pop(name) for name in _FEEDS}
    shape = content_hash({
        "op": op, "bit": work.bit.model_dump(mode="json"), "start": work.start_mm, "bottom": work.bottom_mm, "under": work.under_mm, "clear": work.clear_mm,
        "outline": work.outline.wkb_hex if not work.solids else "",
        "solids": [[s.region.wkb_hex, s.floor_mm, s.is_open, list(map(list, s.points)), s.diameter_mm, s.surface.key if s.surface else ""] for s in work.solids],
        "rim": work.rim.key if work.rim else "", "reached": {k: g.wkb_hex for k, g in work.reached.items()}, "wider": work.wider.model_dump(mode="json") if work.wider else "", "mouth": work.mouth_mm,
        "slots": [work.rounded, work.runs_out_mm],
    })
    return shape, content_hash({"shape": shape, "feeds": feeds})


def _with_approach(own: Toolpath, start: tuple, park: tuple[float, float] | None) -> tuple[Toolpath, int]:
    lead = PathBuilder(*start)
    lead.rapid(z_mm=max(start[2], own.points[0, 2]))
    lead.rapid(own.points[0, 0], own.points[0, 1])
    lead.rapid(z_mm=own.points[0, 2])
    before = lead.done()
    parts = [before, own] if len(before) else [own]
    if park is not None:
        tail = PathBuilder(*own.points[-1])
        tail.rapid(*park)
        parts.append(tail.done())
    return join([p for p in parts if len(p)] or [own]), len(before)


def _step(operation: Operation, bit: Bit, path: Toolpath, lead: int, made: Made, before: Wood, ceiling_mm: float, changes: bool, species: Species, route: Route,
          name_wood: Callable[[np.ndarray], str], motion_key: str, hollow: Hollow | None = None) -> Step:
    after = before.copy()
    metrics = cut_path(after, path, bit, route.machine.nut_diameter_mm, ceiling_mm, route.machine.heads)
    if hollow is not None:
        after = after.with_top(hollow.fall(after.top))
    times = move_times(path, route.machine)
    finish = path.kinds == MOVE_CODES[MoveKind.FINISH]
    rough_met, finish_met = engagement(path, metrics, bit, ~finish), engagement(path, metrics, bit, finish)
    step = Step(
        operation, bit, path, lead, made.problems, metrics, times, after.top, ceiling_mm, float(after.top.max()),
        float(metrics[:, kernels.VOLUME].sum()), changes, Load(0, 0, 0, 0, 0, 0), None, *rough_met, *finish_met, _passes(path), name_wood(after.top), motion_key, species,
    )
    return _with_loads(step, species, route)


def _with_loads(step: Step, species: Species, route: Route) -> Step:
    """Return the step with what its heaviest cuts ask for at the operation's feed and speed."""
    settings, machine = step.operation.settings, route.machine
    if step.operation.kind is OperationKind.DRILL:
        return replace(step, load=load(step.bit, species, machine, settings.plunge_mm_min, settings.speed_rpm, 0.0, 0.0))
    rough = load(step.bit, species, machine, settings.feed_mm_min, settings.speed_rpm, step.deepest_mm, step.widest_mm)
    finish = None
    if step.finish_deepest_mm > 0:
        finish = load(step.bit, species, machine, settings.feed_mm_min, settings.speed_rpm, step.finish_deepest_mm, step.finish_widest_mm)
    return replace(step, load=rough, finish_load=finish)


def _passes(path: Toolpath) -> int:
    """Return the number of different levels that are cut, which the trunk draws as dashes."""
    level = np.abs(np.diff(path.points[:, 2])) < 1e-9
    cut = level & (path.kinds >= MOVE_CODES[MoveKind.CUT])
    return max(1, len(np.unique(np.round(path.points[1:, 2][cut], 2))))


def handwork_minutes(step: Step, index: int, setup_index: int = 0) -> float:
    """Return the minutes a person needs before a step: load at the first, turn over and find again at the first of a later setup, bit change and touch-off at each change."""
    minutes = figures()["minutes"]
    return ((minutes["load"] if setup_index == 0 else minutes["turn_over"]) if index == 0 else 0.0) + (minutes["bit_change"] if step.bit_changes else 0.0)
