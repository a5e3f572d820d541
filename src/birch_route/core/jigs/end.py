"""Work on an end or side of a piece that stands in a vice: what is up, where its angle comes from, and the job it becomes."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from shapely.geometry import box

from ..bits.model import Bit
from ..data import figures
from ..errors import InputError
from ..instrument.resolve import Resolved, resolve
from ..quantities import mm
from ..route import SCHEMA, Route, content_hash, read_route
from ..sequence.propose import propose_route
from .model import End, EndWork
from .vice import AngleBudget, within_vice

WORDS = {End.LEFT: "left end", End.RIGHT: "right end", End.LOWER: "lower side", End.UPPER: "upper side"}


class Cut(StrEnum):
    """What is made on an end: its face only, a row of holes, a tenon that is left standing, or a mortise."""

    FACE = "face"
    HOLES = "holes"
    TENON = "tenon"
    MORTISE = "mortise"


@dataclass(frozen=True)
class EndWanted:
    """What is asked of an end. at_mm, long_mm: on a side, the middle and length of the stretch that stands between the jaws, along it. count, apart_mm: holes in a row about the
    middle. across_mm: of a hole. wide_mm, thick_mm: of a tenon or mortise, along the end and across the faces. deep_mm: of holes, mortise or shoulders, from the trued face."""

    end: End
    cut: Cut = Cut.FACE
    at_mm: float = 0.0
    long_mm: float = 60.0
    count: int = 2
    apart_mm: float = 20.0
    across_mm: float = 6.0
    wide_mm: float = 30.0
    thick_mm: float = 6.0
    deep_mm: float = 12.0


def section_of(resolved: Resolved, wanted: EndWanted) -> tuple[float, float]:
    """Return how far an end reaches along itself, in the job's frame: from the middle line of the piece on an end, from the middle of its stretch on a side.

    Raises:
        InputError: no wood stands there.
    """
    strip, outline = figures()["ends"]["strip_mm"], resolved.outline
    xmin, ymin, xmax, ymax = outline.bounds
    far = box(xmin - 1, ymin - 1, xmax + 1, ymax + 1)
    if wanted.end in (End.LEFT, End.RIGHT):
        part = outline.intersection(box(xmin, ymin - 1, xmin + strip, ymax + 1) if wanted.end is End.LEFT else box(xmax - strip, ymin - 1, xmax, ymax + 1))
        low, high = part.bounds[1], part.bounds[3]
    else:
        stretch = box(wanted.at_mm - wanted.long_mm / 2, far.bounds[1], wanted.at_mm + wanted.long_mm / 2, far.bounds[3]).intersection(outline)
        if stretch.is_empty:
            raise InputError(
                f"No wood stands at {mm(wanted.at_mm):.0f} along the side; the piece reaches from {mm(xmin):.0f} to "
                f"{mm(xmax):.0f}.",
                where="at_mm",
            )
        edge = stretch.bounds[1 if wanted.end is End.LOWER else 3]
        part = stretch.intersection(box(xmin, edge, xmax, edge + strip) if wanted.end is End.LOWER else box(xmin, edge - strip, xmax, edge))
        low, high = part.bounds[0] - wanted.at_mm, part.bounds[2] - wanted.at_mm
    along = _sign(wanted.end)
    return (low, high) if along > 0 else (-high, -low)


def _sign(end: End) -> int:
    """Return the sign between the job's x and the piece's y (of an end) or x (of a side). z points out of the end, y to the front face."""
    return 1 if end in (End.RIGHT, End.LOWER) else -1


def end_job_for(route: Route, wanted: EndWanted, budget: AngleBudget, bits: Sequence[Bit] | None = None) -> Route:
    """Return the work on an end as a job of its own: the end of the piece stands in a vice, tilted by what fence and wedge give, is trued, and cut.

    The vice holds by the force of its jaws alone; nothing is counted under the piece.

    Raises:
        InputError: no wood there, or what is wanted does not fit on the end. InfeasibleError: the vice does not tilt so far.
    """
    fig, resolved = figures()["ends"], resolve(route)
    within_vice(budget)
    low, high = section_of(resolved, wanted)
    tilt = math.radians(abs(budget.wanted_deg - budget.in_blank_deg))
    thick = resolved.thickness_mm / math.cos(tilt)
    rise = resolved.thickness_mm * math.tan(tilt)
    skim, stands = round(rise + fig["trued_mm"], 3), fig["stands_mm"]
    low, high, thick = round(low, 3), round(high, 3), round(thick, 3)
    features = _features(wanted, low, high, thick)
    across = f"y toward the front face, from the middle of its {mm(resolved.thickness_mm):.1f}"
    words = [
        f"The {WORDS[wanted.end]} is up, drawn as the rectangle round its last {mm(fig['strip_mm']):g}: z points "
        f"out of it, {across}; x runs along the piece's "
        f"{'y' if wanted.end in (End.LEFT, End.RIGHT) else 'x'}"
        f"{'' if _sign(wanted.end) > 0 else ', the other way'}, from "
        f"{'its middle line' if wanted.end in (End.LEFT, End.RIGHT) else f'{mm(wanted.at_mm):.0f} along it'}.",
        budget.words,
    ]
    name = f"{WORDS[wanted.end].capitalize()} of {route.job}"[:80]
    record = EndWork(made_for=route.job, made_from=content_hash(route), end=wanted.end, wanted_deg=budget.wanted_deg, wedge_deg=budget.wedge_deg, in_blank_deg=budget.in_blank_deg, words=words)
    outline = {"kind": "rectangle", "x_mm": (low + high) / 2, "y_mm": 0.0, "length_mm": high - low, "width_mm": thick, "corner_radius_mm": 0.0, "angle_deg": 0.0}
    travel = route.machine.travel_mm
    document = {
        "schema": SCHEMA, "job": name, "note": f"Work on the {WORDS[wanted.end]} of {route.job}, in a vice.", "end_work": record.model_dump(mode="json"),
        "piece": {"kind": "end", "name": name, "features": [*features, {"kind": "outline", "id": "outline", "name": "Rim of the end", "shape": outline, "finish_class": "hidden"}]},
        "materials": [m.model_dump(mode="json") for m in route.materials if m.id == route.blank.wood],
        "blank": {"wood": route.blank.wood, "length_mm": high - low, "width_mm": thick, "thickness_mm": stands + skim, "x_mm": low, "y_mm": -thick / 2, "skim_mm": skim, "upright": True},
        "machine": route.machine.model_dump(mode="json"), "bits": [b.model_dump(mode="json") for b in bits or route.bits],
        "setups": [{"id": "front", "name": f"{WORDS[wanted.end].capitalize()} up", "face": "front", "blank_at_mm": [60.0, round(max(0.0, (travel[1] - thick) / 2), 1)], "zero": {"xy": "lower_left", "z": "bed"},
                    "hardware": [{"id": "v1", "kind": "vice", "x_mm": (low + high) / 2, "y_mm": thick / 2, "angle_deg": 90.0, "width_mm": min(fig["jaw_wide_mm"], high - low), "length_mm": fig["jaw_deep_mm"], "opens_mm": thick,
                                  "top_mm": -(stands + skim)}]}],
        "bench_steps": [{"id": "stand", "name": "Stand the piece in the vice, the end up", "minutes": 5, "note": f"Check the angle with a gauge against the front face: {budget.words} Cork under finished faces."},
                        {"id": "back", "name": "Clamp waste flush behind it", "minutes": 3, "note": "On the side where the bit leaves the wood: end grain breaks out there."}]}
    return propose_route(read_route(document))


def _features(wanted: EndWanted, low: float, high: float, thick: float) -> list[dict[str, Any]]:
    """Return what is made on an end that reaches from low to high and is so thick.

    Raises:
        InputError: it does not fit.
    """
    beside, beyond = figures()["ends"]["beside_mm"], figures()["ends"]["beyond_mm"]
    half = {Cut.FACE: 0.0, Cut.HOLES: (wanted.count - 1) * wanted.apart_mm / 2 + wanted.across_mm / 2}.get(wanted.cut, wanted.wide_mm / 2)
    deep_y = {Cut.FACE: 0.0, Cut.HOLES: wanted.across_mm / 2}.get(wanted.cut, wanted.thick_mm / 2)
    if half + beside > min(-low, high) or deep_y + beside > thick / 2:
        raise InputError(
            f"This reaches {mm(half):.1f} to either side of the middle and is {mm(2 * deep_y):.1f} thick; the end "
            f"reaches {mm(-low):.1f} and {mm(high):.1f} and is {mm(thick):.1f} thick, of which {mm(beside):g} must "
            f"stay beside it.",
            where="cut",
            half_mm=half,
        )
    if wanted.cut is Cut.HOLES:
        return [{"kind": "hole", "id": "holes", "name": "Holes in the end", "points": [[round((k - (wanted.count - 1) / 2) * wanted.apart_mm, 3), 0.0] for k in range(wanted.count)], "diameter_mm": wanted.across_mm, "depth_mm": wanted.deep_mm, "least_floor_mm": 0.0}]
    if wanted.cut is Cut.MORTISE:
        return [_rectangle("mortise", "Mortise", -wanted.wide_mm / 2, wanted.wide_mm / 2, -wanted.thick_mm / 2, wanted.thick_mm / 2, wanted.deep_mm, min(wanted.thick_mm / 2, 3.0))]
    if wanted.cut is Cut.TENON:
        y = thick / 2 + beyond
        shoulders = [
            _rectangle(
                "front_shoulder",
                "Shoulder at the front face",
                low - beyond,
                high + beyond,
                wanted.thick_mm / 2,
                y,
                wanted.deep_mm,
                0.0,
            ),
            _rectangle(
                "back_shoulder",
                "Shoulder at the back face",
                low - beyond,
                high + beyond,
                -y,
                -wanted.thick_mm / 2,
                wanted.deep_mm,
                0.0,
            ),
            _rectangle(
                "low_shoulder",
                "Shoulder at its beginning",
                low - beyond,
                -wanted.wide_mm / 2,
                -y,
                y,
                wanted.deep_mm,
                0.0,
            ),
            _rectangle(
                "high_shoulder", "Shoulder at its end", wanted.wide_mm / 2, high + beyond, -y, y, wanted.deep_mm, 0.0
            ),
        ]
        return [{**s, "opens_side": True, "opens_into": [o["id"] for o in shoulders if o is not s]} for s in shoulders]
    return []


def _rectangle(id_: str, name: str, x0: float, x1: float, y0: float, y1: float, deep_mm: float, radius_mm: float) -> dict[str, Any]:
    return {"kind": "pocket", "id": id_, "name": name, "depth_mm": deep_mm, "finish_class": "fitted", "least_floor_mm": 0.0,  # more of the piece follows below
            "shape": {"kind": "rectangle", "x_mm": round((x0 + x1) / 2, 4), "y_mm": round((y0 + y1) / 2, 4), "length_mm": round(x1 - x0, 4), "width_mm": round(y1 - y0, 4), "corner_radius_mm": round(radius_mm, 3), "angle_deg": 0.0}}
