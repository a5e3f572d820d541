"""What a run tells: its cuts and what became of each, what it wore, and what was changed at the machine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field

from ..document import Model
from ..errors import InputError
from ..fretboard.features import SLOTS, floors_of
from ..machines import Machine
from ..materials.own import species
from ..quantities import rate
from ..route import Operation, Route, Settings
from ..vocabulary import CutKind, OperationKind, Outcome
from .limits import Question
from .records import GOOD, Trial, as_cut

Rate = Annotated[float, Field(allow_inf_nan=False, gt=0, le=100_000)]
CHANGED = 0.01  # a smaller change of a rate is none


class Ran(Model):
    """How one operation of a run really went. outcome None: nobody said so of this one; feed and speed None: as programmed. bit, machine: what it was cut with, noted when it is kept."""

    outcome: Outcome | None = None
    feed_mm_min: Rate | None = None
    speed_rpm: Rate | None = None
    is_skipped: bool = False
    bit: Annotated[str, Field(max_length=40)] = ""
    machine: Annotated[str, Field(max_length=80)] = ""


@dataclass(frozen=True)
class Wear:
    """What a run wore: one bit in one wood, metres of cut, minutes, and slots cut at the bit's whole width."""

    bit: str
    wood: str
    metres: float
    minutes: float
    slots: int


def check(route: Route, ran: Mapping[str, Ran]) -> None:
    """Look whether what is told of a run can have been.

    Raises:
        InputError: of an operation that was not in it, or rates its machine does not have.
    """
    top = max(route.machine.speeds_rpm) if route.machine.speeds_rpm else route.machine.greatest_rpm
    for id_, one in ran.items():
        op = route.operation(id_)
        if op is None:
            raise InputError(f"There was no operation {id_} in this run.", where=f"ran.{id_}")
        if (one.feed_mm_min or 0.0) > route.machine.greatest_feed_mm_min * 1.001:
            raise InputError(
                f"{op.name}: {route.machine.name} feeds no faster than {rate(route.machine.greatest_feed_mm_min):g}.",
                where=f"ran.{id_}.feed_mm_min",
            )
        if (one.speed_rpm or 0.0) > top * 1.001:
            raise InputError(f"{op.name}: {route.machine.name} turns no faster than {top:g}.", where=f"ran.{id_}.speed_rpm")


def noted(route: Route, ran: Mapping[str, Ran]) -> dict[str, dict[str, Any]]:
    """Return what is told of a run as it is kept: each operation with its bit and machine, without which its rates say nothing later."""
    return {id_: one.model_copy(update={"bit": op.bit, "machine": route.machine.name}).model_dump(mode="json", exclude_none=True) for id_, one in ran.items() if (op := route.operation(id_)) is not None}


def as_run(settings: Settings, ran: Ran | None) -> Settings:
    """Return settings as they were run: a feed turned up or down takes the plunge rate with it."""
    if ran is None:
        return settings
    feed = ran.feed_mm_min or settings.feed_mm_min
    return settings.model_copy(update={"feed_mm_min": feed, "plunge_mm_min": settings.plunge_mm_min * feed / settings.feed_mm_min, "speed_rpm": ran.speed_rpm or settings.speed_rpm})


def cut_of(route: Route, row: Mapping[str, Any]) -> tuple[Question, Settings] | None:
    """Return an operation of a report as a cut, by what its proof met; None where records are not asked."""
    op = route.operation(row["id"])
    if op is None:
        return None
    met = (row["depth_met_mm"], row["side_engagement_mm"])
    return as_cut(route.machine, route.bit(op.bit), op, met, species(route, row["species"]))


def cuts_of(route: Route, rows: Sequence[Mapping[str, Any]], whole: str, ran: Mapping[str, Ran]) -> list[Trial]:
    """Return the cuts of a run that say something: of an operation with an outcome of its own that one; of all others the whole run's, where that went well.

    Args:
        rows: the operations of the report of what was run. whole: the outcome of the run. A run that went badly says nothing of an operation of which nothing was said.
    """
    out = []
    for row in rows:
        one = ran.get(row["id"])
        outcome = one.outcome if one and one.outcome else Outcome(whole) if whole in GOOD else None
        cut = None if outcome is None or (one and one.is_skipped) else cut_of(route, row)
        if cut is None or outcome is None:
            continue
        q, settings = cut
        s = as_run(settings, one)
        turned = "" if s == settings else f", {s.feed_mm_min / settings.feed_mm_min:.0%} of its feed at the machine" if s.speed_rpm == settings.speed_rpm else ", changed at the machine"
        out.append(Trial(machine=q.machine.name, machine_class=q.machine.machine_class.value, bit=q.bit, wood=q.wood.id, kind=q.kind, settings=s, outcome=outcome, note=f"{row['name']} of {route.job}{turned}"[:200]))
    return out


