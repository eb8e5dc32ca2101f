"""A large project with real variety, made by the same commands as any other: 40 parts, 300 steps and more."""

from __future__ import annotations

from typing import Any

from dovejoint.core import joints as _joints
from dovejoint.core import steps as _steps
from dovejoint.core.document import Project, apply, command_from, new_project

_ = (_joints, _steps)

__all__ = ["big_project"]


class _Maker:
    def __init__(self, name: str) -> None:
        self.project = new_project(name)

    def do(self, command: str, **fields: Any) -> list[str]:
        outcome = apply(self.project, command_from({"do": command, **fields}))
        self.project = outcome.project
        return outcome.created


def big_project(parts: int = 40) -> Project:
    """Plates, posts, boxes, rings and jars side by side: sketches, extrusions, cuts, turned parts, fillets, chamfers, shells, shafts."""
    make = _Maker("Everything at once")
    make.do("AddValue", name="wall", formula="2 mm")
    make.do("AddValue", name="room", formula="wall * 3")
    made, k = 0, 0
    while made < parts:
        x, y = 70.0 * (k % 8), 70.0 * (k // 8)
        kind = ("box", "plate", "ring", "hub")[k % 4]
        (outline,) = make.do(
            "AddStep", kind="sketch", fields={"right": f"{x} mm", "up": f"{y} mm"}, name=f"outline {k}"
        )
        if kind == "ring":
            make.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=20, diameter="40 mm")
            make.do("DrawCircle", step=outline, centre=[0, 0], on="origin", radius=14, diameter="28 mm + wall")
        else:
            make.do(
                "DrawRectangle",
                step=outline,
                first=[0, 0],
                corner=[20, 15],
                on="origin",
                width="40 mm",
                height="30 mm + wall",
            )
        step, part = make.do(
            "AddStep", kind="extrude", new_part={"name": f"{kind} {k}"},
            fields={"profile": {"rule": "regions", "step": outline}, "distance": "20 mm" if kind != "plate" else "wall * 2"},
        )  # fmt: skip
        made += 1
        if kind != "ring":
            make.do(
                "AddStep",
                kind="fillet",
                fields={"edges": {"rule": "edges_along", "part": part, "direction": "up"}, "radius": "4 mm"},
            )
        (holes,) = make.do("AddStep", kind="sketch", fields={"right": f"{x} mm", "up": f"{y} mm"}, name=f"holes {k}")
        for u, v in ((-14, -9), (14, -9), (14, 9), (-14, 9)) if kind == "plate" else ((0, 0),):
            make.do("DrawCircle", step=holes, centre=[u, v], radius=2.5 if kind == "plate" else 4)
        if kind in ("plate", "hub"):
            make.do(
                "AddStep", kind="extrude",
                fields={"profile": {"rule": "regions", "step": holes}, "extent": "through", "operation": "cut", "part": part},
            )  # fmt: skip
        if kind == "box":
            make.do(
                "AddStep",
                kind="shell",
                fields={"open": {"rule": "faces", "part": part, "faces": [{"name": f"{step}/end"}]}, "wall": "wall"},
            )
            make.do(
                "AddStep",
                kind="chamfer",
                fields={
                    "edges": {"rule": "edges_of_face", "part": part, "face": {"name": f"{step}/start"}},
                    "distance": "0.6 mm",
                },
            )
        if kind == "hub" and made < parts:
            # beside the hole, halfway up
            place = {"first": {"rule": "place_origin"}, "right": f"{x} mm", "back": f"{y + 10} mm", "up": "10 mm"}
            ground = {"rule": "base", "plane": "ground"}
            (point,) = make.do("AddStep", kind="point", fields={**place, "base": ground})
            beside = {"how": "beside", "axis": {"rule": "axis_base", "axis": "across"}, "base": ground}
            (axis,) = make.do("AddStep", kind="axis", fields={**beside, "first": {"rule": "place_step", "step": point}})
            make.do(
                "AddStep", kind="shaft_in_bore", new_part={"name": f"pin {k}"},
                fields={"halves": "none", "axis": {"rule": "axis_step", "step": axis}, "host": part, "diameter": "6 mm"},
            )  # fmt: skip
            made += 1
        if kind == "ring":
            make.do(
                "AddStep",
                kind="chamfer",
                fields={
                    "edges": {"rule": "edges_of_face", "part": part, "face": {"name": f"{step}/end"}},
                    "distance": "1 mm",
                },
            )
        (boss,) = make.do("AddStep", kind="sketch", fields={"right": f"{x} mm", "up": f"{y} mm"}, name=f"boss {k}")
        make.do("DrawRectangle", step=boss, first=[-16, 0], corner=[-14, 3], width="room", height="4 mm")
        make.do(
            "AddStep", kind="extrude",
            fields={"profile": {"rule": "regions", "step": boss}, "distance": "wall + 3 mm", "operation": "add", "part": part},
        )  # fmt: skip
        make.do(
            "AddStep", kind="plane", fields={"base": {"rule": "base", "plane": "ground"}, "distance": f"{k} mm + wall"}
        )
        k += 1
    return make.project
