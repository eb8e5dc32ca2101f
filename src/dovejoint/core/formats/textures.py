"""Images that lie on faces, as textures of a mesh: for formats that can carry them."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from ..document import Project
from ..document.files import unpack
from ..image import image_of
from ..recipe import Evaluation
from .threemf import Texture

__all__ = ["textures_of"]


def textures_of(
    project: Project,
    evaluation: Evaluation,
    part: str,
    positions: NDArray[np.float64],
    triangles: NDArray[np.uint32],
    faces: Sequence[tuple[int, int]],
) -> tuple[Texture, ...]:
    """The images on a part: PNG and JPEG as they came (a drawing is neither; a colour that was made clear stays as it is).

    Parameters
    ----------
    positions, triangles, faces : its mesh as modelled, mm; ``faces`` holds ``(first triangle, count)`` for each face of its solid.
    """
    out = []
    state = evaluation.parts.get(part)
    for made in evaluation.made.values():
        decal = made.decal
        if decal is None or decal.part != part or state is None or decal.file not in project.files:
            continue
        image = unpack(project.files[decal.file])
        kind = image_of(image).kind
        if kind == "svg":
            continue
        mine = [np.arange(first, first + count) for first, count in (faces[i] for i in state.solid.find(decal.face))]
        if not mine:
            continue
        numbers = np.concatenate(mine)
        away = positions[triangles[numbers]] - np.array(decal.frame.origin)
        u = away @ np.array(decal.frame.x) / decal.wide_mm + 0.5
        v = away @ np.array(decal.frame.y) / decal.high_mm + 0.5
        out.append(Texture(image, kind, numbers, np.stack([u, v], axis=-1)))
    return tuple(out)
