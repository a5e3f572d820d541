"""Where tabs go: spread along the rim, off tips, tight bends, end grain and features, where a saw can follow."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

import numpy as np
import shapely
from shapely.geometry import Polygon

from ..data import Wood, figures
from ..fretboard.features import LEDGES
from ..holding.balance import MOST_N, Balance, Element, ask
from ..holding.contacts import UP, farthest, joint_shear, joints, tab_joints
from ..instrument.resolve import Resolved, cut_region
from ..neck.features import HEAD
from ..quantities import named_mm
from ..route import Tab
from ..vocabulary import Face

WORDS = {"gone": "wood that a contour has taken", "tip": "a tip", "saw": "a bend no saw follows", "near": "a feature beside it", "grain": "end grain"}
WEIGHTS = {"gone": 30.0, "near": 8.0, "saw": 4.0, "tip": 2.0, "grain": 1.0}  # what a tab would rather not stand on, worst first


@dataclass(frozen=True)
class Tabs:
    """Tabs with the words that say why they stand there."""

    tabs: list[Tab]
    reason: str


@dataclass(frozen=True)
class KeptOff:
    """Where no tab should stand: beside features, and where the lowest wood is gone. surfaces: of what took it."""

    near: shapely.Geometry
    gone: shapely.Geometry
    surfaces: tuple[Surface, ...] = ()

    def taken_mm(self, points: np.ndarray) -> np.ndarray:
        """Return how much of the lowest wood is gone at points of the rim [n, 2], mm."""
        out = np.zeros(len(points))
        for surface in self.surfaces:
            for dx, dy in (
                (0.0, 0.0),
                *((INSIDE_MM * c, INSIDE_MM * s) for c, s in ((1, 0), (-1, 0), (0, 1), (0, -1))),
            ):
                out = np.maximum(out, surface.depth(points[:, 0] + dx, points[:, 1] + dy))
        return out


class Surface(Protocol):
    """A contour of the other face."""

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below its face, mm."""
        ...


@dataclass(frozen=True)
class Taken:
    """A level cut: so deep within a region."""

    region: Polygon
    deep_mm: float

    def depth(self, x: np.ndarray, y: np.ndarray) -> np.ndarray:
        """Return how far it lies below its face, mm."""
        return np.asarray(np.where(shapely.contains_xy(self.region, x, y), self.deep_mm, 0.0))


def beside_ledges(resolved: Resolved, below_mm: float) -> float:
    """Return how much wood stands beside the outline under a board's binding ledges, mm; without any all of it.
    below: wood under the finished face."""
    floors = [s.floor_mm for s in resolved.solids.values() if s.id in LEDGES and s.floor_mm is not None]
    return below_mm + min([0.0, *floors])


ALL_MM = 1e3  # more than any wood is thick
BESIDE_SLOT_MM = 0.8
INSIDE_MM = 1.5  # a rim is looked at so far to every side
NOWHERE = KeptOff(Polygon(), Polygon())


def taken_under(region: Polygon, tabs: list[Tab], keep_off: KeptOff, over_mm: float) -> np.ndarray:
    """Return how much of each tab stands where the lowest wood is gone, mm."""
    if not tabs:
        return np.zeros(0)
    ring, length = region.exterior, region.exterior.length
    shifts = np.array([-0.5, -0.25, 0.0, 0.25, 0.5])
    at = np.array([[(t.at * length + s * t.width_mm) % length for s in shifts] for t in tabs])
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, at.ravel()))
    return keep_off.taken_mm(points).reshape(at.shape).max(axis=1) + over_mm


def held_times(
    region: Polygon,
    tabs: list[Tab],
    species: Wood,
    thickness_mm: float,
    force_n: float,
    lifts: float,
    taken_mm: np.ndarray | None = None,
) -> float:
    """Return how many times a cutting force tabs hold a piece cut free, at the worst place of its rim, in the worst direction.

    Args:
        force_n: at the top of the wood. lifts: N upward for each of these. taken_mm: of each tab, what stands where
            there is no wood.
    """
    if not tabs or force_n <= 0:
        return 0.0
    spots, sections, up = tab_joints(region.exterior, tabs, species, taken_mm)
    rim = np.asarray(region.exterior.coords)[:, :2]
    bed = [Element("bed", (float(x), float(y), -thickness_mm), UP, MOST_N) for x, y in farthest(rim, 12)]
    elements = joints("tab", [tuple(p) for p in spots.tolist()], sections.tolist(), up - thickness_mm, joint_shear(species))
    places = farthest(rim, 8, 0.5)
    return min(ask(Balance([*elements, *bed], (*rim.mean(axis=0), 0.0)), np.column_stack([places, np.zeros(len(places))]), lifts)[0]) / force_n


