"""A way to clear a region at one height, how it is kept, and where those made before are found again."""

from __future__ import annotations

import json
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from enum import IntEnum
from typing import Protocol

import numpy as np

MOST_KEPT = 64


class LegKind(IntEnum):
    CUT = 0
    LINK = 1  # at depth, through what is already cleared
    LIFT = 2  # out of the wood and down again: nothing else leads there
    HELIX = 3  # the way in: once round at depth
    CONTOUR = 4  # along the wall


@dataclass(frozen=True)
class Leg:
    """A stretch of the way at one height. points: float64 [n, 2], mm; a leg starts where the one before ended."""

    kind: LegKind
    points: np.ndarray

    def length_mm(self) -> float:
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())


@dataclass(frozen=True)
class Plan:
    """How a region is cleared at one height, and the places too narrow to be entered: x, y of their middles and widths, mm.

    blocked: stretches [n, 2] of the way along the wall that would be slots.
    """

    legs: list[Leg]
    slots: list[tuple[float, float, float]] = field(default_factory=list)
    blocked: list[np.ndarray] = field(default_factory=list)

    def length_mm(self, *kinds: LegKind) -> float:
        return sum(leg.length_mm() for leg in self.legs if leg.kind in kinds)


def encode(plan: Plan) -> bytes:
    """Return a plan as bytes: a line of JSON that counts, then every point as two little-endian float64."""
    lines = [*(leg.points for leg in plan.legs), *plan.blocked]
    head = {"kinds": [int(leg.kind) for leg in plan.legs], "counts": [len(x) for x in lines], "slots": plan.slots}
    return json.dumps(head).encode() + b"\n" + np.vstack([np.zeros((0, 2)), *lines]).astype("<f8").tobytes()


def decode(data: bytes) -> Plan:
    """Return the plan that was encoded."""
    first, _, rest = data.partition(b"\n")
    head = json.loads(first)
    points = np.frombuffer(rest, "<f8").reshape(-1, 2).astype(float)
    lines = np.split(points, np.cumsum(head["counts"])[:-1]) if head["counts"] else []
    kinds = [LegKind(k) for k in head["kinds"]]
    return Plan([Leg(k, x) for k, x in zip(kinds, lines, strict=False)], [(x, y, w) for x, y, w in head["slots"]], lines[len(kinds):])


class Shelf(Protocol):
    """Where plans outlive the process."""

    def find(self, key: str) -> bytes | None: ...

    def put(self, key: str, data: bytes) -> None: ...


_kept: OrderedDict[str, Plan] = OrderedDict()
_shelf: Shelf | None = None


def use_shelf(shelf: Shelf | None) -> None:
    """Let plans of this process be found and kept on a shelf."""
    global _shelf
    _shelf = shelf


def kept_plan(key: str, make: Callable[[], Plan]) -> Plan:
    """Return the plan with a key: from memory, from the shelf, or made now and kept in both."""
    if key in _kept:
        _kept.move_to_end(key)
        return _kept[key]
    data = _shelf.find(key) if _shelf is not None else None
    plan = decode(data) if data is not None else make()
    if data is None and _shelf is not None:
        _shelf.put(key, encode(plan))
    _kept[key] = plan
    while len(_kept) > MOST_KEPT:
        _kept.popitem(last=False)
    return plan
