"""The command line: everything that needs neither server nor database, and the way to start those that do."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from .core.errors import BirchError, InputError
from .core.quantities import Unit, metre, say


def main(arguments: list[str] | None = None) -> int:
    """Run one command; return its exit code: 0 clean, 1 stop findings, 2 unusable input."""
    parser = _parser()
    options = parser.parse_args(arguments)
    try:
        return options.run(options)
    except BirchError as exc:
        if getattr(options, "json", False):
            print(json.dumps({"error": exc.as_dict()}, ensure_ascii=False))
        print(f"birch: {say(exc.sentence, getattr(options, 'units', Unit.MM))}", file=sys.stderr)
        return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="birch", description="Plan, prove and write the CNC work on guitar bodies and necks.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    plan = commands.add_parser("plan", help="prove a route file and write its programs, report and wood")
    plan.add_argument("file", type=Path)
    plan.add_argument("--out", type=Path, required=True, help="folder for programs, report.json and wood/")
    plan.add_argument("--json", action="store_true", help="print the report instead of a summary")
    plan.add_argument("--override", action="append", default=[], metavar="CODE=REASON", help="override a stop with a written reason")
    plan.add_argument("--corners", action="store_true", help="prove it at the corners of the tolerance as well")
    plan.add_argument("--variant", default="", metavar="ID", help="plan a variant of the route instead")
    _with_units(plan)
    plan.set_defaults(run=_plan)
    check = commands.add_parser("check", help="simulate any program on a block of stock")
    check.add_argument("file", type=Path)
    check.add_argument("--stock", required=True, metavar="LxWxT")
    check.add_argument("--zero", default="0,0,0", metavar="X,Y,Z", help="program zero from the lower left corner and the top of the stock")
    check.add_argument("--bit", action="append", default=[], metavar="T1=flat:6,cut=22,out=30")
    check.add_argument("--machine", type=Path, help="machine profile as JSON")
    check.add_argument("--json", action="store_true")
    _with_units(check)
    check.set_defaults(run=_check)
    for name, help_text in (("demo", "set up and start with the demo shop"), ("start", "start the server without demo data"),
                            ("serve", argparse.SUPPRESS)):
        server = commands.add_parser(name, help=help_text)
        server.add_argument("--port", type=int, default=8417)
        opens = "open it to the workshop's network by these names, with a certificate of its own"
        server.add_argument("--network", default="", metavar="NAME,ADDRESS", help=opens)
        only = "with --network: listen on this address only"
        server.add_argument("--bind", default="0.0.0.0", metavar="ADDRESS", help=only)
        server.set_defaults(run=_serve, demo=name == "demo")
    backup = commands.add_parser("backup", help="write the whole shop into one file")
    backup.add_argument("file", type=Path, nargs="?", help="default: beside the daily ones")
    backup.set_defaults(run=_backup)
    restore = commands.add_parser("restore", help="put a backup into an empty shop")
    restore.add_argument("file", type=Path)
    restore.set_defaults(run=_restore)
    export = commands.add_parser("export", help="write the whole shop as open files into one zip")
    export.add_argument("file", type=Path)
    export.set_defaults(run=_export)
    worker = commands.add_parser("worker", help="work for a shop whose database BIRCH_DATABASE_URL names")
    worker.add_argument("queue", nargs="?", choices=["live", "heavy"], default="live")
    worker.set_defaults(run=_worker)
    schema = commands.add_parser("schema", help="print what the server answers, as OpenAPI")
    schema.set_defaults(run=_schema)
    kernels = commands.add_parser("kernels", help="compile the numeric kernels")
    kernels.set_defaults(run=_kernels)
    return parser


def _with_units(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--units", type=Unit, choices=list(Unit), default=Unit.MM, help="the unit that sentences and sheets speak"
    )


def _plan(options: argparse.Namespace) -> int:
    from .core.variants import variant_route
    from .formats.route_file import route_from_text
    from .service.planning import plan_to_folder

    route = route_from_text(_read(options.file), options.file.name)
    if options.variant:
        found = next((v for v in route.variants if v.id == options.variant), None)
        if found is None:
            raise InputError(f"{options.file.name} has no variant {options.variant}. It has {', '.join(v.id for v in route.variants) or 'none'}.", where="--variant")
        route = variant_route(route, found)
    reasons = {}
    for item in options.override:
        code, _, reason = item.partition("=")
        if not reason.strip():
            raise InputError(f"--override {item}: write the reason after the code, like hardware.hit=\"clamp taken off before\".", where="--override")
        reasons[code] = reason.strip()
    result = plan_to_folder(route, options.out, reasons, corners=options.corners, unit=options.units)
    if options.json:
        print(json.dumps(result.report, ensure_ascii=False))
    else:
        _print_findings(
            result.report["findings"] + (result.report["read_back"] or {"findings": []})["findings"], options.units
        )
        for corner in (result.report["corners"] or {"corners": []})["corners"]:
            print(f"CORNER {corner['name']}: " + ("nothing new." if not corner["findings"] else f"holds to {corner['holds_to'] * 100:.0f} % of the way, then:"))
            _print_findings(corner["findings"], options.units)
        t = result.report["totals"]
        print(f"{len(result.report['operations'])} operations, {t['machine_min']:.1f} min at the machine, {t['hands_min']:.0f} min by hand, "
              f"piece {t['piece_kg']:.2f} kg. {len(result.files)} files in {options.out}")
        if result.refused:
            print("No programs written: settle the stops first.")
    return 1 if result.refused or result.has_stops else 0


def _check(options: argparse.Namespace) -> int:
    from .core.machines import Machine
    from .core.programs.check import Stock, check_program, parse_bit

    size = _numbers(options.stock.lower().replace("×", "x"), "x", "--stock", "400x300x45")
    zero = _numbers(options.zero, ",", "--zero", "0,0,0")
    machine = None
    if options.machine:
        try:
            machine = Machine.model_validate_json(_read(options.machine))
        except ValueError as exc:
            raise InputError(f"{options.machine.name} is not a machine profile: {str(exc).splitlines()[0]}", where="--machine") from exc
    text = _read(options.file).decode("utf-8", "replace")
    result = check_program(text, Stock(*size, zero_mm=tuple(zero)), dict(parse_bit(b) for b in options.bit), machine, name=options.file.name)  # type: ignore[arg-type]
    findings = [f.model_dump(mode="json") for f in result.findings]
    if options.json:
        print(json.dumps({"format": "birch-check/1", "file": options.file.name, "lines": result.lines, "findings": findings,
                          "removed_mm3": round(result.removed_mm3, 2), "cut_length_mm": round(result.cut_length_mm, 2),
                          "bounds_mm": result.bounds_mm, "machine_s": result.machine_s}, ensure_ascii=False))
    else:
        _print_findings(findings, options.units)
        way = say(f"{metre(result.cut_length_mm / 1000):.1f}", options.units)
        print(f"{result.lines} lines, {way} of cutting, {result.removed_mm3 / 1000:.1f} cm³ removed.")
    return 1 if any(f["severity"] == "stop" for f in findings) else 0


def _print_findings(findings: list[dict[str, Any]], unit: Unit) -> None:
    for one in findings:
        print(f"{one['severity'].upper():5} {one['code']:24} {say(one['sentence'], unit)}")
        if one.get("meant"):
            print(f"      meant so: {one['meant']}")
        for cure in one["cures"]:
            print(f"      cure: {say(cure['sentence'], unit)}")


def _numbers(text: str, separator: str, where: str, example: str) -> list[float]:
    import math
    try:
        values = [float(v) for v in text.split(separator)]
    except ValueError:
        values = []
    if len(values) != 3 or not all(math.isfinite(v) for v in values):
        raise InputError(f"{where} needs three numbers, like {example}.", where=where)
    return values


def _read(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as exc:
        raise InputError(f"{path} cannot be read: {exc.strerror}.", where=str(path)) from exc


def _serve(options: argparse.Namespace) -> int:
    from .web.run import run_server

    if not options.demo:
        return run_server(options.port, None, options.network, options.bind)
    from .demo.fill import fill_demo

    return run_server(options.port, fill_demo, options.network, options.bind)


def _backup(options: argparse.Namespace) -> int:
    from .service.backups import Backups
    from .service.shop_data import backup_folder, shop_database
    from .store.backup import back_up

    with shop_database() as database:
        if options.file:
            path, manifest = options.file, back_up(database, options.file)
        else:
            kept, manifest = Backups(database, backup_folder()).make()
            path = kept.path
    size = path.stat().st_size / 1e6
    print(f"{path}: {len(manifest.tables)} tables, {manifest.rows} rows, {size:.2f} MB, read back.")
    return 0


def _restore(options: argparse.Namespace) -> int:
    from .service.shop_data import empty_shop
    from .store.backup import restore

    with empty_shop() as database:
        manifest = restore(database, options.file)
    print(
        f"Restored {manifest.rows} rows in {len(manifest.tables)} tables, as saved {manifest.made_at}; counts and "
        f"hashes agree. ./birch start opens the shop."
    )
    return 0


def _export(options: argparse.Namespace) -> int:
    from .formats.route_file import write_safely
    from .service.backups import open_files
    from .service.rack import Rack
    from .service.shop_data import shop_database

    with shop_database() as database:
        data = open_files(database, Rack(database))
    write_safely(options.file, data)
    print(f"{options.file}: {len(data) / 1e6:.2f} MB")
    return 0


def _worker(options: argparse.Namespace) -> int:
    import os

    from .jobs.worker import work
    from .store.database import Database, is_of_this_program

    url = os.environ.get("BIRCH_DATABASE_URL")
    if not url:
        raise InputError(
            "A worker on another machine needs BIRCH_DATABASE_URL: the address of a database server that the shop "
            "keeps, with TLS and a password. The private database of ./birch start never leaves its machine; there "
            "the workers start by themselves.",
            where="BIRCH_DATABASE_URL",
        )
    database = Database(url, most=1)
    database.open()
    try:
        is_of_this_program(database)
    finally:
        database.close()
    print(f"working on the {options.queue} queue; Ctrl-C stops it", flush=True)
    return work(url, options.queue)


def _schema(_options: argparse.Namespace) -> int:
    from .web.app import make_app

    print(json.dumps(make_app("postgresql://nowhere", Path("nowhere")).openapi(), indent=1, ensure_ascii=False))
    return 0


def _kernels(options: argparse.Namespace) -> int:
    from .core.heights.warm import compile_kernels

    print(f"kernels ready in {compile_kernels():.1f} s")
    return 0


if __name__ == "__main__":
    sys.exit(main())
