"""Edits of the bench steps, and of what a person says of findings."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError

from ..bench import BenchStep
from ..data import own_step_minutes
from ..document import Id
from ..errors import InputError
from ..instrument.drawn import free_id
from ..proving.findings import CODES
from ..route import read_route
from ..traveller import moved_step
from ..vocabulary import Severity
from .base import Document, DocumentEdit, named

Finding = Annotated[str, Field(max_length=60)]


class AddStep(DocumentEdit):
    """Add a step at the bench: right after an operation (none: before everything), or behind another step there."""

    do: Literal["add_step"] = "add_step"
    after: Id | None = None
    behind: Id | None = None  # a step that stands there already
    step: dict[str, Any]  # fields of a bench step without id and place

    def words(self) -> str:
        return f"Add a step at the bench: {self.step.get('name', '')}"

    def change(self, data: Document) -> None:
        if self.after is not None:
            named(data["operations"], self.after, "operation")
        name = free_id((s["id"] for s in data["bench_steps"]), "own")
        try:
            known = {"minutes": own_step_minutes(), **self.step}
            made = BenchStep.model_validate({**known, "id": name, "after": self.after, "own": True})
        except ValidationError as exc:
            first = exc.errors()[0]
            where = ".".join(map(str, first["loc"]))
            raise InputError(f"This step cannot be added: {where}: {first['msg']}.", where=where) from exc
        there = [k for k, s in enumerate(data["bench_steps"]) if s["after"] == self.after]
        if self.behind is not None:
            other = named(data["bench_steps"], self.behind, "bench step")
            if other["after"] != self.after:
                raise InputError(f"{other['name']} stands elsewhere.", where="behind")
            there = [data["bench_steps"].index(other) + 1]
        data["bench_steps"].insert(there[0] if there else len(data["bench_steps"]), made.model_dump(mode="json"))


class MoveStep(DocumentEdit):
    """Move a step at the bench past what stands before it, or after it: an operation or another step."""

    do: Literal["move_step"] = "move_step"
    step: Id
    later: bool

    def words(self) -> str:
        return "Move a step at the bench"

    def change(self, data: Document) -> None:
        named(data["bench_steps"], self.step, "bench step")
        route = read_route(data)
        data["bench_steps"] = [s.model_dump(mode="json") for s in moved_step(route, self.step, later=self.later)]


class MeanSo(DocumentEdit):
    """Say of a care or a note that it is meant so, and why. It accuses no more as long as it says the same."""

    do: Literal["mean_so"] = "mean_so"
    code: Finding
    operation: Id | None = None
    feature: Id | None = None
    hardware: Id | None = None
    said: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]  # as the finding gives it
    why: Annotated[str, Field(max_length=400)]

    def words(self) -> str:
        return f"Meant so: {self.why}"

    def change(self, data: Document) -> None:
        if self.code not in CODES:
            raise InputError(f"There is no finding {self.code}.", where="code")
        if CODES[self.code][0] is Severity.STOP:
            raise InputError(
                "A stop is not meant so. Settle it, or override it where programs are released.", where="code"
            )
        if not self.why.strip():
            raise InputError("Say why it is meant so.", where="why")
        item = self.model_dump(mode="json", exclude={"do", "why"})
        kept = [m for m in data["meant"] if not _same(m, item)]
        data["meant"] = [*kept, {**item, "reason": self.why.strip()}]


class MeanNoMore(DocumentEdit):
    """Let a finding accuse again."""

    do: Literal["mean_no_more"] = "mean_no_more"
    code: Finding
    operation: Id | None = None
    feature: Id | None = None
    hardware: Id | None = None
    said: Annotated[str, Field(pattern=r"^[0-9a-f]{16}$")]  # as the finding gives it

    def words(self) -> str:
        return "Not meant so any more"

    def change(self, data: Document) -> None:
        item = self.model_dump(mode="json", exclude={"do"})
        kept = [m for m in data["meant"] if not _same(m, item)]
        if len(kept) == len(data["meant"]):
            raise InputError("Nobody said of this finding that it is meant so.", where="code")
        data["meant"] = kept


def _same(meant: Document, item: Document) -> bool:
    return all(meant[k] == item[k] for k in ("code", "operation", "feature", "hardware", "said"))
