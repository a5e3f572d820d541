"""report.json and wood/: what an independent simulator needs to repeat the proof from the files alone."""

from __future__ import annotations

import io
import json
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from ..core.cutting.mechanics import chip_load_window
from ..core.data import figures
from ..core.fretboard.broken import Work, broken_bit
from ..core.gluing import blank_at
from ..core.heights.field import Grid
from ..core.heights.kernels import BELOW, VOLUME, volume_left
from ..core.holding.datums import chains, judged
from ..core.holding.nest import window_of
from ..core.holding.vacuum import vacuum_bar
from ..core.instrument.balance import layers_of, mean_density
from ..core.motion.spent import spent
from ..core.operations.base import work_for
from ..core.programs.ledger import ledger
from ..core.programs.readback import ReadBack
from ..core.programs.writer import Program
from ..core.proving.corners import Corners
from ..core.proving.held import HeldPiece, held_pieces
from ..core.proving.holds import Hold, holds
from ..core.proving.prove import Proof
from ..core.proving.ridges import Cost, ridges
from ..core.proving.rules_holds import toward
from ..core.proving.rules_measuring import resting
from ..core.proving.rules_tear_out import summary
from ..core.proving.simulate import Simulation, Step, handwork_minutes
from ..core.proving.spans import spacers, support_profile
from ..core.proving.thickness import ThinPlace, thin_places
from ..core.route import Operation, content_hash
from ..core.sequence.outline import prices, tab_places
from ..core.sequence.pair import last_bits
from ..core.sequence.rest import splits
from ..core.sequence.rim import leaves_below, rim_bits, rim_depth_mm
from ..core.traveller import steps_after
from ..core.vocabulary import HardwareKind, OperationKind
from .route_file import write_safely
from .view import Keep, make_anew

Z_SCALE_MM = 0.001


def report(proof: Proof, programs: list[Program], back: ReadBack | None, keep: Keep = make_anew) -> dict[str, Any]:
    """Return the report of a proof as plain data; docs/formats/report.md describes it. keep: gives back what was made for a key before, or makes it."""
    sim, by_setup = proof.simulation, {s.setup.id: s for s in proof.simulations}
    return {
        "format": "birch-report/1", "job": sim.route.job, "piece": sim.route.piece.name, "revision": content_hash(sim.whole),
        "status": "computed, not proven: proven means cut in this shop, with a record",
        "totals": totals(proof), "setups": [_setup(s, keep) for s in proof.simulations], "operations": [{**_operation(s, k, keep), "hold": _hold(s, h)} for s in proof.simulations for k, h in enumerate(holds(s))],
        "findings": [f.model_dump(mode="json") for f in proof.findings],
        "thin": [{"thick_mm": round(t.thick_mm, 3), "x_mm": t.x_mm, "y_mm": t.y_mm, "features": t.features}
                 for t in thin(proof.simulations, keep)],
        "broken_bit": _broken_bit(proof),
        "read_back": None if back is None else {
            "findings": [f.model_dump(mode="json") for f in back.findings], "digest": back.digest,
            "machine_s": round(back.machine_s, 3), "greatest_difference_mm": round(back.greatest_difference_mm, 5)},
        "machine": {k: v for k, v in sim.route.machine.model_dump(mode="json").items() if k != "dialect"},
        "programs": [_program(by_setup[p.setup], p) for p in programs],
    }


def _broken_bit(proof: Proof) -> dict[str, float] | None:
    """Return what a slot bit that breaks costs, in minutes; None where no slots are cut."""
    route = proof.simulation.whole
    minutes = {
        s.operation.id: s.minutes + handwork_minutes(s, k, sim.index)
        for sim in proof.simulations for k, s in enumerate(sim.steps)
    }

    def at_bench(after: str | None) -> list[Work]:
        return [Work((), s.minutes) for s in steps_after(route, after) if not s.wait]

    order = at_bench(None)
    for one in route.operations:
        order += [Work(tuple(one.features), minutes.get(one.id, 0.0)), *at_bench(one.id)]
    found = broken_bit(order)
    return None if found is None else {k: round(v, 1) for k, v in asdict(found).items()}


def thin(simulations: list[Simulation], keep: Keep) -> list[ThinPlace]:
    """Return the thinnest floors at the end, found once for the same wood."""
    return keep(f"thin {' '.join(s.wood_key for s in simulations)}", lambda: thin_places(simulations[-1]))


