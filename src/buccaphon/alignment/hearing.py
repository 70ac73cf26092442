"""What the aligner hears: features of the part of a recording that is looked at, kept until another is."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from threading import Lock

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.boundary_net import log_mel
from buccaphon.alignment.drawn_out import drawn_out
from buccaphon.alignment.features import FRAME_SECONDS, Features, condition, features_of, frames_within, mel_power
from buccaphon.alignment.speech_net import evidence_in, nobody_speaks, shipped_net
from buccaphon.audio.recording import Recording
from buccaphon.timing import Span

# nats for each of the speech net's log odds
_ENTERING, _PAUSING = np.float32(2.0), np.float32(0.5)
NOBODY = np.float32(10.0)  # nats a frame for any sound but a pause where nobody speaks for a while
_DRAWN_OUT = np.float32(5.0)  # of those log odds, taken off where a voice is held
FAR = 0.13  # of a warp's logarithm, from which the nets hear through it
HUSH = np.float32(200.0)  # nats a frame for any sound but a pause where nothing is said


@dataclass(eq=False)
class RecordingFeatures:
    """What the search works on, of the part of a recording that is looked at; begins at `start` seconds of it.

    nobody: (frames,) where the speech net hears nobody. warp: what was learned about the voice, once something was aligned.
    pace: how many times slower than usual it is said; so much longer is a frame.
    """

    start: float
    features: Features
    mel: npt.NDArray[np.float32]
    nobody: npt.NDArray[np.bool_] | None = None
    warp: float | None = None
    pace: float = 1.0

    def __post_init__(self) -> None:
        self._plain = self.features, self.mel, self.nobody

    def __len__(self) -> int:
        return len(self.features)

    @property
    def frame_seconds(self) -> float:
        return FRAME_SECONDS * self.pace

    def reset_voice(self) -> None:
        """Hear it as if nothing had been aligned yet."""
        (self.features, self.mel, self.nobody), self.warp, self.pace = self._plain, None, 1.0

    def hear_through(self, warp: float, part: Recording, hushes: Sequence[Span]) -> None:
        """Hear it again through the warp of a voice that is far from those that the nets know. part: the sound of it."""
        again = _heard(part, self.start, hushes, warp=warp, nets=True, pace=self.pace)
        self.features, self.mel, self.nobody = again.features, again.mel, again.nobody
        self.warp = warp  # last: who sees it in another thread hears through it as well

    def at_pace(
        self, pace: float, part: Recording, hushes: Sequence[Span], report: Callable[[float], None]
    ) -> RecordingFeatures:
        """The same heard at its pace, through what is known of its voice. part: the sound of it."""
        warp = self.warp or 1.0
        again = _heard(part, self.start, hushes, report, warp, nets=abs(math.log(warp)) > FAR, pace=pace)
        again.warp, again._plain = self.warp, self._plain
        return again


def listen(
    recording: Recording,
    used: Span,
    not_speech: tuple[Span, ...],
    report: Callable[[float], None] = lambda _share: None,
) -> RecordingFeatures:
    """Features of a part of a recording. The last answer is kept, so that a word can be aligned again at once; who asks the
    same while it is being worked out waits for it. report: is told the share that is done, and may raise to stop."""
    asked = (recording, used, not_speech)
    with _one_at_a_time:
        if asked not in _kept:
            _kept.clear()  # before, not after: two of an hour are too much
            _kept[asked] = _heard(recording.part(used), used.start, hushes_of(used, not_speech), report)
        return _kept[asked]


def listen_at(
    pace: float,
    recording: Recording,
    used: Span,
    not_speech: tuple[Span, ...],
    report: Callable[[float], None] = lambda _share: None,
) -> RecordingFeatures:
    """As `listen`, at the pace of what is said. It takes the place of what was kept: who works on that in another thread goes
    on with it as it was."""
    heard = listen(recording, used, not_speech)
    if heard.pace != pace:
        heard = heard.at_pace(pace, recording.part(used), hushes_of(used, not_speech), report)
        with _one_at_a_time:
            _kept.clear()
            _kept[recording, used, not_speech] = heard
    return heard


def forget_what_was_heard() -> None:
    """Whoever listens next listens anew."""
    _kept.clear()


_one_at_a_time = Lock()
_kept: dict[tuple[Recording, Span, tuple[Span, ...]], RecordingFeatures] = {}  # one at most


def _heard(
    part: Recording,
    start: float,
    hushes: Sequence[Span],
    report: Callable[[float], None] = lambda _share: None,
    warp: float = 1.0,
    *,
    nets: bool = False,
    pace: float = 1.0,
) -> RecordingFeatures:
    """nets: whether the nets hear through the warp, too."""
    hushes = [Span(hush.start / pace, hush.end / pace) for hush in hushes]
    report(0.0)
    samples = condition(part)
    net, net_warp = shipped_net(), warp if nets else 1.0
    if net is None:
        features, nobody = features_of(samples, hushes, warp=warp, pace=pace), None
    else:
        said = evidence_in(samples, net, lambda share: report(0.1 + 0.5 * share), net_warp, pace)
        power = mel_power(samples, warp, pace)
        pause = said.pause - _DRAWN_OUT * drawn_out(samples, power, said.pause, pace)
        nobody = nobody_speaks(pause)
        pausing = _PAUSING * pause + np.where(nobody, NOBODY, np.float32(0))
        report(0.6)
        features = features_of(samples, hushes, nobody, warp, power)
        features = replace(features, entering=_ENTERING * said.boundary, pausing=pausing, sounding=said.sounding)
    report(0.8)
    pausing = np.where(frames_within(hushes, len(features)), HUSH, features.pausing)
    return RecordingFeatures(
        start, replace(features, pausing=pausing), log_mel(samples, nobody, net_warp, pace), nobody, pace=pace
    )


def hushes_of(used: Span, not_speech: Sequence[Span]) -> list[Span]:
    """What is marked as not speech, in seconds of the part that is looked at."""
    return [Span(max(s.start - used.start, 0.0), s.end - used.start) for s in not_speech if s.overlap(used) > 0]
