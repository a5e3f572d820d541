"""Rules over holes and screws: where drilling splinters, what holding screws and pins reach, what screws come
through."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from shapely.geometry import LineString, Point

from ..data import figures
from ..instrument.parts import read_place
from ..instrument.resolve import Solid
from ..quantities import mm
from ..stages import bed_points
from ..vocabulary import FinishClass, HardwareKind, OperationKind, PartKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule, rule_on_wood, rule_once, set_edit
from .simulate import Simulation
from .walls import grain_at

UNVERIFIED = "figures, unverified"


@rule_on_wood
def holes_splinter(sim: Simulation) -> Iterator[Finding]:
    """A drilled hole splinters: short grain between it and the rim, nothing behind its exit, or a floor too thin to
    bear the point."""
    fig = figures()["drilled"]
    told: set[str] = set()
    for index, step in enumerate(sim.steps):
        if step.operation.kind not in (OperationKind.DRILL, OperationKind.BORE):
            continue
        species = step.species
        if species.tear_out in ("", "none") or species.cutting_class in figures()["tear_out"]["no_fibres"]:
            continue
        hard = (
            fig["hard_times"]
            if species.density_kg_m3 >= fig["hard_kg_m3"] or species.tear_out in ("figured", "interlocked")
            else 1.0
        )
        for solid in (sim.resolved.solids[f] for f in step.operation.features if f in sim.resolved.solids):
            if solid.kind != "hole" or solid.id in told:
                continue
            for x, y in solid.points:
                short = fig["short_grain_diameters"] * hard
                words = (
                    (None if _in_waste(sim, index, solid) else _short_grain(sim, solid, x, y, short))
                    or _no_backing(sim, index, solid, x, y)
                    or _thin_floor(sim, solid, x, y, fig["floor_mm"] * hard)
                )
                if words:
                    told.add(solid.id)
                    what, has, least = words
                    yield finding(
                        "tear_out.hole",
                        f"{solid.name}: {what}",
                        operation=step.operation.id,
                        feature=solid.id,
                        place=(x, y, 0.0),
                        facts=[
                            Fact(name="there is", value=round(has, 2)),
                            Fact(name="least", value=round(least, 2), source=UNVERIFIED),
                        ],
                    )
                    break


def _in_waste(sim: Simulation, index: int, solid: Solid) -> bool:
    """Say whether a hole that ends in the wood is milled while waste still stands round the piece, and nothing is
    pressed into it: no point pushes its short grain out, and nothing wedges it later."""
    if sim.steps[index].operation.kind is not OperationKind.BORE or solid.floor_mm is None:
        return False
    if solid.finish_class is FinishClass.FITTED:
        return False
    outline = sim.whole.piece.outline.id
    return not any(outline in s.operation.features for s in sim.steps[:index])


def _short_grain(
    sim: Simulation, solid: Solid, x: float, y: float, diameters: float
) -> tuple[str, float, float] | None:
    """Wood between a hole and the rim along its fibres, too short to hold together."""
    outline, radius = sim.resolved.outline, solid.diameter_mm / 2
    if not outline.covers(Point(x, y)) or sim.whole.blank.upright:
        return None
    a = math.radians(float(grain_at(sim, np.array([y]), 0.0)[0]))
    along = LineString(
        [(x - 60 * math.cos(a), y - 60 * math.sin(a)), (x + 60 * math.cos(a), y + 60 * math.sin(a))]
    ).intersection(outline.exterior)
    if along.is_empty:
        return None
    has, least = float(along.distance(Point(x, y))) - radius, diameters * solid.diameter_mm
    if not 0 < has < least - 0.02:
        return None
    return (
        f"only {mm(has):.1f} of short grain stands between it and the rim; {mm(least):.1f} is the least that does "
        f"not break "
        f"out. Drill it before the outline is cut, with waste behind, or move it.",
        has,
        least,
    )


def _no_backing(sim: Simulation, index: int, solid: Solid, x: float, y: float) -> tuple[str, float, float] | None:
    """A hole that goes through where nothing lies under the wood."""
    cell = sim.grid.cell_of(x, y)
    if solid.floor_mm is not None or cell is None or sim.setup.in_vice:
        return None
    # against the lowest wood, which lies on the bed
    gap = float(sim.bottom[cell]) - float(sim.bottom[sim.blank_top > sim.bottom].min())
    before = float(sim.top_before(index)[cell])
    most = figures()["holding"]["bed_gap_mm"]
    if gap <= most or before <= float(sim.bottom[cell]) or _meets_hollow(sim, solid, x, y):
        return None
    return (
        f"it goes through where {mm(gap):.1f} of air lies under the wood, and nothing backs its exit. Put a spacer "
        f"there, or drill from both faces.",
        gap,
        most,
    )


def _meets_hollow(sim: Simulation, solid: Solid, x: float, y: float) -> bool:
    """Whether it comes out in a pocket of the other face, where nobody sees its rim."""
    return any(
        s.kind == "pocket" and s.face is not solid.face and s.region.covers(Point(x, y).buffer(solid.diameter_mm / 2))
        for s in sim.resolved.solids.values()
        if s.id != solid.id
    )


def _thin_floor(sim: Simulation, solid: Solid, x: float, y: float, least: float) -> tuple[str, float, float] | None:
    if solid.floor_mm is None:
        return None
    left = sim.resolved.thickness_mm - solid.deep_mm(sim.resolved.thickness_mm)
    if _meets_hollow(sim, solid, x, y) or not 0 < left < least - 0.005:
        return None
    return (
        f"{mm(left):.1f} is left under it; the point pushes so thin a floor out. {mm(least):.1f} is the least.",
        left,
        least,
    )


@rule
def holding_screws(sim: Simulation) -> Iterator[Finding]:
    """A holding screw goes through the waste board into the bed, or bites too little to hold."""
    fig, board = figures()["holding"], sim.route.machine.waste_board_mm
    for h in sim.setup.hardware:
        if h.kind is not HardwareKind.SCREW or h.grip_mm is None:
            continue
        deepest = board - fig["bed_keep_mm"]
        if h.grip_mm > deepest + 1e-6:
            yield finding(
                "screw.into_bed",
                f"{h.words} goes {mm(h.grip_mm):.1f} into a waste board of {mm(board):g}: it meets the machine's bed.",
                hardware=h.id,
                place=(h.x_mm, h.y_mm, sim.route.blank.bottom_mm),
                facts=[
                    Fact(name="in the board", value=h.grip_mm, source="route"),
                    Fact(name="most", value=deepest, source="machine"),
                ],
                cures=[
                    Cure(sentence=f"{mm(deepest):g} in the board",
                        edits=[set_edit(f"setups.{sim.setup.id}.hardware.{h.id}.grip_mm", deepest)],
                    )
                ],
            )
        elif h.grip_mm < fig["least_bite_mm"] - 1e-6:
            least = min(fig["least_bite_mm"], deepest)
            yield finding(
                "screw.no_bite",
                f"{h.words} bites {mm(h.grip_mm):.1f} into the waste board; under {mm(fig['least_bite_mm']):g} it "
                f"pulls out.",
                hardware=h.id,
                place=(h.x_mm, h.y_mm, sim.route.blank.bottom_mm),
                facts=[
                    Fact(name="in the board", value=h.grip_mm, source="route"),
                    Fact(name="least", value=fig["least_bite_mm"], source=UNVERIFIED),
                ],
                cures=[
                    Cure(
                        sentence=f"{mm(least):g} in the board",
                        edits=[set_edit(f"setups.{sim.setup.id}.hardware.{h.id}.grip_mm", least)],
                    )
                ],
            )


@rule_once
def wood_screws(sim: Simulation) -> Iterator[Finding]:
    """A screw on hand comes out of the other face, or finds too little wood to hold in."""
    fig, thick = figures()["screws"], sim.resolved.thickness_mm
    for feature in (
        f for f in sim.whole.features if f.kind == "hole" and f.depth_mm is not None and f.id in sim.resolved.solids
    ):
        part = sim.whole.part(feature.measured_from or "")
        carries = 0.0
        if part is not None and part.kind in (
            PartKind.PLATE,
            PartKind.GUARD,
        ):  # its screws are those on hand, the plate lies under their heads
            carries, part = (
                read_place(part, "plate_thickness").value_mm or 0.0,
                next((p for p in sim.whole.parts if p.kind is PartKind.SCREW and "neck" not in p.name.lower()), None),
            )
        if part is None or part.kind is not PartKind.SCREW:
            continue
        long, thread = read_place(part, "thread_length").value_mm, read_place(part, "thread_diameter").value_mm
        if long is None or thread is None:
            continue
        solid = sim.resolved.solid(feature.id)
        x, y = solid.points[0]
        above = max(
            [
                s.deep_mm(thick)
                for s in sim.resolved.solids.values()
                if s.kind == "pocket" and s.face is solid.face and s.region.covers(Point(x, y))
            ],
            default=0.0,
        )
        wood, reach = thick - above, long - (carries if above > 0 else 0.0)
        left, bite = wood - reach, min(reach, wood)
        if left < fig["tip_wood_mm"] - 0.005:
            yield finding(
                "screw.comes_through",
                f"{part.name} reaches {mm(reach):.1f} into {mm(wood):.1f} of wood at {feature.name}: "
                f"{'it comes out of the other face' if left <= 0 else f'{mm(left):.1f} is left before its tip'}; "
                f"{mm(fig['tip_wood_mm']):g} is the least.",
                feature=feature.id,
                place=(x, y, solid.floor_mm or 0.0),
                facts=[
                    Fact(name="wood before the tip", value=round(left, 2)),
                    Fact(name="least", value=fig["tip_wood_mm"], source=UNVERIFIED),
                ],
            )
        elif bite < fig["bite_diameters"] * thread - 0.005:
            yield finding(
                "screw.no_bite",
                f"{part.name} bites {mm(bite):.1f} at {feature.name}; {mm(fig['bite_diameters'] * thread):.1f} is "
                f"the least "
                f"for its thread of {mm(thread):g}.",
                feature=feature.id,
                place=(x, y, solid.floor_mm or 0.0),
                facts=[
                    Fact(name="bite", value=round(bite, 2)),
                    Fact(name="least", value=round(fig["bite_diameters"] * thread, 2), source=UNVERIFIED),
                ],
            )


@rule_once
def pins_beside_their_holes(sim: Simulation) -> Iterator[Finding]:
    """A pin stands beside the index hole it is for, or more pins than two hold a blank that two find."""
    route, tol = sim.whole, figures()["jigs"]["pin_fit_mm"]
    for setup in route.setups:
        pins = [h for h in setup.hardware if h.kind is HardwareKind.PIN]
        hole = next((f for f in route.features if f.id == setup.datum and f.kind == "hole"), None)
        if hole is None or not pins:
            continue
        for pin in pins:
            near = min(hole.points, key=lambda p: math.dist(p, (pin.x_mm, pin.y_mm)))
            off = math.dist(near, (pin.x_mm, pin.y_mm))
            if tol < off < hole.diameter_mm * 2:
                yield finding(
                    "turn.pin_beside",
                    f"In {setup.name} {pin.words.lower()} stands {mm(off):.2f} beside the index hole at "
                    f"{mm(near[0]):.1f}, "
                    f"{mm(near[1]):.1f}: the blank does not go on, or lies askew.",
                    hardware=pin.id,
                    feature=hole.id,
                    place=(pin.x_mm, pin.y_mm, 0.0),
                    facts=[
                        Fact(name="beside", value=round(off, 3)),
                        Fact(name="allowed", value=tol, source=UNVERIFIED),
                    ],
                    cures=[
                        Cure(
                            sentence="Put it in the hole",
                            edits=[
                                {
                                    "do": "put_hardware",
                                    "setup": setup.id,
                                    "hardware": {**pin.model_dump(mode="json"), "x_mm": near[0], "y_mm": near[1]},
                                }
                            ],
                        )
                    ],
                )
        if len(pins) > 2:
            extra = pins[-1]
            yield finding(
                "turn.pins_many",
                f"{len(pins)} pins hold the blank in {setup.name}; two find it, and a third only fits where all "
                f"stand true to {mm(tol):g}. Leave it out, or give it a slot.",
                hardware=extra.id,
                place=(extra.x_mm, extra.y_mm, 0.0),
                facts=[Fact(name="pins", value=len(pins), unit="")],
                cures=[
                    Cure(sentence=f"Leave {extra.id} out",
                        edits=[{"do": "remove_hardware", "setup": setup.id, "hardware": extra.id}],
                    )
                ],
            )


@rule_once
def pins_need_holes(sim: Simulation) -> Iterator[Finding]:
    """A setup is found again by index holes over pins, and nothing makes the holes these stand in."""
    from ..sequence.pins import pin_step, pins_are_made

    route = sim.whole
    for setup in route.setups:
        if pins_are_made(route, setup):
            continue
        step = pin_step(route, setup)
        hole = next(f for f in route.features if f.id == setup.datum)
        at = bed_points(route, setup, hole.points, sim.resolved.thickness_mm)
        yield finding(
            "turn.pins_not_made",
            f"{setup.name} lies over pins in {hole.name.lower()}, and no bench step, jig or hole of the machine "
            f"makes what they stand in. {step.note}",
            feature=hole.id,
            place=(*hole.points[0], 0.0),
            facts=[
                Fact(name="pins", value=len(at), unit=""),
                Fact(name="across", value=hole.diameter_mm, source="route"),
            ],
            cures=[
                Cure(sentence="Add the bench step",
                    edits=[{"do": "put_item", "list": "bench_steps", "item": step.model_dump(mode="json")}],
                )
            ],
        )
