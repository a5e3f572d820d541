"""Cures that change a neck's numbers."""

from __future__ import annotations

from ..neck.changed import Change
from .findings import Cure
from .registry import set_edit


def neck_cure(found: Change | None) -> list[Cure]:
    """Return the cure that a change of a neck's numbers is; none where there is none."""
    if found is None:
        return []
    words, values = found
    return [Cure(sentence=words, edits=[set_edit(f"piece.neck.{k}", v) for k, v in values.items()])]
