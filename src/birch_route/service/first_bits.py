"""Which of the packaged bits hang in a shop: asked once, before anything is planned with a bit that nobody has."""

from __future__ import annotations

from ..core.data import starting_bits
from ..core.errors import InputError
from ..store.database import Database, json_value
from .rack import NONE


def first_bits(database: Database, here: list[str], author: str) -> None:
    """Say which packaged bits hang here; the others are none of the shop's. What was said of a bit before stays.

    Raises:
        InputError: an id of no packaged bit.
    """
    bits = {b["id"]: b for b in starting_bits()}
    unknown = [i for i in here if i not in bits]
    if unknown:
        raise InputError(f"{unknown[0][:40]} is none of the bits that are offered.", where="here")
    with database.transaction() as t:
        said = {r["bit"] for r in t.all("rack")}
        for id_, bit in bits.items():
            if id_ not in said:
                state = "on_hand" if id_ in here else "retired"
                t.one("add_rack_bit", bit=id_, data=json_value(bit), made_by=author, **{**NONE, "state": state})
