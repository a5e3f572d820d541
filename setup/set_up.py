"""Set-up with the standard library only: Debian packages, virtual environment, client build, kernels; then hand over.

Each part leaves a stamp with the hash of what it was made from, so that the second time is quick.
"""

from __future__ import annotations

import hashlib
import os
import re
import shutil
import subprocess
import sys
import time
from pathlib import Path

HERE = Path(__file__).resolve().parents[1]
VENV = HERE / ".venv"
STAMPS = HERE / ".venv" / "birch-stamps"
PYTHON = VENV / "bin" / "python"
HELP = """Birch Route

  ./birch demo [--port N]        set up and start with the demo shop
  ./birch start [--port N]       set up and start with what is there
  ./birch test [NAME ...]        set up and run every test, or those named; --long: every case of what is sampled
  ./birch plan FILE --out DIR    prove a route file, write its programs and report
  ./birch check FILE --stock ..  simulate any program
  ./birch backup [FILE]          the whole shop in one file; also while it runs
  ./birch restore FILE           put a backup into an empty shop; never while it runs
  ./birch export FILE.zip        the whole shop as open files
  ./birch worker [live|heavy]    work on another machine, for BIRCH_DATABASE_URL
  ./birch bench [--json]         measure speed as ratios
  ./birch shots                  take the pictures of docs/screenshots
"""


class SetUpError(Exception):
    """Something is missing that this user cannot put there."""


def main(arguments: list[str]) -> int:
    """Set up what the command needs, then run it; return its exit code."""
    if not arguments or arguments[0] in ("-h", "--help", "help"):
        print(HELP)
        return 0 if arguments else 2
    command = arguments[0]
    try:
        needs_all = command in ("demo", "start", "test", "bench", "shots")
        needs_server = needs_all or command in ("backup", "restore", "export")
        _debian(server=needs_server, browser=command in ("test", "shots", "bench"))
        _python()
        if needs_all:
            _schema()
            _client()
        _kernels()
    except SetUpError as exc:
        print(f"birch: {exc}", file=sys.stderr)
        return 2
    except subprocess.CalledProcessError as exc:
        print(f"birch: {' '.join(map(str, exc.cmd))[:200]} failed with code {exc.returncode}.", file=sys.stderr)
        return 2
    return _hand_over(command, arguments)


def _hand_over(command: str, arguments: list[str]) -> int:
    environment = _environment()
    module = {"test": ["-m", "tests"], "bench": ["-m", "bench"], "shots": ["-m", "bench.shots"]}.get(command, ["-m", "birch_route.cli", command])
    line = [str(PYTHON), *module, *arguments[1:]]
    folder = str(HERE) if command in ("test", "bench", "shots") else os.getcwd()
    os.chdir(folder)
    os.execve(line[0], line, environment)
    return 0


def _environment() -> dict[str, str]:
    environment = {k: v for k, v in os.environ.items() if k not in ("PYTHONDONTWRITEBYTECODE", "PYTHONHOME")}
    environment["PYTHONPATH"] = f"{HERE / 'src'}{os.pathsep}{HERE}"
    return environment


def _say(words: str) -> None:
    print(f"birch: {words}", file=sys.stderr, flush=True)


def _digest(*paths: Path) -> str:
    sha = hashlib.sha256()
    for path in paths:
        here = path.rglob("*") if path.is_dir() else [path]
        files = sorted(p for p in here if p.is_file() and "__pycache__" not in p.parts)
        for file in files:
            sha.update(str(file.relative_to(HERE)).encode() + b"\0" + file.read_bytes())
    return sha.hexdigest()


def _fresh(name: str, digest: str) -> bool:
    stamp = STAMPS / name
    return stamp.exists() and stamp.read_text() == digest


def _stamp(name: str, digest: str) -> None:
    STAMPS.mkdir(parents=True, exist_ok=True)
    (STAMPS / name).write_text(digest)


def _debian(*, server: bool, browser: bool) -> None:
    """Install missing Debian packages as root; as another user say which and how."""
    missing = []
    if server and not list(Path("/usr/lib/postgresql").glob("*/bin/initdb")) and not os.environ.get("BIRCH_DATABASE_URL"):
        missing.append("postgresql")
    if browser and not _chromium():
        missing.append("chromium")
    if not _has_venv():
        missing.append(f"python3.{sys.version_info[1]}-venv")
    if server:
        version = _node_version()
        if version is None or version < 20:
            missing += ["nodejs", "npm"] if version is None else []
            if version is not None:
                raise SetUpError(f"Node {version} is too old to build the client; version 20 or newer is needed.")
        elif shutil.which("npm") is None:
            missing.append("npm")
    if not missing:
        return
    line = f"apt-get install --no-install-recommends -y {' '.join(missing)}"
    if os.geteuid() != 0 or shutil.which("apt-get") is None:
        raise SetUpError(f"These packages are missing: {', '.join(missing)}. Install them with:\n  sudo {line}")
    _say(f"installing {', '.join(missing)}")
    if "postgresql" in missing:
        conf = Path("/etc/postgresql-common/createcluster.d/birch.conf")
        conf.parent.mkdir(parents=True, exist_ok=True)
        conf.write_text("create_main_cluster = false\n")
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    subprocess.run(["apt-get", "update", "-qq"], check=True, env=environment, stdout=sys.stderr)
    subprocess.run(line.split(), check=True, env=environment, stdout=subprocess.DEVNULL)
    if server and (_node_version() or 0) < 20:
        raise SetUpError("This system's Node is older than 20. Install Node 20 or newer and start again.")


