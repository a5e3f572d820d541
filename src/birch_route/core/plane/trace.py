"""Outlines traced from a scan or photo: threshold, contour between pixels, smooth closed curve, and how far it may be off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy import ndimage
from scipy.interpolate import CubicSpline, splev, splprep
from scipy.spatial import cKDTree

from ..errors import GeometryError
from .curves import Path

BLUR_PX = 1.0
PAD_PX = 2
SMOOTH_PX = 0.1  # how far the smooth curve may leave the contour, root mean square
LEAST_PART = 0.0005  # of the picture's area; smaller specks are dropped
MOST_CURVES = 40
SPACING_PX = 6.0


@dataclass(frozen=True)
class Traced:
    """A closed curve in mm, y upwards, and the farthest any point of the contour lies from it."""

    path: Path
    worst_mm: float
    points: int


def threshold_of(grey: np.ndarray) -> float:
    """Return the grey value half way between the two heaps that a picture's grey values make.

    Half way, since an edge is as soft on one side as on the other; the valley between the heaps is often flat and says no more.

    Source: Otsu 1979, the parting with the greatest variance between the classes, over 256 bins.
    """
    counts, edges = np.histogram(grey, 256, (float(grey.min()), float(grey.max()) + 1e-9))
    middles = (edges[1:] + edges[:-1]) / 2
    below = np.cumsum(counts)
    above = below[-1] - below
    mean_below = np.cumsum(counts * middles) / np.maximum(below, 1)
    total = (counts * middles).sum()
    mean_above = (total - np.cumsum(counts * middles)) / np.maximum(above, 1)
    best = int(np.argmax(below * above * (mean_below - mean_above) ** 2))
    return float((mean_below[best] + mean_above[best]) / 2)


def trace(grey: np.ndarray, mm_per_px: float) -> list[Traced]:
    """Return the closed curves of a picture, largest first.

    Args:
        grey: float [h, w], row 0 at the top. mm_per_px: size of a pixel.

    Raises:
        GeometryError: nothing stands out from the ground.
    """
    if grey.ndim != 2 or min(grey.shape) < 16:
        raise GeometryError("The picture is too small to trace.", where="scan")
    if float(grey.max() - grey.min()) < 0.08:
        raise GeometryError("Nothing stands out in this picture. Lay the plate on a ground of another brightness, lit evenly.", where="scan")
    smooth = ndimage.gaussian_filter(np.pad(grey.astype(float), PAD_PX, mode="edge"), BLUR_PX)
    level = threshold_of(smooth)
    border = np.concatenate([smooth[0], smooth[-1], smooth[:, 0], smooth[:, -1]])
    inside = smooth - level if np.median(border) < level else level - smooth  # the ground is what the border shows
    inside[[0, -1], :] = inside[:, [0, -1]] = -1.0  # what runs off the picture is closed at its edge
    found = []
    for ring in contours(inside):
        area = abs(0.5 * float(np.sum(ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1])))
        if area >= LEAST_PART * grey.size and len(ring) >= 12:
            found.append((area, ring))
    found.sort(key=lambda f: -f[0])
    if not found:
        raise GeometryError("No closed shape was found in this picture.", where="scan")
    bottom = grey.shape[0] - 1 + PAD_PX
    return [_smoothed(np.column_stack([ring[:, 0] - PAD_PX, bottom - ring[:, 1]]), mm_per_px) for _, ring in found[:MOST_CURVES]]


def contours(field: np.ndarray) -> list[np.ndarray]:
    """Return the closed curves along which a field is zero, each as points [n, 2] (x, y) between its samples.

    Source: marching squares with linear interpolation; the field must be below zero all along its border.
    """
    h, w = field.shape
    up = field > 0
    links: dict[int, list[int]] = {}
    places: dict[int, tuple[float, float]] = {}

    def across(j: int, i: int) -> int:  # on the edge from (i, j) to (i + 1, j)
        key = 2 * (j * w + i)
        if key not in places:
            a, b = field[j, i], field[j, i + 1]
            places[key] = (i + a / (a - b), float(j))
        return key

    def along(j: int, i: int) -> int:  # on the edge from (i, j) to (i, j + 1)
        key = 2 * (j * w + i) + 1
        if key not in places:
            a, b = field[j, i], field[j + 1, i]
            places[key] = (float(i), j + a / (a - b))
        return key

    mixed = up[:-1, :-1].astype(np.int8) + 2 * up[:-1, 1:] + 4 * up[1:, 1:] + 8 * up[1:, :-1]
    for j, i in np.argwhere((mixed != 0) & (mixed != 15)).tolist():
        case = int(mixed[j, i])
        top, right, bottom, left = (lambda: across(j, i)), (lambda: along(j, i + 1)), (lambda: across(j + 1, i)), (lambda: along(j, i))
        if case in (5, 10):
            joined = field[j: j + 2, i: i + 2].mean() > 0
            pairs = [(top, right), (bottom, left)] if (case == 5) == joined else [(top, left), (bottom, right)]
        else:
            edges = [e for e, (p, q) in ((top, (1, 2)), (right, (2, 4)), (bottom, (4, 8)), (left, (1, 8))) if bool(case & p) != bool(case & q)]
            pairs = [(edges[0], edges[1])]
        for one, other in pairs:
            a, b = one(), other()
            links.setdefault(a, []).append(b)
            links.setdefault(b, []).append(a)
    out, used = [], set()
    for start in links:
        if start in used:
            continue
        ring, before, at = [], -1, start
        while at not in used:
            used.add(at)
            ring.append(places[at])
            onward = [k for k in links[at] if k != before and k not in used]
            if not onward:
                break
            before, at = at, onward[0]
        out.append(np.asarray(ring))
    return out


def _smoothed(ring: np.ndarray, mm_per_px: float) -> Traced:
    """Return a smooth closed curve along a contour, as cubic pieces, with the farthest the contour lies from it."""
    keep = np.hypot(*(ring - np.roll(ring, 1, axis=0)).T) > 1e-6
    ring = ring[keep]
    closed = np.vstack([ring, ring[:1]])
    (tck, _) = splprep(closed.T, s=len(ring) * SMOOTH_PX**2, per=True)
    length = float(np.hypot(*np.diff(closed, axis=0).T).sum())
    count = int(np.clip(length / SPACING_PX, 12, 4000))
    knots = np.column_stack(splev(np.linspace(0, 1, count, endpoint=False), tck))
    loop = np.vstack([knots, knots[:1]])
    t = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(loop, axis=0).T))])
    curve = CubicSpline(t, loop, bc_type="periodic")
    slopes = curve(t, 1)
    segments = []
    for k in range(count):
        third = (t[k + 1] - t[k]) / 3
        one, two, end = loop[k] + slopes[k] * third, loop[k + 1] - slopes[k + 1] * third, loop[(k + 1) % count]
        segments.append(("cubic", *(float(v) * mm_per_px for v in (*one, *two, *end))))
    dense = curve(np.linspace(0, t[-1], max(400, 8 * len(ring))))
    worst = float(cKDTree(dense).query(ring)[0].max())
    start = (float(loop[0][0]) * mm_per_px, float(loop[0][1]) * mm_per_px)
    return Traced(Path(start=start, segments=segments), worst * mm_per_px, len(ring))
