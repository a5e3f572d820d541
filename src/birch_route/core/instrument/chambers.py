"""Chambers where they cost nothing: wood that can go without thinning a wall, a floor, or what hardware stands on, and the grams each saves."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..data import figures
from ..plane.regions import buffer_round, opened, polygons
from ..quantities import cm2, mm
from ..vocabulary import Face, LayerKind, Mount
from .balance import G_PER_MM3, layers_of
from .edges import reach
from .pocket_floors import following_floor
from .resolve import Resolved, Solid

if TYPE_CHECKING:
    from ..route import Route


CELL_MM = 1.0  # of what a chamber weighs


@dataclass(frozen=True)
class Chamber:
    """One chamber that could be cut from a face. span_mm: how wide a cap over it must bear; needs_cap: it would lie open as the piece is drawn."""

    region: Polygon
    face: str
    depth_mm: float
    area_mm2: float
    grams: float
    balance_moves_mm: float  # along the centre line, towards the neck below 0
    floor_mm: float
    span_mm: float
    needs_cap: bool
    words: str
    follows: bool = False  # its floor stays floor_mm away from what is cut from the other face

    def feature(self, number: int) -> dict[str, Any]:
        """Return the chamber as a pocket of the document."""
        ring = list(self.region.exterior.simplify(0.08).coords)[:-1]
        return {"kind": "pocket", "id": f"chamber_{number}", "name": f"Chamber {number}", "shape": {"kind": "chain", "vertices": [[round(x, 3), round(y, 3), 0.0] for x, y in ring]},
                "depth_mm": round(self.depth_mm, 2), "face": self.face, "finish_class": "hidden", "least_floor_mm": self.floor_mm, **({"follows_mm": self.floor_mm} if self.follows else {})}


def propose_chambers(route: Route, resolved: Resolved, face: Face = Face.FRONT) -> list[Chamber]:
    """Return chambers of a face, the one that saves most first.

    Kept: figures.chamber.to_outside_mm to the outline and what its edges take, between_mm to every feature and to what stands in the way, loaded_mm round joints
    and fitted holes, spine_mm on both sides of the centre line. Depth: down to figures.chamber.floor_mm above the other face and,
    where contours and floors of that face come nearer, following them. Chambers of the front lie under a cap; its thickness is not chambered.
    """
    fig, thick = figures()["chamber"], resolved.thickness_mm
    edge_in = max([reach(e)[0] for e in route.piece.edges if e.feature == route.piece.outline.id], default=0.0)
    free: shapely.Geometry = buffer_round(resolved.outline, -(fig["to_outside_mm"] + edge_in), 0.02)
    xmin, _, xmax, _ = resolved.outline.bounds
    free = free.difference(shapely.box(xmin - 1, -fig["spine_mm"], xmax + 1, fig["spine_mm"]))
    cap = sum(layer.thickness_mm for layer in route.blank.layers if layer.kind in (LayerKind.CAP, LayerKind.VENEER)) - route.blank.skim_mm if face is Face.FRONT else 0.0
    cap = max(cap, 0.0)
    kept = [free]
    for solid in resolved.solids.values():
        if solid.kind == "outline" or _only_opposite(solid, face, thick, fig["floor_mm"]):
            continue
        loaded = solid.must_be_measured or solid.kind == "hole"
        kept[0] = kept[0].difference(buffer_round(solid.region, fig["loaded_mm"] if loaded else fig["between_mm"], 0.02))
    for ghost in resolved.ghosts:
        if ghost.what in ("body", "reserved"):
            kept[0] = kept[0].difference(buffer_round(ghost.region, fig["between_mm"], 0.02))
    for placed in resolved.placed:  # nobody knows yet how much room it takes
        if not placed.ghosts and placed.placement.mount is Mount.FACE:
            kept[0] = kept[0].difference(
                buffer_round(shapely.Point(placed.placement.x_mm, placed.placement.y_mm), fig["unmeasured_mm"], 0.1)
            )
    out = []
    for region in _without_islands(opened(kept[0], fig["corner_mm"]), fig):
        if region.area >= fig["least_mm2"]:
            out.append(_chamber(route, resolved, region, face, cap, fig))
    return sorted((c for c in out if c.depth_mm > 4.0), key=lambda c: -c.grams)


def _without_islands(region: shapely.Geometry, fig: dict[str, Any]) -> list[Polygon]:
    """Return a region as areas without islands: each island is joined to the rim by a wall as thick as between two features, since a pocket
    is one closed curve."""
    todo, out = polygons(region), []
    while todo:
        one = todo.pop()
        if not one.interiors:
            out.append(one)
            continue
        island = Polygon(one.interiors[0])
        others = shapely.union_all([one.exterior, *(Polygon(i) for i in one.interiors[1:])])
        wall = shapely.shortest_line(island, others).buffer(fig["between_mm"] / 2, cap_style="square")
        todo += polygons(opened(one.difference(wall), fig["corner_mm"]))
    return sorted(out, key=lambda p: -p.area)


def _only_opposite(solid: Solid, face: Face, thick: float, floor: float) -> bool:
    """Say whether a feature only lies under the chambers, on the other face, and leaves room above itself."""
    return solid.floor_mm is not None and solid.face is not face and thick - solid.deep_mm(thick) - floor > 4.0


def _chamber(route: Route, resolved: Resolved, region: Polygon, face: Face, cap: float, fig: dict[str, Any]) -> Chamber:
    thick = resolved.thickness_mm
    met = [s for s in resolved.solids.values() if s.kind != "outline" and s.face is not face and s.floor_mm is not None and s.region.distance(region) <= fig["floor_mm"]]
    floor = following_floor(region, thick - fig["floor_mm"], thick, fig["floor_mm"], met)
    _, _, deep = floor.samples(region, CELL_MM)
    grams = 0.0
    for density, top, bottom in layers_of(route):
        low, high = (-deep, np.full_like(deep, -cap)) if face is Face.FRONT else (np.full_like(deep, -thick), -thick + deep)
        grams += float(np.maximum(np.minimum(high, top) - np.maximum(low, bottom), 0.0).sum()) * CELL_MM**2 * density * G_PER_MM3
    body = resolved.outline
    mass = sum(
        body.area * (min(0.0, top) - max(-thick, bottom)) * density * G_PER_MM3
        for density, top, bottom in layers_of(route)
    )
    moves = -grams * (region.centroid.x - body.centroid.x) / max(mass - grams, 1e-9)
    span = 2 * shapely.maximum_inscribed_circle(region, tolerance=0.5).length
    needs = cap < fig["cap_mm"]
    follows = float(deep.min()) < thick - fig["floor_mm"] - 0.05
    words = (
        f"{cm2(region.area / 100):.0f}, {mm(deep.max()):.1f} deep; {mm(fig['floor_mm']):.1f} stays "
        f"{'over all that is cut from the other face, which its floor follows' if follows else 'under it'}."
    )
    if cap > 0:
        words += f" Cut it into the core, before the cap of {mm(cap):.1f} is glued on."
    if needs:
        words += f" It needs a {'cap of %.1f or more' % fig['cap_mm'] if face is Face.FRONT else 'cover'} over it."
    if span > fig["span_mm"]:
        words += f" It is {mm(span):.0f} wide; a cap of {mm(fig['cap_mm']):.1f} bears {mm(fig['span_mm']):.0f}."
    return Chamber(region, face.value, thick - fig["floor_mm"], float(region.area), grams, moves, fig["floor_mm"], span, needs, words, follows)


def pin_candidates(route: Route, resolved: Resolved, count: int = 24) -> list[dict[str, float]]:
    """Return places for a strap pin along the outline's neck half, each with how far it lies from the nearest feature cut at its height.

    A pin further towards the neck lets the neck sink less; the choice stays the builder's.
    """
    ring, out = resolved.outline.exterior, []
    centre = resolved.outline.centroid
    for k in range(count):
        spot = ring.interpolate((k + 0.5) / count, normalized=True)
        if spot.x > centre.x:
            continue
        near = min((s.region.distance(spot) for s in resolved.solids.values() if s.kind != "outline"), default=999.0)
        out.append({"x_mm": float(spot.x), "y_mm": float(spot.y), "wood_mm": float(near)})
    return sorted(out, key=lambda c: c["x_mm"])


def strap_pins(resolved: Resolved) -> list[tuple[float, float]]:
    """Return where the strap pins stand, the one nearest the neck first."""
    pins = [(p.side.x_mm, p.side.y_mm) if p.side else (p.placement.x_mm, p.placement.y_mm) for p in resolved.placed if p.part.kind.value == "strap_pin" and p.placement.mount in (Mount.SIDE, Mount.FACE)]
    return sorted(pins)
