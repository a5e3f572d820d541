"""Rules over guards and covers: whether they lie over what they must cover, and what they must be cut out for."""

from __future__ import annotations

from collections.abc import Iterator

import shapely
from shapely.geometry import Point

from ..data import figures
from ..instrument.covers import plate_of
from ..instrument.openings import parts_of
from ..instrument.parts import read_place
from ..instrument.resolve import Solid
from ..instrument.room import standing
from ..instrument.stack import find_part
from ..plane.curves import HeelShape, PartRectangle
from ..quantities import mm
from ..vocabulary import PartKind
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation

LEAST_MM2 = 0.5
UNVERIFIED = "figures, unverified"


def _sticks_through(sim: Simulation, solid: Solid) -> bool:
    """Whether the part a pocket is made for comes up through a guard that lies over it: a neck, a pickup, a bridge."""
    drawn = next((f for f in sim.whole.piece.features if f.id == solid.id), None)
    shape = getattr(drawn, "shape", None)
    if isinstance(shape, HeelShape):
        return True
    part = sim.whole.part(shape.part) if isinstance(shape, PartRectangle) else None
    return part is not None and part.kind in (PartKind.PICKUP, PartKind.BRIDGE)


@rule_once
def covers_cover(sim: Simulation) -> Iterator[Finding]:
    """A plate or guard leaves a part of a cavity open, or rests on too little beside it; a guard must be cut out for
    what comes up through it."""
    land = figures()["covers"]["land_mm"]
    solids = [s for s in sim.resolved.solids.values() if s.kind == "pocket"]
    for rebate in solids:
        plate = plate_of(sim.whole, rebate.id)
        if plate is None or rebate.floor_mm is None:
            continue
        thick = sim.resolved.thickness_mm
        for solid in solids:
            if (
                solid.id == rebate.id
                or solid.face is not rebate.face
                or solid.deep_mm(thick) <= rebate.deep_mm(thick) + 0.01
                or plate_of(sim.whole, solid.id) is not None
            ):
                continue
            shared = solid.region.intersection(rebate.region)
            if shared.area < LEAST_MM2:
                continue
            if _sticks_through(sim, solid):
                x0, y0, x1, y1 = shared.bounds
                yield finding(
                    "guard.cut_out",
                    f"{plate.name} lies over {solid.name}: it must be cut out there, {mm(x1 - x0):.1f} by "
                    f"{mm(y1 - y0):.1f}.",
                    feature=rebate.id,
                    place=(*shared.representative_point().coords[0], 0.0),
                    facts=[Fact(name="long", value=round(x1 - x0, 2)), Fact(name="wide", value=round(y1 - y0, 2))],
                )
                continue
            open_part = solid.region.difference(rebate.region.buffer(0.02))
            if open_part.area >= LEAST_MM2:
                far = max(
                    rebate.region.distance(Point(c))
                    for part in getattr(open_part, "geoms", [open_part])
                    for c in part.exterior.coords
                )
                yield finding(
                    "cover.leaves_open",
                    f"{solid.name} reaches {mm(far):.1f} beyond {plate.name}: it would stand open there.",
                    feature=solid.id,
                    place=(*open_part.representative_point().coords[0], 0.0),
                    facts=[Fact(name="beyond the plate", value=round(far, 2))],
                    cures=_grown(sim, rebate, far + land),
                )
                continue
            rests = float(solid.region.distance(rebate.region.exterior))
            if rests < land - 0.02:
                a, b = shapely.shortest_line(solid.region, rebate.region.exterior).coords
                yield finding(
                    "cover.no_land",
                    f"{plate.name} rests on {mm(rests):.1f} of wood beside {solid.name}; {mm(land):g} is the least "
                    f"that "
                    f"carries it.",
                    feature=solid.id,
                    place=((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 0.0),
                    facts=[Fact(name="land", value=round(rests, 2)), Fact(name="least", value=land, source=UNVERIFIED)],
                    cures=_grown(sim, rebate, land - rests + 0.05),
                )


def _grown(sim: Simulation, rebate: Solid, by_mm: float) -> list[Cure]:
    """Offer a larger rebate where it is drawn as a rectangle and follows no plate's own size."""
    drawn = next((f for f in sim.whole.piece.features if f.id == rebate.id), None)
    shape = getattr(drawn, "shape", None)
    if drawn is None or shape is None or shape.kind != "rectangle" or drawn.follows:
        return []
    grown = {"length_mm": round(shape.length_mm + 2 * by_mm, 2), "width_mm": round(shape.width_mm + 2 * by_mm, 2)}
    return [
        Cure(sentence=f"A plate {mm(grown['length_mm']):.0f} by {mm(grown['width_mm']):.0f}",
            edits=[set_edit(f"piece.features.{drawn.id}.shape.{k}", v) for k, v in grown.items()],
        )
    ]


@rule_once
def guard_under_the_board(sim: Simulation) -> Iterator[Finding]:
    """The end of the fretboard comes down on a guard that lies under it."""
    ghosts = standing(sim.whole, sim.resolved)
    board, neck = next((g for g in ghosts if g.what == "board"), None), find_part(sim.whole.parts, PartKind.NECK)
    depth = next((d.value_mm for d in sim.resolved.derivations if d.id == "neck_pocket_depth"), None)
    if board is None or neck is None or depth is None:
        return
    heel, alone = read_place(neck, "heel_thickness").value_mm, read_place(neck, "board_thickness").value_mm
    if heel is None or alone is None:
        return
    clear, under = figures()["covers"]["under_board_mm"], heel - alone - depth
    for placed in sim.resolved.placed:
        if placed.part.kind is not PartKind.GUARD:
            continue
        rebate = sim.resolved.solids.get(f"{placed.placement.id}_rebate"[:40])
        thick = read_place(placed.part, "plate_thickness").value_mm
        if rebate is None or thick is None:
            continue
        beyond = board.region.difference(
            sim.resolved.solid(
                next(f.id for f in sim.whole.piece.features if isinstance(getattr(f, "shape", None), HeelShape))
            ).region
        )
        shared = rebate.region.intersection(beyond)
        stands = thick - rebate.deep_mm(sim.resolved.thickness_mm)
        if shared.area >= LEAST_MM2 and under - stands < clear - 0.005:
            yield finding(
                "guard.under_board",
                f"The board's underside lies {mm(under):.1f} above the face and {placed.part.name} stands "
                f"{mm(stands):.1f} "
                f"there: {mm(max(under - stands, 0.0)):.1f} is left, {mm(clear):g} is the least. Let the guard end "
                f"before "
                f"the board.",
                feature=rebate.id,
                place=(*shared.representative_point().coords[0], 0.0),
                facts=[
                    Fact(name="room", value=round(under - stands, 2)),
                    Fact(name="least", value=clear, source=UNVERIFIED),
                ],
            )


@rule_once
def holes_in_air(sim: Simulation) -> Iterator[Finding]:
    """A screw hole lies whole within a pocket that is as deep: nothing is left for its screw to hold in."""
    thick = sim.resolved.thickness_mm
    for hole in (s for s in sim.resolved.solids.values() if s.kind == "hole" and s.floor_mm is not None):
        for pocket in (s for s in sim.resolved.solids.values() if s.kind == "pocket" and s.face is hole.face):
            if pocket.deep_mm(thick) < hole.deep_mm(thick) - 0.05 or pocket.under_mm > hole.under_mm:
                continue
            lost = [
                p
                for p, part in zip(hole.points, parts_of(hole), strict=True)
                if pocket.region.buffer(0.02).covers(part)
            ]
            if lost:
                yield finding(
                    "hole.in_air",
                    f"{len(lost)} of {len(hole.points)} of {hole.name} lie in {pocket.name}, which is as deep: there "
                    f"is no wood for them.",
                    feature=hole.id,
                    place=(*lost[0], 0.0),
                    facts=[Fact(name="holes", value=len(lost), unit="")],
                )
                break
