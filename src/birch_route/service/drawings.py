"""Use cases over drawings: bring one in, have it read, make a job of it, or take an outline of our own."""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..core.errors import InputError
from ..core.fretboard.features import outline_of
from ..core.fretboard.numbers import Board
from ..core.instrument.outlines import Style, body_outline
from ..core.neck.features import outline_of as neck_outline
from ..core.neck.numbers import Neck
from ..core.plane.curves import Chain, Drawn, Path
from ..core.quantities import mm
from ..core.sequence.start import Inner, Start, neck_route, start_board, start_route, to_centre_line
from ..core.vocabulary import Face, PieceKind
from ..formats.drawing_file import LARGEST_DRAWING_BYTES, UNITS
from ..formats.scan import Scale, is_picture
from ..jobs.queue import Queue
from ..store.database import Database, Row
from .fit_book import start_gap_here
from .routes import Revision, Routes
from .woods import shop_woods

_PATH: TypeAdapter[Path] = TypeAdapter(Path)
MOST_INNER = 60


@dataclass(frozen=True)
class Choice:
    """What becomes of one closed curve of a drawing."""

    index: int
    role: str  # outline, pocket, through
    name: str = ""
    depth_mm: float | None = None


@dataclass(frozen=True)
class NewJob:
    """How a new job is wanted. Either an upload with choices, or a style with its numbers."""

    job: str
    kind: str
    wood: str
    thickness_mm: float
    machine: dict[str, Any]
    bits: list[dict[str, Any]]
    upload: int | None = None
    choices: list[Choice] = field(default_factory=list)
    style: str | None = None
    style_length_mm: float = 410.0
    style_width_mm: float = 320.0
    waist: float = 0.06
    horn: float = 0.0
    scale_to_mm: float | None = None
    turn_deg: float = 0.0
    centre_y_mm: float | None = None
    left_handed: bool = False
    with_parts: bool = False
    skim_mm: float = 0.0
    board: Board | None = None  # a fretboard from numbers
    neck: Neck | None = None  # a neck from numbers


