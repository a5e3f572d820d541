"""Use cases at the machine: a run of a release as events that are only added; how far it is; the record it leaves."""

from __future__ import annotations

import datetime as dt
import json
from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any

from ..core.errors import ConflictError, InfeasibleError, InputError
from ..core.programs.numbers import number_of
from ..core.programs.reader import read_program
from ..core.programs.writer import Program
from ..core.proving.simulate import Simulation
from ..core.route import Route, content_hash, read_route
from ..core.run.events import Event, EventKind, RunIs, StepIs, minutes_of, run_is
from ..core.run.resume import Spot, program_named, resume, spot_at_line, spots_near
from ..core.run.steps import StepAt, StepKindAt, named_length, steps_of
from ..store.database import Database, Row, Transaction, jsonb_value
from .bench import StepState, states
from .releases import Releases
from .run_book import RunBook, Went

SERVER = "server"  # the device of what the server itself notes
OF_BENCH = {EventKind.TICKED, EventKind.TAKEN_BACK}


@dataclass(frozen=True)
class Told:
    """One event as a device tells it; its number counts that device's own."""

    number: int
    kind: EventKind
    step: str = ""
    note: str = ""
    value_mm: float | None = None
    device_at: dt.datetime | None = None


@dataclass(frozen=True)
class _Stands:
    """A run as it stands: the newest revision of its job, its steps, its events, and how bench steps stand by their
    step's id."""

    route: Route
    steps: list[StepAt]
    is_: RunIs
    benched: dict[str, StepState]
    events: list[Row]


