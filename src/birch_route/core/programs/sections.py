"""What is read from a program: its motion between bit changes, and what could not be understood."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from ..motion.toolpath import Toolpath
from ..proving.findings import Finding


@dataclass
class Section:
    """The motion between two bit changes, program coordinates in mm. lines: line of each move; on: spindle turns;
    raised: points that a
    retract in machine coordinates left at a height that is not known."""

    tool: int | None
    points: list[tuple[float, float, float]] = field(default_factory=list)
    kinds: list[int] = field(default_factory=list)
    feeds: list[float] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    on: list[bool] = field(default_factory=list)
    raised: list[int] = field(default_factory=list)
    speed_rpm: float = 0.0

    def path(self, offset: tuple[float, float, float]) -> Toolpath:
        """Return the motion with an offset added."""
        points = np.asarray(self.points, float).reshape(-1, 3) + np.asarray(offset)
        return Toolpath(points, np.asarray(self.kinds, np.int8), np.asarray(self.feeds, float))


@dataclass
class ReadProgram:
    """A program as read. asked: every feed, mm/min, and speed that it asks for, with the first line that does."""

    sections: list[Section]
    problems: list[Finding]
    lines: int
    dwell_s: float = 0.0
    stops: int = 0
    offsets: frozenset[int] = frozenset()  # work offsets it selects, 1 is G54
    feeds: dict[float, int] = field(default_factory=dict)
    speeds: dict[float, int] = field(default_factory=dict)
    touch_offs: list[float] = field(default_factory=list)  # what it sets Z to, mm, each time it touches off by itself
    left_on: bool = False  # the spindle was not stopped before the end
