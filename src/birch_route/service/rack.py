"""Use cases over the rack: bits as they hang in the shop, what they did, cuts with what became of them, and the questions settings are asked for."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import asdict, replace
from typing import Any

from pydantic import ValidationError

from ..core.bits.life import Life, forecast, life
from ..core.bits.model import Bit
from ..core.cutting.limits import Question, around_the_turn
from ..core.cutting.question import WORDS, Answer, answer, judge
from ..core.cutting.rack import Choice, choices, table
from ..core.cutting.records import Lent, Trial, Trust, hear, knowing, lend, test_plan, trust
from ..core.cutting.shop import OnRack
from ..core.cutting.trade import Place, minutes_of, trade
from ..core.data import Wood, figures, starting_bits, woods
from ..core.errors import InputError
from ..core.instrument.resolve import resolve
from ..core.jigs.coupon import fit_job, slots_job
from ..core.materials.layers import wood_met
from ..core.materials.own import species
from ..core.route import Route, Settings
from ..core.sequence.surfaces import ridge_between
from ..core.vocabulary import (
    Aim,
    BitForm,
    CutKind,
)
from ..formats.table_text import read_table
from ..jobs.proof_version import made_with
from ..store.database import Database, json_value
from .cuts import CutShelf, keep_cuts
from .woods import known_wood, own_woods, shop_woods

COLUMNS = ("id", "name", "form", "diameter_mm", "measured_diameter_mm", "corner_radius_mm", "included_angle_deg", "tip_diameter_mm", "flutes", "flute", "helix_deg", "cutting_length_mm", "shank_diameter_mm",
           "stickout_mm", "material", "cuts_at_centre", "serrated", "number", "price", "spares", "note", "state")
OF_SHOP = ("number", "price", "spares", "note", "state")
NONE = {"number": "", "price": None, "spares": 0, "note": "", "state": "on_hand"}


class Rack:
    """The bits of the shop. starting: those it has until it says otherwise; None: the packaged ones."""

    def __init__(self, database: Database, starting: Sequence[dict[str, Any]] | None = None) -> None:
        self._database, self._starting = database, starting_bits() if starting is None else starting
        self.cuts = CutShelf()

    def bits(self) -> list[dict[str, Any]]:
        """Return the bits on hand as a route takes them: none that undercuts."""
        return [v.bit.model_dump(mode="json") for v in self.on_hand().values() if not v.bit.undercuts]

    def rows(self, ahead: bool = True) -> list[dict[str, Any]]:
        """Return every bit: what it is, what the shop says of it, its life, and, where it is asked ahead, what the jobs to come ask of it."""
        with self._database.transaction() as t:
            kept = {r["bit"]: r for r in t.all("rack")}
            notes = t.all("bit_notes")
            to_come = t.all("metres_to_come", made_with=made_with(), jobs=TO_COME) if ahead else []
            own = own_woods(t)
        out = []
        known = {b["id"]: {**NONE, "data": b} for b in self._starting} | {k: {**{n: r[n] for n in OF_SHOP}, "data": r["data"]} for k, r in kept.items()}
        for id_, r in known.items():
            bit = Bit.model_validate(r["data"])
            mine = [n for n in notes if n["bit"] == id_]
            found = life(bit, mine, own)
            lived = {**asdict(found), "left_m": found.left_m, "is_low": found.is_low}
            coming = {"forecast": asdict(forecast(found, _jobs(to_come, id_), own))} if ahead else {}
            told = [{**n, "made_at": n["made_at"].isoformat()} for n in mine[:20]]
            shown = {n: r[n] for n in OF_SHOP}
            out.append({"bit": bit.model_dump(mode="json"), **shown, "life": lived, **coming, "notes": told})
        return sorted(out, key=lambda r: (r["state"] != "on_hand", r["bit"]["form"] == "drill", r["bit"]["form"] != "flat", -r["bit"]["diameter_mm"]))

    def keep(self, bit: Bit, of_shop: dict[str, Any], author: str) -> list[dict[str, Any]]:
        """Say what a bit of the rack is now."""
        with self._database.transaction() as t:
            t.one("add_rack_bit", bit=bit.id, data=json_value(bit.model_dump(mode="json")), made_by=author, **{**NONE, **of_shop})
        return self.rows()

    def note(self, bit: str, values: dict[str, Any], author: str) -> list[dict[str, Any]]:
        """Note what a bit did or what was measured on it: a measured diameter is what the bit cuts from then on; a new one in its place comes out of the spares.

        Raises:
            InputError: no such bit, or an unknown wood.
        """
        rows = self.rows(False)
        if not any(r["bit"]["id"] == bit for r in rows):
            raise InputError(f"There is no bit {bit} on the rack.", where="bit")
        with self._database.transaction() as t:
            if values.get("wood"):
                known_wood(t, values["wood"])
            t.one("add_bit_note", bit=bit, made_by=author, run=None, **values)
            if values["diameter_mm"] or values["what"] == "new":  # a reading is what it cuts from now on; a new one is as its maker says until it is measured
                r = next(r for r in rows if r["bit"]["id"] == bit)
                now = Bit.model_validate({**r["bit"], "measured_diameter_mm": values["diameter_mm"]})
                t.one("add_rack_bit", bit=bit, data=json_value(now.model_dump(mode="json")), made_by=author, **{**{n: r[n] for n in OF_SHOP}, **({"spares": max(0, r["spares"] - 1)} if values["what"] == "new" else {})})
        return self.rows()

    def to_csv(self) -> str:
        """Return the rack as CSV, one line a bit."""
        held = io.StringIO()
        out = csv.DictWriter(held, COLUMNS, lineterminator="\n")
        out.writeheader()
        for r in self.rows():
            out.writerow({k: v for k, v in ({**r["bit"], **{n: r[n] for n in OF_SHOP}}).items() if k in COLUMNS and v is not None})
        return held.getvalue()

    def from_csv(self, text: str, author: str) -> list[dict[str, Any]]:
        """Take bits in from CSV: those with an id that is known are changed, others added; all or none.

        Raises:
            InputError: a column or a line that cannot be read, with its number.
        """
        columns, rows = read_table(text)
        unknown = [c for c in columns if c not in COLUMNS]
        if unknown or "id" not in columns:
            raise InputError(f"These columns are not known: {', '.join(unknown)}. Known are {', '.join(COLUMNS)}." if unknown else "The first line must name the columns, id among them.", where="line 1")
        read = []
        for n, row in enumerate(rows, 2):
            values = {k: v.strip() for k, v in row.items() if k and v.strip() != ""}
            of_shop = {**NONE, **{k: values.pop(k) for k in OF_SHOP if k in values}}
            try:
                of_shop["price"] = None if of_shop["price"] is None else float(of_shop["price"])
                of_shop["spares"] = int(of_shop["spares"])
                if of_shop["state"] not in ("on_hand", "retired"):
                    raise ValueError("state is on_hand or retired")
                if not 0 <= (of_shop["price"] or 0.0) <= 10_000 or not 0 <= of_shop["spares"] <= 100 or max(len(of_shop["number"]), len(of_shop["note"])) > 1000:
                    raise ValueError("a price lies between 0 and 10000, spares between 0 and 100, number and note have no more than 1000 letters")
                read.append((Bit.model_validate(values), of_shop))
            except ValueError as exc:  # pydantic's is one
                raise unread(n, exc) from exc
        with self._database.transaction() as t:
            for bit, of_shop in read:
                t.one("add_rack_bit", bit=bit.id, data=json_value(bit.model_dump(mode="json")), made_by=author, **of_shop)
        return self.rows()

    def trials(self, q: Question | None = None) -> list[tuple[int, Trial, dict[str, Any]]]:
        """Return the cuts that count: number, cut, who kept it and when; for a question those of its own ground and the newest of other ground."""
        with self._database.transaction() as t:
            own = own_woods(t)
            ground = {} if q is None else {"machine": q.machine.name, "bit": q.bit.id, "wood": q.wood.id}
            rows = t.all("trials") if q is None else t.all("trials_for", **ground, others=LENDERS)
            cuts = self.cuts.of(t, [r["id"] for r in rows], own)
        return [
            (r["id"], cut, {"made_by": r["made_by"], "made_at": r["made_at"].isoformat()})
            for r, cut in zip(rows, cuts, strict=True)
        ]

    def add_trial(self, trial: Trial, author: str) -> int:
        """Keep a cut and what became of it.

        Raises:
            InputError: an unknown wood.
        """
        return self.keep_trials([trial], author)[0]

    def keep_trials(self, cuts: Sequence[Trial], author: str) -> list[int]:
        """Keep cuts, all or none; return their numbers."""
        with self._database.transaction() as t:
            return keep_cuts(t, cuts, author)

    def materials(self) -> dict[str, Wood]:
        """Return every material by id, as the shop has it."""
        with self._database.transaction() as t:
            return {**woods(), **shop_woods(t)}

    def on_hand(self) -> dict[str, OnRack]:
        """Return the bits on hand by id as they are now, each with its life."""
        return {r["bit"]["id"]: OnRack(Bit.model_validate(r["bit"]), Life(**{k: v for k, v in r["life"].items() if k not in ("left_m", "is_low")})) for r in self.rows(False) if r["state"] == "on_hand"}

    def withdraw(self, number: int, author: str) -> None:
        """Take a cut back: it stays in the books and counts no more.

        Raises:
            InputError: there is no such cut.
        """
        with self._database.transaction() as t:
            r = t.maybe("trial", id=number)
            if r is None:
                raise InputError(f"There is no record {number}, or it was withdrawn already.", where="trial")
            same = {k: r[k] for k in ("machine", "bit", "wood", "origin")}
            t.one("add_trial", **same, data=json_value(r["data"]), withdraws=number, run=None, made_by=author)

    def ask(self, q: Question, settings: Settings | None) -> dict[str, Any]:
        """Return what a question about settings brings: careful, fast and quiet, each with what the shop's records say of it; those asked about; what other ground lends; the records of this ground."""
        known = self.trials(q)
        cuts = [t for _, t, _ in known]
        heard = hear(q, cuts)
        q = knowing(q, heard)
        answers = {aim: answer(q, aim) for aim in Aim}
        careful = answers[Aim.CAREFUL]
        wanted = None if settings is None else _judged(q, settings)
        now = trust(q, (wanted or careful).settings, heard)
        doubted = {id(t): why for t, why in now.doubted}
        mine = [
            (n, t, by) for n, t, by in known
            if t.machine == q.machine.name and t.bit.id == q.bit.id and t.wood == q.wood.id and t.kind is q.kind
        ]

        def with_trust(a: Answer) -> dict[str, Any]:
            return {**_answer(a, q), "trust": trust_out(trust(q, a.settings, heard))}

        removes = answers[Aim.QUIET].removes_cm3_min
        return {
            "window_mm": [q.window.careful, q.window.bold],
            "answers": {aim.value: with_trust(a) for aim, a in answers.items()},
            "wanted": None if wanted is None else {**_answer(wanted, q), "trust": trust_out(now)},
            "lent": [_lent(one, careful, q) for one in lend(q, cuts)[:4]],
            "trials": [_shown(n, t, by, doubted.get(id(t), "")) for n, t, by in mine[:SHOWN]],
            "trials_in_all": len(mine),
            "trade": [_place(p) for p in trade(q, answers[Aim.QUIET], answers[Aim.FAST])],
            "per": "metre" if q.deep_mm else "100 cm3",
            "quiet_costs": careful.removes_cm3_min / removes if removes > 0 else None,
        }

    def plan(self, q: Question, settings: Settings) -> dict[str, Any]:
        """Return a test plan on scrap: its slots and the rule to stop by."""
        steps, rule = test_plan(q, settings, [t for _, t, _ in self.trials(q)])
        return {"rule": rule, "steps": [{"number": s.number, "settings": s.settings.model_dump(), "chip_mm": s.chip_mm, "standing": s.standing.value} for s in steps]}

    def slots(self, q: Question, settings: Settings) -> Route:
        """Return the slots of a test plan as a job on scrap."""
        return slots_job(q, test_plan(q, settings, [t for _, t, _ in self.trials(q)])[0])

    def fit(self, route: Route, across_mm: float, first_gap_mm: float, step_mm: float, count: int) -> Route:
        """Return a ladder of pockets for something so wide as a job on scrap, in the wood and on the machine of a route."""
        bits = {b.id: b for b in [*(Bit.model_validate(b) for b in self.bits()), *route.bits]}
        of = species(route, route.blank.wood)
        return fit_job(route.machine, list(bits.values()), of, across_mm, first_gap_mm, step_mm, count)

    def for_feature(self, route: Route, feature: str) -> list[dict[str, Any]]:
        """Return what each bit would reach, leave and take of a feature.

        Raises:
            InputError: the piece has no such feature, or its part is not measured.
        """
        resolved = resolve(route)
        if feature not in resolved.solids:
            raise InputError(f"There is no feature {feature} with a shape here.", where="feature")
        solid = resolved.solid(feature)
        prices = {r["bit"]["id"]: r["price"] for r in self.rows(False)}
        bits = {b.id: b for b in [*(v.bit for v in self.on_hand().values()), *route.bits]}
        met = wood_met(route, solid.floor_mm)
        found = choices(solid, list(bits.values()), met, route.machine, resolved.thickness_mm)

        lives = self.on_hand()

        def wears(c: Choice) -> tuple[float | None, float | None]:
            """What part of its life it takes, and what that part cost where its price is known."""
            if c.not_for or c.bit.id not in lives:
                return None, None
            part = lives[c.bit.id].life.takes(c.metres, met)
            price = prices.get(c.bit.id)
            return part, None if price is None else part * price
        return [{"bit": c.bit.id, "name": c.bit.name, "not_for": c.not_for, "cares": c.cares, "leaves_mm2": c.leaves_mm2, "reaches_mm": c.reaches_mm, "minutes": None if c.not_for else c.minutes, "wears_part": wears(c)[0], "costs": wears(c)[1],
                 "in_route": any(b.id == c.bit.id for b in route.bits)} for c in found]

    def matrix(self, route: Route) -> dict[str, Any]:
        """Return what each bit would do of every feature, the bit that serves most first, and how few do for all."""
        resolved = resolve(route)
        bits = list({b.id: b for b in [*(v.bit for v in self.on_hand().values()), *route.bits]}.values())
        found = table(
            [(s, wood_met(route, s.floor_mm)) for s in resolved.solids.values() if not s.is_contour],
            bits,
            route.machine,
            resolved.thickness_mm,
        )
        least, left = found.least, found.left
        names = {b.id: b.name for b in bits}
        words = f"{'One bit does' if len(least) == 1 else f'{len(least)} bits do'} for {'all else' if left else 'all'}: {', '.join(names[b] for b in least)}" if least else ""
        words = ". ".join(w for w in (f"No bit of the rack makes all of {', '.join(resolved.solid(f).name.lower() for f in left)}" if left else "", words) if w)
        return {
            "features": [{"id": f, "name": resolved.solid(f).name} for f in found.features],
            "words": f"{words}.",
            "bits": sorted(
                (
                    {
                        "bit": b.id,
                        "name": b.name,
                        "serves": len(found.serves[b.id]),
                        "cells": [
                            {
                                "minutes": None if c.not_for else c.minutes,
                                "leaves_mm2": c.leaves_mm2,
                                "words": c.not_for,
                            }
                            for c in found.cells[b.id]
                        ],
                    }
                    for b in bits
                ),
                key=lambda r: -r["serves"],
            ),
        }


