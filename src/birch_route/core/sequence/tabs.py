"""Where tabs go: spaced along the outline, on its straighter stretches."""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import Polygon

from ..data import figures
from ..route import Tab


def propose_tabs(outline: Polygon, thickness_mm: float) -> list[Tab]:
    """Return tabs for an outline: at least figures.tab.least, one for every figures.tab.spacing_mm of its length.

    Each even share of the outline takes its tab where the outline turns least within a tab's width either way, so
    that a saw can follow and no horn tip carries one.
    """
    fig = figures()["tab"]
    length = outline.exterior.length
    width = min(fig["width_mm"], length / 12)
    count = max(fig["least"], math.ceil(length / fig["spacing_mm"]))
    samples = max(count * 24, 96)
    at = (np.arange(samples) + 0.5) / samples
    turn = np.array([_turning(outline, s * length, width) for s in at])
    tabs = []
    for k in range(count):
        share = np.flatnonzero((at >= (k + 0.2) / count) & (at < (k + 0.8) / count))
        best = share[int(np.argmin(turn[share]))]
        tabs.append(Tab(at=float(at[best]), width_mm=round(width, 1), height_mm=round(min(fig["height_mm"], thickness_mm * 0.4), 2)))
    return tabs


def _turning(outline: Polygon, s: float, width: float) -> float:
    """Return how far the outline turns, rad, from one tab width before to one after."""
    ring, length = outline.exterior, outline.exterior.length
    a, b, c = (ring.interpolate((s + k * width) % length) for k in (-1.5, 0, 1.5))
    first, second = math.atan2(b.y - a.y, b.x - a.x), math.atan2(c.y - b.y, c.x - b.x)
    return abs((second - first + math.pi) % (2 * math.pi) - math.pi)
