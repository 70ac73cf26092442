"""Times counted from the first frame that is used, as films and keys have them, instead of from the recording's start."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from buccaphon.formats.delivery import Delivery, Voice
from buccaphon.score.records import Note, Phone, Score, Word
from buccaphon.setting import setting
from buccaphon.texts import N_
from buccaphon.timing import Span


def from_first_frame() -> Any:
    """The setting for it, for the options of a format."""
    return setting(
        False, N_("From the first frame"), N_("Count times from the first frame that is exported, as the films do")
    )


def all_roles(hint: str, *, usual: bool = True) -> Any:
    """The setting for one file of all roles of a scene, instead of one for each."""
    return setting(usual, N_("All roles together"), hint)


def in_time(delivery: Delivery, *, of_scene: bool) -> Delivery:
    """The delivery with all times as they are asked for: those of words, notes and mouths; what lies outside the frames is
    left out, and a word that reaches over their rims is cut there."""
    bake = delivery.bake
    if not of_scene or bake is None:
        return delivery
    start, end = bake.rate.seconds(bake.first), bake.rate.seconds(bake.first + bake.frames)
    notes = tuple(
        Note(Span(max(note.span.start - start, 0.0), min(note.span.end, end) - start), note.text)
        for note in delivery.notes
        if note.span.end >= start and note.span.start < end
    )
    score = None if delivery.score is None else Score(tuple(_words(delivery.score, start, end)), end - start)
    voices = tuple(replace(voice, of=in_time(voice.of, of_scene=True)) for voice in delivery.voices)
    return replace(delivery, score=score, notes=notes, bake=replace(bake, first=0), voices=voices)


def said_in(delivery: Delivery) -> tuple[Voice, ...]:
    """What is said: by each of several, or by one who needs no name."""
    assert delivery.score is not None
    return delivery.voices or (Voice("", delivery),)


def _words(score: Score, start: float, end: float) -> Iterator[Word]:
    for word in score.words:
        phones = tuple(_phones(word, start, end))
        if phones:
            yield Word(word.text, phones)


def _phones(word: Word, start: float, end: float) -> Iterator[Phone]:
    for phone in word.phones:
        low, high = max(phone.start, start), min(phone.end, end)
        if low < high:
            yield replace(phone, start=low - start, end=high - start)
