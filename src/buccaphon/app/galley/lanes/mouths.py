"""What is seen: the mouths, each for as long as it is held."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.mouths import exposure_grip, press_mouths
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.app.style.painting import mouth_picture


def paint_mouths(painter: QPainter, content: StripContent, height: int) -> None:
    rate, chart = content.bake.rate, content.bake.chart
    theme, painted = content.theme, content.painted()
    painter.setPen(QPen(theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, height - 1, content.right, height - 1))
    for exposure in content.exposures():
        start, end = rate.seconds(exposure.start), rate.seconds(exposure.end)
        left, right = max(content.x(start), MARGIN), min(content.x(end), content.right)
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


def _shows(content: StripContent) -> Shown:
    rate = content.bake.rate
    held = tuple((rate.seconds(each.start), rate.seconds(each.end), each.mouth) for each in content.exposures())
    by_hand = tuple(content.painted())
    return Shown((rate, content.bake.chart, by_hand), held)


SPEC = LaneSpec(
    Lane.MOUTHS,
    "Click mouths or drag over them, then press a number to paint others\nDrag a line to move where a mouth changes",
    paint_mouths,
    _shows,
    press_mouths,
    exposure_grip,
)
