"""Memory that was freed goes back to the machine: without it a worker stays as large as its largest proof has been."""

from __future__ import annotations

import ctypes

_LIBRARY = ctypes.CDLL(None)


def give_back() -> bool:
    """Return freed memory to the machine, some milliseconds; False where the C library has no way to."""
    trim = getattr(_LIBRARY, "malloc_trim", None)
    if trim is None:
        return False
    trim(0)
    return True
