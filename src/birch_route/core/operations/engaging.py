"""Clearing with a bounded engagement as moves: one plan for a region, cut at every level."""

from __future__ import annotations

import numpy as np
import shapely
from shapely.geometry import LineString

from ..clearing.engaged import clear_engaged, enterable
from ..clearing.plan import LegKind, Plan, kept_plan
from ..motion.toolpath import PathBuilder
from ..plane.regions import rings
from ..route import content_hash
from ..vocabulary import Direction, MoveKind
from .base import LIFT_MM, Work, clean_ring
from .entry import enter_by_helix

METHOD = "2026-11-26 b"  # changes whenever the same region may be cleared another way
KINDS = {LegKind.CUT: MoveKind.CUT, LegKind.LINK: MoveKind.LINK, LegKind.CONTOUR: MoveKind.CUT}


def engaged_plan(work: Work, room: shapely.Geometry) -> Plan:
    """Return how a room of the bit's centre is cleared; the same question is computed once."""
    op, radius = work.operation, work.bit.radius_mm
    climb = op.direction is Direction.CLIMB
    key = content_hash({"room": shapely.normalize(room).wkb_hex, "radius": radius, "deg": op.engaged_deg, "climb": climb, "both": op.both_ways, "contour": not op.finish_pass, "method": METHOD})
    return kept_plan(key, lambda: clear_engaged(room, radius, op.engaged_deg, climb=climb, both_ways=op.both_ways, contour=not op.finish_pass, watch=work.watch))


def cut_levels(path: PathBuilder, work: Work, plan: Plan, heights: list[float]) -> None:
    """Cut a plan at every height, from the top down; the bit starts and ends at the clearance height."""
    settings, above = work.operation.settings, work.start_mm
    for level in heights:
        for leg in plan.legs:
            if leg.kind is LegKind.HELIX:
                middle = leg.points[:-1].mean(axis=0)
                path.rapid(z_mm=work.clear_mm)
                enter_by_helix(path, work, (float(middle[0]), float(middle[1]), float(np.hypot(*(leg.points[0] - middle)))), above, level)
            elif leg.kind is LegKind.LIFT:
                path.rapid(z_mm=work.clear_mm)
                path.rapid(*leg.points[-1])
                path.rapid(z_mm=above + LIFT_MM)
                path.to(*leg.points[-1], level, MoveKind.PLUNGE, settings.plunge_mm_min)
            else:
                path.along(leg.points[1:], level, KINDS[leg.kind], settings.feed_mm_min)
        path.rapid(z_mm=work.clear_mm)
        above = level


def walls_without(wall: shapely.Geometry, plan: Plan, radius_mm: float, allowance_mm: float) -> list[tuple[np.ndarray, bool]]:
    """Return the ways along the walls [n, 2] that are no slots, and whether each is a whole ring; the region lies on the left."""
    room, narrow = enterable(wall, radius_mm)
    kept_out = shapely.union_all([LineString(line).buffer(allowance_mm + 0.1) for line in plan.blocked if len(line) > 1])
    out: list[tuple[np.ndarray, bool]] = []
    for ring in map(clean_ring, rings(room)):
        closed = LineString(np.vstack([ring, ring[:1]]))
        if (not narrow and kept_out.is_empty) or not closed.intersects(kept_out):
            out.append((ring, True))
            continue
        left = shapely.line_merge(closed.difference(kept_out), directed=True)
        for part in getattr(left, "geoms", [left]):
            line = np.asarray(part.coords)
            if part.length > 0.5 * radius_mm:
                out.append((line, False))
    return out
