"""Schools of cutting an outline: through but for tabs, through but for a skin, or a true groove for saw and bearing bit. Each with its
bench work, and what it costs at the machine and at the bench."""

from __future__ import annotations

import math
from dataclasses import dataclass

from shapely.geometry import Polygon

from ..bench import BenchStep
from ..data import figures
from ..errors import InputError
from ..instrument.resolve import Resolved, resolve
from ..motion.timing import move_times
from ..operations.make import make_toolpath
from ..plane.regions import polygons
from ..quantities import mm
from ..route import Operation, Route
from ..stages import frame_of
from ..vocabulary import BenchKind, OperationKind, School, Side
from .propose import staged_for, with_proposed_tabs
from .tabs import nearest_part, taken_below

STEP_IDS = ("tabs", "outline_saw", "outline_trim")


@dataclass(frozen=True)
class Price:
    """What a school costs. words: what is left to do by hand."""

    school: School
    machine_min: float
    bench_min: float
    words: str


def choose_school(route: Route, operation_id: str, school: School) -> Route:
    """Return the route with an outline cut another way and the bench steps that follow from it.

    Raises:
        InputError: no such operation, or none that cuts a profile through.
    """
    resolved = resolve(route)
    operation = _profile(route, resolved, operation_id)
    setup = route.setup(operation.setup)
    staged, lies = staged_for(route, resolved, setup)
    changed = in_school(staged, lies, operation, school)
    route = route.model_copy(update={"operations": [changed if o.id == operation_id else o for o in route.operations]})
    return route.model_copy(update={"bench_steps": _bench_steps(route, resolved, changed)}) if route.piece.outline.id in operation.features else route


def move_tab(route: Route, operation_id: str, number: int, x_mm: float, y_mm: float) -> Route:
    """Return the route with a tab moved to the place of the rim nearest to a point of the piece.

    Args:
        number: counted from 0; one more than there are adds a tab like the last.

    Raises:
        InputError: no such operation or tab.
    """
    resolved = resolve(route)
    operation = _profile(route, resolved, operation_id)
    if not 0 <= number <= len(operation.tabs) or (number == len(operation.tabs) and (not operation.tabs or number >= 40)):
        raise InputError(f"{operation.name} has {len(operation.tabs)} tabs.", where=operation_id)
    frame = frame_of(route.setup(operation.setup), resolved.thickness_mm)
    x, y, _ = frame.point(x_mm, y_mm, 0.0)
    _, lies = staged_for(route, resolved, route.setup(operation.setup))
    at = round(nearest_part(_part(lies, operation), x, y), 5)
    tabs = list(operation.tabs)
    moved = tabs[min(number, len(tabs) - 1)].model_copy(update={"at": at % 1.0})
    tabs[number: number + 1] = [moved]
    told = [*operation.told, *([] if "tabs" in operation.told else ["tabs"])]
    changed = operation.model_copy(update={"tabs": tabs, "told": told})
    return route.model_copy(update={"operations": [changed if o.id == operation_id else o for o in route.operations]})


def tab_places(route: Route, operation: Operation) -> list[tuple[float, float]]:
    """Return where the tabs of a profile stand, in the piece's frame, mm."""
    resolved = resolve(route)
    if operation.kind is not OperationKind.PROFILE or not operation.tabs or operation.features[0] not in resolved.solids:
        return []
    setup = route.setup(operation.setup)
    frame = frame_of(setup, resolved.thickness_mm)
    _, lies = staged_for(route, resolved, setup)
    rim = _part(lies, operation).exterior
    points = [rim.interpolate(t.at, normalized=True) for t in operation.tabs]
    return [frame.point(p.x, p.y, 0.0)[:2] for p in points]


def in_school(staged: Route, lies: Resolved, operation: Operation, school: School) -> Operation:
    """Return a profile operation cut another way, in its setup's frame."""
    fig = figures()["outline"]
    if school is School.TABS:
        return operation.model_copy(update={"skin_mm": 0.0, "groove_mm": None}) if operation.tabs else with_proposed_tabs(staged, lies, operation)
    if school is School.SKIN:
        gone = taken_below(lies)
        why = f"{mm(fig['skin_mm']):g} left all round instead of tabs" + (
            f", above the {mm(gone):g} that the edge of the other face took" if gone else ""
        )
        return operation.model_copy(update={"skin_mm": fig["skin_mm"] + gone, "groove_mm": None, "tabs": [], "reasons": {**operation.reasons, "skin_mm": why}})
    thick = staged.blank.piece_mm
    deep = round(max(fig["groove_part"] * thick, figures()["edges"]["bearing_mm"] + fig["groove_over_bearing_mm"]), 1)
    deep = min(deep, round(0.8 * thick, 1))
    why = (
        f"{fig['groove_part']:g} of the thickness, and wall enough for a bearing of "
        f"{mm(figures()['edges']['bearing_mm']):g}"
    )
    return operation.model_copy(update={"groove_mm": deep, "skin_mm": 0.0, "tabs": [], "reasons": {**operation.reasons, "groove_mm": why}})


