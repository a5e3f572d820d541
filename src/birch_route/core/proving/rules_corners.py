"""Rules over corners: rounder than a part accepts, sharper than a bit, or left for the chisel."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import lru_cache

import shapely

from ..data import figures
from ..instrument.parts import read_place
from ..instrument.resolve import Solid, cut_region
from ..plane.regions import corners_left, opened
from ..quantities import mm, mm2
from ..route import Pocket
from .findings import Cure, Fact, Finding, finding
from .registry import rule_on_wood, set_edit
from .simulate import Simulation, Step
from .target import final_radius

LEAST_CORNER_MM2 = 0.02  # of what a bit leaves in a corner nobody needs to hear
TOUCHES_MM = 0.02  # a corner so much rounder than the part accepts still takes it
TAPERS = 0.7  # a corner's area against its mouth times its depth: a triangle has half, a slot all


def sharp_corner(
    part: shapely.Polygon, reached: shapely.Geometry, far_mm: float, radius_mm: float
) -> tuple[float, float, float] | None:
    """Return place and angle, degrees, of a corner that a bit does not get into, or None where what it does not reach
    is a slot or an arm of the region.

    Source: a round bit of radius r stays r / sin(a/2) from the tip of a corner of angle a, so r (1 / sin(a/2) - 1)
    away with its edge.
    """
    tip = max(part.exterior.coords, key=lambda p: reached.distance(shapely.Point(p)))
    mouth = part.boundary.intersection(reached.buffer(0.05))
    wide = 0.0 if mouth.is_empty else math.hypot(mouth.bounds[2] - mouth.bounds[0], mouth.bounds[3] - mouth.bounds[1])
    if wide < 1e-6 or part.area > TAPERS * wide * far_mm:
        return None
    return float(tip[0]), float(tip[1]), math.degrees(2 * math.asin(min(1.0, radius_mm / (radius_mm + far_mm))))


def sharp_finding(
    sim: Simulation, solid: Solid, radius: float, area: float, x: float, y: float, angle: float
) -> Finding:
    """A corner sharper than the bit: a care where something must fit there, else a note for the chisel."""
    step = [s for s in sim.steps if solid.id in s.operation.features][-1]
    fits = solid.finish_class.value == "fitted" or solid.part_corner_mm is not None
    words = (
        f"A corner of {angle:.0f}° of {solid.name} at {mm(x):.1f}, {mm(y):.1f} keeps {mm2(area):.2f} that the "
        f"{mm(2 * radius):.1f} bit does not reach."
    )
    facts = [Fact(name="angle", value=round(angle, 1), unit="°"), Fact(name="left", value=round(area, 3), unit="mm2")]
    planned = any(b.id == chisel_id(solid.id) for b in sim.whole.bench_steps)
    if fits and not planned:
        return finding(
            "feature.corner_sharp",
            f"{words} What goes in there stands off it.",
            feature=solid.id,
            operation=step.operation.id,
            place=(x, y, solid.floor_mm or 0.0),
            facts=facts,
            cures=[chisel(sim, solid)],
        )
    return finding(
        "feature.corner_left",
        f"{words} {'It is on the list for the chisel.' if planned else 'Square it with a chisel.'}",
        feature=solid.id,
        place=(x, y, solid.floor_mm or 0.0),
        facts=facts,
    )


def chisel_id(feature: str) -> str:
    """Return the id of the bench step that squares a feature's corners."""
    return f"chisel_{feature}"[:40]


def chisel(sim: Simulation, solid: Solid) -> Cure:
    """Return the cure to square corners at the bench, after the last operation."""
    last = sim.whole.operations[-1].id if sim.whole.operations else None
    item = {
        "id": chisel_id(solid.id),
        "name": f"Square the corners of {solid.name}"[:80],
        "minutes": figures()["minutes"]["chisel_corner"],
        "kind": "chisel",
        "after": last,
        "note": "Try the part; pare down to the floor, square to the wall.",
    }
    return Cure(
        sentence="Chisel them, as a bench step", edits=[{"do": "put_item", "list": "bench_steps", "item": item}]
    )


@rule_on_wood
def corners(sim: Simulation) -> Iterator[Finding]:
    """A corner is rounder than the part accepts; other round corners are listed for the chisel.

    Source: a part corner of radius r with gap g each side clears a pocket corner of radius R while
    (sqrt 2 - 1) R <= g sqrt 2 + (sqrt 2 - 1) r.
    """
    for feature in sim.route.features:
        if not isinstance(feature, Pocket) or feature.id not in sim.resolved.solids:
            continue
        solid, radius = sim.resolved.solid(feature.id), final_radius(sim, feature.id)
        if radius is None:
            continue
        accepts, gap = part_corner(sim, feature)
        drawn = drawn_corner(cut_region(solid, 6.0))
        got = max(radius, drawn)
        if accepts is not None:
            most = accepts + gap * math.sqrt(2) / (math.sqrt(2) - 1)
            if got > most + TOUCHES_MM:
                yield _too_round(sim, feature, radius, drawn, most)
            continue
        spots = [  # not in the air beside the piece
            c
            for c in corners_left(solid.region, radius)
            if sim.resolved.outline.distance(shapely.Point(c[:2])) < 0.01
        ]
        if spots and feature.finish_class.value in ("shown", "fitted"):
            x, y, area = spots[0]
            yield finding(
                "feature.corner_left",
                f"{len(spots)} corners of {solid.name} stay round, {mm(radius):.1f} radius. Square them with a chisel.",
                feature=feature.id,
                place=(x, y, solid.floor_mm or 0.0),
                facts=[
                    Fact(name="corners", value=len(spots), unit=""),
                    Fact(name="largest", value=round(area, 2), unit="mm2"),
                ],
            )


