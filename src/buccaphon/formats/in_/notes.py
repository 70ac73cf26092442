"""Notes that come back from a review page."""

from __future__ import annotations

from pathlib import Path

import msgspec

from buccaphon.errors import NotesError
from buccaphon.files import read_text, whole_text
from buccaphon.score.records import Note
from buccaphon.texts import N_, _
from buccaphon.timing import FURTHEST, Span

SUFFIX = ".notes.json"
_REMEDY = N_("Import the .notes.json that the review page saved")
_MOST = 10_000


class _Note(msgspec.Struct):
    seconds: float
    text: str
    by: str = ""


class _Notes(msgspec.Struct):
    format: str
    version: int
    notes: list[_Note]
    title: str = ""
    take: str = ""


def read_notes(path: Path) -> tuple[Note, ...]:
    """The notes in order of time, each at a moment of the recording, with who wrote it. Raises NotesError."""
    subject = str(path)
    try:
        file = msgspec.json.decode(read_text(path, NotesError), type=_Notes)
    except (msgspec.DecodeError, RecursionError) as problem:
        raise NotesError(subject, _("it holds no notes ({reason})", reason=problem), _REMEDY) from None
    if file.format != "buccaphon.notes" or file.version != 1:
        raise NotesError(subject, _("its notes are in an unknown format"), _REMEDY)
    found = []
    for note in file.notes[:_MOST]:
        if not 0 <= note.seconds <= FURTHEST:
            raise NotesError(subject, _("a note would be at {seconds} s", seconds=note.seconds), _REMEDY)
        text = whole_text(note.text).strip()
        by = " ".join(whole_text(note.by).split())
        if text:
            found.append(Note(Span(note.seconds, note.seconds), f"{text} ({by})" if by else text))
    if not found:
        raise NotesError(subject, _("there is no note in it"), _REMEDY)
    return tuple(sorted(found, key=lambda note: note.span.start))
