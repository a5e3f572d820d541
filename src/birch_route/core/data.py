"""The packaged data of the trade: woods and starting figures, each with its source."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from .bench import StepKind
from .errors import InputError
from .materials.figures_model import Figures
from .vocabulary import MaterialSort


class Wood(BaseModel):
    """One material, of the wood table or of the shop's own. density_kg_m3 is air-dry; spread_kg_m3: one standard
    deviation of the boards weighed here. like, resists, force_kg_m3: of an own one, whose settings it borrows, how many
    times that one's cutting force, and the density a wood of the same force would have. went_well: cuts of it that went
    well here."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    id: str
    name: str
    botanical: str
    density_kg_m3: float
    cutting_class: str
    tear_out: str
    dust: str
    source: str
    sort: MaterialSort | None = None
    like: str = ""
    resists: float = 1.0
    force_kg_m3: float | None = None
    weighed: int = 0
    spread_kg_m3: float | None = None
    went_well: int = 0

    @property
    def cuts_as_kg_m3(self) -> float:
        """The density of a wood that takes the same force to cut."""
        return self.density_kg_m3 if self.force_kg_m3 is None else self.force_kg_m3


@cache
def woods() -> dict[str, Wood]:
    """Return the wood table by id."""
    table = _load("woods.json")
    return {row["id"]: Wood(**row, source=table["source"]) for row in table["woods"]}


def wood(wood_id: str) -> Wood:
    """Return one wood.

    Raises:
        InputError: not in the table.
    """
    try:
        return woods()[wood_id]
    except KeyError as exc:
        raise InputError(f"“{wood_id}” is not in the wood table. Choose one of {', '.join(woods())}.",
                         where="blank.wood") from exc


@cache
def figures() -> dict[str, Any]:
    """Return the starting figures of the trade, checked by name and type; every block carries its source."""
    return checked_figures(_load("figures.json"))


def checked_figures(data: dict[str, Any]) -> dict[str, Any]:
    """Return figures as they are, once they are what core/materials/figures_model.py says.

    Raises:
        InputError: a name that is not known, one that is missing, or a value of another kind.
    """
    try:
        Figures.model_validate(data)
    except ValidationError as exc:
        first = exc.errors()[0]
        raise InputError(f"{'.'.join(map(str, first['loc']))}: {first['msg']}.", where="figures.json") from exc
    return data


@cache
def part_places() -> dict[str, Any]:
    """Return the places where each kind of part on hand is measured."""
    return _load("part_places.json")


@cache
def starting_shop() -> dict[str, Any]:
    """Return what a shop begins with: machines, bits of the rack, bits in the drawer."""
    return _load("starting_shop.json")


@cache
def starting_steps() -> list[StepKind]:
    """Return the steps at the bench that a shop begins with."""
    return [StepKind.model_validate(one) for one in _load("bench_steps.json")["steps"]]


@cache
def own_step_minutes() -> float:
    """Return the minutes a step at the bench has until somebody says how long it takes."""
    return float(_load("bench_steps.json")["own_minutes"])


def starting_bits() -> list[dict[str, Any]]:
    """Return the bits a rack begins with, those in the drawer last."""
    shop = starting_shop()
    return [*shop["bits"], *shop["drawer"]]


def _load(name: str) -> dict[str, Any]:
    return json.loads(resources.files("birch_route.core.materials").joinpath(name).read_text("utf-8"))
