"""What a file that comes back would change: found first, to be looked at, and done then."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from buccaphon.formats.in_.corrected import Corrected, as_corrected
from buccaphon.formats.in_.sheet import differences
from buccaphon.formats.in_.wording import Timed
from buccaphon.motion.record import Bake
from buccaphon.project.edits import Edit, Together
from buccaphon.project.edits.mouths import Paint
from buccaphon.project.edits.scene import PutNote
from buccaphon.project.edits.timing import MoveBoundary
from buccaphon.project.exposing import called
from buccaphon.project.state import State, one_line
from buccaphon.project.take import Take
from buccaphon.score.edits import Boundary, Inside, boundary_time
from buccaphon.score.records import Score, Word
from buccaphon.speech.matching import match, plain
from buccaphon.speech.phones import SOUNDS
from buccaphon.speech.script import script_words
from buccaphon.texts import _
from buccaphon.timing import Span, clock

_NEAR = 0.0012  # seconds: files round to milliseconds


@dataclass(frozen=True, slots=True)
class Correction:
    """says: in a sentence. seconds: where it is. edit: does it."""

    says: str
    seconds: float
    edit: Edit


@dataclass(frozen=True, slots=True)
class Corrections:
    """found: in order of time. strange: what of the file has no place here, in a sentence; '' for nothing."""

    found: tuple[Correction, ...]
    unplaced: str = ""


def corrections_in(file: Corrected, state: State, bake: Bake) -> Corrections:
    """What differs between a file and what is here; labels that may be anything are passed over. bake: of the whole take."""
    moved, unmatched = _moved(file, state.score) if state.score else ([], [word.text for word in file.words])
    painted, unknown = _painted(file, state, bake)
    noted = [_noted(span, text) for span, text in _new_notes(file, state)]
    unplaced = []
    if unknown:
        unplaced.append(
            _(
                "chart {name} has no {unknown}; these frames stay as they are",
                name=bake.chart.name,
                unknown=_some(unknown),
            )
        )
    if unmatched:
        unplaced.append(_("this line has no word {words}", words=_some(unmatched)))
    found = sorted([*moved, *painted, *noted], key=lambda each: each.seconds)
    return Corrections(tuple(found), "; ".join(unplaced))


def times_put(times: tuple[Timed, ...], score: Score) -> Edit:
    """The boundaries of words pinned where times that are known say, as one step."""
    moved, _unmatched = _moved(as_corrected(times), score)
    return as_one(moved, _("Keep the times of a file"))


def with_times(score: Score, times: tuple[Timed, ...]) -> Score:
    """A score whose words begin and end where times that are known say."""
    timed = times_put(times, score).apply(one_line((Take(Path(), score=score),)))
    assert timed.score is not None
    return timed.score


def as_one(found: Sequence[Correction], name: str) -> Edit:
    """All of them as one step. Boundaries that go later are moved from the last to the first, the others from the first on,
    so that none is in another's way."""
    moves = [each for each in found if isinstance(each.edit, MoveBoundary)]
    others = [each.edit for each in found if not isinstance(each.edit, MoveBoundary)]
    later = [each for each in moves if _goes_later(each)]
    earlier = [each for each in moves if not _goes_later(each)]
    ordered = [*sorted(later, key=lambda each: -each.seconds), *sorted(earlier, key=lambda each: each.seconds)]
    return Together((*(each.edit for each in ordered), *others), name=name)


def _goes_later(correction: Correction) -> bool:
    assert isinstance(correction.edit, MoveBoundary)
    return correction.edit.seconds > correction.seconds


# --- words and sounds --------------------------------------------------------------------------------------------------


def _moved(file: Corrected, score: Score) -> tuple[list[Correction], list[str]]:
    """The boundaries that differ, and words of the file that are not here."""
    if file.lines:
        return _moved_lines(file.lines, score)
    if not file.words:
        return [], []
    numbers = match([plain(each.text) for each in file.words], [plain(word.text) for word in score.words])
    inside = Inside.ALONE if file.sounds else Inside.STRETCH
    found: dict[Boundary, Correction] = {}

    def put(boundary: Boundary, seconds: float, what: str) -> None:
        if (correction := _boundary_put(score, boundary, seconds, what, inside)) is not None:
            found[boundary] = correction

    sounds = _by_word(file)
    for index, number in sorted(numbers.items()):
        timed, word = file.words[index], score.words[number]
        put(Boundary(number, 0), timed.start, _("“{text}” begins", text=word.text))
        if not file.starts_only and timed.end > timed.start and not _shared(score, number):
            put(Boundary(number, len(word.phones)), timed.end, _("“{text}” ends", text=word.text))
        for place, start in _inner(word, sounds.get(index, [])):
            put(
                Boundary(number, place),
                start,
                _("/{sound}/ of “{text}” begins", sound=word.phones[place].symbol, text=word.text),
            )
    unmatched = [each.text for index, each in enumerate(file.words) if index not in numbers]
    return list(found.values()), unmatched


