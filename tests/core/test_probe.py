"""Rays against hand-made solids: gaps that are not even, walls of known thickness, ways that end."""

from __future__ import annotations

import math

import pytest
from building import Bench

from dovejoint.core import solid as S
from dovejoint.core.solid import Circle, Line


def disc(centre: tuple[float, float], radius: float, low: float, high: float, step: str) -> S.NamedSolid:
    return S.prism(S.find_regions([Circle("c", centre, radius)])[0], S.GROUND, low, high, step)


def block(x: float, y: float, z: float, step: str = "b") -> S.NamedSolid:
    corners = [(0.0, 0.0), (x, 0.0), (x, y), (0.0, y)]
    lines = [Line(f"l{i}", corners[i], corners[(i + 1) % 4]) for i in range(4)]
    return S.prism(S.find_regions(lines)[0], S.GROUND, 0, z, step)


@pytest.mark.parametrize("off", [0.0, 0.2, 0.4, 0.8])
def test_a_pin_off_the_middle_of_its_hole(off: float) -> None:
    ring = S.cut(disc((0, 0), 10, 0, 8, "ring"), [disc((0, 0), 6, -1, 9, "hole")], "cut")
    pin = disc((off, 0), 5, 0, 8, "pin")
    found = S.gap_readings(ring, pin, S.GROUND, 1, 7, 4)
    assert found is not None
    # radii 6 and 5: the gap is 1 − off where the pin is nearest, 1 + off across
    assert found.least_mm == pytest.approx(1 - off, abs=1e-4)
    assert found.most_mm == pytest.approx(1 + off, abs=1e-3)
    if off:
        (px, py, _), (qx, qy, _) = found.least_at
        assert (px, qx) == pytest.approx((6, 5 + off), abs=2e-3)
        assert (py, qy) == pytest.approx((0, 0), abs=0.2)


def test_a_pin_too_thick_has_a_negative_gap() -> None:
    ring = S.cut(disc((0, 0), 10, 0, 8, "ring"), [disc((0, 0), 6, -1, 9, "hole")], "cut")
    pin = disc((0, 0), 6.25, 0, 8, "pin")
    found = S.gap_readings(ring, pin, S.GROUND, 1, 7, 4)
    assert found is not None
    assert found.least_mm == pytest.approx(-0.25, abs=1e-6)
    assert found.most_mm == pytest.approx(-0.25, abs=1e-6)
    volume, middle = S.common(ring, pin)
    assert volume == pytest.approx(math.pi * (6.25**2 - 36) * 8, rel=1e-9)
    assert middle == pytest.approx((0, 0, 4), abs=1e-9)


def test_parts_out_of_reach_have_no_gap() -> None:
    ring = S.cut(disc((0, 0), 10, 0, 8, "ring"), [disc((0, 0), 6, -1, 9, "hole")], "cut")
    assert S.gap_readings(ring, disc((0, 0), 1, 0, 8, "pin"), S.GROUND, 1, 7, 2) is None
    assert S.gap_readings(ring, disc((0, 0), 5, 0, 8, "pin"), S.GROUND, 20, 27, 4) is None, (
        "nothing is there at these heights"
    )


def test_thickness() -> None:
    plate = block(40, 30, 3)
    assert S.thickness_at(plate, (20, 15, 3), (0, 0, 1)) == pytest.approx(3)
    assert S.thickness_at(plate, (40, 15, 1), (1, 0, 0)) == pytest.approx(40)
    found = S.thinnest_wall(plate, 5)
    assert found is not None
    assert found.least_mm == pytest.approx(3)
    assert sorted(p[2] for p in found.at) == pytest.approx([0, 3])
    assert S.thinnest_wall(plate, 2.9) is None
    tube = S.cut(disc((0, 0), 10, 0, 8, "tube"), [disc((0, 0), 9.2, -1, 9, "bore")], "cut")
    found = S.thinnest_wall(tube, 2)
    assert found is not None
    assert found.least_mm == pytest.approx(0.8, abs=1e-6)


def test_the_tip_of_a_chamfer_is_no_wall() -> None:
    solid = block(40, 30, 20)
    top = solid.find("b/end")[0]
    edges = [i for i, (_, pair) in enumerate(solid.edges) if top in pair]
    assert S.thinnest_wall(S.chamfer(solid, edges, 3, 3, "c"), 19) is None


def test_free_ways() -> None:
    floor = block(40, 30, 3)
    assert S.free_length(floor, [(5, 5, 10), (8, 8, 12)], (0, 0, -1), 50) == pytest.approx(7)
    assert S.free_length(floor, [(50, 5, 10)], (0, 0, -1), 50) is None


def test_the_gap_does_not_depend_on_where_the_parts_stand(bench: Bench) -> None:
    """The same lip on a plane 500 mm up and on the ground: the same gap to a nanometre."""
    gaps = []
    for height in ("0 mm", "500 mm"):
        (plane,) = bench.do(
            "AddStep", kind="plane", fields={"base": {"rule": "base", "plane": "ground"}, "distance": height}
        )
        sketch = bench.rectangle("60 mm", "40 mm", plane={"rule": "plane", "step": plane})
        body, part = bench.extrude(sketch, "30 mm", f"Box {height}")
        (shell,) = bench.do(
            "AddStep",
            kind="shell",
            fields={"open": {"rule": "faces", "part": part, "faces": [{"name": f"{body}/end"}]}, "wall": "2 mm"},
        )
        host = {"rule": "flat", "part": part, "face": {"name": f"{shell}/rim({body}/end)"}}
        bench.do("AddStep", kind="plug_in_lip", fields={"host": host}, new_part={"name": f"Lid {height}"})
        from dovejoint.core.joints.assess import assess

        gaps.append(assess(bench.project, bench.evaluate(), bench.gaps)[-1].measured)
    assert gaps[0] is not None
    assert gaps[1] is not None
    assert gaps[0].least_mm == pytest.approx(gaps[1].least_mm, abs=1e-6)
    assert gaps[0].most_mm == pytest.approx(0.35, abs=1e-6)
