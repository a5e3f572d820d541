"""Edits that begin a contour, and that keep a wire hole as work for the bench."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..instrument.contours import NAMES, Starting, starting_contour
from ..instrument.wires import hole_between, wire_step
from ..plane.curves import Mm
from ..route import Route
from .base import RouteEdit
from .drawing import with_feature


class AddContour(RouteEdit):
    """Begin a contour where it usually lies, with what cuts it."""

    do: Literal["add_contour"] = "add_contour"
    contour: Starting

    def words(self) -> str:
        return f"Draw: {NAMES[self.contour].lower()}"

    def remake(self, route: Route) -> Route:
        return with_feature(route, starting_contour(route, self.contour))


class KeepWireHole(RouteEdit):
    """Keep a long drill from one cavity into another as work for the bench; what was kept of the two before gives
    way."""

    do: Literal["keep_wire_hole"] = "keep_wire_hole"
    first: str
    second: str
    drill_mm: Annotated[Mm, Field(gt=0.5, le=20)] | None = None
    floor_mm: Annotated[Mm, Field(ge=0, le=50)] | None = None

    def words(self) -> str:
        return f"Keep the wire hole from {self.first.replace('_', ' ')} into {self.second.replace('_', ' ')}"

    def remake(self, route: Route) -> Route:
        step = wire_step(route, hole_between(route, self.first, self.second, self.drill_mm, self.floor_mm))
        if any(s.id == step.id for s in route.bench_steps):
            steps = [step if s.id == step.id else s for s in route.bench_steps]
        else:
            steps = [*route.bench_steps, step]
        return route.model_copy(update={"bench_steps": steps})
