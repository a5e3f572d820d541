"""What the minutes of an operation are spent on, and what a higher feed would save."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..machines import Machine
from ..vocabulary import MOVE_CODES, RAPID_CODE, MoveKind
from .timing import move_times
from .toolpath import Toolpath

AIR_MM3 = 1e-3  # a move that takes less than this cuts air
FASTER = 1.2


@dataclass(frozen=True)
class Spent:
    """Seconds of an operation by what they go on; the first four add up to its time.

    at_feed_s: on the way at the feed that was asked for. changing_s: lost to speeding up and slowing down. capped_s: lost because an axis or the
    machine's greatest feed is slower than the feed. down_s: plunges and their slowing. rapid_s: rapid moves. air_s: of the moves at feed, those that
    meet no wood. faster_saves_s: what 20 % more feed would save.
    """

    at_feed_s: float
    changing_s: float
    capped_s: float
    down_s: float
    rapid_s: float
    air_s: float
    faster_saves_s: float

    @property
    def limit(self) -> str:
        """The word for what takes most of the time: feed, acceleration, cap, plunges or rapid; greatest where the feed is the machine's greatest."""
        parts = {"feed": self.at_feed_s, "acceleration": self.changing_s, "cap": self.capped_s, "plunges": self.down_s, "rapid": self.rapid_s}
        most = max(parts, key=lambda k: parts[k])
        return "greatest" if most == "feed" and self.faster_saves_s < 0.01 * self.at_feed_s else most


def spent(path: Toolpath, times_s: np.ndarray, removed_mm3: np.ndarray, machine: Machine) -> Spent:
    """Return what the time of a toolpath is spent on.

    path: n moves. times_s: float64 [n], as move_times gives. removed_mm3: float64 [n].
    Source: time at a steady feed is length / feed; what a move takes beyond that is speeding up, slowing down, or an axis that cannot follow.
    """
    step = np.diff(path.points, axis=0)
    length = np.sqrt((step**2).sum(1))
    rapid = path.kinds == RAPID_CODE
    down = path.kinds == MOVE_CODES[MoveKind.PLUNGE]
    cutting = ~rapid & ~down
    asked = np.maximum(path.feeds, 1e-9) / 60
    unit = np.abs(step) / np.maximum(length, 1e-12)[:, None]
    with np.errstate(divide="ignore"):
        follow = np.where(unit > 1e-9, np.asarray(machine.rapid_mm_min) / 60 / np.maximum(unit, 1e-12), np.inf).min(1)
    allowed = np.minimum(np.minimum(asked, follow), machine.greatest_feed_mm_min / 60)
    at_feed = np.where(cutting, length / asked, 0.0)
    capped = np.where(cutting, length / allowed, 0.0) - at_feed
    changing = np.where(cutting, times_s, 0.0) - at_feed - capped
    faster = move_times(replace(path, feeds=np.where(cutting, path.feeds * FASTER, path.feeds)), machine)
    return Spent(float(at_feed.sum()), float(max(changing.sum(), 0.0)), float(capped.sum()), float(times_s[down].sum()), float(times_s[rapid].sum()),
                 float(times_s[cutting & (removed_mm3 < AIR_MM3)].sum()), float(times_s.sum() - faster.sum()))
