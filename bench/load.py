"""Edits without end, each proved before the next: the load that light requests are measured under.

`python -m bench.load URL COOKIE ROUTE` runs until it is ended.
"""

from __future__ import annotations

import json
import sys
import time
import urllib.error
import urllib.request


def call(url: str, cookie: str, path: str, body: dict | None = None) -> dict | None:
    """Return the JSON answer, None while a proof is being made."""
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(url + path, data, {"Cookie": cookie, "Content-Type": "application/json"})
    with urllib.request.urlopen(request, timeout=60) as answer:
        return json.load(answer) if answer.status == 200 else None


def main(url: str, cookie: str, route: str) -> None:
    revision = call(url, cookie, f"/api/routes/{route}")["revision"]
    for k in range(100_000):
        edit = {"do": "set", "path": "operations.pocket_pickup_pocket.settings.depth_of_cut_mm", "value": 4 + (k % 100) / 100}
        after = call(url, cookie, f"/api/routes/{route}/edits", {"revision": revision, "edits": [edit]})
        revision = after["revision"]
        while call(url, cookie, f"/api/proofs/{after['hash']}") is None:
            time.sleep(0.05)


if __name__ == "__main__":
    main(*sys.argv[1:4])
