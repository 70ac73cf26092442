"""What is heard: the wave, its loudness, the spectrum, and what is marked as not speech."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.sound import level_to_y, lifts_threshold, press_sound, thresholds_of
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels, wave_pixels
from buccaphon.app.galley.shown import Shown
from buccaphon.arrays import Same
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS
from buccaphon.audio.steering import DrivenLevels
from buccaphon.painting.theme import sans
from buccaphon.texts import N_, _
from buccaphon.timing import Span


def paint_sound(painter: QPainter, content: StripContent, height: int) -> None:
    width, look, peaks = int(content.right - MARGIN), content.layout.look, content.derived.peaks
    columns = peaks.columns(content.strip.start, content.strip.end, width)
    middle, half = height / 2, height / 2 - 3
    painter.setPen(QPen(content.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, middle, content.right, middle))
    tall = look.gain / max(peaks.loudest(), 1e-6) * half
    inks = content.theme.wave_inks[look.wave_ink]
    driven = content.bake.driven if look.loudness else None
    if driven is not None:  # what counts is filled, under the wave
        frames, fill = content.frames_of_columns(), content.theme.loop
        draw_pixels(painter, MARGIN, 0, curve_pixels(frames, driven.gated, height, fill, fill))
    draw_pixels(painter, MARGIN, 0, wave_pixels(columns, middle, tall, half, inks))
    if driven is not None:
        _loudness_curves(painter, content, driven, height)
    _not_speech(painter, content, height)


def _loudness_curves(painter: QPainter, content: StripContent, driven: DrivenLevels, height: int) -> None:
    """As it was measured, as it is before the threshold, and what counts in the end; over them the thresholds."""
    frames, theme = content.frames_of_columns(), content.theme
    inks = (theme.ink_soft, theme.ink, theme.playhead)
    for curve, ink in zip((driven.raw_frames, driven.mapped_frames, driven.gated), inks, strict=True):
        draw_pixels(painter, MARGIN, 0, curve_pixels(frames, curve, height, ink))
    _thresholds(painter, content, height)
    if content.strip.number:
        return
    painter.setFont(sans(10))
    x = MARGIN + 3.0
    veil = QColor(theme.paper)
    veil.setAlpha(215)
    painter.fillRect(QRectF(x - 3, 1, painter.fontMetrics().horizontalAdvance(legend(0)) + 8, 13), veil)
    for word, role in zip(_LEGEND, ("ink_soft", "ink", "playhead"), strict=True):
        painter.setPen(theme.color(role))
        painter.drawText(QPointF(x, 10), _(word))
        x += painter.fontMetrics().horizontalAdvance(_(word)) + 8


def legend(strip: int) -> str:
    """What stands at the beginning of the lane while loudness is shown."""
    return "" if strip else "  ".join(map(_, _LEGEND))


def _thresholds(painter: QPainter, content: StripContent, height: int) -> None:
    """A line to be dragged; broken where it is automatic. A second one where it closes lower than it opens."""
    settings = content.state.take.loudness_settings if content.state.take else DEFAULT_LOUDNESS
    for number, level in enumerate(thresholds_of(settings)):
        style = Qt.PenStyle.SolidLine if settings.threshold is not None else Qt.PenStyle.DashLine
        painter.setPen(QPen(content.theme.color("pin"), 1.4 if number == 0 else 1.0, style))
        y = level_to_y(level, height)
        painter.drawLine(QLineF(MARGIN, y, content.right, y))
        if number == 0:
            painter.setFont(sans(10))
            tag = _("threshold {level:.0f} %", level=100 * level)
            wide = painter.fontMetrics().horizontalAdvance(tag)
            below = y - 3 if y > 16 else y + 12
            veil = QColor(content.theme.paper)
            veil.setAlpha(215)
            painter.fillRect(QRectF(content.right - wide - 8, below - 10, wide + 8, 13), veil)
            painter.drawText(QPointF(content.right - wide - 4, below), tag)


def _not_speech(painter: QPainter, content: StripContent, height: int) -> None:
    """Hatched, and said in words."""
    take = content.state.take
    strip = Span(content.strip.start, content.strip.end)
    for span in take.not_speech if take else ():
        if span.overlap(strip) <= 0:
            continue
        left, right = content.x(strip.clamp(span.start)), content.x(strip.clamp(span.end))
        area = QRectF(left, 0, right - left, height)
        veil = QColor(content.theme.paper)
        veil.setAlphaF(0.72)
        painter.fillRect(area, veil)
        painter.fillRect(area, QBrush(content.theme.color("ink_soft"), Qt.BrushStyle.BDiagPattern))
        if right - left > 70:
            painter.setFont(sans(11))
            tag = QRectF(left + 4, height / 2 - 9, 66, 18)
            painter.fillRect(tag, content.theme.color("paper"))
            painter.setPen(content.theme.color("ink"))
            painter.drawText(tag, Qt.AlignmentFlag.AlignCenter, _("not speech"))


_LEGEND = (N_("measured"), N_("before the threshold"), N_("in use"))


def _shows(content: StripContent) -> Shown:
    look, take = content.layout.look, content.state.take
    driven = content.bake.driven
    loudness = (take and take.loudness_settings, Same(driven.gated)) if look.loudness and driven is not None else None
    return Shown((id(content.derived), look.gain, look.wave_ink, loudness, take and take.not_speech))


SPEC = LaneSpec(
    Lane.SOUND,
    N_(
        "Drag to scrub by ear · with Shift: mark what is not speech\nCtrl+L shows loudness and its threshold; drag the "
        "line up or down"
    ),
    paint_sound,
    _shows,
    press_sound,
    lifts=lifts_threshold,
)
