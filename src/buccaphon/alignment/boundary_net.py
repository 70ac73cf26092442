"""The boundary net: looks at the sound close around an onset and says how far off it is, and how sure that is.

A small multilayer perceptron in NumPy. It sees 25 frames of log-mel energies every 5 ms, which two sounds meet, what the
forward-backward pass found, and how the likelihoods of the two states cross there. Its output is the mean and the scale
of a Laplace distribution of the onset's offset. Trained by `tools/train_boundary_net.py`; what it heard is in
`boundary_net.md` beside the weights.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from importlib import resources

import numpy as np
import numpy.typing as npt

from buccaphon.alignment.acoustic_model import STATES, AcousticModel
from buccaphon.alignment.chain import Chain, Occupancy
from buccaphon.alignment.features import FRAME_SECONDS, RATE, Mask, band_power, mel_filters, running_mean
from buccaphon.audio.recording import Samples
from buccaphon.speech.phones import PhoneClass, class_of_arpabet

Array = npt.NDArray[np.float32]
Doubles = npt.NDArray[np.float64]

STEP = 0.005  # seconds between two frames of the net's own features
FRAMES_A_FRAME = round(FRAME_SECONDS / STEP)  # how many of them make one of the aligner's
REACH = 12  # frames of them on either side of the anchor
_WINDOW = 320  # samples; 20 ms
_NOISE_SMOOTHING, _NOISE_PERCENTILE, _NOISE_FACTOR, _NOISE_LEFT = 15, 10.0, 1.6, 0.1  # frames; as in features.py
_SPEECH_SHARE = 0.6  # of the loudness range below its top that still counts as speech
_PROFILE = 6  # 10 ms frames on either side of the first path's boundary
_IMPOSSIBLE = np.float32(-1e4)
_ANCHORS = (-0.010, 0.0, 0.010)  # seconds around the forward-backward time; the answers are averaged
_CLASSES = tuple(kind.value for kind in PhoneClass)
_NET_SHARE = 0.8  # of the answer; the rest is the forward-backward time
_WIDEST = 3.0  # clip of the logarithm of the scale


@dataclass(frozen=True, eq=False)
class Layers:
    """weights, biases of each layer; mean, spread: (inputs,) of the training data."""

    weights: tuple[Array, ...]
    biases: tuple[Array, ...]
    mean: Array
    spread: Array


def answers_of(nets: tuple[Layers, ...], inputs: Array) -> tuple[Array, Array]:
    """(n, inputs) to the mean offsets and Laplace scales of some nets of one shape, (n,) each, in 10 ms."""
    weights, biases = _entrance(nets)
    hidden = np.maximum(inputs @ weights + biases, np.float32(0))  # of all nets in one go
    width, offsets, scales = hidden.shape[1] // len(nets), [], []
    for number, net in enumerate(nets):
        values = hidden[:, number * width : (number + 1) * width]
        for weight, bias in zip(net.weights[1:-1], net.biases[1:-1], strict=True):
            values = np.maximum(values @ weight + bias, np.float32(0))
        out = values @ net.weights[-1] + net.biases[-1]
        offsets.append(out[:, 0])
        scales.append(np.exp(np.clip(out[:, 1], -_WIDEST, _WIDEST)))
    return np.mean(offsets, axis=0, dtype=np.float32), np.mean(scales, axis=0, dtype=np.float32)


@lru_cache(maxsize=2)
def _entrance(nets: tuple[Layers, ...]) -> tuple[Array, Array]:
    """(inputs, nets * first layer) and its bias: the first layers of all nets side by side, each with its mean and spread."""
    weights = [net.weights[0] / net.spread[:, None] for net in nets]
    biases = [net.biases[0] - net.mean @ weight for net, weight in zip(nets, weights, strict=True)]
    return np.concatenate(weights, axis=1), np.concatenate(biases)


def log_mel(samples: Samples, nobody: Mask | None = None, warp: float = 1.0, pace: float = 1.0) -> Array:
    """(frames, 25) noise-subtracted log mel energies every 5 ms, 0 for the mean of the speech.

    samples: at 16 kHz in 16-bit scale, dithered, as from `features.conditioned`. nobody: (frames of 10 ms,) where nobody
    speaks, however loud it is. warp: factor on the bands' frequencies. pace: as of `features.band_power`.
    """
    power = band_power(samples, np.hanning(_WINDOW).astype(np.float32), round(STEP * RATE), mel_filters(warp), pace)
    noise = _NOISE_FACTOR * np.percentile(running_mean(power, _NOISE_SMOOTHING), _NOISE_PERCENTILE, axis=0)
    left, levels = _NOISE_LEFT * power, power
    levels -= noise.astype(np.float32)
    np.maximum(levels, left, out=levels)
    np.log(np.maximum(levels, np.float32(1e-3), out=levels), out=levels)
    del left
    loudness = levels.mean(1)
    said = np.ones(len(power), np.bool_) if nobody is None else ~np.repeat(nobody, FRAMES_A_FRAME)[: len(power)]
    if not said.any():
        said[:] = True
    low, high = np.percentile(loudness[said], (5, 95))
    speech = said & (loudness >= high - _SPEECH_SHARE * (high - low))
    levels -= levels[speech].mean(0)
    levels /= 3
    return np.clip(levels, -4, 3, out=levels)


def inputs_at(
    model: AcousticModel, chain: Chain, entered: Occupancy, scores: Array, mel: Array, anchors: Doubles
) -> Array:
    """What the net looks at for each onset but the first of a chain.

    scores: the chain's band scores. mel: log mel from the chain's first frame on. anchors: (phones - 1,) seconds from
    the chain's first frame. Returns (phones - 1, inputs).
    """
    count = len(chain.phone)
    around = np.round(anchors / STEP).astype(np.int64)[:, None] + np.arange(-REACH, REACH + 1)
    seen = mel[np.clip(around, 0, len(mel) - 1)].reshape(count - 1, -1)
    names, classes = _one_hot(chain.phone, len(model.phones)), _one_hot(_classes(model)[chain.phone], len(_CLASSES))
    nobody = np.zeros((1, len(_CLASSES)), np.float32)
    before = np.concatenate([nobody, classes[:-2]])
    after = np.concatenate([classes[2:], nobody])
    lengths = np.diff(np.append(entered.onset, chain.frames))
    at = anchors[:, None]
    found = entered.onset[1:, None] * FRAME_SECONDS
    numbers = np.concatenate(
        [
            50 * (at - chain.starts[1:, None] * FRAME_SECONDS),
            50 * (at - found),
            np.minimum(50 * entered.spread[1:, None] * FRAME_SECONDS, 3),
            entered.mass[1:, None],
            np.log(np.maximum(lengths[:-1, None] * FRAME_SECONDS, 0.01)) + 2.5,
            np.log(np.maximum(lengths[1:, None] * FRAME_SECONDS, 0.01)) + 2.5,
        ],
        axis=1,
    )
    parts = (seen, names[:-1], names[1:], classes[:-1], classes[1:], before, after, _crossing(chain, scores), numbers)
    return np.concatenate(parts, axis=1).astype(np.float32)


def _crossing(chain: Chain, scores: Array) -> Array:
    """(phones - 1, 13): how much better the right sound's first state explains the frames around than the left's last."""
    scores = np.maximum(scores, _IMPOSSIBLE)  # what the band leaves out
    first = STATES * np.arange(1, len(chain.phone))
    frames = np.clip(chain.starts[1:, None] + np.arange(-_PROFILE, _PROFILE + 1), 0, chain.frames - 1)
    low = chain.low[frames]
    width = scores.shape[1]
    right, left = first[:, None] - low, first[:, None] - 1 - low
    inside = (left >= 0) & (right < width)
    difference = np.where(
        inside, scores[frames, np.clip(right, 0, width - 1)] - scores[frames, np.clip(left, 0, width - 1)], 0
    )
    return np.asarray(np.clip(difference / 10, -3, 3), np.float32)


def refine(
    model: AcousticModel, chain: Chain, entered: Occupancy, scores: Array, mel: Array, lag: float
) -> tuple[Doubles, Doubles]:
    """Onsets of a chain's phones in seconds from its first frame, and the Laplace scale of each in seconds.

    lag: seconds that forward-backward times are late. The first onset is not looked at.
    """
    times = entered.onset * FRAME_SECONDS
    onsets, scales = times - lag, np.full(len(times), 0.005)
    if len(times) < 2 or not shipped_nets():
        return onsets, scales
    around = [np.round((times[1:] + offset) / STEP) * STEP for offset in _ANCHORS]
    looked = np.concatenate([inputs_at(model, chain, entered, scores, mel, anchors) for anchors in around])
    shift, scale = answers_of(shipped_nets(), looked)
    answers = np.concatenate(around) + 0.010 * shift
    onsets[1:] = _NET_SHARE * answers.reshape(-1, len(times) - 1).mean(axis=0) + (1 - _NET_SHARE) * onsets[1:]
    scales[1:] = 0.010 * scale.reshape(-1, len(times) - 1).mean(axis=0)
    return onsets, scales


def _one_hot(values: npt.NDArray[np.int32], size: int) -> Array:
    return np.eye(size, dtype=np.float32)[values]


@lru_cache(maxsize=2)
def _classes_of(names: tuple[str, ...]) -> npt.NDArray[np.int32]:
    return np.array([_CLASSES.index(class_of_arpabet(name).value) for name in names], np.int32)


def _classes(model: AcousticModel) -> npt.NDArray[np.int32]:
    return _classes_of(model.phones)


@lru_cache(maxsize=1)
def shipped_nets() -> tuple[Layers, ...]:
    """The nets that come with Buccaphon; none while they are being trained."""
    file = resources.files("buccaphon.alignment").joinpath("boundary_net.npz")
    if not file.is_file():
        return ()
    with file.open("rb") as opened, np.load(opened) as data:
        return tuple(unpack({name: data[name] for name in data.files}, number) for number in range(int(data["nets"])))


def unpack(data: dict[str, npt.NDArray[np.generic]], number: int) -> Layers:
    """Net number `number` of a file's arrays."""

    def array(name: str) -> Array:
        return np.asarray(data[f"{number}.{name}"], np.float32)

    layers = range(sum(name.startswith(f"{number}.weight") for name in data))
    return Layers(
        tuple(array(f"weight{i}") for i in layers),
        tuple(array(f"bias{i}") for i in layers),
        array("mean"),
        array("spread"),
    )
