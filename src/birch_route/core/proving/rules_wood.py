"""Rules over the wood: blank, reach into regions, corners, floors, walls, leftover, gouge."""

from __future__ import annotations

import math
from collections.abc import Iterator

import shapely
from shapely.geometry import box

from ..data import figures
from ..instrument.clearances import beside
from ..instrument.resolve import Solid, cut_region
from ..instrument.walls import least_apart, least_to_outside
from ..plane.regions import opened, polygons
from ..quantities import mm, mm2
from ..vocabulary import OperationKind, PartKind, Side
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, rule_once, set_edit
from .rules_corners import LEAST_CORNER_MM2, sharp_corner, sharp_finding
from .simulate import Simulation
from .target import compare, final_radius, least_floor


@rule_once
def blank_too_small(sim: Simulation) -> Iterator[Finding]:
    """The blank does not cover the outline, or the bit leaves it sideways."""
    blank, outline = sim.route.blank, sim.resolved.outline
    wood = box(blank.x_mm, blank.y_mm, blank.x_mm + blank.length_mm, blank.y_mm + blank.width_mm)
    xmin, ymin, xmax, ymax = outline.bounds
    margins = {"left": xmin - blank.x_mm, "right": blank.x_mm + blank.length_mm - xmax,
               "lower": ymin - blank.y_mm, "upper": blank.y_mm + blank.width_mm - ymax}
    side, least = min(margins.items(), key=lambda m: m[1])
    grown = _grown_blank(sim, (xmin, ymin, xmax, ymax))
    if not wood.covers(outline):
        yield finding(
            "blank.too_small",
            f"The outline stands {mm(-least):.1f} over the {side} edge of the blank.",
            place=(xmin, ymin, 0.0),
            facts=[Fact(name="margin", value=round(least, 2))],
            cures=grown,
        )
        return
    widest = _profile_bit(sim, 0.0)
    if widest and least < widest + 1.0:
        yield finding(
            "blank.margin_small",
            f"Only {mm(least):.1f} of wood stands outside the outline at the {side} edge; the bit takes "
            f"{mm(widest):.1f}.",
            place=(xmin, ymin, 0.0),
            facts=[Fact(name="margin", value=round(least, 2)), Fact(name="bit", value=widest, source="bit")],
            cures=grown,
        )


def _profile_bit(sim: Simulation, otherwise: float) -> float:
    """Return the width of the widest bit that goes round the outside of something, in whatever setup."""
    return max([sim.whole.bit(o.bit).cut_diameter_mm for o in sim.whole.operations if o.kind is OperationKind.PROFILE and o.side.value == "outside"], default=otherwise)


def _grown_blank(sim: Simulation, bounds: tuple[float, float, float, float]) -> list[Cure]:
    widest = _profile_bit(sim, 8.0)
    margin = math.ceil(widest + figures()["blank_margin"]["screw_mm"])
    xmin, ymin, xmax, ymax = bounds
    x, y = math.floor(xmin - margin), math.floor(ymin - margin)
    length, width = math.ceil(xmax + margin - x), math.ceil(ymax + margin - y)
    return [Cure(sentence=f"Blank {length} × {width}", edits=[
        set_edit("blank.x_mm", x), set_edit("blank.y_mm", y), set_edit("blank.length_mm", length), set_edit("blank.width_mm", width)])]


@rule_once
def too_deep(sim: Simulation) -> Iterator[Finding]:
    """A blind pocket or hole is deeper than the blank."""
    for solid in sim.resolved.solids.values():
        deep = solid.deep_mm(sim.resolved.thickness_mm)
        lofted = solid.kind == "neck_back"  # it meets the glue plane at its rim
        if solid.floor_mm is not None and not lofted and deep >= -sim.route.blank.bottom_mm - 1e-6:
            x, y = solid.region.representative_point().coords[0]
            yield finding(
                "feature.too_deep",
                f"{solid.name} is {mm(deep):.1f} deep; the blank has {mm(-sim.route.blank.bottom_mm):.1f} below the "
                f"face.",
                feature=solid.id,
                place=(x, y, solid.floor_mm),
                facts=[
                    Fact(name="depth", value=round(deep, 2)),
                    Fact(name="there is", value=round(-sim.route.blank.bottom_mm, 2)),
                ],
            )


