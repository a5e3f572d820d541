"""How a piece is found again: what each datum is good for, and what a test pair of holes says."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..data import figures
from ..gluing import base_setup, is_before
from ..instrument.resolve import resolve
from ..route import Route, Setup, TestPair
from ..vocabulary import TurnAxis
from .zero import WAYS, off_mm


@dataclass(frozen=True)
class Judged:
    """What a test pair says. square_deg: out of square; axis_mm: the turning axis stands beside the one in mind; along_mm, across_mm: the back's holes from the front's on the mean."""

    square_deg: float
    axis_mm: float
    along_mm: float
    across_mm: float


def judged(pair: TestPair) -> Judged:
    """Return what the readings of a test pair say.

    Source: skewed axes carry a hole at distance y from the turning axis along it by y times the angle, before and after turning over to opposite sides:
    the difference of the mismatches along, over twice the distance apart, is the angle. An axis beside the one in mind shows twice across.
    """
    angle = math.degrees(math.atan((pair.first_along_mm - pair.second_along_mm) / (2 * pair.apart_mm)))
    across = (pair.first_across_mm + pair.second_across_mm) / 2
    return Judged(angle, across / 2, (pair.first_along_mm + pair.second_along_mm) / 2, across)


def correction(setup: Setup, signs: tuple[float, float]) -> tuple[float, float]:
    """Return how far the programs of a setup are moved in x and y of its frame so that its cuts meet those of the first face, mm."""
    if setup.test_pair is None:
        return 0.0, 0.0
    pair = judged(setup.test_pair)
    x, y = (pair.along_mm, pair.across_mm) if setup.turned_about is TurnAxis.LENGTH else (pair.across_mm, pair.along_mm)
    return -signs[0] * x, -signs[1] * y


@dataclass(frozen=True)
class Link:
    """One link of the chain: what is found, by what, and how far it may be off, mm."""

    what: str
    by: str
    off_mm: float
    source: str


@dataclass(frozen=True)
class Chain:
    """How a setup is found again. plan_mm: expected difference between the faces in plan at the outside of the piece; z_mm: in depth. Independent errors add by their squares."""

    setup: str
    links: list[Link]
    plan_mm: float
    z_mm: float


def chains(route: Route) -> list[Chain]:
    """Return how each setup is found, link by link."""
    fig, resolved = figures()["datums"], resolve(route)
    xmin, ymin, xmax, ymax = resolved.outline.bounds
    out, base = [], base_setup(route)
    for setup in route.setups:
        touch = Link("Z", "touch-off at each bit", fig["touch_mm"], "figures, unverified")
        if setup is base and setup is not route.setups[0]:  # nothing drilled before is seen any more
            links = [Link("X and Y", "the same edges again; the glued layer hides all that was cut before", fig["edge_mm"], "figures, unverified"), Link("Z", "anew, on the waste board", fig["touch_mm"], "figures, unverified")]
            out.append(Chain(setup.id, links, fig["edge_mm"], math.hypot(fig["touch_mm"], fig["touch_mm"])))
            continue
        if setup is base or is_before(route, setup):
            links = [Link("X and Y", f"{'corner' if setup.zero.xy.value == 'lower_left' else 'middle'} of the blank by {WAYS[setup.zero.way][0]}", off_mm(setup), "figures, unverified")]
            out.append(Chain(setup.id, [*links, touch], 0.0, fig["touch_mm"]))  # what the first setup is off, all its cuts are off together
            continue
        hole = next((f for f in route.features if f.id == setup.datum), None)
        links = [Link("X and Y", f"{hole.name.lower()} over pins", fig["pin_mm"], "figures, unverified") if hole is not None else Link("X and Y", WAYS[setup.zero.way][0], off_mm(setup), "figures, unverified")]
        if setup.nest is not None:
            links = [Link("X and Y", "the nest, which stays where it was cut", math.hypot(setup.nest.play_mm, fig["jig_mm"]), "play, and figures, unverified")]
        across = (ymax - ymin if setup.turned_about is TurnAxis.LENGTH else xmax - xmin) / 2
        if setup.test_pair is None:
            links.append(Link("Square", "not measured yet", 2 * across * math.tan(math.radians(fig["square_deg"])), "figures, unverified"))
        else:
            pair = judged(setup.test_pair)
            links.append(Link("Square", f"test pair, {abs(pair.square_deg):.3f}°", abs(2 * across * math.tan(math.radians(pair.square_deg))), "reading"))
        links.append(Link("The wood", "moves once one face is cut", fig["wood_mm"], "figures, unverified"))
        out.append(Chain(setup.id, [*links, touch], math.sqrt(sum(k.off_mm**2 for k in links)), math.hypot(fig["touch_mm"], fig["touch_mm"], fig["wood_mm"])))
    return out
