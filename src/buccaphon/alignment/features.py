"""From sound to the three feature streams that the acoustic model listens to.

Mel cepstra after Davis and Mermelstein (1980), with the model's own band limits and lifter; noise subtraction by a
minimum-statistics floor per mel band after Martin (2001), simplified to one floor a file.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt
import soxr

from buccaphon.alignment.reverberation import DRY, steepest_fall, without_tail
from buccaphon.audio.recording import BLOCK, Recording, Samples, mix_down
from buccaphon.threads import share
from buccaphon.timing import Span

Array = npt.NDArray[np.float32]
Mask = npt.NDArray[np.bool_]

RATE = 16000  # the acoustic model's sample rate
HOP = 160  # samples; 10 ms
FRAME_SECONDS = HOP / RATE
CEPSTRA = 13  # as the model was trained, like what follows

_WINDOW = 410
_FFT = 512
_BANDS = 25
_AT_ONCE = 2048  # frames: a long recording needs no more memory
_LOW_HZ, _HIGH_HZ = 130.0, 6800.0
_TOP_HZ, _KNEE = 7900.0, 0.8  # where warped bands end, and the share of it up to which they are moved in full
_LIFTER = 22
_FULL_SCALE = 32768.0  # the model was trained on 16-bit integers
_DITHER = 2.0  # standard deviation in 16-bit steps: keeps digital silence away from log 0
_NOISE_SMOOTHING = 7  # frames
_NOISE_PERCENTILE, _NOISE_FACTOR, _NOISE_LEFT = 10.0, 1.6, 0.1  # percentile; how much of it is removed, what stays
_SPEECH_SHARE = 0.6  # of the loudness range below its top that still counts as speech


@dataclass(frozen=True, eq=False)
class Features:
    """One frame every 10 ms, frame t centred on t * 10 ms.

    streams: (frames, 3, 13) float32 of cepstra, their slope and curvature. speech: (frames,) bool, loud enough to be speech.
    entering: (frames,) nats gained by a path that enters a sound there. pausing: (frames,) nats that any sound but a pause
    costs there. sounding: (frames, sounds) what the speech net says of which sound it is, as of `Evidence`; None without it.
    """

    streams: Array
    speech: npt.NDArray[np.bool_]
    entering: Array
    pausing: Array
    sounding: npt.NDArray[np.float16] | None = None

    def __len__(self) -> int:
        return int(self.streams.shape[0])

    def part(self, start: int, end: int) -> Features:
        within = slice(start, end)
        sounding = self.sounding[within] if self.sounding is not None else None
        return Features(
            self.streams[within], self.speech[within], self.entering[within], self.pausing[within], sounding
        )


def features(recording: Recording, not_speech: Sequence[Span] = ()) -> Features:
    """Feature streams of a whole recording, any sample rate and number of channels.

    not_speech: stretches that neither the noise floor nor the speech level is taken from.
    """
    return features_of(condition(recording), not_speech)


def features_of(
    samples: Samples,
    not_speech: Sequence[Span] = (),
    nobody: Mask | None = None,
    warp: float = 1.0,
    power: Array | None = None,
    pace: float = 1.0,
    fall: float | None = None,
) -> Features:
    """As `features`, from samples that are conditioned already.

    nobody: (frames,) where nobody speaks, however loud it is. warp: factor on the frequencies of the bands, for a voice whose
    resonances lie higher or lower than those the model knows. power: as of `mel_power`, where that is known. pace: as of
    `band_power`; where it is not 1, not_speech is in seconds at that pace. fall: as of `steepest_fall`, where that is known.
    """
    power = mel_power(samples, warp, pace) if power is None else power
    heard = ~frames_within(not_speech, len(power))
    if not heard.any():
        heard[:] = True
    said = heard & ~nobody if nobody is not None and (heard & ~nobody).any() else heard
    fall = steepest_fall(power[said]) if fall is None else fall
    # where a room is heard ringing there is little noise, and its tail is not to be taken off twice
    cepstra = cepstra_of(without_tail(power, fall) if fall / pace < DRY else without_noise(power, heard))
    loudness = cepstra[:, 0]
    low, high = np.percentile(loudness[said], (5, 95))
    speech = said & (loudness > high - _SPEECH_SHARE * (high - low))
    if speech.any():
        cepstra = cepstra - cepstra[speech].mean(0)
    nothing = np.zeros(len(speech), np.float32)
    return Features(_streams(cepstra), speech, nothing, nothing)


def frames_within(spans: Sequence[Span], count: int) -> npt.NDArray[np.bool_]:
    """(count,) which frames have their middle in one of the spans."""
    within = np.zeros(count, np.bool_)
    for span in spans:
        within[max(round(span.start / FRAME_SECONDS), 0) : max(round(span.end / FRAME_SECONDS), 0)] = True
    return within


def condition(recording: Recording) -> Samples:
    """Mono at the model's rate, in 16-bit scale with its peak at half of full scale, dithered. (samples,) float32."""
    mono = _resample(recording)
    peak = float(np.abs(mono).max(initial=0.0)) or 1.0
    mono *= np.float32(0.5 * _FULL_SCALE / peak)
    random = np.random.default_rng(0)
    for start in range(0, len(mono), BLOCK):
        part = mono[start : start + BLOCK]
        part += np.float32(_DITHER) * random.standard_normal(len(part), np.float32)
    return mono


