"""Signing in by a link that works once, and out."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from fastapi.responses import JSONResponse, RedirectResponse

from ..service.people import NotAllowedError
from ..wire.base import Status
from .answers import answers
from .services import COOKIE, S

sign_in_api = APIRouter()


@sign_in_api.get("/sign-in", status_code=303, response_class=RedirectResponse)
def sign_in(token: str, request: Request, services: S) -> Response:
    """Use a link; a place that tried too many that are none waits."""
    place = request.client.host if request.client else ""
    if services.tries.must_wait(place):
        return RedirectResponse("/signed-out?why=wait", status_code=303)
    try:
        session = services.people.sign_in(token)
    except NotAllowedError:
        services.tries.failed(place)
        return RedirectResponse("/signed-out?why=link", status_code=303)
    response = RedirectResponse("/", status_code=303)
    secure = services.network.scheme == "https"
    response.set_cookie(COOKIE, session, httponly=True, samesite="strict", max_age=30 * 86400, secure=secure)
    return response


@sign_in_api.post("/api/sign-out", **answers(Status))
def sign_out(request: Request, services: S) -> Response:
    """End this session."""
    services.people.sign_out(request.cookies.get(COOKIE, ""))
    response = JSONResponse({"status": "signed out"})
    response.delete_cookie(COOKIE)
    return response
