"""Quantities in sentences. A sentence is a template in which every figure stands with its value, its unit and how it is
shown, marked as `⟦12.3456|mm|.1f⟧`; it becomes words only when somebody reads it, in the reader's unit.

Written as `f"{mm(deep):.1f} deep"`. `say` makes the words; client/src/units/say.ts makes the same ones, by test.
"""

from __future__ import annotations

import re
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum

MM_PER_INCH = 25.4  # by definition (international yard and pound agreement, 1959)


class Unit(StrEnum):
    """The two length units of the trade."""

    MM = "mm"
    INCH = "inch"


FRACTION_OFF_MM = (0.3, 0.08, 0.02)  # a fraction is said where a caliper would not see the difference, by places
PARTS = 64
MM2_PER_IN2 = MM_PER_INCH**2
FEET_PER_M = 1000 / (12 * MM_PER_INCH)

LARGEST = 1e15  # from here on a number is said with its power of ten
_MARKED = re.compile(r"⟦([^|⟦⟧]*)\|([^|⟦⟧]*)\|([^|⟦⟧]*)⟧")
_SPEC = re.compile(r"^(\+?)(?:\.(\d)f|g)$")


class Quantity(float):
    """A number that formats as a marked quantity of its unit. Specs: `.0f` to `.9f`, `g`, with `+` before them."""

    unit = ""

    def __format__(self, spec: str) -> str:
        if not _SPEC.match(spec):
            raise ValueError(f"a quantity is shown as .1f or g, not {spec!r}")
        return f"⟦{float(self):.8g}|{self.unit}|{spec}⟧"


class mm(Quantity):  # noqa: N801  (a unit's own spelling)
    """A length in mm, said without its unit where mm are read: `12.5`, `1/2"`."""

    unit = "mm"


class named_mm(Quantity):  # noqa: N801
    """A length in mm, said with its unit: `12.5 mm`, `1/2"`."""

    unit = "named mm"


class rate(Quantity):  # noqa: N801
    """A feed or plunge rate in mm/min, said without its unit where mm are read."""

    unit = "mm/min"


class named_rate(Quantity):  # noqa: N801
    """A rate in mm/min, said with its unit: `1800 mm/min`, `70.9 in/min`."""

    unit = "named mm/min"


class acceleration(Quantity):  # noqa: N801
    """An acceleration in mm/s²: `800 mm/s²`, `31.5 in/s²`."""

    unit = "mm/s2"


class mm2(Quantity):  # noqa: N801
    """An area in mm²: `12 mm²`, `0.019 in²`."""

    unit = "mm2"


class cm2(Quantity):  # noqa: N801
    """An area in cm²: `12 cm²`, `1.86 in²`."""

    unit = "cm2"


class metre(Quantity):  # noqa: N801
    """A way in metres: `12 m`, `39 ft`."""

    unit = "m"


def rounded(value: float, places: int) -> str:
    """Return a number with fixed places, ties away from zero as scripts of pages round, no minus on zero; from
    LARGEST on with its power of ten."""
    if not abs(value) < LARGEST:
        return f"{value:.2e}".replace("-", "−")
    text = str(Decimal(value).quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP))
    return (text.lstrip("-") if Decimal(text) == 0 else text).replace("-", "−")


def inch_fraction(value_mm: float) -> str:
    """Return the nearest 64th of an inch, such as `1 3/4`."""
    parts = int(Decimal(abs(value_mm) / MM_PER_INCH * PARTS).quantize(Decimal(1), ROUND_HALF_UP))
    sign = "−" if value_mm < 0 and parts else ""
    whole, top = divmod(parts, PARTS)
    bottom = PARTS
    while top and top % 2 == 0:
        top, bottom = top // 2, bottom // 2
    built = f"{top}/{bottom}" if top else ""
    return f"{sign}{' '.join(t for t in (str(whole) if whole or not top else '', built) if t)}"


def length(value_mm: float, places: int, unit: Unit) -> str:
    """Return a length as it is shown: mm with fixed places, or a built inch fraction where a caliper would not see the
    difference, else inches with three decimals (four where mm would have three places)."""
    inches = value_mm / MM_PER_INCH
    if unit is Unit.MM or not abs(inches) < LARGEST:
        return rounded(value_mm, places) if unit is Unit.MM else f'{rounded(inches, 3)}"'
    parts = int(Decimal(abs(inches) * PARTS).quantize(Decimal(1), ROUND_HALF_UP))
    off = abs(parts / PARTS - abs(inches)) * MM_PER_INCH
    if places < 3 and off <= FRACTION_OFF_MM[min(places, 2)]:
        return f'{inch_fraction(value_mm)}"'
    return f'{rounded(inches, 4 if places >= 3 else 3)}"'


def say(text: str, unit: Unit = Unit.MM) -> str:
    """Return a sentence in words, its quantities in the reader's unit. What is marked otherwise stays as it is."""
    return _MARKED.sub(lambda m: _shown(m, unit), text)


def _shown(match: re.Match[str], unit: Unit) -> str:
    try:
        value = float(match[1])
    except ValueError:
        return match[0]
    spec = _SPEC.match(match[3])
    if spec is None or match[2] not in _SAID:
        return match[0]
    places = None if spec[2] is None else int(spec[2])
    plus = "+" if spec[1] and value > 0 else ""
    return plus + _SAID[match[2]](value, places, unit)


def _number(value: float, places: int | None) -> str:
    """Return a number with places, or with as many as it has, three at most."""
    if places is not None:
        return rounded(value, places)
    text = rounded(value, 3)
    return text.rstrip("0").rstrip(".") if "." in text and "e" not in text else text


def _length(value: float, places: int | None, unit: Unit) -> str:
    return _number(value, places) if unit is Unit.MM else length(value, 2 if places is None else places, unit)


def _named_length(value: float, places: int | None, unit: Unit) -> str:
    return f"{_number(value, places)} mm" if unit is Unit.MM else _length(value, places, unit)


def _rate(value: float, places: int | None, unit: Unit) -> str:
    if unit is Unit.MM:
        return _number(value, places)
    inches = value / MM_PER_INCH
    return rounded(inches, 0 if inches >= 100 else 1)


def _named_rate(value: float, places: int | None, unit: Unit) -> str:
    return f"{_rate(value, places, unit)} {'mm' if unit is Unit.MM else 'in'}/min"


def _acceleration(value: float, places: int | None, unit: Unit) -> str:
    return f"{_rate(value, places, unit)} {'mm' if unit is Unit.MM else 'in'}/s²"


def _in2(inches: float) -> str:
    return f"{rounded(inches, 3 if abs(inches) < 0.1 else 2 if abs(inches) < 10 else 1)} in²"


def _mm2(value: float, places: int | None, unit: Unit) -> str:
    return f"{_number(value, places)} mm²" if unit is Unit.MM else _in2(value / MM2_PER_IN2)


def _cm2(value: float, places: int | None, unit: Unit) -> str:
    return f"{_number(value, places)} cm²" if unit is Unit.MM else _in2(value * 100 / MM2_PER_IN2)


def _metres(value: float, places: int | None, unit: Unit) -> str:
    return f"{_number(value, places)} m" if unit is Unit.MM else f"{_number(value * FEET_PER_M, places)} ft"


_SAID = {
    "mm": _length,
    "named mm": _named_length,
    "mm/min": _rate,
    "named mm/min": _named_rate,
    "mm/s2": _acceleration,
    "mm2": _mm2,
    "cm2": _cm2,
    "m": _metres,
}
