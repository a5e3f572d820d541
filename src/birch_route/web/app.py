"""The web application: the API, signing in, the client's files, and the guards around them."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from starlette.exceptions import HTTPException

from ..core.errors import BirchError
from .api import api
from .at_machine import at_machine_api
from .backups import backups_api
from .bench_page import bench_page_api
from .bits import bits_api
from .drawings import drawings
from .errors import crashed, on_bad_request, on_birch_error, on_http_error, refused
from .fits import fits_api
from .jigs import jigs_api
from .machines import machines_api
from .made import made_api
from .materials import materials_api
from .measuring import measuring_api
from .network import HERE_ONLY, Network
from .people import people_api
from .services import Services, Who
from .shop import shop_api
from .sign_in import sign_in_api
from .twins import twins_api

HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; script-src 'self'; "
    "connect-src 'self'; font-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff", "Referrer-Policy": "no-referrer", "X-Frame-Options": "DENY",
}


def make_app(url: str, client: Path, network: Network = HERE_ONLY) -> FastAPI:
    """Return the application.

    Args:
        url: of the database.
        client: folder of the built client.
        network: how it is reached.
    """
    services = Services(url, network)

    @asynccontextmanager
    async def life(app: FastAPI) -> AsyncIterator[None]:
        await asyncio.to_thread(services.open)
        app.state.services = services
        yield
        await asyncio.to_thread(services.close)

    said = {"title": "Birch Route", "version": "0.1.0", "separate_input_output_schemas": False}
    app = FastAPI(lifespan=life, docs_url=None, redoc_url=None, openapi_url=None, **said)  # type: ignore[arg-type]
    app.add_exception_handler(BirchError, on_birch_error)
    app.add_exception_handler(RequestValidationError, on_bad_request)
    app.add_exception_handler(HTTPException, on_http_error)

    @app.middleware("http")
    async def guard(request: Request, following: Callable[[Request], Awaitable[Response]]) -> Response:
        response = _turned_away(request, network)
        if response is None:
            try:
                response = await following(request)
            except Exception as exc:
                response = crashed(request, exc)
        for name, value in HEADERS.items():
            response.headers.setdefault(name, value)
        return response

    app.include_router(sign_in_api)
    app.include_router(bench_page_api)
    app.include_router(fits_api)
    app.include_router(api)
    app.include_router(drawings)
    app.include_router(shop_api)
    app.include_router(at_machine_api)
    app.include_router(jigs_api)
    app.include_router(bits_api)
    app.include_router(machines_api)
    app.include_router(measuring_api)
    app.include_router(materials_api)
    app.include_router(people_api)
    app.include_router(backups_api)
    app.include_router(twins_api)
    app.include_router(made_api)

    @app.get("/api/openapi.json", include_in_schema=False)
    def description(_person: Who) -> JSONResponse:
        return JSONResponse(app.openapi())

    @app.get("/{path:path}", include_in_schema=False)
    def files(path: str) -> Response:
        if path.startswith("api/"):
            return refused(404, "input", f"There is nothing at /{path[:100]}.", "path")
        wanted = client_file(client, path)
        if wanted is not None:
            lasting = path.startswith("assets/")
            return FileResponse(wanted, headers={"Cache-Control": "public, max-age=31536000, immutable" if lasting else "no-cache"})
        index = client / "index.html"
        if not index.exists():
            return Response("The client is not built. Run ./birch demo.", status_code=503, media_type="text/plain")
        return FileResponse(index, headers={"Cache-Control": "no-cache"})

    return app


def _turned_away(request: Request, network: Network) -> Response | None:
    """Return the refusal of a request that is not looked at further: another host, another page, an empty character."""
    host = (request.headers.get("host") or "").rsplit(":", 1)[0].strip("[]").lower()
    if host not in network.hosts:
        return refused(403, "forbidden", "This address is not served here.", "host")
    origin = request.headers.get("origin")
    if request.method not in ("GET", "HEAD") and origin and origin.split("://", 1)[-1] != request.headers.get("host"):
        return refused(403, "forbidden", "Requests from other pages are refused.", "origin")
    if "\x00" in request.url.path or "%00" in request.url.query or "\x00" in request.url.query:
        return refused(422, "input", "An address holds no empty character.", "path")
    return None


def client_file(client: Path, path: str) -> Path | None:
    """Return the file of the built client that a path names, or None."""
    try:
        wanted = (client / path).resolve()
        return wanted if path and wanted.is_file() and wanted.is_relative_to(client.resolve()) else None
    except (OSError, ValueError):  # a name no file can have
        return None


def openapi_text(url: str = "postgresql://none") -> str:
    """Return the OpenAPI description as JSON text."""
    return json.dumps(make_app(url, Path("none")).openapi(), indent=1)
