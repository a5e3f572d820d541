"""Rules over holding: hardware in the way, freed pieces, nothing that holds."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely

from ..data import figures
from ..heights import kernels
from ..heights.pieces import label_pieces
from ..heights.raster import mask_of
from ..holding.clearance import closest_approaches, footprint, no_go_heights
from ..quantities import cm2, mm
from ..route import Hardware
from ..sequence.propose import with_proposed_tabs
from ..vocabulary import HardwareKind, OperationKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule, rule_on_motion, rule_on_wood, set_edit
from .simulate import Simulation, Step


@rule_on_motion
def hardware_in_the_way(sim: Simulation) -> Iterator[Finding]:
    """The bit or collet nut hits hardware, or passes close to it; worst operation for each piece of hardware."""
    nut, top = sim.route.machine.nut_diameter_mm, sim.route.blank.top_mm
    found = [closest_approaches(step.path, step.bit, nut, sim.setup.hardware, top, sim.route.machine.heads) for step in sim.steps]
    for k, hardware in enumerate(sim.setup.hardware):
        seen = [(near[k], step) for near, step in zip(found, sim.steps, strict=True) if near[k] is not None]
        if not seen:
            continue
        near, step = min(seen, key=lambda s: s[0].gap_mm)
        gap = near.gap_mm
        if gap >= sim.tol.near_hardware_mm:
            continue
        name = hardware.words
        hits = gap < sim.tol.contact_mm
        text = (f"The {near.by} hits {name} at {step.operation.name}." if hits else
                f"{name} stands {mm(gap):.1f} from the {near.by} at {step.operation.name}.")
        yield finding(
            "hardware.hit" if hits else "hardware.near", text, operation=step.operation.id, hardware=hardware.id,
            place=(near.x_mm, near.y_mm, near.z_mm), cures=_move_away(sim, hardware),
            facts=[Fact(name="gap", value=round(gap, 2)), Fact(name="wanted", value=sim.tol.near_hardware_mm, source="tolerances")],
        )


def _move_away(sim: Simulation, hardware: Hardware) -> list[Cure]:
    """Return the nearest place of a coarse raster where the hardware is clear of every move, as a cure."""
    blank = sim.route.blank
    if hardware.kind is HardwareKind.PIN:
        return []  # where it stands the index hole is
    if hardware.is_about:
        return []  # a strap goes where its ends are
    if hardware.kind is HardwareKind.VICE:
        return _stand_out(sim, hardware)
    if hardware.is_round:
        edge = hardware.head_diameter_mm
        xs = np.linspace(blank.x_mm + edge, blank.x_mm + blank.length_mm - edge, 37)
        ys = np.linspace(blank.y_mm + edge, blank.y_mm + blank.width_mm - edge, 29)
        places = [(x, y, hardware.angle_deg) for x in xs for y in ys]
    else:
        x1, y1 = blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm
        places = [(x, y, a) for x in np.linspace(blank.x_mm + 30, x1 - 30, 25) for y, a in ((blank.y_mm, -90.0), (y1, 90.0))]
        places += [(x, y, a) for y in np.linspace(blank.y_mm + 30, y1 - 30, 19) for x, a in ((blank.x_mm, 180.0), (x1, 0.0))]
    places.sort(key=lambda p: (p[0] - hardware.x_mm) ** 2 + (p[1] - hardware.y_mm) ** 2)
    lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], sim.route.machine.nut_diameter_mm, blank, sim.tol.near_hardware_mm + 0.5, heads=sim.route.machine.heads, up_to_mm=blank.top_mm + hardware.top_mm + 0.01)
    forbidden = lowest.top < blank.top_mm + hardware.top_mm
    others = [footprint(h) for h in sim.setup.hardware if h.id != hardware.id]
    for x, y, angle in places:
        moved = hardware.model_copy(update={"x_mm": round(float(x), 1), "y_mm": round(float(y), 1), "angle_deg": angle})
        shape = footprint(moved)
        if not (forbidden & mask_of(shape.buffer(lowest.grid.cell_mm), lowest.grid)).any() and all(o.distance(shape) > 4 for o in others):
            return [Cure(sentence=f"Move it to {mm(moved.x_mm):.0f}, {mm(moved.y_mm):.0f}",
                         edits=[{"do": "put_hardware", "setup": sim.setup.id, "hardware": moved.model_dump(mode="json")}])]
    return []


def _stand_out(sim: Simulation, vice: Hardware) -> list[Cure]:
    """Return how much farther the wood has to stand out of its jaws for everything to pass over them, as a cure."""
    blank, wanted = sim.route.blank, sim.tol.near_hardware_mm
    lowest = no_go_heights([(s.path, s.bit, s.motion_key) for s in sim.steps], sim.route.machine.nut_diameter_mm, blank, wanted + 0.5, heads=sim.route.machine.heads, up_to_mm=blank.top_mm + vice.top_mm + 0.01)
    over = mask_of(footprint(vice).buffer(lowest.grid.cell_mm), lowest.grid)
    more = math.ceil(blank.top_mm + vice.top_mm - float(lowest.top[over].min()) + 0.5)
    lower = vice.model_copy(update={"top_mm": vice.top_mm - more})
    return [
        Cure(
            sentence=f"Let it stand out {more} more",
            edits=[
                set_edit("blank.thickness_mm", round(blank.thickness_mm + more, 3)),
                {"do": "put_hardware", "setup": sim.setup.id, "hardware": lower.model_dump(mode="json")},
            ],
        )
    ]


@rule
def nothing_holds(sim: Simulation) -> Iterator[Finding]:
    """No hardware at all."""
    if sim.steps and all(h.kind is HardwareKind.SPACER for h in sim.setup.hardware):
        yield finding("holding.nothing", "Nothing holds the blank. Put screws in the waste or clamps at the edges.",
                      facts=[Fact(name="screws and clamps", value=0, unit="")])


@rule_on_wood
def piece_freed(sim: Simulation) -> Iterator[Finding]:
    """A piece is cut free and nothing holds it; told at the operation that frees it."""
    if not sim.setup.hardware:
        return
    told: list[tuple[float, float]] = []
    for index, step in enumerate(sim.steps):
        last = index == len(sim.steps) - 1
        if not last and (step.operation.kind is OperationKind.DRILL or step.metrics[:, kernels.BELOW].max(initial=0.0) <= 0):
            continue  # a drill leaves no slug; a row of holes that parts the wood is seen at the end
        for area, x, y in loose_pieces(sim, step.top):
            if any(abs(x - a) < 2 and abs(y - b) < 2 for a, b in told):
                continue
            told.append((x, y))
            yield finding(
                "piece.freed",
                f"{step.operation.name} cuts a piece of {cm2(area / 100):.1f} free and nothing holds it. "
                "It will be thrown.",
                operation=step.operation.id,
                place=(x, y, 0.0),
                cures=tab_cure(sim, step),
                facts=[
                    Fact(name="area", value=round(area, 1), unit="mm2"),
                    Fact(name="tabs", value=len(step.operation.tabs), unit=""),
                ],
            )


@rule_on_wood
def breaks_out(sim: Simulation) -> Iterator[Finding]:
    """A cut round the piece leaves the blank sideways: where, and what holds the waste that is no frame any more."""
    blank, grid, wanted = sim.route.blank, sim.grid, figures()["holding"]["frame_mm"]
    x, y = grid.x_centres(), grid.y_centres()
    inside = np.flatnonzero((x > blank.x_mm) & (x < blank.x_mm + blank.length_mm)), np.flatnonzero((y > blank.y_mm) & (y < blank.y_mm + blank.width_mm))
    sides = {"left": (slice(None), inside[0][0]), "right": (slice(None), inside[0][-1]), "lower": (inside[1][0], slice(None)), "upper": (inside[1][-1], slice(None))}
    for index, step in enumerate(sim.steps):
        if step.operation.kind is not OperationKind.PROFILE or sim.setup.nest is not None:
            continue
        for side, at in sides.items():
            gone = (sim.top_before(index)[at] > sim.bottom[at]) & (step.top[at] <= sim.bottom[at])
            if gone.sum() * grid.cell_mm < sim.tol.near_hardware_mm:
                continue
            k = int(np.flatnonzero(gone)[gone.sum() // 2])
            place = (float(x[at[1]]), float(y[k])) if side in ("left", "right") else (float(x[k]), float(y[at[0]]))
            labels, count = label_pieces(step.top, sim.bottom)
            rim = {int(v) for rows in sides.values() for v in np.unique(labels[rows])} - {0}
            held = held_by(sim, labels)
            by = sorted({h for h, pieces in held.items() if rim & set(pieces)})
            bare = sum(1 for piece in rim if not any(piece in pieces for pieces in held.values()))
            yield finding(
                "blank.broken_out",
                f"{step.operation.name} leaves the blank through its {side} side, for "
                f"{mm(gone.sum() * grid.cell_mm):.0f}: the waste there is no frame any more. It comes to {len(rim)} "
                f"piece{'s' if len(rim) > 1 else ''}, "
                f"held by {', '.join(by) or 'nothing'}{f'; {bare} of them by nothing' if bare else ''}. A blank "
                f"that reaches {mm(step.bit.cut_diameter_mm + wanted):.0f} beyond the outline keeps it whole.",
                operation=step.operation.id,
                place=(*place, 0.0),
                facts=[
                    Fact(name="open", value=round(float(gone.sum() * grid.cell_mm), 1)),
                    Fact(
                        name="wanted beside the outline",
                        value=step.bit.cut_diameter_mm + wanted,
                        source="bit and figures",
                    ),
                ],
            )


def loose_pieces(sim: Simulation, top: np.ndarray) -> list[tuple[float, float, float]]:
    """Return area mm2 and a place inside of every piece of wood that no hardware touches, largest first."""
    labels, count = label_pieces(top, sim.bottom)
    held = {label for labels_held in held_by(sim, labels).values() for label in labels_held}
    if count <= 1 and held:
        return []
    areas = np.bincount(labels.ravel(), minlength=count + 1) * sim.grid.cell_mm**2
    out = []
    for piece in range(1, count + 1):
        if piece in held or areas[piece] < sim.tol.least_piece_mm2:
            continue
        rows, columns = np.nonzero(labels == piece)
        k = len(rows) // 2
        out.append((float(areas[piece]), sim.grid.x0_mm + (columns[k] + 0.5) * sim.grid.cell_mm,
                    sim.grid.y0_mm + (rows[k] + 0.5) * sim.grid.cell_mm))
    return sorted(out, reverse=True)


def held_by(sim: Simulation, labels: np.ndarray) -> dict[str, list[int]]:
    """Return the label of the piece that each screw or pin goes through, or clamp or rail touches, and of all that tape and vacuum lie under; nothing for
    hardware that meets no wood."""
    held: dict[str, list[int]] = {}
    for hardware in sim.setup.hardware:
        if hardware.kind is HardwareKind.SPACER:
            continue  # it carries, and holds nothing
        grip = footprint(hardware).buffer(0.5 if hardware.is_round else 0.0 if hardware.is_about else 1.5 * sim.grid.cell_mm)
        xmin, ymin, xmax, ymax = grip.bounds
        a, b = sim.grid.cell_of(max(xmin, sim.grid.x0_mm), max(ymin, sim.grid.y0_mm)), None
        last = (sim.grid.x0_mm + sim.grid.nx * sim.grid.cell_mm - 1e-6, sim.grid.y0_mm + sim.grid.ny * sim.grid.cell_mm - 1e-6)
        b = sim.grid.cell_of(min(xmax, last[0]), min(ymax, last[1]))
        if a is None or b is None or b[0] < a[0] or b[1] < a[1]:
            continue
        block = labels[a[0]: b[0] + 1, a[1]: b[1] + 1]
        xs, ys = sim.grid.x_centres()[a[1]: b[1] + 1], sim.grid.y_centres()[a[0]: b[0] + 1]
        inside = shapely.contains_xy(grip, *np.meshgrid(xs, ys))
        found, counts = np.unique(block[inside & (block > 0)], return_counts=True)
        if len(found):
            held[hardware.id] = [int(k) for k in found] if hardware.is_about else [int(found[np.argmax(counts)])]
    return held


def tab_cure(sim: Simulation, step: Step) -> list[Cure]:
    """Return tabs for a profile that has none."""
    op = step.operation
    if op.kind is not OperationKind.PROFILE or op.tabs or op.down_to_mm is not None:
        return []
    tabs = with_proposed_tabs(sim.route, sim.resolved, op).tabs
    return [
        Cure(
            sentence=f"Leave {len(tabs)} tabs",
            edits=[set_edit(f"operations.{op.id}.tabs", [t.model_dump(mode="json") for t in tabs])],
        )
    ]
