"""What holds a blank or a piece: hardware that may be hit, and a nest it lies in."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .document import Above, Id, Model
from .plane.curves import Mm
from .vocabulary import HardwareKind


class Hardware(Model):
    """Something that holds the blank and may be hit. A screw, bolt or pin stands at x, y; a clamp, cam, wedge or rail touches the wood there and its block reaches
    outward along its angle; a vice's fixed jaw stands like a rail, the other across its opening; a strap lies over the blank about x, y; tape, vacuum and spacers lie under it, and nothing hits them from above."""

    id: Id
    kind: HardwareKind
    x_mm: Mm
    y_mm: Mm
    angle_deg: Annotated[float, Field(allow_inf_nan=False, ge=-360, le=360)] = 0.0
    length_mm: Above = 40.0  # clamp, rail: reach away from the blank; tape, vacuum, spacer: along its angle
    width_mm: Above = 50.0  # across that: along the edge
    head_diameter_mm: Above = 8.0  # screw; pin: its own
    shaft_diameter_mm: Above = 4.0  # screw
    top_mm: Annotated[Mm, Field(ge=-100, le=100)] = 0.0  # highest point above (below: minus) the blank's top
    press_n: Annotated[float, Field(allow_inf_nan=False, gt=0, le=20_000)] | None = None  # clamp, vice: least preload; None: figures.holding
    grip_mm: Above | None = None  # screw: thread in the waste board; vice: height of its jaws; None: figures.holding
    opens_mm: Above = 40.0  # vice: between its jaws
    pressure_bar: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1)] | None = None  # vacuum: measured under the wood; None: figures.holding
    shaped: bool = False  # spacer: its upper side cut to the face that lies on it
    porous: bool = False  # vacuum: on a sheet that is not sealed
    glued: bool = False  # tape: two strips with glue between
    assumed: bool = False  # a rule placed it, and nobody said so

    @property
    def lies_under(self) -> bool:
        """Whether it lies under the blank, out of reach from above."""
        return self.kind in (HardwareKind.TAPE, HardwareKind.VACUUM, HardwareKind.SPACER)

    @property
    def is_round(self) -> bool:
        """Whether it stands in the wood at one place."""
        return self.kind in (HardwareKind.SCREW, HardwareKind.BOLT, HardwareKind.PIN)

    @property
    def is_about(self) -> bool:
        """Whether its area lies about its place, not outward from it."""
        return self.lies_under or self.kind is HardwareKind.STRAP

    @property
    def pushes(self) -> bool:
        """Whether it presses against an edge."""
        return self.kind in (HardwareKind.EDGE_CLAMP, HardwareKind.CAM, HardwareKind.WEDGE)

    @property
    def words(self) -> str:
        """What it is called: its kind and its id."""
        return f"{self.kind.value.replace('_', ' ').capitalize()} {self.id}"


class Nest(Model):
    """A window cut to the piece's outline, in which it lies once it is out of its blank. play_mm: all round; deep_mm: from the floor it lies on; bit_mm: the bit it is cut with."""

    play_mm: Annotated[Mm, Field(ge=0.02, le=2)] = 0.15
    deep_mm: Annotated[Mm, Field(ge=2, le=60)] = 10.0
    bit_mm: Annotated[Mm, Field(ge=1, le=20)] = 6.0
