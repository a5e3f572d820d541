"""Web, workers and database killed at random during edits: `python -m bench.kills [--kills 200] [--state FILE]`.

Every edit that was acknowledged must be there afterwards, each once and in its order, with its values. What was done is
noted in the state file after each kill, so a run that is ended goes on from there.
"""

from __future__ import annotations

import argparse
import http.client
import json
import os
import random
import signal
import sys
import threading
import time
from dataclasses import asdict, dataclass, field
from pathlib import Path

from birch_route.formats.route_file import route_to_text
from tests.support import LiveServer, put, route_named

WHOM = ("web", "worker", "database")
BACK_S = 120.0


@dataclass
class Told:
    """What became of the kills so far. lost, twice: numbers of revisions."""

    seed: int
    kills: dict[str, int] = field(default_factory=lambda: dict.fromkeys(WHOM, 0))
    acknowledged: int = 0
    refused: int = 0
    lost: list[int] = field(default_factory=list)
    longest_s: float = 0.0

    @property
    def count(self) -> int:
        return sum(self.kills.values())


class Editor(threading.Thread):
    """Edits one job without end; keeps what was acknowledged: the hash of each revision."""

    def __init__(self, server: LiveServer, route: int, path: str, first: int) -> None:
        super().__init__(daemon=True)
        self.server, self.route, self.path, self.first = server, route, path, first
        self.kept: dict[int, str] = {}
        self.refused, self.over = 0, threading.Event()

    def run(self) -> None:
        revision, value = 0, self.first
        while not self.over.is_set():
            try:
                if not revision:
                    revision = self.server.call("GET", f"/api/routes/{self.route}")[1]["revision"]
                value += 1
                edit = put(self.path, 800.0 + value % 900)
                body = {"revision": revision, "edits": [edit], "reason": ""}
                status, made = self.server.call("POST", f"/api/routes/{self.route}/edits", body)
                if status == 200:
                    revision = made["revision"]
                    self.kept[revision] = made["hash"]
                else:
                    self.refused, revision = self.refused + 1, 0
            except (OSError, http.client.HTTPException, KeyError, TypeError, ValueError):
                self.refused, revision = self.refused + 1, 0
                time.sleep(0.05)


def kill(server: LiveServer, whom: str) -> None:
    """Kill one of the three as a power cut would; a killed web server is started again."""
    if whom == "web":
        os.kill(server.process.pid, signal.SIGKILL)
        server.process.wait()
        server.start()
    elif whom == "worker":
        for pid in server.pids("jobs.worker"):
            os.kill(pid, signal.SIGKILL)
    else:
        found = next(server.folder.rglob("postmaster.pid"), None)
        if found is not None:
            os.kill(int(found.read_text().split()[0]), signal.SIGKILL)


def back(server: LiveServer, route: int) -> tuple[dict, float]:
    """Wait until a job answers again; return it and the seconds it took."""
    began = time.monotonic()
    while time.monotonic() - began < BACK_S:
        try:
            status, job = server.call("GET", f"/api/routes/{route}")
            if status == 200:
                return job, time.monotonic() - began
        except (OSError, http.client.HTTPException):
            pass
        time.sleep(0.1)
    raise AssertionError(f"not back within {BACK_S:.0f} s\n{server.log.read_text()[-1500:]}")


def run(seed: int, kills: int, state: Path | None = None) -> Told:
    """Kill so often; return what was acknowledged and what of it is gone."""
    told = Told(seed)
    if state is not None and state.exists():
        told = Told(**json.loads(state.read_text()))
    server = LiveServer(demo=False)
    try:
        made = server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("control_plate")))[1]
        route = made["route"]
        path = f"operations.{made['document']['operations'][0]['id']}.settings.feed_mm_min"
        while told.count < kills:
            rng = random.Random(told.seed * 1000 + told.count)
            editor = Editor(server, route, path, rng.randrange(900))
            editor.start()
            time.sleep(rng.uniform(0.3, 1.5))
            whom = rng.choice(WHOM)
            kill(server, whom)
            time.sleep(rng.uniform(0.0, 1.0))
            editor.over.set()
            editor.join(BACK_S)
            _, seconds = back(server, route)
            _compare(server, route, editor, told)
            told.kills[whom] += 1
            told.longest_s = round(max(told.longest_s, seconds), 1)
            if state is not None:
                state.write_text(json.dumps(asdict(told)))
        job = back(server, route)[0]
        server.call("POST", f"/api/proofs/{job['hash']}/again")
        server.proof(job["hash"], 300)
    finally:
        server.remove()
    return told


def _compare(server: LiveServer, route: int, editor: Editor, told: Told) -> None:
    """Hold what was acknowledged against the revisions that are there."""
    rows = server.call("GET", f"/api/routes/{route}/revisions")[1]
    there = {r["number"]: r["hash"] for r in rows}
    assert len(there) == len(rows), "a revision stands twice"
    told.acknowledged += len(editor.kept)
    told.refused += editor.refused
    told.lost += [n for n, digest in editor.kept.items() if there.get(n) != digest]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--kills", type=int, default=200)
    parser.add_argument("--seed", type=int, default=7)
    parser.add_argument("--state", type=Path)
    options = parser.parse_args()
    told = run(options.seed, options.kills, options.state)
    print(json.dumps(asdict(told)))
    return 1 if told.lost else 0


if __name__ == "__main__":
    sys.exit(main())
