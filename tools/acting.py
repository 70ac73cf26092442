"""The same speech as an actor would say it: sounds drawn out, a wandering pace, hesitations with breaths and pauses.

Times follow exactly: the stretcher's windows are centred on the mapped times.
"""

import numpy as np
from scipy import signal
from tools.voices import PAUSE, RATE, Spoken

_HALF, _SEARCH = round(0.014 * RATE), round(0.007 * RATE)  # samples
_FADE = round(0.004 * RATE)
_VOWELS = frozenset(["AA", "AE", "AH", "AO", "AW", "AY", "EH", "ER", "EY", "IH", "IY", "OW", "OY", "UH", "UW"])
_HELD = _VOWELS | frozenset(["M", "N", "NG", "L", "R"])  # what can be drawn out
_BREATH = (400.0, 4500.0)  # Hz


def acted(one: Spoken, others: list[Spoken], rng: np.random.Generator) -> Spoken:
    """Drawn out, at another pace, with hesitations; each now and then. others: more of the same voice."""
    made = one
    if rng.random() < 0.3:
        made = _hesitant(made, others, rng)
    if rng.random() < 0.45:
        made = drawn_out(made, rng)
    if rng.random() < 0.4:
        made = paced(made, rng)
    return made


def stretched(samples: np.ndarray, source: np.ndarray, target: np.ndarray) -> np.ndarray:
    """Waveform similarity overlap-add along a time map: what lies at source[i] seconds comes to lie at target[i]."""
    count = round(float(target[-1]) * RATE)
    pad = _HALF + _SEARCH + 8
    window = np.hanning(2 * _HALF + 1)[:-1]
    wide, made = np.pad(samples, (pad, pad + _HALF)), np.zeros(count + 4 * _HALF)
    before = None
    for centre in range(0, count + _HALF, _HALF):
        at = round(float(np.interp(centre / RATE, target, source)) * RATE)
        if before is not None and abs(before + _HALF - at) > 1:  # where the pace is 1 nothing is moved
            goal = wide[pad + before : pad + before + _HALF]  # what would come next
            low = max(pad + at - _HALF - _SEARCH, 0)
            around = wide[low : pad + at + _SEARCH]
            energy = np.convolve(around**2, np.ones(_HALF), "valid")
            at = low + int((np.correlate(around, goal, "valid") / np.sqrt(energy + 1e-6)).argmax()) + _HALF - pad
        at = min(max(at, -_HALF), len(samples))
        piece = wide[max(pad + at - _HALF, 0) : pad + at + _HALF]
        made[centre : centre + len(piece)] += piece * window[: len(piece)]
        before = at
    return made[_HALF : _HALF + count].astype(np.float32)


def _along(one: Spoken, source: np.ndarray, target: np.ndarray) -> Spoken:
    moved = np.interp([at for _, at in one.sounds], source, target)
    return Spoken(
        stretched(one.samples, source, target), [(name, at) for (name, _), at in zip(one.sounds, moved, strict=True)]
    )


def _ends(one: Spoken) -> list[float]:
    return [*(at for _, at in one.sounds[1:]), len(one.samples) / RATE]


def drawn_out(one: Spoken, rng: np.random.Generator) -> Spoken:
    """The inner halves of one to three sounds last two to six times as long."""
    spans = [
        (at, end) for (name, at), end in zip(one.sounds, _ends(one), strict=True) if name in _HELD and end - at > 0.05
    ]
    if not spans:
        return one
    picked = sorted(rng.choice(len(spans), min(len(spans), int(rng.integers(1, 4))), replace=False).tolist())
    source, target = [0.0], [0.0]
    for at, end in (spans[number] for number in picked):
        quarter = (end - at) / 4
        for to, slope in ((at + quarter, 1.0), (end - quarter, 2 * rng.uniform(2, 6) - 1)):
            target.append(target[-1] + (to - source[-1]) * slope)
            source.append(to)
    length = len(one.samples) / RATE
    return _along(one, np.array([*source, length]), np.array([*target, target[-1] + length - source[-1]]))


