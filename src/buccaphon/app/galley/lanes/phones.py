"""The sounds of each word."""

from __future__ import annotations

from operator import itemgetter

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.gestures.boundary import boundary_grip
from buccaphon.app.galley.gestures.phones import press_phones
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.lanes.ticks import paint_ticks
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import Lane, Notation
from buccaphon.app.galley.shown import Shown
from buccaphon.painting.theme import serif, serif_width
from buccaphon.speech.phones import arpabet_of
from buccaphon.texts import N_

_PIXELS = 15


def paint_phones(painter: QPainter, content: StripContent, height: int) -> None:
    painter.setFont(serif(_PIXELS))
    words = [word for _, word in content.words()]
    paint_ticks(painter, content, (phone.start for word in words for phone in word.phones[1:]), height - 3)
    for word in words:
        for phone in word.phones:
            left, right = content.x(phone.start), content.x(phone.end)
            if right < MARGIN or left > content.right:
                continue
            painter.setPen(content.theme.color("ink" if phone.stress == 1 else "ink_soft"))
            text = _written(content, phone.symbol)
            wide = serif_width(text, _PIXELS)
            painter.save()
            painter.translate((left + right) / 2, height - 7)
            painter.scale(min((right - left) / max(wide + 1, 1), 1.0), 1)
            painter.drawText(QPointF(-wide / 2, 0), text)
            painter.restore()


def _written(content: StripContent, symbol: str) -> str:
    notation = content.layout.look.notation
    if notation is Notation.IPA:
        return symbol
    chart = content.bake.chart
    return arpabet_of(symbol) if notation is Notation.ARPABET else chart.names[chart.answer(symbol)]


def _shows(content: StripContent) -> Shown:
    said = [(word.start, word.end, word.phones) for _, word in content.words()]
    pins = [(moment, moment, None) for moment in content.pinned()]
    return Shown(
        (content.layout.look.notation, content.bake.chart), tuple(sorted((*said, *pins), key=itemgetter(0, 1)))
    )


SPEC = LaneSpec(
    Lane.PHONES,
    N_("Drag a line to move where a sound starts, or over the sounds to select words"),
    paint_phones,
    _shows,
    press_phones,
    boundary_grip,
)
