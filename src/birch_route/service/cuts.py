"""Cuts of the shop's records: how they are kept and read back, each with the material as the shop has it."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence

from ..core.cutting.records import Trial
from ..core.data import Wood
from ..store.database import Transaction, json_value
from .woods import known_wood

MOST_READ = 20_000  # cuts kept in memory, of about 2 kB each


def _with_species(one: Trial, own: Mapping[str, Wood]) -> Trial:
    return one if one.wood not in own else one.model_copy(update={"species": own[one.wood]})


class CutShelf:
    """Cuts as they were read, by number: a row of the books never changes, so each is read once."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._read: dict[int, Trial] = {}

    def of(self, t: Transaction, ids: Sequence[int], own: Mapping[str, Wood]) -> list[Trial]:
        """Return cuts by number, in that order, each with its material as the shop has it."""
        with self._lock:
            known = {n: self._read[n] for n in ids if n in self._read}
        missing = [n for n in ids if n not in known]
        if missing:
            known |= {r["id"]: Trial.model_validate(r["data"]) for r in t.all("trial_data", ids=missing)}
            with self._lock:
                self._read = {**self._read, **known} if len(self._read) < MOST_READ else known
        return [_with_species(known[n], own) for n in ids]


def keep_cuts(t: Transaction, cuts: Sequence[Trial], author: str, run: int | None = None) -> list[int]:
    """Keep cuts within a transaction; return their numbers.

    Args:
        run: whose record tells of them, if one does.

    Raises:
        InputError: an unknown material.
    """
    for one in cuts:
        known_wood(t, one.wood)
    out = []
    for c in cuts:
        data = json_value(c.model_dump(mode="json"))
        row = t.one(
            "add_trial",
            machine=c.machine,
            bit=c.bit.id,
            wood=c.wood,
            data=data,
            origin=c.origin.value,
            withdraws=None,
            run=run,
            made_by=author,
        )
        out.append(int(row["id"]))
    return out
