"""A trial of a route: the same piece from foam, scrap or a softer wood, before the good wood. It stays tied to the
route it tries and changes nothing in it."""

from __future__ import annotations

from .blank import Blank
from .cutting.mechanics import force_per_width
from .data import Wood, figures
from .errors import InputError
from .gluing import glued_layers
from .quantities import mm
from .route import Operation, Route, Twin
from .sequence.renew import renew_settings


def twin_of(
    route: Route, of: Twin, wood: str, thickness_mm: float, before: Route | None = None
) -> Route:
    """Return the trial of a route: its operations, setups and holding with another wood, thickness and settings.

    What a person has set by hand on the trial stays where the route itself says nothing by hand. Bench steps that make
    the blank are left out; what stands between the operations comes along.

    Args:
        of: the route that is tried, by number and hash. before: the trial as it was, where it is made anew.

    Raises:
        InputError: a thickness that leaves nothing, or layers that are glued on between setups.
    """
    if glued_layers(route):
        raise InputError(
            "A layer is glued on between the setups: a trial would be glued too. Try a copy of the job instead.",
            where="trial",
        )
    skims = route.blank.skim_mm + route.blank.skim_back_mm
    if thickness_mm <= skims + figures()["trial_piece"]["least_mm"]:
        raise InputError(
            f"{mm(thickness_mm):.1f} leaves nothing under the {mm(skims):.1f} that is skimmed.", where="thickness_mm"
        )
    made = route.model_copy(update={
        "job": f"{route.job[:60]}, trial" if before is None else before.job, "note": f"Trial of {route.job}.",
        "blank": _blank(route.blank, wood, thickness_mm), "twin": of, "jig": None, "variants": [],
        "bench_steps": [s for s in route.bench_steps if s.after is not None],
    })
    made = renew_settings(made)
    if before is None:
        return made
    old = {o.id: o for o in before.operations}
    return made.model_copy(update={"operations": [_as_set(o, old.get(o.id)) for o in made.operations]})


def _blank(blank: Blank, wood: str, thickness_mm: float) -> Blank:
    """Return a blank of one board of another wood."""
    return blank.model_copy(update={
        "wood": wood, "thickness_mm": thickness_mm, "boards": 1, "layers": [], "planks": [], "defects": [],
        "thickness_readings_mm": [], "weighed_kg": None,
    })


def _as_set(now: Operation, before: Operation | None) -> Operation:
    """Return an operation with what was set by hand on the trial before."""
    if before is None:
        return now
    fields = type(now.settings).model_fields
    own = [f for f in before.told if f not in now.told and f in fields]
    settings = now.settings.model_copy(update={f: getattr(before.settings, f) for f in own})
    return now.model_copy(update={"settings": settings, "told": sorted({*now.told, *own})})


def force_ratio(real: Wood, twin: Wood) -> float:
    """Return how many times the force of the trial the good wood takes at the same chip.

    Source: force per width of core/cutting/mechanics.py at the chip where its straight line begins.
    """
    chip = figures()["cutting_force"]["curved_below_mm"]
    return force_per_width(chip, real) / force_per_width(chip, twin)
