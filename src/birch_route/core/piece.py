"""The piece of a route: what it must become. Features, parts placed on it, edges. It knows nothing of bits."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .document import Above, Id, Model, Name, NonNegative
from .fretboard.numbers import Board
from .neck.numbers import Neck
from .plane.curves import Drawn, Mm, Shape
from .vocabulary import EdgeKind, Face, FinishClass, Mount, PieceKind


class DepthFrom(Model):
    """Where a depth comes from: the height stack, or a place of a part plus something."""

    kind: Literal["stack", "reading"]
    part: str | None = None
    place: str | None = None
    plus_mm: Annotated[Mm, Field(ge=-20, le=50)] = 0.0


class Pocket(Model):
    """An area cut to a depth below its face, or through."""

    kind: Literal["pocket"] = "pocket"
    id: Id
    name: Name
    shape: Shape
    depth_mm: Above | None  # None goes through
    depth_from: DepthFrom | None = None
    measured_from: str | None = None  # part whose readings its size must agree with
    follows: bool = False  # its size is what the part's readings say
    face: Face = Face.FRONT  # depths are measured from it
    finish_class: FinishClass = FinishClass.HIDDEN
    tilt_deg: Annotated[float, Field(allow_inf_nan=False, ge=-10, le=10)] = 0.0  # the floor falls toward the nut by this; depth_mm holds at its other end
    follows_mm: Annotated[Mm, Field(ge=1, le=60)] | None = None  # the floor stays so far from what is cut from the other face; depth_mm is its most
    part_corner_mm: NonNegative | None = None  # greatest inside corner radius the part accepts
    least_floor_mm: NonNegative = 5.0
    opens_into: Annotated[list[Id], Field(max_length=20)] = []  # features it is meant to meet
    opens_side: bool = False  # it is meant to run out through the side of the piece
    open_at_neck: bool = False
    locked: bool = False  # no hand moves it
    covered: bool = False  # cut into the core before the layers that are glued on between setups; it lies under them
    assumed: bool = False  # how deep it is nobody said: what is usual stands there


class Hole(Model):
    """Round holes of one size. depth_mm None goes through."""

    kind: Literal["hole"] = "hole"
    id: Id
    name: Name
    points: Annotated[list[tuple[Mm, Mm]], Field(min_length=1, max_length=200)]
    diameter_mm: Above
    depth_mm: Above | None = None
    face: Face = Face.FRONT
    measured_from: str | None = None  # part whose reading fixes the place; a post hole needs one
    follows: bool = False  # size and spacing are what the part's readings say
    fitted: bool = False  # a post or bush is pressed in
    locked: bool = False  # no hand moves it
    least_floor_mm: NonNegative = 3.0
    opens_into: Annotated[list[Id], Field(max_length=20)] = []
    opens_side: bool = False
    assumed: bool = False  # a rule placed them, and nobody said so


class Outline(Model):
    """The outside of the piece, cut through."""

    kind: Literal["outline"] = "outline"
    id: Id
    name: Name
    shape: Shape
    finish_class: FinishClass = FinishClass.SHOWN


class Station(Model):
    """One place of a bevel: its part of the bevel's length, how wide the slope is there and how far it drops at the rim."""

    at: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1)]
    width_mm: Annotated[Mm, Field(gt=0, le=200)]
    drop_mm: Annotated[Mm, Field(ge=0, le=60)]


class OnFace(Model):
    """What contours and channels have in common."""

    id: Id
    name: Name
    face: Face = Face.FRONT
    finish_class: FinishClass = FinishClass.SHOWN
    least_floor_mm: NonNegative = 5.0
    opens_into: Annotated[list[Id], Field(max_length=20)] = []


class Contour(OnFace):
    """A slope down from a face, given by drops at stations."""

    @property
    def depth_mm(self) -> float:
        """Its greatest drop, mm."""
        return max(s.drop_mm for s in self.stations)  # type: ignore[attr-defined]


class Bevel(Contour):
    """A slope along the outline from `start` to `end`, parts of the way round it counter-clockwise; width and drop vary along it."""

    kind: Literal["bevel"] = "bevel"
    start: Annotated[float, Field(allow_inf_nan=False, ge=0, lt=1)]
    end: Annotated[float, Field(allow_inf_nan=False, ge=0, lt=1)]
    stations: Annotated[list[Station], Field(min_length=2, max_length=24)]
    blend_mm: Annotated[Mm, Field(ge=0, le=30)] = 0.0

    @model_validator(mode="after")
    def _in_order(self) -> Bevel:
        places = [s.at for s in self.stations]
        if places != sorted(set(places)):
            raise ValueError(f"The stations of {self.name} must stand in order, each at a place of its own.")
        if max(s.drop_mm for s in self.stations) <= 0.05:
            raise ValueError(f"{self.name} drops nowhere.")
        return self


class Inward(Model):
    """One station of a carve: how far inward from the rim, and how far the surface drops there."""

    at_mm: Annotated[Mm, Field(ge=0, le=300)]
    drop_mm: Annotated[Mm, Field(ge=0, le=60)]


class Carve(Contour):
    """A carved face: it follows the outline all round, with drops at stations inward from the rim; inside the last of them the face stays flat."""

    kind: Literal["carve"] = "carve"
    stations: Annotated[list[Inward], Field(min_length=2, max_length=24)]

    @model_validator(mode="after")
    def _in_order(self) -> Carve:
        places = [s.at_mm for s in self.stations]
        if places[0] != 0 or places != sorted(set(places)):
            raise ValueError(f"The stations of {self.name} begin at the rim, 0, and stand in order, each at a place of its own.")
        if self.stations[-1].drop_mm != 0:
            raise ValueError(f"The last station of {self.name} meets the flat: its drop must be 0.")
        if self.depth_mm <= 0.05:
            raise ValueError(f"{self.name} drops nowhere.")
        return self


