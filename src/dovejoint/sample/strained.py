"""A worked example of a twisted core in the shell that it was cut out of: both of one surface, a gap apart."""

from __future__ import annotations

import math

from ..core.document import Project
from .builds import FRONT, GROUND, UPRIGHT
from .making import Drawing, Making

__all__ = ["make_twist_core"]


def make_twist_core() -> Project:
    """The strainer of the rain gauge's funnel: a tapered plug, a core of six twisted lobes cut out of it, set in by a gap."""
    making = Making("Strainer in the rain funnel")
    do = making.do
    for name, formula in (
        ("mouth", "38 mm"), ("foot", "25 mm"), ("tall", "30 mm"), ("tip", "19 mm"), ("root", "9.6 mm"), ("lobe", "1.6 mm"), ("twist", "280 deg"), ("gap", "0.25 mm"),
    ):  # fmt: skip
        do("AddValue", name=name, formula=formula)
    profile = Drawing(making, "plug profile", plane=FRONT)
    low, axis, top = profile.path((12.5, 0), (0, 0), (0, 30), (19, 30))
    start, origin = profile.points(low)
    made = profile.do("DrawSpline", spots=[{"at": (12.5, 0), "on": start}, {"at": (19, 30), "on": profile.points(top)[1]}])  # fmt: skip
    _, low_pole, high_pole, _ = profile.points(next(m for m in made if m.startswith("s")))
    profile.do("TieSketch", kind="coincident", of=[origin, "origin"])
    profile.do("SizeSketch", kind="length", of=[low], formula="foot / 2")
    profile.do("SizeSketch", kind="length", of=[axis], formula="tall")
    profile.do("SizeSketch", kind="length", of=[top], formula="mouth / 2")
    # the flank rises straight from the foot, and opens towards the mouth
    for pole, across, high in ((low_pole, "foot / 2", "tall / 2"), (high_pole, "foot / 2 + 1 mm", "3 * tall / 4")):
        profile.do("SizeSketch", kind="distance_x", of=["origin", pole], formula=across)
        profile.do("SizeSketch", kind="distance_y", of=["origin", pole], formula=high)
    (shaped, shell) = do("AddStep", kind="revolve", name="plug", new_part={"name": "Strainer shell"}, fields={"profile": {"rule": "regions", "step": profile.step}, "axis": UPRIGHT})  # fmt: skip
    board = Drawing(making, "six lobes", plane=GROUND)
    r, tip, small = 4.8, 9.5, 1.6
    made = board.do("DrawCircle", centre=(0, 0), on="origin", radius=r, diameter="root")
    circle = next(m for m in made if m.startswith("c"))
    board.do("ConstructSketch", ids=[circle], on=True)
    (ray,) = board.path((0, 0), (tip, 0), construction=True)
    board.do("TieSketch", kind="coincident", of=[board.points(ray)[0], "origin"])
    board.do("SizeSketch", kind="length", of=[ray], formula="tip / 2")
    (valley,) = board.path((0, 0), (r * math.cos(math.pi / 6), r * math.sin(math.pi / 6)), start=board.points(ray)[0], construction=True)  # fmt: skip
    made = board.do("DrawArcAbout", centre={"at": (tip - small, 0), "lies": "point_on", "curve": ray}, start={"at": (tip, 0), "on": board.points(ray)[1]}, towards=(tip - small, small))  # fmt: skip
    arc = next(m for m in made if m.startswith("a"))
    made = board.do("DrawSpline", spots=[{"at": (tip - small, small), "on": board.points(arc)[2]}, {"at": (r * math.cos(math.pi / 6), r * math.sin(math.pi / 6)), "on": board.points(valley)[1]}])  # fmt: skip
    spline = next(m for m in made if m.startswith("s"))
    board.do("SizeSketch", kind="radius", of=[arc], formula="lobe")
    board.do("SizeSketch", kind="length", of=[valley], formula="root / 2")
    board.do("SizeSketch", kind="angle", of=[ray, valley], formula="30 deg")
    centre, _, end = board.points(arc)
    board.do("TieSketch", kind="vertical", of=[centre, end])
    first, one, other, last = board.points(spline)
    board.do("SizeSketch", kind="distance", of=[first, one], formula="lobe")
    board.do("SizeSketch", kind="distance", of=[other, last], formula="lobe / 2")
    board.do("TieSketch", kind="tangent", of=[arc, spline])
    board.do("TieSketch", kind="tangent", of=[circle, spline])
    board.do("MirrorSketch", ids=[arc, spline], axis=ray)
    half = [c.id for c in board.sketch.curves if not c.construction]
    board.do("RingSketch", ids=half, centre="origin", count=6)
    line = Drawing(making, "twist axis", plane=FRONT)
    (run,) = line.path((0, 0), (0, 30))
    line.do("TieSketch", kind="coincident", of=[line.points(run)[0], "origin"])
    line.do("SizeSketch", kind="length", of=[run], formula="tall")
    fields = {"profile": {"rule": "regions", "step": board.step}, "path": {"rule": "path_sketch", "step": line.step}, "twist": "twist"}  # fmt: skip
    swept, core = do("AddStep", kind="sweep", name="twisted lobes", new_part={"name": "Strainer core"}, fields=fields)
    do("SetChapter", step=swept, title="Core and shell", note="The shell is cut with the very core that goes into it, so both come of one surface; then the core is set in, square to that surface, by the gap.")  # fmt: skip
    do("AddStep", kind="between", name="core out of shell", fields={"work": "cut", "part": shell, "other": core})
    names = [f"{swept}/side({c.id})" for c in board.sketch.curves if not c.construction]
    faces = [{"name": name, "seen": {"kind": "bsplinesurface", "label": "twisted side"}} for name in names]
    do("AddStep", kind="push", name="gap all along", fields={"faces": {"rule": "faces", "part": core, "faces": faces}, "way": "in", "distance": "gap"})  # fmt: skip
    do("EditPart", part=core, colour="#c9a66b")
    return making.project
