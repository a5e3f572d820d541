"""Tables from outside, as CSV with a first line of columns."""

from __future__ import annotations

import csv
import io

from ..core.errors import InputError


def read_table(text: str) -> tuple[list[str], list[dict[str, str]]]:
    """Return the columns and the rows of CSV text; a field that a line lacks is empty, one too many is left out.

    Raises:
        InputError: a line that is no CSV, or a field longer than 131,072 letters; says which line.
    """
    rows = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    try:
        columns = list(rows.fieldnames or [])
        found = [{k: v or "" for k, v in row.items() if isinstance(k, str)} for row in rows]
    except csv.Error as exc:
        line = f"line {rows.line_num + 1}"
        raise InputError(f"{line.capitalize()} cannot be read as CSV: {exc}.", where=line) from exc
    bad = next((n for n, row in enumerate(found, 2) if any("\x00" in v for v in row.values())), None)
    if bad is not None:
        raise InputError(f"Line {bad} holds an empty character.", where=f"line {bad}")
    return columns, found
