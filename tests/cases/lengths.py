"""What people type into a field of lengths, and what it means: read by core/units.py and by
client/src/units/read.ts."""

from __future__ import annotations

import random

INCH = 25.4

# typed, unit of the field, mm
READ: list[tuple[str, str, float]] = [
    ("44.36", "mm", 44.36),
    ("44,36", "mm", 44.36),
    ("44.36 mm", "mm", 44.36),
    ("44.36mm", "inch", 44.36),
    ('1 3/4"', "mm", 1.75 * INCH),
    ('1 1/2"', "inch", 1.5 * INCH),
    ("1-3/4 in", "mm", 1.75 * INCH),
    (".375in", "mm", 0.375 * INCH),
    ("1.75 in", "mm", 1.75 * INCH),
    ("45/64", "mm", 45 / 64 * INCH),
    ("1¾", "mm", 1.75 * INCH),
    ("½", "inch", 0.5 * INCH),
    ("2 in", "mm", 2 * INCH),
    ("2", "inch", 2 * INCH),
    ("3/8 inch", "mm", 0.375 * INCH),
    ('25 1/2"', "mm", 25.5 * INCH),
    ("3 mm", "inch", 3.0),
    ("7.", "mm", 7.0),
    (",5", "mm", 0.5),
    ("1/2 mm", "mm", 0.5),
    ("10+2.5", "mm", 12.5),
    ("10 + 2,5 mm", "inch", 12.5),
    ("1+1/2", "inch", 1.5 * INCH),
    ('1" + 3 mm', "mm", INCH + 3),
    ("1 + 2 + 3", "mm", 6.0),
    ("10 mm + 1/2 in", "mm", 10 + 0.5 * INCH),
    ("0,125", "mm", 0.125),
    ("1234,5", "mm", 1234.5),
    ("12,3456", "mm", 12.3456),
    ("+4", "mm", 4.0),
    ("1″", "mm", INCH),
    ("3''", "mm", 3 * INCH),
    ("1 IN", "mm", INCH),
    ("0", "mm", 0.0),
    ("1,75 in", "mm", 1.75 * INCH),
]
# typed, unit of the field, a word that the refusal must have
REFUSED: list[tuple[str, str, str]] = [
    ("", "mm", "not a length"),
    ("abc", "mm", "not a length"),
    ("nan", "mm", "not a length"),
    ("1/0", "mm", "divides by zero"),
    ("5 furlongs", "mm", "not a unit"),
    ("1 2 3", "mm", "not a length"),
    ("--4", "mm", "not a length"),
    ("-3", "mm", "below zero"),
    ("−3", "mm", "below zero"),
    ("4mm5", "mm", "not a length"),
    ("99999 in", "mm", "longer than ten metres"),
    ("1,234", "mm", "Type 1.234 or 1234"),
    ("12,345 mm", "mm", "Type 12.345 or 12345"),
    ("999,999", "inch", "Type 999.999 or 999999"),
    ("1.234,5", "mm", "a point and a comma"),
    ("1,234.5", "mm", "a point and a comma"),
    ("1.2.3", "mm", "not a length"),
    ("1,2,3", "mm", "not a length"),
    ("10+", "mm", "not a length"),
    ("+", "mm", "not a length"),
    ("10+1/2", "mm", "needs its unit"),
    ("10++2", "mm", "not a length"),
    ("1e3", "mm", "not a length"),
]
# typed, mm, allowed below zero
SIGNED: list[tuple[str, str, float]] = [
    ("-3", "mm", -3.0),
    ("−1/4 in", "mm", -0.25 * INCH),
    ('-1 1/2"', "mm", -1.5 * INCH),
    ("-2+5", "mm", 3.0),
]

NUMBERS: list[tuple[str, float | None]] = [
    ("12.5", 12.5),
    ("12,5", 12.5),
    ("-3", -3.0),
    ("−0.5", -0.5),
    ("+7", 7.0),
    ("0,125", 0.125),
    ("1,234", None),
    ("1.2,3", None),
    ("x", None),
    ("", None),
    ("--1", None),
    ("1e3", None),
    (".5", 0.5),
]


def shown() -> list[tuple[float, int, str]]:
    """Return 500 lengths with places and unit: whole 64ths, ties, near ties, tiny, below zero."""
    rng = random.Random(18)
    out: list[tuple[float, int, str]] = []
    for k in range(500):
        value = (
            rng.randrange(-640, 6400) / 64 * INCH,
            rng.randrange(-400, 4000) / 8,
            rng.uniform(-3, 3),
            rng.uniform(-900, 900),
            rng.choice((0.0, -0.0, 0.005, 0.045, 2.5, -2.5, 0.125, 1.005, 25.4, 12.7, 0.0004, -0.0004, 1e-9)),
        )[k % 5]
        out.append((value, rng.randrange(0, 4), rng.choice(("mm", "inch"))))
    return out


def sentences() -> list[tuple[str, str]]:
    """Return marked sentences with the unit they are read in: every unit, every way of showing, and broken marks."""
    rng = random.Random(81)
    out = []
    for unit in ("mm", "named mm", "mm/min", "named mm/min", "mm/s2", "mm2", "cm2", "m"):
        for shown_as in ("g", ".0f", ".1f", ".2f", ".3f", "+g", "+.1f"):
            for value in (0.0, rng.uniform(-9, 9), rng.uniform(0, 4000), 12.7, 2540.0, 0.05):
                out.append((f"It is ⟦{value:.8g}|{unit}|{shown_as}⟧ there.", rng.choice(("mm", "inch"))))
            for value in (1e300, -2.5e17, 9.9e14, 1e15, 2.54e16, 2.53e16):  # nobody's lengths, said all the same
                out += [(f"It is ⟦{value:.8g}|{unit}|{shown_as}⟧ there.", u) for u in ("mm", "inch")]
    broken = ("⟦x|mm|g⟧", "⟦|mm|g⟧", "⟦1|ell|g⟧", "⟦1|mm|.1e⟧", "⟦1|mm⟧", "1⟧ ⟦", "⟦⟦1|mm|g⟧|mm|g⟧")
    return out + [(text, "mm") for text in broken]
