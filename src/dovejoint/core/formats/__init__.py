"""Files out (STL, 3MF, STEP) and the JSON report that the API, the command line and the documentation share."""

from .export import EXPORT_FORMATS, ExportedFile, export_parts, file_name
from .report import build_report, kinds_report, part_blob, sketch_report

__all__ = [
    "EXPORT_FORMATS",
    "ExportedFile",
    "build_report",
    "export_parts",
    "file_name",
    "kinds_report",
    "part_blob",
    "sketch_report",
]
