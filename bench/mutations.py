"""Small mutations of limits, told by a test or survivors: `python -m bench.mutations [--count 60] [--seed COMMIT]`.

Draws places in the rules and in what they judge by (a comparison turned or widened, a sign, a factor, a limit a little
off), seeded by the commit, applies one at a time to a copy of the sources and runs the tests of that module and of its
rules. Results are kept in out/mutations.json after each, so that a run that was stopped goes on where it was.
"""

from __future__ import annotations

import argparse
import ast
import json
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = ROOT / "src" / "birch_route" / "core"
OUT = ROOT / "out" / "mutations.json"
PLACES = (
    "proving/rules_*.py",
    "cutting/*.py",
    "holding/*.py",
    "instrument/room.py",
    "instrument/joint.py",
    "quantities.py",
    "units.py",
)
TURNED: dict[type[ast.cmpop], str] = {ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<"}
SIGNS: dict[type[ast.operator], tuple[str, str]] = {
    ast.Add: ("+", "-"),
    ast.Sub: ("-", "+"),
    ast.Mult: ("*", "/"),
    ast.Div: ("/", "*"),
}
SECONDS = 900


@dataclass(frozen=True)
class Mutation:
    """One change of a text: the file under the repository, the line, what stood there and what stands now."""

    file: str
    line: int
    before: str
    after: str
    start: int
    end: int


def mutations_of(path: Path) -> list[Mutation]:
    """Return every mutation that a file offers."""
    text = path.read_text("utf-8")
    starts = [0]
    for line in text.splitlines(keepends=True):
        starts.append(starts[-1] + len(line.encode()))
    raw = text.encode()

    def at(row: int, column: int) -> int:
        return starts[row - 1] + column

    out = []
    name = path.relative_to(ROOT).as_posix()
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in TURNED:
            a, b = (
                at(node.left.end_lineno or 0, node.left.end_col_offset or 0),
                at(node.comparators[0].lineno, node.comparators[0].col_offset),
            )
            found = re.search(rb"<=|>=|<|>", raw[a:b])
            if found:
                was = found[0].decode()
                out.append(
                    Mutation(name, node.lineno, was, TURNED[type(node.ops[0])], a + found.start(), a + found.end())
                )
        elif isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
            a, b = (
                at(node.left.end_lineno or 0, node.left.end_col_offset or 0),
                at(node.right.lineno, node.right.col_offset),
            )
            was, now = SIGNS[type(node.op)]
            spot = raw[a:b].find(was.encode())
            if spot >= 0 and raw[a:b].strip(b" ()\n") == was.encode():
                out.append(Mutation(name, node.lineno, was, now, a + spot, a + spot + 1))
        elif isinstance(node, ast.Constant) and isinstance(node.value, float) and node.value > 0.01:
            a, b = at(node.lineno, node.col_offset), at(node.end_lineno or 0, node.end_col_offset or 0)
            out.append(Mutation(name, node.lineno, raw[a:b].decode(), f"{node.value * 1.3:g}", a, b))
    return out


def tests_for(file: str) -> list[str]:
    """Return the modules of tests that import a source file or name a code of its findings."""
    module = file.removeprefix("src/").removesuffix(".py").replace("/", ".")
    codes = set(re.findall(r'finding\(\s*"([a-z_.]+)"', (ROOT / file).read_text("utf-8")))
    found = []
    for path in sorted((ROOT / "tests").rglob("test_*.py")):
        if path.parent.name in ("browser", "web", "store", "contracts"):
            continue
        text = path.read_text("utf-8")
        if module in text or any(f'"{code}"' in text for code in codes):
            found.append(path.relative_to(ROOT).as_posix().removesuffix(".py").replace("/", "."))
    return found


def is_told(one: Mutation, folder: Path) -> bool:
    """Return whether a test fails once the mutation stands in a copy of the sources."""
    path = folder / one.file
    raw = path.read_bytes()
    path.write_bytes(raw[: one.start] + one.after.encode() + raw[one.end :])
    try:
        environment = {**os.environ, "PYTHONPATH": f"{folder / 'src'}{os.pathsep}{folder}"}
        for name in tests_for(one.file):
            line = [sys.executable, "-m", "unittest", "-q", "-f", name]
            done = subprocess.run(line, cwd=folder, env=environment, capture_output=True, timeout=SECONDS, check=False)
            if done.returncode:
                return True
        return False
    except subprocess.TimeoutExpired:
        return True
    finally:
        path.write_bytes(raw)


def main() -> int:
    """Draw, try and tell; return the number of survivors."""
    parser = argparse.ArgumentParser(prog="bench.mutations")
    parser.add_argument("--count", type=int, default=60)
    head = subprocess.run(
        ["git", "rev-parse", "HEAD"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.strip()
    parser.add_argument("--seed", default=head)
    options = parser.parse_args()
    every = [m for place in PLACES for path in sorted(CORE.glob(place)) for m in mutations_of(path)]
    drawn = random.Random(options.seed).sample(every, min(options.count, len(every)))
    kept = json.loads(OUT.read_text()) if OUT.exists() else {}
    told = kept.get(options.seed, {})
    OUT.parent.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        for part in ("src", "tests", "examples", "docs"):
            shutil.copytree(ROOT / part, folder / part)
        for one in drawn:
            key = f"{one.file}:{one.line} {one.before} became {one.after} at {one.start}"
            if key not in told:
                told[key] = is_told(one, folder)
                OUT.write_text(json.dumps({**kept, options.seed: told}, indent=1))
            print(f"{'told' if told[key] else 'SURVIVED'}  {key}", flush=True)
    survived = sum(not v for v in told.values())
    print(f"{len(drawn)} of {len(every)} mutations, {survived} survived, seed {options.seed[:12]}")
    return survived


if __name__ == "__main__":
    sys.exit(min(main(), 100))