def _boundary_put(score: Score, boundary: Boundary, seconds: float, what: str, inside: Inside) -> Correction | None:
    """None where it is there already. what: it, in a few words."""
    now = boundary_time(score, boundary)
    by = seconds - now
    if abs(by) <= _NEAR:
        return None
    ms = abs(1000 * by)
    later, earlier = _("{what} {ms:.0f} ms later", what=what, ms=ms), _("{what} {ms:.0f} ms earlier", what=what, ms=ms)
    return Correction(later if by > 0 else earlier, now, MoveBoundary(boundary, seconds, inside))


def _moved_lines(lines: Sequence[Timed], score: Score) -> tuple[list[Correction], list[str]]:
    """Of lines of several words only the starts are taken: they end when nobody reads them any more."""
    firsts, texts = list[tuple[int, Timed]](), list[str]()
    for line in lines:
        firsts.append((len(texts), line))
        texts += [plain(word.text) for word in script_words(line.text)]
    numbers = match(texts, [plain(word.text) for word in score.words])
    found = []
    for first, line in firsts:
        if (number := numbers.get(first)) is not None:
            what = _("“{text}” begins", text=score.words[number].text)
            found.append(_boundary_put(score, Boundary(number, 0), line.start, what, Inside.STRETCH))
    unmatched = [text for place, text in enumerate(texts) if place not in numbers]
    return [each for each in found if each is not None], unmatched


def _shared(score: Score, number: int) -> bool:
    """Whether the word's end is the next one's start, which stands for both."""
    return number + 1 < len(score.words) and score.words[number + 1].start - score.words[number].end < 1e-6


def _by_word(file: Corrected) -> Mapping[int, list[Timed]]:
    found: dict[int, list[Timed]] = {}
    at = 0
    for index, word in enumerate(file.words):
        while at < len(file.sounds) and file.sounds[at].end <= word.start + _NEAR:
            at += 1
        while at < len(file.sounds) and file.sounds[at].start < word.end - _NEAR:
            found.setdefault(index, []).append(file.sounds[at])
            at += 1
    return found


def _inner(word: Word, sounds: list[Timed]) -> Iterable[tuple[int, float]]:
    """Where sounds inside a word begin, if they are the same ones as here."""
    if [_named(each.text) for each in sounds] != [_named(phone.symbol) for phone in word.phones]:
        return []
    return [(place, each.start) for place, each in enumerate(sounds) if place]


def _named(symbol: str) -> str:
    return SOUNDS[symbol].arpabet if symbol in SOUNDS else symbol


# --- mouths and notes --------------------------------------------------------------------------------------------------


def _painted(file: Corrected, state: State, bake: Bake) -> tuple[list[Correction], list[str]]:
    rate = bake.rate
    known = called(state, by_host=file.by_host)
    frames = {frame: known.get(name) or name for frame, name in file.frames.items()}
    used = state.take.used(bake.frames / float(rate.value)) if state.take else Span(0.0, 0.0)
    first, end = rate.nearest(used.start), rate.covering(used.end)
    for held in file.mouths:
        until = rate.nearest(held.end)
        until = end if until >= end - 1 else until  # the last frame may reach beyond the sound, where no file goes
        for frame in range(max(rate.nearest(held.start), first), until):
            frames[frame - bake.first + bake.start_frame] = known.get(held.text) or held.text
    found, unknown = differences(frames, bake)
    corrections = []
    for each in found:
        span = Span(rate.seconds(each.start + bake.first), rate.seconds(each.end + bake.first))
        begins, ends = each.start + bake.start_frame, each.end - 1 + bake.start_frame
        where = (
            _("Frame {first}", first=begins)
            if begins == ends
            else _("Frames {first} to {last}", first=begins, last=ends)
        )
        says = _("{where}: {shown} becomes {wanted}", where=where, shown=each.shown, wanted=each.wanted)
        corrections.append(Correction(says, span.start, Paint(span, each.wanted)))
    return corrections, unknown


def _new_notes(file: Corrected, state: State) -> list[tuple[Span, str]]:
    if file.notes is None or state.take is None:
        return []
    near = 0.5 / float(state.rate.value)
    here = [(note.span.start, " ".join(note.text.split())) for note in state.take.notes]

    def known(note: Any) -> bool:
        text = " ".join(note.text.split())
        return any(
            abs(start - note.span.start) <= near and text in (told, _("note: {told}", told=told))
            for start, told in here
        )

    found = [(note.span, note.text) for note in file.notes if not known(note)]
    taken = {note.span.start: note.text for note in state.take.notes}
    return [(span, f"{taken[span.start]}\n{text}" if span.start in taken else text) for span, text in found]


def _noted(span: Span, text: str) -> Correction:
    plainly = " ".join(text.split())
    shown = plainly if len(plainly) <= 60 else f"{plainly[:58]} …"
    return Correction(
        _("Note at {start}: {shown}", start=clock(span.start), shown=shown), span.start, PutNote(span, text)
    )


def _some(names: Sequence[str]) -> str:
    return ", ".join(names[:6]) + (" …" if len(names) > 6 else "")
