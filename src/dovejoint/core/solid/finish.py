"""Fillets and chamfers on edges."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet

from ..errors import StepError
from .check import accept
from .kernel import TopoDS, listed
from .measure import edge_length
from .named import NamedSolid, carry, edge_name

__all__ = ["chamfer", "fillet", "largest_that_fits"]


def fillet(solid: NamedSolid, edges: Sequence[int], radius_mm: float, step: str) -> NamedSolid:
    """Round edges (0-based indices into ``solid.edges``). New faces are ``step/fillet(face|face)``."""
    if radius_mm <= 0:
        raise StepError("A fillet needs a radius above zero.")
    result = _attempt(lambda size: _fillet(solid, edges, size, step), radius_mm)
    if result is None:
        raise StepError(_too_large("fillet", radius_mm, lambda size: _fillet(solid, edges, size, step)))
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
    except Exception:
        # the kernel raises many kinds of error of its own when a size does not fit
        return None


def _too_large(what: str, size_mm: float, make: Callable[[float], NamedSolid | None]) -> str:
    most = largest_that_fits(make, size_mm)
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


def _fillet(solid: NamedSolid, edges: Sequence[int], radius_mm: float, step: str) -> NamedSolid | None:
    maker = BRepFilletAPI_MakeFillet(solid.shape)
    for index in edges:
        maker.Add(radius_mm, _edge(solid, index))
    maker.Build()
    if not maker.IsDone() or maker.NbFaultyContours() > 0:
        return None
    return _accepted(solid, maker, "fillet", step, edges, radius_mm)


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
    room = 1.2 * size_mm * size_mm * sum(edge_length(solid.edges[i][0]) for i in edges) + 1e-6
    before = solid.volume_mm3
    wrong = accept(result, most_volume_mm3=before + room, least_volume_mm3=before - room)
    return None if wrong else result