class AtMachine:
    """Runs at the machine."""

    def __init__(
        self, database: Database, book: RunBook, releases: Releases,
        now: Callable[[], dt.datetime] = lambda: dt.datetime.now(dt.UTC),
    ) -> None:
        self._database, self._book, self._releases, self._now = database, book, releases, now

    def begin(self, route_id: int, author: str) -> dict[str, Any]:
        """Begin a run of the newest release, or go on with the one that is not closed.

        Raises:
            InfeasibleError: no program of the newest revision was released.
        """
        with self._database.transaction() as t:
            t.maybe("lock_route", route=route_id)  # two devices that begin at once begin one run
            latest = t.maybe("latest_revision", route=route_id)
            if latest is None:
                raise InputError(f"There is no route {route_id}.", where="route")
            released = t.maybe("release_of", route=route_id, revision=latest["number"])
            if released is None:
                raise InfeasibleError(
                    "Write the programs first: a run goes through what was read back and released.", where="release"
                )
            open_one = next((r for r in t.all("attended_of", route=route_id)
                             if r["closed_at"] is None and r["revision"] == latest["number"]), None)
            if open_one is not None:
                return self._state(t, open_one["id"])
            sheet = released["files"]["report"].get("run_plan")
            if sheet is None:  # released before runs were kept as events
                raise InfeasibleError("Write the programs again: these were kept without their steps.", where="release")
            plan = jsonb_value(sheet)
            row = t.one("add_attended", route=route_id, revision=latest["number"], plan=plan, made_by=author)
            return self._state(t, row["id"])

    def runs(self, route_id: int) -> list[dict[str, Any]]:
        """Return the runs at the machine of a route, the newest first."""
        with self._database.transaction() as t:
            rows = t.all("attended_of", route=route_id)
        return [
            {**r, "made_at": r["made_at"].isoformat(),
             "closed_at": r["closed_at"].isoformat() if r["closed_at"] else None}
            for r in rows
        ]

    def state(self, run: int) -> dict[str, Any]:
        """Return how a run stands.

        Raises:
            InputError: there is no such run.
        """
        with self._database.transaction() as t:
            return self._state(t, run)

    def add(self, run: int, device: str, told: list[Told], author: str) -> dict[str, Any]:
        """Keep what a device tells, each event once; a bench step's tick stands at the bench too.

        Raises:
            InputError: there is no such run, or it has no such step.
        """
        with self._database.transaction() as t:
            row = self._row(t, run, locked=True)
            steps = {s.id: s for s in steps_of(row["plan"])}
            for one in told:
                if one.step and one.step not in steps:
                    raise InputError(f"This run has no step {one.step}.", where="step")
                kept = t.maybe(
                    "add_attended_event", attended=run, device=device, number=one.number, kind=one.kind.value,
                    step=one.step, note=one.note, value_mm=one.value_mm, device_at=one.device_at, made_by=author,
                )
                step = steps.get(one.step)
                if kept and step is not None and step.bench and one.kind in OF_BENCH:
                    _tick(t, row["route"], step.bench, one, author)
            return self._state(t, run)

    def close(self, run: int, outcome: str, note: str, author: str) -> dict[str, Any]:
        """Close a run, once, and keep its record: the outcome, and the minutes its cuts took.

        Raises:
            InputError: there is no such run. ConflictError: it is closed already.
        """
        with self._database.transaction() as t:
            row = self._row(t, run, locked=True)
            stands = self._stands(t, row)
            kept = t.maybe(
                "add_attended_event", attended=run, device=SERVER, number=1, kind="closed", step="", note=outcome,
                value_mm=None, device_at=None, made_by=author,
            )
            if kept is None:
                raise ConflictError("This run is closed already, and its record is kept.", where="run")
            went = Went(outcome, note, minutes_of(stands.steps, stands.is_), {})
            self._book.keep_in(t, row["route"], row["revision"], went, author)
            return self._state(t, run)

    def spots(self, run: int, name: str, at_mm: tuple[float, float, float]) -> list[dict[str, Any]]:
        """Return where in a program the bit may have been, by what the machine's display says, mm.

        Raises:
            InputError: there is no such run or program.
        """
        sim, program = self._simulated(run, name)
        read = read_program(program.text, program.name, sim.route.machine.dialect)
        return [_spot(sim, s) for s in spots_near(read, program, sim, at_mm)]

    def resume(self, run: int, name: str, line: int) -> dict[str, Any]:
        """Return the program that goes on from a line, read back and cut from both woods.

        Raises:
            InputError: there is no such run, program or line. InfeasibleError: what was read back is not fit to be run.
        """
        sim, program = self._simulated(run, name)
        read = read_program(program.text, program.name, sim.route.machine.dialect)
        made = resume(sim, program, spot_at_line(read, program, sim, line))
        if made.problems:
            raise InfeasibleError(
                f"Read back, it is not fit to be run: {' '.join(made.problems)} Cut the operation again from its "
                f"start.",
                where="line",
            )
        return {
            "spot": _spot(sim, made.spot), "name": made.name, "number": number_of(made.text), "text": made.text,
            "minutes": round(made.minutes, 2), "back_mm": made.back_mm, "down_at_mm": made.down_at_mm,
            "differs_mm": made.differs_mm,
        }

    def _simulated(self, run: int, name: str) -> tuple[Simulation, Program]:
        with self._database.transaction() as t:
            row = self._row(t, run)
        proof, programs = self._releases.simulated(row["route"], row["revision"])
        program = program_named(programs, name)
        return next(s for s in proof.simulations if s.setup.id == program.setup), program

    def _row(self, t: Transaction, run: int, locked: bool = False) -> Row:
        if locked:
            t.maybe("lock_attended", attended=run)
        row = t.maybe("attended", attended=run)
        if row is None:
            raise InputError(f"There is no run {run}.", where="run")
        return row

    def _stands(self, t: Transaction, row: Row) -> _Stands:
        """Return how a run stands; of bench steps what the bench says."""
        route, steps = _newest(t, row["route"]), steps_of(row["plan"])
        known = {b.step.id: b for b in states(route, t.all("ticks_of", route=row["route"]), self._now())}
        benched = {s.id: known[s.bench] for s in steps if s.bench in known}
        rows = t.all("attended_events", attended=row["id"])
        at_bench = {s.id for s in steps if s.bench}
        events = [_event(e) for e in rows if e["step"] not in at_bench]
        ticked = [_of_bench(s, benched[s.id]) for s in steps if s.id in benched and benched[s.id].done]
        return _Stands(route, steps, run_is(steps, [*ticked, *events]), benched, rows)

    def _state(self, t: Transaction, run: int) -> dict[str, Any]:
        row = self._row(t, run)
        stands = self._stands(t, row)
        steps, is_, benched, events = stands.steps, stands.is_, stands.benched, stands.events
        released = t.maybe("release_of", route=row["route"], revision=row["revision"])
        return {
            "id": run, "route": row["route"], "job": stands.route.job, "revision": row["revision"],
            "outdated": row["newest"] != row["revision"], "begun_at": row["made_at"].isoformat(),
            "begun_by": row["made_by"], "now": self._now().isoformat(), "current": is_.current,
            "closed": None if is_.closed is None else {"at": is_.closed.at.isoformat(), "outcome": is_.closed.note,
                                                       "by": is_.closed.by},
            "setups": [{k: s[k] for k in ("id", "name", "bed")} for s in row["plan"]["setups"]],
            "steps": [_step(s, is_.steps[s.id], benched.get(s.id), released) for s in steps],
            "events": [
                {**{k: e[k] for k in ("id", "device", "number", "kind", "step", "note", "value_mm")},
                 "by": e["made_by"], "at": e["made_at"].isoformat()}
                for e in events[-200:]
            ],
        }


