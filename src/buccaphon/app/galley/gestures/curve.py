"""In a curve: put and drag points and their tangents, draw with the pencil, raise and scale a stretch."""

from __future__ import annotations

import math
from dataclasses import replace

from buccaphon.app.galley.curves import ChannelScale
from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, PlacePlayhead, Press
from buccaphon.app.galley.layout import Place
from buccaphon.arrays import Floats
from buccaphon.motion.channels import Channel
from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation, drawn_over, moved, pencilled, with_point
from buccaphon.project.edits.motion import SetCurve
from buccaphon.texts import _
from buccaphon.timing import Span

_ARM = 26.0  # pixels of a tangent's handle
_FINE = 0.004  # of the range: how near points stay to what was drawn
_STEEPEST = 50_000.0  # values a second
_BETWEEN = 1e-3  # seconds that points keep apart


class _OnCurve:
    """What all of these have: the channel under the hand, its values, and what is drawn over it by now."""

    def __init__(self, press: Press, channel: Channel, values: Floats) -> None:
        self.document, self.layout, self.channel, self.values = press.document, press.layout, channel, values
        self.strip, self.lane = press.place.strip, press.place.lane
        self.scale = ChannelScale(channel, press.layout.look.height(press.place.lane))
        self.begun = press.document.state.curve_over(channel.id) or HandCurve(channel.id, ())
        press.document.project.end_gesture()

    def value(self, place: Place) -> float:
        return self.scale.value(self.layout.down_in(place, self.lane, self.strip))

    def written(self, value: float) -> float:
        """As a point has it: of a curve that adds, what is added."""
        return value - self.channel.rest if self.begun.adds else value

    def middle(self, seconds: float) -> float:
        """The middle of the frame at a moment: there a point is hit exactly."""
        rate = self.document.state.rate
        return rate.seconds(rate.containing(seconds) + 0.5)

    def put(self, curve: HandCurve, name: str) -> None:
        gesture = f"draw over {self.channel.id}"
        self.document.project.cancel_gesture(gesture)
        self.document.attempt(SetCurve(curve, name=name, gesture=gesture))

    def end(self, _place: Place) -> None:
        self.document.project.end_gesture()


class DragPoint(_OnCurve):
    """A point goes where the hand goes, between its neighbours; with Alt it keeps its moment."""

    def __init__(self, press: Press, channel: Channel, values: Floats, point: CurvePoint, *, is_new: bool) -> None:
        super().__init__(press, channel, values)
        self._from = point
        self.document.choose_point((channel.id, point.seconds))
        self.document.player.seek(point.seconds)
        if is_new:
            self.put(with_point(self.begun, point), _("Add a point to {name}", name=channel.name.lower()))

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        others = [p for p in self.begun.points if p != self._from]
        before = max((p.seconds for p in others if p.seconds < self._from.seconds), default=0.0)
        after = min((p.seconds for p in others if p.seconds > self._from.seconds), default=self.document.used.end)
        wanted = self._from.seconds if held & Held.ALT else self.middle(place.seconds)
        seconds = min(max(wanted, before + _BETWEEN), after - _BETWEEN) if after - before > 2 * _BETWEEN else wanted
        point = replace(self._from, seconds=seconds, value=self.written(self.value(place)))
        self.put(
            with_point(replace(self.begun, points=tuple(others)), point),
            _("Move a point of {name}", name=self.channel.name.lower()),
        )
        self.document.choose_point((self.channel.id, seconds))


class DragHandle(_OnCurve):
    """The end of a tangent follows the hand; both sides go together, but with Alt."""

    def __init__(self, press: Press, channel: Channel, values: Floats, point: CurvePoint, *, left: bool) -> None:
        super().__init__(press, channel, values)
        self._point, self._left = point, left

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        away = (
            min(place.seconds - self._point.seconds, -1e-3)
            if self._left
            else max(place.seconds - self._point.seconds, 1e-3)
        )
        slope = min(max((self.written(self.value(place)) - self._point.value) / away, -_STEEPEST), _STEEPEST)
        into = slope if self._left or not held & Held.ALT else self._point.into
        out = slope if not self._left or not held & Held.ALT else self._point.out
        self.put(
            with_point(self.begun, replace(self._point, into=into, out=out, interpolation=Interpolation.SMOOTH)),
            _("Turn a tangent"),
        )


class Pencil(_OnCurve):
    """A line drawn over the curve, from where the hand went down to where it is let go."""

    def __init__(self, press: Press, channel: Channel, values: Floats) -> None:
        super().__init__(press, channel, values)
        self._seconds = [press.place.seconds]
        self._drawn = [self.written(self.value(press.place))]

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        if place.strip != self.strip:
            return
        at, value = place.seconds, self.written(self.value(place))
        low, high = sorted((at, self._seconds[-1]))  # going back over it draws it anew
        kept = [(s, v) for s, v in zip(self._seconds, self._drawn, strict=True) if not low < s < high and s != at]
        self._seconds, self._drawn = [s for s, _ in kept], [v for _, v in kept]
        self._seconds.append(at)
        self._drawn.append(value)
        error = _FINE * (self.channel.high - self.channel.low)
        points = pencilled(self._seconds, self._drawn, self.document.state.rate, error)
        self.put(drawn_over(self.begun, points), _("Draw over {name}", name=self.channel.name.lower()))


