"""Use cases at the bench: steps ticked, waits that run, and what still gates the machine."""

from __future__ import annotations

import datetime as dt
import json
from dataclasses import dataclass
from typing import Any

from ..core.bench import BenchStep, StepKind
from ..core.data import starting_steps
from ..core.errors import InputError
from ..core.proving.findings import Fact, Finding, finding
from ..core.route import Route, content_hash, read_route
from ..core.traveller import gates_before
from ..store.database import Database, Row


@dataclass(frozen=True)
class StepState:
    """A bench step with its tick. open: what comes after it waits. ready_at: when a wait that has begun is over."""

    step: BenchStep
    done: bool
    open: bool
    stale: bool  # ticked once, and the step is another one since
    by: str
    at: str | None
    ready_at: str | None
    note: str


class Bench:
    """Ticks of bench steps."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def states(self, route_id: int) -> list[StepState]:
        """Return the bench steps of the newest revision with their ticks.

        Raises:
            InputError: there is no such route.
        """
        route, ticks = self._read(route_id)
        return states(route, ticks)

    def tick(self, route_id: int, step_id: str, *, done: bool, note: str, author: str) -> list[StepState]:
        """Note a step as done (a wait: as begun), or take that back.

        Raises:
            InputError: the route has no such step.
        """
        route, _ = self._read(route_id)
        step = next((s for s in route.bench_steps if s.id == step_id), None)
        if step is None:
            raise InputError(f"The route has no bench step {step_id}.", where="step")
        with self._database.transaction() as t:
            digest = content_hash(step.as_ticked())
            t.one("add_tick", route=route_id, step=step_id, digest=digest, done=done, note=note, made_by=author)
        return self.states(route_id)

    def kinds(self) -> list[StepKind]:
        """Return steps to begin from: those this shop has added to jobs by name, then those it starts with."""
        with self._database.transaction() as t:
            rows = t.all("own_steps")
        used = []
        for row in rows:
            known = {k: v for k, v in row["step"].items() if k in StepKind.model_fields}
            used.append(StepKind.model_validate({**known, "used_here": True}))
        names = {one.name.lower() for one in used}
        return [*used, *(one for one in starting_steps() if one.name.lower() not in names)]

    def _read(self, route_id: int) -> tuple[Route, list[Row]]:
        with self._database.transaction() as t:
            row = t.maybe("latest_revision", route=route_id)
            ticks = t.all("ticks_of", route=route_id)
        if row is None:
            raise InputError(f"There is no route {route_id}.", where="route")
        return read_route(json.loads(row["document"])), ticks


def states(route: Route, ticks: list[Row], now: dt.datetime | None = None) -> list[StepState]:
    """Return every bench step with what its newest tick means now."""
    now = now or dt.datetime.now(dt.UTC)
    by_step = {t["step"]: t for t in ticks}
    out = []
    for step in route.bench_steps:
        tick = by_step.get(step.id)
        same = tick is not None and tick["digest"] == content_hash(step.as_ticked())
        done = bool(tick and tick["done"] and same)
        ready = tick["made_at"] + dt.timedelta(minutes=step.minutes) if done and step.wait else None
        out.append(StepState(step, done, step.gate and (not done or (ready is not None and now < ready)), bool(tick and tick["done"] and not same), tick["made_by"] if tick else "",
                             tick["made_at"].isoformat() if done else None, ready.isoformat() if ready else None, tick["note"] if tick else ""))
    return out


def open_gates(route: Route, ticks: list[Row], now: dt.datetime | None = None) -> list[StepState]:
    """Return the gating steps that are not done, or whose wait still runs."""
    return [s for s in states(route, ticks, now) if s.open]


def held_by(route: Route, operations: list[str], gates: list[StepState]) -> list[StepState]:
    """Return which of the open gates hold a program of some operations: those that stand before any of them."""
    before = {s.id for s in gates_before(route, operations)}
    return [g for g in gates if g.step.id in before]


def gates_finding(gates: list[StepState]) -> Finding:
    """Return the stop that open gates are for what comes after them."""
    running = next((f" It is over at {g.ready_at[:16].replace('T', ' ')} UTC." for g in gates if g.ready_at), "")
    more = f" and {len(gates) - 5} more" if len(gates) > 5 else ""
    names = ", ".join(g.step.name for g in gates[:5])
    words = f"{names}{more}: not done yet.{running} Tick them on the Run screen when they are."
    return finding("bench.open", words, facts=[Fact(name="steps open", value=len(gates), unit="")])


def as_data(state: StepState) -> dict[str, Any]:
    """Return a step state as plain data."""
    return {**state.step.model_dump(mode="json"), "done": state.done, "open": state.open, "stale": state.stale, "by": state.by, "at": state.at, "ready_at": state.ready_at, "tick_note": state.note}
