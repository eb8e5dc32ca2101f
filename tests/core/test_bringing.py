"""Parts of another project: what they need comes along, under ids of its own, and is the same there as it was."""

from __future__ import annotations

from typing import Any

import pytest
from building import Bench, of_sample

from dovejoint.core.document import Project, new_project
from dovejoint.core.document.bringing import excerpt, needed
from dovejoint.core.errors import CommandError
from dovejoint.core.joints.assess import assess
from dovejoint.sample import SAMPLES


def bring(bench: Bench, source: Project, **change: Any) -> None:
    command = excerpt(source, [p.id for p in source.parts]).model_dump(mode="json", exclude={"do"})
    bench.do("BringParts", **{**command, **change})


def volumes(bench: Bench) -> dict[str, float]:
    return {p.name: bench.volume(p.id) for p in bench.project.parts if p.id in bench.evaluate().parts}


def gaps(bench: Bench) -> dict[str, tuple[float, float]]:
    found = assess(bench.project, bench.evaluate(), bench.gaps)
    return {r.name: (r.measured.least_mm, r.measured.most_mm) for r in found if r.measured is not None}


#: picks of every kind, sketches with links, copies, parts of files, joints of several sorts (all samples were tried once)
@pytest.mark.parametrize(
    "name", ["anchor", "roof", "cover-link", "perch-rail", "visor", "flap", "housing", "dial", "sensor-cover"]
)
def test_all_of_a_sample_is_the_same_elsewhere(name: str) -> None:
    """Brought whole into a project that has other things: every part has its volume, every joint its gap, and nothing asks."""
    source = of_sample(name)
    bench = of_sample("feeder")
    before = volumes(bench)
    clash = {p.name for p in source.project.parts} & {p.name for p in bench.project.parts}
    bring(bench, source.project)
    evaluation = bench.evaluate()
    assert [(r.id, r.message) for r in evaluation.steps if r.state not in ("ok", "off")] == []
    found, wanted = volumes(bench), volumes(source)
    assert {n: found[n] for n in before} == pytest.approx(before)
    assert {n: found[f"{n} 2" if n in clash else n] for n in wanted} == pytest.approx(wanted, rel=1e-9)
    for joint, gap in gaps(source).items():
        assert gaps(bench)[joint] == pytest.approx(gap, abs=1e-6)


def test_only_what_a_part_needs_comes() -> None:
    mast = SAMPLES["mast"].make()
    ids = {p.name: p.id for p in mast.parts}
    names = {p.id: p.name for p in mast.parts}
    arm = needed(mast, [ids["Jar"]])
    # the jar's thread is cut in the lower half, on which the upper half, the screws and the head hang
    assert {"Jar", "Lower half", "Upper half", "Mast head", "Bracket"} <= {names[p] for p in arm.parts}
    source = SAMPLES["outlines"].make()
    hook = next(p.id for p in source.parts if p.name == "Hatch hook")
    alone = needed(source, [hook])
    assert (len(alone.parts), len(alone.steps)) == (1, 2)
    assert [v.name for v in source.values if v.id in alone.values] == ["wall"]
    with pytest.raises(CommandError, match="not there any more"):
        needed(source, ["p999"])


def test_values_are_shared_where_they_are_the_same_and_numbered_where_not() -> None:
    source = SAMPLES["jar"].make()
    bench = Bench(new_project("Here"))
    for name, formula in (("mouth", "38 mm"), ("wall", "9 mm"), ("tall", "neck + 1 mm"), ("neck", "3 mm")):
        if name != "tall":
            bench.do("AddValue", name=name, formula=formula)
    jar = Bench(source)
    bring(bench, source)
    named = {v.name: v.formula for v in bench.project.values}
    assert named == {"mouth": "38 mm", "wall": "9 mm", "neck": "3 mm", "wall_2": "3 mm", "tall": "36 mm", "neck_2": "14 mm", "pitch": "4 mm"}  # fmt: skip
    assert volumes(bench) == pytest.approx(volumes(jar), rel=1e-9)
    # what is shared drives both from now on, what is not does not
    bench.set("wall", "1 mm")
    assert volumes(bench) == pytest.approx(volumes(jar), rel=1e-9)
    # and once more: the same parts again, numbered on
    bring(bench, source)
    assert [p.name for p in bench.project.parts] == ["Jar", "Cap", "Jar 2", "Cap 2"]
    assert "wall_3" not in {v.name for v in bench.project.values} or bench.evaluate().values["wall_3"].error is None


def test_what_is_not_whole_is_refused() -> None:
    source = SAMPLES["jar"].make()
    command = excerpt(source, [p.id for p in source.parts]).model_dump(mode="json")
    bench = Bench(new_project("Here"))
    for change, words in (
        ({"recipe": command["recipe"][1:]}, "not with it"),
        ({"parts": command["parts"][:1]}, "not with it"),
        ({"parts": [command["parts"][0]] * 2}, "same id"),
    ):
        with pytest.raises(CommandError, match=words):
            bring(bench, source, **change)
    assert not bench.project.recipe
