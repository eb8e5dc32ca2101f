"""Many solids added to one or cut from it at once, where that is the same as one after another.

One after another, each operation works through all faces that there are by then, so a row of bosses costs the square of their number;
at once it costs their number. It is the same only where no two of them come near each other and none divides a face: then the order does not
matter, and every face of the result comes from one face and keeps its name.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse

from ..errors import StepError
from .check import Bound, accept
from .combine import apart_or_together, merged, run
from .measure import bounds
from .named import NamedSolid, carry, solids_of

__all__ = ["combined"]

#: solids whose boxes come nearer than this are combined one after another, mm
NEAR_MM = 0.01
#: what a face is called that comes from nowhere; there must be none
_NOWHERE = "?"


def _are_apart(solids: Sequence[NamedSolid]) -> bool:
    """Whether the bounding boxes of solids keep away from each other."""
    boxes = np.array([bounds(s.shape) for s in solids])
    low, high = boxes[:, 0], boxes[:, 1]
    order = np.argsort(low[:, 0])
    low, high = low[order], high[order]
    for i in range(len(low)):
        # only those that begin before this one ends can be near it
        last = int(np.searchsorted(low[:, 0], high[i, 0] + NEAR_MM, side="right"))
        others = slice(i + 1, last)
        near = (low[others] <= high[i] + NEAR_MM) & (high[others] >= low[i] - NEAR_MM)
        if near.all(axis=1).any():
            return False
    return True


def _counts(solids: Iterable[NamedSolid]) -> Counter[str]:
    """On how many faces each name is."""
    return Counter(name for solid in solids for names in solid.names for name in names)


def _is_plain(result: NamedSolid, base: NamedSolid, tools: Sequence[NamedSolid]) -> bool:
    """Whether no face was divided, none came from nowhere, and of each solid something is to be seen."""
    before, after = _counts((base, *tools)), _counts([result])
    return all(after[name] <= before[name] for name in after) and all(
        any(name in after for names in tool.names for name in names) for tool in tools
    )


def _are_seen(result: NamedSolid, base: NamedSolid, works: Iterable[Sequence[NamedSolid]]) -> bool:
    """Whether the solids of each work that added some have a face of their own: without one, perhaps they were there already, which is to be said."""
    own = result.new_since(base)
    return all(any(name in own for tool in tools for names in tool.names for name in names) for tools in works)


def _in_order(result: NamedSolid, solids: Sequence[NamedSolid]) -> NamedSolid:
    """The same solid, where the names of joined faces stand in the order in which one after another would have joined them."""
    place = {name: k for k, name in enumerate(dict.fromkeys(n for s in solids for names in s.names for n in names))}
    return NamedSolid(result.shape, [tuple(sorted(names, key=lambda n: place.get(n, 0))) for names in result.names])


def _volumes(operation: str, base: NamedSolid, tools: Sequence[NamedSolid]) -> tuple[Bound, Bound]:
    """The most and the least that a base can be after solids were added to it or cut from it, mm³; something each of them does."""
    bit = 1e-6 * len(tools)
    if operation == "add":
        return lambda: base.volume_mm3 + sum(t.volume_mm3 for t in tools), lambda: base.volume_mm3 + bit
    return lambda: base.volume_mm3 - bit, lambda: base.volume_mm3 - sum(t.volume_mm3 for t in tools)


def combined(base: NamedSolid, works: Sequence[tuple[str, Sequence[NamedSolid]]]) -> NamedSolid | None:
    """A base after many works, each ``("add" or "cut", solids)``: the same as one after another.

    ``None`` where that is not sure, or where it would not be sound: then they have to be done, and judged, one by one.
    """
    every = [tool for _, tools in works for tool in tools]
    if not _are_apart(every):
        return None
    result = base
    try:
        for operation, maker in (("add", BRepAlgoAPI_Fuse()), ("cut", BRepAlgoAPI_Cut())):
            tools = [tool for what, some in works if what == operation for tool in some]
            if not tools:
                continue
            run(maker, result, tools)
            if len(solids_of(maker.Shape())) != base.lumps:
                return None
            made = carry(maker.Shape(), [result, *tools], maker, rest=_NOWHERE)
            if accept(made, *_volumes(operation, result, tools)) is not None:
                return None
            apart_or_together(made, [result, *tools])
            result = made
    except StepError:
        return None
    result = merged(result)
    added = (some for what, some in works if what == "add")
    plain = _is_plain(result, base, every) and _are_seen(result, base, added)
    return _in_order(result, [base, *every]) if plain else None
