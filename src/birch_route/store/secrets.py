"""Passwords of the private database: made once, kept where only the user who runs the shop can read them."""

from __future__ import annotations

import json
import os
import secrets
from pathlib import Path

FILE = "secret.json"


def passwords(folder: Path) -> dict[str, str] | None:
    """Return the passwords of the two roles, `owner` (makes and upgrades) and `shop` (the product's own), or None
    where none were made."""
    try:
        data = json.loads((folder / FILE).read_text())
    except (OSError, ValueError):
        return None
    return data if isinstance(data, dict) and {"owner", "shop"} <= set(data) else None


def make_passwords(folder: Path) -> dict[str, str]:
    """Make passwords and keep them in a file that only its owner may read."""
    made = {"owner": secrets.token_urlsafe(32), "shop": secrets.token_urlsafe(32)}
    path = folder / FILE
    path.unlink(missing_ok=True)
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as file:
        json.dump(made, file)
    return made
