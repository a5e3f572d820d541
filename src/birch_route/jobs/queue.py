"""The queue: proofs are made by a worker process, queued in the transaction that writes the revision."""

from __future__ import annotations

import procrastinate

from ..store.database import Database, Transaction

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
        self._app.configure_task("birch:prove", queue=LIVE, connection=transaction.connection, priority=SOON if soon else 0).defer(digest=digest)

    def look(self, transaction: Transaction, digest: str, what: str) -> None:
        """Queue a closer look at a proof."""
        self._app.configure_task("birch:look", queue=LIVE, connection=transaction.connection, priority=SOON).defer(digest=digest, what=what)

    def read_drawing(self, transaction: Transaction, upload: int, reading: int) -> None:
        """Queue the reading of a drawing."""
        self._app.configure_task("birch:read_drawing", queue=HEAVY, connection=transaction.connection).defer(upload=upload, reading=reading)

    def corners(self, transaction: Transaction, digest: str, attempt: int) -> None:
        """Queue the proof at the corners of the tolerance."""
        self._app.configure_task("birch:corners", queue=HEAVY, connection=transaction.connection).defer(digest=digest, attempt=attempt)


def ensure_schema(database: Database, url: str) -> None:
    """Apply the queue's own tables once."""
    with database.transaction() as t:
        t.do("lock_upkeep")
        if not t.one("has_table", name="procrastinate_jobs")["there"]:
            app = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=url, min_size=1, max_size=1))
            with app.open():
                app.schema_manager.apply_schema()
