"""Two states of a project side by side: values, steps, joints' figures, and parts as solids (a new name reprints nothing)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from .. import solid as kernel
from ..document import Project
from .evaluate import Evaluation
from .lying import lie_in
from .outputs import PartState
from .registry import kind_of, sentence

__all__ = ["compare"]

#: solids are the same when no more than this of their volume is not shared, mm³ per mm² of their surface
SKIN_MM = 2e-4


def _same_solid(a: PartState, b: PartState) -> bool:
    """Whether two solids fill the same space: equal keys, or equal measures and nothing but a skin that is not shared."""
    if a.key == b.key:
        return True
    one, two = a.info, b.info
    skin = SKIN_MM * max(one.area_mm2, two.area_mm2)
    if abs(one.volume_mm3 - two.volume_mm3) > skin:
        return False
    if any(abs(p - q) > 1e-3 for p, q in zip((*one.low_mm, *one.high_mm), (*two.low_mm, *two.high_mm), strict=True)):
        return False
    # what was made alike anew has the same triangles; what both fill at once takes ten seconds where threads lie on each other
    mine, its = a.mesh, b.mesh
    if mine.positions.shape == its.positions.shape and np.array_equal(mine.triangles, its.triangles) and np.allclose(mine.positions, its.positions, rtol=0, atol=SKIN_MM):  # fmt: skip
        return True
    volume, _ = kernel.common(a.solid, b.solid)
    return abs(one.volume_mm3 - volume) <= skin


def compare(
    before: Project, was: Evaluation, after: Project, now: Evaluation, at_work: Callable[[], object] = lambda: None
) -> dict[str, Any]:
    """What changed from one state to another, in words and figures; ``reprint`` are the parts whose solids changed. ``at_work`` is called before each part
    is compared, which can take seconds."""
    parts = _parts(before, was, after, now, at_work)
    return {
        "values": _values(before, after),
        "steps": _steps(before, after),
        "gaps": _gaps(before, was, after, now),
        "parts": parts,
        "reprint": [row["name"] for row in parts if row["state"] in ("changed", "new") and row["role"] == "printed"],
    }


def _gaps(before: Project, was: Evaluation, after: Project, now: Evaluation) -> list[dict[str, Any]]:
    """Drawn gaps of joints that changed, mm a side."""
    out = []
    for step in after.recipe:
        old, new = (e.figures.get(step.id, {}).get("drawn") for e in (was, now))
        if new is not None and old is not None and abs(new - old) > 1e-6:
            name = step.name or kind_of(step).title
            out.append({"joint": step.id, "name": name, "before_mm": old, "after_mm": new})
    return out


def _values(before: Project, after: Project) -> list[dict[str, str]]:
    old, new = {v.id: v for v in before.values}, {v.id: v for v in after.values}
    out = []
    for id in [*old, *(i for i in new if i not in old)]:
        a, b = old.get(id), new.get(id)
        texts = [f"{v.formula} {v.tolerance}".strip() if v else "" for v in (a, b)]
        if texts[0] != texts[1] or (a and b and a.name != b.name):
            present = b or a
            assert present is not None
            out.append({"name": present.name, "before": texts[0], "after": texts[1]})
    return out


def _steps(before: Project, after: Project) -> list[dict[str, str]]:
    old, new = {s.id: s for s in before.recipe}, {s.id: s for s in after.recipe}
    out = []
    for id in [*old, *(i for i in new if i not in old)]:
        a, b = old.get(id), new.get(id)
        if a == b:
            continue
        said = [sentence(p, s) if s else "" for p, s in ((before, a), (after, b))]
        state = "new" if a is None else "gone" if b is None else "off" if b.off and not a.off else "changed"
        number = next(i for i, s in enumerate((after if b else before).recipe, 1) if s.id == id)
        out.append({"number": str(number), "state": state, "before": said[0], "after": said[1]})
    old_order, new_order = [i for i in old if i in new], [i for i in new if i in old]
    if old_order != new_order:
        out.append({"number": "", "state": "order", "before": "", "after": "The steps stand in another order."})
    return out


def _parts(
    before: Project, was: Evaluation, after: Project, now: Evaluation, at_work: Callable[[], object]
) -> list[dict[str, Any]]:
    old, new = {p.id: p for p in before.parts}, {p.id: p for p in after.parts}
    out: list[dict[str, Any]] = []
    for id in [*old, *(i for i in new if i not in old)]:
        a, b = old.get(id), new.get(id)
        if b is None or a is None:
            present = b or a
            assert present is not None
            out.append(
                {
                    "id": id,
                    "name": present.name,
                    "role": present.role,
                    "state": "new" if a is None else "gone",
                    "lies": False,
                }
            )
            continue
        one, two = was.parts.get(id), now.parts.get(id)
        if one is None or two is None:
            state = "same" if one is two else "new" if one is None else "gone"
        else:
            at_work()
            state = "same" if _same_solid(one, two) else "changed"
        turned = state == "same" and one is not None and lie_in(before, was.parts, id) != lie_in(after, now.parts, id)
        change = two.info.volume_mm3 - one.info.volume_mm3 if one is not None and two is not None else 0.0
        out.append(
            {"id": id, "name": b.name, "role": b.role, "state": state, "lies": turned, "volume_change_mm3": change}
        )
    return out
