"""The route document: everything that one revision of a route says. Checked on the way in and out."""

from __future__ import annotations

import hashlib
import json
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from .bits.model import Bit
from .errors import InputError
from .instrument.parts import Id, PartOnHand
from .machines import Machine
from .plane.curves import Mm, Shape
from .vocabulary import (
    Direction,
    Entry,
    FinishClass,
    HardwareKind,
    OperationKind,
    PieceKind,
    Side,
    ZeroXY,
    ZeroZ,
)

SCHEMA = "birch-route/1"
NonNegative = Annotated[Mm, Field(ge=0)]
Above = Annotated[Mm, Field(gt=0)]
Name = Annotated[str, Field(min_length=1, max_length=80)]


class Model(BaseModel):
    """Base of every document type: unknown fields are refused, values frozen."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class DepthFrom(Model):
    """Where a depth comes from: the height stack, or a place of a part plus something."""

    kind: Literal["stack", "reading"]
    part: str | None = None
    place: str | None = None
    plus_mm: Annotated[Mm, Field(ge=-20, le=50)] = 0.0


class Pocket(Model):
    """An area cut to a depth below the finished face."""

    kind: Literal["pocket"] = "pocket"
    id: Id
    name: Name
    shape: Shape
    depth_mm: Above
    depth_from: DepthFrom | None = None
    finish_class: FinishClass = FinishClass.HIDDEN
    part_corner_mm: NonNegative | None = None  # greatest inside corner radius the part accepts
    least_floor_mm: NonNegative = 5.0
    open_at_neck: bool = False


class Hole(Model):
    """Round holes of one size. depth_mm None goes through."""

    kind: Literal["hole"] = "hole"
    id: Id
    name: Name
    points: Annotated[list[tuple[Mm, Mm]], Field(min_length=1, max_length=200)]
    diameter_mm: Above
    depth_mm: Above | None = None
    measured_from: str | None = None  # part whose reading fixes the place; a post hole needs one
    fitted: bool = False  # a post or bush is pressed in
    least_floor_mm: NonNegative = 3.0


class Outline(Model):
    """The outside of the piece, cut through."""

    kind: Literal["outline"] = "outline"
    id: Id
    name: Name
    shape: Shape
    finish_class: FinishClass = FinishClass.SHOWN


Feature = Annotated[Pocket | Hole | Outline, Field(discriminator="kind")]


class Piece(Model):
    """What is being made. x along the centre line, y to the treble side, z = 0 the finished front face."""

    kind: PieceKind
    name: Name
    features: Annotated[list[Feature], Field(max_length=100)]

    @model_validator(mode="after")
    def _ids_differ(self) -> Piece:
        ids = [f.id for f in self.features]
        twice = sorted({i for i in ids if ids.count(i) > 1})
        if twice:
            raise ValueError(f"Feature id {twice[0]} stands twice.")
        if sum(f.kind == "outline" for f in self.features) != 1:
            raise ValueError("A piece needs exactly one outline.")
        return self

    @property
    def outline(self) -> Outline:
        return next(f for f in self.features if isinstance(f, Outline))


class Plank(Model):
    """One board of a blank. width_mm is rough, before its edges are jointed; grain_deg is the run of its fibres from the centre line."""

    id: Id
    width_mm: Annotated[Mm, Field(gt=5, le=1500)]
    name: Annotated[str, Field(max_length=80)] = ""
    grain_deg: Annotated[float, Field(allow_inf_nan=False, ge=-45, le=45)] = 0.0


class Defect(Model):
    """A knot, crack or other flaw, in the piece's frame; heights below the finished face."""

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=80)] = "Knot"
    x_mm: Mm
    y_mm: Mm
    radius_mm: Annotated[Mm, Field(gt=0, le=200)] = 5.0
    top_mm: Annotated[Mm, Field(ge=-20, le=150)] = 0.0
    deep_mm: Annotated[Mm, Field(gt=0, le=200)] = 10.0


class Blank(Model):
    """The stock. Its lower left corner stands at x_mm, y_mm; its top lies skim_mm above the finished face."""

    wood: str
    length_mm: Annotated[Mm, Field(gt=5, le=2500)]
    width_mm: Annotated[Mm, Field(gt=5, le=1500)]
    thickness_mm: Annotated[Mm, Field(gt=0.4, le=150)]
    x_mm: Mm
    y_mm: Mm
    skim_mm: Annotated[Mm, Field(ge=0, le=20)] = 0.0
    boards: Annotated[int, Field(ge=1, le=12)] = 1
    weighed_kg: Annotated[float, Field(allow_inf_nan=False, gt=0, le=100)] | None = None
    planks: Annotated[list[Plank], Field(max_length=12)] = []
    joint_loss_mm: Annotated[Mm, Field(ge=0, le=5)] = 1.0  # lost at each jointed edge
    defects: Annotated[list[Defect], Field(max_length=40)] = []
    thickness_readings_mm: Annotated[list[Annotated[Mm, Field(gt=0, le=200)]], Field(max_length=20)] = []

    @property
    def top_mm(self) -> float:
        """z of the blank's top in the piece's frame."""
        return self.skim_mm

    @property
    def bottom_mm(self) -> float:
        """z of the blank's underside in the piece's frame."""
        return self.skim_mm - self.thickness_mm


