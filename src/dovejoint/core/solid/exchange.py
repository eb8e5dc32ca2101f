"""STEP files with names and colours (ISO 10303-242 by the kernel's own writer)."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO
from typing import Any

from OCP.collections import Sequence_TDF_Label
from OCP.IFSelect import IFSelect_RetDone
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TOC_sRGB
from OCP.STEPCAFControl import STEPCAFControl_Reader, STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from ..errors import FileError
from .mass import volume
from .named import NamedSolid

__all__ = ["read_step", "write_step"]


def _document() -> Any:
    return TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))


def write_step(parts: Sequence[tuple[str, str, NamedSolid]]) -> bytes:
    """A STEP file in millimetres of parts given as ``(name, colour "#rrggbb", solid)``."""
    document = _document()
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    for name, colour, solid in parts:
        label = shapes.AddShape(solid.shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name))
        red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
        colours.SetColor(label, Quantity_Color(red, green, blue, Quantity_TOC_sRGB), XCAFDoc_ColorSurf)
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer = STEPCAFControl_Writer()
    writer.SetColorMode(True)
    writer.SetNameMode(True)
    if not writer.Transfer(document):
        raise FileError("The parts could not be written as STEP.")
    out = BytesIO()
    if writer.WriteStream(out) != IFSelect_RetDone:
        raise FileError("The parts could not be written as STEP.")
    return out.getvalue()


def read_step(data: bytes) -> list[tuple[str, float]]:
    """Names and volumes (mm³) of the parts in a STEP file: what our own files are checked with.

    Raises
    ------
    FileError : not a STEP file, or a damaged one. (The kernel crashes when asked to go on after that.)
    """
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    if not data.startswith(b"ISO-10303-21") or reader.ReadStream("part.step", BytesIO(data)) != IFSelect_RetDone:
        raise FileError("This is not a STEP file, or it is damaged.")
    document = _document()
    if not reader.Transfer(document):
        raise FileError("The STEP file holds no shape.")
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    labels = Sequence_TDF_Label()
    tool.GetFreeShapes(labels)
    found = []
    for i in range(1, labels.Length() + 1):
        label = labels.Value(i)
        name = TDataStd_Name()
        text = name.Get().ToExtString() if label.FindAttribute(TDataStd_Name.GetID_s(), name) else ""
        found.append((text, volume(tool.GetShape_s(label))))
    return found
