"""Use cases over materials: the table's, the shop's own, and what weighed boards say of both."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import asdict
from statistics import fmean
from typing import Any

from ..core.data import Wood, wood, woods
from ..core.errors import ConflictError, InputError
from ..core.materials.own import Weighed, own_material, sort_of, weighed, with_weighed
from ..core.vocabulary import MaterialSort
from ..store.database import Database, Row, Transaction, json_value
from .densities import density
from .names import free_id

MOST_OWN = 200
OWN = "own_"


class Woods:
    """Materials of the shop."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def rows(self) -> list[dict[str, Any]]:
        """Return every material, the shop's own first, with what its boards say."""
        with self._database.transaction() as t:
            own = t.all("materials")
            boards = _boards(t)
            good = _good(t)
        out = [_row(_of(r), boards, good, r) for r in own]
        return out + [_row(w, boards, good, None) for w in woods().values()]

    def keep(self, material: str | None, revision: int, values: Mapping[str, Any], author: str) -> str:
        """Say what a material of the shop's own is; return its id. material: None for a new one.

        Raises:
            ConflictError: somebody changed it since. InputError: it cannot be, or there are too many.
        """
        with self._database.transaction() as t:
            t.do("lock_materials")
            if material is None:
                if len(t.all("materials")) >= MOST_OWN:
                    raise InputError(f"The shop has {MOST_OWN} materials of its own. Put one away first.", where="name")
                id_ = free_id(
                    str(values["name"]), lambda i: t.maybe("material_now", material=i) is not None, "material", OWN
                )
            else:
                id_ = material
                row = _there(t, material)
                if row["revision"] != revision:
                    raise ConflictError(
                        f"{row['made_by']} changed {row['document']['name']} since you opened it. Look at it again, "
                        f"then make your change on top.",
                        where="revision",
                    )
            made = own_material(id_, **{**values, "sort": MaterialSort(values["sort"])})
            _keep(t, made, author, removed=False)
        return id_

    def put_away(self, material: str, author: str) -> None:
        """Take a material out of the shop; jobs keep it.

        Raises:
            InputError: there is no such material of the shop's own.
        """
        with self._database.transaction() as t:
            t.do("lock_materials")
            _keep(t, _of(_there(t, material)), author, removed=True)


def shop_woods(t: Transaction) -> dict[str, Wood]:
    """Return the materials in which the shop differs from the table: its own, and those it weighed, by id."""
    boards, good = _boards(t), _good(t)
    own = [_of(r) for r in t.all("materials")]
    table = [w for w in woods().values() if w.id in boards]
    return {w.id: _as_here(w, boards, good) for w in [*table, *own]}


def known_wood(t: Transaction, id_: str) -> Wood:
    """Return a material as the shop has it, else the table's; also one of its own that was put away.

    Raises:
        InputError: neither has it.
    """
    row = t.maybe("material_now", material=id_) if id_.startswith(OWN) else None
    return _as_here(wood(id_) if row is None else _of(row), _boards(t), _good(t))


def told_wood(t: Transaction, id_: str) -> Wood:
    """Return a material as it was told or stands in the table, whatever its boards weigh.

    Raises:
        InputError: neither has it.
    """
    row = t.maybe("material_now", material=id_) if id_.startswith(OWN) else None
    return wood(id_) if row is None else _of(row)


def own_woods(t: Transaction) -> dict[str, Wood]:
    """Return the shop's own materials by id."""
    return {w.id: w for w in (_of(r) for r in t.all("materials"))}


def _as_here(one: Wood, boards: Mapping[str, list[Row]], good: Mapping[str, int]) -> Wood:
    found = _weighed(boards.get(one.id, []))
    return with_weighed(one, found).model_copy(update={"went_well": good.get(one.id, 0)})


def _boards(t: Transaction) -> dict[str, list[Row]]:
    out: dict[str, list[Row]] = defaultdict(list)
    for row in t.all("weighed_boards"):
        out[row["wood"]].append(row)
    return out


def _good(t: Transaction) -> dict[str, int]:
    return {r["wood"]: int(r["count"]) for r in t.all("good_cuts_by_material")}


def _weighed(boards: list[Row]) -> Weighed | None:
    found = (density(b["length_mm"], b["width_mm"], b["thickness_mm"], b["weighed_kg"]) for b in boards)
    return weighed([d for d in found if d is not None])


def _of(row: Row) -> Wood:
    return Wood.model_validate(row["document"])


def _row(one: Wood, boards: Mapping[str, list[Row]], good: Mapping[str, int], row: Row | None) -> dict[str, Any]:
    mine = boards.get(one.id, [])
    found = _weighed(mine)
    damp = [b["moisture_pct"] for b in mine if b["moisture_pct"] is not None]
    return {
        "wood": _as_here(one, boards, good).model_dump(mode="json"),
        "sort": sort_of(one).value,
        "own": row is not None,
        "revision": row["revision"] if row else 0,
        "told_kg_m3": one.density_kg_m3,
        "weighed": asdict(found) if found else None,
        "moisture_pct": round(fmean(damp), 1) if damp else None,
    }


def _there(t: Transaction, material: str) -> Row:
    row = t.maybe("material_now", material=material)
    if row is None:
        raise InputError(f"There is no material “{material}” of the shop's own.", where="material")
    return row


def _keep(t: Transaction, one: Wood, author: str, *, removed: bool) -> None:
    document = json_value(one.model_dump(mode="json"))
    t.one("add_material_record", material=one.id, document=document, removed=removed, made_by=author)
