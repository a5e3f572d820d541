"""What the builder has decided for a route, and variants of it."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .document import Id, Model, Name
from .plane.curves import Mm


class Choices(Model):
    """What the builder has decided, in mm. They feed the height stack and the fit."""

    scale_mm: Annotated[Mm, Field(ge=300, le=1000)] | None = None
    action_12th_mm: Annotated[Mm, Field(ge=0.3, le=6)] = 1.6
    string_at_nut_mm: Annotated[Mm, Field(ge=0, le=3)] = 0.5
    compensation_mm: Annotated[Mm, Field(ge=-5, le=12)] = 2.4
    saddle_part: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1)] = 0.5  # between its low and high place
    fit_gap_mm: Annotated[Mm, Field(ge=-0.2, le=1)] = 0.08
    strings: Annotated[int, Field(ge=2, le=12)] = 6
    frets: Annotated[int, Field(ge=0, le=36)] = 22
    # each string's saddle behind the saddle line, treble first
    string_extra_mm: Annotated[list[Annotated[Mm, Field(ge=-8, le=12)]], Field(max_length=12)] = []
    bass_scale_mm: Annotated[Mm, Field(ge=300, le=1000)] | None = None  # two scales: scale_mm is the treble string's
    straight_fret: Annotated[int, Field(ge=0, le=36)] = 7  # of two scales: the fret that stands square
    # finish on each wall of a fitted or shown pocket that a part goes into
    film_mm: Annotated[Mm, Field(ge=0, le=1)] = 0.0
    # how far the neck's real axis lies beside the drawn centre line at the nut, treble side above 0
    axis_offset_mm: Annotated[Mm, Field(ge=-20, le=20)] | None = None
    # cutting length of the bearing bit that trims an outline by hand
    trim_bit_mm: Annotated[Mm, Field(gt=0, le=120)] | None = None
    neck_kg: Annotated[float, Field(allow_inf_nan=False, gt=0, le=5)] | None = None  # the neck with its tuners
    neck_balance_mm: Annotated[Mm, Field(ge=0, le=900)] | None = None  # from the heel's end to where the neck balances
    mine: Annotated[list[Id], Field(max_length=40)] = []  # what was said or set by hand; the rest is what is usual


class Variant(Model):
    """Other hardware, or other choices, on the same piece. parts: which part stands in for which."""

    id: Id
    name: Name
    parts: dict[Id, Id] = {}
    choices: dict[Id, Annotated[float, Field(allow_inf_nan=False, ge=-1000, le=2000)]] = {}
