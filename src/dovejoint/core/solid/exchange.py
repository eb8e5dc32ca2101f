"""STEP files with names and colours (ISO 10303-21, AP 214, by the kernel's own writer; header and strings by us)."""

from __future__ import annotations

import itertools
import re
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
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorSurf, XCAFDoc_DocumentTool

from ... import __version__
from ..errors import FileError
from .mass import volume
from .named import NamedSolid

__all__ = ["read_step", "write_step"]


def _document() -> Any:
    return TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))


_TIMELESS = "2000-01-01T00:00:00"
_NOT_ASCII = re.compile("[^\\x00-\\x7f]+")
_HEADER = re.compile(rb"FILE_DESCRIPTION\(.*?(?=FILE_SCHEMA)", re.S)


def write_step(
    parts: Sequence[tuple[str, str, NamedSolid]], title: str = "", moment: str = "", groups: Sequence[str] = ()
) -> bytes:
    """A STEP file (ISO 10303-21, AP 214) in millimetres of parts given as ``(name, colour "#rrggbb", solid)``.

    Parameters
    ----------
    title : what its header says it is of, the project's name.
    moment : when it was made, as ISO 8601 has it; by itself the same parts give the same bytes.
    groups : for each part what it belongs to (empty: to nothing); parts of one group become one assembly of that name, which has them as components.
    """
    document = _document()
    shapes = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colours = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    assemblies: dict[str, Any] = {}
    for (name, colour, solid), group in zip(parts, [*groups, *[""] * (len(parts) - len(groups))], strict=True):
        label = shapes.AddShape(solid.shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name, True))
        if group:
            if group not in assemblies:
                assemblies[group] = shapes.NewShape()
                TDataStd_Name.Set_s(assemblies[group], TCollection_ExtendedString(group, True))
            component = shapes.AddComponent(assemblies[group], label, TopLoc_Location())
            TDataStd_Name.Set_s(component, TCollection_ExtendedString(name, True))
        red, green, blue = (int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5))
        colours.SetColor(label, Quantity_Color(red, green, blue, Quantity_TOC_sRGB), XCAFDoc_ColorSurf)
    shapes.UpdateAssemblies()
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer = STEPCAFControl_Writer()
    writer.SetColorMode(True)
    writer.SetNameMode(True)
    if not writer.Transfer(document):
        raise FileError("The parts could not be written as STEP.")
    out = BytesIO()
    if writer.WriteStream(out) != IFSelect_RetDone:
        raise FileError("The parts could not be written as STEP.")
    about = ", ".join(name for name, _, _ in parts)
    header = (
        f"FILE_DESCRIPTION(({_string(title or about)}),'2;1');\n"
        f"FILE_NAME({_string(about)},'{moment or _TIMELESS}',(''),(''),{_string(f'Dove Joint {__version__}')},'Dove Joint','');\n"
    )
    text = _HEADER.sub(lambda _: header.encode(), out.getvalue(), count=1).decode()
    return _NOT_ASCII.sub(lambda run: _escaped(run[0]), text).encode("ascii")


def _string(text: str) -> str:
    """A string as the standard writes it: in apostrophes, those within it twice, and backslashes too; no longer than most readers take."""
    return "'" + text[:200].replace("\\", "\\\\").replace("'", "''") + "'"


def _escaped(text: str) -> str:
    """Signs outside of ASCII, by ISO 10303-21, 6.4.3: those of the basic plane by four digits each, others by eight."""
    out = ""
    for wide, run in itertools.groupby(text, lambda sign: ord(sign) > 0xFFFF):
        out += f"\\X{4 if wide else 2}\\" + "".join(f"{ord(s):0{8 if wide else 4}X}" for s in run) + "\\X0\\"
    return out


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
