"""What is asked of the aligner: a recording, its words, how they may be said, and times that are known."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from buccaphon.alignment.acoustic_model import SILENCE
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError
from buccaphon.speech.languages import BY_LETTERS, ENGLISH
from buccaphon.speech.letters import unread
from buccaphon.speech.lexicon import NO_ENTRIES, Lexicon, Pronunciation, pronunciations
from buccaphon.speech.phones import arpabet_of, is_held
from buccaphon.speech.reduced import Reduced, reduced_ways
from buccaphon.speech.script import ScriptWord
from buccaphon.texts import _
from buccaphon.timing import Span

REDUCED_COST = 20.0  # nats; with less, what noise hides is taken for swallowed


@dataclass(frozen=True, slots=True)
class Pin:
    """A boundary that holds whatever is heard: before phone number `phone` of word number `word`, which had `of` phones when
    it was pinned; `of` itself is the end of the word."""

    word: int
    phone: int
    of: int
    seconds: float


@dataclass(frozen=True, slots=True)
class Guide:
    """What is known beforehand: a word starts at the earliest and ends at the latest so many seconds into the recording."""

    word: int
    earliest: float
    latest: float


@dataclass(frozen=True, slots=True)
class AlignmentRequest:
    """What to align: a recording and the words said in it, in order.

    language: what is spoken. used: the part of the recording that is looked at, all of it when None. not_speech: stretches
    without any word. lexicon: pronunciations that come before those of the dictionary. pins, guides: times that are known.
    """

    recording: Recording
    words: tuple[ScriptWord, ...]
    used: Span | None = None
    not_speech: tuple[Span, ...] = ()
    language: str = ENGLISH
    lexicon: Lexicon = NO_ENTRIES
    pins: tuple[Pin, ...] = ()
    guides: tuple[Guide, ...] = ()

    @property
    def looked_at(self) -> Span:
        return self.used or Span(0.0, self.recording.duration)


def spoken_ways(request: AlignmentRequest, first: int = 0, end: int | None = None) -> list[tuple[Pronunciation, ...]]:
    """How each word of a request may be said, from number `first` up to `end`; English ones also in a hurry, unless one's own
    lexicon says how, or a boundary inside the word is pinned."""
    times = Counter(word.bare.lower() for word in request.words[:first])
    pinned = {pin.word for pin in request.pins if 0 < pin.phone < pin.of}
    found = []
    for number, word in enumerate(request.words[first:end], first):
        ways = _pronounce(word, request, times[word.bare.lower()])
        times[word.bare.lower()] += 1
        if request.language == ENGLISH and number not in pinned and ways == pronunciations(word.bare):
            ways += reduced_ways(word.bare, ways)
        found.append(ways)
    return found


def costs_of(spoken: Sequence[Sequence[Pronunciation]]) -> list[list[float]]:
    """Nats that it costs to take each way to say each word."""
    return [[REDUCED_COST if isinstance(way, Reduced) else 0.0 for way in ways] for ways in spoken]


def _pronounce(word: ScriptWord, request: AlignmentRequest, nth: int) -> tuple[Pronunciation, ...]:
    ways = request.lexicon.ways(word.bare, request.language, nth)
    if not ways and request.language == BY_LETTERS:
        raise AlignmentError(
            f"“{word.text}”",
            _("its letter “{letter}” has no sound", letter=unread(word.bare, request.lexicon.letters)),
            _("Give it one in Letters and sounds, beneath the language"),
        )
    if not ways:
        raise AlignmentError(
            f"“{word.text}”",
            _("no pronunciation is known for it"),
            _("Spell it as it sounds in this language"),
        )
    return ways


def model_phones(way: Pronunciation) -> list[str]:
    """The acoustic model's phones for a way to say a word: of each sound the English one that is nearest.

    A long voiceless stop inside a word is held in silence, far longer than any English one, before it bursts; so it begins
    with one.
    """
    phones: list[str] = []
    for place, sound in enumerate(way.sounds):
        if place and is_held(sound):
            phones.append(SILENCE)
        phones.append(arpabet_of(sound))
    return phones
