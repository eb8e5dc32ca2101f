"""Kinds of step. A new one is one file in ``steps/`` or ``joints/`` that ends with ``register(…)``.

A kind brings its fields (a pydantic model), the description of those fields for the interface, its sentence,
and the function that does its geometry.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from ..document import Project, Step, StepFields, register_fields

if TYPE_CHECKING:
    from .context import StepContext
    from .outputs import StepOutput
else:
    StepContext = StepOutput = Any

__all__ = ["Choice", "FieldSpec", "Said", "StepKind", "all_kinds", "kind_of", "register", "said", "sentence", "shown"]


@dataclass(frozen=True)
class Choice:
    """One of the few answers of a choice chip."""

    value: str
    label: str


@dataclass(frozen=True)
class FieldSpec:
    """How the interface asks for a field.

    ``type`` is ``length``, ``angle``, ``number``, ``choice``, ``text``, ``part``, ``face``, ``faces``, ``edges``,
    ``plane``, ``regions``, ``sketch`` or ``fit``. ``default`` is what a new step starts with; ``None`` must be answered.
    """

    name: str
    type: str
    label: str
    default: Any = None
    choices: tuple[Choice, ...] = ()
    missing: str = ""
    new_part: str = ""


@dataclass(frozen=True)
class Said:
    """A piece of a sentence: words, or the chip of a field; ``when`` maps fields to the answers it appears for."""

    text: str = ""
    chip: str = ""
    when: dict[str, list[str]] = field(default_factory=dict)


def said(*pieces: str | tuple[str, dict[str, list[str]]]) -> tuple[Said, ...]:
    """Write a sentence: plain words, and ``{field}`` for a chip; a pair adds when the piece is said."""
    out = []
    for piece in pieces:
        text, when = piece if isinstance(piece, tuple) else (piece, {})
        if text.startswith("{") and text.endswith("}"):
            out.append(Said(chip=text[1:-1], when=when))
        else:
            out.append(Said(text=text, when=when))
    return tuple(out)


@dataclass(frozen=True)
class StepKind:
    """One kind of step.

    Parameters
    ----------
    kind : its word in documents.
    title, group, about : how the palette names it, where it puts it and what it says of it.
    fields : the pydantic model of its fields; ``specs`` describes those that the interface asks for.
    sentence : how it reads.
    apply : its geometry.
    prepare : further figures that its geometry needs from the project (a joint's drawn gap), by name.
    suits : kinds of selection that it suits (``face``, ``edge``, ``region``, ``part``).
    dimension_of : the dimension of a formula that only the kind knows, by its path (a sketch's dimensions).
    """

    kind: str
    title: str
    group: str
    about: str
    fields: type[StepFields]
    specs: tuple[FieldSpec, ...]
    sentence: tuple[Said, ...]
    apply: Callable[[StepContext], StepOutput]
    prepare: Callable[[Project, Step, dict[str, float]], dict[str, float]] | None = None
    suits: tuple[str, ...] = ()
    dimension_of: Callable[[Any, str], Any] | None = None


_KINDS: dict[str, StepKind] = {}


def register(kind: StepKind) -> StepKind:
    """Make a kind of step known to the recipe, the document and the interface."""
    names = {s.name for s in kind.specs}
    for piece in kind.sentence:
        if piece.chip and piece.chip not in names:
            raise ValueError(f"{kind.kind}: the sentence asks for {piece.chip}, which is not a field")
    _KINDS[kind.kind] = kind
    register_fields(kind.kind, kind.fields)
    return kind


def kind_of(step: Step) -> StepKind:
    return _KINDS[step.kind]


def all_kinds() -> list[StepKind]:
    return list(_KINDS.values())


def asked(kind: StepKind, fields: StepFields) -> set[str]:
    """The fields whose chips the sentence shows with the present answers; the others do not count."""
    data = fields.model_dump(mode="json")
    return {piece.chip for piece in kind.sentence if piece.chip and shown(piece, data)}


def shown(piece: Said, fields: dict[str, Any]) -> bool:
    """Whether a piece of a sentence is said for some answers."""
    return all(str(fields.get(name)) in answers for name, answers in piece.when.items())


def sentence(project: Project, step: Step) -> str:
    """The step as a plain sentence, for the history, the command line and screen readers."""
    kind = kind_of(step)
    specs = {s.name: s for s in kind.specs}
    out = ""
    for piece in kind.sentence:
        if not shown(piece, step.fields):
            continue
        if piece.text:
            out += piece.text
        elif specs[piece.chip].type == "sketch" and step.name:
            out += step.name
        else:
            out += _said_field(project, specs[piece.chip], step.fields.get(piece.chip))
    return out


def _said_field(project: Project, spec: FieldSpec, value: Any) -> str:
    if spec.type == "choice":
        return next((c.label for c in spec.choices if c.value == value), str(value))
    if spec.type == "part":
        part = project.part(str(value))
        return part.name if part else "a part"
    if isinstance(value, str):
        return value
    if spec.type == "sketch":
        n = len((value or {}).get("curves", []))
        return "an empty outline" if n == 0 else f"an outline of {n} curve{'s' if n > 1 else ''}"
    if isinstance(value, dict):
        return said_pick(project, value)
    return spec.label


#: how the beginning of a face's own name, after the step that made it, is said
_FACE_WORDS = (
    ("rim(", "the rim"), ("end", "the end"), ("start", "the foot"), ("inner(", "an inner wall"), ("side(", "a side"),
    ("seat", "the seat"), ("back", "the back"), ("lip", "the lip"),
)  # fmt: skip


def _said_face(name: str, of: str) -> str:
    last = name.partition("/")[2]
    return next((words for start, words in _FACE_WORDS if last.startswith(start)), "a face") + of


def said_pick(project: Project, pick: dict[str, Any]) -> str:
    """A pick in words, from what it stores."""
    part = project.part(str(pick.get("part", "")))
    of = f" of {part.name}" if part else ""
    match pick.get("rule"):
        case "base":
            return {"ground": "the ground", "front": "the front plane", "side": "the side plane"}[pick["plane"]]
        case "plane" | "regions":
            step = project.step(pick["step"])
            place = project.recipe.index(step) + 1 if step else "?"
            default = "plane" if pick["rule"] == "plane" else "outline"
            return step.name if step and step.name else f"{default} of step {place}"
        case "flat":
            return _said_face(pick["face"]["name"], of)
        case "faces":
            n = len(pick["faces"])
            return f"{n} faces{of}" if n > 1 else _said_face(pick["faces"][0]["name"], of)
        case "faces_of_step":
            return f"all faces made by one step{of}"
        case "edges":
            n = len(pick["edges"])
            return f"{n} edges{of}" if n > 1 else f"an edge{of}"
        case "corners":
            n = len(pick["corners"])
            return f"{n} corners{of}" if n > 1 else f"a corner{of}"
        case "edges_of_face":
            return f"the edges round {_said_face(pick['face']['name'], of)}"
        case "edges_between":
            return f"the edges between two faces{of}"
        case "edges_along":
            words = {"up": "upright", "across": "left-to-right", "deep": "front-to-back"}
            return f"the {words[pick['direction']]} edges{of}"
    return "a pick"
