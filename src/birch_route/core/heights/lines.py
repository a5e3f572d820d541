"""Lines and areas of equal height on a grid of cells."""

from __future__ import annotations

from functools import reduce

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..clearing import ways

MOST_LINES = 4000
BELOW = -1e3  # what lies around the grid


def zero_lines(field: np.ndarray, x0_mm: float, y0_mm: float, cell_mm: float) -> list[tuple[np.ndarray, bool]]:
    """Return the lines [n, 2] where a field is 0, mm, what is above 0 on the left, and whether each is closed.

    Args:
        field: [ny, nx] at the middles of cells whose lower left corner lies at x0_mm, y0_mm; around it the field counts as far below 0.
    """
    padded = np.full((field.shape[0] + 2, field.shape[1] + 2), BELOW, field.dtype)
    padded[1:-1, 1:-1] = field
    points, ends = np.empty((2 * padded.size, 2)), np.empty((MOST_LINES, 2), np.int64)
    begun, out = 0, []
    for end, closed in ends[: ways.rims(padded, points, ends, MOST_LINES)].tolist():
        out.append(((points[begun:end] - 0.5) * cell_mm + [x0_mm, y0_mm], bool(closed)))
        begun = end
    return out


def area_above(field: np.ndarray, x0_mm: float, y0_mm: float, cell_mm: float) -> shapely.Geometry:
    """Return the area where a field is above 0, mm; arguments as of `zero_lines`."""
    rings = [Polygon(line).buffer(0) for line, closed in zero_lines(field, x0_mm, y0_mm, cell_mm) if closed and len(line) > 3]
    return reduce(shapely.symmetric_difference, sorted(rings, key=lambda g: -g.area), Polygon())  # a hole lies in what it is taken from
