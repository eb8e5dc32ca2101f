"""Sample projects are made by the same commands that the interface sends."""

from __future__ import annotations

from typing import Any

from ..core import joints as _joints  # registers the joints
from ..core import steps as _steps  # registers the steps
from ..core.document import Project, apply, command_from, new_project
from ..core.profiles import SET_UP_PROFILE
from ..core.sketch import Sketch

__all__ = ["Drawing", "Making"]

_ = (_joints, _steps)


class Making:
    """A project as a person would build it, one command after another. Its maker has set up the printer."""

    def __init__(self, name: str) -> None:
        rests_on = {"profiles": [SET_UP_PROFILE], "profile": SET_UP_PROFILE.id}
        self.project: Project = new_project(name).model_copy(update=rests_on)

    def do(self, command: str, **fields: Any) -> list[str]:
        outcome = apply(self.project, command_from({"do": command, **fields}))
        self.project = outcome.project
        return outcome.created


class Drawing:
    """One sketch of a project in the making."""

    def __init__(self, making: Making, name: str, **fields: Any) -> None:
        self.making = making
        (self.step,) = making.do("AddStep", kind="sketch", fields=fields, name=name)

    def do(self, command: str, **fields: Any) -> list[str]:
        return self.making.do(command, step=self.step, **fields)

    @property
    def sketch(self) -> Sketch:
        step = next(s for s in self.making.project.recipe if s.id == self.step)
        return Sketch.model_validate(step.fields["sketch"])

    def points(self, curve: str) -> list[str]:
        found = self.sketch.curve(curve)
        assert found is not None
        return found.points

    def curves(self, kind: str) -> list[str]:
        return [c.id for c in self.sketch.curves if c.kind == kind]

    def path(
        self, *places: tuple[float, float], closed: bool = False, start: str | None = None, construction: bool = False
    ) -> list[str]:
        """Lines from place to place, level and upright where they are drawn so; the lines' ids."""
        lines: list[str] = []
        at = start
        first = None
        runs = list(zip(places, [*places[1:], places[0]] if closed else places[1:], strict=False))
        for k, (a, b) in enumerate(runs):
            tie = "horizontal" if a[1] == b[1] else "vertical" if a[0] == b[0] else ""
            end = first if closed and k == len(runs) - 1 else None
            made = self.do(
                "DrawLine", start={"at": a, "on": at}, end={"at": b, "on": end}, tie=tie, construction=construction
            )
            lines.append(next(m for m in made if m.startswith("l")))
            one, at = self.points(lines[-1])
            first = first or one
        return lines

    def extrude(self, part: str, distance: str, **fields: Any) -> list[str]:
        fields = {"profile": {"rule": "regions", "step": self.step}, "distance": distance, **fields}
        return self.making.do("AddStep", kind="extrude", new_part={"name": part}, fields=fields)
