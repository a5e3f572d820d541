"""What is done at the bench for a neck besides its machining: steps from its numbers, each with its wait."""

from __future__ import annotations

from ..bench import BenchStep
from ..data import figures
from ..route import Route
from ..vocabulary import BenchKind, Face
from .features import BACK
from .numbers import Neck

RODS, GLUED, DRY = "rod_fit", "board_glue", "board_dry"


def neck_steps(route: Route) -> list[BenchStep]:
    """Return a neck's bench steps in the order they are done: those that stand (turning over, pins) with those of its
    numbers among them."""
    neck = route.piece.neck
    assert neck is not None
    front = [o.id for o in route.operations if route.setup(o.setup).face is Face.FRONT]
    rough = next((o.id for o in route.operations if BACK in o.features), None)
    last = route.operations[-1].id if route.operations else None
    stands = [s for s in route.bench_steps if s.id != "tabs"]
    out = [*stands]
    if rough is not None:
        out.append(BenchStep(
            id="neck_rest", name="Let the neck rest", kind=BenchKind.REST, wait=True, after=rough,
            minutes=figures()["neck"]["rest_min"],
            note="Free of the clamps, air on all sides. Wood that was roughed moves; it shows before the finish, and "
            "the face is looked at with a straight edge before it goes on.",
        ))
    out.append(BenchStep(id="tabs", name="Saw the tabs, trim flush", minutes=12, after=last))
    out += [s.model_copy(update={"after": last}) for s in after(neck)]
    first = front[-1] if front else None
    return [s.model_copy(update={"after": first}) if s.id == "index_made" else s for s in out]


def with_neck_steps(was: Route, route: Route) -> Route:
    """Return a changed route whose steps follow its neck: those that its numbers newly ask for come, those they no
    longer ask for go; what a person added, changed or took away stays so."""
    old, new = was.piece.neck, route.piece.neck
    if new is None or old is None or old == new:
        return route
    had, wanted = {s.id: s for s in after(old)}, {s.id: s for s in after(new)}
    kept = [s for s in route.bench_steps if s.id not in had or s.id in wanted or not _as_made(s, had[s.id])]
    there = {s.id for s in kept}
    last = route.operations[-1].id if route.operations else None
    order = list(wanted)
    for step in (s for s in wanted.values() if s.id not in had and s.id not in there):
        later = set(order[order.index(step.id) + 1:])
        at = next((k for k, s in enumerate(kept) if s.id in later), len(kept))
        kept = [*kept[:at], step.model_copy(update={"after": last}), *kept[at:]]
    return route.model_copy(update={"bench_steps": kept})


def _as_made(step: BenchStep, made: BenchStep) -> bool:
    """Whether a step is as the numbers made it: where it stands in the order apart."""
    return step.model_copy(update={"after": None}) == made


def after(neck: Neck) -> list[BenchStep]:
    """Return what comes after a neck's programs, in the order it is done."""
    fig = figures()["neck"]
    out: list[BenchStep] = []
    if neck.head.kind == "angled" and neck.tuners.is_known:
        out.append(BenchStep(
            id="tuner_bores", name="Bore for the tuners at the drill press", kind=BenchKind.DRILL,
            minutes=fig["bore_min"] * neck.board.strings, where="headstock, square to its face",
            tool="drill press, headstock's back on its table, backing under it",
            check="posts go in by hand, bushes with a light tap",
            note="The headstock leans: a bore from the machine would stand square to the glue plane, not to it.",
        ))
    if neck.rod.is_known:
        strip = "; glue the fillet over it, none on the rod" if neck.rod.kind == "one_way" else ""
        out.append(BenchStep(
            id=RODS, name="Fit the rod", kind=BenchKind.DRY_FIT, minutes=fig["rod_min"], where="its channel",
            tool="the rod, the key of its adjuster",
            check="it drops in without force, turns both ways, nothing rattles; it lies below the glue plane" + strip,
        ))
    out += [
        BenchStep(id=GLUED, name="Glue the board on", kind=BenchKind.GLUE, minutes=fig["board_glue_min"],
                  where="glue plane", tool="cauls, clamps every 60" + (", pins in two slots" if neck.pin_mm else ""),
                  check="shut along both edges; no glue in the channel"),
        BenchStep(id=DRY, name="Let the board dry", kind=BenchKind.WAIT, wait=True, minutes=fig["dry_min"],
                  check="a day before frets go in, for water in the glue bends the neck"),
        BenchStep(id="neck_sand", name="Scrape and sand the back", kind=BenchKind.SAND, grit=240, minutes=30,
                  where="back, transitions, edges along the board",
                  check="no ridge of a pass in light from the side; board and neck flush at the sides"),
        BenchStep(id="nut_fit", name="Fit the nut", kind=BenchKind.OTHER, minutes=fig["nut_min"],
                  where="against the board's end", check="seated on its whole length; slots lean towards the posts"),
    ]
    if neck.tuners.is_known and neck.head.kind != "none":
        out.append(BenchStep(
            id="tuner_pilots", name="Drill the tuners' screw pilots", kind=BenchKind.DRILL, minutes=12,
            where="headstock's back, beside each housing", tool="drill with a stop, a square along the row",
            check="the stop leaves 2 of wood under the face",
        ))
    return out
