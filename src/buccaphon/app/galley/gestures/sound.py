"""In the sound: drag to scrub by ear; with Shift, to mark what is not speech; the threshold, up and down."""

from __future__ import annotations

from dataclasses import replace

from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, Press
from buccaphon.app.galley.gestures.ruler import LEAST
from buccaphon.app.galley.layout import Place
from buccaphon.app.galley.look import Lane
from buccaphon.audio.loudness_settings import LoudnessSettings
from buccaphon.project.edits.motion import ChangeLoudness
from buccaphon.project.edits.timing import MarkNotSpeech
from buccaphon.timing import Span


class Scrub:
    """Drag: the playhead follows, and is heard."""

    def __init__(self, press: Press) -> None:
        self._document = press.document
        self._document.select_nothing()
        self._document.player.scrub(press.place.seconds)

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.player.scrub(place.seconds)

    def end(self, place: Place) -> None:
        """Nothing is left to do."""


class MarkRange:
    """Drag with Shift: from where it began to where it ends is not speech."""

    def __init__(self, press: Press) -> None:
        self._document, self._from = press.document, press.place.seconds

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        self._document.player.loop = self._span(place)
        self._document.selected.emit()

    def end(self, place: Place) -> None:
        self._document.player.loop = None
        self._document.selected.emit()
        if self._span(place).length >= LEAST:
            self._document.apply(MarkNotSpeech(self._span(place)))

    def _span(self, place: Place) -> Span:
        return Span(*sorted((self._from, place.seconds)))


class DragThreshold:
    """The line follows the hand up and down; one that was automatic is set from then on."""

    def __init__(self, press: Press, number: int) -> None:
        self._document, self._layout, self._strip, self._number = (
            press.document,
            press.layout,
            press.place.strip,
            number,
        )
        self._document.end_gesture()

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        take = self._document.state.take
        if take is None:
            return
        height = self._layout.look.height(Lane.SOUND)
        level = level_at_y(self._layout.down_in(place, Lane.SOUND, self._strip), height)
        settings = take.loudness_settings
        if self._number:
            changed = replace(settings, closes_below=min(level, settings.opens))
        else:
            low = settings.closes_below
            changed = replace(settings, threshold=level, closes_below=None if low is None else min(low, level))
        self._document.attempt(ChangeLoudness(changed, gesture="drag the threshold"))

    def end(self, _place: Place) -> None:
        self._document.end_gesture()


def thresholds_of(settings: LoudnessSettings) -> tuple[float, ...]:
    """Where lines are drawn, 0..1: where it opens, and where it closes if somebody set that apart."""
    return (settings.opens,) if settings.closes_below is None else (settings.opens, settings.closes)


def level_to_y(level: float, height: int) -> float:
    """Pixels from the lane's upper edge, as its curves lie."""
    return (height - 1.0) - (height - 6.0) * level


def level_at_y(y: float, height: int) -> float:
    return round(min(max((height - 1.0 - y) / (height - 6.0), 0.0), 1.0), 3)


def lifts_threshold(press: Press) -> bool:
    """Whether a line lies under the pointer."""
    return _line_near(press) is not None


def _line_near(press: Press) -> int | None:
    look, take = press.layout.look, press.document.state.take
    if not look.loudness or take is None or press.held & Held.SHIFT:
        return None
    height = look.height(Lane.SOUND)
    away = [abs(level_to_y(level, height) - press.place.down) for level in thresholds_of(take.loudness_settings)]
    nearest = min(range(len(away)), key=away.__getitem__)
    return nearest if away[nearest] <= GRAB else None


def press_sound(press: Press) -> Gesture:
    if (number := _line_near(press)) is not None:
        return DragThreshold(press, number)
    return MarkRange(press) if press.held & Held.SHIFT else Scrub(press)
