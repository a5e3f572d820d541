"""Weight and balance: what each feature takes away, where the piece balances, how it hangs with its neck."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely

from ..materials.own import species
from ..route import Route
from ..vocabulary import Face
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


Prism = tuple[shapely.Geometry, float, float]  # region, z low, z high
Layers = list[tuple[float, float, float]]  # density kg/m3, z of its top, z of its underside


def balance(resolved: Resolved, thickness_mm: float, density: float | Layers) -> Balance:
    """Return weight and centre of mass from the drawn piece.

    Features are taken in order of depth, deepest first, each only what those before left: a rebate around a cavity takes the rim, two
    pockets that meet from both faces share nothing.

    Args:
        density: of one wood, kg/m3, or of every layer.

    Source: prisms over plane regions; centroid by region (shoelace), half way up each layer's share.
    """
    layers = [(density, 0.0, -thickness_mm)] if isinstance(density, int | float) else density
    body = resolved.outline
    mass, moment = _mass([(body, -thickness_mm, 0.0)], layers)
    solid, shares, taken = mass, [], []
    features = [s for s in resolved.solids.values() if s.kind != "outline"]
    for one in sorted(features, key=lambda s: (s.surface is None, s.deep_mm(thickness_mm)), reverse=True):
        low, high = one.span_mm(thickness_mm)
        if one.surface is not None:
            own, volume, grams, pull = [], *_sloped(one, taken, layers, thickness_mm)
        else:
            own = _less([(one.region.intersection(body), max(low, -thickness_mm), high)], taken)
            taken += own
            grams, pull = _mass(own, layers)
            volume = sum(r.area * (h - lo) for r, lo, h in own)
        mass -= grams
        moment = [m - p for m, p in zip(moment, pull, strict=True)]
        shares.append(Share(one.id, one.name, volume, grams))
    if mass <= 0:
        return Balance(0.0, 0.0, 0.0, 0.0, solid / 1000, shares)
    return Balance(mass / 1000, moment[0] / mass, moment[1] / mass, moment[2] / mass, solid / 1000, shares)


def _sloped(solid: Solid, taken: list[Prism], layers: Layers, thickness_mm: float, step_mm: float = 0.5) -> tuple[float, float, list[float]]:
    """Return volume, mass and moments of what a sloped surface takes beside what others took from its face, by cells."""
    assert solid.surface is not None
    mine = [r for r, lo, hi in taken if (hi >= -1e-9 if solid.face is Face.FRONT else lo <= -thickness_mm + 1e-9)]
    region = solid.region.difference(shapely.union_all(mine)) if mine else solid.region
    x, y, deep = solid.surface.samples(region, step_mm)
    low, high = (-deep, np.zeros_like(deep)) if solid.face is Face.FRONT else (np.full_like(deep, -thickness_mm), -thickness_mm + deep)
    mass, moment = 0.0, [0.0, 0.0, 0.0]
    for density, top, under in layers:
        lo, hi = np.maximum(low, under), np.minimum(high, top)
        grams = np.maximum(hi - lo, 0.0) * step_mm**2 * density * G_PER_MM3
        mass += float(grams.sum())
        for k, centre in enumerate((x, y, (lo + hi) / 2)):
            moment[k] += float((grams * centre).sum())
    return float(deep.sum()) * step_mm**2, mass, moment


def _mass(prisms: list[Prism], layers: Layers) -> tuple[float, list[float]]:
    """Return the mass of prisms, g, and its first moments, g mm."""
    mass, moment = 0.0, [0.0, 0.0, 0.0]
    for region, low, high in prisms:
        for density, top, under in layers:
            lo, hi = max(low, under), min(high, top)
            if hi > lo and region.area > 0:
                grams = region.area * (hi - lo) * density * G_PER_MM3
                mass += grams
                for k, centre in enumerate((region.centroid.x, region.centroid.y, (lo + hi) / 2)):
                    moment[k] += grams * centre
    return mass, moment


def _less(prisms: list[Prism], taken: list[Prism]) -> list[Prism]:
    """Return prisms without what others took."""
    for other, under, top in taken:
        rest: list[Prism] = []
        for region, low, high in prisms:
            if high <= under or low >= top or not region.intersects(other):
                rest.append((region, low, high))
                continue
            shared = region.intersection(other)
            rest += [(region.difference(other), low, high), (shared, low, min(high, under)), (shared, max(low, top), high)]
        prisms = [(r, lo, hi) for r, lo, hi in rest if hi > lo + 1e-9 and r.area > 1e-9]
    return prisms


def layers_of(route: Route) -> Layers:
    """Return the density of every layer of a route's blank, kg/m3, with z of its top and underside; scaled to its
    weight where it was weighed."""
    blank = route.blank
    spans = [(species(route, w).density_kg_m3, top, under) for w, top, under in blank.layer_spans()]
    if blank.weighed_kg is None:
        return spans
    whole = sum(d * (top - under) for d, top, under in spans) * blank.length_mm * blank.width_mm * 1e-9
    return [(d * blank.weighed_kg / whole, top, under) for d, top, under in spans]


def mean_density(route: Route) -> float:
    """Return the density of a route's blank as a whole, kg/m3."""
    return sum(d * (top - under) for d, top, under in layers_of(route)) / route.blank.thickness_mm


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
