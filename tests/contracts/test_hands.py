"""What a hand can reach: every kind of edit is sent by a screen or by a cure, every field of a route stands on one; or
its reason stands here."""

import re
import typing
import unittest

from pydantic import BaseModel

from birch_route.core.edits import REGISTRY
from birch_route.core.route import Route
from tests.support import ROOT

SHOWN_BY_NAME = "a figure of the machine's page, whose fields the server names"
FOLLOWS = "is worked out, and told on the screens that show it"
REASONS = {
    "Machine": SHOWN_BY_NAME, "Precision": SHOWN_BY_NAME,
    "Route.schema_": FOLLOWS,
    "Chain.vertices": "a drawn outline is changed in its drawing and brought in again; its place is moved as one",
    "Pocket.opens_into": "the cure of a meeting that was not meant sets it", "Hole.opens_into": "as of a pocket",
    "Bevel.opens_into": "as of a pocket", "Carve.opens_into": "as of a pocket", "Relief.opens_into": "as of a pocket",
    "Channel.opens_into": "as of a pocket", "Pocket.opens_side": "the cure of an opening in the rim sets it",
    "Hole.opens_side": "as of a pocket", "Pocket.open_at_neck": "a neck pocket has it from the start",
    "Operation.made_on": FOLLOWS,
    "Blank.faced_below_mm": FOLLOWS, "Blank.upright": "a job that stands a piece up in the vice has it from the start",
    "JigRecord.made_from": FOLLOWS, "EndWork.made_from": FOLLOWS,
    "Wood.cutting_class": "typed on the page of the woods, as what it cuts like",
}


def client() -> str:
    files = [p for p in (ROOT / "client/src").rglob("*") if p.suffix in (".vue", ".ts") and p.name != "schema.d.ts"]
    return "\n".join(p.read_text() for p in files)


def core() -> str:
    return "\n".join(p.read_text() for p in (ROOT / "src/birch_route/core").rglob("*.py"))


def models(annotation):
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for inner in typing.get_args(annotation):
        yield from models(inner)


def fields(model=Route, seen=None):
    """Every field of a route's document as Model.name."""
    seen = set() if seen is None else seen
    if model in seen:
        return
    seen.add(model)
    for name, field in model.model_fields.items():
        yield f"{model.__name__}.{name}"
        for inner in models(field.annotation):
            yield from fields(inner, seen)


class Hands(unittest.TestCase):
    def test_every_kind_of_edit_is_sent_by_a_screen_or_a_cure(self):
        screens, cures = client(), core()
        unsent = [k for k in REGISTRY if f"do: '{k}'" not in screens and f'"do": "{k}"' not in cures]
        self.assertEqual(unsent, [])

    def test_every_field_of_a_route_stands_on_a_screen_or_has_its_reason(self):
        screens = client()
        unseen = {f for f in fields() if not re.search(rf"\b{f.split('.')[1]}\b", screens)}
        excused = {f for f in unseen if f in REASONS or f.split(".")[0] in REASONS}
        self.assertEqual(unseen - excused, set())
        self.assertEqual({r for r in REASONS if "." in r} - unseen, set(), "these have a hand now: take the reason out")

    def test_a_field_nobody_shows_would_be_found(self):
        self.assertIn("Pocket.tilt_deg", set(fields()))
        self.assertFalse(re.search(r"\bno_such_field_mm\b", client()))
