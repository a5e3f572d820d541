"""Edits of several operations at once: put one after another, made one, or made one for each feature."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..document import Id
from ..errors import InputError
from ..instrument.drawn import free_id
from ..vocabulary import OperationKind
from .base import Document, DocumentEdit, named

Ids = Annotated[list[Id], Field(min_length=2, max_length=200)]
_OWN = {"id", "name", "features", "settings", "reasons", "told", "made_for", "made_on", "touch_off_before"}
_OF_FEATURES = {OperationKind.POCKET, OperationKind.DRILL, OperationKind.BORE, OperationKind.PROFILE}


class GatherOperations(DocumentEdit):
    """Put operations one after another behind the first of them, in the order they stand in."""

    do: Literal["gather_operations"] = "gather_operations"
    operations: Ids

    def words(self) -> str:
        return "Put operations one after another"

    def change(self, data: Document) -> None:
        marked = [named(data["operations"], one, "operation") for one in dict.fromkeys(self.operations)]
        marked.sort(key=data["operations"].index)
        at = data["operations"].index(marked[0])
        others = [o for o in data["operations"] if o not in marked]
        order = [s["id"] for s in data["setups"]]
        data["operations"] = sorted([*others[:at], *marked, *others[at:]], key=lambda o: order.index(o["setup"]))


class JoinOperations(DocumentEdit):
    """Make one operation of alike ones: the first of them, on the features of all, with its settings."""

    do: Literal["join_operations"] = "join_operations"
    operations: Ids

    def words(self) -> str:
        return "Make one operation of several"

    def change(self, data: Document) -> None:
        marked = [named(data["operations"], one, "operation") for one in dict.fromkeys(self.operations)]
        marked.sort(key=data["operations"].index)
        first = marked[0]
        for other in marked[1:]:
            unlike = [k for k in first if k not in _OWN and first[k] != other[k]]
            if unlike:
                what = unlike[0].replace("_mm", "").replace("_", " ")
                raise InputError(
                    f"{other['name']} is not like {first['name']}: their {what} differs. Make it the same first.",
                    where=other["id"],
                )
        if OperationKind(first["kind"]) not in _OF_FEATURES or first["tabs"]:
            raise InputError(f"{first['name']} stands for itself: it is not made one with others.", where=first["id"])
        features = list(dict.fromkeys(f for o in marked for f in o["features"]))
        gone = {o["id"] for o in marked[1:]}
        known = [o["made_on"] for o in marked]
        made_on = None if None in known else {place: mm for one in known for place, mm in one.items()}
        first.update(features=features, told=sorted({t for o in marked for t in o["told"]}), made_on=made_on)
        data["operations"] = [o for o in data["operations"] if o["id"] not in gone]
        for step in data["bench_steps"]:
            step["after"] = first["id"] if step["after"] in gone else step["after"]


class PartOperation(DocumentEdit):
    """Make an operation of its own for each feature of one."""

    do: Literal["part_operation"] = "part_operation"
    operation: Id

    def words(self) -> str:
        return "Make an operation for each feature"

    def change(self, data: Document) -> None:
        one = named(data["operations"], self.operation, "operation")
        if len(one["features"]) < 2:
            raise InputError(f"{one['name']} works on one feature only.", where=self.operation)
        names = {f["id"]: f["name"] for f in data["piece"]["features"]}
        taken, new = [o["id"] for o in data["operations"]], []
        for feature in one["features"][1:]:
            name = free_id(taken, one["id"])
            taken.append(name)
            new.append({**one, "id": name, "features": [feature], "name": names.get(feature, one["name"]),
                        "touch_off_before": False})
        at = data["operations"].index(one)
        one["features"] = one["features"][:1]
        data["operations"][at + 1 : at + 1] = new
        for step in data["bench_steps"]:
            step["after"] = new[-1]["id"] if step["after"] == one["id"] else step["after"]
