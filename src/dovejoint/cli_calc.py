"""The command line's hand-books: single cases in, figures out; and what is on the shelf."""

from __future__ import annotations

import argparse
import json
from collections.abc import Callable
from typing import Any

from .core.calculators import answer, topics
from .core.errors import CommandError, FileError, FormulaError
from .core.profiles.calibrate import calibrate
from .core.quantities.iso286 import fit_of, limits_of
from .core.shelf import find_things

__all__ = ["add_commands"]


def add_commands(commands: Any, read: Callable[[str], bytes]) -> None:
    """Add ``calc`` to a parser's sub-commands; ``read`` gives the bytes of a file."""
    calc = commands.add_parser("calc", help="what hand-books work out, without a project").add_subparsers(
        dest="what", required=True
    )
    iso = calc.add_parser(
        "iso286", help="limits of a tolerance zone, or a fit: calc iso286 16 f7, calc iso286 16 H7/g6"
    )
    iso.add_argument("nominal", help="size in mm")
    iso.add_argument("zone", help="zone such as H7 or f7, or a fit such as H7/g6")
    iso.add_argument("--json", action="store_true")
    iso.set_defaults(run=_calc_iso286)

    learn = calc.add_parser("calibrate", help="the line through readings of one kind, with its intervals")
    learn.add_argument(
        "file",
        help='JSON: {"nominal": […], "measured": […], "resolution": 0.02, "prints": […], "features": […]}; the last two may be left out',
    )
    learn.add_argument(
        "--at", type=float, action="append", metavar="SIZE", help="also predict a print of this drawn size"
    )
    learn.add_argument("--json", action="store_true")
    learn.set_defaults(run=_calc_calibrate, read=read)

    case = calc.add_parser("case", help='one case: {"topic": …, "inputs": {…}} in, {"outputs": {…}} out')
    case.add_argument("file")
    case.add_argument("--json", action="store_true", help="as JSON")
    case.set_defaults(run=lambda a: _case(read(a.file), a))
    shelf = commands.add_parser("shelf", help="things that are bought, by their standards").add_subparsers(
        dest="what", required=True
    )
    search = shelf.add_parser("search", help="by words and figures: shelf search bearing 16; all without any")
    search.add_argument("words", nargs="*")
    search.add_argument("--json", action="store_true")
    search.set_defaults(run=_shelf)
    calc.add_parser("topics", help="what can be worked out, and from which inputs").set_defaults(run=_topics)


def _case(text: bytes, arguments: argparse.Namespace) -> int:
    try:
        case = json.loads(text)
    except (ValueError, RecursionError):
        raise CommandError(f"{arguments.file} is not JSON.") from None
    found = answer(case)
    if arguments.json:
        print(json.dumps(found, indent=2))
    else:
        for name, value in found["outputs"].items():
            print(f"  {name}: {value:.6g}" if isinstance(value, float) else f"  {name}: {value}")
    return 0


def _topics(arguments: argparse.Namespace) -> int:
    for topic in topics():
        print(f"  {topic.name}: {', '.join(topic.needs) or 'nothing'}")
    return 0


def _shelf(arguments: argparse.Namespace) -> int:
    found = find_things(" ".join(arguments.words))
    if arguments.json:
        print(json.dumps({"things": [t.as_dict() for t in found]}, ensure_ascii=False))
    else:
        for t in found:
            sizes = ", ".join(f"{name.replace('_', ' ')} {mm:g}" for name, mm in t.figures.items())
            print(f"  {t.name}: {sizes} mm ({t.source})")
        if not found:
            print("  Nothing on the shelf is called so or has such a size.")
    return 0


def _calc_iso286(arguments: argparse.Namespace) -> int:
    try:
        nominal = float(arguments.nominal)
    except ValueError:
        raise FormulaError(f"“{arguments.nominal}” is not a size in millimetres.") from None
    if "/" in arguments.zone:
        fit = fit_of(nominal, arguments.zone)
        data: dict[str, Any] = {
            "nominal_mm": nominal, "fit": arguments.zone, "class": fit.kind,
            "hole_um": [fit.hole.lower_um, fit.hole.upper_um], "shaft_um": [fit.shaft.lower_um, fit.shaft.upper_um],
            "least_clearance_um": fit.least_um, "most_clearance_um": fit.most_um,
        }  # fmt: skip
        text = f"{nominal:g} {arguments.zone}: {fit.kind}, {fit.least_um:+g} to {fit.most_um:+g} µm on diameter"
    else:
        found = limits_of(nominal, arguments.zone)
        data = {
            "nominal_mm": nominal, "zone": found.zone, "lower_um": found.lower_um, "upper_um": found.upper_um,
            "low_mm": round(found.low_mm, 6), "high_mm": round(found.high_mm, 6),
        }  # fmt: skip
        text = f"{nominal:g} {found.zone}: {found.low_mm:.4f} to {found.high_mm:.4f} mm ({found.lower_um:+g}, {found.upper_um:+g} µm)"
    print(json.dumps(data, ensure_ascii=False) if arguments.json else text)
    return 0


def _calc_calibrate(arguments: argparse.Namespace) -> int:
    try:
        data = json.loads(arguments.read(arguments.file))
        drawn, measured, resolution = data["nominal"], data["measured"], data.get("resolution", 0.0)
        prints, features = data.get("prints"), data.get("features")
        if not all(isinstance(names, list) for names in (drawn, measured, prints or [], features or [])):
            raise TypeError
    except (ValueError, KeyError, TypeError, AttributeError):
        raise FileError(
            'The readings must be JSON such as {"nominal": [5, 10], "measured": [5.04, 10.06], "resolution": 0.02}.'
        ) from None
    named = [None if names is None else [str(name) for name in names] for names in (prints, features)]
    found = calibrate(drawn, measured, resolution, named[0], named[1])
    report = {
        "n": found.readings, "sizes": found.sizes, "dof": found.dof, "a": found.a, "b": found.b_mm, "s": found.s_mm,
        "se_a": found.se_a, "se_b": found.se_b_mm, "t975": found.t, "ci_a": found.interval_a, "ci_b": found.interval_b_mm,
        "prints": found.prints, "between": found.between_mm, "covers": found.covers, "rounding": found.rounding_mm, "outliers": found.outliers, "notes": found.notes,
        "prediction": [
            {"nominal": d, "mean": found.expected_mm(d), "mean_half": found.half_of_mean_mm(d), "one_half": found.half_of_one_mm(d)}
            for d in (arguments.at or [])
        ],
    }  # fmt: skip
    if arguments.json:
        print(json.dumps(report, ensure_ascii=False))
    else:
        print(
            f"printed = {found.a:.5f} · drawn {found.b_mm:+.4f} mm, scatter {found.s_mm:.4f} mm ({found.readings} readings)"
        )
        print(
            f"  slope {found.interval_a[0]:.5f} to {found.interval_a[1]:.5f}, offset {found.interval_b_mm[0]:+.4f} to {found.interval_b_mm[1]:+.4f} mm (95 %)"
        )
        for d in arguments.at or []:
            print(
                f"  {d:g} drawn: {found.expected_mm(d):.3f} ± {found.half_of_one_mm(d):.3f} mm for {'one future print' if found.prints > 1 else 'a further feature of this print'}"
            )
        for note in found.notes:
            print(f"  {note}")
    return 0
