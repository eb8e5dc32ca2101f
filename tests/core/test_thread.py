"""Screw threads: solids by hand-computed volumes and by their triangles, gaps against profiles written once more, refusals, and the whole loop."""

from __future__ import annotations

import itertools
import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from building import Bench, flat

from dovejoint.core.document import new_project
from dovejoint.core.joints import assess_by_formula
from dovejoint.core.recipe import sentence
from dovejoint.core.solid import ConeEnd, Rays, tessellate, threaded_bar
from dovejoint.core.solid.frame import GROUND

ROOT3 = math.sqrt(3)


def metric(d: float, p: float, off: float = 0.0) -> list[tuple[float, float]]:
    """ISO 68-1 by its own figures: H = √3/2·P, crest P/8, root P/4, 5/8 H deep."""
    h = ROOT3 / 2 * p
    low, high = d / 2 - 5 / 8 * h + off, d / 2 + off
    flank = 5 / 16 * p
    return [(0.0, low), (p / 4, low), (p / 4 + flank, high), (p / 4 + flank + p / 8, high), (p, low)]


def finely(solid: Any) -> Any:
    """Its triangles within 0.005 mm: a second of work."""
    return tessellate(solid, 0.005, 0.3)


def mesh_volume(solid: Any, chord_mm: float = 0.01) -> float:
    mesh = tessellate(solid, chord_mm, 0.3)
    v = mesh.positions.astype(float)[mesh.triangles]
    return float(np.einsum("ij,ij->i", v[:, 0], np.cross(v[:, 1], v[:, 2])).sum() / 6)


def closed(solid: Any) -> bool:
    mesh = tessellate(solid)
    keys = np.unique(np.round(mesh.positions * 1e5).astype(np.int64), axis=0, return_inverse=True)[1].reshape(-1)
    t = keys[mesh.triangles]
    t = t[(t[:, 0] != t[:, 1]) & (t[:, 1] != t[:, 2]) & (t[:, 2] != t[:, 0])]
    edges = np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]])
    there = {tuple(e) for e in edges.tolist()}
    return all((b, a) in there for a, b in there)


@pytest.mark.parametrize(
    ("d", "p", "starts", "left"), [(20.0, 2.5, 1, False), (6.0, 1.0, 1, True), (24.0, 3.0, 3, True)]
)
def test_a_bar_grows_by_the_area_across_it(d: float, p: float, starts: int, left: bool) -> None:
    """Across the axis a thread has the same area everywhere: π times the mean square radius of its profile (a turn of the profile is one lead)."""
    one = metric(d, p)
    profile = [(z + k * p, r) for k in range(starts) for z, r in one[:-1]] + [(starts * p, one[0][1])]
    names = [f"{n}{k}" for k in range(starts) for n in ("root", "below", "crest", "above")]
    lead, low = p * starts, one[0][1] - 0.2
    bars = [
        threaded_bar(
            GROUND, profile, names, lead, ConeEnd(0, low, 0.8), ConeEnd(length, low, -0.8), "s1", "screw", left
        )
        for length in (3 * lead, 4 * lead)
    ]
    area = (
        math.pi * sum((b - a) * (r * r + r * q + q * q) / 3 for (a, r), (b, q) in zip(one, one[1:], strict=False)) / p
    )
    assert bars[1].volume_mm3 - bars[0].volume_mm3 == pytest.approx(area * lead, rel=1e-6)
    for bar in bars:
        assert bar.valid and closed(bar)
        assert mesh_volume(bar, 0.005) == pytest.approx(bar.volume_mm3, rel=2e-3)
    assert len(bars[0].names) == 4 * starts + 4 and len({n for n, *_ in bars[0].names}) == 4 * starts + 4


def test_a_thread_turns_the_way_that_it_should() -> None:
    """Over a quarter turn the crest of a right-hand thread climbs a quarter of the pitch."""
    for left, sign in ((False, 1), (True, -1)):
        bar = threaded_bar(
            GROUND,
            metric(20, 4),
            ["root", "below", "crest", "above"],
            4.0,
            ConeEnd(0, 6, 0.8),
            ConeEnd(16, 6, -0.8),
            "s",
            "t",
            left,
        )
        points = tessellate(bar).positions.astype(float)
        crest = points[np.hypot(points[:, 0], points[:, 1]) > 10 - 1e-3]
        angle = np.arctan2(crest[:, 1], crest[:, 0])
        phase = (crest[:, 2] - sign * angle / (2 * math.pi) * 4.0) % 4.0
        # all of it lies on one band as wide as the crest: P/8
        spread = np.ptp((phase - np.median(phase) + 2.0) % 4.0)
        assert spread <= 4 / 8 + 0.02


