"""Random and hostile input over every path: `python -m bench.hostile [--inputs 20000] [--seed 1] [--state FILE]`.

A third is drawn from the OpenAPI description, the rest starts from an accepted request with one to three fields
changed, or with bytes of its file changed. Every input follows from seed and number alone. After each: no status of
500 and more, JSON where JSON is said, an answer in time, every process alive. What was done is noted in the state
file, so a run that is ended goes on from there.
"""

from __future__ import annotations

import argparse
import copy
import http.client
import json
import random
import sys
import time
from collections import Counter
from collections.abc import Iterator
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import unquote

from bench.asked import Asked, Shop, accepted, with_revision
from tests.answers import wrong_with
from tests.support import LiveServer

LATE_S = 30.0
BYTES = (b"", b"\x00", b"9" * 40, b"-", b'"', b",", b"<", b"\xff", b"1e999")
KEPT_OUT = ("/api/sign-out", "/api/events")  # ends this session; never ends
STRINGS: tuple[Any, ...] = (
    "", " ", "\x00", "a\x00b", "\ud800", "\udfff x", "x" * 301, "x" * 5000, "../../etc/passwd", "'; drop table job; --",
    "%s%d{0}", "1e400", "NaN", "-1", "ß" * 80, "\u202eabc", "\ufeff", "0", "null", "siskin", "G1 X1\nM3", "1/0",
    "10,000", "٣", "<b>x</b>", "a" * 81, "piece.outline.x", "operations.face.settings.feed_mm_min", "__class__",
)
NUMBERS: tuple[Any, ...] = (
    0, -1, 1, 2, 1e-300, -1e-300, 1e300, -1e300, 1.7e308, 1e-9, 0.1, 2**31, 2**31 - 1, 2**63, 2**63 - 1, -(2**63),
    10**17, -0.0, 1e6, 3.3333333333333335, 0.05, 49.999999, 1e5, 5000, 250,
)
OTHERS: tuple[Any, ...] = (None, True, False, [], {}, [[]], {"a": None}, [1, "a", None])
RAW = (
    b"", b"{", b"null", b"[]", b'"a"', b"\xff\xfe", b"{}" * 3, b"[" * 20_000, b'{"a":' * 5000, b"1" * 10_000,
    b'{"revision":' + b"9" * 10_000 + b',"edits":[]}', b'{"revision":NaN}', b'{"revision":1e999}', b"\xef\xbb\xbf{}",
    b'{"name":"\\ud800"}', b'{"name":"\\u0000"}', b"a,b\n" + b"x" * 200_000 + b",1\n",
)


@dataclass
class Told:
    """What became of the inputs so far. faults: number of the input, what it was, what came of it."""

    seed: int
    inputs: int = 0
    changed: int = 0
    taken: int = 0
    statuses: dict[str, int] = field(default_factory=dict)
    faults: list[tuple[int, str, str]] = field(default_factory=list)
    slowest_s: float = 0.0
    slowest: str = ""


