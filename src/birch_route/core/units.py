"""Lengths as people type them: millimetres, decimal inches and inch fractions in one field.

The inch is 25.4 mm by definition (international yard and pound agreement, 1959).
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction

from .errors import UnitError

MM_PER_INCH = 25.4
LONGEST_MM = 10_000.0


class Unit(StrEnum):
    """The two length units of the trade."""

    MM = "mm"
    INCH = "inch"


_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
_UNITS = {
    "": None, "mm": Unit.MM, "millimetre": Unit.MM, "millimetres": Unit.MM, "millimeters": Unit.MM,
    '"': Unit.INCH, "″": Unit.INCH, "''": Unit.INCH, "in": Unit.INCH, "in.": Unit.INCH, "inch": Unit.INCH,
    "inches": Unit.INCH,
}
_LENGTH = re.compile(
    r"""^(?P<sign>[+-]?)\s*
    (?: (?P<whole>\d+)[\s-]+(?P<num>\d+)\s*[/⁄]\s*(?P<den>\d+)
      | (?P<fnum>\d+)\s*[/⁄]\s*(?P<fden>\d+)
      | (?P<dec>\d+(?:[.,]\d*)?|[.,]\d+) )
    \s*(?P<unit>[a-z.]*|"|″|'')$""",
    re.VERBOSE | re.IGNORECASE,
)


@dataclass(frozen=True)
class Length:
    """A length as typed. `mm` is its value; `unit` what the person meant; `text` what they typed."""

    mm: float
    unit: Unit
    text: str


def parse_length(text: str, default: Unit = Unit.MM, *, negative: bool = False) -> Length:
    """Read one length: `44.36`, `1 3/4"`, `1-3/4 in`, `.375in`, `45/64`.

    Args:
        text: what was typed. A fraction without a unit is inches; a plain number takes `default`.
        default: unit of a plain number.
        negative: whether a minus sign is allowed.

    Returns:
        The length, between -10 000 and 10 000 mm.

    Raises:
        UnitError: not a length, an unknown unit, a zero denominator, or absurdly long.
    """
    raw = str(text).strip()
    plain = raw
    for sign, spelled in _VULGAR.items():
        plain = plain.replace(sign, " " + spelled)
    match = _LENGTH.match(plain.strip())
    if match is None:
        raise UnitError(
            f"“{raw[:40]}” is not a length. Type it like 44.36, 1 3/4\", .375in or 45/64.", typed=raw[:80]
        )
    unit_word = match["unit"].lower()
    if unit_word not in _UNITS:
        raise UnitError(f"“{unit_word}” is not a unit known here. Use mm or in.", typed=raw[:80])
    unit = _UNITS[unit_word]
    if match["dec"] is not None:
        value = float(match["dec"].replace(",", "."))
        unit = unit or default
    else:
        den = int(match["den"] or match["fden"])
        if den == 0:
            raise UnitError(f"“{raw[:40]}” divides by zero.", typed=raw[:80])
        value = float(int(match["whole"] or 0) + Fraction(int(match["num"] or match["fnum"]), den))
        unit = unit or Unit.INCH
    if match["sign"] == "-":
        if not negative:
            raise UnitError(f"“{raw[:40]}” is below zero; this measure cannot be.", typed=raw[:80])
        value = -value
    millimetres = value * MM_PER_INCH if unit is Unit.INCH else value
    if not math.isfinite(millimetres) or abs(millimetres) > LONGEST_MM:
        raise UnitError(f"“{raw[:40]}” is longer than ten metres. Check the unit.", typed=raw[:80])
    return Length(millimetres, unit, raw)


def format_mm(value_mm: float, places: int = 2) -> str:
    """Return millimetres with fixed places, without a minus sign on zero."""
    text = f"{value_mm:.{places}f}"
    return text.lstrip("-") if float(text) == 0 else text


def format_inch(value_mm: float, denominator: int = 64) -> str:
    """Return the nearest inch fraction as text, such as `1 3/4"`; the denominator is a power of two.

    Args:
        value_mm: the length in mm.
        denominator: finest division, 64 by default.
    """
    sign = "-" if value_mm < 0 else ""
    nearest = Fraction(round(abs(value_mm) / MM_PER_INCH * denominator), denominator)
    whole, rest = divmod(nearest, 1)
    if rest == 0:
        return f'{sign}{whole}"'
    return f'{sign}{whole} {rest}"' if whole else f'{sign}{rest}"'
