"""The command line: build, check, estimate, export, sample, serve … Exit status 0 means that all went well."""

from __future__ import annotations

import argparse
import json
import secrets
import sys
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from . import cli_calc, cli_looking
from .core import joints as _joints  # registers the joints
from .core import steps as _steps  # registers the steps
from .core.document import Project, Step, apply, bundled, command_from, dump, new_project, schema, unbundled
from .core.errors import DoveError
from .sample import SAMPLES, begin_from

__all__ = ["main"]

_ = (_joints, _steps)


def _read(path: str) -> bytes:
    """The bytes of a file. Raises FileError."""
    from .core.errors import FileError

    try:
        return Path(path).read_bytes()
    except OSError as error:
        raise FileError(f"{path} cannot be read: {error.strerror}.") from None


def _project(path: str) -> Project:
    return unbundled(_read(path))


def _part_ids(project: Project, names: list[str]) -> list[str]:
    """Parts by their names, or ids. Raises CommandError for one that is not there."""
    from .core.errors import CommandError

    ids = {p.id: p.id for p in project.parts} | {p.name: p.id for p in project.parts}
    unknown = next((n for n in names if n not in ids), None)
    if unknown is not None:
        there = ", ".join(p.name for p in project.parts) or "none"
        raise CommandError(f"There is no part “{unknown}”; there are {there}.")
    return [ids[n] for n in names]


def _evaluated(project: Project) -> tuple[Any, Any]:
    from .core.joints.assess import GapCache, assess
    from .core.recipe import ResultCache, evaluate

    evaluation = evaluate(project, ResultCache())
    return evaluation, assess(project, evaluation, GapCache())


def _build(arguments: argparse.Namespace) -> int:
    from .engine import build_apart

    project = _project(arguments.file)
    states = _limits(project, arguments.limits or [])
    report = build_apart(project, states, arguments.step_limit)
    if arguments.json:
        print(json.dumps(report, indent=2, ensure_ascii=False))
    else:
        _say(report)
    return 0 if report["ok"] else 1


def _seconds(text: str) -> float:
    value = float(text)
    if not 0 < value < 1e6:
        raise argparse.ArgumentTypeError("give seconds above zero")
    return value


def _limits(project: Project, words: list[str]) -> Any:
    """``lower`` for all, ``Floor=most`` for a part, ``inside=upper`` for a dimension. Raises CommandError for what is unknown."""
    from .core.errors import CommandError
    from .core.recipe import LimitStates

    data: dict[str, Any] = {"overall": "nominal", "parts": {}, "dimensions": {}}
    for word in words:
        name, sign, state = word.rpartition("=")
        part = next((p.id for p in project.parts if p.name == name or p.id == name), None)
        value = next((v.id for v in project.values if v.name == name or v.id == name), None)
        if not sign:
            data["overall"] = state
        elif value is not None or ":" in name:
            data["dimensions"][value or name] = state
        elif part is not None:
            data["parts"][part] = state
        else:
            raise CommandError(f"--limits takes STATE, or NAME=STATE of a part or a value, and “{word}” is neither.")
    return LimitStates.read(data)


def _solve(arguments: argparse.Namespace) -> int:
    from .core.errors import FileError
    from .core.sketch.neutral import solve_neutral

    try:
        data = json.loads(_read(arguments.file))
    except ValueError:
        raise FileError(f"{arguments.file} is not JSON.") from None
    report = solve_neutral(data)
    if arguments.json:
        print(json.dumps(report, indent=2, ensure_ascii=False))
    else:
        for number, step in enumerate([report, *report["then"]]):
            fight = f": {', '.join(step['conflict_set'])} cannot all hold" if step["conflict_set"] else ""
            same = "".join(f"; {' and '.join(s[:-1])} settle {s[-1]}" for s in step["dependent_sets"] if len(s) > 1)
            print(f"{'then ' if number else ''}{step['status']}, {step['dof']} ways still free{fight}{same}")
            for id, (x, y) in step["points"].items():
                print(f"  {id}: {x:.6g}, {y:.6g}")
    return 0 if report["status"] != "conflicting" else 1


def _estimate(arguments: argparse.Namespace) -> int:
    from .core.printing.prints import PrintCache, print_report

    project = _project(arguments.file)
    evaluation, joints = _evaluated(project)
    chosen = _part_ids(project, arguments.part or [])
    report = print_report(project, evaluation, joints, chosen, PrintCache())
    if arguments.json:
        print(json.dumps(report, indent=2, ensure_ascii=False))
    else:
        for part in report["parts"]:
            found = part["estimate"]
            said = _estimated(found, f"{found['layers']} layers, ") if found else part["message"]
            print(f"  {part['name']}: {said}")
        print(f"  together: {_estimated(report['total'])}")
    return 0 if all(p["estimate"] for p in report["parts"]) else 1


