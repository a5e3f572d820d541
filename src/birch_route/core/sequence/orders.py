"""Orders of the operations: which has to come before which and why, what an order costs in bit changes, and the orders
that are offered: fewest changes, one feature after another, heavy bits first and fine ones last, all pockets roughed
before the first is finished."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from shapely.geometry import Point

from ..data import figures
from ..errors import InputError
from ..instrument.resolve import Resolved, resolve
from ..route import Operation, Route, Setup
from ..traveller import steps_after
from ..vocabulary import OperationKind
from .pair import with_last_passes
from .propose import staged_for, with_touch_offs

SURFACES = (OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH)
MOST_STATES = 4000  # of the search for the fewest changes; beyond, the best so far go on


class OrderKind(StrEnum):
    """By what operations are put in order, as far as one need not come before another."""

    BITS = "bits"
    FEATURES = "features"
    FINE_LAST = "fine_last"
    ROUGH_FIRST = "rough_first"


@dataclass(frozen=True)
class Before:
    """One operation has to come before another. why: what goes wrong otherwise."""

    first: str
    then: str
    why: str


@dataclass(frozen=True)
class Offer:
    """An order of all operations. changes: bits put in; minutes: at the machine's side for them, a starting figure;
    more: last passes that get an operation of their own for it."""

    kind: OrderKind
    operations: list[str]
    changes: int
    minutes: float
    more: int = 0


def precedences(route: Route) -> list[Before]:
    """Return which operations have to come before which, within each setup; setups themselves stand in their order."""
    resolved, out = resolve(route), []
    for setup in route.setups:
        here = [o for o in route.operations if o.setup == setup.id]
        _, lies = staged_for(route, resolved, setup)
        for first in here:
            for then in here:
                why = _why_before(route, lies, first, then) if first is not then else ""
                if why:
                    out.append(Before(first.id, then.id, why))
        out += _without_circles(out, list(_gated(route, here)), [o.id for o in here])
    return out


def _without_circles(before: Sequence[Before], more: Sequence[Before], here: Sequence[str]) -> list[Before]:
    """Return those of more that go together with what has to come before what. Where the order as it stands breaks
    nothing all do, since they follow it."""
    if not broken(before, here):
        return list(more)
    kept: list[Before] = []
    for one in more:
        if one.first not in _all_after([*before, *kept], here)[one.then]:
            kept.append(one)
    return kept


def _all_after(before: Sequence[Before], here: Sequence[str]) -> dict[str, set[str]]:
    """Return by operation all that have to come after it, straight or by way of others."""
    after: dict[str, set[str]] = {o: {b.then for b in before if b.first == o} for o in here}
    for through in after:
        for one in after.values():
            if through in one:
                one |= after[through]
    return after


def _why_before(route: Route, lies: Resolved, first: Operation, then: Operation) -> str:
    """Return why an operation has to come before another of its setup; empty where it need not."""
    outline = route.piece.outline.id
    data = {s.datum for s in route.setups if s.datum}
    if outline in then.features and outline not in first.features:
        return "the piece hangs in its tabs once the outline is cut"
    takes_rest = then.rest and not first.rest and not first.along_wall and first.features == then.features
    if then.finishes == first.id or takes_rest:
        return "it takes what the first bit leaves"
    if first.down_to_mm is not None and then.down_to_mm is None and set(first.features) & set(then.features):
        return "the rim is cut clean before what lies below it"
    alike = (first.down_to_mm is None) == (then.down_to_mm is None)  # both of a rim, or neither
    if then.wall_only and alike and set(first.features) & set(then.features):
        if not first.wall_only or first.stock_to_leave_mm > then.stock_to_leave_mm:
            return "it creeps on from where the first one stops"
        return ""
    if outline in first.features:
        return ""
    if set(first.features) & data and not set(then.features) & data:
        return "the piece is found again by these holes"
    if first.kind is OperationKind.FACE and then.kind is not OperationKind.FACE and not set(then.features) & data:
        return "depths count from the face once it is true"
    return _why_by_shape(lies, first, then)


def _why_by_shape(lies: Resolved, first: Operation, then: Operation) -> str:
    """Return why what two operations cut puts one before the other."""
    if first.kind is OperationKind.SURFACE_ROUGH and then.kind is OperationKind.SURFACE_FINISH:
        return "a slope is roughed before it is finished" if set(first.features) & set(then.features) else ""
    one = next((lies.solids[f] for f in first.features if f in lies.solids), None)
    other = next((lies.solids[f] for f in then.features if f in lies.solids), None)
    if then.kind is OperationKind.EDGE or (other is not None and other.kind == "channel"):
        is_rim = first.kind is OperationKind.EDGE or (one is not None and one.kind == "channel")
        return "" if is_rim and first.kind is then.kind else (
            "the rim has its height once what it runs along is cut" if first.kind in SURFACES else "")
    if one is None or other is None or one.id == other.id:
        return ""
    if first.kind is OperationKind.DRILL and then.kind in SURFACES:
        return "a drill wanders on a slope" if any(other.region.contains(Point(p)) for p in one.points) else ""
    if first.kind is OperationKind.POCKET and not first.along_wall and one.region.contains(other.region):
        lower = other.floor_mm is None or (one.floor_mm is not None and one.floor_mm > other.floor_mm)
        return "it lowers where the other begins" if lower else ""
    return ""


def _gated(route: Route, here: Sequence[Operation]) -> Iterator[Before]:
    """What stands before a bench step within a setup stays before it; unless it stands where it may not anyway."""
    for at, op in enumerate(here[:-1]):
        steps = steps_after(route, op.id)
        if steps:
            for first in here[: at + 1]:
                for then in here[at + 1 :]:
                    yield Before(first.id, then.id, f"{steps[0].name} comes between them")


def broken(before: Sequence[Before], operations: Sequence[str]) -> list[Before]:
    """Return what an order of operations breaks."""
    place = {o: k for k, o in enumerate(operations)}
    return [b for b in before if b.first in place and b.then in place and place[b.first] > place[b.then]]


def changes(route: Route, operations: Sequence[str]) -> int:
    """Return how often a bit is put in, the first one counted."""
    bits = [o.bit for one in operations if (o := route.operation(one)) is not None]
    return sum(k == 0 or bits[k - 1] != bit for k, bit in enumerate(bits))


def offers(route: Route) -> list[Offer]:
    """Return the orders that break nothing. What stands is offered as it is where it is one of them."""
    before, minute = precedences(route), figures()["minutes"]["bit_change"]
    out = []
    for kind in OrderKind:
        parted, needs = route, before
        if kind is OrderKind.ROUGH_FIRST:
            parted = with_last_passes(route)
            if not any(o.finishes and o.kind is OperationKind.POCKET for o in parted.operations):
                continue
            needs = before if parted is route else precedences(parted)
        order = _ordered(parted, needs, kind)
        count = changes(parted, order)
        out.append(Offer(kind, order, count, count * minute, len(parted.operations) - len(route.operations)))
    return out


@dataclass(frozen=True)
class Orders:
    """changes, minutes: of the order as it stands; change_min: for one bit; turns: how often the piece is turned over,
    in any order; turn_min: for one."""

    changes: int
    minutes: float
    change_min: float
    turns: int
    turn_min: float
    before: list[Before]
    offers: list[Offer]


def orders_of(route: Route) -> Orders:
    """Return what a route's order costs, what it must keep, and what others cost."""
    minute, now = figures()["minutes"]["bit_change"], changes(route, [o.id for o in route.operations])
    faces = [s.face for s in route.setups]
    turns = sum(a is not b for a, b in pairwise(faces))
    return Orders(
        now, now * minute, minute, turns, figures()["minutes"]["turn_over"], precedences(route), offers(route)
    )


