"""A whole shop in one file, and back: every table as PostgreSQL's own copy text, with counts and hashes.

The file is a zip, `birch-backup/1`: manifest.json and tables/NAME.copy. What is made again from the rest (proofs,
looks, corners, plans of clearing), sessions, sign-in links and the queue are left out. It is read from one snapshot,
so a shop at work can be backed up.
"""

from __future__ import annotations

import hashlib
import json
import os
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO, Any

from psycopg.sql import SQL, Identifier

from ..core.errors import InputError, StoreError
from .database import Database, Transaction, apply_migrations, newest_migration

SCHEMA = "birch-backup/1"
MADE_AGAIN = {"proof", "proof_view", "corners", "clearing_plans", "looks"}
NOT_KEPT = MADE_AGAIN | {"session", "sign_in_link", "migration"}
QUEUE = "procrastinate"
PIECE = 1 << 20


@dataclass(frozen=True)
class Table:
    """A table of a backup: its columns in order, how many rows, and the hash of its text."""

    name: str
    columns: list[str]
    rows: int
    sha256: str


@dataclass(frozen=True)
class Manifest:
    """What a backup says of itself. migration: the last that its data has."""

    made_at: str
    migration: int
    tables: list[Table]

    @property
    def rows(self) -> int:
        return sum(t.rows for t in self.tables)


def back_up(database: Database, path: Path) -> Manifest:
    """Write a backup; the file is there whole or not at all, and was read back once.

    Raises:
        StoreError: the database is away, the disk is full, or what was written reads otherwise.
    """
    unfinished = path.with_name(path.name + ".unfinished")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with database.transaction() as t, zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED) as out:
            t.connection.execute("set transaction isolation level repeatable read, read only")
            tables = [_write(t, out, name, columns) for name, columns in _tables(t)]
            migration = max((r["number"] for r in t.all("migrations")), default=0)
            manifest = Manifest(datetime.now(UTC).isoformat(timespec="seconds"), migration, tables)
            out.writestr("manifest.json", json.dumps(_data(manifest), indent=1))
        read_manifest(unfinished)
        unfinished.chmod(0o600)  # all of the shop is in it
        os.replace(unfinished, path)
    except OSError as exc:
        raise StoreError(f"The backup could not be written to {path}: {exc.strerror or exc}.") from exc
    finally:
        unfinished.unlink(missing_ok=True)
    return manifest


def restore(database: Database, path: Path) -> Manifest:
    """Put a backup into an empty database, upgrade it, and compare every table with what the backup says.

    Raises:
        InputError: the file is broken or newer than this program; StoreError: the database is not empty.
    """
    manifest = read_manifest(path)
    if manifest.migration > newest_migration():
        raise InputError(
            f"{path.name} was made by a newer Birch Route (data {manifest.migration}, this program knows "
            f"{newest_migration()}). Update the program, then restore.",
            where=str(path),
        )
    with zipfile.ZipFile(path) as file, database.transaction() as t:
        t.do("lock_upkeep")
        _refuse_at_work(t)
        _clear_if_empty(t)
        apply_migrations(t, manifest.migration)
        order = [name for name, _ in _tables(t)]
        known = {table.name: table for table in manifest.tables}
        if set(known) - set(order):
            raise InputError(f"{path.name} holds tables nobody knows: {', '.join(sorted(set(known) - set(order)))}.")
        for name in order:
            if name in known:
                _read(t, file, known[name])
        _set_counters(t)
        for name, columns in _tables(t):
            sha, rows = hashlib.sha256(), 0
            for piece in _pieces(t, name, columns):
                sha.update(piece)
                rows += piece.count(b"\n")
            there = known.get(name)
            if there is not None and (rows, sha.hexdigest()) != (there.rows, there.sha256):
                raise StoreError(f"Table {name} came out otherwise than it was saved. Nothing was restored.")
        apply_migrations(t)
    return manifest


def read_manifest(path: Path) -> Manifest:
    """Return what a backup says of itself, after its tables were found whole.

    Raises:
        InputError: not a backup, cut short, or a table that differs from its hash.
    """
    try:
        with zipfile.ZipFile(path) as file:
            data = json.loads(file.read("manifest.json"))
            if data.get("schema") != SCHEMA:
                raise InputError(f"{path.name} is no backup of Birch Route ({SCHEMA}).", where=str(path))
            tables = [Table(**t) for t in data["tables"]]
            for table in tables:
                _check(file, table)
            return Manifest(data["made_at"], int(data["migration"]), tables)
    except FileNotFoundError as exc:
        raise InputError(f"There is no file {path}.", where=str(path)) from exc
    except (zipfile.BadZipFile, KeyError, TypeError, ValueError, EOFError, OSError, AttributeError) as exc:
        raise InputError(
            f"{path.name} cannot be read as a backup: it was cut short or changed. Take another one.", where=str(path)
        ) from exc


