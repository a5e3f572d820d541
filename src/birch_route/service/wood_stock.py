"""Use cases over the wood stock: boards measured and weighed, kept as records that only grow."""

from __future__ import annotations

from typing import Any

from ..core.errors import InputError
from ..store.database import Database, Row, Transaction
from .densities import density
from .woods import known_wood, told_wood


class WoodStock:
    """Boards of the shop."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def boards(self) -> list[dict[str, Any]]:
        """Return every board as it is now, with its density where it was weighed."""
        with self._database.transaction() as t:
            return [_out(t, r) for r in t.all("wood_stock")]

    def add(self, values: dict[str, Any], author: str) -> dict[str, Any]:
        """Add a board.

        Raises:
            InputError: an unknown wood.
        """
        with self._database.transaction() as t:
            return self._keep(t, t.one("add_wood_board")["id"], values, author)

    def change(self, board: int, values: dict[str, Any], author: str) -> dict[str, Any]:
        """Say what a board is now.

        Raises:
            InputError: there is no such board, or an unknown wood.
        """
        with self._database.transaction() as t:
            if t.maybe("lock_wood_board", board=board) is None:
                raise InputError(f"There is no board {board} in the stock.", where="board")
            return self._keep(t, board, values, author)

    def history(self, board: int) -> list[dict[str, Any]]:
        """Return what was said of a board, the newest first."""
        with self._database.transaction() as t:
            return [_out(t, {**r, "board": board}) for r in t.all("wood_history", board=board)]

    def _keep(self, t: Transaction, board: int, values: dict[str, Any], author: str) -> dict[str, Any]:
        known_wood(t, values["wood"])
        if values.get("route") is not None and t.maybe("lock_route", route=values["route"]) is None:
            raise InputError(f"There is no route {values['route']} to use this board in.", where="route")
        return _out(t, t.one("add_wood_record", board=board, made_by=author, **{"moisture_pct": None, **values}))


def _out(t: Transaction, row: Row | dict[str, Any]) -> dict[str, Any]:
    found = density(row["length_mm"], row["width_mm"], row["thickness_mm"], row["weighed_kg"])
    table = told_wood(t, row["wood"])
    return {**row, "made_at": row["made_at"].isoformat(), "density_kg_m3": None if found is None else round(found, 1), "table_kg_m3": table.density_kg_m3, "wood_name": table.name,
            "off_table": None if found is None else round(found / table.density_kg_m3 - 1, 3)}
