"""Painting the page: lanes of strips as pictures, and over them the loop, the selection and the playhead."""

from __future__ import annotations

import time
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from operator import is_not
from typing import NamedTuple

from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPixmap

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.lanes import LANES
from buccaphon.app.galley.layout import MARGIN, Layout, Place, Strip
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.app.galley.values import Values
from buccaphon.app.session.session import Session
from buccaphon.motion.record import Bake
from buccaphon.painting.artwork.pixels import painting_on
from buccaphon.painting.mouths import blank
from buccaphon.painting.theme import Theme
from buccaphon.project.derived import Derived
from buccaphon.project.state import State
from buccaphon.timing import Span

HANDLE = 5  # half the width of the playhead's knob
_MOST_PICTURES = 400  # of lanes that are kept
_AROUND = 20  # pixels that a mark may reach beyond what it stands for


class _LookedAt(NamedTuple):
    """What all strips show something of."""

    state: State
    bake: Bake
    derived: Derived
    comparison: object
    layout: Layout
    beside: object
    issues: object
    chosen: object


class Page:
    """Lanes are painted once into pictures, and again only when what they show has changed."""

    def __init__(self, session: Session, theme: Theme) -> None:
        self.session, self.document, self.comparing, self.theme = session, session.document, session.comparing, theme
        self.pictures: OrderedDict[tuple[int, Lane], _Kept] = OrderedDict()
        self._complete = True
        self._looked_at: _LookedAt | None = None
        self.values = Values(self.document, theme)
        self.pointer: Place | None = None  # over the page
        self._glance = 0  # counts how often what the page looks at has become another thing

    def forget(self) -> None:
        self.pictures.clear()

    def forget_mouths(self) -> None:
        """Only the lane of mouths: they are drawn otherwise."""
        for key in [key for key in self.pictures if key[1] is Lane.MOUTHS]:
            del self.pictures[key]

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
            else:
                self._paint_target(painter, layout, strip)
        self.values.paint(painter, layout, self.pointer)
        self._paint_playhead(painter, layout)
        return self._complete

    def changed(self, layout: Layout, strips: Sequence[Strip], ratio: float) -> list[QRect]:
        """Bring the pictures of some strips up to date, and tell what of the page shows something else now."""
        before, glance = self._looked_at, self._glance
        contents = [self._content(layout, strip) for strip in strips]
        unlike = self._unlike(before)
        areas = list[QRect | None]()
        for content in contents:
            kept = [self.pictures.get((content.strip.number, lane)) for lane in layout.look.lanes]
            still = [each for each in kept if each is not None and each.glance == glance]
            if len(still) == len(kept) and unlike is not None and not content.strip.touches(unlike):
                for each in still:
                    each.glance = self._glance
            else:
                areas += [self._bring_up(content, lane, ratio) for lane in layout.look.lanes]
        return [area for area in areas if area is not None]

    def _unlike(self, before: _LookedAt | None) -> Span | None:
        """The seconds in which what is looked at is another than before; None where it may be so anywhere."""
        now = self._looked_at
        if before is None or now is None or any(map(is_not, before[2:], now[2:])):
            return None
        return now.derived.anew_since(before.bake) if now.state.is_but_timed_anew(before.state) else None

    def _content(self, layout: Layout, strip: Strip) -> StripContent:
        bake, derived = self.document.bake(), self.document.derived
        assert bake is not None
        assert derived is not None
        beside = self.session.beside.row or self.session.lines.beside()
        issues = self.session.issues.found
        chosen, comparison = self.document.chosen_point, self.comparing.comparison
        looked_at = _LookedAt(self.document.state, bake, derived, comparison, layout, beside, issues, chosen)
        if self._looked_at is None or any(map(is_not, looked_at, self._looked_at)):
            self._looked_at, self._glance = looked_at, self._glance + 1
        missing = self.comparing.missing
        return StripContent(
            self.document.state, bake, derived, self.theme, self.session.characters, layout, strip, missing,
            beside=beside, issues=issues, chosen_point=chosen,
        )  # fmt: skip

    def _paint_lanes(self, painter: QPainter, content: StripContent, ratio: float, deadline: float) -> None:
        for lane in content.layout.look.lanes:
            kept = self.pictures.get((content.strip.number, lane))
            if kept is None or kept.glance != self._glance:
                if time.perf_counter() > deadline:  # what was there before, and the rest comes soon
                    self._complete = False
                else:
                    self._bring_up(content, lane, ratio)
                    kept = self.pictures[(content.strip.number, lane)]
            if kept is not None:
                place, picture = _place(content, lane), kept.picture
                height = picture.deviceIndependentSize().height()
                painter.drawPixmap(QRectF(place.x(), place.y(), place.width(), height), picture, QRectF(picture.rect()))

    def _bring_up(self, content: StripContent, lane: Lane, ratio: float) -> QRect | None:
        """Paint what a lane's picture lacks, and tell where that is on the page; None when it is all there."""
        key, shown = (content.strip.number, lane), LANES[lane].shows(content)
        kept = self.pictures.get(key)
        size = _size(content, lane)
        if kept is None or kept.size != size or kept.shown.whole != shown.whole:
            picture = blank(_place(content, lane).width(), content.layout.look.height(lane), ratio)
            self.pictures[key] = _Kept(size, shown, self._glance, picture)
            if len(self.pictures) > _MOST_PICTURES:
                self.pictures.popitem(last=False)
            return _paint_lane(picture, content, lane, None)
        self.pictures.move_to_end(key)
        part = shown.differs_in(kept.shown)
        kept.shown, kept.glance = shown, self._glance
        return _paint_lane(kept.picture, content, lane, part) if part is not None else None

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

    def _paint_target(self, painter: QPainter, layout: Layout, strip: Strip) -> None:
        """A broken line around the frames that a key would paint."""
        if self.document.player.playing:
            return
        top, height = strip.top + layout.lane_top(Lane.MOUTHS), layout.look.height(Lane.MOUTHS)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(QColor(self.theme.playhead), 1, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for span in self.document.painting_spans():
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


@dataclass
class _Kept:
    """A lane of a strip as a picture. size: its place in time and its own. glance: when it was last found right."""

    size: tuple[float, ...]
    shown: Shown
    glance: int
    picture: QPixmap


def _size(content: StripContent, lane: Lane) -> tuple[float, ...]:
    return content.strip.start, content.strip.end, content.layout.scale, content.layout.look.height(lane)


def _paint_lane(picture: QPixmap, content: StripContent, lane: Lane, part: Span | None) -> QRect:
    """Paint a lane, or a part of it with a few pixels around. Where that is on the page."""
    place = _place(content, lane)
    with painting_on(picture) as painter:
        return _paint_part(painter, content, lane, part, place)


def _paint_part(painter: QPainter, content: StripContent, lane: Lane, part: Span | None, place: QRect) -> QRect:
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if part is not None:
        left, right = int(content.x(part.start)) - _AROUND, int(content.x(part.end)) + _AROUND
        area = QRect(left, 0, right - left, place.height())
        painter.setClipRect(area)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Clear)
        painter.fillRect(area, Qt.GlobalColor.transparent)
        painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceOver)
        around = 2 * _AROUND / content.layout.scale
        strip = Span(content.strip.start, content.strip.end)
        content = replace(content, part=Span(strip.clamp(part.start - around), strip.clamp(part.end + around)))
        place = area.translated(place.topLeft())
    LANES[lane].paint(painter, content, place.height())
    return place


def _place(content: StripContent, lane: Lane) -> QRect:
    """Of a lane on the page, with its margins."""
    strip, layout = content.strip, content.layout
    width = round((strip.end - strip.start) * layout.scale) + 2 * MARGIN
    return QRect(round(strip.left) - MARGIN, strip.top + layout.lane_top(lane), width, layout.look.height(lane))


def _inside(layout: Layout, strip: Strip, span: Span) -> tuple[float, float] | None:
    """Left and right of a stretch in a strip; None when it is not in it."""
    if span.end <= strip.start or span.start >= strip.end:
        return None
    left, right = max(span.start, strip.start), min(span.end, strip.end)
    return layout.x(strip, left), layout.x(strip, right)
