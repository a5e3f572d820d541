"""Errors to HTTP statuses: the only place that knows both."""

from __future__ import annotations

import logging
import secrets

from fastapi import Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from ..core.errors import BirchError

_log = logging.getLogger("birch_route")
STATUS = {"conflict": 409, "infeasible": 422, "refused": 422, "input": 422, "input.length": 422, "input.geometry": 422, "not_allowed": 401,
          "forbidden": 403, "store": 503, "numeric": 500, "too_large": 413, "birch": 500}


def answer(exc: BirchError) -> JSONResponse:
    """Return the JSON answer for an error."""
    return JSONResponse(exc.as_dict(), status_code=STATUS.get(exc.code, 500))


async def on_birch_error(_request: Request, exc: Exception) -> JSONResponse:
    assert isinstance(exc, BirchError)
    return answer(exc)


async def on_bad_request(_request: Request, exc: Exception) -> JSONResponse:
    assert isinstance(exc, RequestValidationError)
    first = exc.errors()[0]
    where = ".".join(str(p) for p in first["loc"] if p != "body")
    return JSONResponse({"code": "input", "message": f"{where or 'The request'}: {first['msg']}.", "where": where, "facts": {}}, status_code=422)


async def on_http_error(_request: Request, exc: Exception) -> JSONResponse:
    """Answer what no handler was found for."""
    assert isinstance(exc, HTTPException)
    return refused(exc.status_code, "input", f"{exc.detail}.", "request")


def refused(status: int, code: str, message: str, where: str) -> JSONResponse:
    """Return the JSON of a refusal."""
    return JSONResponse({"code": code, "message": message, "where": where, "facts": {}}, status_code=status)


def crashed(request: Request, exc: Exception) -> JSONResponse:
    """Answer an exception that is our fault: with a number that stands in the log beside what happened."""
    number = secrets.token_hex(4)
    _log.error("%s %s failed, number %s", request.method, request.url.path, number, exc_info=exc)
    message = f"Something failed here that should not; nothing was changed. In the log it has the number {number}."
    return refused(500, "birch", message, number)