class Pair(Bench):
    """A block 40 × 40 × 20 with a screw in it."""

    def __init__(self, **fields: Any) -> None:
        super().__init__(new_project("Clamp"))
        _, self.block = self.extrude(self.rectangle("40 mm", "40 mm"), "20 mm", "Block")
        self.step, self.screw = self.do(
            "AddStep", kind="thread", new_part={"name": "Screw"},
            fields={"axis": {"rule": "axis_base", "axis": "up"}, "host": self.block, **fields},
        )  # fmt: skip


class Jar(Bench):
    """A cap 20 high over a neck 30 high, Ø 40."""

    def __init__(self, bore: float = 17.5, wall: float = 4.0, **fields: Any) -> None:
        super().__init__(new_project("Jar"))
        parts, walls = [], []
        for name, out, inner, high in (("Neck", 20.0, 20 - wall, "30 mm"), ("Cap", 26.0, bore, "20 mm")):
            outline = self.do("AddStep", kind="sketch", fields={})[0]
            for r in (out, inner):
                self.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=r, diameter=f"{2 * r} mm")
            _, part = self.extrude(outline, high, name)
            parts.append(part)
        for part, r in zip(parts, (20.0, bore), strict=True):
            faces = self.evaluate().parts[part].faces
            walls.append(next(f.names[0] for f in faces if f.kind == "cylinder" and abs(f.radius_mm - r) < 0.01))
        self.neck, self.cap = parts
        (self.step,) = self.do(
            "AddStep", kind="thread",
            fields={"halves": "both", "bore": flat(self, self.cap, walls[1]), "shaft": flat(self, self.neck, walls[0]), "pitch": "3 mm", **fields},
        )  # fmt: skip


def radial_gap(bench: Bench, outer: str, inner: str, height: float, angle: float) -> float:
    """Between two parts about the upright axis, along a line out of it that meets their true faces: screw out to, hole in from."""
    out = (math.cos(angle), math.sin(angle), 0.0)
    hole, screw = (
        [mm for mm, _ in Rays(bench.evaluate().parts[part].solid).hits((0.0, 0.0, height), out, 1e-6, 1e3)]
        for part in (outer, inner)
    )
    return min(hole) - max(screw)


@pytest.mark.parametrize("fields", [
    {}, {"extent": "by", "depth": "10 mm", "takes": "both"}, {"profile": "trapezoid", "pitch": "4 mm", "starts": "2", "hand": "left", "depth": "15 mm"},
    {"profile": "gentle", "pitch": "3 mm", "takes": "outer", "end": "lower", "depth": "20 mm", "stands": "0 mm"},
    {"profile": "bottle", "diameter": "28 mm", "pitch": "4 mm", "takes": "both", "starts": "2", "depth": "16 mm"},
])  # fmt: skip
def test_screw_and_hole_keep_the_drawn_gap_everywhere(fields: dict[str, str]) -> None:
    bench = Pair(**fields)
    assert bench.message(bench.step) == ""
    joint = bench.joint()
    drawn = joint.drawn.gap_mm
    assert abs(joint.measured.least_mm - drawn) < 0.01 and abs(joint.measured.most_mm - drawn) < 0.015
    assert joint.per == "diameter" and joint.working is not None and joint.notice == ""
    parts = bench.evaluate().parts
    assert parts[bench.screw].solid.valid and parts[bench.block].solid.valid
    assert parts[bench.screw].solid.lumps == parts[bench.block].solid.lumps == 1
    # by another route, at places of one's own
    mate = bench.evaluate().made[bench.step].joint.mates[0]
    heights = sorted(mate.frame.to_world(0, 0, h)[2] for h in (mate.low_mm, mate.high_mm))
    for share, angle in ((0.1, 0.3), (0.45, 2.0), (0.7, -2.2), (0.9, 1.1)):
        height = heights[0] + share * (heights[1] - heights[0])
        assert radial_gap(bench, bench.block, bench.screw, height, angle) == pytest.approx(drawn, abs=0.012)
    (quick,) = assess_by_formula(bench.project)
    assert quick.drawn == joint.drawn


