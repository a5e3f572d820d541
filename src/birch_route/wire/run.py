"""The run as data: what to load, zero, put in and check, and in which order."""

from __future__ import annotations

from typing import Literal

from .base import Number, Point, Trust, Wire


class RestsOn(Wire):
    told: list[str]
    trust: Trust
    once: list[str]
    never: list[str]


class RunBitOperations(Wire):
    id: str
    name: str
    minutes: Number
    feed_mm_min: Number
    speed_rpm: Number
    depth_of_cut_mm: Number
    rests_on: RestsOn


CheckKind = Literal["bit", "touch", "speed", "face", "zero", "clamps", "pieces", "stops", "clear"]


class RunBit(Wire):
    setup: str
    t: Number
    bit: str
    name: str
    stickout_mm: Number
    checks: list[str]
    check_kinds: list[CheckKind]
    operations: list[RunBitOperations]


class ZeroStep(Wire):
    do: str
    sets: dict[str, Number]
    goes: dict[str, Number]


class BedHardware(Wire):
    id: str
    under: bool
    ring: list[Point]


class BedJog(Wire):
    zero: Point
    touch: Point | None
    park: Point


class BedPiece(Wire):
    blank: tuple[Number, Number, Number, Number]
    outline: list[Point]


class Bed(Wire):
    beside: list[BedPiece] = []
    steps: list[tuple[Number, Point]]
    travel_mm: Point
    blank: tuple[Number, Number, Number, Number]
    outline: list[Point]
    hardware: list[BedHardware]
    zero: Point
    touch: Point | None
    park: Point
    jog: BedJog
    inside: bool
    fixed: dict[str, Point]
    home: Point
    index_holes: list[Point]
    index_hole_mm: Number


class BenchOnRun(Wire):
    kind: Literal["bench"]
    step: str
    name: str
    minutes: Number
    wait: bool
    gate: bool
    note: str
    where: str
    tool: str
    grit: int | None
    check: str
    in_sight: bool


class SetupOnRun(Wire):
    kind: Literal["setup"]
    setup: str


class BitOnRun(Wire):
    kind: Literal["bit"]
    setup: str
    bit: int


RunStep = BenchOnRun | SetupOnRun | BitOnRun


class HardwareOnRun(Wire):
    id: str
    kind: str
    x_mm: Number
    y_mm: Number
    top_mm: Number


class RunSetup(Wire):
    hardware: list[HardwareOnRun]
    id: str
    name: str
    face_up: str
    load: str
    zero_xy: str
    zero_z: str
    offset: Number
    way: str
    zero_steps: list[ZeroStep]
    bed: Bed
    bits: list[RunBit]


class RunPlan(Wire):
    load: str
    zero_xy: str
    zero_z: str
    hardware: list[HardwareOnRun]
    setups: list[RunSetup]
    bits: list[RunBit]
    safety: list[str]
    order: list[RunStep]
