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
        return None if fields is None else str(self.do("AddStep", kind=kind, fields=fields)[0])

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


_KINDS = ["body", "body", "body", "extrude", "extrude", "fillet", "fillet", "chamfer", "shell", "push", "push", "draft", "drill", "drill", "again", "again", "mirror", "divide", "move", "scale", "close_over"]  # fmt: skip


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
