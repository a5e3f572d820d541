"""A neck as one answer: outline, sides, sections, what stays under the rod, how strings run, what blank it needs."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from ..bits.model import Bit
from ..data import figures
from ..errors import InputError
from ..fretboard.face import radius_mm
from ..fretboard.lines import Plan
from ..quantities import mm
from ..route import Route
from .features import ADJUSTER, ROD, neck_features
from .lines import heel_end_mm, neck_plan, outline_points, posts_of
from .loft import Loft
from .numbers import SHAPES, Neck
from .strings import HeadString, face_mm, head_strings
from .under import Under, channel_mm, least_under, under_rod

Point = tuple[float, float]
SECTION_POINTS = 49


@dataclass(frozen=True)
class NeckRow:
    """One fret, 0 the nut, mm. thick: with the board at its crown; under_rod: None beside the channel; back: of the
    section, (y, below the glue plane) from the rim to +y round to the other; heel: the heel's plane is met there."""

    number: int
    x_mm: float
    wide_mm: float
    thick_mm: float
    girth_mm: float
    under_rod_mm: float | None
    channel_mm: float
    crown_mm: float
    edge_mm: float
    rim: float
    apex: float
    heel: bool
    back: list[Point] = field(default_factory=list)


@dataclass(frozen=True)
class Making:
    """One way to make the blank: how long, wide and thick it has to be, mm, and the wood it takes, litres."""

    name: str
    long_mm: float
    wide_mm: float
    thick_mm: float
    litres: float
    words: str


@dataclass(frozen=True)
class NeckView:
    """Plain data for screen and API; lengths mm, piece's frame. side: (x, below the glue plane) of the back along the
    apex, face: of what the front is cut down to; slopes: (x, mm per mm) along the apex; turns: x where its curvature
    changes sign."""

    outline: list[Point]
    rows: list[NeckRow]
    side: list[Point]
    face: list[Point]
    rod: list[Point]
    posts: list[tuple[float, float, float]]
    strings: list[HeadString]
    fret_lines: list[tuple[Point, Point]]
    heel_from_mm: float
    heel_end_mm: float
    head_end_mm: float
    hollow_mm: float | None
    hollow_at_mm: float
    least_under: list[Under]
    blank_mm: float
    makings: list[Making]
    turns: list[float]
    hours: dict[str, float]
    missing: list[str]
    retainer: Point | None
    ball: str | None
    shape: tuple[float, float]


def neck_of(route: Route) -> Neck:
    """Return the numbers of a route's neck.

    Raises:
        InputError: it is none made from numbers.
    """
    if route.piece.neck is None:
        raise InputError("This piece is no neck made from numbers. Start one at New job.", where="piece.neck")
    return route.piece.neck


def neck_view(neck: Neck, rack: Sequence[Bit] = (), thick_mm: float | None = None) -> NeckView:
    """Return what follows from a neck's numbers.

    Args:
        rack: bits that could cut it. thick_mm: of the blank's finished piece; None: as thick as it has to be.
    """
    loft, plan = Loft(neck), neck_plan(neck)
    features = neck_features(neck, thick_mm or loft.blank_mm)
    end = heel_end_mm(neck)
    hollow, at = loft.least_hollow_mm()
    x = np.linspace(loft.sides.begins_mm, end, 300)
    _, below = loft.point(x, np.full(len(x), math.pi / 2))
    holes = [p for p in posts_of(neck)]
    pockets: list[Any] = [f for f in features if f.kind == "pocket"]
    rod_x = np.linspace(neck.rod.from_mm, neck.rod.from_mm + (neck.rod.long_mm or 0.0), 41)
    rod = [(float(v), float(d)) for v, d in zip(rod_x, channel_mm(neck, rod_x), strict=True)]
    balls = sorted((b for b in rack if b.form.value == "ball" and b.radius_mm < hollow), key=lambda b: -b.radius_mm)
    return NeckView(
        outline_points(neck),
        [_row(loft, plan, n, line.centre_mm) for n, line in enumerate(plan.lines) if line.centre_mm <= end],
        [(float(a), float(b)) for a, b in zip(x, below, strict=True)],
        [(float(v), face_mm(neck, float(v)) if neck.head.kind != "none" else 0.0) for v in x],
        rod if neck.rod.is_known else [],
        [(p.x_mm, p.y_mm, (neck.tuners.post_mm or 0.0)) for p in holes],
        head_strings(neck),
        [(one.bass, one.treble) for one in plan.lines],
        neck.heel_from_mm, end, loft.head_end_mm,
        None if math.isinf(hollow) else hollow, at,
        least_under(loft, pockets),
        loft.blank_mm,
        makings(neck, loft),
        turns_of(loft),
        hours_of(neck),
        missing_of(neck),
        None if neck.head.retainer_mm is None or neck.head.kind == "none" else (
            -neck.head.retainer_mm, neck.head.retainer_high_mm),
        balls[0].name if balls else None,
        SHAPES[neck.shape],
    )


