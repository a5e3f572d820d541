"""From operation to toolpath, by kind."""

from __future__ import annotations

from collections.abc import Callable

from ..instrument.resolve import Resolved
from ..route import Operation, Route
from ..vocabulary import OperationKind
from .base import Made, Work, work_for
from .edging import edge
from .facing import face
from .holes import bore, drill
from .pocketing import pocket
from .profiling import profile
from .surfacing import surface_passes

MAKERS: dict[OperationKind, Callable[[Work], Made]] = {
    OperationKind.FACE: face, OperationKind.DRILL: drill, OperationKind.BORE: bore,
    OperationKind.POCKET: pocket, OperationKind.PROFILE: profile, OperationKind.SURFACE_ROUGH: surface_passes, OperationKind.SURFACE_FINISH: surface_passes,
    OperationKind.EDGE: edge,
}


def make_toolpath(route: Route, resolved: Resolved, operation: Operation) -> Made:
    """Return the toolpath of one operation and what kept it from doing all its work."""
    return MAKERS[operation.kind](work_for(route, resolved, operation))
