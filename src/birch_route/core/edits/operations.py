"""Edits of the operations and of how each is done."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..document import Id
from ..route import Route
from ..sequence.additions import propose_into, step_down
from ..sequence.clearing import choose_clearing
from ..sequence.creep import creep
from ..sequence.edges import machine_edge
from ..sequence.made_before import propose_again
from ..sequence.orders import OrderKind, order_by
from ..sequence.outline import choose_school, move_tab
from ..sequence.pair import finish_with
from ..sequence.propose import propose_route
from ..sequence.renew import renew_settings
from ..sequence.rest import choose_rest
from ..sequence.rim import choose_rim, clean_rim, clean_rims
from ..sequence.surfaces import add_finish
from ..vocabulary import Clearing, FinishClass, Pattern, School
from .base import Document, DocumentEdit, RouteEdit, named


class Propose(RouteEdit):
    """Make the operations anew from features, bits and machine."""

    do: Literal["propose"] = "propose"

    def words(self) -> str:
        return "Propose a route"

    def remake(self, route: Route) -> Route:
        return clean_rims(propose_route(route))


class ProposeFor(RouteEdit):
    """Add the operations for one feature, before the outline."""

    do: Literal["propose_for"] = "propose_for"
    feature: str

    def words(self) -> str:
        return "Add an operation"

    def remake(self, route: Route) -> Route:
        return propose_into(route, self.feature)


class ProposeAgain(RouteEdit):
    """Make the operations for one feature anew, in their places; what a hand has set of them stays."""

    do: Literal["propose_again"] = "propose_again"
    feature: str

    def words(self) -> str:
        return "Propose it again, after the readings"

    def remake(self, route: Route) -> Route:
        return propose_again(route, self.feature).route


class Creep(RouteEdit):
    """Leave a pocket too small and creep up on the fit in passes along its wall; 0 passes: as drawn at once."""

    do: Literal["creep"] = "creep"
    operation: str
    passes: Annotated[int, Field(ge=0, le=6)]
    step_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.005, le=0.5)] | None = None

    def words(self) -> str:
        return "Creep up on a fit"

    def remake(self, route: Route) -> Route:
        return creep(route, self.operation, self.passes, self.step_mm)


class ChooseRest(RouteEdit):
    """Clear a pocket with a wide bit first and its rest after it, or with one bit for all."""

    do: Literal["choose_rest"] = "choose_rest"
    operation: str
    first: Id | None = None

    def words(self) -> str:
        return "Choose which bits clear it"

    def remake(self, route: Route) -> Route:
        return choose_rest(route, self.operation, self.first)


class ChooseRim(RouteEdit):
    """Let another bit cut the rim of a pocket or a contour first, so deep, and leave what lies below to this one; no
    bit: this one cuts it all."""

    do: Literal["choose_rim"] = "choose_rim"
    operation: str
    bit: Id | None = None
    down_to_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=100)] | None = None

    def words(self) -> str:
        return "Choose which bit cuts the rim"

    def remake(self, route: Route) -> Route:
        return choose_rim(route, self.operation, self.bit, self.down_to_mm)


class CleanRim(RouteEdit):
    """Cut a pocket's rim clean by the widest bit that does: first, or all of a pocket no deeper than a rim; no
    operation: every rim that would fray."""

    do: Literal["clean_rim"] = "clean_rim"
    operation: str | None = None

    def words(self) -> str:
        return "Cut rims clean"

    def remake(self, route: Route) -> Route:
        return clean_rim(route, self.operation) if self.operation else clean_rims(route)


class FinishWith(RouteEdit):
    """Finish a contour or a pocket with another bit after this one has roughed it; no bit: its own finishes it."""

    do: Literal["finish_with"] = "finish_with"
    operation: str
    bit: Id | None = None

    def words(self) -> str:
        return "Choose which bit takes the last pass"

    def remake(self, route: Route) -> Route:
        return finish_with(route, self.operation, self.bit)


class RenewSettings(RouteEdit):
    """Propose settings anew where they were made for another wood or machine: of one operation, or of all; what a
    person has set stays."""

    do: Literal["renew_settings"] = "renew_settings"
    operation: str | None = None

    def words(self) -> str:
        return "Propose settings anew"

    def remake(self, route: Route) -> Route:
        return renew_settings(route, self.operation)


class AddFinish(RouteEdit):
    """Finish a surface once more: only where it is flat, or only along the valleys that the bit before left."""

    do: Literal["add_finish"] = "add_finish"
    operation: str
    pattern: Literal[Pattern.FLAT, Pattern.PENCIL]
    bit: Id | None = None

    def words(self) -> str:
        return "Finish flat places or valleys"

    def remake(self, route: Route) -> Route:
        return add_finish(route, self.operation, self.pattern, self.bit)


class StepDown(RouteEdit):
    """Draw a ledge round a pocket or hole: for a cover, a ring, or as a reveal. It follows what it goes round."""

    do: Literal["step_down"] = "step_down"
    feature: str
    width_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.2, le=60)]
    depth_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.05, le=60)]
    finish_class: FinishClass = FinishClass.SHOWN

    def words(self) -> str:
        return "Draw a ledge round a feature"

    def remake(self, route: Route) -> Route:
        return step_down(route, self.feature, self.width_mm, self.depth_mm, self.finish_class)


class ChooseClearing(RouteEdit):
    """Clear a pocket by rings or with a bounded engagement; settings that nobody set by hand are proposed anew."""

    do: Literal["choose_clearing"] = "choose_clearing"
    operation: str
    clearing: Clearing

    def words(self) -> str:
        return "Choose how it is cleared"

    def remake(self, route: Route) -> Route:
        return choose_clearing(route, self.operation, self.clearing)


class ChooseSchool(RouteEdit):
    """Cut an outline through with tabs, through but for a skin, or as a groove for saw and bearing bit; its bench steps
    follow."""

    do: Literal["choose_school"] = "choose_school"
    operation: str
    school: School

    def words(self) -> str:
        return "Choose how the outline is cut"

    def remake(self, route: Route) -> Route:
        return choose_school(route, self.operation, self.school)


class MachineEdge(RouteEdit):
    """Let the machine cut an edge with a bit of its form, or leave it to the bench."""

    do: Literal["machine_edge"] = "machine_edge"
    edge: str
    by_machine: bool = True

    def words(self) -> str:
        return "Say who makes an edge"

    def remake(self, route: Route) -> Route:
        return machine_edge(route, self.edge, self.by_machine)


class MoveTab(RouteEdit):
    """Move a tab to the place of the rim nearest to a point of the piece; the number after the last adds one."""

    do: Literal["move_tab"] = "move_tab"
    operation: str
    number: Annotated[int, Field(ge=0, le=40)]
    x_mm: Annotated[float, Field(allow_inf_nan=False, ge=-2000, le=2000)]
    y_mm: Annotated[float, Field(allow_inf_nan=False, ge=-2000, le=2000)]

    def words(self) -> str:
        return "Move a tab"

    def remake(self, route: Route) -> Route:
        return move_tab(route, self.operation, self.number, self.x_mm, self.y_mm)


class MoveOperation(DocumentEdit):
    """Put an operation at another place in the order, counted from 0."""

    do: Literal["move_operation"] = "move_operation"
    operation: str
    to: Annotated[int, Field(ge=0, le=500)]

    def words(self) -> str:
        return "Move an operation"

    def change(self, data: Document) -> None:
        operation = named(data["operations"], self.operation, "operation")
        data["operations"].remove(operation)
        data["operations"].insert(min(self.to, len(data["operations"])), operation)
        order = [s["id"] for s in data["setups"]]
        data["operations"].sort(key=lambda o: order.index(o["setup"]))  # a setup's operations stay together


class OrderBy(RouteEdit):
    """Put the operations in another order that breaks nothing: fewest bit changes, one feature after another, or fine
    bits last."""

    do: Literal["order_by"] = "order_by"
    by: OrderKind

    def words(self) -> str:
        return "Put the operations in another order"

    def remake(self, route: Route) -> Route:
        return order_by(route, self.by)


class RemoveOperation(DocumentEdit):
    """Take an operation off the route; bench steps after it follow what stands before it."""

    do: Literal["remove_operation"] = "remove_operation"
    operation: str

    def words(self) -> str:
        return "Remove an operation"

    def change(self, data: Document) -> None:
        operation = named(data["operations"], self.operation, "operation")
        at = data["operations"].index(operation)
        before = data["operations"][at - 1]["id"] if at else None
        data["operations"].remove(operation)
        for step in data["bench_steps"]:
            step["after"] = before if step["after"] == self.operation else step["after"]
        for one in data["operations"]:
            if one["finishes"] == self.operation:  # it does all of it now
                one["finishes"] = None
