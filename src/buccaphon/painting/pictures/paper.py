"""Pages on paper, as PDF (ISO 32000): sizes, margins and fonts of all that is printed."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF
from PyQt6.QtGui import QFont, QPageLayout, QPageSize, QPainter, QPdfWriter

from buccaphon.formats.pictures import Paper
from buccaphon.painting.artwork.pixels import painting_on
from buccaphon.painting.theme import sans, serif

_DPI = 600
MM = _DPI / 25.4
_PAPERS = {Paper.A4: QPageSize.PageSizeId.A4, Paper.LETTER: QPageSize.PageSizeId.Letter}


def pdf(title: str, paper: Paper, paint: Callable[[QPdfWriter, QPainter], None]) -> bytes:
    """What is painted, page by page, upright, with 10 mm of margin. The application must exist, for its fonts."""
    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(_DPI)
    writer.setTitle(title)
    writer.setCreator("Buccaphon")
    margins = QMarginsF(10, 10, 10, 10)
    size, along = QPageSize(_PAPERS[paper]), QPageLayout.Orientation.Portrait
    writer.setPageLayout(QPageLayout(size, along, margins, QPageLayout.Unit.Millimeter))
    with painting_on(writer) as painter:
        paint(writer, painter)
    buffer.close()
    return data.data()


@lru_cache(maxsize=20)
def print_font(points: float, *, bold: bool = False, words: bool = False) -> QFont:
    """Without letters that run together: those have no letter of their own in the PDF, and could not be searched for."""
    font = QFont(serif(12) if words else sans(12))
    font.setPointSizeF(points)
    font.setBold(bold)
    for feature in ("calt", "liga", "tnum"):
        font.setFeature(QFont.Tag(feature.encode()), 0)
    return font