class Drawings:
    """Drawings and what is made of them."""

    def __init__(self, database: Database, queue: Queue, routes: Routes) -> None:
        self._database, self._queue, self._routes = database, queue, routes

    def bring(self, data: bytes, name: str, unit: str | None, join_mm: float, author: str) -> Row:
        """Keep a drawing and queue its reading in the same transaction.

        Raises:
            InputError: empty, too large, or an unknown unit.
        """
        if not data:
            raise InputError(f"{name} is empty.", where="file")
        if len(data) > LARGEST_DRAWING_BYTES:
            raise InputError(f"{name} is larger than {LARGEST_DRAWING_BYTES // 1_000_000} MB, the most that is read.", where="file")
        _known(unit)
        with self._database.transaction() as t:
            row = t.one("add_upload", name=name[:200] or "drawing", data=data, unit=unit, join_mm=join_mm, made_by=author)
            self._queue.read_drawing(t, row["id"], row["reading"])
        return row

    def again(self, upload: int, unit: str | None, join_mm: float, scan: str | None = None) -> Row:
        """Read a kept drawing again with another unit, joining distance or, for a scan, its two points and their distance."""
        _known(unit)
        if scan is not None:
            Scale.read(scan)
        with self._database.transaction() as t:
            row = t.maybe("read_upload_again", id=upload, unit=unit, join_mm=join_mm, scan=scan)
            if row is None:
                raise InputError(f"There is no drawing {upload} here.", where="drawing")
            self._queue.read_drawing(t, row["id"], row["reading"])
        return row

    def stop(self, upload: int) -> None:
        """Stop the reading of a drawing; it notices within a second."""
        with self._database.transaction() as t:
            t.do("stop_upload", id=upload)

    def state(self, upload: int) -> Row:
        """Return how far a reading is and its result as JSON text."""
        with self._database.transaction() as t:
            row = t.maybe("upload_state", id=upload)
        if row is None:
            raise InputError(f"There is no drawing {upload} here.", where="drawing")
        return row

    def picture(self, upload: int) -> tuple[bytes, str]:
        """Return a scan as it came, and its media type.

        Raises:
            InputError: no such upload, or it is no picture.
        """
        with self._database.transaction() as t:
            row = t.maybe("upload_picture", id=upload)
        if row is None or not is_picture(bytes(row["data"])):
            raise InputError(f"Drawing {upload} is not a picture.", where="drawing")
        data = bytes(row["data"])
        return data, "image/png" if data.startswith(b"\x89PNG") else "image/jpeg"

    def new_job(self, wanted: NewJob, author: str) -> Revision:
        """Make a job from a drawing or from an outline of our own.

        Raises:
            InputError, GeometryError: what was chosen cannot be made.
        """
        try:
            kind = PieceKind(wanted.kind)
        except ValueError as exc:
            raise InputError(f"“{wanted.kind}” is not a piece that can be made. Choose one of {', '.join(PieceKind)}.", where="kind") from exc
        outline, inner = self._shapes(wanted)
        with self._database.transaction() as t:
            materials = list(shop_woods(t).values())
            gap = start_gap_here(t, str(wanted.machine.get("name", "")))
        start = Start(
            job=wanted.job,
            kind=kind,
            outline=outline,
            wood=wanted.wood,
            thickness_mm=wanted.thickness_mm,
            machine=wanted.machine,
            bits=wanted.bits,
            inner=inner,
            left_handed=wanted.left_handed,
            with_parts=wanted.with_parts,
            skim_mm=wanted.skim_mm,
            materials=materials,
            fit_gap_mm=gap,
        )
        if wanted.board is not None:
            route = start_route(start_board(start, wanted.board))
            return self._routes.create(route, author, "From the numbers of a board")
        if wanted.neck is not None:
            return self._routes.create(neck_route(start, wanted.neck), author, "From the numbers of a neck")
        what = f"From {self.state(wanted.upload)['name']}" if wanted.upload is not None else f"From the {wanted.style} outline"
        return self._routes.create(start_route(start), author, what)

    def _shapes(self, wanted: NewJob) -> tuple[Drawn, list[Inner]]:
        if wanted.board is not None:
            return Chain.model_validate(outline_of(wanted.board)), []
        if wanted.neck is not None:
            return Chain.model_validate(neck_outline(wanted.neck)), []
        if wanted.upload is None:
            if wanted.style not in set(Style):
                raise InputError(f"Choose an outline: {', '.join(Style)}, or bring in a drawing.", where="style")
            return body_outline(Style(wanted.style), wanted.style_length_mm, wanted.style_width_mm, wanted.waist, wanted.horn), []
        row = self.state(wanted.upload)
        loops = json.loads(row["result"]).get("loops", []) if row["status"] == "done" and row["result"] else []
        outlines = [c for c in wanted.choices if c.role == "outline"]
        if len(outlines) != 1:
            raise InputError(f"Choose one curve as the outline; {len(outlines)} are chosen.", where="choices")
        chosen = [outlines[0], *(c for c in wanted.choices if c.role != "outline")]
        if len(chosen) > MOST_INNER + 1:
            raise InputError(f"At most {MOST_INNER} curves inside an outline can be taken over.", where="choices")
        paths = [self._path(loops, c) for c in chosen]
        outline, inner = to_centre_line(paths[0], paths[1:], length_mm=wanted.scale_to_mm, turn_deg=wanted.turn_deg, centre_y_mm=wanted.centre_y_mm)
        return outline, [Inner(s, c.name or f"Curve {c.index + 1}", None if c.role == "through" else c.depth_mm or 5.0, Face.BACK if c.role == "back" else Face.FRONT, c.role == "reference",
                               str(loops[c.index].get("layer", ""))[:80]) for s, c in zip(inner, chosen[1:], strict=True)]

    @staticmethod
    def _path(loops: list[dict[str, Any]], choice: Choice) -> Path:
        if not 0 <= choice.index < len(loops):
            raise InputError(f"The drawing has no curve {choice.index + 1}.", where="choices")
        loop = loops[choice.index]
        if loop["crossing_mm"]:
            x, y = loop["crossing_mm"]
            raise InputError(
                f"Curve {choice.index + 1} crosses itself at x {mm(x):.1f}, y {mm(y):.1f} of the drawing. Mend it "
                f"there.",
                where="choices",
            )
        try:
            return _PATH.validate_python(loop["path"])
        except ValidationError as exc:
            raise InputError(f"Curve {choice.index + 1} cannot be used: {exc.errors()[0]['msg']}.", where="choices") from exc


def _known(unit: str | None) -> None:
    if unit is not None and unit not in UNITS:
        raise InputError(f"“{unit}” is not a unit known here. Use {', '.join(UNITS)}.", where="unit")