def _spot(sim: Simulation, spot: Spot) -> dict[str, Any]:
    name = next((o.name for o in sim.route.operations if o.id == spot.operation), spot.operation)
    return {"line": spot.line, "operation": name, "at_mm": spot.at_mm, "away_mm": spot.away_mm}


def _newest(t: Transaction, route_id: int) -> Route:
    """Return the newest revision of a job that is there."""
    latest = t.maybe("latest_revision", route=route_id)
    assert latest is not None
    return read_route(json.loads(latest["document"]))


def _tick(t: Transaction, route_id: int, bench: str, one: Told, author: str) -> None:
    route = _newest(t, route_id)
    step = next((s for s in route.bench_steps if s.id == bench), None)
    if step is not None:  # else it went with a newer revision; the event stays
        done = one.kind is EventKind.TICKED
        digest = content_hash(step.as_ticked())
        t.one("add_tick", route=route_id, step=bench, digest=digest, done=done, note=one.note, made_by=author)


def _event(row: Row) -> Event:
    return Event(
        row["id"], EventKind(row["kind"]), row["step"], row["made_at"], row["made_by"], row["device"],
        row["device_at"], row["note"], row["value_mm"],
    )


def _of_bench(step: StepAt, state: StepState) -> Event:
    at = dt.datetime.fromisoformat(state.at) if state.at else dt.datetime.min.replace(tzinfo=dt.UTC)
    return Event(0, EventKind.TICKED, step.id, at, state.by, "bench")


def _step(step: StepAt, is_: StepIs, bench: StepState | None, released: Row | None) -> dict[str, Any]:
    """Return one step with how it stands, as data."""
    plain = asdict(step)
    cuts = plain.pop("cuts")
    return {
        **plain, "kind": step.kind.value, "lines": list(step.lines), "number": named_length(step),
        "done": _who(is_.done), "again": [_who(e) for e in is_.again], "started": _who(is_.started),
        "stopped": _who(is_.stopped), "stop_why": is_.stopped.note if is_.stopped else "",
        "running_since": is_.running_since.isoformat() if is_.running_since else None,
        "cut_s": round(is_.cut_s, 1), "ready_at": bench.ready_at if bench else None,
        "in_sight": bool(bench and bench.step.in_sight),
        "operations": [{"id": i, "name": n, "minutes": m} for i, n, m in cuts["operations"]] if cuts else [],
        "programs": _programs(step, released),
    }


def _who(event: Event | None) -> dict[str, Any] | None:
    return None if event is None else {"by": event.by, "at": event.at.isoformat(), "device": event.device}


def _programs(step: StepAt, released: Row | None) -> list[dict[str, Any]]:
    """Return the released programs that hold what a step cuts, with the number each says; begins: whether the step is
    the first of it."""
    if step.kind is not StepKindAt.CUT or step.cuts is None or released is None:
        return []
    first = step.cuts.operations[0][0]
    out = []
    for program in released["files"]["report"]["programs"]:
        if first in program["operations"]:
            name = program["file"]
            text = released["files"]["programs"].get(name, "")
            begins = program["operations"][0] == first
            out.append({"name": name, "number": number_of(text), "begins": begins})
    return out