def prices(staged: Route, lies: Resolved, operation: Operation) -> list[Price]:
    """Return what each school of an outline costs: machine minutes from its own toolpath, bench minutes from figures.outline.

    Args:
        staged: the setup's route with its operations, in its frame. lies: the piece's geometry in that frame.
    """
    out = []
    for school in School:
        changed = in_school(staged, lies, operation, school)
        route = staged.model_copy(update={"operations": [changed if o.id == operation.id else o for o in staged.operations]})
        made = make_toolpath(route, lies, changed)
        steps = bench_work(route, lies, changed)
        out.append(Price(school, float(move_times(made.path, staged.machine).sum()) / 60, sum(s.minutes for s in steps), "; ".join(s.name for s in steps)))
    return out


def bench_work(route: Route, lies: Resolved, operation: Operation) -> list[BenchStep]:
    """Return the bench steps a profile asks for afterwards."""
    fig, minutes = figures()["outline"], figures()["minutes"]
    metres = _part(lies, operation).exterior.length / 1000
    if operation.school is School.TABS:
        count = len(operation.tabs)
        return [BenchStep(id="tabs", name="Saw the tabs, trim flush", minutes=round(count * (minutes["cut_tab"] + fig["sand_tab_min"]), 1), after=operation.id, kind=BenchKind.TRIM)]
    if operation.school is School.SKIN:
        return [BenchStep(id="tabs", name="Cut the skin, scrape the edge", minutes=round(max(1.0, metres * fig["skin_min_m"]), 1), after=operation.id, kind=BenchKind.TRIM)]
    goes = trim_goes(route, operation)
    note = (
        f"Saw {mm(fig['saw_mm']):g} outside the groove; keep the blade off its wall. Then the bearing runs on the "
        f"groove's wall"
        + (
            f"; the bit reaches {mm(route.choices.trim_bit_mm):g}, so in {goes} goes, each along what the one "
            f"before trimmed."
            if goes and goes > 1 and route.choices.trim_bit_mm
            else "."
        )
    )
    return [BenchStep(id="outline_saw", name="Saw outside the groove", minutes=round(max(2.0, metres * fig["saw_min_m"]), 1), after=operation.id, kind=BenchKind.TRIM, note=note),
            BenchStep(id="outline_trim", name="Trim with a bearing bit", minutes=round(max(2.0, metres * fig["trim_min_m"]) * (goes or 1), 1), after=operation.id, kind=BenchKind.TRIM, note=note)]


def trim_goes(route: Route, operation: Operation) -> int | None:
    """Return in how many goes the bearing bit trims what the groove left; None where its length was not told."""
    bit = route.choices.trim_bit_mm
    if bit is None or operation.groove_mm is None:
        return None
    return max(1, math.ceil((route.blank.piece_mm - operation.groove_mm) / bit - 1e-9))


def _bench_steps(route: Route, resolved: Resolved, operation: Operation) -> list[BenchStep]:
    """Return the route's bench steps with those of the outline replaced, at the place of the first of them."""
    new = bench_work(route, resolved, operation)
    kept = [s for s in route.bench_steps if s.id not in STEP_IDS]
    at = next((k for k, s in enumerate(route.bench_steps) if s.id in STEP_IDS), len(route.bench_steps))
    at = len([s for s in route.bench_steps[:at] if s.id not in STEP_IDS])
    return [*kept[:at], *new, *kept[at:]]


def _part(lies: Resolved, operation: Operation) -> Polygon:
    """Return the largest polygon of what a profile goes round."""
    return polygons(lies.solid(operation.features[0]).region)[0]


def _profile(route: Route, resolved: Resolved, operation_id: str) -> Operation:
    operation = route.operation(operation_id)
    if operation is None or operation.kind is not OperationKind.PROFILE or operation.features[0] not in resolved.solids:
        raise InputError("Only an operation along a profile can be cut so.", where=operation_id)
    through = resolved.solid(operation.features[0]).floor_mm is None and operation.down_to_mm is None
    if not through or operation.side is Side.ON:
        raise InputError(f"{operation.name} does not go through; nothing comes free there.", where=operation_id)
    return operation
