"""What a step did: added to parts or cut from them, so that it can be done again elsewhere."""

from __future__ import annotations

from typing import TYPE_CHECKING, Literal

from ...document.picks import Pick
from ...errors import StepError
from ...quantities.markers import StepId
from ..outputs import Work
from .kind import PickKind, PickRule, Ready, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__ = ["WorkPick", "work_of"]


class WorkPick(Pick):
    """A step that added to parts, or cut them."""

    rule: Literal["work"] = "work"
    step: StepId


def work_of(ctx: StepContext, pick: WorkPick, field: str) -> tuple[Work, ...]:
    """What the step added and cut. Raises PickError, StepError."""
    works = ctx.earlier(pick.step, field).works
    if not works:
        raise StepError(
            "That step added to no part and cut from none; take one that did (a part of its own is repeated as a part).",
            field=field,
        )
    return works


def _lights(ctx: StepContext, pick: WorkPick) -> list[Thing]:
    out = []
    for work in ctx.earlier(pick.step, "").works:
        if work.part in ctx.states:
            names = ctx.part(work.part).solid.names
            out += [
                Thing("face", work.part, index=i)
                for i, mine in enumerate(names)
                if any(n.startswith(f"{pick.step}/") for n in mine)
            ]
    return out


register_pick(
    PickKind(
        "work", "Take the step that is to be done again.", ("work",), (), (Ready({"rule": "work"}, "{step}", "work"),)
    ),
    PickRule("work", WorkPick, lambda namer, pick: namer.step(pick.step, "the work"), _lights),
)
