"""Edits of single fields and of the lists of a route."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..assumed import say_mine, touched
from ..errors import InputError
from ..quantities import Unit, named_mm, named_rate
from ..units import parse_length
from .base import Document, DocumentEdit, named

ItemList = Literal["placements", "edges", "features", "layers", "planks", "defects", "bench_steps", "variants", "bits"]
LISTS: dict[str, tuple[str, ...]] = {
    "placements": ("piece", "placements"),
    "edges": ("piece", "edges"),
    "features": ("piece", "features"),
    "layers": ("blank", "layers"),
    "planks": ("blank", "planks"),
    "defects": ("blank", "defects"),
    "bench_steps": ("bench_steps",),
    "variants": ("variants",),
    "bits": ("bits",),
}
WORDS = {
    "placements": "a part's place",
    "edges": "an edge",
    "features": "a feature",
    "layers": "a layer",
    "planks": "a board",
    "defects": "a flaw",
    "bench_steps": "a bench step",
    "variants": "a variant",
    "bits": "a bit",
}


PLAIN = {"piece", "operations", "setups", "bits", "features", "placements", "edges", "layers", "planks", "defects",
         "bench_steps", "hardware", "choices", "settings", "shape", "each", "variants", "precision"}
ENDS: dict[str, Any] = {"_mm_min": named_rate, "_mm": named_mm, "_rpm": "rpm", "_deg": "°", "_kg": "kg", "_n": "N",
                        "_bar": "bar", "_min": "min"}


def field_words(path: str) -> str:
    """Return the field of a path in words: what it belongs to, and which of its numbers, without its unit."""
    *owners, field = path.split(".")
    for end in ENDS:
        field = field.removesuffix(end)
    named_by = [k for k in owners if k not in PLAIN]
    said = ", ".join(k.replace("_", " ") for k in (*named_by, field))
    return said[:1].upper() + said[1:]


def _value_words(path: str, value: Any) -> str:
    """Return a value as a person would say it; a number with its unit, in the reader's."""
    if value is None:
        return "none"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list) and 0 < len(value) < 4 and all(isinstance(v, int | float) for v in value):
        return ", ".join(_value_words(path, v) for v in value)
    if isinstance(value, list | dict):
        return f"{len(value)} of them" if isinstance(value, list) else "set"
    unit = next((u for end, u in ENDS.items() if path.endswith(end)), "")
    if not isinstance(value, int | float) or not unit:
        return str(value)[:80]
    return f"{value:g} {unit}" if isinstance(unit, str) else f"{unit(value):g}"


class Set(DocumentEdit):
    """Set one field: `operations.<id>.settings.feed_mm_min`, `blank.length_mm`, `choices.fit_gap_mm`, ..."""

    do: Literal["set"] = "set"
    path: Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z0-9_]+)*$", max_length=200)]
    value: Any  # text for a length is read like a caliper value: 1 3/4", 44.36
    unit: Unit = Unit.MM
    may_lose_features = True
    may_bring_features = True

    def words(self) -> str:
        return f"{field_words(self.path)}: {_value_words(self.path, self.value)}"

    def change(self, data: Document) -> None:
        value = self.value
        if isinstance(value, str) and self.path.endswith("_mm"):
            value = parse_length(value, self.unit, negative=True).mm
        _set(data, self.path, value)
        touched(data, self.path)


class SayMine(DocumentEdit):
    """Say of a number that was only assumed that it is meant as it stands."""

    do: Literal["say_mine"] = "say_mine"
    path: Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z0-9_]+)+$", max_length=200)]

    def words(self) -> str:
        return f"Meant as it stands: {self.path.split('.')[-1].replace('_mm', '').replace('_', ' ')}"

    def change(self, data: Document) -> None:
        say_mine(data, self.path)


class PutItem(DocumentEdit):
    """Add an item to a list of the route, or replace the one with its id."""

    do: Literal["put_item"] = "put_item"
    list: ItemList
    item: dict[str, Any]
    may_lose_features = True
    may_bring_features = True

    def words(self) -> str:
        return f"Put {WORDS[self.list]}: {self.item.get('name') or self.item.get('id', '')}"

    def change(self, data: Document) -> None:
        node, new = _list_of(data, self.list), self.item.get("id")
        if not isinstance(new, str):
            raise InputError(f"{WORDS[self.list].capitalize()} needs an id.", where=self.list)
        known = next((k for k, one in enumerate(node) if one["id"] == new), None)
        if known is not None:
            node[known] = {**node[known], **self.item}
            return
        before_outline = self.list == "features" and node and node[-1].get("kind") == "outline"
        node.insert(len(node) - 1 if before_outline else len(node), self.item)


class RemoveItem(DocumentEdit):
    """Take an item off a list of the route; operations left without a feature go with it."""

    do: Literal["remove_item"] = "remove_item"
    list: ItemList
    id: Annotated[str, Field(max_length=40)]
    may_lose_features = True

    def words(self) -> str:
        return f"Remove {WORDS[self.list]}: {self.id}"

    def change(self, data: Document) -> None:
        node = _list_of(data, self.list)
        known = next((k for k, one in enumerate(node) if one["id"] == self.id), None)
        if known is None:
            what = self.list.rstrip("s").replace("_", " ")
            raise InputError(f"There is no {what} {self.id} in this route.", where=self.list)
        self._refuse(data, node[known])
        del node[known]
        if self.list == "features":
            for placed in data["piece"]["placements"]:
                placed["cavity"] = None if placed["cavity"] == self.id else placed["cavity"]
            data["piece"]["edges"] = [e for e in data["piece"]["edges"] if e["feature"] != self.id]

    def _refuse(self, data: Document, item: dict[str, Any]) -> None:
        """Refuse to take away what something else rests on."""
        if self.list == "layers" and item.get("glued_before"):
            raise InputError(
                "This layer is glued on between setups. Let it be glued on before everything, then take it away.",
                where=self.id,
            )
        if self.list != "features":
            return
        if item["kind"] == "outline":
            raise InputError("A piece needs its outline. Draw another one instead of removing it.", where=self.id)
        for one in data["piece"]["features"]:
            if (one.get("shape") or {}).get("feature") == self.id:
                raise InputError(f"{one['name']} goes round {item['name']}. Remove that first.", where=self.id)


def _list_of(data: Document, name: str) -> list[dict[str, Any]]:
    node: Any = data
    for key in LISTS[name]:
        node = node[key]
    found: list[dict[str, Any]] = node
    return found


def _set(data: Document, path: str, value: Any) -> None:
    keys = path.split(".")
    node: Any = data
    for at, key in enumerate(keys[:-1]):
        if key == "each" and isinstance(node, list):
            for one in node:
                _set(one, ".".join(keys[at + 1 :]), value)
            return
        node = _child(node, key, path)
    last = keys[-1]
    if not isinstance(node, dict) or last not in node:
        raise InputError(f"“{path}” names no field of the route.", where=path)
    node[last] = value
    is_setting = keys[2:3] == ["settings"] and len(keys) == 4
    if keys[0] == "operations" and (is_setting or keys[2:] == ["touch_off_before"]):
        operation = named(data["operations"], keys[1], "operation")
        operation["told"] = sorted({*operation["told"], last})


def _child(node: Any, key: str, path: str) -> Any:
    if isinstance(node, list):
        return named(node, key, "part of the route called")
    if isinstance(node, dict) and key in node:
        return node[key]
    raise InputError(f"“{path}” names no field of the route.", where=path)
