"""All small jobs by name, in the order one does them, and how a job's readings are taken in."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from pydantic import ValidationError

from ..errors import InputError
from ..machines import FigureOrigin, Known, Machine, Precision
from ..quantities import named_mm
from .again import lost_steps, repeatability, warm_up
from .clock import time
from .faces import pair
from .givens import givens
from .jobs import TITLES, Gauge, Reading, SmallJob, Told
from .play import backlash, slot, stair
from .square import square
from .still import dial, flatness, stiffness, tram

__all__ = ["MAKERS", "TITLES", "checked", "left", "measured", "small_job", "tell"]
Maker = Callable[[Machine, Mapping[str, float]], SmallJob]
MAKERS: dict[str, Maker] = {
    "square": square,
    "backlash": backlash,
    "pair": pair,
    "stair": stair,
    "slot": slot,
    "time": time,
    "tram": tram,
    "stiffness": stiffness,
    "dial": dial,
    "flatness": flatness,
    "repeatability": repeatability,
    "lost": lost_steps,
    "warm_up": warm_up,
}
EXPECTED_WITHIN = 0.2  # of what a reading would be; further off it is a slip of the pen
LEAST_OFF = {Gauge.LENGTH: 3.0, Gauge.SECONDS: 1e9, Gauge.SPEED: 1e9, Gauge.NUMBER: 1e9}
GREATEST = {Gauge.LENGTH: 5000.0, Gauge.SECONDS: 36000.0, Gauge.SPEED: 100000.0, Gauge.NUMBER: 1e6}


def small_job(machine: Machine, kind: str, given: Mapping[str, float]) -> SmallJob:
    """Return a small job for a machine, with what the builder has.

    Raises:
        InputError: no such job, this machine cannot make it, or something given cannot be.
    """
    if kind not in MAKERS:
        raise InputError(f"“{kind}” is no job that measures a machine.", where="kind")
    takes = givens(kind, machine)
    wrong = set(given) - {g.name for g in takes}
    if wrong:
        raise InputError(f"“{sorted(wrong)[0]}” is nothing this job asks for.", where="given")
    filled = {g.name: given.get(g.name, g.value) for g in takes}
    for one in takes:
        value = filled[one.name]
        if not math.isfinite(value) or not one.least <= value <= one.greatest:
            least, greatest = (
                (f"{named_mm(v):g}" if one.gauge is Gauge.LENGTH else f"{v:g}") for v in (one.least, one.greatest)
            )
            raise InputError(f"{one.words}: type {least} to {greatest}.", where=f"given.{one.name}")
    made = _made(machine.model_dump_json(), kind, tuple(sorted(filled.items())))
    return replace(made, given=[replace(g, value=filled[g.name]) for g in takes])


@lru_cache(maxsize=128)
def _made(machine: str, kind: str, given: tuple[tuple[str, float], ...]) -> SmallJob:
    """Return a job as its maker makes it; kept, as the timed ways of a quick machine take a second to lay out."""
    return MAKERS[kind](Machine.model_validate_json(machine), dict(given))


def checked(job: SmallJob, readings: Mapping[str, float]) -> None:
    """Refuse readings that cannot be.

    Raises:
        InputError: a name that is not asked for, a value that is none or far from what it can be.
    """
    asks = {a.name: a for a in job.asks}
    for name, value in readings.items():
        ask = asks.get(name)
        if ask is None:
            raise InputError(f"“{name}” is no reading of this job.", where="readings")
        if not math.isfinite(value) or abs(value) > GREATEST[ask.gauge]:
            raise InputError(f"{ask.words}: that is no reading.", where=f"readings.{name}")
        if ask.expected is None:
            continue
        off = max(EXPECTED_WITHIN * abs(ask.expected), LEAST_OFF[ask.gauge])
        if ask.gauge is Gauge.LENGTH and abs(value - ask.expected) > off:
            raise InputError(
                f"{ask.words}: {named_mm(value):g} is far from the {named_mm(ask.expected):g} it should be near. Read "
                f"it again; if it is right, look whether the program ran on this machine in its own unit.",
                where=f"readings.{name}",
            )
        if ask.gauge is not Gauge.LENGTH and value <= 0:
            raise InputError(f"{ask.words}: it is more than nothing.", where=f"readings.{name}")


def left(job: SmallJob, readings: Mapping[str, float]) -> list[str]:
    """Return the names of readings still to be taken, in their order."""
    return [a.name for a in job.asks if a.name not in readings]


def tell(job: SmallJob, readings: Mapping[str, float]) -> Reading | None:
    """Return what all readings say; None while some are missing.

    Raises:
        InputError: no machine would give them.
    """
    checked(job, readings)
    return None if left(job, readings) else job.tell(readings)


def measured(machine: Machine, told: list[Told], on: Any) -> Machine:
    """Return a machine with what was told of it, measured on a day.

    Raises:
        InputError: no machine is like that.
    """
    try:
        return _measured(machine, told, on)
    except ValidationError as exc:
        words = "; ".join(t.sentence for t in told[:2])
        raise InputError(f"No machine is like that: {words} Take the readings again.", where="readings") from exc


def _measured(machine: Machine, told: list[Told], on: Any) -> Machine:
    fields: dict[str, Any] = {}
    precision = (machine.precision or Precision()).model_dump()
    how = dict(machine.known)
    speeds: dict[int, Told] = {}
    for one in told:
        if not one.figure:
            continue
        field, _, part = one.figure.partition(".")
        spread = max(one.high - one.low, 0.0) / 2
        if field == "speeds_rpm":
            speeds[int(part)] = one
            continue
        value = one.value if isinstance(one.value, bool) else sensible(float(one.value), spread)
        if field == "precision":
            precision[part] = value
        elif part:
            values = list(fields.get(field, getattr(machine, field)))
            values[int(part)] = value
            fields[field] = tuple(values)
        else:
            fields[field] = value
        how[one.figure] = Known(origin=FigureOrigin.MEASURED, on=on, spread=sensible(spread, spread))
    if speeds:
        fields |= _dial(machine, speeds)
        most = max((s.high - s.low) / 2 for s in speeds.values())
        how["speeds_rpm"] = Known(origin=FigureOrigin.MEASURED, on=on, spread=round(most, 1))
    if any(v is not None for v in precision.values()):
        fields["precision"] = Precision.model_validate(precision)
    return machine.model_copy(update={**fields, "known": how})


def sensible(value: float, spread: float) -> float:
    """Return a value with no more digits than its spread allows: two of the spread's own."""
    if spread <= 0 or not math.isfinite(spread):
        return value
    return round(value, 1 - math.floor(math.log10(spread)))


def _dial(machine: Machine, speeds: Mapping[int, Told]) -> dict[str, Any]:
    """Return the steps of a dial as read, and the ends of the spindle's range that go with them."""
    steps = [round(float(speeds[k].value)) for k in sorted(speeds)]
    least, greatest = min(machine.least_rpm, steps[0]), max(machine.greatest_rpm, steps[-1])
    return {
        "speeds_rpm": [float(s) for s in steps],
        "least_rpm": float(least),
        "greatest_rpm": float(greatest),
        "rated_rpm": float(min(max(machine.rated_rpm, least), greatest)),
    }
