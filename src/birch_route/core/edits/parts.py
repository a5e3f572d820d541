"""Edits of the parts on hand and of what holds the blank."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..errors import InputError
from ..instrument.parts import PartOnHand, take_reading
from ..quantities import Unit
from ..route import Hardware
from ..vocabulary import PartKind
from .base import Document, DocumentEdit, named


class KeepReading(DocumentEdit):
    """Keep what the caliper says at a place of a part."""

    do: Literal["keep_reading"] = "keep_reading"
    part: str
    place: str
    typed: Annotated[str, Field(max_length=40)]
    unit: Unit = Unit.MM
    by: str = ""
    at: str = ""
    using: Annotated[str, Field(max_length=40)] = ""
    may_bring_features = True

    def words(self) -> str:
        return "Keep a reading"

    def change(self, data: Document) -> None:
        part = named(data["parts"], self.part, "part")
        on_hand = PartOnHand.model_validate(part)
        reading = take_reading(on_hand, self.place, self.typed, self.unit, self.by, self.at, self.using)
        part["readings"].append(reading.model_dump(mode="json"))


class DropReading(DocumentEdit):
    """Take a reading back; it stays in the revisions before."""

    do: Literal["drop_reading"] = "drop_reading"
    part: str
    place: str
    index: Annotated[int, Field(ge=0, le=20)]

    def words(self) -> str:
        return "Drop a reading"

    def change(self, data: Document) -> None:
        part = named(data["parts"], self.part, "part")
        here = [k for k, r in enumerate(part["readings"]) if r["place"] == self.place]
        if self.index >= len(here):
            raise InputError(f"{part['name']} has only {len(here)} readings there.", where=f"{self.part}.{self.place}")
        del part["readings"][here[self.index]]


class AddPart(DocumentEdit):
    """Put a part on the list of parts on hand, still to be measured."""

    do: Literal["add_part"] = "add_part"
    kind: PartKind
    name: Annotated[str, Field(min_length=1, max_length=80)]

    def words(self) -> str:
        return "Add a part"

    def change(self, data: Document) -> None:
        used = {p["id"] for p in data["parts"]}
        new = next(n for n in (f"{self.kind.value}{k or ''}" for k in range(100)) if n not in used)
        data["parts"].append({"id": new, "kind": self.kind.value, "name": self.name, "readings": []})


class RemovePart(DocumentEdit):
    """Take a part off the list; refused while a feature rests on it."""

    do: Literal["remove_part"] = "remove_part"
    part: str

    def words(self) -> str:
        return "Take a part off the list"

    def change(self, data: Document) -> None:
        part = named(data["parts"], self.part, "part")
        for feature in data["piece"]["features"]:
            shape, depth = feature.get("shape") or {}, feature.get("depth_from") or {}
            if self.part in (shape.get("part"), depth.get("part"), feature.get("measured_from")):
                raise InputError(
                    f"{feature['name']} rests on {part['name']}. Remove that feature first, or draw its shape.",
                    where=self.part,
                )
        if any(p["part"] == self.part for p in data["piece"]["placements"]):
            raise InputError(f"{part['name']} stands on the layout. Take it off there first.", where=self.part)
        data["parts"].remove(part)


class PutHardware(DocumentEdit):
    """Place or move a screw or clamp."""

    do: Literal["put_hardware"] = "put_hardware"
    setup: str
    hardware: Hardware

    def words(self) -> str:
        return "Place hardware"

    def change(self, data: Document) -> None:
        hardware = named(data["setups"], self.setup, "setup")["hardware"]
        new = {**self.hardware.model_dump(mode="json"), "assumed": False}
        known = next((k for k, h in enumerate(hardware) if h["id"] == new["id"]), None)
        if known is None:
            hardware.append(new)
        else:
            hardware[known] = new


class RemoveHardware(DocumentEdit):
    """Take a screw or clamp away."""

    do: Literal["remove_hardware"] = "remove_hardware"
    setup: str
    hardware: str

    def words(self) -> str:
        return "Remove hardware"

    def change(self, data: Document) -> None:
        hardware = named(data["setups"], self.setup, "setup")["hardware"]
        hardware.remove(named(hardware, self.hardware, "hardware"))
