"""Times that are known beforehand hold, and aligning a part again leaves the rest alone."""

import pytest

from buccaphon.alignment.again import get_to_know, realign, weigh_ways
from buccaphon.alignment.aligner import align
from buccaphon.alignment.hearing import forget_what_was_heard, listen
from buccaphon.alignment.request import AlignmentRequest, Guide, Pin, spoken_ways
from buccaphon.audio.recording import Recording
from buccaphon.demo.line import script_text
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Lexicon, Pronunciation, pronunciations
from buccaphon.speech.script import script_words
from buccaphon.timing import Span

WORDS = script_words(script_text())


def pin(score: Score, word: int, phone: int, by: float) -> Pin:
    """A pin so many seconds from where the boundary was found."""
    phones = score.words[word].phones
    at = phones[phone].start if phone < len(phones) else phones[-1].end
    return Pin(word, phone, len(phones), at + by)


def test_pins_hold_exactly_and_the_rest_gives_way(call, call_score):
    start = pin(call_score, 5, 0, 0.06)
    inner = pin(call_score, 9, 1, -0.03)
    end = pin(call_score, 12, len(call_score.words[12].phones), -0.12)
    score = align(AlignmentRequest(call, WORDS, pins=(start, inner, end)))
    assert score.words[5].start == pytest.approx(start.seconds, abs=1e-9)
    assert score.words[9].phones[1].start == pytest.approx(inner.seconds, abs=1e-9)
    assert score.words[12].end == pytest.approx(end.seconds, abs=1e-9)
    assert score.words[4].end <= start.seconds + 1e-9
    for number in (0, 1, 20, 33):
        assert score.words[number].start == pytest.approx(call_score.words[number].start, abs=0.02)


def test_a_pin_keeps_words_from_where_they_would_rather_be(call, call_score):
    far = Pin(7, 0, len(call_score.words[7].phones), call_score.words[7].start + 0.3)
    score = align(AlignmentRequest(call, WORDS, pins=(far,)))
    assert score.words[7].start == pytest.approx(far.seconds)
    assert all(word.end <= far.seconds + 1e-9 for word in score.words[:7])


def test_words_outside_what_is_looked_at_have_no_room(call, call_score):
    trimmed = Span(0.0, call_score.words[25].start)
    with pytest.raises(AlignmentError, match="no room"):
        realign(AlignmentRequest(call, WORDS, used=trimmed), call_score, len(WORDS) - 1, len(WORDS))


def test_guides_are_kept_within_and_dropped_when_they_cannot_be(call, call_score):
    late = call_score.words[20].start + 0.2
    guided = align(AlignmentRequest(call, WORDS, guides=(Guide(20, late, late + 3.0),)))
    assert guided.words[20].start >= late - 0.02
    hopeless = tuple(Guide(number, 0.0, 0.05) for number in range(10))
    assert align(AlignmentRequest(call, WORDS, guides=hopeless)) == call_score


@pytest.mark.parametrize("number", [0, 10, 33])
def test_one_word_is_aligned_again_and_nothing_else_moves(call, call_score, number):
    again = realign(AlignmentRequest(call, WORDS), call_score, number, number + 1)
    assert again.words[:number] == call_score.words[:number]
    assert again.words[number + 1 :] == call_score.words[number + 1 :]
    assert again.words[number].text == call_score.words[number].text
    assert again.words[number].start == pytest.approx(call_score.words[number].start, abs=0.03)


def test_words_can_be_put_in_the_place_of_others(call, call_score):
    text = script_text().replace("ripe pears", "right round pears")
    again = realign(AlignmentRequest(call, script_words(text)), call_score, 3, 4)
    assert [word.text for word in again.words[2:6]] == ["and", "right", "round", "pears!"]
    assert again.words[:3] == call_score.words[:3]
    assert again.words[5:] == call_score.words[4:]
    fewer = realign(AlignmentRequest(call, script_words(script_text().replace(" ripe", ""))), call_score, 3, 4)
    assert fewer.words == (*call_score.words[:3], *call_score.words[4:])


def test_words_for_which_there_is_no_room_are_refused(call, call_score):
    text = script_text().replace("ripe", "incomprehensibilities " * 6)
    with pytest.raises(AlignmentError, match="no room to say"):
        realign(AlignmentRequest(call, script_words(text)), call_score, 3, 4)


def test_a_part_again_inside_what_is_used(call: Recording, call_score: Score):
    used = Span(0.1, call.duration)
    again = realign(AlignmentRequest(call, WORDS, used=used), call_score, 2, 5)
    assert again.words[3].start == pytest.approx(call_score.words[3].start, abs=0.03)


def test_the_ways_to_say_a_word_are_weighed_by_what_is_heard(call, call_score):
    request = AlignmentRequest(call, WORDS)
    number = next(n for n, word in enumerate(call_score.words) if word.text == "the")
    ways = pronunciations("the")
    shares = weigh_ways(request, call_score, number, ways)
    assert sum(shares) == pytest.approx(1.0)
    said = tuple(phone.symbol for phone in call_score.words[number].phones)
    assert ways[shares.index(max(shares))].sounds == said
    absurd = Pronunciation(("s", "t", "ɹ", "i", "t"), (0, 0, 0, 1, 0))
    assert weigh_ways(request, call_score, number, [ways[0], absurd])[1] < 0.01


def test_of_a_voice_that_was_aligned_before_as_much_is_known_as_right_after(call, call_score):
    request = AlignmentRequest(call, WORDS)
    forget_what_was_heard()
    get_to_know(request, call_score)
    heard = listen(call, request.looked_at, ())
    assert heard.warp is not None
    learned = heard.features
    again = realign(request, call_score, 12, 20)
    assert heard.features is learned, "nothing is left to learn"
    for before, after in zip(call_score.words, again.words, strict=True):
        assert after.start == pytest.approx(before.start, abs=0.01)


def test_of_a_part_each_word_is_said_as_it_is_in_the_whole(call):
    words = script_words("Plums, plums and more plums")
    odd = Pronunciation(("p", "l", "u", "m", "z"), (0, 0, 1, 0, 0))
    request = AlignmentRequest(call, words, lexicon=Lexicon().having("plums", odd, only=2))
    whole = spoken_ways(request)
    assert whole[4] == (odd,)
    assert odd not in whole[0] + whole[1]
    assert [spoken_ways(request, first, first + 2) for first in range(4)] == [whole[n : n + 2] for n in range(4)]


def test_a_pin_beyond_the_neighbours_makes_them_give_way_or_is_refused(call, call_score):
    word = call_score.words[8]
    near = Pin(8, 0, len(word.phones), call_score.words[7].start + 0.05)
    moved = realign(AlignmentRequest(call, WORDS, pins=(near,)), call_score, 8, 9)
    assert moved.words[8].start == pytest.approx(near.seconds, abs=1e-9)
    far = Pin(8, 0, len(word.phones), call_score.words[1].start)
    with pytest.raises(AlignmentError, match="no room"):
        realign(AlignmentRequest(call, WORDS, pins=(far,)), call_score, 8, 9)


@pytest.mark.parametrize("asked_before", [0, 3])
def test_listening_can_be_stopped_and_begun_anew(call, call_score, asked_before):
    request, answers = AlignmentRequest(call, WORDS), []

    def progress(_share: float, _what: str) -> bool:
        answers.append(len(answers) < asked_before)
        return answers[-1]

    forget_what_was_heard()
    with pytest.raises(Cancelled):
        get_to_know(request, call_score, progress)
    assert len(answers) == asked_before + 1
    get_to_know(request, call_score)
    assert listen(call, request.looked_at, ()).warp is not None
