"""A station for each of several pieces alike on the board that holds them."""

from __future__ import annotations

import shapely
from shapely.affinity import translate
from shapely.geometry import Polygon

from ..quantities import mm
from ..route import Setup
from .draft import Draft

CORNER_MM = 8.0


def take_pieces(whole: Draft, setup: Setup, station: Draft, area: Polygon) -> Polygon:
    """Take the stations of further pieces alike, each where its programs go; return the area of all of them.

    Args:
        whole: the board so far, with the first station; changed. area: of one station, in the setup's frame, mm.
    """
    parts = [area]
    for n, (dx, dy) in enumerate(setup.more_at, 2):
        whole.take(station, dx, dy, f"_{n}", f", station {n}")
        whole.works_with.append(
            f"Station {n}: piece {n}, X {mm(dx):+.2f}, Y {mm(dy):+.2f} from the first. Its programs keep the zero of "
            f"station 1."
        )
        parts.append(translate(area, dx, dy))
    if len(parts) == 1:
        return area
    return shapely.union_all(parts).envelope.buffer(-CORNER_MM).buffer(CORNER_MM, quad_segs=12)
