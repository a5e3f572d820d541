"""Edits: small commands that make the next revision of a route. The same ones serve screen, API, command line and
cures."""

from __future__ import annotations

from typing import Annotated, Any, Union

from pydantic import Field, TypeAdapter, ValidationError

from ..errors import InputError
from . import (  # noqa: F401  (they register)
    bench,
    contours,
    controls,
    drawing,
    fields,
    operations,
    parts,
    setups,
    several,
)
from .apply import apply_edits
from .base import REGISTRY, Edit

__all__ = ["REGISTRY", "Edit", "apply_edits", "describe", "read_edit"]

_ANY: Any = Annotated[Union[tuple(REGISTRY.values())], Field(discriminator="do")]  # noqa: UP007
_EDITS: TypeAdapter[Any] = TypeAdapter(_ANY)


def read_edit(data: object) -> Any:
    """Check an edit.

    Raises:
        InputError: unknown or malformed.
    """
    try:
        return _EDITS.validate_python(data)
    except ValidationError as exc:
        first = exc.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise InputError(f"This edit cannot be used: {first['msg']} at {where}.", where="edit") from exc


def describe(edit: Edit) -> str:
    """Return what an edit does, in words for the history."""
    return edit.words()