def _estimated(found: dict[str, Any], before: str = "") -> str:
    minutes = round(found["time_s"] / 60)
    time = f"{minutes // 60} h {minutes % 60:02d} min" if minutes >= 60 else f"{minutes} min"
    return f"{before}{time}, {found['length_mm'] / 1000:.2f} m, {found['mass_g']:.1f} g, {found['price']:.2f}"


def _check(arguments: argparse.Namespace) -> int:
    from .core.checks import CheckCache, run_checks

    project = _project(arguments.file)
    evaluation, joints = _evaluated(project)
    checks = run_checks(project, evaluation, joints, CheckCache())
    if arguments.json:
        print(json.dumps(checks, indent=2, ensure_ascii=False))
    else:
        for check in checks:
            if check["state"] == "well":
                print(f"  {check['well']}")
            for finding in check["findings"]:
                against = f" ({finding['figure']}; limit {finding['limit']})" if finding["figure"] else ""
                print(f"{'!' if finding['state'] == 'wrong' else '?'} {finding['says']}{against} {finding['advice']}")
    return 1 if any(c["state"] == "wrong" for c in checks) else 0


def _say(report: dict[str, Any]) -> None:
    print(report["project"])
    for value in report["values"]:
        print(f"  {value['name']} = {value['formula']}  →  {value['text'] or value['error']}")
    for step in report["steps"]:
        mark = {"ok": " ", "off": "-", "beyond": "-"}.get(step["state"], "!")
        print(f"{mark} {step['number']:>3} {step['sentence']}")
        if step["message"]:
            print(f"      {step['message']}")
    for part in report["parts"]:
        low, high = part["bounding_box_mm"]["low"], part["bounding_box_mm"]["high"]
        size = " × ".join(f"{b - a:.2f}" for a, b in zip(low, high, strict=True))
        closed = "closed" if part["closed"] else "NOT CLOSED"
        print(f"  {part['name']}: {part['volume_mm3'] / 1000:.3f} cm³, {size} mm, {closed}, {part['role']}")
    for joint in report["joints"]:
        print(f"  {joint['name']}: {joint['says']}")


def _export(arguments: argparse.Namespace) -> int:
    from .core.errors import CommandError
    from .core.formats import ExportedFile, export_parts, file_name, outline_file

    project = _project(arguments.file)
    a = arguments
    if a.format in ("dxf", "svg"):
        step = _sketch_named(project, a.sketch or "")
        evaluation, _ = _evaluated(project)
        made = evaluation.made.get(step.id)
        if made is None or made.sketch is None:
            raise CommandError("The sketch cannot be worked out; mend it first.")
        data = outline_file(made.sketch.curves, a.format, "inch" if a.unit == "in" else "mm")
        files = [ExportedFile(file_name(a.pattern, project.name, step.name or "outline", a.format), "", data)]
    else:
        ids = _part_ids(project, a.part or [p.id for p in project.parts if p.role == "printed"])
        evaluation, joints = _evaluated(project)
        now = datetime.now(UTC).isoformat(timespec="seconds")
        files = export_parts(project, evaluation, joints, ids, a.format, a.unit, a.pattern, a.laid, a.together, now)
    folder = Path(a.out)
    try:
        if len(files) == 1 and folder.suffix.lower() in (".stl", ".3mf", ".step", ".stp", ".dxf", ".svg"):
            places = [folder]
        elif a.together and folder.suffix.lower() == ".3mf":
            # a plate each
            places = [folder.with_name(f"{folder.stem} {n}{folder.suffix}") for n in range(1, len(files) + 1)]
        else:
            folder.mkdir(parents=True, exist_ok=True)
            places = [folder / file.name for file in files]
        for place, file in zip(places, files, strict=True):
            place.write_bytes(file.data)
            print(place)
    except OSError as error:
        raise CommandError(f"{folder} cannot be written: {error.strerror}.") from None
    return 0


def _sketch_named(project: Project, name: str) -> Step:
    """A sketch by its name or id; the only one when nothing is said. Raises CommandError."""
    from .core.errors import CommandError

    sketches = [s for s in project.recipe if s.kind == "sketch"]
    found = [s for s in sketches if name in (s.name, s.id)] if name else sketches
    if len(found) != 1:
        names = ", ".join(s.name or s.id for s in sketches) or "none"
        raise CommandError(f"Name one sketch with --sketch; there are: {names}.")
    return found[0]


