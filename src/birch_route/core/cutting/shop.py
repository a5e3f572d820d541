"""What the shop's own books say of a route: cuts that failed or went well here, bits that were measured or are nearly worn, brushes, rates changed at the machine."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..bits.life import Life, wear_of
from ..bits.model import Bit
from ..brushes import Brushes
from ..data import figures
from ..instrument.resolve import Resolved, resolve
from ..proving.findings import Cure, Fact, Finding, by_severity, finding
from ..quantities import metre, mm, named_rate, rate
from ..route import Operation, Route, Settings
from ..vocabulary import Clearing, OperationKind, Outcome, Standing
from .limits import Question
from .ran import Change, cut_of
from .records import GOOD, Heard, Trial, Trust, hear, trust

FIELDS = ("feed_mm_min", "plunge_mm_min", "speed_rpm", "depth_of_cut_mm")
SURFACES = (OperationKind.SURFACE_ROUGH, OperationKind.SURFACE_FINISH)
SAME = 0.02  # a smaller difference of a setting is none


@dataclass(frozen=True)
class OnRack:
    """A bit as it hangs in the shop now, and its life."""

    bit: Bit
    life: Life


@dataclass(frozen=True)
class Said:
    """What records say of an operation. best: the fastest cut of this ground that went well, is no narrower, and was not contradicted; times: how many times as fast. None: there is none that is faster."""

    operation: Operation
    question: Question
    settings: Settings
    trust: Trust
    best: Trial | None
    times: float

    @property
    def edits(self) -> list[dict[str, object]]:
        """The edits that take the best cut's settings."""
        return [] if self.best is None else _edits(self.operation, self.best.settings)


def _edits(op: Operation, s: Settings) -> list[dict[str, object]]:
    """Return the edits that give an operation settings; a surface's depth follows its ridge, an engaged one's its engagement."""
    fields = FIELDS[:3] if op.kind in SURFACES or op.clearing is Clearing.ENGAGED else FIELDS
    return [{"do": "set", "path": f"operations.{op.id}.settings.{f}", "value": round(getattr(s, f), 3)} for f in fields if abs(getattr(s, f) / getattr(op.settings, f) - 1) > 1e-6]


def of_operations(route: Route, rows: Sequence[Mapping[str, Any]], trials: Sequence[Trial]) -> list[Said]:
    """Return what the records of the shop say of every operation they are asked of, in the order of the proof."""
    out, resolved = [], resolve(route)
    for row in rows:
        op, cut = route.operation(row["id"]), cut_of(route, row)
        if op is None or cut is None:
            continue
        q, s = cut
        deep = 0.0 if op.kind in SURFACES or op.clearing is Clearing.ENGAGED else _deep(route, resolved, op)
        heard = hear(q, trials)
        best, times = _best(q, s, heard, op.settings, deep)
        out.append(Said(op, q, s, trust(q, s, heard), best, times))
    return out


def _deep(route: Route, resolved: Resolved, op: Operation) -> float:
    """Return how deep an operation goes in all, mm; 0 where its passes do not follow from that."""
    solids = [resolved.solids[f] for f in op.features if f in resolved.solids]
    if not solids or op.down_to_mm is not None or op.groove_mm is not None:
        return op.down_to_mm or op.groove_mm or 0.0
    return max(route.blank.thickness_mm + op.overcut_mm if s.floor_mm is None else s.deep_mm(resolved.thickness_mm) for s in solids)


def _best(q: Question, s: Settings, heard: Heard, now: Settings, deep: float) -> tuple[Trial | None, float]:
    """Return the cut of this ground that would be through soonest, and by how much: it went well, nothing contradicts it, and it was no narrower than the one asked about; nothing where none is faster.

    Args:
        deep: in all, mm; the passes share it evenly. 0: the depth of a pass stays, and a cut must have been no shallower.
    """
    good = [
        t for t in heard.kept
        if t.outcome is Outcome.FINE and t.settings.stepover_mm >= s.stepover_mm * (1 - SAME)
        and (deep > 0 or t.settings.depth_of_cut_mm >= s.depth_of_cut_mm * (1 - SAME))
    ]

    def takes(one: Settings) -> float:
        return (math.ceil(deep / one.depth_of_cut_mm - 1e-6) if deep > 0 else 1) / one.feed_mm_min
    good = sorted((t for t in good if takes(now) / takes(t.settings) > 1 + SAME), key=lambda t: takes(t.settings))
    best = next((t for t in good if trust(q, t.settings, heard).standing is Standing.PROVEN), None)
    return best, takes(now) / takes(best.settings) if best else 1.0


