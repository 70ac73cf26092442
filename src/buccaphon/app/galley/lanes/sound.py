"""What is heard: the wave, its loudness, the spectrum, and what is marked as not speech."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.sound import press_sound
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels, wave_pixels
from buccaphon.app.galley.shown import Shown
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
    draw_pixels(painter, MARGIN, 0, wave_pixels(columns, middle, tall, half, inks))
    if look.loudness:
        _loudness_curve(painter, content, height)
    _not_speech(painter, content, height)


def _loudness_curve(painter: QPainter, content: StripContent, height: int) -> None:
    """Raw, mapped and gated: what is heard, what becomes of it, and what counts in the end."""
    steered, frames, theme = content.derived.steered(content.state), content.frames_of_columns(), content.theme
    for curve, ink in (
        (steered.raw_frames, theme.ink_soft),
        (steered.mapped_frames, theme.ink),
        (steered.gated, theme.playhead),
    ):
        draw_pixels(painter, MARGIN, 0, curve_pixels(frames, curve, height, ink))
    if content.strip.number:
        return
    painter.setFont(sans(10))
    x = MARGIN + 3.0
    for word, role in (("raw", "ink_soft"), ("mapped", "ink"), ("gated", "playhead")):
        painter.setPen(theme.color(role))
        painter.drawText(QPointF(x, 10), word)
        x += painter.fontMetrics().horizontalAdvance(word) + 8


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


def _shows(content: StripContent) -> Shown:
    look, take = content.layout.look, content.state.take
    steered = (
        (content.bake.rate, take and take.loudness_settings, len(content.derived.parts)) if look.loudness else None
    )
    return Shown((id(content.derived), look.gain, look.wave_ink, steered, take and take.not_speech))


SPEC = LaneSpec(
    Lane.SOUND,
    N_("Drag to scrub by ear · with Shift: mark what is not speech"),
    paint_sound,
    _shows,
    press_sound,
)
