"""Numbers of the curves: the value of each at the playhead and under the pointer, the greatest, the mean, and its axis."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF
from PyQt6.QtGui import QColor, QPainter, QPen

from buccaphon.app.galley.curves import ChannelScale
from buccaphon.app.galley.lanes.curve import name_of
from buccaphon.app.galley.lanes.sound import legend
from buccaphon.app.galley.layout import MARGIN, Layout, Place, Strip
from buccaphon.app.galley.look import MOTION_LANES, Lane
from buccaphon.app.session.document import Document
from buccaphon.arrays import Floats
from buccaphon.audio.loudness import STEP
from buccaphon.audio.loudness_settings import LEVELS
from buccaphon.motion.channels import Channel
from buccaphon.motion.curve import Curve
from buccaphon.motion.record import LOUDNESS_CURVES, Bake
from buccaphon.painting.theme import Theme, sans
from buccaphon.texts import _

_WIDE, _TALL = 430, 15  # pixels of the line of numbers
_ROOM_FOR_AXIS = 40  # pixels of a lane that has one
_AXIS = 44  # pixels of its numbers


class Values:
    """Painted over the lanes, since they change with every frame that is played."""

    def __init__(self, document: Document, theme: Theme) -> None:
        self._document, self._theme = document, theme
        self._known: dict[str, tuple[Curve, tuple[float, float]]] = {}

    def areas(self, layout: Layout, strip: Strip) -> Iterator[QRect]:
        """Where numbers stand in a strip, on the page."""
        for lane in _lanes(layout):
            top = strip.top + layout.lane_top(lane)
            yield QRect(round(strip.left), top, _WIDE, min(_TALL, layout.look.height(lane)))

    def axis_area(self, layout: Layout, place: Place) -> QRect:
        """Where the numbers of the pointer stand."""
        top = place.strip.top + layout.lane_top(place.lane)
        return QRect(round(place.strip.left) - MARGIN, top, _WIDE + MARGIN, layout.look.height(place.lane))

    def paint(self, painter: QPainter, layout: Layout, pointer: Place | None) -> None:
        """pointer: where it is, if it is over a curve."""
        bake, position = self._document.bake(), self._document.player.position
        here = layout.strip_of(position)
        if bake is None or here is None:
            return
        painter.setFont(sans(10))
        for lane in _lanes(layout):
            over = pointer if pointer is not None and pointer.lane is lane else None
            found = bake.find(_shown_in(layout, lane))
            if found is None:
                continue
            channel, curve = found
            top, height = layout.lane_top(lane), layout.look.height(lane)
            if over is not None and height >= _ROOM_FOR_AXIS and lane is not Lane.SOUND:
                self._axis(painter, ChannelScale(channel, height), over.strip, over.strip.top + top)
            for strip in {strip.number: strip for strip in (here, over.strip if over else here)}.values():
                parts = list(self._said(bake, channel, curve, position if strip == here else None, over, strip))
                name = legend(strip.number) if lane is Lane.SOUND else name_of(channel, height)
                x = strip.left + 3 + painter.fontMetrics().horizontalAdvance(name)
                self._line(painter, x + 8, strip.top + top, parts)

    def _said(
        self, bake: Bake, channel: Channel, curve: Curve, position: float | None, over: Place | None, strip: Strip
    ) -> Iterator[tuple[str, str]]:
        """Pieces of text with their inks."""
        if position is not None:
            yield channel.says(_at(bake, curve, position)), "playhead"
            if channel in LOUDNESS_CURVES:
                yield _("{level:.0f} dB", level=self._level(position)), "playhead"
        if over is not None and over.strip == strip:
            yield _("pointer {value}", value=channel.says(_at(bake, curve, over.seconds))), "ink"
        if position is not None:
            most, mean = self._most_and_mean(bake, channel, curve)
            yield _("max {most}  mean {mean}", most=channel.says(most), mean=channel.says(mean)), "ink_soft"

    def _level(self, position: float) -> float:
        """What is heard at a moment, in dB of full scale."""
        derived, take = self._document.derived, self._document.state.take
        if derived is None or take is None:
            return LEVELS[0]
        found = derived.levels(take.loudness_settings)
        return float(found[min(max(int(position / STEP), 0), len(found) - 1)]) if len(found) else LEVELS[0]

    def _most_and_mean(self, bake: Bake, channel: Channel, curve: Curve) -> tuple[float, float]:
        """Of the used part of the line."""
        known = self._known.get(channel.id)
        if known is None or known[0] is not curve:
            values = self._used(bake, curve.whole)
            told = (float(values.max(initial=channel.low)), float(values.mean())) if len(values) else (0.0, 0.0)
            self._known[channel.id] = known = curve, told
        return known[1]

    def _used(self, bake: Bake, values: Floats) -> Floats:
        used = self._document.used
        return values[bake.rate.nearest(used.start) : bake.rate.covering(used.end)]

    def _line(self, painter: QPainter, x: float, top: int, parts: list[tuple[str, str]]) -> None:
        metrics = painter.fontMetrics()
        wide = sum(metrics.horizontalAdvance(text) + 8 for text, _ink in parts)
        veil = QColor(self._theme.paper)
        veil.setAlpha(215)
        painter.fillRect(QRectF(x - 3, top + 1, wide, 13), veil)
        for text, ink in parts:
            painter.setPen(self._theme.color(ink))
            painter.drawText(QPointF(x, top + 11), text)
            x += metrics.horizontalAdvance(text) + 8

    def _axis(self, painter: QPainter, scale: ChannelScale, strip: Strip, top: int) -> None:
        channel = scale.channel
        ticks = sorted({channel.low, channel.rest, (channel.low + channel.high) / 2, channel.high})
        said = -np.inf
        painter.setPen(QPen(self._theme.color("ink_soft"), 1))
        for value in reversed(ticks):
            y = top + scale.y(value)
            painter.drawLine(QLineF(strip.left - 5, y, strip.left, y))
            if y - said >= 10:
                painter.drawText(QPointF(2, y + 4), f"{value:g}")
                said = y


def _lanes(layout: Layout) -> list[Lane]:
    """The lanes that have numbers now."""
    sound = [Lane.SOUND] if layout.look.loudness and Lane.SOUND in layout.look.lanes else []
    return [*sound, *(lane for lane in MOTION_LANES if lane in layout.look.lanes)]


def _shown_in(layout: Layout, lane: Lane) -> str:
    return LOUDNESS_CURVES[0].id if lane is Lane.SOUND else layout.look.curve(lane)


def _at(bake: Bake, curve: Curve, seconds: float) -> float:
    frame = min(max(bake.rate.containing(seconds), 0), len(curve) - 1)
    return float(curve[frame : frame + 1][0])
