"""A neck with some of its numbers changed, for cures that are tried before they are offered."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from pydantic import ValidationError

from .numbers import Neck

Change = tuple[str, dict[str, Any]]  # in words; new values by path within the neck


def changed(neck: Neck, values: dict[str, Any]) -> Neck | None:
    """Return a neck with new values by path; None where they make none."""
    data = neck.model_dump(mode="json")
    for path, value in values.items():
        at, names = data, path.split(".")
        for name in names[:-1]:
            at = at[name]
        at[names[-1]] = value
    try:
        return Neck.model_validate(data)
    except ValidationError:
        return None


def first_that(neck: Neck, tried: Iterable[Change], helps: Callable[[Neck], bool]) -> Change | None:
    """Return the first change after which a neck is as it should be; None where none helps."""
    for words, values in tried:
        other = changed(neck, values)
        if other is not None and helps(other):
            return words, values
    return None
