"""Lengths and numbers as people type them: millimetres, decimal inches, inch fractions and sums in one field.

The grammar, which client/src/units/read.ts shares by a table of cases:

    length = term { "+" term }          `10+2.5`; a term without a unit takes the one said after it, else the field's
    term   = [sign] amount [unit]       units mm, in, inch, "
    amount = whole fraction | fraction | decimal
    decimal: a point or a comma is the decimal mark. Three digits after a comma may be thousands, so it is asked.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from fractions import Fraction

from .errors import UnitError
from .quantities import MM_PER_INCH, Unit

LONGEST_MM = 10_000.0
SHOWN = 40  # of what was typed, in an error

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3"}
_UNITS = {
    "mm": Unit.MM,
    "millimetre": Unit.MM,
    "millimetres": Unit.MM,
    "millimeters": Unit.MM,
    '"': Unit.INCH,
    "″": Unit.INCH,
    "''": Unit.INCH,
    "in": Unit.INCH,
    "in.": Unit.INCH,
    "inch": Unit.INCH,
    "inches": Unit.INCH,
}
_TERM = re.compile(
    r"""^(?P<sign>[+-]?)\s*
    (?: (?P<whole>\d+)[\s-]+(?P<num>\d+)\s*[/⁄]\s*(?P<den>\d+)
      | (?P<fnum>\d+)\s*[/⁄]\s*(?P<fden>\d+)
      | (?P<dec>[\d.,]*\d[\d.,]*) )
    \s*(?P<unit>[a-z.]*|"|″|'')$""",
    re.VERBOSE | re.IGNORECASE | re.ASCII,
)
_DECIMAL = re.compile(r"^(?:\d+(?:[.,]\d*)?|[.,]\d+)$", re.ASCII)
_THOUSANDS = re.compile(r"^[1-9]\d{0,2},\d{3}$", re.ASCII)


@dataclass(frozen=True)
class Length:
    """A length as typed. `mm` is its value; `unit` what the person meant; `text` what they typed."""

    mm: float
    unit: Unit
    text: str


@dataclass(frozen=True)
class _Term:
    """One term of a sum: its amount, its unit if one was said, and whether it is a fraction."""

    amount: float
    unit: Unit | None
    is_fraction: bool


def parse_length(text: str, default: Unit = Unit.MM, *, negative: bool = False) -> Length:
    """Read one length: `44.36`, `1 3/4"`, `1-3/4 in`, `.375in`, `45/64`, `10+2.5`.

    Args:
        text: what was typed. A fraction without a unit is inches; a plain number takes `default`.
        default: unit of a plain number.
        negative: whether a length below zero is allowed.

    Returns:
        The length, between -10 000 and 10 000 mm, with the unit of its first term.

    Raises:
        UnitError: not a length, an unknown unit, a zero denominator, a comma that may be either, or absurdly long.
    """
    raw = str(text).strip()
    plain = raw.replace("−", "-")
    for sign, spelled in _VULGAR.items():
        plain = plain.replace(sign, " " + spelled)
    body = plain.strip()
    lead = body[:1] if body[:1] == "+" else ""
    terms = [_term(part.strip(), raw) for part in body[len(lead):].split("+")]
    unit: Unit | None = None
    total, first = 0.0, default
    for term in reversed(terms):
        unit = term.unit or unit
        first = unit or (Unit.INCH if term.is_fraction else default)
        if len(terms) > 1 and unit is None and term.is_fraction and default is Unit.MM:
            raise UnitError(f"In “{raw[:SHOWN]}” the fraction needs its unit, like 10 mm + 1/2 in.", typed=raw[:80])
        total += term.amount * (MM_PER_INCH if first is Unit.INCH else 1.0)
    if total < 0 and not negative:
        raise UnitError(f"“{raw[:SHOWN]}” is below zero; this measure cannot be.", typed=raw[:80])
    if not math.isfinite(total) or abs(total) > LONGEST_MM:
        raise UnitError(f"“{raw[:SHOWN]}” is longer than ten metres. Check the unit.", typed=raw[:80])
    return Length(total, first, raw)


def parse_number(text: str) -> float:
    """Read a plain number, its decimal mark a point or a comma.

    Raises:
        UnitError: not a number, or a comma that may be either.
    """
    raw = str(text).strip()
    plain = raw.replace("−", "-")
    sign = -1.0 if plain[:1] == "-" else 1.0
    return sign * _decimal(
        plain.lstrip("+-") if plain[:1] in "+-" and plain[1:2] not in "+-" else plain, raw, "a number"
    )


def _term(text: str, raw: str) -> _Term:
    match = _TERM.match(text)
    if match is None:
        raise UnitError(
            f'“{raw[:SHOWN]}” is not a length. Type it like 44.36, 1 3/4", .375in or 45/64.', typed=raw[:80]
        )
    word = match["unit"].lower()
    if word and word not in _UNITS:
        raise UnitError(f"“{word}” is not a unit known here. Use mm or in.", typed=raw[:80])
    sign = -1.0 if match["sign"] == "-" else 1.0
    if match["dec"] is not None:
        return _Term(sign * _decimal(match["dec"], raw, "a length"), _UNITS.get(word), is_fraction=False)
    bottom = int(match["den"] or match["fden"])
    if bottom == 0:
        raise UnitError(f"“{raw[:SHOWN]}” divides by zero.", typed=raw[:80])
    amount = float(int(match["whole"] or 0) + Fraction(int(match["num"] or match["fnum"]), bottom))
    return _Term(sign * amount, _UNITS.get(word), is_fraction=True)


def _decimal(text: str, raw: str, what: str) -> float:
    if "." in text and "," in text:
        raise UnitError(f"“{raw[:SHOWN]}” has a point and a comma. Type the decimal mark only.", typed=raw[:80])
    if _THOUSANDS.match(text):
        whole, rest = text.split(",")
        asked = f"Type {whole}.{rest} or {whole}{rest}."
        raise UnitError(f"Does “{raw[:SHOWN]}” mean {whole}.{rest} or {whole}{rest}? {asked}", typed=raw[:80])
    if not _DECIMAL.match(text):
        like = 'Type it like 44.36, 1 3/4", .375in or 45/64.' if what == "a length" else "Type it like 12.5."
        raise UnitError(f"“{raw[:SHOWN]}” is not {what}. {like}", typed=raw[:80])
    return float(text.replace(",", "."))
