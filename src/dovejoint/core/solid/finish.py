"""Fillets and chamfers on edges."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet

from ..errors import StepError
from .by_mesh import unlike_mesh
from .check import accept, judge, putting_off
from .kernel import TopoDS, listed, raised_by_kernel
from .measure import edge_length
from .named import NamedSolid, carry, edge_name

__all__ = ["chamfer", "fillet", "largest_that_fits"]


def fillet(solid: NamedSolid, radii_mm: Mapping[int, float], step: str) -> NamedSolid:
    """Round edges (0-based indices into ``solid.edges``), each with its radius. New faces are ``step/fillet(face|face)``.

    Raises
    ------
    StepError : they do not fit; it names the largest of the largest radius that does, the others being as they are.
    """
    if min(radii_mm.values()) <= 0:
        raise StepError("A fillet needs a radius above zero.")
    largest = max(radii_mm.values())

    def make(size: float) -> NamedSolid | None:
        return _fillet(solid, {e: size if abs(r - largest) < 1e-9 else min(r, size) for e, r in radii_mm.items()}, step)

    result = _attempt(make, largest)
    if result is None:
        raise StepError(_too_large("fillet", largest, make))
    return result


def chamfer(solid: NamedSolid, edges: Sequence[int], first_mm: float, second_mm: float, step: str) -> NamedSolid:
    """Bevel edges by one distance on each side. New faces are ``step/chamfer(face|face)``."""
    if first_mm <= 0 or second_mm <= 0:
        raise StepError("A chamfer needs distances above zero.")
    ratio = second_mm / first_mm
    result = _attempt(lambda size: _chamfer(solid, edges, size, size * ratio, step), first_mm)
    if result is None:
        raise StepError(_too_large("chamfer", first_mm, lambda size: _chamfer(solid, edges, size, size * ratio, step)))
    return result


def _attempt(make: Callable[[float], NamedSolid | None], size_mm: float) -> NamedSolid | None:
    try:
        return make(size_mm)
    except Exception as error:
        # the kernel raises many kinds of error of its own when a size does not fit
        if not raised_by_kernel(error):
            raise
        return None


def _too_large(what: str, size_mm: float, make: Callable[[float], NamedSolid | None]) -> str:
    most = None if putting_off() else largest_that_fits(make, size_mm)
    if most is None:
        return f"A {size_mm:.4g} mm {what} does not fit on these edges, and a small one does not either."
    return f"A {size_mm:.4g} mm {what} does not fit on these edges: {most:.4g} mm is the most."


def largest_that_fits(make: Callable[[float], NamedSolid | None], too_large_mm: float) -> float | None:
    """The largest size for which ``make`` succeeds, found by halving and rounded down to 0.01 mm."""
    low, high = 0.0, too_large_mm
    for _ in range(10):
        middle = (low + high) / 2
        if _attempt(make, middle) is not None:
            low = middle
        else:
            high = middle
    # round down by a hundredth where that is still a fair figure
    rounded = int(low * 100) / 100
    return rounded if rounded > 0 else (low if low > 1e-3 else None)


def _names(maker: Any, word: str, step: str) -> Callable[[NamedSolid, Any, dict[int, str]], None]:
    def born(source: NamedSolid, faces: Any, new: dict[int, str]) -> None:
        for edge, (a, b) in source.edges:
            for made in listed(maker.Generated(edge)):
                index = faces.FindIndex(made)
                if index:
                    new[index] = f"{step}/{word}({edge_name(source.names[a][0], source.names[b][0])})"

    return born


def _fillet(solid: NamedSolid, radii_mm: Mapping[int, float], step: str) -> NamedSolid | None:
    maker = BRepFilletAPI_MakeFillet(solid.shape)
    for index, radius in sorted(radii_mm.items()):
        maker.Add(radius, _edge(solid, index))
    maker.Build()
    if not maker.IsDone() or maker.NbFaultyContours() > 0:
        return None
    return _accepted(solid, maker, "fillet", step, list(radii_mm), max(radii_mm.values()))


def _chamfer(
    solid: NamedSolid, edges: Sequence[int], first_mm: float, second_mm: float, step: str
) -> NamedSolid | None:
    maker = BRepFilletAPI_MakeChamfer(solid.shape)
    for index in edges:
        a = solid.edges[index][1][0]
        if abs(first_mm - second_mm) < 1e-9:
            maker.Add(first_mm, _edge(solid, index))
        else:
            maker.Add(first_mm, second_mm, _edge(solid, index), solid.faces[a])
    maker.Build()
    if not maker.IsDone():
        return None
    return _accepted(solid, maker, "chamfer", step, edges, max(first_mm, second_mm))


def _edge(solid: NamedSolid, index: int) -> Any:
    return TopoDS.Edge(solid.edges[index][0])


def _accepted(
    solid: NamedSolid, maker: Any, word: str, step: str, edges: Sequence[int], size_mm: float
) -> NamedSolid | None:
    result = carry(maker.Shape(), [solid], maker, _names(maker, word, step), rest=f"{step}/{word}-corner")

    # what is added or taken lies within a band of the size's square along the edges: more is a broken solid
    def room() -> float:
        return 1.2 * size_mm * size_mm * sum(edge_length(solid.edges[i][0]) for i in edges) + 1e-6

    wrong = accept(result, lambda: solid.volume_mm3 + room(), lambda: solid.volume_mm3 - room())
    return None if wrong or judge(lambda: unlike_mesh(result)) else result
