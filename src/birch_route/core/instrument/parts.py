"""Parts on hand and their readings."""

from __future__ import annotations

from statistics import median
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from ..data import figures, part_places
from ..document import Id
from ..errors import InputError
from ..quantities import Unit, mm, named_mm
from ..units import parse_length
from ..vocabulary import PartKind


class Reading(BaseModel):
    """One caliper value. value_mm is what counts; typed and unit are how it was given."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    place: str
    value_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=5000)]
    typed: Annotated[str, Field(max_length=40)]
    unit: Unit
    by: Annotated[str, Field(max_length=60)] = ""
    at: Annotated[str, Field(max_length=40)] = ""
    using: Annotated[str, Field(max_length=40)] = ""  # what it was taken with
    told: bool = False  # it came with a file; nobody of this shop took it


class MadeHere(BaseModel):
    """Sizes that another job's route gives a part, mm by place: computed, until the caliper says otherwise."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    route: Annotated[int, Field(ge=1)]
    job: Annotated[str, Field(max_length=80)]
    revision: Annotated[int, Field(ge=1)]
    sizes: dict[str, Annotated[float, Field(allow_inf_nan=False, ge=0, le=5000)]]


class PartOnHand(BaseModel):
    """A bought or made thing that is measured."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    id: Id
    kind: PartKind
    name: Annotated[str, Field(min_length=1, max_length=80)]
    readings: list[Reading] = []
    expected: Annotated[str, Field(max_length=40)] = ""  # when a part that is not here yet should come
    made: MadeHere | None = None  # by a job of this shop


class Place(BaseModel):
    """What the readings of one place say together."""

    model_config = ConfigDict(frozen=True)
    place: str
    label: str
    values_mm: list[float]
    value_mm: float | None
    spread_mm: float
    outlier: int | None  # index into values_mm
    needed: bool
    told: bool = False  # all of it came with a file
    computed: bool = False  # nobody read it: it is what the route of the part gives


def read_place(part: PartOnHand, place: str) -> Place:
    """Return the value of a place of a part from its readings.

    The value is the median without the outlier. With three or more readings, one that lies further from the median
    of the others than figures.spread.outlier_mm, while the others agree within figures.spread.within_mm, is an outlier.

    Raises:
        InputError: this kind of part has no such place.
    """
    places = part_places()[part.kind.value]
    if place not in places:
        raise InputError(f"A {part.kind.value} has no place “{place}”. It has {', '.join(places)}.", where=part.id)
    taken = [r for r in part.readings if r.place == place]
    values = [r.value_mm for r in taken]
    outlier = find_outlier(values)
    good = [v for i, v in enumerate(values) if i != outlier]
    computed = not good and part.made is not None and place in part.made.sizes
    return Place(
        place=place,
        label=places[place]["label"],
        values_mm=values,
        value_mm=median(good) if good else part.made.sizes[place] if computed and part.made else None,
        spread_mm=max(good) - min(good) if good else 0.0,
        outlier=outlier,
        needed=places[place]["needed"],
        told=bool(taken) and all(r.told for r in taken),
        computed=computed,
    )


def as_told(parts: list[PartOnHand]) -> list[PartOnHand]:
    """Return parts whose readings came with a file: known from elsewhere, measured by nobody here."""
    return [p.model_copy(update={"readings": [r.model_copy(update={"told": True}) for r in p.readings]}) for p in parts]


def find_outlier(values_mm: list[float]) -> int | None:
    """Return the index of the one reading that disagrees with the others, or None."""
    if len(values_mm) < 3:
        return None
    limit = figures()["spread"]
    worst, worst_off = None, limit["outlier_mm"]
    for index, value in enumerate(values_mm):
        others = values_mm[:index] + values_mm[index + 1:]
        if max(others) - min(others) <= limit["within_mm"] and abs(value - median(others)) > worst_off:
            worst, worst_off = index, abs(value - median(others))
    return worst


def take_reading(part: PartOnHand, place: str, typed: str, default: Unit, by: str = "", at: str = "", using: str = "") -> Reading:
    """Read what was typed for a place and check it against what such a part can be.

    Raises:
        UnitError: not a length.
        InputError: outside the range of the place; the message names the likely slip.
    """
    length = parse_length(typed, default)
    known = part_places()[part.kind.value]
    if place not in known:
        raise InputError(f"A {part.kind.value} has no place “{place}”.", where=part.id)
    spec = known[place]
    if not spec["least_mm"] <= length.mm <= spec["most_mm"]:
        raise InputError(
            f"{spec['label']} of {part.name} cannot be {named_mm(length.mm):.2f}: it lies between "
            f"{mm(spec['least_mm']):g} "
            f"and {mm(spec['most_mm']):g}. Check the unit.",
            where=f"{part.id}.{place}",
            value_mm=length.mm,
        )
    return Reading(place=place, value_mm=length.mm, typed=typed.strip()[:40], unit=length.unit, by=by, at=at, using=using)
