"""Solids against volumes and areas worked out by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest

from dovejoint.core import solid as S
from dovejoint.core.errors import FileError, StepError
from dovejoint.core.formats.stl import read_stl, write_stl
from dovejoint.core.solid import Arc, Circle, Line
from dovejoint.core.solid.outline import area_mm2, extent, offset_inward, points_along


def box_curves(w: float, h: float) -> list[Line]:
    a, b = w / 2, h / 2
    corners = [(-a, -b), (a, -b), (a, b), (-a, b)]
    return [Line(f"l{i + 1}", corners[i], corners[(i + 1) % 4]) for i in range(4)]


def block(w: float = 40, d: float = 30, h: float = 20, step: str = "s1") -> S.NamedSolid:
    return S.prism(S.find_regions(box_curves(w, d))[0], S.GROUND, 0, h, step)


def upright(solid: S.NamedSolid) -> list[int]:
    return [i for i, e in enumerate(S.describe_edges(solid)) if abs(e.direction[2]) > 0.99]


def mesh_volume(mesh: S.Mesh) -> float:
    p = mesh.positions[mesh.triangles].astype(float)
    return float(np.einsum("ij,ij->i", p[:, 0], np.cross(p[:, 1], p[:, 2])).sum() / 6)


def test_regions_with_holes_and_islands() -> None:
    regions = S.find_regions([*box_curves(40, 30), Circle("c1", (0, 0), 10), Circle("c2", (0, 0), 5)])
    assert [(r.name, r.depth) for r in regions] == [("l1+l2+l3+l4-c1", 0), ("c1-c2", 1), ("c2", 2)]
    assert [r.area_mm2 for r in regions] == pytest.approx([1200 - 100 * math.pi, 75 * math.pi, 25 * math.pi], rel=1e-9)


def test_regions_of_curves_that_cross() -> None:
    # two unit circles at distance 1: lens area 2π/3 − √3/2
    regions = S.find_regions([Circle("a", (0, 0), 1), Circle("b", (1, 0), 1)])
    lens = 2 * math.pi / 3 - math.sqrt(3) / 2
    areas = sorted(r.area_mm2 for r in regions)
    assert areas == pytest.approx(sorted([lens, math.pi - lens, math.pi - lens]), rel=1e-6)
    assert S.find_regions(box_curves(4, 4)[:3]) == [], "an open outline has no region"


def test_block_figures_and_names() -> None:
    solid = block()
    info = S.body_info(solid)
    assert info.volume_mm3 == pytest.approx(24000)
    assert info.area_mm2 == pytest.approx(2 * (1200 + 800 + 600))
    assert info.centre_mm == pytest.approx((0, 0, 10))
    assert (info.low_mm, info.high_mm) == (pytest.approx((-20, -15, 0)), pytest.approx((20, 15, 20)))
    assert (info.closed, info.valid, info.lumps) == (True, True, 1)
    assert {n[0] for n in solid.names} == {
        "s1/side(l1)",
        "s1/side(l2)",
        "s1/side(l3)",
        "s1/side(l4)",
        "s1/start",
        "s1/end",
    }
    assert all(e.convex for e in S.describe_edges(solid))


def test_fillet_takes_the_corners_off() -> None:
    rounded = S.fillet(block(), dict.fromkeys(upright(block()), 5.0), "s2")
    # four corners lose a square and keep a quarter disc each
    assert rounded.volume_mm3 == pytest.approx(24000 - (4 - math.pi) * 25 * 20, rel=1e-9)
    assert "s2/fillet(s1/side(l1)|s1/side(l2))" in {n[0] for n in rounded.names}


def test_chamfer_takes_prisms_off() -> None:
    solid = block()
    assert S.chamfer(solid, upright(solid), 3, 3, "s2").volume_mm3 == pytest.approx(24000 - 4 * 4.5 * 20, rel=1e-9)
    assert S.chamfer(solid, upright(solid)[:1], 3, 2, "s2").volume_mm3 == pytest.approx(24000 - 3 * 20, rel=1e-9)


def test_too_large_says_what_fits_and_it_does() -> None:
    solid = block()
    with pytest.raises(StepError, match=r"15\.4 mm fillet does not fit.*: (\d+\.?\d*) mm is the most") as caught:
        S.fillet(solid, dict.fromkeys(upright(solid), 15.4), "s2")
    most = float(caught.value.message.split(": ")[1].split(" mm")[0])
    assert 14.5 < most <= 15
    assert S.fillet(solid, dict.fromkeys(upright(solid), most), "s2").volume_mm3 > 0
    with pytest.raises(StepError, match="wall does not fit"):
        S.shell(solid, solid.find("s1/end"), 16, "s2")
    with pytest.raises(StepError, match="above zero"):
        S.fillet(solid, {0: -1.0}, "s2")


def test_shell_leaves_walls() -> None:
    solid = block()
    hollow = S.shell(solid, solid.find("s1/end"), 2, "s2")
    assert hollow.volume_mm3 == pytest.approx(24000 - 36 * 26 * 18, rel=1e-9)
    names = {n for names in hollow.names for n in names}
    assert {"s2/rim(s1/end)", "s1/end", "s2/inner(s1/start)", "s2/inner(s1/side(l3))"} <= names
    outward = S.shell(solid, solid.find("s1/end"), 2, "s2", outward=True)
    assert outward.volume_mm3 == pytest.approx(44 * 34 * 22 - 24000, rel=1e-9)


def test_booleans() -> None:
    solid, pin = block(), S.prism(S.find_regions([Circle("c1", (0, 0), 5)])[0], S.GROUND, 10, 30, "s2")
    disc = math.pi * 25
    assert S.fuse(solid, [pin], "s3").volume_mm3 == pytest.approx(24000 + disc * 10, rel=1e-9)
    assert S.cut(solid, [pin], "s3").volume_mm3 == pytest.approx(24000 - disc * 10, rel=1e-9)
    assert S.overlap(solid, [pin], "s3").volume_mm3 == pytest.approx(disc * 10, rel=1e-9)
    assert S.common(solid, pin)[0] == pytest.approx(disc * 10, rel=1e-9)
    far = S.prism(S.find_regions([Circle("c1", (200, 0), 5)])[0], S.GROUND, 0, 5, "s2")
    with pytest.raises(StepError, match="meets no material"):
        S.cut(solid, [far], "s3")
    with pytest.raises(StepError, match="takes the whole part away"):
        S.cut(pin, [block(60, 60, 60)], "s3")


def test_level_faces_are_joined_and_keep_both_names() -> None:
    solid = block()
    beside = [Line(c.id, (c.start[0] + 40, c.start[1]), (c.end[0] + 40, c.end[1])) for c in box_curves(40, 30)]
    joined = S.fuse(solid, [S.prism(S.find_regions(beside)[0], S.GROUND, 0, 20, "s2")], "s3")
    assert len(joined.faces) == 6
    assert ("s1/end", "s2/end") in joined.names


def test_mesh_is_closed_and_has_the_volume() -> None:
    solid = S.fillet(block(), dict.fromkeys(upright(block()), 5.0), "s2")
    mesh = S.tessellate(solid, 0.01, 0.1)
    assert mesh_volume(mesh) == pytest.approx(solid.volume_mm3, rel=1e-3)
    keys = np.round(mesh.positions, 4)
    _, merged = np.unique(keys, axis=0, return_inverse=True)
    triangles = merged[mesh.triangles]
    edges = np.sort(np.concatenate([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]]), axis=1)
    _, counts = np.unique(edges, axis=0, return_counts=True)
    assert (counts == 2).all()
    assert sum(count for _, count in mesh.faces) == len(mesh.triangles)
    p = mesh.positions[mesh.triangles].astype(float)
    facing = np.einsum("ij,ij->i", np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]), mesh.normals[mesh.triangles[:, 0]])
    assert (facing > 0).all(), "normals and triangles must face the same way"


def test_finer_meshes_lie_nearer() -> None:
    disc = S.prism(S.find_regions([Circle("c1", (0, 0), 16)])[0], S.GROUND, 0, 5, "s1")
    losses = [disc.volume_mm3 - mesh_volume(S.tessellate(disc, chord, 3.0)) for chord in (0.2, 0.02)]
    assert losses[0] > losses[1] > 0
    # the sagitta bounds the loss: a ring of the chord error round the rim
    assert losses[1] < 2 * math.pi * 16 * 0.02 * 5
    with pytest.raises(StepError, match="out of range"):
        S.tessellate(disc, math.nan)


def test_stl_and_step_go_out_and_come_back() -> None:
    solid = block()
    mesh = S.tessellate(solid)
    corners = read_stl(write_stl(mesh.positions, mesh.triangles)).astype(float)
    volume = np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum() / 6
    assert volume == pytest.approx(24000, rel=1e-5)
    inches = read_stl(write_stl(mesh.positions, mesh.triangles, "in"))
    assert inches.max() == pytest.approx(20 / 25.4, rel=1e-5)
    data = S.write_step([("Block", "#D9AE8F", solid), ("Other", "#A9C2B6", block(10, 10, 10))])
    assert S.read_step(data) == [("Block", pytest.approx(24000)), ("Other", pytest.approx(1000))]
    assert b"MILLI" in data
    for bad in (b"", b"nonsense", data[:2000]):
        with pytest.raises(FileError):
            S.read_step(bad)


def test_extent_of_closed_and_open_chains() -> None:
    corner = [Line("a", (0, 0), (10, 0)), Line("b", (10, 0), (10, 4))]
    assert extent(corner) == ((10, 4), (5, 2))
    # a quarter turn about (10, 0) from (10, 4) to (6, 0), and back: 4 wide and 4 high
    pie = [Line("a", (10, 0), (10, 4)), Arc("b", (10, 0), 4.0, (10, 4), (6, 0)), Line("c", (6, 0), (10, 0))]
    assert extent(pie)[0] == pytest.approx((4, 4), abs=1e-9)
    assert extent([Circle("c", (3, 1), 2)]) == ((4, 4), (3, 1))


def test_offset_of_a_rounded_outline() -> None:
    r = 9.0
    loop = [
        Line("l1", (-30 + r, -20), (30 - r, -20)),
        Arc("a1", (30 - r, -20 + r), r, (30 - r, -20), (30, -20 + r)),
        Line("l2", (30, -20 + r), (30, 20 - r)),
        Arc("a2", (30 - r, 20 - r), r, (30, 20 - r), (30 - r, 20)),
        Line("l3", (30 - r, 20), (-30 + r, 20)),
        Arc("a3", (-30 + r, 20 - r), r, (-30 + r, 20), (-30, 20 - r)),
        Line("l4", (-30, 20 - r), (-30, -20 + r)),
        Arc("a4", (-30 + r, -20 + r), r, (-30, -20 + r), (-30 + r, -20)),
    ]
    inner = offset_inward(loop, 2.5)
    assert isinstance(inner[1], Arc)
    assert inner[1].radius == pytest.approx(6.5)
    region = S.find_regions(inner)[0]
    assert region.area_mm2 == pytest.approx(55 * 35 - (4 - math.pi) * 6.5**2, rel=1e-9)
    for (x, y), _ in points_along(inner, 5):
        nearest = min(math.dist((x, y), p) for p, _ in points_along(loop, 400))
        assert nearest == pytest.approx(2.5, abs=0.01)
    with pytest.raises(StepError, match="8.95 mm is the most"):
        offset_inward(loop, 9.5)


def test_offset_keeps_sharp_corners_sharp_whichever_way_they_turn() -> None:
    moved = offset_inward(box_curves(40, 30), 3)
    assert {c.start for c in moved} == {(-17, -12), (17, -12), (17, 12), (-17, 12)}  # type: ignore[union-attr]
    with pytest.raises(StepError, match="leaves nothing"):
        offset_inward(box_curves(40, 30), 15)
    corner = [(0, 0), (40, 0), (40, 15), (20, 15), (20, 30), (0, 30)]
    ell = [Line(str(i), corner[i], corner[(i + 1) % 6]) for i in range(6)]
    moved = offset_inward(ell, 2)
    assert [c.start for c in moved] == [(2, 2), (38, 2), (38, 13), (18, 13), (18, 28), (2, 28)]  # type: ignore[union-attr]


def test_offset_of_a_corner_rounded_inwards_grows_its_radius() -> None:
    loop = [
        Line("a", (0, 0), (40, 0)), Line("b", (40, 0), (40, 15)), Line("c", (40, 15), (23, 15)),
        Arc("r", (23, 18), 3.0, (23, 15), (20, 18), clockwise=True),
        Line("d", (20, 18), (20, 30)), Line("e", (20, 30), (0, 30)), Line("f", (0, 30), (0, 0)),
    ]  # fmt: skip
    inner = offset_inward(loop, 2)
    arc = next(c for c in inner if isinstance(c, Arc))
    assert (arc.radius, arc.clockwise) == (5.0, True)
    # the sharp L of 36 × 11 and 16 × 15, and what the round corner adds: r² (1 − π/4)
    assert S.find_regions(inner)[0].area_mm2 == pytest.approx(36 * 11 + 16 * 15 + 25 * (1 - math.pi / 4), rel=1e-9)
    assert area_mm2(inner) == pytest.approx(S.find_regions(inner)[0].area_mm2, rel=1e-3)
    outer = offset_inward(loop, -2)
    assert next(c for c in outer if isinstance(c, Arc)).radius == pytest.approx(1.0)
    with pytest.raises(StepError, match="2.95 mm is the most"):
        offset_inward(loop, -3.2)


def test_offset_through_a_narrow_neck_is_refused() -> None:
    # two chambers of 20 × 20 with a passage 4 mm wide between them: 2 mm a side leaves nothing of it
    corner = [(0, 0), (20, 0), (20, 8), (30, 8), (30, 0), (50, 0), (50, 20), (30, 20), (30, 12), (20, 12), (20, 20), (0, 20)]  # fmt: skip
    loop = [Line(str(i), corner[i], corner[(i + 1) % 12]) for i in range(12)]
    assert len(offset_inward(loop, 1.5)) == 12
    with pytest.raises(StepError, match="narrowest place"):
        offset_inward(loop, 2.5)
