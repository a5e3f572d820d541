"""An independent motion planner that is given only a program's text and the machine's limits.

It shares no code with the product: its own small parser, arcs cut into fine pieces, speed limits sampled every few
hundredths of a millimetre, and two sweeps of v dv = a ds over the samples. The motion model is the one documented in
docs/formats/report.md.
"""

from __future__ import annotations

import math
import re

import numpy as np

STEP_MM = 0.02
CHORD_MM = 0.003


def program_seconds(
    text: str,
    rates_mm_min: list[float],
    accelerations: list[float],
    deviation_mm: float,
    top_feed: float,
    arcs_limited: bool = True,
) -> float:
    """Return the seconds a program moves, dwells left out. arcs_limited: on an arc of radius r no faster than sqrt(a
    r), a the lesser limit of X and Y."""
    a = min(accelerations[:2]) if arcs_limited else math.inf
    return sum(
        _run_seconds(p, f, np.sqrt(a * np.asarray(r)), rates_mm_min, accelerations, deviation_mm, top_feed)
        for p, f, r in _runs(text)
    )


def _runs(text: str):
    """Yield (points, feeds, radius of the arc or infinite) between stops; feed 0 marks a rapid move."""
    at, scale, mode, feed = [None, None, None], 1.0, 0, 0.0
    points, feeds, radii = [], [], []
    for raw in text.splitlines():
        line = re.sub(r"\(.*?\)", "", raw).split(";")[0]
        words = [(w[0], float(w[1:])) for w in re.findall(r"[A-Z][-+]?[0-9.]+", line)]
        gs = [v for w, v in words if w == "G"]
        if 4 in gs:
            continue
        scale = 25.4 if 20 in gs else 1.0 if 21 in gs else scale
        for g in gs:
            mode = int(g) if g in (0, 1, 2, 3) else mode
        value = dict(words)
        if "F" in value:
            feed = value["F"] * scale
        if value.get("M") in (0, 6, 30) and points:
            yield points, feeds, radii
            points, feeds, radii = [points[-1]], [], []
        if not any(a in value for a in "XYZ"):
            continue
        to = [value[a] * scale if a in value else at[k] for k, a in enumerate("XYZ")]
        if None in at or None in to:
            at = to
            if None not in at:
                points = [tuple(at)]
            continue
        if mode in (2, 3):
            cx, cy = at[0] + value.get("I", 0) * scale, at[1] + value.get("J", 0) * scale
            r = math.hypot(at[0] - cx, at[1] - cy)
            a0, a1 = math.atan2(at[1] - cy, at[0] - cx), math.atan2(to[1] - cy, to[0] - cx)
            sweep = (a1 - a0) % (2 * math.pi) if mode == 3 else -((a0 - a1) % (2 * math.pi))
            if abs(sweep) < 1e-9:
                sweep = math.copysign(2 * math.pi, 1 if mode == 3 else -1)
            count = max(1, math.ceil(abs(sweep) / (2 * math.acos(1 - min(CHORD_MM, r / 2) / r))))
            for k in range(1, count + 1):
                t = k / count
                points.append((cx + r * math.cos(a0 + sweep * t), cy + r * math.sin(a0 + sweep * t), at[2] + (to[2] - at[2]) * t))
                feeds.append(feed)
                radii.append(r)
        else:
            points.append(tuple(to))
            feeds.append(0.0 if mode == 0 else feed)
            radii.append(math.inf)
        at = to
    if len(points) > 1:
        yield points, feeds, radii


def _run_seconds(points, feeds, on_arcs, rates, accelerations, deviation, top_feed) -> float:
    points, feeds = np.asarray(points, float), np.asarray(feeds, float)
    step = np.diff(points, axis=0)
    length = np.linalg.norm(step, axis=1)
    keep = length > 1e-9
    step, length, feeds, on_arcs = step[keep], length[keep], feeds[keep], on_arcs[keep]
    if not len(length):
        return 0.0
    unit = step / length[:, None]
    with np.errstate(divide="ignore"):
        fast = (np.asarray(rates) / 60 / np.abs(unit)).min(1)
        acc = (np.asarray(accelerations) / np.abs(unit)).min(1)
    speed = np.where(feeds > 0, np.minimum(np.minimum(fast, on_arcs), np.minimum(feeds, top_feed) / 60), fast)
    turn = np.clip((unit[1:] * unit[:-1]).sum(1), -1, 1)
    half = np.sqrt((1 + turn) / 2)
    with np.errstate(divide="ignore", invalid="ignore"):
        corner = np.where(turn > 0.999999, np.inf, np.where(turn < -0.999999, 0.0, np.minimum(acc[1:], acc[:-1]) * deviation * half / (1 - half)))
    corner = np.sqrt(np.minimum(corner, np.minimum(speed[1:], speed[:-1]) ** 2))
    pieces = np.maximum(1, np.ceil(length / STEP_MM).astype(int))
    ds = np.repeat(length / pieces, pieces)
    a = np.repeat(acc, pieces)
    limit = np.repeat(speed, pieces)
    nodes = np.concatenate([np.minimum(limit, np.concatenate([[np.inf], limit[:-1]])), [0.0]])
    nodes[0] = 0.0
    nodes[np.cumsum(pieces)[:-1]] = corner
    v2 = (nodes**2).tolist()
    gain = (2 * a * ds).tolist()
    for k in range(len(gain)):
        v2[k + 1] = min(v2[k + 1], v2[k] + gain[k])
    for k in range(len(gain) - 1, -1, -1):
        v2[k] = min(v2[k], v2[k + 1] + gain[k])
    v = np.sqrt(np.asarray(v2))
    peak = np.minimum(limit, np.sqrt((v[:-1] ** 2 + v[1:] ** 2 + 2 * a * ds) / 2))
    peak = np.maximum(peak, np.maximum(v[:-1], v[1:]))
    run = np.maximum(0.0, ds - (2 * peak**2 - v[:-1] ** 2 - v[1:] ** 2) / (2 * a))
    return float(((2 * peak - v[:-1] - v[1:]) / a + run / np.maximum(peak, 1e-9)).sum())
