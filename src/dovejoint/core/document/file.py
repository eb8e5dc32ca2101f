"""The open project file: JSON with a format number, checked by a published schema."""

from __future__ import annotations

import json
import unicodedata
from typing import Any

from pydantic import ValidationError

from ..errors import CommandError, DoveError, FileError, FormulaError
from ..quantities.formula import check_name
from .compiled import compiled_step
from .fields import known_kinds
from .files import checked_files
from .model import Part, Profile, Project, Step

__all__ = ["FORMAT", "LARGEST_FILE_BYTES", "dump", "load", "new_project", "schema"]

FORMAT = 1
LARGEST_FILE_BYTES = 8 * 1024 * 1024
_MOST_NESTED = 40


def new_project(name: str) -> Project:
    """An empty project. Raises CommandError when the name is missing or too long."""
    name = name.strip()
    if not name:
        raise CommandError("A project needs a name.")
    if len(name) > 80:
        raise CommandError("A project's name may have 80 signs.")
    return Project(name=name)


def dump(project: Project) -> str:
    """The project file as text, two spaces deep, fit to be compared line by line."""
    body = {"application": "dove-joint", **project.model_dump(mode="json")}
    if not project.files:
        # what comes last is the bulk of it, and most projects have none
        del body["files"]
    return json.dumps(body, indent=2, ensure_ascii=False) + "\n"


def _no_constant(text: str) -> float:
    raise FileError(f"The project file holds “{text}” where a figure should be.")


def load(text: str | bytes) -> Project:
    """Read a project file.

    Raises
    ------
    FileError : too large, not JSON, of another application or a newer format, or with contents that do not hold
        together. Nothing of it is kept then.
    """
    if len(text) > LARGEST_FILE_BYTES:
        raise FileError(f"The project file is larger than {LARGEST_FILE_BYTES // 1024 // 1024} MB.")
    try:
        if isinstance(text, bytes):
            text = text.decode("utf-8")
        data = json.loads(text, parse_constant=_no_constant)
    except UnicodeDecodeError:
        raise FileError("This is not a project file: it is not text.") from None
    except json.JSONDecodeError as error:
        raise FileError(f"The project file is damaged at line {error.lineno}.") from None
    except RecursionError:
        raise FileError("The project file is nested too deeply.") from None
    except ValueError:
        raise FileError("The project file holds a figure with more digits than anything here can have.") from None
    if not isinstance(data, dict) or data.pop("application", None) != "dove-joint":
        raise FileError("This is not a Dove Joint project file.")
    if _depth(data) > _MOST_NESTED:
        raise FileError("The project file is nested too deeply.")
    number = data.get("format")
    if not isinstance(number, int) or number < 1:
        raise FileError("The project file does not say which format it has.")
    if number > FORMAT:
        raise FileError(
            f"The project file has format {number}; this application reads up to {FORMAT}. Update it first."
        )
    project = check(data)
    _meant(project)
    checked_files(project)
    return project


def _meant(project: Project) -> None:
    """Refuse what a file can say but a person cannot have meant: it would be passed over in silence. Raises FileError.

    (What is kept already is not looked at so: whatever became of it, it can be opened.)
    """
    names: set[str] = set()
    for value in project.values:
        try:
            check_name(value.name)
        except FormulaError as error:
            raise FileError(f"The project file names a value badly: {error.message}") from None
        if value.name in names:
            raise FileError(f"The project file has two values called “{value.name}”.")
        names.add(value.name)
    if project.profile and project.used_profile() is None:
        raise FileError(f"The project file rests on a profile “{project.profile}” that it does not hold.")
    profiles = [p.id for p in project.profiles]
    if len(set(profiles)) < len(profiles):
        raise FileError("The project file has two profiles with the same id.")
    named: list[Part | Step | Profile] = [*project.parts, *project.recipe, *project.profiles]
    for text in (project.name, *(x.name for x in named)):
        if any(unicodedata.category(sign) == "Cc" for sign in text):
            raise FileError("The project file has a name with signs in it that cannot be written.")
    for step in project.recipe:
        paths = {path for path, _, _ in compiled_step(step).formulas}
        lost = next((path for path in step.tolerances if path not in paths), None)
        if lost is not None:
            raise FileError(f"The project file puts a tolerance on “{lost}” of {step.id}, which has no such figure.")


def _depth(data: Any) -> int:
    """How deep lists and objects lie within each other, found without recursion."""
    deepest, todo = 0, [(data, 1)]
    while todo:
        item, level = todo.pop()
        deepest = max(deepest, level)
        children = item.values() if isinstance(item, dict) else item if isinstance(item, list) else ()
        todo.extend((child, level + 1) for child in children if isinstance(child, dict | list))
    return deepest


def _whole(step: Step) -> Step:
    """A step with all fields that its kind has now: those that came later take what they were without them."""
    fields = compiled_step(step).fields
    missing = set(type(fields).model_fields) - set(step.fields)
    if not missing:
        return step
    return step.model_copy(update={"fields": {**step.fields, **fields.model_dump(mode="json", include=missing)}})


def check(data: dict[str, Any]) -> Project:
    """A project from its JSON form, with what pydantic cannot see checked too."""
    try:
        project = Project.model_validate(data)
        recipe = [_whole(step) for step in project.recipe]
        if any(new is not old for new, old in zip(recipe, project.recipe, strict=True)):
            project = project.model_copy(update={"recipe": recipe})
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"])
        raise FileError(f"The project file is damaged at “{where}”: {first['msg'].lower()}.") from None
    except CommandError as error:
        raise FileError(f"The project file is damaged: {error.message}") from None
    except DoveError as error:
        raise FileError(error.message) from None
    ids = [
        item.id
        for items in (project.values, project.parts, project.recipe, project.readings, project.views)
        for item in items
    ]
    if len(set(ids)) < len(ids):
        raise FileError("The project file is damaged: two things have the same id.")
    highest = max((int(id.lstrip("abcdefghijklmnopqrstuvwxyz")) for id in ids), default=0)
    if highest >= project.next_id:
        project = project.model_copy(update={"next_id": highest + 1})
    return project


def schema() -> dict[str, Any]:
    """JSON Schema of the project file, the fields of all kinds of steps included."""
    base = Project.model_json_schema()
    definitions = base.setdefault("$defs", {})
    choices = []
    for kind, model in sorted(known_kinds().items()):
        part = model.model_json_schema()
        definitions.update(part.pop("$defs", {}))
        definitions[f"fields.{kind}"] = part
        choices.append(
            {
                "if": {"properties": {"kind": {"const": kind}}},
                "then": {"properties": {"fields": {"$ref": f"#/$defs/fields.{kind}"}}},
            }
        )
    definitions["Step"]["allOf"] = choices
    definitions["Step"]["properties"]["kind"] = {"enum": sorted(known_kinds())}
    base["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    base["title"] = "Dove Joint project file, format 1"
    base["properties"] = {"application": {"const": "dove-joint"}, **base["properties"]}
    base["required"] = ["application", "format", *base.get("required", [])]
    return base
