"""Bodies in and out: bounded reading, and answers put together from JSON text that is stored."""

from __future__ import annotations

import asyncio
import json
import threading
from collections.abc import Callable, Coroutine
from dataclasses import asdict
from typing import Any

from fastapi import Request, Response
from fastapi.routing import APIRoute

from ..core.errors import InputError
from ..formats.json_text import read_json
from ..jobs.fence import Stopped
from ..jobs.proof_version import made_with
from ..service.drawing import drawing_text
from ..service.routes import Revision
from .services import Services

LARGEST_JSON_BYTES = 2_000_000


class TooLargeError(InputError):
    """A body that is larger than what is read."""

    code = "too_large"


async def read_body(request: Request, most: int, what: str) -> bytes:
    """Return the body, refused as soon as it is known to be too large.

    Raises:
        TooLargeError: more than `most` bytes.
    """
    refused = TooLargeError(f"This is larger than {most / 1e6:g} MB, the most that {what} may be.", where="file")
    stated = request.headers.get("content-length", "")
    if stated.isdigit() and int(stated) > most:
        raise refused
    parts, size = [], 0
    async for chunk in request.stream():
        size += len(chunk)
        if size > most:
            raise refused
        parts.append(chunk)
    return b"".join(parts)


class BodyRoute(APIRoute):
    """A route whose JSON is read within a bound, and refused where it holds what no field can take: half a character,
    an empty one, a number without end."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """Return what answers a request."""
        handle = super().get_route_handler()
        if self.body_field is None:
            return handle

        async def bounded(request: Request) -> Response:
            body = await read_body(request, LARGEST_JSON_BYTES, "what is sent here")
            read_json(body, "What was sent")

            async def again() -> dict[str, Any]:
                return {"type": "http.request", "body": body, "more_body": False}

            return await handle(Request(request.scope, again))

        return bounded


async def while_asked(request: Request, work: Callable[[Callable[[float], None]], Response]) -> Response:
    """Run work in a thread for as long as somebody waits for its answer: it ends within a moment once the request is
    gone or the server stops.

    Args:
        work: given a function that it calls a few times a second, which raises to end it.
    """
    given_up = threading.Event()

    def watch(_part: float) -> None:
        if given_up.is_set():
            raise Stopped

    running = asyncio.ensure_future(asyncio.to_thread(work, watch))
    try:
        while not (await asyncio.wait({running}, timeout=0.25))[0]:
            if await request.is_disconnected():
                given_up.set()
        return running.result()
    except Stopped:
        return Response(status_code=499)
    finally:
        given_up.set()


def json_text(head: dict[str, Any], **texts: str) -> Response:
    """Answer with an object: `head` as JSON, and members whose JSON text is stored already."""
    members = "".join(f",{json.dumps(name)}:{text}" for name, text in texts.items())
    return Response(json.dumps(head)[:-1] + members + "}", media_type="application/json")


def revision_out(revision: Revision, services: Services) -> Response:
    """Answer with a revision. Document, drawing and report are stored as JSON text and go out as they are."""
    with services.database.transaction() as t:
        proof = t.maybe("proof", hash=revision.hash, made_with=made_with())
        origin = t.maybe("revision_origin", route=revision.route_id, number=revision.state)
    head = {
        "route": revision.route_id, "revision": revision.number, "hash": revision.hash, "what": revision.what, "author": revision.author,
        "made_at": revision.made_at, "can_undo": bool(origin and origin["undoes"] is not None), "can_redo": bool(revision.redo),
        "moved": [asdict(m) for m in revision.moved]}
    shown = "null" if proof is None else f'{{"report":{proof["report"]},"seconds":{proof["seconds"]:.4f}}}'
    return json_text(head, document=revision.text, drawing=drawing_text(revision.hash, lambda: revision.document), proof=shown)
