"""What every edit is: its words for the history, and how it is applied. Each kind is a class of its own, found by its
name in the registry; screen, API, command line and cures use the same ones."""

from __future__ import annotations

from typing import Any, ClassVar, get_args

from pydantic import BaseModel, ConfigDict

from ..errors import InputError
from ..route import Route, read_route

REGISTRY: dict[str, type[Edit]] = {}
Document = dict[str, Any]  # a route as its JSON


class Edit(BaseModel):
    """A small command that makes the next revision of a route."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    do: str
    may_lose_features: ClassVar[bool] = False  # operations on features that are gone go with them
    may_bring_features: ClassVar[bool] = False  # one that waited for a part, or follows from one, may be there now

    @classmethod
    def __pydantic_init_subclass__(cls, **_more: Any) -> None:
        kinds = get_args(cls.model_fields["do"].annotation)
        if kinds:
            if kinds[0] in REGISTRY:
                raise TypeError(f"the edit {kinds[0]} stands twice")
            REGISTRY[kinds[0]] = cls

    def words(self) -> str:
        """Return what it does, in words for the history."""
        raise NotImplementedError

    def apply(self, data: Document) -> Document:
        """Return the document after it; what is given may be changed.

        Raises:
            InputError: it names what is not there.
        """
        raise NotImplementedError


class DocumentEdit(Edit):
    """An edit that changes the document in place."""

    def change(self, data: Document) -> None:
        """Change the document."""
        raise NotImplementedError

    def apply(self, data: Document) -> Document:
        self.change(data)
        return data


class RouteEdit(Edit):
    """An edit that makes a route of a route."""

    def remake(self, route: Route) -> Route:
        """Return the route after it."""
        raise NotImplementedError

    def apply(self, data: Document) -> Document:
        return self.remake(read_route(data)).model_dump(mode="json")


def named(items: list[dict[str, Any]], name: str, what: str) -> dict[str, Any]:
    """Return the item of a list with an id.

    Raises:
        InputError: there is none.
    """
    for item in items:
        if item["id"] == name:
            return item
    raise InputError(f"There is no {what} {name} in this route.", where=name)
