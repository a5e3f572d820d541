"""A run at the machine as data: its steps with how they stand, its events."""

from __future__ import annotations

from typing import Literal

from .base import Number, Wire
from .run import Bed

StepKindAt = Literal["bench", "load", "clamps", "zero", "bit", "check", "hands", "cut", "look"]
EventKind = Literal[
    "ticked", "taken_back", "started", "stopped", "went_on", "note", "reading", "wrong", "closed"
]


class Who(Wire):
    by: str
    at: str
    device: str


class StepCut(Wire):
    id: str
    name: str
    minutes: Number


class StepProgram(Wire):
    name: str
    number: str
    begins: bool


class AtMachineStep(Wire):
    """One thing to do. number: its length in words, marked for the reader's unit."""

    id: str
    kind: StepKindAt
    title: str
    press: str
    setup: str
    lines: list[str]
    number: str
    number_mm: Number | None
    number_words: str
    sets: dict[str, Number]
    goes: dict[str, Number]
    minutes: Number
    waits: bool
    safety: bool
    bench: str
    bit: str
    done: Who | None
    again: list[Who]
    started: Who | None
    stopped: Who | None
    stop_why: str
    running_since: str | None
    cut_s: Number
    ready_at: str | None
    in_sight: bool
    operations: list[StepCut]
    programs: list[StepProgram]


class AtMachineEvent(Wire):
    id: int
    device: str
    number: int
    kind: EventKind
    step: str
    note: str
    value_mm: Number | None
    by: str
    at: str


class RunClosed(Wire):
    at: str
    outcome: str
    by: str


class SetupAtMachine(Wire):
    id: str
    name: str
    bed: Bed


class AtMachineState(Wire):
    """A run at the machine. outdated: the job has a newer revision than the one it cuts."""

    id: int
    route: int
    job: str
    revision: int
    outdated: bool
    begun_at: str
    begun_by: str
    now: str
    current: str | None
    closed: RunClosed | None
    setups: list[SetupAtMachine]
    steps: list[AtMachineStep]
    events: list[AtMachineEvent]


class StoppedAt(Wire):
    """A place in a program, program coordinates, mm."""

    line: int
    operation: str
    at_mm: tuple[Number, Number, Number]
    away_mm: Number


class ProgramOn(Wire):
    """A program that goes on, read back and cut from both woods."""

    spot: StoppedAt
    name: str
    number: str
    text: str
    minutes: Number
    back_mm: Number
    down_at_mm: tuple[Number, Number, Number]
    differs_mm: Number


class AtMachineRow(Wire):
    id: int
    revision: int
    made_by: str
    made_at: str
    closed_at: str | None
