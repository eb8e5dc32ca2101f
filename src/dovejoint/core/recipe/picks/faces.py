"""Faces: one flat one, one round side, one of any shape, any number, or all that a step made."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...document.picks import FacesOfStep, FacesPicked, FlatFace
from ..names import find_face, find_faces, picked_parts
from .kind import Namer, PickKind, PickRule, Pointing, Thing, register_pick

if TYPE_CHECKING:
    from ..context import StepContext

__all__: list[str] = []


def _flat_words(namer: Namer, pick: FlatFace) -> str:
    return namer.thing(pick.face, pick.part, "a face")


def _flat_lights(ctx: StepContext, pick: FlatFace) -> list[Thing]:
    part = ctx.part(pick.part)
    # the pieces of a plane that a cut went through all belong to it
    found = part.solid.find(pick.face.name) or [find_face(part, pick.face)]
    return [Thing("face", pick.part, index=i) for i in found]


def _faces_words(namer: Namer, pick: FacesPicked) -> str:
    if len(pick.faces) == 1:
        return namer.thing(pick.faces[0], pick.part, "a face")
    return f"{len(pick.faces)} faces of {' and '.join(namer.part(p) for p in picked_parts(pick))}"


def _faces_lights(ctx: StepContext, pick: FacesPicked | FacesOfStep) -> list[Thing]:
    return [Thing("face", p, index=i) for p in picked_parts(pick) for i in find_faces(ctx.part(p), pick, p)]


#: what faces of a role are called together
_ALIKE = {
    "": "faces",
    "side": "sides",
    "inner": "inner walls",
    "fillet": "roundings",
    "chamfer": "bevels",
    "hole": "bores",
}


def _of_step_words(namer: Namer, pick: FacesOfStep) -> str:
    return f"all {_ALIKE.get(pick.role, 'faces of a kind')} that {namer.step(pick.step, 'the work')} made on {namer.part(pick.part)}"


register_pick(
    PickKind("face", "Point at a flat face.", ("flat",), (Pointing("face", "flat", "face", only=("plane",)),)),
    PickRule("flat", FlatFace, _flat_words, _flat_lights),
)
register_pick(PickKind("any_face", "Point at a face of any shape.", ("flat",), (Pointing("face", "flat", "face"),)))
register_pick(
    PickKind(
        "rim",
        "Point at the rim round an opening.",
        ("flat",),
        (Pointing("face", "flat", "face", only=("plane",), loops=2),),
    )
)
register_pick(
    PickKind("side", "Point at a round side.", ("flat",), (Pointing("face", "flat", "face", only=("cylinder",)),))
)
register_pick(
    PickKind(
        "bore", "Point at a round bore.", ("flat",), (Pointing("face", "flat", "face", only=("hollow cylinder",)),)
    )
)
register_pick(
    PickKind(
        "round",
        "Point at the round side of a shaft, or at a bore.",
        ("flat",),
        (Pointing("face", "flat", "face", only=("cylinder",)),),
    )
)
register_pick(
    PickKind(
        "shaft",
        "Point at the round side of a shaft.",
        ("flat",),
        (Pointing("face", "flat", "face", only=("full cylinder",)),),
    )
)
register_pick(
    PickKind(
        "faces",
        "Point at faces; once more takes one back.",
        ("faces", "faces_of_step"),
        (Pointing("face", "faces", "faces", many=True, alike="faces_of_step"),),
    ),
    PickRule("faces", FacesPicked, _faces_words, _faces_lights),
    PickRule("faces_of_step", FacesOfStep, _of_step_words, _faces_lights),
)
