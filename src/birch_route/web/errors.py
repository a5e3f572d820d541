"""Errors to HTTP statuses: the only place that knows both."""

from __future__ import annotations

from fastapi import Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse

from ..core.errors import BirchError

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
