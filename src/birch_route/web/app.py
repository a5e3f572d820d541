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

from ..core.errors import BirchError
from .api import api
from .backups import backups_api
from .bits import bits_api
from .drawings import drawings
from .errors import on_bad_request, on_birch_error
from .jigs import jigs_api
from .machines import machines_api
from .people import people_api
from .services import Services
from .shop import shop_api
from .sign_in import sign_in_api

HEADERS = {
    "Content-Security-Policy": "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; script-src 'self'; "
    "connect-src 'self'; font-src 'self'; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
    "X-Content-Type-Options": "nosniff", "Referrer-Policy": "no-referrer", "X-Frame-Options": "DENY",
}


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

    said = {"title": "Birch Route", "version": "0.1.0", "separate_input_output_schemas": False}
    app = FastAPI(lifespan=life, docs_url=None, redoc_url=None, **said)  # type: ignore[arg-type]
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

    app.include_router(sign_in_api)
    app.include_router(api)
    app.include_router(drawings)
    app.include_router(shop_api)
    app.include_router(jigs_api)
    app.include_router(bits_api)
    app.include_router(machines_api)
    app.include_router(people_api)
    app.include_router(backups_api)

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
