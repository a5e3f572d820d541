"""The blank of a route: boards, layers, flaws, what it measures and weighs."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from .document import Id, Model
from .plane.curves import Mm
from .vocabulary import LayerKind


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


class Layer(Model):
    """One layer of a blank, glued flat on the next: a core, a cap, a veneer. Layers are listed from the front face to the back.

    glued_before: the setup before which it is glued on; None: before all.
    """

    id: Id
    kind: LayerKind
    wood: str
    thickness_mm: Annotated[Mm, Field(gt=0.1, le=150)]
    grain_deg: Annotated[float, Field(allow_inf_nan=False, ge=-90, le=90)] = 0.0
    glued_before: Id | None = None


class Blank(Model):
    """The stock. Its lower left corner stands at x_mm, y_mm; its top lies skim_mm above the finished face."""

    wood: str
    length_mm: Annotated[Mm, Field(gt=5, le=2500)]
    width_mm: Annotated[Mm, Field(gt=5, le=1500)]
    thickness_mm: Annotated[Mm, Field(gt=0.4, le=150)]
    x_mm: Mm
    y_mm: Mm
    skim_mm: Annotated[Mm, Field(ge=0, le=20)] = 0.0
    skim_back_mm: Annotated[Mm, Field(ge=0, le=20)] = 0.0  # left on the back until that face is up
    faced_below_mm: Annotated[Mm, Field(ge=0, le=20)] = 0.0  # of a turned setup: how much higher the piece's underside lies than the wood around it, since that face was skimmed
    upright: bool = False  # its fibres stand along z: an end of a piece is up
    boards: Annotated[int, Field(ge=1, le=12)] = 1
    weighed_kg: Annotated[float, Field(allow_inf_nan=False, gt=0, le=100)] | None = None
    planks: Annotated[list[Plank], Field(max_length=12)] = []
    joint_loss_mm: Annotated[Mm, Field(ge=0, le=5)] = 1.0  # lost at each jointed edge
    defects: Annotated[list[Defect], Field(max_length=40)] = []
    layers: Annotated[list[Layer], Field(max_length=8)] = []  # none: one wood all through
    thickness_readings_mm: Annotated[list[Annotated[Mm, Field(gt=0, le=200)]], Field(max_length=20)] = []

    @property
    def piece_mm(self) -> float:
        """Thickness of the finished piece."""
        return self.thickness_mm - self.skim_mm - self.skim_back_mm

    @property
    def top_mm(self) -> float:
        """z of the blank's top in the piece's frame."""
        return self.skim_mm

    @property
    def bottom_mm(self) -> float:
        """z of the blank's underside in the piece's frame."""
        return self.skim_mm - self.thickness_mm

    def layer_spans(self) -> list[tuple[str, float, float]]:
        """Return (wood, z of its top, z of its underside) of every layer from the front; the last reaches the blank's underside."""
        if not self.layers:
            return [(self.wood, self.top_mm, self.bottom_mm)]
        out, top = [], self.top_mm
        for layer in self.layers:
            out.append((layer.wood, top, max(top - layer.thickness_mm, self.bottom_mm)))
            top = max(top - layer.thickness_mm, self.bottom_mm)
        out[-1] = (out[-1][0], out[-1][1], self.bottom_mm)
        return out
