"""Twisted solids: their volumes by Cavalieri, and their faces moved, judged by points reckoned from the screw's own formula."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from building import Bench, of_sample
from OCP.BRep import BRep_Tool
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeVertex
from OCP.GeomAPI import GeomAPI_ProjectPointOnSurf
from OCP.gp import gp_Pnt

from dovejoint.core.document import new_project
from dovejoint.core.solid.measure import exact_distance

GROUND = {"rule": "base", "plane": "ground"}


def twisted(outline: str, *, twist: str, high: str = "24 mm", **more: Any) -> tuple[Bench, str, str]:
    """An outline (drawn by a function of the bench) twisted about the upright axis; the step and its part."""
    bench = Bench(new_project("Twist"))
    bench.do("AddValue", name="twist", formula=twist)
    (path,) = bench.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
    bench.do("DrawLine", step=path, start={"at": [0, 0], "on": "origin"}, end={"at": [0, 20]}, tie="vertical", length=high)  # fmt: skip
    if outline == "square":
        sketch = bench.rectangle("10 mm", "10 mm")
    else:
        (sketch,) = bench.do("AddStep", kind="sketch", fields={})
        bench.do("DrawCircle", step=sketch, centre=[5, 0], radius=4)
    fields = {
        "profile": {"rule": "regions", "step": sketch},
        "path": {"rule": "path_sketch", "step": path},
        "twist": "twist",
    }
    step, part = bench.do("AddStep", kind="sweep", fields={**fields, **more}, new_part={"name": "Twist"})
    assert bench.message(step) == ""
    return bench, step, part


def side_at(u: float, z: float, pitch: float, half: float = 5.0) -> tuple[np.ndarray[Any, Any], np.ndarray[Any, Any]]:
    """Place and outward normal of the front side (y = −half, x = u where the screw begins) of a square that is screwed up by z."""
    x, y, turn = u, -half, pitch * z
    normal = np.array([0.0, -1.0, pitch * x])
    turned = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1]])
    return turned @ np.array([x, y, 0.0]) + [0, 0, z], turned @ (normal / np.linalg.norm(normal))


def away(place: Any, shape: Any) -> float:
    vertex = BRepBuilderAPI_MakeVertex(gp_Pnt(*(float(c) for c in place))).Vertex()
    return float(exact_distance(vertex, shape)[0])


@pytest.mark.parametrize(("outline", "area"), [("square", 100.0), ("circle", 16 * math.pi)])
def test_every_section_is_the_same(outline: str, area: float) -> None:
    """So the volume is that of a prism (Cavalieri), whichever way and however far it is twisted; each curve sweeps out one face."""
    bench, _, part = twisted(outline, twist="280 deg")
    faces = 6 if outline == "square" else 3
    for twist in ("280 deg", "-75 deg", "900 deg"):
        bench.set("twist", twist)
        state = bench.evaluate().parts[part]
        assert state.info.closed and state.info.valid and len(state.faces) == faces
        assert state.solid.volume_mm3 == pytest.approx(area * 24, rel=1e-6)


@pytest.mark.parametrize("by", [-0.6, 0.5])
def test_sides_of_a_twisted_square_move_square_to_themselves(by: float) -> None:
    """Points at that distance along the normals of the true screw lie on the moved sides, and the corners close by themselves."""
    bench, step, part = twisted("square", twist="-200 deg")
    sides = [{"name": n} for names in bench.evaluate().parts[part].solid.names for n in names if "/side(" in n]
    fields = {
        "faces": {"rule": "faces", "part": part, "faces": sides},
        "way": "in" if by < 0 else "out",
        "distance": f"{abs(by)} mm",
    }
    (moved,) = bench.do("AddStep", kind="push", fields=fields)
    assert bench.message(moved) == ""
    state = bench.evaluate().parts[part]
    assert state.info.closed and state.info.valid and len(state.faces) == 6
    assert {n for names in state.solid.names for n in names} == {
        f"{step}/start",
        f"{step}/end",
        *(s["name"] for s in sides),
    }
    pitch = math.radians(-200) / 24
    for u in (-3.0, 0.0, 1.0, 3.5):
        for z in (4.0, 11.0, 19.0):
            place, normal = side_at(u, z, pitch)
            assert away(place + by * normal, state.solid.shape) < 2e-6, (u, z)
            # within the material, or free of it, by as much on either side
            assert away(place, state.solid.shape) == pytest.approx(abs(by) if by < 0 else 0.0, abs=2e-6)
    bench.do("EditStep", step=moved, fields={"way": "in", "distance": "5.2 mm"})
    assert "cannot move in" in bench.message(moved)


def test_one_side_and_an_end_of_a_twisted_square_move_alone() -> None:
    bench, step, part = twisted("square", twist="120 deg")
    names = [n for names in bench.evaluate().parts[part].solid.names for n in names if "/side(" in n]
    pitch = math.radians(120) / 24

    def first() -> Any:
        state = bench.evaluate().parts[part]
        return [state.solid.faces[state.solid.find(n)[0]] for n in names], state

    place, normal = side_at(0.5, 12.0, pitch)
    faces, _ = first()
    (front,) = [n for n, face in zip(names, faces, strict=True) if away(place, face) < 1e-6]
    for end, by in ((front, 0.7), (f"{step}/end", 3.0)):
        fields = {"faces": {"rule": "faces", "part": part, "faces": [{"name": end}]}, "distance": f"{by} mm"}
        (moved,) = bench.do("AddStep", kind="push", fields=fields)
        assert bench.message(moved) == ""
    faces, state = first()
    assert state.box[1][2] == pytest.approx(27, abs=1e-6) and state.box[0][2] == pytest.approx(0, abs=1e-6)
    on = dict(zip(names, faces, strict=True))
    assert away(place + 0.7 * normal, on[front]) < 2e-6
    # the other sides stay on their screw, also in the length that was added
    other = [side_at(1.5, z, pitch)[0] @ np.array([[0, 1, 0], [-1, 0, 0], [0, 0, 1]]) for z in (6.0, 26.0)]
    assert all(min(away(p, face) for n, face in on.items() if n != front) < 2e-6 for p in other)


def test_a_twisted_part_is_cut_out_with_a_gap_all_round() -> None:
    bench, _, part = twisted("circle", twist="150 deg")
    fields = {"wide": "40 mm", "deep": "40 mm", "high": "24 mm", "on": GROUND}
    (_, block) = bench.do("AddStep", kind="body", fields=fields, new_part={"name": "Block"})
    (cut,) = bench.do("AddStep", kind="between", fields={"work": "cut", "part": block, "other": part, "gap": "0.4 mm"})
    assert bench.message(cut) == ""
    one, two = (bench.evaluate().parts[p].solid for p in (block, part))
    assert exact_distance(one.shape, two.shape)[0] == pytest.approx(0.4, abs=1e-5)


def test_the_strainer_a_week_later() -> None:
    """Core and shell come of one surface: from places all over the core it is the gap to the shell; and the shell lost as much as the lobes are large."""
    bench = of_sample("twist-core")
    shell, core = (p.id for p in bench.project.parts)
    for gap, twist in ((0.25, "280 deg"), (0.35, "300 deg")):
        bench.set("gap", f"{gap} mm")
        bench.set("twist", twist)
        evaluation = bench.evaluate()
        assert [r.message for r in evaluation.steps if r.state != "ok"] == []
        outer, inner = evaluation.parts[shell], evaluation.parts[core]
        sides = [i for i, names in enumerate(inner.solid.names) if "/side(" in names[0]]
        assert len(sides) == 24
        for k in sides:
            curve = inner.solid.names[k][0].split("/")[1]
            wall = BRep_Tool.Surface_s(
                outer.solid.faces[next(i for i, n in enumerate(outer.solid.names) if "grown" in n[0] and curve in n[0])]
            )
            corners = inner.mesh.corners_of(k)
            place = corners[np.abs(corners[:, 2] - 14 - k / 4).argmin()]
            found = GeomAPI_ProjectPointOnSurf(gp_Pnt(*(float(c) for c in place)), wall)
            assert found.LowerDistance() == pytest.approx(gap, abs=1e-5), curve