def order_by(route: Route, kind: OrderKind) -> Route:
    """Return the route with its operations in an order that breaks nothing.

    Raises:
        InputError: what has to come before what goes round in a circle.
    """
    route = with_last_passes(route) if kind is OrderKind.ROUGH_FIRST else route
    order = _ordered(route, precedences(route), kind)
    by_id = {o.id: o for o in route.operations}
    placed = [by_id[o] for o in order]
    operations = [o for s in route.setups for o in with_touch_offs([x for x in placed if x.setup == s.id])]
    return route.model_copy(update={"operations": operations})


def _ordered(route: Route, before: Sequence[Before], kind: OrderKind) -> list[str]:
    out: list[str] = []
    for setup in route.setups:
        here = [o for o in route.operations if o.setup == setup.id]
        needs = {o.id: {b.first for b in before if b.then == o.id} for o in here}
        bit = next((o.bit for o in reversed(route.operations) if out and o.id == out[-1]), "")
        if kind is OrderKind.BITS:
            out += fewest_changes(here, needs, bit)
        else:
            out += _listed(route, setup, here, needs, kind)
    return out


def fewest_changes(here: Sequence[Operation], needs: dict[str, set[str]], bit: str) -> list[str]:
    """Return the operations of a setup in the order with the fewest bit changes.

    Whatever the bit that is in can do is done at once: it costs nothing and can only free others. Then every bit that
    can go on is tried, number of changes by number of changes.

    Args:
        needs: by operation, what has to come before it. bit: the one that is in.

    Raises:
        InputError: what has to come before what goes round in a circle.
    """
    layer: dict[frozenset[str], list[str]] = {}
    start = _done_with(here, needs, [], bit)
    layer[frozenset(start)] = start
    while layer:
        for done in layer.values():
            if len(done) == len(here):
                return done
        following: dict[frozenset[str], list[str]] = {}
        for done in layer.values():
            there = set(done)
            ready = dict.fromkeys(o.bit for o in here if o.id not in there and needs[o.id] <= there)
            for one in ready:
                order = _done_with(here, needs, done, one)
                following.setdefault(frozenset(order), order)
        if len(following) > MOST_STATES:
            best = sorted(following.items(), key=lambda item: -len(item[0]))[:MOST_STATES]
            following = dict(best)
        layer = following
    raise InputError("What has to come before what goes round in a circle: there is no order.", where="operations")


