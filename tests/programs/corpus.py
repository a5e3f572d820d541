"""Programs in many ways of writing, each with the truth about it: worked out by hand in closed form, or the lines that
must be named.

A clean case gives the length of its cuts, where the bit ends, how deep it came, the bits in order and the seconds of
its dwells. A case that
must be named gives line and code of everything that stops a clean answer.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from birch_route.core.machines import Dialect

IN = 25.4
CHANGER = Dialect(id="changer", change_word=True)
BY_HAND = Dialect(id="by_hand", change_word=False)
TAU = 2 * math.pi


@dataclass(frozen=True)
class Clean:
    """A program that does just what is said here, mm and s."""

    name: str
    text: str
    cut_mm: float
    end: tuple[float, float, float]
    low: float
    tools: tuple[int | None, ...] = (1,)
    dwell_s: float = 0.0
    holes: tuple[tuple[float, float], ...] = ()
    offsets: tuple[int, ...] = ()
    dialect: Dialect | None = None
    cares: tuple[tuple[int, str], ...] = ()


@dataclass(frozen=True)
class Named:
    """A program of which something must be named: line and code of each thing that stops a clean answer."""

    name: str
    text: str
    told: tuple[tuple[int, str], ...]
    dialect: Dialect | None = None


HEAD = "G21 G90\nT1 M6\nS12000 M3\n"  # three lines
END = "\nM5\nM30\n"


def _lines() -> list[Clean]:
    """A square of 40 by 30 at 2 deep: 2 + 3 down, 140 round, in many spellings."""
    def square(name: str, text: str, **more: object) -> Clean:
        return Clean(f"square, {name}", text, 145.0, (0.0, 0.0, -2.0), -2.0, **more)  # type: ignore[arg-type]
    body = "G0 X0 Y0 Z3\nG1 Z-2 F400\nG1 X40\nG1 Y30\nG1 X0\nG1 Y0"
    inch = "G0 X0 Y0 Z{a}\nG1 Z{b} F15.748\nX{c}\nY{d}\nX0\nY0".format(
        a=f"{3 / IN:.5f}", b=f"{-2 / IN:.5f}", c=f"{40 / IN:.5f}", d=f"{30 / IN:.5f}"
    )
    out = [
        square("plain", HEAD + body + END),
        square("modal", HEAD + body.replace("\nG1 ", "\n").replace("\nZ-2", "\nG1 Z-2") + END),
        square("lower case", (HEAD + body + END).lower()),
        square("no spaces", (HEAD + body + END).replace(" ", "")),
        square("spaces between letter and number", HEAD + body.replace("X", "X ").replace("Y", "Y\t") + END),
        square("leading zeros", HEAD + body.replace("G1 ", "G01 ").replace("G0 ", "G00 ") + END),
        square(
            "signs and dots",
            HEAD
            + body.replace("X40", "X+40.").replace("Y30", "Y+30.000").replace("X0", "X-0.").replace("Z3", "Z3.")
            + END,
        ),
        square(
            "line numbers",
            "".join(f"N{10 * k} {line}\n" for k, line in enumerate((HEAD + body + END).split("\n"), 1) if line),
        ),
        square(
            "comments",
            "(a square; with a semicolon)\n" + HEAD + body.replace("\nG1 Y30", "\nG1 (up) Y30 ; G1 X999") + END,
        ),
        square("CR and LF", (HEAD + body + END).replace("\n", "\r\n")),
        square("CR alone", (HEAD + body + END).replace("\n", "\r")),
        square("byte order mark", "\ufeff" + HEAD + body + END),
        square("tape marks and what follows", "%\nO1234\n" + HEAD + body + END + "%\nnothing of this is read G1 X99\n"),
        square("text after the end", HEAD + body + END + "anything G1 X999\n"),
        square("inch", HEAD.replace("G21", "G20") + inch + END),
        square("steps", HEAD + "G0 X0 Y0 Z3\nG91\nG1 Z-5 F400\nX40\nY30\nX-40\nY-30" + END),
        square("feed on a line of its own", HEAD + body.replace("G1 Z-2 F400", "F400\nG1 Z-2") + END),
        square("ended by M2", HEAD + body + "\nM2\n"),
        square("harmless words", HEAD.replace("G90", "G90 G17 G40 G49 G80 G94") + "G61\nM8\n" + body + "\nM9" + END),
        square("rounded corners that do not matter", HEAD + "G64 P0.02\n" + body + END),
        square("the bit's own length", HEAD + "G43 H1\n" + body + END),
        square("second zero alone", "G55\n" + HEAD + body + END, offsets=(2,)),
        square("first zero said late", HEAD + body.replace("G1 X40", "G54 G1 X40") + END, offsets=(1,)),
        square("the same zero again", "G54\n" + HEAD + body + "\nG54" + END, offsets=(1,)),
        square("up at the end", HEAD + "G53 G0 Z0\n" + body + END),
        square("optional stop", HEAD + body.replace("G1 X40", "M1\nG1 X40") + END),
        square(
            "nothing said of unit and place",
            "T1 M6\nS9000 M3\n" + body + END,
            cares=((3, "program.assumed"), (3, "program.assumed")),
        ),
    ]
    for seconds in (0.5, 2.0):
        out.append(square(f"dwell of {seconds:g}", HEAD + f"G4 P{seconds:g}\n" + body + END, dwell_s=seconds))
    return out


def _circles() -> list[Clean]:
    """Arcs and circles of many radii, both ways, with and without end, in steps, by R, as helix, with turns."""
    out = []
    for code in (2, 3):
        turn = -1 if code == 2 else 1
        start = HEAD + "G0 X10 Y5 Z2\nG1 Z-1 F300\n"
        for r in (0.8, 12.0, 250.0):
            whole = (
                (f"I{r:g}", "without X and Y"),
                (f"X10 Y5 I{r:g} J0", "with X and Y"),
                (f"J{-r:g}", "about the side"),
            )
            out += [
                Clean(
                    f"circle G{code}, radius {r:g}, {how}", f"{start}G{code} {words}{END}", 3 + TAU * r, (10, 5, -1), -1
                )
                for words, how in whole
            ]
            out.append(
                Clean(
                    f"circle G{code}, radius {r:g}, in steps",
                    f"{start}G91 G{code} I{r:g}{END}",
                    3 + TAU * r,
                    (10, 5, -1),
                    -1,
                )
            )
            out.append(
                Clean(
                    f"helix G{code}, radius {r:g}, a turn",
                    f"{start}G{code} Z-4 I{r:g}{END}",
                    3 + math.hypot(TAU * r, 3),
                    (10, 5, -4),
                    -4,
                )
            )
        for turns in (2, 5):
            out.append(
                Clean(
                    f"helix G{code}, {turns} turns",
                    f"{start}G{code} X10 Y5 Z-6 I-8 P{turns}{END}",
                    3 + math.hypot(TAU * 8 * turns, 5),
                    (10, 5, -6),
                    -6,
                )
            )
        for r, part in ((20.0, 0.25), (20.0, 0.75), (3.0, 0.5)):
            # the centre lies r to the left of the start
            a = turn * part * TAU
            x, y = 10 - r + r * math.cos(a), 5 + r * math.sin(a)
            out.append(
                Clean(
                    f"arc G{code}, {part:g} of radius {r:g}",
                    f"{start}G{code} X{x:.6f} Y{y:.6f} I{-r:.6f} J0{END}",
                    3 + r * part * TAU,
                    (x, y, -1),
                    -1,
                )
            )
            if part != 0.5:
                out.append(
                    Clean(
                        f"arc G{code} by R, {part:g} of radius {r:g}",
                        f"{start}G{code} X{x:.6f} Y{y:.6f} R{r if part < 0.5 else -r:.6f}{END}",
                        3 + r * part * TAU,
                        (x, y, -1),
                        -1,
                    )
                )
        out.append(
            Clean(
                f"arc G{code}, absolute centre",
                f"{start}G90.1\nG{code} X10 Y5 I4 J5{END}",
                3 + TAU * 6,
                (10, 5, -1),
                -1,
            )
        )
        out.append(
            Clean(
                f"circle G{code} in inches",
                HEAD.replace("G21", "G20") + f"G0 X1 Y1 Z.1\nG1 Z-.1 F10\nG{code} I-.5{END}",
                0.2 * IN + TAU * 0.5 * IN,
                (IN, IN, -0.1 * IN),
                -0.1 * IN,
            )
        )
    return out


def _cycles() -> list[Clean]:
    """Drilling: how far the feed moves go is bottom below R for each hole."""
    first = "G0 X0 Y0 Z10\n"
    return [
        Clean("G81, one", HEAD + first + "G81 X5 Y6 Z-8 R1 F100" + END, 9, (5, 6, 10), -8, holes=((5, 6),)),
        Clean(
            "G81, modal places",
            HEAD + first + "G81 X5 Y6 Z-8 R1 F100\nX15\nY16\nG80" + END,
            27,
            (15, 16, 10),
            -8,
            holes=((5, 6), (15, 6), (15, 16)),
        ),
        Clean(
            "G81, back to R",
            HEAD + first + "G99 G81 X5 Y6 Z-8 R1 F100\nX15" + END,
            18,
            (15, 6, 1),
            -8,
            holes=((5, 6), (15, 6)),
        ),
        Clean(
            "G81, back to R and then up",
            HEAD + first + "G99 G81 X5 Y6 Z-8 R1 F100\nG98 X15" + END,
            18,
            (15, 6, 10),
            -8,
            holes=((5, 6), (15, 6)),
        ),
        Clean(
            "G81, another depth",
            HEAD + first + "G81 X5 Y6 Z-8 R1 F100\nX15 Z-3" + END,
            9 + 4,
            (15, 6, 10),
            -8,
            holes=((5, 6), (15, 6)),
        ),
        Clean(
            "G81 in steps",
            HEAD + first + "G91 G81 X5 Y6 Z-6 R-8 F100\nX10" + END,
            12,
            (15, 6, 10),
            -4,
            holes=((5, 6), (15, 6)),
        ),
        Clean(
            "G81 in steps, four times",
            HEAD + first + "G91 G81 X5 Y0 Z-6 R-8 L4 F100" + END,
            24,
            (20, 0, 10),
            -4,
            holes=((5, 0), (10, 0), (15, 0), (20, 0)),
        ),
        Clean(
            "G81 in steps, back to R, three times",
            HEAD + first + "G91 G99 G81 X5 Z-6 R-8 L3 F100" + END,
            18,
            (15, 0, 2),
            -4,
            holes=((5, 0), (10, 0), (15, 0)),
        ),
        Clean(
            "G81 twice at a place", HEAD + first + "G81 X5 Y6 Z-8 R1 L2 F100" + END, 18, (5, 6, 10), -8, holes=((5, 6),)
        ),
        Clean(
            "G81 from below R", HEAD + "G0 X0 Y0 Z1\nG81 X5 Y6 Z-8 R3 F100" + END, 11, (5, 6, 3), -8, holes=((5, 6),)
        ),
        Clean(
            "G82 with its dwell",
            HEAD + first + "G82 X5 Y6 Z-8 R1 P1.5 F100\nX9" + END,
            18,
            (9, 6, 10),
            -8,
            dwell_s=3.0,
            holes=((5, 6), (9, 6)),
        ),
        Clean(
            "G83, pecks of 3",
            HEAD + first + "G83 X5 Y6 Z-8 R1 Q3 F100" + END,
            3 + 3.3 + 3.3,
            (5, 6, 10),
            -8,
            holes=((5, 6),),
        ),
        Clean(
            "G83, peck deeper than the hole",
            HEAD + first + "G83 X5 Y6 Z-8 R1 Q30 F100" + END,
            9,
            (5, 6, 10),
            -8,
            holes=((5, 6),),
        ),
        Clean(
            "a cut ends a cycle",
            HEAD + first + "G81 X5 Y6 Z-8 R1 F100\nG1 Z0\nX25" + END,
            9 + 10 + 20,
            (25, 6, 0),
            -8,
            holes=((5, 6),),
        ),
        Clean(
            "G81 in inches",
            HEAD.replace("G21", "G20") + "G0 X0 Y0 Z.5\nG81 X1 Y1 Z-.5 R.1 F5" + END,
            0.6 * IN,
            (IN, IN, 0.5 * IN),
            -0.5 * IN,
            holes=((IN, IN),),
        ),
    ]


def _bits() -> list[Clean]:
    """Two bits: 10 with each."""
    cut = "G0 X0 Y0 Z0\nG1 X10 F200\n"

    def two(name: str, text: str, **more: object) -> Clean:
        return Clean(f"two bits, {name}", text, 20.0, (10, 0, 0), 0.0, tools=more.pop("tools", (1, 2)), **more)  # type: ignore[arg-type]

    return [
        two("T with M6", f"G21 G90\nT1 M6\nS9000 M3\n{cut}M5\nT2 M6\nM3\n{cut}{END}"),
        two("M6 before T in the line", f"G21 G90\nM6 T1\nS9000 M3\n{cut}M5\nM6 T2\nM3\n{cut}{END}"),
        two("T and M6 on lines of their own", f"G21 G90\nT1\nM6\nS9000 M3\n{cut}M5\nT2\nM6\nM3\n{cut}{END}"),
        two(
            "the next one called ahead, on a changer",
            f"G21 G90\nT1 M6\nT2\nS9000 M3\n{cut}M5\nM6\nM3\n{cut}{END}",
            dialect=CHANGER,
        ),
        two("by hand", f"G21 G90\nT1\nM0\nS9000 M3\n{cut}M5\nT2\nM0\nM3\n{cut}{END}", dialect=BY_HAND),
        two(
            "by hand, the first in already", f"G21 G90\nT1\nS9000 M3\n{cut}M5\nT2\nM0\nM3\n{cut}{END}", dialect=BY_HAND
        ),
        two(
            "by hand, nothing known of the machine",
            f"G21 G90\nT1\nM0\nS9000 M3\n{cut}M5\nT2\nM0\nM3\n{cut}{END}",
            cares=((2, "program.assumed"),),
        ),
        two("the same twice", f"G21 G90\nT1 M6\nS9000 M3\n{cut}T1\nG0 X0\nG1 X10 F200{END}", tools=(1,)),
        two(
            "M6 and a stop on a machine changed by hand",
            f"G21 G90\nT1 M6\nM0\nS9000 M3\n{cut}M5\nT2 M6\nM0\nM3\n{cut}{END}",
            dialect=BY_HAND,
        ),
    ]


CLEAN: list[Clean] = [*_lines(), *_circles(), *_cycles(), *_bits()]

START = HEAD + "G0 X0 Y0 Z3\nG1 Z-1 F300\n"  # five lines; what is wrong comes in the sixth


def _wrong(line: str, code: str = "program.not_understood", name: str = "") -> Named:
    return Named(name or line, f"{START}{line}\nG1 X5{END}", ((6, code),))


NAMED: list[Named] = [
    *(
        _wrong(w)
        for w in (
            "G18",
            "G19",
            "G41 D1",
            "G42",
            "G28 Z0",
            "G92 X0 Y0",
            "G73 X1 Z-2 R1 Q1",
            "G85 X1 Z-2 R1",
            "G54.1 P1",
            "G43.1 Z1",
            "G93",
            "G95",
            "G10 L2 P1 X0",
            "G1.04 X3",
            "M4",
            "M98 P100",
            "M99",
            "M3.5",
            "M48",
            "A90",
            "G1 X3 E2",
            "G1 X#1",
            "G1 X[1+2]",
            "#1=5",
            "O100 sub",
            "G1 X1 X2",
            "G1 X1.2.3",
            "G1 X--5",
            "X1-2",
            "G1 X5 R3",
            "G1 X5 I2",
            "G1 X5 P2",
            "G1 X5 K1",
            "G1 X5 H2",
            "G1 X5 L2",
            "D1",
            "/G1 X9",
            "G1 X5 (open",
            "T1.5 M6",
            "G0 G1 X5",
            "G90 G91 X1",
            "M3 M5",
            "G53 G0 X0",
            "G53 G0 Z-20",
            "G4",
            "G4 X2",
            "G64 P0.5",
            "G43 H3",
            "G80 X4",
            "hello",
            "S1000 S2000 M3",
            "N5 N6 G1 X3",
        )
    ),
    *(
        _wrong(w, "program.arc")
        for w in (
            "G2 X5",
            "G2 X0 Y0 R4",
            "G2 X10 Y0 R4",
            "G2 X10 I5 R5",
            "G2 X10 I5 K1",
            "G3 I0 J0",
            "G2 X10 I5 P1.5",
            "G2 X10 I5 P0",
            "G2 X10 Y0 I5.02 J0",
            "G2 X10 Y0 R4.8",
            "G90.1 G2 X10 I5",
        )
    ),
    _wrong("G3 X0 Y1000 I0 J500.1", "program.arc", "large arc, 0.2 mm off"),
    _wrong("G3 X0 Y1000 J500.003", "program.arc", "large arc, 0.006 off with three decimals"),
    _wrong("S0 M3", "program.spindle_off"),
    _wrong("S0", "program.spindle_off", "S0 while it turns"),
    _wrong("F0", "program.no_feed"),
    _wrong("F-100", "program.no_feed"),
    _wrong("G20", "program.no_feed", "unit changed, feed not"),
    _wrong("G55", name="another zero after moves"),
    _wrong("G83 X1 Y1 Z-2 R1", name="pecks without a depth"),
    _wrong("G81 X1 Y1 Z-2", name="no R"),
    _wrong("G81 X1 Z5 R1", name="bottom above R"),
    _wrong("G81 X1 Z-2 R1 K3", name="repeats by K"),
    _wrong("G81 X1 Z-2 R1 L0"),
    Named("no end", f"{START}G1 X5\n", ((6, "program.no_end"),)),
    Named("tape ends without end", f"%\n{START}G1 X5\n%\n", ((8, "program.no_end"),)),
    Named("no feed", f"{HEAD}G0 X0 Y0 Z0\nG1 X5{END}", ((5, "program.no_feed"),)),
    Named("step from nowhere", f"{HEAD}G91\nG0 X5 Y5 Z5\nG1 X1 F100{END}", ((5, "program.not_understood"),) * 3),
    Named("cut from nowhere", f"{HEAD}G1 X5 F100\nG0 Y0 Z0\nG1 X6{END}", ((4, "program.not_understood"),)),
    Named("M6 without T", f"G21 G90\nM6\nG0 X0 Y0 Z0\nG1 X5 F100{END}", ((2, "program.bit_change"),)),
    Named("T without M6", f"{START}T2\nG1 X5{END}", ((6, "program.bit_change"),)),
    Named(
        "T alone, nothing known", f"G21 G90\nT1\nS9000 M3\nG0 X0 Y0 Z0\nG1 X5 F100{END}", ((2, "program.bit_change"),)
    ),
    Named(
        "called ahead, nothing known",
        f"G21 G90\nT1 M6\nT2\nG0 X0 Y0 Z0\nG1 X5 F100\nM6\nG1 X0{END}",
        ((3, "program.bit_change"),),
    ),
    Named(
        "by hand without a stop", f"{START.replace('T1 M6', 'T1')}T2\nG1 X5{END}", ((6, "program.bit_change"),), BY_HAND
    ),
    Named(
        "M6 on a machine that does not stop at it",
        f"{START.replace('T1 M6', 'T1')}T2 M6\nM3\nG1 X5{END}",
        ((6, "program.bit_change"),),
        BY_HAND,
    ),
    Named(
        "changed while it turns",
        f"{START.replace('T1 M6', 'T1')}T2\nM0\nG1 X5{END}",
        ((7, "program.bit_change"),),
        BY_HAND,
    ),
    Named("two zeros before the first move", f"G54\nG55\n{START}G1 X5{END}", ((6, "program.not_understood"),)),
]
