"""What is done at the machine and at the bench, one thing at a time, in the order of the run sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from ..quantities import mm

Plan = dict[str, Any]  # a run sheet as data
NOT_TWICE = {"zero", "touch"}  # checks of a setup's first bit that its zero steps say one by one


class StepKindAt(StrEnum):
    """What a step of a run asks for."""

    BENCH = "bench"
    LOAD = "load"
    CLAMPS = "clamps"
    ZERO = "zero"
    BIT = "bit"
    CHECK = "check"
    HANDS = "hands"
    CUT = "cut"
    LOOK = "look"

ASKED = (  # of safety before every start, one question each
    ("way", "Nothing stands or lies in the bit's way: no clamp, no spanner", "The way is clear"),
    ("dust", "Extraction on, its hose free to follow", "It is on"),
)


@dataclass(frozen=True)
class Cuts:
    """What one stretch under the machine cuts. minutes: of the whole, computed."""

    operations: tuple[tuple[str, str, float], ...]  # id, name, minutes
    minutes: float


@dataclass(frozen=True)
class StepAt:
    """One thing to do. press: words of the button that says it is done. safety: nothing else is asked with it.
    number_mm, number_words: a length to set, and what it is. waits: a wait that begins with its tick."""

    id: str
    kind: StepKindAt
    title: str
    press: str
    setup: str = ""
    lines: tuple[str, ...] = ()
    number_mm: float | None = None
    number_words: str = ""
    sets: dict[str, float] = field(default_factory=dict)
    goes: dict[str, float] = field(default_factory=dict)
    minutes: float = 0.0
    waits: bool = False
    safety: bool = False
    bench: str = ""  # id of the bench step
    bit: str = ""
    cuts: Cuts | None = None


def steps_of(plan: Plan) -> list[StepAt]:
    """Return a run's steps in their true order; ids stay the same while the run sheet does."""
    setups = {s["id"]: s for s in plan["setups"]}
    out: list[StepAt] = []
    for n, entry in enumerate(plan["order"]):
        if entry["kind"] == "bench":
            out.append(_bench(entry))
        elif entry["kind"] == "setup":
            out += _loading(setups[entry["setup"]])
        else:
            setup, k = setups[entry["setup"]], entry["bit"]
            out += _bit(setup, k)
            rest = plan["order"][n + 1:]
            if not any(e["kind"] == "bit" and e["setup"] == setup["id"] for e in rest):
                out.append(_look(setup))
    return out


def _bench(entry: Plan) -> StepAt:
    lines = [entry["note"], entry["where"] and f"Where: {entry['where']}", entry["tool"] and f"With: {entry['tool']}"]
    if entry["grit"]:
        lines.append(f"Last paper: {entry['grit']}")
    if entry["check"]:
        lines.append(f"Then: {entry['check']}")
    press = "It has begun to wait" if entry["wait"] else "It is done"
    return StepAt(
        f"bench:{entry['step']}", StepKindAt.BENCH, entry["name"], press, lines=_filled(lines),
        minutes=entry["minutes"], waits=entry["wait"], bench=entry["step"],
    )


def _loading(setup: Plan) -> list[StepAt]:
    of = setup["id"]
    out = [StepAt(f"load:{of}", StepKindAt.LOAD, "Load the blank", "It lies there", of, (setup["load"],))]
    first = setup["bits"][0] if setup["bits"] else None
    for kind, words in _checks(first):
        if kind == "clamps":
            out.append(StepAt(
                f"clamps:{of}", StepKindAt.CLAMPS, words, "They are as drawn", of,
                ("Every one seated and tight, none in the way of the bit.",), safety=True,
            ))
    if first:
        out.append(_put_in(of, 0, first))
    out += [
        StepAt(f"zero:{of}:{k}", StepKindAt.ZERO, z["do"], "Done", of, sets=z["sets"], goes=z["goes"])
        for k, z in enumerate(setup["zero_steps"])
    ]
    return out


def _bit(setup: Plan, k: int) -> list[StepAt]:
    group, of = setup["bits"][k], setup["id"]
    first = k == 0
    out = [] if first else [_put_in(of, k, group)]
    for n, (kind, words) in enumerate(_checks(group)):
        if kind in ("bit", "clamps", "clear") or (first and kind in NOT_TWICE):
            continue
        out.append(StepAt(f"check:{of}:{k}:{n}", StepKindAt.CHECK, words, "Yes", of))
    out += [
        StepAt(f"{name}:{of}:{k}", StepKindAt.CHECK, title, press, of, safety=True) for name, title, press in ASKED
    ]
    cut = tuple((o["id"], o["name"], o["minutes"]) for o in group["operations"])
    minutes = round(sum(m for _, _, m in cut), 2)
    out.append(StepAt(
        f"hands:{of}:{k}", StepKindAt.HANDS, "Hands clear, nobody within reach of the bit", "All clear", of,
        ("Eyes, ears and lungs covered. Stay within reach of the machine's own stop.",), safety=True,
    ))
    names = [name for _, name, _ in cut]
    title = names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
    out.append(StepAt(
        f"cut:{of}:{k}", StepKindAt.CUT, title, "It finished", of, minutes=minutes, bit=group["bit"],
        cuts=Cuts(cut, minutes),
    ))
    return out


def _put_in(of: str, k: int, group: Plan) -> StepAt:
    words = next((w for kind, w in _checks(group) if kind == "bit"), group["name"])
    still = " still in," in words
    return StepAt(
        f"bit:{of}:{k}", StepKindAt.BIT, f"T{group['t']}, {group['name']}{': it stays in' if still else ''}",
        "It is in", of, (f"Put in what is named here and nothing else: {group['name']}.",),
        number_mm=group["stickout_mm"], number_words="out of the collet nut", bit=group["bit"],
    )


def _look(setup: Plan) -> StepAt:
    return StepAt(
        f"look:{setup['id']}", StepKindAt.LOOK, "Look before it leaves the clamps", "It may come off", setup["id"],
        (
            "A lamp laid low along the wood shows steps, burns and torn fibres that will not show later.",
            "Hold what goes into its pocket against it. What is wrong now can be cut again without finding zero.",
            "Spindle stopped, and standing still, before a hand goes in.",
        ),
    )


def _checks(group: Plan | None) -> list[tuple[str, str]]:
    return list(zip(group["check_kinds"], group["checks"], strict=True)) if group else []


def _filled(lines: Sequence[str]) -> tuple[str, ...]:
    return tuple(line for line in lines if line)


def named_length(step: StepAt) -> str:
    """Return a step's number in words, marked for the reader's unit; empty where it has none."""
    return "" if step.number_mm is None else f"{mm(step.number_mm):g} {step.number_words}"