class Described:
    """Draws data from the schemas of an OpenAPI description."""

    def __init__(self, description: dict[str, Any]) -> None:
        self.schemas = description["components"]["schemas"]
        self.asks = [
            (method.upper(), path, one)
            for path, methods in description["paths"].items() if path not in KEPT_OUT
            for method, one in methods.items()
        ]

    def value(self, rng: random.Random, schema: dict[str, Any], deep: int = 0) -> Any:
        """Return data of a schema, now and then of none."""
        if "$ref" in schema:
            schema = self.schemas[schema["$ref"].rsplit("/", 1)[1]]
        if rng.random() < 0.06:
            return copy.deepcopy(rng.choice(rng.choice((STRINGS, NUMBERS, OTHERS))))
        for several in ("anyOf", "oneOf", "allOf"):
            if several in schema:
                return self.value(rng, rng.choice(schema[several]), deep + 1)
        if "const" in schema or "enum" in schema:
            return schema.get("const", rng.choice(schema.get("enum", [None])))
        kind = schema.get("type")
        if kind == "object":
            return self._object(rng, schema, deep)
        if kind == "array":
            count = rng.choice((schema.get("minItems", 0), 1, 2, 3)) if deep < 8 else 0
            return [self.value(rng, schema.get("items", {}), deep + 1) for _ in range(count)]
        if kind in ("integer", "number"):
            low = schema.get("minimum", schema.get("exclusiveMinimum", -10))
            high = schema.get("maximum", schema.get("exclusiveMaximum", low + 1000))
            value = rng.choice((low, high, rng.uniform(low, high), rng.choice(NUMBERS)))
            return int(value) if kind == "integer" and abs(value) < 1e300 else value
        if kind == "boolean":
            return rng.random() < 0.5
        if kind == "null":
            return None
        return rng.choice((rng.choice(STRINGS), "ash", "front", "flat6", "outline", "1", "a" * rng.randrange(1, 60)))

    def _object(self, rng: random.Random, schema: dict[str, Any], deep: int) -> dict[str, Any]:
        required = schema.get("required", [])
        out = {
            name: self.value(rng, one, deep + 1)
            for name, one in schema.get("properties", {}).items()
            if name in required or (deep < 6 and rng.random() < 0.4)
        }
        more = schema.get("additionalProperties")
        if isinstance(more, dict) and deep < 6 and rng.random() < 0.5:
            out[rng.choice(("outline", "front", "x"))] = self.value(rng, more, deep + 1)
        return out

    def ask(self, rng: random.Random) -> Asked:
        """Return a request of any path."""
        method, path, one = rng.choice(self.asks)
        query = []
        for given in one.get("parameters", []):
            value = self.value(rng, given.get("schema", {}))
            if given["in"] == "path":
                near = rng.choice(("1", "2", "3", "front", "slot", "pdf", "svg", "siskin", str(value)))
                path = path.replace("{" + given["name"] + "}", _quoted(near))
            elif given.get("required") or rng.random() < 0.4:
                query.append(f"{given['name']}={_quoted(str(value))}")
        body = None
        if "requestBody" in one:
            body = self.value(rng, one["requestBody"]["content"]["application/json"]["schema"])
        elif method == "POST" and rng.random() < 0.3:
            body = rng.choice(RAW)
        return Asked(method, path + ("?" + "&".join(query) if query else ""), body)


def _quoted(text: str) -> str:
    return "".join(f"%{b:02X}" for b in text.encode("utf-8", "surrogatepass"))


def others(path: str) -> str:
    """Return a path that is not about the person who asks: the first would end this session or this role."""
    parts = path.split("/")
    if parts[2:3] == ["people"] and len(parts) > 3:
        whom = unquote(parts[3].split("?")[0]).strip().lstrip("+0")
        parts[3] = "2" if whom in ("1", "1.0") else parts[3]
    return "/".join(parts)


