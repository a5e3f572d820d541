"""Drawn holes and pockets against the parts they are said to be measured from: the sizes that a part decides, and
features that follow them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..data import figures
from ..piece import Hole, Pocket
from ..plane.curves import Oval, PartRectangle, Rectangle, flatten
from ..vocabulary import PartKind
from .parts import PartOnHand, read_place

if TYPE_CHECKING:
    from ..route import Route

HOLES: dict[PartKind, dict[str, str]] = {  # what of a drawn hole each place of a part decides
    PartKind.BRIDGE: {"wide": "post_diameter", "apart": "post_spacing"},
    PartKind.TUNER: {"wide": "post_hole"},
    PartKind.POT: {"wide": "bush_diameter"},
    PartKind.JACK: {"wide": "bush_diameter"},
    PartKind.INSERT: {"wide": "body_diameter"},
    PartKind.NECK: {"across": "holes_across", "along": "holes_along"},
}
POCKETS: dict[PartKind, dict[str, str]] = {
    PartKind.ROD: {"long": "rod_length", "wide": "rod_width", "deep": "rod_depth"},
    PartKind.NUT: {"long": "plate_length", "wide": "plate_width"},
    PartKind.PLATE: {"long": "plate_length", "wide": "plate_width"},
    PartKind.GUARD: {"long": "plate_length", "wide": "plate_width"},
    PartKind.BRIDGE: {"long": "plate_length", "wide": "plate_width"},
    PartKind.PICKUP: {"long": "ring_length", "wide": "ring_width", "deep": "depth"},
    PartKind.SWITCH: {"long": "body_length", "wide": "body_width", "deep": "body_depth"},
}
WORDS = {
    "wide": "wide",
    "apart": "apart",
    "across": "apart across",
    "along": "apart along",
    "long": "long",
    "deep": "deep",
}


@dataclass(frozen=True)
class Size:
    """One size of a drawn feature that a part's place decides. read_mm: the reading, None where there is none; least,
    most: what the drawn size may be."""

    what: str
    place: str
    label: str
    drawn_mm: float
    read_mm: float | None
    least_mm: float = 0.0
    most_mm: float = 0.0

    @property
    def differs(self) -> bool:
        """Whether the drawn size does not take the part as it was read."""
        return self.read_mm is not None and not self.least_mm - 1e-6 <= self.drawn_mm <= self.most_mm + 1e-6


def part_of(route: Route, feature: object) -> PartOnHand | None:
    """Return the part a drawn hole or pocket is said to be measured from, or takes its depth from."""
    if isinstance(feature, Hole):
        return route.part(feature.measured_from or "")
    if not isinstance(feature, Pocket) or isinstance(feature.shape, PartRectangle):
        return None
    source = feature.depth_from
    return route.part(
        feature.measured_from or (source.part if source is not None and source.kind == "reading" else "") or ""
    )


def sizes_of(route: Route, feature: object) -> list[Size]:
    """Return the sizes of a drawn feature that its part decides, each with the reading and what the drawn size may be
    (figures.tied)."""
    part = part_of(route, feature)
    if part is None:
        return []
    table = (HOLES if isinstance(feature, Hole) else POCKETS).get(part.kind, {})
    drawn = _drawn(feature)
    if isinstance(feature, Pocket) and (feature.depth_from is not None or feature.depth_mm is None):
        drawn.pop("deep", None)
    long_read = [
        v for v in (read_place(part, table[w]).value_mm for w in ("long", "wide") if w in table) if v is not None
    ]
    out = []
    for what, place in table.items():
        if what not in drawn:
            continue
        known = read_place(part, place)
        read = known.value_mm
        if len(long_read) == 2 and what in ("long", "wide"):  # whichever is the longer of the two
            read = max(long_read) if what == "long" else min(long_read)
        low, high = _play(part, feature, what)
        out.append(
            Size(what, f"{part.id}.{place}", known.label, drawn[what], read, (read or 0.0) + low, (read or 0.0) + high)
        )
    return out


def _play(part: PartOnHand, feature: object, what: str) -> tuple[float, float]:
    """Return by how much a drawn size may differ from its part's, mm."""
    fig = figures()["tied"]
    if what in ("apart", "across", "along"):
        return -fig["apart_mm"], fig["apart_mm"]
    if isinstance(feature, Hole):
        if part.kind in (PartKind.POT, PartKind.JACK):
            return 0.0, fig["bush_mm"]
        return -fig["pressed_mm"], fig["hole_mm"]
    low, high = fig[part.kind.value if part.kind.value in fig else "plate"][what]
    return low, high


