"""Pieces made here that another piece fits: necks of the shop for a body, and whether what was taken is still so."""

from __future__ import annotations

import json
from typing import Any

from ..core.errors import InputError
from ..core.instrument.parts import MadeHere
from ..core.neck.as_part import sizes_of
from ..core.neck.numbers import Neck
from ..core.route import read_route
from ..core.vocabulary import PartKind
from ..store.database import Database
from .routes import Revision, Routes

LESS_MM = 0.005  # sizes that differ by less are the same


class MadePieces:
    """Necks made here, as bodies take them."""

    def __init__(self, database: Database, routes: Routes) -> None:
        self._database, self._routes = database, routes

    def state(self, route_id: int) -> dict[str, Any]:
        """Return the necks of the shop that a job could take, and what became of one that it took.

        Raises:
            InputError: there is no such route.
        """
        route = read_route(self._routes.latest(route_id).document)
        necks = self._necks()
        taken = []
        for part in (p for p in route.parts if p.made is not None):
            assert part.made is not None
            now = next((n for n in necks if n["route"] == part.made.route), None)
            differ = {} if now is None else {
                k: v for k, v in now["sizes"].items() if abs(v - part.made.sizes.get(k, -1.0)) > LESS_MM}
            taken.append({"part": part.id, "route": part.made.route, "job": part.made.job,
                          "revision": part.made.revision, "newest": None if now is None else now["revision"],
                          "differ": differ})
        return {"necks": [{k: n[k] for k in ("route", "job", "revision")} for n in necks if n["route"] != route_id],
                "taken": taken}

    def take(self, route_id: int, revision: int, from_route: int, author: str) -> Revision:
        """Let a job's neck have the sizes that the route of a neck gives, and return the new revision.

        Raises:
            InputError: no such route, or none of a neck made from numbers. ConflictError: somebody changed the job.
        """
        route = read_route(self._routes.latest(route_id).document)
        found = next((n for n in self._necks() if n["route"] == from_route), None)
        if found is None or from_route == route_id:
            raise InputError("Choose a job of this shop that makes a neck from numbers.", where="from_route")
        made = MadeHere(route=from_route, job=found["job"], revision=found["revision"], sizes=found["sizes"])
        parts = [p.model_dump(mode="json") for p in route.parts]
        neck = next((p for p in parts if p["kind"] == PartKind.NECK.value), None)
        edits: list[dict[str, Any]] = []
        if neck is None:
            edits.append({"do": "add_part", "kind": "neck", "name": "Neck"})
            name = "neck" if all(p["id"] != "neck" for p in parts) else "neck1"
        else:
            name = neck["id"]
        edits.append({"do": "set", "path": f"parts.{name}.made", "value": made.model_dump(mode="json")})
        if route.choices.scale_mm is None and "nut_to_12th" in made.sizes:
            edits.append({"do": "set", "path": "choices.scale_mm", "value": round(found["scale_mm"], 4)})
        return self._routes.edit(route_id, revision, edits, author, f"The neck of {found['job']}")

    def boards(self) -> list[dict[str, Any]]:
        """Return the boards on the bench that are made from numbers, as JSON, by name."""
        with self._database.transaction() as t:
            rows = t.all("boards_here")
        return [{"route": r["route"], "job": r["job"], "board": json.loads(r["board"])} for r in rows]

    def _necks(self) -> list[dict[str, Any]]:
        with self._database.transaction() as t:
            rows = t.all("necks_here")
        out = []
        for row in rows:
            neck = Neck.model_validate(json.loads(row["neck"]))
            out.append({"route": row["route"], "job": row["job"], "revision": row["number"],
                        "sizes": sizes_of(neck), "scale_mm": neck.board.scale_mm})
        return out

