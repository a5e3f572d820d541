"""The height stack, the saddle line and the neck pocket: what the readings make of the layout.

Every result is a Derivation: its value, the terms it came from and the readings behind them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from ..assumed import is_assumed
from ..vocabulary import Origin, PartKind
from .parts import PartOnHand, read_place

if TYPE_CHECKING:
    from ..route import Choices


@dataclass(frozen=True)
class Term:
    """One number of a sum, as it is shown. origin says what to trust."""

    label: str
    value_mm: float | None
    origin: Origin
    place: str | None = None
    path: str | None = None  # the field of the job it stands in


@dataclass(frozen=True)
class Derivation:
    """A computed number with its terms. value_mm is None while a reading is missing."""

    id: str
    label: str
    value_mm: float | None
    terms: list[Term]
    formula: str
    missing: list[str] = field(default_factory=list)


def reading_term(part: PartOnHand | None, place: str) -> Term:
    """Return the term for one place of a part; value None where nothing was measured."""
    if part is None:
        return Term(place, None, Origin.ASSUMED, place)
    known = read_place(part, place)
    origin = Origin.COMPUTED if known.computed else Origin.TOLD if known.told else Origin.MEASURED
    return Term(known.label, known.value_mm, origin, f"{part.id}.{place}")


def find_part(parts: list[PartOnHand], kind: PartKind) -> PartOnHand | None:
    """Return the first part of a kind."""
    return next((p for p in parts if p.kind is kind), None)


def said_term(choices: Choices, label: str, value_mm: float | None, name: str) -> Term:
    """Return the term for a choice of the builder's, assumed until it was said. name: its field."""
    return Term(label, value_mm, _origin_of(choices, name), None, f"choices.{name}")


def _origin_of(choices: Choices, *names: str) -> Origin:
    return Origin.ASSUMED if any(is_assumed(choices, n) for n in names) else Origin.TOLD


def _missing(terms: list[Term]) -> list[str]:
    return [t.place or t.label for t in terms if t.value_mm is None]


def neck_pocket_depth(
    parts: list[PartOnHand], choices: Choices, bridge_recess_mm: float, tilt_deg: float = 0.0,
    recess_path: str | None = None,
) -> Derivation:
    """Return the depth of the neck pocket below the finished face, at the heel's end.

    Args:
        parts: the neck and the bridge are looked up by kind.
        choices: action_12th_mm, string_at_nut_mm, saddle_part (0 low to 1 high).
        bridge_recess_mm: how far the bridge sits below the face. tilt_deg: how far the floor falls toward the nut.
        recess_path: the field of the recess, where nobody said how deep it is.

    Returns:
        depth = heel with board + frets + action + rise to the saddle + recess - saddle height, and what a tilted neck rises to the saddle.

    Source: straight string over the fret plane; it stands n above the first end, a above the 12th fret (half way), so
    2a - n above the plane at the saddle: the rise beyond the 12th is a - n.
    """
    neck, bridge = find_part(parts, PartKind.NECK), find_part(parts, PartKind.BRIDGE)
    heel, frets = reading_term(neck, "heel_thickness"), reading_term(neck, "fret_height")
    low, high = reading_term(bridge, "saddle_low"), reading_term(bridge, "saddle_high")
    saddle = None
    if low.value_mm is not None and high.value_mm is not None:
        saddle = low.value_mm + choices.saddle_part * (high.value_mm - low.value_mm)
    said = Origin.TOLD if bridge_recess_mm else Origin.COMPUTED
    origin_of_recess = Origin.ASSUMED if recess_path else said
    terms = [
        Term("Heel with board", heel.value_mm, heel.origin, heel.place),
        Term("Frets", frets.value_mm, frets.origin, frets.place),
        said_term(choices, "Action at the 12th", choices.action_12th_mm, "action_12th_mm"),
        Term(
            "Rise to the saddle",
            choices.action_12th_mm - choices.string_at_nut_mm,
            _origin_of(choices, "action_12th_mm", "string_at_nut_mm"),
            None,
            "choices.string_at_nut_mm",
        ),
        Term("Bridge recess", bridge_recess_mm, origin_of_recess, None, recess_path),
        Term(
            "Less saddle",
            None if saddle is None else -saddle,
            low.origin,
            low.place if low.value_mm is None else high.place,
        ),
    ]
    if tilt_deg:
        far = saddle_distance(parts, choices).value_mm
        terms.append(Term("Rise of the tilt to the saddle", None if far is None else far * math.tan(math.radians(tilt_deg)), Origin.COMPUTED))
    missing = _missing(terms)
    value = None if missing else sum(t.value_mm for t in terms)  # type: ignore[misc]
    return Derivation("neck_pocket_depth", "Pocket deep", value, terms,
                      "heel + frets + action + rise + recess - saddle" + (" + tilt" if tilt_deg else ""), missing)


