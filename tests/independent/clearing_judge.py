"""A judge of clearing that shares nothing with the planner: cells wood or no wood at a sixtieth of the bit's radius, the bit set
down at every step, its rim read at 720 places. It asks for the moves as kinds and points, nothing else."""

import math

import numpy as np
import shapely
from numba import njit
from scipy import ndimage

RIM = 720


@njit(cache=True)
def _run(wood, allowed, points, kinds, radius, rim_out, cosines, sines):
    """Return per step the rim in wood before it (radians), the cells it took, and how many cells outside what is allowed."""
    rows, columns = wood.shape
    n = len(points)
    met, took, gouged = np.zeros(n), np.zeros(n), 0
    for s in range(n):
        if kinds[s] == 2:
            continue
        u, v = points[s, 0], points[s, 1]
        for j in range(max(0, int(v - radius) - 1), min(rows - 1, int(v + radius) + 1) + 1):
            left = radius * radius - (j - v) ** 2
            if left < 0:
                continue
            half = math.sqrt(left)
            for i in range(max(0, math.ceil(u - half)), min(columns - 1, math.floor(u + half)) + 1):
                if wood[j, i]:
                    wood[j, i] = False
                    took[s] += 1
                if not allowed[j, i]:
                    gouged += 1
                    allowed[j, i] = True
        if s + 1 < n and kinds[s + 1] != 2:
            du, dv = points[s + 1, 0] - u, points[s + 1, 1] - v
            if du * du + dv * dv < 1e-18:
                continue
            first = int(round(math.atan2(dv, du) / (2 * math.pi) * RIM))
            count = 0
            for a in range(first - RIM // 4, first + RIM // 4 + 1):
                k = a % RIM
                i, j = int(math.floor(u + rim_out * cosines[k] + 0.5)), int(math.floor(v + rim_out * sines[k] + 0.5))
                if 0 <= i < columns and 0 <= j < rows and wood[j, i]:
                    count += 1
            met[s + 1] = count * 2 * math.pi / RIM
    return met, took, gouged


def _steps(moves, step_mm):
    """Return points [n, 2] and kinds [n] at even steps along the moves."""
    points, kinds = [], []
    for kind, line in moves:
        for a, b in zip(line[:-1], line[1:], strict=True):
            parts = max(1, math.ceil(math.dist(a, b) / step_mm))
            t = np.arange(1, parts + 1)[:, None] / parts
            points.append(a + t * (b - a))
            kinds.append(np.full(parts, kind, np.int8))
    return np.vstack([moves[0][1][:1], *points]), np.concatenate([[3], *kinds]).astype(np.int8)


def judge(region, radius_mm, moves, target_deg, cell_mm=None):
    """Return what moves through a region full of wood do.

    moves: (kind, points [n, 2]) with kind 0 cut, 1 link at depth, 2 lifted, 3 entry, 4 along the wall.
    left_mm2: wood that a raster opening says the bit can reach and that still stands.
    """
    cell = cell_mm or radius_mm / 60
    xmin, ymin, xmax, ymax = region.bounds
    pad = 2 * radius_mm + 1
    x0, y0 = xmin - pad - 0.3719 * cell, ymin - pad - 0.6113 * cell  # no cell right on a straight wall
    columns, rows = int((xmax - xmin + 2 * pad) / cell) + 1, int((ymax - ymin + 2 * pad) / cell) + 1
    shapely.prepare(region)
    inside = np.zeros((rows, columns), np.bool_)
    xs = x0 + np.arange(columns) * cell
    for j in range(0, rows, 200):
        grid = np.meshgrid(xs, y0 + np.arange(j, min(j + 200, rows)) * cell)
        inside[j: j + 200] = shapely.contains_xy(region, *grid)
    centre = ndimage.distance_transform_edt(inside) * cell >= radius_mm + 0.5 * cell
    reach = ndimage.distance_transform_edt(~centre) * cell <= radius_mm if centre.any() else np.zeros_like(inside)
    wood = inside & ndimage.binary_dilation(reach)
    points, kinds = _steps(moves, cell)
    angles = np.arange(RIM) * 2 * math.pi / RIM
    left = wood.copy()
    met, took, gouged = _run(left, ndimage.binary_dilation(inside), (points - [x0, y0]) / cell, kinds, radius_mm / cell, radius_mm / cell + 0.75, np.cos(angles), np.sin(angles))
    far = np.concatenate([[0.0], np.hypot(*np.diff(points, axis=0).T)])
    counted = kinds != 3
    counted &= kinds != 2
    busy = counted & (np.degrees(met) > 12)
    total = far[busy].sum() or 1.0
    cut = kinds == 0
    idle = far[counted].sum() - far[busy].sum() - far[(kinds == 4) & ~busy].sum()
    width = radius_mm * (1 - math.cos(math.radians(target_deg)))
    left &= reach
    spots = np.argwhere(left)
    return {
        "left_at": [(float(x0 + i * cell), float(y0 + j * cell)) for j, i in spots[:: max(1, len(spots) // 5)][:5]],
        "reachable_mm2": float(reach.sum() * cell**2), "left_mm2": float(left.sum() * cell**2), "gouged_mm2": float(gouged * cell**2),
        "over_15": float(far[busy & (np.degrees(met) > 1.15 * target_deg)].sum() / total), "over_30": float(far[busy & (np.degrees(met) > 1.30 * target_deg)].sum() / total),
        "length_ratio": float(far[cut & busy].sum() * width / max(took[kinds != 3].sum() * cell**2, 1e-9)), "air": float(idle / max(far[counted].sum(), 1e-9)),
        "lifts": int(((kinds[1:] == 2) & (kinds[:-1] != 2)).sum()), "most_deg": float(np.degrees(met[counted]).max(initial=0.0)),
        "link_took_mm2": float(took[kinds == 1].sum() * cell**2), "points": points, "kinds": kinds, "met": np.degrees(met), "far": far,
    }