def places(data: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Yield where in JSON data something stands."""
    pairs = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in pairs:
        yield (*at, key)
        yield from places(value, (*at, key))


def spoiled(rng: random.Random, value: Any) -> Any:
    """Return what stands instead of a value: near it, at odds with it, or of another kind."""
    roll = rng.random()
    if isinstance(value, bool):
        return not value if roll < 0.6 else rng.choice(OTHERS)
    if isinstance(value, int | float):
        if roll < 0.55:
            near = value * rng.choice((0.5, 0.9, 1.1, 2.0, 10.0, -1.0)) + rng.choice((0.0, 0.01, 1.0))
            return round(near) if isinstance(value, int) else near
        return rng.choice(NUMBERS) if roll < 0.85 else rng.choice(STRINGS + OTHERS)
    if isinstance(value, str):
        if roll < 0.3:
            return value + rng.choice(("", " ", "2", "é"))
        return rng.choice(STRINGS) if roll < 0.85 else rng.choice(NUMBERS + OTHERS)
    if isinstance(value, list) and value and roll < 0.5:
        return rng.choice((value[:-1], value + value, value[::-1], value * 40))
    return rng.choice(OTHERS + STRINGS[:6] + NUMBERS[:6])


def changed(rng: random.Random, asked: Asked) -> Asked:
    """Return an accepted request with one to three fields, or some bytes of its file, changed."""
    if rng.random() < 0.08:
        return Asked(asked.method, asked.path, rng.choice(RAW))
    if isinstance(asked.body, bytes):
        data = bytearray(asked.body)
        for _ in range(rng.randrange(1, 4)):
            at = rng.randrange(max(len(data), 1))
            data[at:at + rng.randrange(0, 9)] = rng.choice(BYTES)
        return Asked(asked.method, asked.path, bytes(data))
    if asked.body is None or rng.random() < 0.1:
        parts = asked.path.replace("?", "/").replace("=", "/").replace("&", "/").split("/")[3:]
        if not parts:
            return asked
        instead = _quoted(str(rng.choice(STRINGS + NUMBERS)))
        return Asked(asked.method, asked.path.replace(rng.choice(parts), instead, 1), asked.body)
    body = copy.deepcopy(asked.body)
    for _ in range(rng.randrange(1, 4)):
        found = [p for p in places(body) if p[0] != "revision" or rng.random() < 0.1]
        if not found:
            break
        *way, last = rng.choice(found)
        inner = body
        for key in way:
            inner = inner[key]
        roll = rng.random()
        instead = copy.deepcopy(spoiled(rng, inner[last]))
        if roll < 0.08 and isinstance(inner, dict):
            del inner[last]
        elif roll < 0.12 and isinstance(inner, dict):
            inner[rng.choice(("more", "id", "kind", "__proto__"))] = rng.choice(STRINGS + NUMBERS)
        else:
            inner[last] = instead
    return Asked(asked.method, asked.path, body)


class Attack:
    """Sends inputs by number to a server of its own."""

    def __init__(self, told: Told) -> None:
        self.told = told
        self.server = LiveServer(demo=False)
        self.shop = Shop(self.server)
        self._prepare()

    def _prepare(self) -> None:
        call = self.server.call
        call("POST", "/api/own_shop", {"name": "Low Barn", "unit": "mm"})
        call("POST", "/api/machines", {"name": "Bench router", "kind": "bench"})
        call("POST", "/api/first_bits", {"here": [r["bit"]["id"] for r in call("GET", "/api/rack")[1]]})
        self.shop.fill()
        self.known = accepted(self.shop)
        self.names = list(self.known)
        self.described = Described(call("GET", "/api/openapi.json")[1])

    def input(self, number: int) -> tuple[Asked, bool]:
        """Return an input by its number, and whether it started from an accepted request."""
        rng = random.Random(f"{self.told.seed}:{number}")
        if rng.random() < 0.34:
            asked, started = self.described.ask(rng), False
        else:
            base = self.known[rng.choice(self.names)]
            asked, started = with_revision(base, self.revision), True
            if rng.random() < 0.93:
                asked = changed(rng, asked)
        return Asked(asked.method, others(asked.path), asked.body), started

    def revision(self, route: int) -> int:
        """Return the newest revision of a job; one that cannot be opened any more is a fault, and brought in anew."""
        found = self.shop.revision(route)
        if found is None:
            self.told.faults.append((self.told.inputs, f"GET /api/routes/{route}", "the job cannot be opened any more"))
            name = next(n for n, r in self.shop.routes.items() if r == route)
            self.shop.bring(name)
            self.known = accepted(self.shop)
        return found or 1

    def send(self, number: int) -> None:
        """Send one input and note what came of it."""
        told = self.told
        asked, started = self.input(number)
        body = asked.body
        data = body if isinstance(body, bytes) or body is None else json.dumps(body).encode()
        name = f"{asked.method} {asked.path[:120]} {repr(body)[:160] if body is not None else ''}"
        began = time.monotonic()
        try:
            status, wrong = self._send(asked.method, asked.path, data)
        except (OSError, http.client.HTTPException) as exc:
            status, wrong = 599, repr(exc)
        took = time.monotonic() - began
        told.inputs, told.changed = told.inputs + 1, told.changed + started
        told.taken += status < 300
        told.statuses[str(status)] = told.statuses.get(str(status), 0) + 1
        if took > told.slowest_s:
            told.slowest_s, told.slowest = took, name
        if status >= 500 or wrong or took > LATE_S:
            told.faults.append((number, name, f"{status} {took:.1f} s {wrong}"[:600]))
            if status >= 500:
                print(f"{number} {asked.method} {asked.path} {body!r}"[:3000], "->", status, wrong, flush=True)

    def _send(self, method: str, path: str, data: bytes | None) -> tuple[int, str]:
        connection = http.client.HTTPConnection("127.0.0.1", self.server.port, timeout=90)
        try:
            connection.request(method, path, data, {"Cookie": self.server.cookie, "Content-Type": "application/json"})
            answer = connection.getresponse()
            raw = answer.read()
            if not answer.getheader("Content-Type", "").startswith("application/json"):
                return answer.status, ""
            out = json.loads(raw)
            said = out.get("message", "") if answer.status >= 500 else ""
            plain = len(raw) < 20_000 and answer.status != 405 and path.startswith("/api/")
            return answer.status, said or (wrong_with(method, path, answer.status, out) if plain else "")
        finally:
            connection.close()

    def alive(self) -> bool:
        """Whether server and worker are the processes they were."""
        return self.server.process.poll() is None and set(self.server.pids("jobs.worker")) == self.workers

    def fresh(self) -> None:
        """Put the jobs back to what they were."""
        for route in list(self.shop.routes.values()):
            body = {"revision": self.revision(route), "to": 1}
            self.server.call("POST", f"/api/routes/{route}/back", body)

    def run(self, first: int, last: int, state: Path | None = None) -> None:
        """Send the inputs from a number up to another."""
        self.workers = set(self.server.pids("jobs.worker"))
        for number in range(first, last):
            if number % 300 == 0:
                self.fresh()
            self.send(number)
            if number % 200 == 199:
                if not self.alive():
                    self.told.faults.append((number, "processes", "a process is gone"))
                    self.workers = set(self.server.pids("jobs.worker"))
                if state is not None:
                    state.write_text(json.dumps(asdict(self.told)))
                    print(number + 1, len(self.told.faults), "faults", dict(self.told.statuses), flush=True)


def memory(server: LiveServer) -> dict[str, float]:
    """Return the most memory each process of a server has held, MB."""
    out: dict[str, float] = {}
    for pid in [server.process.pid, *server.pids("")]:
        try:
            lines = Path(f"/proc/{pid}/status").read_text().splitlines()
            name = Path(f"/proc/{pid}/cmdline").read_bytes().decode(errors="replace").replace("\x00", " ")
        except OSError:
            continue
        most = next((int(one.split()[1]) / 1000 for one in lines if one.startswith("VmHWM")), 0.0)
        out[f"{pid} {name[-60:]}"] = most
    return out


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0] if __doc__ else "")
    parser.add_argument("--inputs", type=int, default=20_000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--state", type=Path)
    given = parser.parse_args()
    told = Told(given.seed)
    if given.state and given.state.exists():
        told = Told(**json.loads(given.state.read_text()))
    attack = Attack(told)
    try:
        attack.run(told.inputs, given.inputs, given.state)
        for name, most in memory(attack.server).items():
            print(f"{most:7.0f} MB  {name}")
    finally:
        if given.state:
            given.state.with_suffix(".log").write_text(attack.server.log.read_text())
        attack.server.remove()
    print(json.dumps({k: v for k, v in asdict(told).items() if k != "faults"}, indent=1))
    for number, name, what in told.faults:
        print(number, name, "->", what)
    print(Counter(w.split(" ")[0] for _, _, w in told.faults))
    return 1 if told.faults else 0


if __name__ == "__main__":
    sys.exit(main())
