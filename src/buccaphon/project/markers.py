"""What the labels of markers mean here: mouths of the chart, by any name, or sounds that the chart has mouths for; words; or
notes. And the ways to take them."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

from buccaphon.errors import SheetError
from buccaphon.formats.in_.corrected import Corrected
from buccaphon.formats.in_.wording import Timed
from buccaphon.kits.own.claims import Row, read_claims
from buccaphon.motion.record import Bake
from buccaphon.mouths.exposures import exposure_at
from buccaphon.project.corrections import Correction, Corrections, as_one, corrections_in
from buccaphon.project.edits import Edit
from buccaphon.project.edits.mouths import Clear, Paint
from buccaphon.project.exposing import WHOLE_LINE, called
from buccaphon.project.state import State
from buccaphon.score.records import Note
from buccaphon.speech.matching import match, plain
from buccaphon.speech.phones import SOUNDS, ipa_of
from buccaphon.texts import _, ngettext
from buccaphon.timing import Span

_SILENCE = frozenset(("rest", "silence", "sil", "pause", "sp", "closed"))
_ARPABET = frozenset(sound.arpabet for sound in SOUNDS.values())
_SEVERAL = re.compile(r"\S[\s_-]+\S")  # pieces, which is more than a sound


def mouths_of(labels: Sequence[str], state: State) -> list[str | None]:
    """For each label the mouth of the chart that it means: its own name, that of its drawing or its number; else the mouth of
    the sound that it is, in IPA, ARPAbet or letters. None for what is neither."""
    chart, known = state.chart_in_use, called(state)
    found = dict[str, str | None]()
    for label in dict.fromkeys(labels):
        (row,) = read_claims([label])  # alone, so that it means the same whatever stands beside it
        low, mouth = label.strip().lower(), known.get(label.strip())
        sound = _sound_of(label.strip(), row)
        if mouth is not None:
            found[label] = mouth
        elif low in _SILENCE or (row.rest and not _SEVERAL.search(low)):
            found[label] = chart.rest.name
        else:
            found[label] = chart.names[chart.answer(sound)] if sound is not None else None
    return [found[label] for label in labels]


def _sound_of(label: str, row: Row) -> str | None:
    """row: what it claims as the name of a drawing."""
    arpabet = label.rstrip("012")
    if label in SOUNDS:
        return label
    if arpabet in _ARPABET:
        return ipa_of(arpabet, int(label[len(arpabet) :] or 1))
    return row.claims[0] if row.claims and not _SEVERAL.search(label) else None


# --- the ways to take them -----------------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class Reading:
    """One way to take a file. says: what that does, in a few words; '' where there is but one. would: what would change.
    anew: labels that would become the words of a take that has none."""

    says: str
    would: Corrections
    anew: tuple[Timed, ...] = ()


def readings_of(file: Corrected, state: State, bake: Bake) -> tuple[Reading, ...]:
    """The ways to take a file, the likeliest first: one, unless it has labels that may be mouths, words or notes. bake: of
    the whole take."""
    if not file.markers:
        return (Reading("", corrections_in(file, state, bake)),)
    labels = [marker.text for marker in file.markers]
    mouths = mouths_of(labels, state)
    others = [marker for marker, mouth in zip(file.markers, mouths, strict=True) if mouth is None]
    here = [plain(word.text) for word in state.score.words] if state.score else []
    words, count = len(match([plain(label) for label in labels], here)), len(labels) - len(others)
    found = list[Reading]()
    if count:
        found += _as_mouths(file, mouths, others, state, bake)
    if state.score is None:
        says = ngettext("{count} label as a word of the line", "{count} labels as the words of the line", len(labels))
        found.append(Reading(says, Corrections(()), file.markers))
    elif words:
        says = ngettext("The time of {count} word", "The times of {count} words", words)
        would = corrections_in(replace(file, words=(*file.words, *file.markers)), state, bake)
        found.insert(0 if words > count else len(found), Reading(says, would))
    found.append(Reading(_as_notes(len(labels)), corrections_in(_noting(file, file.markers), state, bake)))
    return tuple(found)


def painted_by(markers: tuple[Timed, ...], state: State, bake: Bake, subject: str, *, blank: bool = False) -> Edit:
    """Labels taken as mouths, and as notes where they are none. bake: of the whole take. blank: with no other mouths on the
    line. Raises SheetError where no label is a mouth."""
    mouths = mouths_of([marker.text for marker in markers], state)
    others = [marker for marker, mouth in zip(markers, mouths, strict=True) if mouth is None]
    if len(others) == len(markers):
        reason = _("no label is a mouth or a sound")
        raise SheetError(subject, reason, _("Label markers with sounds, or with names of mouths"))
    first, *_more, alone = _as_mouths(Corrected(markers=markers), mouths, others, state, bake)
    return as_one((alone if blank else first).would.found, _("Paint mouths from labels"))


def _as_mouths(
    file: Corrected, mouths: Sequence[str | None], others: Sequence[Timed], state: State, bake: Bake
) -> list[Reading]:
    painted, rest = _painted(file.markers, mouths, bake), corrections_in(file, state, bake)
    count = len(mouths) - len(others)
    says = ngettext("Paint {count} mouth", "Paint {count} mouths", count)
    found = [Reading(says, _with(rest, painted))]
    if others:
        noted = corrections_in(_noting(file, others), state, bake)
        found.insert(0, Reading(f"{says}, {_as_notes(len(others))}", _with(noted, painted)))
    blank = Correction(_("No other mouths on the line"), 0.0, Clear(WHOLE_LINE))
    alone = ngettext("Paint {count} mouth and blank the rest", "Paint {count} mouths and blank the rest", count)
    return [*found, Reading(alone, _with(rest, [blank, *painted]))]


def _painted(markers: Sequence[Timed], mouths: Sequence[str | None], bake: Bake) -> list[Correction]:
    """Each mouth from its label to the next, or as long as its own stretch is; from the last one to the next change that is
    there. Of several labels on one frame the last mouth counts."""
    rate, found = bake.rate, dict[int, Correction]()
    frames = [rate.nearest(marker.start) for marker in markers]
    for number, (marker, mouth, first) in enumerate(zip(markers, mouths, frames, strict=True)):
        there = exposure_at(bake.exposures, first)
        if mouth is None or there is None:
            continue
        end = next((frame for frame in frames[number + 1 :] if frame > first), there.end)
        if marker.end > marker.start:
            end = min(end if number + 1 < len(frames) else bake.frames, max(rate.nearest(marker.end), first + 1))
        span = Span(rate.seconds(first), rate.seconds(min(end, bake.frames)))
        says = _(
            "Frame {frame}: {mouth} (“{label}”)", frame=first + bake.start_frame, mouth=mouth, label=marker.text[:40]
        )
        found[first] = Correction(says, span.start, Paint(span, mouth))
    return list(found.values())


def _noting(file: Corrected, markers: Sequence[Timed]) -> Corrected:
    notes = (Note(Span(marker.start, marker.end), marker.text) for marker in markers)
    return replace(file, notes=(*(file.notes or ()), *notes))


def _with(would: Corrections, more: Sequence[Correction]) -> Corrections:
    return replace(would, found=tuple(sorted((*more, *would.found), key=lambda each: each.seconds)))


def _as_notes(count: int) -> str:
    return ngettext("{count} label as a note", "{count} labels as notes", count)
