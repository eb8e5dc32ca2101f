"""The recipe: kinds of step, the order of what depends on what, names and picks, evaluation with reuse."""

from .compare import compare
from .context import StepContext
from .evaluate import Evaluation, ResultCache, StepReport, Superseded, evaluate
from .limits import Dimension, Limiter, LimitStates, dimensions, evaluate_at, uses_of_values
from .links import Link, links, links_report
from .outputs import Grip, JointShape, Mate, PartState, Reach, SketchShape, StepOutput, Turning, Work
from .readings import read, readings_report
from .registry import Choice, FieldSpec, Said, StepKind, all_kinds, each, kind_of, register, said, sentence, wanted

__all__ = [
    "Choice",
    "Dimension",
    "Evaluation",
    "FieldSpec",
    "Grip",
    "JointShape",
    "LimitStates",
    "Link",
    "links",
    "links_report",
    "Limiter",
    "Mate",
    "PartState",
    "Reach",
    "ResultCache",
    "Said",
    "SketchShape",
    "StepContext",
    "StepKind",
    "StepOutput",
    "StepReport",
    "Superseded",
    "Turning",
    "Work",
    "all_kinds",
    "compare",
    "dimensions",
    "each",
    "evaluate",
    "evaluate_at",
    "kind_of",
    "read",
    "readings_report",
    "register",
    "said",
    "uses_of_values",
    "sentence",
    "wanted",
]
