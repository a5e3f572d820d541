"""The web application: HTTP JSON under /api, binary for big arrays, server-sent events for progress, the client's files."""

from __future__ import annotations

import asyncio
import json
import logging
import threading
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Annotated, Any

from fastapi import APIRouter, Cookie, Depends, FastAPI, Query, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse, RedirectResponse, StreamingResponse
from pydantic import BaseModel, Field

from ..core.data import part_places, woods
from ..core.errors import BirchError, InputError, StoreError
from ..core.proving.findings import CODES
from ..core.proving.prove import MADE_WITH
from ..demo.shop import BITS, MACHINES
from ..formats.route_file import LARGEST_BYTES, route_from_text, route_to_text
from ..core.route import read_route
from ..jobs.queue import Queue
from ..service.drawing import drawing_of
from ..service.people import NotAllowedError, People, Person
from ..service.releases import Releases
from ..service.routes import Revision, Routes
from ..store.database import Database, listen
from .errors import on_bad_request, on_birch_error

log = logging.getLogger("birch")
COOKIE = "birch_session"
HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; script-src 'self'; "
    "connect-src 'self'; font-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff", "Referrer-Policy": "no-referrer", "X-Frame-Options": "DENY",
}


class ForbiddenError(BirchError):
    """Signed in, but not with a role that may."""

    code = "forbidden"


class TooLargeError(InputError):
    code = "too_large"


class Services:
    """What the handlers need, made once."""

    def __init__(self, url: str) -> None:
        self.url = url
        self.database = Database(url)
        self.queue = Queue(url)
        self.routes = Routes(self.database, self.queue)
        self.people = People(self.database)
        self.releases = Releases(self.database)
        self.news = News(url)

    def open(self) -> None:
        self.database.open()
        self.queue.open()
        self.news.start()

    def close(self) -> None:
        self.news.stop()
        self.queue.close()
        self.database.close()


class News:
    """Hears what the worker tells and passes it to every open page."""

    def __init__(self, url: str) -> None:
        self._url, self._stop = url, threading.Event()
        self._listeners: set[tuple[asyncio.AbstractEventLoop, asyncio.Queue[str]]] = set()

    def start(self) -> None:
        threading.Thread(target=self._listen, daemon=True, name="news").start()

    def stop(self) -> None:
        self._stop.set()

    def _listen(self) -> None:
        while not self._stop.is_set():
            try:
                for message in listen(self._url, "birch", 1.0):
                    if self._stop.is_set():
                        return
                    if message is not None:
                        for loop, queue in list(self._listeners):
                            loop.call_soon_threadsafe(queue.put_nowait, message)
            except (StoreError, RuntimeError):
                time.sleep(0.5)

    async def stream(self, request: Request) -> AsyncIterator[str]:
        """Yield server-sent events until the page goes away."""
        queue: asyncio.Queue[str] = asyncio.Queue()
        entry = (asyncio.get_running_loop(), queue)
        self._listeners.add(entry)
        try:
            yield "retry: 1000\n\n"
            while not self._stop.is_set():
                try:
                    yield f"data: {await asyncio.wait_for(queue.get(), 10)}\n\n"
                except TimeoutError:
                    yield ": still here\n\n"
                if await request.is_disconnected():
                    return
        finally:
            self._listeners.discard(entry)


class EditIn(BaseModel):
    revision: int
    edits: Annotated[list[dict[str, Any]], Field(max_length=200)]
    reason: Annotated[str, Field(max_length=300)] = ""


class OnRevision(BaseModel):
    revision: int


class ReleaseIn(BaseModel):
    revision: int
    reasons: dict[str, Annotated[str, Field(max_length=500)]] = {}


class RunIn(BaseModel):
    revision: int
    outcome: Annotated[str, Field(pattern="^(fine|chatter|burning|torn|broke|slow|stopped)$")]
    note: Annotated[str, Field(max_length=4000)] = ""
    minutes: dict[str, Annotated[float, Field(ge=0, le=10000)]] = {}


def _services(request: Request) -> Services:
    return request.app.state.services


def _person(request: Request, birch_session: Annotated[str | None, Cookie()] = None) -> Person:
    return _services(request).people.of_session(birch_session or "")


Who = Annotated[Person, Depends(_person)]
S = Annotated[Services, Depends(_services)]


def _need(person: Person, act: str) -> None:
    if not person.may(act):
        raise ForbiddenError(f"You are signed in as {person.role}; that role may not do this. Ask a planner.")


def _revision_out(revision: Revision, services: Services) -> dict[str, Any]:
    with services.database.transaction() as t:
        proof = t.maybe("proof", hash=revision.hash, made_with=MADE_WITH)
        origin = t.maybe("revision", route=revision.route_id, number=revision.state)
    return {
        "route": revision.route_id, "revision": revision.number, "hash": revision.hash, "what": revision.what, "author": revision.author,
        "made_at": revision.made_at, "can_undo": bool(origin and origin["undoes"] is not None), "can_redo": bool(revision.redo),
        "document": revision.document, "drawing": drawing_of(revision.hash, revision.document),
        "proof": None if proof is None else {"report": proof["report"], "seconds": proof["seconds"]},
    }


