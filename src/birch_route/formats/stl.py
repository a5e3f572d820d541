"""Surfaces from STL files, binary or text. The file says nothing of its unit: the caller does."""

from __future__ import annotations

import re

import numpy as np

from ..core.errors import InputError

LARGEST_STL_BYTES = 100_000_000
MOST_TRIANGLES = 1_500_000
_RECORD = np.dtype([("normal", "<f4", 3), ("points", "<f4", (3, 3)), ("extra", "<u2")])
_VERTEX = re.compile(rb"vertex\s+(\S+)\s+(\S+)\s+(\S+)")


def read_stl(data: bytes, name: str) -> np.ndarray:
    """Return the triangles of an STL file, float64 [n, 3, 3], in its own unit.

    Raises:
        InputError: not such a file, empty, broken off, or with too many triangles; says which.
    """
    if len(data) > LARGEST_STL_BYTES:
        raise InputError(f"{name} is larger than {LARGEST_STL_BYTES // 1_000_000} MB. Save the surface with fewer triangles.", where=name)
    if data[:5].lower() == b"solid" and b"facet" in data[:2000]:
        triangles = _text(data, name)
    else:
        triangles = _binary(data, name)
    if not len(triangles):
        raise InputError(f"{name} holds no triangle.", where=name)
    if len(triangles) > MOST_TRIANGLES:
        raise InputError(f"{name} has {len(triangles)} triangles; {MOST_TRIANGLES} are read. Save it coarser: a tenth of a millimetre is enough.", where=name)
    if not np.isfinite(triangles).all() or np.abs(triangles).max() > 1e6:
        raise InputError(f"{name} has points that are no places.", where=name)
    return triangles


def _binary(data: bytes, name: str) -> np.ndarray:
    if len(data) < 84:
        raise InputError(f"{name} is no STL file: it is too short.", where=name)
    count = int.from_bytes(data[80:84], "little")
    if len(data) < 84 + count * _RECORD.itemsize:
        raise InputError(f"{name} is no STL file, or it is broken off: it speaks of {count} triangles and has room for {(len(data) - 84) // _RECORD.itemsize}.", where=name)
    return np.frombuffer(data, _RECORD, count, 84)["points"].astype(np.float64)


def _text(data: bytes, name: str) -> np.ndarray:
    found = _VERTEX.findall(data)
    if len(found) % 3:
        raise InputError(f"{name} is broken off: its last triangle has {len(found) % 3} corners.", where=name)
    try:
        return np.array(found, dtype="S32").astype(np.float64).reshape(-1, 3, 3)
    except ValueError as exc:
        raise InputError(f"{name} has a corner whose numbers cannot be read.", where=name) from exc


def write_stl(triangles: np.ndarray, name: str = "surface") -> bytes:
    """Return triangles [n, 3, 3] as a binary STL file."""
    records = np.zeros(len(triangles), _RECORD)
    records["points"] = triangles
    return name.encode()[:80].ljust(80, b" ") + len(triangles).to_bytes(4, "little") + records.tobytes()
