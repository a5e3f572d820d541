"""What a job that is a jig says of itself: what it holds, its parts list, how true it finds a piece again."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, Literal

from pydantic import Field

from ..document import Id, Model, Name


class JigKind(StrEnum):
    """A board that a blank is held on; a carrier that a blank is wedged into and turned over with; a plate for the vice at the machine's end;
    a nest cut to the piece's outline; two fences and a stop; centre lines."""

    BOARD = "board"
    CARRIER = "carrier"
    VICE = "vice"
    NEST = "nest"
    CORNER = "corner"
    LINES = "lines"


class End(StrEnum):
    """Which end or side of a piece is up in the vice, by where it lies in the piece's frame."""

    LEFT = "left"
    RIGHT = "right"
    LOWER = "lower"
    UPPER = "upper"


class EndWork(Model):
    """Of a job that works on an end or side of a piece, standing in a vice: the job and which end, the hash of the route it was made from, and where the angle comes from.

    words: how the frame of this job lies in the piece's, and the sum of the angle.
    """

    made_for: Name
    made_from: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    end: End
    wanted_deg: Annotated[float, Field(allow_inf_nan=False, ge=-45, le=45)] = 0.0
    wedge_deg: Annotated[float, Field(allow_inf_nan=False, ge=-45, le=45)] = 0.0
    in_blank_deg: Annotated[float, Field(allow_inf_nan=False, ge=-45, le=45)] = 0.0
    words: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=10)] = []


class JigPart(Model):
    """One line of the parts list. size: as it is bought or cut, mm."""

    name: Name
    size: Annotated[str, Field(max_length=80)] = ""
    material: Annotated[str, Field(max_length=60)] = ""
    count: Annotated[int, Field(ge=1, le=500)] = 1
    source: Literal["cut", "buy", "hand"] = "buy"
    note: Annotated[str, Field(max_length=300)] = ""


class JigError(Model):
    """How much a source may put a piece off its place, mm, and how to check it."""

    what: Name
    off_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=10)]
    check: Annotated[str, Field(max_length=200)] = ""


class JigHolding(Model):
    """How the holding that a jig is drawn from holds: the least factor of an operation's pull, what is needed, and at
    which operation."""

    factor: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e6)]
    needs: Annotated[float, Field(allow_inf_nan=False, ge=0, le=100)]
    operation: Name

    @property
    def is_enough(self) -> bool:
        """Whether it holds as many times the pull as it must, within a thousandth."""
        return self.factor >= 0.999 * self.needs


class JigRecord(Model):
    """Of a job that makes a jig: its kind, the job and setup it holds, the hash of the route it was made from, its parts and errors.

    works_with: numbers that follow from it, in words with units.
    """

    kind: JigKind
    made_for: Name
    made_from: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    setup: Id
    parts: Annotated[list[JigPart], Field(max_length=60)] = []
    errors: Annotated[list[JigError], Field(max_length=20)] = []
    holding: JigHolding | None = None  # of a board or nest: None: the job it holds was not proved when it was drawn
    works_with: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=20)] = []