class RaiseStretch(_OnCurve):
    """The curve of a stretch goes up and down with the hand; with Shift it is scaled about rest."""

    def __init__(self, press: Press, channel: Channel, values: Floats, span: Span) -> None:
        super().__init__(press, channel, values)
        self._from, self._span = self.value(press.place), span
        if not self.begun.adds:  # what the machine has there becomes points, which then move
            rate = self.document.state.rate
            frames = range(rate.containing(span.start), min(rate.containing(span.end) + 1, len(values)))
            seconds = [rate.seconds(frame + 0.5) for frame in frames]
            error = _FINE * (channel.high - channel.low)
            drawn = pencilled(seconds, [float(values[frame]) for frame in frames], rate, error)
            self.begun = drawn_over(self.begun, drawn)
            self._span = Span(min(span.start, seconds[0]), max(span.end, seconds[-1])) if seconds else span

    def move(self, place: Place, held: Held = Held.NONE) -> None:
        now, rest = self.value(place), self.channel.rest
        if held & Held.SHIFT:
            times = (now - rest) / (self._from - rest) if abs(self._from - rest) > 1e-6 else 1.0
            curve = moved(self.begun, self._span, times=times, about=0.0 if self.begun.adds else rest)
            self.put(curve, _("Scale {name}", name=self.channel.name.lower()))
        else:
            self.put(
                moved(self.begun, self._span, by=now - self._from), _("Raise {name}", name=self.channel.name.lower())
            )


def handles_of(curve: HandCurve, point: CurvePoint, scale_x: float, scale: ChannelScale) -> list[tuple[float, float]]:
    """Where the ends of a point's tangents lie beside it, in pixels: at its left, and at its right."""
    if point.interpolation is not Interpolation.SMOOTH:
        return []
    found = []
    for side, by_hand in ((-1, point.into), (1, point.out)):
        near = (curve.at(point.seconds + side * _BETWEEN) - point.value) / (side * _BETWEEN)
        slope = near if by_hand is None else by_hand
        down = -slope / scale_x / scale.per_pixel  # pixels for each pixel to the right
        length = math.hypot(1.0, down)
        found.append((side * _ARM / length, side * _ARM * down / length))
    return found


def press_curve(press: Press) -> Gesture:
    bake = press.document.bake()
    found = bake.channels.find(press.layout.look.curve(press.place.lane)) if bake is not None else None
    return _begin(press, found[0], found[1].whole) if found is not None else PlacePlayhead(press)


def _begin(press: Press, channel: Channel, values: Floats) -> Gesture:
    stretch = press.document.stretch
    if press.held & Held.ALT and stretch is not None:
        return RaiseStretch(press, channel, values, stretch)
    if (handle := _handle_near(press, channel)) is not None:
        return DragHandle(press, channel, values, handle[0], left=handle[1])
    if (point := _point_near(press, channel)) is not None:
        return DragPoint(press, channel, values, point, is_new=False)
    if press.held & Held.CONTROL:
        return DragPoint(press, channel, values, _new_point(press, channel, values), is_new=True)
    if press.held & Held.SHIFT:
        return Pencil(press, channel, values)
    press.document.choose_point(None)
    return PlacePlayhead(press)


def _new_point(press: Press, channel: Channel, values: Floats) -> CurvePoint:
    on = _OnCurve(press, channel, values)
    return CurvePoint(on.middle(press.place.seconds), on.written(on.value(press.place)))


def _point_near(press: Press, channel: Channel) -> CurvePoint | None:
    """The point that the hand is on."""
    curve = press.document.state.curve_over(channel.id)
    number = curve.point_near(press.place.seconds, GRAB / press.layout.scale) if curve is not None else None
    if curve is None or number is None:
        return None
    point = curve.points[number]
    scale = ChannelScale(channel, press.layout.look.height(press.place.lane))
    y = scale.y(point.value + channel.rest if curve.adds else point.value)
    return point if abs(y - press.place.down) <= 2 * GRAB else None


def _handle_near(press: Press, channel: Channel) -> tuple[CurvePoint, bool] | None:
    """The chosen point whose tangent the hand is on, and whether it is the left one."""
    chosen, curve = press.document.chosen_point, press.document.state.curve_over(channel.id)
    if chosen is None or chosen[0] != channel.id or curve is None:
        return None
    number = curve.point_near(chosen[1], 1e-6)
    if number is None:
        return None
    point = curve.points[number]
    scale = ChannelScale(channel, press.layout.look.height(press.place.lane))
    x = press.layout.x(press.place.strip, point.seconds)
    y = scale.y(point.value + channel.rest if curve.adds else point.value)
    for left, (dx, dy) in zip((True, False), handles_of(curve, point, press.layout.scale, scale), strict=False):
        if abs(x + dx - press.x) <= GRAB and abs(y + dy - press.place.down) <= GRAB:
            return point, left
    return None
