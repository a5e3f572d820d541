"""Named queries from .sql files: each has a name, a shape of result and a description, or loading fails."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources

from ..core.errors import StoreError


class Gives(StrEnum):
    """How many rows a query gives."""

    ONE = "one"
    MAYBE = "maybe"
    ALL = "all"
    NONE = "none"


@dataclass(frozen=True)
class Query:
    name: str
    gives: Gives
    says: str
    sql: str
    file: str


_HEAD = re.compile(r"^-- name: ([a-z_]+) -> (one|maybe|all|none)$")


def parse_queries(text: str, file: str) -> list[Query]:
    """Read the queries of one file.

    Raises:
        StoreError: a bad header, a missing description, or more than one statement under a name.
    """
    found: list[Query] = []
    for block in re.split(r"(?m)^(?=-- name:)", text):
        if not block.strip():
            continue
        lines = block.strip().splitlines()
        head = _HEAD.match(lines[0])
        if head is None:
            raise StoreError(f"{file}: “{lines[0]}” is not a query header.")
        says = [line[3:] for line in lines[1:] if line.startswith("-- ")]
        sql = "\n".join(line for line in lines[1:] if not line.startswith("--")).strip()
        if not says:
            raise StoreError(f"{file}: {head[1]} has no description.")
        if sql.count(";") != 1 or not sql.endswith(";"):
            raise StoreError(f"{file}: {head[1]} must be one statement ending in a semicolon.")
        found.append(Query(head[1], Gives(head[2]), " ".join(says), sql.rstrip(";"), file))
    return found


@cache
def queries() -> dict[str, Query]:
    """Return every query by name.

    Raises:
        StoreError: a name that stands twice.
    """
    out: dict[str, Query] = {}
    folder = resources.files("birch_route.store").joinpath("queries")
    for entry in sorted(folder.iterdir(), key=lambda e: e.name):
        if entry.name.endswith(".sql"):
            for query in parse_queries(entry.read_text("utf-8"), entry.name):
                if query.name in out:
                    raise StoreError(f"Query {query.name} stands in {out[query.name].file} and in {query.file}.")
                out[query.name] = query
    return out