def propose_tabs(
    region: Polygon,
    thickness_mm: float,
    keep_off: KeptOff = NOWHERE,
    force_n: float = 0.0,
    *,
    inside: bool = False,
    over_mm: float = 0.0,
    least: int = 0,
    most_mm: float = math.inf,
) -> Tabs:
    """Return tabs for the rim of a region; the grain runs along x.

    At least figures.tab.least, one for every figures.tab.spacing_mm, more where the cutting force asks for it. Each even share of the
    rim takes its tab where it does least harm.

    Args:
        over_mm: how much of the lowest wood beside the rim an edge of the other face has taken; tabs stand higher by that.
        keep_off: where no tab should stand. force_n: greatest cutting force, borne figures.tab.safety times by the tabs in shear.
        least: no fewer than so many. most_mm: no higher than so.
        inside: the piece held is cut out of the region: outward and inward change places.
    """
    fig = figures()["tab"]
    length = region.exterior.length
    width = min(fig["width_mm"], length / 12)
    height = round(min(fig["height_mm"], thickness_mm * 0.4, most_mm), 2)
    strong = width * height * fig["shear_n_mm2"]
    count = max(least, fig["least"] if not inside or length > 3 * fig["spacing_mm"] else 2, math.ceil(length / fig["spacing_mm"]), math.ceil(fig["safety"] * force_n / strong))
    count = min(count, 40, max(1, int(length / (3 * width))))
    at, harms, turn = harms_along(region, width, keep_off, max(count * 24, 96), inside=inside)
    cost = turn + sum(WEIGHTS[k] * 10 * v for k, v in harms.items())
    tabs, spoilt = [], dict.fromkeys(WEIGHTS, 0)
    for k in range(count):
        share = np.flatnonzero((at >= (k + 0.15) / count) & (at < (k + 0.85) / count))
        best = share[int(np.argmin(cost[share]))]
        if harms["gone"][best]:  # a tab there would hold nothing: beside the next one rather
            apart = np.abs((at[:, None] - np.array([t.at for t in tabs] or [9.0])[None, :] + 0.5) % 1.0 - 0.5).min(axis=1) * length
            free = np.flatnonzero(~harms["gone"] & (apart > 6 * width))
            if len(free):
                away = np.abs((at[free] - at[best] + 0.5) % 1.0 - 0.5)
                best = free[int(np.argmin(cost[free] + 40 * away))]
            else:  # gone all round: where least is
                best = share[int(np.argmin(cost[share] + 20 * _gone_mm(region, at[share], width, keep_off)))]
        for name, here in harms.items():
            spoilt[name] += bool(here[best])
        raised = float(_gone_mm(region, at[[best]], width, keep_off)[0])
        if height + over_mm + raised < HIGHEST_PART * thickness_mm:
            tabs.append(
                Tab(
                    at=float(at[best]),
                    width_mm=round(width, 1),
                    height_mm=round(math.ceil((height + over_mm + raised) * 20) / 20, 2),
                )
            )
    tabs.sort(key=lambda t: t.at)
    off = [WORDS[k] for k in WEIGHTS if harms[k].any() and not spoilt[k]]
    on = [f"{n} on {WORDS[k]} for want of a better place" for k, n in spoilt.items() if n]
    why = f"one for every {named_mm(length / count):.0f} of rim" + (
        f"; {count * strong:.0f} N of shear against {force_n:.0f} N of cutting" if force_n else ""
    )
    return Tabs(tabs, "; ".join([why, *([f"off {', '.join(off)}"] if off else []), *on]))


HIGHEST_PART = 0.75  # of the thickness: a tab that would stand higher is no tab


