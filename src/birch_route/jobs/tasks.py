"""The tasks of the queue. Thin: they call the same core functions as everything else."""

from __future__ import annotations

import gc
import json
import logging
import secrets
import time
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

import procrastinate

from ..core.clearing.plan import use_shelf
from ..core.errors import BirchError, NumericError, StoreError
from ..core.proving.corners import prove_corners
from ..core.proving.prove import prove
from ..core.proving.simulate import Cache, Simulation
from ..core.route import read_route
from ..formats.moments import encode_moments
from ..formats.report import corners_data, report, thin
from ..formats.target import encode_target
from ..formats.view import encode_view, lowest_mm, no_go_rows
from ..sheets.run_sheet import run_plan
from ..store.database import Database, json_value
from ..store.plans import PlanShelf
from .fence import DRAWING, read_fenced
from .memory import forget, give_back, held_bytes
from .proof_version import made_with

TARGET, INSIDE = "target", "inside:"  # the closer looks there are; the latter with an operation's id
MOST_LOOKS = 200  # kept; about 1 MB each
# the database was away
AGAIN = procrastinate.RetryStrategy(max_attempts=8, exponential_wait=2, retry_exceptions={StoreError})
blueprint = procrastinate.Blueprint()
_cache = Cache(40)
MOST_HELD_BYTES = 1_000_000_000  # by a worker between two proofs; a proof itself may take half as much again
_beside = ThreadPoolExecutor(1)
_database: Database | None = None


def use_database(database: Database) -> None:
    """Give the tasks of this process their database."""
    global _database
    _database = database
    use_shelf(PlanShelf(database))


class Superseded(Exception):
    """A newer revision has come: this proof is no longer wanted."""


@blueprint.task(name="prove", queue="live", pass_context=False, retry=AGAIN)
def prove_task(digest: str) -> None:
    """Prove the document with a hash and keep the result; the same hash twice is one proof."""
    assert _database is not None
    database = _database
    with database.transaction() as t:
        if t.one("has_proof", hash=digest, made_with=made_with())["there"]:
            return _tell(database, digest, "done")
        row = t.maybe("document_by_hash", hash=digest)
        wanted = t.maybe("newest_hash_of_same_route", hash=digest) is not None
    if row is None or not wanted:
        return _tell(database, digest, "superseded")
    began = time.perf_counter()
    spoken = [began]

    def progress(done: float, of: int) -> None:
        if time.perf_counter() - spoken[0] > 0.3:
            spoken[0] = time.perf_counter()
            _tell(database, digest, "working", done=round(done, 2), of=of)
            with database.transaction() as t:
                if t.maybe("newest_hash_of_same_route", hash=digest) is not None:
                    return
                newest = t.maybe("newest_document_of_same_route", hash=digest) if done % 1 > 0 else None
            if newest is None or not _clears_the_same(document, json.loads(newest["document"]), int(done)):
                raise Superseded

    try:
        document = json.loads(row["document"])
        pictures: list[Future[None]] = []
        proof = prove(read_route(document), _cache, progress=progress, simulated=lambda found: pictures.append(_beside.submit(_picture, database, digest, found)))
        data = report(proof, [], None, _cache.rule)
        data["run_plan"] = run_plan(*proof.simulations)
        data["no_go"] = {
            sim.setup.id: _cache.rule(f"no go {sim.motion_key}", lambda sim=sim: no_go_rows(sim, _cache.rule))
            for sim in proof.simulations
        }
        pictures[0].result()
    except Superseded:
        return _tell(database, digest, "superseded")
    except StoreError:
        raise  # the queue tries again
    except Exception as exc:
        failed = exc if isinstance(exc, BirchError) else _our_fault(exc, f"proof {digest[:12]}")
        data = {
            "format": "birch-report/1", "failed": failed.as_dict(), "findings": [], "operations": [], "setups": [],
            "thin": [],
        }
    with database.transaction() as t:
        t.do(
            "add_proof",
            hash=digest,
            made_with=made_with(),
            report=json_value(data),
            seconds=time.perf_counter() - began,
        )
    _tell(database, digest, "done")
    keep_within(MOST_HELD_BYTES)


def _picture(database: Database, digest: str, simulations: list[Simulation]) -> None:
    """Keep the packed view of simulated wood and tell of it, and find its thinnest floors, while the rules are asked: people see the wood first."""
    view = _cache.rule(f"view {' '.join(sim.wood_key for sim in simulations)}", lambda: encode_view(*simulations, keep=_cache.rule))
    with database.transaction() as t:
        t.do("add_proof_view", hash=digest, data=view)
    _tell(database, digest, "wood")
    thin(simulations, _cache.rule)


