"""A channel as a filled curve, with what it was before the clean-up, and with the points that a hand has put."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPen

from buccaphon.app.galley.content import StripContent
from buccaphon.app.galley.curves import ChannelScale
from buccaphon.app.galley.gestures.curve import handles_of, press_curve
from buccaphon.app.galley.lane import LaneSpec
from buccaphon.app.galley.layout import MARGIN
from buccaphon.app.galley.look import MOTION_LANES, Lane
from buccaphon.app.galley.pixels import curve_pixels, draw_pixels
from buccaphon.app.galley.shown import Shown
from buccaphon.motion.channels import Channel
from buccaphon.motion.curve import Curve
from buccaphon.motion.hand import CurvePoint, Interpolation
from buccaphon.painting.theme import sans
from buccaphon.texts import _

_PIECE = 8  # frames that are painted again together
_POINT = 3.2  # pixels, half of a point's width
_ROOM = 46  # pixels of a lane from which its curve can be worked on
_USUAL = "jaw"


def paint_curve(lane: Lane, painter: QPainter, content: StripContent, height: int) -> None:
    theme, found = content.theme, _channel(content, lane)
    if found is None:
        _say(painter, content, _("{lane} no longer exists", lane=content.layout.look.curve(lane)))
        return
    channel, values = found
    scale = ChannelScale(channel, height)
    rest = scale.y(channel.rest)
    painter.setPen(QPen(theme.color("edge"), 1))
    painter.drawLine(QLineF(MARGIN, rest, content.right, rest))
    first, last = content.frames()
    begin = max(first - 2, 0)
    part, frames = values[begin : last + 2], content.frames_of_columns() - begin
    before = content.derived.before_clean_up(channel.id)
    left = MARGIN + content.columns()[0]
    draw_pixels(painter, left, 0, curve_pixels(frames, scale.shares(part), height, theme.curve, theme.curve_fill))
    if before is not None:
        draw_pixels(
            painter, left, 0, curve_pixels(frames, scale.shares(before[begin : last + 2]), height, theme.slate_core)
        )
    _paint_points(painter, content, channel, scale)
    _say(painter, content, name_of(channel, height))


def name_of(channel: Channel, height: int) -> str:
    """What stands at the beginning of a lane of some height; the usual curve in a low lane needs no name."""
    if channel.id == _USUAL and height < _ROOM:
        return ""
    return f"{channel.name} · {channel.unit}" if channel.unit else channel.name


def _say(painter: QPainter, content: StripContent, text: str) -> None:
    painter.setFont(sans(10))
    painter.setPen(content.theme.color("ink_soft"))
    painter.drawText(QPointF(MARGIN + 3, 11), text)


def _paint_points(painter: QPainter, content: StripContent, channel: Channel, scale: ChannelScale) -> None:
    """Where the hand has put something: brass, round where the curve is smooth."""
    curve = content.state.curve_over(channel.id)
    if curve is None:
        return
    pin = content.theme.color("pin")
    chosen = content.chosen_point if content.chosen_point and content.chosen_point[0] == channel.id else None
    painter.setBrush(pin)
    painter.setPen(QPen(content.theme.color("paper"), 1))
    for point in curve.points:
        x = content.x(point.seconds)
        if not content.near.start - 0.1 <= point.seconds <= content.near.end + 0.1:
            continue
        y = scale.y(point.value if not curve.adds else channel.rest + point.value)
        is_chosen = chosen is not None and abs(chosen[1] - point.seconds) < 1e-6
        if is_chosen:
            _paint_handles(painter, content, channel, scale, point, pin)
        size = _POINT + 1.6 if is_chosen else _POINT
        if point.interpolation is Interpolation.SMOOTH:
            painter.drawEllipse(QPointF(x, y), size, size)
        else:
            painter.drawRect(QRectF(x - size, y - size, 2 * size, 2 * size))


def _paint_handles(
    painter: QPainter, content: StripContent, channel: Channel, scale: ChannelScale, point: CurvePoint, pin: QColor
) -> None:
    curve = content.state.curve_over(channel.id)
    if curve is None:
        return
    at = QPointF(content.x(point.seconds), scale.y(point.value if not curve.adds else channel.rest + point.value))
    for dx, dy in handles_of(curve, point, content.layout.scale, scale):
        painter.setPen(QPen(pin, 1.2))
        painter.drawLine(QLineF(at, at + QPointF(dx, dy)))
        painter.drawEllipse(at + QPointF(dx, dy), 2.4, 2.4)
    painter.setPen(QPen(content.theme.color("ink"), 1.2))


def _channel(content: StripContent, lane: Lane) -> tuple[Channel, Curve] | None:
    return content.bake.find(content.layout.look.curve(lane))


def _shows(lane: Lane, content: StripContent) -> Shown:
    found = _channel(content, lane)
    if found is None:
        return Shown((content.layout.look.curve(lane),))
    channel, values = found
    rate = content.bake.rate
    first, last = content.frames()
    before = content.derived.before_clean_up(channel.id)
    curve = content.state.curve_over(channel.id)
    near = content.near
    points = curve.points if curve is not None else ()
    here = tuple(p for p in points if near.start - 0.1 <= p.seconds <= near.end + 0.1)
    chosen = content.chosen_point if content.chosen_point and content.chosen_point[0] == channel.id else None
    whole = (rate, channel, before is not None, here, chosen, curve is not None and curve.adds)
    pieces = range(max(first - 1, 0) // _PIECE * _PIECE, last + 1, _PIECE)
    parts = []
    for at in pieces:
        seen = values[at : at + _PIECE].tobytes()
        was = before[at : at + _PIECE].tobytes() if before is not None else b""
        parts.append((rate.seconds(at - 1), rate.seconds(at + _PIECE + 1), (seen, was)))
    return Shown(whole, tuple(parts))


def _spec(lane: Lane) -> LaneSpec:
    return LaneSpec(
        lane,
        (
            _(
                "Shift+drag: draw · Ctrl+click: add a point, then drag it\nAlt+drag: raise the marked range · "
                "Alt+Shift+drag: scale it\nDelete: remove the selected point · Ctrl+U: type a value · Ctrl+B: "
                "next curve"
            )
        ),
        partial(paint_curve, lane),
        partial(_shows, lane),
        press_curve,
    )


SPECS = tuple(_spec(lane) for lane in MOTION_LANES)
