"""Routes changed at random, seeded: the ground on which the product and the second simulator are compared."""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.errors import BirchError
from birch_route.core.programs.writer import write_all
from birch_route.core.proving.prove import Proof, prove
from birch_route.core.route import Route
from birch_route.formats.report import report, write_wood


def change_at_random(route: Route, rng: random.Random) -> Route | None:
    """Return a route after one to four random edits, None where they make it unusable."""
    edits = [one for _ in range(rng.randint(1, 4)) for one in rng.choice(CHANGES)(route, rng)]
    try:
        return apply_edits(route, [read_edit(e) for e in edits])
    except BirchError:
        return None


def put(path: str, value: Any) -> dict[str, Any]:
    return {"do": "set", "path": path, "value": value}


def _operation(route: Route, rng: random.Random) -> str:
    return f"operations.{rng.choice(route.operations).id}"


def _a_bit(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    bit = rng.choice(route.bits)
    cutting = round(bit.cutting_length_mm * rng.uniform(0.4, 1.2), 1)
    return [put(f"bits.{bit.id}.stickout_mm", round(cutting * rng.uniform(1.0, 1.6) + 1, 1)), put(f"bits.{bit.id}.cutting_length_mm", cutting)]


def _a_screw(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    blank, setup = route.blank, route.setups[0]
    hardware = {"id": "r1", "kind": "screw", "x_mm": round(blank.x_mm + blank.length_mm * rng.uniform(0.02, 0.98), 1),
                "y_mm": round(blank.y_mm + blank.width_mm * rng.uniform(0.02, 0.98), 1), "top_mm": round(rng.uniform(-4, 8), 1)}
    return [{"do": "put_hardware", "setup": setup.id, "hardware": hardware}]


def _a_clamp(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    blank, setup = route.blank, route.setups[0]
    side, t = rng.choice([(-90, 0.0), (90, 1.0)]), rng.uniform(0.1, 0.9)
    hardware = {"id": "r2", "kind": "edge_clamp", "x_mm": round(blank.x_mm + blank.length_mm * t, 1), "y_mm": blank.y_mm + blank.width_mm * side[1],
                "angle_deg": side[0], "top_mm": round(rng.uniform(-blank.thickness_mm / 2, 30), 1)}
    return [{"do": "put_hardware", "setup": setup.id, "hardware": hardware}]


def _less_holding(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    setup = route.setups[0]
    return [{"do": "remove_hardware", "setup": setup.id, "hardware": rng.choice(setup.hardware).id}]


def _depth(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    typed = [f for f in route.piece.features if f.kind != "outline" and f.depth_mm is not None and getattr(f, "depth_from", None) is None]
    if not typed:
        return []
    feature = rng.choice(typed)
    return [put(f"piece.features.{feature.id}.depth_mm", round(feature.depth_mm * rng.uniform(0.5, 1.5), 2))]


def _place(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    holes = [f for f in route.piece.features if f.kind == "hole"]
    if not holes:
        return []
    hole = rng.choice(holes)
    return [put(f"piece.features.{hole.id}.points", [[round(x + rng.uniform(-9, 9), 2), round(y + rng.uniform(-9, 9), 2)] for x, y in hole.points])]


def _strategy(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    op = _operation(route, rng)
    return [rng.choice([
        put(f"{op}.entry", rng.choice(["helix", "ramp", "plunge"])), put(f"{op}.direction", rng.choice(["climb", "conventional"])),
        put(f"{op}.finish_pass", rng.random() < 0.5), put(f"{op}.finish_allowance_mm", round(rng.uniform(0, 0.8), 2)), put(f"{op}.ramp_deg", round(rng.uniform(1, 20), 1)),
        put(f"{op}.stock_to_leave_mm", round(rng.uniform(-0.3, 0.6), 2)), put(f"{op}.overcut_mm", round(rng.uniform(0, 1.2), 2)),
        put(f"{op}.settings.depth_of_cut_mm", round(rng.uniform(0.5, 9), 2)), put(f"{op}.settings.stepover_mm", round(rng.uniform(0.5, 4), 2))])]


def _tabs(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    profiles = [o for o in route.operations if o.tabs]
    if not profiles:
        return []
    op = rng.choice(profiles)
    tabs = [{"at": round(rng.random(), 3), "width_mm": round(rng.uniform(1, 12), 1), "height_mm": round(rng.uniform(0.3, 6), 1)} for _ in range(rng.randint(0, 4))]
    return [put(f"operations.{op.id}.tabs", tabs)]


def _order(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    return [{"do": "move_operation", "operation": rng.choice(route.operations).id, "to": rng.randrange(len(route.operations))}]


def _remove(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    return [{"do": "remove_operation", "operation": rng.choice(route.operations).id}]


def _other_bit(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    return [put(f"{_operation(route, rng)}.bit", rng.choice(route.bits).id)]


def _setup(route: Route, rng: random.Random) -> list[dict[str, Any]]:
    setup = f"setups.{route.setups[0].id}"
    return [rng.choice([
        put(f"{setup}.clearance_mm", round(rng.uniform(0.3, 20), 1)), put(f"{setup}.blank_at_mm", [rng.randint(0, 500), rng.randint(0, 300)]),
        put(f"{setup}.park_mm", [rng.randint(-40, 200), rng.randint(-40, 100)]), put(f"{setup}.zero.z", rng.choice(["bed", "stock_top"])),
        put(f"{setup}.zero.xy", rng.choice(["lower_left", "centre"])), put("blank.thickness_mm", round(route.blank.thickness_mm * rng.uniform(0.8, 1.15), 2)),
        put("blank.skim_mm", round(rng.uniform(0, 1.5), 2)), put("machine.dialect.inch", rng.random() < 0.5), put("machine.dialect.arcs", rng.random() < 0.5)])]


CHANGES = [_a_bit, _a_screw, _a_clamp, _less_holding, _depth, _place, _strategy, _strategy, _tabs, _order, _remove, _other_bit, _setup, _setup]


def write_plan(route: Route, folder: Path) -> Proof:
    """Write what `birch plan` writes for the second simulator, whatever stops stand."""
    proof = prove(route)
    programs = write_all(proof.simulations)
    folder.mkdir(parents=True, exist_ok=True)
    for program in programs:
        (folder / program.name).write_text(program.text)
    (folder / "report.json").write_text(json.dumps(report(proof, programs, None)))
    for sim in proof.simulations:
        write_wood(folder / "wood", sim)
    return proof
