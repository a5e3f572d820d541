"""Answers about small jobs that measure a machine."""

from __future__ import annotations

from typing import Literal

from .base import Number, Wire

Gauge = Literal["length", "seconds", "speed", "number"]


class ToldRow(Wire):
    """What readings say: figure of the machine or "", in its own unit, with the range that holds it 9 times in 10."""

    figure: str
    sentence: str
    value: bool | Number
    low: Number
    high: Number
    fix: str


class KeptRow(Wire):
    id: int
    told: list[ToldRow]
    made_by: str
    made_at: str


class MeasuringRow(Wire):
    """A small job of a machine: refused says why it cannot be made; taken: readings of a job that is under way."""

    kind: str
    title: str
    about: str
    refused: str
    readings: int
    taken: int
    kept: KeptRow | None
    old: bool


class GivenRow(Wire):
    name: str
    words: str
    value: Number
    least: Number
    greatest: Number
    gauge: Gauge


class AskRow(Wire):
    """A reading: expected on a true machine; line on the drawing, mm."""

    name: str
    words: str
    gauge: Gauge
    expected: Number | None
    line: tuple[tuple[Number, Number], tuple[Number, Number]] | None
    value: Number | None


class DrawnRow(Wire):
    kind: str
    at: list[Number]


class MeasuringState(Wire):
    """A small job with its readings. minutes: the program's, None where there is none; changed: the machine was changed
    since, so that the job would be another; is_kept: what it tells is the machine's."""

    kind: str
    title: str
    about: str
    steps: list[str]
    given: list[GivenRow]
    asks: list[AskRow]
    drawn: list[DrawnRow]
    minutes: Number | None
    left: list[str]
    told: list[ToldRow]
    apart: dict[str, Number]
    is_kept: bool
    changed: bool
    history: list[KeptRow]
