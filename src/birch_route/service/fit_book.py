"""Use cases over fits: how parts went into their pockets, and what the next one starts from."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from ..core.errors import InputError
from ..core.fits import (
    Fit,
    KeptFit,
    Went,
    fit_of,
    fits_of,
    gap_edits,
    ladder_of,
    past_edits,
    past_line,
    said_gap,
    said_past,
    start_gap,
)
from ..core.quantities import mm
from ..core.route import Route, read_route
from ..core.vocabulary import PartKind
from ..store.database import Database, Row, Transaction

MOST_OFF_MM = 3.0  # a finished pocket is no farther from its drawing; a reading beyond is a slip


class FitBook:
    """What fitted in this shop. Everything only grows."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def keep(
        self, route_id: int, revision: int, feature: str, went: Went, left_mm: float | None,
        measured_mm: float | None, note: str, author: str,
    ) -> None:
        """Keep how a part went in.

        Args:
            left_mm: on each wall when it was tried; None: as drawn, or what the last pass leaves.
            measured_mm: the finished pocket across, where Fit.across says.

        Raises:
            InputError: no such revision, nothing measured goes in there, or a reading that cannot be.
        """
        with self._database.transaction() as t:
            route = _revision(t, route_id, revision)
            fit = fit_of(route, feature)
            left = fit.left[-1] if left_mm is None else left_mm
            if not any(abs(left - v) < 1e-6 for v in fit.left):
                raise InputError(f"Nothing leaves {mm(left):g} on the walls of {fit.name}.", where="left_mm")
            if measured_mm is not None and abs(measured_mm - fit.drawn_mm) > MOST_OFF_MM:
                raise InputError(
                    f"{fit.name} is drawn {mm(fit.drawn_mm):.2f} {fit.across}; {mm(measured_mm):.2f} is no reading "
                    "of it. Measure it again.", where="measured_mm",
                )
            t.one(
                "add_fit", route=route_id, revision=revision, feature=feature, part_kind=fit.part_kind.value,
                wood=route.blank.wood, machine=route.machine.name, bit=fit.bit, drawn_mm=fit.drawn_mm,
                part_mm=fit.part_mm, gap_mm=fit.gap_mm, left_mm=left, measured_mm=measured_mm, went=went.value,
                note=note, made_by=author,
            )

    def withdraw(self, route_id: int, fit: int, author: str) -> None:
        """Take one back; it stays in the book and counts no more.

        Raises:
            InputError: there is none such of this job, or it was withdrawn already.
        """
        with self._database.transaction() as t:
            if t.maybe("withdraw_fit", fit=fit, route=route_id, made_by=author) is None:
                raise InputError(f"This job has no fit {fit} that counts.", where="fit")

    def of_route(self, route_id: int) -> list[dict[str, Any]]:
        """Return every pocket of a job's newest revision that a measured part goes into, with what was kept of it and
        what the shop's records offer."""
        with self._database.transaction() as t:
            row = t.maybe("latest_revision", route=route_id)
            if row is None:
                raise InputError(f"There is no route {route_id}.", where="route")
            route = read_route(json.loads(row["document"]))
            found = fits_of(route)
            kept = t.all("fits_of_route", route=route_id)
            counting = _counting(t, route.machine.name, [f.part_kind for f in found], [f.bit for f in found])
        return [_told(route, f, [k for k in kept if k["feature"] == f.feature], counting) for f in found]


def start_gap_here(t: Transaction, machine: str) -> float | None:
    """Return the gap that a new job's neck starts with where necks fitted before on this machine, mm."""
    found = start_gap(_counting(t, machine, [PartKind.NECK], []), PartKind.NECK, machine)
    return found.value_mm if found is not None and found.here else None


def _counting(t: Transaction, machine: str, kinds: Sequence[PartKind], bits: Sequence[str]) -> list[KeptFit]:
    rows = t.all("fits_that_count", machine=machine, kinds=[k.value for k in kinds], bits=list(bits))
    return [KeptFit(**{**r, "part_kind": PartKind(r["part_kind"]), "went": Went(r["went"])}) for r in rows]


def _revision(t: Transaction, route_id: int, revision: int) -> Route:
    row = t.maybe("revision", route=route_id, number=revision)
    if row is None:
        raise InputError(f"There is no revision {revision} of route {route_id}.", where="revision")
    return read_route(json.loads(row["document"]))


def _told(route: Route, fit: Fit, kept: list[Row], counting: Sequence[KeptFit]) -> dict[str, Any]:
    gap = start_gap(counting, fit.part_kind, route.machine.name)
    crept = len(fit.left) > 1  # a part is tried between passes: nothing is to be reckoned for it
    past = None if crept else past_line(counting, route.machine.name, fit.bit)
    name = route.bit(fit.bit).name
    ladder = ladder_of(fit)
    return {
        "ladder": None if ladder is None else asdict(ladder),
        "feature": fit.feature, "name": fit.name, "across": fit.across, "drawn_mm": fit.drawn_mm,
        "part_mm": round(fit.part_mm, 3), "gap_mm": round(fit.gap_mm, 4), "left_mm": list(fit.left),
        "kept": [{**k, "made_at": k["made_at"].isoformat()} for k in kept],
        "gap": None if gap is None else {"words": said_gap(gap, fit), "edits": gap_edits(fit, gap)},
        "past": None if past is None else {"words": said_past(past, name), "edits": past_edits(route, fit, past)},
    }
