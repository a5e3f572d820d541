"""Pocket: rings at equal offsets, cut from the inside outwards, level by level, then the wall."""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..data import figures
from ..instrument.floors import FollowingFloor, TiltedFloor
from ..instrument.resolve import Solid, cut_region
from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round, polygons, rings
from ..vocabulary import Clearing, Direction, Entry, MoveKind
from .base import (
    Made,
    Problem,
    Work,
    clean_ring,
    finish_levels,
    levels,
    rolled_to,
    turned,
)
from .engaging import cut_levels, engaged_plan, walls_without
from .entry import enter_along_ring, enter_by_helix, helix_place
from .following import follow_floor
from .resting import clear_rest
from .tilted import tilt_floor

MOST_RINGS = 2000


@dataclass
class _Node:
    """One offset polygon with the smaller ones inside it, and its rings as they are cut."""

    polygon: Polygon
    inner: list[_Node] = field(default_factory=list)
    _rings: list[np.ndarray] | None = None

    def cleaned_rings(self) -> list[np.ndarray]:
        """Return the rings without needless points, made once for all levels."""
        if self._rings is None:
            self._rings = [clean_ring(raw) for raw in rings(self.polygon)]
        return self._rings


@lru_cache(maxsize=16)
def _room(free: Polygon) -> Polygon:
    """Return where the bit's centre may be, a hair wider so that its own rim counts, made ready for many questions."""
    room = free.buffer(0.008)
    shapely.prepare(room)
    return room


def pocket(work: Work) -> Made:
    """Return the toolpath that clears every feature of a pocket operation."""
    path = PathBuilder(*_first_point(work), work.clear_mm)
    problems: list[Problem] = []
    for solid in work.solids:
        problems += clear_region(path, work, solid, cut_region(solid, work.mouth_mm))
        if isinstance(solid.surface, TiltedFloor):
            wall = buffer_round(cut_region(solid, work.mouth_mm), -(work.bit.radius_mm + work.operation.stock_to_leave_mm))
            if not wall.is_empty:
                tilt_floor(path, work, solid.surface, wall, figures()["cusp_mm"][solid.finish_class.value] * figures()["surface"]["ridge_part"])
    return Made(path.done(), problems)


def _first_point(work: Work) -> tuple[float, float]:
    point = work.solids[0].region.representative_point()
    return point.x, point.y


def clear_region(path: PathBuilder, work: Work, solid: Solid, region: Polygon) -> list[Problem]:
    """Clear one region down to its floor; the bit starts and ends at the clearance height."""
    op, radius = work.operation, work.bit.radius_mm
    allowance = op.finish_allowance_mm if op.finish_pass else 0.0
    wall = buffer_round(region, -(radius + op.stock_to_leave_mm))
    if wall.is_empty:
        point = solid.region.representative_point()
        widest = shapely.maximum_inscribed_circle(region, tolerance=0.05).length * 2
        return [Problem("feature.bit_too_wide", solid.id, point.x, point.y,
                        {"bit_mm": work.bit.cut_diameter_mm, "width_mm": widest})]
    rough = buffer_round(wall, -allowance) if allowance > 0 else wall
    rough = wall if rough.is_empty else rough
    floor = work.floor_of(solid)
    if isinstance(solid.surface, FollowingFloor):
        ridge = figures()["cusp_mm"][solid.finish_class.value] * figures()["surface"]["ridge_part"]
        follow_floor(path, work, solid.surface, rough, wall, ridge, lambda part, above, level: _clear_level(path, work, _tree(part, op.settings.stepover_mm), above, level))
        return []
    if op.along_wall:
        for ring in rings(wall):
            wall_pass(path, work, ring, wall, floor)
        return []
    if solid.id in work.reached:
        clear_rest(path, work, region, rough, work.reached[solid.id], floor)
        if op.finish_pass:
            for ring in rings(wall):
                wall_pass(path, work, ring, wall, floor)
        return []
    if op.clearing is Clearing.ENGAGED:
        return clear_engaged_levels(path, work, solid, rough, wall, floor)
    trees = [_tree(p, op.settings.stepover_mm) for p in polygons(rough)]
    for top in trees:  # each connected part is finished before the next
        above = work.start_mm
        for level in levels(work.start_mm, floor, op.settings.depth_of_cut_mm):
            _clear_level(path, work, top, above, level)
            above = level
        path.rapid(z_mm=work.clear_mm)
    if op.finish_pass:
        for ring in rings(wall):
            wall_pass(path, work, ring, wall, floor)
    return []


