"""Answers about the shop itself and its machines."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.machines import Known, Machine
from .base import Number, Wire

Group = Literal["bed", "motion", "head", "spindle", "precision", "use"]
FigureKind = Literal[
    "length", "rate", "acceleration", "number", "speeds", "place", "places", "zones", "choice", "lengths", "hours"
]


class OwnShop(Wire):
    """The shop: named is false until somebody said what it is called; bits: of how many something was said."""

    named: bool
    name: str
    unit: Literal["mm", "inch"]
    machines: int
    bits: int
    jobs: int


class MachineRow(Wire):
    machine: Machine
    revision: int
    what: str
    made_by: str
    made_at: str
    assumed: int
    figures_known: int


class KindRow(Wire):
    machine: Machine
    assumed: int


class FigureState(Wire):
    """A figure of a machine as it is; said: its value in words; measured_by: the small job that measures it, or ""."""

    name: str
    words: str
    group: Group
    kind: FigureKind
    means: str
    rests: list[str]
    suffix: str
    may_be_missing: bool
    missing: bool
    value: bool | Number | list[Number] | list[list[Number]] | None
    said: str
    known: Known
    old: bool
    measured_by: str
    measured_words: str


class Difference(Wire):
    name: str
    words: str
    before: str
    after: str


class Reached(Wire):
    """A job on a machine; differs: in what its figures are other than the shop's now."""

    route: int
    name: str
    differs: list[Difference]


class MachineThen(Wire):
    revision: int
    what: str
    made_by: str
    made_at: str


class MachineState(MachineRow):
    removed: bool
    figures: list[FigureState]
    history: list[MachineThen]
    reaches: list[Reached]


class PersonRow(Wire):
    """seen_at: when the newest session began."""

    id: int
    name: str
    role: Literal["planner", "operator", "viewer"]
    sessions: int
    seen_at: str | None


class NetworkShown(Wire):
    """Names on the workshop's network; none: this machine only. fingerprint: SHA-256 of the shop's own certificate."""

    names: list[str]
    fingerprint: str
    until: str


class SignInLink(Wire):
    """A link that signs in once, within twelve hours; code: the same as a picture to scan."""

    link: str
    code: str


class BackupRow(Wire):
    name: str
    made_at: str
    bytes: int


class BackupsKept(Wire):
    """The backups on this machine's disk, the newest first."""

    folder: str
    kept: list[BackupRow]


class MachineMade(Wire):
    machine: str


class MachineFile(Wire):
    """A machine as a file; schema: birch-machine/1."""

    schema_: Annotated[str, Field(alias="schema")]
    machine: Machine


class SampleLine(Wire):
    number: int
    text: str
    says: str


class SampleFile(Wire):
    name: str
    lines: list[SampleLine]
    count: int
    bytes: int


class SampleShown(Wire):
    files: list[SampleFile]
    problems: list[str]
    longest: int
    difference_mm: Number
