"""HTTP for woods, sheets and other materials of a shop's own."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path
from pydantic import BaseModel, ConfigDict, Field

from ..core.vocabulary import MaterialSort
from ..wire.materials import MaterialKept, MaterialRow
from .answers import answers
from .bodies import BodyRoute
from .services import S, Who, need

materials_api = APIRouter(prefix="/api/materials", route_class=BodyRoute)
Id = Annotated[str, Path(min_length=1, max_length=40)]
Plain = Annotated[float, Field(allow_inf_nan=False)]


class MaterialIn(BaseModel):
    """What a material of the shop's own is, changed from a revision of it. resists None: by its sort."""

    model_config = ConfigDict(extra="forbid")
    revision: int = 0
    name: Annotated[str, Field(max_length=80)]
    sort: MaterialSort = MaterialSort.WOOD
    like: Annotated[str, Field(max_length=40)]
    density_kg_m3: Plain
    tear_out: Annotated[str, Field(max_length=20)] = "plain"
    dust: Annotated[str, Field(max_length=200)] = ""
    resists: Plain | None = None
    note: Annotated[str, Field(max_length=120)] = ""


@materials_api.get("", **answers(list[MaterialRow]))
def materials(services: S, _person: Who) -> list[dict[str, Any]]:
    """Return every material, the shop's own first."""
    return services.woods.rows()


@materials_api.post("", **answers(MaterialKept))
def add_material(body: MaterialIn, services: S, person: Who) -> dict[str, Any]:
    """Add a material of the shop's own."""
    need(person, "edit")
    kept = services.woods.keep(None, 0, body.model_dump(exclude={"revision"}), person.name)
    return {"material": kept, "materials": services.woods.rows()}


@materials_api.post("/{material}", **answers(MaterialKept))
def keep_material(material: Id, body: MaterialIn, services: S, person: Who) -> dict[str, Any]:
    """Say what a material of the shop's own is now."""
    need(person, "edit")
    services.woods.keep(material, body.revision, body.model_dump(exclude={"revision"}), person.name)
    return {"material": material, "materials": services.woods.rows()}


@materials_api.post("/{material}/put_away", **answers(list[MaterialRow]))
def put_material_away(material: Id, services: S, person: Who) -> list[dict[str, Any]]:
    """Take a material out of the shop; jobs keep it."""
    need(person, "edit")
    services.woods.put_away(material, person.name)
    return services.woods.rows()
