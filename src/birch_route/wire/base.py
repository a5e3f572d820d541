"""What every answer is made of. The same classes serve service, sheets, report and web, and the client's types are
generated from them."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

Severity = Literal["stop", "care", "note"]
Point = tuple[float, float]
Trust = Literal["measured", "single", "assumed", "told"]
CutKind = Literal["slot", "side", "finish", "face"]
Edit = dict[str, Any]  # as read_edit takes it
Number = int | float


class Wire(BaseModel):
    """An answer, or a part of one: nothing that is not named here goes out."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class Failure(Wire):
    code: str
    message: str
    where: str | None
    facts: dict[str, Any]


class Status(Wire):
    """Something was done, and nothing else is to be said."""

    status: str


class Made(Wire):
    """The number of what was made."""

    id: int


class Taken(Wire):
    """How many were taken in."""

    taken: int
