"""Painting the lanes of one strip. Each lane is one function of the same sheet."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPen

from buccaphon.app.galley.layout import MARGIN, Layout, Strip
from buccaphon.app.galley.look import Lane, Notation
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels, wave_pixels
from buccaphon.app.painting import mouth_picture
from buccaphon.app.theme import Theme, sans, serif
from buccaphon.audio.pauses import LEAST_PAUSE
from buccaphon.audio.spectrum import spectrogram
from buccaphon.motion.bake import Bake
from buccaphon.mouths.choosing import Painted
from buccaphon.mouths.exposures import Exposure
from buccaphon.project.derived import Derived
from buccaphon.project.state import State
from buccaphon.score.edits import boundary_time
from buccaphon.score.records import DOUBTFUL, Word
from buccaphon.speech.phones import arpabet_of
from buccaphon.timing import Span

_LEAST_TEXT = 0.72  # how far a word may be narrowed before it is set smaller


@dataclass(frozen=True)
class Sheet:
    """All that a strip shows. missing: numbers of the words that seem not to be in the sound."""

    state: State
    bake: Bake
    derived: Derived
    theme: Theme
    layout: Layout
    strip: Strip
    missing: frozenset[int] = frozenset()

    def x(self, seconds: Any) -> Any:
        """Of a moment, or an array of them. In the strip's own picture, which begins MARGIN pixels before the strip."""
        return MARGIN + (seconds - self.strip.start) * self.layout.scale

    @property
    def right(self) -> float:
        return self.x(self.strip.end)

    def words(self) -> list[tuple[int, Word]]:
        """The words that are at least partly in this strip, with their numbers."""
        if self.state.score is None:
            return []
        words = self.state.score.words
        first = bisect_right(words, self.strip.start, key=lambda word: word.end)
        last = bisect_left(words, self.strip.end, key=lambda word: word.start)
        return [(number, words[number]) for number in range(first, last)]

    def pauses(self) -> Sequence[Span]:
        """The pauses around the words of this strip, or those in the sound while there are no words yet."""
        score, strip = self.state.score, self.strip
        if score is None:
            pauses = self.derived.pauses
            first = bisect_right(pauses, strip.start, key=lambda span: span.end)
            return pauses[first : bisect_left(pauses, strip.end, key=lambda span: span.start)]
        first = bisect_right(score.words, strip.start, key=lambda word: word.end)
        end = bisect_left(score.words, strip.end, key=lambda word: word.start)
        ends = (0.0 if first == 0 else score.words[first - 1].end, *(word.end for word in score.words[first:end]))
        starts = (
            *(word.start for word in score.words[first:end]),
            *(word.start for word in score.words[end : end + 1]),
        )
        gaps = zip(ends, (*starts, score.duration)[: len(ends)], strict=True)
        return [Span(*gap) for gap in gaps if gap[1] - gap[0] >= LEAST_PAUSE]

    def pinned(self) -> set[float]:
        """The moments in this strip at which a boundary was put by hand."""
        score = self.state.score
        if score is None:
            return set()
        moments = (boundary_time(score, pin.boundary) for pin in self.state.pins)
        return {moment for moment in moments if self.strip.start <= moment <= self.strip.end}

    def painted(self) -> list[Painted]:
        """What is painted by hand in this strip."""
        strip = Span(self.strip.start, self.strip.end)
        return [paint for paint in self.state.painted if paint.span.overlap(strip) > 0]

    def exposures(self) -> list[Exposure]:
        first, last = self.frames()
        exposures = self.bake.exposures
        begin = bisect_right(exposures, first, key=lambda exposure: exposure.end)
        end = bisect_left(exposures, last, key=lambda exposure: exposure.start)
        return list(exposures[begin:end])

    def frames(self) -> tuple[int, int]:
        rate = self.bake.rate
        return rate.containing(self.strip.start), min(rate.covering(self.strip.end), self.bake.frames)


def paint_lane(painter: QPainter, sheet: Sheet, lane: Lane) -> None:
    """Paint one lane of a strip with its top at y = 0."""
    _PAINTERS[lane](painter, sheet, sheet.layout.look.height(lane))


