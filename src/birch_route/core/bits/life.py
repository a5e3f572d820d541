"""What a bit has behind it: metres and minutes by wood since it was new, what it lost, and how much is left before the next job would cross its limit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..data import Wood, figures, woods
from ..quantities import metre, mm
from .model import Bit

NO_OWN: Mapping[str, Wood] = {}


@dataclass(frozen=True)
class Life:
    """metres, minutes, slots since it was new; by_wood: metres; minutes_by_wood alike. worn_m: metres weighed by how fast each wood wears; limit_m: of these. lost_mm: of its diameter; shortened_mm: of its tip. words: what to do."""

    metres: float
    minutes: float
    slots: int
    by_wood: dict[str, float]
    minutes_by_wood: dict[str, float]
    worn_m: float
    limit_m: float
    lost_mm: float
    shortened_mm: float
    words: str
    boards: float = 0.0  # of a bit for fret slots: how many boards its slots make

    @property
    def left_m(self) -> float:
        return max(0.0, self.limit_m - self.worn_m)

    @property
    def is_low(self) -> bool:
        """Whether little is left of its edge. Source: figures.bit_life.low_part."""
        return self.limit_m > 0 and self.left_m < figures()["bit_life"]["low_part"] * self.limit_m

    def takes(self, metres: float, met: Wood) -> float:
        """Return the part of a whole life that metres in a wood take."""
        return metres * wear(met) / self.limit_m


def wear(one: Wood) -> float:
    """Return how many times as fast as hardwood of 650 kg/m3 a material wears an edge.

    Source: figures.bit_life, starting figures; in proportion to what it resists where it is wood, or resists more than
    what it is like.
    """
    fig = figures()["bit_life"]
    by_class: float = fig.get(one.cutting_class, 1.0)
    if one.cutting_class not in ("hardwood", "plywood", "mdf"):
        return by_class * one.resists
    reference: float = figures()["cutting_force"]["reference_kg_m3"]
    return by_class * one.cuts_as_kg_m3 / reference


def wear_of(wood_id: str, own: Mapping[str, Wood] = NO_OWN) -> float:
    """Return `wear` of a material by id; one that nobody knows any more wears like the hardwood it is reckoned in."""
    one = own.get(wood_id) or woods().get(wood_id)
    return 1.0 if one is None else wear(one)


def life(bit: Bit, notes: Sequence[Mapping[str, Any]], own: Mapping[str, Wood] = NO_OWN) -> Life:
    """Return the life of a bit from its notes, the newest first; a note that a new one went in begins it anew."""
    fig = figures()["bit_life"]
    by_wood: dict[str, float] = {}
    by_minutes: dict[str, float] = {}
    minutes, slots, lost, shortened = 0.0, 0, None, None
    for n in notes:
        if n["what"] == "new":
            break
        if n["what"] == "measured":
            lost = bit.diameter_mm - n["diameter_mm"] if lost is None and n["diameter_mm"] else lost
            shortened = n["shortened_mm"] if shortened is None and n["shortened_mm"] is not None else shortened
        by_wood[n["wood"]] = by_wood.get(n["wood"], 0.0) + n["metres"]
        by_minutes[n["wood"]] = by_minutes.get(n["wood"], 0.0) + n["minutes"]
        minutes, slots = minutes + n["minutes"], slots + n["slots"]
    worn = sum(m * wear_of(w, own) for w, m in by_wood.items())
    limit = fig[f"{bit.material}_m"] * min(1.0, max(fig["least_part"], bit.diameter_mm / fig["of_mm"]))
    words = []
    if worn >= limit:
        words.append(f"past its {metre(limit):.0f}: change it, or measure a slot and look at its edge")
    if lost is not None and lost > fig["lost_mm"]:
        words.append(f"{mm(lost):.2f} thinner than new: pockets come out tight; type the measured diameter")
    if shortened is not None and shortened > fig["shortened_part"] * bit.diameter_mm:
        words.append(f"its tip is {mm(shortened):.2f} shorter: slots come out too shallow; touch it off anew")
    cut, ran = ({k: v for k, v in by.items() if v > 0} for by in (by_wood, by_minutes))
    return Life(
        sum(by_wood.values()), minutes, slots, cut, ran, worn, limit, max(0.0, lost or 0.0), shortened or 0.0,
        "; ".join(words), _boards(bit, slots),
    )


def _boards(bit: Bit, slots: int) -> float:
    """Return how many usual boards the slots of a thin bit make; 0 of any other."""
    fig = figures()["fretboard"]
    return slots / fig["usual_frets"] if bit.diameter_mm < fig["slots_only_mm"] else 0.0


@dataclass(frozen=True)
class Forecast:
    """What the jobs that were not run yet ask of a bit: metres weighed by wood, how many ask it at all, and the job in which it crosses its limit; None where it does not."""

    asked_m: float
    jobs: int
    crosses_in: str | None


def forecast(
    found: Life, jobs: Sequence[tuple[str, Mapping[str, float]]], own: Mapping[str, Wood] = NO_OWN
) -> Forecast:
    """Return which of the jobs to come, in their order, takes a bit past its limit.

    Args:
        jobs: name, and metres by wood this bit cuts in it.
    """
    asked, crosses, count = 0.0, None, 0
    for name, by_wood in jobs:
        here = sum(m * wear_of(w, own) for w, m in by_wood.items())
        count += here > 0
        asked += here
        if crosses is None and here > 0 and found.worn_m + asked > found.limit_m:
            crosses = name
    return Forecast(asked, count, crosses)
