"""What a proof says of every operation and setup: report.json and the answer to a proof."""

from __future__ import annotations

from typing import Literal

from ..core.bits.model import Bit
from ..core.machines import Dialect, Machine
from ..core.proving.findings import Finding
from ..core.route import Hardware, Settings
from .base import Failure, Number, Point, Wire
from .run import RestsOn, RunPlan


class ReportOperationFinish(Wire):
    depth_met_mm: Number
    side_engagement_mm: Number
    force_n: Number
    power_w: Number
    bend_mm: Number


class ReportOperation(Wire):
    setup: str
    features: list[str]
    direction: str
    entry: str
    touch_off_before: bool
    reasons: dict[str, str]
    told: list[str]
    pieces: list[HeldPiece] | None
    id: str
    name: str
    kind: str
    bit: str
    machine_min: Number
    hands_min: Number
    settings: Settings
    moves: Number
    cut_length_mm: Number
    removed_mm3: Number
    bit_change: bool
    passes: Number
    force_n: Number
    power_w: Number
    bend_mm: Number
    chip_load_mm: Number
    chip_window_mm: tuple[Number, Number] | None
    mean_chip_mm: Number
    depth_met_mm: Number
    alike: int = 1  # pieces cut at once in its setup
    side_engagement_mm: Number
    bend_most_mm: Number
    rests_on: RestsOn
    species: str
    finish: ReportOperationFinish | None
    splits: list[SharedClearing] | None = None
    rim: RimOffer | None = None
    tear: Tear | None = None
    spent: Spent
    hold: Hold | None
    tab_places: list[Point] | None = None
    schools: list[School] | None = None
    last_bits: list[LastBit] | None = None
    ridges: Ridges | None = None


class LastBit(Wire):
    bit: str
    same: bool


class Hold(Wire):
    pulls_n: Number
    lifts: Number
    holds_n: list[Number]
    least_n: Number
    factor: Number
    needs: Number
    worst_deg: Number
    toward: str
    place: tuple[Number, Number, Number]
    parts: dict[str, Number]
    joined: bool


class Tear(Wire):
    what: Literal["wall", "edge", "passes"]
    wall_mm: Number
    some_mm: Number
    likely_mm: Number
    most: Number
    rim: Number
    lines: list[tuple[Number, list[Point]]]


class RimOffer(Wire):
    bits: list[str]
    down_to_mm: Number


class SharedClearing(Wire):
    first: str | None
    first_min: Number
    then_min: Number
    changes: Number
    minutes: Number


class Ridges(Wire):
    median_mm: Number
    p95_mm: Number
    most_mm: Number
    allowed_mm: Number
    area_mm2: Number
    edges_mm: list[Number]
    shares: list[Number]
    costs: list[tuple[Number, Number, Number]]
    best: tuple[Number, Number, Number]
    cheapest: tuple[Number, Number, Number]
    now: tuple[Number, Number, Number]


class School(Wire):
    school: str
    machine_min: Number
    bench_min: Number
    words: str


class CornersStateResultCorners(Wire):
    id: str
    name: str
    thicker_mm: Number
    zero_mm: Number
    holds_to: Number
    findings: list[Finding]


class CornersStateResult(Wire):
    message: str | None = None
    thinnest_mm: Number
    thickest_mm: Number
    zero_mm: Number
    measured: bool
    corners: list[CornersStateResultCorners]


class CornersState(Wire):
    status: Literal["never", "waiting", "working", "done", "failed", "stopped"]
    done: Number
    of: Number
    result: CornersStateResult | None


class Spent(Wire):
    at_feed_min: Number
    changing_min: Number
    capped_min: Number
    down_min: Number
    rapid_min: Number
    air_min: Number
    faster_saves_min: Number
    limit: Literal["feed", "greatest", "acceleration", "cap", "plunges", "rapid"]


class HeldPiece(Wire):
    name: str
    cm2: Number
    kg: Number
    held: str
    loose: bool
    x_mm: Number
    y_mm: Number


class ReportSetupsNest(Wire):
    ring: list[Point]
    tips: list[tuple[Number, Number, Number]]


class ReportSetupsLedger(Wire):
    when: str
    thick_mm: Number
    piece_mm: Number
    face_over_zero_mm: Number


class ReportSetupsChainLinks(Wire):
    what: str
    by: str
    off_mm: Number
    source: str


class ReportSetupsChain(Wire):
    plan_mm: Number
    z_mm: Number
    links: list[ReportSetupsChainLinks]


class ReportSetupsPair(Wire):
    square_deg: Number
    axis_mm: Number
    along_mm: Number
    across_mm: Number


class ReportSetups(Wire):
    name: str
    face_up: str
    turned_about: str | None
    machine_min: Number
    operations: list[str]
    id: str
    nest: ReportSetupsNest | None = None
    spacers: dict[str, Number] | None = None
    vacuum: dict[str, Number] | None = None
    supports: dict[str, list[Point]] | None = None
    pieces: list[HeldPiece]
    ledger: list[ReportSetupsLedger]
    chain: ReportSetupsChain
    pair: ReportSetupsPair | None


class ReportThin(Wire):
    thick_mm: Number
    x_mm: Number
    y_mm: Number
    features: list[str]


class ReportTotals(Wire):
    left_on_bed_kg: Number
    density_kg_m3: Number
    density_from: str
    machine_min: Number
    hands_min: Number
    bench_min: Number
    bit_changes: Number
    blank_kg: Number
    piece_kg: Number


class ReportNoGoValue(Wire):
    x0_mm: Number
    y0_mm: Number
    cell_mm: Number
    runs: list[tuple[Number, Number, Number]]


class MachineOfProof(Machine):
    """A machine without the words of its programs, which stand in the programs themselves."""

    dialect: Dialect | None = None  # type: ignore[assignment]


class ProgramFrame(Wire):
    rotation: list[list[int]]
    translation_mm: list[Number]
    meaning: str


class Box(Wire):
    min: list[Number]
    max: list[Number]


class HardwareOnMachine(Hardware):
    top_z_mm: Number
    bottom_z_mm: Number


class BitOnMachine(Bit):
    nut_diameter_mm: Number
    nut_length_mm: Number


class ReportProgram(Wire):
    file: str
    setup: str
    face: str
    operations: list[str]
    machine_min: Number
    units: str
    to_piece: ProgramFrame
    stock_box_mm: Box
    blank_on_bed_mm: list[Number]
    hardware: list[HardwareOnMachine]
    waste_board_cut_mm: Number
    bits: dict[str, BitOnMachine]


class ReadBackAnswer(Wire):
    findings: list[Finding]
    digest: str
    machine_s: Number
    greatest_difference_mm: Number


class BrokenBit(Wire):
    first_min: Number
    last_min: Number
    before_radius_min: Number
    after_radius_min: Number


class Report(Wire):
    broken_bit: BrokenBit | None = None
    format: str = ""
    job: str = ""
    piece: str = ""
    revision: str = ""
    status: str = ""
    machine: MachineOfProof | None = None
    programs: list[ReportProgram] = []
    read_back: ReadBackAnswer | None = None
    corners: CornersStateResult | None = None
    failed: Failure | None = None
    operations: list[ReportOperation]
    findings: list[Finding]
    setups: list[ReportSetups]
    thin: list[ReportThin]
    totals: ReportTotals | None = None
    run_plan: RunPlan | None = None
    no_go: dict[str, ReportNoGoValue] | None = None
