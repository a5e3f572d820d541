"""Drill (straight and peck) and bore (a helix with a bit smaller than the hole)."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import Point

from ..motion.toolpath import PathBuilder
from ..plane.regions import buffer_round
from ..vocabulary import Direction, MoveKind
from .base import LIFT_MM, Made, Problem, Work
from .entry import circle_points
from .pocketing import clear_region

PECK_LIFT_MM = 1.0


def _nearest_order(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    rest, out = list(points), []
    at = (min(p[0] for p in points), min(p[1] for p in points))
    while rest:
        at = min(rest, key=lambda p: math.dist(p, at))
        rest.remove(at)
        out.append(at)
    return out


def drill(work: Work) -> Made:
    """Return a straight or pecking drill path for every hole. The tip goes to the hole's depth; through holes add the
    drill's point."""
    op, settings = work.operation, work.operation.settings
    points = [(p, s) for s in work.solids for p in _nearest_order(list(s.points))]
    problems = [
        Problem("feature.bit_too_wide", s.id, *s.points[0], {"bit_mm": work.bit.cut_diameter_mm, "width_mm": s.diameter_mm})
        for s in work.solids if work.bit.cut_diameter_mm > s.diameter_mm + 0.15
    ]
    path = PathBuilder(*points[0][0], work.clear_mm)
    for (x, y), solid in points:
        floor, z = work.floor_of(solid), work.start_mm
        path.rapid(x, y)
        path.rapid(z_mm=work.start_mm + LIFT_MM)
        while z > floor + 1e-9:
            z = max(floor, z - (op.peck_mm or 1e9))
            path.to(x, y, z, MoveKind.PLUNGE, settings.plunge_mm_min)
            if z > floor + 1e-9:
                path.rapid(z_mm=work.start_mm + PECK_LIFT_MM)
                path.rapid(z_mm=z + LIFT_MM)
        path.rapid(z_mm=work.clear_mm)
    return Made(path.done(), problems)


def bore(work: Work) -> Made:
    """Return helical paths for every hole, from the middle outwards where the hole is wider than two bits."""
    op, radius = work.operation, work.bit.radius_mm
    path = PathBuilder(*work.solids[0].points[0], work.clear_mm)
    problems: list[Problem] = []
    for solid in work.solids:
        run = solid.diameter_mm / 2 - radius - op.stock_to_leave_mm
        if run < 0.04 * work.bit.cut_diameter_mm:
            problems.append(Problem("feature.bit_too_wide", solid.id, *solid.points[0],
                                    {"bit_mm": work.bit.cut_diameter_mm, "width_mm": solid.diameter_mm}))
            continue
        for x, y in _nearest_order(list(solid.points)):
            if run > 0.9 * radius:
                clear_region(path, work, solid, buffer_round(Point(x, y), solid.diameter_mm / 2))
            else:
                _helix_hole(path, work, x, y, run, work.floor_of(solid))
    return Made(path.done(), problems)


def _helix_hole(path: PathBuilder, work: Work, x: float, y: float, run: float, floor: float) -> None:
    op, settings = work.operation, work.operation.settings
    sense = 1.0 if op.direction is Direction.CLIMB else -1.0
    pitch = max(0.05, min(settings.depth_of_cut_mm, 2 * math.pi * run * math.tan(math.radians(op.ramp_deg))))
    begin = work.start_mm + LIFT_MM
    turns = max(1, math.ceil((begin - floor) / pitch))
    path.rapid(x + run, y)
    path.rapid(z_mm=begin)
    down = circle_points(x, y, run, 0.0, sense * turns)
    path.along(down[1:], np.linspace(begin, floor, len(down))[1:], MoveKind.ENTRY, settings.feed_mm_min)
    path.along(circle_points(x, y, run, 0.0, sense)[1:], floor, MoveKind.CUT, settings.feed_mm_min)
    path.to(x, y, floor, MoveKind.LINK, settings.feed_mm_min)
    path.rapid(z_mm=work.clear_mm)
