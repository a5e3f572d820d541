"""Use cases over the shop itself: its name, unit, machines. What was is kept; jobs keep the figures they have."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from datetime import date
from typing import Any

from ..core.data import starting_shop
from ..core.errors import ConflictError, InputError
from ..core.machines import FigureOrigin, Known, Machine
from ..core.measuring.jobs import MEASURED_BY, TITLES
from ..core.programs.sample import Sample, sample_of
from ..core.quantities import Unit
from ..core.workshop.machine_figures import FIGURES, Figure, assumed, is_missing, is_old, known, value_of
from ..core.workshop.moved import Difference, differences, said
from ..core.workshop.possible import cannot_be
from ..store.database import Database, Row, Transaction, json_value
from .names import free_id

MOST_MACHINES = 100
SET_UP_BY_HAND = {"touch_plate_mm", "edge_finder_mm", "index_holes_mm", "index_hole_mm", "bit_change_mm", "probe_mm"}


class Machines:
    """Machines of the shop. today: for the days at which figures were told."""

    def __init__(self, database: Database, today: Callable[[], date] = date.today) -> None:
        self._database, self._today = database, today

    def shop(self) -> dict[str, Any]:
        """Return the shop's name and unit, and what it has; named: whether it was ever said."""
        with self._database.transaction() as t:
            row = t.maybe("shop_says")
            machines, bits = len(t.all("machines")), len(t.all("rack"))
            jobs = t.one("count_routes")["count"]
        name, unit = (row["name"], row["unit"]) if row else ("", "mm")
        return {"named": row is not None, "name": name, "unit": unit, "machines": machines, "bits": bits, "jobs": jobs}

    def keep_shop(self, name: str, unit: Unit, author: str) -> dict[str, Any]:
        """Say what the shop is called and which unit it works in.

        Raises:
            InputError: no name.
        """
        if not name.strip():
            raise InputError("Give the shop a name: it stands on every sheet.", where="name")
        with self._database.transaction() as t:
            t.one("add_shop_record", name=name.strip(), unit=unit.value, made_by=author)
        return self.shop()

    def documents(self) -> list[dict[str, Any]]:
        """Return the machines as a route takes them."""
        with self._database.transaction() as t:
            return [r["document"] for r in t.all("machines")]

    def rows(self) -> list[dict[str, Any]]:
        """Return every machine with how many of its figures are only assumed."""
        with self._database.transaction() as t:
            rows = t.all("machines")
        return [_row(r) for r in rows]

    def kinds(self) -> list[dict[str, Any]]:
        """Return the kinds a machine can start from; every figure of theirs is assumed."""
        kinds = [_bare(m) for m in starting_shop()["machines"]]
        return [{"machine": m.model_dump(mode="json"), "assumed": len(assumed(m))} for m in kinds]

    def state(self, machine: str) -> dict[str, Any]:
        """Return a machine, figure by figure, with its history and the jobs on it.

        Raises:
            InputError: there is no such machine.
        """
        with self._database.transaction() as t:
            row = _there(t, machine)
            history = t.all("machine_history", machine=machine)
            jobs = t.all("routes_on_machine", machine=machine)
        now = Machine.model_validate(row["document"])
        return {
            **_row(row),
            "removed": row["removed"],
            "figures": [self._figure(now, f) for f in FIGURES],
            "history": [{**h, "made_at": h["made_at"].isoformat()} for h in history],
            "reaches": [
                {"route": j["id"], "name": j["name"], "differs": _shown(Machine.model_validate(j["machine"]), now)}
                for j in jobs
            ],
        }

    @staticmethod
    def document(t: Transaction, machine: str) -> Machine:
        """Return a machine as it is now.

        Raises:
            InputError: there is no such machine.
        """
        return Machine.model_validate(_there(t, machine)["document"])

    @staticmethod
    def keep_measured(t: Transaction, machine: Machine, what: str, author: str) -> None:
        """Say what a machine is now that it was measured, within a transaction that holds the machines.

        Raises:
            InputError: a machine with such figures cannot be.
        """
        _refuse(machine, words=False)
        _keep(t, machine, what, author)

    def add(self, machine: Machine, author: str, what: str) -> str:
        """Add a machine; return its id, which is made from its name.

        Raises:
            InputError: it cannot be, its words cannot be read back, or there are too many.
        """
        _refuse(machine, words=True)
        with self._database.transaction() as t:
            t.do("lock_machines")
            there = t.all("machines")
            if len(there) >= MOST_MACHINES:
                raise InputError(f"The shop has {len(there)} machines. Put one away first.", where="machine")
            id_ = free_id(machine.name, lambda i: t.maybe("machine_now", machine=i) is not None, "machine")
            kept = machine.model_copy(update={"id": id_})
            _keep(t, kept, what, author)
        return id_

    def add_as_is(self, machine: Machine, author: str, what: str) -> None:
        """Add a machine under the id it has, unless one of that id is there.

        Raises:
            InputError: it cannot be.
        """
        _refuse(machine, words=False)
        with self._database.transaction() as t:
            t.do("lock_machines")
            if t.maybe("machine_now", machine=machine.id) is None:
                _keep(t, machine, what, author)

    def add_kind(self, kind: str, name: str, author: str) -> str:
        """Add a machine from a starting kind, all its figures assumed.

        Raises:
            InputError: no such kind, or no name.
        """
        found = next((m for m in starting_shop()["machines"] if m["id"] == kind), None)
        if found is None:
            raise InputError(f"“{kind}” is no kind a machine can start from.", where="kind")
        if not name.strip():
            raise InputError("Give the machine a name of its own.", where="name")
        machine = _bare(found).model_copy(update={"name": name.strip()[:80]})
        return self.add(machine, author, f"Started from: {found['name']}")

    def copy(self, machine: str, name: str, author: str) -> str:
        """Add a machine like another; what was measured on that one is only told of this one."""
        with self._database.transaction() as t:
            other = Machine.model_validate(_there(t, machine)["document"])
        as_other = Known(origin=FigureOrigin.ASSUMED, note=f"as {other.name}")
        lent = {k: as_other if v.origin is FigureOrigin.MEASURED else v for k, v in other.known.items()}
        return self.add(other.model_copy(update={"name": name, "known": lent}), author, f"Like {other.name}")

    def keep(self, machine: str, revision: int, after: Machine, author: str) -> None:
        """Say what a machine is now. A figure that changed, of which nothing new is said, is told from today on.

        Raises:
            ConflictError: somebody changed it since. InputError: it cannot be, or its words cannot be read back.
        """
        with self._database.transaction() as t:
            t.do("lock_machines")
            row = _there(t, machine)
            if row["revision"] != revision:
                raise ConflictError(
                    f"{row['made_by']} changed {row['document']['name']} since you opened it. Look at it again, then "
                    f"make your change on top.",
                    where="revision",
                )
            before = Machine.model_validate(row["document"])
            after = self._told(before, after.model_copy(update={"id": machine}))
            _refuse(after, words=after.dialect != before.dialect)
            changed = differences(before, after)
            if after == before:
                return
            what = "; ".join(f"{d.words}: {d.before} to {d.after}" for d in changed[:6]) or "How its figures are known"
            _keep(t, after, what, author)

    def put_back(self, machine: str, revision: int, author: str) -> None:
        """Make a machine again what it was at a time; what it is now is kept as well.

        Raises:
            InputError: it never was that.
        """
        with self._database.transaction() as t:
            t.do("lock_machines")
            then = t.maybe("machine_then", machine=machine, revision=revision)
            if then is None:
                raise InputError("This machine never was what is asked for.", where="revision")
            _keep(t, Machine.model_validate(then["document"]), "Put back as it was", author)

    def put_away(self, machine: str, author: str) -> None:
        """Take a machine out of the shop; jobs keep theirs, and it can be put back.

        Raises:
            InputError: there is no such machine.
        """
        with self._database.transaction() as t:
            t.do("lock_machines")
            row = _there(t, machine)
            _keep(t, Machine.model_validate(row["document"]), "Put away", author, removed=True)

    def against(self, machine: str, job: Machine) -> list[Difference]:
        """Return what a job's machine differs in from one of the shop, in the order job, shop."""
        with self._database.transaction() as t:
            return differences(job, Machine.model_validate(_there(t, machine)["document"]))

    def _told(self, before: Machine, after: Machine) -> Machine:
        how = dict(after.known)
        for figure in FIGURES:
            name = figure.name
            if value_of(before, name) != value_of(after, name) and known(before, name) == known(after, name):
                how[name] = Known(origin=FigureOrigin.TOLD, on=self._today())
        return after.model_copy(update={"known": how})

    def _figure(self, machine: Machine, figure: Figure) -> dict[str, Any]:
        value = value_of(machine, figure.name)
        return {
            "name": figure.name,
            "words": figure.words,
            "group": figure.group,
            "kind": figure.kind,
            "means": figure.means,
            "rests": list(figure.rests),
            "suffix": figure.suffix,
            "may_be_missing": figure.may_be_missing,
            "missing": is_missing(machine, figure),
            "value": value,
            "said": said(figure, value),
            "known": known(machine, figure.name).model_dump(mode="json"),
            "old": is_old(machine, figure.name, self._today()),
            "measured_by": MEASURED_BY.get(figure.name, ""),
            "measured_words": TITLES.get(MEASURED_BY.get(figure.name, ""), "").lower(),
        }