def findings_of(route: Route, said: Sequence[Said], rack: Mapping[str, OnRack], metres: Mapping[tuple[str, str], float], brushes: Brushes | None, changed: Sequence[Change]) -> list[Finding]:
    """Return what the books say that deserves a look, the gravest first.

    Args:
        rack: bits on hand by id. metres: that this route cuts, by bit and wood. brushes: of its machine, with this job. changed: rates changed at the machine.
    """
    out = [f for one in said if (f := _failed(one)) is not None]
    used = {o.bit for o in route.operations}
    for bit in route.bits:
        if bit.id in rack and bit.id in used:
            mine = {w: m for (b, w), m in metres.items() if b == bit.id}
            out += _measured(route, bit, rack[bit.id]) + _worn(route, bit, rack[bit.id], mine)
    if brushes is not None and brushes.words:
        out.append(finding("shop.brushes_due", f"{route.machine.name}: {brushes.words}.", facts=[Fact(name="left", value=round(brushes.left_h, 2), unit="h"), Fact(name="job", value=round(brushes.job_h, 2), unit="h")]))
    for c in changed:
        out.append(
            finding(
                "shop.changed_at_machine",
                f"{c.name}: the last run went {c.outcome.value} at {named_rate(c.ran.feed_mm_min):g} and "
                f"{c.ran.speed_rpm:g} rpm; the route says {rate(c.was.feed_mm_min):g} and {c.was.speed_rpm:g}.",
                operation=c.operation,
                facts=[
                    Fact(name="feed_ran", value=c.ran.feed_mm_min, unit="mm/min", source="record"),
                    Fact(name="feed", value=c.was.feed_mm_min, unit="mm/min", source="route"),
                ],
                cures=[Cure(sentence="Take what it ran at", edits=c.edits)],
            )
        )
    return by_severity(out)


def _failed(one: Said) -> Finding | None:
    t, s, q = one.trust, one.settings, one.question
    if t.standing is not Standing.FAILED:
        return _once(one)
    chip = s.feed_mm_min / (s.speed_rpm * q.bit.flutes)
    burns = t.burns_mm is not None and chip <= t.burns_mm * 1.001
    limit = (t.burns_mm if burns else t.fails_mm) or 0.0
    feed = limit * s.speed_rpm * q.bit.flutes
    good = [t.low_mm, t.high_mm] if t.low_mm is not None and t.high_mm is not None else []
    cures = []
    inside = next((g for g in (good if burns else reversed(good)) if (g > limit * 1.001 if burns else g < limit * 0.999)), None)
    if inside is not None:
        to = round(inside * s.speed_rpm * q.bit.flutes, 1)
        cures = [
            Cure(
                sentence=f"Feed {rate(to):g}, which went well here",
                edits=[{"do": "set", "path": f"operations.{one.operation.id}.settings.feed_mm_min", "value": to}],
            )
        ]
    words = (
        f"it burned here at a feed of {rate(feed):.0f} and thicker chips were needed"
        if burns
        else f"a cut no harder failed here, from a feed of {rate(feed):.0f} on"
    )
    return finding(
        "shop.failed_before",
        f"{one.operation.name}, feed {named_rate(s.feed_mm_min):g}, {mm(s.depth_of_cut_mm):.1f} deep in "
        f"{q.wood.name.lower()}: {words}.",
        operation=one.operation.id,
        facts=[
            Fact(name="chip_load", value=round(chip, 4)),
            Fact(name="limit", value=round(limit, 4), source="record"),
            Fact(name="deep", value=round(s.depth_of_cut_mm, 3)),
        ],
        cures=cures,
    )


def _once(one: Said) -> Finding | None:
    """Return what to say of a failure of this very cut that is not counted, because others no easier went well."""
    q, s = one.question, one.settings
    chip = s.feed_mm_min / (s.speed_rpm * q.bit.flutes)
    near = figures()["records"]["like_part"]
    for t, why in one.trust.doubted:
        like = all(abs(a / b - 1) <= near for a, b in ((t.chip_mm, chip), (t.settings.depth_of_cut_mm, s.depth_of_cut_mm), (t.settings.stepover_mm, s.stepover_mm)))
        if t.outcome not in GOOD and like:
            return finding("shop.failed_once", f"{one.operation.name}: this cut went {t.outcome.value} here once{f' ({t.note})' if t.note else ''}, but {why}. Look at how the wood was held there, at the bit's edge and how far it stood out, before the feed.", operation=one.operation.id,
                           facts=[Fact(name="chip_load", value=round(chip, 4)), Fact(name="failed_at", value=round(t.chip_mm, 4), source="record")])
    return None


def _measured(route: Route, bit: Bit, on: OnRack) -> list[Finding]:
    measured = on.bit.measured_diameter_mm
    if measured is None or abs(measured - bit.cut_diameter_mm) < 0.005:
        return []
    return [
        finding(
            "shop.bit_measured",
            f"{bit.name} was measured {mm(measured):.2f} at the rack; this route reckons with "
            f"{mm(bit.cut_diameter_mm):.2f}.",
            facts=[
                Fact(name="measured", value=measured, source="reading"),
                Fact(name="reckoned", value=bit.cut_diameter_mm, source="route"),
            ],
            cures=[
                Cure(
                    sentence=f"Reckon with {mm(measured):.2f}",
                    edits=[{"do": "set", "path": f"bits.{bit.id}.measured_diameter_mm", "value": measured}],
                )
            ],
        )
    ]


def _worn(route: Route, bit: Bit, on: OnRack, metres: Mapping[str, float]) -> list[Finding]:
    own = {w.id: w for w in route.materials}
    asks = sum(m * wear_of(w, own) for w, m in metres.items())
    if not metres or on.life.limit_m <= 0 or on.life.worn_m == 0 or asks <= on.life.left_m:
        return []
    return [
        finding(
            "shop.bit_worn",
            f"{bit.name} is worn like {metre(on.life.worn_m):.0f} of about {metre(on.life.limit_m):.0f} in "
            f"hardwood; this route asks {metre(asks):.1f} more: it crosses its limit here.",
            facts=[
                Fact(name="left", value=round(on.life.left_m, 1), unit="m", source="record"),
                Fact(name="asked", value=round(asks, 1), unit="m"),
            ],
        )
    ]
