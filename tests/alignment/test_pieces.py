import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError
from buccaphon.speech.script import script_words
from tests.conftest import DATA

LINES = [(read_recording(DATA / f"{name}.flac"), (DATA / f"{name}.txt").read_text()) for name in ("awb00", "slt07")]


def joined(order: list[int], silence: float = 0.0) -> tuple[Recording, str, list[float]]:
    """Lines one after the other, each followed by silence; the text, and where each line begins."""
    samples, texts, starts, at = [], [], [], 0.0
    for number in order:
        recording, text = LINES[number]
        starts.append(at)
        samples += [recording.mono, np.zeros(round(silence * recording.rate), np.float32)]
        texts.append(text)
        at += recording.duration + silence
    return Recording(np.concatenate(samples)[:, None], LINES[0][0].rate, "long"), "\n".join(texts), starts


def test_every_line_of_a_long_recording_lies_where_it_lies_alone():
    order = [0, 1] * 8
    recording, text, starts = joined(order)
    assert recording.duration > 45, "long enough for several pieces"
    score = align(AlignmentRequest(recording, script_words(text)))
    alone = [align(AlignmentRequest(line, script_words(words))) for line, words in LINES]
    words = iter(score.words)
    for number, start in zip(order, starts, strict=True):
        for expected in alone[number].words:
            word = next(words)
            assert word.text == expected.text
            assert word.start - start == pytest.approx(expected.start, abs=0.06)
            assert word.end - start == pytest.approx(expected.end, abs=0.12)


def test_a_long_silence_in_between_swallows_nothing():
    recording, text, starts = joined([0, 1], silence=26.0)
    score = align(AlignmentRequest(recording, script_words(text)))
    first = len(script_words(LINES[0][1]))
    assert score.words[first - 1].end < starts[0] + LINES[0][0].duration + 0.2
    assert score.words[first].start == pytest.approx(starts[1] + 0.2, abs=0.3)


def test_only_the_used_part_is_looked_at_and_times_are_those_of_the_file():
    from buccaphon.timing import Span

    recording, _, starts = joined([0, 1, 0], silence=1.0)
    used = Span(starts[1] - 0.4, starts[2] - 0.4)
    score = align(AlignmentRequest(recording, script_words(LINES[1][1]), used=used))
    assert score.duration == recording.duration
    assert used.start < score.words[0].start < score.words[-1].end < used.end


def test_not_speech_holds_no_word():
    from buccaphon.timing import Span

    recording, _text, starts = joined([0, 1], silence=0.5)
    marked = Span(0.0, starts[1] - 0.3)
    score = align(AlignmentRequest(recording, script_words(LINES[1][1]), not_speech=(marked,)))
    assert score.words[0].start >= marked.end - 0.05


def test_a_script_that_goes_on_after_the_recording_ends_is_refused():
    recording, text, _ = joined([0] * 10)
    with pytest.raises(AlignmentError, match=r"too short|ends before"):
        align(AlignmentRequest(recording, script_words("\n".join([text] * 6))))
