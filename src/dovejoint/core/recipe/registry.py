"""Kinds of step. A new one is one file in ``steps/`` or ``joints/`` that ends with ``register(…)``.

A kind brings its fields (a pydantic model), the description of those fields for the interface, its sentence,
and the function that does its geometry.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, get_args

from pydantic import BaseModel
from pydantic_core import PydanticUndefined

from ..document import Project, Step, StepFields, register_fields
from ..document.fields import new_part_field
from ..quantities import ANGLE, LENGTH, NUMBER
from ..quantities.markers import FormulaMark, PartMark
from .picks import Namer, fits_kind, pick_kind, said_pick

if TYPE_CHECKING:
    from .context import StepContext
    from .outputs import StepOutput
else:
    StepContext = StepOutput = Any

__all__ = [
    "FIGURES", "Choice", "FieldSpec", "Said", "Segment", "StepKind", "all_kinds", "asked", "each", "kind_of", "register", "said", "segments",
    "sentence", "shown", "wanted",
]  # fmt: skip

#: types of fields that hold a formula, with the dimension that it must have
FIGURES = {"length": LENGTH, "angle": ANGLE, "number": NUMBER}


@dataclass(frozen=True)
class Choice:
    """One of the few answers of a choice chip."""

    value: str
    label: str


@dataclass(frozen=True)
class FieldSpec:
    """How the interface asks for a field.

    ``type`` is ``length``, ``angle``, ``number``, ``choice``, ``text``, ``part``, ``sketch``, ``file``, ``clauses`` (a list of a model, whose own
    fields are the ``specs``), or a kind of pick. ``default`` is what a new step starts with; ``None`` must be answered.
    """

    name: str
    type: str
    label: str
    default: Any = None
    choices: tuple[Choice, ...] = ()
    missing: str = ""
    specs: tuple[FieldSpec, ...] = ()


@dataclass(frozen=True)
class Said:
    """A piece of a sentence: words, or the chip of a field; ``when`` maps fields to the answers it appears for.

    ``each`` names a field of clauses: the ``pieces`` are said once for each. ``want`` is what a piece is about that appears only
    when it is wanted: when one of the chips that want the same has another answer than its default.
    """

    text: str = ""
    chip: str = ""
    when: Mapping[str, list[str]] = field(default_factory=dict)
    each: str = ""
    pieces: tuple[Said, ...] = ()
    want: str = ""


Piece = str | tuple[str, dict[str, list[str]]] | Said


def said(*pieces: Piece) -> tuple[Said, ...]:
    """Write a sentence: plain words, and ``{field}`` for a chip; a pair adds when the piece is said."""
    return tuple(_piece(piece) for piece in pieces)


def _piece(piece: Piece, want: str = "") -> Said:
    if isinstance(piece, Said):
        return piece
    text, when = piece if isinstance(piece, tuple) else (piece, {})
    if text.startswith("{") and text.endswith("}"):
        return Said(chip=text[1:-1], when=when, want=want)
    return Said(text=text, when=when, want=want)


def each(name: str, *pieces: Piece) -> Said:
    """Pieces that are said once for each clause of a field."""
    return Said(each=name, pieces=said(*pieces))


def wanted(what: str, *pieces: Piece) -> tuple[Said, ...]:
    """Pieces that appear when they are wanted; ``what`` is what the menu that adds them calls it."""
    return tuple(_piece(piece, what) for piece in pieces)


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
    sister : whether with these answers the step only adds solids to one part, or cuts them from it, and makes them without looking at
        that part: such steps may be made at once (see at_once.py).
    prepare : further figures that its geometry needs from the project (a joint's drawn gap), by name.
    suits : kinds of selection that it suits (``face``, ``edge``, ``region``, ``plane``, ``part``), those first that it is made for: it is offered
        beside the pointer the sooner, the earlier what was pointed at stands here.
    in_one : which parts its answers make grow within each other on the printer, by their ids; none where they are printed one by one.
    given : figures (mm, rad; by name) that an answer gives instead of formulas, as a size that is called by its name does. Raises StepError.
    dimension_of : the dimension of a formula that only the kind knows, by its path (a sketch's dimensions).
    words : further words by which one may look for it.
    begin : what is most likely meant, from the project, the answers so far and the field that was answered last (``""`` at the
        beginning): answers that a person would otherwise have to give.
    suggest : the same from the solids as they stand where the step comes, where the document alone does not tell; ``fields`` of the
        context are those answered so far. It has the last word.
    """

    kind: str
    title: str
    group: str
    about: str
    fields: type[StepFields]
    specs: tuple[FieldSpec, ...]
    sentence: tuple[Said, ...]
    apply: Callable[[StepContext], StepOutput]
    sister: Callable[[Any], bool] | None = None
    prepare: Callable[[Project, Step, dict[str, float], StepContext], dict[str, float]] | None = None
    suits: tuple[str, ...] = ()
    in_one: Callable[[Any], tuple[str, ...]] | None = None
    given: Callable[[Any], Mapping[str, float]] | None = None
    dimension_of: Callable[[Any, str], Any] | None = None
    words: str = ""
    begin: Callable[[Project, Mapping[str, Any], str], dict[str, Any]] | None = None
    suggest: Callable[[Project, StepContext, str], dict[str, Any]] | None = None

    def spec(self, path: str) -> FieldSpec | None:
        """The spec of a field by its path: ``radius``, or ``more.0.radius`` for one of a clause."""
        specs: tuple[FieldSpec, ...] = self.specs
        found: FieldSpec | None = None
        for name in path.split("."):
            if name.isdigit():
                continue
            found = next((s for s in specs if s.name == name), None)
            if found is None:
                return None
            specs = found.specs
        return found