@rule_on_wood
def bit_too_wide(sim: Simulation) -> Iterator[Finding]:
    """A region the bit cannot enter: nowhere at all, or a part of it."""
    done: set[str] = set()
    for step in sim.steps:
        for problem in step.cannot_enter:
            if problem.feature in done:
                continue
            others = [s for s in sim.steps if s is not step and problem.feature in s.operation.features and not s.cannot_enter]
            if others:
                continue
            done.add(problem.feature)
            solid = sim.resolved.solid(problem.feature)
            yield finding(
                "feature.bit_too_wide",
                f"The {step.bit.name} cuts {mm(problem.facts['bit_mm']):.2f} wide; {solid.name} opens only "
                f"{mm(problem.facts['width_mm']):.2f}.",
                feature=solid.id,
                operation=step.operation.id,
                place=(problem.x_mm, problem.y_mm, 0.0),
                cures=narrower(sim, step.operation.id, problem.facts["width_mm"]),
                facts=[
                    Fact(name="bit", value=problem.facts["bit_mm"], source="bit"),
                    Fact(name="opening", value=round(problem.facts["width_mm"], 2)),
                ],
            )
    for solid in sim.resolved.solids.values():
        radius = final_radius(sim, solid.id)
        if solid.kind != "pocket" or radius is None or solid.id in done:
            continue
        region = cut_region(solid, radius)
        reached = opened(region, radius)
        for part in polygons(region.difference(reached.buffer(0.02))):
            far = max((reached.distance(shapely.Point(p)) for p in part.exterior.coords), default=0.0) if not reached.is_empty else math.inf
            if far > 1.2 * radius and part.area > 0.5 * radius**2 and part.area >= LEAST_CORNER_MM2:
                if (corner := sharp_corner(part, reached, far, radius)) is not None:
                    yield sharp_finding(sim, solid, radius, part.area, *corner)
                    continue
                x, y = part.representative_point().coords[0]
                step = next(s for s in sim.steps if solid.id in s.operation.features)
                yield finding(
                    "feature.bit_too_wide",
                    f"A part of {solid.name}, {mm2(part.area):.0f}, is too narrow for the {mm(2 * radius):.1f} bit.",
                    feature=solid.id,
                    operation=step.operation.id,
                    place=(x, y, solid.floor_mm or 0.0),
                    cures=narrower(sim, step.operation.id, 2 * radius - 0.1),
                    facts=[
                        Fact(name="bit", value=2 * radius, source="bit"),
                        Fact(name="left", value=round(part.area, 1), unit="mm2"),
                    ],
                )
                break


def narrower(sim: Simulation, operation: str, width_mm: float) -> list[Cure]:
    """Return the cure to take the widest bit of the same form under a width."""
    now = sim.route.bit(next(s.operation.bit for s in sim.steps if s.operation.id == operation))
    fits = sorted((b for b in sim.route.bits if b.form is now.form and b.cut_diameter_mm < width_mm - 0.05), key=lambda b: -b.cut_diameter_mm)
    return (
        [Cure(sentence=f"Use the {fits[0].name}", edits=[set_edit(f"operations.{operation}.bit", fits[0].id)])]
        if fits
        else []
    )


@rule_on_wood
def floors(sim: Simulation) -> Iterator[Finding]:
    """The floor left is thinner than asked, in the simulated wood."""
    drawn = {f.id for f in sim.route.piece.features}
    for feature in sim.route.features:
        if feature.kind == "outline" or feature.depth_mm is None or final_or_drilled(sim, feature.id) is None:
            continue
        solid = sim.resolved.solid(feature.id)
        if solid.floor_mm is None or solid.floor_mm <= sim.route.blank.bottom_mm:
            continue
        found = least_floor(sim, solid)
        if found is not None and found[0] < solid.least_floor_mm - sim.tol.depth_mm:
            left, x, y = found
            shallower = -solid.floor_mm - (solid.least_floor_mm - left)
            typed = feature.id in drawn and feature.kind in ("hole", "pocket") and getattr(feature, "depth_from", None) is None
            cures = [Cure(sentence=f"{solid.name} {mm(solid.least_floor_mm - left):.1f} shallower",
                          edits=[set_edit(f"piece.features.{feature.id}.depth_mm", round(shallower - 0.01, 2))])] if typed and shallower > 0.5 else []
            yield finding(
                "feature.floor_thin",
                f"{mm(left):.1f} is left under {solid.name}. You asked for {mm(solid.least_floor_mm):.1f}.",
                feature=feature.id,
                place=(x, y, float(solid.floor_mm)),
                cures=cures,
                facts=[
                    Fact(name="floor", value=round(left, 2)),
                    Fact(name="asked", value=solid.least_floor_mm, source="feature"),
                ],
            )


def final_or_drilled(sim: Simulation, feature: str) -> float | None:
    """Return the radius of any bit that works on a feature."""
    return next((s.bit.radius_mm for s in sim.steps if feature in s.operation.features), None)


