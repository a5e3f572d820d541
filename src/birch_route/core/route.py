"""The route document: everything that one revision of a route says. Checked on the way in and out."""

from __future__ import annotations

import hashlib
import json
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

from .bench import BenchStep, Meant, Twin
from .bits.model import UNDERCUTS, Bit
from .blank import Blank, Defect, Layer, Plank
from .choices import Choices, Variant
from .data import Wood
from .document import Above, Id, Model, Name, NonNegative
from .errors import InputError
from .hardware import Hardware, Nest
from .instrument.parts import PartOnHand
from .jigs.model import EndWork, JigRecord
from .machines import Machine
from .piece import (
    Bevel,
    Carve,
    Channel,
    DepthFrom,
    Edge,
    Feature,
    Hole,
    Outline,
    Piece,
    Placement,
    Pocket,
    Relief,
)
from .plane.curves import Mm
from .vocabulary import (
    Clearing,
    Direction,
    Entry,
    Face,
    HardwareKind,
    OperationKind,
    Pattern,
    School,
    Side,
    TabShape,
    TurnAxis,
    ZeroWay,
    ZeroXY,
    ZeroZ,
)

SCHEMA = "birch-route/1"
__all__ = [
    "Bevel", "Blank", "Carve", "Channel", "Choices", "Defect", "DepthFrom", "Edge", "Feature", "Hardware",
    "Hole", "Layer", "Model", "Nest", "Operation", "Outline", "Piece", "Placement", "Plank", "Pocket", "Relief",
    "Route", "SCHEMA", "Settings", "Setup", "Tab", "TestPair", "Twin", "Variant", "Zero", "canonical",
    "content_hash", "read_route",
]


class Zero(Model):
    """Where the program's zero lies."""

    xy: ZeroXY = ZeroXY.LOWER_LEFT
    z: ZeroZ = ZeroZ.BED
    touch_x_mm: Mm = 0.0  # place of the Z touch-off in the piece's frame
    touch_y_mm: Mm = 0.0
    way: ZeroWay = ZeroWay.EDGES  # how X and Y are found
    offset: Annotated[int, Field(ge=1, le=6)] = 1  # work offset of the machine that the programs begin with: 1 is G54


class TestPair(Model):
    """Readings of two test holes drilled half deep from each face, one on either side of the turning axis: how far the back's half stands from the
    front's, along the axis and across it, in the piece's frame; `first` is the hole on the treble side (or nearer to the tail)."""

    apart_mm: Annotated[Mm, Field(gt=5, le=1500)]
    first_along_mm: Annotated[Mm, Field(ge=-10, le=10)] = 0.0
    first_across_mm: Annotated[Mm, Field(ge=-10, le=10)] = 0.0
    second_along_mm: Annotated[Mm, Field(ge=-10, le=10)] = 0.0
    second_across_mm: Annotated[Mm, Field(ge=-10, le=10)] = 0.0


class Setup(Model):
    """One clamping."""

    id: Id
    name: Name
    face: Face = Face.FRONT
    turned_about: TurnAxis = TurnAxis.LENGTH  # of a setup with the back face up
    datum: Id | None = None  # index holes this setup is found again by
    test_pair: TestPair | None = None  # of a turned setup: its programs are moved by what it says
    blank_at_mm: tuple[NonNegative, NonNegative] = (60.0, 60.0)  # blank's corner on the bed
    zero: Zero = Zero()
    hardware: Annotated[list[Hardware], Field(max_length=60)] = []
    more_at: Annotated[list[tuple[Mm, Mm]], Field(max_length=11)] = []  # further pieces alike: each from the first
    sheet_mm: NonNegative = 0.0  # of scrap the blank lies on, which bits may cut into; Z on the bed counts from its top
    nest: Nest | None = None  # the piece lies in one, without the waste round it
    clearance_mm: Annotated[Mm, Field(gt=0, le=60)] = 6.0  # rapid moves pass this far above everything
    park_mm: tuple[Mm, Mm] = (0.0, 0.0)  # start and park place, from the blank's corner

    @property
    def in_vice(self) -> bool:
        """Whether the wood stands in a vice: then its blank is what stands out of the jaws."""
        return any(h.kind is HardwareKind.VICE for h in self.hardware)

    @property
    def stands_on(self) -> str:
        """What lies at the height of the blank's underside."""
        return "upper edge of the jaws" if self.in_vice else "sheet of scrap" if self.sheet_mm else "waste board"


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
    shape: TabShape = TabShape.SQUARE