@pytest.mark.parametrize(
    "fields",
    [
        {},
        {"profile": "gentle", "starts": "2", "takes": "both", "end": "lower"},
        {"profile": "bottle", "pitch": "5 mm", "hand": "left"},
    ],
)
def test_a_neck_and_a_cap_get_one_thread(fields: dict[str, str]) -> None:
    bench = Jar(**fields)
    assert bench.message(bench.step) == ""
    joint = bench.joint()
    assert abs(joint.measured.least_mm - joint.drawn.gap_mm) < 0.012
    parts = bench.evaluate().parts
    for part in (bench.neck, bench.cap):
        assert parts[part].solid.valid and parts[part].solid.lumps == 1
        assert mesh_volume(parts[part].solid) == pytest.approx(parts[part].solid.volume_mm3, rel=2e-3)
    mate = bench.evaluate().made[bench.step].joint.mates[0]
    middle = mate.frame.to_world(0, 0, (mate.low_mm + mate.high_mm) / 2)[2]
    assert radial_gap(bench, bench.cap, bench.neck, middle, 0.7) == pytest.approx(joint.drawn.gap_mm, abs=0.012)


def test_a_bought_screw_turns_in_a_printed_hole() -> None:
    """M8 of the shop in a bore of 6.7: the screw gets the thread that it has, the whole gap lands on the hole, and only that is printed."""
    bench = Bench(new_project("Bought"))
    _, post = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "20 mm", "high": "14 mm"}, new_part={"name": "Post"})  # fmt: skip
    bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "6.7 mm", "high": "14 mm", "operation": "cut", "part": post})  # fmt: skip
    _, screw = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "8 mm", "high": "24 mm"}, new_part={"name": "Screw", "role": "bought"})  # fmt: skip
    parts = bench.evaluate().parts
    bore, shaft = (
        {"rule": "flat", "part": p, "face": {"name": next(f.names[0] for f in parts[p].faces if f.kind == "cylinder" and f.hollow == hollow)}}
        for p, hollow in ((post, True), (screw, False))
    )  # fmt: skip
    (step,) = bench.do("AddStep", kind="thread", fields={"halves": "both", "bore": bore, "shaft": shaft, "pitch": "1.25 mm", "takes": "outer"})  # fmt: skip
    assert bench.message(step) == ""
    joint = bench.joint()
    assert joint.printed == (True, False)
    assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=0.012)
    # the screw's thread is the basic one of ISO 68-1: half way up, where all of it is whole, what a turn of it takes away is hand-computed
    profile = metric(8, 1.25)
    took = parts[screw].solid.volume_mm3 - bench.volume(screw)
    mean = (
        sum((z2 - z1) * (r1 * r1 + r1 * r2 + r2 * r2) / 3 for (z1, r1), (z2, r2) in itertools.pairwise(profile)) / 1.25
    )
    whole = took / (math.pi * (16 - mean))
    assert 13 < whole < 15.5, "as long as the hole and its run-out"


@pytest.mark.parametrize(("fields", "says"), [
    ({"pitch": "20 mm"}, "at most 14.8 mm"), ({"pitch": "0 mm"}, "above zero"), ({"diameter": "3 mm", "pitch": "0.5 mm"}, "does not hold any more"),
    ({"depth": "2 mm"}, "at least 7.4 mm"), ({"extent": "by", "depth": "30 mm"}, "comes out on the other side"), ({"stands": "-1 mm"}, "less than nothing"),
    ({"axis": {"rule": "axis_base", "axis": "across"}, "diameter": "30 mm"}, ""), ({"pitch": "7 mm", "diameter": "30 mm", "depth": "25 mm"}, "20 mm thick there"),
])  # fmt: skip
def test_what_cannot_be_is_refused_with_what_could(fields: dict[str, Any], says: str) -> None:
    bench = Pair(**fields)
    message = bench.message(bench.step)
    assert message and says in message and message.endswith(".")


def test_a_neck_keeps_its_wall_and_a_wide_bore_is_refused() -> None:
    assert "The shaft's wall is 1 mm; this thread needs 2.37 mm" in (b := Jar(wall=1.0)).message(b.step)
    assert "The bore is too wide for a thread of Ø 40 mm" in (b := Jar(bore=19.5)).message(b.step)


