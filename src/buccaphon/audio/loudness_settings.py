"""How the loudness of a take is to be made into motion: what somebody sets, and what of it is automatic."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from buccaphon.audio.recording import Channel
from buccaphon.choice import Choice
from buccaphon.errors import ChannelError
from buccaphon.setting import require_valid_settings, setting
from buccaphon.texts import N_, _

LEVELS = (-90.0, 0.0)  # dB; what is below is below anything that a recorder hears
LONGEST_RISE = 2.0  # seconds of attack, release, smoothing
HERTZ = (20.0, 20_000.0)
NARROWEST = 1.2  # from the lowest to the highest frequency of a range
_MOST_CHANNELS = 8  # as reading allows
_RISE: dict[str, Any] = {"least": 0.0, "most": LONGEST_RISE, "scale": 1000, "unit": "ms", "step": 10}
_SHARE: dict[str, Any] = {"least": 0.0, "most": 1.0, "scale": 100, "unit": "%"}
_HERTZ: dict[str, Any] = {"least": HERTZ[0], "most": HERTZ[1], "unit": "Hz", "step": 50}


class Band(Choice):
    """Which frequencies of the sound are used."""

    WHOLE = "all", N_("full range")
    VOICE = "voice", N_("voice")
    UPPER = "high", N_("high frequencies")
    TYPED = "range", N_("low cut to high cut")


class Scale(Choice):
    """What 0 to 1 means."""

    EAR = "ear", N_("decibels")
    LOUDEST = "loudest", N_("linear to the loudest")
    FULL = "full", N_("linear to full scale")


_EDGES = {Band.WHOLE: (0.0, 0.0), Band.VOICE: (120.0, 3500.0), Band.UPPER: (3000.0, 0.0)}  # Hz; 0 is as far as it goes


@dataclass(frozen=True, slots=True)
class LoudnessSettings:
    """How loudness is made into 0..1. lowest, highest: Hz, of Band.TYPED. channel: of the recording; None is the one that the
    words are heard on. attack, release: seconds in which it rises and falls. smoothing: seconds, the width of a bell. floor,
    ceiling: dB of full scale that become 0 and 1. threshold: 0..1, opens above it and closes below it. closes_below: 0..1,
    where it closes at a second, lower level. syllables: 0..1, how far it closes between two syllables. response: a power:
    below 1 soft sounds count for more. peak: what the loudest becomes; None leaves it. loudness_only: it drives the mouth
    also where there are words. What is None otherwise is automatic."""

    scale: Scale = setting(
        Scale.EAR,
        N_("Scale"),
        N_(
            "Decibels between floor and ceiling, as the ear hears, or the level of the wave: 1 is the loudest, or full scale"
        ),
        choices=Scale,
        words=N_("linear decibels db amplitude level rms unit"),
    )
    threshold: float | None = setting(
        None,
        N_("Threshold"),
        N_("Opens above this and closes below it; drag the line over the waveform (Ctrl+L)"),
        none=N_("automatic"),
        words=N_("threshold gate noise gate opens cutoff trigger"),
        **_SHARE,
    )
    closes_below: float | None = setting(
        None,
        N_("Closes below"),
        N_("A second, lower threshold at which it closes, to avoid flutter; automatic is at a threshold that you set"),
        none=N_("automatic"),
        words=N_("threshold gate hysteresis noise gate"),
        **_SHARE,
    )
    syllables: float | None = setting(
        None,
        N_("Syllables"),
        N_("How far the mouth closes between syllables; 0 % follows the level alone"),
        none=N_("automatic"),
        words=N_("syllable flap dip contrast chatter lively"),
        **_SHARE,
    )
    peak: float | None = setting(
        None,
        N_("Peak value"),
        N_("Value reached by the loudest syllable"),
        none=N_("unchanged"),
        words=N_("normalise normalize maximum peak ceiling"),
        **_SHARE,
    )
    response: float = setting(
        1.0,
        N_("Response"),
        N_("Below 1 soft sounds open more, above 1 only loud ones do"),
        least=0.2,
        most=5.0,
        step=0.1,
        decimals=2,
        words=N_("gamma curve gain contrast bend"),
    )
    attack: float = setting(0.0, N_("Attack"), N_("Longer values open more gently"), words="rise", **_RISE)
    release: float = setting(0.0, N_("Release"), N_("Longer values close more slowly"), words=N_("fall decay"), **_RISE)
    smoothing: float = setting(0.0, N_("Smoothing"), N_("Smooths without delay"), words="smooth", **_RISE)
    band: Band = setting(
        Band.WHOLE,
        N_("Frequencies"),
        N_("Which frequencies are used: “voice” ignores rumble and hiss"),
        choices=Band,
        words=N_("band bass treble voice filter equaliser eq rumble"),
    )
    lowest: float = setting(
        300.0,
        N_("Low cut"),
        N_("Sound below it is ignored"),
        words=N_("lowest frequency high pass bass hertz"),
        **_HERTZ,
    )
    highest: float = setting(
        3000.0,
        N_("High cut"),
        N_("Sound above it is ignored"),
        words=N_("highest frequency low pass treble hertz"),
        **_HERTZ,
    )
    channel: Channel | None = setting(
        None,
        N_("Channel"),
        N_("Which channel of the recording is used"),
        choices=((None, N_("As played")),),
        words=N_("channel stereo left right mono mix side"),
    )
    floor: float | None = None
    ceiling: float | None = None
    loudness_only: bool = setting(
        False,
        N_("Loudness only"),
        N_("Mouths and jaw follow loudness even where there are words; the words are kept"),
        words=N_("amplitude flap without words audio driven"),
    )

    @property
    def opens(self) -> float:
        """The threshold in use, 0..1."""
        return _OPENS[self.scale] if self.threshold is None else self.threshold

    @property
    def closes(self) -> float:
        """What it closes below, 0..1; automatic thresholds are two, since quiet sound flutters about a single one."""
        if self.closes_below is not None:
            return min(self.closes_below, self.opens)
        return self.opens / 2 if self.threshold is None else self.threshold

    @property
    def parted(self) -> float:
        """How far it closes between syllables, 0..1; the level of the wave is left as it is."""
        if self.syllables is not None:
            return self.syllables
        return 1.0 if self.scale is Scale.EAR else 0.0

    @property
    def edges(self) -> tuple[float, float]:
        """The frequencies in use, from the lowest to the highest in Hz; 0 is as far as the recording goes."""
        return (self.lowest, self.highest) if self.band is Band.TYPED else _EDGES[self.band]


_OPENS = {Scale.EAR: 0.12, Scale.LOUDEST: 0.06, Scale.FULL: 0.02}
DEFAULT_LOUDNESS = LoudnessSettings()


def require_valid_loudness(loudness_settings: LoudnessSettings) -> None:
    """Raises ChannelError for what cannot be."""
    problem, low = "", loudness_settings.closes_below
    try:
        require_valid_settings(loudness_settings)
    except ValueError as out_of_range:
        problem = str(out_of_range)
    ends = (loudness_settings.floor, loudness_settings.ceiling)
    if isinstance(loudness_settings.channel, int) and not 0 <= loudness_settings.channel < _MOST_CHANNELS:
        problem = _("there is no channel {number}", number=loudness_settings.channel + 1)
    elif not all(level is None or LEVELS[0] <= level <= LEVELS[1] for level in ends):
        problem = _("floor and ceiling must be between {low:g} and {high:g} dB", low=LEVELS[0], high=LEVELS[1])
    elif low is not None and low > loudness_settings.opens:
        problem = _("it must close at or below the threshold")
    elif loudness_settings.lowest * NARROWEST > loudness_settings.highest * (1 + 1e-9):
        problem = _("its lowest frequency is too near its highest, or above it")
    if problem:
        raise ChannelError("loudness", problem, _("Choose a value within"))
