"""What is seen: the mouths, each for as long as it is held, and the jaw."""

from __future__ import annotations

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels
from buccaphon.app.galley.sheet import Sheet
from buccaphon.app.painting import mouth_picture


def paint_mouths(painter: QPainter, sheet: Sheet, height: int) -> None:
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


def paint_jaw(painter: QPainter, sheet: Sheet, height: int) -> None:
    base = height - 1.0
    painter.setPen(QPen(sheet.theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, base, sheet.right, base))
    draw_pixels(
        painter,
        MARGIN,
        0,
        curve_pixels(sheet.frames_of_columns(), sheet.bake.jaw, height, sheet.theme.curve, sheet.theme.curve_fill),
    )
