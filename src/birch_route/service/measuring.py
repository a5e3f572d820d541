"""Use cases of measuring a machine: small jobs, their readings, and the figures that come of them."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from datetime import date
from typing import Any

from ..core.data import figures
from ..core.errors import BirchError, InputError
from ..core.machines import Machine
from ..core.measuring.jobs import Reading, SmallJob, Told
from ..core.measuring.moves import program_text
from ..core.measuring.registry import MAKERS, TITLES, left, measured, small_job, tell
from ..store.database import Database, Row, Transaction, json_value
from .machines import Machines

SAME_PROGRAM = ("steps_x", "steps_y", "steps_z")  # given, but nothing that is cut depends on them


class Measuring:
    """Small jobs of the machines of a shop. today: for the day at which a figure was measured."""

    def __init__(self, database: Database, machines: Machines, today: Callable[[], date] = date.today) -> None:
        self._database, self._machines, self._today = database, machines, today

    def rows(self, machine: str) -> list[dict[str, Any]]:
        """Return every small job of a machine: what it last told, how far it is, or why it cannot be made.

        Raises:
            InputError: there is no such machine.
        """
        with self._database.transaction() as t:
            now = self._machines.document(t, machine)
            rows = t.all("measuring_all", machine=machine)
        return [self._row(now, kind, [r for r in rows if r["kind"] == kind]) for kind in MAKERS]

    def state(self, machine: str, kind: str) -> dict[str, Any]:
        """Return a small job with its readings and what they say.

        Raises:
            InputError: no such machine or job, or this machine cannot make it.
        """
        with self._database.transaction() as t:
            return self._state(t, machine, kind)

    def save(
        self, machine: str, kind: str, given: Mapping[str, float], readings: Mapping[str, float], author: str
    ) -> dict[str, Any]:
        """Note readings. Where what is given asks for another program, earlier readings are none of it and go.

        Raises:
            InputError: something given or read cannot be.
        """
        with self._database.transaction() as t:
            t.do("lock_machines")
            row = self._open(t, machine, kind)
            on = Machine.model_validate(row["machine_then"])
            job = small_job(on, kind, given)
            before = small_job(on, kind, row["given"])
            same = {k: v for k, v in given.items() if k not in SAME_PROGRAM} == {
                k: v for k, v in row["given"].items() if k not in SAME_PROGRAM
            }
            taken = dict(readings) if same or job.asks == before.asks and job.steps == before.steps else {}
            said = tell(job, taken)
            self._note(t, machine, kind, row["machine_then"], dict(given), taken, said, False, author)
            return self._state(t, machine, kind)

    def again(self, machine: str, kind: str, author: str) -> dict[str, Any]:
        """Begin a small job anew on the machine as it is now; what was kept before stays."""
        with self._database.transaction() as t:
            t.do("lock_machines")
            row = t.maybe("measuring_now", machine=machine, kind=kind)
            given = dict(row["given"]) if row else {}
            now = self._machines.document(t, machine)
            small_job(now, kind, given)
            self._note(t, machine, kind, now.model_dump(mode="json"), given, {}, None, False, author)
            return self._state(t, machine, kind)

    def keep(self, machine: str, kind: str, author: str) -> dict[str, Any]:
        """Make what a small job tells the figures of the machine, measured today.

        Raises:
            InputError: readings are missing, or a machine with such figures cannot be.
        """
        with self._database.transaction() as t:
            t.do("lock_machines")
            row = self._open(t, machine, kind)
            job = small_job(Machine.model_validate(row["machine_then"]), kind, row["given"])
            said = tell(job, row["readings"])
            if said is None:
                count = len(left(job, row["readings"]))
                raise InputError(f"{count} readings are still to be taken: {job.title}.", where="readings")
            now = self._machines.document(t, machine)
            after = measured(now, said.told, self._today())
            self._machines.keep_measured(t, after, f"Measured: {job.title}", author)
            self._note(t, machine, kind, row["machine_then"], row["given"], row["readings"], said, True, author)
            return self._state(t, machine, kind)

    def program(self, machine: str, kind: str) -> tuple[str, str]:
        """Return the name and the text of a small job's program.

        Raises:
            InputError: a job without motion, or the machine's words cannot say it.
        """
        with self._database.transaction() as t:
            row = self._open(t, machine, kind)
        on = Machine.model_validate(row["machine_then"])
        job = small_job(on, kind, row["given"])
        if job.moves is None:
            raise InputError(f"{job.title} needs no program: all of it is done by hand.", where="kind")
        bit = next((g.value for g in job.given if g.name == "bit"), 0.0)
        text = program_text(on, job.title, job.steps, job.moves, bit)
        room = on.dialect.name_length - len(on.dialect.extension)
        return f"{f'measure_{kind}'[:room]}{on.dialect.extension}", text

    def _row(self, now: Machine, kind: str, rows: list[Row]) -> dict[str, Any]:
        kept = next((r for r in rows if r["kept"]), None)
        draft = max(rows, key=lambda r: r["id"], default=None)
        refused = ""
        try:
            job = small_job(now, kind, {})
        except BirchError as exc:
            refused, job = exc.sentence, None
        old = kept is not None and (self._today() - kept["made_at"].date()).days > _again_days()
        return {
            "kind": kind,
            "title": TITLES[kind],
            "about": job.about if job else "",
            "refused": refused,
            "readings": len(job.asks) if job else 0,
            "taken": len(draft["readings"]) if draft and not draft["kept"] else 0,
            "kept": _kept(kept) if kept else None,
            "old": old,
        }

    def _open(self, t: Transaction, machine: str, kind: str) -> Row:
        """Return where a job stands; begun on the machine as it is now where it never was."""
        now = self._machines.document(t, machine)
        row = t.maybe("measuring_now", machine=machine, kind=kind)
        return row or {
            "machine_then": now.model_dump(mode="json"),
            "given": {},
            "readings": {},
            "told": [],
            "kept": False,
            "made_by": "",
            "made_at": None,
        }

    def _state(self, t: Transaction, machine: str, kind: str) -> dict[str, Any]:
        row = self._open(t, machine, kind)
        on = Machine.model_validate(row["machine_then"])
        job = small_job(on, kind, row["given"])
        said = tell(job, row["readings"])
        return {
            "kind": kind,
            "title": job.title,
            "about": job.about,
            "steps": job.steps,
            "given": [asdict(g) for g in job.given],
            "asks": [asdict(a) | {"value": row["readings"].get(a.name)} for a in job.asks],
            "drawn": [{"kind": d.kind, "at": list(d.at)} for d in job.drawn],
            "minutes": job.moves.minutes(on) if job.moves else None,
            "left": left(job, row["readings"]),
            "told": [_told(one) for one in said.told] if said else [],
            "apart": said.apart if said else {},
            "is_kept": row["kept"],
            "changed": _changed(job, self._machines.document(t, machine), kind, row["given"]),
            "history": [_kept(r) for r in t.all("measuring_kept", machine=machine, kind=kind)],
        }

    @staticmethod
    def _note(
        t: Transaction,
        machine: str,
        kind: str,
        then: Any,
        given: Mapping[str, float],
        readings: Mapping[str, float],
        said: Reading | None,
        kept: bool,
        author: str,
    ) -> None:
        t.one(
            "add_measuring",
            machine=machine,
            kind=kind,
            machine_then=json_value(then),
            given=json_value(dict(given)),
            readings=json_value(dict(readings)),
            told=json_value([_told(one) for one in said.told] if said else []),
            kept=kept,
            made_by=author,
        )


def _again_days() -> int:
    days: int = figures()["machine_spans"]["measured_again_days"]
    return days


def _changed(job: SmallJob, now: Machine, kind: str, given: Mapping[str, float]) -> bool:
    """Return whether the machine changed so that the job would be another one now."""
    try:
        return small_job(now, kind, given).asks != job.asks
    except BirchError:
        return True


def _told(one: Told) -> dict[str, Any]:
    return asdict(one)


def _kept(row: Row) -> dict[str, Any]:
    return {
        "id": row["id"],
        "told": row["told"],
        "made_by": row["made_by"],
        "made_at": row["made_at"].isoformat(),
    }
