"""The shop: boards, bench steps, offsets, jigs, bits of answers that stand alone."""

from __future__ import annotations

from ..core.bench import BenchStep
from ..core.bits.model import Bit
from ..core.data import Wood
from ..core.jigs.model import EndWork, JigRecord
from ..core.machines import Machine
from .base import Number, Severity, Wire


class BenchState(BenchStep):
    done: bool
    open: bool
    stale: bool
    by: str
    at: str | None
    ready_at: str | None
    tick_note: str


class WoodBoard(Wire):
    board: Number
    name: str
    wood: str
    wood_name: str
    length_mm: Number
    width_mm: Number
    thickness_mm: Number
    weighed_kg: Number | None
    moisture_pct: Number | None
    figure: str
    note: str
    state: str
    route: Number | None
    made_by: str
    made_at: str
    density_kg_m3: Number | None
    table_kg_m3: Number
    off_table: Number | None


class EndPlanSteps(Wire):
    name: str
    minutes: Number
    note: str


class EndPlan(EndWork):
    job: str
    steps: list[EndPlanSteps]
    operations: list[str]
    long_mm: Number
    thick_mm: Number
    stands_mm: Number
    skim_mm: Number


class Offset(Wire):
    number: Number
    word: str
    name: str
    refers_to: str
    jig: Number | None
    jig_name: str | None
    x_mm: Number | None
    y_mm: Number | None
    z_mm: Number | None
    checked_at: str | None
    made_by: str | None


class JigKeptNotes(Wire):
    what: str
    pieces: Number
    play_mm: Number | None
    saved_min: Number | None
    place: str
    note: str
    made_by: str
    made_at: str


class JigKeptOffsets(Wire):
    machine: str
    number: Number
    name: str


class JigKept(Wire):
    pieces: Number
    play_mm: Number | None
    worn: bool
    look_again: bool
    expected_mm: Number
    cost_min: Number
    known: bool
    saves_min: Number
    told: bool
    pays_after: Number
    saved_min: Number
    place: str
    notes: list[JigKeptNotes]
    offsets: list[JigKeptOffsets]


class CodeOf(Wire):
    severity: Severity
    text: str


class MeasuredPlace(Wire):
    least_mm: Number
    most_mm: Number
    label: str
    needed: bool


class Shop(Wire):
    codes: dict[str, CodeOf]
    woods: list[Wood]
    machines: list[Machine]
    bits: list[Bit]
    part_places: dict[str, dict[str, MeasuredPlace] | str]


class Me(Wire):
    name: str
    role: str


class JigPlan(JigRecord):
    job: str
    holds: bool | None
    steps: list[EndPlanSteps]
    operations: int


class BoardHistory(WoodBoard):
    """What was said of a board at one time."""
