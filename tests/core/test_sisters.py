"""Sister steps: made at once they give what they give one by one, and say the same where they cannot be made."""

from __future__ import annotations

import random
from collections import Counter

import pytest
from building import Bench
from campaign import enclosed_mm3, open_edges

from dovejoint.core.document import new_project
from dovejoint.core.recipe import Evaluation, ResultCache, evaluate


class _All(set[str]):
    """As if every step had been found not to be made at once."""

    def __contains__(self, key: object) -> bool:
        return True


def one_by_one(bench: Bench) -> Evaluation:
    cache = ResultCache()
    cache.alone = _All()
    return evaluate(bench.project, cache)


def names_of(evaluation: Evaluation, part: str) -> Counter[frozenset[str]]:
    return Counter(frozenset(names) for names in evaluation.parts[part].solid.names)


def plate(seed: int, near: bool = False) -> tuple[Bench, str]:
    """A plate with some ten bosses, pockets, pins and holes on a grid, on the ground or on its upper face, some at its very edge."""
    rng = random.Random(seed)
    bench = Bench(new_project("Plate"))
    first, part = bench.extrude(bench.rectangle("120 mm", "90 mm"), "8 mm")
    top = {"rule": "flat", "part": part, "face": {"name": f"{first}/end"}}
    places = [(x, y) for x in (-45, -15, 15, 45) for y in (-30, 0, 30)]
    rng.shuffle(places)
    for x, y in places[: rng.randrange(6, 12)]:
        if rng.random() < 0.15:
            # flush with a side: faces of both become one
            x = 55.0 if x > 0 else -55.0
        if near:
            x, y = x * rng.uniform(0.2, 1.0), y * 0.4
        operation = rng.choice(["add", "add", "cut"])
        if rng.random() < 0.4:
            fields = {"shape": "cylinder", "across": f"{rng.uniform(3, 9):.2f} mm", "high": f"{rng.uniform(2, 7):.2f} mm", "on": top, "way": "up" if operation == "add" else "down", "right": f"{x} mm", "up": f"{y} mm", "operation": operation, "part": part}  # fmt: skip
            bench.do("AddStep", kind="body", fields=fields)
            continue
        plane = {"plane": top} if rng.random() < 0.5 else {}
        (sketch,) = bench.do("AddStep", kind="sketch", fields=plane)
        bench.do("DrawRectangle", step=sketch, first=[x, y], corner=[x + 5, y + 5], width=f"{rng.uniform(4, 10):.2f} mm", height=f"{rng.uniform(4, 10):.2f} mm")  # fmt: skip
        way = "down" if plane and operation == "cut" else "up"
        fields = {"profile": {"rule": "regions", "step": sketch}, "distance": f"{rng.uniform(3, 14):.2f} mm", "direction": way, "operation": operation, "part": part}  # fmt: skip
        bench.do("AddStep", kind="extrude", fields=fields)
    return bench, part


@pytest.mark.parametrize("seed", range(12))
def test_at_once_is_the_same_as_one_by_one(seed: int) -> None:
    bench, part = plate(seed, near=seed % 3 == 2)
    ours, other = bench.evaluate(), one_by_one(bench)
    assert [(r.state, r.message) for r in ours.steps] == [(r.state, r.message) for r in other.steps]
    assert [r.key for r in ours.steps] == [r.key for r in other.steps]
    one, two = ours.parts[part], other.parts[part]
    assert one.solid.volume_mm3 == pytest.approx(two.solid.volume_mm3, rel=1e-9)
    assert names_of(ours, part) == names_of(other, part)
    # every name leads to the same faces
    for name in {n for names in one.solid.names for n in names}:
        areas = [sorted(s.faces[i].area_mm2 for i in s.solid.find(name)) for s in (one, two)]
        assert areas[0] == pytest.approx(areas[1], rel=1e-9), name
    mesh = one.mesh
    assert open_edges(mesh.positions, mesh.triangles) == 0
    assert enclosed_mm3(mesh.positions, mesh.triangles) == pytest.approx(one.solid.volume_mm3, rel=0.01)


