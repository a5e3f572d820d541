"""What an edit moved: every derived number and place that is another one afterwards."""

from __future__ import annotations

from dataclasses import dataclass

from .resolve import Resolved

LEAST_MM = 0.005  # less than this is no move anyone could measure


@dataclass(frozen=True)
class Moved:
    """One derived number before and after, mm; None where readings are missing."""

    what: str
    before_mm: float | None
    after_mm: float | None


def what_moved(before: Resolved, after: Resolved) -> list[Moved]:
    """Return the derived numbers that differ, in the order they are derived: stack and saddle, the pocket's widths, then each
    feature's place, size and floor. Features that are only in one of the two are left out."""
    rows: list[tuple[str, float | None, float | None]] = []
    old = {d.id: d for d in before.derivations}
    rows += [(d.label, old[d.id].value_mm if d.id in old else None, d.value_mm) for d in after.derivations]
    for label, name in (("Pocket wide at its end", "end_width_mm"), ("Pocket wide at its mouth", "mouth_width_mm"), ("Pocket long", "length_mm")):
        rows.append((label, getattr(before.heel, name, None), getattr(after.heel, name, None)))
    for key, solid in after.solids.items():
        was = before.solids.get(key)
        if was is None or solid.kind == "outline":
            continue
        (a0, b0, a1, b1), (c0, d0, c1, d1) = was.region.bounds, solid.region.bounds
        if not solid.must_be_measured or solid.kind == "hole":
            rows += [(f"{solid.name}, along", (a0 + a1) / 2, (c0 + c1) / 2), (f"{solid.name}, across", (b0 + b1) / 2, (d0 + d1) / 2),
                     (f"{solid.name}, long", a1 - a0, c1 - c0), (f"{solid.name}, wide", b1 - b0, d1 - d0)]
            rows.append((f"{solid.name}, deep", None if was.floor_mm is None else was.deep_mm(before.thickness_mm), None if solid.floor_mm is None else solid.deep_mm(after.thickness_mm)))
    return [Moved(what, a, b) for what, a, b in rows if (a is None) != (b is None) or (a is not None and b is not None and abs(a - b) > LEAST_MM)]
