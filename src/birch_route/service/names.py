"""Ids made from names that people type."""

from __future__ import annotations

from collections.abc import Callable


def free_id(name: str, taken: Callable[[str], bool], otherwise: str, before: str = "") -> str:
    """Return an id made from a name that nothing has yet. otherwise: where the name has no letter; before: of each."""
    slug = "_".join("".join(c if c.isascii() and c.isalnum() else " " for c in name.lower()).split())[:30] or otherwise
    number, id_ = 1, f"{before}{slug}"
    while taken(id_):
        number += 1
        id_ = f"{before}{slug}_{number}"
    return id_