_KINDS: dict[str, StepKind] = {}


def register(kind: StepKind) -> StepKind:
    """Make a kind of step known to the recipe, the document and the interface.

    Raises
    ------
    ValueError : its sentence or its specs do not agree with its fields.
    TypeError : one of its marks stands where it is not seen.
    """
    _check_specs(kind.kind, kind.specs, kind.fields)
    for piece in kind.sentence:
        if piece.each:
            spec = next((s for s in kind.specs if s.name == piece.each and s.type == "clauses"), None)
            if spec is None:
                raise ValueError(f"{kind.kind}: the sentence repeats {piece.each}, which is no field of clauses")
            _check_chips(kind.kind, piece.pieces, {s.name for s in spec.specs})
    _check_chips(kind.kind, kind.sentence, {s.name for s in kind.specs})
    register_fields(kind.kind, kind.fields)
    _KINDS[kind.kind] = kind
    return kind


def _check_chips(kind: str, pieces: tuple[Said, ...], names: set[str]) -> None:
    for piece in pieces:
        for name in ([piece.chip] if piece.chip else []) + list(piece.when):
            if name not in names:
                raise ValueError(f"{kind}: the sentence asks for {name}, which is not a field")


def _check_specs(kind: str, specs: tuple[FieldSpec, ...], model: type[BaseModel]) -> None:
    """Refuse specs that disagree with the model: names, dimensions, answers, kinds of pick, defaults."""
    for spec in specs:
        info = model.model_fields.get(spec.name)
        where = f"{kind}.{spec.name}"
        if info is None:
            raise ValueError(f"{where}: there is no such field in {model.__name__}")
        marks = list(info.metadata)
        if spec.type in FIGURES:
            dimension = next((m.dimension for m in marks if isinstance(m, FormulaMark)), None)
            if dimension != FIGURES[spec.type]:
                raise ValueError(f"{where}: asked for as {spec.type}, but the field is marked otherwise")
        elif spec.type == "choice":
            answers = {str(a) for a in get_args(info.annotation)}
            if answers != {c.value for c in spec.choices}:
                raise ValueError(f"{where}: its choices are not the answers that the field takes")
        elif spec.type == "part":
            if not any(isinstance(m, PartMark) for m in marks):
                raise ValueError(f"{where}: asked for as a part, but the field has no mark of one")
        elif spec.type == "clauses":
            inner = next(
                (a for a in get_args(info.annotation) if isinstance(a, type) and issubclass(a, BaseModel)), None
            )
            if inner is None:
                raise ValueError(f"{where}: clauses are a list of a model")
            _check_specs(where, spec.specs, inner)
        elif spec.type not in ("text", "sketch", "file", "image"):
            pick = pick_kind(spec.type)
            if pick is None:
                raise ValueError(f"{where}: there is no kind of pick “{spec.type}”")
            if not fits_kind(pick, info.annotation):
                raise ValueError(f"{where}: the field does not hold what a pick of “{spec.type}” is")
        default = info.default
        begins = spec.default is not None and default is not PydanticUndefined and spec.type in (*FIGURES, "choice")
        if begins and default != spec.default:
            raise ValueError(f"{where}: a new step begins with {spec.default!r}, an old one has {default!r}")


def kind_of(step: Step) -> StepKind:
    return _KINDS[step.kind]


def all_kinds() -> list[StepKind]:
    return list(_KINDS.values())


