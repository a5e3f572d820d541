"""Every error of Birch Route, as one tree.

    BirchError                 code, message, facts
    ├── InputError             what was given cannot be used; says where and what to do
    │   ├── UnitError          a length that cannot be read
    │   └── GeometryError      an outline or region that cannot be cut
    ├── ConflictError          somebody else changed it first
    ├── InfeasibleError        the request is understood and cannot be met
    ├── NumericError           a computation went out of its range: our fault
    └── StoreError             the database refused or is away

A rule that refuses is an answer, not an error: it returns a finding (core/proving/findings.py).
"""

from __future__ import annotations

from typing import Any

from .quantities import say


class BirchError(Exception):
    """The root: a code for programs, a message for people, facts for both."""

    code = "birch"

    def __init__(self, message: str, *, where: str | None = None, **facts: Any) -> None:
        super().__init__(say(message))
        self.sentence = message  # quantities marked, see core/quantities.py
        self.where = where
        self.facts = facts

    @property
    def message(self) -> str:
        """The sentence in mm."""
        return say(self.sentence)

    def as_dict(self) -> dict[str, Any]:
        """Return the error as it goes over the wire and into --json output."""
        return {"code": self.code, "message": self.sentence, "where": self.where, "facts": self.facts}


class InputError(BirchError):
    """What was given cannot be used."""

    code = "input"


class UnitError(InputError):
    """A length that cannot be read."""

    code = "input.length"


class GeometryError(InputError):
    """An outline or region that cannot be cut."""

    code = "input.geometry"


class ConflictError(BirchError):
    """Somebody else changed it first."""

    code = "conflict"


class InfeasibleError(BirchError):
    """The request is understood and cannot be met."""

    code = "infeasible"


class NumericError(BirchError):
    """A computation went out of its range."""

    code = "numeric"


class StoreError(BirchError):
    """The database refused or is away."""

    code = "store"
