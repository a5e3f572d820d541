"""Routes, their revisions, drawings, programs and runs."""

from __future__ import annotations

from typing import Any, Literal

from ..core.cutting.ran import Ran
from ..core.route import Route
from .base import Failure, Number, Point, Trust, Wire
from .report import ReadBackAnswer, Report


class Solid(Wire):
    id: str
    name: str
    kind: str
    floor_mm: Number | None
    finish_class: str
    profile: list[Point] | None
    rings: list[list[Point]]
    points: list[Point]
    diameter_mm: Number
    unmeasured: list[str]
    face: Literal["front", "back"]
    trust: Trust
    rests_on: list[str]


class Term(Wire):
    label: str
    value_mm: Number | None
    origin: str
    place: str | None
    path: str | None


class AssumedNumber(Wire):
    path: str
    name: str
    words: str


class Derivation(Wire):
    id: str
    label: str
    value_mm: Number | None
    formula: str
    missing: list[str]
    terms: list[Term]


class Place(Wire):
    told: bool | None = None
    computed: bool | None = None
    place: str
    label: str
    values_mm: list[Number]
    value_mm: Number | None
    spread_mm: Number
    outlier: Number | None
    needed: bool


class DrawingParts(Wire):
    id: str
    kind: str
    name: str
    places: list[Place]


class DrawingHardware(Wire):
    id: str
    setup: str
    under: bool
    ring: list[Point]


class DrawingHeel(Wire):
    length_mm: Number
    end_width_mm: Number
    mouth_width_mm: Number
    taper_deg: Number
    gap_mm: Number


class DrawingReferences(Wire):
    id: str
    name: str
    layer: str
    ring: list[Point]


class Drawing(Wire):
    parts: list[DrawingParts]
    hardware: list[DrawingHardware]
    failed: Failure | None
    solids: list[Solid]
    derivations: list[Derivation]
    assumed: list[AssumedNumber]
    heel: DrawingHeel | None
    saddle_x_mm: Number | None
    references: list[DrawingReferences]


class RouteStateMoved(Wire):
    what: str
    before_mm: Number | None
    after_mm: Number | None


class RouteStateProof(Wire):
    report: Report
    seconds: Number


class RouteState(Wire):
    route: Number
    revision: Number
    hash: str
    what: str
    author: str
    made_at: str
    can_undo: bool
    can_redo: bool
    moved: list[RouteStateMoved]
    document: Route
    drawing: Drawing
    proof: RouteStateProof | None


class ReleaseOverrides(Wire):
    reason_found: str
    code: str
    reason_given: str


class ReleasePrograms(Wire):
    bits: dict[int, str]
    name: str
    minutes: Number
    lines: Number
    bytes: Number


class ReleaseWaiting(Wire):
    name: str
    minutes: Number
    steps: list[str]
    ready_at: str | None


class Release(Wire):
    made_at: str
    id: Number
    revision: Number
    digest: str
    overrides: list[ReleaseOverrides]
    programs: list[ReleasePrograms]
    waiting: list[ReleaseWaiting]
    read_back: ReadBackAnswer


class RunRow(Wire):
    id: Number
    revision: Number
    outcome: str
    note: str
    minutes: dict[str, Number]
    ran: dict[str, Ran]
    made_by: str
    made_at: str
    withdrawn: str  # by whom; empty where it counts


class DrawnOutline(Wire):
    limits: dict[str, tuple[Number, Number]]
    styles: list[str]
    points: list[Point]


class DrawingStateResultTraced(Wire):
    scale_mm: Number
    words: str
    worst_mm: Number
    pixel_mm: Number


class DrawingStateResultChanges(Wire):
    what: str
    words: str
    x_mm: Number
    y_mm: Number
    amount_mm: Number


class CurvePath(Wire):
    kind: str
    start: Point
    segments: list[list[str | Number]]


class Loop(Wire):
    layer: str
    area_mm2: Number
    bounds_mm: tuple[Number, Number, Number, Number]
    crossing_mm: Point | None
    path: CurvePath


class DrawingStateResult(Wire):
    code: str | None = None
    where: str | None = None
    facts: dict[str, Any] | None = None
    needs_unit: bool | None = None
    needs_scale: bool | None = None
    width_px: Number | None = None
    height_px: Number | None = None
    traced: DrawingStateResultTraced | None = None
    sizes: dict[str, tuple[Number, Number]] | None = None
    loops: list[Loop] | None = None
    loops_in_all: Number | None = None
    layers: list[str] | None = None
    open_runs: Number | None = None
    changes: list[DrawingStateResultChanges] | None = None
    message: str | None = None


class DrawingState(Wire):
    id: Number
    name: str
    unit: str | None
    join_mm: Number
    status: Literal["waiting", "reading", "done", "failed", "stopped"]
    progress: Number
    result: DrawingStateResult | None


class RevisionRow(Wire):
    hash: str
    state: int
    undoes: int | None
    number: int
    what: str
    author: str
    made_at: str


class ProofAnswer(Wire):
    report: Report
    seconds: Number


class ProofWaits(Wire):
    """How a proof that is not there waits. renewed: an earlier version of the program made one. queued: it is waited
    for or at work. ahead: others that come first."""

    status: Literal["working"] = "working"
    renewed: bool
    queued: bool
    ahead: int


class RunKept(Wire):
    """What became of a record: cuts kept from it, and whether its proof was at hand."""

    id: int
    made_at: str
    learnt: int
    counted: bool