def test_a_wide_bore_cuts_crests_off_and_leaves_the_flanks_where_they_are() -> None:
    """In a bore wider than its minor diameter a hole has less thread, but no other: the screw still turns in."""
    bench = Jar(bore=19.4, profile="gentle", starts="3", takes="inner", hand="left")
    assert bench.message(bench.step) == ""
    joint = bench.joint()
    assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=1e-4)
    assert joint.measured.most_mm > joint.drawn.gap_mm + 0.05


def test_a_bottle_neck_has_beads_with_broken_edges_and_no_flank_that_sags() -> None:
    """Its section by hand: over the root a bead 0.1 + 2·(0.17 + 0.08·tan 67.5°) wide, 0.25 high, with 45° at its foot; what strips is counted along its other half's crest."""
    bench = Pair(profile="bottle", diameter="28 mm", pitch="4 mm", depth="16 mm", fit="own", least="-0.4 mm", target="0 mm", most="0.4 mm", takes="outer")  # fmt: skip
    rows = {r.name: r for r in bench.joint().working.results}
    shoulder = 4 * 0.08 * math.tan(math.radians(67.5))
    foot = 0.4 + 2 * (4 * 0.17 + shoulder)
    engaged = next(g.value for g in bench.joint().working.givens if g.name == "length of whole thread")
    bolt = rows["area that strips, screw"].values[0]
    assert bolt == pytest.approx(2 * math.pi * (14 - 1.0) * foot * engaged / 4, rel=0.03)
    nut = rows["area that strips, hole"].values[0]
    assert nut == pytest.approx(2 * math.pi * 14 * (4 - 0.4) * engaged / 4, rel=0.03)
    # a screw of whole turns: its core, and for each pitch the bead's trapezoids turned about the axis (Pappus)
    screw = bench.evaluate().parts[bench.screw].solid
    core = 13.0  # the hole takes all of the gap
    pieces = [  # height, width at its foot, width at its top, radius at its foot
        (0.68, foot, 0.4 + 2 * shoulder, core),
        (0.32, 0.4 + 2 * shoulder, 0.4, core + 0.68),
    ]

    def bead() -> float:
        out = 0.0
        for high, low, top, r in pieces:
            # ∫ 2π·ρ·w(ρ) dρ over a trapezoid
            out += 2 * math.pi * (high * (low + top) / 2 * r + high**2 * (low + 2 * top) / 6)
        return out

    def volume(depth: str) -> float:
        bench.do("EditStep", step=bench.step, fields={"depth": depth})
        return bench.volume(bench.screw)

    assert screw.valid
    one, more = volume("12 mm"), volume("16 mm")
    assert more - one == pytest.approx(math.pi * core**2 * 4 + bead(), rel=1e-4), "one pitch longer"


def test_the_pair_follows_its_values() -> None:
    bench = Pair()
    before = bench.volume(bench.screw)
    bench.do("EditStep", step=bench.step, fields={"diameter": "24 mm", "pitch": "3 mm", "depth": "14 mm"})
    assert bench.message(bench.step) == ""
    assert bench.volume(bench.screw) > before
    assert abs(bench.joint().measured.least_mm - bench.joint().drawn.gap_mm) < 0.012
    assert "Ø 24 mm, pitch 3 mm, one start, right-hand" in sentence(bench.project, bench.project.step(bench.step))


def test_a_coarse_pitch_of_the_standard_is_named() -> None:
    made = (b := Pair(pitch="2 mm")).evaluate().made[b.step]
    assert "M20 has 2.5 mm as its coarse pitch" in made.note
    assert (b := Pair()).evaluate().made[b.step].note == ""