@rule_on_wood
def walls(sim: Simulation) -> Iterator[Finding]:
    """The wall between two features that do not meet, or to the outside, is thin."""
    if sim.index > 0:
        return
    thick = sim.resolved.thickness_mm
    whole = sim.whole_resolved if sim.frame.about is None else sim.resolved  # with what lies under glued layers
    solids = [s for s in whole.solids.values() if s.kind != "outline" and s.has_walls]
    rim = sim.resolved.outline.exterior
    inserts = {f"{p.placement.id}_hole" for p in sim.resolved.placed if p.part.kind is PartKind.INSERT}
    for index, one in enumerate(solids):
        if not one.is_open and one.kind != "channel" and sim.resolved.outline.covers(one.region):
            least = least_to_outside(one, thick, inserts)
            gap = one.region.distance(rim)
            if gap < least - 0.02:
                a, b = shapely.shortest_line(one.region, rim).coords
                yield _thin(one.name, "the outside", gap, least, a, b, one)
        for other in solids[index + 1:]:
            if one.region.intersects(other.region) or not beside(one, other, thick) or _of_one_part(sim, one.id, other.id):
                continue
            gap = one.region.distance(other.region)
            least = least_apart(one, other, thick, inserts)
            if least is not None and gap < least - 0.02:
                a, b = shapely.shortest_line(one.region, other.region).coords
                yield _thin(one.name, other.name, gap, least, a, b, one)


def _of_one_part(sim: Simulation, one: str, other: str) -> bool:
    """Say whether two features follow from one placed part, whose maker set them apart."""
    return any({one, other} <= {f.id for f in p.features} for p in sim.resolved.placed)