def saddle_distance(parts: list[PartOnHand], choices) -> Derivation:
    """Return the distance from the end of the heel to the saddle line, mm.

    Source: the 12th fret halves the scale; L/2 - (heel end to 12th fret) + compensation.
    """
    to_12th = reading_term(find_part(parts, PartKind.NECK), "heel_to_12th")
    terms = [
        said_term(choices, "Half the scale", None if choices.scale_mm is None else choices.scale_mm / 2, "scale_mm"),
        Term("Less end to 12th fret", None if to_12th.value_mm is None else -to_12th.value_mm, to_12th.origin, to_12th.place),
        said_term(choices, "Compensation", choices.compensation_mm, "compensation_mm"),
    ]
    missing = _missing(terms)
    value = None if missing else sum(t.value_mm for t in terms)  # type: ignore[misc]
    return Derivation("saddle_distance", "Pocket end to saddle", value, terms,
                      "scale / 2 - heel end to 12th + compensation", missing)


def heel_end(parts: list[PartOnHand]) -> float | None:
    """Return x of the heel's end in a body's frame: one heel length from the mouth; None while it is not measured."""
    neck = find_part(parts, PartKind.NECK)
    return None if neck is None else read_place(neck, "heel_length").value_mm


def nut_line(parts: list[PartOnHand], choices: Choices) -> float | None:
    """Return x of the nut in a body's frame: from the heel's end back to the 12th fret, then as the nut in hand was
    read, else half the scale; None before the neck and the scale are known."""
    neck, end = find_part(parts, PartKind.NECK), heel_end(parts)
    to_12th, to_nut = (
        None if neck is None else read_place(neck, p).value_mm for p in ("heel_to_12th", "nut_to_12th")
    )
    if end is None or to_12th is None or choices.scale_mm is None:
        return None
    return end - to_12th - (choices.scale_mm / 2 if to_nut is None else to_nut)


def saddle_line(parts: list[PartOnHand], choices) -> float | None:
    """Return x of the saddle line in a body's frame, or None while a reading or the scale is missing."""
    end, beyond = heel_end(parts), saddle_distance(parts, choices).value_mm
    return None if end is None or beyond is None else end + beyond


@dataclass(frozen=True)
class HeelPocket:
    """The neck pocket in plan, with the fit gap: its end lies at length_mm from the mouth at x = 0."""

    length_mm: float
    end_width_mm: float
    mouth_width_mm: float
    taper_deg: float  # both sides together
    gap_mm: float


def heel_pocket(part: PartOnHand | None, gap_mm: float) -> HeelPocket | None:
    """Return the pocket that takes the measured heel, or None while a reading is missing.

    The heel widens or narrows in a straight line from its end (width We) to the mark at distance s (width Ws); at the
    mouth, one heel length from the end, it is We + (Ws - We) / s * length. The gap is added on each side at right
    angles to the wall.
    """
    if part is None:
        return None
    values = [read_place(part, p).value_mm for p in
              ("heel_width_end", "heel_width_station", "heel_station", "heel_length")]
    if any(v is None for v in values):
        return None
    end, station_width, station, length = (float(v) for v in values)  # type: ignore[arg-type]
    slope = (station_width - end) / station
    across = gap_mm * math.hypot(1.0, slope / 2)  # gap measured across, for a wall tilted by half the taper
    return HeelPocket(
        length_mm=length + gap_mm, end_width_mm=end - slope * gap_mm + 2 * across,
        mouth_width_mm=end + slope * length + 2 * across,
        taper_deg=math.degrees(2 * math.atan(slope / 2)), gap_mm=gap_mm,
    )
