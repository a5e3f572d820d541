"""Two tiers: `./birch test` runs a sample of what takes long, `./birch test --long` all of it."""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import TypeVar

T = TypeVar("T")
LONG = os.environ.get("BIRCH_TESTS") == "long"


def sample(cases: Iterable[T], few: int) -> list[T]:
    """Return all cases in the long tier, else a few spread evenly from the first to the last."""
    every = list(cases)
    if LONG or len(every) <= few:
        return every
    return [every[round(k * (len(every) - 1) / max(few - 1, 1))] for k in range(few)]
