"""Files that went out and come back with corrections: when words and sounds are, which mouths, and notes.

TextGrids are read by `praatio`, WebVTT by `webvtt-py` (which keeps the times of words), timelines by `opentimelineio`.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import msgspec

from buccaphon.errors import BuccaphonError, CorrectionsError
from buccaphon.files import read_text
from buccaphon.formats.in_.markers import AIFF, is_region_list, read_markers
from buccaphon.formats.in_.notes import SUFFIX as NOTES_SUFFIX
from buccaphon.formats.in_.notes import read_notes
from buccaphon.formats.in_.sheet import read_sheet
from buccaphon.formats.in_.timed import read_subtitles, vtt_text, words_of_cue
from buccaphon.formats.in_.wording import Timed
from buccaphon.formats.out.cues import MOUTH, NOTE
from buccaphon.score.records import Note
from buccaphon.speech.script import script_words
from buccaphon.texts import N_, _
from buccaphon.timing import FURTHEST, Span

_KEYS = {"seconds", "phone"}  # columns of keys, which name mouths as the host does
_MOST = 500_000  # entries of one kind
_REMEDY = N_("Import a file that Buccaphon exported and you corrected")


@dataclass(frozen=True, slots=True)
class Corrected:
    """words, sounds: in order, in seconds of the recording. starts_only: of words only the starts are known. lines: of
    several words each. mouths: likewise; frames: of the scene, by their numbers. by_host: whether mouths go by the host's
    names rather than by the chart's. notes: all that there are; a file that cannot hold any has None. markers: labels that
    may be anything."""

    words: tuple[Timed, ...] = ()
    sounds: tuple[Timed, ...] = ()
    starts_only: bool = False
    lines: tuple[Timed, ...] = ()
    mouths: tuple[Timed, ...] = ()
    frames: Mapping[int, str] = field(default_factory=dict)
    by_host: bool = False
    notes: tuple[Note, ...] | None = None
    markers: tuple[Timed, ...] = ()

    @property
    def is_empty(self) -> bool:
        timed = self.words or self.lines or self.sounds or self.markers
        return not (timed or self.mouths or self.frames or self.notes)


def read_corrected(path: Path) -> Corrected:
    """By the suffix. Raises CorrectionsError, or what the reader of that kind raises, with the reason."""
    subject = str(path)
    reader = _READERS.get(path.suffix.lower())
    if path.name.lower().endswith(NOTES_SUFFIX):
        reader = lambda found: Corrected(notes=read_notes(found))  # noqa: E731
    if reader is None:
        known = ", ".join((*_READERS, NOTES_SUFFIX))
        raise CorrectionsError(
            subject, _("“{suffix}” files cannot hold corrections", suffix=path.suffix), _("Use {known}", known=known)
        )
    try:
        found = reader(path)
    except BuccaphonError:
        raise
    except UnicodeDecodeError:
        raise CorrectionsError(subject, _("it is not UTF-8 text"), _("Save it as UTF-8")) from None
    except OSError as problem:
        raise CorrectionsError(
            subject, _("it cannot be read ({reason})", reason=problem.strerror), _("Check the name and the folder")
        ) from None
    except Exception as problem:  # the libraries raise whatever they like at broken files
        raise CorrectionsError(
            subject, _("it cannot be understood ({kind})", kind=type(problem).__name__), _REMEDY
        ) from None
    if found.is_empty:
        raise CorrectionsError(subject, _("it contains no corrections"), _REMEDY)
    return _checked(found, subject)


def _checked(found: Corrected, subject: str) -> Corrected:
    for timed in (*found.words, *found.lines, *found.sounds, *found.mouths, *found.markers):
        if not 0 <= timed.start <= timed.end <= FURTHEST:
            raise CorrectionsError(
                subject,
                _("“{text}” would be from {start} to {end} s", text=timed.text, start=timed.start, end=timed.end),
                _REMEDY,
            )
    for note in found.notes or ():
        if not 0 <= note.span.start <= note.span.end <= FURTHEST:
            reason = _(
                "the note “{text}” would be from {start} to {end} s",
                text=note.text[:40],
                start=note.span.start,
                end=note.span.end,
            )
            raise CorrectionsError(subject, reason, _REMEDY)
    if max(map(len, (found.words, found.lines, found.sounds, found.mouths, found.frames, found.markers))) > _MOST:
        raise CorrectionsError(subject, _("it has more than {most} entries", most=_MOST), _REMEDY)
    return found


def _textgrid(path: Path) -> Corrected:
    from praatio import textgrid as praat  # noqa: PLC0415  (slow to import)

    grid = praat.openTextgrid(str(path), includeEmptyIntervals=False, duplicateNamesMode="rename")

    def tier(name: str) -> tuple[Timed, ...]:
        if name not in grid.tierNames:
            return ()
        return tuple(
            Timed(entry.label, entry.start, entry.end) for entry in grid.getTier(name).entries if entry.label.strip()
        )

    notes: tuple[Note, ...] | None = None
    if "notes" in grid.tierNames:
        notes = tuple(Note(Span(entry.time, entry.time), entry.label) for entry in grid.getTier("notes").entries)
    return Corrected(tier("words"), tier("phones"), mouths=tier("mouths"), by_host=True, notes=notes)


def _webvtt(path: Path) -> Corrected:
    import webvtt  # noqa: PLC0415  (only for these)

    cues = webvtt.from_string(vtt_text(path, CorrectionsError))
    return Corrected(tuple(word for cue in cues.captions for word in words_of_cue(cue)), starts_only=True)


def as_corrected(times: tuple[Timed, ...]) -> Corrected:
    """The times of words, or of lines, as what they would put right."""
    single = all(len(script_words(each.text)) == 1 for each in times)
    return Corrected(words=times) if single else Corrected(lines=times)


def _marked(path: Path) -> Corrected:
    """Labels that say what they are, as those that are written here, and others."""
    mouths, notes, others = [], [], []
    for marker in read_markers(path):
        if marker.text.startswith(MOUTH):
            mouths.append(marker)
        elif marker.text.startswith(NOTE):
            notes.append(Note(Span(marker.start, marker.end), marker.text.removeprefix(NOTE)))
        else:
            others.append(marker)
    ends = (*(mouth.start for mouth in mouths[1:]), FURTHEST)
    held = tuple(
        Timed(mouth.text.removeprefix(MOUTH), mouth.start, end) for mouth, end in zip(mouths, ends, strict=False)
    )
    return Corrected(mouths=held, by_host=True, notes=tuple(notes) if notes else None, markers=tuple(others))


def _otio(path: Path) -> Corrected:
    import opentimelineio  # noqa: PLC0415  (a tenth of a second that only this needs)

    text = read_text(path, CorrectionsError)
    msgspec.json.decode(text)  # which gives up at depths at which the library finds no end
    timeline: Any = opentimelineio.adapters.read_from_string(text, "otio_json")
    words, mouths, notes = [], [], []
    for clip in timeline.find_clips():
        used = clip.trimmed_range()
        rim = used.start_time.to_seconds(), used.end_time_exclusive().to_seconds()
        for marker in clip.markers:
            told = dict(marker.metadata.get("buccaphon", {}))
            span = marker.marked_range
            start, end = span.start_time.to_seconds(), span.end_time_exclusive().to_seconds()
            start, end = (
                _unmoved(told.get(name), at, rim, 0.51 / span.start_time.rate)
                for name, at in (("start_seconds", start), ("end_seconds", end))
            )
            if told.get("kind") == "word":
                words.append(Timed(marker.name, start, max(end, start)))
            elif told.get("kind") == "mouth":
                mouths.append(Timed(marker.name, start, end))
            elif told.get("kind") == "note" or not told:  # one that was put there by somebody else
                text = marker.comment or marker.name
                notes += [Note(Span(start, max(end, start)), text)] if text.strip() else []
    in_order = tuple(sorted(words, key=lambda w: w.start))
    return Corrected(in_order, mouths=tuple(mouths), by_host=True, notes=tuple(notes))


def _unmoved(exact: Any, found: float, rim: tuple[float, float], near: float) -> float:
    """The exact seconds, where the marker still stands on the frame that they were snapped to, or at the rim of the used
    part, beyond which no marker can be."""
    if not isinstance(exact, int | float):
        return found
    snapped = min(max(exact, rim[0]), rim[1])
    return float(exact) if abs(snapped - found) <= near else found


def _table(path: Path) -> Corrected:
    """Keys and sheets have a row a frame; timings one a sound."""
    text = read_text(path, CorrectionsError)
    heads = [head.strip().lower() for head in next(csv.reader(io.StringIO(text)), [])]
    timed = "start" if {"start", "end", "word"} <= set(heads) else "start_s"
    if not {timed, "word"} <= set(heads):
        if is_region_list(text):
            return Corrected(markers=read_markers(path))
        return Corrected(frames=read_sheet(path), by_host=set(heads) >= _KEYS)
    words: list[Timed] = []
    sounds: list[Timed] = []
    rows = csv.DictReader(io.StringIO(text), fieldnames=heads)
    next(rows)  # the heading
    for row in rows:
        word, start, end = (
            row["word"].strip().removeprefix("'"),
            float(row[timed]),
            float(row[timed.replace("start", "end")]),
        )
        if not word:
            continue
        sounds.append(Timed((row.get("phone") or "").strip(), start, end))
        goes_on = words and words[-1].text == word and abs(words[-1].end - start) < 1e-6
        words.append(Timed(word, words.pop().start if goes_on else start, end))
    return Corrected(tuple(words), tuple(sounds))


_READERS: Mapping[str, Callable[[Path], Corrected]] = {
    ".csv": _table,
    ".xlsx": lambda path: Corrected(frames=read_sheet(path)),
    ".ods": lambda path: Corrected(frames=read_sheet(path)),
    ".textgrid": _textgrid,
    ".vtt": _webvtt,
    ".srt": lambda path: as_corrected(read_subtitles(path).times),
    ".wav": _marked,
    **dict.fromkeys(AIFF, _marked),
    ".txt": _marked,
    ".tsv": _marked,
    ".otio": _otio,
}
SUFFIXES = (*_READERS, NOTES_SUFFIX)
