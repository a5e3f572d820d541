"""Run the tests: `./birch test` for all, `./birch test core.test_units` for some. Ends with `N passed, N failed`."""

from __future__ import annotations

import sys
import time
import unittest
from pathlib import Path

HERE = Path(__file__).resolve().parent


class _Result(unittest.TextTestResult):
    """Counts passes, and prints each module once it is done."""

    def __init__(self, *arguments: object, **named: object) -> None:
        super().__init__(*arguments, **named)  # type: ignore[arg-type]
        self.passed = 0

    def addSuccess(self, test: unittest.TestCase) -> None:
        super().addSuccess(test)
        self.passed += 1


def main(names: list[str]) -> int:
    """Run tests by name, or all; return 0 if every one passed."""
    loader = unittest.TestLoader()
    if names:
        suite = loader.loadTestsFromNames([f"tests.{n.removeprefix('tests.')}" for n in names])
    else:
        suite = loader.discover(str(HERE), top_level_dir=str(HERE.parent))
    began = time.monotonic()
    result = unittest.TextTestRunner(resultclass=_Result, verbosity=1, stream=sys.stdout, buffer=True).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    print(f"{time.monotonic() - began:.0f} s, {len(result.skipped)} skipped")
    print(f"{result.passed} passed, {failed} failed")
    return 0 if failed == 0 and result.passed else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
