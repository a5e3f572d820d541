"""Kinds, codes and verdicts: one word per thing, the same in SQL, Python, TypeScript and on screen."""

from __future__ import annotations

from enum import StrEnum


class BitForm(StrEnum):
    FLAT = "flat"
    BALL = "ball"
    BULL = "bull"
    TAPER = "taper"  # a small ball on a slender cone: its diameter is the ball's
    V = "v"
    ROUND = "round"  # rounds an edge over: hollow quarter circles beside a small flat tip
    DRILL = "drill"
    DOVETAIL = "dovetail"  # wider below: stands on the rack, no job takes it
    UNDERCUT = "undercut"  # T-slots, keyholes and others whose head is wider than what stands above it; no job either


MILLS = (BitForm.FLAT, BitForm.BULL)  # clear floors
ROUNDED = (BitForm.BALL, BitForm.TAPER)  # go over slopes


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
    SURFACE_ROUGH = "surface_rough"
    SURFACE_FINISH = "surface_finish"
    EDGE = "edge"


class Direction(StrEnum):
    CLIMB = "climb"
    CONVENTIONAL = "conventional"


class Clearing(StrEnum):
    """How a pocket is cleared: rings at equal offsets, or passes that keep the engaged arc of the bit bounded."""

    RINGS = "rings"
    ENGAGED = "engaged"


class Pattern(StrEnum):
    """How a finish runs over a surface: parallel lines, level lines where it is not flat, each where it suits the slope, only where it is flat, or only along its valleys."""

    PARALLEL = "parallel"
    CONTOUR = "contour"
    BOTH = "both"
    FLAT = "flat"
    PENCIL = "pencil"


class TabShape(StrEnum):
    SQUARE = "square"
    RAMPED = "ramped"


class School(StrEnum):
    """How an outline is cut: through but for tabs, through but for a skin, or a groove for saw and bearing bit."""

    TABS = "tabs"
    SKIN = "skin"
    GROOVE = "groove"


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
    FREE = "free"


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
    OWN = "own"  # of a record: cut in this shop


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
    """What holds the blank. A screw goes through waste, a pin through an index hole; an edge clamp, a cam or a pair of wedges presses against an edge, a top
    clamp or a bolt down from above, a strap at both edges; a vice grips it between two jaws, an end up; a rail is a stop along an edge; tape and vacuum hold from below; a spacer carries wood that would lie free."""

    SCREW = "screw"
    BOLT = "bolt"
    EDGE_CLAMP = "edge_clamp"
    CAM = "cam"
    WEDGE = "wedge"
    STRAP = "strap"
    VICE = "vice"
    TOP_CLAMP = "top_clamp"
    RAIL = "rail"
    PIN = "pin"
    TAPE = "tape"
    VACUUM = "vacuum"
    SPACER = "spacer"


class ZeroXY(StrEnum):
    LOWER_LEFT = "lower_left"
    CENTRE = "centre"


class ZeroZ(StrEnum):
    BED = "bed"
    STOCK_TOP = "stock_top"


class ZeroWay(StrEnum):
    """How X and Y of a setup's zero are found."""

    EDGES = "edges"
    EDGE_FINDER = "edge_finder"
    HOLE = "hole"
    LINES = "lines"
    PROBE = "probe"
    JIG = "jig"


class MaterialSort(StrEnum):
    """What a material is, which says how much more it resists than what it is like."""

    WOOD = "wood"
    SHEET = "sheet"
    PLASTIC = "plastic"
    SHELL = "shell"
    METAL = "metal"


class PieceKind(StrEnum):
    BODY = "body"
    NECK = "neck"
    FRETBOARD = "fretboard"
    PLATE = "plate"
    JIG = "jig"
    END = "end"  # of a piece, standing in a vice
    COUPON = "coupon"  # on scrap, to try something

    @property
    def is_cut_out(self) -> bool:
        """Whether its outline is cut."""
        return self not in (PieceKind.END, PieceKind.COUPON)


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


class Face(StrEnum):
    """The two faces of a piece. Turning over never mirrors the piece."""

    FRONT = "front"
    BACK = "back"


class TurnAxis(StrEnum):
    """The plan axis a piece is turned over about: along its centre line, or across it."""

    LENGTH = "length"
    WIDTH = "width"


class Mount(StrEnum):
    """How a part stands: on a face, on the side of the outline, by the saddle line, by the heel's end."""

    FACE = "face"
    SIDE = "side"
    SADDLE = "saddle"
    HEEL = "heel"


class EdgeKind(StrEnum):
    SHARP = "sharp"
    BROKEN = "broken"
    ROUND = "round"
    BEVEL = "bevel"


class LayerKind(StrEnum):
    CORE = "core"
    CAP = "cap"
    VENEER = "veneer"
    BOARD = "board"


class BenchKind(StrEnum):
    """What is done at the bench."""

    JOINT = "joint"
    DRY_FIT = "dry_fit"
    GLUE = "glue"
    WAIT = "wait"
    PLANE = "plane"
    MEASURE = "measure"
    MARK = "mark"
    DRILL = "drill"
    CHISEL = "chisel"
    EDGE = "edge"
    TRIM = "trim"
    REST = "rest"
    SAND = "sand"
    INSPECT = "inspect"
    OTHER = "other"


class CutKind(StrEnum):
    """How a bit meets the wood: its whole width in a slot, part of it from the side, a thin pass along a wall, or its tip over a face."""

    SLOT = "slot"
    SIDE = "side"
    FINISH = "finish"
    FACE = "face"


class Limit(StrEnum):
    """What cut settings may run into."""

    RUBBING = "rubbing"
    CHIP = "chip"
    POWER = "power"
    BEND = "bend"
    BREAKAGE = "breakage"
    HOLDING = "holding"
    FINISH = "finish"
    LOUDNESS = "loudness"
    FEED = "feed"
    DEPTH = "depth"


class Aim(StrEnum):
    """What suggested settings are to be: well inside every limit, the fastest that keeps them, or no louder than neighbours bear."""

    CAREFUL = "careful"
    FAST = "fast"
    QUIET = "quiet"


class Outcome(StrEnum):
    """What became of a cut. The first is the only good one; burning is too thin a chip, the others but slow too hard a cut."""

    FINE = "fine"
    SLOW = "slow"
    BURNING = "burning"
    CHATTER = "chatter"
    TORN = "torn"
    BROKE = "broke"


class Standing(StrEnum):
    """What records say of settings: cut here as they are, no harder than what was cut here, beyond all that was cut here, or as hard as what failed here."""

    PROVEN = "proven"
    COVERED = "covered"
    UNTRIED = "untried"
    FAILED = "failed"
