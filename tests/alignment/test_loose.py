"""Scripts that the actor did not keep to, scripts of something else, and no script at all."""

import csv

import numpy as np
import pytest

from buccaphon.alignment.aligner import align
from buccaphon.alignment.loose import Difference, Finding, compare, mend_script
from buccaphon.alignment.recognise import recognise
from buccaphon.alignment.request import AlignmentRequest
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.speech.phones import arpabet_of
from buccaphon.speech.script import script_words
from buccaphon.timing import Span
from tests.conftest import DATA

LINES = {
    name: (read_recording(DATA / f"{name}.flac"), (DATA / f"{name}.txt").read_text()) for name in ("awb00", "slt07")
}


@pytest.fixture(params=LINES)
def line(request) -> tuple[Recording, list[str]]:
    recording, text = LINES[request.param]
    return recording, [word.text for word in script_words(text)]


def found(recording: Recording, words: list[str]) -> list[tuple[Difference, int, int]]:
    comparison = compare(AlignmentRequest(recording, script_words(" ".join(words))))
    return [(finding.kind, finding.first, finding.end) for finding in comparison.findings]


def test_a_script_that_was_kept_to_raises_nothing(line):
    assert found(*line) == []


def test_a_word_that_was_not_said_is_reported(line):
    recording, words = line
    assert found(recording, [*words[:3], "marrows", *words[3:]]) == [(Difference.NOT_FOUND, 3, 4)]


def test_a_word_that_is_not_in_the_script_is_reported_where_it_is_said(line):
    recording, words = line
    whole = align(AlignmentRequest(recording, script_words(" ".join(words))))
    number = words.index("purple" if "purple" in words else "yellow")
    findings = compare(
        AlignmentRequest(recording, script_words(" ".join(words[:number] + words[number + 1 :])))
    ).findings
    other = next(finding for finding in findings if finding.kind is Difference.OTHER)
    assert other.first == other.end == number
    assert other.span.overlap(whole.words[number].span) > 0.7 * whole.words[number].span.length


def test_words_that_are_said_again_are_reported():
    recording, text = LINES["awb00"]
    words = [word.text for word in script_words(text)]
    whole = align(AlignmentRequest(recording, script_words(" ".join(words))))
    start, end = round(whole.words[1].start * recording.rate), round(whole.words[2].end * recording.rate)
    breath = 1e-4 * np.random.default_rng(0).standard_normal(recording.rate // 8).astype(np.float32)
    twice = np.concatenate([recording.mono[:end], breath, recording.mono[start:]])
    assert found(Recording(twice[:, None], recording.rate, "twice"), words) == [(Difference.AGAIN, 1, 3)]


def test_the_script_of_something_else_is_told():
    recording, _ = LINES["awb00"]
    assert not compare(AlignmentRequest(recording, script_words(LINES["slt07"][1]))).belongs
    assert compare(AlignmentRequest(recording, script_words(LINES["awb00"][1]))).belongs


def test_a_script_is_mended_to_what_was_said():
    text = "MARIGOLD: Buy my beets, my very best beans!"
    findings = (
        Finding(Difference.NOT_FOUND, 4, 5, Span(1, 1)),
        Finding(Difference.AGAIN, 0, 3, Span(2, 3)),
        Finding(Difference.OTHER, 6, 6, Span(4, 5)),
    )
    mended = mend_script(text, script_words(text), findings)
    assert mended == "MARIGOLD: Buy my beets, Buy my beets, my [very] best beans!"
    assert [word.bare for word in script_words(mended)] == [
        "Buy",
        "my",
        "beets",
        "Buy",
        "my",
        "beets",
        "my",
        "best",
        "beans",
    ]


def test_comparing_can_be_cancelled():
    recording, text = LINES["awb00"]
    with pytest.raises(Cancelled):
        compare(AlignmentRequest(recording, script_words(text)), lambda share, what: False)


@pytest.mark.parametrize("name", LINES)
def test_most_sounds_are_recognised_without_a_script(name):
    score = recognise(AlignmentRequest(LINES[name][0], ()))
    with (DATA / f"{name}.phones.csv").open() as file:
        truth = [row["phone"].rstrip("012") for row in csv.DictReader(file) if row["phone"]]
    heard = [arpabet_of(phone.symbol) for phone in score.phones()]
    assert {word.text for word in score.words} == {""}
    assert 1 - distance(truth, heard) / len(truth) > 0.45


def distance(a: list[str], b: list[str]) -> int:
    """Of Levenshtein."""
    row = list(range(len(b) + 1))
    for i, left in enumerate(a, 1):
        before, row = row, [i]
        for j, right in enumerate(b, 1):
            row.append(min(before[j] + 1, row[-1] + 1, before[j - 1] + (left != right)))
    return row[-1]


def test_silence_has_no_sounds_to_recognise():
    with pytest.raises(AlignmentError, match="only silence"):
        recognise(AlignmentRequest(Recording(np.zeros((16000, 1), np.float32), 16000, "nothing"), ()))
