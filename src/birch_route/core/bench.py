"""What people decide beside the machine: bench steps, and findings that are meant so."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from .document import Id, Model, Name
from .vocabulary import BenchKind

Words = Annotated[str, Field(max_length=200)]


class BenchStep(Model):
    """Handwork or a wait. While a gating step is not ticked, nothing after it is released."""

    id: Id
    name: Name
    minutes: Annotated[float, Field(allow_inf_nan=False, ge=0, le=100000)]
    after: Id | None = None  # operation it follows; None: before everything
    wait: bool = False
    kind: BenchKind = BenchKind.OTHER
    gate: bool = False
    note: Annotated[str, Field(max_length=1000)] = ""
    where: Words = ""  # on the piece
    tool: Words = ""
    grit: Annotated[int, Field(ge=16, le=12000)] | None = None  # of the last paper
    check: Words = ""  # what has to be so before it is ticked
    in_sight: bool = False  # may be done while the machine runs, in sight of its stop
    own: bool = False  # a person added it

    def as_ticked(self) -> dict[str, Any]:
        """Return what a tick is for: what came to the model later counts only where it is used, so that ticks of
        before stand."""
        later = {"where", "tool", "grit", "check", "in_sight", "own"}
        unused = {k for k in later if getattr(self, k) == type(self).model_fields[k].default}
        return self.model_dump(mode="json", exclude=unused)


class StepKind(Model):
    """A step to begin from: one a shop starts with, or one it has used."""

    name: Name
    kind: BenchKind = BenchKind.OTHER
    minutes: Annotated[float, Field(allow_inf_nan=False, ge=0, le=100000)]
    wait: bool = False
    gate: bool = False
    in_sight: bool = False
    where: Words = ""
    tool: Words = ""
    grit: Annotated[int, Field(ge=16, le=12000)] | None = None
    check: Words = ""
    note: Annotated[str, Field(max_length=1000)] = ""
    used_here: bool = False  # in this shop, in another job


class Twin(Model):
    """What a route tries: another route of this shop, and what that was like by its hash."""

    of_route: Annotated[int, Field(ge=1)]
    of_hash: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Meant(Model):
    """A care or note that is meant so, and why: it is kept and printed with its reason, and accuses no more as long as
    it says what it said then."""

    code: Annotated[str, Field(pattern=r"^[a-z_]+\.[a-z_]+$", max_length=60)]
    operation: Id | None = None
    feature: Id | None = None
    hardware: Id | None = None
    said: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]  # digest of the finding's sentence with its figures
    reason: Annotated[str, Field(min_length=1, max_length=400)]

    @property
    def of(self) -> tuple[str | None, ...]:
        """What it is about."""
        return self.code, self.operation, self.feature, self.hardware
