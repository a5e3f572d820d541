"""Edits of the blank, the setups and the piece as a whole."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..errors import InputError
from ..gluing import glued_layers
from ..instrument.chambers import propose_chambers
from ..instrument.mirrored import mirror_document
from ..instrument.resolve import resolve
from ..materials.bench_work import with_blank_steps
from ..route import Route, read_route
from ..sequence.caps import cover, glue_between
from ..sequence.faces import first_face
from ..sequence.slots_when import slots_when
from ..sequence.start import fit_blank
from ..sequence.test_holes import add_test_holes
from ..sequence.turning import over_pins, rest_and_skim, turn_over
from ..vocabulary import Face, TurnAxis
from .base import Document, DocumentEdit, RouteEdit


class PlanBench(DocumentEdit):
    """Make the bench steps of the blank anew: joint, fit dry, glue, wait, plane, measure, mark."""

    do: Literal["plan_bench"] = "plan_bench"

    def words(self) -> str:
        return "Plan the bench steps of the blank"

    def change(self, data: Document) -> None:
        route = read_route(data)
        data["bench_steps"] = [s.model_dump(mode="json") for s in with_blank_steps(route.bench_steps, route.blank)]


class Mirror(RouteEdit):
    """Build it for the other hand: the piece is mirrored with its blank and holding, the bought parts are not."""

    do: Literal["mirror"] = "mirror"

    def words(self) -> str:
        return "Mirror for the other hand"

    def apply(self, data: Document) -> Document:
        return self.remake(read_route(mirror_document(data))).model_dump(mode="json")

    def remake(self, route: Route) -> Route:
        return over_pins(route)


class TurnOver(RouteEdit):
    """Add a setup with the other face up, turned about an axis: index holes on it where there are none, the outline
    moved to it."""

    do: Literal["turn_over"] = "turn_over"
    about: TurnAxis = TurnAxis.LENGTH

    def words(self) -> str:
        return "Turn it over"

    def remake(self, route: Route) -> Route:
        return turn_over(route, self.about)


class FirstFace(RouteEdit):
    """Choose which of two faces is worked first: index holes go to the first setup, the outline to the last."""

    do: Literal["first_face"] = "first_face"
    face: Face

    def words(self) -> str:
        return f"The {self.face.value} first"

    def remake(self, route: Route) -> Route:
        return first_face(route, self.face)


class RemoveSetup(DocumentEdit):
    """Take the last setup away with its operations."""

    do: Literal["remove_setup"] = "remove_setup"

    def words(self) -> str:
        return "Take the last setup away"

    def change(self, data: Document) -> None:
        if len(data["setups"]) < 2:
            raise InputError("A route needs one setup.", where="setups")
        gone = data["setups"].pop()["id"]
        lost = {o["id"] for o in data["operations"] if o["setup"] == gone}
        data["operations"] = [o for o in data["operations"] if o["setup"] != gone]
        last = data["operations"][-1]["id"] if data["operations"] else None
        steps = [s for s in data["bench_steps"] if s["id"] != f"turn_{gone}"]
        data["bench_steps"] = [{**s, "after": last} if s.get("after") in lost else s for s in steps]


class AddChambers(DocumentEdit):
    """Draw the chambers that cost nothing, as proposed for a face: all, or one by its number."""

    do: Literal["add_chambers"] = "add_chambers"
    face: Face = Face.FRONT
    number: Annotated[int, Field(ge=1, le=40)] | None = None

    def words(self) -> str:
        return "Draw chambers"

    def change(self, data: Document) -> None:
        route = read_route(data)
        found = propose_chambers(route, resolve(route), self.face)
        if not found or (self.number is not None and self.number > len(found)):
            raise InputError("There is no room for a chamber that keeps its walls and floor.", where="chambers")
        used = {f.id for f in route.features}
        number = 0
        for chamber in found if self.number is None else [found[self.number - 1]]:
            number = next(n for n in range(number + 1, 200) if f"chamber_{n}" not in used)
            item = chamber.feature(number)
            if self.face is Face.FRONT and glued_layers(route):
                item["covered"] = True
            data["piece"]["features"].insert(len(data["piece"]["features"]) - 1, item)


class GlueBetween(RouteEdit):
    """Glue a cap or veneer on after the core was worked in a setup of its own, or before everything."""

    do: Literal["glue_between"] = "glue_between"
    layer: str
    between: bool = True

    def words(self) -> str:
        return "Choose when a layer is glued on"

    def remake(self, route: Route) -> Route:
        return glue_between(route, self.layer, self.between)


class Cover(RouteEdit):
    """Put a pocket of the front under the layer that is glued on between setups, or cut it through that layer."""

    do: Literal["cover"] = "cover"
    feature: str
    covered: bool = True

    def words(self) -> str:
        return "Put a pocket under the layer"

    def remake(self, route: Route) -> Route:
        return cover(route, self.feature, self.covered)


class RestAndSkim(RouteEdit):
    """Let the piece rest before a setup, measure it, and leave a skim on the back for it; the blank is planned thicker
    by as much."""

    do: Literal["rest_and_skim"] = "rest_and_skim"
    setup: str

    def words(self) -> str:
        return "Rest, measure and skim"

    def remake(self, route: Route) -> Route:
        return rest_and_skim(route, self.setup)


class AddTestHoles(RouteEdit):
    """Drill a pair of test holes in the waste half deep from each face, which tell what the machine is off."""

    do: Literal["add_test_holes"] = "add_test_holes"
    setup: str

    def words(self) -> str:
        return "Drill a pair of test holes"

    def remake(self, route: Route) -> Route:
        return add_test_holes(route, self.setup)


class SlotsWhen(RouteEdit):
    """Cut the slots of a board before its radius, each with a level floor, or after it, along the face."""

    do: Literal["slots_when"] = "slots_when"
    floors: Literal["flat", "following"]

    def words(self) -> str:
        return "Fret slots before the radius" if self.floors == "flat" else "Fret slots after the radius"

    def remake(self, route: Route) -> Route:
        return slots_when(route, self.floors)


class FitBlank(RouteEdit):
    """Lay the blank round the outline as a new job has it, and the screws nobody has moved in its corners."""

    do: Literal["fit_blank"] = "fit_blank"

    def words(self) -> str:
        return "Fit the blank to the piece"

    def remake(self, route: Route) -> Route:
        return fit_blank(route)
