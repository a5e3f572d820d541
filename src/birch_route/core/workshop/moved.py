"""What differs between two machines: told before a job is moved to another, or takes what was changed since."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..machines import Dialect, Machine
from ..quantities import acceleration, named_mm, named_rate
from .before import clock
from .machine_figures import FIGURES, Figure, Group, Kind, value_of

WORDS_OF_DIALECT: dict[str, tuple[str, dict[Any, str]]] = {
    "inch": ("programs in", {True: "inches", False: "mm"}),
    "arcs": ("arcs", {True: "written", False: "as short lines"}),
    "decimals": ("digits after the point", {}),
    "line_numbers": ("line numbers", {True: "yes", False: "no"}),
    "split": ("a file for each", {"per_setup": "setup", "per_bit": "bit", "per_operation": "operation"}),
    "change_word": ("bit change", {True: "M6", False: "stop M0"}),
    "changer_slots": ("slots of the changer", {None: "none"}),
    "preselect": ("next bit called ahead", {True: "yes", False: "no"}),
    "speed_word": ("speed", {True: "written", False: "by the dial"}),
    "warm_up_s": ("wait after the spindle starts, s", {}),
    "probe_word": ("Z touched off", {None: "by hand"}),
    "probe_down_mm": ("looks for the touch plate so far down", {}),
    "probe_feed_mm_min": ("down onto the touch plate at", {}),
    "set_word": ("Z is set by", {}),
    "extraction": ("extraction", {True: "M8 and M9", False: "by hand"}),
    "semicolon_comments": ("notes", {True: "after a semicolon", False: "in round brackets"}),
    "extension": ("files end with", {}),
    "percent": ("% before and after", {True: "yes", False: "no"}),
    "end_word": ("ends with", {}),
    "line_ending": ("lines close with", {"lf": "a feed", "crlf": "return and feed"}),
    "name_length": ("letters in a file's name", {}),
    "largest_kb": ("largest file, kB", {None: "any"}),
}


@dataclass(frozen=True)
class Difference:
    """One thing that differs: what, in words, and how it was and is."""

    name: str
    words: str
    before: str
    after: str


def differences(before: Machine, after: Machine) -> list[Difference]:
    """Return every figure and word in which two machines differ, what most rests on first."""
    out = []
    for figure in FIGURES:
        was, now = value_of(before, figure.name), value_of(after, figure.name)
        if was != now:
            out.append(Difference(figure.name, figure.words, said(figure, was), said(figure, now)))
    for name in Dialect.model_fields:
        was, now = getattr(before.dialect, name), getattr(after.dialect, name)
        if name in WORDS_OF_DIALECT and was != now:
            words, names = WORDS_OF_DIALECT[name]
            told = [names.get(v, _word(name, v)) for v in (was, now)]
            out.append(Difference(f"dialect.{name}", words, *told))
    return out


def _word(name: str, value: Any) -> str:
    """Return what stands in a dialect as a sentence says it, its quantities marked."""
    if name.endswith("_mm_min"):
        return f"{named_rate(value):g}"
    return f"{named_mm(value):g}" if name.endswith("_mm") else str(value)


def said(figure: Figure, value: Any) -> str:
    """Return a figure's value as a sentence says it, its quantities marked."""
    if value is None or value == []:
        return "not yet" if figure.group is Group.PRECISION else "none"
    if figure.kind is Kind.CHOICE:
        return "yes" if value else "no"
    if figure.kind is Kind.LENGTH:
        return f"{named_mm(value):g}"
    if figure.kind is Kind.RATE:
        return f"{named_rate(value):g}"
    if figure.kind is Kind.ACCELERATION:
        return f"{acceleration(value):g}"
    if figure.kind is Kind.SPEEDS:
        return f"{', '.join(f'{v:g}' for v in value)} rpm"
    if figure.kind is Kind.PLACE:
        return ", ".join(f"{named_mm(v):g}" for v in value)
    if figure.kind in (Kind.PLACES, Kind.ZONES):
        return "; ".join(", ".join(f"{named_mm(v):g}" for v in one) for one in value)
    if figure.kind is Kind.LENGTHS:
        return ", ".join(f"{named_mm(v):g}" for v in value)
    if figure.kind is Kind.HOURS:
        return "; ".join(f"{clock(a)} to {clock(b)}" for a, b in value)
    return f"{value:g} {figure.suffix}".strip()