class Relief(OnFace):
    """A face formed by a surface that was brought in: depths below it at the middles of nx by ny cells, packed as instrument.reliefs says."""

    kind: Literal["relief"] = "relief"
    x0_mm: Mm  # the grid's corner
    y0_mm: Mm
    cell_mm: Annotated[Mm, Field(ge=0.1, le=5)]
    nx: Annotated[int, Field(ge=2, le=8000)]
    ny: Annotated[int, Field(ge=2, le=8000)]
    depths: Annotated[str, Field(max_length=6_000_000)]
    depth_mm: Above  # its deepest
    origin: Annotated[str, Field(max_length=200)] = ""  # the file it came from


class Channel(OnFace):
    """A ledge along the outline that binding or purfling is glued into, so deep below the rim as the contours of its face leave it."""

    kind: Literal["channel"] = "channel"
    width_mm: Annotated[Mm, Field(gt=0.2, le=30)]
    depth_mm: Annotated[Mm, Field(gt=0.2, le=30)]
    finish_class: FinishClass = FinishClass.GLUED


class Placement(Model):
    """A part on hand where it will stand. What it needs cut follows from its readings as features with ids `<placement>_<role>`; the
    part itself is a ghost: it may collide and is never cut."""

    id: Id
    part: Id
    mount: Mount = Mount.FACE
    face: Face = Face.FRONT  # the face it is mounted on
    x_mm: Mm = 0.0  # its middle; on a side: a point nearest to its place on the outline; at the saddle line or heel: not used
    y_mm: Mm = 0.0
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0
    deep_mm: NonNegative | None = None  # on a side: its middle below the front face; None: half the thickness
    cavity: Id | None = None  # the feature its body hangs in
    reserve_mm: NonNegative = 0.0  # a part that has not arrived: keep a circle this wide free for it


class Edge(Model):
    """What becomes of a rim. Stretches at joints and under plates stay sharp and are found from the parts."""

    id: Id
    feature: Id  # the outline, or a pocket whose rim it is
    face: Face = Face.FRONT
    kind: EdgeKind
    size_mm: NonNegative = 0.0  # radius, or how far a bevel or broken edge goes in
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=10, le=80)] = 45.0  # of a bevel, from the face
    machined: bool = False  # cut by the machine with a bit of its form; else at the bench


class Reference(Model):
    """A curve of a drawing that is kept to look at and measure from, and never cut."""

    id: Id
    name: Name
    layer: Annotated[str, Field(max_length=80)] = ""
    shape: Annotated[Drawn, Field(discriminator="kind")]


Feature = Annotated[Pocket | Hole | Outline | Bevel | Carve | Relief | Channel, Field(discriminator="kind")]


class Piece(Model):
    """What is being made. x along the centre line, y to the treble side, z = 0 the finished front face."""

    kind: PieceKind
    name: Name
    features: Annotated[list[Feature], Field(max_length=100)]
    placements: Annotated[list[Placement], Field(max_length=60)] = []
    edges: Annotated[list[Edge], Field(max_length=40)] = []
    references: Annotated[list[Reference], Field(max_length=100)] = []
    board: Board | None = None  # of a fretboard made from numbers: its outline and all that is cut follow from them
    neck: Neck | None = None  # of a neck made from numbers: likewise

    @model_validator(mode="before")
    @classmethod
    def _numbers_give_outline(cls, data: Any) -> Any:
        """Let the outline of a board or a neck be what its numbers say, whatever stands there."""
        if not isinstance(data, dict) or not (data.get("board") or data.get("neck")):
            return data
        from .fretboard import features as of_board
        from .neck import features as of_neck

        numbers: dict[str, Any] = {}
        if data.get("board"):
            numbers["board"] = Board.model_validate(data["board"])
            shape = of_board.outline_of(numbers["board"])
        if data.get("neck"):
            numbers["neck"] = Neck.model_validate(data["neck"])
            shape = of_neck.outline_of(numbers["neck"])
        outline = {"kind": "outline", "id": "outline", "name": "Outline", "shape": shape}
        kept = []
        for one in data.get("features") or []:
            one = one if isinstance(one, dict) else one.model_dump(mode="json")
            if one.get("kind") == "outline":
                outline = {**one, "shape": outline["shape"]}
            else:
                kept.append(one)
        return {**data, **numbers, "features": [*kept, outline]}

    @model_validator(mode="after")
    def _ids_differ(self) -> Piece:
        ids = [f.id for f in self.features] + [p.id for p in self.placements]
        twice = sorted({i for i in ids if ids.count(i) > 1})
        if twice:
            raise ValueError(f"Feature or placement id {twice[0]} stands twice.")
        if sum(f.kind == "outline" for f in self.features) != 1:
            raise ValueError("A piece needs exactly one outline.")
        rims = {f.id for f in self.features if f.kind != "hole"}
        for edge in self.edges:
            if edge.feature not in rims:
                raise ValueError(f"Edge {edge.id} belongs to {edge.feature}, which is neither the outline nor a pocket of this piece.")
        cavities = {f.id for f in self.features if f.kind == "pocket"}
        for one in self.placements:
            if one.cavity is not None and one.cavity not in cavities:
                raise ValueError(f"{one.id} hangs in {one.cavity}, which is no pocket of this piece.")
        return self

    @property
    def outline(self) -> Outline:
        return next(f for f in self.features if isinstance(f, Outline))