def _too_round(sim: Simulation, feature: Pocket, radius: float, drawn: float, most: float) -> Finding:
    """Return what there is to say of corners rounder than a part accepts: chiselled as planned, or what mends them.

    Args:
        radius, drawn, most: of the bit that goes round last, of the corners as drawn, and the greatest
            the part accepts, mm.
    """
    solid, got = sim.resolved.solid(feature.id), max(radius, drawn)
    facts = [
        Fact(name="corner radius", value=round(got, 2)),
        Fact(name="part accepts", value=round(most, 2), source="reading"),
    ]
    if any(b.id == chisel_id(feature.id) for b in sim.whole.bench_steps):
        x, y = solid.region.representative_point().coords[0]
        return finding(
            "feature.corner_left",
            f"The corners of {solid.name} stay at a radius of {mm(got):.2f}; the part accepts {mm(most):.2f}. "
            "They are on the list for the chisel.",
            feature=feature.id,
            place=(x, y, solid.floor_mm or 0.0),
            facts=facts,
        )
    step = [s for s in sim.steps if feature.id in s.operation.features][-1]
    x, y, _ = (corners_left(solid.region, radius) or [(solid.region.bounds[2], solid.region.bounds[3], 0.0)])[0]
    sharper = _drawn_sharper(feature, most) if feature in sim.whole.piece.features else []
    cures = sharper if drawn > most else _finer_bit(sim, step, solid, most)
    return finding(
        "feature.corner_too_round",
        f"{solid.name} keeps corners of radius {mm(got):.2f}; the part accepts {mm(most):.2f}. It stands off there.",
        feature=feature.id,
        operation=step.operation.id,
        place=(x, y, solid.floor_mm or 0.0),
        cures=[*cures, chisel(sim, solid)],
        facts=facts,
    )


def _finer_bit(sim: Simulation, step: Step, solid: Solid, most_mm: float) -> list[Cure]:
    """Offer the widest bit of the same form that gets into the corners and is long enough."""
    deep = -(solid.floor_mm or 0.0)
    fits = [
        b
        for b in sim.route.bits
        if b.form is step.bit.form and b.radius_mm <= most_mm and b.cutting_length_mm >= deep
    ]
    if not fits:
        return []
    widest = max(fits, key=lambda b: b.radius_mm)
    return [Cure(sentence=f"Use the {widest.name}", edits=[set_edit(f"operations.{step.operation.id}.bit", widest.id)])]


def _drawn_sharper(feature: Pocket, most_mm: float) -> list[Cure]:
    """Offer to draw the corners no rounder than the part accepts, where they have a radius of their own."""
    if not hasattr(feature.shape, "corner_radius_mm"):
        return []
    return [
        Cure(sentence=f"Draw them {mm(most_mm):.1f} round",
            edits=[set_edit(f"piece.features.{feature.id}.shape.corner_radius_mm", round(most_mm - 0.05, 2))],
        )
    ]


def part_corner(sim: Simulation, feature: Pocket) -> tuple[float | None, float]:
    """Return the inside corner a part accepts and the gap around it: typed, or measured on the part."""
    shape, gap = feature.shape, 0.0
    part = sim.route.part(getattr(shape, "part", "") or "")
    if shape.kind == "heel":
        gap = sim.route.choices.fit_gap_mm
    elif shape.kind == "part_rectangle":
        gap = shape.gap_mm
    elif shape.kind == "rectangle" and any(feature in p.features for p in sim.resolved.placed):
        gap = figures()["controls"]["rebate_gap_mm"] + sim.route.choices.film_mm  # a plate's own rebate
    if feature.part_corner_mm is not None:
        return feature.part_corner_mm, gap
    place = {
        "heel": "heel_corner",
        "part_rectangle": {"bridge": "plate_corner", "pickup": "ring_corner"}.get(part.kind.value if part else "", ""),
    }.get(shape.kind)
    if part is None or not place:
        return None, gap
    return read_place(part, place).value_mm, gap


@lru_cache(maxsize=256)
def drawn_corner(region: shapely.Geometry) -> float:
    """Return the least inside corner radius that is drawn: the largest whose opening changes nothing, by bisection."""
    low, high = 0.0, max(0.0, shapely.maximum_inscribed_circle(region, tolerance=0.1).length)
    for _ in range(10):
        middle = (low + high) / 2
        if region.difference(opened(region, middle).buffer(0.02)).area < 0.15:
            low = middle
        else:
            high = middle
    return low
