"""Variants: other hardware or other choices on the same piece, as a route of their own that every check reads like any other."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from .errors import BirchError, InputError
from .instrument.moves import what_moved
from .instrument.resolve import resolve
from .instrument.stack import find_part
from .route import Route, Variant, read_route
from .vocabulary import PartKind


def variant_route(route: Route, variant: Variant) -> Route:
    """Return the route with a variant's parts standing in for others and its choices taken.

    Raises:
        InputError: a part that is not on the list, one of another kind, or a choice there is none of.
    """
    data = route.model_dump(mode="json")
    kinds = {p.id: p.kind for p in route.parts}
    for old, new in variant.parts.items():
        for one in (old, new):
            if one not in kinds:
                raise InputError(f"{variant.name} swaps the part {one}, which is not on the list.", where=f"variants.{variant.id}")
        if kinds[old] is not kinds[new]:
            raise InputError(f"{variant.name} puts a {kinds[new].value} in the place of a {kinds[old].value}.", where=f"variants.{variant.id}")
    for key, value in variant.choices.items():
        if key not in data["choices"]:
            raise InputError(f"{variant.name} chooses {key}, which is no choice of a route.", where=f"variants.{variant.id}")
        data["choices"][key] = value
    swap = lambda name: variant.parts.get(name, name)  # noqa: E731
    for feature in data["piece"]["features"]:
        for holder, key in ((feature.get("shape") or {}, "part"), (feature.get("depth_from") or {}, "part"), (feature, "measured_from")):
            if holder.get(key):
                holder[key] = swap(holder[key])
    for placement in data["piece"]["placements"]:
        placement["part"] = swap(placement["part"])
    first = [p for p in data["parts"] if p["id"] in variant.parts.values()]
    data["parts"] = first + [p for p in data["parts"] if p["id"] not in variant.parts.values() and p["id"] not in variant.parts] + [p for p in data["parts"] if p["id"] in variant.parts and p["id"] not in variant.parts.values()]
    return read_route(data)


@dataclass(frozen=True)
class VariantView:
    """What a variant changes against the route as it stands, and how one neck pocket serves both."""

    id: str
    name: str
    failed: str | None
    moved: list[dict[str, Any]]
    pocket_mm: float | None  # the depth this variant asks for
    saddle_mm: float | None  # where its saddle comes to stand over the pocket as it is
    saddle_low_mm: float | None
    saddle_high_mm: float | None
    shim_mm: float | None  # under the heel, where the saddle cannot go low enough

    @property
    def serves(self) -> bool | None:
        """Whether the pocket as it is works with this variant's saddle travel alone; None while something is missing."""
        if self.saddle_mm is None or self.saddle_low_mm is None or self.saddle_high_mm is None:
            return None
        return self.saddle_low_mm <= self.saddle_mm <= self.saddle_high_mm


def variant_views(route: Route) -> list[VariantView]:
    """Return every variant of a route beside it.

    One pocket for all: with the route's depth d and a variant's wanted depth w, its saddle stands w - d higher than its choice (a
    shallower pocket lifts the strings, and the saddle after them).
    """
    return [_view(route, v) for v in route.variants]


def _view(route: Route, variant: Variant) -> VariantView:
    try:
        other = variant_route(route, variant)
        before, after = resolve(route), resolve(other)
    except BirchError as exc:
        return VariantView(variant.id, variant.name, exc.sentence, [], None, None, None, None, None)
    moved = [asdict(m) for m in what_moved(before, after)]
    base = next((d.value_mm for d in before.derivations if d.id == "neck_pocket_depth"), None)
    wanted = next((d for d in after.derivations if d.id == "neck_pocket_depth"), None)
    bridge = find_part(other.parts, PartKind.BRIDGE)
    if base is None or wanted is None or wanted.value_mm is None or bridge is None:
        return VariantView(variant.id, variant.name, None, moved, None if wanted is None else wanted.value_mm, None, None, None, None)
    from .instrument.parts import read_place
    low, high = read_place(bridge, "saddle_low").value_mm, read_place(bridge, "saddle_high").value_mm
    assert low is not None and high is not None
    saddle = low + other.choices.saddle_part * (high - low) + (wanted.value_mm - base)
    shim = max(0.0, low - saddle) or None
    return VariantView(variant.id, variant.name, None, moved, wanted.value_mm, saddle, low, high, shim)


__all__ = ["VariantView", "variant_route", "variant_views"]
