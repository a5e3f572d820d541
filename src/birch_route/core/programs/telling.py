"""What is told of a program while it is read: findings by line, some only once, no more than a person can use."""

from __future__ import annotations

from ..proving.findings import Fact, Finding, finding

MOST_PROBLEMS = 200


class Telling:
    """Findings as they come up."""

    def __init__(self) -> None:
        self.problems: list[Finding] = []
        self._told: set[str] = set()
        self._more = 0

    def problem(self, code: str, line: int, words: str, **facts: float) -> None:
        if len(self.problems) >= MOST_PROBLEMS:
            self._more += 1
            return
        self.problems.append(
            finding(
                code,
                f"Line {line}: {words}",
                line=line,
                facts=[Fact(name=k.replace("_", " "), value=v) for k, v in facts.items()],
            )
        )

    def once(self, what: str, code: str, line: int, words: str) -> None:
        """Name something the first time it comes up."""
        if what not in self._told:
            self._told.add(what)
            self.problem(code, line, words)

    def all_told(self, last_line: int) -> list[Finding]:
        """Return everything told, and how much more there was."""
        more = (
            [finding("program.not_understood", f"{self._more} more lines were not understood.", line=last_line)]
            if self._more
            else []
        )
        return [*self.problems, *more]