def clear_engaged_levels(path: PathBuilder, work: Work, solid: Solid, rough: shapely.Geometry, wall: shapely.Geometry, floor_mm: float) -> list[Problem]:
    """Clear with a bounded engagement, level by level, then along the wall; places too narrow for it become problems.

    rough, wall: where the bit's centre may be, without and with the last allowance on the walls.
    """
    op = work.operation
    plan = engaged_plan(work, rough)
    if plan.legs:
        cut_levels(path, work, plan, levels(work.start_mm, floor_mm, op.settings.depth_of_cut_mm))
    if op.finish_pass and plan.legs:
        for line, is_ring in walls_without(wall, plan, work.bit.radius_mm, op.finish_allowance_mm):
            wall_pass(path, work, line, wall, floor_mm, is_ring=is_ring)
    return [Problem("clearing.slot", solid.id, x, y, {"bit_mm": work.bit.cut_diameter_mm, "width_mm": width}) for x, y, width in plan.slots]


def _tree(polygon: Polygon, stepover_mm: float) -> _Node:
    top = _Node(polygon)
    layer = [top]
    for _ in range(MOST_RINGS):
        following: list[_Node] = []
        for node in layer:
            for part in polygons(buffer_round(node.polygon, -stepover_mm, 0.01)):
                node.inner.append(_Node(part))
            following += node.inner
        if not following:
            break
        layer = following
    return top


def _clear_level(path: PathBuilder, work: Work, top: _Node, above_mm: float, level_mm: float) -> None:
    down = _State(False)
    _cut_node(path, work, top.polygon, top, above_mm, level_mm, down)
    if down.is_down:
        path.rapid(z_mm=max(above_mm, level_mm) + 1.0 if _stays_inside(path, top.polygon) else work.clear_mm)


@dataclass
class _State:
    is_down: bool


def _stays_inside(path: PathBuilder, free: Polygon) -> bool:
    return bool(shapely.contains_xy(_room(free), path.at[0], path.at[1]))


def _cut_node(path: PathBuilder, work: Work, free: Polygon, node: _Node, above: float, level: float, state: _State) -> None:
    """Cut the smaller polygons first, then this one's rings."""
    for inner in sorted(node.inner, key=lambda n: n.polygon.area):
        _cut_node(path, work, free, inner, above, level, state)
    op = work.operation
    for index, ring in enumerate(node.cleaned_rings()):
        if op.direction is Direction.CONVENTIONAL:  # rings keep the region on the left: climb as they come
            ring = ring[::-1]
        ring = rolled_to(ring, path.at[0], path.at[1])
        linked = state.is_down and _link(path, free, ring[0], level, op.settings.feed_mm_min)
        if not linked:
            ring = _enter(path, work, free, node, ring, above, level, leaf=not node.inner and index == 0)
            state.is_down = True
        path.along(ring[1:], level, MoveKind.CUT, op.settings.feed_mm_min)
        path.to(*ring[0], level, MoveKind.CUT, op.settings.feed_mm_min)


def _link(path: PathBuilder, free: Polygon, target: np.ndarray, level: float, feed: float) -> bool:
    x, y, _ = path.at
    if math.hypot(target[0] - x, target[1] - y) < 1e-6:
        return True
    if not _room(free).covers(LineString([(x, y), target])):
        return False
    path.to(*target, level, MoveKind.LINK, feed)
    return True


