"""The queue: proofs are made by a worker process, queued in the transaction that writes the revision."""

from __future__ import annotations

from typing import Any

import procrastinate

from ..core.errors import StoreError
from ..store.database import AWAY, Database, Transaction

LIVE, HEAVY = "live", "heavy"
QUEUES = (LIVE, HEAVY)
SOON = 10


def make_app(url: str) -> procrastinate.App:
    """Return the queue's application over a database."""
    from . import tasks

    app = procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=url))
    app.add_tasks_from(tasks.blueprint, namespace="birch")
    return app


class Queue:
    """Defers proofs from inside a transaction."""

    def __init__(self, url: str) -> None:
        self._app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=url, min_size=1, max_size=2))

    def open(self) -> None:
        self._app.open()

    def close(self) -> None:
        self._app.close()

    def prove(self, transaction: Transaction, digest: str, soon: bool = False) -> None:
        """Queue the proof of a document; the job exists only if the transaction is committed. soon: somebody waits for it, before what nobody has open."""
        self._defer(transaction, "prove", LIVE, SOON if soon else 0, digest=digest)

    def look(self, transaction: Transaction, digest: str, what: str) -> None:
        """Queue a closer look at a proof."""
        self._defer(transaction, "look", LIVE, SOON, digest=digest, what=what)

    def read_drawing(self, transaction: Transaction, upload: int, reading: int) -> None:
        """Queue the reading of a drawing."""
        self._defer(transaction, "read_drawing", HEAVY, 0, upload=upload, reading=reading)

    def corners(self, transaction: Transaction, digest: str, attempt: int) -> None:
        """Queue the proof at the corners of the tolerance."""
        self._defer(transaction, "corners", HEAVY, 0, digest=digest, attempt=attempt)

    def _defer(self, transaction: Transaction, task: str, queue: str, priority: int, **given: Any) -> None:
        """Queue a task with the transaction it belongs to.

        Raises:
            StoreError: the queue's tables cannot be reached.
        """
        try:
            self._app.configure_task(
                f"birch:{task}", queue=queue, connection=transaction.connection, priority=priority
            ).defer(**given)
        except procrastinate.exceptions.ProcrastinateException as exc:
            raise StoreError(AWAY) from exc


def ensure_schema(database: Database, url: str) -> None:
    """Apply the queue's own tables once."""
    with database.transaction() as t:
        t.do("lock_upkeep")
        if not t.one("has_table", name="procrastinate_jobs")["there"]:
            app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=url, min_size=1, max_size=1))
            with app.open():
                app.schema_manager.apply_schema()