class Hardware(Model):
    """Something that holds the blank and may be hit. A screw stands at x, y; an edge clamp grips the edge there and
    its block reaches outward from the blank."""

    id: Id
    kind: HardwareKind
    x_mm: Mm
    y_mm: Mm
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0
    length_mm: Above = 40.0  # edge clamp: reach away from the blank
    width_mm: Above = 50.0  # edge clamp: along the edge
    head_diameter_mm: Above = 8.0  # screw
    shaft_diameter_mm: Above = 4.0  # screw
    top_mm: Annotated[Mm, Field(ge=-100, le=100)] = 0.0  # highest point above (below: minus) the blank's top


class Zero(Model):
    """Where the program's zero lies."""

    xy: ZeroXY = ZeroXY.LOWER_LEFT
    z: ZeroZ = ZeroZ.BED
    touch_x_mm: Mm = 0.0  # place of the Z touch-off in the piece's frame
    touch_y_mm: Mm = 0.0


class Setup(Model):
    """One clamping."""

    id: Id
    name: Name
    face: Literal["front", "back"] = "front"
    blank_at_mm: tuple[NonNegative, NonNegative] = (60.0, 60.0)  # blank's corner on the bed
    zero: Zero = Zero()
    hardware: Annotated[list[Hardware], Field(max_length=60)] = []
    clearance_mm: Annotated[Mm, Field(gt=0, le=60)] = 6.0  # rapid moves pass this far above everything
    park_mm: tuple[Mm, Mm] = (0.0, 0.0)  # start and park place, from the blank's corner


class Settings(Model):
    """Cut settings of one operation."""

    feed_mm_min: Annotated[float, Field(allow_inf_nan=False, gt=0, le=30000)]
    plunge_mm_min: Annotated[float, Field(allow_inf_nan=False, gt=0, le=10000)]
    speed_rpm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=60000)]
    depth_of_cut_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.01, le=100)]
    stepover_mm: Annotated[float, Field(allow_inf_nan=False, gt=0.02, le=100)]


class Tab(Model):
    """Wood left on the outline: its middle as a part of the way round (0 to 1), its width and height."""

    at: Annotated[float, Field(allow_inf_nan=False, ge=0, lt=1)]
    width_mm: Annotated[Mm, Field(gt=0.5, le=60)]
    height_mm: Annotated[Mm, Field(gt=0.2, le=60)]


class Operation(Model):
    """One strategy on one or more features with one bit and its cut settings."""

    id: Id
    name: Name
    kind: OperationKind
    setup: Id
    features: list[Id] = []  # a facing has none
    bit: Id
    settings: Settings
    direction: Direction = Direction.CLIMB
    entry: Entry = Entry.HELIX
    ramp_deg: Annotated[float, Field(allow_inf_nan=False, ge=0.5, le=45)] = 4.0
    side: Side = Side.OUTSIDE
    stock_to_leave_mm: Annotated[Mm, Field(ge=-2, le=10)] = 0.0  # on walls
    floor_to_leave_mm: Annotated[Mm, Field(ge=0, le=10)] = 0.0
    finish_pass: bool = True  # a last pass along the wall that takes what the rough passes left
    finish_allowance_mm: Annotated[Mm, Field(ge=0, le=5)] = 0.3
    finish_depth_mm: Annotated[Mm, Field(ge=0.1, le=200)] | None = None  # depth of cut of the finish pass; None: as deep as figures.finish_pass
    margin_mm: Annotated[Mm, Field(ge=-50, le=100)] = 4.0  # facing: how far beyond the outline
    peck_mm: Annotated[Mm, Field(gt=0, le=100)] | None = None
    overcut_mm: Annotated[Mm, Field(ge=0, le=10)] = 0.4  # through cuts go this far below the blank
    tabs: Annotated[list[Tab], Field(max_length=40)] = []
    touch_off_before: bool = False
    told: list[str] = []  # settings a person has set by hand
    reasons: dict[str, str] = {}


