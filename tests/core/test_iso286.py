"""ISO 286 zones and fits against the standard's limit tables, which were typed apart from the program's own."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from building import of_sample

from dovejoint.core.errors import FormulaError
from dovejoint.core.joints import assess
from dovejoint.core.quantities.iso286 import fit_of, limits_of
from dovejoint.core.recipe import sentence

REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "iso286.json").read_text())


@pytest.mark.parametrize("case", REFERENCE["cases"], ids=lambda c: f"{c['nominal']} {c['zone']}")
def test_limits(case: dict[str, Any]) -> None:
    found = limits_of(case["nominal"], case["zone"])
    assert (found.lower_um, found.upper_um) == (case["lower_um"], case["upper_um"])


@pytest.mark.parametrize("case", REFERENCE["fits"], ids=lambda c: f"{c['nominal']} {c['fit']}")
def test_fits(case: dict[str, Any]) -> None:
    found = fit_of(case["nominal"], case["fit"])
    assert (found.least_um, found.most_um, found.kind) == (
        case["min_clearance_um"], case["max_clearance_um"], case["class"],
    )  # fmt: skip
    assert [found.hole.low_mm, found.hole.high_mm] == pytest.approx(case["hole_mm"])
    assert [found.shaft.low_mm, found.shaft.high_mm] == pytest.approx(case["shaft_mm"])


@pytest.mark.parametrize("case", REFERENCE["invalid"], ids=lambda c: f"{c['input']['nominal']} {c['input']['zone']}")
def test_what_is_not_in_the_tables_is_refused(case: dict[str, Any]) -> None:
    with pytest.raises(FormulaError):
        limits_of(case["input"]["nominal"], case["input"]["zone"])


@pytest.mark.parametrize(
    ("zone", "word"),
    [("H", "letter and a grade"), ("7H", "letter and a grade"), ("Hf7", "mixes"), ("H4", "5 to 14"), ("cd7", "not tabled"), ("K9", "above grade 8")],
)  # fmt: skip
def test_refusals_say_why(zone: str, word: str) -> None:
    with pytest.raises(FormulaError, match=word):
        limits_of(25, zone)
    with pytest.raises(FormulaError, match="hole first"):
        fit_of(25, "g6/H7")


def test_bands_end_with_the_size_that_names_them() -> None:
    assert limits_of(18, "H7").upper_um == 18
    assert limits_of(18.01, "H7").upper_um == 21
    # c has finer bands than IT: the deviation changes within the band 30 to 50
    assert limits_of(40, "c11").upper_um == -120
    assert limits_of(42, "c11").upper_um == -130


@pytest.mark.parametrize(
    ("size", "zone", "lower", "upper"),
    [
        # ISO 286-2, shafts x to zc at small sizes
        (12, "x6", 40, 51), (16, "x6", 45, 56), (2, "x6", 20, 26), (5, "x7", 28, 40), (8, "x6", 34, 43),
        (2, "z6", 26, 32), (5, "z6", 35, 43), (8, "z7", 42, 57), (12, "z6", 50, 61), (16, "z6", 60, 71),
        (2, "za7", 32, 42), (5, "za6", 42, 50), (8, "za6", 52, 61), (5, "zb7", 50, 62), (2, "zb6", 40, 46),
        (2, "zc6", 60, 66), (5, "zc8", 80, 98),
        # the holes to them, from grade 8 on without the Δ rule, up to 7 with it: 12 X7 is −40 + 7
        (12, "X8", -67, -40), (12, "X7", -51, -33), (5, "Z8", -53, -35),
    ],
)  # fmt: skip
def test_interference_letters_at_small_sizes(size: float, zone: str, lower: float, upper: float) -> None:
    found = limits_of(size, zone)
    assert (found.lower_um, found.upper_um) == (lower, upper)


@pytest.mark.parametrize(
    ("sample", "kind", "nominal"),
    [
        ("sensor-post", "pins", "diameter"),
        ("post", "split", "diameter"),
        ("flap", "hinge", "diameter"),
        ("winch", "key", "wide"),
        ("dial", "shaped_shaft", "across"),
        ("bracket", "rail", "wide"),
        ("seed-tray", "tab", "wide"),
        ("cable-box", "tongue", "thickness"),
    ],
)
def test_joints_of_other_families_take_a_fit(sample: str, kind: str, nominal: str) -> None:
    """H7/g6 at a nominal 4 (ISO 286-2: H7 0 to 12, g6 −12 to −4 µm): 4 to 24 µm on diameter, or of both sides of what is flat; so 2 to 12 a side."""
    bench = of_sample(sample)
    step = next(s.id for s in bench.project.recipe if s.kind == kind)
    if kind == "tongue":
        bench.set("wall", "8 mm")
    bench.do("EditStep", step=step, fields={"fit": "iso", "zones": "H7/g6", nominal: "4 mm"})
    (joint,) = assess(bench.project, bench.evaluate(), bench.gaps, only=[step])
    assert joint.wanted is not None
    assert (joint.wanted.least_mm, joint.wanted.most_mm) == pytest.approx((0.002, 0.012), abs=1e-9)
    assert "ISO 286 fit H7/g6" in sentence(bench.project, bench.project.step(step))
    bench.do("EditStep", step=step, fields={"zones": "g6/H7"})
    assert "write the hole first" in bench.message(step)


def test_a_seat_takes_a_fit_at_the_size_of_what_is_bought() -> None:
    """A bearing of 19 (ISO 286-2, over 18 to 30: N7 is −28 to −7 µm, h6 −13 to 0): from 28 µm of overlap to 6 of room on diameter; at 16 (over 10 to 18: N7 −23 to −5, h6 −11 to 0) from 23 to 6."""
    bench = of_sample("vane-hub")
    shelf = next(s for s in bench.project.recipe if s.kind == "shelf" and s.fields["what"] == "ball bearing")
    part = shelf.fields["part"]
    seat = next(s.id for s in bench.project.recipe if s.kind == "seat" and s.fields["thing"]["part"] == part)
    bench.do("EditStep", step=seat, fields={"fit": "iso", "grip": "wall"})
    for bearing, least, most in (("626", -0.014, 0.003), ("625", -0.0115, 0.003)):
        bench.do("EditStep", step=shelf.id, fields={"bearing": bearing})
        (joint,) = assess(bench.project, bench.evaluate(), bench.gaps, only=[seat])
        assert joint.wanted is not None
        assert (joint.wanted.least_mm, joint.wanted.most_mm) == pytest.approx((least, most), abs=1e-9), bearing
    assert "ISO 286 fit N7/h6" in sentence(bench.project, bench.project.step(seat))
