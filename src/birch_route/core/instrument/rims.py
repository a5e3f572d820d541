"""Rims that the machine works on: where along them, how far in and down, and what they look like then."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
import shapely
from shapely.geometry import LineString, Polygon

from ..quantities import mm
from ..vocabulary import EdgeKind, Face
from .edges import edge_plan

if TYPE_CHECKING:
    from ..piece import Edge
    from ..route import Route
    from ..stages import Frame
    from .resolve import Resolved, Solid

LEAST_MM = 1.0  # a shorter stretch is left as it is


@dataclass(frozen=True)
class Rim:
    """One machined edge in a setup's frame. region: what its rim bounds. lines: stretches [n, 2] that are worked on; a closed one repeats its first point."""

    edge: str
    name: str  # of the operation that makes it
    words: str
    kind: EdgeKind
    face: Face
    size_mm: float
    angle_deg: float
    down_mm: float
    region: Polygon
    is_outline: bool
    lines: tuple[np.ndarray, ...]

    @property
    def key(self) -> str:
        """What its toolpath depends on, as text for a hash."""
        return f"{self.kind} {self.size_mm} {self.angle_deg} {self.region.wkb_hex} {[line.tobytes().hex() for line in self.lines]}"

    def depth_at(self, inside_mm: np.ndarray) -> np.ndarray:
        """Return how far below the face the worked edge lies at distances from the rim.

        Source: quarter circle R - sqrt(R^2 - (R - d)^2) for a round; a straight line for a bevel.
        """
        d = np.clip(inside_mm, 0.0, None)
        if self.kind is EdgeKind.ROUND:
            r = self.size_mm
            return np.where(d < r, r - np.sqrt(np.maximum(r * r - (r - np.minimum(d, r)) ** 2, 0.0)), 0.0)
        return np.maximum(0.0, self.down_mm * (1 - d / self.size_mm))

    def turned(self, frame: Frame) -> Rim:
        """Return it as it lies in a frame."""
        other = Face.BACK if self.face is Face.FRONT else Face.FRONT
        lines = tuple((line * np.asarray(frame.signs))[::-1] for line in self.lines)  # counter-clockwise again
        return replace(self, face=other, region=frame.region(self.region), lines=lines)


def machined_rims(route: Route, resolved: Resolved) -> dict[str, Rim]:
    """Return the edges that the machine cuts, by id, without the stretches that stay sharp."""
    out = {}
    plans = {p.edge: p for p in edge_plan(route, resolved)}
    for edge in route.piece.edges:
        plan = plans.get(edge.id)
        if not edge.machined or plan is None or plan.inward_mm <= 0:
            continue
        solid = resolved.solid(edge.feature)
        rim = LineString(solid.region.exterior.coords)
        sharp = shapely.union_all([LineString(s.points).buffer(0.06) for s in plan.stretches if len(s.points) > 1]) if plan.stretches else Polygon()
        left = rim if sharp.is_empty else _joined(rim.difference(sharp))
        lines = tuple(np.asarray(g.coords) for g in getattr(left, "geoms", [left]) if g.length > LEAST_MM)
        out[edge.id] = Rim(edge.id, _name(edge, solid), plan.words, edge.kind, edge.face, edge.size_mm, 45.0 if edge.kind is EdgeKind.BROKEN else edge.angle_deg, plan.down_mm, solid.region, solid.kind == "outline", lines)
    return out


def _name(edge: Edge, solid: Solid) -> str:
    size = {EdgeKind.ROUND: f"radius {mm(edge.size_mm):g}", EdgeKind.BROKEN: f"broken {mm(edge.size_mm):g}"}.get(
        edge.kind, f"{mm(edge.size_mm):g} at {edge.angle_deg:g}°"
    )
    return f"{edge.face.value.capitalize()} edge, {size}" if solid.kind == "outline" else f"Edge of {solid.name}, {size}"


def _joined(lines: shapely.Geometry) -> shapely.Geometry:
    return shapely.line_merge(lines, directed=True) if lines.geom_type != "LineString" else lines


def offset_mm(rim: Rim, tip_mm: float, below_mm: float) -> float:
    """Return how far outside the rim a bit's axis stands whose tip of a radius goes below the lower end of the edge.

    Source: the flank stands tip + below / tan(angle from the face) from the axis where it meets the rim.
    """
    return tip_mm + (below_mm / math.tan(math.radians(rim.angle_deg)) if rim.kind is not EdgeKind.ROUND else 0.0)
