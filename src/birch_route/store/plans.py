"""Where ways to clear a region outlive the process that found them."""

from __future__ import annotations

from .database import Database

MOST = 600


class PlanShelf:
    """Finds and keeps encoded plans in the database."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def find(self, key: str) -> bytes | None:
        """Return the encoded plan with a key, if there is one."""
        with self._database.transaction() as t:
            row = t.maybe("clearing_plan", key=key)
        return None if row is None else bytes(row["data"])

    def put(self, key: str, data: bytes) -> None:
        """Keep an encoded plan."""
        with self._database.transaction() as t:
            t.do("keep_clearing_plan", key=key, data=data)
            t.do("drop_old_clearing_plans", keep=MOST)