def corners_data(corners: Corners) -> dict[str, Any]:
    """Return the proof at the corners of the tolerance as plain data, the corner that breaks first in front."""
    return {"thinnest_mm": corners.thinnest_mm, "thickest_mm": corners.thickest_mm, "zero_mm": corners.zero_mm, "measured": corners.measured, "corners": [
        {"id": r.corner.id, "name": r.corner.name, "thicker_mm": round(r.corner.thicker_mm, 4), "zero_mm": r.corner.zero_mm, "holds_to": r.holds_to,
         "findings": [f.model_dump(mode="json") for f in r.findings]} for r in corners.results]}


def _setup(sim: Simulation, keep: Keep) -> dict[str, Any]:
    """Return one setup: how it lies, its minutes, and what holds each piece at its end."""
    pieces = keep(f"held {sim.wood_key} {[h.model_dump_json() for h in sim.setup.hardware]}", lambda: held_pieces(sim))
    chain = next(c for c in chains(sim.whole) if c.setup == sim.setup.id)
    return {"id": sim.setup.id, "name": sim.setup.name, "face_up": sim.up.value, "turned_about": None if sim.frame.about is None else sim.frame.about.value,
            "machine_min": round(sum(s.minutes for s in sim.steps), 3), "operations": [s.operation.id for s in sim.steps],
            "ledger": [{"when": e.when, "thick_mm": round(e.thick_mm, 3), "piece_mm": round(e.piece_mm, 3), "face_over_zero_mm": round(e.face_over_zero_mm, 3)} for e in ledger([sim])],
            "chain": {"plan_mm": round(chain.plan_mm, 3), "z_mm": round(chain.z_mm, 3), "links": [{"what": k.what, "by": k.by, "off_mm": round(k.off_mm, 3), "source": k.source} for k in chain.links]},
            "supports": {h.id: [[round(a, 2), round(z, 3)] for a, z in support_profile(sim, h)] for h in sim.setup.hardware if h.kind is HardwareKind.SPACER and h.shaped},
            "nest": _nest(sim), "vacuum": {h.id: round(vacuum_bar(h, sim.route.machine.pump), 3) for h in sim.setup.hardware if h.kind is HardwareKind.VACUUM},
            "spacers": {k: round(v, 2) for k, v in spacers(sim).items()},
            "pair": None if (pair := sim.whole.setup(sim.setup.id).test_pair) is None else {k: round(v, 5) for k, v in asdict(judged(pair)).items()},
            "pieces": _pieces(sim, pieces)}


def _pieces(sim: Simulation, pieces: list[HeldPiece]) -> list[dict[str, Any]]:
    return [{"name": p.name, "cm2": round(p.area_mm2 / 100, 2), "kg": round(p.kg, 4), "held": p.words, "loose": p.is_loose, "x_mm": round(x, 1), "y_mm": round(y, 1)}
            for p in pieces for x, y, _ in [sim.frame.point(p.x_mm, p.y_mm, 0.0)]]


def _parted(sim: Simulation, index: int, keep: Keep) -> list[dict[str, Any]] | None:
    """Return what the wood has come to after a step that goes through it, and what holds each; None after any other and after a setup's last, of which the setup tells."""
    step = sim.steps[index]
    if index == len(sim.steps) - 1 or step.operation.kind is OperationKind.DRILL or step.metrics[:, BELOW].max(initial=0.0) <= 0:
        return None
    found = keep(f"held {step.wood_id} {sim.index} {[h.model_dump_json() for h in sim.setup.hardware]} {[o.model_dump_json(include={'tabs', 'skin_mm', 'school'}) for o in sim.route.operations]}", lambda: held_pieces(replace(sim, steps=sim.steps[: index + 1])))
    return _pieces(sim, found) if len(found) > 1 else None


def _nest(sim: Simulation) -> dict[str, Any] | None:
    """Return the window of a setup's nest in the piece's frame, and the tips that ask for relief."""
    if sim.setup.nest is None:
        return None
    window = window_of(sim.resolved.outline, sim.setup.nest)
    return {"ring": [[round(v, 2) for v in sim.frame.point(x, y, 0.0)[:2]] for x, y in window.region.exterior.simplify(0.05).coords], "tips": [[round(v, 2) for v in (*sim.frame.point(x, y, 0.0)[:2], out)] for x, y, out in window.tips]}


