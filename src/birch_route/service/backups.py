"""Use cases over backups: one now, one a day by itself, which are kept; and the whole shop out as open files."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from ..core.errors import InputError
from ..core.machines import Machine
from ..core.route import read_route
from ..formats.machine_file import machine_to_text
from ..formats.route_file import route_to_text
from ..store.backup import Manifest, back_up
from ..store.database import Database
from .rack import Rack

KEPT_DAYS, KEPT_WEEKS = 7, 4
NAME = re.compile(r"birch-(\d{4})-(\d\d)-(\d\d)T(\d\d)(\d\d)(\d\d)\.birch-backup")


@dataclass(frozen=True)
class Kept:
    """A backup on this machine's disk. made_at: from its name, UTC."""

    path: Path
    made_at: datetime


class Backups:
    """Backups of the shop in one folder. now: the time, UTC."""

    def __init__(
        self, database: Database, folder: Path, now: Callable[[], datetime] = lambda: datetime.now(UTC)
    ) -> None:
        self._database, self.folder, self._now = database, folder, now

    def make(self) -> tuple[Kept, Manifest]:
        """Make a backup now and put away what is older than is kept."""
        at = self._now()
        path = self.folder / f"birch-{at:%Y-%m-%dT%H%M%S}.birch-backup"
        manifest = back_up(self._database, path)
        for old in superfluous(self.kept()):
            old.path.unlink(missing_ok=True)
        return Kept(path, at), manifest

    def daily(self) -> bool:
        """Make today's backup unless there is one; return whether it was made."""
        today = self._now().date()
        if any(k.made_at.date() == today for k in self.kept()):
            return False
        self.make()
        return True

    def kept(self) -> list[Kept]:
        """Return the backups that are there, the newest first."""
        found = []
        for path in self.folder.glob("birch-*.birch-backup") if self.folder.is_dir() else []:
            match = NAME.fullmatch(path.name)
            if match:
                year, month, day, hour, minute, second = map(int, match.groups())
                found.append(Kept(path, datetime(year, month, day, hour, minute, second, tzinfo=UTC)))
        return sorted(found, key=lambda k: k.made_at, reverse=True)

    def path_of(self, name: str) -> Path:
        """Return where a backup lies.

        Raises:
            InputError: there is none of that name.
        """
        found = next((k.path for k in self.kept() if k.path.name == name), None)
        if found is None:
            raise InputError(f"There is no backup {name[:80]} here.", where="name")
        return found


def superfluous(kept: list[Kept]) -> list[Kept]:
    """Return those that are not kept: neither of the newest seven days, one a day, nor the newest of one of the four
    newest weeks before them. What was made within the newest day is kept whole."""
    newest_first = sorted(kept, key=lambda k: k.made_at, reverse=True)
    stay: list[Kept] = []
    days: list[object] = []
    weeks: list[object] = []
    for one in newest_first:
        day, week = one.made_at.date(), one.made_at.isocalendar()[:2]
        if day in days[:1]:
            stay.append(one)  # as often as somebody pressed the button on the newest day
        elif day not in days and len(days) < KEPT_DAYS:
            days.append(day)
            stay.append(one)
        elif len(days) == KEPT_DAYS and day not in days and week not in weeks and len(weeks) < KEPT_WEEKS:
            weeks.append(week)
            stay.append(one)
    return [k for k in newest_first if k not in stay]


def open_files(database: Database, rack: Rack) -> bytes:
    """Return the whole shop as a zip of open files: routes, machines and what measured them, rack, boards,
    materials, programs as they were released."""
    held = io.BytesIO()
    with zipfile.ZipFile(held, "w", zipfile.ZIP_DEFLATED) as out, database.transaction() as t:
        for row in t.all("every_route"):
            folder = f"jobs/{row['id']:05d}_{_slug(row['name'])}"
            out.writestr(f"{folder}/route.birch.json", route_to_text(read_route(row["document"])))
            for name, text in _programs(row["files"]).items():
                out.writestr(f"{folder}/programs/{name}", text)
        for row in t.all("machines"):
            machine = Machine.model_validate(row["document"])
            out.writestr(f"machines/{machine.id}.birch-machine.json", machine_to_text(machine))
        records = {
            "boards": t.all("wood_stock"),
            "runs": t.all("every_run"),
            "at_machine": t.all("every_attended_event"),
            "fits": t.all("every_fit"),
            "trials": t.all("every_trial"),
            "bits": t.all("every_bit_note"),
            "machines": t.all("every_machine_note"),
            "materials": t.all("materials"),
            "measuring": t.all("every_measuring"),
        }
        for name, rows in records.items():
            plain = [{k: _plain(v) for k, v in row.items()} for row in rows]
            out.writestr(f"records/{name}.json", json.dumps(plain, indent=1, ensure_ascii=False))
        out.writestr("rack.csv", rack.to_csv())
    return held.getvalue()


def _programs(files: Any) -> dict[str, str]:
    return {} if files is None else dict(files["programs"])


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def _slug(text: str) -> str:
    return "_".join("".join(c if c.isascii() and c.isalnum() else " " for c in text.lower()).split())[:40] or "job"
