"""What a shop's records cost: a question and a settings sheet with 140 and with 10,000 cuts and runs.

`python -m bench.records`. Seconds are of processor time of the web server, medians of five.
"""

from __future__ import annotations

import json
import os
import random
import statistics
from pathlib import Path

from birch_route.formats.route_file import route_to_text
from birch_route.store.database import Database, json_value
from tests.support import LiveServer, route_named

FEW, MANY = 140, 10_000
TICKS = os.sysconf("SC_CLK_TCK")


def spent(server: LiveServer) -> float:
    """Return the processor time of the web server so far, s."""
    fields = Path(f"/proc/{server.process.pid}/stat").read_text().rsplit(")", 1)[1].split()
    return (int(fields[11]) + int(fields[12])) / TICKS


def cuts(server: LiveServer, first: int, last: int) -> None:
    """Keep cuts: half on the ground that is asked about, the rest of other bits and woods; one in twenty failed."""
    rng = random.Random(first)
    machine = server.call("GET", "/api/shop")[1]["machines"][0]
    bits = [r["bit"] for r in server.call("GET", "/api/rack")[1] if r["bit"]["form"] == "flat"]
    asked = next(b for b in bits if b["id"] == "flat6")
    database = Database(server.database_url, most=1)
    database.open()
    with database.transaction() as t:
        for n in range(first, last):
            bit = asked if n % 2 else rng.choice(bits)
            wood = "ash" if n % 2 else rng.choice(("ash", "walnut", "hard_maple", "limba"))
            settings = {
                "feed_mm_min": rng.randrange(1500, 3600, 10), "plunge_mm_min": 600, "speed_rpm": 18000,
                "depth_of_cut_mm": rng.choice((2.0, 3.0, 4.0)), "stepover_mm": bit["diameter_mm"],
            }
            data = {
                "machine": machine["name"], "machine_class": machine["machine_class"], "bit": bit, "wood": wood,
                "kind": "slot", "settings": settings, "outcome": "chatter" if n % 20 == 7 else "fine", "origin": "own",
            }
            t.one("add_trial", machine=machine["name"], bit=bit["id"], wood=wood, data=json_value(data), origin="own",
                  withdraws=None, run=None, made_by="Ada")
    database.close()


def asked(server: LiveServer) -> dict[str, float]:
    """Return what a question and a sheet cost now."""
    shop = server.call("GET", "/api/shop")[1]
    bit = next(b for b in shop["bits"] if b["id"] == "flat6")
    body = {"machine": shop["machines"][0], "bit": bit, "wood": "ash", "kind": "slot"}
    out: dict[str, list[float]] = {"question_s": [], "sheet_s": [], "question_kb": []}
    for _ in range(6):
        began = spent(server)
        status, answer = server.call("POST", "/api/settings/question", body)
        assert status == 200, answer
        out["question_s"].append(spent(server) - began)
        out["question_kb"].append(len(json.dumps(answer)) / 1000)
    made = server.call("POST", "/api/routes", route_to_text(route_named("control_plate")))[1]
    for _ in range(3):
        began = spent(server)
        status, _sheet = server.call("GET", f"/api/routes/{made['route']}/settings_sheet.csv")
        assert status == 200
        out["sheet_s"].append(spent(server) - began)
    return {name: statistics.median(values[1:]) for name, values in out.items()}


def main() -> None:
    server = LiveServer(demo=True)
    try:
        cuts(server, 0, FEW)
        few = asked(server)
        cuts(server, FEW, MANY)
        many = asked(server)
    finally:
        server.remove()
    for name in few:
        print(f"{name:12} {FEW} cuts {few[name]:8.3f}   {MANY} cuts {many[name]:8.3f}   {many[name] / few[name]:.2f} x")


if __name__ == "__main__":
    main()
