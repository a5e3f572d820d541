"""Static checks against what stood when they began: a file may have no more than baseline.json says, and when it has
fewer the baseline has to follow it down. `python -m tests.contracts.static` writes it lower, never higher.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
BASELINE = Path(__file__).with_name("baseline.json")
FOLDERS = ("src", "tests", "bench", "setup")
ERROR = re.compile(r"^(?P<file>[^:]+):\d+: error: .*$")

Counts = dict[str, int]  # "file rule" to how many


def ruff() -> Counts:
    """Return ruff's findings by file and rule.

    Raises:
        RuntimeError: ruff itself did not run.
    """
    line = [sys.executable, "-m", "ruff", "check", "--output-format=json", "--exit-zero", *FOLDERS]
    done = subprocess.run(line, cwd=ROOT, capture_output=True, text=True, check=False)
    if done.returncode:
        raise RuntimeError(f"ruff ended with {done.returncode}: {done.stderr[-500:]}")
    found = json.loads(done.stdout)
    return Counter(f"{Path(one['filename']).relative_to(ROOT).as_posix()} {one['code']}" for one in found)


def mypy() -> Counts:
    """Return mypy's errors by file.

    Raises:
        RuntimeError: mypy itself did not run.
    """
    quiet = ["--no-error-summary", "--no-pretty", "--hide-error-context"]
    line = [sys.executable, "-m", "mypy", "--cache-dir=/dev/null", *quiet]  # a cache counts otherwise
    bare = {k: v for k, v in os.environ.items() if k != "PYTHONPATH"}  # or it finds its own files as somebody else's
    done = subprocess.run(line, cwd=ROOT, capture_output=True, text=True, check=False, env=bare)
    if done.returncode not in (0, 1):
        raise RuntimeError(f"mypy ended with {done.returncode}: {(done.stdout + done.stderr)[-500:]}")
    return Counter(f"{match['file']} mypy" for line in done.stdout.splitlines() if (match := ERROR.match(line)))


def baseline() -> Counts:
    """Return what stood when the checks began, or has been brought down to since."""
    return json.loads(BASELINE.read_text())


def differs(now: Counts, allowed: Counts) -> list[str]:
    """Return one line for each file that has more than it may, or fewer than the baseline still allows it."""
    out = []
    for key in sorted(now.keys() | allowed.keys()):
        have, may = now.get(key, 0), allowed.get(key, 0)
        if have > may:
            out.append(f"{key}: {have}, {may} may be")
        elif have < may:
            out.append(f"{key}: {have} where the baseline still has {may}; run python -m tests.contracts.static")
    return out


def lower() -> None:
    """Write the baseline anew where there is less than it has."""
    now = {**ruff(), **mypy()}
    old = baseline() if BASELINE.exists() else now
    kept = {key: min(now.get(key, 0), may) for key, may in old.items()}
    kept = dict(sorted((key, count) for key, count in kept.items() if count))
    BASELINE.write_text(json.dumps(kept, indent=0) + "\n")
    print(f"{sum(kept.values())} in {len(kept)} places; it was {sum(old.values())}")
    for line in differs(now, kept):
        print(line)


if __name__ == "__main__":
    lower()
