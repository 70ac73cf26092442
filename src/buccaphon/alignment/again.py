"""Aligning a part again while the rest stays, and weighing the ways to say a word."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from buccaphon.alignment.acoustic_model import english_model
from buccaphon.alignment.aligner import with_pins
from buccaphon.alignment.best_path import best_path
from buccaphon.alignment.chain import FLATTENING
from buccaphon.alignment.graph import word_graph
from buccaphon.alignment.hearing import listen, listen_at
from buccaphon.alignment.pace import pace_of
from buccaphon.alignment.pieces import scores_of
from buccaphon.alignment.placing import Stretch, place, write_down
from buccaphon.alignment.request import AlignmentRequest, model_phones, spoken_ways
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.progress import Progress, no_progress
from buccaphon.score.edits import shifted
from buccaphon.score.records import Score
from buccaphon.speech.lexicon import Pronunciation
from buccaphon.texts import _
from buccaphon.timing import Span

_ROUNDING = 1e-9  # seconds
_KNOWN_AFTER = 20.0  # seconds in which a voice is learned
_AROUND = 0.5  # seconds around a word outside the used part that are listened to
_GIVE_WAY = 3  # words on either side that may be aligned again to make room


def realign(request: AlignmentRequest, score: Score, first: int, last: int) -> Score:
    """Align some words again, and leave all others where they are.

    request: of the whole script as it is now. score: as it was; its words from number `first` up to `last` are replaced by
    as many of the request's words as those it has more. Everything outside stays exactly as it is; where the words do not
    fit between their neighbours, a few of these give way. Raises AlignmentError when there is no room even then.
    """
    for wider in range(_GIVE_WAY + 1):
        begin, end = max(first - wider, 0), min(last + wider, len(score.words))
        placed_again = _replace(request, score, begin, end)
        if placed_again is not None:
            return placed_again
    asked = " ".join(word.text for word in request.words[first : last + len(request.words) - len(score.words)])
    reason = _("there is no room to say “{text}”", text=asked)
    raise AlignmentError(request.recording.name, reason, _("Make room by moving the words around it"))


def _replace(request: AlignmentRequest, score: Score, first: int, last: int) -> Score | None:
    """The score with its words [first, last) aligned again; None when they do not fit between their neighbours."""
    end = last + len(request.words) - len(score.words)
    words, used = request.words[first:end], request.looked_at
    before, after = score.words[:first], score.words[last:]
    if not words:
        return Score((*before, *after), score.duration)
    start = max(before[-1].end, used.start) if before else used.start
    stop = min(after[0].start, used.end) if after else used.end
    if start >= stop:  # they stand where nobody looks
        return None
    room = Span(start, stop)
    heard = listen(request.recording, used, request.not_speech)
    begin = round((room.start - used.start) / heard.frame_seconds)
    until = max(round((room.end - used.start) / heard.frame_seconds), begin + 1)
    stretch = Stretch(begin, until, room.start - used.start)
    pins = tuple(replace(pin, word=pin.word - first) for pin in request.pins if first <= pin.word < end)
    if not all(room.start - _ROUNDING <= pin.seconds <= room.end + _ROUNDING for pin in pins):
        return None
    inner = replace(request, pins=pins, guides=())
    ways = spoken_ways(request, first, end)
    found = place(heard, ways, inner, stretch) or place(heard, ways, replace(inner, pins=()), stretch)
    if found is None:
        return None
    part = shifted(write_down(found, room.length, words), room.start, score.duration)
    return Score((*before, *with_pins(part, pins).words, *after), score.duration)


def get_to_know(request: AlignmentRequest, score: Score, progress: Progress = no_progress) -> None:
    """Listen to a recording that was aligned before, and learn its voice from some of the words, so that the first part
    that is aligned again takes no longer than the next.

    score: of the request's words. Raises Cancelled when `progress` returns False.
    """

    def report(share: float) -> None:
        if not progress(share, _("Listening")):
            raise Cancelled

    used = request.looked_at
    heard = listen(request.recording, used, request.not_speech, report)
    if not score.words or heard.warp is not None:
        return
    pace = pace_of((phone.symbol, phone.end - phone.start) for phone in score.phones())
    listen_at(pace, request.recording, used, request.not_speech, report)
    enough = score.words[0].start + _KNOWN_AFTER
    last = next((n for n, word in enumerate(score.words) if word.end > enough), len(score.words))
    _replace(replace(request, pins=()), score, 0, max(last, 1))


def weigh_ways(request: AlignmentRequest, score: Score, number: int, ways: Sequence[Pronunciation]) -> list[float]:
    """How well each way to say a word fits what is heard, as shares that sum to 1.

    score: as aligned; word number `number` is listened to between its neighbours. The likelihoods of the best paths are
    flattened as in the chain.
    """
    used, model, word = request.looked_at, english_model(), score.words[number]
    if (
        word.start < used.start or word.end > used.end
    ):  # it lies where nothing is used: there it is listened to all the same
        used = Span(max(word.start - _AROUND, 0.0), min(word.end + _AROUND, request.recording.duration))
    heard = listen(request.recording, used, request.not_speech)
    before = max(score.words[number - 1].end, used.start) if number else used.start
    after = min(score.words[number + 1].start, used.end) if number + 1 < len(score.words) else used.end
    begin, end = (round((edge - used.start) / heard.frame_seconds) for edge in (before, after))
    part = heard.features.part(begin, max(end, begin + 1))
    likelihoods = []
    for way in ways:
        graph = word_graph(model, [[model_phones(way)]])
        path = best_path(model, graph, *scores_of(model, graph, part), part.entering)
        likelihoods.append(path.score if path else -np.inf)
    best = max(likelihoods, default=0.0)
    if not np.isfinite(best):
        return [1 / len(ways)] * len(ways)
    shares = np.exp(FLATTENING * (np.array(likelihoods) - best))
    return [float(share) for share in shares / shares.sum()]
