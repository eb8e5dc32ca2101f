"""Names of faces as a type: where a face came from, e.g. ``s7/side(c3)`` or ``s9/fillet(s7/end|s7/side(c3))``.

::

    name  = step "/" role [ "(" parts ")" ] [ "." count ]
    parts = part { "|" part }          each a name, or the id of a curve or region

A name that is made of others grows with every step that finishes what another finished. Beyond LONGEST signs what stands
in its brackets is replaced by its digest, from the innermost name outwards, so that a name that was written down in
full (by an older version, or by hand) still finds the face: ``short`` gives the same for both.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping
from dataclasses import dataclass

__all__ = [
    "LONGEST",
    "FaceName",
    "alike",
    "alike_regions",
    "as_part",
    "edge_parts",
    "parse",
    "renumbered",
    "same_curves",
    "short",
    "steps_in",
]

#: signs that a name may have before what stands in its brackets is digested
LONGEST = 200
_STEP = re.compile(r"\b(s[0-9]{1,9})/")
_HEAD = re.compile(r"^(s[0-9]{1,9})/([^()|]*)")


@dataclass(frozen=True)
class FaceName:
    """``step`` made the face in the ``role``, from ``parts``: names of other faces, or ids of curves; ``tail`` follows the brackets."""

    step: str
    role: str
    parts: tuple[FaceName | str, ...] = ()
    tail: str = ""

    def __str__(self) -> str:
        inner = "|".join(str(p) for p in self.parts)
        return f"{self.step}/{self.role}" + (f"({inner})" if self.parts else "") + self.tail


def edge_parts(name: str) -> list[str]:
    """The pieces between the bars of a name that stand in no brackets: of an edge, the names of its two faces."""
    out, depth, start = [], 0, 0
    for i, sign in enumerate(name):
        depth += (sign == "(") - (sign == ")")
        if sign == "|" and depth == 0:
            out.append(name[start:i])
            start = i + 1
    return [*out, name[start:]]


def parse(text: str) -> FaceName | str:
    """A face's name taken apart; the text itself where it is none (the id of a curve, something written by hand)."""
    head = _HEAD.match(text)
    if head is None:
        return text
    step, role = head.groups()
    left = text[head.end() :]
    if not left:
        return FaceName(step, role)
    close = left.rfind(")")
    if not left.startswith("(") or close < 0:
        return text
    return FaceName(step, role, tuple(parse(p) for p in edge_parts(left[1:close])), left[close + 1 :])


def short(name: str) -> str:
    """The name as solids carry it: itself, or with digests where it is longer than LONGEST. The short of a short name is itself."""
    if len(name) <= LONGEST:
        return name
    pieces = edge_parts(name)
    if len(pieces) > 1:
        return "|".join(short(p) for p in pieces)
    found = parse(name)
    return name if isinstance(found, str) else str(_short(found))


def _short(name: FaceName) -> FaceName:
    # faces around an edge or a gap are named in their order, and shortening may change that
    parts = tuple(sorted((_short(p) if isinstance(p, FaceName) else p for p in name.parts), key=str))
    whole = FaceName(name.step, name.role, parts, name.tail)
    if len(str(whole)) <= LONGEST:
        return whole
    return FaceName(name.step, name.role, (_digest("|".join(str(p) for p in parts)),), name.tail)


def _digest(text: str) -> str:
    return f"~{hashlib.sha256(text.encode()).hexdigest()[:12]}"


def same_curves(region: str) -> str:
    """A region's name without what tells it from others that the same curves bound."""
    return re.sub("[<>=]|#[0-9]+$", "", region)


def alike_regions(name: str, other: str, holes_may_differ: bool = False) -> bool:
    """Whether two names of regions differ only in that one has more curves round its outside than the other, or more holes where both
    tell their sides or that may be."""
    sided = any(mark in name for mark in "<>=")
    if not sided:
        other = same_curves(other)
    (mine, _, holes), (theirs, _, others) = (n.partition("#")[0].partition("-") for n in (name, other))
    (a, b), (c, d) = [[set(part.split("+")) - {""} for part in pair] for pair in ((mine, theirs), (holes, others))]
    return (a <= b or b <= a) and (c == d or ((sided or holes_may_differ) and (c <= d or d <= c)))


def alike(name: str, other: str) -> bool:
    """Whether two names of faces tell of the same step, role and faces, and differ at most in the regions that they came of."""
    return _alike(parse(name), parse(other))


def _alike(a: FaceName | str, b: FaceName | str) -> bool:
    if isinstance(a, str) or isinstance(b, str):
        return a == b or (isinstance(a, str) and isinstance(b, str) and "~" not in a + b and alike_regions(a, b, True))
    same = (a.step, a.role, a.tail, len(a.parts)) == (b.step, b.role, b.tail, len(b.parts))
    return same and all(_alike(p, q) for p, q in zip(a.parts, b.parts, strict=True))


def as_part(name: str) -> str:
    """A name to stand in the brackets of a new one: itself, or its digest where it would take most of the room there is."""
    return name if len(name) <= LONGEST - 60 else _digest(short(name))


def steps_in(name: str) -> set[str]:
    """Ids of the steps that a name speaks of. (What a digest hides was built upon by those that are left.)"""
    return set(_STEP.findall(name))


def renumbered(name: str, ids: Mapping[str, str]) -> str | None:
    """The name with other ids of steps, as when steps are copied; ``None`` where a digest hides one that may be among them."""
    if "~" in name:
        return None
    return _STEP.sub(lambda m: f"{ids.get(m[1], m[1])}/", name)
