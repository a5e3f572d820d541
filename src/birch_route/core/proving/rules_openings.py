"""Rules over openings: features that run out through the side, into one another, or lie beside the piece."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Any

import shapely
from shapely.geometry import Point

from ..data import figures
from ..instrument.openings import Opening, openings
from ..quantities import mm
from ..vocabulary import Mount
from .findings import Cure, Fact, Finding, finding
from .registry import rule_once, set_edit
from .simulate import Simulation


@rule_once
def openings_declared(sim: Simulation) -> Iterator[Finding]:
    """A feature opens the side of the piece, runs into another, or lies outside, and nobody said that it should."""
    told: set[tuple[str, str | None]] = set()
    for one in openings(sim.whole, sim.resolved):
        if (one.feature, one.into) in told:
            continue
        told.add((one.feature, one.into))
        place = (*one.place, 0.0)
        facts = [Fact(name="width", value=round(one.width_mm, 2))]
        if one.beside:
            yield finding(
                "feature.outside",
                f"{one.name} lies outside the piece, at {mm(one.place[0]):.1f}, {mm(one.place[1]):.1f}; it would be "
                f"cut into "
                f"the waste.",
                feature=one.feature,
                place=place,
                facts=facts,
                cures=_inward(sim, one),
            )
        elif one.into is None:
            yield finding(
                "piece.side_opened",
                f"{one.name} runs out through the side of the piece, {mm(one.width_mm):.1f} wide at "
                f"{mm(one.place[0]):.1f}, "
                f"{mm(one.place[1]):.1f}.",
                feature=one.feature,
                place=place,
                facts=facts,
                cures=[*_inward(sim, one), *_meant(sim, one.feature, "opens_side", True)],
            )
        else:
            yield finding(
                "feature.runs_into",
                f"{one.name} runs into {one.into_name}, over {mm(one.width_mm):.1f} at {mm(one.place[0]):.1f}, "
                f"{mm(one.place[1]):.1f}.",
                feature=one.feature,
                place=place,
                facts=facts,
                cures=_meeting(sim, one),
            )


def _drawn(sim: Simulation, feature: str) -> Any:
    return next((f for f in sim.whole.piece.features if f.id == feature), None)


def _meant(sim: Simulation, feature: str, field: str, value: Any) -> list[Cure]:
    drawn = _drawn(sim, feature)
    return (
        [Cure(sentence="It is meant to open", edits=[set_edit(f"piece.features.{feature}.{field}", value)])]
        if hasattr(drawn, field)
        else []
    )


def _meeting(sim: Simulation, one: Opening) -> list[Cure]:
    for this, that in ((one.feature, one.into), (one.into, one.feature)):
        drawn = _drawn(sim, this or "")
        if drawn is not None and hasattr(drawn, "opens_into"):
            return _meant(sim, drawn.id, "opens_into", [*drawn.opens_into, that])
    return []


def _inward(sim: Simulation, one: Opening) -> list[Cure]:
    """Offer to move a drawn hole or a pocket with a middle so far inward that its least wall stands, the shortest
    way."""
    drawn, outline, walls = _drawn(sim, one.feature), sim.resolved.outline, figures()["walls_mm"]
    if drawn is None:
        return _part_inward(sim, one)
    if drawn.kind == "hole":
        room = outline.buffer(-(drawn.diameter_mm / 2 + walls["hole_to_rim"] + 0.05))
        if room.is_empty:
            return []
        moved = [
            (round(q.x, 2), round(q.y, 2))
            for p in drawn.points
            for q in [Point(p) if room.covers(Point(p)) else Point(shapely.shortest_line(Point(p), room).coords[-1])]
        ]
        far = max(math.dist(a, b) for a, b in zip(drawn.points, moved, strict=True))
        return [
            Cure(sentence=f"Move it {mm(far):.1f} inward",
                edits=[set_edit(f"piece.features.{drawn.id}.points", [list(p) for p in moved])],
            )
        ]
    shape, solid = getattr(drawn, "shape", None), sim.resolved.solids.get(one.feature)
    if (
        shape is None
        or solid is None
        or not hasattr(shape, "x_mm")
        or getattr(shape, "at_saddle", False)
        or solid.is_open
    ):
        return []
    by = _way_in(solid.region, outline.buffer(-(walls["to_outside"] + 0.05)))
    if by is None:
        return []
    return [
        Cure(sentence=f"Move it {mm(math.hypot(*by)):.1f} inward",
            edits=[
                set_edit(f"piece.features.{drawn.id}.shape.x_mm", round(shape.x_mm + by[0], 2)),
                set_edit(f"piece.features.{drawn.id}.shape.y_mm", round(shape.y_mm + by[1], 2)),
            ],
        )
    ]


def _part_inward(sim: Simulation, one: Opening) -> list[Cure]:
    """Offer to move a part on a face so far inward that all that follows from it stands within its walls."""
    placed = next((p for p in sim.resolved.placed if one.feature in {f.id for f in p.features}), None)
    if placed is None or placed.placement.mount is not Mount.FACE:
        return []
    here = [sim.resolved.solids[f.id].region for f in placed.features if f.id in sim.resolved.solids]
    room = sim.resolved.outline.buffer(-(figures()["walls_mm"]["to_outside"] + 0.05))
    by = _way_in(shapely.union_all(here).convex_hull, room)
    if by is None:
        return []
    p = placed.placement
    return [
        Cure(
            sentence=f"Move {placed.part.name} {mm(math.hypot(*by)):.1f} inward",
            edits=[
                set_edit(f"piece.placements.{p.id}.x_mm", round(p.x_mm + by[0], 2)),
                set_edit(f"piece.placements.{p.id}.y_mm", round(p.y_mm + by[1], 2)),
            ],
        )
    ]


def _way_in(whole: shapely.Geometry, room: shapely.Geometry) -> tuple[float, float] | None:
    """Return a short way to move a region so that it lies in a room, mm; None where none is found."""
    region = whole
    if room.is_empty:
        return None
    for _ in range(12):  # towards what covers most, until all of it is covered
        over = region.difference(room)
        if over.area < 1e-6:
            break
        a, b = (
            over.centroid,
            region.intersection(room).centroid if region.intersects(room) else room.representative_point(),
        )
        step = max(0.2, _reach(over, room))
        length = math.hypot(b.x - a.x, b.y - a.y) or 1.0
        region = shapely.affinity.translate(region, (b.x - a.x) / length * step, (b.y - a.y) / length * step)
    if region.difference(room).area > 1e-6:
        return None
    return region.centroid.x - whole.centroid.x, region.centroid.y - whole.centroid.y


def _reach(over: shapely.Geometry, room: shapely.Geometry) -> float:
    return max(room.distance(Point(c)) for part in getattr(over, "geoms", [over]) for c in part.exterior.coords) + 0.02
