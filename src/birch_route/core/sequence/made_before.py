"""Operations that were proposed before the readings which what they cut rests on: what would come out otherwise now."""

from __future__ import annotations

from dataclasses import dataclass, field

from ..errors import BirchError
from ..instrument.resolve import Resolved, resolve
from ..route import Operation, Route
from ..vocabulary import Clearing
from .additions import propose_into
from .made_on import known_place, readings_of
from .renew import FIELDS, LEAST

LEAST_MM = 0.02  # a reading that moved by less has not: finer than a caliper shows


@dataclass(frozen=True)
class Moved:
    """A reading that a feature rests on: what it was when its operations were proposed and what it is now, mm; None:
    not taken."""

    label: str
    was_mm: float | None
    now_mm: float | None


@dataclass(frozen=True)
class Again:
    """One feature whose operations would come out otherwise. pairs: each operation as it stands and as it would be;
    None where there was, or would be, none."""

    feature: str
    name: str
    moved: list[Moved]
    pairs: list[tuple[Operation | None, Operation | None]]
    route: Route  # with them proposed again
    settings: dict[str, tuple[float, float]] = field(default_factory=dict)  # of the first pair that keeps its bit


def made_before(route: Route, resolved: Resolved) -> list[Again]:
    """Return the features whose readings moved since their operations were proposed and whose operations would come
    out otherwise now."""
    out = []
    for name in dict.fromkeys(f for o in route.operations for f in o.features):
        own = [o for o in route.operations if o.features == [name] and o.made_on is not None and not o.along_wall]
        moved = _moved(route, resolved, own[0], name) if own else []
        if not moved:
            continue
        try:
            found = propose_again(route, name, moved)
        except BirchError:
            continue  # that nothing makes it is told where it is not machined
        if found.pairs:
            out.append(found)
    return out


def propose_again(route: Route, feature: str, moved: list[Moved] | None = None) -> Again:
    """Return a feature's operations proposed again in their places; what a hand has set of them stays.

    Raises:
        InputError: no such feature, or no bit that makes it.
    """
    own = [o for o in route.operations if o.features == [feature]]
    solo = [o for o in own if not o.along_wall]  # what runs along the wall after it stays
    bare = route.model_copy(update={"operations": [o for o in route.operations if o not in own]})
    there = {o.id for o in bare.operations}
    made = propose_into(bare, feature)
    fresh = [o for o in made.operations if o.id not in there]
    pairs: list[tuple[Operation | None, Operation | None]] = []
    for kind in dict.fromkeys(o.kind for o in (*solo, *fresh)):
        old, now = ([o for o in those if o.kind is kind] for those in (solo, fresh))
        for k in range(max(len(old), len(now))):
            was = old[k] if k < len(old) else None
            pairs.append((was, _kept(was, now[k]) if k < len(now) else None))
    changed = [(was, now) for was, now in pairs if was is None or now is None or differs(was, now)]
    route_after = _put(route, solo, [now for _, now in pairs if now is not None])
    name = resolve(route).solid(feature).name
    return Again(feature, name, moved or [], changed, route_after, _settings_of(changed))


def differs(was: Operation, now: Operation) -> bool:
    """Return whether an operation proposed again is another one: another bit, or settings that differ by more than
    LEAST."""
    return was.bit != now.bit or bool(_changes(was, now))


def _settings_of(pairs: list[tuple[Operation | None, Operation | None]]) -> dict[str, tuple[float, float]]:
    for was, now in pairs:
        if was is not None and now is not None and was.bit == now.bit:
            return _changes(was, now)
    return {}


def _changes(was: Operation, now: Operation) -> dict[str, tuple[float, float]]:
    both = {f: (getattr(was.settings, f), getattr(now.settings, f)) for f in FIELDS}
    return {f: (a, b) for f, (a, b) in both.items() if abs(b / a - 1) > LEAST}


def _kept(was: Operation | None, now: Operation) -> Operation:
    """Return an operation as it would be, with the name, place and whatever a hand has set of the one that stands."""
    if was is None:
        return now
    if was.clearing is Clearing.ENGAGED and was.bit == now.bit:
        return was.model_copy(update={"made_on": now.made_on})
    settings = {f: getattr(was.settings if f in was.told and was.bit == now.bit else now.settings, f) for f in FIELDS}
    new = {
        "bit": now.bit, "settings": now.settings.model_copy(update=settings), "made_for": now.made_for,
        "made_on": now.made_on, "reasons": {**was.reasons, **now.reasons},
    }
    if was.bit != now.bit:
        walls = {"finish_depth_mm": now.finish_depth_mm, "peck_mm": now.peck_mm, "clearing": now.clearing}
        new |= {**walls, "entry": now.entry, "told": []}
    return was.model_copy(update=new)


def _put(route: Route, solo: list[Operation], new: list[Operation]) -> Route:
    """Return the route with new operations where the first of the old ones stood, each in its setup; bench steps that
    followed one that is gone follow the last of the new ones."""
    ids = {o.id for o in solo}
    at = next((k for k, o in enumerate(route.operations) if o.id in ids), len(route.operations))
    before = [o for o in route.operations[:at] if o.id not in ids]
    after = [o for o in route.operations[at:] if o.id not in ids]
    setups = [s.id for s in route.setups]
    operations = sorted([*before, *new, *after], key=lambda o: setups.index(o.setup))
    there = {o.id for o in operations}
    last = new[-1].id if new else before[-1].id if before else None
    lost = {"after": last}
    steps = [s if s.after in {None, *there} else s.model_copy(update=lost) for s in route.bench_steps]
    return route.model_copy(update={"operations": operations, "bench_steps": steps})


def _moved(route: Route, resolved: Resolved, one: Operation, feature: str) -> list[Moved]:
    now, was = readings_of(route, resolved, [feature]), one.made_on or {}
    out = []
    gone = [p for p in was if p not in now and not _still_read(route, p)]
    for place in (*now, *gone):
        before, after = was.get(place), now.get(place)
        if before is None or after is None or abs(before - after) > LEAST_MM:
            out.append(Moved(_label(route, place), before, after))
    return out


def _still_read(route: Route, place: str) -> bool:
    """Return whether a place is read: then it is of another feature, which the operation once cut too."""
    known = known_place(route, place)
    return known is not None and known.value_mm is not None


def _label(route: Route, place: str) -> str:
    known, part = known_place(route, place), route.part(place.partition(".")[0])
    return place if known is None or part is None else f"{part.name}, {known.label.lower()}"
