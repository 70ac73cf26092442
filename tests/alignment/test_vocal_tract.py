import csv
from pathlib import Path

import numpy as np
import pytest
import soxr

from buccaphon.alignment.aligner import align
from buccaphon.alignment.features import mel_filters
from buccaphon.alignment.hearing import forget_what_was_heard, listen
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.alignment.vocal_tract import LEAST, MOST
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.timing import Span
from tests.alignment.test_aligner import onset_errors
from tests.conftest import DATA

TEXT = (DATA / "slt07.txt").read_text()


def raised(factor: float) -> Recording:
    """Played faster: everything higher and shorter."""
    recording = read_recording(DATA / "slt07.flac")
    samples = soxr.resample(recording.mono, recording.rate * factor, recording.rate).astype(np.float32)
    return Recording(samples[:, None], recording.rate, f"raised {factor}")


def aligned(recording: Recording, text: str = TEXT) -> tuple[Score, float | None]:
    """The score, and the warp that was found for the voice."""
    forget_what_was_heard()
    score = align(AlignmentRequest(recording, script_words(text)))
    return score, listen(recording, Span(0.0, recording.duration), ()).warp


def test_the_higher_the_voice_the_higher_its_bands():
    found = [aligned(raised(factor))[1] for factor in (0.8, 1.0, 1.2)]
    assert found == sorted(found)
    assert found[2] - found[0] >= 0.2
    assert all(LEAST <= warp <= MOST for warp in found)


@pytest.mark.parametrize("factor", [0.8, 1.25])
def test_a_lowered_or_raised_voice_is_placed_as_well(factor, tmp_path: Path):
    with (DATA / "slt07.phones.csv").open(newline="") as rows, (tmp_path / "moved.csv").open("w", newline="") as moved:
        writer = csv.DictWriter(moved, ["start_s", "end_s", "phone"], extrasaction="ignore")
        writer.writeheader()
        for row in csv.DictReader(rows):
            writer.writerow(row | {"start_s": float(row["start_s"]) / factor})
    score, _ = aligned(raised(factor))
    errors = np.abs(onset_errors(score, tmp_path / "moved.csv"))
    assert (errors < 0.0417).mean() > 0.95


def test_without_a_script_the_voice_is_fitted_as_well():
    recording = raised(0.8)
    forget_what_was_heard()
    assert recognise(AlignmentRequest(recording, ())).words
    assert listen(recording, Span(0.0, recording.duration), ()).warp < 1


def test_too_little_speech_says_nothing_of_the_voice():
    _, warp = aligned(read_recording(DATA / "slt07.flac").part(Span(0.0, 0.9)), TEXT.split()[0])
    assert warp is None


@pytest.mark.parametrize("warp", [0.76, 0.9, 1.0, 1.1, 1.28])
def test_warped_bands_are_whole_in_order_and_inside_the_spectrum(warp):
    filters = mel_filters(warp)
    centres = filters.argmax(0)
    assert (np.diff(centres) > 0).all()
    assert (filters.sum(0) > 0).all()
    assert not filters[-2:].any()
    assert abs(centres[8] / mel_filters().argmax(0)[8] - warp) < 0.06
