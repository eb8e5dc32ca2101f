"""Adding, cutting and overlapping solids, with names carried through."""

from __future__ import annotations

from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain

from ..errors import StepError
from .check import accept, judge
from .frame import Vec3
from .kernel import as_list
from .mass import mass
from .measure import bounds
from .named import NamedSolid, carry, solids_of

__all__ = ["apart_or_together", "common", "cut", "fuse", "merged", "overlap", "run"]


def run(maker: Any, base: NamedSolid, tools: list[NamedSolid]) -> Any:
    """Have the kernel combine solids. Raises StepError."""
    # several tools go in as a list: a compound of overlapping solids would give a wrong volume
    maker.SetArguments(as_list([base.shape]))
    maker.SetTools(as_list([tool.shape for tool in tools]))
    maker.SetNonDestructive(True)
    maker.Build()
    if not maker.IsDone():
        raise StepError("The two solids could not be combined; move one of them by a little.")
    return maker


def merged(solid: NamedSolid) -> NamedSolid:
    """Join faces that lie on in one surface (coplanar neighbours become one face with both names)."""
    joiner = ShapeUpgrade_UnifySameDomain(solid.shape, True, True, False)
    joiner.SetLinearTolerance(1e-5)
    joiner.SetAngularTolerance(1e-5)
    joiner.Build()
    shape = joiner.Shape()
    if not solids_of(shape):
        return solid
    joined = carry(shape, [solid], joiner.History())

    def unlike() -> str | None:
        same = abs(joined.volume_mm3 - solid.volume_mm3) <= 1e-6 * max(1.0, solid.volume_mm3)
        return None if same else "joining its level faces changed it"

    return joined if judge(unlike) is None and accept(joined) is None else solid


def _finish(maker: Any, sources: list[NamedSolid], step: str, merge: bool = True) -> NamedSolid:
    result = carry(maker.Shape(), sources, maker, rest=f"{step}/new")
    return merged(result) if merge else result


def apart_or_together(result: NamedSolid, sources: list[NamedSolid]) -> None:
    """Refuse what touches itself along a line: the kernel calls it sound, and nothing can make it."""

    def touches() -> str | None:
        return "it touches itself" if not result.closed and all(s.closed for s in sources) else None

    if judge(touches):
        raise StepError(
            "The two would only touch along a line there, which is neither apart nor together; move one of them by a little."
        )


def fuse(base: NamedSolid, tools: list[NamedSolid], step: str, merge: bool = True) -> NamedSolid:
    """Base with tools added; its volume lies between the largest of them and their sum.

    ``merge=False`` spares the search for faces to join where it is known that none lie level.
    """
    result = _finish(run(BRepAlgoAPI_Fuse(), base, tools), [base, *tools], step, merge)

    def volumes() -> list[float]:
        return [s.volume_mm3 for s in (base, *tools)]

    wrong = accept(result, lambda: sum(volumes()), lambda: max(volumes()))
    if wrong:
        raise StepError(f"Adding does not give a sound solid: {wrong}.")
    apart_or_together(result, [base, *tools])
    return result


def cut(base: NamedSolid, tools: list[NamedSolid], step: str) -> NamedSolid:
    """Base with tools taken away. Refuses when nothing is left or nothing was taken."""
    maker = run(BRepAlgoAPI_Cut(), base, tools)
    if not solids_of(maker.Shape()):
        raise StepError("The cut takes the whole part away; make it smaller.")
    result = _finish(maker, [base, *tools], step)
    wrong = accept(result, lambda: base.volume_mm3)
    if wrong:
        raise StepError(f"The cut does not leave a sound solid: {wrong}.")
    if judge(lambda: "nothing was taken" if base.volume_mm3 - result.volume_mm3 < 1e-6 else None):
        raise StepError("The cut meets no material; move it into the part or turn it round.")
    apart_or_together(result, [base, *tools])
    return result


def overlap(base: NamedSolid, tools: list[NamedSolid], step: str) -> NamedSolid:
    """What base and tools have in common."""
    joined = tools[0] if len(tools) == 1 else fuse(tools[0], tools[1:], step)
    maker = run(BRepAlgoAPI_Common(), base, [joined])
    if not solids_of(maker.Shape()):
        raise StepError("The two have nothing in common, so nothing would be left.")
    result = _finish(maker, [base, joined], step)
    wrong = accept(result, lambda: base.volume_mm3)
    if wrong:
        raise StepError(f"The overlap is not a sound solid: {wrong}.")
    apart_or_together(result, [base, joined])
    return result


def common(first: NamedSolid, second: NamedSolid) -> tuple[float, Vec3]:
    """Volume in mm³ that two solids share, and its middle; 0 when they are apart or only touch."""
    if _apart(bounds(first.shape), bounds(second.shape)):
        return 0.0, (0.0, 0.0, 0.0)
    shape = run(BRepAlgoAPI_Common(), first, [second]).Shape()
    return mass(shape) if solids_of(shape) else (0.0, (0.0, 0.0, 0.0))


def _apart(a: tuple[Vec3, Vec3], b: tuple[Vec3, Vec3]) -> bool:
    """Whether two bounding boxes do not reach into each other."""
    return any(a[1][k] <= b[0][k] or b[1][k] <= a[0][k] for k in range(3))
