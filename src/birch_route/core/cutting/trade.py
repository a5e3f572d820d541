"""Between quiet and fast: settings from one end of what keeps every limit to the other, and what each costs in minutes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from ..route import Settings
from ..vocabulary import Aim, Limit
from .limits import Question, asked, parts, worst
from .question import Answer, answer, settings_of

PLACES = 17  # from end to end
BETTER = 1.001  # a place that is no faster than a quieter one by so much is left out


@dataclass(frozen=True)
class Place:
    """One place between the ends. at: 0 quiet to 1 fast. minutes: for a metre of cut of the feature's depth where that is known, else for 100 cm3. binds: the limit it comes nearest to, used so far."""

    at: float
    settings: Settings
    chip_mm: float
    minutes: float
    force_n: float
    rim_m_s: float
    binds: Limit
    used: float


def minutes_of(q: Question, s: Settings) -> float:
    """Return the minutes settings take: for a metre of cut as deep as the feature where that is known, else for 100 cm3."""
    if q.deep_mm:
        return math.ceil(q.deep_mm / s.depth_of_cut_mm - 1e-9) * 1000 / s.feed_mm_min
    return 100_000 / (s.feed_mm_min * s.depth_of_cut_mm * min(q.side_mm, q.bit.cut_diameter_mm))


def trade(q: Question, quiet: Answer | None = None, fast: Answer | None = None) -> list[Place]:
    """Return places from the quiet answer to the fastest (only the first where that is as fast), evenly by ratio in chip load, speed and depth; a dial gives the nearest of its steps and the feed follows.

    Source: every limit but rubbing is a product of powers of the settings, so what lies between two that keep it keeps it too, but for the steps of a dial and the straight pieces of figures; each place is judged all the same.
    """
    loud = replace(q, quiet=False)
    a, b = quiet or answer(q, Aim.QUIET), fast or answer(loud, Aim.FAST)
    out: list[Place] = []
    for k in range(PLACES):
        t = k / (PLACES - 1)
        s = a.settings if k == 0 else b.settings if k == PLACES - 1 else _between(q, a.settings, b.settings, t)
        minutes = minutes_of(q, s)
        if k == PLACES - 1:
            out = out[:1] + [p for p in out[1:] if p.minutes > minutes * BETTER]
        if k and minutes * BETTER >= out[0].minutes:
            continue  # quiet is as fast
        if 0 < k < PLACES - 1 and minutes * BETTER >= out[-1].minutes:
            continue  # louder and no faster: the steps of a dial, or whole passes
        found = asked(loud, np.array(s.feed_mm_min), np.array(s.speed_rpm), np.array(s.depth_of_cut_mm), np.array(q.side_mm))
        use, by = worst(parts(loud, s.feed_mm_min, s.speed_rpm, s.depth_of_cut_mm, q.side_mm))
        out.append(Place(t, s, float(found.chip_mm), minutes, float(found.force_n), float(found.rim_m_s), by[0], float(use[0])))
    return out


def _between(q: Question, a: Settings, b: Settings, t: float) -> Settings:
    def ratio(x: float, y: float) -> float:
        return x ** (1 - t) * y**t
    speed = q.machine.nearest_speed(ratio(a.speed_rpm, b.speed_rpm))
    chip = ratio(a.feed_mm_min / a.speed_rpm, b.feed_mm_min / b.speed_rpm)
    return settings_of(q, min(chip * speed, q.machine.greatest_feed_mm_min), speed, ratio(a.depth_of_cut_mm, b.depth_of_cut_mm))