def _outline(arguments: argparse.Namespace) -> int:
    """A file's outline as the command PlaceOutline, for `change`."""
    from .core.errors import FileError
    from .core.formats import read_outline

    path = Path(arguments.file)
    try:
        text = path.read_text(encoding="utf-8", errors="surrogateescape")
    except OSError as error:
        raise FileError(f"{path} cannot be read: {error.strerror}.") from None
    found = read_outline(path.name, text, arguments.unit, arguments.scale)
    for line in (*found.mended, *(f"left out: {what}" for what in found.left_out)):
        print(line, file=sys.stderr)
    command = {"do": "PlaceOutline", "step": arguments.step, "curves": found.curves, "kept": not arguments.loose}
    print(json.dumps([command], indent=1))
    return 0


def _sample(arguments: argparse.Namespace) -> int:
    _write(SAMPLES[arguments.which].make(), arguments.out)
    return 0


def _write(project: Project, path: str) -> None:
    from .core.errors import CommandError

    try:
        if path == "-":
            print(dump(project), end="")
        elif path.lower().endswith(".zip"):
            Path(path).write_bytes(bundled(project).data)
        else:
            Path(path).write_text(dump(project), encoding="utf-8")
    except OSError as error:
        raise CommandError(f"{path} cannot be written: {error.strerror}.") from None


def _new(arguments: argparse.Namespace) -> int:
    _write(new_project(arguments.name), arguments.out)
    return 0


def _change(arguments: argparse.Namespace) -> int:
    """Apply commands to a project file: all of them, or none when one is refused."""
    from .core.errors import CommandError, FileError

    project = _project(arguments.file)
    commands: list[Any] = []
    for text in arguments.set or []:
        name, sign, formula = text.partition("=")
        value = next((v for v in project.values if v.name == name.strip()), None)
        if not sign or value is None:
            raise CommandError(f"--set takes NAME=FORMULA of a value that is there, and “{text}” is not that.")
        commands.append({"do": "SetValue", "value": value.id, "formula": formula.strip()})
    if arguments.commands:
        try:
            text = sys.stdin.read() if arguments.commands == "-" else _read(arguments.commands)
            commands += json.loads(text)
        except (ValueError, TypeError):
            raise FileError("The commands must be a JSON list, as docs/command-line.md shows.") from None
    for number, data in enumerate(commands, 1):
        try:
            outcome = apply(project, command_from(data))
        except DoveError as error:
            raise CommandError(f"Command {number}: {error.message}") from None
        project = outcome.project
        print(f"{outcome.sentence}  {' '.join(outcome.created)}".rstrip(), file=sys.stderr)
    _write(project, arguments.out or arguments.file)
    return 0


def _schema(arguments: argparse.Namespace) -> int:
    from .web.openapi import describe

    data = schema() if arguments.what == "file" else describe()
    print(json.dumps(data, indent=2, ensure_ascii=False))
    return 0


