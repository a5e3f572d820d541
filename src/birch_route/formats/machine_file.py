"""A machine as a file: JSON, `birch-machine/1`, with its dialect and how each figure is known."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from ..core.errors import InputError
from ..core.machines import Machine
from .json_text import read_json

SCHEMA = "birch-machine/1"
LARGEST_BYTES = 200_000


def machine_to_text(machine: Machine) -> str:
    """Return a machine as the text of a file."""
    data = {"schema": SCHEMA, "machine": machine.model_dump(mode="json")}
    return json.dumps(data, indent=1, ensure_ascii=False) + "\n"


def machine_from_text(raw: bytes | str, name: str = "The file") -> Machine:
    """Read a machine's file.

    Raises:
        InputError: not JSON, not of this schema, or a figure that cannot be read; where names line or figure.
    """
    data = read_json(raw, name)
    if not isinstance(data, dict) or data.get("schema") != SCHEMA:
        said = data.get("schema") if isinstance(data, dict) else None
        has = f"It says “{str(said)[:40]}”." if said else "It says nothing of what it is."
        raise InputError(f"{name} is no machine's file: {SCHEMA} must stand in it. {has}", where="schema")
    return read_machine(data.get("machine"))


def read_machine(data: Any) -> Machine:
    """Return a machine from data.

    Raises:
        InputError: a figure that cannot be read, the first named.
    """
    try:
        return Machine.model_validate(data)
    except ValidationError as exc:
        first = exc.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "machine"
        got = first.get("input")
        shown = f" There stands {got!r}." if isinstance(got, int | float | str) else ""
        raise InputError(f"{where}: {first['msg']}.{shown}"[:300], where=where) from exc
