"""Use cases of closer looks at a proof: one operation from inside, the result against the target. Made when asked for, by the worker that holds the proof."""

from __future__ import annotations

from ..core.errors import InputError
from ..jobs.proof_version import made_with
from ..jobs.queue import Queue
from ..jobs.tasks import INSIDE, TARGET
from ..store.database import Database


class Looks:
    """Closer looks by the hash of a document."""

    def __init__(self, database: Database, queue: Queue) -> None:
        self._database, self._queue = database, queue

    def find(self, digest: str, what: str) -> bytes | None:
        """Return a look, or queue it and return None.

        Args:
            what: "target", or "inside:" and an operation's id.

        Raises:
            InputError: no revision has this hash, or there is no such look.
        """
        with self._database.transaction() as t:
            row = t.maybe("look", hash=digest, what=what, made_with=made_with())
            if row is not None:
                return bytes(row["data"])
            found = t.maybe("document_by_hash", hash=digest)
            if found is None:
                raise InputError("There is no revision with this hash.", where="proof")
            if what != TARGET and not (what.startswith(INSIDE) and f'"{what.removeprefix(INSIDE)}"' in found["document"]):
                raise InputError("There is nothing of that name to look into.", where="what")
            self._queue.look(t, digest, what)
        return None