def _jobs(to_come: Sequence[dict[str, Any]], bit: str) -> list[tuple[str, dict[str, float]]]:
    """Return what each job to come cuts with a bit, by wood, in order."""
    out: dict[int, tuple[str, dict[str, float]]] = {}
    for r in to_come:
        if r["bit"] == bit:
            out.setdefault(r["route"], (r["job"], {}))[1][r["wood"]] = r["metres"]
    return list(out.values())


TO_COME = 40  # jobs not run yet that a forecast looks at, the newest
LENDERS = 140  # of other ground, the newest: what may lend
SHOWN = 40  # cuts of this ground that an answer carries, the newest


def unread(n: int, exc: Exception) -> InputError:
    """Return what to say of a line that cannot be read."""
    words = str(exc)
    if isinstance(exc, ValidationError):
        first = exc.errors()[0]
        words = f"{'.'.join(map(str, first['loc'])) or 'the bit'}: {first['msg']}"
    return InputError(f"Line {n}: {words.removesuffix('.')}.", where=f"line {n}")


def _judged(q: Question, settings: Settings) -> Answer:
    """Return what comes of settings that were asked about, as wide as they say."""
    asked = replace(q, side_mm=settings.stepover_mm)
    return judge(
        asked, settings.feed_mm_min, settings.speed_rpm, settings.depth_of_cut_mm, settings.plunge_mm_min
    )