api = APIRouter(prefix="/api")


@api.get("/health")
def health(services: S) -> dict[str, str]:
    """Say whether server and database answer."""
    with services.database.transaction() as t:
        t.one("ping")
    return {"status": "ok"}


@api.get("/me")
def me(person: Who) -> dict[str, Any]:
    return {"name": person.name, "role": person.role}


@api.get("/shop")
def shop(_person: Who) -> dict[str, Any]:
    """Return what the shop has: woods, machines, bits, the places of parts, the codes of findings."""
    return {"woods": [w.model_dump() for w in woods().values()], "machines": MACHINES, "bits": BITS, "part_places": part_places(),
            "codes": {c: {"severity": s.value, "text": t} for c, (s, t) in CODES.items()}}


@api.get("/routes")
def list_routes(services: S, _person: Who, search: Annotated[str, Query(max_length=80)] = "", skip: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
                most: Annotated[int, Query(ge=1, le=200)] = 50) -> dict[str, Any]:
    with services.database.transaction() as t:
        rows = t.all("list_routes", search=search, skip=skip, most=most)
        count = t.one("count_routes", search=search)["count"]
    return {"count": count, "routes": [{**r, "changed_at": r["changed_at"].isoformat()} for r in rows]}


@api.post("/routes")
async def import_route(request: Request, services: S, person: Who) -> dict[str, Any]:
    """Import a route file as a new job."""
    _need(person, "edit")
    body = await _body(request)
    route = await asyncio.to_thread(route_from_text, body, "The file")
    revision = await asyncio.to_thread(services.routes.create, route, person.name, "Imported")
    return await asyncio.to_thread(_revision_out, revision, services)


@api.post("/routes/{route_id}/copy")
def copy(route_id: int, services: S, person: Who) -> dict[str, Any]:
    """Make a new job like another, unmeasured."""
    _need(person, "edit")
    return _revision_out(services.routes.copy_unmeasured(route_id, person.name), services)


async def _body(request: Request) -> bytes:
    """Return the body, refused as soon as it is too large."""
    parts, size = [], 0
    async for chunk in request.stream():
        size += len(chunk)
        if size > LARGEST_BYTES:
            raise TooLargeError(f"The file is larger than {LARGEST_BYTES // 1_000_000} MB; a route file never is.", where="file")
        parts.append(chunk)
    return b"".join(parts)


@api.get("/routes/{route_id}")
def get_route(route_id: int, services: S, _person: Who) -> dict[str, Any]:
    revision = services.routes.latest(route_id)
    services.routes.ask_proof(revision.hash)
    return _revision_out(revision, services)


@api.post("/routes/{route_id}/edits")
def edit(route_id: int, body: EditIn, services: S, person: Who) -> dict[str, Any]:
    _need(person, "edit")
    return _revision_out(services.routes.edit(route_id, body.revision, body.edits, person.name, body.reason), services)


@api.post("/routes/{route_id}/undo")
def undo(route_id: int, body: OnRevision, services: S, person: Who) -> dict[str, Any]:
    _need(person, "edit")
    return _revision_out(services.routes.undo(route_id, body.revision, person.name), services)


@api.post("/routes/{route_id}/redo")
def redo(route_id: int, body: OnRevision, services: S, person: Who) -> dict[str, Any]:
    _need(person, "edit")
    return _revision_out(services.routes.redo(route_id, body.revision, person.name), services)