def _row(loft: Loft, plan: Plan, number: int, x: float) -> NeckRow:
    neck, at = loft.neck, np.array([x])
    t = np.linspace(0, math.pi, SECTION_POINTS)
    y, z = loft.point(np.full(len(t), x), t)
    rim, apex = loft.exponents(at)
    half, radius = plan.half_mm(x), radius_mm(neck.board, plan, x)
    under = float(under_rod(loft, at)[0])
    return NeckRow(
        number, x, 2 * half, float(z.max()) + neck.board.thickness_mm, loft.girth_mm(x),
        None if math.isnan(under) else under, float(channel_mm(neck, at)[0]), neck.board.thickness_mm,
        neck.board.thickness_mm - (radius - math.sqrt(radius * radius - half * half)),
        float(rim[0]), float(apex[0]), x > neck.heel_from_mm - neck.heel_ramp_mm,
        [(round(float(a), 4), round(float(b), 4)) for a, b in zip(y, z, strict=True)],
    )


def turns_of(loft: Loft) -> list[float]:
    """Return where the curvature of the shaft's apex along it changes sign, mm from scale zero: between the two
    transitions there is none unless stations ask for it."""
    low, high = loft.ends
    x = np.arange(low, high, 1.0)
    two = np.gradient(np.gradient(loft.depth(x), 1.0), 1.0)
    signs = np.where(np.abs(two) < 1e-6, 0, np.sign(two))
    seen, out = 0, []
    for place, sign in zip(x, signs, strict=True):
        if sign and seen and sign != seen:
            out.append(float(place))
        seen = int(sign) or seen
    return out


def makings(neck: Neck, loft: Loft) -> list[Making]:
    """Return the ways to make the blank of a neck with this headstock, each with what it takes.

    Source: a leaning headstock in one piece takes its length times the sine more in thickness; a scarf takes a splice
    as long as the blank is thick over the sine.
    """
    head, out = neck.head, []
    points = np.asarray(outline_points(neck))
    long, wide = float(np.ptp(points[:, 0])), float(np.ptp(points[:, 1]))
    shaft = max(neck.heel_mm, float(loft.depth(np.array(loft.ends)).max()))

    def making(name: str, length: float, width: float, thick: float, words: str) -> Making:
        return Making(name, length, width, thick, length * width * thick / 1e6, words)

    out.append(making("one piece", long, wide, loft.blank_mm, "grain runs through"
                      if head.kind != "angled" else f"grain runs out at {head.angle_deg:g}° in the headstock"))
    if head.kind == "stepped" and wide > 60:
        strip = 2 * neck_plan(neck).half_mm(heel_end_mm(neck)) + 4
        out.append(making("with ears glued on", long, strip, loft.blank_mm,
                          "two strips from its own sides make the headstock as wide as it is"))
    if head.kind == "angled":
        lean = math.radians(head.angle_deg)
        splice = shaft / math.sin(lean)
        out.append(making("with a scarf", long + splice, wide, shaft,
                          f"splice {mm(splice):.0f} long, glued {splice * wide / 100:.0f} cm²; its headstock is then "
                          "a "
                          "piece of its own, glued on under the nut"))
    return out


def hours_of(neck: Neck) -> dict[str, float]:
    """Return hours by hand of what the machine could do, by what it is. Source: figures.neck."""
    fig = figures()["neck"]
    hand = {"back": fig["hand_back_min"]}
    if neck.head.kind != "none":
        hand["headstock"] = fig["hand_head_min"]
        if neck.tuners.is_known:
            hand["tuners"] = fig["bore_min"] * neck.board.strings
    if neck.rod.is_known:
        hand["channel"] = fig["hand_channel_min"]
    hand["outline"] = fig["hand_outline_min"]
    return {k: v / 60 for k, v in hand.items()}


def missing_of(neck: Neck) -> list[str]:
    """Return in words what must be read or told before all of it can be cut."""
    out = []
    rod, tuners = neck.rod, neck.tuners
    if not rod.is_known:
        out.append("the rod: its width, height and length")
    elif None in (rod.adjuster_wide_mm, rod.adjuster_long_mm, rod.adjuster_deep_mm):
        out.append("the room its adjuster needs: wide, long, deep")
    if neck.head.kind != "none" and not tuners.is_known:
        out.append("the tuners: bore of the post, pitch")
    return out


def neck_answer(neck: Neck, rack: Sequence[Bit] = (), thick_mm: float | None = None) -> dict[str, Any]:
    """Return the view as plain data, with the limits it is judged by."""
    fig = figures()["neck"]
    limits = {k: fig[k] for k in ("rod_floor_mm", "rod_stop_mm", "least_break_deg", "most_side_deg")}
    return {**asdict(neck_view(neck, rack, thick_mm)), "limits": limits, "features": {"rod": ROD, "adjuster": ADJUSTER}}
