"""Start everything: database, migrations, worker, server; keep them running; stop cleanly."""

from __future__ import annotations

import ctypes
import os
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path

import uvicorn

from ..core.errors import InputError
from ..jobs.queue import QUEUES, Queue, ensure_schema
from ..service.backups import Backups
from ..service.people import People
from ..service.routes import Routes
from ..service.shop_data import backup_folder
from ..service.state import project_root, state_folder
from ..store.database import Database, migrate
from ..store.server import PrivateServer
from .app import make_app
from .network import Network, network_for, trust_of

Fill = Callable[[Database, Routes, Callable[[str], None]], None]
FIRST_BACKUP_S, LOOK_S = 30.0, 3600.0  # after the start, and between looks whether a day has no backup yet
SWITCH_S = 0.0005  # a light request waits this long at most each time for a heavy one to let it in


def run_server(port: int, fill: Fill | None = None, names: str = "", bind: str = "0.0.0.0") -> int:
    """Run until Ctrl-C; return the exit code.

    Args:
        fill: puts data into the shop before it opens, such as the demo's.
        names: by which the workshop's network reaches it; empty: this machine only.
        bind: the address it then listens on.
    """
    network = network_for(names, bind, state_folder() / "network")
    _claim(network.bind, port)
    sys.setswitchinterval(SWITCH_S)
    private = None if os.environ.get("BIRCH_DATABASE_URL") else PrivateServer(state_folder())
    if private:
        _say("starting the database")
        private.start()
    url = private.url if private else os.environ["BIRCH_DATABASE_URL"]
    database = Database(url, most=2)
    database.open()
    migrate(database)
    ensure_schema(database, url)
    if fill is not None:
        queue = Queue(url)
        queue.open()
        fill(database, Routes(database, queue), _say)
        queue.close()
    people = People(database)
    token = people.new_link(people.first_planner() if fill is None else "Ada", "planner")
    database.close()
    keeper = _Keeper(url, private)
    keeper.start()
    client = Path(os.environ.get("BIRCH_CLIENT_DIR", project_root() / "client" / "dist"))
    server = uvicorn.Server(uvicorn.Config(
        make_app(url, client, network), host=network.bind, port=port, log_level="warning", access_log=False,
        timeout_graceful_shutdown=3, ssl_certfile=network.certificate, ssl_keyfile=network.key,
    ))
    _tell(network, port, token)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        keeper.stop()
        if private:
            private.stop()
        _say("stopped")
    return 0


def _tell(network: Network, port: int, token: str) -> None:
    """Say where the shop is, how one signs in, and what a tablet is asked to trust."""
    here = f"{network.scheme}://127.0.0.1:{port}"
    lines = [f"Birch Route is at  {here}/", f"Sign in once with  {here}/sign-in?token={token}"]
    trust = trust_of(network)
    if trust is not None:
        there = ", ".join(f"{network.scheme}://{n}:{port}/" for n in trust.names)
        lines += [
            f"On your network    {there}",
            "A tablet asks once whether to trust the shop's own certificate. Its print is",
            f"  {trust.fingerprint}",
            f"  until {trust.until}. Trust no other. Add people under Shop: nobody gets in without a link.",
        ]
    print("\n" + "\n".join([*lines, "Ctrl-C stops it."]), flush=True)


def _claim(bind: str, port: int) -> None:
    """Raise InputError where the port is taken."""
    with socket.socket() as s:
        s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            s.bind((bind, port))
        except OSError as exc:
            raise InputError(f"Port {port} is taken, perhaps by a Birch Route that runs already. Use that one, or start with --port {port + 1}.",
                             where="--port") from exc


def _say(words: str) -> None:
    print(f"birch: {words}", flush=True)


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)  # PR_SET_PDEATHSIG


class _Keeper:
    """Keeps a worker for each queue, and the database where it is ours, running."""

    def __init__(self, url: str, private: PrivateServer | None) -> None:
        self._url, self._private = url, private
        self._stop = threading.Event()
        self._workers: dict[str, subprocess.Popen[bytes]] = {}

    def start(self) -> None:
        for queue in QUEUES:
            self._start_worker(queue)
        threading.Thread(target=self._watch, daemon=True, name="keeper").start()
        threading.Thread(target=self._back_up, daemon=True, name="backups").start()

    def stop(self) -> None:
        self._stop.set()
        running = [w for w in self._workers.values() if w.poll() is None]
        for worker in running:
            worker.terminate()
        for worker in running:
            try:
                worker.wait(5)
            except subprocess.TimeoutExpired:
                worker.kill()

    def _start_worker(self, queue: str) -> None:
        few = {"MALLOC_ARENA_MAX": "2"}  # threads that share their heaps give more of it back
        environment = {**few, **os.environ, "BIRCH_DATABASE_URL": self._url}
        self._workers[queue] = subprocess.Popen([sys.executable, "-m", "birch_route.jobs.worker", queue], env=environment, preexec_fn=_die_with_parent,
                                                start_new_session=True)

    def _back_up(self) -> None:
        """Make the daily backup, while the shop has anything in it."""
        wait = FIRST_BACKUP_S
        while not self._stop.wait(wait):
            wait = LOOK_S
            database = Database(self._url, most=1)
            try:
                database.open()
                with database.transaction() as t:
                    there = t.maybe("shop_says") is not None or t.one("count_routes")["count"]
                if there and Backups(database, backup_folder()).daily():
                    _say("the daily backup is made")
            except Exception as exc:  # a full disk must not stop the shop; the next look tries again
                _say(f"the daily backup was not made: {exc}")
            finally:
                database.close()

    def _watch(self) -> None:
        while not self._stop.wait(0.5):
            if self._private and not self._private.is_alive() and not self._stop.is_set():
                _say("the database went away; starting it again")
                port = self._private.port
                try:
                    self._private.start(port)
                except Exception as exc:  # the next round tries again
                    _say(str(exc))
            for queue, worker in list(self._workers.items()):
                if worker.poll() is not None and not self._stop.is_set():
                    _say(f"the {queue} worker went away; starting it again")
                    self._start_worker(queue)
