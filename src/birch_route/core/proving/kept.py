"""A store of the newest things that were computed, bounded in number and in bytes."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import fields, is_dataclass
from threading import Lock
from typing import Any

import numpy as np

DEEP = 4  # how far into lists and data classes arrays are looked for
SMALL = 200  # bytes of whatever is no array


def bytes_of(value: Any, deep: int = DEEP) -> int:
    """Return about how many bytes a value holds: its arrays, and a little for the rest. What is shared counts twice."""
    if isinstance(value, np.ndarray):
        return int(value.nbytes)
    if deep == 0:
        return SMALL
    if isinstance(value, list | tuple):
        return SMALL + sum(bytes_of(v, deep - 1) for v in value)
    if isinstance(value, dict):
        return SMALL + sum(bytes_of(v, deep - 1) for v in value.values())
    if is_dataclass(value) and not isinstance(value, type):
        return SMALL + sum(bytes_of(getattr(value, f.name), deep - 1) for f in fields(value))
    return SMALL


class Kept:
    """The newest entries, by key; those asked for last stay longest.

    Args:
        most: entries. most_bytes: of all of them together; the newest stays even where it alone is larger.
    """

    def __init__(self, most: int, most_bytes: int) -> None:
        self.most, self.most_bytes = most, most_bytes
        self._lock = Lock()
        self._found: OrderedDict[str, tuple[Any, int]] = OrderedDict()
        self.held_bytes = 0
        self.hits = 0

    def __len__(self) -> int:
        return len(self._found)

    def get(self, key: str, make: Callable[[], Any]) -> Any:
        """Return what is kept of a key, or make it; two that ask at once may both make it."""
        with self._lock:
            if key in self._found:
                self._found.move_to_end(key)
                self.hits += 1
                return self._found[key][0]
        value = make()
        size = bytes_of(value)
        with self._lock:
            self.held_bytes += size - self._found.pop(key, (None, 0))[1]
            self._found[key] = (value, size)
            while len(self._found) > 1 and (len(self._found) > self.most or self.held_bytes > self.most_bytes):
                self.held_bytes -= self._found.popitem(last=False)[1][1]
        return value
