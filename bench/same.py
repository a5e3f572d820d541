"""Whether proofs come out as they did: `python -m bench.same REVISION` proves every demo job and example with the
sources of a revision and with those that stand here, and compares codes, severities, places, facts, motion words
and wood.

Sentences and comments of programs may differ; how many do is counted.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
PROVE = '''
import hashlib, json, sys
import numpy as np
from birch_route.core.proving.prove import prove
from birch_route.core.proving.simulate import Cache
from birch_route.service.planning import release
from birch_route.demo.jobs import EXAMPLES
from birch_route.demo.fitted import fitted_route, hollow_route
from birch_route.demo.jigs import jig_routes

def words(text):
    kept = [line for line in text.splitlines() if not line.startswith(("(", ";"))]
    return hashlib.sha256("\\n".join(kept).encode()).hexdigest()

def told(found):
    facts = [[f.name, f.value, f.unit] for f in found.facts]
    return [found.code, found.severity.value, found.operation, found.feature, found.hardware, found.place, facts]

jobs = {name: make for name, make in EXAMPLES.items()}
jobs.update({"fitted": fitted_route, "fitted, both faces": lambda: fitted_route(True), "hollow": hollow_route})
jobs.update({f"jig {k}": (lambda k=k: jig_routes()[k]) for k in range(4)})
cache, out = Cache(40), {}
for name, make in jobs.items():
    proof = prove(make(), cache)
    made = release(proof, {})
    out[name] = {
        "findings": [told(f) for f in proof.findings],
        "programs": {p.name: words(p.text) for p in made.programs},
        "wood": [hashlib.sha256(np.ascontiguousarray(s.result).tobytes()).hexdigest() for s in proof.simulations],
        "sentences": [f.reason for f in proof.findings],
    }
json.dump(out, sys.stdout)
'''


def proved(source: Path) -> dict[str, Any]:
    """Return what the sources in a folder say of every job."""
    environment = {**os.environ, "PYTHONPATH": str(source)}
    done = subprocess.run([sys.executable, "-c", PROVE], env=environment, capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


def main(revision: str) -> int:
    """Compare a revision with what stands here; return 0 where nothing but words differs."""
    with tempfile.TemporaryDirectory() as folder:
        line = ["git", "worktree", "add", "-q", "--detach", folder, revision]
        subprocess.run(line, cwd=ROOT, check=True)
        try:
            before = proved(Path(folder) / "src")
        finally:
            subprocess.run(["git", "worktree", "remove", "--force", folder], cwd=ROOT, check=True)
    now = proved(ROOT / "src")
    other, reworded = 0, 0
    for name in sorted(before.keys() | now.keys()):
        a, b = before.get(name), now.get(name)
        if a is None or b is None:
            print(f"{name}: only {'now' if a is None else 'before'}")
            other += 1
            continue
        for what in ("findings", "programs", "wood"):
            if a[what] != b[what]:
                other += 1
                print(f"{name}: {what} differ: {a[what]} became {b[what]}"[:600])
        reworded += sum(x != y for x, y in zip(a["sentences"], b["sentences"], strict=False))
    print(f"{len(now)} jobs, {other} differences, {reworded} sentences said otherwise")
    return 1 if other else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1]))
