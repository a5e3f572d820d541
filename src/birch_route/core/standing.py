"""How far a job is: its steps in their order with what is done, and what it waits for, in words."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum

from .data import part_places
from .instrument.parts import PartOnHand, read_place
from .route import Route
from .traveller import steps_after


class Place(StrEnum):
    """Where a job goes on."""

    MEASURE = "measure"
    ROUTE = "route"
    HOLD = "hold"
    RUN = "run"


@dataclass(frozen=True)
class Step:
    """A step of a job: work at the bench, or an operation. change: another bit is put in before it."""

    id: str
    name: str
    is_bench: bool
    done: bool
    change: bool = False


@dataclass(frozen=True)
class Standing:
    """How far a job is. words: its state. then: what comes after that, or why. place: where it goes on."""

    steps: list[Step] = field(default_factory=list)
    words: str = ""
    then: str = ""
    place: Place = Place.ROUTE
    waits_until: datetime | None = None


@dataclass(frozen=True)
class Ticked:
    """A step at the bench that was done. ready_at: when the wait that began with it is over."""

    ready_at: datetime | None = None


@dataclass(frozen=True)
class Books:
    """What is known of a job beside its document.

    ticked: bench steps that are done, by id. cut: ids of the operations that were cut. stopped: the last run did not go
    through. stops: findings that stop it, None while it is not cut on paper.
    """

    ticked: Mapping[str, Ticked] = field(default_factory=dict)
    cut: Collection[str] = ()
    stopped: bool = False
    stops: int | None = None


def steps_of(route: Route, ticked: Collection[str], cut: Collection[str]) -> list[Step]:
    """Return every step of a route in the order in which it is done."""
    out = [Step(s.id, s.name, True, s.id in ticked) for s in steps_after(route, None)]
    before = ""
    for op in route.operations:
        out.append(Step(op.id, op.name, False, op.id in cut, op.bit != before))
        before = op.bit
        out += [Step(s.id, s.name, True, s.id in ticked) for s in steps_after(route, op.id)]
    return out


def unmeasured_parts(route: Route) -> list[PartOnHand]:
    """Return the parts on hand of which a place that is needed was never read."""
    return [p for p in route.parts if any(_to_take(p, key) for key in part_places()[p.kind.value])]


def _to_take(part: PartOnHand, key: str) -> bool:
    place = read_place(part, key)
    return place.needed and not place.values_mm


def standing(route: Route, books: Books, now: datetime) -> Standing:
    """Return how far a job is, and what it waits for: the first of what stands in its way.

    The order: a wait that runs; a run that did not go through; readings to take; no operations; findings that stop it;
    then the first step that is not done.
    """
    steps = steps_of(route, books.ticked, books.cut)
    waits = sorted(
        (t.ready_at, s.name) for s in route.bench_steps
        if (t := books.ticked.get(s.id)) is not None and t.ready_at is not None and t.ready_at > now
    )
    left = [s for s in steps if not s.done]
    begun = len(left) < len(steps)
    if waits:
        until, name = waits[-1]
        then = f"Then {left[0].name}." if left else "Then it is done."
        return Standing(steps, f"Waits: {name}", then, Place.RUN, until)
    if books.stopped:
        return Standing(steps, "The last run did not go through", "Look at its record.", Place.RUN)
    unread = unmeasured_parts(route)
    if unread and not books.cut:
        more = f" and {len(unread) - 1} more" if len(unread) > 1 else ""
        return Standing(steps, f"Waits for you: measure {unread[0].name}{more}", "", Place.MEASURE)
    if not route.operations:
        return Standing(steps, "No steps yet", "Propose its route.", Place.ROUTE)
    if books.stops:
        many = f"{books.stops} findings stop it" if books.stops > 1 else "One finding stops it"
        return Standing(steps, many, "Settle what it says.", Place.ROUTE)
    if not left:
        return Standing(steps, "Done", "Every step is.", Place.RUN)
    if books.stops is None and not books.cut:
        return Standing(steps, "Not cut on paper yet", "Opening it has it cut on paper.", Place.ROUTE)
    first = left[0]
    if first.is_bench:
        return Standing(steps, f"At the bench: {first.name}", _after(left), Place.RUN)
    return Standing(steps, f"{'Goes on with' if begun else 'Ready for'} {first.name}", _after(left), Place.RUN)


def _after(left: list[Step]) -> str:
    return f"Then {left[1].name}." if len(left) > 1 else "That is the last."
