"""Things from the shelf: their figures against the reference tables, their volumes by hand, where they are put, and what is refused."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest
from building import Bench, flat

from dovejoint.cli import main
from dovejoint.core.document import new_project
from dovejoint.core.shelf import KINDS, find_things, thing_of
from dovejoint.core.solid import bounds

GROUND = {"rule": "base", "plane": "ground"}
REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "threads.json").read_text(encoding="utf-8"))


def shelf(**fields: Any) -> tuple[Bench, str, str]:
    bench = Bench(new_project("Shelf"))
    step, part = bench.do("AddStep", kind="shelf", fields={"on": GROUND, **fields}, new_part={"name": "Thing"})
    return bench, step, part


def hexagon(flats: float) -> float:
    return math.sqrt(3) / 2 * flats**2


def tube(across: float, bore: float, high: float) -> float:
    return math.pi / 4 * (across**2 - bore**2) * high


#: M4: across flats 7, head 2.8 (hex) and 4 × Ø 7 (socket, key 3), sunk head Ø 8.96 (key 2.5), nut 3.2; half of the thread's diameter is not the key's depth: 0.45 of it is
VOLUMES = [
    ({"what": "magnet", "across": "8 mm", "high": "3 mm"}, tube(8, 0, 3)),
    ({"what": "ring", "across": "8 mm", "bore": "3 mm", "high": "3 mm"}, tube(8, 3, 3)),
    ({"what": "rod", "across": "3 mm", "long": "20 mm"}, tube(3, 0, 20)),
    ({"what": "block", "across": "8 mm", "deep": "10 mm", "high": "3 mm"}, 240.0),
    ({"what": "washer", "thread": "M4"}, tube(9, 4.3, 0.8)),
    ({"what": "hexagon nut", "thread": "M4"}, hexagon(7) * 3.2 - tube(4, 0, 3.2)),
    ({"what": "hexagon screw", "thread": "M4", "long": "16 mm"}, hexagon(7) * 2.8 + tube(4, 0, 16)),
    ({"what": "socket screw", "thread": "M4", "long": "16 mm"}, tube(7, 0, 4) + tube(4, 0, 16) - hexagon(3) * 1.8),
    (
        {"what": "countersunk screw", "thread": "M4", "long": "16 mm"},
        tube(4, 0, 16 - 2.48) + math.pi * 2.48 / 3 * (2**2 + 2 * 4.48 + 4.48**2) - hexagon(2.5) * 1.8,
    ),
    ({"what": "heat-set insert", "thread": "M4"}, tube(6.3, 4, 8.5)),
]


@pytest.mark.parametrize(("fields", "volume"), VOLUMES, ids=[str(f["what"]) for f, _ in VOLUMES])
def test_things_have_the_volume_that_a_hand_works_out(fields: dict[str, Any], volume: float) -> None:
    bench, step, part = shelf(**fields)
    assert bench.message(step) == ""
    assert bench.volume(part) == pytest.approx(volume, rel=1e-6)
    assert bench.project.part(part).role == "bought"  # type: ignore[union-attr]


def test_a_bearing_has_its_outside_bore_and_width_and_a_groove_between_its_rings() -> None:
    bench, _, part = shelf(what="ball bearing", bearing="625")
    solid = bench.evaluate().parts[part].solid
    # four chamfers of 0.3, two grooves 0.4 deep from radius 2.5 + 0.3·5.5 to 8 − 0.25·5.5
    corners = sum(math.pi * 0.09 * r for r in (8 - 0.1, 8 - 0.1, 2.5 + 0.1, 2.5 + 0.1))
    assert bench.volume(part) == pytest.approx(tube(16, 5, 5) - corners - 2 * tube(2 * 6.625, 2 * 4.15, 0.4), rel=1e-6)
    assert {n.rsplit("/", 1)[1] for names in solid.names for n in names} >= {"side", "bore", "upper", "lower"}


def test_the_figures_are_those_of_the_standards() -> None:
    for row in REFERENCE["bearings"]:
        assert thing_of("ball bearing", row["name"]).figures == {
            "across": row["od"],
            "bore": row["bore"],
            "high": row["width"],
        }
    for row in REFERENCE["hex_iso4032_4014"]:
        nut, screw = thing_of("hexagon nut", row["name"]).figures, thing_of("hexagon screw", row["name"]).figures
        assert (nut["flats"], nut["high"], screw["flats"], screw["head_high"]) == (row["s_max"], row["nut_m_max"], row["s_max"], row["bolt_head_k"])  # fmt: skip
    assert "M2" not in KINDS["countersunk screw"]


def test_the_shelf_is_searched_by_words_and_figures() -> None:
    assert [t.name for t in find_things("bear 16 5")] == ["ball bearing 625", "ball bearing 688"]
    assert {t.kind for t in find_things("m4 screw")} == {"socket screw", "hexagon screw", "countersunk screw"}
    assert find_things("anvil") == []


def test_the_command_line_searches_it(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["shelf", "search", "bearing", "16", "--json"]) == 0
    (first, *_) = json.loads(capsys.readouterr().out)["things"]
    assert (first["name"], first["figures_mm"]["bore"]) == ("ball bearing 625", 5)
    assert main(["shelf", "search", "anvil"]) == 0
    assert "Nothing" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("fields", "words"),
    [
        ({"what": "countersunk screw", "thread": "M2"}, "There is no countersunk screw M2"),
        ({"what": "countersunk screw", "thread": "M8", "long": "4 mm"}, "long by its head alone"),
        ({"what": "ring", "across": "4 mm", "bore": "4 mm"}, "bore must be smaller"),
        ({"what": "magnet", "across": "0 mm"}, "above zero"),
        ({"what": "rod", "long": "-1 mm"}, "length"),
    ],
)
def test_what_is_refused(fields: dict[str, Any], words: str) -> None:
    bench, step, _ = shelf(**fields)
    assert words in bench.message(step)


def test_it_stands_on_a_face_or_in_a_round_edge_and_goes_with_it() -> None:
    bench = Bench(new_project("Hub"))
    bench.do("AddValue", name="tall", formula="12 mm")
    _, hub = bench.do(
        "AddStep",
        kind="body",
        fields={"shape": "cylinder", "across": "30 mm", "high": "tall", "on": GROUND},
        new_part={"name": "Hub"},
    )
    top = next(n for names in bench.evaluate().parts[hub].solid.names for n in names if n.endswith("/end"))
    _, bearing = bench.do(
        "AddStep",
        kind="shelf",
        fields={"what": "ball bearing", "on": flat(bench, hub, top), "sunk": "5 mm", "right": "2 mm"},
        new_part={"name": "Bearing"},
    )
    low, high = bounds(bench.evaluate().parts[bearing].solid.shape)
    assert (low[2], high[2], high[0]) == pytest.approx((7.0, 12.0, 10.0), abs=1e-3)
    bench.set("tall", "20 mm")
    assert bounds(bench.evaluate().parts[bearing].solid.shape)[0][2] == pytest.approx(15.0, abs=1e-3)