@blueprint.task(name="look", queue="live", pass_context=False, retry=AGAIN)
def look_task(digest: str, what: str) -> None:
    """Make a closer look at a proof and keep it; the same asked twice is made once."""
    assert _database is not None
    database = _database
    with database.transaction() as t:
        if t.maybe("look", hash=digest, what=what, made_with=made_with()) is not None:
            return
        row = t.maybe("document_by_hash", hash=digest)
    assert row is not None  # revisions are never removed
    try:
        proof = prove(read_route(json.loads(row["document"])), _cache)
    except BirchError:  # the proof itself says what is wrong
        return
    data = None
    if what == TARGET:
        data = encode_target(proof.simulations)
    else:
        for sim in proof.simulations:
            index = next((k for k, s in enumerate(sim.steps) if s.operation.id == what.removeprefix(INSIDE)), None)
            if index is not None:
                data = encode_moments(sim, index, lowest_mm(proof.simulations))
    if data is not None:
        with database.transaction() as t:
            t.do("keep_look", hash=digest, what=what, made_with=made_with(), data=data)
            t.do("drop_old_looks", keep=MOST_LOOKS)


@blueprint.task(name="corners", queue="heavy", pass_context=False, retry=AGAIN)
def corners_task(digest: str, attempt: int) -> None:
    """Prove a document at the corners of the tolerance and keep what they bring."""
    assert _database is not None
    database = _database

    def progress(done: float, of: int) -> None:
        with database.transaction() as t:
            if t.maybe("corners_progress", hash=digest, attempt=attempt, done=int(done), expected=of) is None:
                raise Superseded

    try:
        progress(0, 0)
        with database.transaction() as t:
            row = t.maybe("document_by_hash", hash=digest)
        assert row is not None  # revisions are never removed
        status, result = "done", corners_data(prove_corners(read_route(json.loads(row["document"])), _cache, progress))
    except (Superseded, StoreError) as exc:
        return _unless_superseded(exc)
    except BirchError as exc:
        status, result = "failed", exc.as_dict()
    except Exception as exc:
        status, result = "failed", _our_fault(exc, f"corners of {digest[:12]}").as_dict()
    with database.transaction() as t:
        t.do("corners_done", hash=digest, attempt=attempt, status=status, result=json_value(result))


def _clears_the_same(document: dict[str, Any], newer: dict[str, Any], index: int) -> bool:
    """Say whether a newer document clears what an operation is being planned for in the very same way: then the plan is worth finishing."""
    def what(operation: dict[str, Any]) -> list[Any]:
        return [operation.get(k) for k in ("kind", "setup", "features", "bit", "direction", "clearing", "engaged_deg", "both_ways", "stock_to_leave_mm", "finish_pass", "finish_allowance_mm")]

    wanted = what(document["operations"][index])
    return wanted in map(what, newer["operations"]) and all(document.get(k) == newer.get(k) for k in ("piece", "parts", "choices", "bits"))


def keep_within(most_bytes: int) -> bool:
    """Give freed memory back, and forget what is kept of earlier proofs where that is not enough; say whether."""
    global _cache
    give_back()
    if held_bytes() <= most_bytes:
        return False
    _beside.submit(lambda: None).result()  # what is still drawn looks at it
    _cache = Cache(40)
    forget()
    gc.collect()
    give_back()
    return True


def _tell(database: Database, digest: str, what: str, **more: float) -> None:
    with database.transaction() as t:
        t.one("tell", message=json.dumps({"proof": digest, "what": what, **more}))


@blueprint.task(name="read_drawing", queue="heavy", pass_context=False, retry=AGAIN)
def read_drawing_task(upload: int, reading: int) -> None:
    """Read a drawing that was brought in, and keep what was found in it or why it cannot be used."""
    assert _database is not None
    database = _database
    with database.transaction() as t:
        row = t.maybe("upload_data", id=upload, reading=reading)
    if row is None:
        return
    spoken = [0.0]

    def progress(part: float) -> None:
        if time.perf_counter() - spoken[0] > 0.3:
            spoken[0] = time.perf_counter()
            with database.transaction() as t:
                if t.maybe("upload_progress", id=upload, reading=reading, progress=part) is None:
                    raise Superseded

    options = {"name": row["name"], "unit": row["unit"], "join_mm": row["join_mm"], "scan": row["scan"]}
    try:
        status, result = "done", read_fenced("drawing", bytes(row["data"]), options, DRAWING, watch=progress)
    except (Superseded, StoreError) as exc:
        return _unless_superseded(exc)
    except BirchError as exc:
        status, result = "failed", exc.as_dict()
    except Exception as exc:
        status, result = "failed", _our_fault(exc, f"drawing {upload}").as_dict()
    with database.transaction() as t:
        t.do("upload_done", id=upload, reading=reading, status=status, result=json_value(result))


def _unless_superseded(exc: Exception) -> None:
    """Let the queue try again later where the database was away; nothing more where a result is no longer wanted."""
    if not isinstance(exc, Superseded):
        raise exc


def _our_fault(exc: Exception, what: str) -> NumericError:
    """Write an exception that is no answer to the log under an id, and return what people are told."""
    mark = secrets.token_hex(4)
    logging.getLogger("birch_route").error("fault %s at %s", mark, what, exc_info=exc)
    return NumericError(f"This could not be computed: a fault of ours ({type(exc).__name__}), in the log as {mark}. "
                        f"Nothing was lost; another edit is tried anew.", mark=mark)
