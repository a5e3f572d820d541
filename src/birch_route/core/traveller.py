"""The traveller of a route: what is done to a piece, in the order in which it is done: bench, setup, bit, bench, turn
over, and so on."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from .route import BenchStep, Route


def steps_after(route: Route, operation_id: str | None) -> list[BenchStep]:
    """Return the bench steps that stand right after an operation, in order; None: those before everything."""
    return [s for s in route.bench_steps if s.after == operation_id]


def gates_before(route: Route, operations: Iterable[str], steps: Sequence[BenchStep] | None = None) -> list[BenchStep]:
    """Return the gating bench steps that stand before any of some operations: a program of these waits for all of them.

    Args:
        operations: ids of operations of the whole route. steps: the gating steps to choose from; None: all of the
            route.
    """
    place = {o.id: k for k, o in enumerate(route.operations)}
    last = max((place[o] for o in operations if o in place), default=-1)
    gates = [s for s in route.bench_steps if s.gate] if steps is None else steps
    return [s for s in gates if s.after is None or place[s.after] < last]


def begins_anew(route: Route, index: int) -> bool:
    """Say whether a program of its own begins at an operation: a pass that is run only when the part is still tight
    and what follows one,
    and what waits for a gating bench step.

    Args:
        route: whole, or of one setup. index: of one of its operations.
    """
    if index == 0:
        return False
    now, before = route.operations[index], route.operations[index - 1]
    return now.wall_only or before.wall_only or any(s.gate for s in steps_after(route, before.id))
