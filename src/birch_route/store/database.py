"""The database: a pool, transactions, named queries. The only place that imports psycopg."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from importlib import resources
from typing import Any

import psycopg
import psycopg.sql
from psycopg.rows import dict_row
from psycopg.types.json import Json, Jsonb
from psycopg_pool import ConnectionPool, PoolTimeout

from ..core.errors import InputError, StoreError
from .named import Gives, queries

Row = dict[str, Any]
AWAY = "The database does not answer. It is being started again; nothing was lost. Try once more in a moment."


class Transaction:
    """Runs named queries inside one transaction."""

    def __init__(self, connection: psycopg.Connection[Row]) -> None:
        self.connection = connection

    def _run(self, name: str, gives: tuple[Gives, ...], values: Row) -> psycopg.Cursor[Row]:
        query = queries()[name]
        if query.gives not in gives:
            raise StoreError(f"Query {name} gives {query.gives.value}.")
        return self.connection.execute(query.sql, values)  # type: ignore[arg-type]

    def one(self, name: str, /, **values: Any) -> Row:
        """Return the one row of a query."""
        row = self._run(name, (Gives.ONE,), values).fetchone()
        if row is None:
            raise StoreError(f"Query {name} gave nothing.")
        return row

    def maybe(self, name: str, /, **values: Any) -> Row | None:
        """Return the row of a query, or None."""
        return self._run(name, (Gives.MAYBE,), values).fetchone()

    def all(self, name: str, /, **values: Any) -> list[Row]:
        """Return every row."""
        return self._run(name, (Gives.ALL,), values).fetchall()

    def do(self, name: str, /, **values: Any) -> int:
        """Run a query that gives nothing; return how many rows it touched."""
        return self._run(name, (Gives.NONE,), values).rowcount


class Database:
    """A pool of connections."""

    def __init__(self, url: str, most: int = 8) -> None:
        self.url = url
        self._pool: ConnectionPool[psycopg.Connection[Row]] = ConnectionPool(
            url, min_size=1, max_size=most, open=False, timeout=5, kwargs={"row_factory": dict_row}, check=ConnectionPool.check_connection)

    def open(self) -> None:
        """Connect.

        Raises:
            StoreError: there is no such database, or it does not let us in.
        """
        try:
            self._pool.open(wait=True, timeout=20)
        except PoolTimeout as exc:
            self._pool.close(timeout=2)
            raise StoreError("The database cannot be reached. Look at its address, name and password.") from exc

    def close(self) -> None:
        self._pool.close(timeout=2)

    @contextmanager
    def transaction(self) -> Iterator[Transaction]:
        """Open a transaction; it is rolled back if the block raises.

        Raises:
            StoreError: the database is away, or refuses.
            InputError: what was given is no text or number that can be kept.
        """
        try:
            with self._pool.connection() as connection:
                yield Transaction(connection)
        except (PoolTimeout, psycopg.OperationalError, psycopg.InterfaceError) as exc:
            raise StoreError(AWAY) from exc
        except (psycopg.DataError, UnicodeEncodeError) as exc:
            raise InputError("This holds a text or a number that cannot be kept. Type it anew.", where="value") from exc
        except psycopg.Error as exc:
            raise StoreError(f"The database refused this: {exc.diag.message_primary or exc}.", constraint=exc.diag.constraint_name) from exc


def json_value(data: Any) -> Json:
    """Wrap data for a json column, which keeps the text as it is."""
    return Json(data)


def jsonb_value(data: Any) -> Jsonb:
    """Wrap data for a jsonb column."""
    return Jsonb(data)


def migrate(database: Database) -> list[int]:
    """Apply the migrations that are missing, forward only, under a lock; return their numbers.

    Raises:
        StoreError: the data are of a newer program.
    """
    with database.transaction() as t:
        t.do("lock_upkeep")
        return apply_migrations(t)


def apply_migrations(t: Transaction, last: int | None = None) -> list[int]:
    """Apply what is missing up to a number, inside a transaction; return the numbers.

    Raises:
        StoreError: the data are of a newer program.
    """
    t.do("make_migration_table")
    known = {row["number"] for row in t.all("migrations")}
    newest = newest_migration()
    if max(known, default=0) > newest:
        raise StoreError(
            f"The data of this shop were made by a newer Birch Route (data {max(known)}, this program knows {newest}). "
            f"Update the program, or start it with a BIRCH_STATE_DIR of its own. Nothing was changed."
        )
    applied = []
    for number, name, text in _migrations():
        if number not in known and (last is None or number <= last):
            t.connection.execute(text)  # type: ignore[arg-type]
            t.do("add_migration", number=number, name=name)
            applied.append(number)
    return applied


def is_of_this_program(database: Database) -> None:
    """Refuse a database that another version of the program made, without changing it.

    Raises:
        StoreError: it is newer, older or no shop's.
    """
    with database.transaction() as t:
        there = t.one("has_table", name="migration")["there"]
        last = max((r["number"] for r in t.all("migrations")), default=0) if there else 0
    if last != newest_migration():
        raise StoreError(
            f"The shop's data are at {last or 'nothing'}, this program is at {newest_migration()}. Run the same "
            f"version of Birch Route here as where ./birch start runs, and start that one first."
        )


def newest_migration() -> int:
    """Return the number of the last migration this program knows."""
    return max(number for number, _, _ in _migrations())


def _migrations() -> list[tuple[int, str, str]]:
    out = []
    folder = resources.files("birch_route.store").joinpath("migrations")
    for entry in sorted(folder.iterdir(), key=lambda e: e.name):
        match = re.fullmatch(r"(\d{4})_([a-z_]+)\.sql", entry.name)
        if match:
            out.append((int(match[1]), match[2], entry.read_text("utf-8")))
    return out


def listen(url: str, channel: str, seconds: float) -> Iterator[str | None]:
    """Yield messages of a channel as they come, and None every `seconds` without one.

    Raises:
        StoreError: the connection is lost.
    """
    try:
        with psycopg.connect(url, autocommit=True) as connection:
            connection.execute(psycopg.sql.SQL("listen {}").format(psycopg.sql.Identifier(channel)))
            while True:
                heard = False
                for note in connection.notifies(timeout=seconds, stop_after=1):
                    heard = True
                    yield note.payload
                if not heard:
                    yield None
    except psycopg.Error as exc:
        raise StoreError(AWAY) from exc
