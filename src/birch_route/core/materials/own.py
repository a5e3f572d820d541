"""Materials of a shop's own: what they weigh and resist, whose settings they borrow. A route carries those it uses."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from ..data import Wood, figures, wood, woods
from ..errors import InputError
from ..route import Route
from ..vocabulary import MaterialSort

TEARS = ("plain", "figured", "interlocked")
SORT_OF_CLASS = {"plywood": MaterialSort.SHEET, "mdf": MaterialSort.SHEET, "plastic": MaterialSort.PLASTIC}


@dataclass(frozen=True)
class Weighed:
    """What the weighed boards of a shop say of a material. spread: one standard deviation, kg/m3; None of one board."""

    count: int
    mean_kg_m3: float
    spread_kg_m3: float | None


def weighed(densities: Sequence[float]) -> Weighed | None:
    """Return count, mean and spread of densities; None where no board was weighed."""
    if not densities:
        return None
    spread = round(stdev(densities), 1) if len(densities) > 1 else None
    return Weighed(len(densities), round(fmean(densities), 1), spread)


def own_material(
    id_: str,
    name: str,
    sort: MaterialSort,
    like: str,
    density_kg_m3: float,
    *,
    tear_out: str = "plain",
    dust: str = "",
    resists: float | None = None,
    note: str = "",
) -> Wood:
    """Return a material of the shop's own.

    Args:
        like: the one of the table whose settings, chip load and wear it borrows. resists: how many times its cutting
            force; None: by its sort (figures.materials); a wood's force goes with its own density besides.

    Raises:
        InputError: a name, density, factor or tear-out class that cannot be, or nothing it is like.
    """
    fig = figures()["materials"]
    if not name.strip():
        raise InputError("Give the material a name.", where="name")
    if like not in woods():
        raise InputError(f"Choose what {name} is like: its settings are borrowed from that.", where="like")
    low, high = fig["density_kg_m3"]
    if not low <= density_kg_m3 <= high:
        raise InputError(f"{density_kg_m3:g} kg/m³ cannot be: type {low:g} to {high:g}.", where="density_kg_m3")
    if tear_out not in TEARS:
        raise InputError(f"Its grain is {', '.join(TEARS[:-1])} or {TEARS[-1]}.", where="tear_out")
    times = fig[f"resists_{sort.value}"] if resists is None else resists
    least, most = fig["resists"]
    if not least <= times <= most:
        raise InputError(f"It cannot resist {times:g} times as much: type {least:g} to {most:g}.", where="resists")
    lender = wood(like)
    base = density_kg_m3 if sort is MaterialSort.WOOD else lender.density_kg_m3
    return Wood(
        id=id_,
        name=name.strip()[:80],
        botanical=note.strip()[:120],
        density_kg_m3=density_kg_m3,
        cutting_class=lender.cutting_class,
        tear_out=tear_out,
        dust=dust.strip()[:200] or lender.dust,
        source=f"told in this shop, settings borrowed from {lender.name.lower()}",
        sort=sort,
        like=like,
        resists=times,
        force_kg_m3=round(base * times, 1),
    )


def carried(one: Wood) -> list[Wood]:
    """Return what a route carries to be made of a material: nothing where it is the table's."""
    return [] if woods().get(one.id) == one else [one]


def with_weighed(one: Wood, found: Weighed | None) -> Wood:
    """Return a material with the density its weighed boards say, and what it resists in the same proportion."""
    if found is None:
        return one
    force = one.force_kg_m3
    if force is not None and one.sort is MaterialSort.WOOD:
        force = round(force * found.mean_kg_m3 / one.density_kg_m3, 1)
    boards = "one board" if found.count == 1 else f"{found.count} boards"
    return one.model_copy(
        update={
            "density_kg_m3": found.mean_kg_m3,
            "force_kg_m3": force,
            "weighed": found.count,
            "spread_kg_m3": found.spread_kg_m3,
            "source": f"{boards} weighed in this shop",
        }
    )


def sort_of(one: Wood) -> MaterialSort:
    """Return the sort of a material; of one of the table by how it is cut."""
    return one.sort or SORT_OF_CLASS.get(one.cutting_class, MaterialSort.WOOD)


def species(route: Route, id_: str) -> Wood:
    """Return a material of a route: the one it carries, else the table's.

    Raises:
        InputError: neither has it.
    """
    carried = next((w for w in route.materials if w.id == id_), None)
    return carried or wood(id_)


def known_name(route: Route, id_: str) -> str:
    """Return what a material is called; its id where nobody knows it any more."""
    try:
        return species(route, id_).name
    except InputError:
        return id_


def used(route: Route) -> set[str]:
    """Return the ids of all materials a route is made of."""
    return {route.blank.wood, *(layer.wood for layer in route.blank.layers)}


def offered(route: Route, shop: Iterable[Wood]) -> Route:
    """Return a route that carries every material of a shop it does not carry yet, so that an edit may choose one."""
    there = {w.id for w in route.materials}
    return route.model_copy(update={"materials": [*route.materials, *(w for w in shop if w.id not in there)]})


def settled(route: Route, before: Route | None, shop: Mapping[str, Wood]) -> Route:
    """Return a route that carries the materials it is made of and no other. What it carried before stays as it was; one
    that is new to it comes as the shop has it now."""
    held = {} if before is None else {w.id: w for w in before.materials}
    kept = used(before) if before is not None else set()
    found = []
    for id_ in sorted(used(route)):
        if id_ in kept and (id_ in held or id_ in woods()):
            one = held.get(id_)
        else:
            one = shop.get(id_) or next((w for w in route.materials if w.id == id_), None)
        if one is not None:
            found.append(one)
    return route.model_copy(update={"materials": found})