def took(row: Mapping[str, Any], ran: Ran | None, minutes: Mapping[str, float]) -> float:
    """Return the minutes an operation ran, on all pieces of its setup: as somebody noted, else as computed and longer
    or shorter by its feed at the machine."""
    if ran and ran.is_skipped:
        return 0.0
    if minutes.get(row["id"]):
        return float(minutes[row["id"]])
    feed = ran.feed_mm_min if ran and ran.feed_mm_min else row["settings"]["feed_mm_min"]
    return float(row["machine_min"]) * row.get("alike", 1) * row["settings"]["feed_mm_min"] / feed


def wear_of_run(route: Route, rows: Sequence[Mapping[str, Any]], ran: Mapping[str, Ran], minutes: Mapping[str, float]) -> list[Wear]:
    """Return what a run wore, a line for each bit and wood."""
    found: dict[tuple[str, str], list[float]] = {}
    for row in rows:
        one = ran.get(row["id"])
        if one and one.is_skipped:
            continue
        op = route.operation(row["id"])
        held = found.setdefault((row["bit"], row["species"]), [0.0, 0.0, 0])
        alike = row.get("alike", 1)
        held[0] += alike * row["cut_length_mm"] / 1000
        held[1] += took(row, one, minutes)
        held[2] += alike * _slots(route, row, op)
    return [Wear(bit, in_wood, round(v[0], 3), round(v[1], 3), int(v[2])) for (bit, in_wood), v in found.items()]


def _slots(route: Route, row: Mapping[str, Any], op: Operation | None) -> int:
    board = route.piece.board
    if op is not None and board is not None and SLOTS in op.features:
        floors = floors_of(board)
        return 0 if floors is None else len(floors.ways)
    if op is None or op.kind is not OperationKind.POCKET:
        return 0
    cut = cut_of(route, row)
    return len(op.features) if cut is not None and cut[0].kind is CutKind.SLOT else 0


def turning(machine: Machine, rows: Sequence[Mapping[str, Any]], ran: Mapping[str, Ran], minutes: Mapping[str, float]) -> tuple[float, float]:
    """Return for how many minutes the spindle turned in a run, and for how many at its greatest speed that counts the same for its brushes.

    Source: brushes wear by the way the collector rubs under them, so in proportion to turns.
    """
    plain = weighed = 0.0
    for row in rows:
        one = ran.get(row["id"])
        m = took(row, one, minutes)
        plain += m
        weighed += m * (one.speed_rpm if one and one.speed_rpm else row["settings"]["speed_rpm"]) / machine.greatest_rpm
    return plain, weighed


@dataclass(frozen=True)
class Change:
    """Rates that were changed at the machine and went well, against what the route says now."""

    operation: str
    name: str
    was: Settings
    ran: Settings
    outcome: Outcome

    @property
    def edits(self) -> list[dict[str, object]]:
        """The edits that bring them back into the route."""
        return [{"do": "set", "path": f"operations.{self.operation}.settings.{f}", "value": round(getattr(self.ran, f), 3)} for f in ("feed_mm_min", "plunge_mm_min", "speed_rpm") if getattr(self.ran, f) != getattr(self.was, f)]


def changes(route: Route, runs: Sequence[Mapping[str, Any]]) -> list[Change]:
    """Return what was changed at the machine in the newest run that said so of an operation and went well there, where the route still says otherwise; nothing where bit or machine are others now.

    Args:
        runs: newest first, each with its outcome, and ran by operation as it was kept.
    """
    out, seen = [], set()
    for run in runs:
        for id_, told in run["ran"].items():
            one, op = Ran.model_validate(told), route.operation(id_)
            if op is None or id_ in seen or one.is_skipped or (one.feed_mm_min is None and one.speed_rpm is None):
                continue
            seen.add(id_)
            if (one.bit, one.machine) != (op.bit, route.machine.name):
                continue
            outcome = one.outcome or (Outcome(run["outcome"]) if run["outcome"] in GOOD else None)
            s = as_run(op.settings, one)
            if outcome in GOOD and outcome is not None and any(abs(getattr(s, f) / getattr(op.settings, f) - 1) > CHANGED for f in ("feed_mm_min", "speed_rpm")):
                out.append(Change(id_, op.name, op.settings, s, outcome))
    return out
