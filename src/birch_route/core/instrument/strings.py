"""Where the strings run: straight lines from nut to saddles, over the board's edges and the pole pieces."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..errors import InputError


@dataclass(frozen=True)
class StringLine:
    """One string in plan. Number 1 is the treble side's outer string; x along the centre line, y to the treble side, mm."""

    number: int
    nut: tuple[float, float]
    saddle: tuple[float, float]

    def y_at(self, x_mm: float) -> float:
        """Return y where the string passes x."""
        (x0, y0), (x1, y1) = self.nut, self.saddle
        return y0 + (y1 - y0) * (x_mm - x0) / (x1 - x0)


def string_lines(count: int, nut_spread_mm: float, saddle_spread_mm: float, nut_x_mm: float, saddle_x_mm: float, *, nut_y_mm: float = 0.0, saddle_y_mm: float = 0.0) -> list[StringLine]:
    """Return the strings, evenly spaced between the outer two at both ends.

    Args:
        nut_spread_mm, saddle_spread_mm: between the outer strings' middles.
        nut_y_mm, saddle_y_mm: how far the middle of the strings lies off the centre line at each end.

    Raises:
        InputError: fewer than two strings, or nut and saddle at one place.
    """
    if count < 2:
        raise InputError("At least two strings are needed to lay out a spacing.", where="strings")
    if abs(saddle_x_mm - nut_x_mm) < 50:
        raise InputError("Nut and saddle lie closer than 50 mm.", where="choices.scale_mm")
    out = []
    for k in range(count):
        part = 0.5 - k / (count - 1)
        out.append(StringLine(k + 1, (nut_x_mm, nut_y_mm + part * nut_spread_mm), (saddle_x_mm, saddle_y_mm + part * saddle_spread_mm)))
    return out


@dataclass(frozen=True)
class EdgeGap:
    """How far the outer strings stand from the board's edges at a place, bass and treble side, mm; below 0: beyond it."""

    x_mm: float
    bass_mm: float
    treble_mm: float


def edge_gaps(lines: list[StringLine], board: list[tuple[float, float]], at_x_mm: list[float]) -> list[EdgeGap]:
    """Return the gaps of the outer strings to a board's edges.

    Args:
        board: (x, width) at two places or more; the board is even about the centre line, straight between them.
        at_x_mm: where to look.
    """
    treble, bass = lines[0], lines[-1]
    out = []
    for x in at_x_mm:
        half = width_at(board, x) / 2
        out.append(EdgeGap(x, half + bass.y_at(x), half - treble.y_at(x)))
    return out


def width_at(board: list[tuple[float, float]], x_mm: float) -> float:
    """Return the width of a tapering board at x, straight between its places and beyond them."""
    rows = sorted(board)
    if len(rows) < 2:
        raise InputError("A taper needs widths at two places.", where="neck")
    (x0, w0), (x1, w1) = next(((a, b) for a, b in zip(rows, rows[1:], strict=False) if x_mm <= b[0]), (rows[-2], rows[-1]))
    return w0 + (w1 - w0) * (x_mm - x0) / (x1 - x0)


def spacing_at(lines: list[StringLine], x_mm: float) -> float:
    """Return the distance between the outer strings' middles at x, mm."""
    return lines[0].y_at(x_mm) - lines[-1].y_at(x_mm)


def axis_error(offset_mm: float, over_mm: float, reach_mm: float) -> float:
    """Return how far the strings land beside the bridge's middle where the neck's real axis leaves the centre line.

    Args:
        offset_mm: sideways reading of the axis at the far mark. over_mm: distance between the two marks on the neck.
        reach_mm: from the pocket's end to the saddle line.

    Source: similar triangles.
    """
    if over_mm <= 0:
        raise InputError("The two marks on the neck must lie apart.", where="over")
    return math.tan(math.atan2(offset_mm, over_mm)) * reach_mm
