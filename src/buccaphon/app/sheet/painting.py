"""The sheet painted: a row a frame, with the sound upright, words, mouths, jaw and notes beside it."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from buccaphon.app.session.session import Session
from buccaphon.app.settings import READING
from buccaphon.motion.record import Bake
from buccaphon.painting.theme import Theme, sans, serif
from buccaphon.project.exposing import shown_as
from buccaphon.score.records import DOUBTFUL
from buccaphon.timing import Span, TimeDisplay, read_out

HEAD = 26  # pixels of the heading
COLUMNS = (
    ("frame", 66), ("sound", 78), ("word", 104), ("IPA", 58), ("mouth", 128), ("jaw", 50), ("notes", 0),
)  # fmt: skip  # names and pixels; the last one takes what is left
_LEAST_NOTES = 90  # pixels for which all columns give way


@dataclass(frozen=True, slots=True)
class Rows:
    """Where things are. row: pixels of a frame. scrolled: pixels. width, height: of what is seen."""

    row: int
    scrolled: int
    width: int
    height: int

    def top(self, frame: float) -> float:
        """Where a frame's row begins."""
        return HEAD + frame * self.row - self.scrolled

    def frame(self, y: float) -> float:
        """The frame at a height, with its part."""
        return (y - HEAD + self.scrolled) / self.row

    def seen(self, top: int, bottom: int, frames: int) -> tuple[int, int]:
        """From the first frame up to the one after the last that is between two heights."""
        first = max((top + self.scrolled - HEAD) // self.row, 0)
        return int(first), min(int((bottom + self.scrolled - HEAD) // self.row) + 1, frames)

    @property
    def edges(self) -> list[int]:
        """Of the columns, in pixels."""
        edges, room = [14], self.width - 24
        narrow = min(room / (sum(width for _, width in COLUMNS) + _LEAST_NOTES), 1.0)
        for _, width in COLUMNS[:-1]:
            edges.append(edges[-1] + round(width * narrow))
        return [*edges, max(self.width - 10, edges[-1] + 40)]

    def column(self, x: float) -> str:
        """The name of the column at a place."""
        return COLUMNS[min(max(bisect_right(self.edges, x) - 1, 0), len(COLUMNS) - 1)][0]


@dataclass(frozen=True, slots=True, eq=False)
class SheetPainter:
    """ratio: of the screen's pixels. gain: how much the sound is magnified."""

    session: Session
    theme: Theme
    rows: Rows
    ratio: float
    gain: float = 1.0

    def paint(self, painter: QPainter, area: QRect, bake: Bake) -> None:
        first, end = self.rows.seen(area.top(), area.bottom(), bake.frames)
        edges = self.rows.edges
        self._paint_grounds(painter, bake, edges)
        self._paint_lines(painter, bake, first, end, edges)
        self._paint_sound(painter, bake, first, end, edges)
        self._paint_words(painter, bake, first, end, edges)
        self._paint_mouths(painter, bake, first, end, edges)
        self._paint_notes(painter, bake, first, end, edges)
        self._paint_playhead(painter, edges)
        self._paint_heading(painter, edges)

    def _paint_grounds(self, painter: QPainter, bake: Bake, edges: list[int]) -> None:
        """Under what is selected, and what is drawn on the ruler."""
        rate, left, right = bake.rate, edges[4], edges[5]
        spans = [
            (span, "loop", left, right) for span in self.session.document.selection.spans(self.session.document.score)
        ]
        if self.session.document.player.loop:
            spans.append((self.session.document.player.loop, "loop", edges[0], edges[1]))
        for span, color, x, x2 in spans:
            top, bottom = self.rows.top(rate.frames(span.start)), self.rows.top(rate.frames(span.end))
            painter.fillRect(QRectF(x, top, x2 - x, bottom - top), self.theme.color(color))

    def _paint_lines(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        theme, state = self.theme, self.session.document.state
        reading = READING.read()
        feet = {TimeDisplay.FEET_35: 16, TimeDisplay.FEET_16: 40}.get(reading)
        whole = feet or max(round(float(bake.rate.value)), 1)
        painter.setFont(sans(11))
        for frame in range(first, end):
            number, y = frame + state.first_number, self.rows.top(frame)
            major, half = number % whole == 0, number % max(whole // 2, 1) == 0
            painter.setPen(
                QPen(QColor(theme.ink_soft if major else theme.edge), 1.6 if major else 1.0 if half else 0.5)
            )
            painter.drawLine(QLineF(edges[0], y, edges[-1], y))
            if self.rows.row >= 14 or number % 4 == 0:
                painter.setPen(QColor(theme.ink if major else theme.ink_soft))
                text = read_out(number, bake.rate, reading) if major or reading is TimeDisplay.FRAMES else str(number)
                box = QRectF(edges[0], y, edges[1] - edges[0] - 10, self.rows.row)
                painter.drawText(
                    box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text.removeprefix("f ")
                )

    def _paint_sound(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        """The wave, standing upright."""
        derived = self.session.document.derived
        if derived is None or end <= first:
            return
        count = (end - first) * max(self.rows.row // 4, 2)
        span = bake.rate.seconds(first), bake.rate.seconds(end)
        columns = derived.peaks.columns(*span, count)
        middle, half = (edges[1] + edges[2]) / 2, (edges[2] - edges[1]) / 2 - 4
        wide = self.gain * half / max(float(np.abs(columns).max()), 1e-4)  # of what is in view the loudest
        y = self.rows.top(first) + (np.arange(count) + 0.5) * (end - first) * self.rows.row / count
        right = [
            QPointF(middle + min(max(h * wide, 0.5), half), at)
            for h, at in zip(columns[:, 1].tolist(), y.tolist(), strict=True)
        ]
        left = [
            QPointF(middle + max(min(h * wide, -0.5), -half), at)
            for h, at in zip(columns[:, 0].tolist(), y.tolist(), strict=True)
        ]
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(self.theme.color("wave_core"))
        painter.drawPolygon(QPolygonF([*right, *reversed(left)]))

    def _paint_words(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        score, theme, rate = self.session.document.score, self.theme, bake.rate
        if score is None:
            return
        start, stop = rate.seconds(first), rate.seconds(end)
        low = bisect_right(score.words, start, key=lambda word: word.end)
        high = bisect_left(score.words, stop, key=lambda word: word.start)
        missing = self.session.comparing.missing
        for number in range(low, high):
            word = score.words[number]
            top = self.rows.top(rate.frames(word.start))
            painter.setPen(QPen(QColor(theme.edge), 1))
            painter.drawLine(QLineF(edges[2], top, edges[4], top))
            painter.setFont(serif(17))
            painter.setPen(QColor(theme.ink))
            baseline = max(top, float(HEAD)) + 16 if self.rows.top(rate.frames(word.end)) > HEAD + 16 else top + 16
            painter.drawText(QPointF(edges[2] + 6, baseline), word.text)
            if word.confidence < DOUBTFUL or number in missing:
                painter.setPen(QPen(self.theme.color("doubt"), 1.4, Qt.PenStyle.DotLine))
                wide = painter.fontMetrics().horizontalAdvance(word.text)
                painter.drawLine(QLineF(edges[2] + 6, baseline + 3, edges[2] + 6 + wide, baseline + 3))
            painter.setFont(serif(14))
            for phone in word.phones:
                y, tall = self.rows.top(rate.frames(phone.start)), rate.frames(phone.end - phone.start) * self.rows.row
                painter.setPen(QColor(theme.ink if phone.stress == 1 else theme.ink_soft))
                if tall >= 9:  # what lasts shorter would lie over its neighbour
                    box = QRectF(edges[3] + 4, y, edges[4] - edges[3] - 8, tall)
                    painter.drawText(box, Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, phone.symbol)

    def _paint_mouths(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        theme, chart, state, characters = self.theme, bake.chart, self.session.document.state, self.session.characters
        left, right = edges[4], edges[5]
        low = bisect_right(bake.exposures, first, key=lambda each: each.end)
        high = bisect_left(bake.exposures, end, key=lambda each: each.start)
        ratio, wide, shown = self.ratio, round(0.38 * (right - left)), shown_as(state)
        seen = Span(bake.rate.seconds(first), bake.rate.seconds(max(end, first)))
        painted = [paint.span for paint in state.painted if paint.span.overlap(seen) > 0]
        for exposure in bake.exposures[low:high]:
            top, bottom = self.rows.top(exposure.start), self.rows.top(exposure.end)
            painter.setPen(QPen(QColor(theme.ink_soft), 1))
            painter.drawLine(QLineF(left, top, right, top))
            tall = int(min(bottom - top - 1, 40))
            mouth = chart.mouths[chart.index(exposure.mouth)]
            if tall >= 6:
                painter.drawPixmap(
                    QPointF(left + 6, top + 1), characters.mouth_picture(mouth, wide, tall, ratio, theme)
                )
            painter.setFont(sans(12))
            painter.setPen(QColor(theme.ink))
            x = left + wide + 12
            number, called = shown[exposure.mouth]
            name = painter.fontMetrics().elidedText(f"{number} {called}", Qt.TextElideMode.ElideRight, right - x)
            painter.drawText(QPointF(x, min(top + max(self.rows.row, 14) / 2 + 5, bottom + 4)), name)
            if bottom - top > 46:
                painter.setPen(QPen(QColor(theme.wave), 1, Qt.PenStyle.DotLine))
                middle = left + 6 + wide / 2
                painter.drawLine(QLineF(middle, top + 44, middle, bottom - 4))
        for span in painted:
            top, bottom = (self.rows.top(bake.rate.nearest(moment)) for moment in (span.start, span.end))
            painter.fillRect(QRectF(left + 1, top + 1, 3, bottom - top - 1), theme.color("pin"))
            painter.fillRect(QRectF(left + 1, top, 9, 2), theme.color("pin"))
        if not self.session.document.selection and not self.session.document.player.playing:
            painter.setPen(QPen(QColor(theme.playhead), 1, Qt.PenStyle.DashLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for span in self.session.document.painting_spans():
                top, bottom = (self.rows.top(bake.rate.frames(moment)) for moment in (span.start, span.end))
                painter.drawRoundedRect(QRectF(left, top, right - left, bottom - top), 4, 4)
        jaw = bake.jaw[first:end].tolist()
        for frame, value in enumerate(jaw, first):
            area = QRectF(edges[5] + 4, self.rows.top(frame) + 2, (edges[6] - edges[5] - 10) * value, self.rows.row - 4)
            painter.fillRect(area, theme.color("curve_fill"))

    def _paint_notes(self, painter: QPainter, bake: Bake, first: int, end: int, edges: list[int]) -> None:
        take, theme = self.session.document.state.take, self.theme
        painter.setFont(sans(12))
        x, wide = edges[6] + 8, edges[7] - edges[6] - 12
        for note in take.notes if take else ():
            frame = bake.rate.nearest(note.span.start)
            if first <= frame < end:
                painter.setPen(QColor(theme.ink))
                text = painter.fontMetrics().elidedText(note.text, Qt.TextElideMode.ElideRight, wide)
                painter.drawText(QPointF(x, self.rows.top(frame) + self.rows.row / 2 + 5), text)
        painter.setPen(QPen(QColor(theme.ink), 1.5))
        for issue in self.session.issues.found:
            frame = bake.rate.containing(issue.span.start)
            if first <= frame < end:
                y = self.rows.top(frame) + self.rows.row / 2
                painter.drawLine(QLineF(edges[5] - 12, y + 6, edges[5] - 6, y - 6))

    def _paint_playhead(self, painter: QPainter, edges: list[int]) -> None:
        y = self.rows.top(self.session.document.state.rate.frames(self.session.document.player.position))
        painter.setPen(QPen(QColor(self.theme.playhead), 1.6))
        painter.drawLine(QLineF(edges[0], y, edges[-1], y))
        painter.setBrush(QColor(self.theme.playhead))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(edges[0], y), 5, 5)

    def _paint_heading(self, painter: QPainter, edges: list[int]) -> None:
        painter.fillRect(QRectF(0, 0, self.rows.width, HEAD), QColor(self.theme.panel))
        painter.setFont(sans(12))
        painter.setPen(QColor(self.theme.ink_soft))
        for (name, _), x, x2 in zip(COLUMNS, edges, edges[1:], strict=False):
            along = Qt.AlignmentFlag.AlignRight if name == "frame" else Qt.AlignmentFlag.AlignLeft
            told = painter.fontMetrics().elidedText(name, Qt.TextElideMode.ElideRight, x2 - x - 8)
            painter.drawText(QRectF(x + 4, 0, x2 - x - 10, HEAD), along | Qt.AlignmentFlag.AlignVCenter, told)
