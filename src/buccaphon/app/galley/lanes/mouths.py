"""What is seen: the mouths, each for as long as it is held; beside them others to compare, and what the checks found."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.mouths import exposure_grip, press_mouths
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.app.session.session import Session
from buccaphon.mouths.exposures import Exposure, exposure_at
from buccaphon.painting.theme import sans
from buccaphon.texts import N_, _
from buccaphon.timing import Span

_FOOT = 8  # pixels under the drawings, for lines and pins
_HEAD = 11  # pixels over them, where a range has its own settings
_BESIDE = 17  # pixels of the thin row
_ASPECT = 1.45  # of a drawing, width to height
_LEAST_DRAWN = 0.55  # of the full width that a drawing is made at least
_MOST_SLASHES = 3


def paint_mouths(painter: QPainter, content: StripContent, height: int) -> None:
    theme = content.theme
    painter.setPen(QPen(theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, height - 1, content.right, height - 1))
    top = 2
    if content.ranges_here():
        _paint_manners(painter, content)
        top += _HEAD
    if content.beside:
        for exposure in content.exposures(content.beside):
            _paint_small(painter, content, exposure, top)
        painter.setPen(QPen(theme.color("edge"), 1))
        painter.drawLine(QLineF(MARGIN, top + _BESIDE, content.right, top + _BESIDE))
        top += _BESIDE + 2
    for exposure in content.exposures():
        _paint_held(painter, content, exposure, top, height)
    _paint_by_hand(painter, content, height)
    _paint_marks(painter, content, height)


def _span(content: StripContent, exposure: Exposure) -> Span:
    return Span(content.bake.rate.seconds(exposure.start), content.bake.rate.seconds(exposure.end))


def _edges(content: StripContent, exposure: Exposure) -> tuple[float, float]:
    span = _span(content, exposure)
    return max(content.x(span.start), MARGIN), min(content.x(span.end), content.right)


def _paint_held(painter: QPainter, content: StripContent, exposure: Exposure, top: int, height: int) -> None:
    theme, chart = content.theme, content.bake.chart
    left, right = _edges(content, exposure)
    if right - left < 1:
        return
    painter.setPen(QPen(theme.color("ink_soft"), 1))
    painter.drawLine(QLineF(left, height - 6, left, height - 1))
    tall = height - _FOOT - top
    widest = round(tall * _ASPECT)
    width = int(min(right - left - 1, widest))
    x = round((left + right - width) / 2) if right - left < widest + 14 else round(left) + 4
    mouth = chart.mouths[chart.index(exposure.mouth)]
    ratio = painter.device().devicePixelRatioF()
    drawn = max(width, round(_LEAST_DRAWN * widest))  # of a short one the middle is shown, rather than all of it tiny
    picture = content.characters.mouth_picture(mouth, drawn, tall, ratio, theme)
    middle = QRectF((drawn - width) / 2 * ratio, 0, width * ratio, tall * ratio)
    painter.drawPixmap(QRectF(x, top, width, tall), picture, middle)
    if right - (x + width) > 16:  # a quiet line for as long as it is held
        painter.setPen(QPen(theme.color("wave"), 1, Qt.PenStyle.DotLine))
        painter.drawLine(QLineF(x + width + 6, top + tall / 2, right - 5, top + tall / 2))


def _paint_by_hand(painter: QPainter, content: StripContent, height: int) -> None:
    """A line under exactly the frames that are painted, and nothing under those of a blank: a short bar begins both, also
    where the mouth before is the same."""
    rate, theme = content.bake.rate, content.theme
    seen = Span(content.strip.start, content.strip.end)

    def edges(span: Span) -> tuple[float, float]:
        start, end = (rate.seconds(rate.nearest(moment)) for moment in (span.start, span.end))
        return content.x(seen.clamp(start)), content.x(seen.clamp(end))

    painter.setPen(QPen(theme.color("ink_soft"), 1, Qt.PenStyle.DashLine))
    for blank in content.state.blanks:
        if blank.span.overlap(seen) > 0:
            left, right = edges(blank.span)
            painter.drawLine(QLineF(left, height - 1, right, height - 1))
    for paint in content.painted():
        left, right = edges(paint.span)
        painter.setPen(QPen(theme.color("pin"), 2))
        painter.drawLine(QLineF(left + 1, height - 1, right - 1, height - 1))
        painter.drawLine(QLineF(left + 1, height - 6, left + 1, height - 1))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("pin"))
        painter.drawEllipse(QPointF(left + 3, height - 5), 2.6, 2.6)


def _paint_small(painter: QPainter, content: StripContent, exposure: Exposure, top: int) -> None:
    """A mouth of the thin row."""
    left, right = _edges(content, exposure)
    if right - left < 1:
        return
    painter.setPen(QPen(content.theme.color("edge"), 1))
    painter.drawLine(QLineF(left, top + _BESIDE - 5, left, top + _BESIDE))
    chart = content.bake.chart
    if exposure.mouth not in chart.names:  # of another chart: its name will do
        painter.setPen(content.theme.color("ink_soft"))
        painter.setFont(sans(9))
        painter.drawText(
            QRectF(left + 2, top, right - left - 2, _BESIDE), Qt.AlignmentFlag.AlignVCenter, exposure.mouth
        )
        return
    width = int(min(right - left - 1, round((_BESIDE - 3) * _ASPECT)))
    ratio = painter.device().devicePixelRatioF()
    mouth = chart.mouths[chart.index(exposure.mouth)]
    picture = content.characters.mouth_picture(mouth, width, _BESIDE - 3, ratio, content.theme)
    painter.drawPixmap(QPointF(round((left + right - width) / 2), top), picture)


def _paint_manners(painter: QPainter, content: StripContent) -> None:
    """A bracket over each range with its own mouth settings, with what differs in words."""
    painter.setFont(sans(9))
    painter.setPen(QPen(content.theme.color("ink_soft"), 1))
    strip = Span(content.strip.start, content.strip.end)
    for part in content.ranges_here():
        left, right = content.x(strip.clamp(part.span.start)), content.x(strip.clamp(part.span.end))
        text = part.change.says
        painter.drawLines([QLineF(left, 6, left + 3, 6), QLineF(left, 6, left, 11), QLineF(right, 6, right, 11)])  # type: ignore[call-overload]  # the stubs lack it
        room = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideRight, max(int(right - left - 12), 0))
        wide = painter.fontMetrics().horizontalAdvance(room)
        painter.drawText(QPointF(left + 6, 9), room)
        if right - left > wide + 14:
            painter.drawLine(QLineF(left + wide + 10, 6, right, 6))


def _paint_marks(painter: QPainter, content: StripContent, height: int) -> None:
    """A proof-reader's caret under each place, and a slash in the margin for each."""
    issues = content.issues_here()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(content.theme.color("ink"), 1.5))
    for issue in issues:
        x = content.x(min((issue.span.start + issue.span.end) / 2, content.strip.end - 0.01))
        painter.drawLines([QLineF(x - 4, height - 1, x, height - 6.5), QLineF(x, height - 6.5, x + 4, height - 1)])  # type: ignore[call-overload]  # the stubs lack it
    for number in range(min(len(issues), _MOST_SLASHES)):
        x = MARGIN - 5 - 4 * number
        painter.drawLine(QLineF(x - 3, height - 9, x + 2, height - 20))


