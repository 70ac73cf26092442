"""Checks of what is seen: contacts, blinks, silence, pace, and what is painted."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections import defaultdict
from collections.abc import Iterable, Iterator

import numpy as np

from buccaphon.checks.facts import Facts, Shown
from buccaphon.checks.issue import Issue, IssueKind
from buccaphon.mouths.settings import SettingsChange
from buccaphon.project.edits import Edit
from buccaphon.project.edits.mouths import ChangeMouthSettings, Paint, Unpaint
from buccaphon.score.records import Phone
from buccaphon.speech.phones import is_vowel
from buccaphon.texts import _, ngettext
from buccaphon.timing import Span

_SHORT_CONTACT = 0.035  # seconds; a frame at 24 is seen, one at 60 is not
_BEFORE, _AFTER = 0.12, 0.03  # seconds around a contact's sound in which it counts as seen
_LATE = 0.045  # seconds after its sound begins at which a contact comes late, besides half an exposure
_BLINK = 0.06  # seconds of a mouth between two of the same that only flickers
_ONE_FRAME = 0.045  # seconds; longer frames are seen
_SILENCE = 0.4  # seconds of pause in which an open mouth shows
_AJAR = 0.12  # jaw that counts as open
_IN, _OUT = 0.12, 0.16  # seconds of a silence, at its start and end, in which the mouth may be on its way
_CLASH, _CLASH_TIME = 0.85, 0.06  # visible distance, and seconds for which it is seen against its sound
_MORE_THAN_MOST = 3  # changes in one second beyond what a passage may have on the average
_FROZEN, _FROZEN_VOWELS = 0.5, 3  # seconds of one mouth, and vowels under it
_MOVES = 0.45  # visible distance between two vowels that a moving mouth would show
_MORE_DETAIL = 0.5  # of the setting, when a fix shows more sounds


def unseen(facts: Facts) -> Iterator[Issue]:
    """Lips or teeth that have to touch, and are not seen to."""
    for group in _contacts(facts):
        span, mouth = _span(group), _answer(facts, group[0])
        cell = facts.exposure(span.start)
        near = Span(max(span.start - max(_BEFORE, 1.6 * cell), 0.0), span.end + max(_AFTER, 0.5 * cell))
        longest = max((each.length for each in facts.shown_in(near) if each.index == mouth), default=0.0)
        if longest >= _SHORT_CONTACT:
            continue
        name = facts.named(mouth)
        told = {"mouth": name, "sounds": " ".join(phone.symbol for phone in group), "word": facts.word_at(span.start)}
        if longest:
            says, fix_label = _("{mouth} is too short for the {sounds} of {word}", **told), _("Show it longer")
        else:
            says, fix_label = _("{mouth} is not seen for the {sounds} of {word}", **told), _("Show it")
        fix, fix_label = _contact_back(facts, mouth, near, span, fix_label)
        yield Issue(IssueKind.UNSEEN, span, says, fix, fix_label)


def astray(facts: Facts) -> Iterator[Issue]:
    """Contacts that come after their sound, or without one."""
    contacts: dict[int, list[Span]] = defaultdict(list)  # of each mouth, in order
    for group in _contacts(facts):
        contacts[_answer(facts, group[0])].append(_span(group))
    for each in facts.shown:
        if not facts.chart.touching[each.index] or each.index == facts.chart.rests:
            continue
        cell, name = facts.exposure(each.start), facts.named(each.index)
        reach = Span(max(each.start - cell, 0.0), each.end + max(_BEFORE, 1.6 * cell))
        spans = contacts[each.index]
        first = bisect_right(spans, reach.start, key=lambda span: span.end)
        mine = spans[first : bisect_left(spans, reach.end, key=lambda span: span.start)]
        if not mine:
            says = _("{name} is shown where no sound closes the mouth", name=name)
            yield Issue(IssueKind.ASTRAY, each.span, says, _give_back(each), _("Reset to automatic"))
            continue
        sound = min(mine, key=lambda span: abs(span.start - each.start))
        if each.start > sound.start + _LATE + cell / 2:
            late = 1000 * (each.start - sound.start)
            says = _("{name} comes {late:.0f} ms after its sound", name=name, late=late)
            near = Span(max(sound.start - max(_BEFORE, 1.6 * cell), 0.0), each.end)
            fix, fix_label = _contact_back(facts, each.index, near, sound, _("Show it on time"))
            yield Issue(IssueKind.ASTRAY, each.span, says, fix, fix_label)


def one_frame(facts: Facts) -> Iterator[Issue]:
    """Mouths that are seen for a single frame, contacts aside."""
    if facts.frame > _ONE_FRAME:
        return
    for before, each, after in _triples(facts):
        if each.length < 1.5 * facts.frame and not facts.chart.touching[each.index] and before.index != after.index:
            says = _("{mouth} is seen for one frame", mouth=facts.named(each.index))
            yield Issue(
                IssueKind.ONE_FRAME, each.span, says, _hold_before(facts, before, each), _("Hold the previous mouth")
            )


def back_and_forth(facts: Facts) -> Iterator[Issue]:
    """A mouth that returns after a blink of another."""
    for before, each, after in _triples(facts):
        if before.index == after.index and each.length < _BLINK and not facts.chart.touching[each.index]:
            says = _(
                "{before} – {mouth} – {after} flickers",
                before=facts.named(before.index),
                mouth=facts.named(each.index),
                after=facts.named(after.index),
            )
            yield Issue(
                IssueKind.BACK_AND_FORTH, each.span, says, _hold_before(facts, before, each), _("Hold the first")
            )


def open_in_silence(facts: Facts) -> Iterator[Issue]:
    """A mouth that stays open while nobody speaks."""
    rest = facts.chart.rest
    for silence in facts.silences:
        if silence.length < _SILENCE:
            continue
        settings, cell = facts.settings_track.at(silence.start), facts.exposure(silence.start)
        start = silence.start + _IN + cell + settings.settle if silence.start > 0 else 0.0
        end = silence.end - _OUT - cell - max(settings.lead, 0.0)
        for each in facts.shown_in(Span(start, end)) if end > start else ():
            seen = Span(max(each.start, start), min(each.end, end))
            if facts.chart.mouths[each.index].pose.jaw > _AJAR and seen.length > facts.frame:
                says = _("{mouth} stays open in silence", mouth=facts.named(each.index))
                late, until = max(each.start, silence.start + cell), min(each.end, silence.end)
                place = Span(late if late < until else max(each.start, silence.start), until)
                yield Issue(
                    IssueKind.OPEN_IN_SILENCE, seen, says, Paint(place, rest.name), _("Show {name}", name=rest.name)
                )


def busy(facts: Facts) -> Iterator[Issue]:
    """A second with more changes than the eye reads."""
    changes, past = facts.changes, -1.0
    counts = np.searchsorted(changes, changes + 1.0 - 1e-6) - np.arange(len(changes))
    for start, count in zip(changes.tolist(), counts.tolist(), strict=True):
        settings = facts.settings_track.at(start)
        span = Span(start, start + 1.0)
        if start < past or count <= settings.ceiling + _MORE_THAN_MOST:
            continue
        past = span.end
        fewer = SettingsChange(most_changes=settings.most_changes - 2.0)
        by_hand = any(each.painted for each in facts.shown_in(span))
        fix: Edit = Unpaint(span) if by_hand else ChangeMouthSettings(fewer, span)
        fix_label = _("Reset painted mouths") if by_hand else _("Fewer changes here")
        yield Issue(
            IssueKind.BUSY,
            span,
            ngettext("{count} change in this second", "{count} changes in this second", count),
            fix,
            fix_label,
        )


def frozen(facts: Facts) -> Iterator[Issue]:
    """One mouth over several syllables that look different."""
    for each in facts.shown:
        if each.length < _FROZEN + facts.exposure(each.start) / 2:
            continue
        vowels = [phone for phone in facts.phones_in(each.span) if is_vowel(phone.symbol) and _inside(phone, each)]
        answers = {_answer(facts, phone) for phone in vowels}
        apart = facts.chart.distances[each.index, sorted(answers)] if answers else np.zeros(1)
        if len(vowels) >= _FROZEN_VOWELS and len(answers) > 1 and float(apart.max()) > _MOVES:
            says = ngettext(
                "{mouth} is held over {count} syllable",
                "{mouth} is held over {count} syllables",
                len(vowels),
                mouth=facts.named(each.index),
            )
            more = ChangeMouthSettings(SettingsChange(detail=_MORE_DETAIL), each.span)
            fix: Edit = Unpaint(each.span) if each.painted else more
            fix_label = _("Reset to automatic") if each.painted else _("Show more sounds here")
            yield Issue(IssueKind.FROZEN, each.span, says, fix, fix_label)


def contradictions(facts: Facts) -> Iterator[Issue]:
    """Painted mouths that look far from what is heard."""
    for each in facts.shown:
        if not each.painted:
            continue
        for phone in facts.phones_in(each.span):
            wanted = _answer(facts, phone)
            heard = Span(phone.start, phone.end).overlap(each.span)
            apart = float(facts.chart.distances[each.index, wanted])
            enough = max(_CLASH_TIME, 0.6 * (phone.end - phone.start))
            if is_vowel(phone.symbol) and heard >= enough and apart > _CLASH:
                says = _(
                    "{mouth} is painted where “{sound}” is said in {word}",
                    mouth=facts.named(each.index),
                    sound=phone.symbol,
                    word=facts.word_at(phone.start),
                )
                yield Issue(IssueKind.CONTRADICTION, each.span, says, Unpaint(each.span), _("Reset to automatic"))
                break


def _contacts(facts: Facts) -> Iterator[list[Phone]]:
    """Sounds whose mouth is a contact; neighbours with the same one together."""
    run: list[Phone] = []
    for phone in facts.phones:
        contact = facts.chart.touching[_answer(facts, phone)]
        joins = contact and run and _touches(run[-1], phone) and _answer(facts, run[-1]) == _answer(facts, phone)
        if run and not joins:
            yield run
            run = []
        if contact:
            run.append(phone)
    if run:
        yield run


def _touches(left: Phone, right: Phone) -> bool:
    return right.start - left.end < 1e-6


def _span(group: list[Phone]) -> Span:
    return Span(group[0].start, group[-1].end)


def _answer(facts: Facts, phone: Phone) -> int:
    return facts.chart.answer(phone.symbol)


def _inside(phone: Phone, each: Shown) -> bool:
    return phone.start >= each.start - 0.02 and phone.end <= each.end + 0.04


def _contact_place(facts: Facts, sound: Span) -> Span:
    """A frame at 24 before its sound, for two of them, on whole exposures."""
    cell = facts.exposure(sound.start)
    start = max(sound.start - 0.04, 0.0)
    return Span(start, start + (cell if cell >= 1 / 24 else 2 / 24))


def _contact_back(facts: Facts, mouth: int, near: Span, sound: Span, fix_label: str) -> tuple[Edit, str]:
    """What shows a contact: its own frames given back where paint lies on them, else paint."""
    covered = facts.covered(mouth, near)
    if covered is not None:
        return Unpaint(covered), _("Restore its frames")
    return Paint(_contact_place(facts, sound), facts.named(mouth)), fix_label


def _triples(facts: Facts) -> Iterable[tuple[Shown, Shown, Shown]]:
    shown = facts.shown
    return zip(shown, shown[1:], shown[2:], strict=False)


def _hold_before(facts: Facts, before: Shown, each: Shown) -> Edit:
    return Unpaint(each.span) if each.painted else Paint(each.span, facts.named(before.index))


def _give_back(each: Shown) -> Edit | None:
    return Unpaint(each.span) if each.painted else None
