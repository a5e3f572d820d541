"""HTTP for backups: one now, those that are kept, the shop as open files. Restoring is a command only."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Path, Response
from fastapi.responses import FileResponse

from ..service.backups import open_files
from ..wire.machines import BackupsKept
from .answers import answers, binary
from .bodies import BodyRoute
from .services import S, Services, Who, need

backups_api = APIRouter(prefix="/api", route_class=BodyRoute)


def _rows(services: Services) -> dict[str, Any]:
    kept = services.backups.kept()
    rows = [
        {"name": k.path.name, "made_at": k.made_at.isoformat(), "bytes": k.path.stat().st_size}
        for k in kept
        if k.path.exists()
    ]
    return {"folder": str(services.backups.folder), "kept": rows}


@backups_api.get("/backups", **answers(BackupsKept))
def backups(services: S, person: Who) -> dict[str, Any]:
    """Return the backups that are kept."""
    need(person, "edit")
    return _rows(services)


@backups_api.post("/backups", **answers(BackupsKept))
def make_backup(services: S, person: Who) -> dict[str, Any]:
    """Make a backup now."""
    need(person, "edit")
    services.backups.make()
    return _rows(services)


@backups_api.get("/backups/{name}", **binary("application/zip"))
def backup_file(name: Annotated[str, Path(max_length=80)], services: S, person: Who) -> Response:
    """Return a backup as a file."""
    need(person, "edit")
    return FileResponse(services.backups.path_of(name), media_type="application/zip", filename=name)


@backups_api.get("/open_files", **binary("application/zip"))
def shop_as_files(services: S, person: Who) -> Response:
    """Return the whole shop as open files."""
    need(person, "edit")
    headers = {"Content-Disposition": 'attachment; filename="shop.zip"'}
    return Response(open_files(services.database, services.rack), media_type="application/zip", headers=headers)
