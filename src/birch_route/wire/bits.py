"""Bits of the rack, settings and what the shop has learnt."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from ..core.bits.model import Bit
from ..core.proving.findings import Finding
from ..core.route import Settings
from .base import CutKind, Edit, Number, Wire


class Trusted(Wire):
    standing: Literal["proven", "covered", "untried", "failed"]
    low_mm: Number | None
    high_mm: Number | None
    fails_mm: Number | None
    burns_mm: Number | None
    beyond: Number
    count: Number
    near: Number
    doubted: Number


class SettingRange(Wire):
    low: Number
    high: Number
    low_by: str | None
    high_by: str | None
    low_words: str
    high_words: str
    is_empty: bool


class CutAnswer(Wire):
    settings: Settings
    entry: str
    ramp_deg: Number
    way_mm: Number
    turns: Number
    helix_mm: Number
    ridge_mm: Number | None
    direction: str
    keeps: bool
    binds: str
    binds_words: str
    parts: dict[str, Number]
    force_n: Number
    power_w: Number
    bend_mm: Number
    chip_mm: Number
    mean_mm: Number
    removes_cm3_min: Number
    reasons: dict[str, str]
    ranges: dict[Literal["feed_mm_min", "speed_rpm", "depth_of_cut_mm", "stepover_mm", "plunge_mm_min"], SettingRange]
    trust: Trusted
    turn_n: list[Number]


class TrialRow(Wire):
    id: Number
    words: str
    outcome: str
    origin: str
    settings: Settings
    chip_mm: Number
    note: str
    doubted: str
    made_by: str
    made_at: str


class AskedLent(Wire):
    source: str = Field(alias="from", serialization_alias="from")
    words: str
    settings: Settings
    far: Number
    risk: str
    derated: Number
    origin: str
    minutes: Number
    more_minutes: Number
    times_as_long: Number


class Asked(Wire):
    window_mm: tuple[Number, Number]
    answers: dict[Literal["careful", "fast", "quiet"], CutAnswer]
    wanted: CutAnswer | None
    trade: list[TradePlace]
    per: Literal["metre", "100 cm3"]
    quiet_costs: Number | None
    trials: list[TrialRow]  # of this ground, the newest
    trials_in_all: int
    lent: list[AskedLent]


class RackRowLife(Wire):
    metres: Number
    minutes: Number
    slots: Number
    by_wood: dict[str, Number]
    minutes_by_wood: dict[str, Number]
    worn_m: Number
    limit_m: Number
    left_m: Number
    is_low: bool
    lost_mm: Number
    shortened_mm: Number
    words: str
    boards: Number


class RackRowForecast(Wire):
    asked_m: Number
    jobs: Number
    crosses_in: str | None


class RackNote(Wire):
    id: int
    bit: str
    what: str
    wood: str
    metres: Number
    slots: int
    minutes: Number
    diameter_mm: Number | None
    shortened_mm: Number | None
    note: str
    made_by: str
    made_at: str


class RackRow(Wire):
    notes: list[RackNote]
    bit: Bit
    number: str
    price: Number | None
    spares: Number
    note: str
    state: Literal["on_hand", "retired"]
    life: RackRowLife
    forecast: RackRowForecast


class Brushes(Wire):
    hours: Number
    worn_h: Number
    left_h: Number
    job_h: Number
    jobs_left: Number | None
    spares: Number
    words: str


class SaidOfBest(Wire):
    settings: Settings
    words: str
    note: str
    times: Number
    edits: list[Edit]


class SaidOf(Wire):
    id: str
    kind: CutKind
    trust: Trusted
    best: SaidOfBest | None


class BeforeRow(Wire):
    """What is seen to before a start; binds: it stands against starting now."""

    kind: str
    sentence: str
    binds: bool


class Says(Wire):
    hash: str
    findings: list[Finding]
    operations: list[SaidOf]
    brushes: Brushes | None
    before: list[BeforeRow]


class OriginOfFigures(Wire):
    what: str
    values: dict[str, Any]


class OriginOf(Wire):
    name: str
    unit: str
    formula: str
    figures: list[OriginOfFigures]
    confidence: str
    source: str


class TradePlace(Wire):
    at: Number
    settings: Settings
    chip_mm: Number
    minutes: Number
    force_n: Number
    rim_m_s: Number
    binds: str
    used: Number


class StaleRow(Wire):
    id: str
    name: str
    was_for: list[str]
    now_for: list[str]
    was: Settings
    now: Settings


class BitMatrixFeatures(Wire):
    id: str
    name: str


class BitMatrixBitsCells(Wire):
    minutes: Number | None
    leaves_mm2: Number
    words: str


class BitMatrixBits(Wire):
    bit: str
    name: str
    serves: Number
    cells: list[BitMatrixBitsCells | None]


class BitMatrix(Wire):
    features: list[BitMatrixFeatures]
    bits: list[BitMatrixBits]
    words: str


class BitChoice(Wire):
    bit: str
    name: str
    not_for: str
    cares: list[str]
    leaves_mm2: Number
    reaches_mm: Number
    minutes: Number | None
    wears_part: Number | None
    costs: Number | None
    in_route: bool


class TestStep(Wire):
    number: int
    settings: Settings
    chip_mm: Number
    standing: str


class TestPlan(Wire):
    rule: str
    steps: list[TestStep]
