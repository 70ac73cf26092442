"""Worse recordings of the same speech: other sizes of throat and room, noise, crowds, music, poor lines.

Music is made up on the spot: chords, tunes and drums of random instruments.
"""

import numpy as np
from scipy import fft, signal

RATE = 16000


def coloured(count: int, exponent: float, rng: np.random.Generator) -> np.ndarray:
    """Noise with power 1 over frequency to the given exponent times 2."""
    size = fft.next_fast_len(count)
    spectrum = np.fft.rfft(rng.standard_normal(size))
    spectrum /= np.maximum(np.arange(len(spectrum)), 1) ** exponent
    return np.fft.irfft(spectrum, size)[:count]


def room(samples: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """An exponential tail; sound that arrives later never brings the first forward."""
    length = rng.uniform(0.08, 0.6)
    tail = round(length * RATE)
    answer = rng.standard_normal(tail) * np.exp(-6.9 * np.arange(tail) / tail) * rng.uniform(0.015, 0.07)
    answer[: round(rng.uniform(0, 0.01) * RATE)] *= rng.uniform(0, 1)
    answer[0] = 1.0
    return signal.fftconvolve(samples, answer)[: len(samples)]


def music(count: int, rng: np.random.Generator) -> np.ndarray:
    """Some seconds of a made-up band: one to four players of chords, tunes, bass or drums."""
    beat = rng.uniform(0.25, 0.8)
    key = 55 * 2 ** (rng.integers(0, 12) / 12)
    scale = rng.choice(np.array([[0, 2, 4, 5, 7, 9, 11], [0, 2, 3, 5, 7, 8, 10], [0, 2, 4, 7, 9, 12, 14]]))
    made = np.zeros(count)
    every = (_chords, _tune, _drums, _bass, _held)
    players = [every[number] for number in rng.choice(len(every), size=rng.integers(1, 5))]
    if rng.random() < 0.25:  # steady and alone is no voice yet
        players = [_held]
    for player in players:
        part = player(count, beat, key, scale, rng)
        level = np.sqrt(np.mean(part**2))
        if level > 0:
            made += part / level * 10 ** (rng.uniform(-12, 0) / 20)
    if rng.random() < 0.3:
        made = room(made, rng)
    return made


def _tone(
    hz: float, count: int, rng: np.random.Generator, timbre: np.ndarray, attack: float, decay: float
) -> np.ndarray:
    t = np.arange(count) / RATE
    vibrato = 1 + (0.004 * np.sin(2 * np.pi * rng.uniform(4, 7) * t) if timbre[0] > 0.5 else 0)
    phase = 2 * np.pi * np.cumsum(np.full(count, hz) * vibrato) / RATE
    tone = sum(a * np.sin(phase * (n + 1) + rng.uniform(0, 6)) for n, a in enumerate(timbre) if hz * (n + 1) < 7800)
    envelope = np.minimum(t / max(attack, 1e-3), 1) * np.exp(-t / decay) * np.minimum((count / RATE - t) / 0.02, 1)
    return tone * envelope


def _instrument(rng: np.random.Generator) -> tuple[np.ndarray, float, float]:
    partials = np.arange(1, rng.integers(2, 16))
    timbre = rng.uniform(0.2, 1, len(partials)) / partials ** rng.uniform(0.3, 2.0)
    if rng.random() < 0.3:
        timbre[1::2] *= 0.1  # as a clarinet
    return timbre, float(rng.choice([0.003, 0.02, 0.1, 0.3])), float(rng.choice([0.15, 0.4, 1.0, 5.0]))


def _notes(count, step, rng, choose, density: float) -> np.ndarray:
    """choose: the frequencies that sound at a step."""
    made, instrument = np.zeros(count + 2 * RATE), _instrument(rng)
    at, number = 0.0, 0
    while at * RATE < count:
        if rng.random() < density:
            length = min(round(step * rng.uniform(0.6, 1.2) * RATE), 2 * RATE)
            for hz in choose(number):
                start = round(at * RATE)
                made[start : start + length] += rng.uniform(0.5, 1) * _tone(hz, length, rng, *instrument)
        at, number = at + step, number + 1
    return made[:count]


def _chords(count, beat, key, scale, rng) -> np.ndarray:
    degrees = rng.integers(0, 7, 4)
    octave = rng.choice([2, 4])

    def chord(number: int) -> list[float]:
        root = degrees[number % 4]
        return [octave * key * 2 ** (scale[(root + k) % 7] / 12 + (root + k) // 7) for k in (0, 2, 4)]

    return _notes(count, min(beat * rng.choice([1, 2, 4]), 1.8), rng, chord, 0.95)


def _tune(count, beat, key, scale, rng) -> np.ndarray:
    octave, places = rng.choice([2, 4, 8]), np.cumsum(rng.integers(-2, 3, 400)) % 14

    def note(number: int) -> list[float]:
        place = places[number % 400]
        return [octave * key * 2 ** (scale[place % 7] / 12 + place // 7)]

    return _notes(count, beat * rng.choice([0.5, 1.0]), rng, note, 0.8)


def _held(count, _beat, key, scale, rng) -> np.ndarray:
    """Single long notes with rests between."""
    made, at = np.zeros(count + 8 * RATE), round(rng.uniform(-1, 1) * RATE)
    timbre, attack, _ = _instrument(rng)
    while at < count:
        length, place = round(rng.uniform(0.5, 5) * RATE), int(rng.integers(0, 14))
        hz = rng.choice([1, 2, 4]) * key * 2 ** (scale[place % 7] / 12 + place // 7)
        start = max(at, 0)
        made[start : start + length] += _tone(hz, length, rng, timbre, attack, rng.choice([3.0, 20.0]))
        at += length + round(rng.uniform(0, 1.5) * RATE)
    return made[:count]


def _bass(count, beat, key, scale, rng) -> np.ndarray:
    degrees = rng.integers(0, 7, 8)
    return _notes(count, beat, rng, lambda number: [key * 2 ** (scale[degrees[number % 8]] / 12)], 0.9)


def _drums(count, beat, _key, _scale, rng) -> np.ndarray:
    made = np.zeros(count + RATE)
    pattern = rng.random((2, 8)) < np.array([[0.4], [0.6]])
    step, t = beat / 2, np.arange(round(0.25 * RATE)) / RATE
    kick = np.sin(2 * np.pi * (50 * t + 60 * np.exp(-t * 30) / 30)) * np.exp(-t * rng.uniform(10, 25))
    hat = signal.lfilter([1, -0.95], [1], rng.standard_normal(len(t))) * np.exp(-t * rng.uniform(15, 60))
    snare = rng.standard_normal(len(t)) * np.exp(-t * rng.uniform(12, 30))
    for number in range(int(count / RATE / step)):
        start = round(number * step * RATE)
        for hit, sound, level in ((pattern[0, number % 8], kick, 1.0), (pattern[1, number % 8], hat, 0.3)):
            if hit:
                made[start : start + len(t)] += level * sound
        if number % 4 == 2:
            made[start : start + len(t)] += 0.5 * snare
    return made[:count]


def crowd(count: int, voices: list[np.ndarray], rng: np.random.Generator) -> np.ndarray:
    """Five to eight people at once, backwards, so that none can be followed."""
    made = np.zeros(count)
    for _ in range(rng.integers(5, 9)):
        voice = voices[rng.integers(len(voices))][::-1]
        made += np.roll(np.resize(voice, count), rng.integers(count))
    return made


def _mixed_in(samples: np.ndarray, other: np.ndarray, decibels: float, speaking: np.ndarray) -> np.ndarray:
    """other: so many dB below the speech."""
    loud, level = np.sqrt(np.mean(samples[speaking] ** 2) + 1e-12), np.sqrt(np.mean(other**2) + 1e-12)
    return samples + other * (loud / level / 10 ** (decibels / 20))


def _band(samples: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    edges = float(rng.uniform(60, 350)), float(rng.uniform(3200, 7000))
    return signal.sosfilt(signal.butter(4, edges, "bandpass", fs=RATE, output="sos"), samples)


def spoil(
    samples: np.ndarray, speaking: np.ndarray, others: list[np.ndarray], rng: np.random.Generator, heavily: bool
) -> np.ndarray:
    """speaking: where the speech is. others: recordings of more voices, for a crowd."""
    if rng.random() < 0.4:
        samples = signal.lfilter([1, float(rng.uniform(-0.7, 0.7))], [1], samples)
    if rng.random() < (0.45 if heavily else 0.1):
        samples = room(samples, rng)
    narrow = rng.random() < (0.3 if heavily else 0.1)
    late = rng.random() < 0.5
    if narrow and not late:
        samples = _band(samples, rng)
    kind = rng.random()
    if heavily and kind < 0.4:
        samples = _mixed_in(samples, _ducked(len(samples), speaking, rng), rng.uniform(-8, 20), speaking)
    elif heavily and kind < 0.5:
        samples = _mixed_in(samples, crowd(len(samples), others, rng), rng.uniform(3, 25), speaking)
    elif kind < (0.9 if heavily else 0.5):
        noise = coloured(len(samples), rng.uniform(0, 1.0), rng)
        samples = _mixed_in(samples, noise, rng.uniform(3, 30) if heavily else rng.uniform(20, 40), speaking)
    if narrow and late:
        samples = _band(samples, rng)
    if heavily and rng.random() < 0.1:
        limit = np.abs(samples).max() * rng.uniform(0.2, 0.7)
        samples = np.clip(samples, -limit, limit)
    return samples.astype(np.float32)


def _ducked(count: int, speaking: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Music that steps back while somebody speaks, or not."""
    made = music(count, rng)
    if rng.random() < 0.5:
        made = signal.lfilter([0.001], [1, -0.999], np.where(speaking, 10 ** (-rng.uniform(6, 24) / 20), 1.0)) * made
    return made
