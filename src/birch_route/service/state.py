"""Where this installation keeps its state, and how it finds its database."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path


def project_root() -> Path:
    """Return the folder of the checkout."""
    return Path(__file__).resolve().parents[3]


def state_folder() -> Path:
    """Return the folder for database and logs: BIRCH_STATE_DIR, else .birch in the checkout, else, where the database's
    user could not reach that, a folder under the system's place for lasting temporary files."""
    given = os.environ.get("BIRCH_STATE_DIR")
    if given:
        return Path(given).resolve()
    inside = project_root() / ".birch"
    if os.geteuid() != 0 or _others_may_pass(inside):
        return inside
    name = hashlib.sha256(str(project_root()).encode()).hexdigest()[:12]
    return Path("/var") / "tmp" / f"birch-route-{name}"


def _others_may_pass(folder: Path) -> bool:
    return all(parent.stat().st_mode & 0o001 for parent in folder.parents)
