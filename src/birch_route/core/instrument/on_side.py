"""Parts on the side of a piece: a jack through the wall, a strap pin in the wood."""

from __future__ import annotations

from shapely.geometry import LineString, Point

from ..data import figures
from ..quantities import mm
from ..vocabulary import PartKind
from .clash import Clash, set_place
from .parts import read_place
from .placing import Placed
from .resolve import Resolved, Solid


def on_side(resolved: Resolved, placed: Placed) -> list[Clash]:
    """A jack on the side must reach its cavity through no more wood than its bush takes; a strap pin needs sound wood
    all along its screw."""
    if placed.part.kind is PartKind.STRAP_PIN:
        return _strap_pin(resolved, placed)
    return _through_side(resolved, placed)


def _strap_pin(resolved: Resolved, placed: Placed) -> list[Clash]:
    """The screw of a strap pin stays in sound wood."""
    side, p, part = placed.side, placed.placement, placed.part
    assert side is not None
    ux, uy = side.inward
    spot = (side.x_mm, side.y_mm)
    thread, long = read_place(part, "thread_diameter").value_mm, read_place(part, "thread_length").value_mm
    if thread is None or long is None:
        return []
    needs = long + figures()["screws"]["strap_wood_mm"]
    along = LineString([spot, (side.x_mm + ux * needs, side.y_mm + uy * needs)])
    band = along.buffer(thread / 2 + 1.0, cap_style="flat")
    near = [s for s in _at_height(resolved, side.z_mm, thread / 2) if s.region.intersects(band)]
    met = [(s.region.intersection(band).distance(Point(spot)), s.name) for s in near]
    if not met:
        return []
    has, name = min(met)
    words = (
        f"The screw of {part.name} meets {name} {mm(has):.1f} in; it is {mm(long):.1f} long and wants "
        f"{mm(needs):.1f} of sound wood."
    )
    return [Clash("part.no_wood", p.id, words, float(has), needs, spot)]


def _through_side(resolved: Resolved, placed: Placed) -> list[Clash]:
    """The bush of a part on the side goes through the wall, and its body has room in the cavity behind."""
    side, p, part = placed.side, placed.placement, placed.part
    assert side is not None
    (ux, uy), reach = side.inward, 200.0
    spot = (side.x_mm, side.y_mm)
    ray = LineString([spot, (side.x_mm + ux * reach, side.y_mm + uy * reach)])
    bush, across = read_place(part, "bush_length").value_mm, read_place(part, "body_diameter").value_mm
    cavity = resolved.solids.get(p.cavity or "")
    if bush is None or across is None or cavity is None:
        return []
    met_cavity = ray.intersection(cavity.region)
    most = bush - figures()["controls"]["nut_mm"]
    if met_cavity.is_empty:
        words = f"Going straight in from its place, {part.name} misses {cavity.name}. Move it along the side."
        return [Clash("part.side_wall", p.id, words, reach, most, spot)]
    wall = float(met_cavity.distance(Point(spot)))
    out = []
    if wall > most + 0.01:
        out.append(
            Clash(
                "part.side_wall",
                p.id,
                f"{mm(wall):.1f} of wood lies between the side and {cavity.name} at {part.name}; its bush takes "
                f"{mm(max(most, 0)):.1f}. Counterbore, use a plate, or move it.",
                wall,
                most,
                spot,
            )
        )
    low, high = cavity.span_mm(resolved.thickness_mm)
    room = min(side.z_mm - across / 2 - low, high - (side.z_mm + across / 2)) if cavity.floor_mm is not None else across
    if room < 0:
        middle = (low + high) / 2
        out.append(
            Clash(
                "part.no_room",
                p.id,
                f"{part.name} is {mm(across):.1f} across and stands {mm(-room):.1f} above or below {cavity.name}.",
                room,
                0.0,
                spot,
                [set_place(p.id, "deep_mm", round(-middle, 2))] if high - low >= across else [],
                f"Middle {mm(-middle):.1f} below the face" if high - low >= across else "",
            )
        )
    long = read_place(part, "body_height").value_mm
    if long is not None and wall <= most + 0.01:
        behind = float(met_cavity.length) + wall - (most if most > 0 else 0.0)
        if behind < long:
            out.append(
                Clash(
                    "part.no_room",
                    p.id,
                    f"{part.name} is {mm(long):.1f} long behind its bush; {cavity.name} gives it {mm(behind):.1f} "
                    f"there.",
                    behind,
                    long,
                    spot,
                )
            )
    return out


def _at_height(resolved: Resolved, z_mm: float, half_mm: float) -> list[Solid]:
    out = []
    for s in resolved.solids.values():
        low, high = s.span_mm(resolved.thickness_mm)
        if s.kind != "outline" and low < z_mm + half_mm and high > z_mm - half_mm:
            out.append(s)
    return out
