"""Which bit for which feature: what each bit of a rack would reach, leave and take, and which must not be used and why."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

from ..bits.model import UNDERCUTS, Bit
from ..data import Wood, figures
from ..fretboard.surfaces import SlotFloors
from ..fretboard.ways import sideways, too_wide
from ..instrument.resolve import Solid, cut_region
from ..machines import Machine
from ..plane.regions import buffer_round, opened
from ..quantities import mm
from ..vocabulary import MILLS, Aim, BitForm, CutKind, FinishClass, Flute
from .limits import Question
from .question import Answer, answer

SEEN = (FinishClass.SHOWN, FinishClass.FITTED)
WHOLE_MM2 = 0.35  # corners smaller than this are none


@dataclass(frozen=True)
class Choice:
    """One bit for one feature. not_for: why it must not be used, empty where it may. cares: what to mind. leaves_mm2: corners it leaves, 0 where these are smaller than WHOLE_MM2; reaches_mm: how deep its edge reaches;
    minutes: for the whole feature alone, infinite where it must not; metres: of cut in it."""

    bit: Bit
    not_for: str
    cares: list[str]
    leaves_mm2: float
    reaches_mm: float
    minutes: float
    answer: Answer | None
    metres: float = 0.0


def choices(solid: Solid, bits: Sequence[Bit], wood: Wood, machine: Machine, thick_mm: float) -> list[Choice]:
    """Return every bit for a feature, the best first: what leaves nothing first, by how much it leaves, the faster before the slower, what must not be used last.

    Args:
        thick_mm: of the piece, for what goes through.
    """
    deep = thick_mm + 0.4 if solid.floor_mm is None else -solid.floor_mm
    out = [_choice(solid, bit, wood, machine, deep) for bit in bits]
    return sorted(out, key=lambda c: (bool(c.not_for), round(c.leaves_mm2, 1), c.minutes, c.bit.cut_diameter_mm))


@dataclass(frozen=True)
class Table:
    """Every bit against every feature. cells: by bit, a choice a feature in their order; serves: the features a bit
    makes whole; least: the fewest bits for all that any makes whole; left: what none does."""

    features: list[str]
    cells: dict[str, list[Choice]]
    serves: dict[str, set[str]]
    least: list[str]
    left: list[str]


def table(solids: Sequence[tuple[Solid, Wood]], bits: Sequence[Bit], machine: Machine, thick_mm: float) -> Table:
    """Return every bit against every feature.

    Args:
        solids: each with the wood that is met in it. thick_mm: of the piece.
    """
    made = {s.id: {c.bit.id: c for c in choices(s, bits, met, machine, thick_mm)} for s, met in solids}
    serves = {
        b.id: {f for f, found in made.items() if not found[b.id].not_for and found[b.id].leaves_mm2 == 0} for b in bits
    }
    least, left = fewest(serves, set(made))
    return Table(list(made), {b.id: [found[b.id] for found in made.values()] for b in bits}, serves, least, left)


def fewest(served: Mapping[str, set[str]], features: set[str]) -> tuple[list[str], list[str]]:
    """Return the fewest bits that together serve every feature that any serves, and the features that none does.

    Source: set cover, tried by size over the bits that no other one outdoes: there are few of these.
    """
    all_served = set().union(*served.values()) & features if served else set()
    own = {b: s & all_served for b, s in served.items() if s & all_served}
    useful = [b for b in own if not any(own[b] < own[o] or (own[b] == own[o] and o < b) for o in own if o != b)]
    for size in range(1, len(useful) + 1):
        for some in combinations(sorted(useful, key=lambda b: (-len(own[b]), b)), size):
            if set().union(*(own[b] for b in some)) == all_served:
                return list(some), sorted(features - all_served)
    return [], sorted(features - all_served)


def _choice(solid: Solid, bit: Bit, wood: Wood, machine: Machine, deep: float) -> Choice:
    d = bit.cut_diameter_mm
    why = _never(solid, bit, deep, machine.slot_over_mm)
    if why:
        return Choice(bit, why, [], 0.0, bit.cutting_length_mm, math.inf, None)
    if bit.form is BitForm.DRILL:
        a = answer(Question(machine, bit, wood, CutKind.SLOT, d))
        plunge = max(60.0, a.settings.speed_rpm * figures()["drilling"]["feed_per_turn_part"] * d * 0.5)
        return Choice(bit, "", [], 0.0, bit.cutting_length_mm, len(solid.points or [0]) * (2 * deep / plunge + 0.05), None, len(solid.points or [0]) * deep / 1000)
    a = answer(Question(machine, bit, wood, CutKind.SLOT, d, deep_mm=deep), Aim.CAREFUL)
    passes = math.ceil(deep / a.settings.depth_of_cut_mm - 1e-9)
    region = cut_region(solid, bit.radius_mm)
    left = 0.0
    if isinstance(solid.surface, SlotFloors):
        way = sum(math.dist(*w) for w in solid.surface.ways) * len(sideways(solid.surface, d + machine.slot_over_mm))
    elif solid.kind == "outline":
        way = buffer_round(solid.region, bit.radius_mm).length
    elif solid.kind == "hole":
        way = len(solid.points) * math.pi * ((solid.diameter_mm or 0.0) - d)
        passes = max(passes, math.ceil(deep / max(0.3, figures()["entry"]["sinks_part"] * d)))  # a helix sinks slowly
    else:
        reached = opened(region, bit.radius_mm)
        left = solid.region.difference(reached.buffer(0.02)).area  # beyond an open mouth there is waste
        left = left if left > WHOLE_MM2 else 0.0
        way = reached.area / (figures()["stepover"]["clearing"] * d) + reached.length
    return Choice(bit, "", _cares(solid, bit, wood, a), left, bit.cutting_length_mm, passes * way / a.settings.feed_mm_min, a, passes * way / 1000)


def _never(solid: Solid, bit: Bit, deep: float, runs_out_mm: float) -> str:
    """Return why a bit must not be used for a feature; empty where it may."""
    d = bit.cut_diameter_mm
    if bit.undercuts:
        return UNDERCUTS
    if solid.kind == "fret_slots":
        return _never_in_slots(solid, bit, deep, runs_out_mm)
    if bit.form in MILLS and d < figures()["fretboard"]["slots_only_mm"]:
        return "so thin that it is for fret slots: here it would take hours, and break before"
    if solid.kind == "hole":
        across = solid.diameter_mm or 0.0
        if bit.form is BitForm.DRILL:
            return (
                "" if abs(d - across) < 0.06 else f"a drill makes holes of its own size: {mm(d):g}, not {mm(across):g}"
            )
        if bit.form not in MILLS:
            return "its side is no straight wall"
        if abs(d - across) < 0.06:
            return "as wide as the hole: it would be pushed straight down, rub all round and burn"
        if d > across:
            return f"wider than the hole of {mm(across):g}"
        if d > figures()["entry"]["hole_part"] * across:
            return "so nearly as wide as the hole that no chip gets out"
    elif bit.form is BitForm.DRILL:
        return "a drill does not cut to the side"
    elif bit.form not in MILLS:
        return "it leaves no flat floor and no straight wall"
    elif solid.kind != "outline" and buffer_round(cut_region(solid, bit.radius_mm), -bit.radius_mm).is_empty:
        return "too wide to go in"
    if bit.cutting_length_mm < deep - 1e-6 and (bit.shank_diameter_mm > d - 1e-6 or bit.stickout_mm < deep):
        return (
            f"cuts {mm(bit.cutting_length_mm):g}; the feature is {mm(deep):.1f} deep, and what follows above would rub"
        )
    if not bit.cuts_at_centre and solid.kind not in ("outline",) and not solid.is_open:
        return "its middle does not cut, so it cannot go down into a closed pocket"
    return ""


def _never_in_slots(solid: Solid, bit: Bit, deep: float, runs_out_mm: float) -> str:
    """Return why a bit cannot cut fret slots; nothing where it can."""
    floors = solid.surface
    assert isinstance(floors, SlotFloors)
    if bit.form is not BitForm.FLAT:
        return "it leaves no straight wall beside a level floor"
    if too_wide(floors, bit.cut_diameter_mm + runs_out_mm):
        adds = f", with the {mm(runs_out_mm):.2f} this machine adds" if runs_out_mm else ""
        return f"wider than the slots, which are {mm(floors.width_mm):.2f}{adds}"
    if bit.cutting_length_mm < deep - 1e-6:
        return f"cuts {mm(bit.cutting_length_mm):g}; the slots are {mm(deep):.1f} deep, and its shank would rub"
    return ""


def _cares(solid: Solid, bit: Bit, wood: Wood, a: Answer) -> list[str]:
    out = []
    if bit.serrated:
        out.append("for roughing only: its grooves want another bit after it")
    if bit.flute is Flute.UP_CUT and wood.tear_out != "plain" and solid.finish_class in SEEN:
        out.append(f"cuts upward: it lifts the rim of {wood.tear_out} {wood.name.lower()}; a first pass with a down-cut keeps it")
    if bit.flute is Flute.DOWN_CUT and solid.floor_mm is not None and -solid.floor_mm > 2 * bit.cut_diameter_mm:
        out.append("pushes its chips down: in so deep a pocket they pack and burn")
    if not a.keeps:
        out.append(f"no settings keep every limit: {a.binds.value}")
    return out
