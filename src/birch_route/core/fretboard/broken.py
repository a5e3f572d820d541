"""What a bit that breaks in a board's slots costs: the work that is in the board by then, in either order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from .features import FACE, SLOTS


@dataclass(frozen=True)
class Work:
    """One operation or bench step in its order, with its minutes at machine and bench. features: what it works on."""

    features: tuple[str, ...]
    minutes: float


@dataclass(frozen=True)
class Broken:
    """Minutes of work that are lost with the board when the bit breaks: in the first slot and in the last, as the order
    is now; in the last where slots come before the radius, and where they come after it."""

    first_min: float
    last_min: float
    before_radius_min: float
    after_radius_min: float


def broken_bit(order: Sequence[Work]) -> Broken | None:
    """Return what a broken slot bit costs; None where nothing cuts slots.

    Args:
        order: operations, and bench steps that are no waits, as they are done.
    """
    at = next((k for k, w in enumerate(order) if SLOTS in w.features), None)
    if at is None:
        return None
    own = sum(w.minutes for w in order if SLOTS in w.features)
    others = [w for w in order if SLOTS not in w.features]
    faces = [k for k, w in enumerate(others) if FACE in w.features]
    begins, ends = (faces[0], faces[-1] + 1) if faces else (0, 0)
    before = sum(w.minutes for w in order[:at])
    return Broken(
        before, before + own,
        sum(w.minutes for w in others[:begins]) + own,
        sum(w.minutes for w in others[:ends]) + own,
    )