def _resample(recording: Recording) -> Samples:
    """The mix at the model's rate, block by block, so that an hour needs no more than its result."""
    if recording.rate == RATE:
        return np.concatenate([mix_down(block) for block in recording.blocks()])
    stream = soxr.ResampleStream(recording.rate, RATE, 1, dtype="float32")
    made = [stream.resample_chunk(mix_down(block)) for block in recording.blocks()]
    return np.concatenate([*made, stream.resample_chunk(np.zeros(0, np.float32), last=True)])


def mel_power(samples: Samples, warp: float = 1.0, pace: float = 1.0) -> Array:
    """(frames, 25) power in the model's mel bands, from samples in 16-bit scale. warp: factor on the bands' frequencies.
    pace: as of `band_power`."""
    emphasised = samples.copy()
    emphasised[1:] -= np.float32(0.97) * samples[:-1]
    return band_power(emphasised, np.hamming(_WINDOW).astype(np.float32), HOP, mel_filters(warp), pace)


def band_power(samples: Samples, window: Array, hop: int, filters: Array, pace: float = 1.0) -> Array:
    """(frames, bands) power in bands around every hop. window: (width,) by which each frame is weighed. filters: (bins of the
    transform, bands). pace: how slow the speech is against that which the models know, 1 or more: with frames so much further
    apart it looks as quick as theirs."""
    width, size = len(window), 2 * (len(filters) - 1)
    count = int(len(samples) / (hop * pace)) + 1
    whole = np.lib.stride_tricks.sliding_window_view(np.pad(samples, (width // 2, width)), width)
    power = np.empty((count, filters.shape[1]), np.float32)

    def fill(start: int) -> None:
        end = min(start + _AT_ONCE, count)
        middles = np.round(np.arange(start, end) * (hop * pace)).astype(np.intp)
        frames = whole[middles] if pace != 1 else whole[start * hop : (end - 1) * hop + 1 : hop]
        spectrum = np.fft.rfft(frames * window, size)
        power[start:end] = (spectrum.real**2 + spectrum.imag**2).astype(np.float32) @ filters

    share(fill, range(0, count, _AT_ONCE))
    return power


def without_noise(power: Array, heard: Mask) -> Array:
    """(frames, bands) power, the steady noise of each band taken off. heard: (frames,) those that it is measured on."""
    smoothed = running_mean(power, _NOISE_SMOOTHING)
    noise = _NOISE_FACTOR * np.percentile(smoothed[heard], _NOISE_PERCENTILE, axis=0)
    return np.asarray(np.maximum(power - noise, _NOISE_LEFT * power), np.float32)


def cepstra_of(power: Array) -> Array:
    """(frames, 13) liftered cepstra of (frames, bands) mel power."""
    return np.asarray(np.log(np.maximum(power, 1e-4)) @ _cosines(), np.float32)


def _streams(cepstra: Array) -> Array:
    padded = np.pad(cepstra, ((3, 3), (0, 0)), mode="edge")
    count = len(cepstra)

    def shifted(by: int) -> Array:
        return padded[3 + by : 3 + by + count]

    slope = shifted(2) - shifted(-2)
    curvature = (shifted(3) - shifted(-1)) - (shifted(1) - shifted(-3))
    return np.stack([cepstra, slope, curvature], axis=1)


def running_mean(values: Array, width: int) -> Array:
    """Mean over `width` (odd) frames around each, along the first axis."""
    half = width // 2
    means = np.empty(values.shape, np.float32)
    for column in range(values.shape[1]):  # one after the other: an hour's sums in double precision are large
        sums = np.cumsum(np.pad(values[:, column].astype(np.float64), (half + 1, half), mode="edge"))
        sums -= sums[0]
        means[:, column] = (sums[width:] - sums[:-width]) / width
    return means


@lru_cache(maxsize=32)
def mel_filters(warp: float = 1.0) -> Array:
    """(257, 25) triangular mel filters, edges rounded to FFT bins, equal areas.

    warp: factor on their frequencies, less where the highest would leave the band (Lee and Rose 1996).
    """

    def mel(hz: float) -> float:
        return float(2595 * np.log10(1 + hz / 700))

    mels = np.linspace(mel(_LOW_HZ), mel(_HIGH_HZ), _BANDS + 2)
    step = RATE / _FFT
    plain = 700 * (10 ** (mels / 2595) - 1)
    knee, top = _KNEE * _TOP_HZ / max(warp, 1.0), min(_HIGH_HZ * warp, _TOP_HZ)
    above = knee * warp + (plain - knee) * (top - knee * warp) / (_HIGH_HZ - knee)
    edges = np.floor(np.where(plain < knee, plain * warp, above) / step + 0.5) * step
    hz = np.arange(_FFT // 2 + 1) * step
    filters = np.zeros((len(hz), _BANDS), np.float32)
    for band in range(_BANDS):
        left, middle, right = edges[band : band + 3]
        rising, falling = (hz - left) / (middle - left), (right - hz) / (right - middle)
        filters[:, band] = np.clip(np.minimum(rising, falling), 0, None) * 2 / (right - left)
    return filters


@lru_cache(maxsize=1)
def _cosines() -> Array:
    """(25, 13) orthonormal DCT-II with the sine lifter folded in."""
    k, band = np.arange(CEPSTRA), np.arange(_BANDS)
    basis = np.cos(np.pi * k[None, :] * (band[:, None] + 0.5) / _BANDS) * np.sqrt(2 / _BANDS)
    basis[:, 0] = np.sqrt(1 / _BANDS)
    return np.asarray(basis * (1 + _LIFTER / 2 * np.sin(np.pi * k / _LIFTER)), np.float32)
