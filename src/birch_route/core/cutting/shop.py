"""What the shop's own books say of a route: cuts that failed or went well here, bits that were measured or are nearly worn, brushes, rates changed at the machine."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from ..bits.life import Life, wear_of
from ..bits.model import Bit
from ..brushes import Brushes
from ..proving.findings import Cure, Fact, Finding, by_severity, finding
from ..route import Operation, Route, Settings
from ..vocabulary import Clearing, OperationKind, Outcome, Standing
from .limits import Question
from .ran import Change, cut_of
from .records import Trial, Trust, believed, trust

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
    """What records say of an operation. best: the fastest cut of this ground that went well, is no narrower, and was not contradicted; times: by how much it takes more wood a minute. None: there is none that is faster."""

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
    out = []
    for row in rows:
        op, cut = route.operation(row["id"]), cut_of(route, row)
        if op is None or cut is None:
            continue
        q, s = cut
        best = _best(q, s, trials, op.kind in SURFACES or op.clearing is Clearing.ENGAGED)
        now = s.feed_mm_min * s.depth_of_cut_mm
        times = best.settings.feed_mm_min * best.settings.depth_of_cut_mm / now if best else 1.0
        out.append(Said(op, q, s, trust(q, s, trials), best if times > 1 + SAME else None, max(1.0, times)))
    return out


def _best(q: Question, s: Settings, trials: Sequence[Trial], keeps_depth: bool) -> Trial | None:
    """Return the cut of this ground that took the most wood a minute, went well, and was no narrower (where the depth stays, no shallower) than the one asked about."""
    kept, _ = believed(trials, q)
    good = [t for t in kept if t.outcome is Outcome.FINE and t.settings.stepover_mm >= s.stepover_mm * 0.98 and (not keeps_depth or t.settings.depth_of_cut_mm >= s.depth_of_cut_mm * 0.98)]
    good = [t for t in good if trust(q, t.settings, trials).standing is Standing.PROVEN]
    return max(good, key=lambda t: t.settings.feed_mm_min * (s.depth_of_cut_mm if keeps_depth else t.settings.depth_of_cut_mm), default=None)


def findings_of(route: Route, said: Sequence[Said], rack: Mapping[str, OnRack], metres: Mapping[tuple[str, str], float], brushes: Brushes | None, changed: Sequence[Change]) -> list[Finding]:
    """Return what the books say that deserves a look, the gravest first.

    Args:
        rack: bits on hand by id. metres: that this route cuts, by bit and wood. brushes: of its machine, with this job. changed: rates changed at the machine.
    """
    out = [f for one in said if (f := _failed(one)) is not None]
    used = {o.bit for o in route.operations}
    for bit in route.bits:
        if bit.id in rack and bit.id in used:
            out += _measured(route, bit, rack[bit.id]) + _worn(bit, rack[bit.id], {w: m for (b, w), m in metres.items() if b == bit.id})
    if brushes is not None and brushes.words:
        out.append(finding("shop.brushes_due", f"{route.machine.name}: {brushes.words}.", facts=[Fact(name="left", value=round(brushes.left_h, 2), unit="h"), Fact(name="job", value=round(brushes.job_h, 2), unit="h")]))
    for c in changed:
        out.append(finding("shop.changed_at_machine", f"{c.name}: the last run went {c.outcome.value} at {c.ran.feed_mm_min:g} and {c.ran.speed_rpm:g} rpm; the route says {c.was.feed_mm_min:g} and {c.was.speed_rpm:g}.", operation=c.operation,
                           facts=[Fact(name="feed_ran", value=c.ran.feed_mm_min, unit="mm/min", source="record"), Fact(name="feed", value=c.was.feed_mm_min, unit="mm/min", source="route")],
                           cures=[Cure(label="Take what it ran at", edits=c.edits)]))
    return by_severity(out)


def _failed(one: Said) -> Finding | None:
    t, s, q = one.trust, one.settings, one.question
    if t.standing is not Standing.FAILED:
        return None
    chip = s.feed_mm_min / (s.speed_rpm * q.bit.flutes)
    burns = t.burns_mm is not None and chip <= t.burns_mm * 1.001
    limit = (t.burns_mm if burns else t.fails_mm) or 0.0
    feed = limit * s.speed_rpm * q.bit.flutes
    good = [t.low_mm, t.high_mm] if t.low_mm is not None and t.high_mm is not None else []
    cures = []
    inside = next((g for g in (good if burns else reversed(good)) if (g > limit * 1.001 if burns else g < limit * 0.999)), None)
    if inside is not None:
        to = round(inside * s.speed_rpm * q.bit.flutes, 1)
        cures = [Cure(label=f"Feed {to:g}, which went well here", edits=[{"do": "set", "path": f"operations.{one.operation.id}.settings.feed_mm_min", "value": to}])]
    words = f"it burned here at a feed of {feed:.0f} and thicker chips were needed" if burns else f"a cut no harder failed here, from a feed of {feed:.0f} on"
    return finding("shop.failed_before", f"{one.operation.name}, feed {s.feed_mm_min:g}, {s.depth_of_cut_mm:.1f} deep in {q.wood.name.lower()}: {words}.", operation=one.operation.id,
                   facts=[Fact(name="chip_load", value=round(chip, 4)), Fact(name="limit", value=round(limit, 4), source="record")], cures=cures)


def _measured(route: Route, bit: Bit, on: OnRack) -> list[Finding]:
    measured = on.bit.measured_diameter_mm
    if measured is None or abs(measured - bit.cut_diameter_mm) < 0.005:
        return []
    return [finding("shop.bit_measured", f"{bit.name} was measured {measured:.2f} at the rack; this route reckons with {bit.cut_diameter_mm:.2f}.",
                    facts=[Fact(name="measured", value=measured, source="reading"), Fact(name="reckoned", value=bit.cut_diameter_mm, source="route")],
                    cures=[Cure(label=f"Reckon with {measured:.2f}", edits=[{"do": "set", "path": f"bits.{bit.id}.measured_diameter_mm", "value": measured}])])]


def _worn(bit: Bit, on: OnRack, metres: Mapping[str, float]) -> list[Finding]:
    asks = sum(m * wear_of(w) for w, m in metres.items())
    if not metres or on.life.limit_m <= 0 or on.life.worn_m == 0 or asks <= on.life.left_m:
        return []
    return [finding("shop.bit_worn", f"{bit.name} is worn like {on.life.worn_m:.0f} of about {on.life.limit_m:.0f} m in hardwood; this route asks {asks:.1f} more: it crosses its limit here.",
                    facts=[Fact(name="left", value=round(on.life.left_m, 1), unit="m", source="record"), Fact(name="asked", value=round(asks, 1), unit="m")])]
