"""The list of rules. A rule looks at a simulation and yields findings; one file per family."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from .findings import Finding
from .simulate import Simulation

Rule = Callable[[Simulation], Iterator[Finding]]
RULES: list[Rule] = []
ONCE: set[Rule] = set()
ON_WOOD: set[Rule] = set()
ON_MOTION: set[Rule] = set()
ON_FORCE: set[Rule] = set()


def rule(function: Rule) -> Rule:
    """Register a rule."""
    RULES.append(function)
    return function


def rule_once(function: Rule) -> Rule:
    """Register a rule over the whole route: it is asked once, with the first setup's simulation, and looks at `sim.whole`."""
    ONCE.add(function)
    return rule(function)


def rule_on_wood(function: Rule) -> Rule:
    """Register a rule that looks at shapes and wood only: however the bit moves, the same wood gets the same answer, which is kept."""
    ON_WOOD.add(function)
    return rule(function)


def rule_on_motion(function: Rule) -> Rule:
    """Register a rule that looks at wood and at where the bit goes, not at feeds and speeds."""
    ON_MOTION.add(function)
    return rule(function)


def rule_on_force(function: Rule) -> Rule:
    """Register a rule that looks at one setup's wood, its motion and what its operations pull with, at nothing of other setups' operations."""
    ON_FORCE.add(function)
    return rule(function)


def set_edit(path: str, value: object) -> dict[str, object]:
    """Return the edit that sets one field of the route."""
    return {"do": "set", "path": path, "value": value}
