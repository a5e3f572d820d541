"""Frets and scale: equal temperament, one scale or two, and the scale that the neck in hand really has."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import InputError

MOST_FRETS = 36


def fret_distance(scale_mm: float, fret: int) -> float:
    """Return the distance of a fret from the nut, mm; fret 0 is the nut.

    Source: equal temperament, L - L / 2^(n / 12).

    Raises:
        InputError: a scale that is not above zero, or a fret outside 0 to MOST_FRETS.
    """
    if scale_mm <= 0:
        raise InputError("The scale must be longer than nothing.", where="choices.scale_mm")
    if not 0 <= fret <= MOST_FRETS:
        raise InputError(f"Fret {fret} is outside 0 to {MOST_FRETS}.", where="fret")
    return scale_mm - scale_mm / 2 ** (fret / 12)


def fan_lines(bass_scale_mm: float, treble_scale_mm: float, width_mm: float, straight_fret: int, frets: int) -> list[tuple[float, float]]:
    """Return, for frets 0 to `frets`, where each crosses the bass and the treble outer string, along x from the nut of the
    bass string, mm.

    Args:
        width_mm: between the outer strings, for callers that draw the lines; it must be above zero.
        straight_fret: the fret that stands square to the centre line.

    Source: one row of equal temperament on each outer string; the slots are the straight lines between them.
    """
    if width_mm <= 0:
        raise InputError("The outer strings must lie apart.", where="width")
    shift = fret_distance(bass_scale_mm, straight_fret) - fret_distance(treble_scale_mm, straight_fret)
    return [(fret_distance(bass_scale_mm, n), fret_distance(treble_scale_mm, n) + shift) for n in range(frets + 1)]


@dataclass(frozen=True)
class ScaleCheck:
    """The scale that is stated beside the one twice the measured distance from nut to 12th fret. They agree within allowed_mm."""

    stated_mm: float
    measured_mm: float
    difference_mm: float
    agrees: bool


def check_scale(stated_mm: float, nut_to_12th_mm: float, allowed_mm: float) -> ScaleCheck:
    """Compare the stated scale with the neck in hand.

    Source: the 12th fret halves the scale.
    """
    measured = 2 * nut_to_12th_mm
    return ScaleCheck(stated_mm, measured, measured - stated_mm, abs(measured - stated_mm) <= allowed_mm)
