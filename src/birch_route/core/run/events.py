"""The events of a run, and how far it is by them. Events are only ever added; taking one back is another event."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import datetime
from enum import StrEnum

from .steps import StepAt, StepKindAt


class EventKind(StrEnum):
    """What happened."""

    TICKED = "ticked"  # a step is done; of a cut: it finished
    TAKEN_BACK = "taken_back"
    STARTED = "started"  # the machine cuts
    STOPPED = "stopped"
    WENT_ON = "went_on"
    NOTE = "note"
    READING = "reading"
    WRONG = "wrong"
    CLOSED = "closed"


OF_CUTS = {EventKind.STARTED, EventKind.STOPPED, EventKind.WENT_ON}


@dataclass(frozen=True)
class Event:
    """One thing that happened. at: by the server's clock, whose order stands; device_at: by the device's own."""

    id: int
    kind: EventKind
    step: str
    at: datetime
    by: str
    device: str
    device_at: datetime | None = None
    note: str = ""
    value_mm: float | None = None


@dataclass
class StepIs:
    """How a step stands. again: ticks that came after the one that counts, from other devices or people. cut_s:
    seconds it cut, stops left out; running_since: while it cuts."""

    done: Event | None = None
    again: list[Event] = field(default_factory=list)
    started: Event | None = None
    stopped: Event | None = None
    running_since: datetime | None = None
    cut_s: float = 0.0


@dataclass(frozen=True)
class RunIs:
    """How a run stands: every step, the first that is not done (None: all are), and how it was closed."""

    steps: dict[str, StepIs]
    current: str | None
    closed: Event | None


def run_is(steps: Sequence[StepAt], events: Sequence[Event]) -> RunIs:
    """Return how a run stands after its events, in the server's order. Events of steps that are not there (any more)
    change nothing; they stay in the list."""
    out = {s.id: StepIs() for s in steps}
    closed = None
    for event in sorted(events, key=lambda e: e.id):
        if event.kind is EventKind.CLOSED:
            closed = closed or event
            continue
        state = out.get(event.step)
        if state is not None:
            _happened(state, event)
    current = next((s.id for s in steps if out[s.id].done is None), None)
    return RunIs(out, current, closed)


def _happened(state: StepIs, event: Event) -> None:
    if event.kind is EventKind.TICKED:
        if state.done is not None:
            state.again.append(event)
            return
        _rest(state, event)
        state.done, state.stopped = event, None
    elif event.kind is EventKind.TAKEN_BACK:
        state.done, state.again = None, []
    elif event.kind is EventKind.STARTED and state.started is None:
        state.started, state.running_since = event, event.at
    elif event.kind is EventKind.STOPPED and state.running_since is not None:
        _rest(state, event)
        state.stopped = event
    elif event.kind is EventKind.WENT_ON and state.stopped is not None:
        state.stopped, state.running_since = None, event.at


def _rest(state: StepIs, event: Event) -> None:
    if state.running_since is not None:
        state.cut_s += max(0.0, (event.at - state.running_since).total_seconds())
    state.running_since = None


def minutes_of(steps: Sequence[StepAt], state: RunIs) -> dict[str, float]:
    """Return the minutes each operation took, by id: of what was started and finished here, shared out among a
    stretch's operations as they were reckoned."""
    out: dict[str, float] = {}
    for step in steps:
        is_ = state.steps[step.id]
        if step.kind is not StepKindAt.CUT or step.cuts is None or is_.done is None or is_.started is None:
            continue
        for operation, _, reckoned in step.cuts.operations:
            share = reckoned / step.cuts.minutes if step.cuts.minutes else 1 / len(step.cuts.operations)
            out[operation] = round(is_.cut_s / 60 * share, 2)
    return out
