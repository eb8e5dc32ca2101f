"""What picks are called now: a size that stands in a label (“Ø 16”) was read when the thing was picked, and values change."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import BaseModel

from .. import solid as kernel
from ..document.picks import SeenFace
from ..errors import DoveError
from .context import StepContext
from .labels import SIZE
from .names import find_edge, find_face

__all__ = ["resized", "sizes_now"]


def sizes_now(ctx: StepContext) -> dict[str, str]:
    """The labels of things that a step picks whose size is another than it was when they were picked, by their names; in mm."""
    out = {}
    for part, thing in _things(ctx.fields, ""):
        label = thing.seen.label if thing.seen is not None else ""
        if not SIZE.search(label) or not ctx.has_part(part):
            continue
        try:
            fresh = _relabelled(ctx, part, thing, label)
        except DoveError:
            # what is not found any more is told by the step, if it needs it
            continue
        if fresh != label:
            out[thing.name] = fresh
    return out


def resized(fields: Any, labels: Mapping[str, str]) -> Any:
    """The plain data of a step's fields, its picks called as they are now."""
    if isinstance(fields, list):
        return [resized(item, labels) for item in fields]
    if not isinstance(fields, Mapping):
        return fields
    out = {k: resized(v, labels) for k, v in fields.items()}
    seen = out.get("seen")
    if isinstance(seen, Mapping) and out.get("name") in labels:
        out["seen"] = {**seen, "label": labels[out["name"]]}
    return out


def _things(value: Any, part: str) -> Iterator[tuple[str, SeenFace]]:
    """Faces and edges that stand in some fields, with their parts: their own, or that of the pick that holds them."""
    if isinstance(value, SeenFace):
        yield value.part or part, value
    elif isinstance(value, BaseModel):
        own = getattr(value, "part", "")
        for name in type(value).model_fields:
            yield from _things(getattr(value, name), own if isinstance(own, str) else "")
    elif isinstance(value, list | tuple):
        for item in value:
            yield from _things(item, part)


def _relabelled(ctx: StepContext, part: str, thing: SeenFace, label: str) -> str:
    state = ctx.part(part)
    if "|" in thing.name:
        edge = state.edges[find_edge(state, thing)]
        radius_mm, long_mm = edge.radius_mm, edge.length_mm
    else:
        found = kernel.round_face(state.solid, find_face(state, thing))
        radius_mm, long_mm = (found.radius_mm if found is not None else None), None

    def now(size: re.Match[str]) -> str:
        before, _, _, after = size.groups()
        if after:
            return f"{long_mm:.5g} long" if long_mm is not None else size[0]
        if radius_mm is None:
            return size[0]
        return f"{before}{radius_mm * (2 if before == 'Ø ' else 1):.5g}"

    return SIZE.sub(now, label)
