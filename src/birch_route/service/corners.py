"""Use cases of the proof at the corners of the tolerance: ask for it, how far it is, stop it."""

from __future__ import annotations

from ..core.errors import InputError
from ..jobs.proof_version import made_with
from ..jobs.queue import Queue
from ..store.database import Database, Row


class CornersOfRoutes:
    """Corners by the hash of a document; the same hash is computed once."""

    def __init__(self, database: Database, queue: Queue) -> None:
        self._database, self._queue = database, queue

    def ask(self, digest: str) -> Row:
        """Queue the corners of a document, unless they are there or on the way, and return how far they are.

        Raises:
            InputError: no revision has this hash.
        """
        with self._database.transaction() as t:
            if t.maybe("document_by_hash", hash=digest) is None:
                raise InputError("There is no revision with this hash.", where="proof")
            row = t.maybe("ask_corners", hash=digest, made_with=made_with())
            if row is not None:
                self._queue.corners(t, digest, row["attempt"])
            state = t.maybe("corners_state", hash=digest, made_with=made_with())
            assert state is not None  # just asked
            return state

    def state(self, digest: str) -> Row | None:
        """Return how far they are with the result as JSON text; None where nobody asked."""
        with self._database.transaction() as t:
            return t.maybe("corners_state", hash=digest, made_with=made_with())

    def stop(self, digest: str) -> None:
        """Stop them."""
        with self._database.transaction() as t:
            t.do("stop_corners", hash=digest)
