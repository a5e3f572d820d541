"""Memory of a worker: freed memory goes back to the machine, and what is kept of earlier proofs is forgotten before it
is too much."""

from __future__ import annotations

import ctypes
import resource
import sys
from collections import deque
from pathlib import Path

_LIBRARY = ctypes.CDLL(None)
_CORE = "birch_route.core."
_KEPT = ("_kept", "_newest")  # what modules of the core call what they keep


def give_back() -> bool:
    """Return freed memory to the machine, some milliseconds; False where the C library has no way to."""
    trim = getattr(_LIBRARY, "malloc_trim", None)
    if trim is None:
        return False
    trim(0)
    return True


def held_bytes() -> int:
    """Return how much memory this process holds; 0 where the machine does not say."""
    try:
        return int(Path("/proc/self/statm").read_text(encoding="ascii").split()[1]) * resource.getpagesize()
    except (OSError, ValueError, IndexError):
        return 0


def forget() -> None:
    """Forget what the core keeps of earlier routes; the next proof computes it anew."""
    for name, module in list(sys.modules.items()):
        if not name.startswith(_CORE):
            continue
        for called, value in list(vars(module).items()):
            if called in _KEPT and isinstance(value, dict | deque):
                value.clear()
            elif hasattr(value, "cache_clear") and getattr(value, "__module__", "") == name:
                value.cache_clear()