def _drawn(feature: object) -> dict[str, float]:
    if isinstance(feature, Hole):
        sizes = {"wide": feature.diameter_mm}
        points = np.asarray(feature.points, float)
        if len(points) == 2:
            sizes["apart"] = float(np.hypot(*(points[1] - points[0])))
        if len(points) == 4:
            sizes["along"], sizes["across"] = float(np.ptp(points[:, 0])), float(np.ptp(points[:, 1]))
        return sizes
    assert isinstance(feature, Pocket)
    sizes = {} if feature.depth_mm is None else {"deep": feature.depth_mm}
    if isinstance(feature.shape, Rectangle | Oval):
        a, b = feature.shape.length_mm, feature.shape.width_mm
    elif feature.shape.kind in ("chain", "spline", "path"):
        points = flatten(feature.shape, 0.05)  # type: ignore[arg-type]
        a, b = np.ptp(points, axis=0)
    else:
        return sizes
    return {**sizes, "long": float(max(a, b)), "wide": float(min(a, b))}


def can_follow(feature: object) -> bool:
    """Whether a feature's sizes can follow from its part: a hole, or a rectangle."""
    return isinstance(feature, Hole) or (isinstance(feature, Pocket) and isinstance(feature.shape, Rectangle))


def followed(route: Route, feature: Hole | Pocket) -> Hole | Pocket:
    """Return a feature that follows its part with the sizes of the readings there are; any other as it is drawn."""
    if not feature.follows or not can_follow(feature):
        return feature
    wants = {
        s.what: round((s.least_mm + s.most_mm) / 2, 3) if s.what not in ("apart", "across", "along") else s.read_mm
        for s in sizes_of(route, feature)
        if s.read_mm is not None
    }
    if isinstance(feature, Hole):
        if "wide" in wants and feature.fitted:
            # pressed in: as wide as it is
            wants["wide"] = next(s.read_mm for s in sizes_of(route, feature) if s.what == "wide")
        return feature.model_copy(
            update={"points": _spread(feature.points, wants), "diameter_mm": wants.get("wide", feature.diameter_mm)}
        )
    shape = feature.shape
    assert isinstance(shape, Rectangle)
    long, wide = (
        wants.get("long", max(shape.length_mm, shape.width_mm)),
        wants.get("wide", min(shape.length_mm, shape.width_mm)),
    )
    a, b = (long, wide) if shape.length_mm >= shape.width_mm else (wide, long)
    corner = min(shape.corner_radius_mm, a / 2, b / 2)
    new = shape.model_copy(update={"length_mm": a, "width_mm": b, "corner_radius_mm": round(corner, 4)})
    return feature.model_copy(update={"shape": new, "depth_mm": wants.get("deep", feature.depth_mm)})


def _spread(points: list[tuple[float, float]], wants: dict[str, float | None]) -> list[tuple[float, float]]:
    """Return holes about their middle as far apart as a part's are."""
    all_points = np.asarray(points, float)
    middle = all_points.mean(axis=0)
    arms = all_points - middle
    if len(points) == 2 and wants.get("apart") is not None:
        arms = arms / np.hypot(*arms[1]) * (float(wants["apart"]) / 2)  # type: ignore[arg-type]
    for k, what in enumerate(("along", "across")):
        if len(points) == 4 and wants.get(what) is not None and np.ptp(arms[:, k]) > 0:
            arms[:, k] *= float(wants[what]) / np.ptp(arms[:, k])  # type: ignore[arg-type]
    return [(round(float(x), 4), round(float(y), 4)) for x, y in middle + arms]
