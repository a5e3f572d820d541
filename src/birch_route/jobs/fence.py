"""Readers of files from elsewhere behind a fence: a process of their own, bounded in time and memory, that can be
ended within a second.

The parent sends a header and the file over the child's standard input; the child answers with lines: `P part` while it
works, `R json` or
`E json` at the end. What it does is named by a word of READERS, so that nothing is run but these.
"""

from __future__ import annotations

import ctypes
import json
import os
import resource
import select
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..core.errors import BirchError, GeometryError, InputError, NumericError
from ..formats.drawing_file import read_drawing
from ..formats.surface import surface_of

LOOK_S = 0.25  # so often it is asked whether to go on


@dataclass(frozen=True)
class Bound:
    """What a reader may take: wall time and memory."""

    seconds: float
    megabytes: int


DRAWING = Bound(60.0, 1400)
SURFACE = Bound(60.0, 1400)


class Stopped(Exception):
    """Nobody wants the result any more."""


def _drawing(data: bytes, options: dict[str, Any], progress: Callable[[float], None]) -> Any:
    return read_drawing(data, progress=progress, **options)


def _surface(data: bytes, options: dict[str, Any], progress: Callable[[float], None]) -> Any:
    progress(0.1)
    return surface_of(data, **options)


READERS: dict[str, Callable[[bytes, dict[str, Any], Callable[[float], None]], Any]] = {
    "drawing": _drawing,
    "surface": _surface,
}


def read_fenced(
    reader: str, data: bytes, options: dict[str, Any], bound: Bound, *, watch: Callable[[float], None] = lambda _: None
) -> Any:
    """Read a file in a process of its own and return what the reader returns, as plain data.

    Args:
        reader: a word of READERS. options: for it, plain data with the file's `name`.
        watch: called a few times a second with the part that is done; raises to end the reading.

    Raises:
        InputError: the file cannot be read, or not within the bound; says which was met.
        NumericError: the reader broke: our fault.
    """
    name = str(options.get("name", "The file"))
    header = (
        json.dumps({"reader": reader, "options": options, "megabytes": bound.megabytes, "bytes": len(data)}).encode()
        + b"\n"
    )
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    child = subprocess.Popen(
        [sys.executable, "-m", "birch_route.jobs.fence"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        env=environment,
        start_new_session=True,
        bufsize=0,
    )
    try:
        return _talk(child, header + data, name, bound, watch)
    finally:
        if child.poll() is None:
            os.killpg(child.pid, signal.SIGKILL)
        child.wait()
        for pipe in (child.stdin, child.stdout):
            if pipe and not pipe.closed:
                pipe.close()


def _talk(
    child: subprocess.Popen[bytes], to_send: bytes, name: str, bound: Bound, watch: Callable[[float], None]
) -> Any:
    assert child.stdin and child.stdout
    began, part, heard, sent = time.monotonic(), 0.0, b"", 0
    os.set_blocking(child.stdin.fileno(), False)
    view = memoryview(to_send)
    while True:
        writing = [child.stdin] if sent < len(view) else []
        ready, free, _ = select.select([child.stdout], writing, [], LOOK_S)
        if free:
            try:
                sent += os.write(child.stdin.fileno(), view[sent : sent + 1_000_000])
            except BrokenPipeError:
                sent = len(view)
            if sent >= len(view):
                child.stdin.close()
        if ready:
            got = os.read(child.stdout.fileno(), 1_000_000)
            if not got:
                raise _ended(child.wait(), name, bound)
            heard += got
            *lines, heard = heard.split(b"\n")
            for line in lines:
                if line[:1] == b"P":
                    part = float(line[2:])
                else:
                    return _answer(line, name, bound)
        watch(part)
        if time.monotonic() - began > bound.seconds:
            raise InputError(
                f"{name} was not read within {bound.seconds:.0f} seconds, the most that is given. Save only what is "
                f"needed of it, with fewer points.",
                where=name,
                bound="time",
            )


def _ended(code: int, name: str, bound: Bound) -> BirchError:
    if code == -signal.SIGKILL or code == 1:
        return InputError(
            f"{name} asks for more memory than the {bound.megabytes} MB that reading it may take, or its reading was "
            f"ended. Save only what is needed of it, with fewer points.",
            where=name,
            bound="memory",
        )
    return NumericError(f"{name} could not be read: our reader broke (code {code}). This is our fault; the file is "
                        f"kept.", where=name)


def _answer(line: bytes, name: str, bound: Bound) -> Any:
    data = json.loads(line[2:])
    if line[:1] == b"R":
        return data
    if data["code"] == "memory":
        raise InputError(
            f"{name} asks for more memory than the {bound.megabytes} MB that reading it may take. Save only what is "
            f"needed of it, with fewer points.",
            where=name,
            bound="memory",
        )
    kind = {"input": InputError, "input.geometry": GeometryError}.get(data["code"])
    if kind is None:
        raise NumericError(
            f"{name} could not be read: our reader broke ({data['message']}). This is our fault; the file is "
            f"kept.", where=name
        )
    raise kind(data["message"], where=data["where"], **data["facts"])


def _child() -> int:
    """The fenced process."""
    ctypes.CDLL(None).prctl(1, signal.SIGKILL)  # PR_SET_PDEATHSIG: it does not outlive who asked
    source, answers = sys.stdin.buffer, os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # nothing a library prints is taken for an answer
    header = json.loads(source.readline())
    limit = header["megabytes"] * 1_000_000
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))
    spoken = [0.0]

    def say(kind: bytes, data: Any) -> None:
        answers.write(kind + b" " + json.dumps(data, allow_nan=False).encode() + b"\n")
        answers.flush()

    def progress(part: float) -> None:
        if time.monotonic() - spoken[0] > LOOK_S:
            spoken[0] = time.monotonic()
            say(b"P", round(float(part), 4))

    try:
        say(b"R", READERS[header["reader"]](source.read(header["bytes"]), header["options"], progress))
    except BirchError as exc:
        say(
            b"E",
            {**exc.as_dict(), "facts": {k: v for k, v in exc.facts.items() if isinstance(v, str | int | float | bool)}},
        )
    except (MemoryError, RecursionError):
        say(b"E", {"code": "memory", "message": "", "where": None, "facts": {}})
    except Exception as exc:  # whatever a file can make a library do
        say(b"E", {"code": "broken", "message": f"{type(exc).__name__}: {exc}"[:200], "where": None, "facts": {}})
    return 0


if __name__ == "__main__":
    sys.exit(_child())
