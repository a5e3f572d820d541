"""Use cases over trials: made of a route, made anew when that has changed, and every try with what became of it."""

from __future__ import annotations

import json
from collections import defaultdict
from typing import Any

from ..core.bench import Twin
from ..core.data import woods
from ..core.errors import InputError
from ..core.materials.own import offered
from ..core.route import read_route
from ..core.twins import force_ratio, twin_of
from ..store.database import Database
from .routes import Revision, Routes
from .woods import shop_woods


class Twins:
    """Twins of routes."""

    def __init__(self, database: Database, routes: Routes) -> None:
        self._database, self._routes = database, routes

    def make(self, route_id: int, wood: str, thickness_mm: float | None, author: str) -> Revision:
        """Keep a new job that tries a route; without a thickness of its own it has that of the route.

        Raises:
            InputError: no such route or wood, one that is a trial itself, or a thickness that leaves nothing.
        """
        newest = self._routes.latest(route_id)
        route = read_route(newest.document)
        if route.twin is not None:
            raise InputError("This is a trial itself. Make another of the job it tries.", where="trial")
        with self._database.transaction() as t:
            own = shop_woods(t)
        if wood not in {**woods(), **own}:
            raise InputError(f"The shop has no wood {wood}.", where="wood")
        thick = route.blank.thickness_mm if thickness_mm is None else thickness_mm
        made = twin_of(offered(route, own.values()), Twin(of_route=route_id, of_hash=newest.hash), wood, thick)
        return self._routes.create(made, author, f"Twin of {route.job}", tied=True)

    def follow(self, route_id: int, on_revision: int, author: str) -> Revision:
        """Make a trial anew from the newest revision of what it tries; its wood and thickness stay.

        Raises:
            ConflictError: somebody was first. InputError: it is no trial.
        """
        before = read_route(self._routes.latest(route_id).document)
        if before.twin is None:
            raise InputError("This job is no trial of another.", where="trial")
        with self._database.transaction() as t:
            own = shop_woods(t)
        newest = self._routes.latest(before.twin.of_route)
        real = offered(read_route(newest.document), own.values())
        of = before.twin.model_copy(update={"of_hash": newest.hash})
        made = twin_of(real, of, before.blank.wood, before.blank.thickness_mm, before)
        return self._routes.replace(route_id, on_revision, made, author, f"As {real.job} is now")

    def of(self, route_id: int) -> list[dict[str, Any]]:
        """Return the trials of a route, or itself where it is one: what it is from, whether what it tries has changed
        since, how much harder the good wood is to cut, and its tries."""
        with self._database.transaction() as t:
            rows, runs = t.all("twins_of", route=route_id), t.all("tries_of", route=route_id)
            known = {**woods(), **shop_woods(t)}
        real = {r["of_route"]: self._routes.latest(r["of_route"]) for r in rows}
        tries: dict[int, list[dict[str, Any]]] = defaultdict(list)
        for run in runs:
            one = {k: run[k] for k in ("revision", "outcome", "note", "made_by", "what")}
            here = tries[run["route"]]
            here.append({**one, "number": len(here) + 1, "made_at": run["made_at"].isoformat()})
        out = []
        for row in rows:
            trial = read_route(json.loads(row["document"]))
            good = read_route(real[row["of_route"]].document)
            tried = trial.twin
            wood, better = known.get(trial.blank.wood), known.get(good.blank.wood)
            out.append({
                "route": row["route"], "name": row["name"], "of_route": row["of_route"], "of_name": row["of_name"],
                "wood": trial.blank.wood, "wood_name": wood.name if wood else trial.blank.wood,
                "thickness_mm": trial.blank.thickness_mm, "moved": tried is None or tried.of_hash != row["of_hash"],
                "force_ratio": round(force_ratio(better, wood), 2) if wood and better else None,
                "turns": len(trial.setups) > 1, "tries": tries[row["route"]],
            })
        return out