def totals(proof: Proof) -> dict[str, Any]:
    """Return minutes, weight and volumes of the whole route."""
    first, last = proof.simulations[0], proof.simulations[-1]
    blank = first.whole.blank
    density = mean_density(first.whole)
    start = volume_left(first.blank_top, first.bottom, first.grid.cell_mm)
    end = start - sum(s.removed_mm3 for s in proof.steps)
    from ..core.heights.raster import mask_of
    top, bottom = last.in_piece
    inside = mask_of(last.whole_resolved.outline, last.frame.grid(last.grid))
    piece_kg = 1e-9 * sum(
        d * volume_left(
            np.where(inside, np.minimum(top, z), bottom), np.maximum(bottom, under), first.grid.cell_mm
        )
        for d, z, under in layers_of(first.whole)
    )
    steps = [(s, k, sim.index) for sim in proof.simulations for k, s in enumerate(sim.steps)]
    return {
        "machine_min": round(sum(s.minutes for s in proof.steps), 3),
        "hands_min": round(sum(handwork_minutes(s, k, setup) for s, k, setup in steps), 2),
        "bench_min": round(sum(b.minutes for b in first.whole.bench_steps if not b.wait), 2),
        "bit_changes": sum(s.bit_changes for s in proof.steps), "blank_kg": round(start * density * 1e-9, 4),
        "left_on_bed_kg": round(end * density * 1e-9, 4), "piece_kg": round(piece_kg, 4),
        "density_kg_m3": round(density, 1), "density_from": "weighed" if blank.weighed_kg else "wood table",
    }


def _chip_window(step: Step) -> tuple[float, float] | None:
    """Return the least and greatest chip load that suit bit and wood, mm; a drill has none."""
    if step.operation.kind is OperationKind.DRILL:
        return None
    window = chip_load_window(step.bit, step.species)
    return round(window.careful, 4), round(window.bold, 4)


def _operation(sim: Simulation, index: int, keep: Keep) -> dict[str, Any]:
    step = sim.steps[index]
    op = step.operation
    return {
        "id": op.id, "name": op.name, "kind": op.kind.value, "features": op.features, "bit": op.bit, "setup": op.setup,
        "settings": op.settings.model_dump(mode="json"), "direction": op.direction.value, "entry": op.entry.value,
        "machine_min": round(step.minutes, 4), "hands_min": round(handwork_minutes(step, index, sim.index), 2),
        "alike": 1 + len(sim.setup.more_at), "moves": len(step.path),
        "cut_length_mm": round(step.path.cut_length_mm(), 1),
        "removed_mm3": round(step.removed_mm3, 1),
        "bit_change": step.bit_changes, "touch_off_before": op.touch_off_before, "passes": step.passes,
        "force_n": round(step.load.force_n, 2), "power_w": round(step.load.power_w, 1), "bend_mm": round(step.load.bend_mm, 4),
        "chip_load_mm": round(step.load.chip_load_mm, 4),
        "chip_window_mm": _chip_window(step),
        "mean_chip_mm": round(step.load.mean_chip_mm, 4),
        "depth_met_mm": round(step.deepest_mm, 3), "side_engagement_mm": round(step.widest_mm, 3),
        "finish": None if step.finish_load is None else {
            "depth_met_mm": round(step.finish_deepest_mm, 3), "side_engagement_mm": round(step.finish_widest_mm, 3),
            "force_n": round(step.finish_load.force_n, 2), "power_w": round(step.finish_load.power_w, 1), "bend_mm": round(step.finish_load.bend_mm, 4)},
        "bend_most_mm": figures()["bend"]["rough_mm"], "rests_on": resting(sim, op.features), "species": step.species.id,
        "pieces": _parted(sim, index, keep), "spent": _spent(sim, step), "tear": keep(f"tear {op.id} {sim.motion_key}", lambda: summary(sim, step)), "reasons": op.reasons, "told": op.told, **(_outline(sim, step, keep) if op.kind is OperationKind.PROFILE else {}),
        **(_pocket(sim, step, keep) if op.kind is OperationKind.POCKET else {}),
        **({"ridges": _ridges(sim, step, keep)} if op.kind is OperationKind.SURFACE_FINISH else {}),
    }


def _hold(sim: Simulation, hold: Hold | None) -> dict[str, Any] | None:
    """Return how one operation is held; directions are the setup's, from its +x, the place the piece's."""
    if hold is None:
        return None
    return {"pulls_n": round(hold.pulls_n, 1), "lifts": round(hold.lifts, 4), "holds_n": [round(v, 1) for v in hold.holds_n], "least_n": round(hold.least_n, 1), "factor": round(hold.factor, 3), "needs": hold.needs,
            "worst_deg": hold.worst_deg, "toward": toward(sim, hold.worst_deg), "place": [round(v, 2) for v in sim.frame.point(*hold.place)], "parts": hold.parts, "joined": hold.joined}


