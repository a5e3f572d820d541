"""From operation to toolpath, by kind."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from ..bits.model import Bit
from ..instrument.resolve import Resolved
from ..route import Operation, Route
from ..vocabulary import OperationKind, Pattern
from .base import Made, Work, work_for
from .edging import edge
from .facing import face
from .holes import bore, drill
from .pocketing import pocket
from .profiling import profile
from .resting import reached_before
from .surfacing import surface_passes

MAKERS: dict[OperationKind, Callable[[Work], Made]] = {
    OperationKind.FACE: face, OperationKind.DRILL: drill, OperationKind.BORE: bore,
    OperationKind.POCKET: pocket, OperationKind.PROFILE: profile, OperationKind.SURFACE_ROUGH: surface_passes, OperationKind.SURFACE_FINISH: surface_passes,
    OperationKind.EDGE: edge,
}


def work_of(route: Route, resolved: Resolved, operation: Operation) -> Work:
    """Gather what an operation depends on, with what earlier ones cleared where it takes only the rest."""
    work = work_for(route, resolved, operation)
    if operation.kind is OperationKind.SURFACE_FINISH and operation.pattern is Pattern.PENCIL:
        return replace(work, wider=finish_before(route, operation))
    return replace(work, reached=reached_before(route, resolved, operation)) if operation.rest else work


def finish_before(route: Route, operation: Operation) -> Bit | None:
    """Return the bit of the finish over the same surface that goes before pencil passes; None where none does."""
    before = None
    for one in route.operations:
        if one.id == operation.id:
            break
        if one.kind is OperationKind.SURFACE_FINISH and one.pattern is not Pattern.FLAT and one.setup == operation.setup and set(one.features) & set(operation.features):
            before = route.bit(one.bit)
    return before


def make_toolpath(route: Route, resolved: Resolved, operation: Operation) -> Made:
    """Return the toolpath of one operation and what kept it from doing all its work."""
    return MAKERS[operation.kind](work_of(route, resolved, operation))