def _chromium() -> str | None:
    return shutil.which("chromium") or shutil.which("chromium-browser")


def _node_version() -> int | None:
    node = shutil.which("node")
    if node is None:
        return None
    match = re.match(r"v(\d+)", subprocess.run([node, "--version"], capture_output=True, text=True, check=False).stdout)
    return int(match[1]) if match else None


def _has_venv() -> bool:
    if PYTHON.exists():
        return True
    return subprocess.run([sys.executable, "-c", "import venv, ensurepip"], capture_output=True, check=False).returncode == 0


def _python() -> None:
    """Make the virtual environment from the lock files, hashes required."""
    digest = _digest(HERE / "requirements.txt", HERE / "bootstrap.txt") + sys.version
    if PYTHON.exists() and _fresh("python", digest):
        return
    began = time.monotonic()
    _say("setting up Python, about a minute the first time")
    if not PYTHON.exists():
        subprocess.run([sys.executable, "-m", "venv", str(VENV)], check=True)
    environment = {**os.environ, "UV_PYTHON_DOWNLOADS": "never", "UV_SYSTEM_CERTS": "true", "VIRTUAL_ENV": str(VENV), "PIP_DISABLE_PIP_VERSION_CHECK": "1"}
    subprocess.run([str(PYTHON), "-m", "pip", "install", "-q", "--require-hashes", "-r", str(HERE / "bootstrap.txt")], check=True, env=environment, stdout=sys.stderr)
    wanted = ["--require-hashes", "-r", str(HERE / "requirements.txt")]
    uv = [str(VENV / "bin" / "uv"), "pip", "install", "-q", "--python", str(PYTHON), "--compile-bytecode", *wanted]
    if subprocess.run(uv, check=False, env=environment, stdout=sys.stderr).returncode != 0:
        _say("uv could not; trying pip, which is slower")
        subprocess.run([str(PYTHON), "-m", "pip", "install", "-q", *wanted], check=True, env=environment, stdout=sys.stderr)
    _stamp("python", digest)
    _say(f"Python is ready, {time.monotonic() - began:.0f} s")


def _packages() -> None:
    """Install the client's packages by its lock file."""
    client = HERE / "client"
    packages = _digest(client / "package-lock.json")
    if (client / "node_modules").exists() and _fresh("packages", packages):
        return
    _say("fetching the client's packages")
    line = ["npm", "ci", "--no-fund", "--no-audit", "--loglevel=error"]
    subprocess.run(line, cwd=client, check=True, stdout=sys.stderr)
    _stamp("packages", packages)


def _schema() -> None:
    """Make the client's types from what the server says it answers."""
    _packages()
    client = HERE / "client"
    types = client / "src" / "api" / "schema.d.ts"
    digest = _digest(HERE / "src" / "birch_route") + _digest(client / "package-lock.json")
    if types.exists() and _fresh("schema", digest):
        return
    _say("making the client's types from the server's answers")
    line = [str(PYTHON), "-m", "birch_route.cli", "schema"]
    said = subprocess.run(line, check=True, env=_environment(), stdout=subprocess.PIPE).stdout
    VENV.joinpath("openapi.json").write_bytes(said)
    line = ["npx", "--no-install", "openapi-typescript", str(VENV / "openapi.json"), "-o", str(types)]
    subprocess.run(line, cwd=client, check=True, stdout=subprocess.DEVNULL)
    _stamp("schema", digest)


def _client() -> None:
    """Check the client's types and build it."""
    client = HERE / "client"
    sources = [client / "src", client / "public", client / "index.html", client / "package.json", client / "package-lock.json", client / "vite.config.ts"]
    digest = _digest(*sources)
    if (client / "dist" / "index.html").exists() and _fresh("client", digest):
        return
    began = time.monotonic()
    _say("building the client, about a minute the first time")
    subprocess.run(["npx", "--no-install", "vue-tsc", "--noEmit"], cwd=client, check=True, stdout=sys.stderr)
    subprocess.run(["npx", "--no-install", "vite", "build", "--logLevel", "warn"], cwd=client, check=True, stdout=sys.stderr)
    _stamp("client", digest)
    _say(f"the client is ready, {time.monotonic() - began:.0f} s")


def _kernels() -> None:
    """Compile the numeric kernels now, so that no first use waits."""
    core = HERE / "src" / "birch_route" / "core"
    digest = _digest(
        core / "heights" / "kernels.py",
        core / "heights" / "raster.py",
        core / "heights" / "pieces.py",
        core / "heights" / "drop.py",
        core / "motion" / "timing.py",
        core / "motion" / "arcs.py",
        core / "proving" / "target.py",
    )
    if _fresh("kernels", digest):
        return
    _say("compiling the numeric kernels, about 20 s the first time")
    subprocess.run([str(PYTHON), "-m", "birch_route.cli", "kernels"], check=True, env=_environment(), stdout=sys.stderr)
    _stamp("kernels", digest)
