"""Acted speech: giants and small creatures made of the test recordings, whose times follow exactly; or the sets of a folder
named by BUCCAPHON_ACTED, a subfolder a kind (drawn, um, slow, giant, small, deep, high, whisper) of name.flac, .txt and
.phones.csv."""

import os
import re
from pathlib import Path

import numpy as np
import soxr

from benchmarks.align import FOLDER, align_ours, errors, reference
from benchmarks.report import bar
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording

_FRAME = 0.0417  # seconds
_BARS = {
    "drawn": 0.975,
    "um": 0.975,
    "slow": 0.96,
    "giant": 0.96,
    "small": 0.98,
    "deep": 0.95,
    "high": 0.95,
    "whisper": 0.97,
}
_MADE = {"giant": 0.72, "small": 1.4}  # pitch, formants and rate


def run() -> None:
    folder = os.environ.get("BUCCAPHON_ACTED")
    sets = read(Path(folder)) if folder else made()
    for kind, lines in sets.items():
        found = errors([align_ours(recording, text) for recording, text, _ in lines], [truth for *_, truth in lines])
        off = np.abs(found)
        bar(f"acted.{kind}_within_frame", float((off < _FRAME).mean()), "share", _BARS[kind], at_least=True)
        if kind == "drawn":
            bar("acted.drawn_mean", 1000 * float(off.mean()), "ms", 10)
            bar("acted.drawn_largest", float(off.max()), "s", 0.3)


def made() -> dict[str, list]:
    """The test recordings played slower and faster, pitch and all."""
    found: dict[str, list] = {kind: [] for kind in _MADE}
    for path in sorted(FOLDER.glob("*.phones.csv")):
        stem = re.sub(r"\.phones\.csv$", "", path.name)
        recording = read_recording(FOLDER / f"{stem}.flac")
        text = (FOLDER / f"{stem}.txt").read_text("utf-8")
        for kind, pace in _MADE.items():
            slower = soxr.resample(recording.mono, pace * recording.rate, recording.rate)
            truth = [(phone, start / pace) for phone, start in reference(path)]
            found[kind].append((Recording(slower[:, None], recording.rate, stem), text, truth))
    return found


def read(folder: Path) -> dict[str, list]:
    found: dict[str, list] = {}
    for kind in (kind for kind in _BARS if (folder / kind).is_dir()):
        paths = sorted((folder / kind).glob("*.phones.csv"))
        found[kind] = []
        for path in paths:
            stem = path.with_name(re.sub(r"\.phones\.csv$", "", path.name))
            text = stem.with_name(f"{stem.name}.txt").read_text("utf-8")
            recording = read_recording(stem.with_name(f"{stem.name}.flac"))
            found[kind].append((recording, text, reference(path)))
    return found