class Operation(Model):
    """One strategy on one or more features with one bit and its cut settings."""

    id: Id
    name: Name
    kind: OperationKind
    setup: Id
    features: list[Id] = []  # a facing has none, nor has one that works on an edge
    edge: Id | None = None  # the rim an edge operation works on
    bit: Id
    settings: Settings
    direction: Direction = Direction.CLIMB
    entry: Entry = Entry.HELIX
    ramp_deg: Annotated[float, Field(allow_inf_nan=False, ge=0.5, le=45)] = 4.0
    clearing: Clearing = Clearing.RINGS
    engaged_deg: Annotated[float, Field(allow_inf_nan=False, ge=30, le=120)] = 60.0  # engaged clearing: the most of the bit's rim in wood
    both_ways: bool = False  # engaged clearing: passes may run against the direction, which saves air
    rest: bool = False  # pockets: clears only what earlier operations with wider bits left of the same features
    finishes: Id | None = None  # contours and pockets: only the last pass along the wall this one has roughed
    wall_only: bool = False  # pockets: only the pass along the wall, in a program of its own
    down_to_mm: Above | None = None  # pockets: only so deep from the face; what lies below is another operation's
    side: Side = Side.OUTSIDE
    stock_to_leave_mm: Annotated[Mm, Field(ge=-2, le=10)] = 0.0  # on walls
    floor_to_leave_mm: Annotated[Mm, Field(ge=0, le=10)] = 0.0
    finish_pass: bool = True  # a last pass along the wall that takes what the rough passes left
    finish_allowance_mm: Annotated[Mm, Field(ge=0, le=5)] = 0.3
    finish_depth_mm: Annotated[Mm, Field(ge=0.1, le=200)] | None = None  # depth of cut of the finish pass; None: as deep as figures.finish_pass
    spring_passes: Annotated[int, Field(ge=0, le=3)] = 0  # the last pass along the wall again, with nothing left for it
    margin_mm: Annotated[Mm, Field(ge=-50, le=100)] = 4.0  # facing: how far beyond the outline
    peck_mm: Annotated[Mm, Field(gt=0, le=100)] | None = None
    pass_deg: Annotated[float, Field(allow_inf_nan=False, ge=-180, le=180)] = 90.0  # surfaces: direction of the passes from the setup's x
    pattern: Pattern = Pattern.PARALLEL  # surfaces: how the finish runs
    steep_deg: Annotated[float, Field(allow_inf_nan=False, ge=5, le=85)] = 30.0  # surfaces, both: level lines from this slope on
    even_ridge: bool = False  # surfaces: passes stand a stepover apart along the surface, not in plan
    overcut_mm: Annotated[Mm, Field(ge=0, le=10)] = 0.4  # through cuts go this far below the blank
    tabs: Annotated[list[Tab], Field(max_length=40)] = []
    skin_mm: Annotated[Mm, Field(ge=0, le=10)] = 0.0  # profile through the blank: left all round instead
    groove_mm: Above | None = None  # profile through the blank: only a groove this deep from the face, the rest by saw and bearing bit
    touch_off_before: bool = False
    told: list[str] = []  # settings a person has set by hand
    made_for: tuple[str, str] | None = None  # wood and machine its settings were proposed for
    made_on: Annotated[dict[str, Mm], Field(max_length=200)] | None = None  # readings its features rested on then
    reasons: dict[str, str] = {}

    @property
    def along_wall(self) -> bool:
        """Whether it only runs along walls that another operation made."""
        return self.wall_only or self.finishes is not None

    @property
    def school(self) -> School:
        """How an outline is cut."""
        return School.GROOVE if self.groove_mm is not None else School.SKIN if self.skin_mm > 0 else School.TABS


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
    setups: Annotated[list[Setup], Field(min_length=1, max_length=4)]
    operations: Annotated[list[Operation], Field(max_length=200)] = []
    bench_steps: Annotated[list[BenchStep], Field(max_length=200)] = []
    meant: Annotated[list[Meant], Field(max_length=200)] = []
    variants: Annotated[list[Variant], Field(max_length=12)] = []
    jig: JigRecord | None = None  # of a job that makes one
    materials: Annotated[list[Wood], Field(max_length=400)] = []  # where the shop differs from the table
    twin: Twin | None = None  # of a job that tries another one
    end_work: EndWork | None = None  # of a job on an end of a piece that stands in a vice

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True, serialize_by_alias=True)

    @model_validator(mode="after")
    def _refer(self) -> Route:
        for what, items in (("Operation", self.operations), ("Bit", self.bits), ("Part", self.parts),
                            ("Bench step", self.bench_steps), ("Variant", self.variants), ("Setup", self.setups)):
            ids = [i.id for i in items]
            for one in ids:
                if ids.count(one) > 1:
                    raise ValueError(f"{what} id {one} stands twice.")
        parts = {p.id for p in self.parts}
        for placed in self.piece.placements:
            if placed.part not in parts:
                raise ValueError(f"{placed.id} places the part {placed.part}, which is not on the list.")
        for bit in self.bits:
            if bit.undercuts:
                raise ValueError(f"{bit.name} is taken into no job: {UNDERCUTS}.")
        features, bits = {f.id for f in self.features}, {b.id for b in self.bits}
        setups, operations = {s.id for s in self.setups}, {o.id for o in self.operations}
        for op in self.operations:
            for ref, known, what in ((op.bit, bits, "bit"), (op.setup, setups, "setup")):
                if ref not in known:
                    raise ValueError(f"{op.name} uses {what} {ref}, which is not in this route.")
            for feature in op.features:
                if feature not in features:
                    if self.waits_for(feature):
                        continue
                    raise ValueError(f"{op.name} works on feature {feature}, which the piece does not have.")
                one, up = self.feature(feature), self.setup(op.setup).face
                if one.kind != "outline" and one.depth_mm is not None and one.face is not up:
                    raise ValueError(f"{op.name} works on {one.name} from the {up.value}; it lies on the {one.face.value} face.")
            if op.kind is OperationKind.EDGE:
                edge = next((e for e in self.piece.edges if e.id == op.edge), None)
                if edge is None:
                    raise ValueError(f"{op.name} works on the edge {op.edge}, which the piece does not have.")
                if edge.face is not self.setup(op.setup).face:
                    raise ValueError(f"{op.name} works on an edge of the {edge.face.value}, which that setup does not turn up.")
            elif not op.features and op.kind is not OperationKind.FACE:
                raise ValueError(f"{op.name} works on no feature.")
        order = [s.id for s in self.setups]
        places = [order.index(o.setup) for o in self.operations]
        if places != sorted(places):
            raise ValueError("Operations must stand in the order of their setups: the piece is turned over once, not back and forth.")
        self._check_gluing()
        self._check_pairs()
        for setup in self.setups:
            if setup.datum is not None and not any(f.id == setup.datum and f.kind == "hole" for f in self.features):
                raise ValueError(f"{setup.name} is found again by {setup.datum}, which is no hole of this piece.")
        for step in self.bench_steps:
            if step.after is not None and step.after not in operations:
                raise ValueError(f"{step.name} follows operation {step.after}, which is not in this route.")
        return self

    def _check_pairs(self) -> None:
        """Check that what is finished by a second operation is roughed before it, in the same setup."""
        for at, op in enumerate(self.operations):
            if op.finishes is None:
                continue
            rough = next((o for o in self.operations if o.id == op.finishes), None)
            if rough is None:
                raise ValueError(f"{op.name} takes what {op.finishes} left, which is not in this route.")
            if rough not in self.operations[:at] or rough.setup != op.setup:
                raise ValueError(f"{op.name} takes what {rough.name} left: it comes after that, in the same setup.")
            if rough.kind is not op.kind or op.kind not in (OperationKind.PROFILE, OperationKind.POCKET):
                raise ValueError(f"{op.name} takes what {rough.name} left along a wall, and that makes none.")

    def _check_gluing(self) -> None:
        """Check that layers glued on between setups can be, and that what lies under them is cut before."""
        layers, order = self.blank.layers, [s.id for s in self.setups]
        glued = [layer for layer in layers if layer.glued_before is not None]
        if not glued:
            return
        if layers[: len(glued)] != glued or len(glued) == len(layers):
            raise ValueError("Layers glued on between setups lie at the front, over at least one that is there from the beginning.")
        when = {layer.glued_before for layer in glued}
        if len(when) > 1 or next(iter(when)) not in order[1:]:
            raise ValueError("All layers glued on between setups are glued on before the same setup, which is not the first.")
        at = order.index(next(iter(when)))  # type: ignore[arg-type]
        if any(s.face is not Face.FRONT for s in self.setups[:at]):
            raise ValueError("Before a layer is glued on the front, the setups turn the front up.")
        for op in self.operations:
            early = order.index(op.setup) < at
            for name in op.features:
                one = next((f for f in self.features if f.id == name), None)
                under = isinstance(one, Pocket) and one.covered
                if one is not None and under != early:
                    raise ValueError(f"{op.name} works on {one.name}, which {'lies under the layer that is glued on before' if under else 'is cut once the layer is on, after'} {self.setups[at].name}.")

    @cached_property
    def features(self) -> list[Feature]:
        """Every feature of the piece that is cut: those of its numbers, those drawn, at their parts' sizes where they
        follow these, then those of the parts placed on it. What waits for a part nobody measured is left out."""
        from .fretboard.features import board_features
        from .instrument.placing import placed_features
        from .instrument.tied import followed
        from .instrument.waiting import missing_of

        drawn = [
            followed(self, f) if isinstance(f, Pocket | Hole) and f.follows else f
            for f in self.piece.features
            if not missing_of(self, f)
        ]
        return [*board_features(self.piece), *self._of_neck(), *drawn, *placed_features(self)]

    def _of_neck(self) -> list[Feature]:
        from .neck.features import neck_features
        return neck_features(self.piece.neck, self.blank.piece_mm) if self.piece.neck is not None else []

    def waits_for(self, feature_id: str) -> list[str]:
        """Return the places of parts that must be measured before a feature that follows from a part can be drawn."""
        from .instrument.placing import waits_for
        from .instrument.waiting import missing_of
        drawn = next((f for f in self.piece.features if f.id == feature_id), None)
        return missing_of(self, drawn) if drawn is not None else waits_for(self, feature_id)

    def model_copy(self, *, update: dict[str, Any] | None = None, deep: bool = False) -> Route:
        """Copy with some fields replaced; what was derived from the old ones is not taken along."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("features", None)
        return copied

    def bit(self, bit_id: str) -> Bit:
        return next(b for b in self.bits if b.id == bit_id)

    def setup(self, setup_id: str) -> Setup:
        return next(s for s in self.setups if s.id == setup_id)

    def part(self, part_id: str) -> PartOnHand | None:
        return next((p for p in self.parts if p.id == part_id), None)

    def feature(self, feature_id: str) -> Pocket | Hole | Outline:
        return next(f for f in self.features if f.id == feature_id)

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
