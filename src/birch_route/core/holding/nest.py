"""A nest: a window cut to the outline of a piece that lies in it, with relief where the bit that cuts the window is too round for a tip."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import LineString, Point, Polygon

from ..data import figures
from ..errors import InfeasibleError
from ..plane.regions import buffer_round, opened, polygons
from ..quantities import mm
from ..route import Nest
from ..vocabulary import OperationKind
from .balance import Element

NEST = "nest"
SPECK_MM2 = 0.02  # of a tip that is no more than the rounding of drawn arcs


@dataclass(frozen=True)
class Window:
    """The window of a nest in a setup's frame. tips: places of the outline that the bit does not reach without relief, x, y, and how far wood would stand out there, mm."""

    region: Polygon
    tips: tuple[tuple[float, float, float], ...]


def window_of(outline: Polygon, nest: Nest) -> Window:
    """Return the window for an outline.

    The piece with its play, as far as a round bit reaches into its corners; where a convex tip of the piece would stand out of that, the bit is led on until it has taken the tip with its play.

    Raises:
        InfeasibleError: the bit does not fit into the window at all.
    """
    r, wanted = nest.bit_mm / 2, buffer_round(outline, nest.play_mm)
    core = buffer_round(wanted, -r)
    if core.is_empty:
        raise InfeasibleError(
            f"A bit of {mm(nest.bit_mm):g} does not fit into a nest for this piece. Take a thinner one.", where="nest"
        )
    region = opened(wanted, r)
    tips: list[tuple[float, float, float]] = []
    for left in polygons(outline.difference(region)):
        if left.area < SPECK_MM2:
            continue
        corners = np.asarray(left.exterior.coords)[:-1]
        away = shapely.distance(shapely.points(corners), core)
        tip = corners[int(np.argmax(away))]
        foot = shapely.shortest_line(Point(tip), core).coords[1]
        out = float(away.max()) - r
        reach = math.dist(tip, foot)
        far = max(0.0, reach - (r - nest.play_mm))
        end = (foot[0] + (tip[0] - foot[0]) * far / reach, foot[1] + (tip[1] - foot[1]) * far / reach)
        region = shapely.union_all([region, buffer_round(LineString([foot, end]), r)])
        tips.append((float(tip[0]), float(tip[1]), out))
    return Window(polygons(region)[0], tuple(tips))


def nest_elements(outline: Polygon, nest: Nest, bed_mm: float) -> list[Element]:
    """Return what a nest can do to the piece in it: it reacts inward, all round, up to the strength of its wall; it holds nothing down and rubs nothing.

    Source: figures.holding.rail_n_mm, each place standing for the wall as far as halfway to its neighbours.
    """
    ring = shapely.geometry.polygon.orient(outline).exterior
    count = max(12, round(ring.length / figures()["jigs"]["nest_place_mm"]))
    out = []
    for k in range(count):
        a, b = (ring.interpolate((k + d) / count, normalized=True) for d in (-0.01, 0.01))
        x, y = ring.interpolate(k / count, normalized=True).coords[0]
        long = math.hypot(b.x - a.x, b.y - a.y)
        inward = (-(b.y - a.y) / long, (b.x - a.x) / long, 0.0)
        out.append(Element(NEST, (float(x), float(y), bed_mm + nest.deep_mm / 2), inward, figures()["holding"]["rail_n_mm"] * ring.length / count))
    return out


def cut_free_before(operations: list, outline_id: str, setups: list[str], setup: str) -> bool:
    """Say whether an earlier setup cuts the piece out of its blank."""
    whole = [o for o in operations if o.kind is OperationKind.PROFILE and o.down_to_mm is None]
    return any(outline_id in o.features and setups.index(o.setup) < setups.index(setup) for o in whole)
