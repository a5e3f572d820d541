"""Numbers of a job that nobody has said: what is usual stands there until it is touched, or said to be meant so."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from .errors import InputError
from .fretboard.numbers import USUAL as BOARD
from .neck.numbers import USUAL as NECK

if TYPE_CHECKING:
    from .route import Choices, Route

USUAL = "what is usual for an electric guitar; nobody said it for this one"
STARTING = "a starting figure of the machine; nobody measured or told it"
NECK_WORDS = "what is usual for a neck; nobody said it for this one"
BOARD_WORDS = "what is usual for a board; nobody said it for this one"
RULE = "placed by a rule; nobody said that they stand so"
CHOICES: dict[str, str] = {  # what the builder decides, and what it is called
    "action_12th_mm": "Action at the 12th",
    "string_at_nut_mm": "Strings over the first fret",
    "compensation_mm": "Compensation",
    "saddle_part": "Saddle, low 0 to high 1",
    "fit_gap_mm": "Fit gap each side",
    "film_mm": "Finish on each wall",
    "straight_fret": "Square fret",
}
MACHINE: dict[str, str] = {  # figures of the machine that a job's zero and holes rest on
    "touch_plate_mm": "Touch plate thick",
    "edge_finder_mm": "Edge finder across",
    "index_hole_mm": "Index holes across",
}


@dataclass(frozen=True)
class Assumed:
    """A number that nobody has said. path: the field it stands in. words: where it comes from instead."""

    path: str
    name: str
    words: str


def is_assumed(choices: Choices, name: str) -> bool:
    """Return whether a choice is what is usual and nobody has said it."""
    return name in CHOICES and name not in choices.mine


def assumed_of(route: Route) -> list[Assumed]:
    """Return every number of a job that is only assumed, in the order of the route's fields."""
    out = [
        Assumed(f"choices.{n}", words, USUAL)
        for n, words in CHOICES.items()
        if is_assumed(route.choices, n) and (n != "straight_fret" or route.choices.bass_scale_mm is not None)
    ]
    for name, words in MACHINE.items():
        stands = getattr(route.machine, name) is not None and (name != "index_hole_mm" or route.machine.index_holes_mm)
        if stands and (name not in route.machine.known or route.machine.known[name].origin == "assumed"):
            out.append(Assumed(f"machine.{name}", words, STARTING))
    if route.piece.board is not None:
        out += [Assumed(f"piece.board.{n}", BOARD[n][0], BOARD_WORDS) for n in route.piece.board.unsaid()]
    if route.piece.neck is not None:
        out += [Assumed(f"piece.neck.{n}", NECK[n][0], NECK_WORDS) for n in route.piece.neck.unsaid()]
    for f in route.piece.features:
        if f.kind == "hole" and f.assumed:
            out.append(Assumed(f"piece.features.{f.id}", f.name, RULE))
        elif f.kind == "pocket" and f.assumed:
            out.append(Assumed(f"piece.features.{f.id}.depth_mm", f"{f.name}, deep", USUAL))
    out += [
        Assumed(f"setups.{s.id}.hardware.{h.id}", h.words, RULE) for s in route.setups for h in s.hardware if h.assumed
    ]
    return out


def say_mine(data: dict[str, Any], path: str) -> None:
    """Note in a route's document that a number is meant as it stands; nothing where it was said before.

    Raises:
        InputError: the path names no number that could be assumed.
    """
    kind, _, name = path.partition(".")
    if kind == "choices" and name in CHOICES:
        data["choices"]["mine"] = sorted({*data["choices"]["mine"], name})
    elif kind == "machine" and name in MACHINE:
        data["machine"]["known"][name] = {**data["machine"]["known"].get(name, {}), "origin": "told"}
    elif path.startswith("piece.board.") and data["piece"].get("board") and path.split(".")[2] in BOARD:
        board = data["piece"]["board"]
        board["mine"] = sorted({*board.get("mine", []), path.split(".")[2]})
    elif path.startswith("piece.neck.") and data["piece"].get("neck") and path[len("piece.neck."):] in NECK:
        neck = data["piece"]["neck"]
        neck["mine"] = sorted({*neck.get("mine", []), path[len("piece.neck."):]})
    elif path.startswith("piece.features.") and (feature := _feature(data, path.split(".")[2])) is not None:
        feature["assumed"] = False
    elif (pieces := _hardware(data, path)):
        for one in pieces:
            one["assumed"] = False
    else:
        raise InputError(f"“{path}” is no number that was assumed.", where=path)


def touched(data: dict[str, Any], path: str) -> None:
    """Note that a field was set by hand: what was assumed of it is assumed no more."""
    kind, _, name = path.partition(".")
    if (kind == "choices" and name in CHOICES) or (kind == "machine" and name in MACHINE):
        say_mine(data, path)
    if path.startswith("piece.board.") and path.split(".")[2] in BOARD and data["piece"].get("board"):
        say_mine(data, path)
    if path.startswith("piece.neck.") and path[len("piece.neck."):] in NECK and data["piece"].get("neck"):
        say_mine(data, path)
    for one in _hardware(data, path.rpartition(".")[0]):
        one["assumed"] = False


def moved_by_hand(before: list[dict[str, Any]], after: list[dict[str, Any]]) -> None:
    """Note which holes that a rule placed stand elsewhere, or are otherwise, than before an edit; and which pockets
    have another depth."""
    were = {f["id"]: f for f in before if f.get("assumed")}
    for one in after:
        was = were.get(one["id"])
        counts = ("depth_mm",) if one["kind"] == "pocket" else ("points", "diameter_mm", "depth_mm", "face")
        if was is not None and any(was[k] != one.get(k) for k in counts):
            one["assumed"] = False


def _feature(data: dict[str, Any], feature: str) -> dict[str, Any] | None:
    kinds = ("hole", "pocket")
    return next((f for f in data["piece"]["features"] if f["id"] == feature and f["kind"] in kinds), None)


def _hardware(data: dict[str, Any], path: str) -> list[dict[str, Any]]:
    """Return the hardware a path names: `setups.<id>.hardware` all of a setup, `setups.<id>.hardware.<id>` one."""
    match path.split("."):
        case ["setups", setup, "hardware", *one] if len(one) < 2 and isinstance(data["setups"], list):
            held = [h for s in data["setups"] if s["id"] == setup for h in s["hardware"]]
            return [h for h in held if not one or h["id"] == one[0]]
    return []
