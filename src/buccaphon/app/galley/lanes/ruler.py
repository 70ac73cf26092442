"""Frame numbers along the top."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QLineF, QPointF
from PyQt6.QtGui import QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.ruler import DrawLoop
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane
from buccaphon.app.galley.shown import Shown
from buccaphon.painting.theme import sans
from buccaphon.texts import N_


def paint_ruler(painter: QPainter, content: StripContent, height: int) -> None:
    rate, start_frame = content.bake.rate, content.bake.start_frame
    per_frame = content.layout.scale / float(rate.value)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)  # upright lines need none
    label_every = _label_step(per_frame, float(rate.value))
    tick_every = 1 if per_frame >= 5 else max(label_every // 4, 1)
    painter.setFont(sans(11))
    first, last = content.frames()
    frames = np.arange(-(-first // tick_every) * tick_every, last + 1, tick_every)
    places = content.x(frames / float(rate.value))
    inside = (places >= MARGIN - 0.5) & (places <= content.right + 0.5)
    numbered = (frames % label_every == 0) & (places < content.right - 8)
    short = [QLineF(x, height - 4, x, height - 1) for x in places[inside & ~numbered].tolist()]
    labels = [
        (x, str(f + start_frame))
        for x, f in zip(places[inside & numbered].tolist(), frames[inside & numbered].tolist(), strict=True)
    ]
    long = [QLineF(x, height - 7, x, height - 1) for x, _ in labels]
    painter.setPen(QPen(content.theme.color("edge"), 1))
    painter.drawLines(short)  # type: ignore[call-overload]  # the stubs lack it
    painter.setPen(QPen(content.theme.color("ink_soft"), 1))
    painter.drawLines(long)  # type: ignore[call-overload]  # the stubs lack it
    for x, text in labels:
        painter.drawText(QPointF(x + 3, height - 8), text)


def _label_step(per_frame: float, fps: float) -> int:
    second = round(fps)
    for step in (second // 4, second // 2, second, 2 * second, 5 * second, 10 * second, 30 * second, 60 * second):
        if step > 0 and step * per_frame >= 46:
            return step
    return 300 * second


def _shows(content: StripContent) -> Shown:
    return Shown((content.bake.rate, content.bake.start_frame))


SPEC = LaneSpec(
    Lane.RULER,
    N_("Drag to mark a range · L loops it"),
    paint_ruler,
    _shows,
    DrawLoop,
)
