"""A full round: a flat strip between two flat sides becomes the cylinder that touches all three."""

from __future__ import annotations

import math

import numpy as np

from ..errors import StepError
from .combine import cut
from .facename import as_part
from .frame import Frame, cross, dot, scale, sub, unit
from .info import FaceInfo
from .make import prism
from .measure import describe_edges, describe_faces
from .named import NamedSolid
from .outline import Arc, Curve, Line
from .regions import region_between, region_of_face

__all__ = ["rounded_over"]

ALIKE = 1e-9


def rounded_over(solid: NamedSolid, face: int, step: str) -> NamedSolid:
    """Round a flat face (0-based) over from the flat side on its one long edge to that on the other.

    The cylinder's middle lies as deep within the three planes as its radius: ``n·c + r = h`` for each, three linear equations for ``c`` (in the
    plane across the strip) and ``r``. What lies between it and the three planes is cut away. The new face is ``step/round(face)``.

    Raises
    ------
    StepError : it is no flat strip between two flat sides that run along it, or the cylinder does not touch it within its width.
    """
    infos, edges = describe_faces(solid), describe_edges(solid)
    if infos[face].kind != "plane":
        raise StepError("Rounded over is a flat face between two flat sides; the one picked is round.")
    sides = sorted(
        ((e.length_mm, b if a == face else a, e.direction) for e in edges for a, b in (e.faces,) if face in (a, b) and e.kind == "line" and e.convex and a != b),
        reverse=True,
    )  # fmt: skip
    if len(sides) < 2 or abs(dot(sides[0][2], sides[1][2])) < 1 - ALIKE or sides[0][1] == sides[1][1]:
        raise StepError("Rounded over is a strip with a long straight edge on either side; this face has none.")
    (_, one, along), (_, other, _) = sides[:2]
    if infos[one].kind != "plane" or infos[other].kind != "plane":
        raise StepError("The sides of the strip must be flat; one of them is round.")
    top, left, right = infos[face], infos[one], infos[other]
    # across the strip and up from it: x towards the one side
    x = unit(cross(along, top.normal))
    x = x if dot(x, left.normal) > dot(x, right.normal) else scale(x, -1.0)
    across = Frame(top.at, x, top.normal)

    def flat(info: FaceInfo) -> tuple[tuple[float, float], float]:
        normal = (dot(info.normal, across.x), dot(info.normal, across.y))
        return normal, dot(sub(info.at, across.origin), info.normal)

    planes = [flat(info) for info in (left, top, right)]
    rows = np.array([[nx, ny, 1.0] for (nx, ny), _ in planes])
    if abs(np.linalg.det(rows)) < 1e-9:
        raise StepError("No cylinder touches the strip and both its sides; they open too wide.")
    cx, cy, radius = (float(v) for v in np.linalg.solve(rows, np.array([h for _, h in planes])))
    touch = [(cx + radius * nx, cy + radius * ny) for (nx, ny), _ in planes]
    corners = [_meet(planes[0], planes[1]), _meet(planes[1], planes[2])]
    if radius < 1e-4 or not corners[1][0] - 1e-6 <= touch[1][0] <= corners[0][0] + 1e-6:
        raise StepError(
            "The cylinder that touches the strip and both its sides lies beside it; draw the sides nearer to each other."
        )
    flat_frame, (region,) = region_of_face(solid, face)
    along_mm = [dot(sub(flat_frame.to_world(*p), across.origin), across.z) for loop in region.loops for p in loop]
    name = as_part(solid.names[face][0])
    tools = []
    # the first lies on the one side, right of the middle; both go round it counter-clockwise from the right to the left
    for k, (start, corner, end) in enumerate(((touch[0], corners[0], touch[1]), (touch[1], corners[1], touch[2]))):
        if math.dist(start, corner) < 1e-6 or math.dist(corner, end) < 1e-6:
            continue
        loop: list[Curve] = [
            Line(f"a{k}", start, corner),
            Line(f"b{k}", corner, end),
            Arc("round", (cx, cy), radius, end, start, clockwise=True),
        ]
        tools.append(
            prism(region_between(f"beyond{k}", loop), across, min(along_mm), max(along_mm), step, f"{k}", check=False)
        )
    tools = [t.renamed(lambda n: f"{step}/round({name})" if n == f"{step}/side(round)" else n) for t in tools]
    return cut(solid, tools, step)


def _meet(one: tuple[tuple[float, float], float], other: tuple[tuple[float, float], float]) -> tuple[float, float]:
    """Where two lines ``n·p = h`` of a plane meet."""
    found = np.linalg.solve(np.array([one[0], other[0]]), np.array([one[1], other[1]]))
    return float(found[0]), float(found[1])
