"""Where a voice is held so long and so steady that the speech net takes it for music: "um", and vowels that are drawn out.

A frame is a voice's, however steady, as far as it stands out of what is still around it, is voiced, and what stands out
around it is speech by the net's own ears. The bounds were found by experiment (docs/alignment.md).
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.features import FRAME_SECONDS, HOP, RATE, running_mean
from buccaphon.audio.recording import Samples
from buccaphon.threads import share

Array = npt.NDArray[np.float32]

_HALVED = RATE // 2  # samples a second that are enough to hear whether something is voiced
_WINDOW, _SHORTEST, _LONGEST = 0.040, 0.0025, 0.016  # seconds: of a window, and of a voice's period
_STILL = 1.0  # seconds either way in which it is looked how still it can be
_STANDS, _STANDS_OVER = 15.0, 10.0  # dB over that: from there it stands out, and fully so much higher
_VOICED, _VOICED_OVER = 0.5, 0.3  # autocorrelation from which a frame is voiced, and over which it becomes fully so
_NEAR, _AROUND, _NEAR_SHARE = 15, 251, 0.6  # frames, and how much the nearer ones count
_LARGEST = 4.0  # of the net's log odds
_AT_ONCE = 2048  # frames: a long recording needs no more memory


def drawn_out(samples: Samples, power: Array, pause: Array, pace: float = 1.0) -> Array:
    """(frames,) 0..1, how far a frame is a voice's. samples: conditioned. power: (frames, bands) in the mel bands. pause:
    (frames,) the speech net's log odds that nobody speaks. pace: as of `features.band_power`."""
    count = min(len(power), len(pause))
    found = np.zeros(len(pause), np.float32)
    if not count:
        return found
    level = 10 * np.log10(np.maximum(running_mean(power[:count].sum(1, keepdims=True), 3)[:, 0], 1e-3))
    reach = round(_STILL / FRAME_SECONDS)
    still = np.lib.stride_tricks.sliding_window_view(np.pad(level, reach, mode="edge"), 2 * reach + 1).min(axis=1)
    stands = np.clip((level - still - _STANDS) / _STANDS_OVER, 0, 1)
    out = np.flatnonzero(stands > 0)
    voiced = np.zeros(count)
    middles = np.round(out * pace * HOP / 2).astype(np.intp)
    voiced[out] = np.clip((_periodic(samples, middles) - _VOICED) / _VOICED_OVER, 0, 1)
    ours = stands * voiced
    odds = np.minimum(pause[:count], _LARGEST) * ours
    near, around = (_mean_within(odds, ours, width) for width in (_NEAR, _AROUND))
    speech = np.clip(1.0 - (_NEAR_SHARE * near + (1 - _NEAR_SHARE) * around), 0, 1)
    found[:count] = ours * speech
    return found


def _mean_within(
    weighted: npt.NDArray[np.float64], weights: npt.NDArray[np.float64], width: int
) -> npt.NDArray[np.float64]:
    """Means over `width` frames around each, by their weights; large where nothing has any."""
    both = np.stack([weighted, weights], axis=1)
    sums = running_mean(both.astype(np.float32), width).astype(np.float64)
    means: npt.NDArray[np.float64] = np.where(sums[:, 1] > 1e-6, sums[:, 0] / np.maximum(sums[:, 1], 1e-6), _LARGEST)
    return means


def _periodic(samples: Samples, starts: npt.NDArray[np.intp]) -> npt.NDArray[np.float64]:
    """(frames,) the highest normalised autocorrelation of a window at a period that voices have. starts: (frames,) the middle
    of each frame, in samples of half the rate."""
    half = samples[: len(samples) // 2 * 2].reshape(-1, 2).mean(1)
    window, longest, shortest = (round(seconds * _HALVED) for seconds in (_WINDOW, _LONGEST, _SHORTEST))
    padded = np.pad(half, (window // 2, window + longest)).astype(np.float32)
    whole = np.lib.stride_tricks.sliding_window_view(padded, window + longest)
    found = np.zeros(len(starts))

    def listen(begin: int) -> None:
        part = whole[np.minimum(starts[begin : begin + _AT_ONCE], len(whole) - 1)]
        size = 1 << int(window + longest - 1).bit_length()
        first = np.fft.rfft(part[:, :window], size)
        products = np.fft.irfft(np.conj(first) * np.fft.rfft(part, size), size)[:, shortest : longest + 1]
        sums = np.cumsum(np.pad(part.astype(np.float64) ** 2, ((0, 0), (1, 0))), axis=1)
        energy = sums[:, window + shortest : window + longest + 1] - sums[:, shortest : longest + 1]
        own = sums[:, window] - sums[:, 0]
        found[begin : begin + len(part)] = (products / np.sqrt(energy * own[:, None] + 1e-3)).max(1)

    share(listen, range(0, len(starts), _AT_ONCE))
    return found
