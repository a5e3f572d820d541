"""Which G and M words are known, and which of them exclude one another in a line."""

from __future__ import annotations

CYCLES = (81, 82, 83)
_GROUPS: dict[str, tuple[float, ...]] = {
    "motion": (0, 1, 2, 3, 80, *CYCLES),
    "plane": (17,),
    "units": (20, 21),
    "distance": (90, 91),
    "arc centres": (90.1, 91.1),
    "offset": (54, 55, 56, 57, 58, 59),
    "retract": (98, 99),
    "path": (61, 64),
    "length": (43, 49),
    "radius": (40,),
    "feed": (94,),
    "once": (4, 53, 10, 92, 38.2, 38.3),
}
GROUP = {code: group for group, codes in _GROUPS.items() for code in codes}
M_GROUPS = {
    0: "stop",
    1: "stop",
    2: "stop",
    30: "stop",
    3: "spindle",
    5: "spindle",
    6: "change",
    7: "air",
    8: "air",
    9: "air",
}
