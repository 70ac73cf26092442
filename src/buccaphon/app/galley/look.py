"""How the galley is set: which lanes, how tall, how wide a second is. Remembered between sessions. No Qt in here."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import Enum

from buccaphon.app.settings import Remembered
from buccaphon.choice import Choice
from buccaphon.texts import N_

LEAST_SCALE, MOST_SCALE = 24.0, 1600.0  # pixels a second
LEAST_HEIGHT, MOST_HEIGHT = 18, 320  # pixels of a lane
LEAST_GAIN, MOST_GAIN = 0.5, 32.0
WAVE_INKS = ("plum", "slate", "umber")


class Lane(Enum):
    """The lanes of a strip, top to bottom."""

    RULER = "ruler"
    SOUND = "sound"
    SPECTRUM = "spectrum"
    WORDS = "words"
    PHONES = "phones"
    MOUTHS = "mouths"
    MOTION = "jaw"
    MOTION_2 = "motion 2"
    MOTION_3 = "motion 3"
    NOTES = "notes"


MOTION_LANES = (Lane.MOTION, Lane.MOTION_2, Lane.MOTION_3)
_DEFAULT_CURVES = ("jaw", "aperture", "round")
_ROOMY = 88  # pixels of a curve's lane, at least, while curves are worked on

_HEIGHTS = {
    Lane.RULER: 24, Lane.SOUND: 76, Lane.SPECTRUM: 64, Lane.WORDS: 32, Lane.PHONES: 24, Lane.MOUTHS: 58, Lane.MOTION: 34,
    Lane.MOTION_2: 34, Lane.MOTION_3: 34, Lane.NOTES: 24,
}  # fmt: skip


class Wrap(Enum):
    """Strips under each other like lines of text, or one endless strip."""

    PAGE = "page"
    ENDLESS = "endless"


class Notation(Choice):
    """How sounds are written."""

    IPA = "ipa", "IPA"
    ARPABET = "arpabet", "ARPAbet"
    MOUTH = "mouth", N_("mouth names")


@dataclass(frozen=True, slots=True)
class Look:
    """scale: pixels a second. heights: pixels of lanes that differ from the usual. hidden: lanes that are not shown.
    gain: how much the wave is magnified. wave_ink: one of WAVE_INKS. loudness: whether its curve lies over the wave.
    curves: the channels in lanes of motion, where they are not the usual ones."""

    scale: float = 205.0
    wrap: Wrap = Wrap.PAGE
    heights: dict[Lane, int] = field(default_factory=dict)
    hidden: frozenset[Lane] = frozenset({Lane.SPECTRUM, Lane.MOTION_2, Lane.MOTION_3})
    gain: float = 1.0
    wave_ink: str = WAVE_INKS[0]
    loudness: bool = False
    notation: Notation = Notation.IPA
    curves: dict[Lane, str] = field(default_factory=dict)

    def curve(self, lane: Lane) -> str:
        """The channel that a lane of motion shows, by its id."""
        return self.curves.get(lane, _DEFAULT_CURVES[MOTION_LANES.index(lane)])

    def showing(self, lane: Lane, channel: str) -> Look:
        """With another channel in a lane of motion, which is there then; '' hides the lane."""
        if not channel:
            return self.without(lane)
        return replace(self, curves=self.curves | {lane: channel}, hidden=self.hidden - {lane})

    def roomy(self) -> Look:
        """With lanes of motion tall enough to draw in."""
        least = {lane: max(self.heights.get(lane, 0), _ROOMY) for lane in MOTION_LANES}
        return replace(self, heights=self.heights | least)

    def height(self, lane: Lane) -> int:
        """In pixels; 0 when it is hidden."""
        return 0 if lane in self.hidden else self.heights.get(lane, _HEIGHTS[lane])

    @property
    def lanes(self) -> tuple[Lane, ...]:
        return tuple(lane for lane in Lane if lane not in self.hidden)

    def without(self, lane: Lane) -> Look:
        return replace(self, hidden=self.hidden | {lane})

    def scaled(self, scale: float) -> Look:
        return replace(self, scale=min(max(scale, LEAST_SCALE), MOST_SCALE))

    def taller(self, lane: Lane, by: int) -> Look:
        height = min(max(self.height(lane) + by, LEAST_HEIGHT), MOST_HEIGHT)
        return replace(self, heights=self.heights | {lane: height})

    def louder(self, factor: float) -> Look:
        return replace(self, gain=min(max(self.gain * factor, LEAST_GAIN), MOST_GAIN))

    def toggled(self, lane: Lane) -> Look:
        return replace(self, hidden=self.hidden ^ {lane})

    def written(self) -> Look:
        """With sounds written the next way."""
        order = list(Notation)
        return replace(self, notation=order[(order.index(self.notation) + 1) % len(order)])

    def inked(self) -> Look:
        """With the next ink for the wave."""
        return replace(self, wave_ink=WAVE_INKS[(WAVE_INKS.index(self.wave_ink) + 1) % len(WAVE_INKS)])


LOOK = Remembered(
    "look", Look, Look(), N_("The galley: lanes, heights, zoom, colour of the waveform, how sounds are shown")
)
