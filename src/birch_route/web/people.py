"""HTTP for the people of the shop: added by a link that works once, their roles, signed out everywhere."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import segno
from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict, Field

from ..wire.machines import NetworkShown, PersonRow, SignInLink
from .answers import answers
from .bodies import BodyRoute
from .network import HERE, trust_of
from .services import S, Who, need

people_api = APIRouter(prefix="/api", route_class=BodyRoute)


class PersonIn(BaseModel):
    """Who a person is and what they may do."""

    model_config = ConfigDict(extra="forbid")
    name: Annotated[str, Field(max_length=60)]
    role: Literal["planner", "operator", "viewer"]


@people_api.get("/network", **answers(NetworkShown))
def network(services: S, _person: Who) -> dict[str, Any]:
    """Return how the shop is reached from other devices, and what they are asked to trust."""
    trust = trust_of(services.network)
    if trust is None:
        return {"names": [], "fingerprint": "", "until": ""}
    return {"names": list(trust.names), "fingerprint": trust.fingerprint, "until": trust.until}


def _link(request: Request, services: S, token: str) -> dict[str, str]:
    """Return a link by the name the one who gets it can use, where the shop is on a network."""
    name, _, port = request.headers["host"].rpartition(":")
    if name in HERE and services.network.names:
        name = services.network.names[0]
    link = f"{services.network.scheme}://{name or port}{f':{port}' if name else ''}/sign-in?token={token}"
    code = segno.make(link, error="m").svg_data_uri(scale=4, dark="#1d1a17", light="#fbf9f5")
    return {"link": link, "code": code}


@people_api.get("/people", **answers(list[PersonRow]))
def people(services: S, person: Who) -> list[dict[str, Any]]:
    """Return the people of the shop."""
    need(person, "edit")
    return services.people.rows()


@people_api.post("/people", **answers(SignInLink))
def add_person(body: PersonIn, request: Request, services: S, person: Who) -> dict[str, str]:
    """Add a person; answer with the link that signs them in once."""
    need(person, "edit")
    return _link(request, services, services.people.add(body.name, body.role))


@people_api.post("/people/{number}", **answers(list[PersonRow]))
def change_person(number: int, body: PersonIn, services: S, person: Who) -> list[dict[str, Any]]:
    """Rename a person, or give them another role."""
    need(person, "edit")
    services.people.change(number, body.name, body.role)
    return services.people.rows()


@people_api.post("/people/{number}/link", **answers(SignInLink))
def new_link(number: int, request: Request, services: S, person: Who) -> dict[str, str]:
    """Make a new link for somebody who is here."""
    need(person, "edit")
    return _link(request, services, services.people.link_for(number))


@people_api.post("/people/{number}/sign_out", **answers(list[PersonRow]))
def sign_out_everywhere(number: int, services: S, person: Who) -> list[dict[str, Any]]:
    """End every session of a person; anybody may do it to themselves."""
    if person.id != number:
        need(person, "edit")
    services.people.sign_out_everywhere(number)
    return services.people.rows() if person.may("edit") else []
