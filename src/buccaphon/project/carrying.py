"""Carrying corrections over to a new alignment of the same recording, or to another take."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from buccaphon.alignment.request import Pin
from buccaphon.arrays import Doubles
from buccaphon.audio.loudness_settings import DEFAULT_LOUDNESS
from buccaphon.motion.hand import CurvePoint, HandCurve, Interpolation
from buccaphon.mouths.laying import Blank, Painted
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.take import BoundaryPin, PinWithoutWord, Take, UnplacedCorrection
from buccaphon.score.edits import Boundary
from buccaphon.score.records import Note, Score, Word
from buccaphon.speech.matching import match, plain
from buccaphon.speech.script import ScriptWord
from buccaphon.timing import Span

_SAME = 1e-9  # seconds


@dataclass(frozen=True, eq=False)
class TimeMap:
    """From the seconds of one score to those of another, in straight pieces between what is said in both.

    before, after: (n,) rising seconds; beyond the first and last the two run side by side.
    """

    before: Doubles
    after: Doubles

    def __call__(self, seconds: float) -> float:
        if not len(self.before) or seconds <= self.before[0]:
            return seconds + (float(self.after[0] - self.before[0]) if len(self.before) else 0.0)
        if seconds >= self.before[-1]:
            return seconds + float(self.after[-1] - self.before[-1])
        return float(np.interp(seconds, self.before, self.after))

    def span(self, span: Span) -> Span:
        """Where a stretch lies then."""
        start = self(span.start)
        return Span(start, max(self(span.end), start))


def time_map(before: Score, after: Score) -> TimeMap:
    """The map between two scores of the same words, or nearly the same: through the phones of every word that is said alike
    in both, and through the rims of the others that are found again."""
    pairs: list[tuple[float, float]] = []
    for number, other in sorted(_same_words(before, after, _called).items()):
        old, new = before.words[number], after.words[other]
        if len(old.phones) == len(new.phones):
            pairs += [(a.start, b.start) for a, b in zip(old.phones, new.phones, strict=True)]
        else:
            pairs.append((old.start, new.start))
        pairs.append((old.end, new.end))
    kept: list[tuple[float, float]] = []
    for pair in pairs:  # where words touch, the end of one is the start of the next
        if not kept or (pair[0] > kept[-1][0] + _SAME and pair[1] >= kept[-1][1]):
            kept.append(pair)
    return TimeMap(np.array([a for a, _ in kept]), np.array([b for _, b in kept]))


def carry_over(known: Take, onto: Take, lasts: float | None = None) -> Take:
    """A take with what was made by hand on another one of the same line beside its own: pins, painted mouths and blanks,
    notes, marks of what is not speech, curves, issues that are ignored and the ranges with settings of their own, each where
    what it sits on is said; how loudness is used, and the place in the scene. What has no place there is kept in a list.

    Without words on either, each stays at its time. lasts: seconds of the recording of a take without words; where that is
    not known, nothing is carried over. With words on one alone nothing is, either."""
    over: _ByTime
    if known.score is not None and onto.score is not None:
        over = _Over(known.score, onto.score)
    elif known.score is None and onto.score is None and lasts is not None:
        over = _ByTime(lasts)
    else:
        return onto
    lost = list[UnplacedCorrection]()

    def carried(
        kind: str, what: str, span: Span, painted: Painted | None = None, change: SettingsChange | None = None
    ) -> Span | None:
        word = over.lost_word(span)
        there = over.span(span) if word is None else None
        if there is None:  # its word is not said there, or it lies before or after all that there is
            lost.append(UnplacedCorrection(kind, what, span, word or "", painted, change=change))
        return there

    painted = [(paint, carried("mouth", paint.mouth, paint.span, paint)) for paint in known.painted]
    notes = [(note, carried("note", note.text, note.span)) for note in known.notes]
    ranges = [(part, carried("range", "", part.span, change=part.change)) for part in known.mouth_ranges]
    curves = [over.curve(curve, lost) for curve in known.curves]
    theirs = {curve.channel for curve in onto.curves}
    unplaced = [*onto.unplaced]
    unplaced += [piece for piece in (*known.unplaced, *lost) if piece not in unplaced]  # it may be asked for twice
    marks = [there for mark in known.not_speech if (there := over.span(mark)) is not None]
    return replace(
        _with_pins(known, onto),
        muted=known.muted,
        offset=onto.offset or known.offset,
        not_speech=onto.not_speech or tuple(marks),
        painted=(*_outside([replace(p, span=s) for p, s in painted if s is not None], onto.painted), *onto.painted),
        blanks=onto.blanks or tuple(_blanks_there(known, over)),
        mouth_ranges=onto.mouth_ranges or tuple(replace(part, span=s) for part, s in ranges if s is not None),
        ignored=(*onto.ignored, *(replace(m, span=s) for m in known.ignored if (s := over.span(m.span)) is not None)),
        notes=tuple(
            sorted((*onto.notes, *(Note(s, note.text) for note, s in notes if s is not None)), key=lambda n: n.span)
        ),
        curves=(*onto.curves, *(c for c in curves if c.points and c.channel not in theirs)),
        loudness_settings=replace(known.loudness_settings, floor=None, ceiling=None)
        if onto.loudness_settings == DEFAULT_LOUDNESS
        else onto.loudness_settings,
        unplaced=tuple(unplaced),
    )


def _with_pins(known: Take, onto: Take) -> Take:
    """Boundaries that were put by hand, at the same words; those of words that are not said there stand in a list."""
    if known.score is None or onto.score is None:
        return onto
    there, own = time_map(known.score, onto.score), {pin.boundary for pin in onto.pins}
    carried = carry_pins(known.pins, known.score, onto.score)
    added = (replace(pin, seconds=max(there(pin.seconds), 0.0)) for pin in carried if pin.boundary not in own)
    return replace(
        onto,
        pins=tuple(sorted((*onto.pins, *added), key=lambda pin: pin.boundary)),
        without_word=(*onto.without_word, *lose_pins(known.pins, known.score, onto.score)),
    )


class _ByTime:
    """Of two recordings without words: everything stays at its time, as far as the other one goes."""

    def __init__(self, lasts: float) -> None:
        self._end = lasts

    def there(self, seconds: float) -> float:
        return seconds

    def lost_word(self, _span: Span) -> str | None:
        return None

    def span(self, span: Span) -> Span | None:
        """Where a stretch lies there, as far as the recording goes; None where it lies beyond."""
        there = Span(self.there(span.start), max(self.there(span.end), self.there(span.start)))
        inside = Span(min(max(there.start, 0.0), self._end), min(max(there.end, 0.0), self._end))
        return inside if inside.length > 0 or there.length == 0 else None

    def curve(self, curve: HandCurve, lost: list[UnplacedCorrection]) -> HandCurve:
        """The curve there; its points that have no place there are put on the list, run by run."""
        kept, gone = list[CurvePoint](), list[CurvePoint]()
        word = ""

        def put_down() -> None:
            if gone:
                span = Span(gone[0].seconds, gone[-1].seconds)
                lost.append(
                    UnplacedCorrection("curve", curve.channel, span, word, None, replace(curve, points=tuple(gone)))
                )
                if kept:
                    kept[-1] = replace(kept[-1], interpolation=Interpolation.FREE)
                gone.clear()

        for point in curve.points:
            missing, seconds = self.lost_word(Span(point.seconds, point.seconds)), self.there(point.seconds)
            has_room = 0 <= seconds <= self._end and (not kept or seconds > kept[-1].seconds)
            if missing is not None or not has_room:
                word = missing or ""
                gone.append(point)
                continue
            put_down()
            kept.append(replace(point, seconds=seconds))
        put_down()
        return replace(curve, points=tuple(kept))


class _Over(_ByTime):
    """From one score to another: where moments go, and which words have none to go to."""

    def __init__(self, before: Score, after: Score) -> None:
        super().__init__(after.duration)
        self._map, self._before = time_map(before, after), before
        self._found = _same_words(before, after, _called)

    def there(self, seconds: float) -> float:
        return self._map(seconds)

    def lost_word(self, span: Span) -> str | None:
        """The word that a stretch sits on, when it is not said there; None when it is, and in pauses."""
        number = self._before.word_at((span.start + span.end) / 2)
        if number is None or number in self._found:
            return None
        return self._before.words[number].text


def _blanks_there(known: Take, over: _ByTime) -> Iterator[Blank]:
    """Where nothing is chosen: what reaches to the end of the recording does so there."""
    for blank in known.blanks:
        there = over.span(blank.span)
        if there is not None:
            to_the_end = known.score is not None and blank.span.end >= known.score.duration
            from_the_start = blank.span.start <= 0
            span = Span(
                0.0 if from_the_start else there.start, max(blank.span.end, there.end) if to_the_end else there.end
            )
            yield replace(blank, span=span)


def _outside(painted: Sequence[Painted], others: Sequence[Painted]) -> list[Painted]:
    """What is painted where nothing else is."""
    left = list(painted)
    for other in others:
        left = [replace(paint, span=part) for paint in left for part in paint.span.outside(other.span)]
    return left


def carry_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[BoundaryPin, ...]:
    """The pins whose word and phones are found again in another alignment, renumbered; their seconds stay."""
    moved = _same_words(before, after, _with_count)
    return tuple(
        BoundaryPin(Boundary(moved[pin.boundary.word], pin.boundary.phone), pin.seconds)
        for pin in pins
        if pin.boundary.word in moved
    )


def lose_pins(pins: tuple[BoundaryPin, ...], before: Score, after: Score) -> tuple[PinWithoutWord, ...]:
    """The pins whose word is not found again, with where they were."""
    moved = _same_words(before, after, _with_count)
    return tuple(
        PinWithoutWord(before.words[pin.boundary.word].text, pin.seconds)
        for pin in pins
        if pin.boundary.word not in moved
    )


def known_pins(take: Take, words: Sequence[ScriptWord]) -> tuple[Pin, ...]:
    """A take's pins as constraints for aligning words that may have changed since."""
    if take.score is None:
        return ()
    old = [plain(word.text) for word in take.score.words]
    moved = match(old, [plain(word.text) for word in words])
    return tuple(
        Pin(moved[pin.boundary.word], pin.boundary.phone, len(take.score.words[pin.boundary.word].phones), pin.seconds)
        for pin in take.pins
        if pin.boundary.word in moved
    )


def changed_words(score: Score, words: Sequence[ScriptWord]) -> tuple[int, int]:
    """The words of a score, from first up to last, in whose place others have been typed; empty when none were."""
    old, new = [plain(word.text) for word in score.words], [plain(word.text) for word in words]
    first = 0
    while first < min(len(old), len(new)) and old[first] == new[first]:
        first += 1
    same_after = 0
    while same_after < min(len(old), len(new)) - first and old[-1 - same_after] == new[-1 - same_after]:
        same_after += 1
    return first, len(old) - same_after


def _same_words(before: Score, after: Score, name: Callable[[Word], str]) -> dict[int, int]:
    """The words that are found again, by what they are called, in order: their numbers there."""
    return match([name(word) for word in before.words], [name(word) for word in after.words])


def _called(word: Word) -> str:
    return plain(word.text)


def _with_count(word: Word) -> str:
    """Said with as many sounds, so that a boundary between two of them is the same one."""
    return f"{plain(word.text)}/{len(word.phones)}"
