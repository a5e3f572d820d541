"""A neck that people like: what a caliper read on it at a few places gives the numbers of a back, by least squares.

Thickness with the board is a straight line over 1st and 12th fret; the shape is a superellipse with one pair of
exponents over the whole shaft, never under 2, for a ridge is chosen, not met by chance.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from scipy.optimize import least_squares

from ..document import Model
from ..errors import InputError
from ..fretboard.lines import Plan
from ..plane.curves import Mm
from .lines import neck_plan
from .loft import Loft
from .numbers import BackStation, Neck

LEAST, MOST = 2.0, 3.2  # of an exponent
STARTS = ((2.1, 2.0), (2.6, 2.4), (2.05, 2.6))


class LikedReading(Model):
    """What was read at one fret, mm: how thick with the board, and how wide so far below the board's underside."""

    fret: Annotated[int, Field(ge=0, le=24)]
    thick_mm: Annotated[Mm, Field(ge=12, le=40)] | None = None
    below_mm: Annotated[Mm, Field(gt=0, le=30)] | None = None
    wide_mm: Annotated[Mm, Field(gt=5, le=100)] | None = None


@dataclass(frozen=True)
class Liked:
    """The numbers that fit best, and how far each reading lies off them, mm: read less fitted, in the order of the
    readings; None for what was not read. rim, apex: None where no widths were read."""

    thick_1st_mm: float
    thick_12th_mm: float
    rim: float | None
    apex: float | None
    thick_off_mm: list[float | None]
    wide_off_mm: list[float | None]
    stations: list[dict[str, Any]]


def fit_liked(neck: Neck, readings: list[LikedReading]) -> Liked:
    """Return the back of a neck that fits readings best.

    Raises:
        InputError: thickness at fewer than two frets, a fret the board does not have, a width without its depth, or
        one wider than the neck or below its back.
    """
    plan = neck_plan(neck)
    places = _checked(plan, readings)
    thick = [(places[k], r.thick_mm) for k, r in enumerate(readings) if r.thick_mm is not None]
    if len({round(x, 3) for x, _ in thick}) < 2:
        raise InputError("Read how thick it is at two frets at least: the line between them is what is fitted.",
                         where="readings")
    x, t = np.array(thick, float).T
    slope, at_zero = np.polyfit(x, t, 1)
    first, twelfth = Loft(neck).frets
    line = [float(at_zero + slope * v) for v in (first, twelfth)]
    widths: list[tuple[int, float | None, float | None]] = [
        (k, r.below_mm, r.wide_mm) for k, r in enumerate(readings) if r.wide_mm is not None]
    rim, apex = _shape(neck, plan, places, widths, at_zero, slope) if len(widths) >= 2 else (None, None)
    thick_off = [None if r.thick_mm is None else float(r.thick_mm - at_zero - slope * places[k])
                 for k, r in enumerate(readings)]
    wide_off: list[float | None] = [None] * len(readings)
    for k, below, wide in widths:
        if rim is None or apex is None or below is None or wide is None:
            break
        deep = at_zero + slope * places[k] - neck.board.thickness_mm
        wide_off[k] = float(wide - _wide(plan.half_mm(places[k]), deep, below, rim, apex))
    return Liked(round(line[0], 2), round(line[1], 2), rim, apex, thick_off, wide_off,
                 _stations(neck, rim, apex))


def _checked(plan: Plan, readings: list[LikedReading]) -> list[float]:
    out = []
    for r in readings:
        if r.fret >= len(plan.lines):
            raise InputError(f"This board has no fret {r.fret}.", where="readings")
        if (r.below_mm is None) != (r.wide_mm is None):
            raise InputError(f"At fret {r.fret} a width and how far below the board it was read belong together.",
                             where="readings")
        x = plan.lines[r.fret].centre_mm
        if r.wide_mm is not None and r.wide_mm > 2 * plan.half_mm(x) + 0.5:
            raise InputError(f"At fret {r.fret} the neck is not so wide anywhere. Read it again, or the board's width.",
                             where="readings")
        out.append(x)
    return out


def _wide(half: float, deep: float, below: float, rim: float, apex: float) -> float:
    """Return how wide a section is so far below the glue plane."""
    rest = 1 - min(max(below / deep, 0.0), 1.0) ** apex
    return float(2 * half * max(rest, 0.0) ** (1 / rim))


def _shape(neck: Neck, plan: Plan, places: list[float], widths: list[tuple[int, float | None, float | None]],
           at_zero: float, slope: float) -> tuple[float, float]:
    def off(exponents: np.ndarray) -> np.ndarray:
        out = []
        for k, below, wide in widths:
            deep = at_zero + slope * places[k] - neck.board.thickness_mm
            out.append(_wide(plan.half_mm(places[k]), deep, below or 0.0, *map(float, exponents)) - (wide or 0.0))
        return np.array(out)

    for k, below, _ in widths:
        deep = at_zero + slope * places[k] - neck.board.thickness_mm
        if below is not None and below >= deep:
            raise InputError("A width was read below the neck's own back. Read again how far below the board it was.",
                             where="readings")
    found = [least_squares(off, start, bounds=([LEAST, LEAST], [MOST, MOST])) for start in STARTS]
    best = min(found, key=lambda f: float(f.cost))
    return round(float(best.x[0]), 2), round(float(best.x[1]), 2)


def _stations(neck: Neck, rim: float | None, apex: float | None) -> list[dict[str, Any]]:
    """Return stations that hold the exponents along the whole shaft; none where nothing was read of its shape."""
    if rim is None or apex is None:
        return []
    loft = Loft(neck)
    places = sorted({round(v, 2) for v in (max(0.0, loft.ends[0]), *loft.frets, loft.ends[1])})
    return [BackStation(at_mm=v, rim=rim, apex=apex).model_dump(mode="json") for v in places]
