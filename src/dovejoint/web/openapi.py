"""The OpenAPI 3.1 description of the API, made from the shapes; the front end's types are generated from it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.json_schema import models_json_schema

from .. import __version__
from ..core.document.commands import command_schema
from ..core.recipe.picks import all_rules
from ..core.steps.sources import BroughtIn
from . import shapes as s

__all__ = ["describe"]

_ROUTES: list[tuple[str, str, str, type[BaseModel] | None, Any]] = [
    ("get", "/api/kinds", "Kinds of step, fit classes and the default profile", None, s.Kinds),
    ("get", "/api/projects", "All projects", None, [s.SummaryOut]),
    (
        "post",
        "/api/projects",
        "Make a project: empty, from a sample, or as a copy of another",
        s.NewProjectIn,
        s.ProjectState,
    ),
    (
        "post",
        "/api/projects/import",
        "Bring in a project file (the body: its JSON, or a zip of that with the files brought in)",
        None,
        s.ProjectState,
    ),
    ("get", "/api/projects/{id}", "A project", None, s.ProjectState),
    ("delete", "/api/projects/{id}", "Remove a project with its history, for good", None, None),
    ("post", "/api/projects/{id}/commands", "Apply a command", s.CommandIn, s.ProjectState),
    (
        "post",
        "/api/parts",
        "Parts of another project, and what comes with those asked for",
        s.OtherPartsIn,
        s.OtherPartsOut,
    ),
    (
        "post",
        "/api/projects/{id}/bring",
        "Bring in parts of another project, with what they need",
        s.BringIn,
        s.ProjectState,
    ),
    ("post", "/api/projects/{id}/undo", "Take back the last command", s.SeenIn, s.ProjectState),
    ("post", "/api/projects/{id}/redo", "Do again what was taken back", s.SeenIn, s.ProjectState),
    ("get", "/api/projects/{id}/history", "Sentences of the commands that stand", None, None),
    (
        "get",
        "/api/projects/{id}/evaluation",
        "The model; ?upto=STEP as it stood after a step, ?limits=JSON at limits",
        None,
        s.Report,
    ),
    ("post", "/api/projects/{id}/halt", "Stop working out the model; asking for it starts again", None, None),
    ("post", "/api/projects/{id}/preview", "The model after a command that is not recorded", s.PreviewIn, None),
    ("post", "/api/projects/{id}/gauge", "Joints by formula after a command that is not recorded", s.PreviewIn, None),
    (
        "post",
        "/api/projects/{id}/measure",
        "A reading of one thing of the model, or between two",
        s.MeasureIn,
        [s.RowOut],
    ),
    (
        "post",
        "/api/projects/{id}/solve-for",
        "The value that brings a reading to a figure, or why none does",
        s.SolveForIn,
        s.SolveForOut,
    ),
    (
        "post",
        "/api/projects/{id}/hold",
        "The figures that bring a joint's chance to what is asked, or why none does",
        s.HoldIn,
        s.HoldOut,
    ),
    (
        "get",
        "/api/projects/{id}/joints/{joint}/drawing",
        "A joint's halves cut where its gap is least",
        None,
        s.DrawingOut,
    ),
    (
        "get",
        "/api/projects/{id}/apart",
        "By how much each part is moved when the model is pulled wholly apart",
        None,
        s.ApartOut,
    ),
    ("get", "/api/projects/{id}/joints/{joint}/map", "A joint's gap as a map on both its halves", None, s.MapOut),
    ("post", "/api/projects/{id}/say", "A step that is being written, as its sentence", s.SayIn, [s.SegmentOut]),
    ("post", "/api/projects/{id}/begin", "What is most likely meant with a step that is begun", s.BeginIn, s.BeginOut),
    ("post", "/api/projects/{id}/lights", "The things that a pick stands for", s.LightsIn, [s.ThingOut]),
    ("post", "/api/projects/{id}/look", "What of a part would come onto a board", s.LookIn, [BroughtIn]),
    ("post", "/api/projects/{id}/keep", "Cut a step off from a part that it takes whole", s.KeepIn, s.ProjectState),
    (
        "post",
        "/api/projects/{id}/files",
        "Bring in a STEP, STL or 3MF file (the body; ?name=), or an image (?what=image)",
        None,
        s.BroughtFileOut,
    ),
    ("get", "/api/projects/{id}/files/{hash}", "An image that was brought in, as it came", None, None),
    ("post", "/api/projects/{id}/outline", "The outlines in a DXF or SVG file", s.OutlineIn, s.OutlineOut),
    ("post", "/api/projects/{id}/outline/export", "A sketch as a DXF or SVG file", s.OutlineExportIn, None),
    ("post", "/api/projects/{id}/drag", "Where things of a sketch go while one is dragged", s.DragIn, s.DragOut),
    ("post", "/api/projects/{id}/figures", "What formulas of lengths come to", s.FiguresIn, s.FiguresOut),
    ("get", "/api/projects/{id}/picture", "A small picture of its parts (PNG), once they were seen", None, None),
    ("get", "/api/samples", "The sample projects", None, [s.SampleOut]),
    ("get", "/api/samples/{name}/picture", "The same of a sample", None, None),
    (
        "get",
        "/api/projects/{id}/file",
        "The project file: JSON, or a zip of that with the files brought in",
        None,
        None,
    ),
    ("post", "/api/projects/{id}/export", "Parts as STL or STEP; several as a zip", s.ExportIn, None),
    ("get", "/api/catalogue", "Printers, nozzles, materials and coupons to choose from", None, s.CatalogueOut),
    (
        "post",
        "/api/projects/{id}/profile",
        "Another printer, nozzle and material, or settings",
        s.ProfileIn,
        s.ProjectState,
    ),
    (
        "get",
        "/api/projects/{id}/prints",
        "Estimates, features and places of ?parts; with ?places=1 the places alone, at once",
        None,
        s.PrintsOut,
    ),
    ("get", "/api/projects/{id}/layer", "One layer of a part: ?part=ID&layer=N", None, s.LayerOut),
    (
        "post",
        "/api/projects/{id}/joints/{joint}/drawn",
        "Draw the gap at which a joint went well",
        s.DrawnIn,
        s.ProjectState,
    ),
    ("get", "/api/projects/{id}/coupons/{kind}", "A coupon for the project's printer", None, s.CouponOut),
    ("get", "/api/projects/{id}/coupons/{kind}/export", "A coupon as files: ?format=3mf", None, None),
    ("get", "/api/projects/{id}/workshop", "Print diary, revisions, and what was learnt", None, s.WorkshopOut),
    ("post", "/api/projects/{id}/trials", "Print parts or a coupon", s.TrialIn, s.TrialOut),
    ("get", "/api/trials/{trial}", "A print", None, s.TrialOut),
    ("get", "/api/trials/{trial}/best", "The best gap of a joint that was tried at stepped ones", None, s.BestGapOut),
    ("post", "/api/trials/{trial}/stop", "Stop a print under way", None, None),
    ("post", "/api/trials/{trial}/note", "Write a note on a print", s.NoteIn, s.TrialOut),
    ("delete", "/api/trials/{trial}", "Remove a print with its readings and verdicts", None, None),
    ("post", "/api/trials/{trial}/readings", "A reading, typed or by the simulated caliper", s.ReadingIn, s.TrialOut),
    ("post", "/api/trials/{trial}/caliper", "Read all that has no reading yet", None, s.TrialOut),
    ("post", "/api/readings/{reading}", "Leave a reading out, or count it again", s.ReadingStateIn, s.TrialOut),
    ("delete", "/api/readings/{reading}", "Remove a reading", None, s.TrialOut),
    ("post", "/api/projects/{id}/verdicts", "How a joint or a ladder behaved", s.VerdictIn, s.TrialOut),
    ("delete", "/api/verdicts/{verdict}", "Remove a verdict", None, None),
    ("post", "/api/projects/{id}/proposal/accept", "Follow the proposal", s.SeenIn, s.ProjectState),
    ("post", "/api/projects/{id}/proposal/dismiss", "Set the proposal aside, or take it up again", None, None),
    ("post", "/api/projects/{id}/revisions", "Freeze the present state with a note", s.RevisionIn, [s.RevisionOut]),
    ("get", "/api/projects/{id}/compare", "Two states side by side: ?from=1&to=now", None, s.CompareOut),
    ("get", "/api/projects/{id}/revisions/{number}/evaluation", "The model as it was frozen", None, s.Report),
    ("post", "/api/projects/{id}/revisions/{number}/restore", "Go back to a revision", s.RestoreIn, s.ProjectState),
    ("get", "/api/mesh/{hash}", "A mesh blob, immutable", None, None),
    ("get", "/api/events", "Server-sent events of ?project=ID, or of all: document, progress, evaluation", None, None),
    ("get", "/api/events/since", "The events after ?after=NUMBER, at once", None, None),
]


def describe() -> dict[str, Any]:
    """The description as plain data."""
    models: dict[Any, Any] = {s.Problem: "serialization"}
    for _, _, _, body, answer in _ROUTES:
        # what has a default may be left out of a question, and is always there in an answer
        if body is not None:
            models[body] = "validation"
        if answer is not None:
            models.setdefault(answer[0] if isinstance(answer, list) else answer, "serialization")
    _, top = models_json_schema(list(models.items()), ref_template="#/components/schemas/{model}")
    schemas = top["$defs"]
    commands = command_schema()
    schemas.update(commands.pop("$defs", {}))
    schemas["Command"] = commands
    _, picks = models_json_schema(
        [(rule.model, "validation") for rule in all_rules()], ref_template="#/components/schemas/{model}"
    )
    schemas.update({name: schema for name, schema in picks["$defs"].items() if name not in schemas})
    by_rule = {rule.rule: f"#/components/schemas/{rule.model.__name__}" for rule in all_rules()}
    schemas["Pick"] = {
        "oneOf": [{"$ref": ref} for ref in by_rule.values()],
        "discriminator": {"propertyName": "rule", "mapping": by_rule},
    }
    paths: dict[str, Any] = {}
    for method, path, summary, body, answer in _ROUTES:
        names = [p[1:-1] for p in path.split("/") if p.startswith("{")]
        operation: dict[str, Any] = {
            "summary": summary,
            "parameters": [{"name": n, "in": "path", "required": True, "schema": {"type": "string"}} for n in names],
            "responses": {
                "200": {"description": "done", **_content(answer)},
                "default": {"description": "refused", **_content(s.Problem, "application/problem+json")},
            },
        }
        if body is not None:
            operation["requestBody"] = {"required": True, **_content(body)}
        paths.setdefault(path, {})[method] = operation
    return {
        "openapi": "3.1.0",
        "info": {"title": "Dove Joint", "version": __version__},
        "paths": paths,
        "components": {"schemas": schemas},
    }


def _content(model: Any, media: str = "application/json") -> dict[str, Any]:
    if model is None:
        return {}
    many = isinstance(model, list)
    reference = {"$ref": f"#/components/schemas/{(model[0] if many else model).__name__}"}
    return {"content": {media: {"schema": {"type": "array", "items": reference} if many else reference}}}
