"""The list of rules. A rule looks at a simulation and yields findings; one file per family."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from .findings import Finding
from .simulate import Simulation

Rule = Callable[[Simulation], Iterator[Finding]]
RULES: list[Rule] = []


def rule(function: Rule) -> Rule:
    """Register a rule."""
    RULES.append(function)
    return function


def set_edit(path: str, value: object) -> dict[str, object]:
    """Return the edit that sets one field of the route."""
    return {"do": "set", "path": path, "value": value}
