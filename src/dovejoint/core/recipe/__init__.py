"""The recipe: kinds of step, the order of what depends on what, names and picks, evaluation with reuse."""

from .context import StepContext
from .evaluate import Evaluation, ResultCache, StepReport, Superseded, evaluate
from .outputs import JointShape, PartState, SketchShape, StepOutput
from .readings import read, readings_report
from .registry import Choice, FieldSpec, Said, StepKind, all_kinds, kind_of, register, said, sentence

__all__ = [
    "Choice",
    "Evaluation",
    "FieldSpec",
    "JointShape",
    "PartState",
    "ResultCache",
    "Said",
    "SketchShape",
    "StepContext",
    "StepKind",
    "StepOutput",
    "StepReport",
    "Superseded",
    "all_kinds",
    "evaluate",
    "kind_of",
    "read",
    "readings_report",
    "read",
    "readings_report",
    "register",
    "said",
    "sentence",
]
