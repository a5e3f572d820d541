"""The arcs of a program: end, centre or radius and turns into points, with what does not fit."""

from __future__ import annotations

import math

from ..quantities import MM_PER_INCH, named_mm

CHORD_MM = 0.003
ROUNDED_UNITS = 3.0  # of the last decimal a file writes: what rounding of end and centre may differ by
LEAST_OFF_MM = 0.005
MOST_OFF_MM = 0.1
MOST_TURNS = 1000
Point = tuple[float, float, float]


class ArcError(ValueError):
    """An arc that cannot be one; says why."""


def off_mm(decimals: int, scale: float) -> float:
    """Return how far the radii at an arc's two ends may differ by rounding of words with so many decimals, mm."""
    return min(MOST_OFF_MM, max(LEAST_OFF_MM, ROUNDED_UNITS * scale * 10.0**-decimals))


def arc_points(
    start: Point,
    end: Point,
    words: dict[str, float],
    *,
    clockwise: bool,
    scale: float,
    centres_absolute: bool,
    decimals: int,
) -> tuple[list[Point], str]:
    """Return the points along an arc in the XY plane after its start, flattened to CHORD_MM, and what does not fit, in
    words.

    Args:
        words: I, J, K, R, P as written. scale: mm of the file's unit. decimals: as many as the file writes.

    Raises:
        ArcError: no such arc.
    """
    (x0, y0, z0), (x1, y1, z1) = start, end
    if words.get("K"):
        raise ArcError("K has no meaning for an arc in the XY plane.")
    if "R" in words and ("I" in words or "J" in words):
        raise ArcError("an arc has either R or I and J.")
    turns = words.get("P", 1.0)
    if turns != int(turns) or not 1 <= turns <= MOST_TURNS:
        raise ArcError(f"P{turns:g} is no number of turns.")
    if "R" in words:
        centre = _centre_from_radius(x0, y0, x1, y1, words["R"] * scale, clockwise, off_mm(decimals, scale))
    elif "I" in words or "J" in words:
        i, j = words.get("I", 0.0) * scale, words.get("J", 0.0) * scale
        if centres_absolute and not {"I", "J"} <= set(words):
            raise ArcError("absolute arc centres need both I and J.")
        centre = (i, j) if centres_absolute else (x0 + i, y0 + j)
    else:
        raise ArcError("an arc needs I and J, or R.")
    r0, r1 = math.hypot(x0 - centre[0], y0 - centre[1]), math.hypot(x1 - centre[0], y1 - centre[1])
    if r0 < 1e-6:
        raise ArcError("an arc with a radius of 0.")
    unit = "in" if scale == MM_PER_INCH else "mm"
    off = (
        f"start and end are {abs(r0 - r1) / scale:.4g} {unit} off one circle."
        if abs(r0 - r1) > off_mm(decimals, scale)
        else ""
    )
    a0, a1 = math.atan2(y0 - centre[1], x0 - centre[0]), math.atan2(y1 - centre[1], x1 - centre[0])
    sweep = (a0 - a1 if clockwise else a1 - a0) % (2 * math.pi)
    if sweep < 1e-9 or 2 * math.pi - sweep < 1e-12:
        sweep = 2 * math.pi
    sweep = (sweep + 2 * math.pi * (turns - 1)) * (-1 if clockwise else 1)
    step = 2 * math.acos(max(0.0, 1 - min(CHORD_MM, r0 * 0.5) / r0))
    count = max(1, math.ceil(abs(sweep) / step))
    points: list[Point] = []
    for k in range(1, count):
        t = k / count
        r, a = r0 + (r1 - r0) * t, a0 + sweep * t
        points.append((centre[0] + r * math.cos(a), centre[1] + r * math.sin(a), z0 + (z1 - z0) * t))
    return [*points, (x1, y1, z1)], off


def _centre_from_radius(
    x0: float, y0: float, x1: float, y1: float, radius: float, clockwise: bool, off: float
) -> tuple[float, float]:
    """Source: the centre lies on the chord's bisector at sqrt(r^2 - (chord/2)^2); a negative R takes the longer arc."""
    dx, dy = x1 - x0, y1 - y0
    chord = math.hypot(dx, dy)
    if chord < 1e-9:
        raise ArcError("R cannot say where the middle of a whole circle lies.")
    if chord / 2 > abs(radius) + off:
        raise ArcError(f"the radius is too small by {named_mm(chord / 2 - abs(radius)):.3f} to reach the arc's end.")
    h = math.sqrt(max(0.0, radius**2 - (chord / 2) ** 2))
    side = -1.0 if clockwise == (radius > 0) else 1.0
    return (x0 + x1) / 2 - side * h * dy / chord, (y0 + y1) / 2 + side * h * dx / chord
