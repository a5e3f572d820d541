"""Kinds, codes and verdicts: one word per thing, the same in SQL, Python, TypeScript and on screen."""

from __future__ import annotations

from enum import StrEnum


class BitForm(StrEnum):
    FLAT = "flat"
    BALL = "ball"
    BULL = "bull"
    V = "v"
    DRILL = "drill"


class Flute(StrEnum):
    UP_CUT = "up_cut"
    DOWN_CUT = "down_cut"
    STRAIGHT = "straight"
    COMPRESSION = "compression"


class OperationKind(StrEnum):
    FACE = "face"
    DRILL = "drill"
    BORE = "bore"
    POCKET = "pocket"
    PROFILE = "profile"


class Direction(StrEnum):
    CLIMB = "climb"
    CONVENTIONAL = "conventional"


class Entry(StrEnum):
    HELIX = "helix"
    RAMP = "ramp"
    PLUNGE = "plunge"


class Side(StrEnum):
    INSIDE = "inside"
    OUTSIDE = "outside"
    ON = "on"


class FinishClass(StrEnum):
    SHOWN = "shown"
    FITTED = "fitted"
    GLUED = "glued"
    HIDDEN = "hidden"


class Severity(StrEnum):
    STOP = "stop"
    CARE = "care"
    NOTE = "note"


class Origin(StrEnum):
    MEASURED = "measured"
    ASSUMED = "assumed"
    TOLD = "told"
    COMPUTED = "computed"
    PROVEN = "proven"


class PartKind(StrEnum):
    NECK = "neck"
    BRIDGE = "bridge"
    PICKUP = "pickup"
    PLATE = "plate"
    TUNER = "tuner"
    ROD = "rod"
    POT = "pot"
    SWITCH = "switch"
    JACK = "jack"
    GUARD = "guard"
    NUT = "nut"
    INSERT = "insert"
    SCREW = "screw"
    STRAP_PIN = "strap_pin"


class HardwareKind(StrEnum):
    SCREW = "screw"
    EDGE_CLAMP = "edge_clamp"


class ZeroXY(StrEnum):
    LOWER_LEFT = "lower_left"
    CENTRE = "centre"


class ZeroZ(StrEnum):
    BED = "bed"
    STOCK_TOP = "stock_top"


class PieceKind(StrEnum):
    BODY = "body"
    NECK = "neck"
    FRETBOARD = "fretboard"
    PLATE = "plate"


class MoveKind(StrEnum):
    """What a move of a toolpath does; MOVE_CODES gives the number stored in arrays."""

    RAPID = "rapid"
    PLUNGE = "plunge"
    ENTRY = "entry"
    CUT = "cut"
    FINISH = "finish"
    LINK = "link"


MOVE_CODES: dict[MoveKind, int] = {kind: code for code, kind in enumerate(MoveKind)}
RAPID_CODE = MOVE_CODES[MoveKind.RAPID]
