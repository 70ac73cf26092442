"""The speech net: what it hears in the demo recordings, in music, and in parts."""

import csv
from dataclasses import replace
from pathlib import Path
from typing import NamedTuple

import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.features import condition
from buccaphon.alignment.hearing import NOBODY, listen
from buccaphon.alignment.placing import Stretch, place
from buccaphon.alignment.request import AlignmentRequest, spoken_ways
from buccaphon.alignment.speech_net import (
    BANDS,
    OUTPUTS,
    SOUNDS,
    evidence_in,
    log_mels,
    nobody_speaks,
    shipped_net,
)
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

DATA = Path(__file__).parents[1] / "data"


class Line(NamedTuple):
    """phones: name, start and end in seconds, pauses left out."""

    recording: Recording
    text: str
    phones: list[tuple[str, float, float]]


@pytest.fixture(scope="module")
def slt07() -> Line:
    with (DATA / "slt07.phones.csv").open(newline="") as rows:
        phones = [(r["phone"], float(r["start_s"]), float(r["end_s"])) for r in csv.DictReader(rows) if r["phone"]]
    return Line(read_recording(DATA / "slt07.flac"), (DATA / "slt07.txt").read_text(), phones)


@pytest.fixture(scope="module")
def heard(slt07):
    return evidence_in(condition(slt07.recording), shipped_net())


def test_mels_are_counted_from_the_loud_frames(slt07):
    mels = log_mels(condition(slt07.recording))
    assert mels.shape == (round(slt07.recording.duration * 200) + 1, BANDS)
    quieter = log_mels(condition(slt07.recording) * np.float32(0.25))
    assert np.median(np.abs(mels - quieter)) < 1e-3


def test_boundaries_are_heard_where_they_are(slt07, heard):
    at = np.array([start for _, start, _ in slt07.phones[1:]])
    frames = np.round(at / 0.01).astype(int)
    near = np.array([heard.boundary[max(f - 2, 0) : f + 3].max() for f in frames])
    far = np.abs(np.arange(len(heard.boundary))[:, None] - frames).min(1) > 3
    assert np.mean(near > -1) > 0.9
    assert np.mean(heard.boundary[far] > -1) < 0.1


def test_it_hears_who_speaks(slt07, heard):
    speaking = np.zeros(len(heard.pause), bool)
    for _, start, end in slt07.phones:
        speaking[round(start * 100) : round(end * 100)] = True
    assert np.mean(heard.pause[speaking] < 0) > 0.95
    assert np.mean(heard.pause[~speaking] > 0) > 0.7


def test_sounds_are_told_apart_where_somebody_speaks(slt07, heard):
    right = []
    for name, start, end in slt07.phones:
        if name in SOUNDS and end - start > 0.04:
            middle = heard.sounding[round(50 * (start + end))].astype(np.float32)
            right.append(middle.argmax() == SOUNDS.index(name))
            assert middle[0] == 0, "of silence it says nothing here"
    assert np.mean(right) > 0.8
    quiet = np.zeros(slt07.recording.rate, np.float32)
    later = Recording(np.concatenate([quiet, slt07.recording.mono])[:, None], slt07.recording.rate, "later")
    silent = evidence_in(condition(later), shipped_net()).sounding[10:90]
    assert np.abs(silent).max() < 0.1, "nothing where nobody speaks"


def test_a_long_recording_is_heard_block_by_block_as_in_one_go(slt07, monkeypatch):
    samples = condition(slt07.recording)
    whole = evidence_in(samples, shipped_net())
    monkeypatch.setattr("buccaphon.alignment.speech_net._BLOCK", 37)
    parts = evidence_in(samples, shipped_net())
    assert np.allclose(whole.boundary, parts.boundary, atol=1e-3)
    assert np.allclose(whole.pause, parts.pause, atol=1e-3)
    assert np.allclose(whole.sounding, parts.sounding, atol=1e-2)


@pytest.mark.parametrize("frames", [1, 2, 5, 60])
def test_any_length_gives_one_answer_for_10_ms(frames):
    assert shipped_net()(np.zeros((frames, BANDS), np.float32)).shape == ((frames + 1) // 2, OUTPUTS)


def test_a_quiet_stretch_is_sure_only_well_inside():
    votes = np.concatenate([np.full(80, 3.0), np.full(50, -4.0), np.full(10, 3.0), np.full(50, -4.0), np.full(90, 3.0)])
    quiet = nobody_speaks(votes.astype(np.float32))
    assert quiet[:60].all()
    assert not quiet[70:200].any(), "not near the speech, and not in a short gap"
    assert quiet[220:].all()
    assert not nobody_speaks(np.full(50, -4.0, np.float32)).any()


def tune(seconds: float, rate: int, seed: int) -> np.ndarray:
    """Plucked notes over a square-wave bass: nothing of this kind was in the training."""
    rng, made = np.random.default_rng(seed), np.zeros(round(seconds * rate))
    for start in range(0, len(made), rate // 5):
        t = np.arange(min(rate // 3, len(made) - start)) / rate
        hz = 220 * 2 ** (rng.choice([0, 3, 5, 7, 10, 12]) / 12)
        made[start : start + len(t)] += np.exp(-5 * t) * (np.sin(2 * np.pi * hz * t) + 0.5 * np.sin(6 * np.pi * hz * t))
        made[start : start + len(t)] += 0.3 * np.sign(np.sin(np.pi * hz / 2 * t))
    return made / np.sqrt(np.mean(made**2))


def test_music_louder_than_the_speech_swallows_no_words(slt07):
    rate, voice = slt07.recording.rate, slt07.recording.mono
    lead, tail = 2.0, 1.5
    loud = 2 * np.sqrt(np.mean(voice**2))  # 6 dB above the speech
    whole = tune(lead + len(voice) / rate + tail, rate, 1) * loud
    begin = round(lead * rate)
    whole[begin : begin + len(voice)] *= 0.1
    whole[begin : begin + len(voice)] += voice
    recording = Recording((0.5 * whole / np.abs(whole).max()).astype(np.float32)[:, None], rate, "fair")
    score = align(AlignmentRequest(recording, script_words(slt07.text)))
    first, last = slt07.phones[0][1] + lead, slt07.phones[-1][2] + lead
    assert score.words[0].start == pytest.approx(first, abs=0.06)
    assert score.words[-1].end == pytest.approx(last, abs=0.12)


def test_a_net_that_hears_nobody_where_words_must_be_is_not_believed(slt07):
    duration = slt07.recording.duration
    heard = listen(slt07.recording, Span(0.0, duration), ())
    request = AlignmentRequest(slt07.recording, script_words(slt07.text))
    deaf = replace(heard.features, pausing=np.full(len(heard), NOBODY, np.float32))
    stretch = Stretch(0, len(heard), 0.0)
    (found,) = place(replace(heard, features=deaf), spoken_ways(request), request, stretch)
    onsets = [onset for onset, owner in zip(found.onsets, found.owners, strict=True) if owner >= 0]
    assert onsets[0] == pytest.approx(slt07.phones[0][1], abs=0.04)
    assert onsets[-1] == pytest.approx(slt07.phones[-1][1], abs=0.04)


def test_what_is_marked_as_not_speech_can_only_be_a_pause(slt07):
    heard = listen(slt07.recording, Span(0.0, slt07.recording.duration), (Span(0.5, 0.8),))
    assert (heard.features.pausing[52:78] >= 100).all()
    assert (heard.features.pausing[100:] < 100).all()
