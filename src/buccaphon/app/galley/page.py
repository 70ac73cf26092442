"""Painting the page: lanes of strips as pictures, and over them the loop, the selection and the playhead."""

from __future__ import annotations

import time
from collections import OrderedDict
from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.lanes import LANES
from buccaphon.app.galley.layout import MARGIN, Layout, Strip
from buccaphon.app.galley.look import Lane
from buccaphon.app.session.comparing import Comparing
from buccaphon.app.session.document import Document
from buccaphon.app.style.painting import blank
from buccaphon.app.style.theme import Theme
from buccaphon.timing import Span

HANDLE = 5  # half the width of the playhead's knob
_MOST_PICTURES = 400  # of lanes that are kept


class Page:
    """Lanes are painted once into pictures, and again only when what they show has changed."""

    def __init__(self, document: Document, comparing: Comparing, theme: Theme) -> None:
        self.document, self.comparing, self.theme = document, comparing, theme
        self.pictures: OrderedDict[tuple[int, Lane], tuple[object, QPixmap]] = OrderedDict()
        self._complete = True

    def forget(self) -> None:
        self.pictures.clear()

    def paint(self, painter: QPainter, layout: Layout, strips: Sequence[Strip], ratio: float, patience: float) -> bool:
        """Paint some strips. patience: seconds after which no more new pictures are made. Whether all of them are as they
        should be."""
        deadline, self._complete = time.perf_counter() + patience, True
        for strip in strips:
            self._paint_loop(painter, layout, strip)
            if self.document.selection:
                self._paint_selection(painter, layout, strip, under=True)
            self._paint_lanes(painter, self._content(layout, strip), ratio, deadline)
            if self.document.selection:
                self._paint_selection(painter, layout, strip, under=False)
        self._paint_playhead(painter, layout)
        return self._complete

    def changed(self, layout: Layout, strips: Sequence[Strip]) -> list[Strip]:
        """Those of some strips that show something else than what was painted last."""
        return [strip for strip in strips if not self._is_painted(self._content(layout, strip))]

    def _is_painted(self, content: StripContent) -> bool:
        kept = {lane: self.pictures.get((content.strip.number, lane)) for lane in content.layout.look.lanes}
        return all(picture is not None and picture[0] == _what_shows(content, lane) for lane, picture in kept.items())

    def _content(self, layout: Layout, strip: Strip) -> StripContent:
        bake, derived = self.document.bake(), self.document.derived
        assert bake is not None
        assert derived is not None
        return StripContent(self.document.state, bake, derived, self.theme, layout, strip, self.comparing.missing)

    def _paint_lanes(self, painter: QPainter, content: StripContent, ratio: float, deadline: float) -> None:
        left = round(content.strip.left) - MARGIN
        for lane in content.layout.look.lanes:
            picture = self._picture(content, lane, ratio, deadline)
            if picture is not None:
                top, height = (
                    content.strip.top + content.layout.lane_top(lane),
                    picture.deviceIndependentSize().height(),
                )
                painter.drawPixmap(QRectF(left, top, _width(content), height), picture, QRectF(picture.rect()))

    def _picture(self, content: StripContent, lane: Lane, ratio: float, deadline: float) -> QPixmap | None:
        """The lane of a strip; when this frame's time is over, what was there before, and the rest comes soon."""
        key, shown = (content.strip.number, lane), _what_shows(content, lane)
        kept = self.pictures.get(key)
        if kept is not None and kept[0] == shown:
            self.pictures.move_to_end(key)
            return kept[1]
        if time.perf_counter() > deadline:
            self._complete = False
            return kept[1] if kept else None
        picture = blank(_width(content), content.layout.look.height(lane), ratio)
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        LANES[lane].paint(painter, content, content.layout.look.height(lane))
        painter.end()
        self.pictures[key] = (shown, picture)
        if len(self.pictures) > _MOST_PICTURES:
            self.pictures.popitem(last=False)
        return picture

    def _paint_loop(self, painter: QPainter, layout: Layout, strip: Strip) -> None:
        loop = self.document.player.loop
        edges = _inside(layout, strip, loop) if loop else None
        if edges is None:
            return
        left, right = edges
        tint = QColor(self.theme.loop)
        tint.setAlpha(110)
        painter.fillRect(QRectF(left, strip.top, right - left, layout.strip_height), tint)
        painter.fillRect(QRectF(left, strip.top + 2, right - left, 5), QColor(self.theme.playhead))

    def _paint_selection(self, painter: QPainter, layout: Layout, strip: Strip, *, under: bool) -> None:
        """The tint under what is selected, or the line around it."""
        selection = self.document.selection
        lane = Lane.WORDS if selection.words else Lane.MOUTHS
        top, height = strip.top + layout.lane_top(lane), layout.look.height(lane)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen if under else QPen(QColor(self.theme.playhead), 1.6))
        painter.setBrush(self.theme.color("loop") if under else Qt.BrushStyle.NoBrush)
        for span in selection.spans(self.document.score):
            edges = _inside(layout, strip, span)
            if edges is not None:
                painter.drawRoundedRect(QRectF(edges[0], top, edges[1] - edges[0], height), 4, 4)

    def _paint_playhead(self, painter: QPainter, layout: Layout) -> None:
        position = self.document.player.position
        strip = layout.strip_of(position)
        if strip is None:
            return
        x = layout.x(strip, min(position, strip.end))
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.theme.playhead), 1.6))
        painter.drawLine(round(x), strip.top + 8, round(x), strip.top + layout.strip_height)
        painter.setBrush(QColor(self.theme.playhead))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QRectF(x - HANDLE, strip.top - 1, 2 * HANDLE, 2 * HANDLE))


def _what_shows(content: StripContent, lane: Lane) -> object:
    """Everything that a lane's picture depends on."""
    strip, layout = content.strip, content.layout
    return strip.start, strip.end, layout.scale, layout.look.height(lane), LANES[lane].shows(content)


def _width(content: StripContent) -> int:
    return round((content.strip.end - content.strip.start) * content.layout.scale) + 2 * MARGIN


def _inside(layout: Layout, strip: Strip, span: Span) -> tuple[float, float] | None:
    """Left and right of a stretch in a strip; None when it is not in it."""
    if span.end <= strip.start or span.start >= strip.end:
        return None
    left, right = max(span.start, strip.start), min(span.end, strip.end)
    return layout.x(strip, left), layout.x(strip, right)
