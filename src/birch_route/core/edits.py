"""Edits: small commands that make the next revision of a route. The same ones serve screen, API, command line and
cures."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .edit_kinds import (
    LISTS,
    WORDS,
    AddChambers,
    AddFinish,
    AddPart,
    AddTestHoles,
    ChooseClearing,
    ChooseRest,
    ChooseRim,
    ChooseSchool,
    CleanRim,
    Cover,
    Creep,
    DropReading,
    GlueBetween,
    KeepReading,
    MachineEdge,
    Mirror,
    MoveOperation,
    MoveTab,
    PlanBench,
    Propose,
    ProposeFor,
    PutHardware,
    PutItem,
    RemoveHardware,
    RemoveItem,
    RemoveOperation,
    RemovePart,
    RemoveSetup,
    RenewSettings,
    RestAndSkim,
    Set,
    StepDown,
    TurnOver,
    describe,
    read_edit,
)
from .errors import BirchError, InfeasibleError, InputError
from .gluing import glued_layers, is_before
from .instrument.chambers import propose_chambers
from .instrument.mirrored import mirror_document
from .instrument.parts import PartOnHand, take_reading
from .instrument.resolve import resolve
from .materials.bench_work import with_blank_steps
from .route import Route, read_route
from .sequence.caps import cover, glue_between
from .sequence.clearing import choose_clearing
from .sequence.creep import creep
from .sequence.edges import machine_edge
from .sequence.outline import choose_school, move_tab
from .sequence.propose import propose_for, propose_route, staged_for, with_touch_offs
from .sequence.renew import renew_settings
from .sequence.rest import choose_rest
from .sequence.rim import choose_rim, clean_rim, clean_rims
from .sequence.surfaces import add_finish
from .sequence.test_holes import add_test_holes
from .sequence.turning import over_pins, rest_and_skim, turn_over
from .units import parse_length
from .vocabulary import Face, OperationKind

__all__ = ["apply_edits", "describe", "read_edit"]


def apply_edits(route: Route, edits: list[Any]) -> Route:
    """Return the route after edits, checked as a whole at the end.

    Raises:
        InputError: an edit names what is not there, or leaves the route unusable.
    """
    data = route.model_dump(mode="json")
    before = {f for o in route.operations for f in o.features}
    for edit in edits:
        data = _apply(data, edit)
        if isinstance(edit, PutItem | RemoveItem | Set) and data["operations"]:
            data = _without_lost(data, before)
    changed = read_route(_turns_last(data))
    return _with_what_waited(route, changed) if any(isinstance(e, KeepReading | Set) for e in edits) else changed


def _with_what_waited(before: Route, route: Route) -> Route:
    """Return the route with operations for drawn features that waited for a part, and now are there."""
    had = {f.id for f in before.features}
    waited = [f for f in before.piece.features if f.id not in had]
    there = {f.id for f in route.features}
    for feature in waited:
        if feature.id in there and not any(feature.id in o.features for o in route.operations):
            try:
                route = _WHOLE[ProposeFor](route, ProposeFor(feature=feature.id))
            except (InfeasibleError, InputError):
                continue  # the proof says that nothing makes it
    return route


def _turns_last(data: dict[str, Any]) -> dict[str, Any]:
    """Return the document with every turning over, and every gluing on, after the last operation of the setup before it."""
    if not isinstance(data["blank"], dict) or not isinstance(data["setups"], list):
        return data  # what is wrong with it is said when the whole is checked
    glued = {layer.get("glued_before") for layer in data["blank"].get("layers", [])}
    for before, setup in zip(data["setups"], data["setups"][1:], strict=False):
        last = next((o["id"] for o in reversed(data["operations"]) if o["setup"] == before["id"]), None)
        for step in data["bench_steps"]:
            on_it = setup["id"] in glued and step["id"].startswith(("cap_", "core_"))
            if (step["id"] == f"turn_{setup['id']}" or on_it) and last is not None:
                step["after"] = last
    return data


def _apply(data: dict[str, Any], edit: Any) -> dict[str, Any]:
    if isinstance(edit, Set):
        value = edit.value
        if isinstance(value, str) and edit.path.endswith("_mm"):
            value = parse_length(value, edit.unit, negative=True).mm
        _set(data, edit.path, value)
    elif isinstance(edit, KeepReading):
        part = _named(data["parts"], edit.part, "part")
        reading = take_reading(PartOnHand.model_validate(part), edit.place, edit.typed, edit.unit, edit.by, edit.at, edit.using)
        part["readings"].append(reading.model_dump(mode="json"))
    elif isinstance(edit, AddPart):
        used = {p["id"] for p in data["parts"]}
        name = next(n for n in (f"{edit.kind.value}{k or ''}" for k in range(100)) if n not in used)
        data["parts"].append({"id": name, "kind": edit.kind.value, "name": edit.name, "readings": []})
    elif isinstance(edit, RemovePart):
        _remove_part(data, edit.part)
    elif isinstance(edit, DropReading):
        part = _named(data["parts"], edit.part, "part")
        here = [k for k, r in enumerate(part["readings"]) if r["place"] == edit.place]
        if edit.index >= len(here):
            raise InputError(f"{part['name']} has only {len(here)} readings there.", where=f"{edit.part}.{edit.place}")
        del part["readings"][here[edit.index]]
    elif isinstance(edit, PutHardware):
        hardware = _named(data["setups"], edit.setup, "setup")["hardware"]
        new = edit.hardware.model_dump(mode="json")
        known = [k for k, h in enumerate(hardware) if h["id"] == new["id"]]
        if known:
            hardware[known[0]] = new
        else:
            hardware.append(new)
    elif isinstance(edit, RemoveHardware):
        hardware = _named(data["setups"], edit.setup, "setup")["hardware"]
        hardware.remove(_named(hardware, edit.hardware, "hardware"))
    elif isinstance(edit, PutItem | RemoveItem):
        _item(data, edit)
    elif isinstance(edit, PlanBench):
        steps = with_blank_steps(read_route(data).bench_steps, read_route(data).blank)
        data["bench_steps"] = [s.model_dump(mode="json") for s in steps]
    elif isinstance(edit, RemoveSetup):
        _remove_setup(data)
    elif isinstance(edit, Mirror):
        return over_pins(read_route(mirror_document(data))).model_dump(mode="json")
    elif isinstance(edit, AddChambers):
        _add_chambers(data, edit)
    elif type(edit) in _WHOLE:
        return _WHOLE[type(edit)](read_route(data), edit).model_dump(mode="json")
    elif isinstance(edit, MoveOperation):
        operation = _named(data["operations"], edit.operation, "operation")
        data["operations"].remove(operation)
        data["operations"].insert(min(edit.to, len(data["operations"])), operation)
        order = [x["id"] for x in data["setups"]]
        data["operations"].sort(key=lambda o: order.index(o["setup"]))  # a setup's operations stay together
    elif isinstance(edit, RemoveOperation):
        data["operations"].remove(_named(data["operations"], edit.operation, "operation"))
        for step in data["bench_steps"]:
            step["after"] = None if step["after"] == edit.operation else step["after"]
    return data


def _item(data: dict[str, Any], edit: Any) -> None:
    node: Any = data
    for key in LISTS[edit.list]:
        node = node[key]
    new = edit.item.get("id") if isinstance(edit, PutItem) else edit.id
    if isinstance(edit, PutItem) and not isinstance(new, str):
        raise InputError(f"{WORDS[edit.list].capitalize()} needs an id.", where=edit.list)
    known = [k for k, one in enumerate(node) if one["id"] == new]
    if isinstance(edit, PutItem):
        if known:
            node[known[0]] = {**node[known[0]], **edit.item}
        else:
            at = len(node) - 1 if edit.list == "features" and node and node[-1].get("kind") == "outline" else len(node)
            node.insert(at, edit.item)
        return
    if not known:
        raise InputError(f"There is no {edit.list.rstrip('s').replace('_', ' ')} {new} in this route.", where=edit.list)
    if edit.list == "features" and node[known[0]]["kind"] == "outline":
        raise InputError("A piece needs its outline. Draw another one instead of removing it.", where=new)
    if edit.list == "layers" and node[known[0]].get("glued_before"):
        raise InputError("This layer is glued on between setups. Let it be glued on before everything, then take it away.", where=new)
    around = next((f for f in data["piece"]["features"] if (f.get("shape") or {}).get("feature") == new), None) if edit.list == "features" else None
    if around is not None:
        raise InputError(f"{around['name']} goes round {node[known[0]]['name']}. Remove that first.", where=new)
    del node[known[0]]
    if edit.list == "features":
        for placed in data["piece"]["placements"]:
            placed["cavity"] = None if placed["cavity"] == new else placed["cavity"]
        data["piece"]["edges"] = [e for e in data["piece"]["edges"] if e["feature"] != new]


def _add_chambers(data: dict[str, Any], edit: AddChambers) -> None:
    route = read_route(data)
    found = propose_chambers(route, resolve(route), edit.face)
    if not found or (edit.number is not None and edit.number > len(found)):
        raise InputError("There is no room for a chamber that keeps its walls and floor.", where="chambers")
    used = {f.id for f in route.features}
    number = 0
    for chamber in found if edit.number is None else [found[edit.number - 1]]:
        number = next(n for n in range(number + 1, 200) if f"chamber_{n}" not in used)
        item = chamber.feature(number)
        if edit.face is Face.FRONT and glued_layers(route):
            item["covered"] = True
        data["piece"]["features"].insert(len(data["piece"]["features"]) - 1, item)


def _without_lost(data: dict[str, Any], before: set[str]) -> dict[str, Any]:
    """Return the document without operations on features that are gone: removed, or no longer following from a part that was placed. One
    whose part only waits for a reading stays; a feature that never was is left for the check of the whole to refuse.

    Args:
        before: features that operations worked on before the edits.
    """
    try:
        bare = read_route({**data, "operations": [], "bench_steps": []})
        up = {s["id"]: s["face"] for s in data["setups"]}
        faces = {f.id: None if f.kind == "outline" or f.depth_mm is None else f.face.value for f in bare.features}
        kept = []
        for op in data["operations"]:
            left = [f for f in op["features"] if f not in before or (f in faces and faces[f] in (None, up[op["setup"]])) or (f not in faces and bare.waits_for(f))]
            if op.get("edge") is not None and not any(e.id == op["edge"] and e.machined and e.face == up[op["setup"]] for e in bare.piece.edges):
                continue
            if left or not op["features"]:
                kept.append({**op, "features": left})
        gone = {o["id"] for o in data["operations"]} - {o["id"] for o in kept}
        last = kept[-1]["id"] if kept else None
        return {**data, "operations": kept, "bench_steps": [{**s, "after": last} if s.get("after") in gone else s for s in data["bench_steps"]]}
    except (BirchError, KeyError, TypeError, AttributeError):
        return data  # what is wrong with it is said when the whole is checked


def _propose_for(route: Route, feature: str) -> Route:
    resolved = resolve(route)
    if feature not in resolved.solids:
        raise InputError(f"The piece has no feature {feature}.", where="feature")
    solid = resolved.solid(feature)
    under = any(f.id == feature and getattr(f, "covered", False) for f in route.features)
    able = [s for s in route.setups if (solid.kind == "outline" or solid.floor_mm is None or s.face is solid.face) and is_before(route, s) == (under and bool(glued_layers(route)))]
    if not able:
        raise InputError(f"{solid.name} lies on the {solid.face.value}, which no setup turns up. Turn the piece over first.", where=feature)
    setup = able[-1] if solid.kind == "outline" else able[0]
    staged, lies = staged_for(route, resolved, setup)
    new = propose_for(staged, lies, lies.solid(feature))
    if not new:
        raise InputError(f"No bit of the rack can make {solid.name}. Add one that fits.", where=feature)
    used = {o.id for o in route.operations}
    new = [o if o.id not in used else o.model_copy(update={"id": f"{o.id}_{len(used)}"}) for o in new]
    outline = route.piece.outline.id
    operations: list[Any] = []
    for one in route.setups:
        here = [o for o in route.operations if o.setup == one.id]
        if one.id == setup.id:
            at = next((k for k, o in enumerate(here) if o.kind is OperationKind.PROFILE and outline in o.features), len(here))
            here = [*here[:at], *new, *here[at:]]
        operations += with_touch_offs(here)
    return route.model_copy(update={"operations": operations})


def _step_down(route: Route, edit: StepDown) -> Route:
    """Return the route with a ledge round a pocket or hole, and the operation that cuts it where a setup turns its face up."""
    base = next((f for f in route.features if f.id == edit.feature), None)
    if base is None or base.kind not in ("pocket", "hole"):
        raise InputError("A ledge goes round a pocket or a hole.", where=edit.feature)
    used = {f.id for f in route.features}
    name = next(n for n in (f"{edit.feature[:32]}_ledge{k or ''}" for k in range(100)) if n not in used)
    item = {"kind": "pocket", "id": name, "name": f"Ledge round {base.name}"[:80], "shape": {"kind": "around", "feature": base.id, "by_mm": edit.width_mm}, "depth_mm": edit.depth_mm,
            "face": base.face.value, "finish_class": edit.finish_class.value}
    data = route.model_dump(mode="json")
    data["piece"]["features"].insert(len(data["piece"]["features"]) - 1, item)
    drawn = read_route(data)
    return _propose_for(drawn, name) if any(s.face is base.face for s in route.setups) else drawn


_WHOLE: dict[type, Callable[[Route, Any], Route]] = {  # edits that make a route of a route
    TurnOver: lambda route, e: turn_over(route, e.about), Propose: lambda route, _: clean_rims(propose_route(route)), ProposeFor: lambda route, e: _propose_for(route, e.feature),
    Creep: lambda route, e: creep(route, e.operation, e.passes, e.step_mm), ChooseRest: lambda route, e: choose_rest(route, e.operation, e.first),
    ChooseClearing: lambda route, e: choose_clearing(route, e.operation, e.clearing), ChooseSchool: lambda route, e: choose_school(route, e.operation, e.school),
    AddFinish: lambda route, e: add_finish(route, e.operation, e.pattern, e.bit), GlueBetween: lambda route, e: glue_between(route, e.layer, e.between), Cover: lambda route, e: cover(route, e.feature, e.covered),
    RenewSettings: lambda route, e: renew_settings(route, e.operation), RestAndSkim: lambda route, e: rest_and_skim(route, e.setup), AddTestHoles: lambda route, e: add_test_holes(route, e.setup),
    ChooseRim: lambda route, e: choose_rim(route, e.operation, e.bit, e.down_to_mm), CleanRim: lambda route, e: clean_rim(route, e.operation) if e.operation else clean_rims(route), StepDown: _step_down,
    MachineEdge: lambda route, e: machine_edge(route, e.edge, e.by_machine), MoveTab: lambda route, e: move_tab(route, e.operation, e.number, e.x_mm, e.y_mm),
}


def _remove_setup(data: dict[str, Any]) -> None:
    if len(data["setups"]) < 2:
        raise InputError("A route needs one setup.", where="setups")
    gone = data["setups"].pop()["id"]
    lost = {o["id"] for o in data["operations"] if o["setup"] == gone}
    data["operations"] = [o for o in data["operations"] if o["setup"] != gone]
    last = data["operations"][-1]["id"] if data["operations"] else None
    data["bench_steps"] = [{**s, "after": last} if s.get("after") in lost else s for s in data["bench_steps"] if s["id"] != f"turn_{gone}"]


def _remove_part(data: dict[str, Any], part_id: str) -> None:
    part = _named(data["parts"], part_id, "part")
    for feature in data["piece"]["features"]:
        rests = (feature.get("shape") or {}).get("part"), (feature.get("depth_from") or {}).get("part"), feature.get("measured_from")
        if part_id in rests:
            raise InputError(f"{feature['name']} rests on {part['name']}. Remove that feature first, or draw its shape.", where=part_id)
    if any(p["part"] == part_id for p in data["piece"]["placements"]):
        raise InputError(f"{part['name']} stands on the layout. Take it off there first.", where=part_id)
    data["parts"].remove(part)


def _named(items: list[dict[str, Any]], name: str, what: str) -> dict[str, Any]:
    for item in items:
        if item["id"] == name:
            return item
    raise InputError(f"There is no {what} {name} in this route.", where=name)


def _set(data: dict[str, Any], path: str, value: Any) -> None:
    keys = path.split(".")
    node: Any = data
    for at, key in enumerate(keys[:-1]):
        if key == "each" and isinstance(node, list):
            for one in node:
                _set(one, ".".join(keys[at + 1:]), value)
            return
        node = _child(node, key, path)
    last = keys[-1]
    if not isinstance(node, dict) or last not in node:
        raise InputError(f"“{path}” names no field of the route.", where=path)
    node[last] = value
    if keys[0] == "operations" and (keys[2:3] == ["settings"] and len(keys) == 4 or keys[2:] == ["touch_off_before"]):
        operation = _named(data["operations"], keys[1], "operation")
        operation["told"] = sorted({*operation["told"], last})


def _child(node: Any, key: str, path: str) -> Any:
    if isinstance(node, list):
        return _named(node, key, "part of the route called")
    if isinstance(node, dict) and key in node:
        return node[key]
    raise InputError(f"“{path}” names no field of the route.", where=path)
