"""Random recipes of sound steps, each result judged by another route than the kernel's own word: its triangles.

``python tests/campaign.py 300 7`` makes 300 recipes from seed 7 and prints what went wrong; the tests run a few.
"""

from __future__ import annotations

import math
import random
import sys
from collections import Counter
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from building import Bench

from dovejoint.core.document import new_project
from dovejoint.core.recipe.names import seen_face

GROUND = {"rule": "base", "plane": "ground"}


@dataclass
class Found:
    """What a campaign saw: how steps of each kind fared, and what was wrong."""

    fared: Counter[tuple[str, str]] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)

    @property
    def steps(self) -> int:
        return sum(self.fared.values())


class Recipe(Bench):
    """One part, changed by one random step after another."""

    def __init__(self, seed: int) -> None:
        super().__init__(new_project("Campaign"))
        self.seed, self.dice = seed, random.Random(seed)
        size = [f"{self.dice.uniform(20, 60):.2f} mm" for _ in range(3)]
        shape = self.dice.choice(["block", "block", "cylinder", "prism", "wedge", "cone"])
        fields = {
            "shape": shape,
            "wide": size[0],
            "deep": size[1],
            "high": size[2],
            "across": size[0],
            "top": f"{self.dice.uniform(5, 18):.2f} mm",
        }
        self.first, self.part = self.do("AddStep", kind="body", fields=fields, new_part={"name": "P"})

    def face(self, kind: str = "plane", least: float = 60.0) -> dict[str, Any] | None:
        """A random face as pointing at it makes a pick: only its name where that means one face."""
        state = self.evaluate().parts[self.part]
        some = [
            f for f in state.faces if f.kind == kind and f.area_mm2 > least and len(state.solid.find(f.names[0])) == 1
        ]
        if not some:
            return None
        info = self.dice.choice(some)
        return {"name": info.names[0], "seen": seen_face(info).model_dump()}

    def edges(self) -> list[dict[str, Any]]:
        state = self.evaluate().parts[self.part]
        some = [e for e in state.edges if not e.smooth and e.kind in ("line", "circle") and e.length_mm > 4]
        return [{"name": e.name} for e in self.dice.sample(some, min(len(some), self.dice.randint(1, 3)))]

    def size(self, low: float, high: float) -> str:
        return f"{self.dice.uniform(low, high):.2f} mm"

    def random_step(self) -> str | None:
        """Adds one; its id, or nothing where there is nothing to do it to."""
        kind = self.dice.choice(_KINDS)
        fields = getattr(self, f"_{kind}")()
        return None if fields is None else str(self.do("AddStep", kind=_STEP.get(kind, kind), fields=fields)[0])

    def _body(self) -> dict[str, Any] | None:
        face = self.face()
        cut = self.dice.random() < 0.5
        shape = self.dice.choice(["block", "cylinder", "prism", "cone", "ball", "ring", "wedge"])
        if face is None:
            return None
        return {
            "shape": shape, "wide": self.size(4, 14), "deep": self.size(4, 14), "across": self.size(9, 16), "top": self.size(1, 3),
            "thick": self.size(1, 3), "high": self.size(2, 12), "sides": str(self.dice.randint(3, 8)), "right": self.size(-6, 6), "up": self.size(-6, 6),
            "on": {"rule": "flat", "part": self.part, "face": face}, "way": "middle" if shape in ("ball", "ring") else "down" if cut else "up", "operation": "cut" if cut else "add", "part": self.part,
        }  # fmt: skip

    def _extrude(self) -> dict[str, Any] | None:
        face = self.face()
        if face is None:
            return None
        return {
            "profile": {"rule": "flat", "part": self.part, "face": face}, "inset": self.size(0, 3), "distance": self.size(1, 8),
            "taper": f"{self.dice.choice([0, 0, 3, -3])} deg", "direction": self.dice.choice(["up", "down"]),
            "operation": self.dice.choice(["add", "cut"]), "part": self.part,
        }  # fmt: skip

    def _fillet(self) -> dict[str, Any] | None:
        edges = self.edges()
        return (
            {"edges": {"rule": "edges", "part": self.part, "edges": edges}, "radius": self.size(0.4, 3)}
            if edges
            else None
        )

    def _chamfer(self) -> dict[str, Any] | None:
        edges = self.edges()
        return (
            {"edges": {"rule": "edges", "part": self.part, "edges": edges}, "distance": self.size(0.4, 2)}
            if edges
            else None
        )

    def _shell(self) -> dict[str, Any] | None:
        face = self.face(least=150)
        return face and {"open": {"rule": "faces", "part": self.part, "faces": [face]}, "wall": self.size(0.8, 2.5)}

    def _push(self) -> dict[str, Any] | None:
        face = self.face(self.dice.choice(["plane", "plane", "cylinder"]), 20)
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}, "way": self.dice.choice(["in", "out"]), "distance": self.size(0.2, 3)}  # fmt: skip

    def _draft(self) -> dict[str, Any] | None:
        face = self.face()
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}, "angle": f"{self.dice.uniform(1, 8):.2f} deg", "plane": GROUND}  # fmt: skip

    def _drill(self) -> dict[str, Any] | None:
        state = self.evaluate().parts[self.part]
        round_ones = [
            e for e in state.edges if e.kind == "circle" and any(state.faces[f].kind == "plane" for f in e.faces)
        ]
        if not round_ones:
            return None
        at = {"rule": "spots_edges", "part": self.part, "edges": [{"name": self.dice.choice(round_ones).name}]}
        shape = self.dice.choice(["plain", "bored", "sunk", "tapped"])
        return {"part": self.part, "at": at, "shape": shape, "diameter": self.size(1, 4), "head": self.size(5, 9), "head_deep": self.size(1, 3), "extent": self.dice.choice(["by", "through"]), "depth": self.size(3, 9), "tip": "118 deg"}  # fmt: skip

    def _again(self) -> dict[str, Any] | None:
        works = [id for id, out in self.evaluate().made.items() if out.works]
        if not works:
            return None
        how = self.dice.choice(["row", "round", "mirror"])
        return {
            "of": {"rule": "work", "step": self.dice.choice(works)}, "how": how, "count": str(self.dice.randint(2, 4)), "pitch": self.size(5, 12),
            "axis": {"rule": "axis_base", "axis": "up" if how == "round" else self.dice.choice(["across", "deep"])},
            "plane": {"rule": "base", "plane": self.dice.choice(["front", "side"])}, "part": self.part,
        }  # fmt: skip

    def _mirror(self) -> dict[str, Any] | None:
        return {"of": self.part, "plane": {"rule": "base", "plane": self.dice.choice(["front", "side"])}, "operation": self.dice.choice(["add", "overlap"]), "part": self.part}  # fmt: skip

    def _divide(self) -> dict[str, Any] | None:
        low, high = self.evaluate().parts[self.part].box
        z = self.dice.uniform(low[2] + 0.6 * (high[2] - low[2]), high[2] - 0.5)
        return {
            "part": self.part,
            "plane": {"rule": "fixed", "origin": [0, 0, z], "x": [1, 0, 0], "y": [0, 1, 0]},
            "keep": "under",
        }

    def _move(self) -> dict[str, Any] | None:
        return {"part": self.part, "how": "turn", "axis": {"rule": "axis_base", "axis": self.dice.choice(["across", "deep", "up"])}, "angle": f"{self.dice.choice([90, 180, 33])} deg"}  # fmt: skip

    def _scale(self) -> dict[str, Any] | None:
        return {"part": self.part, "factor": f"{self.dice.uniform(0.8, 1.2):.3f}"}

    def _close_over(self) -> dict[str, Any] | None:
        face = self.face(self.dice.choice(["cylinder", "plane"]), 1)
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}}

    # ---- steps that take outlines ------------------------------------------------------------------------------

    def lower(self) -> tuple[Any, Any]:
        """The corners of the part's box."""
        low, high = self.evaluate().parts[self.part].box
        return low, high

    def plane(self, height: float) -> dict[str, Any]:
        return {"rule": "fixed", "origin": [0, 0, round(height, 3)], "x": [1, 0, 0], "y": [0, 1, 0]}

    def outline(self, plane: dict[str, Any], at: tuple[float, float], size: float, shape: str = "") -> dict[str, Any]:
        """A circle, a rectangle or an ellipse about a place."""
        (step,) = self.do("AddStep", kind="sketch", fields={"plane": plane})
        shape = shape or self.dice.choice(["circle", "rectangle", "ellipse"])
        at = (round(at[0], 2), round(at[1], 2))
        if shape == "circle":
            self.do("DrawCircle", step=step, centre=list(at), radius=round(size / 2, 2))
        elif shape == "ellipse":
            self.do("DrawEllipse", step=step, centre={"at": at}, first={"at": (at[0] + size / 2, at[1])}, beside=(at[0], at[1] + size / 3))  # fmt: skip
        else:
            self.do("DrawRectangle", step=step, first=list(at), corner=[at[0] + size / 2, at[1] + size / 2], width=f"{size:.2f} mm", height=f"{size * 0.7:.2f} mm")  # fmt: skip
        return {"rule": "regions", "step": step}

    def result(self) -> dict[str, Any]:
        return {"operation": self.dice.choice(["add", "add", "cut"]), "part": self.part}

    def _revolve(self) -> dict[str, Any]:
        low, high = self.lower()
        out, up = self.dice.uniform(0.3, 1) * max(high[0], 8), self.dice.uniform(low[2], high[2])
        profile = self.outline({"rule": "base", "plane": "front"}, (out, up), self.dice.uniform(2, min(6, 1.6 * out)))
        angle = f"{self.dice.choice([45, 90, 200])} deg"
        return {"profile": profile, "axis": {"rule": "axis_base", "axis": "up"}, "turn": self.dice.choice(["full", "part"]), "angle": angle, **self.result()}  # fmt: skip

    def _sweep(self) -> dict[str, Any]:
        low, high = self.lower()
        up, out, size = self.dice.uniform(low[2], high[2]), self.dice.uniform(8, 25), self.dice.uniform(2, 5)
        (path,) = self.do("AddStep", kind="sketch", fields={"plane": self.plane(up)})
        if self.dice.random() < 0.5:
            self.do("DrawArcAbout", step=path, centre={"at": (0, 0)}, start={"at": (out, 0)}, towards=(-out, out))
            more: dict[str, Any] = {"end_scale": self.dice.choice(["1", "1", "0.6"])}
        else:
            self.do("DrawLine", step=path, start={"at": (out, 0)}, end={"at": (out, 30)})
            more = {"twist": f"{self.dice.choice([0, 60, 200])} deg"}
        profile = self.outline(
            {"rule": "base", "plane": "front"}, (out, up), size, self.dice.choice(["circle", "rectangle"])
        )
        return {"profile": profile, "path": {"rule": "path_sketch", "step": path}, **more, **self.result()}

    def _loft(self) -> dict[str, Any]:
        low, high = self.lower()
        at = (self.dice.uniform(low[0], high[0]) / 2, self.dice.uniform(low[1], high[1]) / 2)
        base, rise = self.dice.uniform(low[2], high[2] - 1), self.dice.uniform(4, 15)
        shape = self.dice.choice(["circle", "rectangle", "ellipse"])
        ends = [self.outline(self.plane(base + h), at, self.dice.uniform(4, 12), shape) for h in (0, rise, 2 * rise)]
        more = [{"profile": ends[2]}] if self.dice.random() < 0.5 else []
        return {"profile": ends[0], "to": ends[1], "more": more, "shape": self.dice.choice(["straight", "smooth"]), **self.result()}  # fmt: skip

    def _wall(self) -> dict[str, Any] | None:
        face = self.face()
        if face is None:
            return None
        (lines,) = self.do(
            "AddStep", kind="sketch", fields={"plane": {"rule": "flat", "part": self.part, "face": face}}
        )
        corners = [(self.dice.uniform(-8, 8), self.dice.uniform(-8, 8)) for _ in range(3)]
        for a, b in zip(corners, corners[1:], strict=False):
            self.do("DrawLine", step=lines, start={"at": a}, end={"at": b})
        cut = self.dice.random() < 0.4
        return {"lines": {"rule": "path_sketch", "step": lines}, "thick": self.size(0.8, 3), "high": self.size(1, 6), "direction": "down" if cut else "up", "operation": "cut" if cut else "add", "part": self.part}  # fmt: skip

    def _wrap(self) -> dict[str, Any] | None:
        face = self.face("cylinder", 60)
        if face is None:
            return None
        profile = self.outline({"rule": "base", "plane": self.dice.choice(["front", "side"])}, (0, self.dice.uniform(2, 8)), self.dice.uniform(2, 5))  # fmt: skip
        return {"profile": profile, "face": {"rule": "flat", "part": self.part, "face": face}, "way": self.dice.choice(["raised", "sunk"]), "by": self.size(0.3, 1.2)}  # fmt: skip

    # ---- steps that take faces, parts and corners --------------------------------------------------------------

    def _thicken(self) -> dict[str, Any] | None:
        face = self.face(self.dice.choice(["plane", "cylinder"]), 20)
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}, "way": self.dice.choice(["out", "in"]), "wall": self.size(0.5, 3), **self.result()}  # fmt: skip

    def _round_between(self) -> dict[str, Any] | None:
        faces = [self.face(), self.face(self.dice.choice(["plane", "cylinder"]))]
        if None in faces:
            return None
        first, second = ({"rule": "flat", "part": self.part, "face": f} for f in faces)
        return {"first": first, "second": second, "radius": self.size(0.5, 4)}

    def _round_over(self) -> dict[str, Any] | None:
        face = self.face(least=5)
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}}

    def _repeat_faces(self) -> dict[str, Any] | None:
        works = [id for id, out in self.evaluate().made.items() if out.works]
        if not works:
            return None
        how = self.dice.choice(["row", "round", "mirror"])
        return {
            "faces": {"rule": "faces_of_step", "part": self.part, "step": self.dice.choice(works)}, "how": how, "count": str(self.dice.randint(2, 4)),
            "pitch": self.size(5, 12), "axis": {"rule": "axis_base", "axis": "up" if how == "round" else self.dice.choice(["across", "deep"])},
            "plane": {"rule": "base", "plane": self.dice.choice(["front", "side"])},
        }  # fmt: skip

    def _repeat(self) -> dict[str, Any]:
        how = self.dice.choice(["row", "round"])
        axis = {"rule": "axis_base", "axis": "up" if how == "round" else self.dice.choice(["across", "deep"])}
        return {"of": self.part, "how": how, "count": str(self.dice.randint(2, 3)), "pitch": self.size(3, 9), "axis": axis, "operation": "add", "part": self.part}  # fmt: skip

    def _between(self) -> dict[str, Any]:
        low, high = self.lower()
        fields = {
            "shape": self.dice.choice(["block", "cylinder", "ball", "prism", "cone"]), "wide": self.size(6, 20), "deep": self.size(6, 20), "across": self.size(6, 16), "top": self.size(1, 5), "high": self.size(5, 30),
            "on": self.plane(self.dice.uniform(low[2] - 2, high[2])), "right": f"{self.dice.uniform(low[0], high[0]):.2f} mm", "up": f"{self.dice.uniform(low[1], high[1]):.2f} mm",
        }  # fmt: skip
        made = self.do("AddStep", kind="body", fields=fields, new_part={"name": f"T{len(self.project.parts)}"})
        return {"part": self.part, "other": made[-1], "work": self.dice.choice(["cut", "cut", "add", "overlap"]), "gap": self.dice.choice(["0 mm", self.size(0.1, 1)]), "after": self.dice.choice(["stays", "goes"])}  # fmt: skip

    def _level(self) -> dict[str, Any] | None:
        face = self.face(least=20)
        low, high = self.lower()
        to = self.plane(high[2] + self.dice.uniform(-3, 3))
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}, "way": "level", "to": to}

    def _meet(self) -> dict[str, Any] | None:
        face = self.face(least=20)
        _, high = self.lower()
        lean = self.dice.uniform(-0.3, 0.3)
        until = {"rule": "fixed", "origin": [0, 0, high[2] + self.dice.uniform(-2, 6)], "x": [math.cos(lean), 0, math.sin(lean)], "y": [0, 1, 0]}  # fmt: skip
        return face and {"faces": {"rule": "faces", "part": self.part, "faces": [face]}, "way": "meet", "until": until}

    def _divide_lines(self) -> dict[str, Any]:
        low, high = self.lower()
        (lines,) = self.do("AddStep", kind="sketch", fields={"plane": {"rule": "base", "plane": "front"}})
        a, b = ((x, self.dice.uniform(low[2], high[2])) for x in (low[0] - 5, high[0] + 5))
        self.do("DrawLine", step=lines, start={"at": a}, end={"at": b})
        return {"part": self.part, "by": "lines", "lines": {"rule": "path_sketch", "step": lines}, "keep": self.dice.choice(["over", "under"])}  # fmt: skip

    def _scale_apart(self) -> dict[str, Any]:
        return {"part": self.part, "sizes": "each", "across": f"{self.dice.uniform(0.8, 1.2):.3f}", "deep": "1", "up": f"{self.dice.uniform(0.8, 1.2):.3f}"}  # fmt: skip

    def _relieve(self) -> dict[str, Any]:
        return {"part": self.part, "cutter": self.size(1, 4), "how": self.dice.choice(["past", "round"])}


