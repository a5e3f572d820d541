"""Use cases over routes: create, edit, undo, redo, history. Revisions are never overwritten; nothing is lost."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from typing import Any

from ..core.edits import apply_edits, describe, read_edit
from ..core.errors import ConflictError, InfeasibleError, InputError
from ..core.instrument.moves import Moved, what_moved
from ..core.instrument.parts import as_told
from ..core.instrument.resolve import resolve
from ..core.materials.own import offered, settled
from ..core.route import Route, content_hash, read_route
from ..core.variants import variant_route
from ..jobs.proof_version import made_with
from ..jobs.queue import Queue
from ..store.database import Database, Row, Transaction, json_value, jsonb_value
from .woods import own_woods, shop_woods

MOST_SAID = 300  # letters of the words of a revision


@dataclass(frozen=True)
class Revision:
    """One revision with its document, as the JSON text that is stored."""

    route_id: int
    number: int
    state: int
    redo: list[int]
    text: str
    hash: str
    what: str
    author: str
    made_at: str
    moved: tuple[Moved, ...] = ()  # what the edit that made it moved; known only to who made it

    @property
    def document(self) -> dict[str, Any]:
        return json.loads(self.text)

    @staticmethod
    def of(row: Row) -> Revision:
        return Revision(row["route"], row["number"], row["state"], row["redo"], row["document"], row["hash"], row["what"], row["author"],
                        row["made_at"].isoformat())


class Routes:
    """Routes and their revisions."""

    def __init__(self, database: Database, queue: Queue) -> None:
        self._database, self._queue = database, queue

    def create(self, route: Route, author: str, what: str = "New route", *, tied: bool = False) -> Revision:
        """Keep a new job with one route; its proof is queued in the same transaction. tied: it is a trial of another
        route here; a copy of one, or one from a file, stands for itself."""
        if not tied:
            route = route.model_copy(update={"twin": None})
        resolve(route)
        with self._database.transaction() as t:
            route = settled(route, route, own_woods(t))
            job = t.one("add_job", name=route.job, note=route.note)["id"]
            route_id = t.one("add_route", job=job)["id"]
            if route.twin is not None:
                t.do("tie_twin", route=route_id, of_route=route.twin.of_route)
            return self._keep(t, route_id, 1, 1, [], route, [], what, author, None)

    def bring_in(self, route: Route, author: str, *, measured_here: bool = False) -> Revision:
        """Keep a route file as a new job. Readings of a file that is none of this shop's own are told, not measured,
        unless somebody says that they were taken here.

        Raises:
            GeometryError, InputError: it cannot be made into geometry.
        """
        with self._database.transaction() as t:
            own = measured_here or t.maybe("document_by_hash", hash=content_hash(route)) is not None
        if not own:
            here = [m.model_copy(update={"went_well": 0}) for m in route.materials]  # cut well elsewhere
            route = route.model_copy(update={"parts": as_told(route.parts), "materials": here})
        return self.create(route, author, "Imported")

    def latest(self, route_id: int) -> Revision:
        """Return the newest revision.

        Raises:
            InputError: there is no such route.
        """
        with self._database.transaction() as t:
            return Revision.of(_found(t.maybe("latest_revision", route=route_id), route_id))

    def report(self, route_id: int) -> dict[str, Any] | None:
        """Return the report of the newest revision's proof, or None while there is none."""
        newest = self.latest(route_id)
        with self._database.transaction() as t:
            proof = t.maybe("proof", hash=newest.hash, made_with=made_with())
        return None if proof is None else json.loads(proof["report"])

    def varied(self, route_id: int, variant: str) -> Route:
        """Return the newest document, or that of one of its variants by id.

        Raises:
            InputError: no such route or variant, or a variant that cannot be.
        """
        route = read_route(self.latest(route_id).document)
        if not variant:
            return route
        found = next((v for v in route.variants if v.id == variant), None)
        if found is None:
            raise InputError(f"This route has no variant {variant}.", where="variant")
        varied = variant_route(route, found)
        return varied.model_copy(update={"job": f"{route.job}, {found.name}"[:80], "variants": []})

    def edit(self, route_id: int, on_revision: int, edits: list[dict[str, Any]], author: str, reason: str = "") -> Revision:
        """Apply edits made on a revision; the newest must still be that one.

        Raises:
            ConflictError: somebody was first; both versions are in its facts.
            InputError: an edit that cannot be used.
        """
        read = [read_edit(e) for e in edits]
        if not read:
            raise InputError("There is nothing to change in this edit.", where="edits")
        with self._database.transaction() as t:
            now = self._lock(t, route_id, on_revision, edits)
            earlier = read_route(now.document)
            shop = shop_woods(t)
            route = settled(apply_edits(offered(earlier, shop.values()), read), earlier, shop)
            moved = tuple(what_moved(resolve(earlier), resolve(route)))
            what = reason.strip() or _said([describe(e) for e in read])
            if content_hash(route) == now.hash:
                return now
            made = self._keep(t, route_id, now.number + 1, now.number + 1, [], route, edits, what, author, now.state)
        return replace(made, moved=moved)

    def replace(self, route_id: int, on_revision: int, route: Route, author: str, what: str) -> Revision:
        """Make a whole document the next revision (an import, or a version chosen after a conflict)."""
        resolve(route)
        with self._database.transaction() as t:
            now = self._lock(t, route_id, on_revision, [])
            return self._keep(t, route_id, now.number + 1, now.number + 1, [], route, [], what, author, now.state)

    def copy_of(
        self, route_id: int, author: str, *, name: str | None = None, with_readings: bool = False
    ) -> Revision:
        """Return a new job like another.

        Args:
            name: None: the other's, with a word. with_readings: they come along, because the parts are the same ones;
                else none does: another's caliper proves nothing about your parts.
        """
        route = read_route(self.latest(route_id).document)
        parts = route.parts if with_readings else [p.model_copy(update={"readings": []}) for p in route.parts]
        said = f"Like {route.job}" + (", with its readings." if with_readings else "; measure your own parts.")
        new = {"job": (name or "").strip() or f"{route.job[:70]}, new", "parts": parts, "note": said}
        return self.create(route.model_copy(update=new), author, f"New, like {route.job}")

    def back(self, route_id: int, on_revision: int, to: int, author: str) -> Revision:
        """Make an earlier revision the next one; what came between stays in the history.

        Raises:
            ConflictError: somebody was first. InputError: there is no such revision.
        """
        with self._database.transaction() as t:
            now = self._lock(t, route_id, on_revision, [])
            then = t.maybe("revision", route=route_id, number=to)
            if then is None:
                raise InputError(f"This job has no revision {to}.", where="to")
            if then["hash"] == now.hash:
                return now
            number, route = now.number + 1, read_route(json.loads(then["document"]))
            what = f"Back to revision {to}: {then['what']}"[:300]
            return self._keep(t, route_id, number, number, [], route, [], what, author, now.state)

    def undo(self, route_id: int, on_revision: int, author: str) -> Revision:
        """Go back to the state before; the step undone can be done again.

        Raises:
            InfeasibleError: nothing to undo.
        """
        with self._database.transaction() as t:
            now = self._lock(t, route_id, on_revision, [])
            origin = _found(t.maybe("revision", route=route_id, number=now.state), route_id)
            if origin["undoes"] is None:
                raise InfeasibleError("This is the first state of the route; there is nothing before it.", where="undo")
            back = _found(t.maybe("revision", route=route_id, number=origin["undoes"]), route_id)
            return self._keep(t, route_id, now.number + 1, back["state"], [*now.redo, now.state], read_route(json.loads(back["document"])), [],
                              f"Undo: {origin['what']}"[:300], author, back["undoes"])

    def redo(self, route_id: int, on_revision: int, author: str) -> Revision:
        """Do again what was undone last.

        Raises:
            InfeasibleError: nothing to do again.
        """
        with self._database.transaction() as t:
            now = self._lock(t, route_id, on_revision, [])
            if not now.redo:
                raise InfeasibleError("Nothing was undone that could be done again.", where="redo")
            ahead = _found(t.maybe("revision", route=route_id, number=now.redo[-1]), route_id)
            return self._keep(t, route_id, now.number + 1, ahead["state"], now.redo[:-1], read_route(json.loads(ahead["document"])), [],
                              f"Redo: {ahead['what']}"[:300], author, ahead["undoes"])

    def history(self, route_id: int) -> list[Row]:
        """Return the revisions of a route, newest first."""
        with self._database.transaction() as t:
            return t.all("revisions", route=route_id)

    def ask_proof(self, digest: str) -> None:
        """Queue a proof again if it is missing, as after a lost worker."""
        with self._database.transaction() as t:
            if not t.one("has_proof", hash=digest, made_with=made_with())["there"]:
                self._queue.prove(t, digest, soon=True)

    def _lock(self, t: Transaction, route_id: int, on_revision: int, edits: list[dict[str, Any]]) -> Revision:
        _found(t.maybe("lock_route", route=route_id), route_id)
        now = Revision.of(_found(t.maybe("latest_revision", route=route_id), route_id))
        if now.number != on_revision:
            mine = t.maybe("revision", route=route_id, number=on_revision)
            raise ConflictError(
                f"{now.author} changed this route while you did: {now.what}. Look at both, then make your change again or leave it.",
                where="revision",
                theirs={
                    "revision": now.number, "what": now.what, "author": now.author, "document": now.document,
                    "since": _since(t, route_id, on_revision),
                },
                yours={
                    "revision": on_revision, "edits": edits, "words": [describe(read_edit(e)) for e in edits],
                    "document": json.loads(mine["document"]) if mine else None,
                })
        return now

    def _keep(self, t: Transaction, route_id: int, number: int, state: int, redo: list[int], route: Route, edits: list[dict[str, Any]],
              what: str, author: str, before: int | None) -> Revision:
        digest = content_hash(route)
        t.do("add_revision", route=route_id, number=number, state=state, undoes=before, redo=redo, document=json_value(route.model_dump(mode="json")),
             hash=digest, piece_kind=route.piece.kind.value, wood=route.blank.wood, edits=jsonb_value(edits), what=what, author=author)
        t.do("advance_route", route=route_id, number=number)
        said = {"route": route_id, "revision": number, "author": author, "what": what}
        t.one("tell", message=json.dumps(said))  # heard when it is committed
        t.do("name_job", route=route_id, name=route.job, note=route.note)
        if not t.one("has_proof", hash=digest, made_with=made_with())["there"]:
            self._queue.prove(t, digest, soon=number > 1)
        return Revision.of(_found(t.maybe("latest_revision", route=route_id), route_id))


def _since(t: Transaction, route_id: int, revision: int) -> list[dict[str, Any]]:
    """Return what was done after a revision, the first at the head."""
    rows = [r for r in t.all("revisions", route=route_id) if r["number"] > revision]
    return [{"revision": r["number"], "what": r["what"], "author": r["author"]} for r in reversed(rows)]


def _found(row: Row | None, route_id: int) -> Row:
    if row is None:
        raise InputError(f"There is no route {route_id} here.", where="route")
    return row


def _said(words: list[str]) -> str:
    """Return what edits do, in words for the history: as many as have room, and how many more there are."""
    out = words[0][:MOST_SAID]
    for k, one in enumerate(words[1:], 1):
        if len(out) + len(one) > MOST_SAID:
            return f"{out}; and {len(words) - k} more"
        out = f"{out}; {one}"
    return out
