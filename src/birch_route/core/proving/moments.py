"""Inside one operation: the wood at moments of it, evenly spread over its time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..heights.field import Wood, cut_path
from ..motion.toolpath import Toolpath
from .simulate import Simulation


@dataclass(frozen=True)
class Moment:
    """The wood at one moment. top: float32 [ny, nx], good until the next is asked for. box_mm: xmin, ymin, xmax, ymax of what was cut since the moment before; None: nothing."""

    at_s: float
    top: np.ndarray
    box_mm: tuple[float, float, float, float] | None


def parted(path: Toolpath, times_s: np.ndarray, at_s: np.ndarray) -> tuple[Toolpath, np.ndarray]:
    """Return a toolpath with a point at each of the given times, and the index of the point at each.

    Args:
        times_s: seconds of every move, [n]. at_s: rising, [m].

    Source: inside one move the bit is taken to run evenly.
    """
    clock = np.concatenate([[0.0], np.cumsum(times_s)])
    places = np.interp(at_s, clock, np.arange(len(clock)))
    whole = np.unique(np.concatenate([np.arange(len(clock)), places]))
    first = np.minimum(whole.astype(int), len(path) - 1)
    part = (whole - first)[:, None]
    points = path.points[first] * (1 - part) + path.points[first + 1] * part
    return Toolpath(points, path.kinds[first[:-1]], path.feeds[first[:-1]]), np.searchsorted(whole, places)


def moments(sim: Simulation, index: int, count: int) -> Iterator[Moment]:
    """Yield the wood of one operation at `count` moments; the last is its end."""
    step = sim.steps[index]
    if not len(step.path):
        return
    ends = np.linspace(0.0, float(step.times_s.sum()), count + 1)[1:]
    path, places = parted(step.path, step.times_s, ends)
    places[-1] = len(path)
    wood, begun = Wood(sim.grid, sim.top_before(index).copy(), sim.bottom), 0
    for at, end in zip(ends, places.tolist(), strict=True):
        piece = Toolpath(path.points[begun: end + 1], path.kinds[begun:end], path.feeds[begun:end])
        cut_path(wood, piece, step.bit, sim.route.machine.nut_diameter_mm, step.ceiling_mm)
        low = piece.points[:, 2].min() if len(piece) else step.ceiling_mm
        r = max(step.bit.reach_mm, step.bit.shank_diameter_mm / 2) + sim.grid.cell_mm
        box = None
        if low < step.ceiling_mm:
            (x0, y0), (x1, y1) = piece.points[:, :2].min(0), piece.points[:, :2].max(0)
            box = float(x0 - r), float(y0 - r), float(x1 + r), float(y1 + r)
        yield Moment(float(at), wood.top if sim.hollow is None else sim.hollow.fall(wood.top), box)
        begun = end