def _shows(content: StripContent) -> Shown:
    rate = content.bake.rate
    held = tuple((rate.seconds(each.start), rate.seconds(each.end), each.mouth) for each in content.exposures())
    beside = tuple(content.exposures(content.beside)) if content.beside else ()
    issues = tuple(issue.span for issue in content.issues_here())
    besides = (bool(content.beside), beside, issues, content.ranges_here(), content.state.blanks)
    return Shown((rate, content.bake.chart, tuple(content.painted()), besides), held)


def _tells(session: Session, seconds: float) -> str:
    """Why a mouth is there, and what the checks say of it."""
    document = session.document
    bake, derived = document.bake(), document.derived
    if bake is None or derived is None:
        return ""
    exposure = exposure_at(bake.exposures, min(bake.rate.containing(seconds), bake.frames - 1))
    why = derived.why(document.state, exposure) if exposure else ""
    issue = session.issues.at(seconds)
    return _("{why}\nIssue: {says}.", why=why, says=issue.says) if issue else why


SPEC = LaneSpec(
    Lane.MOUTHS,
    N_(
        "Click mouths or drag over some frames, then press a number to paint another mouth; Alt "
        "drags over any frames\nWith nothing selected a number paints from the playhead to the next "
        "change\nDrag a line to move where a mouth changes"
    ),
    paint_mouths,
    _shows,
    press_mouths,
    exposure_grip,
    tells=_tells,
)
