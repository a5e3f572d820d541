"""Which codes of findings the tests plant, read from the tests themselves."""

from __future__ import annotations

import ast
from pathlib import Path

HERE = Path(__file__).resolve().parent


def codes_in_tests(codes: set[str]) -> set[str]:
    """Return those codes that a test names where it plants: in the body of a test or a helper, or in a table of cases.

    A set of names that nothing reads is none of these: a name stands only where the test that holds it runs it.
    """
    found: set[str] = set()
    for path in HERE.rglob("test_*.py"):
        tree = ast.parse(path.read_text("utf-8"))
        read = {n.id for n in ast.walk(tree) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Load)}
        for node in tree.body:
            if isinstance(node, ast.Assign):
                names = {t.id for t in node.targets if isinstance(t, ast.Name)}
                if not names & read:
                    continue
            found |= {n.value for n in ast.walk(node) if isinstance(n, ast.Constant) and n.value in codes}
    return found
