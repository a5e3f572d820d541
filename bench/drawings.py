"""Real drawings that nobody here made: `python -m bench.drawings FOLDER ...` reads every DXF and SVG file below the folders.

Without a folder it fetches the source distributions of two drawing libraries by name with the ordinary package client and reads
the drawings among their tests. Nothing of them is kept. Prints what was read, what was refused and why, and the shares.
"""

from __future__ import annotations

import subprocess
import sys
import tarfile
import tempfile
import time
import zipfile
from pathlib import Path

from birch_route.core.errors import BirchError
from birch_route.formats.drawing_file import read_drawing

SOURCES = ("ezdxf==1.4.5", "svgpathtools==1.8.0")


def fetch(folder: Path) -> None:
    """Download and unpack the source distributions."""
    for source in SOURCES:
        subprocess.run([sys.executable, "-m", "pip", "download", "-q", "--no-deps", "--no-binary", ":all:", "-d", str(folder), source], check=False)
    for archive in folder.glob("*.tar.gz"):
        with tarfile.open(archive) as tar:
            tar.extractall(folder, filter="data")
    for archive in folder.glob("*.zip"):
        with zipfile.ZipFile(archive) as pack:
            pack.extractall(folder)


def main(arguments: list[str]) -> int:
    with tempfile.TemporaryDirectory() as kept:
        folders = [Path(a) for a in arguments]
        if not folders:
            fetch(Path(kept))
            folders = [Path(kept)]
        files = sorted(p for f in folders for e in ("dxf", "svg") for p in f.rglob(f"*.{e}"))
        counts = {"read": 0, "no closed curve": 0, "refused": 0, "crashed": 0}
        for path in files:
            began = time.perf_counter()
            try:
                out = read_drawing(path.read_bytes(), path.name, None, 0.1)
                if out["needs_unit"]:
                    out = read_drawing(path.read_bytes(), path.name, "mm", 0.1)
                what, words = "read", f"{out['loops_in_all']} loops, {len(out['changes'])} changes"
            except BirchError as exc:
                none = "no closed curve" in exc.message or "no line" in exc.message
                what, words = ("no closed curve" if none else "refused"), exc.message
            except Exception as exc:  # what this script is for
                what, words = "crashed", repr(exc)
            counts[what] += 1
            print(f"{what:16} {time.perf_counter() - began:6.2f} s  {path.name:40} {words[:150]}")
        print(counts)
    return 1 if counts["crashed"] else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