def _ridges(sim: Simulation, step: Step, keep: Keep) -> dict[str, Any] | None:
    """Return the ridges a finish leaves, as measured in the wood, and what other stepovers would cost, in minutes."""
    found = keep(f"ridges {step.operation.id} {sim.wood_key} {step.minutes:.4f}", lambda: ridges(sim, step))
    if found is None:
        return None

    def cost(c: Cost) -> list[float]:
        return [c.stepover_mm, round(c.machine_min, 3), round(c.sanding_min, 3)]
    return {"median_mm": round(found.median_mm, 4), "p95_mm": round(found.p95_mm, 4), "most_mm": round(found.most_mm, 4), "allowed_mm": found.allowed_mm, "area_mm2": round(found.area_mm2, 1),
            "edges_mm": found.edges_mm, "shares": [round(s, 4) for s in found.shares], "costs": [cost(c) for c in found.costs], "best": cost(found.best), "cheapest": cost(found.cheapest), "now": cost(found.now)}


def _outline(sim: Simulation, step: Step, keep: Keep) -> dict[str, Any]:
    """Return where the tabs of a profile stand in the piece's frame, and what each school of cutting it would cost."""
    op = step.operation
    out: dict[str, Any] = {"tab_places": [[round(v, 3) for v in p] for p in tab_places(sim.whole, op)]}
    if op.down_to_mm is not None:
        return out
    out["rim"] = _rim(sim, op)
    if op.kind is OperationKind.PROFILE and op.finishes is None:
        out["last_bits"] = _last_bits(sim, op, op.groove_mm or sim.whole.blank.piece_mm)
    if sim.whole.piece.outline.id in op.features and op.features[0] in sim.resolved.solids:
        key = content_hash({"op": op.model_dump(mode="json"), "rim": sim.resolved.outline.wkb_hex, "machine": sim.route.machine.model_dump(mode="json"), "bit": step.bit.model_dump(mode="json"),
                            "blank": sim.route.blank.model_dump(mode="json"), "trim": sim.route.choices.trim_bit_mm, "start": step.path.points[0].tolist()})
        found = keep(f"schools {key}", lambda: prices(sim.route, sim.resolved, op))
        out["schools"] = [{"school": p.school.value, "machine_min": round(p.machine_min, 2), "bench_min": round(p.bench_min, 1), "words": p.words} for p in found]
    return out


def _last_bits(sim: Simulation, op: Operation, deep_mm: float) -> list[dict[str, Any]]:
    return [asdict(b) for b in last_bits(sim.whole, op, deep_mm)]


def _pocket(sim: Simulation, step: Step, keep: Keep) -> dict[str, Any]:
    """Return which bits could clear a pocket, cut its rim and take its last pass."""
    op = step.operation
    solids = [sim.resolved.solids[f] for f in op.features if f in sim.resolved.solids]
    if not solids:
        return {}
    deep_mm = max(s.deep_mm(sim.resolved.thickness_mm) for s in solids)
    return {
        "splits": [] if op.finishes else _splits(sim, step, keep), "rim": _rim(sim, op),
        "last_bits": _last_bits(sim, op, deep_mm),
    }


def _splits(sim: Simulation, step: Step, keep: Keep) -> list[dict[str, Any]]:
    """Return what a pocket costs with its bit alone and with wider ones before it; none where it goes before another itself."""
    op = step.operation
    if any(o.rest and o is not op and set(o.features) & set(op.features) for o in sim.route.operations) and not op.rest:
        return []
    solids = [sim.resolved.solids[f] for f in op.features if f in sim.resolved.solids]
    key = content_hash({"op": op.model_dump(mode="json"), "order": [(o.id, o.bit, o.kind.value) for o in sim.route.operations], "regions": [s.region.wkb_hex for s in solids], "keys": [[s.floor_mm, s.surface.key if s.surface else ""] for s in solids],
                        "start": work_for(sim.route, sim.resolved, op).start_mm, "machine": sim.route.machine.model_dump(mode="json"), "bits": [b.model_dump(mode="json") for b in sim.route.bits], "blank": sim.route.blank.model_dump(mode="json")})
    found = keep(f"splits {key}", lambda: splits(sim.route, sim.resolved, op))
    return [{"first": s.first, "first_min": round(s.first_min, 2), "then_min": round(s.then_min, 2), "changes": s.changes, "minutes": round(s.minutes, 2)} for s in found]


