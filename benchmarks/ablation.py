"""What each idea of the aligner is worth: the same lines aligned with all of them, and with each one taken away.

Onsets of phones against exact times; every line clean, under pink noise at 10 dB, and in a room with 0.4 s of reverberation.
Prints the table; of a folder named by BUCCAPHON_SPEECH also writes it into docs/alignment.md, between its two marks.
"""

import os
import time
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from unittest.mock import patch

import numpy as np
from scipy import signal

from benchmarks.align import FOLDER, Onsets, errors, reference
from buccaphon.alignment import best_path, boundary_net, features, graph, hearing, placing
from buccaphon.alignment.aligner import align
from buccaphon.alignment.features import FRAME_SECONDS
from buccaphon.alignment.hearing import forget_what_was_heard
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import script_words

_PAGE = Path(__file__).parents[1] / "docs" / "alignment.md"
_BEGIN, _END = "<!-- ablation -->", "<!-- end of ablation -->"


def _corners(_model, chain, _entered, _scores, _mel, _lag):
    """The boundaries of the best path, as they are."""
    return chain.starts * FRAME_SECONDS, np.full(len(chain.starts), 0.005)


IDEAS: dict[str, list[tuple[object, str, object]]] = {
    "everything": [],
    "without the boundary net": [(boundary_net, "shipped_nets", lambda: ())],
    "without the speech net": [(hearing, "shipped_net", lambda: None)],
    "without both nets": [(boundary_net, "shipped_nets", lambda: ()), (hearing, "shipped_net", lambda: None)],
    "without adaptation": [(placing, "estimate_transforms", lambda *_: None)],
    "without fitting the voice": [(placing, "fit_voice", lambda *_: False)],
    "without noise subtraction": [(features, "_NOISE_FACTOR", 0.0)],
    "without dereverberation": [(features, "steepest_fall", lambda _power: np.inf)],
    "without costs of pauses and haste": [(graph, "PAUSE_COST", 0.0), (best_path, "HASTE_COST", 0.0)],
    "corners of the best path": [
        (placing, "refine", _corners),
        (placing, "estimate_transforms", lambda *_: None),
        (hearing, "shipped_net", lambda: None),
    ],
}


def run() -> None:
    lines = [
        (read_recording(path), path.with_suffix(".txt").read_text("utf-8"), reference(path.with_suffix(".phones.csv")))
        for path in sorted(FOLDER.glob("*.flac"))
    ]
    table = ["| | clean | pink noise, 10 dB | reverberation | time |", "|---|---|---|---|---|"]
    whole = 0.0
    for idea, patches in IDEAS.items():
        start, cells = time.perf_counter(), []
        with ExitStack() as stack:
            for where, name, value in patches:
                stack.enter_context(patch.object(where, name, value))
            for spoil in (clean, noisy, in_a_room):
                forget_what_was_heard()
                cells.append(_cell([(spoil(sound, n), text, truth) for n, (sound, text, truth) in enumerate(lines)]))
        taken = time.perf_counter() - start
        whole = whole or taken
        table.append(f"| {idea} | {' | '.join(cells)} | {taken / whole:.2f} |")
        print(f"# {table[-1]}", flush=True)
    forget_what_was_heard()
    if "BUCCAPHON_SPEECH" in os.environ:  # two lines alone say little
        _write(table)


def _cell(lines: list[tuple[Recording, str, Onsets]]) -> str:
    found = errors(list(aligned(lines)), [truth for *_, truth in lines])
    sizes, paired = 1000 * np.abs(found), len(found) / sum(len(truth) for *_, truth in lines)
    return f"{sizes.mean():.1f} ms, {np.mean(sizes < 20):.3f}, {np.mean(sizes < 41.7):.3f}, {paired:.3f}"


def aligned(lines: list[tuple[Recording, str, Onsets]]) -> Iterator[Onsets]:
    for sound, text, _ in lines:
        try:
            score = align(AlignmentRequest(sound, script_words(text)))
            yield [(arpabet_of(phone.symbol), phone.start) for phone in score.phones()]
        except AlignmentError:
            yield []


def clean(recording: Recording, _seed: int) -> Recording:
    return recording


def noisy(recording: Recording, seed: int) -> Recording:
    clean = recording.mono
    spectrum = np.fft.rfft(np.random.default_rng(seed).standard_normal(len(clean)))
    noise = np.fft.irfft(spectrum / np.sqrt(np.maximum(np.arange(len(spectrum)), 1)), len(clean))
    return _with(recording, clean + noise * np.sqrt(np.mean(clean**2) / np.mean(noise**2) / 10))


def in_a_room(recording: Recording, seed: int) -> Recording:
    count = round(0.4 * recording.rate)
    tail = np.exp(-np.arange(count) / (0.0625 * recording.rate)) * np.random.default_rng(seed).standard_normal(count)
    tail *= 0.05
    tail[0] = 1
    return _with(recording, signal.fftconvolve(recording.mono, tail)[: len(recording.mono)])


def _with(recording: Recording, samples: np.ndarray) -> Recording:
    return Recording((samples / max(np.abs(samples).max(), 1.0)).astype(np.float32)[:, None], recording.rate, "spoiled")


def _write(table: list[str]) -> None:
    text = _PAGE.read_text("utf-8")
    if _BEGIN in text and _END in text:
        before, after = text.split(_BEGIN)[0], text.split(_END)[1]
        _PAGE.write_text(f"{before}{_BEGIN}\n" + "\n".join(table) + f"\n{_END}{after}", "utf-8")
