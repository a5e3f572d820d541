"""What a machine's place asks before it is started: quiet hours, people, the stop, extraction, the shoe."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..machines import Machine
from ..quantities import named_mm

DAY_MIN = 24 * 60
SAID = 3  # of what is old, by name


@dataclass(frozen=True)
class Before:
    """One thing before a start. binds: it stands against starting at this minute."""

    kind: str
    sentence: str
    binds: bool = False


def clock(hours: float) -> str:
    """Return hours of a day as a clock shows them."""
    minutes = round(hours * 60)
    return f"{minutes // 60 % 24}:{minutes % 60:02d}"


def runs_into(quiet_h: Sequence[tuple[float, float]], at_min: float, minutes: float) -> tuple[float, float] | None:
    """Return the quiet hours a run meets that begins at a minute of the day, or None. A span may go over midnight."""
    for begin, end in quiet_h:
        start = begin * 60
        length = (end - begin) * 60 % DAY_MIN
        since = (at_min - start) % DAY_MIN
        if since < length or DAY_MIN - since < minutes:
            return begin, end
    return None


def before_start(machine: Machine, minutes: float, at_min: float, old: Sequence[str] = ()) -> list[Before]:
    """Return what is to be seen to before a run of so many minutes is begun at a minute of the day.

    Args:
        old: figures that were measured too long ago, in words.
    """
    out = []
    if machine.quiet_h:
        spans = ", ".join(f"{clock(a)} to {clock(b)}" for a, b in machine.quiet_h)
        met = runs_into(machine.quiet_h, at_min, minutes)
        if met is None:
            words = f"Quiet hours here are {spans}. Begun now, {minutes:.0f} minutes end before them."
        elif runs_into([met], at_min, 0.0):
            words = f"It is quiet hours here until {clock(met[1])}: do not start."
        else:
            words = f"Begun now, {minutes:.0f} minutes run into the quiet hours from {clock(met[0])}."
        out.append(Before("quiet", words, met is not None))
    if machine.least_people > 1:
        out.append(Before("people", f"At least {machine.least_people} people are in the shop while it runs."))
    if machine.stop_reach_mm is not None:
        words = (
            f"Stay within {named_mm(machine.stop_reach_mm):.0f} of its emergency stop; try it before the first start."
        )
        out.append(Before("stop", words))
    how = "the program switches it" if machine.dialect.extraction else "switch it on by hand"
    out.append(Before("extraction", f"Extraction: {how}, and look that it draws."))
    if machine.shoe_diameter_mm is not None:
        out.append(
            Before("shoe", f"The dust shoe, {named_mm(machine.shoe_diameter_mm):g} wide, is reckoned with: put it on.")
        )
    if old:
        more = "" if len(old) <= SAID else f" and {len(old) - SAID} more"
        words = f"Measured long ago, so perhaps not true any more: {', '.join(old[:SAID])}{more}. Measure it again."
        out.append(Before("old", words))
    return out
