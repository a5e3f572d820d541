"""The private PostgreSQL: made, started on loopback, recovered and stopped by us, unless BIRCH_DATABASE_URL names another."""

from __future__ import annotations

import os
import re
import shutil
import signal
import socket
import subprocess
import time
from pathlib import Path

from ..core.errors import StoreError

USER, NAME = "birch", "birch"


def programs_folder() -> Path:
    """Return where PostgreSQL's programs are.

    Raises:
        StoreError: it is not installed.
    """
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(re.sub(r"\D", "", p.parts[-3]) or 0))
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    if on_path:
        return Path(on_path).parent
    raise StoreError("PostgreSQL is not installed. Run: sudo apt-get install postgresql")


def free_port() -> int:
    """Return a port that is free on loopback now."""
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return s.getsockname()[1]


class PrivateServer:
    """A PostgreSQL cluster in one folder."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.data = folder / "data"
        self.port = 0

    @property
    def url(self) -> str:
        return f"postgresql://{USER}@127.0.0.1:{self.port}/{NAME}"

    def start(self, port: int = 0) -> None:
        """Make the cluster if there is none, clear what a killed server left, start it, make the database.

        Args:
            port: the port to listen on; 0 takes a free one.

        Raises:
            StoreError: it did not start; the end of its log is in the message.
        """
        self.folder.mkdir(parents=True, exist_ok=True)
        if os.geteuid() == 0:
            shutil.chown(self.folder, "postgres", "postgres")
        if not (self.data / "PG_VERSION").exists():
            shutil.rmtree(self.data, ignore_errors=True)
            self._run("initdb", "-D", str(self.data), "-U", USER, "-A", "trust", "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
        self._wait_for_the_dead()
        if self.is_alive():
            self.port = self._port_in_use()
        else:
            self.port = port or free_port()
            options = (f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=on "
                       "-c shared_buffers=128MB -c max_connections=60 -c log_min_messages=warning")
            self._run("pg_ctl", "-D", str(self.data), "-l", str(self.folder / "log"), "-w", "-t", "60", "-o", options, "start")
        self._make_database()

    def stop(self) -> None:
        """Stop it quickly and cleanly."""
        if self.is_alive():
            self._run("pg_ctl", "-D", str(self.data), "-m", "fast", "-w", "-t", "30", "stop", check=False)

    def is_alive(self) -> bool:
        """Say whether the server of this folder runs."""
        return self._server_process() is not None

    def _server_process(self) -> int | None:
        """Return the id of a live server of this folder: one whose working folder it is and that is no zombie."""
        pid_file = self.data / "postmaster.pid"
        try:
            pid = int(pid_file.read_text().split()[0])
            status = Path(f"/proc/{pid}/status").read_text()
        except (OSError, ValueError, IndexError):
            return None
        if "\nState:\tZ" in status:
            return None
        try:
            if os.path.realpath(f"/proc/{pid}/cwd") != os.path.realpath(self.data):
                return None
        except OSError:
            return None
        return pid

    def _wait_for_the_dead(self) -> None:
        pid_file = self.data / "postmaster.pid"
        deadline = time.monotonic() + 5
        while pid_file.exists() and self._server_process() is None and time.monotonic() < deadline:
            if not self._orphans():
                pid_file.unlink(missing_ok=True)
                return
            time.sleep(0.1)
        if pid_file.exists() and self._server_process() is None:
            for pid in self._orphans():
                os.kill(pid, signal.SIGKILL)
            pid_file.unlink(missing_ok=True)

    def _orphans(self) -> list[int]:
        """Return children of a killed server that still run in the data folder."""
        out = []
        for entry in Path("/proc").iterdir():
            if entry.name.isdigit():
                try:
                    if os.path.realpath(entry / "cwd") == os.path.realpath(self.data) and "\nState:\tZ" not in (entry / "status").read_text():
                        out.append(int(entry.name))
                except OSError:
                    continue
        return out

    def _port_in_use(self) -> int:
        return int((self.data / "postmaster.pid").read_text().splitlines()[3])

    def _make_database(self) -> None:
        import psycopg

        deadline = time.monotonic() + 20
        while True:
            try:
                with psycopg.connect(f"postgresql://{USER}@127.0.0.1:{self.port}/postgres", autocommit=True, connect_timeout=5) as connection:
                    if connection.execute("select 1 from pg_database where datname = %s", [NAME]).fetchone() is None:
                        connection.execute(f"create database {NAME}")
                return
            except psycopg.OperationalError as exc:
                if time.monotonic() > deadline:
                    raise StoreError(f"PostgreSQL started but does not answer: {exc}") from exc
                time.sleep(0.2)

    def _run(self, program: str, *arguments: str, check: bool = True) -> None:
        command = [str(programs_folder() / program), *arguments]
        if os.geteuid() == 0:
            command = ["/usr/sbin/runuser", "-u", "postgres", "--", *command]
        done = subprocess.run(command, cwd="/", stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True, check=False)
        if check and done.returncode != 0:
            log = self.folder / "log"
            tail = "\n".join(log.read_text(errors="replace").splitlines()[-5:]) if log.exists() else ""
            raise StoreError(f"PostgreSQL: {program} failed. {done.stderr.strip()[-400:]} {tail}")
