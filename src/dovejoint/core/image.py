"""What kind of image a file is and how large, from its head: PNG (ISO/IEC 15948), JPEG (ISO/IEC 10918-1) and SVG. Nothing is decoded here."""

from __future__ import annotations

import re
import struct
from dataclasses import dataclass
from typing import Literal

import defusedxml.ElementTree as Defused
from defusedxml.common import DefusedXmlException

from .errors import FileError
from .quantities import plain

__all__ = ["ImageInfo", "image_of"]

#: an image is no wider and no higher than this, px: more is no help on a part, and costs memory where it is drawn
MOST_PX = 8192


@dataclass(frozen=True)
class ImageInfo:
    """Kind, media type, width and height (px; of an SVG in its own units)."""

    kind: Literal["png", "jpeg", "svg"]
    media: str
    wide: float
    high: float


def image_of(data: bytes) -> ImageInfo:
    """Read the head of an image. Raises FileError where it is none of the three kinds, damaged, or too large."""
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        found = _png(data)
    elif data.startswith(b"\xff\xd8"):
        found = _jpeg(data)
    elif b"<svg" in data[:4096].lower():
        found = _svg(data)
    else:
        raise FileError("That is no PNG, JPEG or SVG picture.")
    if not (0 < found.wide <= MOST_PX and 0 < found.high <= MOST_PX):
        raise FileError(
            f"A picture is 1 to {MOST_PX} pixels wide and high; this one is {plain(found.wide)} by {plain(found.high)}."
        )
    return found


def _png(data: bytes) -> ImageInfo:
    if len(data) < 24 or data[12:16] != b"IHDR":
        raise FileError("That PNG picture is damaged.")
    wide, high = struct.unpack(">II", data[16:24])
    return ImageInfo("png", "image/png", wide, high)


def _jpeg(data: bytes) -> ImageInfo:
    """Its frame header: a marker SOF0 to SOF15 but the three that are tables (B.2.2)."""
    at = 2
    while at + 9 <= len(data) and data[at] == 0xFF:
        marker = data[at + 1]
        if marker == 0xFF:
            at += 1
            continue
        if 0xC0 <= marker <= 0xCF and marker not in (0xC4, 0xC8, 0xCC):
            high, wide = struct.unpack(">HH", data[at + 5 : at + 9])
            return ImageInfo("jpeg", "image/jpeg", wide, high)
        size = struct.unpack(">H", data[at + 2 : at + 4])[0]
        at += 2 + size
    raise FileError("That JPEG picture is damaged.")


def _svg(data: bytes) -> ImageInfo:
    """Its sides: ``width`` and ``height``, or else those of its ``viewBox``."""
    try:
        root = Defused.fromstring(data.decode("utf-8"), forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except (UnicodeDecodeError, Defused.ParseError, DefusedXmlException):
        raise FileError("That SVG picture is damaged, or speaks of things outside it.") from None
    if root.tag.rpartition("}")[2] != "svg":
        raise FileError("That is no PNG, JPEG or SVG picture.")
    sides = [_length(root.get(name, "")) for name in ("width", "height")]
    box = re.findall(r"[-+.\deE]+", root.get("viewBox", ""))
    if None in sides and len(box) == 4:
        sides = [_length(box[2]), _length(box[3])]
    wide, high = sides
    if wide is None or high is None:
        raise FileError("That SVG picture does not say how wide and high it is.")
    return ImageInfo("svg", "image/svg+xml", wide, high)


def _length(text: str) -> float | None:
    found = re.fullmatch(r"\s*(\d*\.?\d+(?:[eE][-+]?\d+)?)\s*(px|pt|pc|mm|cm|in|em)?\s*", text)
    return float(found.group(1)) if found else None
