"""What fitted in this shop: the gaps at which parts went in, and how far from the drawn line walls came out. Both are
where the next one starts.

Formulas: two walls make a width, so what a finished pocket is wider than its part, halved, is the gap on each side;
what it is wider than drawn, halved, is how far each wall came out past its line, and what was left on it more.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import median

from .data import figures
from .errors import InputError
from .instrument.parts import read_place
from .instrument.resolve import Resolved, resolve
from .instrument.stack import find_part, heel_pocket
from .instrument.waiting import RECTANGLE_PLACES
from .piece import Pocket
from .quantities import mm
from .route import Operation, Route
from .vocabulary import FinishClass, OperationKind, PartKind

LADDER_MOST_MM, LADDER_STEPS = 120.0, 4  # scrap is no wider


class Went(StrEnum):
    """How a part went into its pocket."""

    TIGHT = "tight"
    FITS = "fits"
    LOOSE = "loose"


@dataclass(frozen=True)
class Fit:
    """A part in its pocket, mm. drawn: the pocket across, as drawn; part: the part there; gap: drawn on each side, with
    the film of finish. Of rectangles it is the shorter side, of a heel its end."""

    feature: str
    name: str
    part_kind: PartKind
    across: str
    drawn_mm: float
    part_mm: float
    gap_mm: float
    film_mm: float
    operation: str  # that makes its wall last
    bit: str
    left: tuple[float, ...]  # on the wall when the part can be tried, one after another: of creep passes; 0 is as drawn


@dataclass(frozen=True)
class KeptFit:
    """How one went. left: on each wall then; measured: the finished pocket across, where somebody read it."""

    part_kind: PartKind
    machine: str
    bit: str
    drawn_mm: float
    part_mm: float
    gap_mm: float
    left_mm: float
    measured_mm: float | None
    went: Went

    @property
    def fitted_mm(self) -> float:
        """The gap on each side as it went in: by what was measured, else by what was drawn and left."""
        return self.gap_mm - self.left_mm if self.measured_mm is None else (self.measured_mm - self.part_mm) / 2

    @property
    def past_mm(self) -> float | None:
        """How far each wall came out past the line it was cut to; None where nobody measured."""
        return None if self.measured_mm is None else (self.measured_mm - self.drawn_mm) / 2 + self.left_mm


@dataclass(frozen=True)
class FromKept:
    """A start value that records give, mm, and from how many of them."""

    value_mm: float
    count: int
    here: bool  # all on this machine


def fits_of(route: Route, resolved: Resolved | None = None) -> list[Fit]:
    """Return the pockets that a measured part goes into with a gap."""
    resolved = resolved or resolve(route)
    return [f for feature in route.features if (f := _fit(route, resolved, feature)) is not None]


def fit_of(route: Route, feature: str) -> Fit:
    """Return one of them.

    Raises:
        InputError: no part that was measured goes into that feature with a gap, or nothing cuts it.
    """
    found = next((f for f in fits_of(route) if f.feature == feature), None)
    if found is None:
        raise InputError("No measured part goes into that with a gap; only such a fit is kept.", where="feature")
    return found


def _fit(route: Route, resolved: Resolved, feature: object) -> Fit | None:
    if not isinstance(feature, Pocket) or feature.id not in resolved.solids:
        return None
    size = _sizes(route, feature)
    makes = [o for o in route.operations if feature.id in o.features and o.kind is OperationKind.POCKET]
    walls = [o for o in makes if not o.wall_only and not any(x.finishes == o.id for x in makes)]
    if size is None or not walls:
        return None
    last = walls[-1]
    crept = [o.stock_to_leave_mm for o in makes if o.wall_only]
    left = tuple(round(v, 4) for v in dict.fromkeys([last.stock_to_leave_mm, *crept]))
    kind, across, drawn, part, gap, film = size
    return Fit(feature.id, feature.name, kind, across, drawn, part, gap, film, last.id, last.bit, left)


def _sizes(route: Route, feature: Pocket) -> tuple[PartKind, str, float, float, float, float] | None:
    """Return what goes in, where it is measured, how wide pocket and part are there, the gap and the film in it; None
    where nothing measured does."""
    shape, film = feature.shape, route.choices.film_mm
    if shape.kind == "heel":
        gap = route.choices.fit_gap_mm + film
        part = find_part(route.parts, PartKind.NECK)
        heel = heel_pocket(part, gap)
        wide = None if part is None else read_place(part, "heel_width_end").value_mm
        if heel is None or wide is None:
            return None
        return PartKind.NECK, "across its end", round(heel.end_width_mm, 3), wide, gap, film
    part = route.part(getattr(shape, "part", None) or "")
    if shape.kind != "part_rectangle" or part is None:
        return None
    places = (RECTANGLE_PLACES.get(part.kind) or ())[:2]
    sides = [v for p in places if p and (v := read_place(part, p).value_mm) is not None]
    if len(sides) < 2:
        return None
    film = film if feature.finish_class in (FinishClass.SHOWN, FinishClass.FITTED) else 0.0
    gap = shape.gap_mm + film
    return part.kind, "across its shorter side", round(min(sides) + 2 * gap, 3), min(sides), gap, film


@dataclass(frozen=True)
class Ladder:
    """Pockets on scrap for the same part, each wider than the one before: gaps on each side, mm."""

    across_mm: float
    first_gap_mm: float
    step_mm: float
    count: int


def ladder_of(fit: Fit) -> Ladder | None:
    """Return the ladder that has the drawn gap in its second step; None where the part is too wide for scrap."""
    if fit.part_mm > LADDER_MOST_MM:
        return None
    step = figures()["creep"]["step_mm"]
    return Ladder(round(fit.part_mm, 3), round(max(0.0, fit.gap_mm - step), 3), step, LADDER_STEPS)


def start_gap(kept: Sequence[KeptFit], kind: PartKind, machine: str) -> FromKept | None:
    """Return the gap at which parts of a kind went in: the middle of the newest that fitted, on this machine where any
    did. kept: newest first."""
    fitted = [k for k in kept if k.part_kind is kind and k.went is Went.FITS]
    return _from([k.fitted_mm for k in fitted], [k.machine for k in fitted], machine)


def past_line(kept: Sequence[KeptFit], machine: str, bit: str) -> FromKept | None:
    """Return how far walls came out past their line on this machine with this bit, below 0: short of it. kept: newest
    first."""
    read = [k for k in kept if k.machine == machine and k.bit == bit and k.past_mm is not None]
    return _from([k.past_mm or 0.0 for k in read], [k.machine for k in read], machine)


def _from(values: Sequence[float], machines: Sequence[str], machine: str) -> FromKept | None:
    own = [v for v, m in zip(values, machines, strict=True) if m == machine]
    taken = list(own or values)[: figures()["fit_memory"]["count"]]
    return FromKept(round(median(taken), 3), len(taken), bool(own)) if taken else None


def said_gap(found: FromKept, fit: Fit) -> str:
    """Say at what gap parts like this one went in."""
    where = "on this machine" if found.here else "on other machines of the shop"
    times = "once" if found.count == 1 else f"{found.count} times"
    return f"It fitted {times} {where}, with {mm(found.value_mm):.2f} on each side; drawn are {mm(fit.gap_mm):.2f}"


def said_past(found: FromKept, bit: str) -> str:
    """Say how far walls came out past their line."""
    times = "One pocket" if found.count == 1 else f"{found.count} pockets"
    if abs(found.value_mm) < LEAST_MM:
        return f"{times} cut here with the {bit} came out on the line"
    way = "past" if found.value_mm > 0 else "short of"
    return f"{times} cut here with the {bit} came out {mm(abs(found.value_mm)):.2f} {way} the line on each side"


def gap_edits(fit: Fit, found: FromKept) -> list[dict[str, object]]:
    """Return the edits that draw a pocket with the gap that fitted; none where it is drawn so."""
    bare = round(found.value_mm - fit.film_mm, 3)
    if abs(found.value_mm - fit.gap_mm) < LEAST_MM:
        return []
    heel = fit.part_kind is PartKind.NECK
    path = "choices.fit_gap_mm" if heel else f"piece.features.{fit.feature}.shape.gap_mm"
    return [{"do": "set", "path": path, "value": bare}]


def past_edits(route: Route, fit: Fit, found: FromKept) -> list[dict[str, object]]:
    """Return the edits that leave on the wall what it comes out past its line, or cut it so far past; none where that
    is done, or where creep passes find their own way."""
    operation = route.operation(fit.operation)
    if operation is None or len(fit.left) > 1 or abs(operation.stock_to_leave_mm - found.value_mm) < LEAST_MM:
        return []
    most = figures()["fit_memory"]["past_mm"]
    value = max(-most, min(most, found.value_mm))
    return [{"do": "set", "path": f"operations.{fit.operation}.stock_to_leave_mm", "value": value}]


LEAST_MM = 0.01  # finer than a caliper shows


def past_drawn(operation: Operation) -> float:
    """Return how far an operation cuts walls past their drawn line on purpose, mm; beyond what the figures allow it is
    no purpose."""
    past = max(0.0, -operation.stock_to_leave_mm)
    return past if past <= figures()["fit_memory"]["past_mm"] + 1e-9 else 0.0
