"""Slow speech, heard at its own pace."""

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from buccaphon.alignment.again import get_to_know, realign
from buccaphon.alignment.aligner import SLOWLY, align
from buccaphon.alignment.features import band_power, condition, mel_power
from buccaphon.alignment.hearing import forget_what_was_heard, listen
from buccaphon.alignment.loose import compare
from buccaphon.alignment.pace import SLOW, pace_of
from buccaphon.alignment.request import AlignmentRequest, Pin
from buccaphon.audio.reading import read_recording
from buccaphon.audio.recording import Recording
from buccaphon.audio.stretch import Stretcher
from buccaphon.errors import Cancelled
from buccaphon.score.records import Score
from buccaphon.speech.script import script_words
from buccaphon.timing import Span
from tests.conftest import DATA

USUAL = [("ɑ", 0.08), ("t", 0.07), ("i", 0.08), ("s", 0.115), ("aɪ", 0.14)] * 6
SPEED = 0.6


def slower(by: float) -> list[tuple[str, float]]:
    return [(symbol, by * seconds) for symbol, seconds in USUAL]


def test_the_pace_is_that_of_most_sounds():
    assert 1.7 < pace_of(slower(1.7)) < 2.0
    assert pace_of(slower(1.0)) == 1.0
    assert pace_of(slower(SLOW - 0.01)) == 1.0
    assert pace_of(slower(0.6)) == 1.0, "quick speech is heard unchanged"
    assert pace_of(slower(1.7)[:8]) == 1.0, "too few to tell"
    assert pace_of(slower(9.0)) < 3.0
    drawn = [(symbol, seconds * (4 if number % 9 == 0 else 1)) for number, (symbol, seconds) in enumerate(USUAL)]
    assert pace_of(drawn) == 1.0, "some drawn-out vowels are not slow speech"


def test_windows_stand_further_apart_and_are_as_wide_as_ever(monkeypatch):
    samples = np.random.default_rng(1).standard_normal(100_000).astype(np.float32)
    window, filters = np.hanning(64).astype(np.float32), np.eye(33, dtype=np.float32)
    plain = band_power(samples, window, 40, filters)
    assert plain.shape == (2501, 33)
    assert np.array_equal(plain, band_power(samples, window, 20, filters, 2.0))
    monkeypatch.setenv("BUCCAPHON_THREADS", "2")
    assert np.array_equal(plain, band_power(samples, window, 40, filters)), "the same by several threads"
    click = np.zeros(3000, np.float32)
    click[round(20 * 40 * 1.37)] = 1.0
    between = band_power(click, window, 40, filters, 1.37)
    assert len(between) == int(3000 / (40 * 1.37)) + 1
    assert between.sum(axis=1).argmax() == 20


@cache
def line() -> Recording:
    return read_recording(DATA / "awb00.flac")


@cache
def slow() -> Recording:
    """The line said at six tenths of its pace."""
    made = Stretcher(line().mono[:, None], line().rate, 0, len(line().mono), SPEED)
    blocks = []
    while len(block := made.read(4096)):
        blocks.append(block)
    return Recording(np.concatenate(blocks), line().rate, "slow")


WORDS = script_words((DATA / "awb00.txt").read_text())


def asked() -> AlignmentRequest:
    return AlignmentRequest(slow(), WORDS)


@cache
def aligned() -> Score:
    return align(asked())


@pytest.fixture(autouse=True)
def _nothing_heard():
    yield
    forget_what_was_heard()


def test_a_slow_line_is_timed_like_the_one_it_was_made_of():
    plain = align(AlignmentRequest(line(), WORDS))
    found = align(asked())
    heard = listen(slow(), asked().looked_at, ())
    assert heard.pace > SLOW
    assert len(heard) == pytest.approx(slow().duration / heard.frame_seconds, abs=2)
    off = [a.start * SPEED - b.start for a, b in zip(found.words, plain.words, strict=True)]
    assert np.abs(off).max() < 0.03
    assert np.median(np.abs(off)) < 0.005
    assert found.words[-1].end <= found.duration == pytest.approx(slow().duration)


def test_pins_marks_and_stretches_mean_the_same_seconds_at_any_pace():
    found = aligned()
    third = found.words[3]
    count = len(third.phones)
    pinned = align(AlignmentRequest(slow(), WORDS, pins=(Pin(3, 0, count, third.start + 0.03),)))
    assert pinned.words[3].start == pytest.approx(third.start + 0.03)
    assert pinned.words[6].start == pytest.approx(found.words[6].start, abs=0.03)
    used = Span(found.words[0].start - 0.2, found.words[-1].end + 0.1)
    again = align(AlignmentRequest(slow(), WORDS, used=used, not_speech=(Span(used.start, used.start + 0.1),)))
    assert listen(slow(), used, (Span(used.start, used.start + 0.1),)).pace > SLOW
    off = [a.start - b.start for a, b in zip(again.words, found.words, strict=True)]
    assert np.abs(off).max() < 0.04


def test_a_word_is_aligned_again_and_the_script_compared_at_the_pace_that_is_known():
    found = align(asked())
    replaced = realign(asked(), found, 2, 4)
    assert [word.text for word in replaced.words] == [word.text for word in found.words]
    for number in (2, 3):
        assert replaced.words[number].start == pytest.approx(found.words[number].start, abs=0.06)
    assert replaced.words[5] == found.words[5]
    more = [*WORDS[:4], *script_words("marmalade umbrellas"), *WORDS[4:]]
    told = compare(replace(asked(), words=tuple(more)))
    assert [finding.span.start for finding in told.findings] == pytest.approx([found.words[3].end], abs=0.25)


def test_the_pace_of_what_was_aligned_before_is_known_when_a_project_is_opened():
    found = aligned()
    forget_what_was_heard()
    get_to_know(asked(), found)
    assert listen(slow(), asked().looked_at, ()).pace > SLOW
    replaced = realign(asked(), found, 2, 4)
    assert replaced.words[3].start == pytest.approx(found.words[3].start, abs=0.06)


def test_it_can_be_stopped_while_it_is_heard_at_its_pace():
    with pytest.raises(Cancelled):
        align(asked(), lambda _share, what: what != SLOWLY)
    assert listen(slow(), asked().looked_at, ()).pace == 1.0, "nothing half done is kept"
    assert align(asked()).words[4].start == pytest.approx(aligned().words[4].start)


def test_usual_speech_is_heard_as_ever():
    align(AlignmentRequest(line(), WORDS))
    heard = listen(line(), Span(0.0, line().duration), ())
    assert heard.pace == 1.0
    samples = condition(line())
    assert len(mel_power(samples)) == len(heard)