def _serve(arguments: argparse.Namespace) -> int:
    import logging

    import waitress

    from .core.document.bundle import LARGEST_BUNDLE_BYTES
    from .engine import cluster_executor, settle
    from .web import Config, create_app

    settle()
    local = arguments.host in ("127.0.0.1", "localhost", "::1")
    token = None if local else secrets.token_urlsafe(16)
    heavy = cluster_executor(arguments.cluster) if arguments.cluster else None
    config = Config(Path(arguments.data), Path(arguments.dist), token, heavy=heavy)
    app = create_app(config)
    store = app.extensions["dovejoint"]["store"]
    if arguments.with_sample and not store.summaries():
        # the first one last: the newest project stands first
        for sample in reversed(SAMPLES.values()):
            if sample.first:
                begin_from(sample, store)
    # a third of the threads for streams of events, a third for requests that wait for workers: the rest is always free
    server = waitress.create_server(
        app,
        host=arguments.host,
        port=arguments.port,
        threads=48,
        connection_limit=500,
        channel_timeout=30,
        max_request_body_size=LARGEST_BUNDLE_BYTES + 1024 * 1024,
        channel_request_lookahead=1,
        ident="dove-joint",
    )
    # a browser that leaves in the middle of an answer is no news
    logging.getLogger("waitress").setLevel(logging.CRITICAL)
    address = f"http://{arguments.host}:{server.effective_port}/" + (f"?token={token}" if token else "")
    print(f"Dove Joint is at {address}", flush=True)
    try:
        server.run()
    except KeyboardInterrupt:
        pass
    finally:
        app.extensions["dovejoint"]["engine"].close()
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="dovejoint", description="Model parts for 3D printing and the joints between them."
    )
    commands = parser.add_subparsers(dest="command", required=True)

    build = commands.add_parser("build", help="make all parts of a project file and report on them")
    build.add_argument("file")
    build.add_argument("--json", action="store_true", help="print the report as JSON (docs/command-line.md)")
    build.add_argument(
        "--limits",
        action="append",
        metavar="[NAME=]STATE",
        help="take toleranced dimensions at lower, mid or upper; a part also at least or most material",
    )
    build.add_argument(
        "--step-limit",
        type=_seconds,
        default=120.0,
        metavar="SECONDS",
        help="longest time for one step; 120 unless given",
    )
    build.set_defaults(run=_build)

    time = commands.add_parser("estimate", help="layers, time, length, mass and price of printing")
    time.add_argument("file")
    time.add_argument("--part", action="append", help="name of a part; may be given again (default: all printed ones)")
    time.add_argument("--json", action="store_true", help="print the whole report as JSON (docs/command-line.md)")
    time.set_defaults(run=_estimate)

    check = commands.add_parser("check", help="look for what could go wrong with the printed pieces")
    check.add_argument("file")
    check.add_argument("--json", action="store_true", help="print the findings as JSON (docs/command-line.md)")
    check.set_defaults(run=_check)

    cli_looking.add_commands(commands, _project)
    cli_calc.add_commands(commands, _read)

    export = commands.add_parser("export", help="write parts as STL, 3MF or STEP, or a sketch as DXF or SVG")
    export.add_argument("file")
    export.add_argument(
        "--part", action="append", help="name of a part; may be given again (default: all printed ones)"
    )
    export.add_argument("--format", choices=("stl", "3mf", "step", "dxf", "svg"), default="stl")
    export.add_argument("--sketch", help="name of the sketch to write as DXF or SVG")
    export.add_argument("--laid", action="store_true", help="turned as the parts lie on the bed (STL, 3MF)")
    export.add_argument(
        "--together", action="store_true", help="all parts in one file: on one plate (3MF), or by groups (STEP)"
    )
    export.add_argument("--unit", choices=("mm", "in"), default="mm", help="unit of STL and 3MF coordinates")
    export.add_argument("--pattern", default="{project} {part}", help="name of each file")
    export.add_argument("--out", default=".", help="folder, or a file for one part")
    export.set_defaults(run=_export)

    outline = commands.add_parser("outline", help="read a DXF or SVG outline and print the command that places it")
    outline.add_argument("file")
    outline.add_argument("--step", required=True, help="id of the sketch that it is for")
    outline.add_argument("--unit", choices=("file", "mm", "cm", "m", "inch", "point", "pixel"), default="file")
    outline.add_argument("--scale", type=float, default=1.0)
    outline.add_argument("--loose", action="store_true", help="free to be dragged and tied, instead of kept as it is")
    outline.set_defaults(run=_outline)

    new = commands.add_parser("new", help="write an empty project's file")
    new.add_argument("name")
    new.add_argument("--out", default="-")
    new.set_defaults(run=_new)

    change = commands.add_parser("change", help="change a project file by commands; all of them or none")
    change.add_argument("file")
    change.add_argument("commands", nargs="?", help="a JSON file with a list of commands, or - for standard input")
    change.add_argument("--set", action="append", metavar="NAME=FORMULA", help="give a value another formula")
    change.add_argument("--out", help="write there instead of into the same file")
    change.set_defaults(run=_change)

    solver = commands.add_parser("solve", help="solve a sketch in the plain form of docs/sketch-format.md")
    solver.add_argument("file")
    solver.add_argument("--json", action="store_true")
    solver.set_defaults(run=_solve)

    sample = commands.add_parser("sample", help="write a sample project's file")
    sample.add_argument("which", choices=tuple(SAMPLES))
    sample.add_argument("--out", default="-")
    sample.set_defaults(run=_sample)

    described = commands.add_parser("schema", help="print the JSON Schema of project files or the API's description")
    described.add_argument("what", choices=("file", "api"))
    described.set_defaults(run=_schema)

    serve = commands.add_parser("serve", help="start the web application")
    serve.add_argument("--host", default="127.0.0.1")
    serve.add_argument("--port", type=int, default=8460)
    serve.add_argument("--data", default="data")
    serve.add_argument("--dist", default="frontend/dist")
    serve.add_argument("--with-sample", action="store_true", help="make the sample project where there is none yet")
    serve.add_argument(
        "--cluster",
        metavar="ADDRESS",
        default="",
        help="let an existing dask cluster do what is long (docs/scaling.md)",
    )
    serve.set_defaults(run=_serve)
    return parser


def main(argv: list[str] | None = None) -> int:
    """Run a command. Errors go to standard error as one sentence, with exit status 2."""
    arguments = _parser().parse_args(argv)
    try:
        result: int = arguments.run(arguments)
    except DoveError as error:
        print(error.message, file=sys.stderr)
        return 2
    return result


if __name__ == "__main__":
    sys.exit(main())