def _check(file: zipfile.ZipFile, table: Table) -> None:
    sha, rows = hashlib.sha256(), 0
    with file.open(_member(table.name)) as held:
        for piece in _parts(held):
            sha.update(piece)
            rows += piece.count(b"\n")
    if (rows, sha.hexdigest()) != (table.rows, table.sha256):
        raise InputError(
            f"Table {table.name} of the backup is not what was saved: {rows} rows, {table.rows} were. Take another.",
            where=table.name,
        )


def _tables(t: Transaction) -> list[tuple[str, list[str]]]:
    """Return the tables that are kept with their columns, those that others refer to first."""
    columns: dict[str, list[str]] = {}
    for row in t.all("table_columns"):
        if row["name"] not in NOT_KEPT and not row["name"].startswith(QUEUE):
            columns.setdefault(row["name"], []).append(row["column_name"])
    needs = {name: set[str]() for name in columns}
    for row in t.all("table_references"):
        if row["name"] in needs and row["refers_to"] in needs and row["name"] != row["refers_to"]:
            needs[row["name"]].add(row["refers_to"])
    order: list[str] = []
    while len(order) < len(needs):
        free = sorted(n for n in needs if n not in order and needs[n] <= set(order))
        if not free:
            raise StoreError("Tables refer to each other in a circle; a backup cannot put them in order.")
        order += free
    return [(name, columns[name]) for name in order]


def _pieces(t: Transaction, name: str, columns: list[str]) -> Iterator[bytes]:
    keys = [r["column_name"] for r in t.all("table_keys", name=name)] or columns[:1]
    listed, by = SQL(", ").join(map(Identifier, columns)), SQL(", ").join(map(Identifier, keys))
    query = SQL("copy (select {} from {} order by {}) to stdout").format(listed, Identifier(name), by)
    with t.connection.cursor().copy(query) as copy:
        for piece in copy:
            yield bytes(piece)


def _write(t: Transaction, out: zipfile.ZipFile, name: str, columns: list[str]) -> Table:
    sha, rows = hashlib.sha256(), 0
    with out.open(_member(name), "w", force_zip64=True) as held:
        for piece in _pieces(t, name, columns):
            sha.update(piece)
            rows += piece.count(b"\n")
            held.write(piece)
    return Table(name, columns, rows, sha.hexdigest())


def _read(t: Transaction, file: zipfile.ZipFile, table: Table) -> None:
    listed = SQL(", ").join(map(Identifier, table.columns))
    query = SQL("copy {} ({}) from stdin").format(Identifier(table.name), listed)
    with file.open(_member(table.name)) as held, t.connection.cursor().copy(query) as copy:
        for piece in _parts(held):
            copy.write(piece)


def _clear_if_empty(t: Transaction) -> None:
    """Take away the tables of a database that holds nothing yet.

    Raises:
        StoreError: something is in it.
    """
    for name, _ in _tables(t):
        found = t.connection.execute(SQL("select exists (select from {}) as there").format(Identifier(name))).fetchone()
        if found and found["there"]:
            raise StoreError(
                f"This shop is not empty: table {name} has rows. A backup is restored into an empty one only; start "
                f"with another BIRCH_STATE_DIR, or move the old one away."
            )
    names = {r["name"] for r in t.all("table_columns") if not r["name"].startswith(QUEUE)}
    for name in sorted(names):
        t.connection.execute(SQL("drop table if exists {} cascade").format(Identifier(name)))


def _refuse_at_work(t: Transaction) -> None:
    """Raise StoreError where workers are at work on the database."""
    if t.one("has_table", name="procrastinate_workers")["there"] and t.one("workers_alive", seconds=30)["count"]:
        raise StoreError("Birch Route works on this database. Stop it everywhere, wait half a minute, then restore.")


def _set_counters(t: Transaction) -> None:
    for row in t.all("table_counters"):
        table, column = Identifier(row["name"]), Identifier(row["column_name"])
        query = SQL("select setval(%s, coalesce(max({}), 1), max({}) is not null) from {}")
        t.connection.execute(query.format(column, column, table), [row["counter"]])


def _member(name: str) -> str:
    return f"tables/{name}.copy"


def _parts(held: IO[bytes]) -> Iterator[bytes]:
    while piece := held.read(PIECE):
        yield piece


def _data(manifest: Manifest) -> dict[str, Any]:
    tables = [{"name": t.name, "columns": t.columns, "rows": t.rows, "sha256": t.sha256} for t in manifest.tables]
    return {"schema": SCHEMA, "made_at": manifest.made_at, "migration": manifest.migration, "tables": tables}
