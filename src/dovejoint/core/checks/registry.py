"""What a check is, what it finds, and how all of them are run."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from ..document import Part, Profile, Project, Step
from ..joints import JointReport
from ..kept import Kept, weight_bytes
from ..profiles import profile_of
from ..recipe import Evaluation, JointShape, PartState, Superseded
from ..solid import Vec3

__all__ = ["Check", "CheckCache", "Finding", "Model", "register_check", "run_checks"]


@dataclass(frozen=True)
class Finding:
    """One thing that is doubtful or wrong.

    ``says`` is what, ``figure`` and ``limit`` are what was found and what should be (in words, with units), ``advice`` what to
    do. ``place`` is where in the model (mm); ``parts``, ``step`` and ``joint`` are ids that it speaks of.
    """

    state: Literal["doubtful", "wrong"]
    says: str
    figure: str = ""
    limit: str = ""
    advice: str = ""
    parts: tuple[str, ...] = ()
    step: str = ""
    joint: str = ""
    place: Vec3 | None = None

    def as_dict(self) -> dict[str, Any]:
        return {
            "state": self.state, "says": self.says, "figure": self.figure, "limit": self.limit, "advice": self.advice,
            "parts": list(self.parts), "step": self.step, "joint": self.joint, "place": self.place,
        }  # fmt: skip


class CheckCache:
    """Costly findings by the keys of the solids that they come from."""

    def __init__(self) -> None:
        self.kept: Kept[Any] = Kept(5_000_000, weight_bytes)

    def get(self, key: str, find: Callable[[], Any]) -> Any:
        return self.kept.made(key, find)


@dataclass(frozen=True)
class Model:
    """What checks look at."""

    project: Project
    evaluation: Evaluation
    joints: Sequence[JointReport]
    cache: CheckCache

    @property
    def profile(self) -> Profile:
        return profile_of(self.project)

    def made_joints(self) -> list[tuple[Step, JointShape, JointReport]]:
        """All joints that could be made, with what is reported of them."""
        reports = {j.step: j for j in self.joints}
        made = ((s, self.evaluation.made.get(s.id)) for s in self.project.recipe if s.id in reports)
        return [(s, m.joint, reports[s.id]) for s, m in made if m is not None and m.joint is not None]

    def parts(self, *roles: str) -> list[tuple[Part, PartState]]:
        """Parts that could be made, of some roles (all when none is given), with their solids."""
        made = self.evaluation.parts
        return [(p, made[p.id]) for p in self.project.parts if p.id in made and (not roles or p.role in roles)]


@dataclass(frozen=True)
class Check:
    """``title`` says what is looked for, ``well`` what is true when nothing is found; ``of`` what it is about, so that it claims
    nothing where there is none of that."""

    name: str
    title: str
    well: str
    find: Callable[[Model], Iterable[Finding]]
    of: Literal["parts", "joints"]


_CHECKS: dict[str, Check] = {}


#: what is said of checks of joints while there is none
NO_JOINT = "There is no joint yet: nothing to check between parts."


def register_check(
    name: str, title: str, well: str, of: Literal["parts", "joints"] = "parts"
) -> Callable[[Callable[[Model], Iterable[Finding]]], None]:
    """Make a check known, by decorating its function."""

    def put(find: Callable[[Model], Iterable[Finding]]) -> None:
        _CHECKS[name] = Check(name, title, well, find, of)

    return put


def run_checks(
    project: Project,
    evaluation: Evaluation,
    joints: Sequence[JointReport],
    cache: CheckCache,
    stop: Callable[[], bool] = lambda: False,
) -> list[dict[str, Any]]:
    """All checks with what they found, as plain data: what is wrong first, then what is doubtful, then what is well.

    ``stop`` is asked before each; when true this ends with :class:`Superseded`.
    """
    model = Model(project, evaluation, joints, cache)
    out = []
    for check in _CHECKS.values():
        if stop():
            raise Superseded
        findings = sorted(check.find(model), key=lambda f: f.state != "wrong")
        state = findings[0].state if findings else "well"
        empty = check.of == "joints" and not joints
        out.append({
            "check": check.name, "title": check.title, "state": state, "well": NO_JOINT if empty else check.well,
            "empty": empty,
            "findings": [f.as_dict() for f in findings],
        })  # fmt: skip
    return sorted(out, key=lambda c: ("wrong", "doubtful", "well").index(str(c["state"])))