def _gone_mm(region: Polygon, at: np.ndarray, width_mm: float, keep_off: KeptOff) -> np.ndarray:
    return taken_under(
        region, [Tab(at=float(a), width_mm=max(width_mm, 0.6), height_mm=1.0) for a in at], keep_off, 0.0
    )


def harms_along(region: Polygon, width_mm: float, keep_off: KeptOff, samples: int, *, inside: bool = False) -> tuple[np.ndarray, dict[str, np.ndarray], np.ndarray]:
    """Return places along a rim as parts of its length, what speaks against each (bool arrays by WEIGHTS' names), and how far the rim turns there, rad."""
    fig, ring = figures()["tab"], region.exterior
    length = ring.length
    at = (np.arange(samples) + 0.5) / samples
    reach = 1.5 * width_mm

    def places(shift_mm: float) -> np.ndarray:
        return shapely.get_coordinates(shapely.line_interpolate_point(ring, (at * length + shift_mm) % length))

    before, here, after = places(-reach), places(0.0), places(reach)
    first, second = np.arctan2(*(here - before).T[::-1]), np.arctan2(*(after - here).T[::-1])
    turn = (second - first + math.pi) % (2 * math.pi) - math.pi
    outward = turn if ring.is_ccw != inside else -turn  # above 0 where the piece bulges
    radius = reach / np.maximum(np.abs(turn), 1e-9)
    along = after - before
    steep = np.degrees(np.arctan2(np.abs(along[:, 1]), np.abs(along[:, 0])))
    spots = shapely.points(here)
    near, gone = (np.zeros(samples, np.bool_) if g.is_empty else shapely.distance(spots, g) < width_mm / 2 for g in (keep_off.near, keep_off.gone))
    return at, {"gone": gone, "tip": (outward > 0) & (radius < fig["tip_radius_mm"]), "saw": (outward < 0) & (radius < fig["saw_radius_mm"]), "near": near, "grain": steep > fig["end_grain_deg"]}, np.abs(turn)


def kept_off(resolved: Resolved) -> KeptOff:
    """Return where no tab of the outline should stand, in the frame of the setup that cuts it: beside features near the rim, at the
    mouth of an open pocket, where a contour of the other face has taken the wood."""
    near, rim = figures()["tab"]["near_feature_mm"], resolved.outline.exterior
    parts: list[shapely.Geometry] = []
    gone: list[shapely.Geometry] = []
    surfaces: list[Surface | None] = []
    for solid in resolved.solids.values():
        if solid.kind == "outline":
            continue
        if solid.kind == "neck_back" and solid.face is Face.FRONT:  # cut down to the other face all along its rim
            gone.append(solid.region.buffer(1.0))
            surfaces.append(Taken(solid.region, ALL_MM))
        elif solid.id == HEAD and solid.face is Face.BACK and solid.floor_mm is not None:
            surfaces.append(Taken(solid.region, solid.deep_mm(resolved.thickness_mm)))
        elif solid.is_contour:
            if solid.face is Face.BACK:
                gone.append(solid.region.buffer(1.0))
                surfaces.append(solid.surface)
        elif solid.kind == "fret_slots":  # they run out through the rim, and a tab stands between two of them
            parts.append(solid.region.buffer(BESIDE_SLOT_MM))
        elif solid.is_open:
            parts.append(cut_region(solid, near))
        elif solid.kind != "channel" and solid.region.distance(rim) < near:
            parts.append(solid.region.buffer(near))
    return KeptOff(
        *(shapely.union_all(g) if g else Polygon() for g in (parts, gone)),
        surfaces=tuple(s for s in surfaces if s is not None),
    )


def taken_below(resolved: Resolved) -> float:
    """Return how much of the lowest wood beside the outline machined edges and channels of the face below have taken, mm, in the frame of a setup."""
    channels = [s.surface.deepest_mm for s in resolved.solids.values() if s.kind == "channel" and s.face is Face.BACK and s.surface is not None]
    return max([*channels, *(r.down_mm for r in resolved.rims.values() if r.is_outline and r.face is Face.BACK)], default=0.0)


def nearest_part(region: Polygon, x_mm: float, y_mm: float) -> float:
    """Return the part of the way round a rim, 0 to 1, that is nearest to a place."""
    at = region.exterior.project(shapely.Point(x_mm, y_mm), normalized=True)
    return float(at % 1.0)