def shown_in(sheet: Sheet, lane: Lane) -> object:
    """Everything that a lane's picture depends on; equal means that the old picture still holds."""
    bake, strip = sheet.bake, sheet.strip
    look = sheet.layout.look
    frame = (strip.start, strip.end, sheet.layout.scale, look.height(lane))
    if lane is Lane.RULER:
        return frame, bake.rate, bake.start_frame
    if lane is Lane.SOUND:
        loudness = (look.loudness, bake.rate)
        return (
            frame,
            id(sheet.derived),
            look.gain,
            look.wave_ink,
            loudness,
            sheet.state.take and sheet.state.take.not_speech,
        )
    if lane in (Lane.SPECTRUM, Lane.NOTES):
        return frame, id(sheet.derived), sheet.state.take and sheet.state.take.notes
    if lane in (Lane.WORDS, Lane.PHONES):
        numbered = sheet.words()
        doubted = [number for number, _ in numbered if number in sheet.missing]
        return frame, numbered, doubted, sheet.pinned(), sheet.state.score is None, look.notation, bake.chart.name
    if lane is Lane.MOUTHS:
        return frame, bake.rate, bake.chart.name, sheet.exposures(), sheet.painted()
    first, last = sheet.frames()
    return frame, bake.rate, bake.jaw[max(first - 1, 0) : last + 1].tobytes()