def _thin(one: str, other: str, gap: float, least: float, a: tuple, b: tuple, solid: Solid) -> Finding:
    return finding(
        "feature.wall_thin",
        f"The wall between {one} and {other} is {mm(gap):.1f} thin; {mm(least):.1f} is the least.",
        feature=solid.id,
        place=((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 0.0),
        facts=[Fact(name="wall", value=round(gap, 2)), Fact(name="least", value=least, source="figures, unverified")],
    )


@rule_once
def not_machined(sim: Simulation) -> Iterator[Finding]:
    """No operation makes this feature."""
    made = {f for o in sim.whole.operations for f in o.features}
    turned = {s.face for s in sim.whole.setups}
    for solid in sim.whole_resolved.solids.values():
        if solid.kind == "outline" and not sim.whole.piece.kind.is_cut_out:
            continue
        if solid.id not in made and (solid.floor_mm is None or solid.face in turned):
            x, y = solid.region.representative_point().coords[0]
            yield finding("feature.not_machined", f"No operation makes {solid.name}.", feature=solid.id, place=(x, y, solid.floor_mm or 0.0),
                          facts=[Fact(name="area", value=round(solid.region.area, 1), unit="mm2")],
                          cures=[Cure(sentence="Add an operation", edits=[{"do": "propose_for", "feature": solid.id}])])


@rule_on_wood
def left_or_gouged(sim: Simulation) -> Iterator[Finding]:
    """The result differs from the piece as drawn: wood left that nothing takes away, or wood cut that the piece needs."""
    if not sim.steps:
        return
    made = {f for o in sim.route.operations for f in o.features}
    drops_out = {f for o in sim.route.operations if o.kind is OperationKind.PROFILE and o.side is Side.INSIDE for f in o.features if f in sim.resolved.solids and sim.resolved.solid(f).floor_mm is None}
    comparison = compare(sim)
    told: set[str] = set()
    for d in comparison.left:
        if (d.feature not in made and d.feature != "face") or d.feature in drops_out:  # an opening that is cut round: its core is a piece of its own
            continue
        if any(p.feature == d.feature for s in sim.steps for p in s.cannot_enter):
            continue
        told.add(d.feature)
        name = "The face" if d.feature == "face" else sim.resolved.solid(d.feature).name
        ridges = _ridges_left(sim, d.feature, d.amount_mm, d.area_mm2) if not _clear(sim, d.feature) else None
        yield finding(
            "feature.stock_left",
            f"Up to {mm(d.amount_mm):.2f} of wood is left in {name}, {mm(d.area_mm2):.0f} "
            f"mm² of it, and nothing takes it away.{ridges[0] if ridges else ''}",
            feature=None if d.feature == "face" else d.feature,
            place=(d.x_mm, d.y_mm, 0.0),
            cures=ridges[1] if ridges else _clear(sim, d.feature),
            operation=next((o.id for o in reversed(sim.route.operations) if d.feature in o.features), None),
            facts=[
                Fact(name="left", value=round(d.amount_mm, 3)),
                Fact(name="area", value=round(d.area_mm2, 1), unit="mm2"),
            ],
        )
    for feature, skin in wall_skins(sim).items():
        if skin > sim.tol.leftover_mm and feature not in told:
            solid = sim.resolved.solid(feature)
            x, y = solid.region.boundary.coords[0] if hasattr(solid.region.boundary, "coords") else solid.region.exterior.coords[0]
            yield finding(
                "feature.stock_left",
                f"{mm(skin):.2f} is left on the walls of {solid.name} and nothing takes it away.",
                feature=feature,
                operation=next((o.id for o in reversed(sim.route.operations) if feature in o.features), None),
                place=(x, y, solid.floor_mm or 0.0),
                facts=[Fact(name="left", value=round(skin, 3))],
                cures=_clear(sim, feature),
            )
    for d in comparison.gouged:
        name = "the face" if d.feature == "face" else sim.resolved.solid(d.feature).name
        step = _culprit(sim, d.x_mm, d.y_mm)
        yield finding(
            "feature.gouged",
            f"{name[0].upper()}{name[1:]} is cut {mm(d.amount_mm):.2f} too deep over {mm2(d.area_mm2):.0f}.",
            place=(d.x_mm, d.y_mm, -d.amount_mm),
            feature=None if d.feature == "face" else d.feature,
            operation=step,
            facts=[
                Fact(name="too deep", value=round(d.amount_mm, 3)),
                Fact(name="area", value=round(d.area_mm2, 1), unit="mm2"),
            ],
        )


def wall_skins(sim: Simulation) -> dict[str, float]:
    """Return the wall allowance that stays on each milled feature at the end (below zero: cut into the wall), mm."""
    out: dict[str, float] = {}
    for step in sim.steps:
        if step.operation.kind in (OperationKind.POCKET, OperationKind.BORE, OperationKind.PROFILE) and not step.cannot_enter:
            for feature in step.operation.features:
                out[feature] = min(out.get(feature, math.inf), step.operation.stock_to_leave_mm)
    return out


def _clear(sim: Simulation, feature: str) -> list[Cure]:
    """Offer to leave nothing, where the last operation on a feature was told to; what an earlier one leaves for a
    later one is no fault."""
    last = next((o for o in reversed(sim.route.operations) if feature in o.features), None)
    if last is None or not (last.stock_to_leave_mm > 0 or last.floor_to_leave_mm > 0):
        return []
    return [
        Cure(sentence="Leave nothing",
            edits=[
                set_edit(f"operations.{last.id}.stock_to_leave_mm", 0.0),
                set_edit(f"operations.{last.id}.floor_to_leave_mm", 0.0),
            ],
        )
    ]


def _ridges_left(sim: Simulation, feature: str, amount_mm: float, area_mm2: float) -> tuple[str, list[Cure]] | None:
    """Return what stands on a slope in words, and the finer stepover that takes it where that would; None where it is
    no slope with a finish.

    Source: ridges of a flat bit across a slope grow with the stepover, those of a ball with its square.
    """
    solid, step = (
        sim.resolved.solids.get(feature),
        next((s for s in reversed(sim.steps) if feature in s.operation.features), None),
    )
    if solid is None or not solid.is_contour or step is None or step.operation.kind is not OperationKind.SURFACE_FINISH:
        return None
    flat, now = step.bit.form.value in ("flat", "bull"), step.operation.settings.stepover_mm
    if area_mm2 < 0.02 * solid.region.area:
        return (
            f" The {step.bit.name} does not get into the last of it; a narrower ball along it, or a scraper, does.",
            [],
        )
    part = 0.8 * sim.tol.depth_mm / amount_mm
    finer = round(now * (part if flat else math.sqrt(part)), 2)
    words = (
        f" These are the {'steps' if flat else 'ridges'} that the {step.bit.name} leaves at a stepover of {mm(now):g}."
    )
    return words, [
        Cure(sentence=f"Step over {mm(finer):g}",
            edits=[set_edit(f"operations.{step.operation.id}.settings.stepover_mm", finer)],
        )
    ] if finer >= 0.05 else []


def _culprit(sim: Simulation, x: float, y: float) -> str | None:
    cell = sim.grid.cell_of(x, y)
    if cell is None:
        return None
    for index, step in reversed(list(enumerate(sim.steps))):
        if step.top[cell] < sim.top_before(index)[cell] - 1e-4:
            return step.operation.id
    return None