class BenchStep(Model):
    """Handwork or a wait."""

    id: Id
    name: Name
    minutes: Annotated[float, Field(allow_inf_nan=False, ge=0, le=100000)]
    after: Id | None = None  # operation it follows; None: before everything
    wait: bool = False


class Choices(Model):
    """What the builder has decided, in mm. They feed the height stack and the fit."""

    scale_mm: Annotated[Mm, Field(ge=300, le=1000)] | None = None
    action_12th_mm: Annotated[Mm, Field(ge=0.3, le=6)] = 1.6
    string_at_nut_mm: Annotated[Mm, Field(ge=0, le=3)] = 0.5
    compensation_mm: Annotated[Mm, Field(ge=-5, le=12)] = 2.4
    saddle_part: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1)] = 0.5  # between its low and high place
    fit_gap_mm: Annotated[Mm, Field(ge=-0.2, le=1)] = 0.08
    strings: Annotated[int, Field(ge=2, le=12)] = 6
    frets: Annotated[int, Field(ge=0, le=36)] = 22


class Route(Model):
    """A whole route: piece, blank, setups, operations and bench steps in order, with the shop's things it uses."""

    schema_: Annotated[Literal["birch-route/1"], Field(alias="schema")] = SCHEMA
    job: Name
    note: Annotated[str, Field(max_length=4000)] = ""
    piece: Piece
    parts: Annotated[list[PartOnHand], Field(max_length=40)] = []
    choices: Choices = Choices()
    blank: Blank
    machine: Machine
    bits: Annotated[list[Bit], Field(max_length=60)]
    setups: Annotated[list[Setup], Field(min_length=1, max_length=1)]
    operations: Annotated[list[Operation], Field(max_length=200)] = []
    bench_steps: Annotated[list[BenchStep], Field(max_length=200)] = []

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True, serialize_by_alias=True)

    @model_validator(mode="after")
    def _refer(self) -> Route:
        for what, items in (("Operation", self.operations), ("Bit", self.bits), ("Part", self.parts),
                            ("Bench step", self.bench_steps)):
            ids = [i.id for i in items]
            for one in ids:
                if ids.count(one) > 1:
                    raise ValueError(f"{what} id {one} stands twice.")
        features, bits = {f.id for f in self.piece.features}, {b.id for b in self.bits}
        setups, operations = {s.id for s in self.setups}, {o.id for o in self.operations}
        for op in self.operations:
            for ref, known, what in ((op.bit, bits, "bit"), (op.setup, setups, "setup")):
                if ref not in known:
                    raise ValueError(f"{op.name} uses {what} {ref}, which is not in this route.")
            for feature in op.features:
                if feature not in features:
                    raise ValueError(f"{op.name} works on feature {feature}, which the piece does not have.")
            if not op.features and op.kind is not OperationKind.FACE:
                raise ValueError(f"{op.name} works on no feature.")
        for step in self.bench_steps:
            if step.after is not None and step.after not in operations:
                raise ValueError(f"{step.name} follows operation {step.after}, which is not in this route.")
        return self

    def bit(self, bit_id: str) -> Bit:
        return next(b for b in self.bits if b.id == bit_id)

    def setup(self, setup_id: str) -> Setup:
        return next(s for s in self.setups if s.id == setup_id)

    def part(self, part_id: str) -> PartOnHand | None:
        return next((p for p in self.parts if p.id == part_id), None)

    def feature(self, feature_id: str) -> Pocket | Hole | Outline:
        return next(f for f in self.piece.features if f.id == feature_id)

    def operation(self, operation_id: str) -> Operation | None:
        return next((o for o in self.operations if o.id == operation_id), None)


def read_route(data: object, where: str = "route") -> Route:
    """Check a route document.

    Raises:
        InputError: names the first field that is wrong and why.
    """
    try:
        return Route.model_validate(data)
    except ValidationError as exc:
        first = exc.errors()[0]
        place = ".".join(str(p) for p in first["loc"]) or where
        message = str(first["msg"]).removeprefix("Value error, ")
        raise InputError(f"{place}: {message}", where=place, problems=exc.error_count()) from exc


def canonical(data: object) -> bytes:
    """Return canonical JSON bytes: sorted keys, no spaces; the same data always gives the same bytes."""
    if isinstance(data, BaseModel):
        data = data.model_dump(mode="json")
    return json.dumps(data, sort_keys=True, separators=(",", ":"), ensure_ascii=False, allow_nan=False).encode()


def content_hash(data: object) -> str:
    """Return the SHA-256 of canonical JSON, as 64 hex digits."""
    return hashlib.sha256(canonical(data)).hexdigest()
