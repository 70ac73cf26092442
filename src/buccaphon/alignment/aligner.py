"""Recording and words in, timed words and phones out: the whole recipe in the order it is run.

features ─► best path through the word graph ─► what voice it is: warp of the bands (and search again), transforms
        ─► chain of the path's phones ─► boundary times and how sure they are
"""

from __future__ import annotations

import logging
import time
from collections.abc import Sequence
from dataclasses import replace

from buccaphon.alignment.hearing import listen, listen_at
from buccaphon.alignment.pace import pace_of
from buccaphon.alignment.placing import Sounds, Stretch, place, write_down
from buccaphon.alignment.readiness import get_ready
from buccaphon.alignment.request import AlignmentRequest, Pin, spoken_ways
from buccaphon.audio.recording import Recording
from buccaphon.errors import AlignmentError, Cancelled
from buccaphon.progress import Progress, no_progress
from buccaphon.score.edits import Boundary, move_boundary, shifted
from buccaphon.score.records import Score
from buccaphon.speech.script import ScriptWord
from buccaphon.texts import N_, _, ngettext

SLOWLY = N_("Listening at its own pace")
_MOST_WORDS, _SPARE = 15.0, 20  # a second, and besides: more than that nobody says, and the search need not try


_log = logging.getLogger("buccaphon.alignment")


def align(request: AlignmentRequest, progress: Progress = no_progress) -> Score:
    """Find where each word and phone lies.

    Words that nothing can pronounce (signs, foreign scripts) are refused. Raises AlignmentError when the recording is
    silent, too short for its words, or has no words; Cancelled when `progress` returns False. Pins hold exactly; guides
    that no path can keep are left out of account.
    """
    recording, words, used = request.recording, request.words, request.looked_at
    began = time.monotonic()

    reached = 0.0

    def step(share: float, what: str) -> None:
        nonlocal reached
        reached = max(reached, share)  # once the voice is known, the search begins again
        if not progress(reached, what):
            raise Cancelled

    step(0.0, "Reading the words")
    get_ready()
    _refuse_hopeless(recording.part(used), words)
    spoken = spoken_ways(request)
    step(0.05, "Listening")
    listen(recording, used, request.not_speech, lambda share: step(0.05 + 0.1 * share, "Listening"))

    def search(asked: AlignmentRequest) -> list[Sounds] | None:
        heard = listen(recording, used, request.not_speech)
        heard.reset_voice()
        found = place(heard, spoken, asked, Stretch(0, len(heard), 0.0), step)
        pace = pace_of(sound for piece in found or () for sound in piece.lasting())
        if pace == 1.0:
            return found
        heard = listen_at(pace, recording, used, request.not_speech, lambda _share: step(reached, SLOWLY))
        again = place(heard, spoken, asked, Stretch(0, len(heard), 0.0), step)
        return again or found

    found = search(request)
    if found is None and request.guides:
        request = replace(request, guides=())
        found = search(request)
    if found is None and request.pins:  # they are put in their place below all the same
        found = search(replace(request, pins=()))
    if found is None:
        reason = _too_short(used.length, len(words))
        raise AlignmentError(recording.name, reason, _("Check that the script belongs to this recording"))
    count = sum(len({owner for owner in piece.owners if owner >= 0}) for piece in found)
    if count < len(words):
        reason = ngettext(
            "it ends before “{text}”; {count} word is missing",
            "it ends before “{text}”; {count} words are missing",
            len(words) - count,
            text=words[count].text,
        )
        raise AlignmentError(recording.name, reason, _("Check that the script belongs to this recording"))
    step(0.98, "Finishing")
    _log.info("%d words in %.1f s of sound aligned in %.1f s", len(words), used.length, time.monotonic() - began)
    score = shifted(write_down(found, used.length, words), used.start, recording.duration)
    return with_pins(score, request.pins)


def with_pins(score: Score, pins: Sequence[Pin]) -> Score:
    """To the last digit where the hand has put them."""
    for pin in pins:
        count = len(score.words[pin.word].phones)
        if pin.phone in (0, pin.of) or count == pin.of:
            place = count if pin.phone == pin.of else pin.phone
            score = move_boundary(score, Boundary(pin.word, place), pin.seconds)
    return score


def _refuse_hopeless(recording: Recording, words: Sequence[ScriptWord]) -> None:
    if not words:
        raise AlignmentError(recording.name, _("the script has no words"), _("Type what is said in it"))
    if len(words) > _MOST_WORDS * recording.duration + _SPARE:
        reason = _too_short(recording.duration, len(words))
        raise AlignmentError(recording.name, reason, _("Check that the script belongs to this recording"))
    if recording.is_silent:
        raise AlignmentError(
            recording.name, _("it holds only silence"), _("Choose the channel or the take with the voice")
        )


def _too_short(seconds: float, words: int) -> str:
    return ngettext(
        "{seconds:.1f} s is too short for {count} word", "{seconds:.1f} s is too short for {count} words",
        words, seconds=seconds,
    )  # fmt: skip