def row(count: int = 20) -> tuple[Bench, str, list[str]]:
    bench = Bench(new_project("Row"))
    _, part = bench.extrude(bench.rectangle("300 mm", "40 mm"), "10 mm")
    bosses = []
    for k in range(count):
        sketch = bench.rectangle("6 mm", "6 mm", at=(-140 + 14 * k, 0))
        bosses.append(bench.do("AddStep", kind="extrude", fields={"profile": {"rule": "regions", "step": sketch}, "distance": "14 mm", "operation": "add", "part": part})[0])  # fmt: skip
    return bench, part, bosses


def test_an_early_boss_does_not_make_its_sisters_anew() -> None:
    bench, part, bosses = row()
    whole = bench.evaluate().parts[part].solid.volume_mm3
    before = bench.cache.computed
    bench.do("EditStep", step=bosses[2], fields={"distance": "20 mm"})
    after = bench.evaluate().parts[part].solid
    assert bench.cache.computed - before == 1, "only the boss itself"
    assert after.volume_mm3 == pytest.approx(whole + 6 * 36, rel=1e-9)


def test_a_step_that_wants_the_part_has_it_and_steps_are_looked_back_at() -> None:
    bench, part, bosses = row(6)
    top = {"rule": "edges_along", "part": part, "direction": "up"}
    (rounded,) = bench.do("AddStep", kind="fillet", fields={"edges": top, "radius": "1 mm"})
    report = {r.id: r for r in bench.evaluate().steps}
    assert report[rounded].state == "ok"
    for count, boss in enumerate(bosses, 1):
        seen = evaluate(bench.project, bench.cache, upto=boss)
        assert seen.parts[part].solid.volume_mm3 == pytest.approx(300 * 40 * 10 + count * 36 * 4, rel=1e-9)


def test_what_one_sister_cannot_do_is_said_at_that_one() -> None:
    bench, part, _ = row(6)
    sketch = bench.rectangle("6 mm", "6 mm", at=(0, 200))
    (miss,) = bench.do("AddStep", kind="extrude", fields={"profile": {"rule": "regions", "step": sketch}, "distance": "14 mm", "operation": "cut", "part": part})  # fmt: skip
    evaluation = bench.evaluate()
    states = {r.id: (r.state, r.message) for r in evaluation.steps}
    assert states[miss][0] == "failed" and "meets no material" in states[miss][1]
    assert all(state == "ok" for id, (state, _) in states.items() if id != miss)
    assert evaluation.parts[part].solid.volume_mm3 == pytest.approx(300 * 40 * 10 + 6 * 36 * 4, rel=1e-9)


def test_sisters_of_a_part_that_is_gone_say_so() -> None:
    """Found by the soak: what was made for them before is still there, and the part is not."""
    bench, part, bosses = row(6)
    bench.evaluate()
    base = bench.project.recipe[1].id
    bench.do("SwitchStep", step=base, off=True)
    evaluation = bench.evaluate()
    states = {r.id: (r.state, r.message) for r in evaluation.steps}
    assert part not in evaluation.parts
    assert all(states[boss][0] == "failed" and "is not there at this place" in states[boss][1] for boss in bosses)
    bench.do("SwitchStep", step=base, off=False)
    assert all(r.state == "ok" for r in bench.evaluate().steps)


def test_what_is_kept_weighs_what_it_adds() -> None:
    """Most faces pass through a step as they are: a recipe of many steps must not push its own results out."""
    bench, part, bosses = row()
    cache = ResultCache()
    cache.alone = _All()
    made = evaluate(bench.project, cache)
    faces = sum(
        len(result.parts[part].names) for result in cache.results.values() if part in getattr(result, "parts", {})
    )
    assert cache.bytes < 0.5 * 9000 * faces
    assert len(made.parts[part].solid.names) > 100
    before = cache.computed
    evaluate(bench.project, cache)
    assert cache.computed == before
    for key in list(cache.results):
        cache.drop(key)
    assert cache.bytes == 0
