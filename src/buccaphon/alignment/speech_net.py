"""The speech net: hears every 10 ms whether anybody speaks, and where one sound ends and the next begins.

A small dilated convolutional net in NumPy. Its two answers are costs for the search and for the forward-backward pass: of
entering a sound where no boundary is heard, and of a sound where there is only music or noise. Which sound it is stays the
acoustic model's business. Trained by `tools/train_speech_net.py`; what it heard is in `speech_net.md` beside the weights.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.features import RATE, band_power
from buccaphon.audio.recording import Samples
from buccaphon.threads import share, threads

Array = npt.NDArray[np.float32]

STEP = 0.005  # seconds between two frames of what it sees; it answers once for each two
BANDS = 40  # of the mel spectrum
SOUNDS = (
    *(
        "SIL",
        "AA",
        "AE",
        "AH",
        "AO",
        "AW",
        "AY",
        "B",
        "CH",
        "D",
        "DH",
        "EH",
        "ER",
        "EY",
        "F",
        "G",
        "HH",
        "IH",
        "IY",
        "JH",
    ),
    *("K", "L", "M", "N", "NG", "OW", "OY", "P", "R", "S", "SH", "T", "TH", "UH", "UW", "V", "W", "Y", "Z", "ZH"),
)
OUTPUTS = 2 * (len(SOUNDS) + 1)  # for both halves of 10 ms: a score for each sound, and the log odds of a boundary
_WINDOW, _FFT = 320, 512  # samples; 20 ms
_LOW_HZ, _HIGH_HZ = 80.0, 7400.0  # of the bands
_SPEECH_SHARE = 0.6  # of the loudness range below its top that still counts as speech
_LARGEST = 8.0  # log odds that count
_DOUBT = 1.25  # log odds towards nobody speaking: in music the net hears a little speech everywhere
_LARGEST_VOTE = 4.0  # log odds of a frame that count
_TURN = 45.0  # log odds for going from speech to none or back
_RIM, _LEAST_QUIET = 12, 20  # frames: what is not sure at either end of a quiet stretch, and how long the rest must be
_BY_CHANCE = np.float32(np.log(len(SOUNDS) - 1))  # nats
_BLOCK = 4096  # frames of 10 ms at a time: bounded memory for long recordings


def log_mels(samples: Samples, warp: float = 1.0, pace: float = 1.0) -> Array:
    """(frames, 40) log mel energies every 5 ms over a third, 0 for the mean of what is loud.

    samples: at 16 kHz in 16-bit scale, dithered, as from `features.conditioned`. warp: factor on the bands' frequencies.
    pace: as of `features.band_power`.
    """
    levels = band_power(samples, np.hanning(_WINDOW).astype(np.float32), round(STEP * RATE), _filters(warp), pace)
    np.log(np.maximum(levels, np.float32(1), out=levels), out=levels)
    loudness = levels.mean(1)
    low, high = np.percentile(loudness, (5, 95))
    loud = loudness >= high - _SPEECH_SHARE * (high - low)
    levels -= levels[loud].mean(0)
    levels /= 3
    return levels


@lru_cache(maxsize=64)
def _filters(warp: float) -> Array:
    """(257, 40) triangular mel filters of equal areas."""

    def mel(hz: float) -> float:
        return float(2595 * np.log10(1 + hz / 700))

    edges = warp * 700 * (10 ** (np.linspace(mel(_LOW_HZ), mel(_HIGH_HZ), BANDS + 2) / 2595) - 1)
    hz = np.arange(_FFT // 2 + 1) * RATE / _FFT
    filters = np.zeros((len(hz), BANDS), np.float32)
    for band in range(BANDS):
        left, middle, right = edges[band : band + 3]
        rising, falling = (hz - left) / (middle - left), (right - hz) / (right - middle)
        shape = np.clip(np.minimum(rising, falling), 0, None)
        if shape.sum() == 0:  # narrower than two bins of the transform
            shape[int(np.abs(hz - middle).argmin())] = 1.0
        filters[:, band] = shape / shape.sum()
    return filters


@dataclass(frozen=True, eq=False)
class Evidence:
    """boundary: (frames,) log odds that a sound begins within the 10 ms from each frame on, -8..8.
    pause: (frames,) log odds that nobody speaks, -8..8. sounding: (frames, SOUNDS) by how many nats each sound is likelier
    than any one of them is by chance, -8..4, less where nobody may be speaking; 0 for silence."""

    boundary: Array
    pause: Array
    sounding: npt.NDArray[np.float16]

    def part(self, start: int, end: int) -> Evidence:
        return Evidence(self.boundary[start:end], self.pause[start:end], self.sounding[start:end])


@dataclass(frozen=True, eq=False)
class SpeechNet:
    """entrance: (6 * 40, channels). blocks: for each the dilation, (3, channels, channels) taps with their bias, and
    (channels, channels) with its bias. head: (channels, OUTPUTS)."""

    entrance: tuple[Array, Array]
    blocks: tuple[tuple[int, Array, Array, Array, Array], ...]
    head: tuple[Array, Array]

    @property
    def reach(self) -> int:
        """Frames of 10 ms on either side that an answer depends on."""
        return 2 + sum(dilation for dilation, *_ in self.blocks)

    def __call__(self, mels: Array) -> Array:
        """(frames of 5 ms, 40) to (frames of 10 ms, OUTPUTS)."""
        count = (len(mels) + 1) // 2
        padded = np.pad(mels, ((2, 2 + 2 * count - len(mels)), (0, 0)))
        seen = np.lib.stride_tricks.sliding_window_view(padded, 6, axis=0)[::2][:count]
        x = np.maximum(seen.transpose(0, 2, 1).reshape(count, -1) @ self.entrance[0] + self.entrance[1], 0)
        for dilation, taps, bias, weight, offset in self.blocks:
            wide = np.pad(x, ((dilation, dilation), (0, 0)))
            y = wide[:count] @ taps[0] + wide[dilation : dilation + count] @ taps[1] + wide[2 * dilation :] @ taps[2]
            x = x + np.maximum(y + bias, 0) @ weight + offset
        return np.asarray(np.maximum(x, 0) @ self.head[0] + self.head[1], np.float32)


def evidence_in(
    samples: Samples,
    net: SpeechNet,
    report: Callable[[float], None] = lambda _share: None,
    warp: float = 1.0,
    pace: float = 1.0,
) -> Evidence:
    """What the net hears in samples as from `features.conditioned`, one answer every 10 ms. report: is told the share that is
    done, and may raise to stop. warp, pace: as of `log_mels`."""
    mels = log_mels(samples, warp, pace)
    count, margin = (len(mels) + 1) // 2, net.reach
    boundary, pause = np.empty(count, np.float32), np.empty(count, np.float32)
    sounding = np.zeros((count, len(SOUNDS)), np.float16)

    def hear(start: int) -> None:
        end, before = min(start + _BLOCK, count), max(start - margin, 0)
        halves = net(mels[2 * before : 2 * (end + margin)])[start - before : end - before].reshape(end - start, 2, -1)
        boundary[start:end] = halves[:, :, -1].max(1)
        sounds = halves[:, :, :-1]
        likeliest = sounds[:, :, 1:].max(2)
        others = likeliest + np.log(np.exp(sounds[:, :, 1:] - likeliest[:, :, None]).sum(2))
        pause[start:end] = (sounds[:, :, 0] - others).mean(1)
        likelier = np.maximum((sounds[:, :, 1:] - others[:, :, None]).mean(1) + _BY_CHANCE, -_LARGEST)
        sounding[start:end, 1:] = likelier / (1 + np.exp(pause[start:end, None]))

    at_once = _BLOCK * threads()
    for first in range(0, count, at_once):
        report(first / count)
        share(hear, range(first, min(first + at_once, count), _BLOCK))
    return Evidence(np.clip(boundary, -_LARGEST, _LARGEST), np.clip(pause, -_LARGEST, _LARGEST), sounding)


def nobody_speaks(pause: Array) -> npt.NDArray[np.bool_]:
    """(frames,) where nobody speaks for a good while, however loud it is: music, noise, silence.

    pause: (frames,) log odds as in `Evidence`. The best path of two states that cost something to go between; what is
    found is drawn in at both ends, so that no soft sound is lost.
    """
    votes = np.clip(np.asarray(pause, np.float64) + _DOUBT, -_LARGEST_VOTE, _LARGEST_VOTE)
    quiet, loud = 0.0, 0.0
    from_loud, from_quiet = np.zeros(len(votes), np.bool_), np.zeros(len(votes), np.bool_)
    for t, vote in enumerate(votes.tolist()):
        from_loud[t], from_quiet[t] = loud - _TURN > quiet, quiet - _TURN > loud
        quiet, loud = max(quiet, loud - _TURN) + vote, max(loud, quiet - _TURN) - vote
    found, is_quiet = np.zeros(len(votes), np.bool_), quiet > loud
    for t in range(len(votes) - 1, -1, -1):
        found[t] = is_quiet
        is_quiet = not from_loud[t] if is_quiet else bool(from_quiet[t])
    edges = np.flatnonzero(np.diff(np.concatenate([[False], found, [False]]).astype(np.int8)))
    sure = np.zeros(len(votes), np.bool_)
    for start, end in edges.reshape(-1, 2).tolist():
        first = start + _RIM if start else 0
        last = end - _RIM if end < len(votes) else end
        if last - first >= _LEAST_QUIET:
            sure[first:last] = True
    return sure


@lru_cache(maxsize=1)
def shipped_net() -> SpeechNet | None:
    """The net that comes with Buccaphon; None while it is being trained."""
    file = resources.files("buccaphon.alignment").joinpath("speech_net.npz")
    if not file.is_file():
        return None
    with file.open("rb") as opened, np.load(opened) as data:
        return unpack({name: data[name] for name in data.files})


def unpack(data: dict[str, npt.NDArray[np.generic]]) -> SpeechNet:
    """The net of a file's arrays."""

    def array(name: str) -> Array:
        return np.asarray(data[name], np.float32)

    blocks = tuple(
        (int(dilation), *(array(f"{n}.{part}") for part in ("taps", "bias", "weight", "offset")))
        for n, dilation in enumerate(data["dilations"])
    )
    return SpeechNet((array("entrance"), array("entrance.bias")), blocks, (array("head"), array("head.bias")))  # type: ignore[arg-type]
