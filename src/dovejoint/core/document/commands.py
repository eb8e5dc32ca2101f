"""Commands: the only way in which a document changes. Each is small, validated, and has one apply function.

``apply(project, command)`` returns the next document with what was touched and a sentence for the history.
The interface, the command line, the samples, the importers and the tests all use these.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Callable
from functools import cache, reduce
from operator import or_
from typing import Annotated, Any, Literal, TypeVar

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from ..errors import CommandError, FormulaError
from ..quantities import ANGLE, LENGTH, evaluate_table, parse, rename, with_unit
from ..quantities.formula import check_name
from ..quantities.markers import FormulaMark, PartMark, StepMark, rewrite, walk
from .compiled import compiled, names_of
from .copies import kept_to_counts, numbered
from .fields import StepFields, field_model, new_part_field, read_fields
from .model import MOST_PARTS, MOST_VIEWS, PIGMENTS, Part, Profile, Project, Reading, Role, Step, Value, View
from .outcome import Outcome, known_values
from .picks import ThingPick

__all__ = [
    "Command", "CommandModel", "Outcome", "apply", "chapter_handed_on", "command_from", "command_schema", "find_step", "find_value", "handler",
    "known_values", "replace_step", "step_title", "with_changes",
]  # fmt: skip


class CommandModel(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


def _written(text: str) -> str:
    """Signs that cannot be seen (line ends, tabs, controls) have no place in a name: they become spaces."""
    return "".join(" " if unicodedata.category(sign) == "Cc" else sign for sign in text)


_Text = Annotated[str, Field(max_length=80), AfterValidator(_written)]
_Formula = Annotated[str, Field(max_length=400)]
_Figure = Annotated[float, Field(allow_inf_nan=False, ge=-1e5, le=1e5)]


class NewPart(CommandModel):
    """A part that a step brings into being; without a colour it takes the next pigment."""

    name: _Text
    role: Role | None = None
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")] | None = None
    material: Annotated[_Text, Field(max_length=40)] = ""


class RenameProject(CommandModel):
    do: Literal["RenameProject"] = "RenameProject"
    name: _Text


class SetUnit(CommandModel):
    do: Literal["SetUnit"] = "SetUnit"
    unit: Literal["mm", "in"]


class AddValue(CommandModel):
    do: Literal["AddValue"] = "AddValue"
    name: _Text
    formula: _Formula


class SetValue(CommandModel):
    do: Literal["SetValue"] = "SetValue"
    value: str
    formula: _Formula


class RenameValue(CommandModel):
    do: Literal["RenameValue"] = "RenameValue"
    value: str
    name: _Text


class RemoveValue(CommandModel):
    do: Literal["RemoveValue"] = "RemoveValue"
    value: str


class AddStep(CommandModel):
    """``after`` is the id of the step before it; ``None`` puts it last, ``""`` first."""

    do: Literal["AddStep"] = "AddStep"
    kind: str
    fields: dict[str, Any]
    name: _Text = ""
    after: str | None = None
    new_part: NewPart | None = None


class EditStep(CommandModel):
    """Gives some fields of a step other contents."""

    do: Literal["EditStep"] = "EditStep"
    step: str
    fields: dict[str, Any]
    new_part: NewPart | None = None


class RenameStep(CommandModel):
    do: Literal["RenameStep"] = "RenameStep"
    step: str
    name: _Text


class SwitchStep(CommandModel):
    do: Literal["SwitchStep"] = "SwitchStep"
    step: str
    off: bool


class SetChapter(CommandModel):
    """Begins a chapter at a step, or calls it something else; an empty title takes it away."""

    do: Literal["SetChapter"] = "SetChapter"
    step: str
    title: _Text
    note: Annotated[str, Field(max_length=2000)] | None = None


class DeleteStep(CommandModel):
    do: Literal["DeleteStep"] = "DeleteStep"
    step: str


class EditPart(CommandModel):
    do: Literal["EditPart"] = "EditPart"
    part: str
    name: _Text | None = None
    role: Role | None = None
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")] | None = None
    group: _Text | None = None
    material: Annotated[_Text, Field(max_length=40)] | None = None
    note: Annotated[str, Field(max_length=2000)] | None = None
    within: Annotated[str, Field(max_length=20)] | None = None
    sheet_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e4)] | None = None
    cutter_mm: Annotated[float, Field(allow_inf_nan=False, ge=0, le=1e3)] | None = None


class OrderPart(CommandModel):
    """Puts a part before another in the row of parts; without one at the end."""

    do: Literal["OrderPart"] = "OrderPart"
    part: str
    before: str = ""


class AddReading(CommandModel):
    """Pins a reading to one thing, or between two."""

    do: Literal["AddReading"] = "AddReading"
    first: ThingPick
    second: ThingPick | None = None


class RemoveReading(CommandModel):
    do: Literal["RemoveReading"] = "RemoveReading"
    reading: str


class KeepView(CommandModel):
    """Keeps a view under its name; one that has the name already is replaced."""

    do: Literal["KeepView"] = "KeepView"
    name: _Text
    middle_mm: tuple[_Figure, _Figure, _Figure]
    turn_deg: _Figure
    over_deg: Annotated[float, Field(allow_inf_nan=False, ge=-90, le=90)]
    tall_mm: Annotated[float, Field(allow_inf_nan=False, gt=0, le=1e5)]
    hidden: Annotated[list[str], Field(max_length=MOST_PARTS)] = []


class DropView(CommandModel):
    do: Literal["DropView"] = "DropView"
    view: str


class SetProfile(CommandModel):
    """Puts a printer profile into the project and rests the gaps on it."""

    do: Literal["SetProfile"] = "SetProfile"
    profile: Profile


Command = CommandModel


C = TypeVar("C", bound=CommandModel)
_APPLY: dict[type[CommandModel], Callable[[Project, Any], Outcome]] = {}


def handler(kind: type[C]) -> Callable[[Callable[[Project, C], Outcome]], Callable[[Project, C], Outcome]]:
    """Register the apply function of a command."""

    def put(function: Callable[[Project, C], Outcome]) -> Callable[[Project, C], Outcome]:
        _APPLY[kind] = function
        return function

    return put


def _adapter() -> TypeAdapter[Any]:
    return _adapter_of(tuple(_APPLY))


@cache
def _adapter_of(commands: tuple[type[CommandModel], ...]) -> TypeAdapter[Any]:
    """Reader of the commands known so far. Making one costs 10 ms, and kinds of step may add commands of their own."""
    union: Any = Annotated[reduce(or_, commands), Field(discriminator="do")]
    return TypeAdapter(union)


def command_schema() -> dict[str, Any]:
    """JSON Schema of all commands."""
    return _adapter().json_schema(ref_template="#/components/schemas/{model}")


def command_from(data: Any) -> CommandModel:
    """Read a command from JSON. Raises CommandError with the first thing that is wrong."""
    try:
        command: CommandModel = _adapter().validate_python(data)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"][1:]) or "the command"
        raise CommandError(f"“{where}” is not right: {first['msg'].lower()}.") from None
    return command


def apply(project: Project, command: CommandModel) -> Outcome:
    """Apply one command. Raises CommandError and leaves everything as it was when it is refused."""
    try:
        return numbered(kept_to_counts(_APPLY[type(command)](project, command)))
    except FormulaError as error:
        raise CommandError(error.message, where=error.where, field=error.field) from None
    except ValidationError as error:
        # what comes of a sound command may still be more than a document can hold, e.g. a place beyond its limits
        raise CommandError(f"That cannot be kept: {error.errors()[0]['msg'].lower()}.") from None


# ---- helpers ---------------------------------------------------------------------------------------------------


def with_changes(project: Project, **changes: Any) -> Project:
    return project.model_copy(update=changes)


def find_step(project: Project, id: str) -> Step:
    step = project.step(id)
    if step is None:
        raise CommandError("That step is not there any more.", where=id)
    return step


def replace_step(project: Project, step: Step) -> Project:
    return with_changes(project, recipe=[step if s.id == step.id else s for s in project.recipe])


def find_value(project: Project, id: str) -> Value:
    value = next((v for v in project.values if v.id == id), None)
    if value is None:
        raise CommandError("That value is not there any more.", where=id)
    return value


def step_title(project: Project, step: Step) -> str:
    return f"step {project.recipe.index(step) + 1}" + (f" “{step.name}”" if step.name else "")


def clean_formulas(fields: StepFields, unit: str, touched: set[str] | None = None) -> StepFields:
    """Give bare numbers their unit and refuse formulas that cannot be read; names may still be unknown.

    ``touched`` limits the check to some fields, so that an old mistake elsewhere does not block an edit.
    """
    for path, mark, text in walk(fields):
        top = path.split(".")[0]
        if isinstance(mark, FormulaMark) and (touched is None or top in touched):
            try:
                if text.strip():
                    parse(text)
            except FormulaError as error:
                raise CommandError(error.message, field=top) from None

    def change(mark: Any, text: str) -> str:
        if isinstance(mark, FormulaMark) and mark.dimension is not None and text.strip():
            return with_unit(text, mark.dimension, unit)
        return text

    return rewrite(fields, change)


# ---- values ----------------------------------------------------------------------------------------------------


def _free_name(project: Project, name: str, besides: str = "") -> str:
    name = check_name(name)
    if any(v.name == name and v.id != besides for v in project.values):
        raise CommandError(f"There is a value called “{name}” already.")
    return name


def _checked_values(project: Project, changed: str) -> None:
    """Refuse a change of a value that leaves it, or those that use it, without a figure they had."""
    table = evaluate_table([(v.name, v.formula) for v in project.values])
    result = table[changed]
    if result.error is not None:
        raise CommandError(result.error, where=changed)


def _value_formula(project: Project, formula: str) -> str:
    if not formula.strip():
        raise CommandError("A value needs a formula, such as 1.7 mm.")
    return formula.strip()


@handler(RenameProject)
def _(project: Project, c: RenameProject) -> Outcome:
    if not c.name.strip():
        raise CommandError("A project needs a name.")
    return Outcome(
        with_changes(project, name=c.name.strip()), frozenset({"project"}), f"call the project “{c.name.strip()}”"
    )


@handler(SetUnit)
def _(project: Project, c: SetUnit) -> Outcome:
    return Outcome(with_changes(project, unit=c.unit), frozenset({"unit"}), f"show lengths in {c.unit}")


@handler(AddValue)
def _(project: Project, c: AddValue) -> Outcome:
    name = _free_name(project, c.name)
    value = Value(id=f"v{project.next_id}", name=name, formula=_value_formula(project, c.formula))
    after = with_changes(project, values=[*project.values, value], next_id=project.next_id + 1)
    _checked_values(after, name)
    return Outcome(after, frozenset({f"value:{value.id}"}), f"add {name} = {value.formula}", [value.id])


@handler(SetValue)
def _(project: Project, c: SetValue) -> Outcome:
    value = find_value(project, c.value)
    before = known_values(project).get(value.name)
    formula = _value_formula(project, c.formula)
    if before is not None:
        # a bare figure keeps the kind that the value has: 2.2 for a wall of 1.7 mm is 2.2 mm
        formula = with_unit(formula, before.dimension, project.unit) if before.dimension in (LENGTH, ANGLE) else formula
    changed = value.model_copy(update={"formula": formula})
    after = with_changes(project, values=[changed if v.id == value.id else v for v in project.values])
    _checked_values(after, value.name)
    now = known_values(after)[value.name]
    users = _users(project, value)
    if before is not None and now.dimension != before.dimension and users:
        raise CommandError(
            f"“{value.name}” is {before.dimension} and {', '.join(users[:3])} rest on that; “{formula}” is {now.dimension}."
        )
    return Outcome(after, frozenset({f"value:{value.id}"}), f"set {value.name} = {changed.formula}")


@handler(RenameValue)
def _(project: Project, c: RenameValue) -> Outcome:
    value = find_value(project, c.value)
    name = _free_name(project, c.name, value.id)

    def change(mark: Any, text: str) -> str:
        return rename(text, value.name, name) if isinstance(mark, FormulaMark) else text

    values = [
        v.model_copy(
            update={"name": name if v.id == value.id else v.name, "formula": rename(v.formula, value.name, name)}
        )
        for v in project.values
    ]
    recipe = [
        s.step.model_copy(update={"fields": rewrite(s.fields, change).model_dump(mode="json")})
        if value.name in s.values
        else s.step
        for s in compiled(project)
    ]
    touched = frozenset({f"value:{value.id}"})
    return Outcome(with_changes(project, values=values, recipe=recipe), touched, f"call {value.name} {name}")


@handler(RemoveValue)
def _(project: Project, c: RemoveValue) -> Outcome:
    value = find_value(project, c.value)
    users = _users(project, value)
    if users:
        raise CommandError(f"“{value.name}” is used by {', '.join(users[:5])}; change them first.")
    after = with_changes(project, values=[v for v in project.values if v.id != value.id])
    return Outcome(after, frozenset({f"value:{value.id}"}), f"remove {value.name}")


def _users(project: Project, value: Value) -> list[str]:
    """What uses a value: names of other values and titles of steps."""
    users = [v.name for v in project.values if v.id != value.id and value.name in names_of(v.formula)]
    return users + [step_title(project, s.step) for s in compiled(project) if value.name in s.values]


# ---- steps -----------------------------------------------------------------------------------------------------


def _make_part(project: Project, new: NewPart, kind: type[StepFields], data: dict[str, Any]) -> tuple[Project, Part]:
    name = new.name.strip() or f"Part {len(project.parts) + 1}"
    if any(p.name.lower() == name.lower() for p in project.parts):
        raise CommandError(f"There is a part called “{name}” already.", field="part")
    if len(project.parts) >= MOST_PARTS:
        raise CommandError(f"A project holds {MOST_PARTS} parts, and this one has as many.", field="part")
    id, colour = f"p{project.next_id}", PIGMENTS[len(project.parts) % len(PIGMENTS)]
    if (first := project.part(str(data.get(kind.copy_of, "")))) is not None:
        part = first.another(id, name)
    elif (first := project.part(str(data.get(kind.piece_of, "")))) is not None:
        # the two pieces are to be told apart
        part = first.another(id, name).model_copy(update={"colour": colour, "note": ""})
    else:
        part = Part(id=id, name=name, role=kind.new_role, colour=colour)
    told = {"role": new.role, "colour": new.colour, "material": new.material.strip()}
    part = part.model_copy(update={k: v for k, v in told.items() if v})
    return with_changes(project, parts=[*project.parts, part], next_id=project.next_id + 1), part


def _refers(project: Project, fields: StepFields) -> None:
    for path, mark, text in walk(fields):
        if isinstance(mark, PartMark) and text and project.part(text) is None:
            raise CommandError("It refers to a part that is not there.", field=path.split(".")[0])
        if isinstance(mark, StepMark) and text and project.step(text) is None:
            raise CommandError("It refers to a step that is not there.", field=path.split(".")[0])


def _with_new_part(project: Project, kind: str, data: dict[str, Any], new: NewPart) -> tuple[Project, str]:
    """The project with a part more, whose id is put into the field that takes it. Raises CommandError for a kind that makes none."""
    taker = new_part_field(field_model(kind))
    if taker is None:
        raise CommandError(f"A step of the kind “{kind}” makes no part.")
    after, part = _make_part(project, new, field_model(kind), data)
    data[taker[0]] = part.id
    return after, part.id


@handler(AddStep)
def _(project: Project, c: AddStep) -> Outcome:
    data = dict(c.fields)
    created = []
    after = project
    if c.new_part is not None:
        after, part = _with_new_part(project, c.kind, data, c.new_part)
        created.append(part)
    fields = clean_formulas(read_fields(c.kind, data), project.unit)
    _refers(after, fields)
    step = Step(id=f"s{after.next_id}", kind=c.kind, name=c.name.strip(), fields=fields.model_dump(mode="json"))
    recipe = list(after.recipe)
    if c.after is None:
        recipe.append(step)
    else:
        place = 0 if c.after == "" else recipe.index(find_step(after, c.after)) + 1
        recipe.insert(place, step)
    after = with_changes(after, recipe=recipe, next_id=after.next_id + 1)
    touches = {f"step:{step.id}", *(f"part:{p}" for p in created)}
    return Outcome(after, frozenset(touches), f"add {c.kind.replace('_', ' ')}", [step.id, *created])


@handler(EditStep)
def _(project: Project, c: EditStep) -> Outcome:
    step = find_step(project, c.step)
    data = {**step.fields, **c.fields}
    after, created = project, []
    if c.new_part is not None:
        after, part = _with_new_part(project, step.kind, data, c.new_part)
        created.append(part)
    fields = clean_formulas(read_fields(step.kind, data), project.unit, set(c.fields))
    _refers(after, fields)
    changed = step.model_copy(update={"fields": fields.model_dump(mode="json")})
    title = step_title(project, step)
    left = _without_orphans(after, replace_step(after, changed))
    gone = {p.id for p in after.parts} - {p.id for p in left.parts}
    if gone:
        # the step itself speaks no more of a part that it made until now
        cleared = rewrite(fields, lambda mark, text: "" if isinstance(mark, PartMark) and text in gone else text)
        left = replace_step(left, changed.model_copy(update={"fields": cleared.model_dump(mode="json")}))
    return Outcome(left, frozenset({f"step:{step.id}"}), f"change {title}", created)


@handler(RenameStep)
def _(project: Project, c: RenameStep) -> Outcome:
    step = find_step(project, c.step)
    after = replace_step(project, step.model_copy(update={"name": c.name.strip()}))
    return Outcome(after, frozenset({f"step:{step.id}"}), f"call {step_title(project, step)} “{c.name.strip()}”")


@handler(SwitchStep)
def _(project: Project, c: SwitchStep) -> Outcome:
    step = find_step(project, c.step)
    after = replace_step(project, step.model_copy(update={"off": c.off}))
    return Outcome(
        after, frozenset({f"step:{step.id}"}), f"switch {step_title(project, step)} {'off' if c.off else 'on'}"
    )


def _without_orphans(before: Project, after: Project) -> Project:
    """Parts whose making step went away go with it."""
    lost = compiled(before).makers.keys() - compiled(after).makers.keys()
    if not lost:
        return after
    readings = [r for r in after.readings if not {p.part for p in (r.first, r.second) if p} & lost]
    return with_changes(after, parts=[p for p in after.parts if p.id not in lost], readings=readings)


@handler(SetChapter)
def _(project: Project, c: SetChapter) -> Outcome:
    step = find_step(project, c.step)
    title = c.title.strip()
    note = (step.chapter_note if c.note is None else c.note.strip()) if title else ""
    after = replace_step(project, step.model_copy(update={"chapter": title, "chapter_note": note}))
    words = f"begin the chapter “{title}”" if title else f"take the chapter “{step.chapter}” away"
    return Outcome(after, frozenset({f"step:{step.id}"}), words)


def chapter_handed_on(recipe: list[Step], step: Step) -> list[Step]:
    """The recipe where a step that begins a chapter no longer does: the next one does, if it begins none itself."""
    if not step.chapter:
        return recipe
    place = next(i for i, s in enumerate(recipe) if s.id == step.id)
    out = list(recipe)
    out[place] = step.model_copy(update={"chapter": "", "chapter_note": ""})
    if place + 1 < len(out) and not out[place + 1].chapter:
        mark = {"chapter": step.chapter, "chapter_note": step.chapter_note}
        out[place + 1] = out[place + 1].model_copy(update=mark)
    return out


@handler(DeleteStep)
def _(project: Project, c: DeleteStep) -> Outcome:
    step = find_step(project, c.step)
    left = [s for s in chapter_handed_on(project.recipe, step) if s.id != step.id]
    after = _without_orphans(project, with_changes(project, recipe=left))
    gone = {p.id for p in project.parts} - {p.id for p in after.parts}
    touches = frozenset({f"step:{step.id}", *(f"part:{p}" for p in gone)})
    return Outcome(after, touches, f"delete {step_title(project, step)}")


@handler(EditPart)
def _(project: Project, c: EditPart) -> Outcome:
    part = project.part(c.part)
    if part is None:
        raise CommandError("That part is not there any more.", where=c.part)
    given = (
        ("name", c.name),
        ("role", c.role),
        ("colour", c.colour),
        ("group", c.group),
        ("note", c.note),
        ("material", c.material),
        ("within", c.within),
        ("sheet_mm", c.sheet_mm),
        ("cutter_mm", c.cutter_mm),
    )
    if c.within and (c.within == part.id or project.part(c.within) is None):
        raise CommandError("A part is printed together with another that is there; pick one.", field="within")
    changes: dict[str, Any] = {
        k: v.strip() if isinstance(v, str) and k in ("group", "note", "material") else v
        for k, v in given
        if v is not None
    }
    if c.name is not None:
        changes["name"] = c.name.strip()
        if not c.name.strip():
            raise CommandError("A part needs a name.")
        if any(p.name.lower() == c.name.strip().lower() and p.id != part.id for p in project.parts):
            raise CommandError(f"There is a part called “{c.name.strip()}” already.")
    changed = part.model_copy(update=changes)
    after = with_changes(project, parts=[changed if p.id == part.id else p for p in project.parts])
    return Outcome(after, frozenset({f"part:{part.id}"}), f"change part “{changed.name}”")


@handler(OrderPart)
def _(project: Project, c: OrderPart) -> Outcome:
    part = project.part(c.part)
    if part is None or (c.before and project.part(c.before) is None):
        raise CommandError("That part is not there any more.", where=c.part)
    rest = [p for p in project.parts if p.id != part.id]
    place = next((i for i, p in enumerate(rest) if p.id == c.before), len(rest))
    after = with_changes(project, parts=[*rest[:place], part, *rest[place:]])
    return Outcome(after, frozenset({f"part:{part.id}", "parts"}), f"put “{part.name}” elsewhere in the row")


@handler(SetProfile)
def _(project: Project, c: SetProfile) -> Outcome:
    others = [p for p in project.profiles if p.id != c.profile.id]
    after = with_changes(project, profiles=[*others, c.profile], profile=c.profile.id)
    return Outcome(after, frozenset({"profile"}), f"print with “{c.profile.name}”")


@handler(AddReading)
def _(project: Project, c: AddReading) -> Outcome:
    for pick in (c.first, c.second):
        if pick is not None and project.part(pick.part) is None:
            raise CommandError("It refers to a part that is not there.")
    reading = Reading(id=f"r{project.next_id}", first=c.first, second=c.second)
    after = with_changes(project, readings=[*project.readings, reading], next_id=project.next_id + 1)
    return Outcome(after, frozenset({f"reading:{reading.id}"}), "pin a reading", [reading.id])


@handler(RemoveReading)
def _(project: Project, c: RemoveReading) -> Outcome:
    left = [r for r in project.readings if r.id != c.reading]
    if len(left) == len(project.readings):
        raise CommandError("That reading is not there any more.", where=c.reading)
    return Outcome(with_changes(project, readings=left), frozenset({f"reading:{c.reading}"}), "take a reading away")


@handler(KeepView)
def _(project: Project, c: KeepView) -> Outcome:
    name = c.name.strip()
    if not name:
        raise CommandError("A view is kept under a name; write one.", field="name")
    if any(project.part(h) is None for h in c.hidden):
        raise CommandError("It refers to a part that is not there.")
    same = next((v for v in project.views if v.name.lower() == name.lower()), None)
    if same is None and len(project.views) >= MOST_VIEWS:
        raise CommandError(f"{MOST_VIEWS} views are kept already; forget one first.")
    id = same.id if same else f"w{project.next_id}"
    kept = View(id=id, **c.model_dump(exclude={"do", "name"}), name=name)
    views = [kept if v is same else v for v in project.views] if same else [*project.views, kept]
    after = with_changes(project, views=views, next_id=project.next_id + (same is None))
    return Outcome(after, frozenset({f"view:{id}"}), f"keep the view “{name}”", [id])


@handler(DropView)
def _(project: Project, c: DropView) -> Outcome:
    gone = next((v for v in project.views if v.id == c.view), None)
    if gone is None:
        raise CommandError("That view is not there any more.", where=c.view)
    left = [v for v in project.views if v is not gone]
    return Outcome(with_changes(project, views=left), frozenset({f"view:{gone.id}"}), f"forget the view “{gone.name}”")