_KINDS = ["body", "body", "body", "extrude", "extrude", "fillet", "fillet", "chamfer", "shell", "push", "push", "draft", "drill", "drill", "again", "again", "mirror", "divide", "move", "scale", "close_over",
          "revolve", "revolve", "sweep", "sweep", "loft", "loft", "wall", "wall", "wrap", "thicken", "thicken", "round_between", "round_over", "repeat_faces", "repeat_faces", "repeat",
          "between", "between", "level", "meet", "divide_lines", "scale_apart", "relieve"]  # fmt: skip


#: where several of them are of one kind of step
_STEP = {"level": "push", "meet": "push", "divide_lines": "divide", "scale_apart": "scale"}


def enclosed_mm3(positions: Any, triangles: Any) -> float:
    """The volume that triangles enclose (divergence theorem)."""
    a, b, c = (positions[triangles.reshape(-1, 3)[:, k]].astype(float) for k in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def open_edges(positions: Any, triangles: Any) -> int:
    """Edges of a mesh that do not lie between two triangles, after corners that fall together are one."""
    _, same = np.unique(np.round(positions.astype(float), 4), axis=0, return_inverse=True)
    t = same.reshape(-1)[triangles.reshape(-1, 3)]
    t = t[(t[:, 0] != t[:, 1]) & (t[:, 1] != t[:, 2]) & (t[:, 2] != t[:, 0])]
    ways = Counter(map(tuple, np.concatenate([t[:, [0, 1]], t[:, [1, 2]], t[:, [2, 0]]]).tolist()))
    return sum(1 for (a, b), n in ways.items() if ways.get((b, a), 0) != n)


def judged(recipe: Recipe) -> str | None:
    """What is wrong with the part as it stands, by its triangles; ``None`` where nothing is."""
    state = recipe.evaluate().parts[recipe.part]
    if not state.info.valid or not state.info.closed:
        return "not valid or not closed"
    mesh = state.mesh
    kernel, triangles = state.solid.volume_mm3, enclosed_mm3(mesh.positions, mesh.triangles)
    # chords of a 20th of a millimetre cannot take more than that off the surface
    if abs(kernel - triangles) > 0.05 * state.info.area_mm2 + 0.01 * kernel:
        return f"the kernel says {kernel:.2f} mm³, its triangles enclose {triangles:.2f}"
    if open_edges(mesh.positions, mesh.triangles):
        return f"{open_edges(mesh.positions, mesh.triangles)} edges of its mesh are open"
    low, high = mesh.positions.min(axis=0), mesh.positions.max(axis=0)
    box = state.box
    if any(low[k] < box[0][k] - 1e-3 or high[k] > box[1][k] + 1e-3 for k in range(3)):
        return "its triangles reach out of its bounding box"
    if any(not names or not names[0] for names in state.solid.names):
        return "a face has no name"
    return None


def campaign(recipes: int, seed: int, steps: int = 7) -> Found:
    found = Found()
    for k in range(recipes):
        recipe = Recipe(seed * 100_000 + k)
        for _ in range(steps):
            before = recipe.project
            volume = recipe.volume(recipe.part)
            id = recipe.random_step()
            if id is None:
                continue
            kind = recipe.project.recipe[-1].kind
            report = recipe.evaluate().steps[-1]
            found.fared[kind, report.state] += 1
            where = f"seed {recipe.seed}, step {len(recipe.project.recipe)} ({kind})"
            if "mistake of ours" in report.message or "geometry kernel" in report.message:
                found.wrong.append(f"{where}: {report.message}")
            if report.state != "ok":
                if not report.message.endswith(".") or abs(recipe.volume(recipe.part) - volume) > 1e-9 * volume:
                    found.wrong.append(f"{where}: {report.message or 'no word'}")
                recipe.project = before
                continue
            wrong = judged(recipe)
            if wrong:
                found.wrong.append(f"{where}: {wrong}")
                recipe.project = before
            elif math.isclose(recipe.volume(recipe.part), 0, abs_tol=1e-6):
                recipe.project = before
    return found


def main() -> None:
    count, seed = int(sys.argv[1]), int(sys.argv[2])
    found = campaign(count, seed)
    kinds = sorted({kind for kind, _ in found.fared})
    print(f"{found.steps} steps in {count} recipes from seed {seed}")
    for kind in kinds:
        print(
            f"  {kind:12} ok {found.fared[kind, 'ok']:5}  refused {found.fared[kind, 'failed'] + found.fared[kind, 'asks']:5}"
        )
    print(f"{len(found.wrong)} wrong")
    for line in found.wrong:
        print("  " + line)


if __name__ == "__main__":
    main()