def _ruler(painter: QPainter, sheet: Sheet, height: int) -> None:
    rate, start_frame = sheet.bake.rate, sheet.bake.start_frame
    per_frame = sheet.layout.scale / float(rate.value)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # upright lines need none
    label_every = _label_step(per_frame, float(rate.value))
    tick_every = 1 if per_frame >= 5 else max(label_every // 4, 1)
    painter.setFont(sans(11))
    first, last = sheet.frames()
    frames = np.arange(-(-first // tick_every) * tick_every, last + 1, tick_every)
    places = sheet.x(frames / float(rate.value))
    inside = (places >= MARGIN - 0.5) & (places <= sheet.right + 0.5)
    numbered = (frames % label_every == 0) & (places < sheet.right - 8)
    short = [QLineF(x, height - 4, x, height - 1) for x in places[inside & ~numbered].tolist()]
    labels = [
        (x, str(f + start_frame))
        for x, f in zip(places[inside & numbered].tolist(), frames[inside & numbered].tolist(), strict=True)
    ]
    long = [QLineF(x, height - 7, x, height - 1) for x, _ in labels]
    painter.setPen(QPen(sheet.theme.color("edge"), 1))
    painter.drawLines(short)
    painter.setPen(QPen(sheet.theme.color("ink_soft"), 1))
    painter.drawLines(long)
    for x, text in labels:
        painter.drawText(QPointF(x + 3, height - 8), text)


def _label_step(per_frame: float, fps: float) -> int:
    second = round(fps)
    for step in (second // 4, second // 2, second, 2 * second, 5 * second, 10 * second, 30 * second, 60 * second):
        if step > 0 and step * per_frame >= 46:
            return step
    return 300 * second


def _sound(painter: QPainter, sheet: Sheet, height: int) -> None:
    width, look, peaks = int(sheet.right - MARGIN), sheet.layout.look, sheet.derived.peaks
    columns = peaks.columns(sheet.strip.start, sheet.strip.end, width)
    middle, half = height / 2, height / 2 - 3
    painter.setPen(QPen(sheet.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, middle, sheet.right, middle))
    tall = look.gain / max(peaks.loudest(), 1e-6) * half
    inks = sheet.theme.wave_inks[look.wave_ink]
    draw_pixels(painter, MARGIN, 0, wave_pixels(columns, middle, tall, half, inks))
    if look.loudness:
        _loudness_curve(painter, sheet, height)
    _not_speech(painter, sheet, height)


def _frames_of(sheet: Sheet) -> npt.NDArray[np.float64]:
    """The frame that each column of a strip lies on, counted from the middle of frame 0."""
    x = np.arange(int(sheet.right - MARGIN)) + 0.5
    return (sheet.strip.start + x / sheet.layout.scale) * float(sheet.bake.rate.value) - 0.5


def _loudness_curve(painter: QPainter, sheet: Sheet, height: int) -> None:
    loud = sheet.derived.loudness(sheet.bake.rate)
    draw_pixels(painter, MARGIN, 0, curve_pixels(_frames_of(sheet), loud, height, sheet.theme.ink))


def _not_speech(painter: QPainter, sheet: Sheet, height: int) -> None:
    """Hatched, and said in words."""
    take = sheet.state.take
    strip = Span(sheet.strip.start, sheet.strip.end)
    for span in take.not_speech if take else ():
        if span.overlap(strip) <= 0:
            continue
        left, right = sheet.x(strip.clamp(span.start)), sheet.x(strip.clamp(span.end))
        area = QRectF(left, 0, right - left, height)
        veil = QColor(sheet.theme.paper)
        veil.setAlphaF(0.72)
        painter.fillRect(area, veil)
        painter.fillRect(area, QBrush(sheet.theme.color("ink_soft"), Qt.BrushStyle.BDiagPattern))
        if right - left > 70:
            painter.setFont(sans(11))
            tag = QRectF(left + 4, height / 2 - 9, 66, 18)
            painter.fillRect(tag, sheet.theme.color("paper"))
            painter.setPen(sheet.theme.color("ink"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, "not speech")


def _spectrum(painter: QPainter, sheet: Sheet, height: int) -> None:
    width = int(sheet.right - MARGIN)
    if width < 2 or height < 4:
        return
    strength = spectrogram(sheet.derived.recording, Span(sheet.strip.start, sheet.strip.end), width, height - 4)
    picture = QImage(
        np.ascontiguousarray(strength * 255, np.uint8), width, height - 4, width, QImage.Format.Format_Indexed8
    )
    paper, ink = sheet.theme.color("paper"), sheet.theme.color("ink")
    picture.setColorTable([_between(paper, ink, level / 255) for level in range(256)])
    painter.drawImage(QPointF(MARGIN, 2), picture)


def _between(paper: QColor, ink: QColor, share: float) -> int:
    parts = zip((paper.red(), paper.green(), paper.blue()), (ink.red(), ink.green(), ink.blue()), strict=True)
    return QColor(*(round(a + (b - a) * share) for a, b in parts)).rgb()


def _words(painter: QPainter, sheet: Sheet, height: int) -> None:
    _pauses(painter, sheet, height)
    pinned = sheet.pinned()
    for number, word in sheet.words():
        left, right = sheet.x(word.start), sheet.x(word.end)
        _tick(painter, sheet, left, height, word.start in pinned)
        _tick(painter, sheet, right, height, word.end in pinned)
        if word.start >= sheet.strip.start - 1e-6:
            _set_word(painter, sheet, word, left + 4, right - left - 5, height)
            if number in sheet.missing or word.confidence < DOUBTFUL:
                _wave_under(painter, sheet, left + 4, max(right - 3, left + 12), height - 6)


def _pauses(painter: QPainter, sheet: Sheet, height: int) -> None:
    """Long pauses, with their length: between the words, or in the sound while there are no words yet."""
    strip = Span(sheet.strip.start, sheet.strip.end)
    painter.setFont(sans(10))
    for span in sheet.pauses():
        if span.overlap(strip) < LEAST_PAUSE - 1e-6:
            continue
        left, right = sheet.x(strip.clamp(span.start)), sheet.x(strip.clamp(span.end))
        if right - left < 34:
            continue
        painter.setPen(QPen(sheet.theme.color("ink_soft"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QLineF(left + 5, height - 7, right - 5, height - 7))
        painter.setPen(sheet.theme.color("ink_soft"))
        painter.drawText(QRectF(left, 2, right - left, height - 11), _CENTRED, f"{span.length:.2f} s")


_CENTRED = Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignBottom


def _tick(painter: QPainter, sheet: Sheet, x: float, height: int, pinned: bool) -> None:
    if not MARGIN - 1 <= x <= sheet.right + 1:
        return
    painter.setPen(QPen(sheet.theme.color("pin" if pinned else "edge"), 1.6 if pinned else 1))
    painter.drawLine(QLineF(x, 2, x, height))
    if pinned:
        painter.setBrush(sheet.theme.color("pin"))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(x, 3), 3, 3)


def _set_word(painter: QPainter, sheet: Sheet, word: Word, x: float, room: float, height: int) -> None:
    """The word as wide as it lasts: narrowed, then set smaller, when it is said faster than it is written."""
    font = serif(19)
    natural = QFontMetricsF(font).horizontalAdvance(word.text)
    squeeze = min(room / natural, 1.0) if natural else 1.0
    if squeeze < _LEAST_TEXT:
        font = serif(max(19 * squeeze / _LEAST_TEXT, 8))
        natural = QFontMetricsF(font).horizontalAdvance(word.text)
        squeeze = min(room / natural, 1.0)
    painter.save()
    painter.translate(x, height - 11)
    painter.scale(squeeze, 1)
    painter.setFont(font)
    painter.setPen(sheet.theme.color("ink"))
    painter.drawText(QPointF(0, 0), word.text)
    painter.restore()


def _wave_under(painter: QPainter, sheet: Sheet, left: float, right: float, y: float) -> None:
    """A proof-reader's wavy line."""
    path = QPainterPath(QPointF(left, y))
    x, up = left, True
    while x < right:
        path.quadTo(QPointF(x + 2, y + (-2.4 if up else 2.4)), QPointF(x + 4, y))
        x, up = x + 4, not up
    painter.setPen(QPen(sheet.theme.color("doubt"), 1.3))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def _written(sheet: Sheet, symbol: str) -> str:
    notation = sheet.layout.look.notation
    if notation is Notation.IPA:
        return symbol
    chart = sheet.bake.chart
    return arpabet_of(symbol) if notation is Notation.ARPABET else chart.names[chart.answer(symbol)]


def _phones(painter: QPainter, sheet: Sheet, height: int) -> None:
    painter.setFont(serif(15))
    metrics = QFontMetricsF(painter.font())
    pinned = sheet.pinned()
    for _, word in sheet.words():
        for place, phone in enumerate(word.phones):
            left, right = sheet.x(phone.start), sheet.x(phone.end)
            if right < MARGIN or left > sheet.right:
                continue
            if place:
                _tick(painter, sheet, left, height - 3, phone.start in pinned)
            painter.setPen(sheet.theme.color("ink" if phone.stress == 1 else "ink_soft"))
            text = _written(sheet, phone.symbol)
            wide = metrics.horizontalAdvance(text)
            painter.save()
            painter.translate((left + right) / 2, height - 7)
            painter.scale(min((right - left) / max(wide + 1, 1), 1.0), 1)
            painter.drawText(QPointF(-wide / 2, 0), text)
            painter.restore()


def _mouths(painter: QPainter, sheet: Sheet, height: int) -> None:
    rate, chart = sheet.bake.rate, sheet.bake.chart
    theme, painted = sheet.theme, sheet.painted()
    painter.setPen(QPen(theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, height - 1, sheet.right, height - 1))
    for exposure in sheet.exposures():
        start, end = rate.seconds(exposure.start), rate.seconds(exposure.end)
        left, right = max(sheet.x(start), MARGIN), min(sheet.x(end), sheet.right)
        if right - left < 1:
            continue
        by_hand = any(paint.span.start < end - 1e-6 and paint.span.end > start + 1e-6 for paint in painted)
        if by_hand:
            painter.setPen(QPen(theme.color("pin"), 2))
            painter.drawLine(QLineF(left + 1, height - 1, right - 1, height - 1))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.color("pin"))
            painter.drawEllipse(QPointF(left + 3, height - 5), 2.6, 2.6)
        painter.setPen(QPen(theme.color("ink_soft"), 1))
        painter.drawLine(QLineF(left, height - 6, left, height - 1))
        mouth = chart.mouths[chart.index(exposure.mouth)]
        width = int(min(right - left - 1, 46))
        box = QRectF(round((left + right - width) / 2) if right - left < 60 else round(left) + 4, 2, width, height - 10)
        ratio = painter.device().devicePixelRatioF()
        painter.drawPixmap(box.topLeft(), mouth_picture(mouth.pose, width, height - 10, ratio, theme))
        if right - box.right() > 16:  # a quiet line for as long as it is held
            painter.setPen(QPen(theme.color("wave"), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QLineF(box.right() + 6, box.center().y(), right - 5, box.center().y()))


def _jaw(painter: QPainter, sheet: Sheet, height: int) -> None:
    base = height - 1.0
    painter.setPen(QPen(sheet.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, base, sheet.right, base))
    draw_pixels(
        painter,
        MARGIN,
        0,
        curve_pixels(_frames_of(sheet), sheet.bake.jaw, height, sheet.theme.curve, sheet.theme.curve_fill),
    )


def _notes(painter: QPainter, sheet: Sheet, height: int) -> None:
    take, strip = sheet.state.take, Span(sheet.strip.start, sheet.strip.end)
    painter.setFont(sans(12))
    notes = [note for note in (take.notes if take else ()) if strip.start <= note.span.start < strip.end]
    for number, note in enumerate(notes):
        left = sheet.x(note.span.start)
        right = sheet.x(notes[number + 1].span.start) if number + 1 < len(notes) else sheet.right
        painter.setPen(QPen(sheet.theme.color("ink_soft"), 1.4))
        painter.drawLine(QLineF(left, 2, left, height - 2))
        painter.drawLine(QLineF(left, 3, sheet.x(min(note.span.end, strip.end)), 3))
        painter.setPen(sheet.theme.color("ink"))
        room = QRectF(left + 5, 2, max(right - left - 10, 0), height - 2)
        text = QFontMetricsF(painter.font()).elidedText(note.text, Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft, text)


_PAINTERS: dict[Lane, Callable[[QPainter, Sheet, int], None]] = {
    Lane.RULER: _ruler,
    Lane.SOUND: _sound,
    Lane.SPECTRUM: _spectrum,
    Lane.WORDS: _words,
    Lane.PHONES: _phones,
    Lane.MOUTHS: _mouths,
    Lane.JAW: _jaw,
    Lane.NOTES: _notes,
}
