"""Lists of a shop that has grown: `python -m bench.lists`. 2,000 jobs and 20,000 records are stored, and while proofs
run every list is asked a hundred times; told is the 95th percentile of each, ms, from the request to its last byte."""

from __future__ import annotations

import http.client
import json
import subprocess
import sys
import time

import numpy as np

from birch_route.formats.route_file import route_to_text
from birch_route.store.database import Database
from tests.support import LiveServer, route_named

from .records import cuts

JOBS, RECORDS, ASKED = 2_000, 20_000, 100
LISTS = {
    "jobs": "/api/routes?skip={skip}", "jobs by words": "/api/routes?search=stored%20{k}",
    "rack": "/api/rack", "machines": "/api/machines", "woods and sheets": "/api/materials", "shop": "/api/shop",
    "boards in stock": "/api/wood", "one job": "/api/routes/{route}",
}


def stored(server: LiveServer) -> int:
    """Store jobs, as copies of one, and records; return the route that is edited meanwhile."""
    made = server.call("POST", "/api/routes?measured_here=true", route_to_text(route_named("siskin_body")))[1]
    database = Database(server.database_url, most=1)
    database.open()
    with database.transaction() as t:
        t.connection.execute(
            f"""
            with j as (insert into job (name) select 'Stored ' || n from generate_series(1, {JOBS}) n returning id),
                 r as (insert into route (job, latest) select id, 1 from j returning id)
            insert into revision (route, number, state, document, hash, piece_kind, wood, what, author)
            select r.id, 1, 1, v.document, v.hash, v.piece_kind, v.wood, 'Stored', 'Ada'
            from r, revision v where v.route = {int(made['route'])} and v.number = 1
            """
        )
    database.close()
    cuts(server, 0, RECORDS)
    server.proof(made["hash"])
    return int(made["route"])


def taken(server: LiveServer, route: int) -> dict[str, list[float]]:
    """Ask every list while edits are proved without end; return how long each answer took, s."""
    load = subprocess.Popen([sys.executable, "-m", "bench.load", server.url, server.cookie, str(route)])
    out: dict[str, list[float]] = {name: [] for name in LISTS}
    try:
        time.sleep(3)
        for k in range(ASKED):
            for name, path in LISTS.items():
                connection = http.client.HTTPConnection("127.0.0.1", server.port, timeout=30)
                began = time.perf_counter()
                asked = path.format(skip=k * 10, k=k, route=route + 1 + k)
                connection.request("GET", asked, headers={"Cookie": server.cookie})
                answer = connection.getresponse()
                answer.read()
                out[name].append(time.perf_counter() - began)
                connection.close()
                assert answer.status == 200, (asked, answer.status)
                assert load.poll() is None, "the edits that were to run beside it have ended"
    finally:
        load.terminate()
        load.wait()
    return out


def main() -> int:
    """Store, ask, tell."""
    server = LiveServer(demo=True)
    try:
        found = taken(server, stored(server))
    finally:
        server.remove()
    told = {name: round(float(np.percentile(values, 95)) * 1000, 1) for name, values in found.items()}
    print(json.dumps(told, indent=1))
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
