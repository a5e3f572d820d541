"""Brushes of a motor: what they have behind them, and how much is left before they are due."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from .data import figures
from .machines import Machine
from .quantities import mm


@dataclass(frozen=True)
class Brushes:
    """Hours at the machine's greatest speed that count the same: behind the set that is in, left of it, asked by a job; jobs_left like it before they are due (None: no job). hours: of the spindle, as the clock goes, since they went in."""

    hours: float
    worn_h: float
    left_h: float
    job_h: float
    jobs_left: int | None
    spares: int
    words: str


def brushes(machine: Machine, notes: Sequence[Mapping[str, Any]], job_weighed_min: float = 0.0) -> Brushes | None:
    """Return the state of a machine's brushes from its notes, the newest first; None where its spindle has none.

    Args:
        job_weighed_min: minutes at the greatest speed that the job at hand counts for.

    Source: wear in proportion to the way the collector rubs (ran.turning); how long a set lasts is its maker's figure, or measured here.
    """
    if machine.brushes_h is None:
        return None
    spares = next((int(n["spares"]) for n in notes if n["spares"] is not None), 0)
    plain = weighed = 0.0
    for n in notes:
        if n["what"] == "brushes":
            break
        plain, weighed = plain + n["minutes"], weighed + n["weighed_min"]
    worn, job = weighed / 60, job_weighed_min / 60
    left = max(0.0, machine.brushes_h - worn)
    words = []
    if left <= 0:
        words.append("the brushes are due: change them before the next job")
    elif job > left:
        words.append(f"the brushes have {left:.1f} hours left and this job asks {job:.1f}: change them first")
    elif left < figures()["brushes"]["look_part"] * machine.brushes_h:
        words.append(f"the brushes have {mm(left):.1f} of {machine.brushes_h:g} hours left: look at their length")
    if words and spares == 0:
        words.append("no spare set is in the drawer")
    return Brushes(plain / 60, worn, left, job, int(left / job + 1e-9) if job > 0 else None, spares, "; ".join(words))
