"""How often somebody may try a sign-in link that is none: a few times a minute from one place."""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable

MOST, WITHIN_S, PLACES = 20, 60.0, 1000


class Tries:
    """Failed tries by place. now: a clock in seconds that only rises."""

    def __init__(self, now: Callable[[], float] = time.monotonic) -> None:
        self._now = now
        self._failed: dict[str, deque[float]] = {}

    def must_wait(self, place: str) -> bool:
        """Return whether a place failed so often lately that it is not heard."""
        tries = self._failed.get(place)
        while tries and self._now() - tries[0] >= WITHIN_S:
            tries.popleft()
        return tries is not None and len(tries) >= MOST

    def failed(self, place: str) -> None:
        """Note a failed try."""
        if place not in self._failed and len(self._failed) >= PLACES:
            self._failed.pop(next(iter(self._failed)))
        self._failed.setdefault(place, deque(maxlen=MOST)).append(self._now())
