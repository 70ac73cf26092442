"""In the spectrogram: drag to scrub by ear; its lower and upper edge, to choose the frequencies that loudness uses."""

from __future__ import annotations

from dataclasses import dataclass, replace

from buccaphon.app.galley.gestures.gesture import GRAB, Gesture, Held, Press
from buccaphon.app.galley.gestures.sound import Scrub
from buccaphon.app.galley.layout import Place
from buccaphon.app.galley.look import Lane
from buccaphon.audio.loudness_settings import HERTZ, NARROWEST, Band, LoudnessSettings
from buccaphon.audio.spectrum import highest_of
from buccaphon.project.edits.motion import ChangeLoudness

_ROUND = 10.0  # Hz


class DragCut:
    """A line follows the hand up and down. at_top: the upper one."""

    def __init__(self, press: Press, scale: HertzScale, *, at_top: bool) -> None:
        self._scale = scale
        self._document, self._layout, self._strip, self._at_top = (
            press.document,
            press.layout,
            press.place.strip,
            at_top,
        )
        self._document.end_gesture()

    def move(self, place: Place, _held: Held = Held.NONE) -> None:
        take = self._document.state.take
        if take is None:
            return
        hertz = self._scale.hertz(self._layout.down_in(place, Lane.SPECTRUM, self._strip))
        low, high = self._scale.edges(take.loudness_settings)
        if self._at_top:
            high = max(hertz, low * NARROWEST)
        else:
            low = min(hertz, high / NARROWEST)
        changed = replace(take.loudness_settings, band=Band.TYPED, lowest=low, highest=high)
        self._document.attempt(ChangeLoudness(changed, gesture="drag the frequencies"))

    def end(self, _place: Place) -> None:
        self._document.end_gesture()


@dataclass(frozen=True, slots=True)
class HertzScale:
    """Frequencies against pixels of a lane of some height. highest: Hz at its upper edge."""

    highest: float
    height: int

    def edges(self, settings: LoudnessSettings) -> tuple[float, float]:
        """The lowest and the highest frequency in use, in Hz, as far as the lane goes where there is no end."""
        low, high = settings.edges
        return low or HERTZ[0], high or self.highest

    def y(self, hertz: float) -> float:
        """Pixels from the lane's upper edge."""
        return 2 + (self.height - 4) * (1 - min(hertz / self.highest, 1.0))

    def hertz(self, y: float) -> float:
        share = 1 - (y - 2) / max(self.height - 4, 1)
        return min(max(round(share * self.highest / _ROUND) * _ROUND, HERTZ[0]), self.highest)


def _scale(press: Press) -> HertzScale | None:
    recording = press.document.recording
    height = press.layout.look.height(Lane.SPECTRUM)
    return HertzScale(highest_of(recording.rate), height) if recording is not None else None


def lifts_cut(press: Press) -> bool:
    """Whether a line lies under the pointer."""
    return _cut_near(press) is not None


def _cut_near(press: Press) -> DragCut | None:
    """The drag of the line under the pointer; None where there is none."""
    take, scale = press.document.state.take, _scale(press)
    if take is None or scale is None:
        return None
    low, high = (abs(scale.y(hertz) - press.place.down) for hertz in scale.edges(take.loudness_settings))
    return DragCut(press, scale, at_top=high < low) if min(low, high) <= GRAB else None


def press_spectrum(press: Press) -> Gesture:
    press.document.end_gesture()
    return _cut_near(press) or Scrub(press)