def _shown(n: int, t: Trial, by: dict[str, Any], doubted: str) -> dict[str, Any]:
    return {
        "id": n, "words": t.words, "outcome": t.outcome.value, "origin": t.origin.value,
        "settings": t.settings.model_dump(), "chip_mm": t.chip_mm, "note": t.note, "doubted": doubted, **by,
    }


def _answer(a: Answer, q: Question) -> dict[str, Any]:
    s = a.settings
    return {"turn_n": [round(float(v), 2) for v in around_the_turn(q, s.feed_mm_min, s.speed_rpm, s.depth_of_cut_mm, s.stepover_mm)], "settings": a.settings.model_dump(), "entry": a.entry.value, "ramp_deg": a.ramp_deg, "way_mm": a.way_mm, "turns": a.turns(q.bit), "helix_mm": 2 * figures()["entry"]["helix_radius_part"] * q.bit.cut_diameter_mm, "ridge_mm": ridge_between(s.stepover_mm, q.bit.radius_mm, 0.0) if q.bit.form is BitForm.BALL and q.kind is not CutKind.SLOT else None, "direction": a.direction.value, "keeps": a.keeps, "binds": a.binds.value, "binds_words": WORDS[a.binds],
            "parts": {k.value: round(v, 4) for k, v in a.parts.items()}, "force_n": a.force_n, "power_w": a.power_w, "bend_mm": a.bend_mm, "chip_mm": a.chip_mm, "mean_mm": a.mean_mm, "removes_cm3_min": a.removes_cm3_min, "reasons": a.reasons,
            "ranges": {k: {"low": r.low, "high": r.high, "low_by": r.low_by and r.low_by.value, "high_by": r.high_by and r.high_by.value, "low_words": WORDS[r.low_by] if r.low_by else "", "high_words": WORDS[r.high_by] if r.high_by else "", "is_empty": r.is_empty} for k, r in a.ranges.items()}}


def _place(p: Place) -> dict[str, Any]:
    return {"at": p.at, "settings": p.settings.model_dump(), "chip_mm": p.chip_mm, "minutes": p.minutes, "force_n": p.force_n, "rim_m_s": p.rim_m_s, "binds": p.binds.value, "used": p.used}


def trust_out(t: Trust) -> dict[str, Any]:
    return {"standing": t.standing.value, "low_mm": t.low_mm, "high_mm": t.high_mm, "fails_mm": t.fails_mm, "burns_mm": t.burns_mm, "beyond": t.beyond, "count": t.count, "near": len(t.near), "doubted": len(t.doubted)}


def _lent(one: Lent, careful: Answer, q: Question) -> dict[str, Any]:
    s = one.settings
    return {"from": one.words, "words": one.trial.words, "settings": s.model_dump(), "far": one.far, "risk": one.risk, "derated": one.derated, "origin": one.trial.origin.value,
            "minutes": minutes_of(q, s), "more_minutes": minutes_of(q, s) - minutes_of(q, careful.settings), "times_as_long": careful.removes_cm3_min / max(1e-9, s.feed_mm_min * s.depth_of_cut_mm * min(s.stepover_mm, q.bit.cut_diameter_mm) / 1000)}
