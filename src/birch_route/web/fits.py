"""Handlers of fits: how parts went into their pockets."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter
from pydantic import BaseModel, Field

from ..core.fits import Went
from ..wire.fits import FitPocket
from .answers import answers
from .bodies import BodyRoute
from .services import S, Who, need

fits_api = APIRouter(prefix="/api/routes/{route_id}/fits", route_class=BodyRoute)


class FitKeptIn(BaseModel):
    """How a part went in. left_mm: on each wall then; None: as drawn. measured_mm: the finished pocket."""

    revision: int
    feature: Annotated[str, Field(max_length=40)]
    went: Went
    left_mm: Annotated[float, Field(allow_inf_nan=False, ge=-2, le=10)] | None = None
    measured_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=2000)] | None = None
    note: Annotated[str, Field(max_length=400)] = ""


@fits_api.get("", **answers(list[FitPocket]))
def fits(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    """Return the pockets that measured parts go into, what was kept of them and what the shop's records offer."""
    return services.fit_book.of_route(route_id)


@fits_api.post("", **answers(list[FitPocket]))
def keep_fit(route_id: int, body: FitKeptIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Keep how a part went in."""
    need(person, "record")
    services.fit_book.keep(
        route_id, body.revision, body.feature, body.went, body.left_mm, body.measured_mm, body.note, person.name
    )
    return services.fit_book.of_route(route_id)


@fits_api.post("/{fit}/withdraw", **answers(list[FitPocket]))
def withdraw_fit(route_id: int, fit: int, services: S, person: Who) -> list[dict[str, Any]]:
    """Take one back; it counts no more."""
    need(person, "record")
    services.fit_book.withdraw(route_id, fit, person.name)
    return services.fit_book.of_route(route_id)
