"""What a handler says it answers. OpenAPI and the client's types follow from it; the tests hold every answer against
it."""

from __future__ import annotations

from typing import Any

from fastapi import Response

from ..wire.base import Failure, Status

REFUSED = {"model": Failure, "description": "What was given cannot be used: where, and what to do"}
BEING_MADE = "It is being made; ask again"
LATER: dict[int | str, dict[str, Any]] = {202: {"model": Status, "description": BEING_MADE}}
STATUSES = (401, 403, 404, 409, 413, 422, 500, 503)


def answers(model: Any, later: Any = Status) -> dict[str, Any]:
    """Return the arguments of a route whose answer is JSON of a model; many are stored as text and go out as they are,
    so they are declared here and not made again. later: the answer while it is being made."""
    refused: dict[int, Any] = dict.fromkeys(STATUSES, REFUSED)
    waits = {202: {"model": later, "description": BEING_MADE}}
    return {"response_model": None, "responses": {200: {"model": model}, **waits, **refused}}


def binary(*kinds: str) -> dict[str, Any]:
    """Return the arguments of a route whose answer is a file or a stream of one of these media types."""
    refused: dict[int, Any] = dict.fromkeys(STATUSES, REFUSED)
    content = {kind: {"schema": {"type": "string", "format": "binary"}} for kind in kinds}
    return {"response_class": Response, "responses": {200: {"content": content}, **LATER, **refused}}