def new_part_when(kind: StepKind, name: str) -> str:
    """When a field takes a part that the step makes: ``always``, ``field=answer``, or never (empty)."""
    found = new_part_field(kind.fields)
    return found[1].new if found is not None and found[0] == name else ""


def asked(kind: StepKind, fields: StepFields) -> set[str]:
    """The fields whose chips the sentence shows with the present answers; the others do not count."""
    data = {name: getattr(fields, name) for name in type(fields).model_fields}
    return {p.chip for p in kind.sentence if p.chip and _told(p, data)} | {p.each for p in kind.sentence if p.each}


def chips(kind: StepKind) -> set[str]:
    """All fields that the sentence may ask for."""
    return {p.chip for p in kind.sentence if p.chip}


def _told(piece: Said, fields: Mapping[str, Any]) -> bool:
    return all(str(fields.get(name)) in answers for name, answers in piece.when.items())


def shown(kind: StepKind, piece: Said, fields: Mapping[str, Any]) -> bool:
    """Whether a piece of a sentence is said for some answers."""
    if not _told(piece, fields):
        return False
    if not piece.want:
        return True
    names = {p.chip for p in kind.sentence if p.want == piece.want and p.chip}
    defaults = {s.name: s.default for s in kind.specs}
    return any(fields.get(name, defaults[name]) != defaults[name] for name in names)


@dataclass(frozen=True)
class Segment:
    """A piece of a sentence as it is said: words, or a chip (``chip`` is its field's path) with the words that stand in it.

    ``part`` is given for the chip of a part; ``want`` is given for a piece that appears only when it is wanted, and ``hidden`` says
    that it does not appear now.
    """

    text: str
    chip: str = ""
    part: str = ""
    want: str = ""
    hidden: bool = False

    def as_dict(self) -> dict[str, Any]:
        return {k: v for k, v in self.__dict__.items() if v not in ("", False) or k == "text"}


def segments(project: Project, step: Step) -> list[Segment]:
    """The step as its sentence, ready to be shown."""
    return list(_segments(Namer(project), kind_of(step), step.fields, step.name))


def segments_with(namer: Namer, step: Step) -> list[Segment]:
    """The same where many steps are said at once."""
    return list(_segments(namer, kind_of(step), step.fields, step.name))


def _segments(namer: Namer, kind: StepKind, fields: Mapping[str, Any], name: str) -> Iterator[Segment]:
    for piece in kind.sentence:
        if piece.each:
            spec = kind.spec(piece.each)
            assert spec is not None
            for i, clause in enumerate(fields.get(piece.each) or []):
                for inner in piece.pieces:
                    if _told(inner, clause):
                        yield _segment(namer, kind, inner, clause, name, f"{piece.each}.{i}.")
        elif shown(kind, piece, fields):
            yield _segment(namer, kind, piece, fields, name)
        elif piece.want and _told(piece, fields):
            made = _segment(namer, kind, piece, fields, name)
            yield Segment(made.text, made.chip, made.part, made.want, hidden=True)


def _segment(
    namer: Namer, kind: StepKind, piece: Said, fields: Mapping[str, Any], name: str, before: str = ""
) -> Segment:
    if not piece.chip:
        return Segment(piece.text, want=piece.want)
    path = before + piece.chip
    spec = kind.spec(path)
    assert spec is not None
    value = fields.get(piece.chip, spec.default)
    part = str(value) if spec.type == "part" and value else ""
    if spec.type == "sketch" and name:
        return Segment(name, path, want=piece.want)
    return Segment(_said_field(namer, spec, value), path, part, piece.want)


def sentence(project: Project, step: Step) -> str:
    """The step as a plain sentence, for the history, the command line and screen readers."""
    return "".join(s.text for s in segments(project, step) if not s.hidden)


def _said_field(namer: Namer, spec: FieldSpec, value: Any) -> str:
    """A field's answer in words; empty when it was not answered yet."""
    if value is None or value == "":
        return ""
    if spec.type == "choice":
        return next((c.label for c in spec.choices if c.value == value), str(value))
    if spec.type == "part":
        return namer.part(str(value))
    if isinstance(value, str):
        return value
    if spec.type == "sketch":
        curves, points = (value or {}).get("curves", []), (value or {}).get("points", [])
        n, what = (len(curves), "curve") if curves else (len(points), "point")
        return "an empty outline" if n == 0 else f"an outline of {n} {what}{'s' if n > 1 else ''}"
    if spec.type in ("file", "image"):
        return str((value or {}).get("name", ""))
    if isinstance(value, Mapping) and "rule" in value:
        return said_pick(namer, value)
    return spec.label