def test_what_a_thread_bears_is_that_of_the_worked_cases() -> None:
    """With no gap the stripping areas are those of the basic profile: 0.875·π·d·L and 0.75·π·D1·L."""
    reference = json.loads((Path(__file__).parent.parent / "reference" / "threads.json").read_text())
    m20 = next(s for s in reference["sizes"] if s["name"] == "M20")
    bench = Pair(fit="own", least="-0.4 mm", target="0 mm", most="0.4 mm")
    work = bench.joint().working
    rows = {r.name: r for r in work.results}
    engaged = next(g.value for g in work.givens if g.name == "length of whole thread")
    gap = bench.joint().expected
    assert abs((gap.least_mm + gap.most_mm) / 2) < 0.02
    nut, bolt = rows["area that strips, hole"].values[0], rows["area that strips, screw"].values[0]
    assert nut == pytest.approx(0.875 * math.pi * 20 * engaged, rel=0.02)
    assert bolt == pytest.approx(0.75 * math.pi * m20["D1"] * engaged, rel=0.02)
    assert rows["flanks that meet"].limit == pytest.approx(m20["H"] * 5 / 16, rel=1e-3)


def test_a_fine_thread_is_said_to_be_too_fine() -> None:
    bench = Pair(diameter="12 mm", pitch="0.9 mm", fit="snug")
    joint = bench.joint()
    assert "too fine for these layers" in joint.says


@pytest.mark.parametrize(
    ("size", "diameter", "pitch", "deep"),
    [("M16", 16.0, 2.0, 5 / 8 * ROOT3 / 2 * 2), ("m12x1.5", 12.0, 1.5, 5 / 8 * ROOT3 / 2 * 1.5), ("Tr20 × 4", 20.0, 4.0, 2.0)],
)  # fmt: skip
def test_a_size_is_called_by_its_name(size: str, diameter: float, pitch: float, deep: float) -> None:
    """ISO 261 and 2904: what the name says is drawn, whatever stands in the figures; gauges by formula know it too."""
    pair = Pair(sized="name", size=size, diameter="nonsense", pitch="also", depth="14 mm")
    figures = next(r.figures for r in pair.evaluate().steps if r.id == pair.step)
    assert (figures["diameter"], figures["pitch"]) == (diameter, pitch)
    assert pair.message(pair.step) == ""
    mate = pair.evaluate().made[pair.step].joint.mates[0]
    assert mate.pitch_mm == pitch
    gap = pair.joint().drawn.gap_mm
    # the hole's roots lie at the major diameter and what it takes of the gap; the screw's profile is as deep as its form says
    assert mate.sizes_mm[0] == pytest.approx(diameter, abs=2 * gap)
    assert assess_by_formula(pair.project)[0].drawn.gap_mm == pytest.approx(gap)
    # the screw takes all of the gap: its root lies that much under the form's
    points = finely(pair.evaluate().parts[pair.screw].solid).positions.astype(float) - np.array(mate.frame.origin)
    within = points[(points[:, 2] > mate.low_mm) & (points[:, 2] < mate.high_mm)]
    radii = np.hypot(within[:, 0], within[:, 1])
    assert (radii.min(), radii.max()) == pytest.approx((diameter / 2 - deep - gap, diameter / 2 - gap), abs=0.01)


@pytest.mark.parametrize(
    ("size", "words"),
    [("M21", "M20 and M22 have"), ("20", "M20 x 1.5 or Tr20 x 4 are"), ("Tr20", "Tr20 x 4, say"), ("M0.5", "no coarse pitch"), ("<script>", "no name of a thread")],
)  # fmt: skip
def test_a_name_that_is_none_is_refused(size: str, words: str) -> None:
    pair = Pair(sized="name", size=size)
    assert words in pair.message(pair.step)


def test_both_halves_begin_where_they_are_told() -> None:
    """Turned by a quarter all of both threads is turned, so the gap stays; a crest that was met in front is met at the side."""
    plain, turned = Pair(depth="14 mm"), Pair(depth="14 mm", begin="90 deg")
    for pair in (plain, turned):
        joint = pair.joint()
        assert joint.measured.least_mm == pytest.approx(joint.drawn.gap_mm, abs=0.01)

    def crest(pair: Any, way: int) -> float:
        """How high, within a pitch, the screw is thickest in a direction."""
        points = finely(pair.evaluate().parts[pair.screw].solid).positions.astype(float)
        points = points - np.array(pair.evaluate().made[pair.step].joint.mates[0].frame.origin)
        near = points[(np.abs(points[:, 1 - way]) < 0.25) & (points[:, way] > 0)]
        top = near[near[:, way] > near[:, way].max() - 1e-3]
        return float(np.median(top[:, 2] % 2.5))

    assert crest(plain, 0) == pytest.approx(crest(turned, 1), abs=0.15)