def _done_with(here: Sequence[Operation], needs: dict[str, set[str]], done: Sequence[str], bit: str) -> list[str]:
    """Return an order with all added that a bit can go on with, in the order they stand in."""
    out, there = list(done), set(done)
    more = True
    while more:
        more = False
        for o in here:
            if o.bit == bit and o.id not in there and needs[o.id] <= there:
                out.append(o.id)
                there.add(o.id)
                more = True
    return out


def _listed(
    route: Route, setup: Setup, here: Sequence[Operation], needs: dict[str, set[str]], kind: OrderKind
) -> list[str]:
    """Return operations one after another: of those that may come next, the one that goes on with the feature, or the
    one with the widest bit, or what roughs before what finishes."""
    places = {f.id: k for k, f in enumerate(route.features)}
    out: list[str] = []
    at: tuple[int, str] = (-1, "")
    while len(out) < len(here):
        ready = [o for o in here if o.id not in out and needs[o.id] <= set(out)]
        if not ready:
            raise InputError(f"What has to come before what goes round in a circle in {setup.name}.", where=setup.id)
        if kind is OrderKind.FEATURES:
            one = min(ready, key=lambda o: (_feature(o, places) != at[0], _feature(o, places), here.index(o)))
        elif kind is OrderKind.ROUGH_FIRST:
            one = min(ready, key=lambda o: (o.finishes is not None, o.bit != at[1], here.index(o)))
        else:
            one = min(ready, key=lambda o: (-round(route.bit(o.bit).cut_diameter_mm, 2), o.bit != at[1], here.index(o)))
        at = (_feature(one, places), one.bit)
        out.append(one.id)
    return out


def _feature(operation: Operation, places: dict[str, int]) -> int:
    """Return the place of an operation's feature among all; what has none comes first."""
    return min((places.get(f, 0) for f in operation.features), default=-1)
