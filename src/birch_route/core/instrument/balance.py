"""Weight and balance: what each feature takes away, where the piece balances, how it hangs with its neck."""

from __future__ import annotations

import math
from dataclasses import dataclass

from .resolve import Resolved, Solid

G_PER_MM3 = 1e-6  # of a material of 1 kg/m3


@dataclass(frozen=True)
class Share:
    """What one feature takes away."""

    feature: str
    name: str
    volume_mm3: float
    grams: float


@dataclass(frozen=True)
class Balance:
    """A piece's weight, its centre of mass in the piece's frame, and the shares of its features."""

    kg: float
    x_mm: float
    y_mm: float
    z_mm: float
    solid_kg: float  # before any feature but the outline
    shares: list[Share]


def balance(resolved: Resolved, thickness_mm: float, density_kg_m3: float) -> Balance:
    """Return weight and centre of mass from the drawn piece.

    Features are taken in order of depth, deepest first, so that a rebate around a cavity takes only what the cavity left.

    Source: prisms over plane regions; centroid by region (shoelace), half way down.
    """
    body = resolved.outline
    rho = density_kg_m3 * G_PER_MM3
    mass = body.area * thickness_mm * rho
    moment = [mass * body.centroid.x, mass * body.centroid.y, mass * -thickness_mm / 2]
    solid, shares, taken = mass, [], None
    for one in sorted((s for s in resolved.solids.values() if s.kind != "outline"), key=lambda s: _depth(s, thickness_mm), reverse=True):
        deep = min(_depth(one, thickness_mm), thickness_mm)
        region = one.region.intersection(body)
        own = region if taken is None else region.difference(taken)
        taken = region if taken is None else taken.union(region)
        volume = own.area * deep
        grams = volume * rho
        if volume > 0:
            mass -= grams
            for k, centre in enumerate((own.centroid.x, own.centroid.y, -deep / 2)):
                moment[k] -= grams * centre
        shares.append(Share(one.id, one.name, volume, grams))
    return Balance(mass / 1000, moment[0] / mass, moment[1] / mass, moment[2] / mass, solid / 1000, shares)


def _depth(solid: Solid, thickness_mm: float) -> float:
    return thickness_mm if solid.floor_mm is None else -solid.floor_mm


@dataclass(frozen=True)
class Hang:
    """How an instrument hangs from two strap pins: nose_deg above 0 means the neck sinks by that much."""

    nose_deg: float
    x_mm: float
    y_mm: float
    kg: float


def hang(masses: list[tuple[float, float, float]], pin_neck: tuple[float, float], pin_tail: tuple[float, float], strap_rise_mm: float = 700.0) -> Hang:
    """Return how an instrument settles on its strap.

    Args:
        masses: (kg, x, y) of body, neck, tuners and what else there is, piece's frame.
        pin_neck, pin_tail: the strap pins.
        strap_rise_mm: how high above the pins the strap meets, over the shoulder.

    Source: the strap's two ends meet over the shoulder; the instrument turns until its centre of mass hangs below that point. In the
    instrument's plane, with the strap point above the middle of the pins.
    """
    kg = sum(m for m, _, _ in masses)
    x = sum(m * a for m, a, _ in masses) / kg
    y = sum(m * b for m, _, b in masses) / kg
    middle = ((pin_neck[0] + pin_tail[0]) / 2, (pin_neck[1] + pin_tail[1]) / 2)
    along = math.atan2(pin_tail[1] - pin_neck[1], pin_tail[0] - pin_neck[0])
    dx, dy = x - middle[0], y - middle[1]
    forward = -(dx * math.cos(along) + dy * math.sin(along))  # towards the neck, along the pins
    below = strap_rise_mm - (-dx * math.sin(along) + dy * math.cos(along))
    return Hang(math.degrees(math.atan2(forward, below)), x, y, kg)
