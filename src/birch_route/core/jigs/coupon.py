"""Small ready jobs on scrap: slots that find the limit of a bit, and a ladder of pockets that finds the gap of a fit."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from ..bits.model import Bit
from ..cutting.limits import Question
from ..cutting.records import Step
from ..data import Wood, figures
from ..errors import InputError
from ..machines import Machine
from ..materials.own import carried
from ..quantities import mm
from ..route import SCHEMA, Route, Settings, read_route
from ..sequence.propose import propose_route
from ..vocabulary import Entry
from .draft import SCREW_IN_MM, screws_at


def slots_job(q: Question, steps: Sequence[Step]) -> Route:
    """Return slots beside each other on a piece of scrap, each cut once with its own settings, from the first step of a plan to its last.

    Raises:
        InputError: the bit cannot make a slot.
    """
    fig, d = figures()["coupons"], q.bit.cut_diameter_mm
    if not q.bit.cuts_at_centre or q.bit.form.value not in ("flat", "bull", "ball"):
        raise InputError(f"The {q.bit.name} cannot go down into a slot; try it beside a piece of scrap by hand.", where="bit")
    deep, apart, long = steps[0].settings.depth_of_cut_mm, 2.5 * d + 4.0, max(fig["slot_long_mm"], 6 * d)
    features = [_pocket(f"slot_{s.number}", f"Slot {s.number}, feed {s.settings.feed_mm_min:g}", (s.number - 1) * apart, long, d + fig["slot_wider_mm"], deep) for s in steps]
    name = f"Test slots, {q.bit.name} in {q.wood.name.lower()}"[:80]
    made = _scrap(q.machine, [q.bit], q.wood, name, features, long, (len(steps) - 1) * apart + d, deep,
                  [{"id": "listen", "name": "Stop at the first slot that sings, smokes or tears", "minutes": 2, "note": "Keep every slot as a cut at the rack; the one before the bad one, cut once more, is your limit."}])
    by_id = {f"slot_{s.number}": s.settings for s in steps}
    return made.model_copy(update={"operations": [_with(o, by_id[o.features[0]]) for o in made.operations if o.features and o.features[0] in by_id]})


def fit_job(
    machine: Machine,
    bits: Sequence[Bit],
    wood: Wood,
    across_mm: float,
    first_gap_mm: float,
    step_mm: float,
    count: int,
) -> Route:
    """Return a ladder of pockets for something that is so wide: each a little wider than the one before, gaps on each side.

    Raises:
        InputError: no bit of these makes them.
    """
    fig = figures()["coupons"]
    long, apart = max(fig["fit_long_mm"], across_mm) + 2 * fig["fit_corner_mm"], across_mm + 2 * (first_gap_mm + count * step_mm) + fig["between_mm"]
    features = [_pocket(f"fit_{k + 1}", f"Gap {first_gap_mm + k * step_mm:.3f} a side", k * apart, long, across_mm + 2 * (first_gap_mm + k * step_mm), fig["fit_deep_mm"], fitted=True) for k in range(count)]
    wide = (count - 1) * apart + across_mm + 2 * (first_gap_mm + count * step_mm)
    made = _scrap(machine, bits, wood, f"Fit coupon for {across_mm:g}"[:80], features, long, wide, fig["fit_deep_mm"],
                  [{"id": "try", "name": "Try it in each pocket, the narrowest first", "minutes": 5, "note": "The part itself, or a piece exactly as wide; the ends of a pocket are longer than it by their round corners. The first it goes into by hand is your gap on this machine, with this bit, in this wood. With a finish on the wall the film takes its share."}])
    if len(made.operations) < count:
        raise InputError(
            f"No bit of these goes into a pocket {mm(across_mm):g} wide and {mm(fig['fit_deep_mm']):g} deep.",
            where="across_mm",
        )
    return made


def _with(operation: Any, settings: Settings) -> Any:
    return operation.model_copy(update={"settings": settings.model_copy(update={"stepover_mm": operation.settings.stepover_mm}), "entry": Entry.PLUNGE, "finish_pass": False, "finish_allowance_mm": 0.0, "reasons": {"feed_mm_min": "a step of a test plan"}, "made_for": None})


def _pocket(id_: str, name: str, y: float, long: float, wide: float, deep: float, *, fitted: bool = False) -> dict[str, Any]:
    return {"kind": "pocket", "id": id_, "name": name, "depth_mm": round(deep, 3), "least_floor_mm": 1.0, "finish_class": "fitted" if fitted else "hidden",
            "shape": {"kind": "rectangle", "x_mm": 0.0, "y_mm": round(y, 4), "length_mm": round(long, 3), "width_mm": round(wide, 4), "corner_radius_mm": round(min(wide / 2 - 1e-3, figures()["coupons"]["fit_corner_mm"] if fitted else wide), 4), "angle_deg": 0.0}}


def _scrap(
    machine: Machine,
    bits: Sequence[Bit],
    wood: Wood,
    name: str,
    features: list[dict[str, Any]],
    long: float,
    wide: float,
    deep: float,
    steps: list[dict[str, Any]],
) -> Route:
    """Return pockets in a row on a piece of scrap that is screwed down at its corners and stays whole."""
    border = figures()["coupons"]["border_mm"]
    x, y = -long / 2 - border, features[0]["shape"]["y_mm"] - features[0]["shape"]["width_mm"] / 2 - border
    length, width = round(long + 2 * border, 1), round(wide + 2 * border + 6.0, 1)
    inside = {"kind": "rectangle", "x_mm": x + length / 2, "y_mm": y + width / 2, "length_mm": length, "width_mm": width, "corner_radius_mm": 0.0, "angle_deg": 0.0}
    corners = [(x + SCREW_IN_MM, y + SCREW_IN_MM), (x + length - SCREW_IN_MM, y + SCREW_IN_MM), (x + length - SCREW_IN_MM, y + width - SCREW_IN_MM), (x + SCREW_IN_MM, y + width - SCREW_IN_MM)]
    return propose_route(read_route({
        "schema": SCHEMA, "job": name, "note": "On scrap.", "piece": {"kind": "coupon", "name": name, "features": [*features, {"kind": "outline", "id": "outline", "name": "The scrap", "shape": inside, "finish_class": "hidden"}]},
        "materials": [w.model_dump(mode="json") for w in carried(wood)],
        "blank": {
            "wood": wood.id, "length_mm": length, "width_mm": width, "thickness_mm": round(max(18.0, deep + 6.0), 1),
            "x_mm": x, "y_mm": y,
        },
        "machine": machine.model_dump(mode="json"),
        "bits": [b.model_dump(mode="json") for b in bits],
        "setups": [{"id": "front", "name": "Front face up", "face": "front", "blank_at_mm": [min(60.0, max(0.0, (machine.travel_mm[0] - length) / 2)), min(60.0, max(0.0, (machine.travel_mm[1] - width) / 2))], "zero": {"xy": "lower_left", "z": "bed"},
                    "hardware": screws_at(corners)}],
        "bench_steps": steps}))
