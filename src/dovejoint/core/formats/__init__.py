"""Files out (STL, 3MF, STEP, DXF, SVG), outlines in, and the JSON report that the API, the command line and the documentation share."""

from .export import EXPORT_FORMATS, ExportedFile, export_parts, file_name
from .outline_in import read_outline
from .outline_out import OUTLINE_TYPES, outline_file
from .report import build_report, frame_report, kinds_report, part_blob, picks_report, sketch_report, things_report

__all__ = [
    "EXPORT_FORMATS",
    "OUTLINE_TYPES",
    "ExportedFile",
    "build_report",
    "export_parts",
    "file_name",
    "kinds_report",
    "outline_file",
    "part_blob",
    "picks_report",
    "read_outline",
    "frame_report",
    "sketch_report",
    "things_report",
]
