"""The sheet on paper: pages of two columns of frames, as PDF (ISO 32000)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import (
    QColor,
    QFont,
    QFontMetricsF,
    QPainter,
    QPdfWriter,
    QPen,
    QPolygonF,
)

from buccaphon.arrays import Floats
from buccaphon.audio.peaks import Peaks
from buccaphon.formats.delivery import Delivery
from buccaphon.formats.out.sheet import SheetRow, sheet_rows
from buccaphon.formats.pictures import Paper
from buccaphon.motion.record import Bake
from buccaphon.mouths.chart import Mouth
from buccaphon.painting.pictures.paper import MM, pdf, print_font
from buccaphon.texts import _

_COLUMNS = 2
_ROWS = 48  # frames of a column
_HEAD, _FOOT, _BETWEEN = 16 * MM, 14 * MM, 6 * MM
_PARTS = (
    ("frame", 0.11),
    ("sound", 0.12),
    ("word", 0.19),
    ("sounds", 0.11),
    ("mouth", 0.25),
    ("jaw", 0.08),
    ("note", 0.14),
)
_SHORT = 6  # letters that there is always room for
_FINE = 4  # peaks a frame
_INK, _SOFT, _PALE = QColor("#222"), QColor("#777"), QColor("#b8a0b0")
_WHOLE, _HALF, _THIN = QPen(_INK, 0.5 * MM), QPen(_SOFT, 0.22 * MM), QPen(_SOFT, 0.08 * MM)
_LEFT = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
_RIGHT = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
_ONE_LINE = int(Qt.TextFlag.TextSingleLine)


@dataclass(frozen=True, slots=True)
class Print:
    """What is printed and how. mouth: draws one in a box. take: what it is called. feet: whether there is a thick line every
    foot of 35 mm film, instead of each second."""

    delivery: Delivery
    peaks: Peaks
    mouth: Callable[[QPainter, Mouth, QRectF], None]
    take: str = ""
    paper: Paper = Paper.A4
    feet: bool = False


def sheet_pdf(printed: Print) -> bytes:
    """The sheet of the part that is used. The application must exist, for its fonts."""

    def paint(writer: QPdfWriter, painter: QPainter) -> None:
        sheet = _Sheet(printed, writer, painter)
        for page in range(sheet.pages):
            if page:
                writer.newPage()
            sheet.paint(page)

    return pdf(f"{printed.delivery.title}: exposure sheet", printed.paper, paint)


class _Sheet:
    """What all pages share."""

    def __init__(self, printed: Print, writer: QPdfWriter, painter: QPainter) -> None:
        bake = printed.delivery.bake
        assert bake is not None
        self.printed, self.writer, self.painter, self.bake = printed, writer, painter, bake
        self.rows = list(sheet_rows(printed.delivery))
        self.pages = max(-(-len(self.rows) // (_ROWS * _COLUMNS)), 1)
        self.width, self.height = float(writer.width()), float(writer.height())
        self.column = (self.width - (_COLUMNS - 1) * _BETWEEN) / _COLUMNS
        self.row = (self.height - _HEAD - _FOOT) / _ROWS
        self.mouths = {mouth.name: mouth for mouth in bake.chart.mouths}
        whole = 16 if printed.feet else max(round(float(bake.rate.value)), 1)
        self.whole, self.half = whole, max(whole // 2, 1)
        self._fitted: dict[tuple[str, int, int], str] = {}
        self.wave = _loud(printed.peaks, bake, len(self.rows))

    def paint(self, page: int) -> None:
        self._heading(page)
        long_notes: list[str] = []
        for column in range(_COLUMNS):
            first = (page * _COLUMNS + column) * _ROWS
            rows = self.rows[first : first + _ROWS]
            if rows:
                self._column(column * (self.column + _BETWEEN), first, rows, long_notes)
        self._notes(long_notes)

    @property
    def _called(self) -> str:
        title, take = self.printed.delivery.title, self.printed.take
        return _("{title}, take {take}", title=title, take=take) if take and take != title else title

    def _heading(self, page: int) -> None:
        rate = self.bake.rate
        self._text(QRectF(0, 0, self.width * 0.7, 6 * MM), f"Exposure sheet: {self._called}", print_font(13, bold=True))
        told = _("page {page} of {pages}", page=page + 1, pages=self.pages)
        self._text(QRectF(self.width * 0.7, 0, self.width * 0.3, 6 * MM), told, print_font(9), _RIGHT)
        first, last = self.bake.start_frame, self.bake.start_frame + len(self.rows) - 1
        exact = f"{rate.value.numerator}/{rate.value.denominator}"
        about = _(
            "{label} fps ({exact}) · frames {first} to {last} · chart {name}",
            label=rate.label,
            exact=exact,
            first=first,
            last=last,
            name=self.bake.chart.name,
        )
        self._text(QRectF(0, 6 * MM, self.width, 4.5 * MM), about, print_font(8))
        line = "thick line every foot (35 mm)" if self.printed.feet else "thick line every second"
        foot = QRectF(0, self.height - 5 * MM, self.width, 5 * MM)
        self._text(foot, f"{line} · Buccaphon", print_font(6.5), _RIGHT)

    def _column(self, left: float, first: int, rows: list[SheetRow], long_notes: list[str]) -> None:
        edges = (left + self.column * np.cumsum([0.0, *(share for _, share in _PARTS)])).tolist()
        for (name, _rest), x, x2 in zip(_PARTS, edges, edges[1:], strict=False):
            self._text(QRectF(x + 0.6 * MM, _HEAD - 4.5 * MM, x2 - x, 4 * MM), name, print_font(6.5))
        self._wave(edges[1], edges[2], first, len(rows))
        self._lines_and_jaw(edges, rows)
        self._texts(edges, first, rows)
        for number, row in enumerate(rows):
            self._drawing(edges, number, rows)
            if row.note:
                self._note(edges, _HEAD + number * self.row, row, long_notes)
        self.painter.setPen(QPen(_INK, 0.3 * MM))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        self.painter.drawRect(QRectF(left, _HEAD, self.column, len(rows) * self.row))
        self.painter.setPen(QPen(_SOFT, 0.08 * MM))
        for x in edges[1:-1]:
            self.painter.drawLine(QLineF(x, _HEAD, x, _HEAD + len(rows) * self.row))

    def _lines_and_jaw(self, edges: list[float], rows: list[SheetRow]) -> None:
        """All of a kind at once, which takes a fraction of the time."""
        lines: dict[int, list[QLineF]] = {0: [], 1: [], 2: []}
        bars: list[QRectF] = []
        wide = edges[6] - edges[5]
        for number, row in enumerate(rows):
            y = _HEAD + number * self.row
            kind = 2 if row.frame % self.whole == 0 else 1 if row.frame % self.half == 0 else 0
            lines[kind].append(QLineF(edges[0], y, edges[-1], y))
            if row.jaw:
                bars.append(QRectF(edges[5], y + 0.2 * self.row, wide * row.jaw, 0.6 * self.row))
        for pen, of_a_kind in zip((_THIN, _HALF, _WHOLE), lines.values(), strict=True):
            self.painter.setPen(pen)
            if of_a_kind:
                self.painter.drawLines(*of_a_kind)
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(_PALE)
        if bars:
            self.painter.drawRects(*bars)

    def _texts(self, edges: list[float], first: int, rows: list[SheetRow]) -> None:
        """One font after the other. What goes on is said again at the head of a column."""
        texts: dict[int, list[tuple[QRectF, str, int]]] = {}

        def put(font: QFont, column: int, number: int, text: str, along: int = _LEFT, left: float = 0.6 * MM) -> None:
            x, y = edges[column] + left, _HEAD + number * self.row
            box = QRectF(x, y, edges[column + 1] - x - 0.6 * MM, self.row)
            texts.setdefault(id(font), []).append((box, self._fitting(text, font, box.width()), along | _ONE_LINE))

        plain, major, words, mouth, new = (
            print_font(6.5),
            print_font(6.5, bold=True),
            print_font(8, words=True),
            print_font(7),
            print_font(7, bold=True),
        )
        before = self.rows[first - 1] if first else None
        for number, row in enumerate(rows):
            put(major if row.frame % self.whole == 0 else plain, 0, number, str(row.frame), _RIGHT)
            fresh, goes_on = number == 0, before is not None and before.word == row.word
            if row.word and (fresh or not goes_on):
                put(words, 2, number, f"… {row.word}" if goes_on else row.word)
            if row.sound and (fresh or before is None or before.sound != row.sound):
                put(words, 3, number, row.sound)
            if row.new or fresh:
                put(
                    new if row.new else mouth,
                    4,
                    number,
                    f"{row.number} {row.shown}" if row.new else f"… {row.shown}",
                    left=10 * MM,
                )
            before = row
        self.painter.setPen(_INK)
        draw = self.painter.drawText
        for font in (plain, major, words, mouth, new):
            self.painter.setFont(font)
            for box, text, along in texts.get(id(font), ()):
                draw(box, along, text)

    def _drawing(self, edges: list[float], number: int, rows: list[SheetRow]) -> None:
        """The mouth as large as it is held, three rows at most, and a line on for as long as it goes on."""
        if not (rows[number].new or number == 0):
            return
        held = next((n for n in range(number + 1, len(rows)) if rows[n].new), len(rows)) - number
        y, tall = _HEAD + number * self.row, min(held, 3) * self.row
        box = QRectF(edges[4] + 0.6 * MM, y + 0.1 * self.row, 9 * MM, tall - 0.2 * self.row)
        self.printed.mouth(self.painter, self.mouths[rows[number].mouth], box)
        if held > 3:
            self.painter.setPen(QPen(_SOFT, 0.15 * MM))
            x = edges[4] + 5 * MM
            self.painter.drawLine(QLineF(x, y + tall, x, y + (held - 0.3) * self.row))

    def _note(self, edges: list[float], y: float, row: SheetRow, long_notes: list[str]) -> None:
        """A note that is too long for its cell gets a number there, and stands below the columns."""
        font = print_font(6.5)
        room = edges[7] - edges[6] - 1.2 * MM
        if QFontMetricsF(font, self.writer).horizontalAdvance(row.note) > room:
            long_notes.append(f"({len(long_notes) + 1}) frame {row.frame}: {row.note}")
            self._cell(edges, 6, y, f"({len(long_notes)})", font)
        else:
            self._cell(edges, 6, y, row.note, font)

    def _notes(self, notes: list[str]) -> None:
        box = QRectF(0, self.height - _FOOT + 1.5 * MM, self.width, _FOOT - 6 * MM)
        self.painter.setFont(print_font(6.5))
        self.painter.setPen(_INK)
        self.painter.drawText(box, int(Qt.TextFlag.TextWordWrap | Qt.AlignmentFlag.AlignTop), "   ".join(notes))

    def _wave(self, left: float, right: float, first: int, count: int) -> None:
        part = self.wave[first * _FINE : (first + count) * _FINE]
        middle, half = (left + right) / 2, (right - left) / 2 * 0.94
        y = (_HEAD + (np.arange(len(part)) + 0.5) / _FINE * self.row).tolist()
        out = [QPointF(middle + half * high, at) for high, at in zip(part[:, 1].tolist(), y, strict=True)]
        back = [QPointF(middle + half * low, at) for low, at in zip(part[:, 0].tolist(), y, strict=True)]
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(_PALE)
        self.painter.drawPolygon(QPolygonF([*out, *reversed(back)]))

    def _cell(self, edges: list[float], number: int, y: float, text: str, font: QFont, along: int = _LEFT) -> None:
        x, x2 = edges[number], edges[number + 1]
        self._text(QRectF(x + 0.6 * MM, y, x2 - x - 1.2 * MM, self.row), text, font, along)

    def _text(self, box: QRectF, text: str, font: QFont, along: int = _LEFT) -> None:
        self.painter.setFont(font)
        self.painter.setPen(_INK)
        self.painter.drawText(box, along | _ONE_LINE, self._fitting(text, font, box.width()))

    def _fitting(self, text: str, font: QFont, width: float) -> str:
        """As much of a text as there is room for; the same ones come again and again."""
        if len(text) <= _SHORT:
            return text
        key = (text, id(font), round(width))
        found = self._fitted.get(key)
        if found is None:
            metrics = QFontMetricsF(font, self.writer)
            found = self._fitted[key] = metrics.elidedText(text, Qt.TextElideMode.ElideRight, width)
        return found


def _loud(peaks: Peaks, bake: Bake, frames: int) -> Floats:
    """(frames * _FINE, 2) lowest and highest, -1..1."""
    start, end = bake.rate.seconds(bake.first), bake.rate.seconds(bake.first + frames)
    columns = peaks.columns(start, end, frames * _FINE)
    wave: Floats = columns[:, :2] / max(peaks.loudest(), 1e-6)
    return wave
