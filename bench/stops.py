"""Random stops, gone on with: `python -m bench.stops [--count 300] [--seed 25] [--second 30]`.

Draws programs of the demo's jobs and lines in them, makes the program that goes on, and holds the wood against that of
the whole program: by the product's own cutting for every stop, by the second simulator for the first of the small job.
Results are kept in out/stops.json after each; a run that was ended goes on where it was.
"""

from __future__ import annotations

import argparse
import json
import random
import sys
from pathlib import Path
from typing import Any

from birch_route.core.programs.reader import read_program
from birch_route.core.programs.writer import write_all
from birch_route.core.proving.prove import prove
from birch_route.core.run.resume import resume, spot_at_line
from birch_route.demo.jobs import EXAMPLES
from tests.independent.stops import RAPID_MM, stopped

OUT = Path(__file__).resolve().parents[1] / "out" / "stops.json"
SMALL = "control_plate"
LAST_LINES = 4  # nothing moves in them


def main() -> int:
    """Draw, go on, tell; return how many went wrong."""
    parser = argparse.ArgumentParser(prog="bench.stops")
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=25)
    parser.add_argument("--second", type=int, default=30, help="stops of the small job for the second simulator")
    options = parser.parse_args()
    kept = json.loads(OUT.read_text()) if OUT.exists() else {}
    done: dict[str, Any] = kept.setdefault(str(options.seed), {})
    OUT.parent.mkdir(exist_ok=True)
    known: dict[str, Any] = {}
    rng = random.Random(options.seed)
    for n in range(options.count):
        name = SMALL if n < options.second else rng.choice(list(EXAMPLES))
        draw = rng.random()
        if str(n) in done:
            continue
        if name not in known:
            proof = prove(EXAMPLES[name]())
            known[name] = [(next(s for s in proof.simulations if s.setup.id == p.setup), p)
                           for p in write_all(proof.simulations)]
        sim, program = known[name][int(draw * 1e6) % len(known[name])]
        read = read_program(program.text, program.name, sim.route.machine.dialect)
        line = 1 + int(draw * (read.lines - LAST_LINES - 1))
        spot = spot_at_line(read, program, sim, line)
        made = resume(sim, program, spot)
        told: dict[str, Any] = {"job": name, "line": line, "problems": list(made.problems), "differs": made.differs_mm}
        if n < options.second:
            _, differs, rapid = stopped(sim, program, line)
            told |= {"second_differs": differs, "second_rapid": rapid}
        done[str(n)] = told
        OUT.write_text(json.dumps(kept, indent=1))
        print(n, told, flush=True)
    wrong = [k for k, d in done.items() if d["problems"] or d["differs"] > 0.02 or d.get("second_differs", 0) > 0.02
             or d.get("second_rapid", 0) > RAPID_MM]
    worst = max((max(d["differs"], d.get("second_differs", 0.0)) for d in done.values()), default=0.0)
    print(f"{len(done)} stops, {len(wrong)} wrong {wrong[:10]}, wood off by {worst:.4f} at most")
    return len(wrong)


if __name__ == "__main__":
    sys.exit(min(main(), 100))
