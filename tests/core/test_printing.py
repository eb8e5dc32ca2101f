"""Layers, time and material against worked cases; plates, features and coupons."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from building import Bench, Feeder, flat

from dovejoint.core.document import PrintSettings
from dovejoint.core.errors import CommandError
from dovejoint.core.joints.assess import assess
from dovejoint.core.printing import beads as B
from dovejoint.core.printing import estimate as E
from dovejoint.core.printing.coupons import COUPONS, ladder_of, make_coupon
from dovejoint.core.printing.features import features_of, joint_prints
from dovejoint.core.printing.plate import APART_MM, lay_out
from dovejoint.core.printing.prints import PrintCache, layer_report, print_report
from dovejoint.core.printing.slices import lay, layer_count
from dovejoint.core.profiles import DEFAULT_PROFILE, gap_shift
from dovejoint.core.profiles.catalogue import catalogue, make_profile
from dovejoint.core.recipe import ResultCache, Superseded, evaluate
from dovejoint.core.recipe.lying import AS_MODELLED, BED_EDGE_MM

CASES = json.loads((Path(__file__).parents[1] / "reference" / "print_estimates.json").read_text())


@pytest.mark.parametrize("case", CASES["segment_times"], ids=lambda c: f"{c['length']} at {c['v']}")
def test_time_of_one_move(case: dict[str, Any]) -> None:
    assert float(E.move_time_s(case["length"], case["v"], case["accel"], case["junction"])) == pytest.approx(
        case["time_s"], rel=1e-4
    )


@pytest.mark.parametrize("case", CASES["flow"], ids=lambda c: f"{c['w']} × {c['h']}")
def test_bead(case: dict[str, Any]) -> None:
    assert B.bead_area_mm2(case["w"], case["h"]) == pytest.approx(case["area"], rel=1e-5)
    assert B.bead_spacing_mm(case["w"], case["h"]) == pytest.approx(case["spacing"], rel=1e-5)


def test_wall_widths_and_layer_counts() -> None:
    walls = CASES["wall_widths"]
    for row in walls["rows"]:
        assert B.wall_width_mm(row["lines"], walls["w"], walls["h"]) == pytest.approx(row["width"], rel=1e-5)
    for row in CASES["layer_counts"]:
        settings = PrintSettings(layer_mm=row["layer"], first_layer_mm=row["first"])
        assert layer_count(row["H"], settings) == row["layers"], row


def cube(bench: Bench) -> str:
    return bench.extrude(bench.rectangle("20 mm", "20 mm"), "20 mm", "Cube")[1]


def disc(bench: Bench) -> str:
    """A disc of 41 by 9 with a hole of 9 and four of 4 on a circle of 26."""
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    for x, y, r in [(0, 0, 20.5), (0, 0, 4.5), (13, 0, 2), (-13, 0, 2), (0, 13, 2), (0, -13, 2)]:
        bench.do("DrawCircle", step=sketch, centre=[x, y], radius=r)
    return bench.extrude(sketch, "9 mm", "Disc")[1]


@pytest.mark.parametrize(("make", "name"), [(cube, "cube 20"), (disc, "disc 41")])
def test_worked_parts(bench: Bench, make: Any, name: str) -> None:
    part = make(bench)
    case = next(c for c in CASES["parts"] if c["name"].startswith(name))
    found = E.estimate(lay(bench.evaluate().parts[part].solid, AS_MODELLED), DEFAULT_PROFILE)
    assert found.layers == case["layers"]
    assert found.mass_g == pytest.approx(case["mass_g"], rel=0.08)
    assert found.length_mm == pytest.approx(case["filament_length_mm"], rel=0.08)
    assert 0.6 < found.time_s / case["time_s"]["total_with_min_layer_time"] < 1.6
    assert found.walls_mm3 == pytest.approx(case["material_mm3"]["perimeters"], rel=0.05)
    assert found.price == pytest.approx(found.mass_g / 1000 * 20)
    assert sum(found.layers_s) == pytest.approx(found.time_s)


def test_a_solid_cube_weighs_what_it_holds(bench: Bench) -> None:
    """With no infill saved, all but the rounding of beads at corners is material: 8000 mm³ of 1.24 g/cm³."""
    profile = DEFAULT_PROFILE.model_copy(update={"settings": PrintSettings(infill=1.0)})
    part = cube(bench)
    found = E.estimate(lay(bench.evaluate().parts[part].solid, AS_MODELLED), profile)
    assert found.material_mm3 == pytest.approx(8000, rel=0.03)


def stadium_mm2(width_mm: float, high_mm: float) -> float:
    """The section of a bead with half-round sides, added up from thin slices."""
    z = (np.arange(4000) + 0.5) / 4000 * high_mm - high_mm / 2
    return float((width_mm - high_mm + 2 * np.sqrt(high_mm**2 / 4 - z**2)).sum() * high_mm / 4000)


def ride_s(length_mm: float, speed_mm_s: float) -> float:
    """A move in small steps: it speeds up and brakes at 1500 mm/s², and is met and left at 8 mm/s."""
    n = 4000
    at = (np.arange(n) + 0.5) / n * length_mm
    v = np.minimum(speed_mm_s, np.sqrt(64 + 2 * 1500 * np.minimum(at, length_mm - at)))
    return float((length_mm / n / v).sum())


def printed(bench: Bench, part: str, **settings: Any) -> E.Estimate:
    profile = DEFAULT_PROFILE.model_copy(update={"settings": PrintSettings(**settings)})
    return E.estimate(lay(bench.evaluate().parts[part].solid, AS_MODELLED), profile)


@pytest.mark.parametrize(
    ("thick", "beads"),
    [(0.3, 1), (0.4, 1), (0.46, 1), (0.6, 1), (0.7, 2), (0.8, 2), (1.0, 2), (1.2, 3), (1.5, 4), (1.66, 4), (2.0, 5), (2.4, 6)],
)  # fmt: skip
def test_a_thin_wall_is_beads_of_its_own_width(bench: Bench, thick: float, beads: int) -> None:
    """A wall of 40 mm, 10 mm tall, of so many equal beads side by side: each b wide, a rounding of 0.2 apart from the next."""
    part = bench.extrude(bench.rectangle("40 mm", f"{thick} mm"), "10 mm", "Wall")[1]
    found = printed(bench, part)
    rounding = 0.2 - stadium_mm2(0.2, 0.2) / 0.2
    bead = (thick + (beads - 1) * rounding) / beads
    assert found.material_mm3 == pytest.approx(beads * stadium_mm2(bead, 0.2) * 40 * 50, rel=0.01)
    assert found.left_out_mm3 == pytest.approx(0, abs=1e-3)
    # what goes round is laid at 50 mm/s, what is along the middle at 80, the first layer at 25; each end costs a little
    quickest = 49 * beads * 40 / 80 + beads * 40 / 25
    assert quickest * 0.9 < found.walls_s + found.solid_s < 1.25 * (49 * beads * 40 / 50 + beads * 40 / 25) + 50


def test_a_wall_of_three_millimetres_is_latticed(bench: Bench) -> None:
    """Four beads round, and between them 1.33 mm that are filled in eight layers and a lattice of 15 % in the rest."""
    part = bench.extrude(bench.rectangle("40 mm", "3 mm"), "10 mm", "Wall")[1]
    found = printed(bench, part)
    spacing = stadium_mm2(0.45, 0.2) / 0.2
    round_about = (3 - (0.45 - spacing)) * (40 - (0.45 - spacing))
    inside = (3 - (0.45 - spacing) - 4 * spacing) * (40 - (0.45 - spacing) - 4 * spacing)
    assert found.walls_mm3 == pytest.approx((round_about - inside) * 10, rel=0.01)
    assert found.solid_mm3 == pytest.approx(inside * 8 * 0.2, rel=0.01)
    assert found.infill_mm3 == pytest.approx(inside * 42 * 0.2 * 0.15, rel=0.01)


def test_what_is_too_thin_is_not_printed_and_takes_no_time(bench: Bench) -> None:
    part = bench.extrude(bench.rectangle("40 mm", "0.2 mm"), "10 mm", "Foil")[1]
    found = printed(bench, part)
    assert (found.material_mm3, found.time_s) == (0, 0)
    assert found.left_out_mm3 == pytest.approx(40 * 0.2 * 10, rel=1e-6)


def test_a_rib_on_a_block_keeps_its_own_bead(bench: Bench) -> None:
    """A block of 10 by 10 with a web of 0.5 that stands out by 12 mm: the web is one bead, the block is as without it."""
    alone = printed(bench, bench.extrude(bench.rectangle("10 mm", "10 mm"), "4 mm", "Alone")[1])
    block = bench.extrude(bench.rectangle("10 mm", "10 mm"), "4 mm", "Block")[1]
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawRectangle", step=sketch, first=[11, 0], corner=[17, 0.25])
    bench.do(
        "AddStep",
        kind="extrude",
        fields={
            "profile": {"rule": "regions", "step": sketch, "names": None}, "direction": "up", "distance": "4 mm",
            "operation": "add", "part": block,
        },
    )  # fmt: skip
    found = printed(bench, block)
    assert found.material_mm3 - alone.material_mm3 == pytest.approx(20 * stadium_mm2(0.5, 0.2) * 12, rel=0.06)


def test_a_tube_of_one_bead_runs_round_once(bench: Bench) -> None:
    """Ø 20 outside, 0.5 thick: one bead along Ø 19.5, never slower than at its one corner-free run."""
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    for r in (10.0, 9.5):
        bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=r)
    part = bench.extrude(sketch, "10 mm", "Tube")[1]
    found = printed(bench, part)
    around = math.pi * 19.5
    assert found.material_mm3 == pytest.approx(around * stadium_mm2(0.5, 0.2) * 50, rel=0.01)
    assert found.walls_s == pytest.approx(49 * ride_s(around, 50) + ride_s(around, 25), rel=0.01)
    assert found.travel_s == 0, "it ends where it began"


def test_round_walls_run_on_without_braking(bench: Bench) -> None:
    """Each circle of the disc is two moves, whatever facets its mesh has: ridden by hand, within 2 %."""
    found = printed(bench, disc(bench))
    spacing = stadium_mm2(0.45, 0.2) / 0.2
    loops = [20.5 - 0.225, 20.5 - 0.225 - spacing]
    loops += [r + 0.225 + k * spacing for r in (4.5, 2, 2, 2, 2) for k in (0, 1)]
    by_hand = sum(44 * ride_s(2 * math.pi * r, 50) + ride_s(2 * math.pi * r, 25) for r in loops)
    assert found.walls_s == pytest.approx(by_hand, rel=0.02)


def test_travels_go_from_pillar_to_pillar(bench: Bench) -> None:
    """64 pillars of Ø 1, 6 mm apart: one loop and hardly anything inside, so 64 hops a layer (the last is the way back)."""
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    for i in range(8):
        for j in range(8):
            bench.do("DrawCircle", step=sketch, centre=[6 * i, 6 * j], radius=0.5)
    part = bench.extrude(sketch, "10 mm", "Pillars")[1]
    found = printed(bench, part)
    # from middle to middle of neighbours; a head that ends on the near side saves up to the loop's width, at either end
    most, least = 64 * 50 * ride_s(6.0, 150), 63 * 50 * ride_s(6.0 - 2 * 0.55, 150)
    assert least < found.travel_s < most * 1.1
    assert found.material_mm3 == pytest.approx(64 * math.pi * 0.25 * 10, rel=0.1)
    rounding = 0.2 - stadium_mm2(0.2, 0.2) / 0.2
    assert found.material_mm3 == pytest.approx(64 * math.pi * (0.5 - rounding / 2) ** 2 * 10, rel=0.01)


def test_no_head_goes_to_the_crumbs_between_outlines(bench: Bench) -> None:
    """What is filled and not latticed between round outlines are crumbs of these. In a disc with four holes a layer's head goes to five outlines, at most half the disc away,
    from each loop to the next inside it, and to the filling: that and no more."""
    (sketch,) = bench.do("AddStep", kind="sketch", fields={})
    bench.do("DrawCircle", step=sketch, centre=[0, 0], radius=22)
    for x, y in ((11, 0), (-11, 0), (0, 11), (0, -11)):
        bench.do("DrawCircle", step=sketch, centre=[x, y], radius=4)
    found = printed(bench, bench.extrude(sketch, "12 mm", "Disc")[1])
    speed = DEFAULT_PROFILE.settings.travel_mm_s
    assert found.travel_s < found.layers * (5 * ride_s(22, speed) + 6 * ride_s(0.5, speed))


def test_orientation_changes_layers_and_not_mass_much(feeder: Feeder) -> None:
    def report() -> dict[str, Any]:
        evaluation = feeder.evaluate()
        joints = assess(feeder.project, evaluation, feeder.gaps)
        return print_report(feeder.project, evaluation, joints, [feeder.floor], PrintCache())["parts"][0]  # type: ignore[no-any-return]

    flat_down = report()
    side = next(
        f.names[0] for f in feeder.evaluate().parts[feeder.floor].faces
        if f.names[0].startswith(f"{feeder.lip}/plate(") and f.kind == "plane" and abs(f.normal[0]) > 0.9
    )  # fmt: skip
    feeder.do("LayPart", part=feeder.floor, face=flat(feeder, feeder.floor, side))
    on_edge = report()
    assert flat_down["size_mm"] == pytest.approx([86.4, 60, 8], abs=0.01)
    assert sorted(on_edge["size_mm"]) == pytest.approx([8, 60, 86.4], abs=0.01)
    assert on_edge["size_mm"][2] == pytest.approx(86.4, abs=0.01)
    assert on_edge["estimate"]["layers"] == math.ceil(86.4 / 0.2)
    # the lip's measured sizes are taken in other print directions now
    across = {f["name"]: f["direction"] for f in on_edge["features"]}["lip, tall"]
    assert abs(across[2]) == pytest.approx(1)


def test_long_work_on_layers_is_asked_at_each_of_them_whether_to_go_on(feeder: Feeder) -> None:
    """A worker that says nothing for long is taken for hung: a large print would never come to its end on a slow machine."""
    evaluation, asked = feeder.evaluate(), []

    def layers(most: int) -> int:
        asked.clear()
        parts = print_report(
            feeder.project, evaluation, [], [], PrintCache(), stop=lambda: asked.append(1) or len(asked) > most
        )["parts"]
        return sum(p["estimate"]["layers"] for p in parts)

    assert layers(10**6) <= len(asked)
    with pytest.raises(Superseded):
        layers(len(asked) // 2)


def test_layers_to_look_at(bench: Bench) -> None:
    part = cube(bench)
    cache = PrintCache()
    evaluation = bench.evaluate()
    first = layer_report(bench.project, evaluation, part, 1, cache)
    middle = layer_report(bench.project, evaluation, part, 50, cache)
    last = layer_report(bench.project, evaluation, part, 10_000, cache)
    assert (first["layer"], last["layer"], last["layers"]) == (1, 100, 100)
    assert middle["top_mm"] == pytest.approx(10)
    assert (len(middle["walls"]), middle["solid"], bool(middle["infill"])) == (2, [], True)
    assert first["solid"] and not first["infill"] and last["solid"] and not last["infill"]
    outline = np.array(middle["outline"][0])
    assert np.abs(outline).max() == pytest.approx(10, abs=1e-3), "in print coordinates, about the part's middle"
    # the outer wall's middle runs half a line inside
    assert np.abs(np.array(middle["walls"][0][0])).max() == pytest.approx(10 - 0.225, abs=1e-3)


def test_plates_keep_parts_apart_and_on_the_bed() -> None:
    sizes = [("a", 100.0, 60.0), ("b", 90.0, 90.0), ("c", 40.0, 40.0), ("d", 230.0, 10.0), ("e", 60.0, 100.0), ("f", 200.0, 90.0), ("g", 20.0, 20.0)]  # fmt: skip
    places = {p.part: p for p in lay_out(sizes, (220.0, 220.0))}
    assert places["d"].x_mm is None, "wider than the bed"
    boxes = {
        part: (places[part].x_mm - w / 2, places[part].y_mm - d / 2, places[part].x_mm + w / 2, places[part].y_mm + d / 2)  # type: ignore[operator]
        for part, w, d in sizes if places[part].x_mm is not None
    }  # fmt: skip
    # by hand, of 212: f takes 90 of the depth, b, e and c stand before it (90 + 60 + 40 and twice 6), g behind c; for a there are 50 left to the side
    assert {part: places[part].plate for part in boxes} == {**dict.fromkeys("fbecg", 0), "a": 1}
    edge = 110 - BED_EDGE_MM + 1e-6
    for part, (x0, y0, x1, y1) in boxes.items():
        assert min(x0, y0) >= -edge and max(x1, y1) <= edge, part
        for other, (u0, v0, u1, v1) in boxes.items():
            if other != part and places[other].plate == places[part].plate:
                apart = max(u0 - x1, x0 - u1, v0 - y1, y0 - v1)
                assert apart >= APART_MM - 1e-6, (part, other)


def test_features_are_the_sizes_of_the_solids(feeder: Feeder) -> None:
    found = {(f.part, f.name): f for f in features_of(feeder.project, feeder.evaluate())}
    opening = found[feeder.hopper, "opening, across"]
    assert (opening.role, opening.drawn_mm, opening.joint) == ("inside", pytest.approx(83), feeder.lip)
    assert [abs(c) for c in opening.direction] == pytest.approx([1, 0, 0])
    lip = found[feeder.floor, "lip, across"]
    gap = feeder.joint().drawn.gap_mm
    assert lip.drawn_mm == pytest.approx(83 - 2 * gap)
    assert found[feeder.hopper, "whole part, across"].drawn_mm == pytest.approx(86.4)
    (joint,) = joint_prints(feeder.project, feeder.evaluate(), assess(feeder.project, feeder.evaluate(), feeder.gaps))
    assert (joint.outer, joint.inner) == (feeder.hopper, feeder.floor)
    assert joint.drawn_mm == pytest.approx(gap)


def test_whole_sizes_are_those_of_the_solid_however_it_is_meshed(bench: Bench) -> None:
    """Corners of a mesh lie on a round side, but seldom where it is widest: of 84 it says 83.97."""
    step, part = bench.do("AddStep", kind="body", fields={"shape": "cylinder", "across": "84 mm", "high": "30 mm", "on": {"rule": "base", "plane": "ground"}}, new_part={"name": "Pot"})  # fmt: skip
    for turn in (0, 31):
        bench.do("LayPart", part=part, face=flat(bench, part, f"{step}/end"), turn_deg=turn)
        sizes = [f.drawn_mm for f in features_of(bench.project, bench.evaluate()) if ":whole:" in f.id]
        assert sizes == pytest.approx([84, 84, 30], abs=1e-4)


@pytest.mark.parametrize("kind", list(COUPONS))
def test_coupons_are_what_they_say(kind: str) -> None:
    """Every size that a coupon promises is there in its solids, measured along the face pairs of its mesh."""
    coupon = make_coupon(kind, DEFAULT_PROFILE)
    evaluation = evaluate(coupon.project, ResultCache())
    assert {r.state for r in evaluation.steps} == {"ok"}
    assert all(s.info.closed and s.info.lumps == 1 for s in evaluation.parts.values())
    ids = [f.id for f in coupon.features]
    assert len(set(ids)) == len(ids)
    for feature in coupon.features:
        faces = evaluation.parts[feature.part].faces
        if feature.round_hole or coupon.kind == "bores":
            assert any(
                f.kind == "cylinder" and f.radius_mm and abs(2 * f.radius_mm - feature.drawn_mm) < 1e-6 for f in faces
            )
            continue
        axis = [abs(c) for c in feature.direction].index(1.0)
        inward = feature.role == "inside"
        flats = [f for f in faces if f.kind == "plane" and abs(f.normal[axis]) > 0.99]
        sizes = [
            b.at[axis] - a.at[axis] for a in flats for b in flats
            if (a.normal[axis] > 0 > b.normal[axis] if inward else a.normal[axis] < 0 < b.normal[axis])
        ]  # fmt: skip
        assert any(abs(s - feature.drawn_mm) < 1e-6 for s in sizes), feature
    report = print_report(coupon.project, evaluation, [], [], PrintCache(), coupon.features)
    assert all(p["estimate"] and p["place_mm"] for p in report["parts"])


def test_size_coupon_spans_what_a_line_needs() -> None:
    outside = [
        f.drawn_mm
        for f in make_coupon("sizes", DEFAULT_PROFILE).features
        if f.role == "outside" and f.direction == (1, 0, 0)
    ]
    assert len(outside) >= 5 and max(outside) / min(outside) >= 10
    assert len([f for f in make_coupon("sizes", DEFAULT_PROFILE).features if f.round_hole]) >= 6


def test_ladders_straddle_what_is_expected_and_narrow_as_it_is_known() -> None:
    gaps = ladder_of(DEFAULT_PROFILE)
    needed = gap_shift(DEFAULT_PROFILE).mean_mm + 0.03
    assert gaps[0] < needed < gaps[-1] and list(gaps) == sorted(gaps)
    sure = DEFAULT_PROFILE.model_copy(
        update={"covariance": [[c * 0.05 for c in row] for row in DEFAULT_PROFILE.covariance]}
    )
    assert ladder_of(sure)[-1] - ladder_of(sure)[0] < gaps[-1] - gaps[0]
    with pytest.raises(CommandError, match="no coupon"):
        make_coupon("cake", DEFAULT_PROFILE)


def test_catalogue_profiles() -> None:
    for printer in catalogue()["printers"]:
        for material in catalogue()["materials"]:
            profile = make_profile("pr2", printer["id"], 0.6, material["id"])
            # 1.125 × 0.6, rounded; offsets go with the line
            assert profile.line_width_mm == pytest.approx(0.675, abs=0.01)
            assert profile.outside_mm > DEFAULT_PROFILE.outside_mm
            assert np.linalg.eigvalsh(np.array(profile.covariance)).min() >= -1e-9
    with pytest.raises(CommandError, match="There is no material “jelly”"):
        make_profile("pr2", "bench", 0.4, "jelly")


def test_what_cannot_be_printed(feeder: Feeder) -> None:
    feeder.do("EditPart", part=feeder.floor, role="bought")
    evaluation = feeder.evaluate()
    for part, word in ((feeder.floor, "is bought, not printed"), ("p99", "not there any more")):
        with pytest.raises(CommandError, match=word):
            print_report(feeder.project, evaluation, [], [part], PrintCache())


def test_a_bore_ladder_is_built_as_it_says() -> None:
    """Volumes by hand: a plate with seven bores of 12 and twice their gap, and a round plug of 12."""
    coupon = make_coupon("bores", DEFAULT_PROFILE)
    evaluation = evaluate(coupon.project, ResultCache())
    ladder, plug = (evaluation.parts[p.id].solid.volume_mm3 for p in coupon.project.parts)
    assert plug == pytest.approx(math.pi * 36 * 20, rel=1e-6)
    bores = sum(math.pi * (6 + gap) ** 2 for gap in coupon.ladder_mm)
    assert ladder == pytest.approx((18 * 7 * 20 - bores) * 8, rel=1e-6)
    # round holes close in more than slots: the whole ladder begins wider
    assert coupon.ladder_mm[0] > make_coupon("gaps", DEFAULT_PROFILE).ladder_mm[0]