def _enter(path: PathBuilder, work: Work, free: Polygon, node: _Node, ring: np.ndarray, above: float, level: float,
           *, leaf: bool) -> np.ndarray:
    if path.at[2] < work.clear_mm and not _straight_over(path, free, ring[0]):
        path.rapid(z_mm=work.clear_mm)
    elif path.at[2] < work.clear_mm:
        path.rapid(z_mm=above + 1.0)
    if work.operation.entry is Entry.HELIX and leaf:
        place = helix_place(free, node.polygon, work.bit.cut_diameter_mm)
        if place is not None:
            if path.at[2] < work.clear_mm and not _straight_over(path, free, np.array([place[0] + place[2], place[1]])):
                path.rapid(z_mm=work.clear_mm)
            enter_by_helix(path, work, place, above, level)
            ring = rolled_to(ring, path.at[0], path.at[1])
            path.to(*ring[0], level, MoveKind.LINK, work.operation.settings.feed_mm_min)
            return ring
    return enter_along_ring(path, work, ring, above, level, above=True)


def _straight_over(path: PathBuilder, free: Polygon, target: np.ndarray) -> bool:
    """Say whether the bit may cross to the target inside the region already cleared above."""
    return _room(free).covers(LineString([path.at[:2], tuple(target)]))


def wall_pass(path: PathBuilder, work: Work, raw: np.ndarray, wall: shapely.Geometry, floor: float, *, is_ring: bool = True) -> None:
    """Run once along one wall, as deep as the bit cuts, with an arc on and off where there is room.

    raw: points [n, 2], the region on the left: a closed ring without its first point repeated, or a stretch of one.
    """
    op = work.operation
    ring = clean_ring(raw) if is_ring else raw
    ring = ring if op.direction is Direction.CLIMB else ring[::-1]
    if is_ring:
        ring = _from_longest_edge(ring)
        on, off = lead_arcs(ring, wall, work.bit.radius_mm, left=op.direction is Direction.CLIMB)
    else:
        on, off = ring[:1], ring[:0]
    for level in finish_levels(work, floor):
        path.rapid(z_mm=work.clear_mm)
        path.rapid(*on[0])
        path.rapid(z_mm=work.start_mm + 0.5)
        path.to(*on[0], level, MoveKind.PLUNGE, op.settings.plunge_mm_min)
        path.along(on[1:], level, MoveKind.FINISH, op.settings.feed_mm_min)
        path.along(ring[1:], level, MoveKind.FINISH, op.settings.feed_mm_min)
        if is_ring:
            path.to(*ring[0], level, MoveKind.FINISH, op.settings.feed_mm_min)
        path.along(off[1:], level, MoveKind.FINISH, op.settings.feed_mm_min)
    path.rapid(z_mm=work.clear_mm)


def _from_longest_edge(ring: np.ndarray) -> np.ndarray:
    """Return the ring starting in the middle of its longest edge, where a lead shows least."""
    edges = np.roll(ring, -1, axis=0) - ring
    k = int(np.argmax((edges**2).sum(1)))
    middle = ring[k] + edges[k] / 2
    return np.vstack([middle, np.roll(ring, -(k + 1), axis=0)])


def lead_arcs(ring: np.ndarray, free: shapely.Geometry, bit_radius_mm: float, *, left: bool) -> tuple[np.ndarray, np.ndarray]:
    """Return quarter arcs [n, 2] onto and off ring[0], on the side where the free space is; a straight step, then
    nothing, where no arc fits.

    free: where the bit's centre may be. left: the free space lies left of the motion.
    """
    start = ring[0]
    ahead = ring[1] - start
    ahead = ahead / np.hypot(*ahead)
    side = np.array([-ahead[1], ahead[0]]) * (1.0 if left else -1.0)
    room = free.buffer(1e-3)
    for radius in (bit_radius_mm, bit_radius_mm * 0.5, bit_radius_mm * 0.25, 0.4):
        centre = start + side * radius
        angle = np.linspace(math.pi / 2, 0, 9)[:, None]
        on = centre - side * radius * np.cos(angle) - ahead * radius * np.sin(angle)
        off = centre - side * radius * np.cos(angle[::-1]) + ahead * radius * np.sin(angle[::-1])
        if room.covers(LineString(np.vstack([on, off]))):
            return on, off
    return ring[:1], ring[:1]


def ring_of(region: shapely.Geometry, direction: Direction, *, wood_outside: bool) -> list[np.ndarray]:
    """Return the cleaned outer rings of a region, run in a direction."""
    return [turned(clean_ring(np.asarray(p.exterior.coords)[:-1]), direction, wood_outside=wood_outside)
            for p in polygons(region)]
