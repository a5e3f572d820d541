"""Use cases on the shop floor: work offsets of the machines, and what becomes of jigs. Both are records that only grow."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from ..core.errors import InputError
from ..core.jigs.kept import kept
from ..core.machines import Machine
from ..core.route import Route
from ..store.database import Database, Transaction


class ShopFloor:
    """Offsets and jigs of the shop."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def offsets(self, machine: str) -> list[dict[str, Any]]:
        """Return the work offsets of a machine as they are now."""
        with self._database.transaction() as t:
            return self._offsets(t, machine)

    def keep_offset(self, machine: str, number: int, values: dict[str, Any], author: str) -> list[dict[str, Any]]:
        """Say what a work offset is now. checked: it was looked at and is right.

        Raises:
            InputError: the jig it is kept for is no route here.
        """
        with self._database.transaction() as t:
            if values.get("jig") is not None and t.maybe("lock_route", route=values["jig"]) is None:
                raise InputError(f"There is no job {values['jig']} to keep this work offset for.", where="jig")
            t.one("add_offset_record", machine=machine, number=number, made_by=author, **values)
            return self._offsets(t, machine)

    def jig(self, route_id: int, route: Route) -> dict[str, Any]:
        """Return how a jig stands: notes, wear, payback against the minutes of its proof (known: whether that is there), offsets kept for it.

        Raises:
            InputError: this job makes no jig.
        """
        if route.jig is None:
            raise InputError(f"{route.job} makes no jig.", where="jig")
        with self._database.transaction() as t:
            notes = t.all("jig_records", jig=route_id)
            offsets, took = t.all("offsets_of_jig", jig=route_id), t.maybe("minutes_of", route=route_id)
        return {**asdict(kept(route.jig, notes, took["minutes"] if took else 0.0)), "known": took is not None,
                "notes": [{**n, "made_at": n["made_at"].isoformat()} for n in notes],
                "offsets": [{"machine": o["machine"], "number": o["number"], "name": o["name"]} for o in offsets]}

    def note_jig(self, route_id: int, values: dict[str, Any], author: str) -> None:
        """Note what a jig did or what was found on it.

        Raises:
            InputError: there is no such route.
        """
        with self._database.transaction() as t:
            if t.maybe("lock_route", route=route_id) is None:
                raise InputError(f"There is no job {route_id}.", where="route")
            t.one("add_jig_record", jig=route_id, made_by=author, **values)

    def _offsets(self, t: Transaction, machine: str) -> list[dict[str, Any]]:
        known = {r["number"]: r for r in t.all("offsets_of", machine=machine)}
        out = []
        for number in range(1, Machine.OFFSETS + 1):
            r = known.get(number)
            out.append({"number": number, "word": f"G{53 + number}", "name": r["name"] if r else "", "refers_to": r["refers_to"] if r else "", "jig": r["jig"] if r else None, "jig_name": r["jig_name"] if r else None,
                        "x_mm": r["x_mm"] if r else None, "y_mm": r["y_mm"] if r else None, "z_mm": r["z_mm"] if r else None,
                        "checked_at": r["checked_at"].isoformat() if r and r["checked_at"] else None, "made_by": r["made_by"] if r else None})
        return out
