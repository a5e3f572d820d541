"""Use case: plan a route without server or database."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from ..core.programs.readback import ReadBack, read_back_all
from ..core.programs.writer import Program, write_all
from ..core.proving.corners import prove_corners
from ..core.proving.findings import Finding
from ..core.proving.prove import Proof, prove
from ..core.quantities import Unit
from ..core.route import Route
from ..formats.report import corners_data, report, write_wood
from ..formats.route_file import route_to_text, write_safely
from ..sheets.run_sheet import run_sheet_pdf
from .bench import StepState, gates_finding, held_by


@dataclass(frozen=True)
class Release:
    """Programs that may be run, or why not. blocking: stops that stand. waiting: programs that were read back and wait
    for bench steps, with
    the steps that hold them."""

    programs: list[Program]
    back: ReadBack | None
    blocking: list[Finding]
    overridden: list[tuple[Finding, str]]
    waiting: list[tuple[Program, list[StepState]]] = field(default_factory=list)


@dataclass(frozen=True)
class Planned:
    report: dict[str, Any]
    files: list[str]
    refused: bool
    has_stops: bool


def release(proof: Proof, reasons: dict[str, str], gates: list[StepState] | None = None) -> Release:
    """Write the programs of a proof and read them back, unless a stop stands; those that an open gate stands before
    wait.

    Args:
        reasons: written reasons by code of finding; they lift a stop, but never a freed piece or a failed read-back.
        gates: bench steps that hold what comes after them and are not done.
    """
    gates = gates or []
    held = [gates_finding(gates)] if gates else []
    overridden = [
        (f, reasons[f.code]) for f in [*held, *proof.stops] if f.may_override and reasons.get(f.code, "").strip()
    ]
    lifted = {id(f) for f, _ in overridden}
    blocking = [f for f in proof.stops if id(f) not in lifted]
    if blocking or not proof.steps:
        return Release([], None, [*held, *blocking] if blocking else [], overridden)
    programs = write_all(proof.simulations, overridden)
    back = read_back_all(proof.simulations, programs)
    if back.findings:
        return Release([], back, list(back.findings), overridden)
    whole = proof.simulation.whole
    by_program = [(p, [] if held and id(held[0]) in lifted else held_by(whole, p.operations, gates)) for p in programs]
    free, waiting = [p for p, steps in by_program if not steps], [(p, steps) for p, steps in by_program if steps]
    return Release(free, back, [] if free else held, overridden, waiting)


def plan_to_folder(
    route: Route, folder: Path, reasons: dict[str, str], *, corners: bool = False, unit: Unit = Unit.MM
) -> Planned:
    """Prove a route (where asked at the corners of the tolerance as well) and write programs, report.json, wood/, the run sheet and the route file into a folder."""
    proof = prove(route)
    out = release(proof, reasons)
    data = {**report(proof, out.programs, out.back), "corners": corners_data(prove_corners(route)) if corners else None}
    files: list[str] = []
    for program in out.programs:
        write_safely(folder / program.name, program.text.encode("ascii"))
        files.append(program.name)
    write_safely(folder / "report.json", (json.dumps(data, indent=1, ensure_ascii=False) + "\n").encode())
    write_safely(folder / "route.birch.json", route_to_text(route).encode())
    write_safely(folder / "run_sheet.pdf", run_sheet_pdf(proof, out.programs, unit))
    files += ["report.json", "route.birch.json", "run_sheet.pdf"]
    files += [f"wood/{name}" for sim in proof.simulations for name in write_wood(folder / "wood", sim)]
    return Planned(data, files, bool(out.blocking), bool(proof.stops))
