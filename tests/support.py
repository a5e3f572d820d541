"""What several tests share: the clean routes, edits on them, and a real server with database and worker."""

from __future__ import annotations

import http.client
import json
import os
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from functools import cache
from pathlib import Path
from typing import Any

from birch_route.core.edits import apply_edits, read_edit
from birch_route.core.proving.prove import Proof, prove
from birch_route.core.proving.simulate import Cache
from birch_route.core.route import Route
from birch_route.core.stages import cell_for
from birch_route.demo.jobs import EXAMPLES
from birch_route.store.server import PrivateServer
from tests.answers import wrong_with

ROOT = Path(__file__).resolve().parents[1]
_CACHE = Cache(60)


@cache
def route_named(name: str) -> Route:
    """Return one of the clean example routes."""
    return EXAMPLES[name]()


def changed(route: Route, *edits: dict[str, Any]) -> Route:
    """Return a route after edits."""
    return apply_edits(route, [read_edit(e) for e in edits])


def put(path: str, value: Any) -> dict[str, Any]:
    """Return the edit that sets a field."""
    return {"do": "set", "path": path, "value": value}


def proof_of(route: Route, fine: bool = False) -> Proof:
    """Prove a route, with what earlier tests computed.

    Args:
        fine: in the cells the route is proved in; else in cells twice as wide, a quarter of the work.
    """
    return prove(route, _CACHE, cell_for(route) * (1 if fine else 2))


def codes(proof: Proof) -> set[str]:
    return {f.code for f in proof.findings}


class LiveServer:
    """The real thing: `birch demo` on a free port with its own database, and a signed-in client."""

    def __init__(self, demo: bool = True) -> None:
        self.folder = Path(tempfile.mkdtemp(prefix="birch-test-", dir="/var/tmp"))
        self.folder.chmod(0o755)
        with socket.socket() as s:
            s.bind(("127.0.0.1", 0))
            self.port = s.getsockname()[1]
        self.demo = demo
        self.log = self.folder / "server.log"
        self.cookie = ""
        self.start()

    def start(self) -> None:
        environment = {**os.environ, "BIRCH_STATE_DIR": str(self.folder / "state"), "PYTHONPATH": f"{ROOT / 'src'}"}
        environment.pop("BIRCH_DATABASE_URL", None)
        with self.log.open("w") as out:
            self.process = subprocess.Popen([sys.executable, "-m", "birch_route.cli", "demo" if self.demo else "start", "--port", str(self.port)], stdout=out,
                                            stderr=subprocess.STDOUT, env=environment, start_new_session=True)
        deadline = time.monotonic() + 90
        while time.monotonic() < deadline:
            if self.process.poll() is not None:
                raise RuntimeError(self.log.read_text()[-2000:])
            try:
                if self.call("GET", "/api/health")[0] == 200:
                    break
            except OSError:
                pass
            time.sleep(0.1)
        self.token = re.findall(r"token=(\S+)", self.log.read_text())[-1]
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        connection.request("GET", f"/sign-in?token={self.token}")
        answer = connection.getresponse()
        self.cookie = answer.getheader("Set-Cookie", "").split(";")[0]

    @property
    def url(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def database_url(self) -> str:
        """Address and password of its private database."""
        return PrivateServer(self.folder / "state").url

    def call(self, method: str, path: str, body: Any = None, headers: dict[str, str] | None = None) -> tuple[int, Any]:
        """Make a request; return status and JSON (or bytes)."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        data = body if isinstance(body, bytes | str) or body is None else json.dumps(body)
        connection.request(method, path, data.encode() if isinstance(data, str) else data, {"Cookie": self.cookie, "Content-Type": "application/json", **(headers or {})})
        answer = connection.getresponse()
        raw = answer.read()
        connection.close()
        if answer.getheader("Content-Type", "").startswith("application/json"):
            data = json.loads(raw)
            wrong = wrong_with(method, path, answer.status, data)
            if wrong:
                raise AssertionError(wrong)
            return answer.status, data
        return answer.status, raw

    def proof(self, digest: str, seconds: float = 180) -> dict[str, Any]:
        """Wait for a proof."""
        deadline = time.monotonic() + seconds
        while time.monotonic() < deadline:
            status, data = self.call("GET", f"/api/proofs/{digest}")
            if status == 200:
                return data
            time.sleep(0.1)
        raise AssertionError(f"no proof within {seconds} s\n{self.log.read_text()[-1500:]}")

    def pids(self, needle: str) -> list[int]:
        """Return processes of this server's state whose command line or folder holds a word."""
        out = []
        for entry in Path("/proc").iterdir():
            if not entry.name.isdigit():
                continue
            try:
                line = (entry / "cmdline").read_bytes().decode(errors="replace")
                parent = int(re.search(r"PPid:\t(\d+)", (entry / "status").read_text())[1])  # type: ignore[index]
            except (OSError, TypeError):
                continue
            if needle in line and (str(self.folder) in line or parent == self.process.pid):
                out.append(int(entry.name))
        return out

    def stop(self) -> None:
        if self.process.poll() is None:
            self.process.send_signal(signal.SIGINT)
            try:
                self.process.wait(20)
            except subprocess.TimeoutExpired:
                self.process.kill()

    def remove(self) -> None:
        self.stop()
        shutil.rmtree(self.folder, ignore_errors=True)


_live: list[LiveServer] = []


def live_server() -> LiveServer:
    """Return the one demo server that all tests of this run share."""
    import atexit

    if not _live:
        server = LiveServer()
        _live.append(server)
        atexit.register(server.remove)
    return _live[0]