@api.get("/routes/{route_id}/revisions")
def revisions(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    return [{**r, "made_at": r["made_at"].isoformat()} for r in services.routes.history(route_id)]


@api.get("/routes/{route_id}/file")
def route_file(route_id: int, services: S, _person: Who) -> Response:
    """Export the route file of the newest revision."""
    revision = services.routes.latest(route_id)
    return Response(route_to_text(read_route(revision.document)), media_type="application/json",
                    headers={"Content-Disposition": f'attachment; filename="route_{route_id}.birch.json"'})


@api.get("/proofs/{digest}")
def proof(digest: str, services: S, _person: Who) -> Response:
    """Return a proof's report, or 202 while it is being made; a missing one is queued again."""
    with services.database.transaction() as t:
        row = t.maybe("proof", hash=digest, made_with=MADE_WITH)
    if row is None:
        return JSONResponse({"status": "working"}, status_code=202)
    return JSONResponse({"report": row["report"], "seconds": row["seconds"]})


@api.post("/proofs/{digest}/again")
def proof_again(digest: str, services: S, _person: Who) -> dict[str, str]:
    services.routes.ask_proof(digest)
    return {"status": "queued"}


@api.get("/proofs/{digest}/view")
def proof_view(digest: str, services: S, _person: Who) -> Response:
    """Return the packed wood of a proof (formats/view.py says how)."""
    with services.database.transaction() as t:
        row = t.maybe("proof_view", hash=digest)
    if row is None:
        return Response(status_code=204)
    return Response(bytes(row["data"]), media_type="application/octet-stream", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@api.get("/events")
async def events(request: Request, services: S, _person: Who) -> StreamingResponse:
    """Stream what the worker tells."""
    return StreamingResponse(services.news.stream(request), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"})


@api.post("/routes/{route_id}/release")
def release(route_id: int, body: ReleaseIn, services: S, person: Who) -> dict[str, Any]:
    """Write the programs of the newest revision, read them back, simulate them, and keep them."""
    _need(person, "release")
    return services.releases.make(route_id, body.revision, body.reasons, person.name)


@api.get("/routes/{route_id}/release.zip")
def release_zip(route_id: int, revision: int, services: S, person: Who) -> Response:
    _need(person, "release")
    name, data = services.releases.zip_of(route_id, revision)
    return Response(data, media_type="application/zip", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@api.get("/routes/{route_id}/programs/{name}")
def program(route_id: int, name: str, revision: int, services: S, person: Who) -> Response:
    _need(person, "release")
    data = services.releases.program(route_id, revision, name)
    return Response(data, media_type="text/plain; charset=us-ascii", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@api.get("/routes/{route_id}/runs")
def runs(route_id: int, services: S, _person: Who) -> list[dict[str, Any]]:
    return [{**r, "made_at": r["made_at"].isoformat()} for r in services.releases.records(route_id)]


@api.post("/routes/{route_id}/runs")
def record(route_id: int, body: RunIn, services: S, person: Who) -> dict[str, Any]:
    _need(person, "record")
    row = services.releases.record(route_id, body.revision, body.outcome, body.note, body.minutes, person.name)
    return {"id": row["id"], "made_at": row["made_at"].isoformat()}


def make_app(url: str, client: Path, hosts: tuple[str, ...] = ("127.0.0.1", "localhost")) -> FastAPI:
    """Return the application.

    Args:
        url: of the database.
        client: folder of the built client.
        hosts: names a request may be for.
    """
    services = Services(url)

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        await asyncio.to_thread(services.open)
        app.state.services = services
        yield
        await asyncio.to_thread(services.close)

    app = FastAPI(title="Birch Route", version="0.1.0", lifespan=life, docs_url=None, redoc_url=None)
    app.add_exception_handler(BirchError, on_birch_error)
    app.add_exception_handler(RequestValidationError, on_bad_request)

    @app.middleware("http")
    async def guard(request: Request, following: Callable[[Request], Awaitable[Response]]) -> Response:
        host = (request.headers.get("host") or "").rsplit(":", 1)[0]
        if host not in hosts:
            return JSONResponse({"code": "forbidden", "message": "This address is not served here.", "where": "host", "facts": {}}, status_code=403)
        origin = request.headers.get("origin")
        if request.method not in ("GET", "HEAD") and origin and origin.split("://", 1)[-1] != request.headers.get("host"):
            return JSONResponse({"code": "forbidden", "message": "Requests from other pages are refused.", "where": "origin", "facts": {}}, status_code=403)
        response = await following(request)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response

    @app.get("/sign-in")
    def sign_in(token: str) -> Response:
        try:
            session = services.people.sign_in(token)
        except NotAllowedError:
            return RedirectResponse("/signed-out?why=link", status_code=303)
        response = RedirectResponse("/", status_code=303)
        response.set_cookie(COOKIE, session, httponly=True, samesite="strict", max_age=30 * 86400)
        return response

    @app.post("/api/sign-out")
    def sign_out(request: Request) -> Response:
        services.people.sign_out(request.cookies.get(COOKIE, ""))
        response = JSONResponse({"status": "signed out"})
        response.delete_cookie(COOKIE)
        return response

    app.include_router(api)

    @app.get("/{path:path}", include_in_schema=False)
    def files(path: str) -> Response:
        if path.startswith("api/"):
            return JSONResponse({"code": "input", "message": f"There is nothing at /{path}.", "where": "path", "facts": {}}, status_code=404)
        wanted = (client / path).resolve()
        if path and wanted.is_file() and wanted.is_relative_to(client.resolve()):
            lasting = path.startswith("assets/")
            return FileResponse(wanted, headers={"Cache-Control": "public, max-age=31536000, immutable" if lasting else "no-cache"})
        index = client / "index.html"
        if not index.exists():
            return Response("The client is not built. Run ./birch demo.", status_code=503, media_type="text/plain")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})

    return app


def openapi_text(url: str = "postgresql://none") -> str:
    """Return the OpenAPI description as JSON text."""
    return json.dumps(make_app(url, Path("none")).openapi(), indent=1)
