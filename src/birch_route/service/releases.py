"""Use cases over releases and runs: programs that may be run, as they were checked; records of what happened."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import replace
from typing import Any

from ..core.errors import ConflictError, InfeasibleError
from ..core.programs.writer import Program, write_all
from ..core.proving.prove import Proof, prove
from ..core.proving.simulate import Cache
from ..core.quantities import Unit
from ..core.route import Route, content_hash, read_route
from ..formats.report import report
from ..formats.route_file import route_to_text
from ..jobs.memory import give_back
from ..sheets.run_sheet import run_plan, run_sheet_pdf
from ..store.database import Database, Row, json_value, jsonb_value
from .bench import held_by, open_gates
from .planning import release

OF_A_WORKER = 0.3  # the web server keeps less of proofs than a worker, and gives memory back after each release


class RefusedError(InfeasibleError):
    """A stop stands; the findings are in the facts."""

    code = "refused"


class Releases:
    """Programs of a revision, kept as they were checked."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._cache = Cache(30, OF_A_WORKER)

    def make(self, route_id: int, on_revision: int, reasons: dict[str, str], author: str) -> dict[str, Any]:
        """Prove, write, read back and keep the programs of the newest revision.

        Raises:
            ConflictError: the revision is not the newest: a program of an outdated revision is never released.
            RefusedError: stops stand, or every program waits for bench steps. A program that some wait for is kept
            back, the others are released.
        """
        with self._database.transaction() as t:
            row = t.maybe("latest_revision", route=route_id)
        if row is None or row["number"] != on_revision:
            raise ConflictError("The route has a newer revision. Programs are made from the newest only.", where="revision")
        route = read_route(json.loads(row["document"]))
        with self._database.transaction() as t:
            gates = open_gates(route, t.all("ticks_of", route=route_id))
        proof = prove(route, self._cache)
        out = release(proof, reasons, gates)
        give_back()
        if not out.programs:
            at_bench = bool(out.blocking) and all(f.code == "bench.open" for f in out.blocking)
            raise RefusedError("Every program waits for work at the bench." if at_bench else
                               "Settle the stops first, or give a written reason for those that may be "
                               "overridden." if out.blocking else
                               "There is no operation yet, so there is nothing to write.", where="release",
                               findings=[f.model_dump(mode="json") for f in out.blocking])
        assert out.back is not None
        overrides = [{"code": f.code, "reason_found": f.sentence, "reason_given": r} for f, r in out.overridden]
        files = {p.name: p.text for p in out.programs}
        data = {**report(proof, out.programs, out.back), "run_plan": run_plan(*proof.simulations)}
        with self._database.transaction() as t:
            kept = t.one("add_release", route=route_id, revision=on_revision, digest=out.back.digest, overrides=jsonb_value(overrides),
                         files=json_value({"programs": files, "report": data}), made_by=author)
        return {
            "id": kept["id"],
            "revision": on_revision,
            "digest": out.back.digest,
            "overrides": overrides,
            "made_at": kept["made_at"].isoformat(),
            "programs": [
                {
                    "name": p.name,
                    "minutes": round(p.minutes, 2),
                    "bits": p.bits,
                    "lines": p.text.count("\n"),
                    "bytes": len(p.text),
                }
                for p in out.programs
            ],
            "waiting": [
                {
                    "name": p.name,
                    "minutes": round(p.minutes, 2),
                    "steps": [s.step.name for s in steps],
                    "ready_at": max((s.ready_at for s in steps if s.ready_at), default=None),
                }
                for p, steps in out.waiting
            ],
            "read_back": data["read_back"],
        }

    def zip_of(self, route_id: int, on_revision: int, unit: Unit = Unit.MM) -> tuple[str, bytes]:
        """Return name and bytes of the zip: programs byte for byte as checked, run sheet, report, route file.

        Raises:
            InfeasibleError: this revision was never released.
            ConflictError: a newer revision exists.
        """
        route, kept = self._kept(route_id, on_revision)
        packed = _zip(route, kept, self._cache, unit)
        give_back()
        return f"{_slug(route)}.zip", packed

    def program(self, route_id: int, on_revision: int, name: str) -> bytes:
        """Return one released program, byte for byte as checked."""
        _, kept = self._kept(route_id, on_revision)
        if name not in kept["files"]["programs"]:
            raise InfeasibleError(f"{name} was not released for this revision.", where="release")
        return kept["files"]["programs"][name].encode("ascii")

    def simulated(self, route_id: int, on_revision: int) -> tuple[Proof, list[Program]]:
        """Return a revision's proof and its released programs, their texts as they were checked.

        Raises:
            InfeasibleError: this revision was never released.
        """
        with self._database.transaction() as t:
            row = t.maybe("revision", route=route_id, number=on_revision)
            kept = t.maybe("release_of", route=route_id, revision=on_revision)
        if row is None or kept is None:
            raise InfeasibleError("No program of this revision was released.", where="release")
        proof = prove(read_route(json.loads(row["document"])), self._cache)
        texts = kept["files"]["programs"]
        programs = [replace(p, text=texts[p.name]) for p in write_all(proof.simulations) if p.name in texts]
        give_back()
        return proof, programs

    def _kept(self, route_id: int, on_revision: int) -> tuple[Route, Row]:
        """Return the route and its newest release; refused where the route has changed, or a bench step was taken back
        that holds one of its programs."""
        with self._database.transaction() as t:
            latest = t.maybe("latest_revision", route=route_id)
            kept = t.maybe("release_of", route=route_id, revision=on_revision)
            ticks = t.all("ticks_of", route=route_id)
        if latest is None or latest["number"] != on_revision:
            raise ConflictError("The route has changed since. Write the programs again.", where="revision")
        if kept is None:
            raise InfeasibleError("Write the programs first; they are read back and simulated before you get "
                                  "them.", where="release")
        route = read_route(json.loads(latest["document"]))
        operations = [o for p in kept["files"]["report"]["programs"] for o in p["operations"]]
        held = (
            []
            if any(o["code"] == "bench.open" for o in kept["overrides"])
            else held_by(route, operations, open_gates(route, ticks))
        )
        if held:
            raise InfeasibleError(f"{', '.join(s.step.name for s in held[:5])}: taken back since these programs were "
                                  f"written, so they wait again. Tick it, or write the programs anew.", where="release")
        return route, kept


def _slug(route: Route) -> str:
    return "_".join("".join(c if c.isascii() and c.isalnum() else " " for c in route.job.lower()).split()) or "route"


def _zip(route: Route, kept: Row, cache: Cache, unit: Unit) -> bytes:
    proof = prove(route, cache)
    by_name = {p["file"]: p for p in kept["files"]["report"]["programs"]}
    programs = [Program(name, text, by_name[name]["setup"], by_name[name]["operations"], {}, (0, 0, 0), by_name[name]["machine_min"])
                for name, text in kept["files"]["programs"].items()]
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in kept["files"]["programs"].items():
            archive.writestr(name, text.encode("ascii"))
        archive.writestr("run_sheet.pdf", run_sheet_pdf(proof, programs, unit))
        archive.writestr("report.json", json.dumps(kept["files"]["report"], indent=1, ensure_ascii=False))
        archive.writestr("route.birch.json", route_to_text(route))
    assert content_hash(route) == kept["files"]["report"]["revision"]
    return buffer.getvalue()
