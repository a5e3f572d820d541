"""Use cases of the bench, the page of all jobs: find them, see how far each is, put away what is done with."""

from __future__ import annotations

import json
from dataclasses import asdict
from datetime import UTC, datetime
from typing import Any

import numpy as np

from ..core.errors import BirchError, InputError
from ..core.instrument.resolve import resolve
from ..core.plane.regions import polygons
from ..core.route import Route, read_route
from ..core.standing import Books, Ticked, standing
from ..jobs.proof_version import made_with
from ..store.database import Database, Row, Transaction
from .bench import states

FINE_MM = 0.8  # of what is drawn of a piece in a row


class BenchPage:
    """All jobs of the shop."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def jobs(self, search: str, skip: int, most: int, *, away: bool) -> dict[str, Any]:
        """Return jobs, newest change first, a page at a time.

        Args:
            search: words of which each stands in the name, the note, the wood or the kind of piece. away: those that
                are put away, instead of those on the bench.
        """
        words = [f"%{_plain(w)}%" for w in search.split()][:8]
        with self._database.transaction() as t:
            if words:
                rows = t.all("find_routes", words=words, away=away, skip=skip, most=most)
                count = t.one("count_found_routes", words=words, away=away)["count"]
            else:
                rows = t.all("list_routes", away=away, skip=skip, most=most)
                count = t.one("count_listed", away=away)["count"]
            put_away = count if away and not words else t.one("count_listed", away=True)["count"]
        return {"count": count, "away": put_away, "routes": [_row(r) for r in rows]}

    def put_away(self, route_id: int, author: str, *, away: bool) -> dict[str, Any]:
        """Put a job away, or take it out again; nothing of it is lost.

        Raises:
            InputError: there is no such route.
        """
        with self._database.transaction() as t:
            row = t.maybe("put_route_away", route=route_id, away=away, author=author)
        if row is None:
            raise InputError(f"There is no route {route_id}.", where="route")
        return {"id": route_id, "away": row["away_since"] is not None}

    def standing(self, route_id: int, now: datetime | None = None) -> dict[str, Any]:
        """Return how far a job is, and its blank and piece in plan, mm.

        Raises:
            InputError: there is no such route.
        """
        now = now or datetime.now(UTC)
        with self._database.transaction() as t:
            row = t.maybe("latest_revision", route=route_id)
            if row is None:
                raise InputError(f"There is no route {route_id}.", where="route")
            route = read_route(json.loads(row["document"]))
            books = _books(t, route_id, row["hash"], route, now)
        stands = standing(route, books, now)
        until = stands.waits_until
        return {
            "hash": row["hash"], "steps": [asdict(s) for s in stands.steps], "words": stands.words, "then": stands.then,
            "place": stands.place.value, "waits_until": None if until is None else until.isoformat(),
            "freed": any(s.done for s in stands.steps if _frees(route, s.id)), **_drawn(route),
        }


def _books(t: Transaction, route_id: int, digest: str, route: Route, now: datetime) -> Books:
    ticked = {
        s.step.id: Ticked(None if s.ready_at is None else datetime.fromisoformat(s.ready_at))
        for s in states(route, t.all("ticks_of", route=route_id), now) if s.done
    }
    cut: set[str] = set()
    stopped = False
    for run in t.all("runs_cut", route=route_id):  # oldest first
        stopped = run["outcome"] in ("stopped", "broke")
        if not stopped:
            skipped = {k for k, one in (run["ran"] or {}).items() if one.get("is_skipped")}
            cut |= set(run["operations"]) - skipped
    stops = t.maybe("proof_stops", hash=digest, made_with=made_with())
    return Books(ticked, cut, stopped, None if stops is None else stops["stops"])


def _frees(route: Route, step_id: str) -> bool:
    """Return whether an operation cuts the outline through."""
    op = route.operation(step_id)
    return op is not None and route.piece.outline.id in op.features and op.groove_mm is None and op.down_to_mm is None


def _drawn(route: Route) -> dict[str, Any]:
    """Return the blank as x, y, length, width, and the outline and what is cut into the face that shows most, as
    rings."""
    blank = route.blank
    out: dict[str, Any] = {
        "blank": [blank.x_mm, blank.y_mm, blank.length_mm, blank.width_mm], "outline": [], "cuts": [],
    }
    try:
        resolved = resolve(route)
    except BirchError:
        return out  # what is wrong with it is said where it is opened
    for solid in resolved.solids.values():
        rings = [
            np.round(np.asarray(ring.simplify(FINE_MM).coords), 1).tolist()
            for p in polygons(solid.region) for ring in (p.exterior, *p.interiors)
        ]
        if solid.kind == "outline":
            out["outline"] = rings
        elif solid.kind in ("pocket", "hole", "channel") and solid.face.value == "front":
            out["cuts"] += rings[:8]
    return out


def _row(r: Row) -> dict[str, Any]:
    since = r["away_since"]
    return {**r, "changed_at": r["changed_at"].isoformat(), "away_since": None if since is None else since.isoformat()}


def _plain(word: str) -> str:
    """Return a word in which nothing is a placeholder of a search."""
    return word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