def _rim(sim: Simulation, op: Operation) -> dict[str, Any] | None:
    """Return which bits could cut a pocket's rim first, and how deep; None where that is no choice."""
    bits, deep = rim_bits(sim.route, op), rim_depth_mm(sim.route)
    if not bits or op.along_wall or op.rest or op.down_to_mm is not None or not leaves_below(sim.resolved, op, deep):
        return None
    return {"bits": [b.id for b in bits], "down_to_mm": deep}


def _spent(sim: Simulation, step: Step) -> dict[str, Any]:
    """Return what the time of an operation goes on, in minutes."""
    out = spent(step.path, step.times_s, step.metrics[:, VOLUME], sim.route.machine)
    return {**{k.removesuffix("_s") + "_min": round(v / 60, 3) for k, v in asdict(out).items()}, "limit": out.limit}


def _program(sim: Simulation, program: Program) -> dict[str, Any]:
    setup, frame = sim.whole.setup(sim.setup.id), sim.frame
    blank = blank_at(sim.whole, setup)  # without what is glued on later
    (sx, sy), sz = frame.signs, 1 if frame.about is None else -1
    high, low = sim.route.blank.top_mm, sim.route.blank.bottom_mm
    return {
        "file": program.name, "setup": setup.id, "face": sim.up.value, "operations": program.operations, "machine_min": round(program.minutes, 4),
        "units": "inch" if sim.route.machine.dialect.inch else "mm",
        "to_piece": {"rotation": [[int(sx), 0, 0], [0, int(sy), 0], [0, 0, sz]], "translation_mm": list(frame.point(*program.origin_mm)),
                     "meaning": "piece = rotation * program + translation, program coordinates in mm"},
        "stock_box_mm": {"min": [blank.x_mm, blank.y_mm, blank.bottom_mm], "max": [blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm, blank.top_mm]},
        "blank_on_bed_mm": list(setup.blank_at_mm),
        "hardware": [{**h.model_dump(mode="json"), "top_z_mm": frame.point(0, 0, high + h.top_mm)[2], "bottom_z_mm": frame.point(0, 0, low)[2]} for h in setup.hardware],
        "waste_board_cut_mm": sim.route.machine.waste_cut_mm,
        "bits": {str(t): {**sim.route.bit(b).model_dump(mode="json"), "nut_diameter_mm": sim.route.machine.nut_diameter_mm,
                          "nut_length_mm": sim.route.machine.nut_length_mm} for t, b in program.bits.items()},
    }


def write_wood(folder: Path, sim: Simulation) -> list[str]:
    """Write the wood after a setup in the piece's frame: top and bottom as 16-bit grayscale PNG, through cells as a mask, and a JSON that
    says how to read them. Returns the file names."""
    result, bottom = sim.in_piece
    grid = sim.frame.grid(sim.grid)
    through = result <= bottom
    under = np.where(through, np.float32(sim.whole.blank.bottom_mm), bottom)
    top = np.where(through, under, result)
    offset = float(under.min())
    name = sim.setup.id
    files = []
    for face, field in (("top", top), ("bottom", under)):
        counts = np.rint((field - offset) / Z_SCALE_MM).clip(0, 65535).astype(np.uint16)
        _save_picture(folder / f"{name}_{face}.png", counts)
        files.append(f"{name}_{face}.png")
    _save_picture(folder / f"{name}_through.png", (through * 255).astype(np.uint8))
    write_safely(folder / f"{name}.json", (json.dumps(wood_description(grid, offset, name), indent=1) + "\n").encode())
    return [*files, f"{name}_through.png", f"{name}.json"]


def _save_picture(path: Path, values: np.ndarray) -> None:
    held = io.BytesIO()
    Image.fromarray(values).save(held, "PNG")
    write_safely(path, held.getvalue())


def wood_description(grid: Grid, offset_mm: float, name: str) -> dict[str, Any]:
    """Return what a reader of the wood PNGs needs."""
    return {
        "format": "birch-wood/1", "cell_mm": grid.cell_mm, "x0_mm": grid.x0_mm + grid.cell_mm / 2, "y0_mm": grid.y0_mm + grid.cell_mm / 2,
        "nx": grid.nx, "ny": grid.ny, "z_scale_mm": Z_SCALE_MM, "z_offset_mm": offset_mm,
        "row_order": "row 0 is the lowest y, rows go up with y; column 0 is the lowest x",
        "meaning": "x = x0_mm + column * cell_mm, y = y0_mm + row * cell_mm (cell centres, piece's frame); z = z_offset_mm + value * z_scale_mm",
        "files": {"top": f"{name}_top.png", "bottom": f"{name}_bottom.png", "through": f"{name}_through.png (255 where nothing is left)"},
    }
