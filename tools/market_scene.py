"""Makes the demo's scene of two: a quarrel of Marigold and Timo in one recording, and the bang of a barrel.

    .venv/bin/python -m tools.market_scene

Needs the free synthesiser Flite (`flite`) with its voices slt and rms.
"""

import tempfile
from pathlib import Path

import numpy as np
import soundfile
from tools.voices import flite

from buccaphon.demo.line import BANG, QUARREL, recording_path

RATE = 16_000
SAID = (
    ("slt", "Just a little further to the left, you clumsy giraffe!", 0.9),
    ("rms", "No, no, no. Those yellow onions weigh far too much.", 0.35),
    ("slt", "Watch out for puddles, potholes, and the mayor's angry goose.", 0.4),
)  # voice, words, and seconds of silence after them; in the first of these the barrel falls


def bang(seconds: float = 0.8) -> np.ndarray:
    """A barrel on cobbles: a dull knock, its rumble, and two bounces."""
    rng, at = np.random.default_rng(12), np.arange(round(seconds * RATE)) / RATE
    made = np.zeros_like(at)
    for begins, size in ((0.0, 1.0), (0.22, 0.45), (0.36, 0.2)):
        since = np.clip(at - begins, 0.0, None)
        knock = np.exp(-since * 28) * rng.normal(size=len(at)) * 0.5 + np.exp(-since * 11) * np.sin(
            2 * np.pi * 92 * since
        )
        made += size * np.where(at >= begins, knock, 0.0)
    smooth = np.convolve(made, np.hanning(9) / np.hanning(9).sum(), "same")
    return 0.8 * smooth / np.abs(smooth).max()


def quarrel(sentences: list[np.ndarray]) -> np.ndarray:
    parts = []
    for sound, (_voice, _text, pause) in zip(sentences, SAID, strict=True):
        parts += [0.7 * sound / np.abs(sound).max(), np.zeros(round(pause * RATE))]
    return np.concatenate(parts)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        sentences = [flite(voice, text, Path(folder)).samples for voice, text, _pause in SAID]
    soundfile.write(recording_path(QUARREL), quarrel(sentences), RATE)
    soundfile.write(recording_path(BANG), bang(), RATE)


if __name__ == "__main__":
    main()
