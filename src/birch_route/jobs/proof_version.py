"""Which sources and figures a proof was made with, so that one made with others is made anew.

Computed, not kept by hand: the hash of every module that simulating, judging, reporting and viewing reach by their
imports, and of the figures they read.
"""

from __future__ import annotations

import ast
import hashlib
from functools import cache
from pathlib import Path

PACKAGE = Path(__file__).resolve().parents[1]
BEGINS = ("core/proving/prove.py", "formats/report.py", "formats/view.py", "sheets/run_sheet.py")
FIGURES = PACKAGE / "core" / "materials"


@cache
def made_with() -> str:
    """Return the version of a proof: 16 hexadecimal digits that differ wherever it may come out differently."""
    paths = [*sources(), *sorted(FIGURES.glob("*.json"))]
    return version_of({path.relative_to(PACKAGE).as_posix(): path.read_bytes() for path in paths})


def version_of(files: dict[str, bytes]) -> str:
    """Return the version of files by their names."""
    sha = hashlib.sha256()
    for name, data in sorted(files.items()):
        sha.update(name.encode() + b"\0" + hashlib.sha256(data).digest())
    return sha.hexdigest()[:16]


@cache
def sources() -> list[Path]:
    """Return the modules of this package that a proof depends on, sorted."""
    seen: set[Path] = set()
    todo = [PACKAGE / name for name in BEGINS]
    while todo:
        path = todo.pop()
        if path not in seen:
            seen.add(path)
            todo += _imported(path)
    return sorted(seen)


def _imported(path: Path) -> list[Path]:
    """Return the modules of this package that a module imports, inside functions too."""
    out: list[Path] = []
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.ImportFrom) and node.level:
            base = path.parents[node.level - 1].joinpath(*(node.module.split(".") if node.module else ()))
            names = [base / alias.name for alias in node.names]
            for found in (base, *names):
                out += [p for p in (found.with_suffix(".py"), found / "__init__.py") if p.is_file()]
    return out
