"""Use cases over runs: what really happened, what it taught of cuts, what it wore; and what the books say of a route."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import Any

from ..core.brushes import brushes
from ..core.cutting.ran import Ran, changes, check, cuts_of, noted, turning, wear_of_run
from ..core.cutting.shop import Said, findings_of, of_operations
from ..core.errors import InputError
from ..core.instrument.resolve import resolve
from ..core.proving.findings import as_meant, by_severity
from ..core.proving.rules_precision import unmeasured
from ..core.route import read_route
from ..core.workshop.before import Before, before_start
from ..core.workshop.machine_figures import FIGURES, is_old
from ..jobs.proof_version import made_with
from ..store.database import Database, Transaction, jsonb_value
from .cuts import keep_cuts
from .rack import Rack, trust_out
from .woods import own_woods

NOTHING = {"wood": "", "metres": 0.0, "slots": 0, "minutes": 0.0, "diameter_mm": None, "shortened_mm": None, "note": ""}


@dataclass(frozen=True)
class Went:
    """How a run went: outcome, note, minutes of operations, and what they ran with where that was not as written."""

    outcome: str
    note: str
    minutes: dict[str, float]
    ran: Mapping[str, Ran]


class RunBook:
    """What was run, and what it tells of machines, bits and cuts. Everything only grows."""

    def __init__(self, database: Database, rack: Rack, now: Callable[[], datetime] = datetime.now) -> None:
        self._database, self._rack, self._now = database, rack, now

    def keep(
        self, route_id: int, revision: int, outcome: str, note: str, minutes: dict[str, float],
        ran: Mapping[str, Ran], author: str,
    ) -> dict[str, Any]:
        """Keep the record of a run and what it tells, all or none: its cuts, what its bits and brushes wore. learnt:
        cuts kept; counted: whether its proof was at hand, without which nothing but the record is kept.

        Raises:
            InputError: no such revision, an operation that was not in it, or rates the machine does not have.
        """
        with self._database.transaction() as t:
            return self.keep_in(t, route_id, revision, Went(outcome, note, minutes, ran), author)

    def keep_in(self, t: Transaction, route_id: int, revision: int, went: Went, author: str) -> dict[str, Any]:
        """Keep the record of a run within a transaction; as `keep`."""
        minutes, ran = went.minutes, went.ran
        row = t.maybe("revision", route=route_id, number=revision)
        if row is None:
            raise InputError(
                f"There is no revision {revision} of route {route_id}; what was run must be one that is kept.",
                where="revision",
            )
        route = read_route(json.loads(row["document"]))
        check(route, ran)
        kept = t.one(
            "add_run", route=route_id, revision=revision, outcome=went.outcome, note=went.note,
            minutes=jsonb_value(minutes), ran=jsonb_value(noted(route, ran)), made_by=author,
        )
        rows = _operations(t, row["hash"])
        if rows is None:
            return {**kept, "learnt": 0, "counted": False}
        cuts = keep_cuts(t, cuts_of(route, rows, went.outcome, ran), author, kept["id"])
        said = f"{route.job}, revision {revision}"[:200]
        for w in wear_of_run(route, rows, ran, minutes):
            worn = {"wood": w.wood, "metres": w.metres, "slots": w.slots, "minutes": w.minutes, "note": said}
            t.one("add_bit_note", **{**NOTHING, **worn}, bit=w.bit, what="used", run=kept["id"], made_by=author)
        plain, weighed = turning(route.machine, rows, ran, minutes)
        t.one("add_machine_note", machine=route.machine.name, what="ran", minutes=plain, weighed_min=weighed,
              spares=None, note=said, run=kept["id"], made_by=author)
        return {**kept, "learnt": len(cuts), "counted": True}

    def records(self, route_id: int) -> list[dict[str, Any]]:
        """Return the records of a route, newest first."""
        with self._database.transaction() as t:
            return t.all("runs_of", route=route_id)

    def withdraw(self, route_id: int, run: int, author: str) -> None:
        """Take the record of a run back: it stays in the books, and what it told of cuts, bits and machine counts no
        more. Cuts and wear that were kept before runs were named in them stay, and are withdrawn at the rack.

        Raises:
            InputError: there is no such record of this job, or it was withdrawn already.
        """
        with self._database.transaction() as t:
            if t.maybe("withdraw_run", run=run, route=route_id, made_by=author) is None:
                raise InputError(f"This job has no record {run} that counts.", where="run")

    def note_machine(self, machine: str, values: dict[str, Any], author: str) -> None:
        """Note that new brushes went in, hours that were run elsewhere, or how many spare sets there are."""
        with self._database.transaction() as t:
            t.one("add_machine_note", machine=machine, made_by=author, run=None, **values)

    def says(self, route_id: int) -> dict[str, Any]:
        """Return what the books say of the newest revision of a route: findings; of every operation its standing and the fastest cut of its ground; the brushes. Empty lists where it is not proved yet.

        Raises:
            InputError: there is no such route.
        """
        with self._database.transaction() as t:
            row = t.maybe("latest_revision", route=route_id)
            if row is None:
                raise InputError(f"There is no route {route_id}.", where="route")
            route, rows = read_route(json.loads(row["document"])), _operations(t, row["hash"])
            own = own_woods(t)
            bits = [b.id for b in route.bits]
            cut = t.all("trials_of_machine", machine=route.machine.name, bits=bits)
            trials = self._rack.cuts.of(t, [r["id"] for r in cut], own)
            runs = [r for r in t.all("runs_of", route=route_id) if not r["withdrawn"]]
            notes = t.all("machine_notes", machine=route.machine.name)
        if rows is None:
            return {"hash": row["hash"], "findings": [], "operations": [], "brushes": None, "before": []}
        said = of_operations(route, rows, trials)
        minutes, now = sum(r["machine_min"] + r["hands_min"] for r in rows), self._now()
        old = [f.words for f in FIGURES if is_old(route.machine, f.name, now.date())]
        before = before_start(route.machine, minutes, now.hour * 60 + now.minute, old)
        words = unmeasured(route, resolve(route))
        before += [Before("precision", words)] if words else []
        worn = brushes(route.machine, notes, turning(route.machine, rows, {}, {})[1])
        metres = {(w.bit, w.wood): w.metres for w in wear_of_run(route, rows, {}, {})}
        found = findings_of(route, said, self._rack.on_hand(), metres, worn, changes(route, runs))
        found = by_severity(as_meant(found, route.meant))
        return {
            "hash": row["hash"],
            "findings": [f.model_dump(mode="json") for f in found],
            "operations": [_said(s) for s in said],
            "brushes": None if worn is None else asdict(worn),
            "before": [asdict(b) for b in before],
        }


def _operations(t: Transaction, digest: str) -> list[dict[str, Any]] | None:
    """Return the operations of a proof's report; None where it is not there or could not be made."""
    found = t.maybe("proof_operations", hash=digest, made_with=made_with())
    return None if found is None else found["operations"]


def _said(s: Said) -> dict[str, Any]:
    best = None if s.best is None else {"settings": s.best.settings.model_dump(), "words": s.best.words, "note": s.best.note, "times": s.times, "edits": s.edits}
    return {"id": s.operation.id, "kind": s.question.kind.value, "trust": trust_out(s.trust), "best": best}
