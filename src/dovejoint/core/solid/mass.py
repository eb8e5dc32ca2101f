"""Volume, centre and area by the kernel's integrals, exact where faces are elementary and adaptive elsewhere."""

from __future__ import annotations

from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from .frame import Vec3
from .kernel import FACE, BRepAdaptor_Surface, Shape, subshapes, vec

__all__ = ["face_area", "mass", "surface_kind", "volume"]

_EXACT = {"plane", "cylinder", "cone", "sphere", "torus"}


def surface_kind(face: Shape) -> str:
    return str(BRepAdaptor_Surface(face).GetType().name).removeprefix("GeomAbs_").lower()


def mass(shape: Shape) -> tuple[float, Vec3]:
    """Volume in mm³ and its centre. Adaptive where a face is not elementary (the plain integration is off there)."""
    props = GProp_GProps()
    if all(surface_kind(f) in _EXACT for f in subshapes(shape, FACE)):
        BRepGProp.VolumeProperties_s(shape, props)
    else:
        BRepGProp.VolumeProperties_s(shape, props, 1e-5)
    return float(props.Mass()), vec(props.CentreOfMass())


def volume(shape: Shape) -> float:
    """Volume in mm³."""
    return mass(shape)[0]


def face_area(face: Shape, kind: str) -> tuple[float, Vec3]:
    """Area in mm² and its centre, adaptive like :func:`mass`."""
    props = GProp_GProps()
    if kind in _EXACT:
        BRepGProp.SurfaceProperties_s(face, props)
    else:
        BRepGProp.SurfaceProperties_s(face, props, 1e-5)
    return abs(float(props.Mass())), vec(props.CentreOfMass())