def paced(one: Spoken, rng: np.random.Generator) -> Spoken:
    """Slower or faster, all of it or wandering."""
    length = len(one.samples) / RATE
    at = np.arange(0.0, length + 0.05, 0.05)
    knots = np.arange(0.0, length + 0.7, 0.7)
    paces = rng.uniform(np.log(0.55), np.log(1.8), len(knots))
    if rng.random() < 0.5:
        paces[:] = rng.uniform(np.log(0.5), np.log(1.2))
    pace = np.exp(np.interp(at, knots, paces))
    return _along(one, at, np.concatenate([[0.0], np.cumsum(0.05 / pace)[:-1]]))


# --- hesitations ------------------------------------------------------------------------------------------------------


def _hesitant(one: Spoken, others: list[Spoken], rng: np.random.Generator) -> Spoken:
    """One or two hesitations, each between pauses, where a sound begins: "um", "uh" or "mm", or only a breath."""
    begins = [number for number in range(2, len(one.sounds) - 1) if one.sounds[number][1] > one.sounds[number - 1][1]]
    donors = {name: _longest(name, others, rng) for name in ("AH", "M")}
    if len(begins) < 4:
        return one
    picked = sorted(rng.choice(begins, int(rng.integers(1, 3)), replace=False).tolist())
    parts, sounds, shift, done, first = list[np.ndarray](), list[tuple[str, float]](), 0.0, 0, 0
    for number in [*picked, len(one.sounds)]:
        cut = round(one.sounds[number][1] * RATE) if number < len(one.sounds) else len(one.samples)
        parts.append(_faded(one.samples[done:cut]))
        sounds += [(name, at + shift) for name, at in one.sounds[first:number]]
        if number < len(one.sounds):
            added, heard = _hesitation(donors, rng)
            sounds += [(name, cut / RATE + shift + at) for name, at in heard]
            parts.append(added)
            shift += len(added) / RATE
        done, first = cut, number
    return Spoken(np.concatenate(parts).astype(np.float32), sounds)


def _hesitation(
    donors: dict[str, np.ndarray | None], rng: np.random.Generator
) -> tuple[np.ndarray, list[tuple[str, float]]]:
    parts = [_floor(rng.uniform(0.1, 0.8), rng)]
    if rng.random() < 0.5:
        parts += [_breath(rng), _floor(rng.uniform(0.05, 0.3), rng)]
    sounds = [(PAUSE, 0.0)]
    names = (("AH", "M"), ("AH",), ("M",), ())[int(rng.choice(4, p=(0.45, 0.25, 0.15, 0.15)))]
    found = [(name, donors[name]) for name in names]
    for name, donor in found:
        if donor is not None:
            sounds.append((name, sum(map(len, parts)) / RATE))
            length = len(donor) / RATE
            said = stretched(donor, np.array([0.0, length]), np.array([0.0, rng.uniform(0.15, 0.6)]))
            parts.append(said * np.interp(np.arange(len(said)), [0, 0.02 * RATE, len(said)], [0.2, 1, 0.6]))
    sounds.append((PAUSE, sum(map(len, parts)) / RATE))
    parts.append(_floor(rng.uniform(0.1, 1.0), rng))
    return np.concatenate([_faded(part) for part in parts]), sounds


def _longest(name: str, others: list[Spoken], rng: np.random.Generator) -> np.ndarray | None:
    """Of some of the recordings the longest piece of a sound, without its edges."""
    best = None
    for number in rng.choice(len(others), min(len(others), 6), replace=False):
        one = others[number]
        for (sound, at), end in zip(one.sounds, _ends(one), strict=True):
            if sound == name and end - at > 0.07 and (best is None or (end - at) * RATE > len(best)):
                best = one.samples[round((at + 0.02) * RATE) : round((end - 0.015) * RATE)]
    return best


def _floor(seconds: float, rng: np.random.Generator) -> np.ndarray:
    return 2e-4 * signal.lfilter([1], [1, -0.7], rng.standard_normal(round(seconds * RATE)))


def _breath(rng: np.random.Generator) -> np.ndarray:
    count = round(rng.uniform(0.2, 0.45) * RATE)
    noise = signal.sosfilt(signal.butter(2, _BREATH, "band", fs=RATE, output="sos"), rng.standard_normal(count))
    return rng.uniform(0.008, 0.04) * noise / np.std(noise) * np.sin(np.pi * np.arange(count) / count) ** 1.5


def _faded(samples: np.ndarray) -> np.ndarray:
    count, made = min(_FADE, len(samples) // 2), samples.copy()
    if count:
        made[:count] *= np.linspace(0, 1, count)
        made[-count:] *= np.linspace(1, 0, count)
    return made
