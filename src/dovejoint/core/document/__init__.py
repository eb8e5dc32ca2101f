"""The project document: what the user said, the commands that change it, and its open file form."""

from . import bringing as _bringing  # registers its command
from . import plan as _plan  # registers its commands
from .bundle import Bundle, bundled, unbundled
from .commands import Command, Outcome, apply, command_from
from .fields import StepFields, field_model, register_fields
from .file import FORMAT, dump, load, new_project, schema
from .model import Part, PrintSettings, Profile, Project, Reading, Step, Value
from .picks import EdgePick, FacePick, FlatFace, PlanePick, RegionPick, Seen, SeenFace, ThingPick

_ = (_bringing, _plan)

__all__ = [
    "FORMAT",
    "Bundle",
    "Command",
    "EdgePick",
    "FacePick",
    "FlatFace",
    "Outcome",
    "Part",
    "PlanePick",
    "PrintSettings",
    "Profile",
    "Project",
    "Reading",
    "RegionPick",
    "Seen",
    "SeenFace",
    "Step",
    "StepFields",
    "ThingPick",
    "Value",
    "apply",
    "bundled",
    "command_from",
    "dump",
    "field_model",
    "load",
    "new_project",
    "register_fields",
    "schema",
    "unbundled",
]
