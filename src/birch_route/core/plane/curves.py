"""Curves as people draw them (lines, arcs, splines), flattened only at use and with a stated tolerance."""

from __future__ import annotations

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from scipy.interpolate import CubicSpline

from ..errors import GeometryError
from ..quantities import mm
from ..tolerances import TOLERANCES

Mm = Annotated[float, Field(allow_inf_nan=False, ge=-5000, le=5000)]


class _Shape(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Chain(_Shape):
    """A closed chain of lines and arcs. Each vertex is x, y, bulge; bulge = tan(sweep/4) of the edge that
    leaves the vertex, positive when it turns left, 0 for a line."""

    kind: Literal["chain"] = "chain"
    vertices: list[tuple[Mm, Mm, Annotated[float, Field(allow_inf_nan=False, ge=-20, le=20)]]]


Bulge = Annotated[float, Field(allow_inf_nan=False, ge=-20, le=20)]
Segment = tuple[Literal["line"], Mm, Mm] | tuple[Literal["arc"], Mm, Mm, Bulge] | tuple[Literal["cubic"], Mm, Mm, Mm, Mm, Mm, Mm]


class Path(_Shape):
    """A closed run of lines, arcs and cubic curves, as drawings hold them; the last segment ends at the start.

    line: x, y of its end. arc: x, y of its end, bulge as in Chain. cubic: x, y of both control points, x, y of its end.
    """

    kind: Literal["path"] = "path"
    start: tuple[Mm, Mm]
    segments: Annotated[list[Segment], Field(min_length=1, max_length=20_000)]


class Spline(_Shape):
    """A smooth closed curve through points (periodic cubic, by chord length)."""

    kind: Literal["spline"] = "spline"
    points: list[tuple[Mm, Mm]]


class Rectangle(_Shape):
    """A rectangle with rounded corners, by its middle."""

    kind: Literal["rectangle"] = "rectangle"
    x_mm: Mm
    y_mm: Mm
    length_mm: Annotated[Mm, Field(gt=0)]
    width_mm: Annotated[Mm, Field(gt=0)]
    corner_radius_mm: Annotated[Mm, Field(ge=0)] = 0.0
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0


class Oval(_Shape):
    """An ellipse by its middle, its length and its width."""

    kind: Literal["oval"] = "oval"
    x_mm: Mm
    y_mm: Mm
    length_mm: Annotated[Mm, Field(gt=0)]
    width_mm: Annotated[Mm, Field(gt=0)]
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0


class HeelShape(_Shape):
    """The neck pocket, taken from the measured heel of a part on hand; open at the neck end."""

    kind: Literal["heel"] = "heel"
    part: str
    corner_radius_mm: Annotated[Mm, Field(ge=0)] = 3.0


class PartRectangle(_Shape):
    """The recess of a measured part: its rectangle plus a gap all round. A bridge is placed by its saddle line."""

    kind: Literal["part_rectangle"] = "part_rectangle"
    part: str
    gap_mm: Annotated[Mm, Field(ge=-2, le=20)] = 0.5
    at_saddle: bool = False
    x_mm: Mm = 0.0
    y_mm: Mm = 0.0
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0


class Around(_Shape):
    """The area of another feature, wider all round by so much: a ledge, a step-down, a reveal. It follows that feature."""

    kind: Literal["around"] = "around"
    feature: Annotated[str, Field(max_length=40)]
    by_mm: Annotated[Mm, Field(gt=0, le=60)]


Drawn = Chain | Spline | Rectangle | Oval | Path
Shape = Annotated[
    Chain | Spline | Rectangle | Oval | Path | HeelShape | PartRectangle | Around, Field(discriminator="kind")
]


def flatten(shape: Drawn, chord_mm: float = TOLERANCES.chord_mm) -> np.ndarray:
    """Return the curve as points, not repeating the first.

    Args:
        shape: chain, spline, rectangle, oval or path in the piece's frame, mm.
        chord_mm: greatest distance between the curve and its chords.

    Returns:
        float64 [n, 2], mm.

    Raises:
        GeometryError: too few points, or points that repeat.
    """
    if isinstance(shape, Rectangle):
        return _flatten_chain(_rectangle_chain(shape), chord_mm)
    if isinstance(shape, Oval):
        return _flatten_oval(shape, chord_mm)
    if isinstance(shape, Path):
        return _flatten_path(shape, chord_mm)
    if isinstance(shape, Spline):
        return _flatten_spline(np.asarray(shape.points, float).reshape(-1, 2), chord_mm)
    return _flatten_chain(shape, chord_mm)


def _rectangle_chain(rect: Rectangle) -> Chain:
    hx, hy = rect.length_mm / 2, rect.width_mm / 2
    r = min(rect.corner_radius_mm, hx, hy)
    quarter = math.tan(math.pi / 8)
    if r <= 0:
        raw = [(-hx, -hy, 0.0), (hx, -hy, 0.0), (hx, hy, 0.0), (-hx, hy, 0.0)]
    else:
        raw = [
            (-hx + r, -hy, 0.0), (hx - r, -hy, quarter), (hx, -hy + r, 0.0), (hx, hy - r, quarter),
            (hx - r, hy, 0.0), (-hx + r, hy, quarter), (-hx, hy - r, 0.0), (-hx, -hy + r, quarter),
        ]
    c, s = math.cos(math.radians(rect.angle_deg)), math.sin(math.radians(rect.angle_deg))
    return Chain(vertices=[(rect.x_mm + x * c - y * s, rect.y_mm + x * s + y * c, b) for x, y, b in raw])


def _flatten_oval(oval: Oval, chord_mm: float) -> np.ndarray:
    """Source: a chord over a step h of the parameter is within h^2 max|r''| / 8 of the curve, and |r''| is at most half
    the longer axis."""
    a, b = oval.length_mm / 2, oval.width_mm / 2
    count = 4 * max(2, math.ceil(math.pi / 2 / math.sqrt(8 * chord_mm / max(a, b))))
    t = np.arange(count) * (2 * math.pi / count)
    x, y = a * np.cos(t), b * np.sin(t)
    c, s = math.cos(math.radians(oval.angle_deg)), math.sin(math.radians(oval.angle_deg))
    return np.stack([oval.x_mm + x * c - y * s, oval.y_mm + x * s + y * c], axis=1)


def _flatten_chain(chain: Chain, chord_mm: float) -> np.ndarray:
    count = len(chain.vertices)
    has_arc = any(abs(b) > 1e-9 for _, _, b in chain.vertices)
    if count < (2 if has_arc else 3):
        raise GeometryError("An outline needs at least three points, or two with an arc.", points=count)
    out: list[tuple[float, float]] = []
    for index, (x0, y0, bulge) in enumerate(chain.vertices):
        x1, y1, _ = chain.vertices[(index + 1) % count]
        out.append((x0, y0))
        if abs(bulge) > 1e-9:
            out.extend(arc_points((x0, y0), (x1, y1), bulge, chord_mm)[1:-1])
    points = np.asarray(out, float)
    keep = np.hypot(*(points - np.roll(points, 1, axis=0)).T) > 1e-7
    return points[keep]


def _flatten_path(path: Path, chord_mm: float) -> np.ndarray:
    at = path.start
    out: list[tuple[float, float]] = [at]
    for segment in path.segments:
        end = (segment[-2], segment[-1]) if segment[0] != "arc" else (segment[1], segment[2])
        if segment[0] == "arc" and abs(segment[3]) > 1e-9:
            out.extend(arc_points(at, end, segment[3], chord_mm)[1:])
        elif segment[0] == "cubic":
            out.extend(cubic_points(at, segment[1:3], segment[3:5], end, chord_mm)[1:])
        else:
            out.append(end)
        at = end
    points = np.asarray(out, float)
    keep = np.hypot(*(points - np.roll(points, 1, axis=0)).T) > 1e-7
    points = points[keep]
    if len(points) < 3:
        raise GeometryError("An outline needs at least three points, or two with an arc.", points=len(points))
    return points


def cubic_points(p0: tuple[float, float], p1: tuple[float, float], p2: tuple[float, float], p3: tuple[float, float], chord_mm: float) -> list[tuple[float, float]]:
    """Return points along a cubic curve, both ends included.

    Source: a chord over a step h of the parameter is within h^2 max|B''| / 8 of the curve, and |B''| is at most six
    times the greater second difference of the control points.
    """
    a, b, c, d = (np.asarray(p, float) for p in (p0, p1, p2, p3))
    bent = max(float(np.hypot(*(a - 2 * b + c))), float(np.hypot(*(b - 2 * c + d))))
    count = min(4096, max(1, math.ceil(math.sqrt(0.75 * bent / chord_mm))))
    t = np.linspace(0, 1, count + 1)[:, None]
    points = (1 - t) ** 3 * a + 3 * (1 - t) ** 2 * t * b + 3 * (1 - t) * t**2 * c + t**3 * d
    return [tuple(p) for p in points.tolist()]


def arc_points(
    start: tuple[float, float], end: tuple[float, float], bulge: float, chord_mm: float
) -> list[tuple[float, float]]:
    """Return points along the arc from start to end, both included.

    Source: bulge geometry; sweep = 4 atan(bulge), R = chord / (2 sin(sweep/2)); sagitta of a step gives the count.
    """
    dx, dy = end[0] - start[0], end[1] - start[1]
    chord = math.hypot(dx, dy)
    if chord < 1e-9:
        return [start, end]
    sweep = 4 * math.atan(bulge)
    radius = chord / (2 * math.sin(abs(sweep) / 2))
    apothem = (1 - bulge * bulge) / (4 * bulge)
    cx, cy = (start[0] + end[0]) / 2 - dy * apothem, (start[1] + end[1]) / 2 + dx * apothem
    step = 2 * math.acos(max(0.0, 1 - min(chord_mm, radius * 0.5) / radius))
    count = max(2, math.ceil(abs(sweep) / step))
    first = math.atan2(start[1] - cy, start[0] - cx)
    inner = [
        (cx + radius * math.cos(first + sweep * k / count), cy + radius * math.sin(first + sweep * k / count))
        for k in range(1, count)
    ]
    return [start, *inner, end]


def _flatten_spline(points: np.ndarray, chord_mm: float) -> np.ndarray:
    if len(points) < 4:
        raise GeometryError("A smooth outline needs at least four points.", points=len(points))
    closed = np.vstack([points, points[:1]])
    steps = np.hypot(*np.diff(closed, axis=0).T)
    if (steps < 1e-6).any():
        at = int(np.argmin(steps))
        x, y = points[at]
        raise GeometryError(f"Two outline points lie on each other at x {mm(x):.1f}, y {mm(y):.1f}.", point=at)
    t = np.concatenate([[0.0], np.cumsum(steps)])
    curve = CubicSpline(t, closed, bc_type="periodic")
    out = []
    for k in range(len(steps)):
        count = 4
        while True:  # halve until the middle of every chord is near the curve
            s = np.linspace(t[k], t[k + 1], count + 1)
            nodes, middles = curve(s), curve((s[1:] + s[:-1]) / 2)
            if np.hypot(*(middles - (nodes[1:] + nodes[:-1]) / 2).T).max() <= chord_mm or count >= 4096:
                break
            count *= 2
        out.append(nodes[:-1])
    return np.vstack(out)
