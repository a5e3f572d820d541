"""Every JSON answer that a test gets over HTTP is held against what its handler declares: nothing more, nothing
less."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

from fastapi.routing import APIRoute
from pydantic import TypeAdapter, ValidationError

from birch_route.web.app import make_app


def _routes() -> list[Any]:
    out: list[Any] = []
    for one in make_app("postgresql://nowhere", Path("/nowhere")).routes:
        inner = getattr(one, "original_router", None)
        out += [one] if inner is None else inner.routes
    return out


@cache
def declared() -> list[tuple[frozenset[str], Any, dict[int, TypeAdapter[Any]]]]:
    """Return methods, path pattern and what is answered by status, of every route of the server."""
    out = []
    for route in _routes():
        if isinstance(route, APIRoute) and route.include_in_schema:
            models = {
                int(code): TypeAdapter(said["model"]) for code, said in route.responses.items() if "model" in said
            }
            out.append((frozenset(route.methods), route.path_regex, models))
    return out


def wrong_with(method: str, path: str, status: int, answer: Any) -> str:
    """Return what differs between an answer and what its handler declares; empty where nothing does."""
    for methods, pattern, models in declared():
        if method in methods and pattern.match(path.split("?")[0]):
            if status not in models:
                return (
                    f"{method} {path} answers {status}, which is not declared"
                    if isinstance(answer, dict | list)
                    else ""
                )
            try:
                models[status].validate_python(answer, strict=False)
            except ValidationError as exc:
                told = "; ".join(f"{'.'.join(map(str, e['loc']))}: {e['msg']}" for e in exc.errors()[:12])
                return f"{method} {path} {status}: {told}"
            return ""
    return ""