def _bare(kind: dict[str, Any]) -> Machine:
    """Return a kind without what is set up by hand in a shop: nobody may be taken to have a plate or holes."""
    return Machine.model_validate({k: v for k, v in kind.items() if k not in SET_UP_BY_HAND})


def sample_shown(machine: Machine) -> dict[str, Any]:
    """Return the sample of a machine's words, and what cannot be in them."""
    sample: Sample = sample_of(machine)
    wrong = [c.words for c in cannot_be(machine) if c.where.startswith("dialect")]
    return {**asdict(sample), "problems": [*wrong, *sample.problems]}


def _refuse(machine: Machine, *, words: bool) -> None:
    wrong = cannot_be(machine)
    if wrong:
        raise InputError(" ".join(c.words for c in wrong[:4]), where=wrong[0].where, problems=[c.words for c in wrong])
    problems = sample_of(machine).problems if words else []
    if problems:
        told = f"What would be written in these words cannot be read back: {problems[0]}"
        raise InputError(told, where="dialect", problems=problems)


def _there(t: Transaction, machine: str) -> Row:
    row = t.maybe("machine_now", machine=machine)
    if row is None:
        raise InputError(f"There is no machine “{machine}” in this shop.", where="machine")
    return row


def _keep(t: Transaction, machine: Machine, what: str, author: str, *, removed: bool = False) -> None:
    t.one(
        "add_machine_record",
        machine=machine.id,
        document=json_value(machine.model_dump(mode="json")),
        what=what,
        removed=removed,
        made_by=author,
    )


def _row(row: Row) -> dict[str, Any]:
    machine = Machine.model_validate(row["document"])
    return {
        "machine": machine.model_dump(mode="json"),
        "revision": row["revision"],
        "what": row["what"],
        "made_by": row["made_by"],
        "made_at": row["made_at"].isoformat(),
        "assumed": len(assumed(machine)),
        "figures_known": len(FIGURES) - sum(is_missing(machine, f) for f in FIGURES),
    }


def _shown(before: Machine, after: Machine) -> list[dict[str, Any]]:
    return [asdict(d) for d in differences(before, after)]
