"""The route file, *.birch.json: complete, so that the import of an export is identical."""

from __future__ import annotations

import json
import os
import tempfile
from pathlib import Path
from typing import Any

from ..core.errors import InputError, StoreError
from ..core.route import Route, read_route
from .json_text import read_json

LARGEST_BYTES = 8_000_000


def route_to_text(route: Route) -> str:
    """Return the route as the text of its file."""
    return json.dumps(route.model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


def route_from_text(text: str | bytes, name: str = "file") -> Route:
    """Read a route file.

    Raises:
        InputError: too large, not text, cut short, not JSON, of another kind, or wrong in a field; says where.
    """
    if len(text) > LARGEST_BYTES:
        raise InputError(f"{name} is larger than {LARGEST_BYTES // 1_000_000} MB; a route file never is.", where=name)
    data: Any = read_json(text, name)
    if not isinstance(data, dict) or not str(data.get("schema", "")).startswith("birch-route/"):
        raise InputError(f"{name} is not a route file: its “schema” should say birch-route/1.", where=name)
    return read_route(data, name)


def write_safely(path: Path, data: bytes) -> None:
    """Write a file whole or not at all.

    Raises:
        StoreError: the disk is full or the folder cannot be written; the old file stays as it was.
    """
    temporary = None
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=path.parent, delete=False) as handle:
            temporary = handle.name
            handle.write(data)
            handle.flush()
            os.fsync(handle.fileno())
        os.chmod(temporary, 0o644)
        os.replace(temporary, path)
        temporary = None
    except OSError as exc:
        raise StoreError(f"{path.name} could not be written: {exc.strerror or exc}. Nothing was changed.", where=str(path)) from exc
    finally:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)
