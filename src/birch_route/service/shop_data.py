"""Which database a command without a server works on: the shop's own, or the one BIRCH_DATABASE_URL names."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from ..core.errors import ConflictError
from ..store.database import Database, migrate
from ..store.server import PrivateServer
from .state import state_folder


def backup_folder() -> Path:
    """Return where backups are kept: BIRCH_BACKUP_DIR, else beside the database."""
    given = os.environ.get("BIRCH_BACKUP_DIR")
    return Path(given).resolve() if given else state_folder().with_name(state_folder().name + "-backups")


@contextmanager
def shop_database() -> Iterator[Database]:
    """Open the shop's database; where nothing runs, its server is started and stopped again."""
    with _opened(may_run=True) as database:
        migrate(database)
        yield database


@contextmanager
def empty_shop() -> Iterator[Database]:
    """Open the database that a backup goes into.

    Raises:
        ConflictError: Birch Route runs on it.
    """
    with _opened(may_run=False) as database:
        yield database


@contextmanager
def _opened(*, may_run: bool) -> Iterator[Database]:
    url = os.environ.get("BIRCH_DATABASE_URL")
    private = None if url else PrivateServer(state_folder())
    ours = private is not None and not private.is_alive()
    if private and not ours and not may_run:
        raise ConflictError("Birch Route runs on this shop. Stop it with Ctrl-C, then restore.", where="server")
    if private:
        private.start()
    database = Database(url or private.url, most=2)  # type: ignore[union-attr]
    try:
        database.open()
        yield database
    finally:
        database.close()
        if private and ours:
            private.stop()
