"""The bench: all jobs, and how far each is."""

from __future__ import annotations

from typing import Literal

from .base import Number, Point, Wire


class JobRow(Wire):
    id: Number
    name: str
    note: str
    latest: Number
    changed_at: str
    away_since: str | None
    away_by: str | None
    author: str
    piece_kind: str
    wood: str
    hash: str


class JobList(Wire):
    """A page of jobs. count: of those asked for. away: how many are put away."""

    count: int
    away: int
    routes: list[JobRow]


class JobAway(Wire):
    id: int
    away: bool


class JobStep(Wire):
    id: str
    name: str
    is_bench: bool
    done: bool
    change: bool


class JobStanding(Wire):
    """How far a job is. blank: x, y, length, width, mm; outline and cuts: rings in plan. freed: its outline is cut."""

    hash: str
    steps: list[JobStep]
    words: str
    then: str
    place: Literal["measure", "route", "hold", "run"]
    waits_until: str | None
    freed: bool
    blank: list[Number]
    outline: list[list[Point]]
    cuts: list[list[Point]]
