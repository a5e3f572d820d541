"""The settings sheet: what the shop cuts each wood with, on one page or as CSV, and another shop's taken in as told."""

from __future__ import annotations

import csv
import io
from collections import defaultdict
from typing import Any

from ..core.bits.model import Bit
from ..core.cutting.limits import Question, customary_side
from ..core.cutting.question import answer
from ..core.cutting.records import Trial, hear, trust
from ..core.data import Wood, figures
from ..core.errors import BirchError, InputError
from ..core.machines import Machine
from ..core.quantities import Unit
from ..core.route import Settings
from ..core.vocabulary import CutKind, Origin, Outcome, Standing
from ..formats.table_text import read_table
from ..sheets.settings_sheet import settings_sheet_pdf
from .rack import Rack, unread

COLUMNS = ("bit_id", "wood_id", "cut", "feed_mm_min", "speed_rpm", "depth_of_cut_mm", "stepover_mm", "origin")
TRIED = 12  # good cuts looked at for a line of the sheet, the fastest first
FORMS = ("flat", "bull", "ball")


class SettingsSheets:
    """Settings sheets of the shop's machines."""

    def __init__(self, rack: Rack) -> None:
        self._rack = rack

    def file(self, machine: Machine, form: str, unit: Unit = Unit.MM) -> bytes:
        """Return the settings sheet of a machine as pdf or csv."""
        rows = self.rows(machine)
        if form == "pdf":
            return settings_sheet_pdf(machine.name, rows, unit)
        held = io.StringIO()
        out = csv.DictWriter(held, list(rows[0]) if rows else ["bit"], lineterminator="\n")
        out.writeheader()
        out.writerows(rows)
        return held.getvalue().encode()

    def rows(self, machine: Machine) -> list[dict[str, Any]]:
        """Return the sheet of a machine: a line for each bit and wood that was cut here, or that the bit is computed
        for in hardwood, with the origin of each."""
        known, out = self._rack.materials(), []
        here: dict[tuple[str, str, CutKind], list[Trial]] = defaultdict(list)
        for _, t, _ in self._rack.trials():
            if t.machine == machine.name and t.origin is Origin.OWN and t.wood in known:
                here[t.bit.id, t.wood, t.kind].append(t)
        always = {(w, CutKind.SLOT) for w in figures()["records"]["sheet_woods"]}
        for r in self._rack.rows():
            bit = Bit.model_validate(r["bit"])
            if r["state"] != "on_hand" or bit.form.value not in FORMS:
                continue
            mine = {(w, kind) for b, w, kind in here if b == bit.id}
            for wood_id, kind in sorted(mine | always, key=lambda k: (k[0], k[1].value)):
                out.append(_line(machine, bit, known[wood_id], kind, here.get((bit.id, wood_id, kind), [])))
        return out

    def take(self, text: str, machine: Machine, author: str) -> int:
        """Take another shop's settings sheet in as cuts told of; what was proven there is only told here, what was
        computed stays computed. Return how many; all or none.

        Raises:
            InputError: a line that cannot be read, with its number.
        """
        columns, rows = read_table(text)
        missing = [c for c in COLUMNS if c not in columns]
        if missing:
            raise InputError(f"This is no settings sheet: it lacks {', '.join(missing)}.", where="line 1")
        bits = {r["bit"]["id"]: Bit.model_validate(r["bit"]) for r in self._rack.rows()}
        known, read = self._rack.materials(), []
        for n, row in enumerate(rows, 2):
            try:
                if row["wood_id"] not in known:
                    raise ValueError(f"“{row['wood_id']}” is no material of this shop")
                if row["bit_id"] not in bits:
                    raise ValueError(f"there is no bit {row['bit_id']} on this rack; bring the rack in first")
                feed = float(row["feed_mm_min"])
                rest = {k: float(row[k]) for k in ("speed_rpm", "depth_of_cut_mm", "stepover_mm")}
                plunge = float(row.get("plunge_mm_min") or figures()["plunge"]["part"] * feed)
                settings = Settings(feed_mm_min=feed, plunge_mm_min=plunge, **rest)
                read.append(Trial(
                    machine=row.get("machine") or machine.name,
                    machine_class=row.get("machine_class") or machine.machine_class.value,
                    bit=bits[row["bit_id"]], wood=known[row["wood_id"]].id, kind=CutKind(row["cut"]),
                    settings=settings, outcome=Outcome.FINE,
                    origin=Origin.COMPUTED if row["origin"] == "computed" else Origin.TOLD,
                    note="From a settings sheet"))
            except (ValueError, BirchError) as exc:
                raise unread(n, exc) from exc
        self._rack.keep_trials(read, author)
        return len(read)


def _line(machine: Machine, bit: Bit, of: Wood, kind: CutKind, here: list[Trial]) -> dict[str, Any]:
    """Return a line of the sheet: the fastest cut that is proven here, or what is computed."""
    q = Question(machine, bit, of, kind, customary_side(bit, kind))
    heard = hear(q, here)
    fine = [t for t in here if t.outcome is Outcome.FINE]
    good = sorted(fine, key=lambda t: -t.settings.feed_mm_min * t.settings.depth_of_cut_mm)[:TRIED]
    best = next((t for t in good if trust(q, t.settings, heard).standing is Standing.PROVEN), None)
    s = best.settings if best else answer(q).settings
    return {
        "machine": machine.name, "machine_class": machine.machine_class.value, "bit_id": bit.id, "bit": bit.name,
        "wood_id": of.id, "wood": of.name, "cut": kind.value, "feed_mm_min": s.feed_mm_min,
        "plunge_mm_min": s.plunge_mm_min, "speed_rpm": s.speed_rpm, "depth_of_cut_mm": round(s.depth_of_cut_mm, 3),
        "stepover_mm": round(s.stepover_mm, 3), "origin": "proven" if best else "computed",
    }
