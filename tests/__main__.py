"""Run the tests: `./birch test` for all, `./birch test core.test_units` for some, `--long` before them for every case
of what is sampled otherwise. Ends with `N passed, N failed`.

All tests run in two processes, a class at a time: the first begins with what needs a server, the second with what needs
none; whichever is through helps the other, with a server of its own.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import time
import unittest
from collections import deque
from collections.abc import Iterator
from pathlib import Path

HERE = Path(__file__).resolve().parent
SERVED = ("tests.browser", "tests.web", "tests.store")
LONG_FIRST = ("tests.independent", "tests.core.test_drawn_faults", "tests.core.test_faults", "tests.browser")
MARK = "\x1e"  # begins a line of a worker's answer, so that nothing a test prints is taken for one


class _Result(unittest.TextTestResult):
    """Counts passes."""

    def __init__(self, *arguments: object, **named: object) -> None:
        super().__init__(*arguments, **named)  # type: ignore[arg-type]
        self.passed = 0

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        self.passed += 1


def _run(suite: unittest.TestSuite) -> dict[str, int]:
    result = unittest.TextTestRunner(resultclass=_Result, verbosity=1, stream=sys.stdout, buffer=True).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return {"passed": result.passed, "failed": failed, "skipped": len(result.skipped)}


def _tests(suite: unittest.TestSuite) -> Iterator[unittest.TestCase]:
    for one in suite:
        if isinstance(one, unittest.TestSuite):
            yield from _tests(one)
        else:
            yield one


def _groups() -> list[str]:
    """Return the names of all classes of tests, long ones first; a module that cannot be imported stands for itself."""
    found = unittest.TestLoader().discover(str(HERE), top_level_dir=str(HERE.parent))
    names = dict.fromkeys(t.id() if type(t).__module__.startswith("unittest.") else f"{type(t).__module__}.{type(t).__qualname__}" for t in _tests(found))
    broken = [n.removeprefix("unittest.loader._FailedTest.") for n in names if n.startswith("unittest.loader._FailedTest.")]
    whole = [n for n in names if not n.startswith("unittest.loader.")] + broken
    return sorted(whole, key=lambda n: next((k for k, start in enumerate(LONG_FIRST) if n.startswith(start)), len(LONG_FIRST)))


def _worker() -> int:
    """Run the groups whose names come in, one a line, and answer each with its counts."""
    for line in sys.stdin:
        began = time.monotonic()
        counts = _run(unittest.TestLoader().loadTestsFromName(line.strip()))
        print(f"{MARK}{json.dumps({**counts, 'seconds': time.monotonic() - began})}", flush=True)
    return 0


class _Crew:
    """Two workers, and what is left for them."""

    def __init__(self, groups: list[str]) -> None:
        self.served = deque(g for g in groups if g.startswith(SERVED))
        self.others = deque(g for g in groups if not g.startswith(SERVED))
        self.lock = threading.Lock()
        self.counts = {"passed": 0, "failed": 0, "skipped": 0}

    def next(self, first: bool) -> str | None:
        with self.lock:
            for queue in (self.served, self.others) if first else (self.others, self.served):
                if queue:
                    return queue.popleft()
            return None

    def work(self, first: bool) -> None:
        process = subprocess.Popen([sys.executable, "-m", "tests", "--worker"], cwd=HERE.parent, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, bufsize=1)
        assert process.stdin and process.stdout
        while (group := self.next(first)) is not None:
            process.stdin.write(group + "\n")
            process.stdin.flush()
            said: list[str] = []
            answer = None
            for line in process.stdout:
                if line.startswith(MARK):
                    answer = json.loads(line[1:])
                    break
                said.append(line)
            with self.lock:
                if answer is None:
                    print("".join(said), f"{group}: the process of these tests ended, code {process.wait()}", sep="", flush=True)
                    self.counts["failed"] += 1
                else:
                    for key in self.counts:
                        self.counts[key] += answer[key]
                    print(f"{answer['seconds']:7.1f} s  {answer['passed']:4d} passed  {answer['failed']:3d} failed  {group}", "".join(said) if answer["failed"] else "", sep="\n" if answer["failed"] else "", flush=True)
            if answer is None:
                return self.work(first)
        process.stdin.close()
        process.wait(60)


def main(names: list[str]) -> int:
    """Run tests by name, or all; return 0 if every one passed."""
    if names == ["--worker"]:
        return _worker()
    began = time.monotonic()
    if names[:1] == ["--long"]:
        os.environ["BIRCH_TESTS"] = "long"
        names = names[1:]
    if names:
        counts = _run(unittest.TestLoader().loadTestsFromNames([f"tests.{n.removeprefix('tests.')}" for n in names]))
    else:
        crew = _Crew(_groups())
        threads = [threading.Thread(target=crew.work, args=(first,)) for first in (True, False)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        counts = crew.counts
    print(f"{time.monotonic() - began:.0f} s, {counts['skipped']} skipped")
    print(f"{counts['passed']} passed, {counts['failed']} failed")
    return 0 if counts["failed"] == 0 and counts["passed"] else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
